import type { boardGroups } from '@heron/contract'
import type { Day } from '@heron/core/calendar'
import { matterScope, nameFor } from '../platform/access'
import type { Ctx } from '../platform/context'
import { rows } from '../platform/database'

/** The next open date of each of some matters, asked for all at once. */
export async function nextOwnDates(ctx: Ctx, ids: readonly number[]): Promise<Map<number, { day: Day; title: string }>> {
  if (!ids.length) return new Map()
  const list = await rows<{ matterId: number; day: Day; title: string }>(
    ctx.db.manager,
    `SELECT x.matter_id AS matterId, x.day, x.title FROM (
       SELECT d.matter_id, d.day, d.title, ROW_NUMBER() OVER (PARTITION BY d.matter_id ORDER BY d.day, d.id) AS n FROM docket_entry d JOIN matter m ON m.id = d.matter_id
        WHERE d.matter_id IN (?) AND d.day >= ? AND d.mark IN ('open', 'in hand') AND NOT d.left_out AND d.removed_at IS NULL AND ${matterScope(ctx.actor, 'm', 'docket')}) x WHERE x.n = 1`,
    [[...ids], ctx.clock.today()],
  )
  return new Map(list.map((d) => [d.matterId, { day: d.day, title: d.title }]))
}

type By = (typeof boardGroups)[number]

/** How many cards stand in a column; the rest are counted, and open as a list. */
const mostCards = 40

const mostColumns = 40

const keyOf: Record<By, string> = { stage: 'm.stage_id', court: 'm.court', area: 'm.area_id', lead: 'm.lead_id' }

/** Courts that differ by capitals alone are one group; it has the name of the first of them. */
const nameOfGroup = (by: By) => `MIN(CAST(${keyOf[by]} AS CHAR) COLLATE utf8mb4_bin)`

const noneOf: Record<By, string> = { stage: 'No stage', court: 'No court', area: 'No area', lead: 'Nobody' }

interface Card {
  id: number
  k: string | number | null
  number: string
  name: string
  client: string
  lead: string
  activeOn: Day
  stageId: number | null
  areaId: number | null
  n: number
}

/** Open matters as cards, by stage (of one area, in its order), court, area or lead lawyer. */
export async function board(ctx: Ctx, f: { by: By; areaId?: number | undefined }) {
  const m = ctx.db.manager
  const narrow = f.areaId ? 'AND m.area_id = ?' : ''
  const values = f.areaId ? [f.areaId] : []
  const where = `m.closed_on IS NULL AND m.kind = 'client' AND ${matterScope(ctx.actor)} ${narrow}`
  // The latest of each group, numbered by the database, so that a firm of any size answers alike.
  const cards = await rows<Card>(
    m,
    `SELECT x.*, g.k, ${nameFor(ctx.actor)} AS client, u.name AS lead FROM (
       SELECT m.id, ${keyOf[f.by]} AS own, m.number, m.short_name AS name, m.client_id, m.lead_id, m.active_on AS activeOn, m.stage_id AS stageId, m.area_id AS areaId,
              ROW_NUMBER() OVER (PARTITION BY ${keyOf[f.by]} ORDER BY m.active_on DESC, m.id DESC) AS n FROM matter m WHERE ${where}) x
       JOIN (SELECT ${keyOf[f.by]} AS own, ${nameOfGroup(f.by)} AS k FROM matter m WHERE ${where} GROUP BY ${keyOf[f.by]}) g ON g.own <=> x.own
       JOIN contact c ON c.id = x.client_id JOIN user_account u ON u.id = x.lead_id WHERE x.n <= ${mostCards} ORDER BY x.n`,
    [...values, ...values],
  )
  const counts = await rows<{ k: string | number | null; n: number }>(m, `SELECT ${nameOfGroup(f.by)} AS k, COUNT(*) AS n FROM matter m WHERE ${where} GROUP BY ${keyOf[f.by]}`, values) // prettier-ignore
  const countOf = new Map(counts.map((c) => [String(c.k ?? ''), c.n]))
  const next = await nextOwnDates(ctx, cards.map((c) => c.id)) // prettier-ignore
  const columns = await columnsOf(ctx, f, countOf)
  return {
    columns: columns.map(({ key, name }) => ({
      key,
      name,
      count: countOf.get(key) ?? 0,
      cards: cards
        .filter((c) => String(c.k ?? '') === key)
        .map(({ k: _k, n: _n, ...c }) => ({ id: c.id, number: c.number, name: c.name, client: c.client, lead: c.lead, activeOn: c.activeOn, stageId: c.stageId, areaId: c.areaId, next: next.get(c.id) ?? null })), // prettier-ignore
    })),
  }
}

/** The columns in their order: all stages of an area, all areas and all lawyers, also empty ones; else those that have matters. */
async function columnsOf(ctx: Ctx, f: { by: By; areaId?: number | undefined }, counts: ReadonlyMap<string, number>) {
  const m = ctx.db.manager
  const sql: Record<By, string | null> = {
    stage: `SELECT s.id AS k, ${f.areaId ? 's.name' : `CONCAT(p.name, ', ', s.name)`} AS name, ${f.areaId ? 'NOT s.retired' : 'FALSE'} AS stands FROM stage s JOIN practice_area p ON p.id = s.area_id ${f.areaId ? 'WHERE s.area_id = ?' : ''} ORDER BY p.name, s.ordinal`,
    court: null,
    area: `SELECT id AS k, name, TRUE AS stands FROM practice_area ORDER BY name`,
    lead: `SELECT id AS k, name, active AND role = 'lawyer' AS stands FROM user_account ORDER BY name`,
  }
  const known = sql[f.by]
    ? await rows<{ k: number; name: string; stands: number }>(m, sql[f.by]!, f.by === 'stage' && f.areaId ? [f.areaId] : [])
    : []
  const named =
    f.by === 'court'
      ? [...counts.keys()].filter(Boolean).sort().map((k) => ({ key: k, name: k })) // prettier-ignore
      : known.filter((c) => c.stands || counts.get(String(c.k))).map((c) => ({ key: String(c.k), name: c.name }))
  // Where there are more than a board holds, empty ones give way.
  const held = named.length > mostColumns ? named.filter((c) => counts.get(c.key)) : named
  return [...(counts.get('') ? [{ key: '', name: noneOf[f.by] }] : []), ...held].slice(0, mostColumns)
}
