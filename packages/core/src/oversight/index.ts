export * from './weeks'
export * from './flow'
export * from './ask'
