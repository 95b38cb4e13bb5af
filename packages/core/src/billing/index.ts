export * from './pre-bill'
export * from './payments'
