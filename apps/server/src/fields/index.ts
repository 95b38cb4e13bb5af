export { fields } from './area'
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
