import { normalizeName } from '@heron/core/people'
import { In, IsNull, type EntityManager } from 'typeorm'
import { matterScope } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, isoOf, type Ctx } from '../platform/context'
import { insertRow, locked, row, rows, run, touched, work } from '../platform/database'
import { notFound, Problem } from '../platform/problem'
import { ConflictCheck, ConflictHit, Contact } from './entities'
import { hitsOf, type Itself, type Term } from './hits'

export type Decision = 'no conflict' | 'waiver needed' | 'waiver on file' | 'decline'

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
      WHERE h.check_id = ? ORDER BY h.note IN ('our own client', 'this enquiry', 'this matter itself') AND h.decision = 'no conflict', h.score DESC, h.id`,
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
async function namesOnRecord(m: EntityManager): Promise<number> {
  const counted = await row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM (SELECT 1 FROM recorded_name LIMIT 50000) x`)
  if (counted!.n < 50_000) return counted!.n
  const kept = await row<{ n: number }>(
    m,
    `SELECT table_rows AS n FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = 'recorded_name'`,
  )
  return Math.max(50_000, kept?.n ?? 0)
}

export interface CheckFor {
  /** The matter whose record the check joins. */
  matterId?: number | null
  /** Those of the names that are clients', or a caller's. */
  ours?: readonly string[]
  about?: string
  itself?: Itself
}
/** How a hit settled at once is noted. */
const noteOf = (settled: 'itself' | 'our own client', itself: Itself) =>
  settled === 'our own client' ? settled : itself && 'enquiryId' in itself ? 'this enquiry' : 'this matter itself'

/** Compares the names with everyone on record and keeps terms and hits. */
export async function checkNames(
  m: EntityManager,
  ctx: Ctx,
  terms: readonly Term[],
  { matterId = null, ours = [], about = '', itself = null }: CheckFor,
): Promise<CheckOut> {
  const onRecord = await namesOnRecord(m)
  const found = []
  const fresh = new Set(terms.flatMap((t) => t.contactId ?? []))
  for (const term of terms) found.push(await hitsOf(m, ctx, term, ours.includes(term.name), itself, fresh))
  const now = instant(ctx.clock.now())
  const checkId = await insertRow(m, ConflictCheck, {
    matterId,
    terms: JSON.stringify(terms.map((t) => t.name)),
    namesOnRecord: onRecord,
    about,
    moreHits: found.reduce((n, f) => n + f.more, 0),
    madeBy: ctx.actor.id,
    madeAt: now,
  })
  for (const { hits } of found)
    for (const { settled, reasons, matters, ...hit } of hits)
      await m.insert(ConflictHit, {
        ...hit,
        checkId,
        reason: reasons[0]!.slice(0, 160),
        reasons: JSON.stringify(reasons.slice(0, 5)).slice(0, 1000),
        matters: JSON.stringify(matters),
        ...(settled ? { decision: 'no conflict' as const, note: noteOf(settled, itself), decidedBy: ctx.actor.id, decidedAt: now } : {}),
      })
  return readCheck(m, checkId)
}

/**
 * One check after another of the same opening, as its names are entered: the earlier one gives way, and what was decided in it of
 * the same name and record stays decided.
 */
async function supersede(m: EntityManager, ctx: Ctx, earlierId: number, checkId: number): Promise<boolean> {
  const gave = await touched(
    m.update(ConflictCheck, { id: earlierId, madeBy: ctx.actor.id, matterId: IsNull(), supersededBy: IsNull() }, { supersededBy: checkId }),
  )
  if (!gave) return false
  await run(
    m,
    `UPDATE conflict_hit h JOIN conflict_hit was ON was.check_id = ? AND was.term = h.term AND was.contact_id <=> h.contact_id AND was.name = h.name
        SET h.decision = was.decision, h.note = was.note, h.decided_by = was.decided_by, h.decided_at = was.decided_at
      WHERE h.check_id = ? AND h.decision IS NULL AND was.decision IS NOT NULL`,
    [earlierId, checkId],
  )
  return true
}

export function checkConflicts(ctx: Ctx, terms: readonly Term[], ours: readonly string[] = [], about = '', replaces: number | null = null) {
  return work(ctx, async (m) => {
    const unique = [...new Map(terms.map((t) => [`${t.name} ${t.contactId ?? ''}`, t])).values()]
    for (const t of unique) t.contactId ??= await soleRecordOf(m, t.name)
    const made = await checkNames(m, ctx, unique, { ours, about })
    const check = replaces && (await supersede(m, ctx, replaces, made.id)) ? await readCheck(m, made.id) : made
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
  const found = await m.find(Contact, { select: { id: true }, where: { name, mergedInto: IsNull() }, take: 2 })
  return found.length === 1 ? found[0]!.id : null
}

/** Ties a check to the matter it was made for; refuses one that does not cover its names or is older than its parties. */
export async function tieCheck(m: EntityManager, ctx: Ctx, checkId: number, matterId: number, contactIds: number[]): Promise<void> {
  const check = await m.findOne(ConflictCheck, {
    select: { terms: true, matterId: true, madeBy: true, madeAt: true, id: true },
    where: { id: checkId },
    ...locked(m),
  })
  const again = (why: string) => new Problem(409, 'conflict-check-needed', `${why} Check the names again; nothing you entered is lost.`)
  if (!check || check.madeBy !== ctx.actor.id || check.matterId) throw again('There is no conflict check for this matter.')
  const covered = new Set((JSON.parse(check.terms) as string[]).map(normalizeName))
  const names = await m.find(Contact, { select: { name: true, createdAt: true, id: true }, where: { id: In(contactIds) } })
  const missing = names.find((n) => !covered.has(normalizeName(n.name)))
  if (missing) throw again(`${missing.name} is not in the conflict check.`)
  const newer = names.find((n) => n.createdAt > check.madeAt)
  if (newer) throw again(`${newer.name} came on record after the conflict check.`)
  await m.update(ConflictCheck, { id: checkId }, { matterId })
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
  const ids = await m.find(ConflictCheck, { select: { id: true }, where: { matterId }, order: { id: 'DESC' } })
  if (!ids.length) return null
  const checks = []
  for (const { id } of ids) checks.push(await readCheck(m, id))
  return {
    ...checks[0]!,
    terms: [...new Set(checks.flatMap((c) => c.terms))],
    hits: checks.flatMap((c) => c.hits).sort((a, b) => Number(a.decision !== null) - Number(b.decision !== null) || b.score - a.score),
  }
}
