export * from './procedure'
