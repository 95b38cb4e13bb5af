import { sum } from '@heron/core/money'

/** The sum of amounts that are just being typed; what is kept is summed by the server. */
export const typedSum = (amounts: readonly (number | null | undefined)[]): number => sum(amounts.map((a) => a ?? 0))
