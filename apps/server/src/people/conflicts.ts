import { inverseOf, isFollowed, normalizeName, normalizeReach } from '@heron/core/people'
import type { EntityManager } from 'typeorm'
import { matterScope } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, isoOf, type Ctx } from '../platform/context'
import { row, rows, run, work } from '../platform/database'
import { notFound, Problem } from '../platform/problem'
import { ConflictCheck, ConflictHit } from './entities'
import { namesLike } from './names'

export type Decision = 'no conflict' | 'waiver needed' | 'waiver on file' | 'decline'

/** A name to check, with the record it stands for where there is one. */
export interface Term {
  name: string
  contactId?: number | null
}

interface Found {
  contactId: number | null
  enquiryId: number | null
  name: string
  score: number
  reasons: string[]
}

const keep = (all: Map<string, Found>, f: Found) => {
  const key = f.contactId ? `c${f.contactId}` : `e${f.enquiryId} ${f.name}`
  const known = all.get(key)
  if (!known) all.set(key, f)
  else all.set(key, { ...(f.score > known.score ? f : known), reasons: [...new Set([...known.reasons, ...f.reasons])] })
}

/** Records that share an e-mail, a phone or a tax number with the term itself or with the record it stands for. */
async function sharing(m: EntityManager, term: Term): Promise<Found[]> {
  const typed = (['e-mail', 'phone', 'tax number'] as const)
    .map((what) => ({ what, normalized: what === 'e-mail' && !term.name.includes('@') ? '' : normalizeReach(what, term.name) }))
    .filter((t) => t.normalized && /[\d@]/.test(term.name))
  const own = term.contactId
    ? await rows<{ what: string; normalized: string }>(
        m,
        `SELECT what, normalized FROM contact_reach WHERE contact_id = ? AND what <> 'address' AND normalized <> ''`,
        [term.contactId],
      )
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
async function related(m: EntityManager, of: { id: number; name: string; score: number; self: boolean }[]): Promise<Found[]> {
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
  ours: boolean
}

/** The matters of contacts in words. One that the searcher may not see shows only that it is there and whom to ask. */
async function mattersOf(m: EntityManager, ctx: Ctx, contactIds: readonly number[]): Promise<Map<number, Played>> {
  if (!contactIds.length) return new Map()
  const ids = contactIds.map(Number).join(',')
  const found = await rows<{
    contactId: number
    number: string
    name: string
    part: string
    closed: string | null
    lead: string
    visible: number
  }>(
    m,
    `SELECT x.contact_id AS contactId, m.number, m.short_name AS name, x.part, m.closed_on AS closed, u.name AS lead, ${matterScope(ctx.actor)} AS visible FROM (
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
    out.set(id, { texts, ours: parts.every((p) => p.part === 'client' || p.part.endsWith(', ours')) })
  }
  return out
}

function groupBy<T, K>(list: readonly T[], by: (item: T) => K): Map<K, T[]> {
  const out = new Map<K, T[]>()
  for (const item of list) out.set(by(item), [...(out.get(by(item)) ?? []), item])
  return out
}

async function enquiriesOf(m: EntityManager, contactIds: readonly number[], enquiryIds: readonly number[]) {
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

/** How many hits of one term are kept; how many more there were is said. */
const kept = 40

interface NewHit {
  term: string
  contactId: number | null
  name: string
  reasons: string[]
  score: number
  matters: { text: string }[]
  ours: boolean
}

async function hitsOf(m: EntityManager, ctx: Ctx, term: Term): Promise<{ hits: NewHit[]; more: number }> {
  const all = new Map<string, Found>()
  for (const n of await namesLike(m, term.name)) {
    const why = n.hit.reasons.map((r) => (n.what === 'name' ? r : `${n.what} ${n.name}: ${r}`))
    keep(all, { contactId: n.contactId, enquiryId: n.enquiryId, name: n.name, score: n.hit.score, reasons: why })
  }
  for (const f of await sharing(m, term)) keep(all, f)
  const strong = [...all.values()].filter((f) => f.contactId && f.score >= 85 && f.contactId !== term.contactId)
  const from = strong.map((f) => ({ id: f.contactId!, name: f.name, score: f.score, self: false }))
  if (term.contactId) from.push({ id: term.contactId, name: term.name, score: 95, self: true })
  for (const f of await related(m, from)) keep(all, f)

  const contactIds = [...all.values()].flatMap((f) => f.contactId ?? [])
  const played = await mattersOf(m, ctx, contactIds)
  const enquiries = await enquiriesOf(
    m,
    contactIds,
    [...all.values()].flatMap((f) => f.enquiryId ?? []),
  )
  const people = new Map(
    (contactIds.length
      ? await rows<{ id: number; name: string; mergedInto: number | null; privateTo: number | null }>(
          m,
          `SELECT id, name, merged_into AS mergedInto, private_to AS privateTo FROM contact WHERE id IN (?)`,
          [contactIds],
        )
      : []
    ).map((c) => [c.id, c]),
  )
  const hits = [...all.values()].flatMap((f): NewHit[] => {
    const person = f.contactId ? people.get(f.contactId) : undefined
    if (person?.mergedInto) return []
    const restricted = Boolean(person?.privateTo && person.privateTo !== ctx.actor.id)
    const own = f.contactId ? played.get(f.contactId) : undefined
    const asked = enquiries
      .filter((e) => (f.contactId ? e.contactId === f.contactId && !e.matterId : e.id === f.enquiryId))
      .map((e) => ({
        text: `${f.contactId ? 'Asked for help' : `Named as against in an enquiry of ${e.who}`} on ${e.at.slice(0, 10)} (${e.state === 'declined' ? `declined: ${e.reason}` : e.state})`,
      }))
    const matters = [...(own?.texts ?? []).map((text) => ({ text })), ...asked]
    // Someone who is only in the address book, in no matter at all, must be nearly the same to be a hit.
    if (!matters.length && f.score < 80) return []
    return [
      {
        term: term.name,
        contactId: f.contactId,
        name: restricted ? 'A private contact' : (person?.name ?? f.name),
        reasons: f.reasons,
        score: f.score,
        matters: restricted ? matters.map(() => ({ text: 'Private; ask an administrator who keeps it' })) : matters,
        ours: Boolean(own?.ours) && !asked.length && f.contactId === (term.contactId ?? f.contactId),
      },
    ]
  })
  hits.sort((a, b) => b.score - a.score || b.matters.length - a.matters.length)
  return { hits: hits.slice(0, kept), more: Math.max(0, hits.length - kept) }
}

const shownAs = (list: { matters: string; reasons: string; reason: string }) => ({
  matters: JSON.parse(list.matters) as { text: string }[],
  reasons: (JSON.parse(list.reasons) as string[]).length ? (JSON.parse(list.reasons) as string[]) : [list.reason],
})

async function readCheck(m: EntityManager, id: number) {
  const head = await row<{
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
  if (!head) throw notFound('conflict check')
  const hits = await rows<{
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
      WHERE h.check_id = ? ORDER BY h.score DESC, h.id`,
    [id],
  )
  return {
    ...head,
    madeAt: isoOf(head.madeAt),
    terms: JSON.parse(head.terms) as string[],
    hits: hits.map((h) => ({ ...h, ...shownAs(h), decidedAt: h.decidedAt && isoOf(h.decidedAt) })),
  }
}
export type CheckOut = Awaited<ReturnType<typeof readCheck>>

/** A kept check is open to whoever may see its matter; before there is one, to whoever made it. */
const checkScope = (ctx: Ctx) =>
  `((k.matter_id IS NULL AND k.made_by = ${Number(ctx.actor.id)}) OR (m.id IS NOT NULL AND ${matterScope(ctx.actor)}))`

export async function conflictCheck(ctx: Ctx, id: number) {
  const visible = await row(
    ctx.db.manager,
    `SELECT 1 FROM conflict_check k LEFT JOIN matter m ON m.id = k.matter_id WHERE k.id = ? AND ${checkScope(ctx)}`,
    [id],
  )
  if (!visible) throw notFound('conflict check')
  return readCheck(ctx.db.manager, id)
}

/** Checks that the reader may see, newest first. */
export async function conflictChecks(ctx: Ctx, f: { undecided: boolean; page: number; size: number }) {
  const m = ctx.db.manager
  const where = `WHERE ${checkScope(ctx)} ${f.undecided ? 'AND EXISTS (SELECT 1 FROM conflict_hit h WHERE h.check_id = k.id AND h.decision IS NULL)' : ''}`
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
async function namesOnRecord(m: EntityManager): Promise<number> {
  const counted = await row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM (SELECT 1 FROM recorded_name LIMIT 50000) x`)
  if (counted!.n < 50_000) return counted!.n
  const kept = await row<{ n: number }>(
    m,
    `SELECT table_rows AS n FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = 'recorded_name'`,
  )
  return Math.max(50_000, kept?.n ?? 0)
}

/** Compares the names with everyone on record and keeps terms and hits. */
export async function checkNames(
  m: EntityManager,
  ctx: Ctx,
  terms: readonly Term[],
  matterId: number | null,
  ours: readonly string[] = [],
  about = '',
): Promise<CheckOut> {
  const onRecord = await namesOnRecord(m)
  const found = []
  for (const term of terms) found.push({ term, ...(await hitsOf(m, ctx, term)) })
  const now = instant(ctx.clock.now())
  const made = await m.insert(ConflictCheck, {
    matterId,
    terms: JSON.stringify(terms.map((t) => t.name)),
    namesOnRecord: onRecord,
    about,
    moreHits: found.reduce((n, f) => n + f.more, 0),
    madeBy: ctx.actor.id,
    madeAt: now,
  })
  const checkId = made.identifiers[0]!['id'] as number
  for (const { term, hits } of found)
    for (const { ours: onOurSide, reasons, matters, ...hit } of hits) {
      // Our own client met under the very same name, and never on the other side, is no conflict.
      const own = reasons.includes('same name') && ours.includes(term.name) && onOurSide
      await m.insert(ConflictHit, {
        ...hit,
        checkId,
        reason: reasons[0]!.slice(0, 160),
        reasons: JSON.stringify(reasons.slice(0, 5)).slice(0, 1000),
        matters: JSON.stringify(matters),
        ...(own ? { decision: 'no conflict' as const, note: 'our own client', decidedBy: ctx.actor.id, decidedAt: now } : {}),
      })
    }
  return readCheck(m, checkId)
}

export function checkConflicts(ctx: Ctx, terms: readonly Term[], ours: readonly string[] = [], about = '') {
  return work(ctx, async (m) => {
    const unique = [...new Map(terms.map((t) => [`${t.name} ${t.contactId ?? ''}`, t])).values()]
    for (const t of unique) t.contactId ??= await soleRecordOf(m, t.name)
    const check = await checkNames(m, ctx, unique, null, ours, about)
    await audit(m, ctx, {
      kind: 'checked',
      text: `Conflicts checked: ${unique.map((t) => t.name).join('; ')}`,
      subject: 'conflict check',
      subjectId: check.id,
    })
    return check
  })
}

/** The record of exactly that name, where there is one and only one: its people and affiliates are followed too. */
async function soleRecordOf(m: EntityManager, name: string): Promise<number | null> {
  const found = await rows<{ id: number }>(m, `SELECT id FROM contact WHERE name = ? AND merged_into IS NULL LIMIT 2`, [name])
  return found.length === 1 ? found[0]!.id : null
}

/** Ties a check to the matter it was made for; refuses one that does not cover its names or is older than its parties. */
export async function tieCheck(m: EntityManager, ctx: Ctx, checkId: number, matterId: number, contactIds: number[]): Promise<void> {
  const check = await row<{ terms: string; matterId: number | null; madeBy: number; madeAt: string }>(
    m,
    `SELECT terms, matter_id AS matterId, made_by AS madeBy, made_at AS madeAt FROM conflict_check WHERE id = ? FOR UPDATE`,
    [checkId],
  )
  const again = (why: string) => new Problem(409, 'conflict-check-needed', `${why} Check the names again; nothing you entered is lost.`)
  if (!check || check.madeBy !== ctx.actor.id || check.matterId) throw again('There is no conflict check for this matter.')
  const covered = new Set((JSON.parse(check.terms) as string[]).map(normalizeName))
  const names = await rows<{ name: string; createdAt: string }>(m, `SELECT name, created_at AS createdAt FROM contact WHERE id IN (?)`, [
    contactIds,
  ])
  const missing = names.find((n) => !covered.has(normalizeName(n.name)))
  if (missing) throw again(`${missing.name} is not in the conflict check.`)
  const newer = names.find((n) => n.createdAt > check.madeAt)
  if (newer) throw again(`${newer.name} came on record after the conflict check.`)
  await run(m, `UPDATE conflict_check SET matter_id = ? WHERE id = ?`, [matterId, checkId])
}

export function decideHit(ctx: Ctx, id: number, decision: Decision, note: string): Promise<void> {
  return work(ctx, async (m) => {
    const hit = await row<{ checkId: number; term: string; name: string; matterId: number | null; was: string | null }>(
      m,
      `SELECT h.check_id AS checkId, h.term, h.name, h.decision AS was, k.matter_id AS matterId FROM conflict_hit h JOIN conflict_check k ON k.id = h.check_id LEFT JOIN matter m ON m.id = k.matter_id
        WHERE h.id = ? AND ${checkScope(ctx)}`,
      [id],
    )
    if (!hit) throw notFound('hit')
    await m.update(ConflictHit, id, { decision, note, decidedBy: ctx.actor.id, decidedAt: instant(ctx.clock.now()) })
    await audit(m, ctx, {
      kind: 'decided',
      text: `Conflict of ${hit.term} with ${hit.name}: ${decision}${note ? `, ${note}` : ''}`,
      matterId: hit.matterId,
      subject: 'conflict check',
      subjectId: hit.checkId,
      detail: { was: hit.was, became: decision, note },
    })
  })
}

/** All checks of a matter read as one: the newest record, with the hits of every check still undecided first. */
export async function checkOfMatter(m: EntityManager, matterId: number) {
  const ids = await rows<{ id: number }>(m, `SELECT id FROM conflict_check WHERE matter_id = ? ORDER BY id DESC`, [matterId])
  if (!ids.length) return null
  const checks = []
  for (const { id } of ids) checks.push(await readCheck(m, id))
  return {
    ...checks[0]!,
    terms: [...new Set(checks.flatMap((c) => c.terms))],
    hits: checks.flatMap((c) => c.hits).sort((a, b) => Number(a.decision !== null) - Number(b.decision !== null) || b.score - a.score),
  }
}
