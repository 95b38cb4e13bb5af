import { addDays, dayOf, parts, type Day } from '../calendar'
import { shareOf } from './weeks'
import type { Cents } from '../money'

/** What happened to recorded work on its way to money. All amounts are of fees, before tax. */
export const flowSteps = [
  'worked',
  'noCharge',
  'dropped',
  'waiting',
  'feeDifference',
  'writtenDown',
  'discount',
  'billed',
  'credited',
  'writtenOff',
  'open',
  'collected',
] as const
export type FlowStep = (typeof flowSteps)[number]
export type Flow = Record<FlowStep, Cents>

export const flowWords: Record<FlowStep, string> = {
  worked: 'Worked',
  noCharge: 'No charge',
  dropped: 'Written off unbilled',
  waiting: 'Waiting',
  feeDifference: 'Fees over time',
  writtenDown: 'Written down',
  discount: 'Discount',
  billed: 'Billed',
  credited: 'Credited',
  writtenOff: 'Written off',
  open: 'Open',
  collected: 'Collected',
}

/**
 * A span cut into pieces of some calendar months each, in order, without gap; only the ends of the span cut a month. What is added up
 * piece by piece and by month is what the span comes to at once. Nothing where it ends before it begins. Throws a RangeError where
 * `months` is no whole number above zero.
 */
export function cutByMonths(span: { from: Day; to: Day }, months: number): { from: Day; to: Day }[] {
  if (!Number.isInteger(months) || months < 1) throw new RangeError('Pieces are of one month at least')
  const out: { from: Day; to: Day }[] = []
  for (let from = span.from; from <= span.to;) {
    const [year, month] = parts(from)
    const next = year * 12 + (month - 1) + months
    const end = addDays(dayOf(Math.floor(next / 12), (next % 12) + 1, 1), -1)
    const to = end < span.to ? end : span.to
    out.push({ from, to })
    from = addDays(to, 1)
  }
  return out
}

/** Nothing at every step from work to money. */
export const noFlow = (): Flow => Object.fromEntries(flowSteps.map((s) => [s, 0])) as Flow

/** Adds what is there of one to another, in place. */
export function addFlow(to: Flow, more: Partial<Flow>): Flow {
  for (const s of flowSteps) to[s] += more[s] ?? 0
  return to
}

/**
 * What was to be billed by what was worked, and what was to be collected by what was billed: nothing where all is accounted for. What
 * a fee of its own is above the time that it covers counts as `feeDifference`; below zero it is less than the time.
 */
export const unexplained = (f: Flow): { billed: Cents; collected: Cents } => ({
  billed: f.worked - f.noCharge - f.dropped - f.waiting + f.feeDifference - f.writtenDown - f.discount - f.billed,
  collected: f.billed - f.credited - f.writtenOff - f.open - f.collected,
})

/** What was lost on the way: before a bill (no charge, written off, written down, discount) and after it (credited, written off). */
export const losses = (f: Flow): { before: Cents; after: Cents } => ({
  before: f.noCharge + f.dropped + f.writtenDown + f.discount,
  after: f.credited + f.writtenOff,
})

/** Realization in hundredths of a percent: billed of what was worked and no longer waits, and collected of what was billed. */
export const realization = (f: Flow): { billing: number | null; collection: number | null } => ({
  billing: shareOf(f.billed, f.worked - f.waiting),
  collection: shareOf(f.collected, f.billed),
})
