import { shareOverRemaining, sum, type Cents } from '../money'
import type { LineKind } from './lines'
import { daysBetween, type Day } from '../calendar'

/** What is still open on one line of a bill; tax is a line of its own kind. */
export interface OpenLine {
  id: number
  kind: LineKind | 'tax'
  open: Cents
}

/** Classes of lines in the order in which money goes to them. */
export type PaymentOrder = readonly (readonly (LineKind | 'tax')[])[]
const classes = {
  costs: ['hard cost', 'soft cost'],
  interest: ['interest'],
  tax: ['tax'],
  fees: ['time', 'flat'],
} as const satisfies Record<string, readonly (LineKind | 'tax')[]>
export const paymentClasses = ['costs', 'interest', 'tax', 'fees'] as const
export type PaymentClass = (typeof paymentClasses)[number]

/** The order of a firm by its classes, each named once. Throws RangeError where one is missing or named twice. */
export function paymentOrder(firm: readonly PaymentClass[]): PaymentOrder {
  if (firm.length !== paymentClasses.length || paymentClasses.some((c) => !firm.includes(c)))
    throw new RangeError('Name costs, interest, tax and fees, each once')
  return firm.map((c) => classes[c])
}
/** Costs first, then interest, then tax, then fees, unless the firm sets otherwise. */
export const usualOrder: PaymentOrder = paymentOrder(paymentClasses)

/**
 * Applies a payment to the lines of one bill in the order of kinds, within a kind by what remains on each line.
 * Throws RangeError when the payment is above what is open.
 */
export function applyPayment(amount: Cents, lines: readonly OpenLine[], order: PaymentOrder = usualOrder): { id: number; amount: Cents }[] {
  let left = amount
  const applied: { id: number; amount: Cents }[] = []
  for (const kinds of order) {
    const group = lines.filter((l) => kinds.includes(l.kind) && l.open > 0)
    const part = Math.min(left, sum(group.map((l) => l.open)))
    if (part <= 0) continue
    shareOverRemaining(
      part,
      group.map((l) => l.open),
    ).forEach((a, i) => {
      if (a > 0) applied.push({ id: group[i]!.id, amount: a })
    })
    left -= part
  }
  if (left > 0) throw new RangeError('The payment is more than the bill leaves open')
  return applied
}

/** Spreads one payment over bills, oldest due first; what is left over is a liability to the client. */
export function spreadOverBills(
  amount: Cents,
  bills: readonly { id: number; due: Day; open: Cents }[],
): { parts: { id: number; amount: Cents }[]; left: Cents } {
  let left = amount
  const parts: { id: number; amount: Cents }[] = []
  for (const bill of [...bills].sort((a, b) => (a.due === b.due ? a.id - b.id : a.due < b.due ? -1 : 1))) {
    const part = Math.min(left, bill.open)
    if (part > 0) parts.push({ id: bill.id, amount: part })
    left -= Math.max(0, part)
  }
  return { parts, left }
}

export const agingBuckets = ['current', '1–30', '31–60', '61–90', 'over 90'] as const
export type AgingBucket = (typeof agingBuckets)[number]

/** The bucket of a bill by days past due as of a day. */
export function agingOf(due: Day, asOf: Day): AgingBucket {
  const late = daysBetween(due, asOf)
  if (late <= 0) return 'current'
  if (late <= 30) return '1–30'
  if (late <= 60) return '31–60'
  return late <= 90 ? '61–90' : 'over 90'
}
