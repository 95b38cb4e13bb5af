import { addDays, type Day } from '@heron/core/calendar'
import { type Entry, isOpen } from '@heron/core/docket'
import type { EntityManager } from 'typeorm'
import type { Ctx } from '../platform/context'
import { row, rows } from '../platform/database'
import { ruleSets } from '../platform/rule-sets'
import { type Effect, effectsOn } from './effects'
import { rulesOf } from './state'

export interface ClosureIn {
  day: Day
  name: string
  ruleSetKey: string | null
  filingOnly: boolean
}

/** Days on which courts were closed, entered by the firm. */
export async function closures(ctx: Ctx) {
  const list = await rows<{ id: number; day: Day; name: string; ruleSetKey: string | null; filingOnly: number; by: string }>(
    ctx.db.manager,
    `SELECT c.id, c.day, c.name, c.rule_set_key AS ruleSetKey, c.filing_only AS filingOnly, u.name AS \`by\` FROM court_closure c JOIN user_account u ON u.id = c.created_by ORDER BY c.day DESC, c.id DESC LIMIT 500`,
  )
  return list.map((c) => ({ ...c, filingOnly: Boolean(c.filingOnly) }))
}

/** What a closure would move, in every open matter whose rules it touches. Only spans of counting that meet the day are counted again. */
export async function effectsOf(m: EntityManager, ctx: Ctx, c: ClosureIn, taking: boolean): Promise<Effect[]> {
  const sets = [...(await ruleSets(m)).values()].map((k) => k.set)
  const keys = sets.map((s) => s.key).filter((k) => !c.ruleSetKey || k === c.ruleSetKey)
  // A count passes the day, or ends there and rolls on; two weeks are more than any roll or service adds. Dates of one trigger
  // hang on one another, so it is looked at as a whole; and what counts from other events too is always looked at.
  const fromEvents = sets
    .flatMap((s) => s.deadlines)
    .filter((d) => d.provisionalUntil || d.legs.some((l) => l.base.kind === 'event'))
    .map((d) => d.trigger)
  const met = await rows<{ id: number; matterId: number }>(
    m,
    `SELECT t.id, t.matter_id AS matterId FROM trigger_event t JOIN matter m ON m.id = t.matter_id JOIN docket_entry x ON x.trigger_id = t.id AND x.removed_at IS NULL
      WHERE t.removed_at IS NULL AND m.closed_on IS NULL AND m.rule_set_key IN (?)
      GROUP BY t.id HAVING MAX(x.day) >= DATE_SUB(?, INTERVAL 400 DAY) AND
        (? BETWEEN DATE_SUB(LEAST(MIN(t.day), MIN(x.day)), INTERVAL 14 DAY) AND DATE_ADD(GREATEST(MAX(t.day), MAX(x.day)), INTERVAL 14 DAY) OR MIN(t.kind IN (?)))`,
    [keys, c.day, c.day, ['', ...new Set(fromEvents)]],
  )
  const touched = new Set(met.map((x) => x.id))
  const recent = addDays(c.day, -400)
  const only = (e: Entry) => e.triggerId !== null && touched.has(e.triggerId) && isOpen(e.mark) && e.setBy === 'rule' && e.day >= recent
  const rules = new Map<string, Awaited<ReturnType<typeof rulesOf>>>()
  for (const key of keys) {
    const own = await rulesOf(m, key, [{ name: c.name, date: c.day, filingOnly: c.filingOnly }])
    rules.set(key, { ...own, counts: new Map() })
  }
  return effectsOn(m, ctx, [...new Set(met.map((x) => x.matterId))], rules, { taking, triggers: [...touched], only })
}

/** Whether a day is closed for the same courts already. */
export const closureLike = (m: EntityManager, day: Day, ruleSetKey: string | null) =>
  row(m, `SELECT 1 FROM court_closure WHERE day = ? AND (rule_set_key IS NULL OR rule_set_key <=> ?)`, [day, ruleSetKey])
