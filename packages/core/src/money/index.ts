export * from './cents'
export * from './bounds'
