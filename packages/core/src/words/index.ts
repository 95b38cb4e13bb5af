export * from './spelling'

/** `1 date`, `6 dates`, `1 entry`, `0 entries`: a number with its noun, in the one way that the application counts things in words. */
export const counted = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`

/** The verb or noun alone that goes with a number: `is` or `are`, `follows` or `follow`. */
export const agreeing = (n: number, one: string, many: string): string => (n === 1 ? one : many)
