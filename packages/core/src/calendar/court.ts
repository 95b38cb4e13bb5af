import { earliestDay, latestDay, mostUnits, OutOfBounds, withinYears } from './bounds'
import { addDays, daysBetween, isWeekend, parts, weekday, weekdayName, yearStart, type Day } from './dates'
import { daysOfRule, type HolidayRule } from './holidays'

export type Direction = 'after' | 'before'

/** A set of dated rules, and whether they close the court for every count or only for counts after an event. */
export interface HolidayLayer {
  rules: HolidayRule[]
  /** `forward`: counts only for periods measured after an event, as a state's holidays do under Fed. R. Civ. P. 6(a)(6)(C). */
  counts: 'both' | 'forward'
  /** `filing`: the clerk's office cannot be reached; extends filing only, forward (Fed. R. Civ. P. 6(a)(3)). */
  extends?: 'everything' | 'filing'
}

export interface CourtCalendar {
  /** Why the court is closed on that day for a count in that direction, or null when it is open. */
  closedWhy(day: Day, direction: Direction): string | null
  /** Why the clerk's office cannot be reached on that day, on which the court is not closed; null when it can. */
  unreachableWhy(day: Day): string | null
  /** Name of any closure on that day, whatever the direction; weekends are not named. */
  nameOf(day: Day): string | null
}

interface Closure {
  name: string
  counts: 'both' | 'forward'
  filingOnly: boolean
}

/** Builds a calendar from its layers. Years are worked out once each, when first asked for. */
export function courtCalendar(layers: HolidayLayer[]): CourtCalendar {
  const years = new Map<number, Map<Day, Closure[]>>()

  function closuresOf(year: number): Map<Day, Closure[]> {
    const known = years.get(year)
    if (known) return known
    const found = new Map<Day, Closure[]>()
    for (const layer of layers)
      for (const rule of layer.rules)
        for (const origin of [year, year + 1])
          for (const day of daysOfRule(rule, origin)) {
            if (parts(day)[0] !== year) continue
            const list = found.get(day) ?? []
            list.push({ name: rule.name, counts: layer.counts, filingOnly: layer.extends === 'filing' })
            found.set(day, list)
          }
    years.set(year, found)
    return found
  }

  const none: Closure[] = []
  const on = (day: Day) => closuresOf(Number(day.slice(0, 4))).get(day) ?? none

  return {
    closedWhy(day, direction) {
      if (isWeekend(day)) return weekdayName(day)
      return on(day).find((c) => !c.filingOnly && (c.counts === 'both' || direction === 'after'))?.name ?? null
    },
    unreachableWhy: (day) => on(day).find((c) => c.filingOnly)?.name ?? null,
    nameOf: (day) => on(day)[0]?.name ?? null,
  }
}

/** A calendar that knows only weekends: the working week of a firm without holidays of its own. */
export const weekdaysOnly: CourtCalendar = courtCalendar([])

/** A court that is closed for longer than this on end has no next court day: its holidays are at fault. */
const longestClosure = 400

/**
 * The first open day from a day on, itself included, in the direction given; `closed` is called with each closed one before
 * it. Throws OutOfBounds where the calendar has none within 400 days, or where it leads out of the years allowed.
 */
export function firstOpen(day: Day, step: 1 | -1, closedWhy: (day: Day) => string | null, closed?: (day: Day, why: string) => void): Day {
  let at = withinYears(day)
  for (let i = 0; i < longestClosure; i += 1) {
    const why = closedWhy(at)
    if (!why) return at
    closed?.(at, why)
    at = withinYears(addDays(at, step))
  }
  throw new OutOfBounds(`By its holidays the court is closed for more than ${longestClosure} days on end`)
}

/**
 * The next (n > 0) or earlier (n < 0) court day, n court days from a day that is itself not counted.
 * Throws OutOfBounds for more than 3,650 court days, and where it leads out of the years allowed.
 */
export function addCourtDays(calendar: CourtCalendar, day: Day, n: number): Day {
  if (Math.abs(n) > mostUnits) throw new OutOfBounds(`At most ${mostUnits} court days are counted`)
  const step = n < 0 ? -1 : 1
  const direction: Direction = n < 0 ? 'before' : 'after'
  const closedWhy = (at: Day) => calendar.closedWhy(at, direction)
  let at = day
  for (let left = Math.abs(n); left > 0; left -= 1) at = firstOpen(addDays(at, step), step, closedWhy)
  return at
}

const openDays = new WeakMap<CourtCalendar, Map<number, number[]>>()
/** How many days of a year are open for counts forward, up to and including each day of it by its number, from 0 on. */
function openDaysOf(calendar: CourtCalendar, year: number): number[] {
  let years = openDays.get(calendar)
  if (!years) openDays.set(calendar, (years = new Map()))
  let known = years.get(year)
  if (!known) {
    known = []
    let n = 0
    for (let at: Day = `${year}-01-01`; Number(at.slice(0, 4)) === year; at = addDays(at, 1)) {
      if (!calendar.closedWhy(at, 'after')) n += 1
      known.push(n)
    }
    years.set(year, known)
  }
  return known
}

/**
 * Court days from `today` to `day`, today not counted; negative when the day is past. Years are counted once each, so that
 * a day far off costs no more than a near one; a day outside the years allowed counts as the last one inside them.
 */
export function courtDaysUntil(calendar: CourtCalendar, today: Day, day: Day): number {
  if (day < today) return -courtDaysUntil(calendar, day, today)
  const yearOf = (d: Day) => Number(d.slice(0, 4))
  const [from, to] = [today, day].map((d) => (d < earliestDay ? earliestDay : d > latestDay ? latestDay : d)) as [Day, Day]
  const upTo = (d: Day) => openDaysOf(calendar, yearOf(d))[daysBetween(yearStart(d), d)]!
  let n = upTo(to) - upTo(from)
  for (let year = yearOf(from); year < yearOf(to); year += 1) n += openDaysOf(calendar, year).at(-1)!
  return n
}

/** `today`, `in 1 court day`, `3 court days late`. */
export function showCourtDays(n: number): string {
  if (n === 0) return 'today'
  const count = Math.abs(n) === 1 ? '1 court day' : `${Math.abs(n)} court days`
  return n > 0 ? `in ${count}` : `${count} late`
}

/** The days on which a firm works: its own week and holidays over those of the courts around it. */
export function firmCalendar(courts: CourtCalendar, workDays: readonly number[], holidays: ReadonlyMap<Day, string>): CourtCalendar {
  const closed = (day: Day) => (workDays.includes(weekday(day)) ? (holidays.get(day) ?? null) : weekdayName(day))
  return {
    closedWhy: (day, direction) => closed(day) ?? (isWeekend(day) ? null : courts.closedWhy(day, direction)),
    unreachableWhy: (day) => courts.unreachableWhy(day),
    nameOf: (day) => holidays.get(day) ?? courts.nameOf(day),
  }
}
