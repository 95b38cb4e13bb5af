export { docketRoutes } from './routes'
export { addEntry, docketDates, markEntry, nextOwnDate } from './service'
