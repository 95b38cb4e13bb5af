import ICAL from 'ical.js'
import { isDay, type Day } from '../calendar'
import { splitPersonName } from '../people'

/** A contact as vCard carries it. Properties without a place in RFC 6350 are written as extensions (`X-HERON-…`). */
export interface Card {
  uid: string
  kind: 'person' | 'organization'
  name: string
  greeting: string
  aliases: { kind: string; name: string }[]
  reaches: { what: 'e-mail' | 'phone' | 'address'; label: string; value: string }[]
  birthDate: Day | null
  language: string
  /** Of a person's own choice, such as she/her (RFC 9554). */
  pronouns: string
  taxNumber: string
  notes: string
  kinds: string[]
  /** How it stands to others, by their names: `works for` with the title, `spouse of` … */
  relations: { kind: string; name: string; title: string }[]
  /** Values of the firm's own fields by merge key and item. */
  fields: { key: string; item: number; value: string }[]
}

const emptyCard: Card = {
  uid: '',
  kind: 'person',
  name: '',
  greeting: '',
  aliases: [],
  reaches: [],
  birthDate: null,
  language: '',
  pronouns: '',
  taxNumber: '',
  notes: '',
  kinds: [],
  relations: [],
  fields: [],
}

const param = (label: string) =>
  label
    .toLowerCase()
    .replace(/[";:,\r\n]/g, ' ')
    .trim()

/** Contacts as vCard 4.0 (RFC 6350), one card after another. */
export function writeCards(cards: readonly Card[]): string {
  return cards.map(writeCard).join('')
}

function writeCard(c: Card): string {
  const card = new ICAL.Component(['vcard', [], []])
  const add = (name: string, value: string | string[], params: Record<string, string> = {}) => {
    const property = new ICAL.Property(name, card)
    for (const [k, v] of Object.entries(params)) if (v) property.setParameter(k, v)
    if (typeof value === 'string') property.setValue(value)
    else property.setValue(value as never)
    card.addProperty(property)
  }
  add('version', '4.0')
  if (c.uid) add('uid', `urn:uuid:${c.uid}`)
  add('kind', c.kind === 'person' ? 'individual' : 'org')
  add('fn', c.name)
  if (c.kind === 'person') {
    const n = splitPersonName(c.name)
    add('n', [n.family, n.given, '', n.prefix, n.suffix])
  }
  for (const a of c.aliases)
    add(a.kind === 'nickname' ? 'nickname' : 'x-heron-name', a.name, a.kind === 'nickname' ? {} : { type: param(a.kind) })
  for (const r of c.reaches)
    if (r.what === 'e-mail') add('email', r.value, { type: param(r.label) })
    else if (r.what === 'phone') add('tel', r.value, { type: param(r.label), value: 'text' })
    else add('adr', ['', '', r.value, '', '', '', ''], { type: param(r.label) })
  if (c.birthDate) add('bday', c.birthDate, { value: 'text' })
  if (c.language) add('x-heron-language', c.language)
  if (c.pronouns) add('pronouns', c.pronouns)
  if (c.taxNumber) add('x-heron-tax-number', c.taxNumber)
  if (c.greeting) add('x-heron-greeting', c.greeting)
  if (c.notes) add('note', c.notes)
  for (const k of c.kinds) add('x-heron-kind', k)
  const employer = c.relations.find((r) => r.kind === 'works for')
  if (employer) {
    add('org', [employer.name])
    if (employer.title) add('title', employer.title)
  }
  for (const r of c.relations)
    if (r !== employer) add('related', r.name, { type: param(r.kind), value: 'text', ...(r.title ? { 'x-title': param(r.title) } : {}) })
  for (const f of c.fields) add('x-heron-field', f.value, { field: f.key, item: String(f.item) })
  return `${card.toString()}\r\n`
}

const textOf = (v: unknown): string =>
  Array.isArray(v) ? v.map(textOf).filter(Boolean).join('\n') : v === null || v === undefined ? '' : String(v as string)

/**
 * Reads cards of version 4.0 or 3.0. Each card that cannot be read is told by its place, and the others are read.
 */
export function readCards(text: string): { cards: Card[]; faults: { row: number; text: string }[] } {
  const cards: Card[] = []
  const faults: { row: number; text: string }[] = []
  const parts = text
    .replace(/^\uFEFF/, '')
    .split(/(?<=^END:VCARD[ \t]{0,8}\r?\n?)/im)
    .filter((p) => p.trim())
  parts.forEach((part, i) => {
    try {
      const parsed = ICAL.parse(part.trim()) as [string, unknown[], unknown[]]
      const card = readCard(new ICAL.Component(parsed as never))
      if (card.name) cards.push(card)
      else faults.push({ row: i + 1, text: 'This card has no name (FN)' })
    } catch {
      faults.push({ row: i + 1, text: 'This is not a card: it must go from BEGIN:VCARD to END:VCARD' })
    }
  })
  return { cards, faults }
}

function readCard(v: InstanceType<typeof ICAL.Component>): Card {
  const all = (name: string) => v.getAllProperties(name)
  const first = (name: string) => textOf(v.getFirstPropertyValue(name)).trim()
  const label = (p: InstanceType<typeof ICAL.Property>) =>
    textOf(p.getParameter('type'))
      .split('\n')[0]!
      .toLowerCase()
      .replace(/^(pref|internet|voice)$/, '')
  const structured = (p: InstanceType<typeof ICAL.Property>) => textOf(p.getValues().flat()).split('\n').filter(Boolean).join('\n')
  const org = v.getFirstProperty('org')
  const name = first('fn') || structuredName(v)
  const card: Card = {
    ...emptyCard,
    uid: /([0-9a-f]{8}-[0-9a-f-]{27})/i.exec(first('uid'))?.[1]?.toLowerCase() ?? '',
    kind:
      first('kind').toLowerCase() === 'org' || (!v.getFirstProperty('n') && org && structured(org) === name) ? 'organization' : 'person',
    name,
    greeting: first('x-heron-greeting'),
    language: first('x-heron-language') || first('lang'),
    pronouns: first('pronouns'),
    taxNumber: first('x-heron-tax-number'),
    notes: all('note')
      .map((p) => textOf(p.getFirstValue()))
      .join('\n'),
    kinds: [...all('x-heron-kind').map((p) => textOf(p.getFirstValue())), ...all('categories').flatMap((p) => p.getValues().map(textOf))],
    aliases: [
      ...all('nickname').flatMap((p) => p.getValues().map((n) => ({ kind: 'nickname', name: textOf(n) }))),
      ...all('x-heron-name').map((p) => ({ kind: textOf(p.getParameter('type')), name: textOf(p.getFirstValue()) })),
    ],
    reaches: v.getAllProperties().flatMap((p): Card['reaches'] => {
      if (p.name === 'email') return [{ what: 'e-mail', label: label(p), value: textOf(p.getFirstValue()) }]
      if (p.name === 'tel') return [{ what: 'phone', label: label(p), value: textOf(p.getFirstValue()).replace(/^tel:/i, '') }]
      if (p.name === 'adr') return structured(p) ? [{ what: 'address', label: label(p), value: structured(p) }] : []
      return []
    }),
    relations: [
      ...(org && structured(org) !== name ? [{ kind: 'works for', name: structured(org).split('\n')[0]!, title: first('title') }] : []),
      ...all('related').map((p) => ({
        kind: textOf(p.getParameter('type')),
        name: textOf(p.getFirstValue()),
        title: textOf(p.getParameter('x-title')),
      })),
    ],
    fields: all('x-heron-field').map((p) => ({
      key: textOf(p.getParameter('field')),
      item: Number(textOf(p.getParameter('item')) || 0),
      value: textOf(p.getFirstValue()),
    })),
  }
  const born = first('bday')
    .replace(/^(\d{4})(\d{2})(\d{2}).*$/, '$1-$2-$3')
    .slice(0, 10)
  return { ...card, birthDate: isDay(born) ? born : null }
}

function structuredName(v: InstanceType<typeof ICAL.Component>): string {
  const n = v.getFirstProperty('n')
  if (!n) return ''
  const [family, given, more, prefix, suffix] = (n.getFirstValue() as unknown as unknown[]).map(textOf)
  return [prefix, given, more, family, suffix].filter(Boolean).join(' ')
}
