export { importRoutes } from './routes'
