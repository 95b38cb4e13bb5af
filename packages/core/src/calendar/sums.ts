import { mostUnits } from './bounds'
import { countPeriod, showPeriod, type Unit } from './counting'
import type { CourtCalendar, Direction } from './court'
import { isDay, readDay, showDay, type Day } from './dates'

/** A date given as a sum: so many units after or before a day. */
export interface DaySum {
  base: Day
  count: number
  unit: Unit
  direction: Direction
}

const units: [RegExp, Unit][] = [
  [/^(?:court days?|cd)$/, 'courtDay'],
  [/^(?:calendar days?|days?|d)?$/, 'day'],
  [/^(?:weeks?|w)$/, 'week'],
  [/^(?:months?|mo|m)$/, 'month'],
  [/^(?:years?|y)$/, 'year'],
]

/** How the day from which a sum starts is found in a text: all before its sign, which is the last one. */
const signs = /[+−]|-(?=\s*\d{1,4}\s*[a-z]*(?:\s[a-z]+)?$)/g

/**
 * Reads `+90`, `−10 court days`, `30 Mar 2027 - 6 cd`, `today + 3 months`, `+1 y`. Without a day it counts from `from`: the
 * day that the field holds or moves, else today. Without a unit in calendar days. Null for anything else, plain dates
 * included, and for more than 3,650 units.
 */
export function readDaySum(text: string, today: Day, from: Day = today): DaySum | null {
  const t = text.trim().toLowerCase()
  if (t.length > 80 || isDay(t)) return null
  const sign = [...t.matchAll(signs)].at(-1)
  if (!sign) return null
  const [before, after] = [t.slice(0, sign.index).trim(), t.slice(sign.index + 1).trim()]
  const count = /^\d{1,4}/.exec(after)?.[0]
  const unit = count && units.find(([is]) => is.test(after.slice(count.length).trim()))?.[1]
  if (!count || !unit || Number(count) > mostUnits) return null
  const base = before ? readDay(before, today) : from
  return base ? { base, count: Number(count), unit, direction: sign[0] === '+' ? 'after' : 'before' } : null
}

/** The day of a sum, and the sum in words for a note: `10 court days before Tue 30 Mar 2027`. Nothing rolls. */
export function addUp(sum: DaySum, calendar: CourtCalendar): { day: Day; text: string } {
  const { date } = countPeriod(sum.base, '', { ...sum, roll: 'none' }, { calendar, shortPeriodUnder: null })
  return { day: date, text: `${showPeriod(sum)} ${showDay(sum.base)}` }
}
