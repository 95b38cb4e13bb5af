import type { Day } from '../calendar'
import type { Weight } from './rule-set'

export const entryMarks = ['open', 'in hand', 'met', 'waived', 'vacated'] as const
export type EntryMark = (typeof entryMarks)[number]

/** Whether something is still to be done about a date: it is neither met nor waived nor vacated. */
export const isOpen = (mark: EntryMark): boolean => mark === 'open' || mark === 'in hand'

/** Whether a date has passed with something still to be done. An appointment that is past asks for nothing. */
export const isOverdue = (e: { day: Day; mark: EntryMark; weight: Weight; leftOut?: boolean }, today: Day): boolean =>
  e.day < today && isOpen(e.mark) && e.weight !== 'appointment' && !e.leftOut

/**
 * Of dates that recur what is past and the next one, and all others: on a line of time the later ones of a series would hide the
 * rest. Expects the dates in order.
 */
export function nextOfSeries<T extends { id: number; day: Day; series: { id: number } | null }>(dates: readonly T[], today: Day): T[] {
  const next = new Map<number, number>()
  for (const d of dates) if (d.series && d.day >= today && !next.has(d.series.id)) next.set(d.series.id, d.id)
  return dates.filter((d) => !d.series || d.day < today || next.get(d.series.id) === d.id)
}
