export { time } from './area'
export { postTime, recordCost, recordTime, reverseTime } from './service'
export { timersOf } from './timers'
