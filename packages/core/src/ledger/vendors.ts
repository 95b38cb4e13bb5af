import { addDays, type Day } from '../calendar'
import type { Cents } from '../money'

/** A vendor's bill as far as paying it goes. */
export interface VendorBill {
  day: Day
  total: Cents
  /** Of the total: paid before, discounts with it. */
  settled: Cents
  /** What the vendor lets off where the whole is paid by a day. */
  discount: Cents
  discountOn: Day | null
}

/** What may be let off a bill that is paid whole on a day: the vendor's discount up to its day, and never more than is open. */
export function discountOn(bill: VendorBill, day: Day): Cents {
  const open = bill.total - bill.settled
  return bill.discountOn !== null && day <= bill.discountOn ? Math.min(bill.discount, Math.max(0, open - 1)) : 0
}

/**
 * How an amount paid on a day settles a bill: the whole with its discount where that is exactly what is paid, else so much of it.
 * Null where it is more than is open, nothing, or before the bill's own day.
 */
export function settledBy(bill: VendorBill, amount: Cents, day: Day): { amount: Cents; discount: Cents } | null {
  const open = bill.total - bill.settled
  if (amount <= 0 || amount > open || day < bill.day) return null
  const off = discountOn(bill, day)
  return off > 0 && amount === open - off ? { amount, discount: off } : { amount, discount: 0 }
}

/** When a bill is due, and until when its discount may be taken, by terms such as 2 % within 10 days, 30 days net. */
export function dueBy(day: Day, terms: { dueDays: number; discountDays: number | null }): { dueOn: Day; discountOn: Day | null } {
  return { dueOn: addDays(day, terms.dueDays), discountOn: terms.discountDays === null ? null : addDays(day, terms.discountDays) }
}
