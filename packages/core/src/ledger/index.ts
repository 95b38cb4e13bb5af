export * from './journal'
export * from './trust'
