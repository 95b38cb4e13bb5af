import { readDuration } from '@heron/core/time'
import { z } from 'zod'
import {
  amount,
  asks,
  cents,
  day,
  dayOut,
  fileOut,
  id,
  longBody,
  made,
  minutesOut,
  needed,
  ok,
  page,
  pageOf,
  rate,
  route,
  text,
  whole,
  withId,
} from './base'
import { fieldValues } from './fields'
import { teamRoles } from './matters'
import { charges, rateKinds, timeFields, timeGroups, timeStates } from './names'

export const timeRow = z.object({
  id: z.number(),
  userId: z.number(),
  who: z.string(),
  initials: z.string(),
  matterId: z.number(),
  matter: z.string(),
  day: dayOut,
  activity: z.string().nullable(),
  text: z.string(),
  minutes: minutesOut,
  workedMinutes: z.number(),
  rate: cents,
  rateOrigin: z.string(),
  amount: cents,
  charge: z.enum(charges),
  state: z.enum(['draft', 'posted', 'reversed', 'written off']),
  billed: z.string().nullable(),
  start: z.string().nullable(),
  end: z.string().nullable(),
  task: z.string().nullable(),
  inCourt: z.boolean(),
  fundingId: z.number().nullable(),
  funding: z.string().nullable(),
  privateAttorney: z.boolean(),
})
const hour = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'Give an hour like 14:30')
/** A time as it is typed, in any notation that core reads; empty where none is given. */
export const duration = text(20).refine((t) => !t || readDuration(t) !== null, 'Give the time like 0.7, 1:30 or 90m')
export const timeIn = z.object({
  matterId: z.number({ error: 'Choose the matter' }).int().positive('Choose the matter'),
  day,
  activity: text(12).nullable().default(null),
  text: needed('Say what was done', 1000),
  /** The time as it is typed, or from when to when, or the amount alone. */
  duration: duration.default(''),
  start: hour.nullable().default(null),
  end: hour.nullable().default(null),
  amount: amount.nullable().default(null),
  rate: rate.nullable().default(null),
  charge: z.enum(charges).default('billable'),
  userId: id.nullable().default(null),
  /** A task code of UTBMS, for electronic bills. */
  task: text(8).nullable().default(null),
  inCourt: z.boolean().default(false),
  /** Left out, the matter's own; null for none. */
  fundingId: id.nullish(),
  privateAttorney: z.boolean().default(false),
  /** Fields of the firm's own; left out, they stay as they are. */
  fields: fieldValues.optional(),
  /** A note to the file at the same time, told to colleagues and sent to someone outside where wanted. */
  note: z.object({ text: needed('Write the note', 4000), toIds: z.array(id).max(20).default([]), email: z.union([z.literal(''), z.email('This is not an e-mail address').max(190)]).default('') }).nullable().default(null), // prettier-ignore
})
type TimeRead = z.infer<typeof timeIn>
/** What is said of an entry; what is left out is as usual. */
export type TimeIn = Pick<TimeRead, 'matterId' | 'day' | 'text'> & { [K in keyof TimeRead]?: TimeRead[K] | undefined }
const fundingIn = z.object({
  id: id.optional(),
  name: needed('Name the source', 80),
  from: day.nullable(),
  to: day.nullable(),
  retired: z.boolean().default(false),
})
const spelled = needed('Give a word', 60).regex(/^\p{L}[\p{L}'’]*$/u, 'One word of letters alone')
const phraseIn = z.object({ code: needed('Give a short code', 12), text: needed('Give the words', 1000) })
const rounding = {
  /** Minutes; null as usual. */
  unit: whole(1, 60, 'Give minutes').nullable(),
  rounding: z.enum(['up', 'nearest']).nullable(),
}
const usualRounding = z.object({ unit: z.number(), rounding: z.enum(['up', 'nearest']) })
/** Terms go out with what was read (`seen`); where they stand otherwise by then, nothing is done. */
const matterTerms = z.object({
  ...rounding,
  fundingId: id.nullable().default(null),
  roles: z.array(z.object({ role: z.enum(teamRoles), rate })).max(teamRoles.length),
})
export type MatterTerms = z.infer<typeof matterTerms>
const clientTerms = z.object({ ...rounding, rates: z.array(z.object({ userId: id, rate })).max(300) })
export type ClientTerms = z.infer<typeof clientTerms>
/** Any mix of these narrows the list of time, its sums and its file alike. */
const timeFilter = {
  q: text(80).default(''),
  from: day.optional(),
  to: day.optional(),
  userId: id.optional(),
  matterId: id.optional(),
  clientId: id.optional(),
  areaId: id.optional(),
  activity: text(12).optional(),
  charge: z.enum(charges).optional(),
  state: z.enum(timeStates).default('all'),
  fundingId: id.optional(),
  inCourt: z.enum(['yes', 'no']).optional(),
  privateAttorney: z.enum(['yes', 'no']).optional(),
}
export type TimeFilter = z.infer<z.ZodObject<typeof timeFilter>>
const timerOut = z.object({
  id: z.number(),
  matterId: z.number().nullable(),
  matter: z.string(),
  text: z.string(),
  seconds: z.number(),
  running: z.boolean(),
  /** Since when it runs, by the firm's clock. */
  since: z.object({ day: dayOut, time: z.string() }).nullable(),
  /** Whether it has run over a night, so that nobody knows when the work ended. */
  overnight: z.boolean(),
})

export const time = {
  list: route('time.record', 'GET', '/time', 'Own time of a span of days')
    .input(z.object({ from: day, to: day }))
    .output(
      z.object({
        rows: z.array(timeRow),
        together: z.object({ minutes: minutesOut, worth: cents }),
        days: z.array(z.object({ day: dayOut, minutes: minutesOut, worth: cents })),
        matters: z.array(z.object({ matterId: z.number(), matter: z.string(), minutes: minutesOut, worth: cents })),
        /** What the person means to record on a day of work; 0 where nothing is set. */
        goal: z.number(),
      }),
    ),
  all: route('matters.see', 'GET', '/time/all', 'Time of the firm, as far as the reader may see it')
    .input(z.object({ ...timeFilter, ...page, fields: text(200).default('') }))
    .output(
      pageOf(timeRow.extend({ client: z.string(), fields: z.record(z.string(), z.string()) }))
        .omit({ total: true })
        .extend({ more: z.boolean() }),
    ),
  sums: route('matters.see', 'GET', '/time/sums', 'Sums of the time of a filter, by group')
    .input(z.object({ ...timeFilter, by: z.enum(timeGroups).default('person') }))
    .output(
      z.object({
        entries: z.number(),
        minutes: minutesOut,
        /** Recorded value of what is billable. */
        worth: cents,
        /** Whether there is more than is added up at once, so that the sums are not those of all. */
        tooMany: z.boolean(),
        groups: z.array(z.object({ key: z.string(), name: z.string(), entries: z.number(), minutes: minutesOut, worth: cents })),
      }),
    ),
  file: route('matters.see', 'GET', '/time/file', 'Time of a filter as CSV, with the columns that are shown')
    .input(z.object({ ...timeFilter, columns: text(400).default('') }))
    .output(fileOut),
  ofMatter: route('matters.see', 'GET', '/matters/{id}/time', 'Time and costs of a matter')
    .input(z.object({ id, unbilled: z.enum(['yes', 'no']).default('no') }))
    .output(
      z.object({
        time: z.array(timeRow),
        costs: z.array(
          z.object({ id: z.number(), day: dayOut, kindName: z.string(), text: z.string(), units: z.string(), amount: cents, billable: z.boolean(), paidFrom: z.enum(['operating', 'trust', 'owed']).nullable(), state: z.enum(['recorded', 'reversed']), receiptId: z.number().nullable(), receipt: z.string().nullable(), billed: z.string().nullable() }), // prettier-ignore
        ),
        more: z.number(),
        /** Posted, billable and unbilled time of the whole matter, as far as the reader may see it. */
        unbilled: cents,
      }),
    ),
  matterTerms: route('bills.see', 'GET', '/matters/{id}/terms', 'How time on a matter is rounded, and rates by role')
    .input(withId)
    .output(matterTerms.extend({ usual: usualRounding })),
  changeMatterTerms: route('bills.review', 'PUT', '/matters/{id}/terms', 'Change how time on a matter is rounded, and rates by role')
    .input(matterTerms.extend({ id, seen: matterTerms.optional() }))
    .output(ok),
  previewRates: route('bills.review', 'GET', '/time/rates-anew', 'Unbilled time that the rates of now would change')
    .input(z.object({ matterId: id.optional(), clientId: id.optional() }))
    .output(
      z.object({
        looked: z.number(),
        more: z.boolean(),
        difference: cents,
        rows: z.array(
          z.object({
            id: z.number(),
            who: z.string(),
            matter: z.string(),
            day: dayOut,
            text: z.string(),
            state: z.enum(['draft', 'posted']),
            was: z.object({ minutes: minutesOut, rate: cents, amount: cents }),
            now: z.object({ minutes: minutesOut, rate: cents, amount: cents, origin: z.string() }),
          }),
        ),
      }),
    ),
  rateAnew: route('bills.review', 'POST', '/time/rates-anew', 'Rate unbilled time anew, as it was shown', longBody)
    .input(
      z.object({
        matterId: id.optional(),
        clientId: id.optional(),
        seen: z
          .array(z.object({ id, amount: cents }))
          .min(1, 'Choose at least one entry')
          .max(500, 'At most 500 entries at once'),
      }),
    )
    .output(z.object({ rated: z.number() })),
  rates: route('bills.review', 'GET', '/rates', 'All rates that hold, each with whom and what it is for')
    .input(z.object({ q: text(80).default(''), kind: z.enum(rateKinds).optional(), past: z.enum(['yes', 'no']).default('no'), ...page }))
    .output(
      pageOf(
        z.object({
          key: z.string(),
          kind: z.enum(rateKinds),
          /** The person, the role or the activity whose hour is priced. */
          who: z.string(),
          /** The matter or client for which it holds; nothing where it holds everywhere. */
          of: z.string(),
          ofId: z.number().nullable(),
          rate: cents,
          from: dayOut.nullable(),
          to: dayOut.nullable(),
        }),
      ),
    ),
  clientTerms: route('bills.see', 'GET', '/contacts/{id}/terms', 'How time for a client is rounded, and rates for that client')
    .input(withId)
    .output(clientTerms.extend({ usual: usualRounding })),
  changeClientTerms: route(
    'bills.review',
    'PUT',
    '/contacts/{id}/terms',
    'Change how time for a client is rounded, and rates for that client',
  )
    .input(clientTerms.extend({ id, seen: clientTerms.optional() }))
    .output(ok),
  activities: route('signed in', 'GET', '/activities', 'Activity codes').output(z.array(z.object({ code: z.string(), name: z.string() }))),
  quote: route('time.record', 'POST', '/time/quote', 'What an entry would come to', asks)
    .input(
      z.object({
        matterId: id,
        day,
        duration: duration.default(''),
        start: hour.nullable().default(null),
        end: hour.nullable().default(null),
        amount: amount.nullable().default(null),
        activity: text(12).nullable().default(null),
        rate: rate.nullable().default(null),
        /** Whose time it is, where it is another’s that is corrected. */
        userId: id.nullable().default(null),
      }),
    )
    .output(
      z.object({
        minutes: minutesOut,
        rate: cents,
        origin: z.string(),
        amount: cents,
        /** What the matter's budget comes to with it, in percent; null where it has none, or the reader sees no bills. */
        budget: z.object({ percent: z.number(), capped: z.boolean(), left: cents }).nullable(),
      }),
    ),
  fields: route('signed in', 'GET', '/time/fields', 'What an entry of time has in this firm').output(
    z.object({ fields: z.array(z.enum(timeFields)), funding: z.array(fundingIn.extend({ id: z.number(), from: dayOut.nullable(), to: dayOut.nullable() })) }), // prettier-ignore
  ),
  ownFields: route('time.record', 'GET', '/time/{id}/fields', 'Fields of the firm’s own of an entry').input(withId).output(fieldValues),
  setFields: route('firm.set-up', 'PUT', '/time/fields', 'Choose what an entry of time has')
    .input(z.object({ fields: z.array(z.enum(timeFields)).max(20), funding: z.array(fundingIn).max(200) }))
    .output(ok),
  missing: route('time.record', 'GET', '/time/missing', 'Days of work with less than one means to record').output(
    z.object({ goal: z.number(), days: z.array(z.object({ day: dayOut, minutes: minutesOut })) }),
  ),
  atWork: route('time.record', 'GET', '/time/days/{day}', 'What one did on a day, to jog the memory')
    .input(z.object({ day }))
    .output(
      z.object({
        dates: z.array(
          z.object({ id: z.number(), title: z.string(), time: z.string().nullable(), matterId: z.number(), matter: z.string() }),
        ),
        acts: z.array(z.object({ id: z.number(), kind: z.string(), text: z.string(), matterId: z.number(), matter: z.string() })),
      }),
    ),
  phrases: route('time.record', 'GET', '/phrases', 'Wordings of the firm and one’s own').output(
    z.array(phraseIn.extend({ id: z.number(), own: z.boolean() })),
  ),
  setPhrases: route('time.record', 'PUT', '/phrases', 'Keep one’s own wordings, or those of the firm', longBody)
    .input(z.object({ firm: z.boolean(), phrases: z.array(phraseIn).max(500) }))
    .output(ok),
  spelling: route(
    'time.record',
    'GET',
    '/spelling',
    'Words taken for right besides the dictionary: the firm’s own, and names around a matter',
  )
    .input(z.object({ matterId: id.optional() }))
    .output(z.object({ words: z.array(z.string()), names: z.array(z.string()) })),
  addWord: route('time.record', 'POST', '/spelling', 'Take a word for right')
    .input(z.object({ word: spelled }))
    .output(ok),
  setWords: route('firm.set-up', 'PUT', '/spelling', 'Keep the words that the firm takes for right', longBody)
    .input(z.object({ words: z.array(spelled).max(5000, 'At most 5000 words') }))
    .output(ok),
  record: route('time.record', 'POST', '/time', 'Record time as a draft').input(timeIn).output(made),
  change: route('time.record', 'PUT', '/time/{id}', 'Change a draft').input(timeIn.extend({ id })).output(ok),
  remove: route('time.record', 'DELETE', '/time/{id}', 'Delete a draft').input(withId).output(ok),
  post: route('time.record', 'POST', '/time/post', 'Post drafts into the books')
    .input(z.object({ ids: z.array(id).min(1, 'Choose drafts to post').max(2000) }))
    .output(z.object({ posted: z.number() })),
  reverse: route('time.record', 'POST', '/time/{id}/reverse', 'Reverse a posted entry that is not billed')
    .input(z.object({ id, reason: needed('Say why', 300), day: day.nullable().default(null) }))
    .output(ok),
  correct: route('time.record', 'PUT', '/time/{id}/correction', 'Correct a posted entry that is not billed, or move it to another matter')
    .input(timeIn.omit({ userId: true }).extend({ id, reason: needed('Say why', 300) }))
    .output(ok),
  split: route('time.record', 'POST', '/time/{id}/split', 'Split a posted entry into two')
    .input(
      z.object({
        id,
        duration: duration.min(1, 'Give the time of the first part, like 0.7'),
        text: needed('Say what was done', 1000),
        restText: needed('Say what was done', 1000),
      }),
    )
    .output(made),
  writeOff: route('bills.review', 'POST', '/time/write-off', 'Write unbilled time off')
    .input(z.object({ ids: z.array(id).min(1, 'Choose at least one entry').max(500), day, reason: needed('Say why', 300) }))
    .output(z.object({ written: z.number() })),
  timers: route('time.record', 'GET', '/timers', 'Own timers, the running one first').output(z.array(timerOut)),
  startTimer: route('time.record', 'POST', '/timers', 'Start a timer; the running one pauses')
    .input(z.object({ matterId: id.nullable().default(null), text: text(300).default('') }))
    .output(made),
  runTimer: route('time.record', 'PUT', '/timers/{id}', 'Pause or go on')
    .input(z.object({ id, running: z.boolean() }))
    .output(ok),
  setTimer: route('time.record', 'PUT', '/timers/{id}/hours', 'Say when the work under a running timer began, or when it ended')
    .input(z.object({ id, started: hour.nullable().default(null), ended: hour.nullable().default(null) }))
    .output(ok),
  stopTimer: route('time.record', 'POST', '/timers/{id}/stop', 'Stop a timer; its time becomes a draft')
    .input(z.object({ id, matterId: id, text: needed('Say what was done', 300) }))
    .output(made),
  dropTimer: route('time.record', 'DELETE', '/timers/{id}', 'Drop a timer without recording').input(withId).output(ok),
}
