export * from './dates'
export * from './holidays'
export * from './court'
export * from './counting'
