import { Temporal } from 'temporal-polyfill'

/**
 * A plain calendar date without time or zone, `YYYY-MM-DD` (ISO 8601). Sorts as text. A type of its own, so that no other text passes for
 * one: what comes from outside is judged by `isDay` first.
 */
export type Day = `${number}-${number}-${number}`

/** A function of a day whose answers are kept: across a firm's docket the same few thousand days come up again and again. */
function remembered<K extends string | number, V>(work: (key: K) => V, most = 40_000): (key: K) => V {
  const known = new Map<K, V>()
  return (key) => {
    const found = known.get(key)
    if (found !== undefined) return found
    if (known.size >= most) known.clear()
    const made = work(key)
    known.set(key, made)
    return made
  }
}

export const weekdayNames = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const
const monthNames = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

/** True for an existing date written `YYYY-MM-DD`; `2027-02-30` is not one. */
export function isDay(text: string): text is Day {
  if (!/^\d{4}-\d{2}-\d{2}$/.test(text)) return false
  const [y, m, d] = parts(text as Day)
  return m >= 1 && m <= 12 && d >= 1 && d <= daysInMonth(y, m)
}

/** Year, month (1 to 12) and day of the month. */
export function parts(day: Day): [year: number, month: number, day: number] {
  return [Number(day.slice(0, 4)), Number(day.slice(5, 7)), Number(day.slice(8, 10))]
}

/** The day of a year, month (1 to 12) and day of the month. Throws `RangeError` where there is none. */
export function dayOf(year: number, month: number, day: number): Day {
  return Temporal.PlainDate.from({ year, month, day }, { overflow: 'reject' }).toString() as Day
}

/** How many days a month (1 to 12) has, 28 to 31. */
export function daysInMonth(year: number, month: number): number {
  return Temporal.PlainYearMonth.from({ year, month }).daysInMonth
}

const msOfDay = 86_400_000
/** Days since 1 January 1970. Counting walks over thousands of days, for which Temporal's objects are many times too slow. */
const numberOf = remembered((day: Day): number => {
  const [y, m, d] = parts(day)
  const n = Date.UTC(y, m - 1, d) / msOfDay
  if (Number.isNaN(n)) throw new RangeError(`“${day}” is not a date`)
  return n
})
const dayAt = remembered((n: number): Day => new Date(n * msOfDay).toISOString().slice(0, 10) as Day)

/** The day n days on, or back where n is below 0. */
export function addDays(day: Day, n: number): Day {
  return dayAt(numberOf(day) + n)
}

/** Same day of the month n months on (or back, n < 0); where there is none, the month's last day. */
export function addMonths(day: Day, n: number): Day {
  return Temporal.PlainDate.from(day).add({ months: n }, { overflow: 'constrain' }).toString() as Day
}

/** Same day n years on; 29 February becomes 28 February in a common year. */
export function addYears(day: Day, n: number): Day {
  return Temporal.PlainDate.from(day).add({ years: n }, { overflow: 'constrain' }).toString() as Day
}

/** The first day of the month of a day. */
export const monthStart = (day: Day): Day => `${day.slice(0, 7)}-01` as Day
/** 1 January of the year of a day. */
export const yearStart = (day: Day): Day => `${day.slice(0, 4)}-01-01` as Day

/** The day of an instant as it is written, in the zone in which it is written. */
export const dayPart = (instant: string): Day => instant.slice(0, 10) as Day

/** Whole days from a to b; negative when b is earlier. */
export function daysBetween(a: Day, b: Day): number {
  return numberOf(b) - numberOf(a)
}

/** ISO weekday, 1 = Monday to 7 = Sunday. */
export function weekday(day: Day): number {
  // 1 January 1970 was a Thursday.
  return ((((numberOf(day) + 3) % 7) + 7) % 7) + 1
}

/** Whether it is a Saturday or a Sunday. */
export function isWeekend(day: Day): boolean {
  return weekday(day) > 5
}

/** The name of the weekday. */
export function weekdayName(day: Day): string {
  return weekdayNames[weekday(day) - 1] ?? ''
}

/** `Wed 25 Nov`, with the year when it is not the year of `today` (or when `today` is not given). */
export function showDay(day: Day, today?: Day): string {
  const short = shortDay(day)
  return today && today.slice(0, 4) === day.slice(0, 4) ? short : `${short} ${Number(day.slice(0, 4))}`
}
const shortDay = remembered((day: Day): string => {
  const [, m, d] = parts(day)
  return `${weekdayName(day).slice(0, 3)} ${d} ${monthNames[m - 1]}`
})

/** Names of the months in English. */
export const longMonths = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
]

/** `November 25, 2026`, as letters and bills write it in the United States. */
export function showDayInWords(day: Day): string {
  const [y, m, d] = parts(day)
  return `${longMonths[m - 1]} ${d}, ${y}`
}

/** Reads a typed hour: `14:00`, `2pm`, `2:30 pm`, `9.15 a.m.`, `noon`; as `HH:MM`. Null for anything else. */
export function readTime(text: string): string | null {
  const t = text.slice(0, 20).trim().toLowerCase().replaceAll('.', ':').replace(/\s/g, '')
  if (t === 'noon') return '12:00'
  const m = /^(\d{1,2})(?::?([0-5]\d))?(?:(a|p):?m:?)?$/.exec(t)
  if (!m || (m[2] === undefined && m[3] === undefined)) return null
  const hour = Number(m[1])
  if (m[3] ? hour < 1 || hour > 12 : hour > 23) return null
  const at = m[3] ? (hour % 12) + (m[3] === 'p' ? 12 : 0) : hour
  return `${String(at).padStart(2, '0')}:${m[2] ?? '00'}`
}

/** `2:00 pm` of an hour `14:00`. */
export function showTime(time: string): string {
  const [h = 0, m = 0] = time.split(':').map(Number)
  return `${h % 12 || 12}:${String(m).padStart(2, '0')} ${h < 12 ? 'am' : 'pm'}`
}

/** The latest of some days; of none it throws `TypeError`. */
export function maxDay(...days: Day[]): Day {
  return days.reduce((a, b) => (a > b ? a : b))
}

/**
 * Reads a typed date: `2026-11-25`, `11/25/2026` (month first), `25 Nov`, `Wed 25 Nov 2026`, `today`, `+30` or `-10`
 * calendar days from today. Without a year it is the one nearest to today. Null for anything else.
 */
export function readDay(text: string, today: Day): Day | null {
  const t = text.slice(0, 80).trim().replace(/\s/g, ' ').toLowerCase()
  if (t === 'today') return today
  if (isDay(t)) return t
  const sum = /^([+−-])\s*(\d{1,4})$/.exec(t)
  if (sum) return addDays(today, sum[1] === '+' ? Number(sum[2]) : -Number(sum[2]))
  const us = /^(\d{1,2})\/(\d{1,2})(?:\/(\d{2}|\d{4}))?$/.exec(t)
  const named = /^(?:[a-z]{3,9},? +)?(\d{1,2})\.? +([a-z]{3,9})(?:\.|,)?(?: +(\d{2}|\d{4}))?$/.exec(t)
  const month = named ? monthNames.findIndex((m) => named[2]!.startsWith(m.toLowerCase())) + 1 : Number(us?.[1] ?? 0)
  const date = Number(named?.[1] ?? us?.[2] ?? 0)
  const year = named?.[3] ?? us?.[3]
  const at = (y: number) => `${y}-${String(month).padStart(2, '0')}-${String(date).padStart(2, '0')}`
  if (!month || !date) return null
  if (year) {
    const day = at(year.length === 2 ? 2000 + Number(year) : Number(year))
    return isDay(day) ? day : null
  }
  const [thisYear] = parts(today)
  const near = [thisYear - 1, thisYear, thisYear + 1].map(at).filter(isDay)
  return near.sort((a, b) => Math.abs(daysBetween(today, a)) - Math.abs(daysBetween(today, b)))[0] ?? null
}
