import { addMonths, daysBetween, monthStart, parts, type Day } from '../calendar'
import type { Weight } from './rule-set'

/** An event as it is called where it stands alone: what happened, then which one. */
export const eventTitle = (title: string, label: string): string => (label && label !== title ? `${title}: ${label}` : title)

/** Something on a matter's line of time: an event from which dates are counted, or a date. */
export interface LinePoint {
  id: string
  day: Day
  title: string
  kind: 'event' | Weight
  /** Met, waived, vacated, or past without anything being due. */
  done: boolean
}

export interface LaidPoint extends LinePoint {
  /** Along the line, in pixels. */
  x: number
  /** Rows from the line, 0 nearest. */
  row: number
  /** Where its words begin; left of the point where they would run over the right edge. */
  textX: number
}

export interface LaidLine {
  width: number
  months: { x: number; text: string }[]
  todayX: number | null
  /** Above the line. */
  events: LaidPoint[]
  /** Below the line. */
  dates: LaidPoint[]
  eventRows: number
  dateRows: number
}

const monthNames = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
const margin = 14

/**
 * Lays the events and dates of a matter along one line, to scale by days, events above and dates below, in rows so that no
 * words overlap. `wordsWidth` says how wide the words of a point are, in pixels. Without points there is only today.
 */
export function layLine(points: readonly LinePoint[], today: Day, width: number, wordsWidth: (p: LinePoint) => number): LaidLine {
  const days = [...points.map((p) => p.day), today].sort()
  const first = days[0]!
  const last = days.at(-1)!
  const span = Math.max(1, daysBetween(first, last))
  const xOf = (day: Day) => Math.round(margin + (daysBetween(first, day) / span) * (width - 2 * margin))
  const months: LaidLine['months'] = []
  const every = Math.max(1, Math.ceil(span / 30.4 / Math.max(1, Math.floor(width / 64))))
  for (let at = addMonths(monthStart(first), 1), n = 0; at <= last; at = addMonths(at, 1), n += 1) {
    const [year, month] = parts(at)
    if (n % every === 0) months.push({ x: xOf(at), text: `${monthNames[month - 1]!}${month === 1 || n === 0 ? ` ${year}` : ''}` })
  }
  const lay = (list: readonly LinePoint[]) => {
    const ends: number[] = []
    const laid = [...list]
      .sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : 0))
      .map((p): LaidPoint => {
        const x = xOf(p.day)
        const wide = wordsWidth(p)
        const textX = x + 5 + wide <= width ? x + 5 : Math.max(0, x - wide - 5)
        const from = Math.min(x, textX)
        let row = ends.findIndex((end) => end < from)
        if (row < 0) row = ends.length
        ends[row] = Math.max(x, textX + wide) + 10
        return { ...p, x, row, textX }
      })
    return { laid, rows: ends.length }
  }
  const above = lay(points.filter((p) => p.kind === 'event'))
  const below = lay(points.filter((p) => p.kind !== 'event'))
  return {
    width,
    months,
    todayX: xOf(today),
    events: above.laid,
    dates: below.laid,
    eventRows: above.rows,
    dateRows: below.rows,
  }
}
