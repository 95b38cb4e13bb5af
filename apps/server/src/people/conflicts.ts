import { compareNames, normalizeName } from '@heron/core/people'
import type { EntityManager } from 'typeorm'
import { contactScope, matterScope } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, isoOf, type Ctx } from '../platform/context'
import { row, rows, run, work } from '../platform/database'
import { notFound, Problem } from '../platform/problem'
import { ConflictCheck, ConflictHit } from './entities'

interface OnRecord {
  id: number
  name: string
  restricted: number
}

/** Everyone on record who shares a telling word with the name; private contacts count too. */
async function near(m: EntityManager, ctx: Ctx, term: string): Promise<OnRecord[]> {
  const words = [...new Set(normalizeName(term).split(' '))].filter((w) => w !== 'and')
  if (!words.length) return []
  return rows(
    m,
    `SELECT DISTINCT c.id, c.name, NOT ${contactScope(ctx.actor)} AS restricted FROM contact_word w JOIN contact c ON c.id = w.contact_id WHERE w.word IN (?) LIMIT 2000`,
    [words],
  )
}

/** The matters of a contact in words. One that the searcher may not see shows only that it is there and whom to ask. */
async function mattersOf(m: EntityManager, ctx: Ctx, contactId: number): Promise<{ text: string; ours: boolean }[]> {
  const found = await rows<{ number: string; name: string; part: string; closed: string | null; lead: string; visible: number }>(
    m,
    `SELECT m.number, m.short_name AS name, x.part, m.closed_on AS closed, u.name AS lead, ${matterScope(ctx.actor)} AS visible FROM (
        SELECT id AS matter_id, 'client' AS part FROM matter WHERE client_id = ?
        UNION SELECT matter_id, CONCAT(role, ', ', side) FROM matter_party WHERE contact_id = ?) x
      JOIN matter m ON m.id = x.matter_id JOIN user_account u ON u.id = m.lead_id ORDER BY m.opened_on DESC`,
    [contactId, contactId],
  )
  const byMatter = new Map<string, typeof found>()
  for (const f of found) byMatter.set(f.number, [...(byMatter.get(f.number) ?? []), f])
  return [...byMatter.values()].map((parts) => {
    const [f] = parts as [(typeof found)[number]]
    const played = parts.map((p) => p.part).join('; ')
    return {
      ours: parts.every((p) => p.part === 'client' || p.part.endsWith(', ours')),
      text: f.visible
        ? `${played} in ${f.number}, ${f.name} (${f.closed ? `closed ${f.closed}` : 'open'})`
        : `In a matter that is not open to you; ask ${f.lead}`,
    }
  })
}

async function readCheck(m: EntityManager, id: number) {
  const head = await row<{ id: number; madeAt: string; madeBy: string; terms: string; namesOnRecord: number }>(
    m,
    `SELECT k.id, k.made_at AS madeAt, u.name AS madeBy, k.terms, k.names_on_record AS namesOnRecord FROM conflict_check k JOIN user_account u ON u.id = k.made_by WHERE k.id = ?`,
    [id],
  )
  if (!head) throw notFound('conflict check')
  const hits = await rows<{
    id: number
    term: string
    name: string
    reason: string
    score: number
    matters: string
    decision: 'no conflict' | 'waiver needed' | 'waiver on file' | 'decline' | null
    note: string
  }>(m, `SELECT id, term, name, reason, score, matters, decision, note FROM conflict_hit WHERE check_id = ? ORDER BY score DESC, id`, [id])
  return {
    ...head,
    madeAt: isoOf(head.madeAt),
    terms: JSON.parse(head.terms) as string[],
    hits: hits.map((h) => ({ ...h, matters: JSON.parse(h.matters) as { text: string }[] })),
  }
}

/** A kept check is open to whoever may see its matter; before there is one, to whoever made it. */
export async function conflictCheck(ctx: Ctx, id: number) {
  const visible = await row(
    ctx.db.manager,
    `SELECT 1 FROM conflict_check k LEFT JOIN matter m ON m.id = k.matter_id WHERE k.id = ? AND ((k.matter_id IS NULL AND k.made_by = ?) OR (m.id IS NOT NULL AND ${matterScope(ctx.actor)}))`,
    [id, ctx.actor.id],
  )
  if (!visible) throw notFound('conflict check')
  return readCheck(ctx.db.manager, id)
}

/** Compares the names with everyone on record and keeps terms and hits. */
export async function checkNames(m: EntityManager, ctx: Ctx, terms: string[], matterId: number | null, ours: readonly string[] = []) {
  const count = await row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM contact`)
  const made = await m.insert(ConflictCheck, {
    matterId,
    terms: JSON.stringify(terms),
    namesOnRecord: count!.n,
    madeBy: ctx.actor.id,
    madeAt: instant(ctx.clock.now()),
  })
  const checkId = made.identifiers[0]!['id'] as number
  for (const term of terms)
    for (const other of await near(m, ctx, term)) {
      const hit = compareNames(term, other.name)
      if (!hit) continue
      const matters = await mattersOf(m, ctx, other.id)
      // Someone who is only in the address book, in no matter at all, is no hit unless the name is the same.
      if (!matters.length && hit.score < 90) continue
      // Our own client met under the very same name, and never on the other side, is no conflict.
      const own = hit.reason === 'same name' && ours.includes(term) && matters.every((x) => x.ours)
      await m.insert(ConflictHit, {
        checkId,
        term,
        contactId: other.id,
        name: other.restricted ? 'A private contact' : other.name,
        reason: hit.reason,
        score: hit.score,
        matters: JSON.stringify(matters.map(({ text }) => ({ text }))),
        ...(own
          ? { decision: 'no conflict' as const, note: 'our own client', decidedBy: ctx.actor.id, decidedAt: instant(ctx.clock.now()) }
          : {}),
      })
    }
  return readCheck(m, checkId)
}

export function checkConflicts(ctx: Ctx, terms: string[], ours: readonly string[] = []) {
  return work(ctx, async (m) => {
    const check = await checkNames(m, ctx, [...new Set(terms)], null, ours)
    await audit(m, ctx, { kind: 'checked', text: `Conflicts checked: ${terms.join('; ')}`, subject: 'conflict check', subjectId: check.id })
    return check
  })
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

export function decideHit(
  ctx: Ctx,
  id: number,
  decision: 'no conflict' | 'waiver needed' | 'waiver on file' | 'decline',
  note: string,
): Promise<void> {
  return work(ctx, async (m) => {
    const hit = await row<{ checkId: number; term: string; name: string; matterId: number | null }>(
      m,
      `SELECT h.check_id AS checkId, h.term, h.name, k.matter_id AS matterId FROM conflict_hit h JOIN conflict_check k ON k.id = h.check_id LEFT JOIN matter m ON m.id = k.matter_id
        WHERE h.id = ? AND ((k.matter_id IS NULL AND k.made_by = ?) OR (m.id IS NOT NULL AND ${matterScope(ctx.actor)}))`,
      [id, ctx.actor.id],
    )
    if (!hit) throw notFound('hit')
    await m.update(ConflictHit, id, { decision, note, decidedBy: ctx.actor.id, decidedAt: instant(ctx.clock.now()) })
    await audit(m, ctx, {
      kind: 'decided',
      text: `Conflict of ${hit.term} with ${hit.name}: ${decision}${note ? `, ${note}` : ''}`,
      matterId: hit.matterId,
      subject: 'conflict check',
      subjectId: hit.checkId,
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
    terms: checks.flatMap((c) => c.terms),
    hits: checks.flatMap((c) => c.hits).sort((a, b) => Number(a.decision !== null) - Number(b.decision !== null) || b.score - a.score),
  }
}
