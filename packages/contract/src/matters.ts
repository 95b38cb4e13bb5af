import { arrangements, payersFault } from '@heron/core/billing'
import { mostMoney } from '@heron/core/money'
import { z } from 'zod'
import { arrangedBy, arrangementRoutes, sayArrangementFault } from './arrangements'
import { amount, cents, day, dayOut, fileOut, id, longBody, made, needed, ok, page, pageOf, rate, route, text, withId } from './base'
import { fieldValues } from './fields'
import { conflictCheck } from './people'
import { agreedStep } from './tasks'

export const sides = ['ours', 'adverse', 'other'] as const
/** Roles on a matter's team. The lead answers for it; `outside` is of counsel or co-counsel. */
export const teamRoles = ['lead', 'lawyer', 'paralegal', 'assistant', 'outside'] as const
export type TeamRole = (typeof teamRoles)[number]

const level = z.number().int().min(0).max(2)
export const grants = z
  .object({ file: level, docket: level, papers: level, money: level, trust: level })
  .refine((g) => g.file > 0 || (!g.docket && !g.papers && !g.money && !g.trust), {
    path: ['file'],
    error: 'Whoever sees a part sees the file',
  })

export const partyIn = z.object({
  contactId: id,
  role: needed('Give the role', 60),
  side: z.enum(sides),
  counsel: text(200).default(''),
  counselId: id.nullable().default(null),
  servedOn: day.nullable().default(null),
})
/** A party as it stands on a matter. */
const partyStands = partyIn.omit({ contactId: true })
const teamIn = z.object({
  userId: id,
  role: z.enum(teamRoles),
  rate: rate.nullable().default(null),
  keeps: z.boolean().optional(),
  /** Where left out, what is usual for the person's role in the firm. */
  grants: grants.optional(),
})
const described = {
  name: needed('Name the matter'),
  shortName: text(60).default(''),
  secondNumber: text(60).default(''),
  openedOn: day,
  areaId: id.nullable().default(null),
  description: text(4000).default(''),
  court: text(160).default(''),
  caseNumber: text(60).default(''),
  judgeId: id.nullable().default(null),
  ourSide: text(40).default(''),
  ruleSetKey: text(60).nullable().default(null),
  originatingId: id.nullable().default(null),
  tags: z.array(needed('Give the tag', 40)).max(20).default([]),
  /** Clients besides the first. */
  clientIds: z.array(id).max(20).default([]),
  fields: fieldValues.optional(),
}
/** Who bears bills, where more than one does: a fixed amount of each bill, or a part in ten-thousandths of what is left. */
const payerIn = z.object({
  contactId: id,
  fixed: amount.nullable().default(null),
  basisPoints: z.number().int().max(10_000).nullable().default(null),
})
const payersIn = z
  .array(payerIn)
  .max(8)
  .default([])
  .superRefine((payers, ctx) => {
    const wrong = payersFault(payers)
    if (wrong) ctx.addIssue({ code: 'custom', message: wrong })
    else if (new Set(payers.map((p) => p.contactId)).size < payers.length) ctx.addIssue({ code: 'custom', message: 'Name each payer once' })
  })
export type PayerIn = z.infer<typeof payerIn>
export const matterKinds = ['client', 'firm', 'practice'] as const
export const matterIn = z
  .object({
    ...described,
    kind: z.enum(matterKinds).default('client'),
    clientId: z.number({ error: 'Choose the client' }).int().positive('Choose the client'),
    parties: z.array(partyIn).max(60).default([]),
    /** A check made beforehand; where there is none, opening makes one, and its hits wait on the file. */
    conflictCheckId: id.nullable().default(null),
    enquiryId: id.nullable().default(null),
    leadId: id.nullable().default(null),
    team: z.array(teamIn).max(60).default([]),
    /** `area` takes what the practice area says. */
    access: z.enum(['area', 'firm', 'team']).default('area'),
    ...arrangedBy,
    /** Whom to bill; where bills are split, the first of the payers. */
    billToId: id.nullable().default(null),
    payers: payersIn,
    procedures: z
      .array(
        z.object({
          procedureId: id,
          start: day,
          /** As agreed in the preview, of the version that it showed; without them all steps as they come out. */
          agreed: z.object({ version: z.number().int(), steps: z.array(agreedStep).max(200) }).optional(),
        }),
      )
      .max(5)
      .default([]),
  })
  .superRefine(sayArrangementFault)
export type MatterIn = z.infer<typeof matterIn>
export const matterChange = z.object({ id, ...described, clientId: id, version: z.number().int().optional() })
export type MatterChange = z.infer<typeof matterChange>

export const boardGroups = ['stage', 'court', 'area', 'lead'] as const
/** A column of a board: the court’s name, else the number of stage, area or lawyer; empty for what has none. */
const column = text(160)
/** How somebody but the lead stands on a team. */
const standing = z.object({ role: z.enum(teamRoles).exclude(['lead']), keeps: z.boolean(), grants })
const matterPlace = z
  .object({
    id,
    by: z.enum(boardGroups),
    /** Where whoever moves it sees it; elsewhere it was moved meanwhile. */
    from: column,
    to: column,
    /** Of another area, the stage to stand at; else its first. */
    stageId: id.nullable().optional(),
    /** Takes a hand-over back: how whoever leads now stood on the team before it, null where they were not on it. */
    backTo: standing.nullable().optional(),
  })
  .refine((p) => p.by === 'court' || /^\d{0,9}$/.test(p.to), { path: ['to'], error: 'Choose a column of this board' })
export type MatterPlace = z.infer<typeof matterPlace>
export type TeamStanding = z.infer<typeof standing>

/** How far the conflict check of a matter is. */
export const conflictStates = ['cleared', 'not checked', 'to decide', 'waiver needed', 'declined'] as const

export const matterRow = z.object({
  id: z.number(),
  number: z.string(),
  secondNumber: z.string(),
  name: z.string(),
  clientId: z.number(),
  client: z.string(),
  area: z.string(),
  stage: z.string(),
  court: z.string(),
  caseNumber: z.string(),
  lead: z.string(),
  originating: z.string(),
  tags: z.array(z.string()),
  openedOn: dayOut,
  closedOn: dayOut.nullable(),
  activeOn: dayOut,
  nextDay: dayOut.nullable(),
  nextTitle: z.string().nullable(),
  overdue: z.number(),
  conflicts: z.enum(conflictStates),
  /** Null for those who may not see them, and where they were not asked for. */
  unbilled: cents.nullable(),
  owed: cents.nullable(),
  held: cents.nullable(),
  fields: z.record(z.string(), z.string()),
})
const filterIn = {
  q: text(80).default(''),
  state: z.enum(['open', 'closed', 'all']).default('open'),
  areaId: id.optional(),
  stageId: id.optional(),
  court: text(160).default(''),
  leadId: id.optional(),
  userId: id.optional(),
  partyId: id.optional(),
  tag: text(40).default(''),
  openedFrom: day.optional(),
  openedTo: day.optional(),
  idleSince: day.optional(),
  unbilledOver: z.coerce.number().int().min(0).max(mostMoney.sum).optional(),
  heldOver: z.coerce.number().int().min(0).max(mostMoney.sum).optional(),
  conflicts: z.enum(['', 'open']).default(''),
  fieldId: id.optional(),
  fieldIs: text(120).default(''),
  followed: z.stringbool().default(false),
}
export type MatterFilter = z.infer<z.ZodObject<typeof filterIn>>
const sorting = {
  sort: z.enum(['active', 'number', 'name', 'client', 'opened', 'closed']).default('active'),
}

/** `stake`: unbilled and owed together. `held`, `cleared`, and by how much `stake` is more than is held, for those who see the trust money. */
const figures = z.object({ unbilled: cents, owed: cents, stake: cents, oldestDue: dayOut.nullable(), held: cents.nullable(), cleared: cents.nullable(), short: cents.nullable() }) // prettier-ignore
export const matterOut = z.object({
  id: z.number(),
  number: z.string(),
  secondNumber: z.string(),
  kind: z.enum(matterKinds),
  name: z.string(),
  shortName: z.string(),
  clientId: z.number(),
  client: z.string(),
  clients: z.array(z.object({ id: z.number(), name: z.string() })),
  areaId: z.number().nullable(),
  area: z.string(),
  stageId: z.number().nullable(),
  stages: z.array(z.object({ id: z.number(), name: z.string(), days: z.number() })),
  openedOn: dayOut,
  closedOn: dayOut.nullable(),
  description: z.string(),
  court: z.string(),
  caseNumber: z.string(),
  judge: z.object({ id: z.number(), name: z.string() }).nullable(),
  ourSide: z.string(),
  ruleSetKey: z.string().nullable(),
  leadId: z.number(),
  lead: z.string(),
  originating: z.object({ id: z.number(), name: z.string() }).nullable(),
  tags: z.array(z.string()),
  fields: fieldValues,
  /** Names of contacts that fields point at, by id. */
  fieldNames: z.record(z.string(), z.string()),
  version: z.number(),
  billing: z.enum(arrangements),
  billToId: z.number().nullable(),
  billTo: z.string().nullable(),
  /** Empty where whom to bill bears all. */
  payers: z.array(
    z.object({ contactId: z.number(), name: z.string(), fixed: cents.nullable(), basisPoints: z.number().nullable(), share: z.string() }),
  ),
  team: z.array(
    z.object({
      userId: z.number(),
      name: z.string(),
      initials: z.string(),
      role: z.string(),
      keeps: z.boolean(),
      rate: cents.nullable(),
      since: dayOut,
      active: z.boolean(),
      grants: z.object({ file: level, docket: level, papers: level, money: level, trust: level }),
    }),
  ),
  staff: z.object({ file: level, docket: level, papers: level, money: level, trust: level }),
  screens: z.array(z.object({ userId: z.number(), name: z.string(), reason: z.string(), since: dayOut.nullable() })),
  /** What the reader may do here, by part. */
  own: z.object({ file: level, docket: level, papers: level, money: level, trust: level, keeps: z.boolean(), follows: z.boolean() }),
  parties: z.array(
    z.object({
      id: z.number(),
      contactId: z.number(),
      name: z.string(),
      role: z.string(),
      side: z.enum(sides),
      counsel: z.string(),
      counselId: z.number().nullable(),
      servedOn: dayOut.nullable(),
    }),
  ),
  portions: z.array(z.object({ id: z.number(), label: z.string(), amount: cents, earnedOn: dayOut.nullable(), billed: z.boolean() })),
  next: z.object({ title: z.string(), day: dayOut }).nullable(),
  tasks: z.object({ open: z.number(), today: z.number() }),
  /** Null for those who may not see money. */
  figures: figures.nullable(),
  counts: z.object({
    docket: z.number(),
    tasks: z.number(),
    papers: z.number(),
    bills: z.number(),
    parties: z.number(),
    notes: z.number(),
  }),
  missing: z.array(z.string()),
  conflictState: z.enum(conflictStates),
  closingNote: z.string(),
  enquiryId: z.number().nullable(),
  conflicts: conflictCheck.nullable(),
})

const seen = {
  userId: z.number(),
  name: z.string(),
}
export const matterLogRow = z.object({
  id: z.number(),
  at: z.string(),
  who: z.string(),
  userId: z.number().nullable(),
  kind: z.string(),
  text: z.string(),
  /** What changed, by what it is called: before and after. */
  changes: z.array(z.object({ what: z.string(), was: z.string(), became: z.string() })),
})

export const matters = {
  list: route('matters.see', 'GET', '/matters', 'Matters that the reader may see')
    .input(
      z.object({
        ...filterIn,
        ...sorting,
        money: z.stringbool().default(false),
        /** Firm-defined fields to show, by id, with commas between. */
        fields: text(200).default(''),
        ...page,
      }),
    )
    .output(pageOf(matterRow)),
  totals: route('matters.see', 'GET', '/matters/totals', 'Sums over all matters of a filter')
    .input(z.object(filterIn))
    .output(z.object({ matters: z.number(), unbilled: cents.nullable(), owed: cents.nullable(), held: cents.nullable() })),
  exported: route('matters.see', 'GET', '/matters/export', 'Matters of a filter as CSV, with the columns shown')
    .input(z.object({ ...filterIn, ...sorting, columns: text(600).default('') }))
    .output(fileOut),
  facets: route('matters.see', 'GET', '/matters/facets', 'Courts and tags in use, for filters').output(
    z.object({ courts: z.array(z.string()), tags: z.array(z.string()) }),
  ),
  setting: route('matters.see', 'GET', '/matters/setting', 'What is needed to open a matter').output(
    z.object({
      nextNumber: z.string(),
      areas: z.array(
        z.object({
          id: z.number(),
          name: z.string(),
          ruleSetKey: z.string().nullable(),
          open: z.boolean(),
          stages: z.array(z.object({ id: z.number(), name: z.string() })),
          team: z.array(z.object({ userId: z.number(), role: z.enum(teamRoles) })),
          procedureIds: z.array(z.number()),
        }),
      ),
      ruleSets: z.array(z.object({ key: z.string(), title: z.string(), court: z.string(), unreachable: z.string().nullable() })),
      fees: z.array(
        z.object({
          id: z.number(),
          name: z.string(),
          areaId: z.number().nullable(),
          portions: z.array(z.object({ label: z.string(), amount: cents })),
        }),
      ),
      staff: z.array(
        z.object({ id: z.number(), name: z.string(), initials: z.string(), role: z.string(), title: z.string(), rate: cents.nullable() }),
      ),
    }),
  ),
  get: route('matters.see', 'GET', '/matters/{id}', 'A matter with its band of figures').input(withId).output(matterOut),
  recent: route('matters.see', 'GET', '/matters/recent', 'Matters the reader opened last').output(
    z.array(z.object({ id: z.number(), number: z.string(), name: z.string() })),
  ),
  open: route('matters.open', 'POST', '/matters', 'Open a matter', longBody)
    .input(matterIn)
    .output(made.extend({ number: z.string() })),
  change: route('matters.open', 'PUT', '/matters/{id}', 'Change what a file says of its matter').input(matterChange).output(ok),
  setFields: route('matters.open', 'PUT', '/matters/{id}/fields', 'Fill in the firm’s own fields')
    .input(z.object({ id, fields: fieldValues }))
    .output(ok),
  place: route('matters.open', 'PUT', '/matters/{id}/place', 'Move a matter to another column of a board')
    .input(matterPlace)
    .output(z.object({ /** Of another lead, how they stood before. */ before: standing.nullable() })),
  setStage: route('matters.open', 'PUT', '/matters/{id}/stage', 'Move a matter to a stage')
    .input(z.object({ id, stageId: id }))
    .output(ok),
  ...arrangementRoutes,
  setBilling: route('bills.review', 'PUT', '/matters/{id}/billing', 'Say whom to bill')
    .input(z.object({ id, billToId: id, payers: payersIn }))
    .output(ok),
  setTeam: route('matters.open', 'PUT', '/matters/{id}/team', 'Put someone on the team, or change what they may do')
    .input(teamIn.extend({ id }))
    .output(ok),
  leaveTeam: route('matters.open', 'DELETE', '/matters/{id}/team/{userId}', 'Take someone off the team')
    .input(z.object({ id, userId: id }))
    .output(ok),
  setAccess: route('matters.open', 'PUT', '/matters/{id}/access', 'Say what all staff may see and change')
    .input(z.object({ id, staff: grants }))
    .output(ok),
  screen: route('matters.open', 'POST', '/matters/{id}/screens', 'Screen a person from a matter')
    .input(z.object({ id, userId: id, reason: text(300).default('') }))
    .output(ok),
  unscreen: route('matters.open', 'DELETE', '/matters/{id}/screens/{userId}', 'Take a screen down')
    .input(z.object({ id, userId: id }))
    .output(ok),
  follow: route('matters.see', 'PUT', '/matters/{id}/follow', 'Follow a matter, or no longer')
    .input(z.object({ id, on: z.boolean() }))
    .output(ok),
  addParty: route('matters.open', 'POST', '/matters/{id}/parties', 'Add a party; it is checked for conflicts')
    .input(partyIn.extend({ id }))
    .output(conflictCheck),
  changeParty: route('matters.open', 'PUT', '/parties/{id}', 'Change a party’s role, side, counsel or service')
    .input(partyStands.extend({ id, seen: partyStands.optional() }))
    .output(ok),
  removeParty: route('matters.open', 'DELETE', '/parties/{id}', 'Take a party out').input(withId).output(ok),
  earnPortion: route('bills.review', 'POST', '/fee-portions/{id}/earned', 'Say that a stage of a flat fee is earned')
    .input(z.object({ id, day }))
    .output(ok),
  closing: route('matters.see', 'GET', '/matters/{id}/closing', 'What is still open before a matter is closed')
    .input(withId)
    .output(z.array(z.object({ key: z.string(), text: z.string(), blocks: z.boolean() }))),
  close: route('matters.open', 'POST', '/matters/{id}/closed', 'Close a matter')
    .input(z.object({ id, day, note: text(500).default(''), accepted: z.array(text(40)).max(20).default([]) }))
    .output(ok),
  reopen: route('matters.open', 'POST', '/matters/{id}/reopened', 'Reopen a closed matter')
    .input(z.object({ id, reason: needed('Say why it is reopened', 300) }))
    .output(z.object({ dates: z.number() })),
  remove: route('matters.open', 'DELETE', '/matters/{id}', 'Delete a matter that never had work on it').input(withId).output(ok),
  log: route('matters.see', 'GET', '/matters/{id}/log', 'What happened on a matter, newest first')
    .input(
      z.object({
        id,
        kind: text(40).default(''),
        userId: z.coerce.number().int().optional(),
        from: day.optional(),
        to: day.optional(),
        ...page,
      }),
    )
    .output(pageOf(matterLogRow).extend({ kinds: z.array(z.string()), people: z.array(z.object(seen)) })),
  news: route('matters.see', 'GET', '/matters/{id}/news', 'What others did on a matter since an entry of its log')
    .input(z.object({ id, after: z.coerce.number().int().min(0) }))
    .output(
      z.object({
        /** The newest entry, one’s own too; where to ask from next time. */
        last: z.number(),
        others: z.array(z.object({ id: z.number(), at: z.string(), who: z.string(), text: z.string() })),
      }),
    ),
}
