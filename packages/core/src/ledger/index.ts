export * from './acts'
export * from './journal'
export * from './kinds'
export * from './trust'
