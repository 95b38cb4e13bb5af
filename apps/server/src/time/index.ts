export { time } from './area'
export { postTime, recordTime } from './service'
export { timersOf } from './timers'
export { reverseTime } from './corrections'
