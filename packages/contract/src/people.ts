import { relationKindNames } from '@heron/core/people'
import { z } from 'zod'
import {
  amountOrNone,
  cents,
  day,
  dayOut,
  fileOut,
  hour,
  id,
  made,
  needed,
  ok,
  page,
  pageOf,
  route,
  text,
  upload,
  whole,
  withId,
} from './base'
import { reachKinds, aliasKinds } from './names'
import { fieldValues } from './fields'

/** Kinds every firm starts with; a firm adds its own. */
export const contactKinds = [
  'client',
  'prospective client',
  'opposing party',
  'opposing counsel',
  'co-counsel',
  'judge',
  'court staff',
  'court reporter',
  'interpreter',
  'expert',
  'witness',
  'medical provider',
  'vendor',
  'payee',
  'insurer',
] as const

const email = z.union([z.literal(''), z.string().max(190, { abort: true }).pipe(z.email('This is not an e-mail address'))])
export const reach = z
  .object({ what: z.enum(reachKinds), label: text(40).default(''), value: needed('Fill this in or take the line out', 400) })
  .refine((r) => r.what !== 'e-mail' || (r.value.length <= 190 && z.email().safeParse(r.value).success), {
    path: ['value'],
    error: 'This is not an e-mail address',
  })
export const alias = z.object({ kind: z.enum(aliasKinds), name: needed('Give the name') })

export const contactIn = z.object({
  kind: z.enum(['person', 'organization']),
  name: needed('Give a name'),
  greeting: text(120).default(''),
  email: email.default(''),
  phone: text(40).default(''),
  address: text(400).default(''),
  notes: text(4000).default(''),
  kinds: z.array(needed('Give the kind', 40)).max(20).default([]),
  birthDate: day.nullable().default(null),
  language: text(20).default(''),
  pronouns: text(40).default(''),
  taxNumber: text(40).default(''),
  isPrivate: z.boolean().default(false),
  aliases: z.array(alias).max(30).default([]),
  /** All e-mails, phones and addresses; where left out, the single ones above are taken. */
  reaches: z.array(reach).max(30).optional(),
  fields: fieldValues.optional(),
  /** The version that was read; a change made meanwhile by someone else is then refused. */
  version: z.number().int().optional(),
})
export type ContactIn = z.infer<typeof contactIn>

const part = z.object({
  matterId: z.number(),
  number: z.string(),
  name: z.string(),
  part: z.string(),
  open: z.boolean(),
  openedOn: dayOut,
})
export const contactRow = z.object({
  id: z.number(),
  kind: z.enum(['person', 'organization']),
  name: z.string(),
  email: z.string(),
  phone: z.string(),
  kinds: z.array(z.string()),
  matters: z.number(),
  isPrivate: z.boolean(),
})
const relation = z.object({
  id: z.number(),
  otherId: z.number(),
  other: z.string(),
  kind: z.string(),
  /** How the other stands to this one, in words. */
  reads: z.string(),
  title: z.string(),
})
export const contactOut = contactRow.extend({
  greeting: z.string(),
  address: z.string(),
  notes: z.string(),
  birthDate: dayOut.nullable(),
  language: z.string(),
  pronouns: z.string(),
  taxNumber: z.string(),
  aliases: z.array(z.object({ kind: z.enum(aliasKinds), name: z.string() })),
  reaches: z.array(z.object({ what: z.enum(reachKinds), label: z.string(), value: z.string() })),
  relations: z.array(relation),
  fields: fieldValues,
  /** Names of contacts that fields point at, by id. */
  fieldNames: z.record(z.string(), z.string()),
  version: z.number(),
  parts: z.array(part),
  money: z.object({ owed: cents, held: cents.nullable() }).nullable(),
  mergedFrom: z.array(z.object({ name: z.string(), at: z.string(), by: z.string() })),
  enquiries: z.array(z.object({ id: z.number(), about: z.string(), state: z.string(), at: z.string() })),
})

export const decisions = ['no conflict', 'waiver needed', 'waiver on file', 'decline'] as const
export const conflictHit = z.object({
  id: z.number(),
  term: z.string(),
  name: z.string(),
  reason: z.string(),
  reasons: z.array(z.string()),
  score: z.number(),
  matters: z.array(z.object({ text: z.string() })),
  decision: z.enum(decisions).nullable(),
  note: z.string(),
  decidedBy: z.string().nullable(),
  decidedAt: z.string().nullable(),
})
export const conflictCheck = z.object({
  id: z.number(),
  madeAt: z.string(),
  madeBy: z.string(),
  terms: z.array(z.string()),
  namesOnRecord: z.number(),
  about: z.string(),
  note: z.string(),
  moreHits: z.number(),
  matterId: z.number().nullable(),
  matter: z.string().nullable(),
  hits: z.array(conflictHit),
})
const term = z.union([
  needed('Give a name').transform((name) => ({ name, contactId: null as number | null })),
  z.object({ name: needed('Give a name'), contactId: id.nullable().default(null) }),
])

export const enquiryIn = z.object({
  contactId: id.nullable().default(null),
  name: text(200).default(''),
  kind: z.enum(['person', 'organization']).default('person'),
  email: email.default(''),
  phone: text(40).default(''),
  about: text(4000).default(''),
  adverse: z.array(needed('Give a name')).max(20).default([]),
  source: text(120).default(''),
  areaId: id.nullable().default(null),
  nextStep: text(200).default(''),
  nextOn: day.nullable().default(null),
  consultOn: day.nullable().default(null),
  consultAt: z.union([z.null(), hour]).default(null),
  consultMinutes: whole(5, 600, 'Give the minutes').nullable().default(null),
  consultFee: amountOrNone.nullable().default(null),
  ownerId: id.nullable().default(null),
})
export type EnquiryIn = z.infer<typeof enquiryIn>
/** An enquiry as it was read. */
const enquirySeen = enquiryIn.omit({ kind: true, name: true, email: true, phone: true })
export type EnquirySeen = z.infer<typeof enquirySeen>
export const enquiryOut = z.object({
  id: z.number(),
  contactId: z.number(),
  name: z.string(),
  email: z.string(),
  phone: z.string(),
  about: z.string(),
  adverse: z.array(z.string()),
  source: z.string(),
  areaId: z.number().nullable(),
  area: z.string().nullable(),
  nextStep: z.string(),
  nextOn: dayOut.nullable(),
  consultOn: dayOut.nullable(),
  consultAt: z.string().nullable(),
  consultMinutes: z.number().nullable(),
  consultFee: z.number().nullable(),
  state: z.enum(['open', 'matter', 'declined']),
  reason: z.string(),
  matterId: z.number().nullable(),
  matter: z.string().nullable(),
  conflictCheckId: z.number().nullable(),
  hitsOpen: z.number().nullable(),
  ownerId: z.number(),
  owner: z.string(),
  at: z.string(),
})

const mergeMove = z.object({ what: z.string(), count: z.number() })

export const people = {
  list: route('people.see', 'GET', '/contacts', 'People and organizations')
    .input(z.object({ q: text(80).default(''), kind: text(40).default(''), ...page }))
    .output(pageOf(contactRow)),
  near: route('people.see', 'GET', '/contacts/near', 'Contacts whose names are spelled or sound like what was typed')
    .input(z.object({ q: text(80) }))
    .output(z.array(contactRow)),
  get: route('people.see', 'GET', '/contacts/{id}', 'One contact with the matters it touches').input(withId).output(contactOut),
  kinds: route('people.see', 'GET', '/contact-kinds', 'Kinds of contacts').output(z.array(z.string())),
  make: route('people.change', 'POST', '/contacts', 'Make a contact').input(contactIn).output(made),
  change: route('people.change', 'PUT', '/contacts/{id}', 'Change a contact').input(contactIn.extend({ id })).output(ok),
  relate: route('people.change', 'POST', '/contacts/{id}/relations', 'Say how two contacts stand to each other')
    .input(
      z.object({
        id,
        otherId: id,
        kind: z.enum(relationKindNames as [string, ...string[]]),
        inverse: z.boolean().default(false),
        title: text(120).default(''),
      }),
    )
    .output(made),
  unrelate: route('people.change', 'DELETE', '/relations/{id}', 'Take a relation out').input(withId).output(ok),
  alike: route('people.change', 'GET', '/contacts/{id}/alike', 'Records that may be the same one')
    .input(withId)
    .output(z.array(z.object({ id: z.number(), name: z.string(), score: z.number(), reason: z.string() }))),
  mergePreview: route('people.change', 'GET', '/contacts/{id}/merge/{otherId}', 'What merging another record into this one would move')
    .input(z.object({ id, otherId: id }))
    .output(
      z.object({
        keep: z.object({ id: z.number(), name: z.string() }),
        merge: z.object({ id: z.number(), name: z.string() }),
        moves: z.array(mergeMove),
        /** What both have and differs: the kept one's stands, the other's goes into notes or names. */
        differs: z.array(z.object({ what: z.string(), kept: z.string(), other: z.string(), goes: z.string() })),
        /** Trust money that would come under another name; null where none is touched. */
        trust: z
          .object({
            ledgers: z.number(),
            held: cents.nullable(),
            may: z.boolean(),
            /** They are different people: a second person must say so too. */
            second: z.boolean(),
            askedBy: z.string().nullable(),
            askedByYou: z.boolean(),
          })
          .nullable(),
      }),
    ),
  merge: route('people.change', 'POST', '/contacts/{id}/merge', 'Merge another record into this one')
    .input(z.object({ id, otherId: id }))
    .output(z.object({ merged: z.boolean() })),
  exported: route('people.see', 'GET', '/contacts/export', 'Contacts as vCard 4.0 or CSV')
    .input(z.object({ format: z.enum(['vcard', 'csv']), q: text(80).default(''), kind: text(40).default(''), id: id.optional() }))
    .output(fileOut),
  readCards: route('people.change', 'POST', '/contacts/cards', 'Read contacts from a vCard file', upload(10_000_000))
    .input(
      z.object({
        file: z.file({ error: 'Choose a file' }).max(10_000_000, 'Files may be up to 10 MB'),
        tryOnly: z.stringbool().default(false),
      }),
    )
    .output(z.object({ made: z.number(), alike: z.number(), faults: z.array(z.object({ row: z.number(), text: z.string() })) })),

  checks: route('matters.open', 'GET', '/conflict-checks', 'Conflict checks that were made, newest first')
    .input(z.object({ undecided: z.stringbool().default(false), ...page }))
    .output(
      pageOf(
        z.object({
          id: z.number(),
          madeAt: z.string(),
          madeBy: z.string(),
          terms: z.array(z.string()),
          about: z.string(),
          matterId: z.number().nullable(),
          matter: z.string().nullable(),
          hits: z.number(),
          open: z.number(),
        }),
      ),
    ),
  checkConflicts: route('matters.open', 'POST', '/conflict-checks', 'Check names for conflicts and keep the record')
    .input(
      z.object({
        terms: z.array(term).min(1, 'Give a name to check').max(40),
        ours: z.array(text(200)).max(40).default([]),
        about: text(200).default(''),
        /** The check before it of the same opening, which gives way to it. */
        replaces: id.nullable().default(null),
      }),
    )
    .output(conflictCheck),
  getCheck: route('matters.open', 'GET', '/conflict-checks/{id}', 'A kept conflict check').input(withId).output(conflictCheck),
  checkPdf: route('matters.open', 'GET', '/conflict-checks/{id}/pdf', 'The record of a conflict check as PDF')
    .input(withId)
    .output(fileOut),
  decideHit: route('matters.open', 'POST', '/conflict-hits/{id}/decision', 'Decide on a hit')
    .input(z.object({ id, decision: z.enum(decisions), note: text(500).default('') }))
    .output(ok),

  enquiries: route('people.see', 'GET', '/enquiries', 'Enquiries, those with the next step due first')
    .input(z.object({ state: z.enum(['open', 'matter', 'declined', 'all']).default('open'), q: text(80).default(''), ...page }))
    .output(pageOf(enquiryOut)),
  getEnquiry: route('people.see', 'GET', '/enquiries/{id}', 'One enquiry').input(withId).output(enquiryOut),
  makeEnquiry: route('people.change', 'POST', '/enquiries', 'Take an enquiry').input(enquiryIn).output(made),
  changeEnquiry: route('people.change', 'PUT', '/enquiries/{id}', 'Change an enquiry')
    /** `seen`: the enquiry as it was read; where it stands otherwise by then, nothing is done. */
    .input(enquiryIn.extend({ id, seen: enquirySeen.optional() }))
    .output(ok),
  checkEnquiry: route('matters.open', 'POST', '/enquiries/{id}/conflicts', 'Check the names of an enquiry for conflicts')
    .input(withId)
    .output(conflictCheck),
  decline: route('people.change', 'POST', '/enquiries/{id}/declined', 'Decline an enquiry; it stays on record')
    .input(z.object({ id, reason: needed('Say why it is declined', 400) }))
    .output(ok),
  takeUp: route('people.change', 'POST', '/enquiries/{id}/open-again', 'Take a declined enquiry up again').input(withId).output(ok),
}
