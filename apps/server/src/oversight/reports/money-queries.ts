import type { ReportTable } from '@heron/contract'
import { toReplenish } from '@heron/core/billing'
import { addDays, type Day, showDay } from '@heron/core/calendar'
import { shareOf } from '@heron/core/oversight'
import { askedOn } from '../../billing'
import { matterScope, nameFor } from '../../platform/access'
import type { Ctx } from '../../platform/context'
import { rows } from '../../platform/database'
import { isUnbilledCost, isUnbilledPortion, isUnbilledTime, owedKept, worthOfTime } from '../../platform/figures'
import { inScope, keeping } from '../flow-queries'
import { named, naming, withNames } from './matter-queries'
import { table } from './table'

export interface Span {
  from: Day
  to: Day
}

/** A span in words. */
export const spanText = (s: Span) => `${showDay(s.from)} to ${showDay(s.to)}`

interface Named {
  id: number
  matter: string
  client: string
  lead: string
}

const ages = ['0–30 days', '31–60', '61–90', 'over 90'] as const

/** Unbilled work and costs of each matter by their age today. */
export async function unbilledByAge(ctx: Ctx): Promise<ReportTable> {
  const today = ctx.clock.today()
  const limits = [addDays(today, -30), addDays(today, -60), addDays(today, -90)]
  const buckets = (amount: string, day: string) =>
    `SUM(IF(${day} >= ?, ${amount}, 0)) AS a, SUM(IF(${day} >= ? AND ${day} < ?, ${amount}, 0)) AS b, SUM(IF(${day} >= ? AND ${day} < ?, ${amount}, 0)) AS c, SUM(IF(${day} < ?, ${amount}, 0)) AS d`
  const bound = [limits[0]!, limits[1]!, limits[0]!, limits[2]!, limits[1]!, limits[2]!]
  const list = await rows<Named & Record<'a' | 'b' | 'c' | 'd', number>>(
    ctx.db.manager,
    `SELECT ${naming(ctx)}, SUM(x.a) AS a, SUM(x.b) AS b, SUM(x.c) AS c, SUM(x.d) AS d FROM (
       SELECT t.matter_id, ${buckets(worthOfTime('t'), 't.day')} FROM time_entry t WHERE ${isUnbilledTime('t')} GROUP BY t.matter_id
       UNION ALL SELECT e.matter_id, ${buckets('e.amount', 'e.day')} FROM cost_entry e WHERE ${isUnbilledCost('e')} GROUP BY e.matter_id
       UNION ALL SELECT p.matter_id, ${buckets('p.amount', 'COALESCE(p.earned_on, pm.opened_on)')} FROM fee_portion p JOIN matter pm ON pm.id = p.matter_id WHERE ${isUnbilledPortion('p')} GROUP BY p.matter_id
     ) x JOIN matter m ON m.id = x.matter_id ${withNames} WHERE ${inScope(ctx)} GROUP BY m.id HAVING a + b + c + d <> 0 ORDER BY a + b + c + d DESC, m.id LIMIT 50000`,
    [...bound, ...bound, ...bound],
  )
  const of = ['a', 'b', 'c', 'd'] as const
  return table(
    { title: 'Unbilled by age', under: `on ${showDay(today)}, by the day of the work`, bars: [...of] },
    list,
    [
      ...named(),
      ...of.map((k, i) => ({ key: k, text: ages[i]!, kind: 'money' as const, value: (r: (typeof list)[number]) => r[k] || null, total: true as const })), // prettier-ignore
      { key: 'total', text: 'Together', kind: 'money', value: (r) => r.a + r.b + r.c + r.d, total: true },
    ],
    (r) => ({ key: String(r.id), to: `/matters/${r.id}/time` }),
  )
}

/** What is held in trust for each open matter, against what is owed and unbilled on it and what is to be held at least. */
export async function trustListing(ctx: Ctx): Promise<ReportTable> {
  const list = await rows<Named & { held: number; owed: number; unbilled: number; minimum: number | null; asked: number }>(
    ctx.db.manager,
    `SELECT * FROM (SELECT ${naming(ctx)}, COALESCE(f.held, 0) AS held, COALESCE(f.unbilled, 0) AS unbilled, ${owedKept('f')} AS owed,
            NULLIF(GREATEST(COALESCE((SELECT MAX(x.minimum) FROM account_call x WHERE x.matter_id = m.id AND x.sent_on IS NOT NULL AND x.withdrawn_on IS NULL), 0),
              COALESCE((SELECT MAX(r.floor_amount) FROM matter_retainer r WHERE r.matter_id = m.id), 0)), 0) AS minimum,
            ${askedOn('m.id')} AS asked
       FROM matter m ${withNames} LEFT JOIN matter_figure f ON f.matter_id = m.id WHERE m.closed_on IS NULL AND ${inScope(ctx)} AND ${matterScope(ctx.actor, 'm', 'trust')}) z
      WHERE z.held <> 0 OR z.minimum IS NOT NULL ORDER BY z.held - z.owed - z.unbilled, z.id LIMIT 50000`,
  )
  return table(
    { title: 'Trust against work', under: `on ${showDay(ctx.clock.today())}, matters with money in trust or a minimum`, bars: [] },
    list,
    [
      ...named(),
      { key: 'held', text: 'In trust', kind: 'money', value: (r) => r.held, total: true },
      { key: 'owed', text: 'Owed', kind: 'money', value: (r) => r.owed || null, total: true },
      { key: 'unbilled', text: 'Unbilled', kind: 'money', value: (r) => r.unbilled || null, total: true },
      { key: 'after', text: 'Held after both', kind: 'money', value: (r) => r.held - r.owed - r.unbilled, total: true },
      { key: 'minimum', text: 'Minimum', kind: 'money', value: (r) => r.minimum },
      { key: 'asked', text: 'Asked for', kind: 'money', value: (r) => r.asked || null, total: true },
      { key: 'low', text: 'Remark', kind: 'text', value: (r) => (r.minimum !== null && r.held < r.minimum ? 'below minimum' : r.held < r.owed + r.unbilled ? 'less than its work' : '') }, // prettier-ignore
    ],
    (r) => ({ key: String(r.id), to: `/matters/${r.id}/trust` }),
  )
}

/** Open matters with a retainer: what is held against its floor, and what the client is to be asked for, less what was asked. */
export async function retainers(ctx: Ctx): Promise<ReportTable> {
  const list = await rows<Named & { held: number; owed: number; unbilled: number; floor: number; fillTo: number; asked: number }>(
    ctx.db.manager,
    `SELECT ${naming(ctx)}, COALESCE(f.held, 0) AS held, COALESCE(f.unbilled, 0) AS unbilled, ${owedKept('f')} AS owed, r.floor_amount AS floor, r.fill_to AS fillTo, ${askedOn('m.id')} AS asked
       FROM matter_retainer r JOIN matter m ON m.id = r.matter_id ${withNames} LEFT JOIN matter_figure f ON f.matter_id = m.id
      WHERE m.closed_on IS NULL AND ${inScope(ctx)} AND ${matterScope(ctx.actor, 'm', 'trust')} ORDER BY held - r.floor_amount, m.id LIMIT 50000`,
  )
  const lacks = (r: (typeof list)[number]) => toReplenish(r.held, r.floor, r.fillTo)
  const ask = (r: (typeof list)[number]) => Math.max(0, lacks(r) - r.asked)
  return table(
    { title: 'Retainers', under: `on ${showDay(ctx.clock.today())}, what is furthest below its floor first`, bars: [] },
    list,
    [
      ...named(),
      { key: 'held', text: 'In trust', kind: 'money', value: (r) => r.held, total: true },
      { key: 'floor', text: 'At least', kind: 'money', value: (r) => r.floor },
      { key: 'ask', text: 'To ask for', kind: 'money', value: (r) => ask(r) || null, total: true },
      { key: 'asked', text: 'Asked for', kind: 'money', value: (r) => r.asked || null, total: true },
      { key: 'owed', text: 'Owed', kind: 'money', value: (r) => r.owed || null, total: true },
      { key: 'unbilled', text: 'Unbilled', kind: 'money', value: (r) => r.unbilled || null, total: true },
      { key: 'fillTo', text: 'Filled up to', kind: 'money', value: (r) => r.fillTo },
    ],
    (r) => ({ key: String(r.id), to: `/matters/${r.id}/trust` }),
  )
}

/** Fees and costs billed in a span, less what the hours of that span cost the firm and what it spent. */
export async function profit(ctx: Ctx, s: Span): Promise<ReportTable> {
  const m = ctx.db.manager
  const rates = `(SELECT g.user_id, g.cost_rate, g.from_day, COALESCE(LEAD(g.from_day) OVER (PARTITION BY g.user_id ORDER BY g.from_day), '9999-12-31') AS to_day FROM timekeeper_goal g WHERE g.cost_rate IS NOT NULL)`
  const kept = await keeping(m, ctx)
  const t = kept('t.matter_id')
  const b = kept('b.matter_id')
  const time = await rows<{ id: number; minutes: number; cost: number; free: number }>(
    m,
    `SELECT y.matter_id AS id, SUM(y.minutes) AS minutes, SUM(FLOOR((2 * y.minutes * COALESCE(y.cost_rate, 0) + 60) / 120)) AS cost, SUM(IF(y.cost_rate IS NULL, y.minutes, 0)) AS free
       FROM (SELECT t.matter_id, t.user_id, r.cost_rate, SUM(t.worked_minutes) AS minutes
               FROM time_entry t ${t.join} LEFT JOIN ${rates} r ON r.user_id = t.user_id AND t.day >= r.from_day AND t.day < r.to_day
              WHERE t.day BETWEEN ? AND ? AND t.state <> 'reversed' AND ${t.where} GROUP BY t.matter_id, t.user_id, r.cost_rate) y GROUP BY y.matter_id`,
    [s.from, s.to],
  )
  // A bill keeps what its lines come to; what credits and write-offs took of them later is taken off beside.
  const issued = await rows<{ id: number; fees: number; costs: number }>(
    m,
    `SELECT STRAIGHT_JOIN b.matter_id AS id, SUM(b.fees - b.discount) AS fees, SUM(b.hard_costs + b.soft_costs) AS costs
       FROM bill b JOIN journal j ON j.id = b.journal_id AND j.kind <> 'opening' ${b.join} WHERE b.issued_on BETWEEN ? AND ? AND ${b.where} GROUP BY b.matter_id`,
    [s.from, s.to],
  )
  const lessened = await rows<{ id: number; fees: number; costs: number }>(
    m,
    `SELECT STRAIGHT_JOIN b.matter_id AS id, SUM(IF(l.kind IN ('time', 'flat'), a.amount, 0)) AS fees, SUM(IF(l.kind IN ('hard cost', 'soft cost'), a.amount, 0)) AS costs
       FROM payment p JOIN allocation a ON a.payment_id = p.id JOIN bill_line l ON l.id = a.bill_line_id JOIN bill b ON b.id = a.bill_id JOIN journal j ON j.id = b.journal_id AND j.kind <> 'opening' ${b.join}
      WHERE p.kind IN ('credit note', 'write-off', 'void') AND b.issued_on BETWEEN ? AND ? AND ${b.where} GROUP BY b.matter_id`,
    [s.from, s.to],
  )
  const off = new Map(lessened.map((l) => [l.id, l]))
  const billed = issued.map((x) => ({ id: x.id, fees: x.fees - (off.get(x.id)?.fees ?? 0), costs: x.costs - (off.get(x.id)?.costs ?? 0) }))
  const spent = await rows<{ id: number; spent: number }>(
    m,
    `SELECT e.matter_id AS id, SUM(e.paid) AS spent FROM cost_entry e JOIN matter m ON m.id = e.matter_id
      WHERE e.kind = 'hard cost' AND e.state = 'recorded' AND COALESCE(e.paid_from, '') <> 'trust' AND e.day BETWEEN ? AND ? AND ${inScope(ctx)} GROUP BY e.matter_id`,
    [s.from, s.to],
  )
  const by = new Map<number, { minutes: number; cost: number; free: number; fees: number; costs: number; spent: number }>()
  for (const part of [time, billed, spent])
    for (const { id, ...own } of part) by.set(id, { minutes: 0, cost: 0, free: 0, fees: 0, costs: 0, spent: 0, ...by.get(id), ...own })
  const ids = [...by.keys()]
  const names = ids.length ? await rows<Named>(m, `SELECT ${naming(ctx)} FROM matter m ${withNames} WHERE m.id IN (?)`, [ids]) : []
  const profitOf = (r: { fees: number; costs: number; cost: number; spent: number }) => r.fees + r.costs - r.cost - r.spent
  const list = names.map((n) => ({ ...n, ...by.get(n.id)! })).sort((a, b) => profitOf(b) - profitOf(a) || a.id - b.id)
  return table(
    { title: 'Profit by matter', under: `${spanText(s)}; billed less credits, hours at what they cost the firm`, bars: ['profit'] },
    list,
    [
      ...named<(typeof list)[number]>().slice(0, 2),
      { key: 'minutes', text: 'Hours', kind: 'hours', value: (r) => r.minutes, total: true },
      { key: 'fees', text: 'Fees billed', kind: 'money', value: (r) => r.fees || null, total: true },
      { key: 'cost', text: 'Cost of time', kind: 'money', value: (r) => r.cost || null, total: true },
      { key: 'costs', text: 'Costs billed', kind: 'money', value: (r) => r.costs || null, total: true },
      { key: 'spent', text: 'Costs spent', kind: 'money', value: (r) => r.spent || null, total: true },
      { key: 'profit', text: 'Profit', kind: 'money', value: profitOf, total: true },
      { key: 'margin', text: 'Of billed', kind: 'share', value: (r) => shareOf(profitOf(r), r.fees + r.costs), total: (all) => shareOf(all.reduce((n, r) => n + profitOf(r), 0), all.reduce((n, r) => n + r.fees + r.costs, 0)) }, // prettier-ignore
      // Said only where hours of someone without a cost are among them.
      ...(list.some((r) => r.free)
        ? [
            {
              key: 'free',
              text: 'No cost set',
              kind: 'hours' as const,
              value: (r: (typeof list)[number]) => r.free || null,
              total: true as const,
            },
          ]
        : []),
    ],
    (r) => ({ key: String(r.id), to: `/matters/${r.id}/time` }),
  )
}

/** Hours by who funds them and by activity, with those of private attorneys, as a grant's report asks for them. */
export async function funding(ctx: Ctx, s: Span): Promise<ReportTable> {
  const k = (await keeping(ctx.db.manager, ctx))('t.matter_id')
  const list = await rows<{
    fundingId: number | null
    source: string
    activity: string
    minutes: number
    privately: number
    matters: number
  }>(
    ctx.db.manager,
    `SELECT t.funding_id AS fundingId, COALESCE(f.name, 'No source') AS source, COALESCE(MAX(a.name), 'No activity') AS activity, SUM(t.minutes) AS minutes, SUM(IF(t.private_attorney, t.minutes, 0)) AS privately, COUNT(DISTINCT t.matter_id) AS matters
       FROM time_entry t ${k.join} LEFT JOIN funding_source f ON f.id = t.funding_id LEFT JOIN activity a ON a.code = t.activity
      WHERE t.day BETWEEN ? AND ? AND t.state <> 'reversed' AND ${k.where} GROUP BY t.funding_id, t.activity ORDER BY t.funding_id IS NULL, source, minutes DESC LIMIT 50000`,
    [s.from, s.to],
  )
  return table(
    { title: 'Hours by funding source', under: spanText(s), bars: ['minutes', 'privately'] },
    list,
    [
      { key: 'source', text: 'Funding source', kind: 'text', value: (r) => r.source },
      { key: 'activity', text: 'Activity', kind: 'text', value: (r) => r.activity },
      { key: 'matters', text: 'Matters', kind: 'number', value: (r) => r.matters },
      { key: 'minutes', text: 'Hours', kind: 'hours', value: (r) => r.minutes, total: true },
      { key: 'privately', text: 'By private attorneys', kind: 'hours', value: (r) => r.privately || null, total: true },
      { key: 'share', text: 'Their share', kind: 'share', value: (r) => shareOf(r.privately, r.minutes), total: (all) => shareOf(all.reduce((n, r) => n + r.privately, 0), all.reduce((n, r) => n + r.minutes, 0)) }, // prettier-ignore
    ],
    (r) => ({
      key: `${r.fundingId ?? ''} ${r.activity}`,
      to: `/time/all?from=${s.from}&to=${s.to}${r.fundingId ? `&fundingId=${r.fundingId}` : ''}&as=sums&by=activity`,
    }),
  )
}

/** How long work waits for its bill, and a bill for its money: days, each weighted by what it is worth. */
export async function delays(ctx: Ctx, s: Span): Promise<ReportTable> {
  const m = ctx.db.manager
  const toBill = await rows<{ id: number; net: number; days: number }>(
    m,
    `SELECT STRAIGHT_JOIN m.client_id AS id, SUM(l.net) AS net, SUM(l.net * DATEDIFF(b.issued_on, l.day)) AS days FROM bill b JOIN matter m ON m.id = b.matter_id JOIN bill_line l ON l.bill_id = b.id
      WHERE l.kind = 'time' AND l.net > 0 AND b.issued_on BETWEEN ? AND ? AND ${inScope(ctx)} GROUP BY m.client_id`,
    [s.from, s.to],
  )
  const toMoney = await rows<{ id: number; paid: number; days: number }>(
    m,
    `SELECT STRAIGHT_JOIN m.client_id AS id, SUM(z.paid) AS paid, SUM(z.paid * DATEDIFF(z.applied_on, b.issued_on)) AS days
       FROM (SELECT a.bill_id, a.payment_id, a.applied_on, SUM(a.amount) AS paid FROM allocation a WHERE a.applied_on BETWEEN ? AND ? GROUP BY a.bill_id, a.payment_id, a.applied_on) z
       JOIN payment p ON p.id = z.payment_id AND p.kind NOT IN ('credit note', 'write-off', 'void') JOIN bill b ON b.id = z.bill_id JOIN matter m ON m.id = b.matter_id WHERE ${inScope(ctx)} GROUP BY m.client_id`,
    [s.from, s.to],
  )
  const ids = [...new Set([...toBill, ...toMoney].map((r) => r.id))]
  const names = ids.length ? await rows<{ id: number; name: string }>(m, `SELECT c.id, ${nameFor(ctx.actor)} AS name FROM contact c WHERE c.id IN (?)`, [ids]) : [] // prettier-ignore
  const list = names
    .map((n) => ({ ...n, bill: toBill.find((b) => b.id === n.id), money: toMoney.find((x) => x.id === n.id) }))
    .sort((a, b) => (b.money?.paid ?? 0) - (a.money?.paid ?? 0) || a.id - b.id)
  const tenth = (days: number, of: number) => (of > 0 ? Math.round((10 * days) / of) / 10 : null)
  const all = <T extends object>(part: (r: (typeof list)[number]) => T | undefined, of: keyof T) =>
    list.reduce((n, r) => n + Number(part(r)?.[of] ?? 0), 0)
  return table(
    { title: 'From work to money', under: `${spanText(s)}; days weighted by amount`, bars: ['toBill', 'toMoney'] },
    list,
    [
      { key: 'name', text: 'Client', kind: 'text', value: (r) => r.name },
      { key: 'net', text: 'Time billed', kind: 'money', value: (r) => r.bill?.net ?? null, total: true },
      { key: 'toBill', text: 'Days to bill', kind: 'number', value: (r) => tenth(r.bill?.days ?? 0, r.bill?.net ?? 0), total: () => tenth(all((r) => r.bill, 'days'), all((r) => r.bill, 'net')) }, // prettier-ignore
      { key: 'paid', text: 'Paid', kind: 'money', value: (r) => r.money?.paid ?? null, total: true },
      { key: 'toMoney', text: 'Days to money', kind: 'number', value: (r) => tenth(r.money?.days ?? 0, r.money?.paid ?? 0), total: () => tenth(all((r) => r.money, 'days'), all((r) => r.money, 'paid')) }, // prettier-ignore
    ],
    (r) => ({ key: String(r.id), to: `/people/${r.id}` }),
  )
}
