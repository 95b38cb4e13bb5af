import { showDay, type Day } from '../calendar'
import { showMoney, type Cents } from '../money'
import type { JournalLine, JournalParts, LedgerMove } from './journal'
import type { LedgerKindName } from './kinds'
import type { DayBalance, Refusal } from './trust'

/** A ledger within its trust account, with the accounts of the chart to which that is booked. */
export interface TrustSide {
  ledgerId: number
  matterId: number | null
  bankAccountId: number
  bankGl: number
  liabilityGl: number
}
/** The firm's own bank, from which it makes good what a trust account lacks. */
export interface FirmSide {
  bankAccountId: number
  bankGl: number
}

const ledger = (s: TrustSide, amount: Cents): LedgerMove => ({ ledgerId: s.ledgerId, bankAccountId: s.bankAccountId, amount })
/** Trust bank up and what is owed to the client up, or both down; both records of the general ledger. */
const both = (s: TrustSide, amount: Cents): JournalLine[] => [
  { account: s.bankGl, amount, matterId: s.matterId },
  { account: s.liabilityGl, amount: -amount, matterId: s.matterId },
]

/**
 * Money of one ledger becomes that of another: within one account no bank moves, between two accounts both do.
 * The amount is in cents and above zero.
 */
export function moveLegs(from: TrustSide, to: TrustSide, amount: Cents): JournalParts {
  const ledgers = [ledger(from, -amount), ledger(to, amount)]
  if (from.bankAccountId === to.bankAccountId)
    return {
      lines: [
        { account: from.liabilityGl, amount, matterId: from.matterId },
        { account: to.liabilityGl, amount: -amount, matterId: to.matterId },
      ],
      bank: [],
      ledgers,
    }
  return {
    lines: [...both(from, -amount), ...both(to, amount)],
    bank: [
      { bankAccountId: from.bankAccountId, amount: -amount },
      { bankAccountId: to.bankAccountId, amount },
    ],
    ledgers,
  }
}

/**
 * What the firm makes good, in cents, when the bank takes an amount out of a ledger: what the ledger then lacks on its lowest day
 * from the bank's day on. $5,000.00 deposited, $3,200.00 spent, the deposit returned: $3,200.00.
 */
export function coverNeeded(days: readonly Pick<DayBalance, 'book'>[], amount: Cents): Cents {
  const lowest = Math.min(...days.map((d) => d.book))
  return Math.max(0, amount - Math.max(0, days.length ? lowest : 0))
}

/** The firm's cover of what a ledger lacks: out of its own bank, into trust, in transit until both banks show it. */
function coverLegs(into: TrustSide, cover: Cents, firm: FirmSide, dueFrom: Pick<JournalLine, 'account' | 'matterId'>): JournalParts {
  if (!cover) return { lines: [], bank: [], ledgers: [] }
  return {
    lines: [...both(into, cover), { ...dueFrom, amount: cover }, { account: firm.bankGl, amount: -cover }],
    bank: [
      { bankAccountId: into.bankAccountId, amount: cover },
      { bankAccountId: firm.bankAccountId, amount: -cover },
    ],
    ledgers: [ledger(into, cover)],
  }
}
const joined = (a: JournalParts, b: JournalParts): JournalParts => ({
  lines: [...a.lines, ...b.lines],
  bank: [...a.bank, ...b.bank],
  ledgers: [...a.ledgers, ...b.ledgers],
})

/** A deposit that the bank took back, with the firm's cover in the same act: the client owes the firm what it covers. */
export function returnedLegs(p: { from: TrustSide; amount: Cents; cover: Cents; firm: FirmSide; dueFromClients: number }): JournalParts {
  const taken: JournalParts = {
    lines: both(p.from, -p.amount),
    bank: [{ bankAccountId: p.from.bankAccountId, amount: -p.amount }],
    ledgers: [ledger(p.from, -p.amount)],
  }
  return joined(taken, coverLegs(p.from, p.cover, p.firm, { account: p.dueFromClients, matterId: p.from.matterId }))
}

/** A charge of the bank on a trust account: the firm's own money there bears it, made good by the firm where that is not enough. */
export function chargeLegs(p: {
  firmLedger: TrustSide
  amount: Cents
  cover: Cents
  firm: FirmSide
  charges: number
  firmMoney: number
}): JournalParts {
  const taken: JournalParts = {
    lines: [...both(p.firmLedger, -p.amount), { account: p.charges, amount: p.amount }, { account: p.firmMoney, amount: -p.amount }],
    bank: [{ bankAccountId: p.firmLedger.bankAccountId, amount: -p.amount }],
    ledgers: [ledger(p.firmLedger, -p.amount)],
  }
  return joined(taken, coverLegs(p.firmLedger, p.cover, p.firm, { account: p.firmMoney }))
}

/** Interest that the bank paid into a trust account: the bar foundation's on a pooled one, the client's on a separate one. */
export function interestLegs(to: TrustSide, amount: Cents): JournalParts {
  return { lines: both(to, amount), bank: [{ bankAccountId: to.bankAccountId, amount }], ledgers: [ledger(to, amount)] }
}

export interface Owner {
  kind: LedgerKindName
  clientId: number | null
  name: string
}
const refuse = (code: Refusal['code'], sentence: string): Refusal => ({ code, sentence })

/** Whether money may be moved from one ledger to another: only between ledgers of one client. */
export function judgeMove(from: Owner & { ledgerId: number }, to: Owner & { ledgerId: number | null }): Refusal | null {
  if (from.kind === 'unidentified')
    return refuse('unidentified-money', 'This money has no known owner yet. Credit it to its owner from the list of unidentified money.')
  if (from.kind !== 'client' || to.kind !== 'client')
    return refuse(
      'other-clients-money',
      `${from.kind === 'client' ? to.name : from.name} is not money of a client, and does not move to one.`,
    )
  if (from.clientId !== to.clientId)
    return refuse(
      'other-clients-money',
      `${from.name} is one client’s money, and ${to.name} is another’s. A wrong client is mended by a correction, which a second person approves.`,
    )
  if (from.ledgerId === to.ledgerId) return refuse('same-ledger', 'Both sides are the same ledger. Choose where the money goes.')
  return null
}

/** How much of an entry may still be corrected, in cents: what it moved less what was corrected before. */
export interface EntryToCorrect {
  amount: Cents
  day: Day
  correctedBefore: Cents
}

/** Whether an entry that stands on the wrong ledger may be corrected on a day: never more than it moved, nor before it. */
export function judgeCorrection(e: EntryToCorrect, amount: Cents, day: Day, today: Day): Refusal | null {
  const left = Math.abs(e.amount) - e.correctedBefore
  if (amount > left)
    return refuse(
      'more-than-entry',
      left > 0
        ? `${showMoney(left)} of this entry is not corrected yet; ${showMoney(amount)} is more.`
        : 'All of this entry was corrected before.',
    )
  if (day > today) return refuse('future-date', `The book date ${showDay(day)} lies ahead. Date it today or earlier.`)
  if (day < e.day) return refuse('before-original', `The entry stands on ${showDay(e.day)}. Date its correction then or later.`)
  return null
}

/**
 * How far the money of ledgers reaches over bills, in the order in which they stand: each bill takes what is owed and still available on
 * its ledger, and what another ledger pays of the same bill counts. The parts of one bill never come to more than is owed.
 */
export function shareOfLedgers(
  bills: readonly { ledgerId: number; billId: number; owed: Cents }[],
  available: ReadonlyMap<number, Cents>,
): Cents[] {
  const left = new Map(available)
  const paid = new Map<number, Cents>()
  return bills.map((b) => {
    const amount = Math.max(0, Math.min(b.owed - (paid.get(b.billId) ?? 0), left.get(b.ledgerId) ?? 0))
    left.set(b.ledgerId, (left.get(b.ledgerId) ?? 0) - amount)
    paid.set(b.billId, (paid.get(b.billId) ?? 0) + amount)
    return amount
  })
}

/**
 * The administration fee of a receipt into trust, in cents: what the firm's jurisdiction levies, unless it is left out for this receipt.
 * Nothing where the money is not for one matter, for a fee is charged to a matter.
 */
export const feeOfReceipt = (set: Cents, receipt: { readonly wanted: boolean; readonly matterId: number | null }): Cents =>
  receipt.wanted && receipt.matterId !== null ? set : 0
