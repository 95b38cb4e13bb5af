export { fields } from './area'
export {
  fieldGroups,
  fieldNamesOf,
  fieldValuesOf,
  makeField,
  makeGroup,
  missingFieldsOf,
  shownFields,
  whereField,
  writeFields,
} from './service'
export { templateFieldsOf, writeOneField, type TemplateFields } from './for-templates'
export { FieldValue } from './entities'
