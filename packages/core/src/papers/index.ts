export * from './search'
export * from './snippets'
export * from './filing'
