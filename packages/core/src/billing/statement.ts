import { agingBuckets, agingOf } from './payments'
import type { Day } from '../calendar'
import { sum, type Cents } from '../money'

/** What happened on an account: a bill adds to what is owed; payments, credits, write-offs and voids take from it. */
export interface AccountMove {
  day: Day
  amount: Cents
}
export interface OpenBill {
  due: Day
  open: Cents
}
export interface Statement<M extends AccountMove> {
  /** What was owed at the start of the first day. */
  opening: Cents
  rows: (M & { balance: Cents })[]
  closing: Cents
  /** The closing balance by days past due, in the order of `agingBuckets`. */
  aging: Cents[]
}

/**
 * A statement of account over a span: what was owed before, each move with what was owed after it, and what is owed at the end by
 * days past due. The moves are all there ever were, in the order in which they are to be shown; those after the span do not count.
 * The open bills are as of the last day, so that they add up to the closing balance.
 */
export function statementOf<M extends AccountMove>(moves: readonly M[], open: readonly OpenBill[], from: Day, to: Day): Statement<M> {
  const opening = sum(moves.filter((m) => m.day < from).map((m) => m.amount))
  let balance = opening
  const rows = moves.filter((m) => m.day >= from && m.day <= to).map((m) => ({ ...m, balance: (balance += m.amount) }))
  const aging = agingBuckets.map((b) => sum(open.filter((o) => agingOf(o.due, to) === b).map((o) => o.open)))
  return { opening, rows, closing: balance, aging }
}
