import type { Day } from '../calendar'
import { sum, type Cents } from '../money'

/** What a row of a firm’s books as of a day may be, when it moves in. */
export const openingKinds = ['account', 'ledger', 'check', 'deposit', 'statement', 'bill', 'credit', 'vendor', 'cost', 'time'] as const
export type OpeningKind = (typeof openingKinds)[number]

/** A row as far as its sums go. Debit positive on `account`; everything else is above zero, only a statement may be overdrawn. */
export interface OpeningRow {
  what: OpeningKind
  amount: Cents
  /** Of accounts, ledgers, checks, deposits and statements: the bank account, where it is one. */
  bankAccountId: number | null
  /** The firm’s own money in trust, which is an asset of the firm besides. */
  firmMoney?: boolean
}

/**
 * What opening clearing would stand at, debit positive: assets less what is owed and what the partners own. Zero where the books
 * that were brought balance. Trust banks come with what is owed to clients and change nothing; unbilled time is no asset.
 */
export function openingClearing(rows: readonly OpeningRow[]): Cents {
  const of = (r: OpeningRow): Cents => {
    switch (r.what) {
      case 'account':
      case 'bill':
      case 'cost':
        return -r.amount
      case 'vendor':
      case 'credit':
        return r.amount
      case 'ledger':
        return r.firmMoney ? -r.amount : 0
      default:
        return 0
    }
  }
  return sum(rows.map(of)) || 0
}

export interface OpeningBank {
  bankAccountId: number
  /** The balance in the book. */
  book: Cents
  /** Checks that the bank has not paid, and deposits that it has not credited. */
  checks: Cents
  deposits: Cents
  /** What the bank’s statement of that day shows: book + checks − deposits. */
  statement: Cents
  /** What the firm says it shows, where a row says so. */
  said: Cents | null
}

/** Each bank account by what was brought: trust by its ledgers, operating by its account. */
export function openingBanks(rows: readonly OpeningRow[]): OpeningBank[] {
  const ids = [...new Set(rows.flatMap((r) => (r.bankAccountId === null ? [] : [r.bankAccountId])))].sort((a, b) => a - b)
  return ids.map((bankAccountId) => {
    const own = rows.filter((r) => r.bankAccountId === bankAccountId)
    const of = (...kinds: OpeningKind[]) => sum(own.filter((r) => kinds.includes(r.what)).map((r) => r.amount))
    const book = of('ledger', 'account')
    const checks = of('check')
    const deposits = of('deposit')
    const said = own.find((r) => r.what === 'statement')
    return { bankAccountId, book, checks, deposits, statement: book + checks - deposits, said: said ? said.amount : null }
  })
}

/**
 * What comes into a ledger on the day of moving in, by when it clears: first what has cleared, then each deposit that the bank has not
 * credited, earliest first. Deposits that come to more than the ledger holds were spent in part; what clears last is still there.
 * @param held what the ledger holds by the book, in cents, not below zero
 * @param drawn what checks that are out take besides, in cents: it was cleared when they were written
 */
export function openedByClearing(
  held: Cents,
  drawn: Cents,
  deposits: readonly { clearsOn: Day; amount: Cents }[],
): { clearsOn: Day | null; amount: Cents }[] {
  let left = held
  const parts: { clearsOn: Day | null; amount: Cents }[] = []
  for (const d of [...deposits].sort((a, b) => (a.clearsOn < b.clearsOn ? 1 : -1))) {
    const amount = Math.min(left, d.amount)
    if (amount > 0) parts.unshift({ clearsOn: d.clearsOn, amount })
    left -= amount
  }
  return left + drawn > 0 ? [{ clearsOn: null, amount: left + drawn }, ...parts] : parts
}
