import type { Cents } from './cents'

/**
 * The most that may stand in one place, in cents. Sums of a great many such amounts stay whole numbers that every program can
 * hold; a slip of the keys (a card's number typed as an amount) is refused where it is made.
 */
export const mostMoney = {
  /** $10,000.00 an hour. */
  rate: 1_000_000,
  /** $1,000,000,000.00 in one entry: a time entry, a cost, a receipt, a payment, a line of a journal. */
  amount: 100_000_000_000,
  /** What may be asked for or compared with: sums over a firm. */
  sum: 1_000_000_000_000_000,
} as const satisfies Record<string, Cents>
