export { timeRoutes } from './routes'
export { postTime, recordCost, recordTime, reverseTime } from './service'
export { timersOf } from './timers'
