import { mostUnits, OutOfBounds, withinYears } from './bounds'
import { addCourtDays, firstOpen, type CourtCalendar, type Direction } from './court'
import { addDays, addMonths, addYears, showDay, weekdayName, type Day } from './dates'

export type Unit = 'day' | 'courtDay' | 'clearDay' | 'week' | 'month' | 'year'
export type Roll = 'default' | 'forward' | 'back' | 'none'

/** n units after or before a base day; the base day itself is not counted. `count` is a whole number, 0 or more. */
export interface Period {
  count: number
  unit: Unit
  direction: Direction
  roll: Roll
}

/** Days that a method of service adds, and whether before or after rolling. */
export interface ServiceDays {
  title: string
  count: number
  unit: 'day' | 'courtDay'
  added: 'before-roll' | 'after-roll'
}

export interface CountingRules {
  calendar: CourtCalendar
  /** Periods of calendar days shorter than this count court days instead; null where a court has no such rule. */
  shortPeriodUnder: number | null
}

export interface TraceStep {
  text: string
  date: Day
}

export interface Counted {
  date: Day
  /** Where the count alone ended, before the roll that gave the final date. */
  beforeRoll: Day
  trace: TraceStep[]
}

const unitWords: Record<Unit, [string, string]> = {
  day: ['calendar day', 'calendar days'],
  courtDay: ['court day', 'court days'],
  clearDay: ['clear day', 'clear days'],
  week: ['week', 'weeks'],
  month: ['month', 'months'],
  year: ['year', 'years'],
}

/** `30 calendar days after`, `1 month before`. */
export function showPeriod(period: Pick<Period, 'count' | 'unit' | 'direction'>): string {
  return `${showCount(period.count, period.unit)} ${period.direction}`
}

/** A count in words, like *21 days* or *1 month*. */
export function showCount(count: number, unit: Unit): string {
  return `${count} ${unitWords[unit][count === 1 ? 0 : 1]}`
}

function measure(period: Period, base: Day, calendar: CourtCalendar): Day {
  return withinYears(measured(period, base, calendar))
}
function measured(period: Period, base: Day, calendar: CourtCalendar): Day {
  if (!Number.isInteger(period.count) || period.count < 0 || period.count > mostUnits)
    throw new OutOfBounds(`A period counts 0 to ${mostUnits} units`)
  const n = period.direction === 'after' ? period.count : -period.count
  switch (period.unit) {
    case 'day':
      return addDays(base, n)
    case 'courtDay':
      return addCourtDays(calendar, base, n)
    case 'clearDay':
      // Neither end is counted, so n clear days need n + 1 calendar days.
      return addDays(base, n < 0 || period.direction === 'before' ? n - 1 : n + 1)
    case 'week':
      return addDays(base, 7 * n)
    case 'month':
      return addMonths(base, n)
    case 'year':
      return addYears(base, n)
  }
}

/** A day on which the court is closed, and why: a holiday's name, or the weekday. */
export interface ClosedDay {
  day: Day
  why: string
}

/**
 * Moves a day off closed days; returns the day unchanged where the court is open or the rule says never. `closed` has each
 * day passed over. Throws OutOfBounds where no day is open within 400.
 */
export function rollDay(day: Day, roll: Roll, direction: Direction, calendar: CourtCalendar): { date: Day; closed: ClosedDay[] } {
  const closed: ClosedDay[] = []
  if (roll === 'none') return { date: day, closed }
  const forward = roll === 'forward' || (roll === 'default' && direction === 'after')
  const date = firstOpen(
    day,
    forward ? 1 : -1,
    (at) => calendar.closedWhy(at, direction),
    (at, why) => closed.push({ day: at, why }),
  )
  return { date, closed }
}

/** `Thu 26 Nov (Thanksgiving Day), Fri 27 Nov (day after Thanksgiving), Sat 28 Nov and Sun 29 Nov 2026`: each closed day by name. */
export function showClosed(closed: readonly ClosedDay[]): string {
  const last = closed.length - 1
  const named = closed.map(({ day, why }, i) => {
    const shown = showDay(day, i < last && day.slice(0, 4) === closed[last]!.day.slice(0, 4) ? day : undefined)
    return why === weekdayName(day) ? shown : `${shown} (${why})`
  })
  return named.length < 2 ? named.join('') : `${named.slice(0, -1).join(', ')} and ${named[last]}`
}

/**
 * The first day on which a filing can be made: where the clerk's office cannot be reached on the last day, the next one on
 * which it can that is no Saturday, Sunday or holiday (Fed. R. Civ. P. 6(a)(3)). Always forward, also where the period was
 * counted back from an event (committee note of 2009 to that rule).
 */
export function putOff(day: Day, calendar: CourtCalendar): { date: Day; why: string | null } {
  const why = calendar.unreachableWhy(day)
  const date = why ? firstOpen(day, 1, (at) => calendar.unreachableWhy(at) ?? calendar.closedWhy(at, 'after')) : day
  return { date, why }
}

/** The day that service days make of another, put into the trace. */
function lengthened(day: Day, s: ServiceDays, direction: Direction, calendar: CourtCalendar, trace: TraceStep[]): Day {
  const n = direction === 'after' ? s.count : -s.count
  const date = s.unit === 'day' ? addDays(day, n) : addCourtDays(calendar, day, n)
  trace.push({ text: `${s.title} adds ${showCount(s.count, s.unit)}: ${showDay(date)}`, date })
  return date
}

/** The day rolled off closed days as its period says, put into the trace. */
function settled(day: Day, { roll, direction }: Period, calendar: CourtCalendar, trace: TraceStep[]): Day {
  const { date, closed } = rollDay(day, roll, direction, calendar)
  if (date !== day) {
    const way = date > day ? 'on' : 'back'
    trace.push({ text: `The court is closed on ${showClosed(closed)}; rolls ${way} to ${showDay(date)}`, date })
  } else if (roll === 'none' && calendar.closedWhy(day, direction)) {
    trace.push({ text: `The court is closed that day, but this period does not roll`, date: day })
  }
  return date
}

/**
 * Counts a period from a base day by the steps of a rule set: short periods, counting, service days
 * before or after the roll, rolling; a filing is put off while the clerk's office cannot be reached. Every step is put into
 * the trace in plain words.
 */
export function countPeriod(
  base: Day,
  baseName: string,
  period: Period,
  rules: CountingRules,
  service: ServiceDays | null = null,
  filing = false,
): Counted {
  const trace: TraceStep[] = [{ text: `Counted from ${baseName}, ${showDay(base)}; that day is not counted`, date: base }]
  const short = period.unit === 'day' && rules.shortPeriodUnder !== null && period.count < rules.shortPeriodUnder
  const used: Period = short ? { ...period, unit: 'courtDay' } : period
  if (short)
    trace.push({
      text: `A period under ${rules.shortPeriodUnder} days counts court days`,
      date: base,
    })
  let at = measure(used, base, rules.calendar)
  trace.push({ text: `${capital(showPeriod(used))} is ${showDay(at)}`, date: at })

  if (service && service.count > 0 && service.added === 'before-roll') at = lengthened(at, service, period.direction, rules.calendar, trace)
  let beforeRoll = at
  at = settled(at, period, rules.calendar, trace)
  if (service && service.count > 0 && service.added === 'after-roll') {
    beforeRoll = lengthened(at, service, period.direction, rules.calendar, trace)
    at = settled(beforeRoll, period, rules.calendar, trace)
  }
  const filed = filing && period.roll !== 'none' ? putOff(at, rules.calendar) : null
  if (filed?.why) {
    trace.push({
      text: `The clerk’s office cannot be reached on ${showDay(at)} (${filed.why}); filing is put off to ${showDay(filed.date)}`,
      date: filed.date,
    })
    at = filed.date
  }
  return { date: at, beforeRoll, trace }
}

/** A text with its first letter large. */
export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1)
}
