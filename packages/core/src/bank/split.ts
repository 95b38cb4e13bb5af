import { showMoney, sum, type Cents } from '../money'

/**
 * Why parts of a line of the bank do not stand for it; null where they do. Parts are in the bank's direction and come together to the
 * line to the cent; a part that goes the other way (a fee kept back from a deposit) is below zero, and none is nothing. `at` is the
 * part that is wrong, null where all of them together are.
 */
export function splitFault(line: Cents, parts: readonly Cents[]): { at: number | null; words: string } | null {
  const empty = parts.findIndex((p) => p === 0)
  if (empty >= 0) return { at: empty, words: 'Give an amount, or take the part out' }
  const together = sum(parts)
  return together === line ? null : { at: null, words: `The parts come to ${showMoney(together)}, and the bank moved ${showMoney(line)}` }
}
