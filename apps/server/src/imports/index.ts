export { imports } from './area'
