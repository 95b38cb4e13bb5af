import { latestDay, withinYears } from './bounds'
import { addDays, addYears, daysBetween, daysInMonth, isDay, parts, showDay, weekday, yearStart, type Day } from './dates'

export const frequencies = ['DAILY', 'WEEKLY', 'MONTHLY', 'YEARLY'] as const
export type Frequency = (typeof frequencies)[number]

const dayCodes = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU']
const understood = new Set(['FREQ', 'INTERVAL', 'COUNT', 'UNTIL', 'BYDAY', 'BYMONTHDAY', 'BYMONTH', 'WKST'])

/** A rule of recurrence by days, as read: RFC 5545, 3.3.10, without what counts by hours, weeks of the year or positions. */
interface Rule {
  freq: Frequency
  interval: number
  count: number | null
  until: Day | null
  /** Days of the week, each with its number in the month or year where it has one; negative from the end. */
  byDay: { weekday: number; nth: number | null }[]
  byMonthDay: number[]
  byMonth: number[]
  weekStart: number
}

const wholes = (text: string, most: number): number[] | null => {
  const list = text.split(',').map((n) => (/^[+-]?\d{1,3}$/.test(n) ? Number(n) : 0))
  return list.every((n) => n !== 0 && Math.abs(n) <= most) ? list : null
}

/** Reads a rule, or says what is wrong with it. */
function readRule(text: string): Rule | string {
  if (text.length > 200) return 'This rule is too long'
  const given = new Map(text.split(';').map((p) => p.split('=') as [string, string | undefined]))
  const freq = given.get('FREQ') as Frequency | undefined
  if (!freq || !frequencies.includes(freq)) return 'Say whether it recurs by days, weeks, months or years'
  for (const [name, value] of given) if (!understood.has(name) || !value) return `“${name}” is not understood here`
  if (given.has('COUNT') && given.has('UNTIL')) return 'Give a number of times or a last day, not both'
  for (const name of ['INTERVAL', 'COUNT'])
    if (given.has(name) && !/^[1-9]\d{0,3}$/.test(given.get(name)!))
      return `${name === 'COUNT' ? 'How often' : 'Every how many'} is a whole number above zero`
  const until = given.get('UNTIL')?.replace(/^(\d{4})(\d{2})(\d{2})(T\d{6}Z?)?$/, '$1-$2-$3') ?? null
  if (until !== null && !isDay(until)) return 'The last day is not a date'
  const byDay = (given.get('BYDAY')?.split(',') ?? []).map((code) => {
    const m = /^([+-]?\d{1,2})?([A-Z]{2})$/.exec(code)
    return { weekday: m ? dayCodes.indexOf(m[2]!) + 1 : 0, nth: m?.[1] ? Number(m[1]) : null }
  })
  const byMonthDay = given.has('BYMONTHDAY') ? wholes(given.get('BYMONTHDAY')!, 31) : []
  const byMonth = given.has('BYMONTH') ? wholes(given.get('BYMONTH')!, 12) : []
  const numbered = byDay.filter((d) => d.nth !== null)
  const mostNth = freq === 'YEARLY' && !byMonth?.length ? 53 : 5
  if (byDay.some((d) => d.weekday === 0) || !byMonthDay || !byMonth || byMonth.some((n) => n < 0)) return 'This rule is not understood'
  if (numbered.length && (freq === 'DAILY' || freq === 'WEEKLY')) return 'A numbered day of the week recurs by months or years'
  if (numbered.some((d) => d.nth === 0 || Math.abs(d.nth!) > mostNth)) return 'There is no such day of the week in a month'
  if (freq === 'WEEKLY' && byMonthDay.length) return 'A day of the month does not recur by weeks'
  const weekStart = given.has('WKST') ? dayCodes.indexOf(given.get('WKST')!) + 1 : 1
  if (weekStart === 0) return 'This rule is not understood'
  return {
    freq,
    interval: Number(given.get('INTERVAL') ?? 1),
    count: given.has('COUNT') ? Number(given.get('COUNT')) : null,
    until,
    byDay,
    byMonthDay,
    byMonth,
    weekStart,
  }
}

/** Which one of its weekday a day is, of so many in its month or year, counted from the start and from the end. */
function nths(position: number, length: number): [number, number] {
  return [Math.floor((position - 1) / 7) + 1, -(Math.floor((length - position) / 7) + 1)]
}

function fitsDay(rule: Rule, day: Day, first: Day): boolean {
  const [year, month, date] = parts(day)
  const [, firstMonth, firstDate] = parts(first)
  if (rule.byMonth.length && !rule.byMonth.includes(month)) return false
  const length = daysInMonth(year, month)
  if (rule.byMonthDay.length && !rule.byMonthDay.some((n) => (n > 0 ? n === date : length + 1 + n === date))) return false
  if (rule.byDay.length) {
    const wd = weekday(day)
    const yearly = rule.freq === 'YEARLY' && !rule.byMonth.length
    const position = yearly ? daysBetween(yearStart(day), day) + 1 : date
    const whole = yearly ? daysBetween(yearStart(day), addYears(yearStart(day), 1)) : length
    const own = nths(position, whole)
    return rule.byDay.some((d) => d.weekday === wd && (d.nth === null || own.includes(d.nth)))
  }
  if (rule.byMonthDay.length) return true
  switch (rule.freq) {
    case 'DAILY':
      return true
    case 'WEEKLY':
      return weekday(day) === weekday(first)
    case 'MONTHLY':
      return date === firstDate
    case 'YEARLY':
      return date === firstDate && (rule.byMonth.length > 0 || month === firstMonth)
  }
}

function fitsInterval(rule: Rule, day: Day, first: Day): boolean {
  const [year, month] = parts(day)
  const [firstYear, firstMonth] = parts(first)
  switch (rule.freq) {
    case 'DAILY':
      return daysBetween(first, day) % rule.interval === 0
    case 'WEEKLY': {
      const into = (weekday(first) - rule.weekStart + 7) % 7
      return Math.floor((daysBetween(first, day) + into) / 7) % rule.interval === 0
    }
    case 'MONTHLY':
      return ((year - firstYear) * 12 + month - firstMonth) % rule.interval === 0
    case 'YEARLY':
      return (year - firstYear) % rule.interval === 0
  }
}

/** Goes from day to day, so that a rule that never comes true ends at the last day looked at like any other. */
function daysOf(rule: Rule, first: Day, to: Day, most: number): Day[] {
  const last = [to, rule.until ?? to, latestDay].sort()[0]!
  const wanted = Math.min(most, rule.count ?? most)
  const days: Day[] = []
  for (let day = withinYears(first); day <= last && days.length < wanted; day = addDays(day, 1))
    if (fitsInterval(rule, day, first) && fitsDay(rule, day, first)) days.push(day)
  return days
}

/** How far ahead a rule must come true again to be one. */
const yearsAhead = 60

/**
 * What is wrong with a rule of recurrence by days (RFC 5545, 3.3.10), in words; null where nothing is. With `first`, the day
 * from which it recurs, also whether it ever comes true again.
 */
export function faultOfRecurrence(text: string, first?: Day): string | null {
  const rule = readRule(text)
  if (typeof rule === 'string') return rule
  const ends = rule.count === 1 || (rule.until !== null && first !== undefined && rule.until <= first)
  if (first && !ends && daysOf(rule, first, addYears(first, yearsAhead), 2).length < 2) return 'No later day fits this rule'
  return null
}

/**
 * Reads the days of a rule from a first day on, which is one of them where it fits. At most `most`, none after `to`. Years without 29
 * February and months without the day are skipped, as the standard says. Throws RangeError for a faulty rule.
 */
export function recurrences(text: string, first: Day, to: Day, most = 500): Day[] {
  const rule = readRule(text)
  if (typeof rule === 'string') throw new RangeError(rule)
  return daysOf(rule, first, to, most)
}

export interface Recurrence {
  freq: Frequency
  interval: number
  /** For weeks: on which days, 1 (Monday) to 7; empty for that of the first day. */
  on: number[]
  /** For months and years: on the month's last day, rather than the same day of the month. */
  monthEnd: boolean
  until: Day | null
  count: number | null
}

/** The rule by RFC 5545. Years from 29 February and months from the 31st skip those that have no such day, as the standard says. */
export function writeRecurrence(r: Recurrence, first: Day): string {
  return [
    `FREQ=${r.freq}`,
    r.interval > 1 ? `INTERVAL=${r.interval}` : '',
    r.freq === 'WEEKLY' && r.on.length
      ? `BYDAY=${[...r.on]
          .sort()
          .map((d) => dayCodes[d - 1])
          .join(',')}`
      : '',
    r.freq === 'YEARLY' && r.monthEnd ? `BYMONTH=${parts(first)[1]}` : '',
    (r.freq === 'MONTHLY' || r.freq === 'YEARLY') && r.monthEnd ? 'BYMONTHDAY=-1' : '',
    r.until ? `UNTIL=${r.until.replace(/-/g, '')}` : '',
    r.count ? `COUNT=${r.count}` : '',
  ]
    .filter(Boolean)
    .join(';')
}

const dayNames = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday']
const unit: Record<Frequency, string> = { DAILY: 'day', WEEKLY: 'week', MONTHLY: 'month', YEARLY: 'year' }

/** A rule in words: `every 2 weeks on Monday and Thursday, until 2027-03-30`. */
export function showRecurrence(rule: string, first: Day): string {
  const given = new Map(rule.split(';').map((p) => p.split('=') as [string, string]))
  const freq = given.get('FREQ') as Frequency
  const n = Number(given.get('INTERVAL') ?? 1)
  const on = (given.get('BYDAY') ?? '').split(',').map((c) => dayNames[dayCodes.indexOf(c)])
  const days = on[0] ? on.join(on.length > 2 ? ', ' : ' and ') : dayNames[weekday(first) - 1]
  const until = given.get('UNTIL')
  return [
    `every ${n === 1 ? unit[freq] : `${n} ${unit[freq]}s`}`,
    freq === 'WEEKLY' ? ` on ${days}` : '',
    given.get('BYMONTHDAY') === '-1' ? (freq === 'YEARLY' ? ' on the last day of the month' : ' on its last day') : '',
    until ? `, until ${showDay(`${until.slice(0, 4)}-${until.slice(4, 6)}-${until.slice(6, 8)}` as Day)}` : '',
    given.has('COUNT') ? `, ${given.get('COUNT')} times` : '',
  ].join('')
}
