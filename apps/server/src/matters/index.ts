export { matterRoutes } from './routes'
export { addParty, earnPortion, openMatter, screenPerson, setStage } from './open'
