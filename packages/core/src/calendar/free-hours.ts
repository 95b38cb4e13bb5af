import { Temporal } from 'temporal-polyfill'
import { addDays, weekday, type Day } from './dates'

/** A span of time; ISO 8601 instants in UTC. */
export interface Span {
  from: string
  to: string
}

/** Someone who is to take part, with their own hours in their own time zone. */
export interface Attending {
  id: number
  /** IANA name. */
  zone: string
  /** `HH:MM`, the hours in which they work. */
  from: string
  to: string
  /** Days on which they work, 1 (Monday) to 7. */
  days: readonly number[]
  /** Days on which they are away. */
  away: readonly { from: Day; to: Day | null }[]
  /** What has an hour. All-day entries make nobody busy and are not given. */
  busy: readonly Span[]
}

export interface FreeHour {
  /** Day and hour in the zone that was asked in. */
  day: Day
  time: string
  from: string
  to: string
}

/** The instants of a day and hour in a zone; what an entry on a calendar takes up. */
export function spanOf(day: Day, time: string, minutes: number, zone: string): Span {
  const begins = Temporal.PlainDateTime.from(`${day}T${time}`).toZonedDateTime(zone)
  return { from: begins.toInstant().toString(), to: begins.add({ minutes }).toInstant().toString() }
}

/** The hour and day of an instant in a zone. */
export function hourIn(instant: string, zone: string): { day: Day; time: string } {
  const at = Temporal.Instant.from(instant).toZonedDateTimeISO(zone)
  return { day: at.toPlainDate().toString() as Day, time: at.toPlainTime().toString({ smallestUnit: 'minute' }) }
}

/** Whether two spans share any time; one that ends as the other begins does not. */
export const overlaps = (a: Span, b: Span) => Temporal.Instant.compare(a.from, b.to) < 0 && Temporal.Instant.compare(b.from, a.to) < 0

function works(p: Attending, span: Span): boolean {
  const begins = hourIn(span.from, p.zone)
  const ends = hourIn(span.to, p.zone)
  // An hour that ends at midnight ends on the day after.
  if (ends.day !== begins.day) return false
  return (
    p.days.includes(weekday(begins.day)) &&
    begins.time >= p.from &&
    ends.time <= p.to &&
    !p.away.some((a) => a.from <= begins.day && (a.to === null || begins.day <= a.to))
  )
}

/**
 * When everyone chosen is free for so many minutes, each within their own working hours in their own time zone, from the
 * half hours of `zone`; none on the days of `closed`, none before `after` (an instant). At most `most`.
 */
export function freeHours(
  people: readonly Attending[],
  ask: { from: Day; to: Day; minutes: number; zone: string; closed?: ReadonlySet<Day>; after?: string; most?: number },
): FreeHour[] {
  const found: FreeHour[] = []
  for (let day = ask.from; day <= ask.to && found.length < (ask.most ?? 60); day = addDays(day, 1)) {
    if (ask.closed?.has(day)) continue
    for (let at = 0; at < 48 && found.length < (ask.most ?? 60); at += 1) {
      const time = `${String(Math.floor(at / 2)).padStart(2, '0')}:${at % 2 ? '30' : '00'}`
      const span = spanOf(day, time, ask.minutes, ask.zone)
      // On the day the clock goes forward some half hours are not there; they would stand at another.
      if (hourIn(span.from, ask.zone).time !== time) continue
      if (ask.after && Temporal.Instant.compare(span.from, ask.after) < 0) continue
      if (people.every((p) => works(p, span) && !p.busy.some((b) => overlaps(b, span)))) found.push({ day, time, ...span })
    }
  }
  return found
}
