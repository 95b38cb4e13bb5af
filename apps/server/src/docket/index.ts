export { docketRoutes } from './routes'
export { addEntry, docketDates, markEntry, moveEntry, nextOwnDate } from './service'
