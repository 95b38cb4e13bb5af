export { fieldRoutes } from './routes'
export { fieldGroups, fieldValuesOf, makeField, makeGroup, missingFieldsOf, whereField, writeFields } from './service'
