import type { matterGroups, ReportTable } from '@heron/contract'
import { addDays, type Day, daysBetween, showDay } from '@heron/core/calendar'
import { shareOf } from '@heron/core/oversight'
import { counted } from '@heron/core/words'
import { matterScope, nameFor } from '../../platform/access'
import type { Ctx } from '../../platform/context'
import { rows } from '../../platform/database'
import { billedOn, owedKept } from '../../platform/figures'
import { inScope } from '../flow-queries'
import { table } from './table'

interface Named {
  id: number
  matter: string
  client: string
  lead: string
}

/** What names a matter in a report; its client as the reader may see it. */
export const naming = (ctx: Ctx) => `m.id, CONCAT(m.number, ' ', m.short_name) AS matter, ${nameFor(ctx.actor)} AS client, u.name AS lead`

export const withNames = `JOIN contact c ON c.id = m.client_id JOIN user_account u ON u.id = m.lead_id`

/** Not below zero and not more than the longest list that is added up at once. */
const longest = 50_000

/** The columns that name a matter in reports. */
export const named = <R extends Named>(): { key: string; text: string; kind: 'text'; value: (r: R) => string }[] => [
  { key: 'matter', text: 'Matter', kind: 'text', value: (r) => r.matter },
  { key: 'client', text: 'Client', kind: 'text', value: (r) => r.client },
  { key: 'lead', text: 'Lead', kind: 'text', value: (r) => r.lead },
]

const groupSql: Record<(typeof matterGroups)[number], { key: string; name: string; join: string; to: (key: string) => string }> = {
  court: { key: 'm.court', name: `IF(m.court = '', 'No court', m.court)`, join: '', to: (k) => (k ? `/matters?court=${encodeURIComponent(k)}` : '/matters') }, // prettier-ignore
  area: { key: 'm.area_id', name: `COALESCE(p.name, 'No area')`, join: 'LEFT JOIN practice_area p ON p.id = m.area_id', to: (k) => (k ? `/matters?areaId=${k}` : '/matters') }, // prettier-ignore
  stage: { key: 'm.stage_id', name: `COALESCE(CONCAT(p.name, ', ', s.name), 'No stage')`, join: 'LEFT JOIN stage s ON s.id = m.stage_id LEFT JOIN practice_area p ON p.id = s.area_id', to: (k) => (k ? `/matters?stageId=${k}` : '/matters') }, // prettier-ignore
  lead: { key: 'm.lead_id', name: 'u.name', join: 'JOIN user_account u ON u.id = m.lead_id', to: (k) => `/matters?leadId=${k}` },
}

/** Open matters by court, area, stage or lead lawyer, with what is unbilled, owed and held on them. */
export async function mattersBy(ctx: Ctx, by: (typeof matterGroups)[number]): Promise<ReportTable> {
  const g = groupSql[by]
  const list = await rows<{
    k: string | number | null
    name: string
    n: number
    unbilled: number
    owed: number
    held: number
    idle: number
  }>(
    ctx.db.manager,
    `SELECT ${g.key} AS k, MAX(${g.name}) AS name, COUNT(*) AS n, COALESCE(SUM(f.unbilled), 0) AS unbilled, COALESCE(SUM(f.held), 0) AS held, COALESCE(SUM(${owedKept('f')}), 0) AS owed,
            SUM(m.active_on < ?) AS idle
       FROM matter m ${g.join} LEFT JOIN matter_figure f ON f.matter_id = m.id WHERE m.closed_on IS NULL AND ${inScope(ctx)} GROUP BY k ORDER BY n DESC, name LIMIT ${longest}`,
    [addDays(ctx.clock.today(), -60)],
  )
  const texts = { court: 'Court', area: 'Practice area', stage: 'Stage', lead: 'Lead lawyer' }
  return table(
    { title: `Matters by ${texts[by].toLowerCase()}`, under: `open on ${showDay(ctx.clock.today())}`, bars: ['n'] },
    list,
    [
      { key: 'name', text: texts[by], kind: 'text', value: (r) => r.name },
      { key: 'n', text: 'Matters', kind: 'number', value: (r) => r.n, total: true },
      { key: 'idle', text: 'Idle 60 days', kind: 'number', value: (r) => r.idle, total: true },
      { key: 'unbilled', text: 'Unbilled', kind: 'money', value: (r) => r.unbilled, total: true },
      { key: 'owed', text: 'Owed', kind: 'money', value: (r) => r.owed, total: true },
      { key: 'held', text: 'In trust', kind: 'money', value: (r) => r.held, total: true },
    ],
    (r) => ({ key: String(r.k ?? ''), to: g.to(String(r.k ?? '')) }),
  )
}

/** Open matters on which nothing was done for so many days. */
export async function idleMatters(ctx: Ctx, days: number): Promise<ReportTable> {
  const today = ctx.clock.today()
  const list = await rows<Named & { activeOn: Day; unbilled: number; owed: number; held: number }>(
    ctx.db.manager,
    `SELECT ${naming(ctx)}, m.active_on AS activeOn, COALESCE(f.unbilled, 0) AS unbilled, COALESCE(f.held, 0) AS held, ${owedKept('f')} AS owed
       FROM matter m ${withNames} LEFT JOIN matter_figure f ON f.matter_id = m.id WHERE m.closed_on IS NULL AND m.active_on <= ? AND ${inScope(ctx)} ORDER BY m.active_on, m.id LIMIT ${longest}`,
    [addDays(today, -days)],
  )
  return table(
    { title: 'Matters without activity', under: `for ${counted(days, 'day')} or more, on ${showDay(today)}` },
    list,
    [
      ...named(),
      { key: 'activeOn', text: 'Last done', kind: 'day', value: (r) => r.activeOn },
      { key: 'days', text: 'Days', kind: 'number', value: (r) => daysBetween(r.activeOn, today) },
      { key: 'unbilled', text: 'Unbilled', kind: 'money', value: (r) => r.unbilled, total: true },
      { key: 'owed', text: 'Owed', kind: 'money', value: (r) => r.owed, total: true },
      { key: 'held', text: 'In trust', kind: 'money', value: (r) => r.held, total: true },
    ],
    (r) => ({ key: String(r.id), to: `/matters/${r.id}` }),
  )
}

/** What matters with a budget have used of it: what was billed before tax less credits, and what is unbilled. */
export async function budgets(ctx: Ctx): Promise<ReportTable> {
  const list = (
    await rows<Named & { budget: number; capped: number; billed: number; unbilled: number }>(
      ctx.db.manager,
      `SELECT ${naming(ctx)}, t.budget, t.capped, ${billedOn('m.id')} AS billed, COALESCE(f.unbilled, 0) AS unbilled
         FROM bill_terms t JOIN matter m ON m.id = t.owner_id ${withNames} LEFT JOIN matter_figure f ON f.matter_id = m.id
        WHERE t.owner = 'matter' AND t.budget IS NOT NULL AND m.closed_on IS NULL AND ${inScope(ctx)} LIMIT ${longest}`,
    )
  ).map((r) => ({ ...r, used: r.billed + r.unbilled }))
  list.sort((a, b) => (shareOf(b.used, b.budget) ?? 0) - (shareOf(a.used, a.budget) ?? 0) || a.id - b.id)
  return table(
    { title: 'Budget against actual', under: `on ${showDay(ctx.clock.today())}, fees and costs before tax`, bars: ['share'] },
    list,
    [
      ...named(),
      { key: 'budget', text: 'Budget', kind: 'money', value: (r) => r.budget, total: true },
      { key: 'billed', text: 'Billed', kind: 'money', value: (r) => r.billed, total: true },
      { key: 'unbilled', text: 'Unbilled', kind: 'money', value: (r) => r.unbilled, total: true },
      { key: 'used', text: 'Used', kind: 'money', value: (r) => r.used, total: true },
      { key: 'share', text: 'Of it', kind: 'share', value: (r) => shareOf(r.used, r.budget) },
      { key: 'left', text: 'Left', kind: 'money', value: (r) => r.budget - r.used, total: true },
      { key: 'capped', text: 'Cap', kind: 'text', value: (r) => (r.capped ? 'capped' : '') },
    ],
    (r) => ({ key: String(r.id), to: `/matters/${r.id}/time` }),
  )
}

/** Open matters with a day set for trial that has not come, the nearest first. */
export async function daysToTrial(ctx: Ctx): Promise<ReportTable> {
  const today = ctx.clock.today()
  const list = await rows<Named & { day: Day; label: string; tentative: number; court: string; unbilled: number }>(
    ctx.db.manager,
    `SELECT ${naming(ctx)}, t.day, t.label, t.tentative, m.court, COALESCE(f.unbilled, 0) AS unbilled
       FROM trigger_event t JOIN matter m ON m.id = t.matter_id ${withNames} LEFT JOIN matter_figure f ON f.matter_id = m.id
      WHERE t.kind = 'trial-set' AND t.removed_at IS NULL AND t.day >= ? AND m.closed_on IS NULL AND ${inScope(ctx)} AND ${matterScope(ctx.actor, 'm', 'docket')} ORDER BY t.day, m.id LIMIT ${longest}`,
    [today],
  )
  return table(
    { title: 'Days to trial', under: `from ${showDay(today)}, calendar days` },
    list,
    [
      ...named(),
      { key: 'court', text: 'Court', kind: 'text', value: (r) => r.court },
      { key: 'day', text: 'Trial', kind: 'day', value: (r) => r.day },
      { key: 'days', text: 'Days', kind: 'number', value: (r) => daysBetween(today, r.day) },
      { key: 'set', text: 'Set', kind: 'text', value: (r) => (r.tentative ? 'expected' : 'by the court') },
      { key: 'unbilled', text: 'Unbilled', kind: 'money', value: (r) => r.unbilled, total: true },
    ],
    (r) => ({ key: `${r.id} ${r.day}`, to: `/matters/${r.id}/docket` }),
  )
}
