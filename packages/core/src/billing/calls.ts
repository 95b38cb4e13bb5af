import { addDays, daysBetween, type Day } from '../calendar'
import type { Cents } from '../money'

export const callStates = ['draft', 'sent', 'seen', 'part paid', 'late', 'paid', 'withdrawn'] as const
export type CallState = (typeof callStates)[number]

export interface CallFacts {
  amount: Cents
  paid: Cents
  dueOn: Day | null
  sentOn: Day | null
  seenOn: Day | null
  withdrawnOn: Day | null
}

/**
 * How a call on account stands on a day. What is paid in full is paid, whatever else; due today is not late; a call without a day
 * is never late.
 */
export function callState(c: CallFacts, today: Day): CallState {
  if (c.paid >= c.amount) return 'paid'
  if (c.withdrawnOn !== null) return 'withdrawn'
  if (c.sentOn === null) return 'draft'
  if (c.dueOn !== null && c.dueOn < today) return 'late'
  if (c.paid > 0) return 'part paid'
  return c.seenOn === null ? 'sent' : 'seen'
}
/** Whether money is still asked for. */
export const asksStill = (state: CallState): boolean => state !== 'draft' && state !== 'paid' && state !== 'withdrawn'

/** Whether a reminder goes out: so many days after it was sent or last reminded of, and only while money is asked for. */
export function remindsToday(c: CallFacts & { everyDays: number | null; remindedOn: Day | null }, today: Day): boolean {
  if (c.everyDays === null || c.sentOn === null || !asksStill(callState(c, today))) return false
  return daysBetween(c.remindedOn ?? c.sentOn, today) >= c.everyDays
}

/**
 * What is asked for anew when a minimum is undercut: as much as brings what is available up to the amount first asked for;
 * nothing while the minimum is held.
 */
export const askAgain = (available: Cents, minimum: Cents, amount: Cents): Cents =>
  available < minimum ? Math.max(0, amount - available) : 0

/** The day by which a call that is asked anew is due: as many days from today as the first one gave. */
export const dueAgain = (first: { sentOn: Day; dueOn: Day | null }, today: Day): Day | null =>
  first.dueOn === null ? null : addDays(today, Math.max(0, daysBetween(first.sentOn, first.dueOn)))
