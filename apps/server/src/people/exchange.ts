import { counted } from '@heron/core/words'
import { aliasKinds, type ContactIn } from '@heron/contract'
import { readCards, writeCards, writeTable, type Card } from '@heron/core/formats'
import { relationKindNames } from '@heron/core/people'
import { decodeText } from '@heron/core/formats'
import { IsNull, Not } from 'typeorm'
import { fieldGroups, writeFields } from '../fields'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { insertNew, work } from '../platform/database'
import { download } from '../platform/files'
import { fieldFault } from '../platform/problem'
import { makeContactIn } from './service'
import { contactKindsOf, contacts, requireContact } from './contact-queries'
import { Contact, ContactRelation } from './entities'
import { cardsOf } from './queries'

/** At most so many contacts go out in one file. */
const most = 100_000

/** Columns under which CSV carries contacts out, and under which the import knows them again. */
export const contactColumns = [
  'Name',
  'Person or organization',
  'Kinds',
  'Greeting',
  'E-mail',
  'Phone',
  'Address',
  'More e-mails',
  'More phones',
  'More addresses',
  'Former names',
  'Nicknames',
  'Trading names',
  'Also known as',
  'Date of birth',
  'Language',
  'Pronouns',
  'Tax number',
  'Works for',
  'Title',
  'Notes',
] as const

function csvRow(c: Card, keys: readonly string[]): string[] {
  const all = (what: Card['reaches'][number]['what']) => c.reaches.filter((r) => r.what === what).map((r) => r.value)
  const named = (kind: string) =>
    c.aliases
      .filter((a) => a.kind === kind)
      .map((a) => a.name)
      .join('; ')
  const employer = c.relations.find((r) => r.kind === 'works for')
  return [
    c.name,
    c.kind,
    c.kinds.join('; '),
    c.greeting,
    all('e-mail')[0] ?? '',
    all('phone')[0] ?? '',
    all('address')[0] ?? '',
    all('e-mail').slice(1).join('; '),
    all('phone').slice(1).join('; '),
    all('address').slice(1).join('\n\n'),
    named('former name'),
    named('nickname'),
    named('trading name'),
    named('also known as'),
    c.birthDate ?? '',
    c.language,
    c.pronouns,
    c.taxNumber,
    employer?.name ?? '',
    employer?.title ?? '',
    c.notes,
    ...keys.map((k) =>
      c.fields
        .filter((f) => f.key === k)
        .map((f) => f.value)
        .join('; '),
    ),
  ]
}

/** Contacts that the reader may see, as a file. */
export async function exportContacts(
  ctx: Ctx,
  f: { format: 'vcard' | 'csv'; q: string; kind: string; id?: number | undefined },
): Promise<File> {
  const m = ctx.db.manager
  const ids = f.id
    ? [(await requireContact(m, ctx, f.id)).id]
    : (await contacts(ctx, { q: f.q, kind: f.kind, page: 1, size: most })).rows.map((c) => c.id)
  const cards: Card[] = []
  for (let at = 0; at < ids.length; at += 2000) cards.push(...(await cardsOf(m, ids.slice(at, at + 2000))))
  await audit(m, ctx, {
    kind: 'read',
    text: `${counted(ids.length, 'contact')} written to a file`,
    subject: 'contact',
    subjectId: f.id ?? null,
  })
  if (f.format === 'vcard')
    return download(Buffer.from(writeCards(cards)), f.id ? `${cards[0]!.name}.vcf` : 'contacts.vcf', 'text/vcard; charset=utf-8')
  const keys = (await fieldGroups(m, 'contact')).flatMap((g) => g.fields.map((x) => x.mergeKey))
  const table = writeTable(
    [...contactColumns, ...keys],
    cards.map((c) => csvRow(c, keys)),
  )
  return download(Buffer.from(table), 'contacts.csv', 'text/csv; charset=utf-8')
}

const kindOfAlias = (kind: string): (typeof aliasKinds)[number] => aliasKinds.find((k) => k === kind) ?? 'also known as'

/** A card as the input of a contact; kinds the firm does not list go into the notes rather than being lost. */
function inputOf(card: Card, kinds: ReadonlySet<string>): ContactIn {
  const strange = card.kinds.filter((k) => !kinds.has(k))
  return {
    kind: card.kind,
    name: card.name.slice(0, 200),
    greeting: card.greeting.slice(0, 120),
    email: '',
    phone: '',
    address: '',
    notes: [card.notes, strange.length ? `Kinds: ${strange.join(', ')}` : ''].filter(Boolean).join('\n').slice(0, 4000),
    kinds: card.kinds.filter((k) => kinds.has(k)),
    birthDate: card.birthDate,
    language: card.language.slice(0, 20),
    pronouns: card.pronouns.slice(0, 40),
    taxNumber: card.taxNumber.slice(0, 40),
    isPrivate: false,
    aliases: card.aliases.filter((a) => a.name).map((a) => ({ kind: kindOfAlias(a.kind), name: a.name.slice(0, 200) })),
    reaches: card.reaches.filter((r) => r.value).map((r) => ({ ...r, label: r.label.slice(0, 40), value: r.value.slice(0, 400) })),
  }
}

/** Reads contacts from vCard, all or none. A card with the UID of one on record is that one, and is left as it is. */
export function readCardFile(ctx: Ctx, bytes: Uint8Array, tryOnly: boolean) {
  const { cards, faults } = readCards(decodeText(bytes).text)
  if (!cards.length && !faults.length) throw fieldFault('file', 'There is no card in this file. Choose a vCard file (.vcf).')
  return work(ctx, async (m) => {
    const kinds = new Set(await contactKindsOf(m))
    const groups = await fieldGroups(m, 'contact')
    const byKey = new Map(groups.flatMap((g) => g.fields.map((f) => [f.mergeKey, f] as const)))
    let made = 0
    let alike = 0
    const relating: { id: number; card: Card }[] = []
    for (const card of cards) {
      if (card.uid && (await m.existsBy(Contact, { uid: card.uid }))) {
        alike += 1
        continue
      }
      made += 1
      if (tryOnly || faults.length) continue
      const id = await makeContactIn(m, ctx, inputOf(card, kinds), card.uid || undefined)
      const values: Record<string, (string | string[])[]> = {}
      for (const f of card.fields) {
        const def = byKey.get(f.key)
        if (!def) continue
        const items = (values[def.id] ??= [])
        while (items.length < f.item) items.push('')
        items.push(def.type === 'choices' ? (JSON.parse(f.value) as string[]) : f.value)
      }
      if (Object.keys(values).length) await writeFields(m, ctx, 'contact', id, values, null)
      relating.push({ id, card })
    }
    for (const { id, card } of relating)
      for (const r of card.relations.filter((x) => relationKindNames.includes(x.kind as never))) {
        const other = await m.find(Contact, {
          select: { id: true },
          where: { name: r.name, mergedInto: IsNull(), privateTo: IsNull(), id: Not(id) },
          take: 2,
        })
        const otherId =
          other.length === 1
            ? other[0]!.id
            : other.length
              ? null
              : await makeContactIn(m, ctx, { ...inputOf({ ...card, ...bare(r) }, kinds) })
        if (otherId) await insertNew(m, ContactRelation, { fromId: id, toId: otherId, kind: r.kind, title: r.title.slice(0, 120) })
      }
    return { made: faults.length ? 0 : made, alike, faults }
  })
}

/** A record of which only the name is known, from a relation: who one works for is an organization. */
const bare = (r: { kind: string; name: string }): Omit<Card, 'uid'> => ({
  kind: ['works for', 'officer of', 'owner of', 'subsidiary of'].includes(r.kind) ? 'organization' : 'person',
  name: r.name,
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
})
