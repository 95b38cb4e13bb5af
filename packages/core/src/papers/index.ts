export * from './merge'
