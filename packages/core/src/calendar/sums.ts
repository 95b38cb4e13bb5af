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

/**
 * Reads `+90`, `−10 court days`, `30 Mar 2027 - 6 cd`, `today + 3 months`, `+1 y`. Without a day it counts from today; without
 * a unit in calendar days. Null for anything else, plain dates included.
 */
export function readDaySum(text: string, today: Day): DaySum | null {
  const t = text.trim().toLowerCase()
  if (isDay(t)) return null
  const m = /^(.*?)\s*([+−-])\s*(\d{1,4})\s*([a-z ]*)$/.exec(t)
  const unit = m && units.find(([is]) => is.test(m[4]!.trim()))?.[1]
  if (!m || !unit) return null
  const base = m[1] ? readDay(m[1], today) : today
  return base ? { base, count: Number(m[3]), unit, direction: m[2] === '+' ? 'after' : 'before' } : null
}

/** The day of a sum, and the sum in words for a note: `10 court days before Tue 30 Mar 2027`. Nothing rolls. */
export function addUp(sum: DaySum, calendar: CourtCalendar): { day: Day; text: string } {
  const { date } = countPeriod(sum.base, '', { ...sum, roll: 'none' }, { calendar, shortPeriodUnder: null })
  return { day: date, text: `${showPeriod(sum)} ${showDay(sum.base)}` }
}
