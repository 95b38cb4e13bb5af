export { paperRoutes } from './routes'
export { addTemplate, filePaper } from './service'
