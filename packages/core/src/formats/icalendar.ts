import ICAL from 'ical.js'
import { Temporal } from 'temporal-polyfill'
import { addDays, type Day } from '../calendar'

/** One date as a calendar program shows it. */
export interface CalendarEntry {
  /** The same for as long as the entry lives. */
  uid: string
  /** Counts the changes of what calendars show (RFC 5545, 3.8.7.4). */
  sequence: number
  title: string
  description: string
  place: string
  day: Day
  /** `HH:MM` in `zone`; null is all day, which makes nobody busy. */
  time: string | null
  minutes: number
  /** IANA name of the time zone in which the time stands. */
  zone: string
  status: 'CONFIRMED' | 'TENTATIVE' | 'CANCELLED'
  /** ISO 8601, UTC. */
  changedAt: string
  organizer?: { name: string; email: string }
  attendees?: { name: string; email: string }[]
}

const utc = (at: Temporal.Instant) => ICAL.Time.fromJSDate(new Date(at.epochMilliseconds), true)

function event(e: CalendarEntry): ICAL.Component {
  const out = new ICAL.Component('vevent')
  out.addPropertyWithValue('uid', e.uid)
  out.addPropertyWithValue('dtstamp', utc(Temporal.Instant.from(e.changedAt)))
  out.addPropertyWithValue('sequence', e.sequence)
  if (e.time) {
    const begins = Temporal.PlainDateTime.from(`${e.day}T${e.time}`).toZonedDateTime(e.zone)
    out.addPropertyWithValue('dtstart', utc(begins.toInstant()))
    out.addPropertyWithValue('dtend', utc(begins.add({ minutes: e.minutes }).toInstant()))
  } else {
    out.addPropertyWithValue('dtstart', ICAL.Time.fromDateString(e.day))
    out.addPropertyWithValue('dtend', ICAL.Time.fromDateString(addDays(e.day, 1)))
  }
  out.addPropertyWithValue('summary', e.title)
  if (e.description) out.addPropertyWithValue('description', e.description)
  if (e.place) out.addPropertyWithValue('location', e.place)
  out.addPropertyWithValue('status', e.status)
  out.addPropertyWithValue('transp', e.time ? 'OPAQUE' : 'TRANSPARENT')
  if (e.organizer) {
    const p = out.addPropertyWithValue('organizer', `mailto:${e.organizer.email}`)
    p.setParameter('cn', e.organizer.name)
  }
  for (const a of e.attendees ?? []) {
    const p = out.addPropertyWithValue('attendee', `mailto:${a.email}`)
    p.setParameter('cn', a.name)
    p.setParameter('partstat', 'NEEDS-ACTION')
    p.setParameter('rsvp', 'TRUE')
  }
  return out
}

/**
 * A calendar by RFC 5545, with CRLF and lines folded at 75 octets. Times are written in UTC, so that no definition of a
 * time zone has to travel along. `method` makes it a message of RFC 5546: a request or its cancellation.
 */
export function writeCalendar(
  name: string,
  entries: readonly CalendarEntry[],
  method: 'PUBLISH' | 'REQUEST' | 'CANCEL' = 'PUBLISH',
): string {
  const calendar = new ICAL.Component('vcalendar')
  calendar.addPropertyWithValue('prodid', '-//Astute Heron//Docket//EN')
  calendar.addPropertyWithValue('version', '2.0')
  calendar.addPropertyWithValue('calscale', 'GREGORIAN')
  calendar.addPropertyWithValue('method', method)
  if (name) calendar.addPropertyWithValue('x-wr-calname', name)
  for (const e of entries) calendar.addSubcomponent(event(e))
  return foldToOctets(calendar.toString())
}

/** Folds by octets, as RFC 5545, 3.1 asks, never within a character; the library folds by characters. */
function foldToOctets(text: string): string {
  const octets = (s: string) => new TextEncoder().encode(s).length
  const folded = text
    .replace(/\r\n[ \t]/g, '')
    .split('\r\n')
    .map((line) => {
      const parts: string[] = []
      let at = ''
      let used = 0
      for (const char of line) {
        const n = octets(char)
        if (used + n > 75) {
          parts.push(at)
          at = ' '
          used = 1
        }
        at += char
        used += n
      }
      parts.push(at)
      return parts.join('\r\n')
    })
    .join('\r\n')
  return `${folded.trimEnd()}\r\n`
}
