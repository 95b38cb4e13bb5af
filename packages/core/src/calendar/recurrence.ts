import ICAL from 'ical.js'
import { parts, showDay, weekday, type Day } from './dates'

export const frequencies = ['DAILY', 'WEEKLY', 'MONTHLY', 'YEARLY'] as const
export type Frequency = (typeof frequencies)[number]

const dayCodes = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU']
const understood = new Set(['FREQ', 'INTERVAL', 'COUNT', 'UNTIL', 'BYDAY', 'BYMONTHDAY', 'BYMONTH', 'WKST'])

/** What is wrong with a rule of recurrence by days (RFC 5545, 3.3.10), in words; null where nothing is. */
export function faultOfRecurrence(rule: string): string | null {
  const given = new Map(rule.split(';').map((p) => p.split('=') as [string, string | undefined]))
  const freq = given.get('FREQ') as Frequency | undefined
  if (!freq || !frequencies.includes(freq)) return 'Say whether it recurs by days, weeks, months or years'
  for (const [name, value] of given) if (!understood.has(name) || !value) return `“${name}” is not understood here`
  if (given.has('COUNT') && given.has('UNTIL')) return 'Give a number of times or a last day, not both'
  for (const name of ['INTERVAL', 'COUNT'])
    if (given.has(name) && !/^[1-9]\d{0,3}$/.test(given.get(name)!))
      return `${name === 'COUNT' ? 'How often' : 'Every how many'} is a whole number above zero`
  try {
    const read = ICAL.Recur.fromString(rule)
    return read.freq === freq ? null : 'This rule is not understood'
  } catch {
    return 'This rule is not understood'
  }
}

/** Reads the days of a rule from a first day on, which is one of them. At most `most`, none after `to`. Throws RangeError for a faulty rule. */
export function recurrences(rule: string, first: Day, to: Day, most = 500): Day[] {
  const fault = faultOfRecurrence(rule)
  if (fault) throw new RangeError(fault)
  const [, month, date] = parts(first)
  // Said outright, or a year without 29 February would give 1 March, where the standard skips it.
  const whole = rule.includes('FREQ=YEARLY') && !rule.includes('BYMONTHDAY') ? `${rule};BYMONTH=${month};BYMONTHDAY=${date}` : rule
  const next = ICAL.Recur.fromString(whole).iterator(ICAL.Time.fromDateString(first))
  const days: Day[] = []
  while (days.length < most) {
    const at = next.next() as ICAL.Time | null
    if (!at) break
    const day = at.toString().slice(0, 10)
    if (day > to) break
    days.push(day)
  }
  return days
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
    until ? `, until ${showDay(`${until.slice(0, 4)}-${until.slice(4, 6)}-${until.slice(6, 8)}`)}` : '',
    given.has('COUNT') ? `, ${given.get('COUNT')} times` : '',
  ].join('')
}
