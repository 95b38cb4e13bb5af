import { sum, type Cents } from '../money'

/** An account at the end of a month, as three records tell it. Amounts in cents, above zero into the account. */
export interface Position {
  /** What the bank says it holds. */
  bank: Cents
  /** What the book says. */
  book: Cents
  /** The client ledgers together; null for an account that has none. */
  ledgers: Cents | null
  /** Entries of the book that the bank has not seen: what is in transit, and checks outstanding. */
  inTransit: readonly Cents[]
  /** Lines of the bank that are not in the book. `named` are those that a person carries as a named item. */
  unbooked: readonly { amount: Cents; named: boolean }[]
  /** Of matched pairs what the bank moved beyond what the book says: the bank's error, or the book's. */
  errors: readonly { amount: Cents; named: boolean }[]
  /** Money whose owner is not known: as long as there is any, the month does not close. */
  unidentified: Cents
}
export interface Reconciled {
  depositsInTransit: Cents
  outstanding: Cents
  unbookedIn: Cents
  unbookedOut: Cents
  errors: Cents
  /** The bank's balance with what is in transit, without what is not in the book. */
  adjusted: Cents
  /** By how much it differs from the book, and the book from the ledgers: zero where they agree. */
  bankFromBook: Cents
  bookFromLedgers: Cents
  /** Why the month cannot be closed; nothing where it can. */
  stops: string[]
}

/**
 * The three figures that must agree: the bank's balance adjusted for what is in transit and for lines that are not in the book, the
 * balance of the book, and the sum of the client ledgers. A month closes only when they do and every difference is named.
 */
export function reconcile(p: Position): Reconciled {
  const above = (list: readonly Cents[]) => sum(list.filter((a) => a > 0))
  const below = (list: readonly Cents[]) => sum(list.filter((a) => a < 0))
  const unbooked = p.unbooked.map((u) => u.amount)
  const errors = sum(p.errors.map((e) => e.amount))
  const adjusted = p.bank + sum(p.inTransit) - sum(unbooked) - errors
  const bankFromBook = adjusted - p.book
  const bookFromLedgers = p.ledgers === null ? 0 : p.book - p.ledgers
  const unnamed = [...p.unbooked, ...p.errors].filter((x) => !x.named).length
  const stops: string[] = []
  if (bankFromBook !== 0) stops.push('The bank’s balance, adjusted, is not the balance of the book.')
  if (bookFromLedgers !== 0) stops.push('The balance of the book is not the sum of the client ledgers.')
  if (unnamed) stops.push(unnamed === 1 ? 'One difference is not named.' : `${unnamed} differences are not named.`)
  if (p.unidentified !== 0) stops.push('There is money whose owner is not known.')
  return {
    depositsInTransit: above(p.inTransit),
    outstanding: below(p.inTransit),
    unbookedIn: above(unbooked),
    unbookedOut: below(unbooked),
    errors,
    adjusted,
    bankFromBook,
    bookFromLedgers,
    stops,
  }
}
