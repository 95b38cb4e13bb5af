import { z } from 'zod'
import { weights } from '@heron/core/docket'
import { day, dayOut, id, needed, text } from './base'
import { marks } from './names'

export const trace = z.array(z.object({ text: z.string(), date: dayOut }))
export const proposal = z.object({
  key: z.string(),
  title: z.string(),
  text: z.string(),
  authority: z.string(),
  link: z.string().nullable(),
  weight: z.enum(weights),
  date: dayOut.nullable(),
  beforeRoll: dayOut.nullable(),
  howCounted: z.string(),
  applies: z.boolean(),
  provisional: z.boolean(),
  tentative: z.boolean(),
  notes: z.array(z.string()),
  trace,
})
export const docketRow = z.object({
  id: z.number(),
  ruleSetKey: z.string().nullable(),
  matterId: z.number(),
  matter: z.string(),
  title: z.string(),
  text: z.string(),
  authority: z.string(),
  link: z.string().nullable(),
  weight: z.enum(weights),
  day: dayOut,
  beforeRoll: dayOut.nullable(),
  time: z.string().nullable(),
  lengthMinutes: z.number().nullable(),
  place: z.string(),
  /** The time zone in which its hour stands: the court's, else the firm's. */
  zone: z.string(),
  dayEnds: z.string(),
  howCounted: z.string(),
  trace,
  leftOut: z.boolean(),
  mark: z.enum(marks),
  urgent: z.boolean(),
  provisional: z.boolean(),
  tentative: z.boolean(),
  trigger: z.object({ id: z.number(), label: z.string(), day: dayOut, service: z.string().nullable() }).nullable(),
  setBy: z.enum(['rule', 'hand', 'court']),
  /** What the rule gives, where the day is not the rule's. */
  ruleDay: dayOut.nullable(),
  /** How it came to its day, in one line: the count, or who set it and what the rule would give. */
  how: z.string(),
  /** Where it is met: the day on which it was done, when that was said. */
  metOn: dayOut.nullable(),
  /** It is what takes place on the day of its trigger itself, such as the trial; it moves with that. */
  isEvent: z.boolean(),
  reason: z.string(),
  paper: z.object({ id: z.number(), name: z.string() }).nullable(),
  offCalendar: z.boolean(),
  meetingLink: z.string(),
  responsibleId: z.number().nullable(),
  tags: z.array(z.string()),
  attendees: z.array(z.object({ id: z.number(), name: z.string() })),
  papers: z.array(z.object({ id: z.number(), name: z.string() })),
  /** Those outside to whom it was sent; `changed`: what they have is no longer what stands here. */
  sentTo: z.array(z.object({ email: z.string(), name: z.string(), zone: z.string(), changed: z.boolean(), withdrawn: z.boolean() })),
  /** The dates that recur with it, in words. */
  series: z.object({ id: z.number(), words: z.string() }).nullable(),
  /** The reader’s own reminders of this date; null for the usual ones. */
  leads: z.array(z.number()).nullable(),
  responsible: z.string().nullable(),
  courtDays: z.number(),
  /** Grows with every change; a change of what was read before is refused. */
  version: z.number(),
})
export type DocketRow = z.infer<typeof docketRow>
export const triggerIn = z.object({
  id,
  /** The earlier trigger that this one answers. */
  answersId: id.nullable().default(null),
  /** The party of the matter that it concerns, where its kind asks for one. */
  partyId: id.nullable().default(null),
  trigger: needed('Choose what happened', 60),
  date: day,
  service: text(40).nullable().default(null),
  tentative: z.boolean().default(false),
  facts: z.array(text(60)).max(10).default([]),
})

/** What is done to the docket of a matter as a whole: every date that hangs on it is worked out again, and shown first. */
export const docketAct = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('change'),
    triggerId: id,
    day,
    tentative: z.boolean(),
    service: text(40).nullable(),
    label: text(160),
  }),
  z.object({ kind: z.literal('remove'), triggerId: id }),
  z.object({ kind: z.literal('facts'), facts: z.array(text(60)).max(10) }),
  z.object({
    kind: z.literal('extend'),
    entryId: id,
    day,
    by: z.enum(['hand', 'court']),
    chainFollows: z.boolean(),
    sum: text(120).optional(),
  }),
  z.object({ kind: z.literal('meet'), entryId: id, day }),
  z.object({ kind: z.literal('recount') }),
])
/** From which day the chain of a date runs that was set otherwise than its rule gives: the day set, or the rule's. */
export const chains = z
  .array(z.object({ entryId: id, follows: z.boolean() }))
  .max(200)
  .default([])
export const chainOut = z.object({
  entryId: z.number(),
  title: z.string(),
  day: dayOut,
  setBy: z.enum(['rule', 'hand', 'court']),
  ruleDay: dayOut.nullable(),
  follows: z.boolean(),
  dates: z.array(z.object({ entryId: z.number(), title: z.string(), follows: dayOut.nullable(), byRule: dayOut.nullable() })),
})
export type ChainOut = z.infer<typeof chainOut>
export type DocketActIn = z.infer<typeof docketAct>
export const effects = z.enum(['moves', 'recounted', 'goes', 'closes', 'comes in', 'drops out', 'kept'])
/** A difference as it was shown to whoever takes it; the server refuses where it would now be another. */
export const differenceSeen = z.object({ entryId: id, effect: effects, becomes: dayOut.nullable() })
export type DifferenceSeen = z.infer<typeof differenceSeen>
export const difference = differenceSeen.extend({
  title: z.string(),
  weight: z.enum(weights),
  authority: z.string(),
  because: z.string().nullable(),
  was: dayOut,
  beforeRoll: dayOut.nullable(),
  howCounted: z.string(),
  trace,
  leftOut: z.boolean(),
  provisional: z.boolean(),
  tentative: z.boolean(),
  wasProvisional: z.boolean(),
  wasTentative: z.boolean(),
})
export type DifferenceOut = z.infer<typeof difference>
