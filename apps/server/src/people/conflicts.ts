import { normalizeName } from '@heron/core/people'
import { In, IsNull, type EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import { instant, isoOf, type Ctx } from '../platform/context'
import { insertRow, locked, touched, work } from '../platform/database'
import { notFound, Problem } from '../platform/problem'
import { ConflictCheck, ConflictHit, Contact } from './entities'
import { hitsOf } from './hits'
import {
  type Itself,
  type Term,
  checkOpenTo,
  checkRow,
  type Decision,
  hitsOfCheck,
  hitToDecide,
  keepDecisions,
  namesOnRecord,
} from './conflict-queries'

const shownAs = (list: { matters: string; reasons: string; reason: string }) => ({
  matters: JSON.parse(list.matters) as { text: string }[],
  reasons: (JSON.parse(list.reasons) as string[]).length ? (JSON.parse(list.reasons) as string[]) : [list.reason],
})

async function readCheck(m: EntityManager, id: number) {
  const head = await checkRow(m, id)
  if (!head) throw notFound('conflict check')
  const hits = await hitsOfCheck(m, id)
  return {
    ...head,
    madeAt: isoOf(head.madeAt),
    terms: JSON.parse(head.terms) as string[],
    hits: hits.map((h) => ({ ...h, ...shownAs(h), decidedAt: h.decidedAt && isoOf(h.decidedAt) })),
  }
}
export type CheckOut = Awaited<ReturnType<typeof readCheck>>

export async function conflictCheck(ctx: Ctx, id: number) {
  const visible = await checkOpenTo(ctx, id)
  if (!visible) throw notFound('conflict check')
  return readCheck(ctx.db.manager, id)
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
  await keepDecisions(m, earlierId, checkId)
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
    const hit = await hitToDecide(m, ctx, id)
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
