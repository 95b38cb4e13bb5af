export { oversight } from './area'
export { setGoal, takeLook } from './weeks'
export { makeSchedule } from './schedules'
