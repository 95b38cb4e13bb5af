import { addDays, daysBetween, type Day } from '../calendar'
import { divideHalfUp, type Cents } from '../money'

/** What an engagement says of interest on overdue bills. */
export interface InterestTerms {
  /** Ten-thousandths a year: 12 % is 1200. */
  readonly basisPoints: number
  /** Days after the due day on which no interest runs. */
  readonly graceDays: number
}
/** What was open of a bill without interest from a day on, in cents: after each payment, credit or write-off of that day. */
export interface PrincipalFrom {
  readonly from: Day
  readonly open: Cents
}

/**
 * Simple interest on an overdue bill from the end of grace up to and with a day: principal × days × yearly rate ÷ 365, over all
 * spans added up and rounded once, half up. Interest on the day of a payment runs on the principal of before. `principal` is in
 * order of days, the first from the day of issue. $6,154.00 at 12 % for 17 days is $34.39. Nothing where the day lies within grace.
 */
export function interestUpTo(due: Day, terms: InterestTerms, principal: readonly PrincipalFrom[], asOf: Day): Cents {
  const start = addDays(due, terms.graceDays)
  if (asOf <= start || terms.basisPoints <= 0) return 0
  let weighed = 0n
  principal.forEach((p, i) => {
    // A principal holds from the day after its change up to and with the day of the next one.
    const from = i === 0 || p.from < start ? start : p.from
    const next = principal[i + 1]?.from ?? asOf
    const to = next < asOf ? next : asOf
    const days = daysBetween(from, to)
    if (days > 0) weighed += BigInt(Math.max(0, p.open)) * BigInt(days)
  })
  return divideHalfUp(weighed * BigInt(terms.basisPoints), 3_650_000n)
}

/** What a charge of interest comes to: what has accrued up to a day less what was charged of it before; never below nothing. */
export const interestToCharge = (accrued: Cents, charged: Cents): Cents => Math.max(0, accrued - charged)
