import { inverseOf, isFollowed, normalizeReach, type PartMet } from '@heron/core/people'
import { type EntityManager, Not } from 'typeorm'
import { matterScope } from '../platform/access'
import { type Ctx, isoOf } from '../platform/context'
import { row, rows, run } from '../platform/database'
import { ContactReach } from './entities'

/** A name to check, with the record it stands for where there is one. */
export interface Term {
  name: string
  contactId?: number | null
}

export interface Found {
  contactId: number | null
  enquiryId: number | null
  name: string
  score: number
  reasons: string[]
  /** It shares a rare word exactly, and is therefore never left out. */
  rare?: boolean
}

/** Records that share an e-mail, a phone or a tax number with the term itself or with the record it stands for. */
export async function sharing(m: EntityManager, term: Term): Promise<Found[]> {
  const typed = (['e-mail', 'phone', 'tax number'] as const)
    .map((what) => ({ what, normalized: what === 'e-mail' && !term.name.includes('@') ? '' : normalizeReach(what, term.name) }))
    .filter((t) => t.normalized && /[\d@]/.test(term.name))
  const own = term.contactId
    ? await m.find(ContactReach, {
        select: { what: true, normalized: true, id: true },
        where: { contactId: term.contactId, what: Not('address'), normalized: Not('') },
      })
    : []
  const found: Found[] = []
  for (const r of [...typed, ...own])
    for (const c of await rows<{ id: number; name: string }>(
      m,
      `SELECT c.id, c.name FROM contact_reach r JOIN contact c ON c.id = r.contact_id WHERE r.what = ? AND r.normalized = ? AND c.merged_into IS NULL AND c.id <> ? LIMIT 20`,
      [r.what, r.normalized, term.contactId ?? 0],
    ))
      found.push({ contactId: c.id, enquiryId: null, name: c.name, score: 85, reasons: [`shares the ${r.what}`] })
  return found
}

/** Whoever stands close to those found, along relations that a check follows: officers, affiliates, insurers, family. */
export async function related(m: EntityManager, of: { id: number; name: string; score: number; self: boolean }[]): Promise<Found[]> {
  if (!of.length) return []
  const ids = of.map((o) => o.id)
  const list = await rows<{ fromId: number; toId: number; kind: string; fromName: string; toName: string }>(
    m,
    `SELECT r.from_id AS fromId, r.to_id AS toId, r.kind, a.name AS fromName, b.name AS toName FROM contact_relation r JOIN contact a ON a.id = r.from_id JOIN contact b ON b.id = r.to_id
      WHERE r.from_id IN (?) OR r.to_id IN (?)`,
    [ids, ids],
  )
  return list.flatMap((r): Found[] => {
    if (!isFollowed(r.kind)) return []
    return of.flatMap((o): Found[] => {
      if (o.id !== r.fromId && o.id !== r.toId) return []
      const other =
        o.id === r.toId ? { id: r.fromId, name: r.fromName, how: r.kind } : { id: r.toId, name: r.toName, how: inverseOf(r.kind) }
      const what = `${other.how} ${o.name}${o.self ? '' : ', which matches'}`
      return [{ contactId: other.id, enquiryId: null, name: other.name, score: Math.round(o.score * 0.85), reasons: [what] }]
    })
  })
}

interface Played {
  texts: string[]
  parts: (PartMet & { matterId: number })[]
}

/** What a check is made for when that itself is on record already: its names meet themselves. */
export type Itself = { matterId: number } | { enquiryId: number } | null

/** The matters of contacts in words. One that the searcher may not see shows only that it is there and whom to ask. */
export async function mattersOf(m: EntityManager, ctx: Ctx, contactIds: readonly number[], itself: Itself): Promise<Map<number, Played>> {
  if (!contactIds.length) return new Map()
  const ids = contactIds.map(Number).join(',')
  const found = await rows<{
    contactId: number
    matterId: number
    number: string
    name: string
    part: string
    closed: string | null
    lead: string
    visible: number
  }>(
    m,
    `SELECT x.contact_id AS contactId, m.id AS matterId, m.number, m.short_name AS name, x.part, m.closed_on AS closed, u.name AS lead, ${matterScope(ctx.actor)} AS visible FROM (
        SELECT client_id AS contact_id, id AS matter_id, 'client' AS part FROM matter WHERE client_id IN (${ids})
        UNION SELECT contact_id, matter_id, 'client' FROM matter_client WHERE contact_id IN (${ids})
        UNION SELECT contact_id, matter_id, CONCAT(role, ', ', side) FROM matter_party WHERE contact_id IN (${ids})
        UNION SELECT counsel_id, matter_id, 'counsel' FROM matter_party WHERE counsel_id IN (${ids})) x
      JOIN matter m ON m.id = x.matter_id JOIN user_account u ON u.id = m.lead_id ORDER BY m.opened_on DESC, m.id DESC`,
  )
  const out = new Map<number, Played>()
  for (const [id, parts] of groupBy(found, (f) => f.contactId)) {
    const byMatter = groupBy(parts, (p) => p.number)
    const texts = [...byMatter.values()].map((own) => {
      const [f] = own as [(typeof found)[number]]
      const played = own.map((p) => p.part).join('; ')
      return f.visible
        ? `${played} in ${f.number}, ${f.name} (${f.closed ? `closed ${f.closed}` : 'open'})`
        : `In a matter that is not open to you; ask ${f.lead}`
    })
    out.set(id, {
      texts,
      parts: parts.map((p) => ({
        matterId: p.matterId,
        ours: p.part === 'client' || p.part.endsWith(', ours'),
        itself: Boolean(itself && 'matterId' in itself && itself.matterId === p.matterId),
      })),
    })
  }
  return out
}

function groupBy<T, K>(list: readonly T[], by: (item: T) => K): Map<K, T[]> {
  const out = new Map<K, T[]>()
  for (const item of list) out.set(by(item), [...(out.get(by(item)) ?? []), item])
  return out
}

/** Earlier enquiries that a conflict check came upon, by contact or by themselves. */
export async function enquiriesOf(m: EntityManager, contactIds: readonly number[], enquiryIds: readonly number[]) {
  if (!contactIds.length && !enquiryIds.length) return []
  const list = (ids: readonly number[]) => (ids.length ? ids.map(Number).join(',') : '0')
  return rows<{
    id: number
    contactId: number
    who: string
    state: string
    at: string
    reason: string
    adverse: string
    matterId: number | null
  }>(
    m,
    `SELECT e.id, e.contact_id AS contactId, c.name AS who, e.state, e.created_at AS at, e.reason, e.adverse, e.matter_id AS matterId FROM enquiry e JOIN contact c ON c.id = e.contact_id
      WHERE e.contact_id IN (${list(contactIds)}) OR e.id IN (${list(enquiryIds)})`,
  )
}

export type Decision = 'no conflict' | 'waiver needed' | 'waiver on file' | 'decline'

/** A check with who made it and of what. */
export const checkRow = (m: EntityManager, id: number) =>
  row<{
    id: number
    madeAt: string
    madeBy: string
    terms: string
    namesOnRecord: number
    about: string
    note: string
    moreHits: number
    matterId: number | null
    matter: string | null
  }>(
    m,
    `SELECT k.id, k.made_at AS madeAt, u.name AS madeBy, k.terms, k.names_on_record AS namesOnRecord, k.about, k.note, k.more_hits AS moreHits, k.matter_id AS matterId, x.short_name AS matter
       FROM conflict_check k JOIN user_account u ON u.id = k.made_by LEFT JOIN matter x ON x.id = k.matter_id WHERE k.id = ?`,
    [id],
  )

/** What a check found, the likeliest first. */
export const hitsOfCheck = (m: EntityManager, id: number) =>
  rows<{
    id: number
    term: string
    name: string
    reason: string
    reasons: string
    score: number
    matters: string
    decision: Decision | null
    note: string
    decidedBy: string | null
    decidedAt: string | null
  }>(
    m,
    `SELECT h.id, h.term, h.name, h.reason, h.reasons, h.score, h.matters, h.decision, h.note, u.name AS decidedBy, h.decided_at AS decidedAt FROM conflict_hit h LEFT JOIN user_account u ON u.id = h.decided_by
      WHERE h.check_id = ? ORDER BY h.note IN ('our own client', 'this enquiry', 'this matter itself') AND h.decision = 'no conflict', h.score DESC, h.id`,
    [id],
  )

/** A kept check is open to whoever may see its matter; before there is one, to whoever made it. */
const checkScope = (ctx: Ctx) =>
  `((k.matter_id IS NULL AND k.made_by = ${Number(ctx.actor.id)}) OR (m.id IS NOT NULL AND ${matterScope(ctx.actor)}))`

/** Whether a check is open to whoever asks. */
export const checkOpenTo = (ctx: Ctx, id: number) =>
  row(ctx.db.manager, `SELECT 1 FROM conflict_check k LEFT JOIN matter m ON m.id = k.matter_id WHERE k.id = ? AND ${checkScope(ctx)}`, [id])

/** Checks that the reader may see, newest first. */
export async function conflictChecks(ctx: Ctx, f: { undecided: boolean; page: number; size: number }) {
  const m = ctx.db.manager
  const where = `WHERE ${checkScope(ctx)} AND k.superseded_by IS NULL ${f.undecided ? 'AND EXISTS (SELECT 1 FROM conflict_hit h WHERE h.check_id = k.id AND h.decision IS NULL)' : ''}`
  const total = await row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM conflict_check k LEFT JOIN matter m ON m.id = k.matter_id ${where}`)
  const list = await rows<{
    id: number
    madeAt: string
    madeBy: string
    terms: string
    about: string
    matterId: number | null
    matter: string | null
    hits: number
    open: number
  }>(
    m,
    `SELECT k.id, k.made_at AS madeAt, u.name AS madeBy, k.terms, k.about, k.matter_id AS matterId, m.short_name AS matter,
            (SELECT COUNT(*) FROM conflict_hit h WHERE h.check_id = k.id) AS hits, (SELECT COUNT(*) FROM conflict_hit h WHERE h.check_id = k.id AND h.decision IS NULL) AS open
       FROM conflict_check k JOIN user_account u ON u.id = k.made_by LEFT JOIN matter m ON m.id = k.matter_id ${where} ORDER BY k.id DESC LIMIT ${Number(f.size)} OFFSET ${(Number(f.page) - 1) * Number(f.size)}`,
  )
  return { rows: list.map((k) => ({ ...k, madeAt: isoOf(k.madeAt), terms: JSON.parse(k.terms) as string[] })), total: total!.n }
}

/** How many names there are: counted while they are few; with many, what the database keeps of the table's size. */
export async function namesOnRecord(m: EntityManager): Promise<number> {
  const counted = await row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM (SELECT 1 FROM recorded_name LIMIT 50000) x`)
  if (counted!.n < 50_000) return counted!.n
  const kept = await row<{ n: number }>(
    m,
    `SELECT table_rows AS n FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = 'recorded_name'`,
  )
  return Math.max(50_000, kept?.n ?? 0)
}

/** What was decided of the same name stays decided. */
export const keepDecisions = (m: EntityManager, earlierId: number, checkId: number) =>
  run(
    m,
    `UPDATE conflict_hit h JOIN conflict_hit was ON was.check_id = ? AND was.term = h.term AND was.contact_id <=> h.contact_id AND was.name = h.name
        SET h.decision = was.decision, h.note = was.note, h.decided_by = was.decided_by, h.decided_at = was.decided_at
      WHERE h.check_id = ? AND h.decision IS NULL AND was.decision IS NOT NULL`,
    [earlierId, checkId],
  )

/** Something found, where its check is open to whoever asks. */
export const hitToDecide = (m: EntityManager, ctx: Ctx, id: number) =>
  row<{ checkId: number; term: string; name: string; matterId: number | null; was: string | null }>(
    m,
    `SELECT h.check_id AS checkId, h.term, h.name, h.decision AS was, k.matter_id AS matterId FROM conflict_hit h JOIN conflict_check k ON k.id = h.check_id LEFT JOIN matter m ON m.id = k.matter_id
        WHERE h.id = ? AND ${checkScope(ctx)}`,
    [id],
  )
