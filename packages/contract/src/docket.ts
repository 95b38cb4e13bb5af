import { z } from 'zod'
import { chainOut, chains, difference, differenceSeen, docketAct, docketRow, proposal, triggerIn } from './docket-rows'
import { marks } from './names'
import { weights } from '@heron/core/docket'
import { day, dayOut, fileOut, hour, id, longBody, made, needed, ok, route, text, whole, asks } from './base'

const closureIn = {
  day,
  name: needed('Say why the court is closed', 120),
  ruleSetKey: text(60).nullable().default(null),
  /** Only the clerk's office cannot be reached: puts off filing, and nothing else. */
  filingOnly: z.boolean().default(false),
}
/** What a change of rules or closed days moves, matter by matter. */
export const movedMatters = z.array(
  z.object({ matterId: z.number(), number: z.string(), name: z.string(), differences: z.array(difference) }),
)
export const feedScopes = ['person', 'matter', 'area', 'firm'] as const
/** Court days before a date; 0 is the day itself. */
const leads = z
  .array(
    z.number().int('Give whole court days').min(0, 'Give whole court days, such as 10, 5, 1, 0').max(60, 'At most 60 court days before'),
  )
  .max(8)
const taking = { take: z.array(id).max(2000).default([]), seen: z.array(differenceSeen).max(2000).default([]) }

/** What is said of an entry besides its day and what it is counted from. */
const entryIn = {
  title: needed('Give a title'),
  text: text(2000).default(''),
  time: z.union([z.null(), hour]).default(null),
  lengthMinutes: whole(1, 1440, 'Give the length in minutes').nullable().default(null),
  place: text(120).default(''),
  meetingLink: z.union([z.literal(''), z.url({ protocol: /^https?$/, error: 'Give an address that begins with https://' })]).default(''),
  responsibleId: id.nullable().default(null),
  urgent: z.boolean().default(false),
  offCalendar: z.boolean().default(false),
  tags: z.array(needed('Give the tag', 40)).max(12).default([]),
  attendeeIds: z.array(id).max(60).default([]),
  paperIds: z.array(id).max(40).default([]),
}

/** What of the docket is looked at. */
export const agendaIn = {
  from: day,
  courtDays: z.coerce.number().int().min(1).max(260).default(10),
  /** The last day, where a span of days is asked for rather than so many court days. */
  to: day.optional(),
  scope: z.enum(['mine', 'team', 'firm']).default('mine'),
  q: text(80).default(''),
  userId: id.optional(),
  areaId: id.optional(),
  weight: z.union([z.literal(''), z.enum(weights)]).default(''),
  /** What a docket clerk looks for: nobody responsible; tentative or provisional; late. */
  only: z.enum(['', 'unassigned', 'unconfirmed', 'late']).default(''),
  /** Only what stands on calendars; the docket itself has what is off calendar, too. */
  onCalendar: z.stringbool().or(z.boolean()).default(false),
  /** How many dates at most; the answer says whether there are more. */
  size: z.coerce.number().int().min(1).max(1000).default(200),
}
export type AgendaIn = z.infer<z.ZodObject<typeof agendaIn>>

export const docket = {
  ruleSet: route('docket.see', 'GET', '/rule-sets/{key}', 'Triggers, services and facts of a rule set')
    .input(z.object({ key: text(60) }))
    .output(
      z.object({
        key: z.string(),
        title: z.string(),
        edition: z.string(),
        triggers: z.array(
          z.object({
            key: z.string(),
            title: z.string(),
            asksService: z.boolean(),
            asksParty: z.boolean(),
            answers: z.string().nullable(),
            deadlines: z.number(),
          }),
        ),
        services: z.array(z.object({ key: z.string(), title: z.string(), adds: z.string() })),
        facts: z.array(z.object({ key: z.string(), question: z.string() })),
      }),
    ),
  workOut: route('docket.see', 'POST', '/matters/{id}/dates/proposed', 'Work out dates; nothing is docketed yet', asks)
    .input(triggerIn)
    .output(
      z.object({
        proposals: z.array(proposal),
        /** What takes place on the day itself, such as the trial: it is docketed with the dates, and moves with its trigger. */
        event: proposal.nullable(),
        already: z.array(z.string()),
        differences: z.array(difference),
      }),
    ),
  add: route('docket.change', 'POST', '/matters/{id}/dates', 'Docket the dates of a trigger; what is not named is left out', longBody)
    .input(
      triggerIn.extend({
        label: text(160).default(''),
        /** The order, letter or other paper that it comes of; its dates link to it. */
        paperId: id.nullable().default(null),
        take: z.array(text(60)).max(300),
        /** The proposed dates as they were shown; refused where the rules would now give others. */
        seen: z.array(z.object({ key: text(60), date: day })).max(300),
        moves: z.object(taking).prefault({}),
        /** Hour, length and place of what takes place on the day itself. */
        event: z.object({ time: entryIn.time, lengthMinutes: entryIn.lengthMinutes, place: entryIn.place }).prefault({}),
      }),
    )
    .output(z.object({ docketed: z.number(), leftOut: z.number(), moved: z.number(), triggerId: z.number(), changeId: z.number() })),
  triggers: route('docket.see', 'GET', '/matters/{id}/triggers', 'What happened in a matter, and the facts by which dates are counted')
    .input(z.object({ id }))
    .output(
      z.object({
        facts: z.array(z.object({ key: z.string(), question: z.string(), holds: z.boolean() })),
        triggers: z.array(
          z.object({
            id: z.number(),
            kind: z.string(),
            title: z.string(),
            label: z.string(),
            day: dayOut,
            service: z.string().nullable(),
            asksService: z.boolean(),
            tentative: z.boolean(),
            answers: z.string().nullable(),
            party: z.string().nullable(),
            paper: z.object({ id: z.number(), name: z.string() }).nullable(),
            dates: z.number(),
            /** What the rules give for it now and the docket does not have yet. */
            missing: z.array(proposal),
            /** Counted by other rules than the matter has now; its dates no longer follow. */
            elsewhere: z.boolean(),
          }),
        ),
        services: z.array(z.object({ key: z.string(), title: z.string(), adds: z.string() })),
        /** The parties of the matter, of which an event may concern one. */
        parties: z.array(z.object({ id: z.number(), name: z.string(), role: z.string() })),
        /** The latest act, where it can still be undone. */
        last: z.object({ id: z.number(), text: z.string(), at: z.string(), by: z.string() }).nullable(),
      }),
    ),
  addMissing: route(
    'docket.change',
    'POST',
    '/matters/{id}/triggers/{triggerId}/dates',
    'Docket more dates of a trigger; what is not named is left out',
  )
    .input(
      z.object({ id, triggerId: id, take: z.array(text(60)).max(300), seen: z.array(z.object({ key: text(60), date: day })).max(300) }),
    )
    .output(z.object({ docketed: z.number(), changeId: z.number() })),
  previewAct: route(
    'docket.see',
    'POST',
    '/matters/{id}/docket/acts/preview',
    'What a change would do to the dates of a matter; nothing changes',
    asks,
  )
    .input(z.object({ id, act: docketAct, chains }))
    .output(
      z.object({
        text: z.string(),
        differences: z.array(difference),
        /** Dates from which others could be counted in two ways, with both outcomes. */
        chains: z.array(chainOut),
      }),
    ),
  carryOut: route(
    'docket.change',
    'POST',
    '/matters/{id}/docket/acts',
    'Change what dates are counted from, with the differences taken',
    longBody,
  )
    .input(
      z.object({
        id,
        act: docketAct,
        chains,
        ...taking,
        why: text(300).default(''),
        paperId: id.nullable().default(null),
        /** Sends the team the new list in the same act. */
        tell: z.boolean().default(false),
      }),
    )
    .output(z.object({ changeId: z.number(), moved: z.number(), follows: z.number() })),
  undo: route('docket.change', 'POST', '/docket-changes/{id}/undo', 'Undo a change of the docket')
    .input(z.object({ id }))
    .output(z.object({ moved: z.number() })),
  reminders: route('docket.see', 'GET', '/reminders', 'The reader’s own reminders, and when they come').output(
    z.object({
      leads: z.array(z.number()),
      digestOn: z.number().nullable(),
      rows: z.array(
        z.object({
          id: z.number(),
          entryId: z.number(),
          title: z.string(),
          matterId: z.number(),
          matter: z.string(),
          day: dayOut,
          weight: z.enum(weights),
          lead: z.number(),
          at: z.string(),
          courtDays: z.number(),
        }),
      ),
    }),
  ),
  chooseReminders: route('docket.see', 'PUT', '/reminders', 'Choose how many court days before a date one is reminded')
    .input(z.object({ leads, digestOn: z.number().int().min(1).max(7).nullable().default(null) }))
    .output(ok),
  putAwayReminders: route('docket.see', 'PUT', '/reminders/seen', 'Put reminders away')
    .input(z.object({ ids: z.array(id).max(500) }))
    .output(ok),
  entryReminders: route(
    'docket.see',
    'PUT',
    '/docket/{id}/reminders',
    'Choose one’s own reminders of one date; null goes back to the usual ones',
  )
    .input(z.object({ id, leads: leads.nullable() }))
    .output(ok),
  feeds: route('docket.see', 'GET', '/calendar-feeds', 'One’s own calendars with secret addresses').output(
    z.array(z.object({ id: z.number(), scope: z.enum(feedScopes), name: z.string(), createdAt: z.string() })),
  ),
  makeFeed: route('docket.see', 'POST', '/calendar-feeds', 'Make a calendar that any calendar program can subscribe to')
    .input(
      z.object({
        scope: z.enum(feedScopes),
        userId: id.nullable().default(null),
        matterId: id.nullable().default(null),
        areaId: id.nullable().default(null),
      }),
    )
    .output(made.extend({ address: z.string() })),
  withdrawFeed: route('docket.see', 'DELETE', '/calendar-feeds/{id}', 'Withdraw a calendar’s address').input(z.object({ id })).output(ok),
  calendar: route('public', 'GET', '/calendars/{secret}', 'A calendar by its secret address, as iCalendar')
    .input(z.object({ secret: z.string().min(20).max(100) }))
    .output(fileOut),
  sum: route('signed in', 'GET', '/day-sum', 'The day of a sum such as “30 Mar 2027 − 10 court days”')
    .input(
      z.object({
        text: text(80),
        ruleSetKey: text(60).optional(),
        /** The day from which a sum without one of its own starts; today where left out. */ from: day.optional(),
      }),
    )
    .output(z.object({ day: dayOut, text: z.string() })),
  change: route('docket.change', 'PUT', '/docket/{id}', 'Change what an entry says; the day of a counted date moves by an act of its own')
    .input(
      z.object({
        id,
        ...entryIn,
        /** A new day, for what no rule counted and no court set. */ day: day.optional(),
        /** Those that recur after it say the same from now on. */ following: z.boolean().default(false),
        /** The version that was read. */ version: z.number().int().min(0).optional(),
      }),
    )
    .output(ok),
  closures: route('docket.see', 'GET', '/court-closures', 'Days on which a court is closed beyond its rules').output(
    z.array(
      z.object({
        id: z.number(),
        day: dayOut,
        name: z.string(),
        ruleSetKey: z.string().nullable(),
        filingOnly: z.boolean(),
        by: z.string(),
      }),
    ),
  ),
  previewClosure: route('docket.rules', 'POST', '/court-closures/preview', 'The docketed dates that a closure would move', asks)
    .input(z.object(closureIn))
    .output(
      z.object({
        moves: z.number(),
        matters: movedMatters,
      }),
    ),
  addClosure: route('docket.rules', 'POST', '/court-closures', 'Enter a closure and move what it moves, in one act')
    .input(z.object({ ...closureIn, moves: z.number().int().min(0) }))
    .output(made.extend({ moved: z.number() })),
  removeClosure: route('docket.rules', 'DELETE', '/court-closures/{id}', 'Take a closure back').input(z.object({ id })).output(ok),
  entry: route('docket.see', 'GET', '/docket/{id}', 'One date, as it stands now').input(z.object({ id })).output(docketRow),
  history: route('docket.see', 'GET', '/docket/{id}/history', 'All that happened to one date')
    .input(z.object({ id }))
    .output(z.array(z.object({ at: z.string(), who: z.string(), what: z.string(), was: z.string(), became: z.string(), why: z.string() }))),
  remove: route('docket.change', 'DELETE', '/docket/{id}', 'Take a date away everywhere; its history stays')
    .input(z.object({ id }))
    .output(ok),
  addEntry: route('docket.change', 'POST', '/matters/{id}/docket', 'Add an appointment, an order’s date or a firm date')
    .input(
      z.object({
        id,
        day,
        weight: z.enum(weights),
        authority: text(200).default(''),
        sum: text(120).default(''),
        /** A rule of recurrence by RFC 5545, such as `FREQ=YEARLY`; null for a single date. */
        repeats: text(120).nullable().default(null),
        /** A date of its own before each one: by when notice must be given, say. */
        notice: z
          .object({
            title: needed('Give a title'),
            count: whole(1, 999),
            unit: z.enum(['day', 'courtDay', 'week', 'month', 'year']),
          })
          .nullable()
          .default(null),
        ...entryIn,
      }),
    )
    .output(made.extend({ entries: z.number() })),
  ofMatter: route('docket.see', 'GET', '/matters/{id}/docket', 'The docket of a matter, left-out dates included')
    .input(z.object({ id }))
    .output(z.array(docketRow)),
  agenda: route('docket.see', 'GET', '/docket', 'Dates of a span, by day, with the days on which courts are closed')
    .input(z.object(agendaIn))
    .output(
      z.object({
        today: dayOut,
        until: dayOut,
        rows: z.array(docketRow),
        late: z.array(docketRow),
        /** Whether there is more than is shown, of those ahead and of those late. */
        more: z.object({ rows: z.boolean(), late: z.boolean() }),
        closed: z.array(z.object({ day: dayOut, name: z.string() })),
        courtDays: z.record(z.string(), z.number()),
      }),
    ),
  mark: route('docket.change', 'PUT', '/docket/{id}/mark', 'Mark an entry')
    .input(
      z.object({
        id,
        mark: z.enum(marks),
        /** Where it is met: on which day it was done. What is counted from it runs from there. */
        day: day.optional(),
      }),
    )
    .output(ok),
  include: route('docket.change', 'PUT', '/docket/{id}/left-out', 'Docket a date that was left out, or leave one out')
    .input(z.object({ id, leftOut: z.boolean() }))
    .output(ok),
}
