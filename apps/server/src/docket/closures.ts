import type { Day } from '@heron/core/calendar'
import { applyAct, differencesOf, shippedRuleSets, type Difference, type Docket } from '@heron/core/docket'
import type { EntityManager } from 'typeorm'
import { matterScope } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { row, rows, run, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { historyOf, keepChange, noteHistory, shownDifferences, writeDocket } from './change'
import { docketStatesOf, rulesOf, type DocketState } from './state'

export interface ClosureIn {
  day: Day
  name: string
  ruleSetKey: string | null
}

export function closures(ctx: Ctx) {
  return rows<{ id: number; day: Day; name: string; ruleSetKey: string | null; by: string }>(
    ctx.db.manager,
    `SELECT c.id, c.day, c.name, c.rule_set_key AS ruleSetKey, u.name AS \`by\` FROM court_closure c JOIN user_account u ON u.id = c.created_by ORDER BY c.day DESC, c.id DESC LIMIT 500`,
  )
}

interface Effect {
  matter: { id: number; number: string; name: string; facts: string; ruleSetKey: string; seen: number }
  state: DocketState
  moves: Difference[]
}

/** What a closure would move, in every open matter whose rules it touches. Only spans of counting that meet the day are counted again. */
async function effectsOf(m: EntityManager, ctx: Ctx, c: ClosureIn, taking: boolean): Promise<Effect[]> {
  const keys = shippedRuleSets.map((s) => s.key).filter((k) => !c.ruleSetKey || k === c.ruleSetKey)
  // A count passes the day, or ends there and rolls on; two weeks are more than any roll or service adds. Dates of one trigger
  // hang on one another, so it is looked at as a whole; and what counts from other events too is always looked at.
  const fromEvents = shippedRuleSets
    .flatMap((s) => s.deadlines)
    .filter((d) => d.provisionalUntil || d.legs.some((l) => l.base.kind === 'event'))
    .map((d) => d.trigger)
  const met = await rows<{ id: number; matterId: number }>(
    m,
    `SELECT d.id, d.matter_id AS matterId FROM docket_entry d JOIN (
        SELECT t.id FROM trigger_event t JOIN matter m ON m.id = t.matter_id JOIN docket_entry x ON x.trigger_id = t.id AND x.removed_at IS NULL
         WHERE t.removed_at IS NULL AND m.closed_on IS NULL AND m.rule_set_key IN (?)
         GROUP BY t.id HAVING ? BETWEEN DATE_SUB(LEAST(MIN(t.day), MIN(x.day)), INTERVAL 14 DAY) AND DATE_ADD(GREATEST(MAX(t.day), MAX(x.day)), INTERVAL 14 DAY)
           OR MIN(t.kind IN (?))) touched ON touched.id = d.trigger_id
      WHERE d.removed_at IS NULL AND d.mark IN ('open', 'in hand') AND d.set_by = 'rule' AND d.day >= DATE_SUB(?, INTERVAL 400 DAY)`,
    [keys, c.day, [...new Set(fromEvents)], c.day],
  )
  const only = new Set(met.map((x) => x.id))
  const ids = [...new Set(met.map((x) => x.matterId))]
  if (!ids.length) return []
  const matters = await rows<Effect['matter']>(
    m,
    `SELECT m.id, m.number, m.name, m.facts, m.rule_set_key AS ruleSetKey, ${matterScope(ctx.actor, 'm', 'docket')} AS seen FROM matter m WHERE m.id IN (?) ORDER BY m.number`,
    [ids],
  )
  const states = await docketStatesOf(m, matters, { traces: taking, lock: taking })
  const rules = new Map<string, Awaited<ReturnType<typeof rulesOf>>>()
  for (const key of keys) rules.set(key, await rulesOf(m, key, [{ name: c.name, date: c.day }]))
  return matters.flatMap((matter) => {
    const state = states.get(matter.id)!
    const moves = differencesOf(state, { kind: 'recount' }, rules.get(matter.ruleSetKey)!, only).filter((d) => d.effect === 'moves')
    return moves.length ? [{ matter, state, moves }] : []
  })
}

const seen = (effects: readonly Effect[]) => effects.filter((e) => e.matter.seen)
const countOf = (effects: readonly Effect[]) => effects.reduce((n, e) => n + e.moves.length, 0)

async function unlike(m: EntityManager, c: ClosureIn) {
  if (c.ruleSetKey && !shippedRuleSets.some((s) => s.key === c.ruleSetKey)) throw fieldFault('ruleSetKey', 'Choose a court')
  const there = await row(m, `SELECT 1 FROM court_closure WHERE day = ? AND (rule_set_key IS NULL OR rule_set_key <=> ?)`, [
    c.day,
    c.ruleSetKey,
  ])
  if (there) throw fieldFault('day', 'This closure is entered already')
}

/** The docketed dates that a closure would move. Nothing changes yet. */
export async function previewClosure(ctx: Ctx, c: ClosureIn) {
  const m = ctx.db.manager
  await unlike(m, c)
  // Of a matter from which the reader is screened nothing is told, not even that it has dates; it follows all the same.
  const effects = seen(await effectsOf(m, ctx, c, false))
  return {
    moves: countOf(effects),
    matters: effects.map((e) => ({
      matterId: e.matter.id,
      number: e.matter.number,
      name: e.matter.name,
      differences: shownDifferences(e.state, e.moves),
    })),
  }
}

/** Enters a closure and moves every date that it moves, in one act. `moves` is how many were shown. */
export function addClosure(ctx: Ctx, c: ClosureIn, moves: number): Promise<{ id: number; moved: number }> {
  return work(ctx, async (m) => {
    await unlike(m, c)
    const effects = await effectsOf(m, ctx, c, true)
    if (countOf(seen(effects)) !== moves)
      throw refused('changed-meanwhile', 'Dockets changed meanwhile. Nothing was entered; look at the dates again.')
    const made = (await m.query(`INSERT INTO court_closure (rule_set_key, day, name, created_by, created_at) VALUES (?, ?, ?, ?, ?)`, [
      c.ruleSetKey,
      c.day,
      c.name,
      ctx.actor.id,
      instant(ctx.clock.now()),
    ])) as { insertId: number }
    const why = `${c.name}, ${c.day}: court closed`
    const rulesBy = new Map<string, Awaited<ReturnType<typeof rulesOf>>>()
    for (const { matter } of effects)
      if (!rulesBy.has(matter.ruleSetKey)) rulesBy.set(matter.ruleSetKey, await rulesOf(m, matter.ruleSetKey))
    for (const { matter, state, moves: list } of effects) {
      const counted = applyAct(state, { kind: 'recount' }, rulesBy.get(matter.ruleSetKey)!)
      const moving = new Set(list.map((d) => d.entryId))
      // Only what the closure moves is written; other counts stay as they were taken.
      const after: Docket = {
        ...state,
        entries: state.entries.map((e) => (moving.has(e.id) ? counted.entries.find((x) => x.id === e.id)! : e)),
      }
      await writeDocket(m, ctx, matter, state, after)
      await noteHistory(m, ctx, historyOf(state, after, why))
      await keepChange(m, ctx, matter.id, why, state, after)
      await audit(m, ctx, {
        kind: 'moved',
        text: `${why}; ${list.length} ${list.length === 1 ? 'date' : 'dates'} moved`,
        matterId: matter.id,
        subject: 'trigger',
      })
    }
    await audit(m, ctx, { kind: 'changed', text: `Closure entered: ${why}`, subject: 'court closure', subjectId: Number(made.insertId) })
    return { id: Number(made.insertId), moved: moves }
  })
}

/** Takes a closure back. Dates that it moved stay until their matter is counted again, which shows them first. */
export function removeClosure(ctx: Ctx, id: number): Promise<void> {
  return work(ctx, async (m) => {
    const c = await row<{ name: string; day: Day }>(m, `SELECT name, day FROM court_closure WHERE id = ? FOR UPDATE`, [id])
    if (!c) throw notFound('closure')
    await run(m, `DELETE FROM court_closure WHERE id = ?`, [id])
    await audit(m, ctx, { kind: 'changed', text: `Closure taken back: ${c.name}, ${c.day}`, subject: 'court closure', subjectId: id })
  })
}
