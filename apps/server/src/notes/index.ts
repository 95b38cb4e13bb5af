export { noteRoutes, viewRoutes } from './routes'
export { makeNote, makeTopic } from './service'
