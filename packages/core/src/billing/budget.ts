import { divideHalfUp, type Cents } from '../money'
import { addUpPreBill, type PreBillLine } from './pre-bill'
import type { PayerShare } from './payers'

/** What of a budget is used, in whole percent, down: 99.9 % is 99, so that nothing is called used up that is not. */
export const percentOf = (used: Cents, budget: Cents): number => Math.floor(Number((BigInt(used) * 100n) / BigInt(budget)))

/** Shares (whole percent) at which a budget warns and that are reached now and were not before; lowest first. */
export function crossed(budget: Cents, before: Cents, after: Cents, shares: readonly number[]): number[] {
  const reached = (used: Cents, share: number) => BigInt(used) * 100n >= BigInt(budget) * BigInt(share)
  return [...new Set(shares)].filter((s) => reached(after, s) && !reached(before, s)).sort((a, b) => a - b)
}

/** Reads shares such as `75, 90, 100`; null where they are none from 1 to 200, or more than ten. */
export function readShares(text: string): number[] | null {
  const parts = text.split(/[,;]/).map((p) => p.trim().replace('%', '').trim()).filter(Boolean) // prettier-ignore
  const shares = parts.map(Number)
  return shares.length <= 10 && shares.every((s) => Number.isInteger(s) && s >= 1 && s <= 200)
    ? [...new Set(shares)].sort((a, b) => a - b)
    : null
}

/**
 * The discount on fees that takes a whole bill, with its tax, to a sum: the least one that makes it no more than that. Null where
 * even all fees given away would leave more, or where the bill is less already.
 */
export function discountTo(target: Cents, lines: readonly PreBillLine[], payers: readonly PayerShare[] = []): Cents | null {
  const totalAt = (amount: Cents) => addUpPreBill(lines, { amount, basisPoints: 0 }, payers).total
  const { fees, total } = addUpPreBill(lines, { amount: 0, basisPoints: 0 }, payers)
  if (total <= target) return null
  if (totalAt(fees) > target) return null
  // The total never rises with the discount, so that halving finds the least.
  let low = 0
  let high = fees
  while (high - low > 1) {
    const middle = divideHalfUp(low + high, 2)
    if (totalAt(middle) <= target) high = middle
    else low = middle
  }
  return high
}
