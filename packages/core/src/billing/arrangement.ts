import type { Cents } from '../money'
import { readFraction, type Fraction } from './contingency'

/** How a matter is paid for. */
export const arrangements = ['hourly', 'flat', 'mixed', 'contingency', 'no charge', 'grant'] as const
export type Arrangement = (typeof arrangements)[number]
export const arrangementNames: Record<Arrangement, string> = {
  hourly: 'Hourly',
  flat: 'Flat fee',
  mixed: 'Mixed: hours and fees',
  contingency: 'Contingent fee',
  'no charge': 'No charge',
  grant: 'Paid by a grant',
}

/** Under these a fee covers the hours: they stand on its bill at nothing and are never charged by themselves. */
export const coversTime = (a: Arrangement): boolean => a === 'flat' || a === 'contingency'
/** Whether fees of set amounts belong to it. */
export const hasPortions = (a: Arrangement): boolean => a === 'flat' || a === 'mixed'
/** Whether a part of what is recovered belongs to it. */
export const hasContingentFee = (a: Arrangement): boolean => a === 'contingency' || a === 'mixed'

export type Charge = 'billable' | 'no charge' | 'non-billable'
/**
 * How time is charged under an arrangement: what is done at no charge or for a grant is on no bill, whatever was said; time that
 * was said to be at no charge stays so elsewhere.
 */
export const chargeUnder = (a: Arrangement, said: Charge): Charge => (a === 'no charge' || a === 'grant' ? 'non-billable' : said)

/** A fee of a set amount: charged when the matter opens, or when it is reached. */
export interface Portion {
  readonly label: string
  readonly amount: Cents
  readonly due: 'opening' | 'reached'
}
/** What an arrangement lacks, as a field and a sentence; null where nothing. `billed` says that fees of it are billed already. */
export function arrangementFault(
  a: Arrangement,
  portions: readonly Portion[],
  contingent: { readonly stages: readonly { readonly share: string }[] } | null,
  billed = false,
): { path: (string | number)[]; message: string } | null {
  if (a === 'flat' && !portions.length && !billed) return { path: ['flatFee'], message: 'Give the flat fee' }
  if (a === 'contingency' && !contingent?.stages.length)
    return { path: ['contingent'], message: 'Give the part of the recovery that is the fee' }
  if (a === 'mixed' && !portions.length && !billed && !contingent?.stages.length)
    return { path: ['flatFee'], message: 'Give a fee beside the hours: an amount, or a part of the recovery' }
  if (hasContingentFee(a) && contingent)
    for (const [i, s] of contingent.stages.entries())
      if (!readFraction(s.share))
        return {
          path: ['contingent', 'stages', i, 'share'],
          message: 'Give a part like 1/3, 33⅓ % or 40 %, above nothing and at most the whole',
        }
  return null
}

/** Time of a matter that is not billed yet, as a change of arrangement looks at it. */
export interface UnbilledTime {
  readonly amount: Cents
  readonly charge: Charge
  /** Whether a fee covers it as things stand. */
  readonly covered: boolean
}
export interface ArrangementEffect {
  /** Entries that a fee will cover, and what they were to be charged. */
  readonly nowCovered: { readonly entries: number; readonly amount: Cents }
  /** Entries that will be charged by themselves, and what they come to. */
  readonly nowCharged: { readonly entries: number; readonly amount: Cents }
  /** Entries that were recorded as billable and stay so, though new time will be on no bill. */
  readonly stays: { readonly entries: number; readonly amount: Cents }
}
/** What another arrangement does to unbilled time from its first day on. Linear in the entries. */
export function effectOf(to: Arrangement, entries: readonly UnbilledTime[]): ArrangementEffect {
  const tally = (wanted: (e: UnbilledTime) => boolean) => {
    const own = entries.filter((e) => e.charge === 'billable' && wanted(e))
    return { entries: own.length, amount: own.reduce((s, e) => s + e.amount, 0) }
  }
  const covers = coversTime(to)
  const free = chargeUnder(to, 'billable') === 'non-billable'
  return {
    nowCovered: tally((e) => covers && !e.covered),
    nowCharged: tally((e) => !covers && !free && e.covered),
    stays: tally((e) => free && !e.covered),
  }
}

/** What a client is asked for where the money held has fallen below its floor: as much as fills it up again; else nothing. */
export const toReplenish = (held: Cents, floor: Cents, fillTo: Cents): Cents => (held < floor ? Math.max(fillTo, floor) - held : 0)

/** The terms of a contingent fee: of what it is, and its part at each stage of the case. */
export interface ContingentFee {
  readonly feeOf: 'gross' | 'net of costs'
  readonly stages: readonly { readonly label: string; readonly fee: Fraction }[]
}
