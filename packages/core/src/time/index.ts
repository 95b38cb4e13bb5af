export * from './duration'
export * from './rates'
export * from './phrases'
