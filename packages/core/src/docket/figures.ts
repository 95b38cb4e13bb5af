import { daysBetween, type Day } from '../calendar'
import type { Trigger } from './docket'

/** Days from one event of a matter to another. */
export interface Spell {
  matterId: number
  from: Day
  to: Day
}

export interface Spread {
  count: number
  /** Days; null where there is nothing to count. */
  shortest: number | null
  lowerQuartile: number | null
  median: number | null
  upperQuartile: number | null
  longest: number | null
  /** How many fall into each of equal spans of days, the last open to the right of none. */
  bars: { from: number; to: number; count: number }[]
}

/** The value at a share of a sorted list, between its neighbours in proportion (the linear method, type 7 of Hyndman and Fan). */
export function quantile(sorted: readonly number[], share: number): number | null {
  if (!sorted.length) return null
  const at = (sorted.length - 1) * share
  const low = Math.floor(at)
  const lower = sorted[low]!
  return lower + (at - low) * ((sorted[low + 1] ?? lower) - lower)
}

const widths = [1, 2, 5, 7, 10, 14, 20, 30, 50, 60, 90, 120, 180, 365, 730]

/** Count, quartiles and spread of spells, in calendar days. Spells that end before they begin are left out. */
export function spreadOf(spells: readonly Spell[]): Spread {
  const days = spells
    .map((s) => daysBetween(s.from, s.to))
    .filter((n) => n >= 0)
    .sort((a, b) => a - b)
  const longest = days.at(-1) ?? null
  const bars: Spread['bars'] = []
  if (longest !== null) {
    const width = widths.find((w) => longest / w < 12) ?? 1095
    const first = Math.floor(days[0]! / width) * width
    for (let from = first; from <= longest; from += width)
      bars.push({ from, to: from + width - 1, count: days.filter((d) => d >= from && d < from + width).length })
  }
  return {
    count: days.length,
    shortest: days[0] ?? null,
    lowerQuartile: quantile(days, 0.25),
    median: quantile(days, 0.5),
    upperQuartile: quantile(days, 0.75),
    longest,
    bars,
  }
}

/** From commencement to trial; from motion to ruling. */
export type Figure = 'trial' | 'ruling'

const commencements = ['complaint-filed', 'state-pleading-received', 'removal-filed']
const motions = ['motion-filed', 'rule-12-motion-served']
const rulings = ['motion-decided', 'rule-12-motion-decided']

/**
 * The spells of one matter: from the first event that begins a case to the first day set for its trial, if that is no longer
 * tentative; from each motion to the ruling that answers it, or else to the next ruling after it that answers no other.
 */
export function spellsOf(figure: Figure, triggers: readonly Trigger[]): { from: Day; to: Day; what: string }[] {
  const inOrder = [...triggers].sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : a.id - b.id))
  if (figure === 'trial') {
    const begun = inOrder.find((t) => commencements.includes(t.kind))
    const trial = inOrder.find((t) => t.kind === 'trial-set' && !t.tentative)
    return begun && trial && trial.day >= begun.day ? [{ from: begun.day, to: trial.day, what: trial.label }] : []
  }
  const open = inOrder.filter((t) => motions.includes(t.kind))
  const found: { from: Day; to: Day; what: string }[] = []
  const given = inOrder.filter((t) => rulings.includes(t.kind))
  // Rulings that name their motion come first; the others answer what is left, oldest first.
  for (const ruling of [...given.filter((r) => r.answersId !== null), ...given.filter((r) => r.answersId === null)]) {
    const at = open.findIndex((t) => (ruling.answersId === null ? t.day <= ruling.day : t.id === ruling.answersId))
    if (at < 0) continue
    const [motion] = open.splice(at, 1)
    found.push({ from: motion!.day, to: ruling.day, what: motion!.label })
  }
  return found
}
