export * from './cents'
