export { papers } from './area'
export { addTemplate, filePaper } from './service'
