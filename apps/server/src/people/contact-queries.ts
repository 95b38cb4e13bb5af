import type { ContactIn } from '@heron/contract'
import type { Day } from '@heron/core/calendar'
import { inverseOf, normalizeName } from '@heron/core/people'
import { type EntityManager, Not } from 'typeorm'
import { fieldNamesOf, fieldValuesOf } from '../fields'
import { contactScope, matterScope } from '../platform/access'
import { type Ctx, isoOf, may } from '../platform/context'
import { literal, mostWords, row, rows, run } from '../platform/database'
import { isOpenBill } from '../platform/figures'
import { notFound } from '../platform/problem'
import { ContactAlias, ContactReach } from './entities'
import { namesLike } from './name-queries'

export type Reach = NonNullable<ContactIn['reaches']>[number]

/** Kinds of contacts in the firm's order. */
export const contactKindsOf = async (m: EntityManager): Promise<string[]> =>
  (await rows<{ kind: string }>(m, `SELECT kind FROM contact_kind_listed ORDER BY ordinal, kind`)).map((k) => k.kind)

/** Parts of a contact are written anew. */
export const dropParts = (m: EntityManager, table: string, id: number) => run(m, `DELETE FROM ${table} WHERE contact_id = ?`, [id])

/** The contact, when it is there and open to the actor. */
export async function requireContact(m: EntityManager, ctx: Ctx, id: number, lock = false) {
  const found = await row<{ id: number; name: string; version: number; privateTo: number | null }>(
    m,
    `SELECT c.id, c.name, c.version, c.private_to AS privateTo FROM contact c WHERE c.id = ? AND ${contactScope(ctx.actor)} ${lock ? 'FOR UPDATE' : ''}`,
    [id],
  )
  if (!found) throw notFound('contact')
  return found
}

const kindsOf = `COALESCE((SELECT GROUP_CONCAT(k.kind ORDER BY k.kind SEPARATOR '|') FROM contact_kind k WHERE k.contact_id = c.id), '')`

const split = (joined: string) => (joined ? joined.split('|') : [])

interface ListFilter {
  q: string
  kind: string
  page: number
  size: number
}

/** Condition of a list of contacts: every word typed begins a word of a name, an alias, or the e-mail or phone. */
function contactWhere(ctx: Ctx, f: { q: string; kind: string }) {
  const words = [...new Set(normalizeName(f.q).split(' ').filter(Boolean))].slice(0, mostWords)
  const digits = f.q.replace(/\D/g, '')
  const values: string[] = []
  // One list of ids for each word, intersected as a whole: joined to each other they would be planned in every order there is.
  const byWord = words.map((w) => {
    values.push(`${literal(w)}%`)
    return `SELECT n.contact_id AS id FROM name_word w STRAIGHT_JOIN name_posting p ON p.word_id = w.id STRAIGHT_JOIN recorded_name n ON n.id = p.name_id WHERE w.word LIKE ? AND n.contact_id IS NOT NULL`
  })
  let found = byWord.length ? `c.id IN (SELECT id FROM (${byWord.join(' INTERSECT ')}) named)` : ''
  if (f.q.includes('@') || digits.length >= 4) {
    values.push(f.q.includes('@') ? `${literal(f.q.trim().toLowerCase())}%` : `%${digits.slice(0, 20)}%`)
    const reach = `c.id IN (SELECT r.contact_id FROM contact_reach r WHERE r.what = '${f.q.includes('@') ? 'e-mail' : 'phone'}' AND r.normalized LIKE ?)`
    found = found ? `((${found}) OR ${reach})` : reach
  }
  if (f.kind) values.push(f.kind, f.kind)
  return {
    where: `WHERE ${contactScope(ctx.actor)} ${found ? `AND ${found}` : ''} ${f.kind ? `AND (c.kind = ? OR EXISTS (SELECT 1 FROM contact_kind k WHERE k.contact_id = c.id AND k.kind = ?))` : ''}`,
    values,
  }
}

const rowOf = `c.id, c.kind, c.name, c.email, c.phone, ${kindsOf} AS kinds, c.private_to IS NOT NULL AS isPrivate`

interface ContactRow {
  id: number
  kind: 'person' | 'organization'
  name: string
  email: string
  phone: string
  kinds: string
  isPrivate: number
}

/** Contacts as lists show them, with how many matters each touches that the reader may see, counted for all at once. */
async function rowsOut(ctx: Ctx, list: readonly ContactRow[]) {
  const ids = list.map((c) => c.id)
  const counted = ids.length
    ? await rows<{ id: number; n: number }>(
        ctx.db.manager,
        `SELECT u.contact_id AS id, COUNT(*) AS n FROM (
           SELECT client_id AS contact_id, id AS matter_id FROM matter WHERE client_id IN (?)
           UNION SELECT contact_id, matter_id FROM matter_party WHERE contact_id IN (?)
           UNION SELECT contact_id, matter_id FROM matter_client WHERE contact_id IN (?)
         ) u JOIN matter m ON m.id = u.matter_id WHERE ${matterScope(ctx.actor)} GROUP BY u.contact_id`,
        [ids, ids, ids],
      )
    : []
  const matters = new Map(counted.map((c) => [c.id, c.n]))
  return list.map((c) => ({ ...c, isPrivate: Boolean(c.isPrivate), kinds: split(c.kinds), matters: matters.get(c.id) ?? 0 }))
}

/** At most five contacts whose names are like what was typed, the likest first: whoever mistypes a name does not make it twice. */
export async function contactsNear(ctx: Ctx, q: string) {
  const m = ctx.db.manager
  if (normalizeName(q).replace(/ /g, '').length < 4) return []
  const like = (await namesLike(m, q, 40)).filter((n) => n.contactId && n.hit.score >= 70)
  const ids = [...new Set(like.map((n) => n.contactId!))].slice(0, 20)
  if (!ids.length) return []
  const found = await rows<ContactRow>(m, `SELECT ${rowOf} FROM contact c WHERE c.id IN (?) AND ${contactScope(ctx.actor)}`, [ids])
  return rowsOut(ctx, found.sort((a, b) => ids.indexOf(a.id) - ids.indexOf(b.id)).slice(0, 5))
}

/** A page of contacts by a filter, by name. */
export async function contacts(ctx: Ctx, f: ListFilter) {
  const { where, values } = contactWhere(ctx, f)
  const total = await row<{ n: number }>(ctx.db.manager, `SELECT COUNT(*) AS n FROM contact c ${where}`, values)
  const list = await rows<ContactRow>(
    ctx.db.manager,
    `SELECT ${rowOf}
       FROM (SELECT c.id FROM contact c ${where} ORDER BY c.name, c.id LIMIT ${Number(f.size)} OFFSET ${(Number(f.page) - 1) * Number(f.size)}) shown JOIN contact c ON c.id = shown.id ORDER BY c.name, c.id`,
    values,
  )
  return { rows: await rowsOut(ctx, list), total: total!.n }
}

/** Matters a contact touches and in which part, as far as the reader may see them. */
export function partsOf(m: EntityManager, ctx: Ctx, contactId: number) {
  return rows<{ matterId: number; number: string; name: string; part: string; open: number; openedOn: Day }>(
    m,
    `SELECT m.id AS matterId, m.number, m.name, x.part, m.closed_on IS NULL AS open, m.opened_on AS openedOn FROM (
        SELECT id AS matter_id, 'client' AS part FROM matter WHERE client_id = ?
        UNION SELECT matter_id, 'client' FROM matter_client WHERE contact_id = ?
        UNION SELECT matter_id, CONCAT(role, IF(side = 'ours', '', CONCAT(', ', side))) FROM matter_party WHERE contact_id = ?
        UNION SELECT matter_id, 'counsel' FROM matter_party WHERE counsel_id = ?
        UNION SELECT id, 'judge' FROM matter WHERE judge_id = ?
        UNION SELECT id, 'billed' FROM matter WHERE bill_to_id = ? AND client_id <> ?
        UNION SELECT y.matter_id, 'billed' FROM matter_payer y JOIN matter z ON z.id = y.matter_id WHERE y.contact_id = ? AND z.client_id <> ?) x
      JOIN matter m ON m.id = x.matter_id WHERE ${matterScope(ctx.actor)} ORDER BY m.closed_on IS NOT NULL, m.opened_on DESC, m.id DESC`,
    Array.from({ length: 9 }, () => contactId),
  )
}

/** What stands on the record itself. */
export async function ownParts(m: EntityManager, id: number) {
  const own = await row<{
    kind: 'person' | 'organization'
    name: string
    greeting: string
    email: string
    phone: string
    address: string
    notes: string
    kinds: string
    birthDate: Day | null
    language: string
    pronouns: string
    taxNumber: string
    privateTo: number | null
  }>(
    m,
    `SELECT c.kind, c.name, c.greeting, c.email, c.phone, c.address, c.notes, ${kindsOf} AS kinds, c.birth_date AS birthDate, c.language, c.pronouns, c.tax_number AS taxNumber, c.private_to AS privateTo FROM contact c WHERE c.id = ?`,
    [id],
  )
  const aliases = await m.find(ContactAlias, {
    select: { kind: true, name: true, id: true },
    where: { contactId: id },
    order: { id: 'ASC' },
  })
  const reaches = await m.find(ContactReach, {
    select: { what: true, label: true, value: true, id: true },
    where: { contactId: id, what: Not('tax number') },
    order: { ordinal: 'ASC' },
  })
  return {
    ...own!,
    kinds: split(own!.kinds),
    aliases: aliases.map(({ kind, name }) => ({ kind, name })),
    reaches: reaches.map(({ what, label, value }) => ({ what: what as Reach['what'], label, value })),
  }
}

/** How a contact stands to others, as far as both are open to the reader. */
export const relationsOf = async (m: EntityManager, ctx: Ctx, id: number) => {
  const list = await rows<{ id: number; fromId: number; toId: number; kind: string; title: string; fromName: string; toName: string }>(
    m,
    `SELECT r.id, r.from_id AS fromId, r.to_id AS toId, r.kind, r.title, a.name AS fromName, b.name AS toName FROM contact_relation r JOIN contact a ON a.id = r.from_id JOIN contact b ON b.id = r.to_id
      WHERE (r.from_id = ? OR r.to_id = ?) AND ${contactScope(ctx.actor, 'a')} AND ${contactScope(ctx.actor, 'b')} ORDER BY r.kind, a.name, b.name`,
    [id, id],
  )
  return list.map((r) => ({
    id: r.id,
    otherId: r.fromId === id ? r.toId : r.fromId,
    other: r.fromId === id ? r.toName : r.fromName,
    kind: r.kind,
    // Read from this record: `works for Corvane`, or `employs` where the other works here.
    reads: r.fromId === id ? r.kind : inverseOf(r.kind),
    title: r.title,
  }))
}

/** What is owed and held over the contact's matters that the reader may see, and over its bills. */
async function moneyOf(m: EntityManager, ctx: Ctx, id: number) {
  if (!may(ctx.actor, 'bills.see')) return null
  const of = `(SELECT ${Number(id)} AS id UNION SELECT id FROM contact WHERE merged_into = ${Number(id)})`
  const owed = await row<{ n: number }>(
    m,
    `SELECT COALESCE(SUM(f.open_amount), 0) AS n FROM ${of} s JOIN bill_figure f ON f.payer_id = s.id JOIN matter m ON m.id = f.matter_id
      WHERE ${isOpenBill('f')} AND ${matterScope(ctx.actor, 'm', 'money')}`,
  )
  const held = may(ctx.actor, 'trust.see')
    ? await row<{ n: number }>(
        m,
        `SELECT COALESCE(SUM(e.amount), 0) AS n FROM ledger_entry e JOIN client_ledger l ON l.id = e.ledger_id LEFT JOIN matter m ON m.id = l.matter_id
          WHERE l.client_id IN ${of} AND (m.id IS NULL OR ${matterScope(ctx.actor, 'm', 'trust')})`,
      )
    : null
  return { owed: owed!.n, held: held?.n ?? null }
}

/** A contact with all that hangs on it and is open to the reader. */
export async function contact(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const { version } = await requireContact(m, ctx, id)
  const { privateTo, ...own } = await ownParts(m, id)
  const parts = await partsOf(m, ctx, id)
  const merged = await rows<{ name: string; at: string; by: string }>(
    m,
    `SELECT c.name, x.merged_at AS at, u.name AS \`by\` FROM contact_merge x JOIN contact c ON c.id = x.merged_id JOIN user_account u ON u.id = x.merged_by WHERE x.kept_id = ? ORDER BY x.id DESC`,
    [id],
  )
  const enquiries = await rows<{ id: number; about: string; state: string; at: string }>(
    m,
    `SELECT e.id, LEFT(e.about, 160) AS about, e.state, e.created_at AS at FROM enquiry e LEFT JOIN matter m ON m.id = e.matter_id WHERE e.contact_id = ? AND (m.id IS NULL OR ${matterScope(ctx.actor)}) ORDER BY e.id DESC`,
    [id],
  )
  return {
    id,
    version,
    ...own,
    isPrivate: privateTo !== null,
    relations: await relationsOf(m, ctx, id),
    fields: await fieldValuesOf(m, 'contact', id),
    fieldNames: await fieldNamesOf(m, ctx, 'contact', id),
    parts: parts.map((p) => ({ ...p, open: Boolean(p.open) })),
    matters: new Set(parts.map((p) => p.matterId)).size,
    money: await moneyOf(m, ctx, id),
    mergedFrom: merged.map((x) => ({ ...x, at: isoOf(x.at) })),
    enquiries: enquiries.map((e) => ({ ...e, at: isoOf(e.at) })),
  }
}

/** Whether two contacts stand so to one another already. */
export const relatedAlready = (m: EntityManager, kind: string, id: number, toId: number) =>
  row(m, `SELECT 1 FROM contact_relation WHERE kind = ? AND ((from_id = ? AND to_id = ?) OR (from_id = ? AND to_id = ? AND ?))`, [
    kind,
    id,
    toId,
    toId,
    id,
    inverseOf(kind) === kind,
  ])

/** Other records that may be the same one: like names, or a shared e-mail, phone or tax number. */
export async function alike(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const own = await requireContact(m, ctx, id)
  const shared = await rows<{ id: number; name: string; what: string }>(
    m,
    `SELECT DISTINCT c.id, c.name, r.what FROM contact_reach r JOIN contact_reach s ON s.what = r.what AND s.normalized = r.normalized AND s.contact_id <> r.contact_id JOIN contact c ON c.id = s.contact_id
      WHERE r.contact_id = ? AND r.what <> 'address' AND r.normalized <> '' AND ${contactScope(ctx.actor)} LIMIT 20`,
    [id],
  )
  const found = new Map(shared.map((s) => [s.id, { id: s.id, name: s.name, score: 85, reason: `shares the ${s.what}` }]))
  const near = (await namesLike(m, own.name, 40)).filter((n) => n.contactId && n.contactId !== id && n.hit.score >= 80)
  const open = near.length
    ? new Set(
        (
          await rows<{ id: number }>(m, `SELECT c.id FROM contact c WHERE c.id IN (?) AND ${contactScope(ctx.actor)}`, [
            near.map((n) => n.contactId!),
          ])
        ).map((c) => c.id),
      )
    : new Set<number>()
  for (const n of near)
    if (open.has(n.contactId!) && (found.get(n.contactId!)?.score ?? 0) < n.hit.score)
      found.set(n.contactId!, { id: n.contactId!, name: n.name, score: n.hit.score, reason: n.hit.reasons.join(', ') })
  return [...found.values()].sort((a, b) => b.score - a.score).slice(0, 12)
}

/** Of these contacts those that are open to whoever asks. */
export const contactsOpen = (m: EntityManager, ctx: Ctx, asked: (readonly [string, number])[]) =>
  rows<{ id: number }>(m, `SELECT c.id FROM contact c WHERE c.id IN (?) AND ${contactScope(ctx.actor)}`, [asked.map(([, id]) => id)])
