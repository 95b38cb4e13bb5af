export * from './pre-bill'
export * from './payments'
export * from './payers'
