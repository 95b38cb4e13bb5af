export * from './duration'
export * from './rates'
