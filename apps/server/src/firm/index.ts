export { shellRoutes } from './routes'
export { demoPassword } from './demo'
export { setUpFirm, type FirmPlan } from './set-up'
