export { time } from './area'
export { postTime, recordCost, recordTime } from './service'
export { timersOf } from './timers'
export { reverseTime } from './corrections'
