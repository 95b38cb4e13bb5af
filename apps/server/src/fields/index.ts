export { fieldRoutes } from './routes'
export { fieldGroups, fieldsForPapers, fieldValuesOf, makeField, makeGroup, missingFieldsOf, whereField, writeFields } from './service'
