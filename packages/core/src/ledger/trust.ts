import { addDays, showDay, type Day } from '../calendar'
import { showMoney, sum, type Cents } from '../money'

/** One movement on a client ledger by book date; deposits clear on a later day. */
export interface LedgerEntry {
  day: Day
  amount: Cents
  clearsOn: Day | null
}

/** Balance at the close of each day on which something moved, in order of date. */
export function closings(entries: readonly LedgerEntry[]): { day: Day; balance: Cents }[] {
  const byDay = new Map<Day, Cents>()
  for (const e of entries) byDay.set(e.day, (byDay.get(e.day) ?? 0) + e.amount)
  let balance = 0
  return [...byDay.keys()].sort().map((day) => ({ day, balance: (balance += byDay.get(day)!) }))
}

/** First day that would close below zero, or null. */
export function firstDayBelowZero(entries: readonly LedgerEntry[]): { day: Day; balance: Cents } | null {
  return closings(entries).find((c) => c.balance < 0) ?? null
}

export interface Availability {
  book: Cents
  uncleared: Cents
  reserved: Cents
  available: Cents
}

/** Available = book balance − not yet cleared − reserved, as of a day. */
export function availability(entries: readonly LedgerEntry[], reserved: Cents, asOf: Day): Availability {
  const upTo = entries.filter((e) => e.day <= asOf)
  const book = sum(upTo.map((e) => e.amount))
  const uncleared = sum(upTo.filter((e) => e.amount > 0 && (e.clearsOn ?? e.day) > asOf).map((e) => e.amount))
  return { book, uncleared, reserved, available: book - uncleared - reserved }
}

/** Why trust money may not move; each has its own sentence and is tested at the API. */
export const refusalCodes = [
  'ledger-below-zero',
  'more-than-available',
  'money-not-cleared',
  'override-not-allowed',
  'would-use-other-clients-money',
  'other-clients-money',
  'no-issued-bill',
  'more-than-owed',
  'not-yet-earned',
  'notice-days',
  'separate-trust-check',
  'unidentified-money',
  'future-date',
  'period-closed',
] as const
export type RefusalCode = (typeof refusalCodes)[number]

export interface Refusal {
  code: RefusalCode
  sentence: string
}

export interface PaymentOut {
  amount: Cents
  day: Day
  today: Day
  ledger: {
    name: string
    clientId: number | null
    kind: 'client' | 'firm' | 'unidentified'
    entries: readonly LedgerEntry[]
    reserved: Cents
  }
  bank: {
    kind: 'pooled' | 'separate'
    /** Firm money for bank charges in the same account, which may stand in for what has not cleared. */
    firmMoney: Cents
  }
  override: { allowed: boolean; reason: string } | null
}

const refuse = (code: RefusalCode, sentence: string): Refusal => ({ code, sentence })

/**
 * Whether money may leave a ledger: never below zero at the close of any day, also when back-dated; never more than
 * is available; uncleared money only by an authorized override, and only as far as firm money covers it.
 */
export function judgePaymentOut(p: PaymentOut): Refusal | null {
  const { ledger } = p
  if (p.day > p.today) return refuse('future-date', `The book date ${showDay(p.day)} lies ahead. Date it today or earlier.`)
  if (ledger.kind === 'unidentified')
    return refuse('unidentified-money', 'This money has no known owner yet and cannot be spent. Credit it to its owner first.')
  const after = [...ledger.entries, { day: p.day, amount: -p.amount, clearsOn: null }]
  const below = firstDayBelowZero(after)
  // On the day itself the same shortage is better said as what is available.
  if (below && p.day < p.today)
    return refuse(
      'ledger-below-zero',
      `${ledger.name} would be ${showMoney(below.balance)} at the close of ${showDay(below.day)}. Nothing was posted.`,
    )
  // What is on hand must cover it on its own date and still today.
  for (const asOf of [p.day, p.today]) {
    const now = availability(ledger.entries, ledger.reserved, asOf)
    if (p.amount <= now.available) continue
    if (p.amount > now.available + now.uncleared)
      return refuse(
        'more-than-available',
        `${showMoney(p.amount)} is more than the ${showMoney(now.available)} available on ${showDay(asOf)} (${showMoney(now.book)} in the book, ${showMoney(now.uncleared)} not cleared, ${showMoney(now.reserved)} reserved).`,
      )
    if (!p.override)
      return refuse(
        'money-not-cleared',
        `${showMoney(now.uncleared)} of this ledger has not cleared; ${showMoney(now.available)} is available. Wait, or have it authorized with a reason.`,
      )
    if (!p.override.allowed || !p.override.reason.trim())
      return refuse('override-not-allowed', 'Spending money that has not cleared needs an authorized person and a reason.')
    if (p.amount - now.available > p.bank.firmMoney)
      return refuse(
        'would-use-other-clients-money',
        `Other clients’ money would stand in for ${showMoney(p.amount - now.available - p.bank.firmMoney)} that has not cleared. Not even an authorized person may allow that.`,
      )
  }
  return null
}

export interface BillForTrust {
  number: string | null
  issuedOn: Day | null
  payerId: number
  matterId: number
  open: Cents
  /** Part of what is open that was billed in advance and not yet earned. */
  unearned: Cents
}

/** Whether trust money may go to the firm in payment of this bill; judged before the money itself. */
export function judgeBillFromTrust(p: {
  amount: Cents
  day: Day
  bill: BillForTrust
  ledger: { clientId: number | null; matterId: number | null; name: string }
  noticeDays: number
}): Refusal | null {
  const { bill, ledger } = p
  if (!bill.number || !bill.issuedOn)
    return refuse('no-issued-bill', 'Trust money goes to the firm only against an issued bill. Issue the bill first.')
  if (ledger.clientId !== bill.payerId || (ledger.matterId !== null && ledger.matterId !== bill.matterId))
    return refuse('other-clients-money', `${ledger.name} is not money of whoever bill ${bill.number} is addressed to, for this matter.`)
  if (p.day < bill.issuedOn)
    return refuse('no-issued-bill', `Bill ${bill.number} was issued on ${showDay(bill.issuedOn)}, after ${showDay(p.day)}.`)
  const free = addDays(bill.issuedOn, p.noticeDays)
  if (p.day < free)
    return refuse(
      'notice-days',
      `The client has ${p.noticeDays} days’ notice; bill ${bill.number} can be paid from trust from ${showDay(free)}.`,
    )
  if (p.amount > bill.open)
    return refuse('more-than-owed', `Bill ${bill.number} leaves ${showMoney(bill.open)} open; ${showMoney(p.amount)} is more.`)
  if (p.amount > bill.open - bill.unearned)
    return refuse(
      'not-yet-earned',
      `${showMoney(bill.unearned)} of bill ${bill.number} is billed in advance and not yet earned; at most ${showMoney(bill.open - bill.unearned)} may be taken now.`,
    )
  return null
}
