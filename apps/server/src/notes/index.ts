export { notes } from './area'
export { makeNote, makeTopic } from './service'
