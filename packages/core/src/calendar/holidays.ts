import { addDays, dayOf, daysInMonth, weekday, type Day } from './dates'

/**
 * The further day that is closed for a holiday on a weekend. `nearest-weekday`: the Friday before a Saturday, the Monday after
 * a Sunday (5 U.S.C. 6103); `sunday-to-monday`: the Monday after a Sunday, nothing for a Saturday; `weekend-to-monday`: the
 * Monday after either.
 */
export type Observed = 'nearest-weekday' | 'sunday-to-monday' | 'weekend-to-monday' | 'none'

interface Dated {
  name: string
  /** First and last year in which the rule is in force; open where absent. */
  fromYear?: number
  toYear?: number
}

/** One dated rule of a calendar. Months are 1 to 12, weekdays 1 (Monday) to 7 (Sunday). */
export type HolidayRule = Dated &
  (
    | { kind: 'fixed'; month: number; day: number; observed: Observed }
    | { kind: 'nth'; month: number; weekday: number; nth: number }
    | { kind: 'after-nth'; month: number; weekday: number; nth: number; plus: number }
    | { kind: 'last'; month: number; weekday: number }
    | { kind: 'easter'; plus: number }
    | { kind: 'single'; date: Day }
    | { kind: 'recess'; fromMonth: number; fromDay: number; toMonth: number; toDay: number }
  )

/** Sunday of Easter in the Gregorian calendar (anonymous computus as given by Meeus). */
export function easter(year: number): Day {
  const a = year % 19
  const b = Math.floor(year / 100)
  const c = year % 100
  const d = Math.floor(b / 4)
  const e = b % 4
  const f = Math.floor((b + 8) / 25)
  const g = Math.floor((b - f + 1) / 3)
  const h = (19 * a + b - d - g + 15) % 30
  const i = Math.floor(c / 4)
  const k = c % 4
  const l = (32 + 2 * e + 2 * i - h - k) % 7
  const m = Math.floor((a + 11 * h + 22 * l) / 451)
  const n = h + l - 7 * m + 114
  return dayOf(year, Math.floor(n / 31), (n % 31) + 1)
}

function nthWeekday(year: number, month: number, wd: number, nth: number): Day {
  const first = dayOf(year, month, 1)
  return addDays(first, ((wd - weekday(first) + 7) % 7) + 7 * (nth - 1))
}

function lastWeekday(year: number, month: number, wd: number): Day {
  const last = dayOf(year, month, daysInMonth(year, month))
  return addDays(last, -((weekday(last) - wd + 7) % 7))
}

function fixed(year: number, month: number, day: number, observed: Observed): Day[] {
  const date = dayOf(year, month, day)
  if (observed === 'none') return [date]
  const wd = weekday(date)
  if (wd === 7) return [date, addDays(date, 1)]
  if (wd !== 6 || observed === 'sunday-to-monday') return [date]
  return [date, addDays(date, observed === 'nearest-weekday' ? -1 : 2)]
}

function span(from: Day, to: Day): Day[] {
  const days: Day[] = []
  for (let day = from; day <= to; day = addDays(day, 1)) days.push(day)
  return days
}

/** Every day that a rule closes on account of `year`. An observed New Year may lie in the year before. */
export function daysOfRule(rule: HolidayRule, year: number): Day[] {
  if (year < (rule.fromYear ?? -Infinity) || year > (rule.toYear ?? Infinity)) return []
  switch (rule.kind) {
    case 'fixed':
      return fixed(year, rule.month, rule.day, rule.observed)
    case 'nth':
      return [nthWeekday(year, rule.month, rule.weekday, rule.nth)]
    case 'after-nth':
      return [addDays(nthWeekday(year, rule.month, rule.weekday, rule.nth), rule.plus)]
    case 'last':
      return [lastWeekday(year, rule.month, rule.weekday)]
    case 'easter':
      return [addDays(easter(year), rule.plus)]
    case 'single':
      return rule.date.startsWith(String(year)) ? [rule.date] : []
    case 'recess':
      return span(dayOf(year, rule.fromMonth, rule.fromDay), dayOf(year, rule.toMonth, rule.toDay))
  }
}
