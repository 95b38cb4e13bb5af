export { peopleRoutes } from './routes'
export { makeContact } from './service'
export { checkConflicts, checkNames, checkOfMatter, decideHit, tieCheck } from './conflicts'
