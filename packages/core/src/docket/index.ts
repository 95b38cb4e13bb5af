export * from './rule-set'
export * from './work-out'
export * from './shipped'
