import { contactInSchema, type ContactIn } from '@heron/contract'
import { readDay, type Day } from '@heron/core/calendar'
import { readFields } from '@heron/core/fields'
import { normalizeName, normalizeReach } from '@heron/core/people'
import { randomUUID } from 'node:crypto'
import type { EntityManager } from 'typeorm'
import { fieldGroups } from '../fields'
import { Contact, contactColumns, contactKindsOf, recordNames } from '../people'
import { instant } from '../platform/context'
import { insertMany, insertRow } from '../platform/database'
import type { Fault, Importer, Row } from './importer'
import { contactsKnown, contactsNamed, insertContacts, type Ready } from './queries'

const list = (text: string) =>
  text
    .split(/[;|]/)
    .map((x) => x.trim())
    .filter(Boolean)

/** Other headings under which people keep the same things. */
const known: Record<string, readonly string[]> = {
  Name: ['full name', 'contact', 'contact name', 'display name', 'company', 'organization'],
  'Person or organization': ['type', 'kind'],
  Kinds: ['category', 'categories', 'role', 'group'],
  'E-mail': ['email', 'mail', 'e mail address', 'email address'],
  Phone: ['telephone', 'tel', 'mobile', 'phone number'],
  Address: ['street address', 'mailing address'],
  'Date of birth': ['birthday', 'born', 'dob'],
  'Works for': ['employer', 'company name'],
  Title: ['job title', 'position'],
  Notes: ['note', 'comments', 'remarks'],
  Greeting: ['salutation'],
}

export const contactImporter: Importer<Ready> = {
  async fields(m) {
    const own = await fieldGroups(m, 'contact')
    return [
      ...contactColumns.map((key) => ({ key: key as string, label: key as string, needed: key === 'Name', known: known[key] ?? [] })),
      ...own.flatMap((g) =>
        g.fields.filter((f) => !f.retired).map((f) => ({ key: `f${f.id}`, label: f.name, needed: false, known: [f.mergeKey] })),
      ),
    ]
  },

  async judge(m, ctx, table, progress) {
    const kinds = await contactKindsOf(m)
    const groups = await fieldGroups(m, 'contact')
    const there = new Set((await contactsKnown(m)).map((x) => x.k))
    const good: Ready[] = []
    const faults: Fault[] = []
    for (const [i, row] of table.entries()) {
      const read = readContact(row, kinds, groups, ctx.clock.today())
      const key = `${normalizeName(row.get('Name'))}|${(read.ready?.input.reaches?.find((r) => r.what === 'e-mail')?.value ?? '').toLowerCase()}`
      if (read.ready && !key.endsWith('|')) {
        if (there.has(key))
          read.faults.push({
            row: row.number,
            column: 'Name',
            text: 'Someone of this name and e-mail is on record, or stands in this file already',
          })
        else there.add(key)
      }
      faults.push(...read.faults)
      if (read.ready && !read.faults.length) good.push(read.ready)
      if (i % 500 === 0) await progress((i / table.length) * 100)
    }
    return { good, faults }
  },

  async load(m, ctx, ready, progress) {
    const now = instant(ctx.clock.now())
    for (let at = 0; at < ready.length; at += 500) {
      await loadSlice(m, ready.slice(at, at + 500), now)
      await progress((at / ready.length) * 95)
    }
    await relate(m, ready, now)
  },
}

function readContact(
  row: Row,
  kinds: readonly string[],
  groups: Awaited<ReturnType<typeof fieldGroups>>,
  today: Day,
): { ready: Ready | null; faults: Fault[] } {
  const faults: Fault[] = []
  const fault = (column: string, text: string) => faults.push({ row: row.number, column, text })
  const type = row.get('Person or organization').toLowerCase()
  const organization =
    /org|comp|firm|business/.test(type) ||
    (!type &&
      !row.get('Title') &&
      !row.get('Works for') &&
      /\b(inc|llc|llp|ltd|corp|co|gmbh|company|trust|bank|association)\b\.?$/i.test(row.get('Name')))
  const own = list(row.get('Kinds')).map((k) => kinds.find((x) => x.toLowerCase() === k.toLowerCase()) ?? k)
  const strange = own.find((k) => !kinds.includes(k))
  if (strange) fault('Kinds', `${strange} is not a kind of contact of this firm. Add it in the set-up, or change it here.`)
  const born = row.get('Date of birth')
  const birthDate = born ? readDay(born, today) : null
  if (born && !birthDate) fault('Date of birth', `${born} is not a date. Write it like 1980-02-28.`)
  const alias = (column: string, kind: ContactIn['aliases'][number]['kind']) => list(row.get(column)).map((name) => ({ kind, name }))
  const input = {
    kind: organization ? 'organization' : 'person',
    name: row.get('Name'),
    greeting: row.get('Greeting'),
    notes: row.get('Notes'),
    kinds: own.filter((k) => kinds.includes(k)),
    birthDate,
    language: row.get('Language'),
    pronouns: row.get('Pronouns').slice(0, 40),
    taxNumber: row.get('Tax number'),
    aliases: [
      ...alias('Former names', 'former name'),
      ...alias('Nicknames', 'nickname'),
      ...alias('Trading names', 'trading name'),
      ...alias('Also known as', 'also known as'),
    ],
    reaches: [
      ...[row.get('E-mail'), ...list(row.get('More e-mails'))].filter(Boolean).map((value) => ({ what: 'e-mail', label: '', value })),
      ...[row.get('Phone'), ...list(row.get('More phones'))].filter(Boolean).map((value) => ({ what: 'phone', label: '', value })),
      ...[row.get('Address'), ...row.get('More addresses').split(/\n\s*\n/)]
        .filter((x) => x.trim())
        .map((value) => ({ what: 'address', label: '', value })),
    ],
  }
  const parsed = contactInSchema.safeParse(input)
  const columnOf: Record<string, string> = {
    name: 'Name',
    reaches: 'E-mail',
    notes: 'Notes',
    greeting: 'Greeting',
    language: 'Language',
    pronouns: 'Pronouns',
    taxNumber: 'Tax number',
    aliases: 'Also known as',
  }
  if (!parsed.success)
    for (const issue of parsed.error.issues) fault(columnOf[String(issue.path[0])] ?? String(issue.path[0]), issue.message)
  const values: Record<string, (string | string[])[]> = {}
  for (const g of groups)
    for (const f of g.fields) {
      const text = row.get(`f${f.id}`)
      if (text) values[f.id] = f.type === 'choices' ? [list(text)] : g.repeating ? list(text) : [text]
    }
  for (const f of readFields(groups, values, null).faults) fault(`f${f.fieldId}`, f.text)
  return {
    ready: parsed.success ? { row: row.number, input: parsed.data, worksFor: row.get('Works for'), title: row.get('Title'), values } : null,
    faults,
  }
}

/** Writes a slice in a few statements a table rather than a dozen a contact. */
async function loadSlice(m: EntityManager, slice: readonly Ready[], now: string) {
  const columns = [
    'kind',
    'name',
    'normalized',
    'greeting',
    'email',
    'phone',
    'address',
    'notes',
    'birth_date',
    'language',
    'pronouns',
    'tax_number',
    'uid',
    'created_at',
  ]
  const made = (await insertContacts(m, columns, slice, now)) as { insertId: number }
  const idOf = (i: number) => made.insertId + i
  const kinds = slice.flatMap(({ input }, i) => [...new Set(input.kinds)].map((k) => [idOf(i), k]))
  const aliases = slice.flatMap(({ input }, i) =>
    [...new Map(input.aliases.map((a) => [`${a.kind} ${a.name}`, a])).values()].map((a) => [idOf(i), a.kind, a.name]),
  )
  const reaches = slice.flatMap(({ input }, i) =>
    [...(input.reaches ?? []).map((r) => [r.what as string, r.value]), ...(input.taxNumber ? [['tax number', input.taxNumber]] : [])].map(
      ([what, value], n) => [idOf(i), n + 1, what!, value!, normalizeReach(what as 'phone', value!)],
    ),
  )
  if (kinds.length) await insertMany(m, 'contact_kind', ['contact_id', 'kind'], kinds)
  if (aliases.length) await insertMany(m, 'contact_alias', ['contact_id', 'kind', 'name'], aliases)
  if (reaches.length) await insertMany(m, 'contact_reach', ['contact_id', 'ordinal', 'what', 'value', 'normalized'], reaches)
  await recordNames(
    m,
    slice.flatMap(({ input }, i) => [
      { contactId: idOf(i), enquiryId: null, what: 'name', name: input.name },
      ...input.aliases.map((a) => ({ contactId: idOf(i), enquiryId: null, what: a.kind as string, name: a.name })),
    ]),
  )
  const groups = await fieldGroups(m, 'contact')
  const values = slice.flatMap((r, i) =>
    readFields(groups, r.values, null).kept.map((k) => [k.fieldId, idOf(i), k.item, k.value, k.sorted]),
  )
  if (values.length) await insertMany(m, 'field_value', ['field_id', 'owner_id', 'item', 'value', 'sorted'], values)
  slice.forEach((r, i) => ids.set(r, idOf(i)))
}
const ids = new WeakMap<Ready, number>()

/** Ties people to those they work for; employers that are not on record are made, each once. */
async function relate(m: EntityManager, ready: readonly Ready[], now: string) {
  const working = ready.filter((r) => r.worksFor)
  if (!working.length) return
  const names = [...new Set(working.map((r) => r.worksFor))]
  const found = new Map<string, number>()
  for (let at = 0; at < names.length; at += 500) for (const c of await contactsNamed(m, names, at)) found.set(c.name.toLowerCase(), c.id)
  for (const name of names.filter((n) => !found.has(n.toLowerCase()))) {
    const madeId = await insertRow(m, Contact, {
      kind: 'organization',
      name: name.slice(0, 200),
      normalized: normalizeName(name).slice(0, 200),
      uid: randomUUID(),
      createdAt: now,
    })
    await recordNames(m, [{ contactId: madeId, enquiryId: null, what: 'name', name: name.slice(0, 200) }])
    found.set(name.toLowerCase(), madeId)
  }
  const relations = working
    .map((r) => [ids.get(r)!, found.get(r.worksFor.toLowerCase())!, 'works for', r.title.slice(0, 120)])
    .filter(([a, b]) => a !== b)
  await insertMany(m, 'contact_relation', ['from_id', 'to_id', 'kind', 'title'], relations)
}
