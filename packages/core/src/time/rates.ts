import type { Day } from '../calendar'
import type { Cents } from '../money'

/** Where the rate of an entry came from, first that exists. */
/** `amount` is of an entry without hours, of which the amount alone was given. */
export const rateOrigins = ['amount', 'typed', 'matter', 'client', 'role', 'activity', 'timekeeper'] as const
export type RateOrigin = (typeof rateOrigins)[number]

export interface RateSources {
  typed?: Cents | null
  /** Timekeeper on this matter, timekeeper for this client, role on this matter, activity code. */
  matter?: Cents | null
  client?: Cents | null
  role?: Cents | null
  activity?: Cents | null
  /** The timekeeper's own rates; of those in force the usual one, else the latest, applies. */
  timekeeper: readonly { from: Day; to: Day | null; rate: Cents; usual: boolean }[]
}

/** The hourly rate in cents for an entry on a day, and its origin; null where no rate exists. */
export function resolveRate(sources: RateSources, day: Day): { rate: Cents; origin: RateOrigin } | null {
  for (const origin of ['typed', 'matter', 'client', 'role', 'activity'] as const) {
    const rate = sources[origin]
    if (rate !== null && rate !== undefined) return { rate, origin }
  }
  const inForce = sources.timekeeper
    .filter((r) => r.from <= day && (r.to === null || r.to >= day))
    .sort((a, b) => Number(b.usual) - Number(a.usual) || (a.from < b.from ? 1 : -1))
  return inForce[0] ? { rate: inForce[0].rate, origin: 'timekeeper' } : null
}

const originWords: Record<RateOrigin, string> = {
  amount: 'amount alone',
  typed: 'typed on the entry',
  matter: 'own rate on this matter',
  client: 'own rate for this client',
  role: 'rate of the role on this matter',
  activity: 'rate of the activity',
  timekeeper: 'own rate in force',
}
/** Where a rate comes from, in words. */
export const showRateOrigin = (origin: RateOrigin): string => originWords[origin]
