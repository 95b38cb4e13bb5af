import type { Day } from '../calendar'
import type { Cents } from '../money'

/** What of a line says whether it was read before. */
export interface LineKey {
  day: Day
  amount: Cents
  bankId: string
  check: string
  reference: string
}
/** By the bank's id with date and amount (ids get used again), without one by date, amount and reference; which of several alike it is is counted. */
const keyOf = (l: LineKey) => (l.bankId ? `i ${l.day} ${l.amount} ${l.bankId}` : `r ${l.day} ${l.amount} ${l.check} ${l.reference}`)

/**
 * The lines of a file that were not read before, in their order. A line with the bank's id is read once; of lines without one, as
 * many as the file has beyond those on record for the same date, amount and reference are new, so that two true charges of $25.00
 * on one day both stay, and neither comes in again with a file that overlaps. Linear in both lists.
 */
export function freshLines<L extends LineKey>(lines: readonly L[], known: readonly LineKey[]): { fresh: L[]; before: L[] } {
  const count = new Map<string, number>()
  for (const k of known) count.set(keyOf(k), (count.get(keyOf(k)) ?? 0) + 1)
  const fresh: L[] = []
  const before: L[] = []
  for (const l of lines) {
    const key = keyOf(l)
    const left = count.get(key) ?? 0
    if (left > 0) {
      before.push(l)
      // An id stays known however often it comes; of others each on record stands for one.
      if (!l.bankId) count.set(key, left - 1)
    } else {
      fresh.push(l)
      if (l.bankId) count.set(key, 1)
    }
  }
  return { fresh, before }
}
