import { addDays, isWeekend, parts, weekday, weekdayName, type Day } from './dates'
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

/** The next (n > 0) or earlier (n < 0) court day, n court days from a day that is itself not counted. */
export function addCourtDays(calendar: CourtCalendar, day: Day, n: number): Day {
  const step = n < 0 ? -1 : 1
  const direction: Direction = n < 0 ? 'before' : 'after'
  let left = Math.abs(n)
  let at = day
  while (left > 0) {
    at = addDays(at, step)
    if (!calendar.closedWhy(at, direction)) left -= 1
  }
  return at
}

/** Court days from `today` to `day`, today not counted; negative when the day is past. */
export function courtDaysUntil(calendar: CourtCalendar, today: Day, day: Day): number {
  if (day < today) return -courtDaysUntil(calendar, day, today)
  let n = 0
  for (let at = today; at < day;) {
    at = addDays(at, 1)
    if (!calendar.closedWhy(at, 'after')) n += 1
  }
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
