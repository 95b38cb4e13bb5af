import { addDays, type Day } from '../calendar'

/** What became of a number of a check. Stale is an outstanding check that the bank has not paid in the days of its account. */
export type CheckState = 'outstanding' | 'stale' | 'paid' | 'void' | 'spoiled' | 'missing'

/**
 * The state of a number that was used: paid once the bank has paid it, whatever its age; stale when the days have gone since its
 * date. Dates are plain; `staleDays` counts calendar days from the check's date.
 */
export function checkState(
  c: { day: Day | null; state: 'posted' | 'void' | null; paidOn: Day | null },
  today: Day,
  staleDays: number,
): Exclude<CheckState, 'missing'> {
  if (c.day === null || c.state === null) return 'spoiled'
  if (c.state === 'void') return 'void'
  if (c.paidOn !== null) return 'paid'
  return addDays(c.day, staleDays) < today ? 'stale' : 'outstanding'
}

/** When money that nobody claims is due to the state: so many days after the last contact, or else after the check. */
export const unclaimedDue = (u: { checkDay: Day; lastContact: Day | null }, days: number): Day =>
  addDays(u.lastContact !== null && u.lastContact > u.checkDay ? u.lastContact : u.checkDay, days)

/** Where each part of a check stands, in millimetres from the upper left corner of the page. */
export const checkParts = ['number', 'date', 'payee', 'amount', 'words', 'address', 'memo', 'firm', 'signature'] as const
export type CheckPart = (typeof checkParts)[number]
export type CheckLayout = Record<CheckPart, { x: number; y: number }>
/** A Letter page with the check in its upper third. */
export const usualLayout: CheckLayout = {
  firm: { x: 15, y: 12 },
  number: { x: 180, y: 12 },
  date: { x: 150, y: 22 },
  payee: { x: 20, y: 38 },
  amount: { x: 165, y: 38 },
  words: { x: 20, y: 48 },
  address: { x: 20, y: 57 },
  memo: { x: 20, y: 76 },
  signature: { x: 125, y: 76 },
}
