import { z } from 'zod'
import { day, dayOut, hour, id, needed, ok, route, text, whole, zone, asks } from './base'

const time = hour
const email = z.string('Give an e-mail address').max(190, { abort: true }).pipe(z.email('Give an e-mail address'))

export const calendar = {
  when: route(
    'docket.change',
    'PUT',
    '/docket/{id}/when',
    'Move an appointment or a date of the firm’s own; a counted date moves by an act of its own',
  )
    .input(
      z.object({
        id,
        day,
        time: time.nullable(),
        lengthMinutes: whole(1, 1440, 'Give the length in minutes').nullable(),
        /** The version that was read. */
        version: z.number().int().min(0).optional(),
      }),
    )
    .output(ok),
  endSeries: route('docket.change', 'POST', '/docket/{id}/end-series', 'End what recurs with this date: later ones that are open go')
    .input(z.object({ id }))
    .output(z.object({ gone: z.number() })),
  invite: route('docket.change', 'POST', '/docket/{id}/sent', 'Send an entry to someone outside, or send it again after it changed')
    .input(z.object({ id, email, name: text(120).default(''), zone, note: text(600).default('') }))
    .output(ok),
  withdraw: route('docket.change', 'DELETE', '/docket/{id}/sent', 'Withdraw an entry from someone’s calendar')
    .input(z.object({ id, email }))
    .output(ok),
  hours: route('signed in', 'GET', '/my-hours', 'The hours in which one works, and one’s time zone').output(
    z.object({ zone: z.string(), from: z.string(), to: z.string(), firmZone: z.string() }),
  ),
  setHours: route('signed in', 'PUT', '/my-hours', 'Say in which hours one works, and in which time zone')
    .input(z.object({ zone: z.union([z.literal(''), zone]), from: time, to: time }))
    .output(ok),
  freeHours: route('docket.see', 'POST', '/free-hours', 'When everyone chosen is free, in working hours, each in their own time zone', asks)
    .input(
      z.object({
        userIds: z.array(id).min(1, 'Choose who takes part').max(30),
        minutes: whole(10, 600, 'Give minutes'),
        from: day,
        to: day,
      }),
    )
    .output(
      z.object({
        zone: z.string(),
        /** There are more than are shown. */
        more: z.boolean(),
        people: z.array(z.object({ id: z.number(), name: z.string(), zone: z.string(), from: z.string(), to: z.string() })),
        hours: z.array(
          z.object({
            day: dayOut,
            time: z.string(),
            elsewhere: z.array(z.object({ zone: z.string(), day: dayOut, time: z.string() })),
          }),
        ),
      }),
    ),
  pick: route('docket.change', 'POST', '/matters/{id}/appointments', 'Take a free hour: docket the appointment and invite those outside')
    .input(
      z.object({
        id,
        title: needed('Give a title'),
        day,
        time,
        lengthMinutes: whole(1, 1440, 'Give the length in minutes'),
        place: text(120).default(''),
        meetingLink: z
          .union([z.literal(''), z.url({ protocol: /^https?$/, error: 'Give an address that begins with https://' })])
          .default(''),
        attendeeIds: z.array(id).max(60).default([]),
        invite: z
          .array(z.object({ email, name: text(120).default(''), zone }))
          .max(20)
          .default([]),
      }),
    )
    .output(z.object({ id: z.number() })),
}
