import type { ContactIn } from '@heron/contract'
import { isFollowed, normalizeName, normalizeReach } from '@heron/core/people'
import { randomUUID } from 'node:crypto'
import type { EntityManager } from 'typeorm'
import { writeFields } from '../fields'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertMany, insertRow, locked, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { contactRenamed } from '../platform/renamed'
import { Contact, ContactRelation } from './entities'
import { dropNames, recordNames } from './names'
import { contactKindsOf, contactsOpen, dropParts, ownParts, type Reach, relatedAlready, requireContact } from './contact-queries'

/** E-mails, phones and addresses of the input; the single ones where the list was left out. */
function reachesOf(input: ContactIn): Reach[] {
  if (input.reaches) return input.reaches
  const single: Reach[] = [
    { what: 'e-mail', label: 'work', value: input.email },
    { what: 'phone', label: 'work', value: input.phone },
    { what: 'address', label: 'mail', value: input.address },
  ]
  return single.filter((r) => r.value)
}
const firstOf = (list: readonly Reach[], what: Reach['what']) => list.find((r) => r.what === what)?.value ?? ''

/** All names under which a contact is to be found. */
const namesOf = (contactId: number, input: Pick<ContactIn, 'name' | 'aliases'>) => [
  { contactId, enquiryId: null, what: 'name', name: input.name },
  ...input.aliases.map((a) => ({ contactId, enquiryId: null, what: a.kind as string, name: a.name })),
]

async function kindsKnown(m: EntityManager, kinds: readonly string[]) {
  const known = new Set((await contactKindsOf(m)).map((k) => k.toLowerCase()))
  const strange = kinds.find((k) => !known.has(k.toLowerCase()))
  if (strange) throw fieldFault('kinds', `${strange} is not a kind of contact of this firm`)
}

async function writeParts(m: EntityManager, ctx: Ctx, id: number, input: ContactIn) {
  const reaches = reachesOf(input)
  for (const table of ['contact_kind', 'contact_alias', 'contact_reach']) await dropParts(m, table, id)
  if (input.kinds.length) {
    await kindsKnown(m, input.kinds)
    await insertMany(
      m,
      'contact_kind',
      ['contact_id', 'kind'],
      [...new Set(input.kinds)].map((k) => [id, k]),
    )
  }
  const aliases = [...new Map(input.aliases.map((a) => [`${a.kind} ${a.name}`, a])).values()]
  if (aliases.length)
    await insertMany(
      m,
      'contact_alias',
      ['contact_id', 'kind', 'name'],
      aliases.map((a) => [id, a.kind, a.name]),
    )
  const lines = [
    ...reaches.map((r) => [r.what, r.label, r.value, normalizeReach(r.what, r.value)]),
    ...(input.taxNumber ? [['tax number', '', input.taxNumber, normalizeReach('tax number', input.taxNumber)]] : []),
  ]
  if (lines.length)
    await insertMany(
      m,
      'contact_reach',
      ['contact_id', 'ordinal', 'what', 'label', 'value', 'normalized'],
      lines.map((l, i) => [id, i + 1, ...l] as (string | number)[]),
    )
  await dropNames(m, { contactId: id })
  await recordNames(m, namesOf(id, { name: input.name, aliases }))
  if (input.fields) return writeFields(m, ctx, 'contact', id, input.fields, null)
  return null
}

const ownColumns = (ctx: Ctx, input: ContactIn) => {
  const reaches = reachesOf(input)
  return {
    kind: input.kind,
    name: input.name,
    normalized: normalizeName(input.name).slice(0, 200),
    greeting: input.greeting,
    email: firstOf(reaches, 'e-mail').slice(0, 190),
    phone: firstOf(reaches, 'phone').slice(0, 40),
    address: firstOf(reaches, 'address'),
    notes: input.notes,
    birthDate: input.birthDate,
    language: input.language,
    pronouns: input.pronouns,
    taxNumber: input.taxNumber,
    privateTo: input.isPrivate ? ctx.actor.id : null,
  }
}

export async function makeContactIn(m: EntityManager, ctx: Ctx, input: ContactIn, uid: string = randomUUID()): Promise<number> {
  const id = await insertRow(m, Contact, { ...ownColumns(ctx, input), uid, version: 1, createdAt: instant(ctx.clock.now()) })
  await writeParts(m, ctx, id, input)
  await audit(m, ctx, {
    kind: 'made',
    text: `Contact ${input.isPrivate ? 'of one’s own' : input.name} made`,
    subject: 'contact',
    subjectId: id,
  })
  return id
}

export const makeContact = (ctx: Ctx, input: ContactIn): Promise<{ id: number }> =>
  work(ctx, async (m) => ({ id: await makeContactIn(m, ctx, input) }))

export function changeContact(ctx: Ctx, id: number, input: ContactIn): Promise<void> {
  return work(ctx, async (m) => {
    const before = await requireContact(m, ctx, id, true)
    if (input.version !== undefined && input.version !== before.version)
      throw refused('changed-meanwhile', `Somebody else changed ${before.name} while you wrote. Nothing was written over.`)
    const was = await ownParts(m, id)
    await m.update(Contact, id, { ...ownColumns(ctx, input), version: before.version + 1 })
    const fields = await writeParts(m, ctx, id, input)
    const became = await ownParts(m, id)
    if (was.name !== became.name) await contactRenamed(m, id)
    await audit(m, ctx, {
      kind: 'changed',
      text: `Contact ${input.isPrivate ? 'of one’s own' : before.name} changed`,
      subject: 'contact',
      subjectId: id,
      detail: { ...differences(was, became), ...(fields ? { fields } : {}) },
    })
  })
}

/** What differs between two states of a record, by what is called what. */
export function differences<T extends object>(was: T, became: T): { was: Partial<T>; became: Partial<T> } {
  const changed = (Object.keys(became) as (keyof T)[]).filter((k) => JSON.stringify(was[k]) !== JSON.stringify(became[k]))
  const only = (of: T) => Object.fromEntries(changed.map((k) => [k, of[k]])) as Partial<T>
  return { was: only(was), became: only(became) }
}
export { ownParts as contactParts }

export interface RelationIn {
  otherId: number
  kind: string
  inverse: boolean
  title: string
}

export function relate(ctx: Ctx, id: number, input: RelationIn): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    const [own, other] = [await requireContact(m, ctx, id), await requireContact(m, ctx, input.otherId)]
    if (id === input.otherId) throw fieldFault('otherId', 'Choose someone else')
    const [from, to] = input.inverse ? [other, own] : [own, other]
    const there = await relatedAlready(m, input.kind, from.id, to.id)
    if (there) throw fieldFault('otherId', `It says so already: ${from.name} ${input.kind} ${to.name}`)
    const madeId = await insertRow(m, ContactRelation, { fromId: from.id, toId: to.id, kind: input.kind, title: input.title })
    await audit(m, ctx, { kind: 'changed', text: `${from.name} ${input.kind} ${to.name}`, subject: 'contact', subjectId: id })
    return { id: madeId }
  })
}

export function unrelate(ctx: Ctx, relationId: number): Promise<void> {
  return work(ctx, async (m) => {
    const r = await m.findOne(ContactRelation, {
      select: { fromId: true, toId: true, kind: true, id: true },
      where: { id: relationId },
      ...locked(m),
    })
    if (!r) throw notFound('relation')
    const [from, to] = [await requireContact(m, ctx, r.fromId), await requireContact(m, ctx, r.toId)]
    await m.delete(ContactRelation, { id: relationId })
    await audit(m, ctx, {
      kind: 'changed',
      text: `No longer: ${from.name} ${r.kind} ${to.name}`,
      subject: 'contact',
      subjectId: r.fromId,
      detail: { isFollowed: isFollowed(r.kind) },
    })
  })
}

/** Checks that all contacts named are on record and open to the actor; the path says which is not. */
export async function contactsThere(m: EntityManager, ctx: Ctx, wanted: readonly (readonly [path: string, id: number | null])[]) {
  const asked = wanted.filter((w): w is readonly [string, number] => w[1] !== null)
  if (!asked.length) return
  const found = await contactsOpen(m, ctx, asked)
  for (const [path, id] of asked) if (!found.some((f) => f.id === id)) throw fieldFault(path, 'Choose someone on record')
}
