import { z } from 'zod'
import { weights } from '@heron/core/docket'
import { day, id, made, needed, ok, route, text } from './base'

export const marks = ['open', 'in hand', 'met', 'waived', 'vacated'] as const
const trace = z.array(z.object({ text: z.string(), date: z.string() }))
export const proposal = z.object({
  key: z.string(),
  title: z.string(),
  text: z.string(),
  authority: z.string(),
  link: z.string().nullable(),
  weight: z.enum(weights),
  date: z.string().nullable(),
  beforeRoll: z.string().nullable(),
  howCounted: z.string(),
  applies: z.boolean(),
  provisional: z.boolean(),
  tentative: z.boolean(),
  notes: z.array(z.string()),
  trace,
})
export const docketRow = z.object({
  id: z.number(),
  matterId: z.number(),
  matter: z.string(),
  title: z.string(),
  text: z.string(),
  authority: z.string(),
  link: z.string().nullable(),
  weight: z.enum(weights),
  day: z.string(),
  beforeRoll: z.string().nullable(),
  time: z.string().nullable(),
  lengthMinutes: z.number().nullable(),
  place: z.string(),
  dayEnds: z.string(),
  howCounted: z.string(),
  trace,
  leftOut: z.boolean(),
  mark: z.enum(marks),
  urgent: z.boolean(),
  provisional: z.boolean(),
  tentative: z.boolean(),
  trigger: z.object({ label: z.string(), day: z.string(), service: z.string().nullable() }).nullable(),
  responsible: z.string().nullable(),
  courtDays: z.number(),
})
export type DocketRow = z.infer<typeof docketRow>
const triggerIn = z.object({
  id,
  trigger: needed('Choose what happened', 60),
  date: day,
  service: text(40).nullable().default(null),
  tentative: z.boolean().default(false),
  facts: z.array(text(60)).max(10).default([]),
})

export const docket = {
  ruleSet: route('docket.see', 'GET', '/rule-sets/{key}', 'Triggers, services and facts of a rule set')
    .input(z.object({ key: text(60) }))
    .output(
      z.object({
        key: z.string(),
        title: z.string(),
        edition: z.string(),
        triggers: z.array(z.object({ key: z.string(), title: z.string(), asksService: z.boolean(), deadlines: z.number() })),
        services: z.array(z.object({ key: z.string(), title: z.string(), adds: z.string() })),
        facts: z.array(z.object({ key: z.string(), question: z.string() })),
      }),
    ),
  workOut: route('docket.see', 'POST', '/matters/{id}/dates/proposed', 'Work out dates; nothing is docketed yet')
    .input(triggerIn)
    .output(z.object({ proposals: z.array(proposal), already: z.array(z.string()) })),
  add: route('docket.change', 'POST', '/matters/{id}/dates', 'Docket the dates of a trigger; what is not named is left out')
    .input(triggerIn.extend({ label: text(160).default(''), take: z.array(text(60)) }))
    .output(z.object({ docketed: z.number(), leftOut: z.number(), triggerId: z.number() })),
  addEntry: route('docket.change', 'POST', '/matters/{id}/docket', 'Add an appointment, an order’s date or a firm date')
    .input(
      z.object({
        id,
        title: needed('Give a title'),
        text: text(2000).default(''),
        weight: z.enum(weights),
        day,
        time: z.union([z.null(), z.string().regex(/^\d{2}:\d{2}$/, 'Give a time like 14:00')]).default(null),
        lengthMinutes: z.number().int().positive().max(1440).nullable().default(null),
        place: text(120).default(''),
        authority: text(200).default(''),
      }),
    )
    .output(made),
  ofMatter: route('docket.see', 'GET', '/matters/{id}/docket', 'The docket of a matter, left-out dates included')
    .input(z.object({ id }))
    .output(z.array(docketRow)),
  agenda: route('docket.see', 'GET', '/docket', 'Dates of a span, by day, with the days on which courts are closed')
    .input(
      z.object({
        from: day,
        courtDays: z.coerce.number().int().min(1).max(70).default(10),
        scope: z.enum(['mine', 'team', 'firm']).default('mine'),
      }),
    )
    .output(
      z.object({
        today: z.string(),
        until: z.string(),
        rows: z.array(docketRow),
        late: z.array(docketRow),
        closed: z.array(z.object({ day: z.string(), name: z.string() })),
        courtDays: z.record(z.string(), z.number()),
      }),
    ),
  mark: route('docket.change', 'PUT', '/docket/{id}/mark', 'Mark an entry')
    .input(z.object({ id, mark: z.enum(marks) }))
    .output(ok),
  move: route('docket.change', 'PUT', '/docket/{id}/day', 'Move a date by hand, or to the day the court set')
    .input(z.object({ id, day, by: z.enum(['hand', 'court']), why: needed('Say why it moves', 300) }))
    .output(ok.extend({ follows: z.number() })),
  include: route('docket.change', 'PUT', '/docket/{id}/left-out', 'Docket a date that was left out, or leave one out')
    .input(z.object({ id, leftOut: z.boolean() }))
    .output(ok),
}
