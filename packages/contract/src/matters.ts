import { z } from 'zod'
import { amount, cents, day, id, made, needed, ok, page, pageOf, route, text, withId } from './base'
import { conflictCheck } from './people'

export const sides = ['ours', 'adverse', 'other'] as const
export const teamRoles = ['lead', 'lawyer', 'paralegal', 'assistant', 'outside'] as const

export const partyIn = z.object({
  contactId: id,
  role: needed('Give the role', 60),
  side: z.enum(sides),
  counsel: text(200).default(''),
})
export const matterIn = z
  .object({
    clientId: z.number({ error: 'Choose the client' }).int().positive('Choose the client'),
    name: needed('Name the matter'),
    shortName: text(60).default(''),
    openedOn: day,
    areaId: id.nullable().default(null),
    description: text(4000).default(''),
    parties: z.array(partyIn).max(60).default([]),
    conflictCheckId: z.number({ error: 'Run the conflict check first' }).int().positive('Run the conflict check first'),
    court: text(160).default(''),
    caseNumber: text(60).default(''),
    ourSide: text(40).default(''),
    ruleSetKey: text(60).nullable().default(null),
    leadId: id,
    team: z.array(z.object({ userId: id, role: z.enum(teamRoles), rate: cents.min(0).nullable().default(null) })).default([]),
    access: z.enum(['firm', 'team']).default('firm'),
    billing: z.enum(['hourly', 'flat']).default('hourly'),
    flatFee: z.array(z.object({ label: needed('Name the portion', 120), amount })).default([]),
    billToId: id.nullable().default(null),
  })
  .refine((m) => m.billing !== 'flat' || m.flatFee.length > 0, { path: ['flatFee'], error: 'Give the flat fee' })
export type MatterIn = z.infer<typeof matterIn>

export const matterRow = z.object({
  id: z.number(),
  number: z.string(),
  name: z.string(),
  client: z.string(),
  area: z.string(),
  stage: z.string(),
  lead: z.string(),
  openedOn: z.string(),
  closedOn: z.string().nullable(),
  nextDay: z.string().nullable(),
  nextTitle: z.string().nullable(),
})

const figures = z.object({ unbilled: cents, owed: cents, oldestDue: z.string().nullable(), held: cents, cleared: cents })
export const matterOut = z.object({
  id: z.number(),
  number: z.string(),
  name: z.string(),
  shortName: z.string(),
  clientId: z.number(),
  client: z.string(),
  area: z.string(),
  stageId: z.number().nullable(),
  stages: z.array(z.object({ id: z.number(), name: z.string() })),
  openedOn: z.string(),
  closedOn: z.string().nullable(),
  description: z.string(),
  court: z.string(),
  caseNumber: z.string(),
  ourSide: z.string(),
  ruleSetKey: z.string().nullable(),
  leadId: z.number(),
  lead: z.string(),
  billing: z.enum(['hourly', 'flat']),
  billToId: z.number().nullable(),
  billTo: z.string().nullable(),
  team: z.array(z.object({ userId: z.number(), name: z.string(), role: z.string(), keeps: z.boolean(), rate: cents.nullable() })),
  parties: z.array(
    z.object({ id: z.number(), contactId: z.number(), name: z.string(), role: z.string(), side: z.enum(sides), counsel: z.string() }),
  ),
  portions: z.array(z.object({ id: z.number(), label: z.string(), amount: cents, earnedOn: z.string().nullable(), billed: z.boolean() })),
  next: z.object({ title: z.string(), day: z.string() }).nullable(),
  tasks: z.object({ open: z.number(), today: z.number() }),
  /** Null for those who may not see money. */
  figures: figures.nullable(),
  counts: z.object({ docket: z.number(), tasks: z.number(), papers: z.number(), bills: z.number(), parties: z.number() }),
  missing: z.array(z.string()),
  conflicts: conflictCheck.nullable(),
})

export const matters = {
  list: route('matters.see', 'GET', '/matters', 'Matters that the reader may see')
    .input(
      z.object({
        q: text(80).default(''),
        state: z.enum(['open', 'closed', 'all']).default('open'),
        areaId: id.optional(),
        leadId: id.optional(),
        sort: z.enum(['active', 'number', 'name', 'client', 'opened']).default('active'),
        ...page,
      }),
    )
    .output(pageOf(matterRow)),
  setting: route('matters.see', 'GET', '/matters/setting', 'What is needed to open a matter').output(
    z.object({
      nextNumber: z.string(),
      areas: z.array(
        z.object({
          id: z.number(),
          name: z.string(),
          ruleSetKey: z.string().nullable(),
          stages: z.array(z.object({ id: z.number(), name: z.string() })),
        }),
      ),
      ruleSets: z.array(z.object({ key: z.string(), title: z.string(), court: z.string() })),
      staff: z.array(
        z.object({ id: z.number(), name: z.string(), initials: z.string(), role: z.string(), title: z.string(), rate: cents.nullable() }),
      ),
    }),
  ),
  get: route('matters.see', 'GET', '/matters/{id}', 'A matter with its band of figures').input(withId).output(matterOut),
  open: route('matters.open', 'POST', '/matters', 'Open a matter')
    .input(matterIn)
    .output(made.extend({ number: z.string() })),
  setStage: route('matters.open', 'PUT', '/matters/{id}/stage', 'Move a matter to a stage')
    .input(z.object({ id, stageId: id }))
    .output(ok),
  setBilling: route('bills.review', 'PUT', '/matters/{id}/billing', 'Say whom to bill')
    .input(z.object({ id, billToId: id }))
    .output(ok),
  addParty: route('matters.open', 'POST', '/matters/{id}/parties', 'Add a party; it is checked for conflicts')
    .input(partyIn.extend({ id }))
    .output(conflictCheck),
  screen: route('matters.open', 'POST', '/matters/{id}/screens', 'Screen a person from a matter')
    .input(z.object({ id, userId: id }))
    .output(ok),
  earnPortion: route('bills.review', 'POST', '/fee-portions/{id}/earned', 'Say that a stage of a flat fee is earned')
    .input(z.object({ id, day }))
    .output(ok),
  log: route('matters.see', 'GET', '/matters/{id}/log', 'What happened on a matter, newest first')
    .input(z.object({ id, ...page }))
    .output(pageOf(z.object({ id: z.number(), at: z.string(), who: z.string(), kind: z.string(), text: z.string() }))),
}
