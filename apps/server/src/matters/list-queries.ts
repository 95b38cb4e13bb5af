import type { MatterFilter } from '@heron/contract'
import type { Day } from '@heron/core/calendar'
import { conflictState } from '@heron/core/matters'
import type { EntityManager } from 'typeorm'
import { shownFields, whereField } from '../fields'
import { matterScope } from '../platform/access'
import { type Ctx, may } from '../platform/context'
import { row, rows } from '../platform/database'
import { owedKept } from '../platform/figures'
import { matterIdsByWords } from './file-queries'

const orders = {
  active: 'm.active_on DESC, m.id DESC',
  number: 'm.number DESC',
  name: 'm.name, m.id',
  client: 'm.client_name, m.id',
  opened: 'm.opened_on DESC, m.id DESC',
  closed: 'm.closed_on DESC, m.id DESC',
}

export type Sort = keyof typeof orders

/**
 * What a list of matters is taken from, and its condition: what the reader may see, narrowed by the filter. Where words or
 * a sum pick out few of many, the list begins with those; left to itself the optimizer begins with all matters.
 */
export function matterWhere(ctx: Ctx, f: MatterFilter): { from: string; sql: string; values: (string | number)[] } {
  const where = [matterScope(ctx.actor)]
  const values: (string | number)[] = []
  const add = (sql: string, ...own: (string | number)[]) => {
    where.push(sql)
    values.push(...own)
  }
  if (f.state !== 'all') add(`m.closed_on IS ${f.state === 'open' ? '' : 'NOT '}NULL`)
  const byWords = matterIdsByWords(f.q)
  const unbilledOver = may(ctx.actor, 'bills.see') ? f.unbilledOver : undefined
  const picked =
    byWords ??
    (unbilledOver === undefined ? null : { sql: `SELECT x.matter_id FROM matter_figure x WHERE x.unbilled > ?`, values: [unbilledOver] })
  if (f.areaId) add(`m.area_id = ?`, f.areaId)
  if (f.stageId) add(`m.stage_id = ?`, f.stageId)
  if (f.court) add(`m.court = ?`, f.court)
  if (f.leadId) add(`m.lead_id = ?`, f.leadId)
  if (f.userId) add(`m.id IN (SELECT matter_id FROM matter_team WHERE user_id = ?)`, f.userId)
  if (f.partyId)
    add(
      `m.id IN (SELECT matter_id FROM matter_party WHERE contact_id = ? UNION SELECT matter_id FROM matter_client WHERE contact_id = ? UNION SELECT id FROM matter WHERE client_id = ?)`,
      f.partyId,
      f.partyId,
      f.partyId,
    )
  if (f.tag) add(`m.id IN (SELECT matter_id FROM matter_tag WHERE tag = ?)`, f.tag.toLowerCase())
  if (f.openedFrom) add(`m.opened_on >= ?`, f.openedFrom)
  if (f.openedTo) add(`m.opened_on <= ?`, f.openedTo)
  if (f.idleSince) add(`m.active_on < ?`, f.idleSince)
  if (f.followed) add(`m.id IN (SELECT matter_id FROM matter_follow WHERE user_id = ${Number(ctx.actor.id)})`)
  if (unbilledOver !== undefined) add(matterScope(ctx.actor, 'm', 'money'))
  if (unbilledOver !== undefined && byWords) add(`m.id IN (SELECT x.matter_id FROM matter_figure x WHERE x.unbilled > ?)`, unbilledOver)
  if (f.heldOver !== undefined && may(ctx.actor, 'trust.see'))
    add(`${matterScope(ctx.actor, 'm', 'trust')} AND m.id IN (SELECT x.matter_id FROM matter_figure x WHERE x.held > ?)`, f.heldOver)
  if (f.conflicts === 'open')
    add(
      `m.kind = 'client' AND (m.id NOT IN (SELECT k.matter_id FROM conflict_check k WHERE k.matter_id IS NOT NULL) OR m.id IN (SELECT k.matter_id FROM conflict_check k JOIN conflict_hit h ON h.check_id = k.id WHERE k.matter_id IS NOT NULL AND (h.decision IS NULL OR h.decision IN ('waiver needed', 'decline'))))`,
    )
  if (f.fieldId && f.fieldIs) {
    const has = whereField('m', f.fieldId, f.fieldIs, ctx.clock.today())
    add(has.sql, ...has.values)
  }
  return {
    from: picked ? `(${picked.sql}) picked STRAIGHT_JOIN matter m ON m.id = picked.matter_id` : 'matter m',
    sql: where.join(' AND '),
    values: [...(picked?.values ?? []), ...values],
  }
}

interface ShownRow {
  id: number
  number: string
  secondNumber: string
  name: string
  clientId: number
  client: string
  area: string
  stage: string
  court: string
  caseNumber: string
  lead: string
  originating: string
  tags: string
  openedOn: Day
  closedOn: Day | null
  activeOn: Day
  nextDay: string | null
  nextTitle: string | null
  overdue: number
  kind: string
  seesMoney: number
  seesTrust: number
  seesDocket: number
}

/** A page of matters by a filter, with the columns that the list shows; sums only where money is open. */
export async function matters(
  ctx: Ctx,
  f: MatterFilter & { sort: Sort; money: boolean; fields: string; page: number; size: number },
  plain = false,
) {
  const m = ctx.db.manager
  const { from, sql, values } = matterWhere(ctx, f)
  const counting = row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM ${from} WHERE ${sql}`, values)
  // The page is cut first, on narrow rows; names and next dates are looked up only for what is shown. The order of joining
  // is fixed, because the optimizer would otherwise begin with all matters.
  const reading = rows<ShownRow>(
    m,
    `SELECT STRAIGHT_JOIN m.id, m.number, m.second_number AS secondNumber, m.name, c.id AS clientId, c.name AS client, COALESCE(a.name, '') AS area, COALESCE(s.name, '') AS stage, m.court, m.case_number AS caseNumber,
            u.name AS lead, COALESCE(o.name, '') AS originating, m.opened_on AS openedOn, m.closed_on AS closedOn, m.active_on AS activeOn, m.kind,
            COALESCE((SELECT GROUP_CONCAT(t.tag ORDER BY t.tag SEPARATOR '|') FROM matter_tag t WHERE t.matter_id = m.id), '') AS tags, d.day AS nextDay, d.title AS nextTitle,
            (SELECT COUNT(*) FROM docket_entry x WHERE x.matter_id = m.id AND m.closed_on IS NULL AND x.day < ? AND x.mark IN ('open', 'in hand') AND x.weight <> 'appointment' AND NOT x.left_out) AS overdue,
            ${matterScope(ctx.actor, 'm', 'money')} AS seesMoney, ${matterScope(ctx.actor, 'm', 'trust')} AS seesTrust, ${matterScope(ctx.actor, 'm', 'docket')} AS seesDocket
       FROM (SELECT m.id FROM ${from} WHERE ${sql} ORDER BY ${orders[f.sort]} LIMIT ${Number(f.size)} OFFSET ${(Number(f.page) - 1) * Number(f.size)}) shown JOIN matter m ON m.id = shown.id
       JOIN contact c ON c.id = m.client_id JOIN user_account u ON u.id = m.lead_id LEFT JOIN user_account o ON o.id = m.originating_id LEFT JOIN practice_area a ON a.id = m.area_id LEFT JOIN stage s ON s.id = m.stage_id
       LEFT JOIN docket_entry d ON d.id = (SELECT x.id FROM docket_entry x WHERE x.matter_id = m.id AND m.closed_on IS NULL AND x.day >= ? AND x.mark IN ('open', 'in hand') AND NOT x.left_out ORDER BY x.day, x.id LIMIT 1)
      ORDER BY ${orders[f.sort]}`,
    [ctx.clock.today(), ...values, ctx.clock.today()],
  )
  // Both at once, on a connection each.
  const [total, list] = await Promise.all([counting, reading])
  const ids = list.map((r) => r.id)
  const states = await conflictStatesOf(m, ids)
  const money = f.money ? await moneyOf(m, ctx, list) : null
  const fields = await shownFields(ctx, 'matter', ids, f.fields.split(',').map(Number), plain)
  return {
    total: total!.n,
    // Copied whole: leaving columns out of a copy is slow, and what the contract does not name is dropped there.
    rows: list.map((r) => ({
      ...r,
      tags: r.tags ? r.tags.split('|') : [],
      nextDay: r.seesDocket ? r.nextDay : null,
      nextTitle: r.seesDocket ? r.nextTitle : null,
      overdue: r.seesDocket ? r.overdue : 0,
      conflicts: r.kind === 'client' ? (states.get(r.id) ?? 'not checked') : ('cleared' as const),
      unbilled: money?.get(r.id)?.unbilled ?? null,
      owed: money?.get(r.id)?.owed ?? null,
      held: money?.get(r.id)?.held ?? null,
      fields: fields.get(r.id) ?? {},
    })),
  }
}

/** How far conflicts are, for many matters at once. */
export async function conflictStatesOf(m: EntityManager, ids: readonly number[]) {
  const out = new Map<number, ReturnType<typeof conflictState>>()
  if (!ids.length) return out
  const list = await rows<{ id: number; decision: string | null; hit: number }>(
    m,
    `SELECT DISTINCT k.matter_id AS id, h.decision, h.id IS NOT NULL AS hit FROM conflict_check k LEFT JOIN conflict_hit h ON h.check_id = k.id WHERE k.matter_id IN (?)`,
    [ids],
  )
  for (const id of new Set(list.map((l) => l.id)))
    out.set(
      id,
      conflictState(
        true,
        list.filter((l) => l.id === id && l.hit).map((l) => l.decision),
      ),
    )
  return out
}

async function moneyOf(m: EntityManager, ctx: Ctx, list: readonly ShownRow[]) {
  const out = new Map<number, { unbilled: number | null; owed: number | null; held: number | null }>()
  const ids = list.map((r) => r.id)
  if (!ids.length || !may(ctx.actor, 'bills.see')) return out
  const kept = await rows<{ id: number; unbilled: number; owed: number; held: number }>(
    m,
    `SELECT f.matter_id AS id, f.unbilled, ${owedKept('f')} AS owed, f.held FROM matter_figure f WHERE f.matter_id IN (?)`,
    [ids],
  )
  const seesTrust = may(ctx.actor, 'trust.see')
  for (const r of list) {
    const own = kept.find((x) => x.id === r.id)
    out.set(r.id, {
      unbilled: r.seesMoney ? (own?.unbilled ?? 0) : null,
      owed: r.seesMoney ? (own?.owed ?? 0) : null,
      held: seesTrust && r.seesTrust ? (own?.held ?? 0) : null,
    })
  }
  return out
}

/** Sums over all matters of a filter. */
export async function totals(ctx: Ctx, f: MatterFilter) {
  const m = ctx.db.manager
  const { from, sql, values } = matterWhere(ctx, f)
  const count = await row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM ${from} WHERE ${sql}`, values)
  const add = async (amounts: string, part: 'money' | 'trust') =>
    (await row<{ n: number }>(
      m,
      `SELECT COALESCE(SUM(x.amount), 0) AS n FROM ${from} JOIN ${amounts} x ON x.matter_id = m.id WHERE ${sql} AND ${matterScope(ctx.actor, 'm', part)}`,
      values,
    ))!.n
  const sees = may(ctx.actor, 'bills.see')
  return {
    matters: count!.n,
    unbilled: sees ? await add(`(SELECT f.matter_id, f.unbilled AS amount FROM matter_figure f)`, 'money') : null,
    owed: sees ? await add(`(SELECT f.matter_id, ${owedKept('f')} AS amount FROM matter_figure f)`, 'money') : null,
    held: may(ctx.actor, 'trust.see') ? await add(`(SELECT f.matter_id, f.held AS amount FROM matter_figure f)`, 'trust') : null,
  }
}

/** Courts and tags in use on matters that the reader may see. */
export async function facets(ctx: Ctx) {
  const m = ctx.db.manager
  const scope = matterScope(ctx.actor)
  const courts = await rows<{ x: string }>(
    m,
    `SELECT m.court AS x FROM matter m WHERE m.court <> '' AND ${scope} GROUP BY m.court ORDER BY COUNT(*) DESC LIMIT 60`,
  )
  const tags = await rows<{ x: string }>(
    m,
    `SELECT t.tag AS x FROM matter_tag t JOIN matter m ON m.id = t.matter_id WHERE ${scope} GROUP BY t.tag ORDER BY COUNT(*) DESC LIMIT 60`,
  )
  return { courts: courts.map((c) => c.x).sort(), tags: tags.map((t) => t.x).sort() }
}
