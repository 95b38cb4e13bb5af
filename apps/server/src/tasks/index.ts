export { taskRoutes } from './routes'
export { makeTask, previewProcedure, setDone, startProcedure } from './service'
