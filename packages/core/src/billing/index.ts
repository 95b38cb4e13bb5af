export * from './pre-bill'
export * from './payments'
export * from './credits'
export * from './payers'
