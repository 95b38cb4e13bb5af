import type { Day } from '@heron/core/calendar'
import type { Card } from '@heron/core/formats'
import type { EntityManager } from 'typeorm'
import { contactScope, matterScope } from '../platform/access'
import type { Found } from '../platform/area'
import { type Ctx, isoOf, may } from '../platform/context'
import { literal, row, rows, run } from '../platform/database'

export const select = `SELECT e.id, e.contact_id AS contactId, c.name, c.email, c.phone, e.about, e.adverse, e.source, e.area_id AS areaId, a.name AS area, e.next_step AS nextStep, e.next_on AS nextOn,
    e.consult_on AS consultOn, TIME_FORMAT(e.consult_at, '%H:%i') AS consultAt, e.consult_minutes AS consultMinutes, e.consult_fee AS consultFee, e.state, e.reason,
    e.matter_id AS matterId, m.short_name AS matter, e.conflict_check_id AS conflictCheckId, e.owner_id AS ownerId, u.name AS owner, e.created_at AS at,
    (SELECT COUNT(*) FROM conflict_hit h WHERE h.check_id = e.conflict_check_id AND h.decision IS NULL) AS hitsOpen
  FROM enquiry e JOIN contact c ON c.id = e.contact_id JOIN user_account u ON u.id = e.owner_id LEFT JOIN practice_area a ON a.id = e.area_id LEFT JOIN matter m ON m.id = e.matter_id`

/** An enquiry is open to the firm while its caller's record is; once it is a matter, to whoever may see that. */
export const scope = (ctx: Ctx) => `(${contactScope(ctx.actor)} AND (m.id IS NULL OR ${matterScope(ctx.actor)}))`

export interface Row {
  id: number
  contactId: number
  name: string
  email: string
  phone: string
  about: string
  adverse: string
  source: string
  areaId: number | null
  area: string | null
  nextStep: string
  nextOn: Day | null
  consultOn: Day | null
  consultAt: string | null
  consultMinutes: number | null
  consultFee: number | null
  state: 'open' | 'matter' | 'declined'
  reason: string
  matterId: number | null
  matter: string | null
  conflictCheckId: number | null
  ownerId: number
  owner: string
  at: string
  hitsOpen: number
}

/** An enquiry as it is shown. */
export const shown = (e: Row) => ({
  ...e,
  adverse: JSON.parse(e.adverse) as string[],
  at: isoOf(e.at),
  hitsOpen: e.conflictCheckId ? e.hitsOpen : null,
})

/** A page of enquiries by state and words. */
export async function enquiries(ctx: Ctx, f: { state: 'open' | 'matter' | 'declined' | 'all'; q: string; page: number; size: number }) {
  const m = ctx.db.manager
  const where = `WHERE ${scope(ctx)} ${f.state === 'all' ? '' : `AND e.state = '${f.state}'`} AND (? = '' OR c.name LIKE ? OR e.about LIKE ?)`
  const like = `%${literal(f.q)}%`
  const values = [f.q, like, like]
  const total = await row<{ n: number }>(
    m,
    `SELECT COUNT(*) AS n FROM enquiry e JOIN contact c ON c.id = e.contact_id LEFT JOIN matter m ON m.id = e.matter_id ${where}`,
    values,
  )
  const list = await rows<Row>(
    m,
    `${select} ${where} ORDER BY e.state, e.next_on IS NULL, e.next_on, e.id DESC LIMIT ${Number(f.size)} OFFSET ${(Number(f.page) - 1) * Number(f.size)}`,
    values,
  )
  return { rows: list.map(shown), total: total!.n }
}

/** An enquiry, by the columns that its row has. */
export const insertEnquiry = (m: EntityManager, own: Readonly<Record<string, string | number | null>>) =>
  m.query(
    `INSERT INTO enquiry (${Object.keys(own).join(', ')}) VALUES (${Object.keys(own)
      .map(() => '?')
      .join(', ')})`,
    Object.values(own),
  )

/** The same columns, changed. */
export const changeEnquiryRow = (m: EntityManager, own: Readonly<Record<string, string | number | null>>, id: number) =>
  run(
    m,
    `UPDATE enquiry SET ${Object.keys(own)
      .map((k) => `${k} = ?`)
      .join(', ')} WHERE id = ?`,
    [...Object.values(own), id],
  )

/** Contacts as cards for exchange with other address books. */
export async function cardsOf(m: EntityManager, ids: readonly number[]): Promise<Card[]> {
  if (!ids.length) return []
  const list = ids.map(Number).join(',')
  const people = await rows<{
    id: number
    uid: string
    kind: 'person' | 'organization'
    name: string
    greeting: string
    birthDate: Day | null
    language: string
    pronouns: string
    taxNumber: string
    notes: string
  }>(
    m,
    `SELECT id, uid, kind, name, greeting, birth_date AS birthDate, language, pronouns, tax_number AS taxNumber, notes FROM contact WHERE id IN (${list}) ORDER BY name, id`,
  )
  const by = async <T extends { contactId: number }>(sql: string) => {
    const out = new Map<number, T[]>()
    for (const x of await rows<T>(m, sql)) out.set(x.contactId, [...(out.get(x.contactId) ?? []), x])
    return (id: number) => out.get(id) ?? []
  }
  const aliases = await by<{ contactId: number; kind: string; name: string }>(
    `SELECT contact_id AS contactId, kind, name FROM contact_alias WHERE contact_id IN (${list}) ORDER BY id`,
  )
  const reaches = await by<{ contactId: number; what: 'e-mail' | 'phone' | 'address'; label: string; value: string }>(
    `SELECT contact_id AS contactId, what, label, value FROM contact_reach WHERE contact_id IN (${list}) AND what <> 'tax number' ORDER BY contact_id, ordinal`,
  )
  const kinds = await by<{ contactId: number; kind: string }>(
    `SELECT contact_id AS contactId, kind FROM contact_kind WHERE contact_id IN (${list}) ORDER BY kind`,
  )
  const relations = await by<{ contactId: number; kind: string; name: string; title: string }>(
    `SELECT r.from_id AS contactId, r.kind, c.name, r.title FROM contact_relation r JOIN contact c ON c.id = r.to_id WHERE r.from_id IN (${list}) AND c.private_to IS NULL ORDER BY r.id`,
  )
  const fields = await by<{ contactId: number; key: string; item: number; value: string }>(
    `SELECT v.owner_id AS contactId, d.merge_key AS \`key\`, v.item, v.value FROM field_value v JOIN field_def d ON d.id = v.field_id JOIN field_group g ON g.id = d.group_id AND g.owner = 'contact' WHERE v.owner_id IN (${list}) ORDER BY d.id, v.item`,
  )
  return people.map(({ id, ...p }) => ({
    ...p,
    aliases: aliases(id).map(({ kind, name }) => ({ kind, name })),
    reaches: reaches(id).map(({ what, label, value }) => ({ what, label, value })),
    kinds: kinds(id).map((k) => k.kind),
    relations: relations(id).map(({ kind, name, title }) => ({ kind, name, title })),
    fields: fields(id).map(({ key, item, value }) => ({ key, item, value })),
  }))
}

/** The first address of a kind is changed. */
export const changeReach = (m: EntityManager, text: string, normalized: string, clientId: number, reach: 'address' | 'phone' | 'e-mail') =>
  run(m, `UPDATE contact_reach SET value = ?, normalized = ? WHERE contact_id = ? AND what = ? ORDER BY ordinal LIMIT 1`, [
    text,
    normalized,
    clientId,
    reach,
  ])

/** An address is added where there was none. */
export const addReach = (m: EntityManager, clientId: number, reach: 'address' | 'phone' | 'e-mail', text: string, normalized: string) =>
  run(
    m,
    `INSERT INTO contact_reach (contact_id, ordinal, what, label, value, normalized) SELECT ?, COALESCE(MAX(ordinal), 0) + 1, ?, '', ?, ? FROM contact_reach WHERE contact_id = ?`,
    [clientId, reach, text, normalized, clientId],
  )

/** Contacts by a part of their name, for *find or do*. */
export function find(ctx: Ctx, term: string): Promise<Found[]> {
  if (!may(ctx.actor, 'people.see')) return Promise.resolve([])
  return rows<Found>(
    ctx.db.manager,
    `SELECT 'person' AS kind, c.id, c.name AS title, COALESCE((SELECT GROUP_CONCAT(k.kind ORDER BY k.kind SEPARATOR ', ') FROM contact_kind k WHERE k.contact_id = c.id), c.kind) AS hint
       FROM contact c WHERE ${contactScope(ctx.actor)} AND c.name LIKE ? ORDER BY c.name NOT LIKE ?, c.name LIMIT 5`,
    [`%${literal(term)}%`, `${literal(term)}%`],
  )
}

/** Enquiries whose next step is due, and hits of checks that the lead has still to decide. */
export async function waiting(ctx: Ctx) {
  const m = ctx.db.manager
  const enquiries = may(ctx.actor, 'people.see')
    ? await row<{ n: number }>(
        m,
        `SELECT COUNT(*) AS n FROM enquiry e JOIN contact c ON c.id = e.contact_id WHERE e.state = 'open' AND e.owner_id = ? AND e.next_on <= ? AND ${contactScope(ctx.actor)}`,
        [ctx.actor.id, ctx.clock.today()],
      )
    : null
  const conflicts = may(ctx.actor, 'matters.open')
    ? await row<{ n: number }>(
        m,
        `SELECT COUNT(DISTINCT m.id) AS n FROM conflict_hit h JOIN conflict_check k ON k.id = h.check_id JOIN matter m ON m.id = k.matter_id WHERE h.decision IS NULL AND m.closed_on IS NULL AND m.lead_id = ? AND ${matterScope(ctx.actor)}`,
        [ctx.actor.id],
      )
    : null
  return { enquiries: enquiries?.n ?? 0, conflicts: conflicts?.n ?? 0 }
}

/** What checks of a matter found and nobody decided. */
export const hitsUndecided = (m: EntityManager, id: number) =>
  row<{ n: number }>(
    m,
    `SELECT COUNT(*) AS n FROM conflict_hit h JOIN conflict_check k ON k.id = h.check_id WHERE k.matter_id = ? AND h.decision IS NULL`,
    [id],
  )

/** An enquiry, where it is open to whoever asks. */
export const enquiryOpenTo = (m: EntityManager, ctx: Ctx, id: number) => row<Row>(m, `${select} WHERE e.id = ? AND ${scope(ctx)}`, [id])
