export { fieldRoutes } from './routes'
export {
  fieldGroups,
  fieldNamesOf,
  fieldsForPapers,
  fieldValuesOf,
  makeField,
  makeGroup,
  missingFieldsOf,
  whereField,
  writeFields,
} from './service'
