import { addDays, showDay, type Day } from '../calendar'
import { showMoney, sum, type Cents } from '../money'
import { ledgerKinds, type LedgerKindName } from './kinds'

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
  // What leaves together with its day of clearing, such as a deposit that is returned, takes it out of both.
  const uncleared = sum(upTo.filter((e) => e.clearsOn !== null && e.clearsOn > asOf).map((e) => e.amount))
  return { book, uncleared, reserved, available: book - uncleared - reserved }
}

/** A ledger at the close of a day: what is in the book, and how much of it has not cleared by then. */
export interface DayBalance {
  day: Day
  book: Cents
  uncleared: Cents
}

/**
 * The balances that a payment dated `from` touches: at the close of that day and of each later one on which the ledger moves.
 * Between two of them nothing leaves, so that what is enough on these is enough on every day.
 */
export function balancesFrom(entries: readonly LedgerEntry[], from: Day): DayBalance[] {
  const days = [...new Set([from, ...entries.map((e) => e.day).filter((d) => d > from)])].sort()
  return days.map((day) => {
    const { book, uncleared } = availability(entries, 0, day)
    return { day, book, uncleared }
  })
}

/**
 * What of a ledger has not cleared at the close of each of some days, in their order. Entries that have cleared by the first of the days
 * may be left out. Grows with both lists and their sorting.
 */
export function unclearedOn(days: readonly Day[], entries: readonly LedgerEntry[]): Cents[] {
  // From the day on which it is in the book until the day on which it counts as cleared.
  const changes = entries
    .flatMap((e) =>
      e.clearsOn !== null && e.clearsOn > e.day
        ? [
            { day: e.day, by: e.amount },
            { day: e.clearsOn, by: -e.amount },
          ]
        : [],
    ) // prettier-ignore
    .sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : 0))
  const out = new Map<Day, Cents>()
  let [at, uncleared] = [0, 0]
  for (const day of [...new Set(days)].sort()) {
    for (; at < changes.length && changes[at]!.day <= day; at += 1) uncleared += changes[at]!.by
    out.set(day, uncleared)
  }
  return days.map((d) => out.get(d)!)
}

/** What of a client's ledger is spent beyond what has cleared, at the close of a day: firm money stands in for it. */
export const stoodInFor = (d: Pick<DayBalance, 'book' | 'uncleared'>): Cents => Math.max(0, d.uncleared - d.book)

/** Why trust money may not move; each has its own sentence and is tested at the API. */
export const refusalCodes = [
  'ledger-below-zero',
  'more-than-available',
  'money-not-cleared',
  'override-not-allowed',
  'would-use-other-clients-money',
  'firm-money-stands-in',
  'other-clients-money',
  'firm-without-bill',
  'no-issued-bill',
  'more-than-owed',
  'not-yet-earned',
  'notice-days',
  'separate-trust-check',
  'unidentified-money',
  'future-date',
  'period-closed',
  'same-ledger',
  'more-than-entry',
  'before-original',
  'separate-other-client',
  'same-person',
] as const
export type RefusalCode = (typeof refusalCodes)[number]

export interface Refusal {
  code: RefusalCode
  sentence: string
}

/** The firm's own money in a trust account, and what it stands in for, at the close of a day. */
export interface StandingIn {
  day: Day
  /** Cleared firm money in the account, less what is reserved of it. */
  firm: Cents
  /** What the account's other client ledgers have spent beyond what has cleared: each one's `stoodInFor`, added up. */
  others: Cents
}

export interface PaymentOut {
  amount: Cents
  day: Day
  today: Day
  ledger: {
    name: string
    clientId: number | null
    kind: LedgerKindName
    /** From the payment's day on; see `balancesFrom`. */
    days: readonly DayBalance[]
    reserved: Cents
  }
  /** On each day on which this ledger or another of the account moves, from the payment's day on; empty where no firm money is there. */
  account: readonly StandingIn[]
  override: { allowed: boolean; reason: string } | null
}

const refuse = (code: RefusalCode, sentence: string): Refusal => ({ code, sentence })

/** The last of a list in order of days that is not after a day. */
function standing<T extends { day: Day }>(list: readonly T[], day: Day): T | undefined {
  let found: T | undefined
  for (const x of list) if (x.day <= day) found = x
  return found
}

/**
 * Whether money may leave a ledger: never below zero at the close of any day, also when back-dated; on no day from its date
 * on more than is available; uncleared money only by an authorized override, and only as far as firm money that stands in
 * for nobody else covers it. Firm money itself is not paid out while it stands in for deposits that have not cleared.
 */
export function judgePaymentOut(p: PaymentOut): Refusal | null {
  const { ledger } = p
  if (p.day > p.today) return refuse('future-date', `The book date ${showDay(p.day)} lies ahead. Date it today or earlier.`)
  if (!ledgerKinds[ledger.kind].paysOut)
    return refuse(
      'unidentified-money',
      'This money has no known owner yet and cannot be spent. Credit it to its owner first, from the list of unidentified money.',
    )
  const below = ledger.days.find((d) => d.book < p.amount)
  // On the day itself the same shortage is better said as what is available.
  if (below && p.day < p.today)
    return refuse(
      'ledger-below-zero',
      `${ledger.name} would be ${showMoney(below.book - p.amount)} at the close of ${showDay(below.day)}. Nothing was posted.`,
    )
  for (const d of ledger.days) {
    const available = d.book - d.uncleared - ledger.reserved
    if (p.amount <= available) continue
    if (p.amount > available + d.uncleared)
      return refuse(
        'more-than-available',
        `${showMoney(p.amount)} is more than the ${showMoney(available)} available on ${showDay(d.day)} (${showMoney(d.book)} in the book, ${showMoney(d.uncleared)} not cleared, ${showMoney(ledger.reserved)} reserved).`,
      )
    // Where nobody's money may stand in, nobody's word helps.
    if (!p.override || !ledgerKinds[ledger.kind].standIn)
      return refuse(
        'money-not-cleared',
        `${showMoney(d.uncleared)} of this ledger has not cleared on ${showDay(d.day)}; ${showMoney(available)} is available. Wait, or have it authorized with a reason.`,
      )
    if (!p.override.allowed || !p.override.reason.trim())
      return refuse('override-not-allowed', 'Spending money that has not cleared needs an authorized person and a reason.')
  }
  return ledgerKinds[ledger.kind].standsIn ? judgeFirmMoney(p) : judgeStandingIn(p)
}

/** Firm money leaves only as far as it stands in for nothing. */
function judgeFirmMoney(p: PaymentOut): Refusal | null {
  const short = p.account.find((a) => a.firm - p.amount < a.others)
  return short
    ? refuse(
        'firm-money-stands-in',
        `${showMoney(short.others)} of the firm’s money in this account stands in on ${showDay(short.day)} for deposits that have not cleared; ${showMoney(Math.max(0, short.firm - short.others))} may leave.`,
      )
    : null
}

/** What is spent beyond cleared money is covered by firm money that covers nothing else, on every day from the payment's on. */
function judgeStandingIn(p: PaymentOut): Refusal | null {
  const days = [...new Set([...p.ledger.days.map((d) => d.day), ...p.account.map((a) => a.day)])].sort()
  for (const day of days) {
    const own = standing(p.ledger.days, day)
    if (!own) continue
    const need = p.amount - (own.book - own.uncleared - p.ledger.reserved)
    const account = standing(p.account, day)
    const free = account ? account.firm - account.others : 0
    if (need > 0 && need > free)
      return refuse(
        'would-use-other-clients-money',
        `Other clients’ money would stand in for ${showMoney(need - Math.max(0, free))} that has not cleared on ${showDay(day)}. Not even an authorized person may allow that.`,
      )
  }
  return null
}

export interface BillForTrust {
  number: string | null
  issuedOn: Day | null
  /** The day on which it was really issued, whatever day it bears. */
  madeOn: Day | null
  payerId: number
  matterId: number
  open: Cents
  /** Part of what is open that was billed in advance and is not earned on the day of the payment. */
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
  const made = bill.madeOn && bill.madeOn > bill.issuedOn ? bill.madeOn : bill.issuedOn
  if (p.day < made)
    return refuse(
      'no-issued-bill',
      `Bill ${bill.number} is dated ${showDay(bill.issuedOn)} but was issued on ${showDay(made)}, after ${showDay(p.day)}.`,
    )
  // A client cannot have had notice before the bill was there, whatever day it bears.
  const free = addDays(made, p.noticeDays)
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
