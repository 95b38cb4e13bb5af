import { addDays, type Day } from '@heron/core/calendar'
import { showUnits } from '@heron/core/costs'
import { sum } from '@heron/core/money'
import { showRateOrigin, type RateOrigin } from '@heron/core/time'
import { matterScope, mayPart, requireMatter } from '../platform/access'
import { may, type Ctx } from '../platform/context'
import { row, rows } from '../platform/database'
import { isToldCost, isUnbilledCost, isUnbilledTime, worthOfTime } from '../platform/figures'
import { fieldFault } from '../platform/problem'

export interface TimeRow {
  id: number
  userId: number
  who: string
  initials: string
  matterId: number
  matter: string
  day: Day
  activity: string | null
  text: string
  minutes: number
  workedMinutes: number
  rate: number
  rateOrigin: RateOrigin
  amount: number
  charge: 'billable' | 'no charge' | 'non-billable'
  state: 'draft' | 'posted' | 'reversed' | 'written off'
  billed: string | null
  start: string | null
  end: string | null
  task: string | null
  inCourt: number
  fundingId: number | null
  funding: string | null
  privateAttorney: number
}

export const selectTime = `SELECT t.id, t.user_id AS userId, u.name AS who, u.initials, t.matter_id AS matterId, m.short_name AS matter, t.day, t.activity, t.text, t.minutes,
    t.worked_minutes AS workedMinutes, t.rate, t.rate_origin AS rateOrigin, t.amount, t.charge, t.state, b.number AS billed,
    t.started_at AS start, t.ended_at AS end, t.task, t.in_court AS inCourt, t.funding_id AS fundingId, f.name AS funding, t.private_attorney AS privateAttorney
  FROM time_entry t JOIN user_account u ON u.id = t.user_id JOIN matter m ON m.id = t.matter_id LEFT JOIN bill b ON b.id = t.bill_id LEFT JOIN funding_source f ON f.id = t.funding_id`

/** The longest span of own time that is read at once: a year and a month. */
const mostDays = 400

export const shownTime = (list: readonly TimeRow[]) =>
  list.map((t) => ({
    ...t,
    rateOrigin: showRateOrigin(t.rateOrigin),
    inCourt: Boolean(t.inCourt),
    privateAttorney: Boolean(t.privateAttorney),
  }))

function groupedBy<K>(list: readonly TimeRow[], key: (t: TimeRow) => K): Map<K, TimeRow[]> {
  const out = new Map<K, TimeRow[]>()
  for (const t of list) {
    const own = out.get(key(t))
    if (own) own.push(t)
    else out.set(key(t), [t])
  }
  return out
}

export async function timeOf(ctx: Ctx, from: Day, to: Day) {
  if (to > addDays(from, mostDays)) throw fieldFault('to', `Give a span of at most ${mostDays} days`)
  const found = await rows<TimeRow>(
    ctx.db.manager,
    `${selectTime} WHERE t.user_id = ? AND t.day BETWEEN ? AND ? AND t.state <> 'reversed' AND ${matterScope(ctx.actor)} ORDER BY t.day DESC, t.id DESC`,
    [ctx.actor.id, from, to],
  )
  const of = (list: readonly TimeRow[]) => ({
    minutes: list.reduce((n, t) => n + t.minutes, 0),
    worth: sum(list.filter((t) => t.charge === 'billable').map((t) => t.amount)),
  })
  return {
    rows: shownTime(found),
    together: of(found),
    days: [...groupedBy(found, (t) => t.day)].map(([day, list]) => ({ day, ...of(list) })),
    matters: [...groupedBy(found, (t) => t.matterId)].map(([matterId, list]) => ({ matterId, matter: list[0]!.matter, ...of(list) })),
    goal: (await row<{ goal: number }>(ctx.db.manager, `SELECT day_goal_minutes AS goal FROM user_account WHERE id = ?`, [ctx.actor.id]))!
      .goal,
  }
}

const shownAtOnce = 300

export async function timeOfMatter(ctx: Ctx, matterId: number, unbilled: boolean) {
  const m = ctx.db.manager
  await requireMatter(m, ctx, matterId)
  const only = unbilled ? `AND t.bill_id IS NULL AND t.state IN ('draft', 'posted')` : ''
  // Those who do not see bills see only time they recorded themselves.
  const money = may(ctx.actor, 'bills.see') && (await mayPart(m, ctx, matterId, 'money'))
  const own = money ? '' : `AND t.user_id = ${Number(ctx.actor.id)}`
  const time = await rows<TimeRow>(
    m,
    `${selectTime} WHERE t.matter_id = ? ${only} ${own} ORDER BY t.day DESC, t.id DESC LIMIT ${shownAtOnce}`,
    [matterId],
  )
  const count = await row<{ n: number; worth: number }>(
    m,
    `SELECT COUNT(*) AS n, COALESCE(SUM(IF(${isUnbilledTime('t')}, ${worthOfTime('t')}, 0)), 0) AS worth FROM time_entry t WHERE t.matter_id = ? ${only} ${own}`,
    [matterId],
  )
  const costs = own
    ? []
    : await rows<{ id: number; day: Day; kindName: string; text: string; units: number | null; amount: number; billable: number; paidFrom: 'operating' | 'trust' | 'owed' | null; state: 'recorded' | 'reversed'; receiptId: number | null; receipt: string | null; billed: string | null }> // prettier-ignore
      (
        m,
        `SELECT c.id, c.day, COALESCE(k.name, c.kind) AS kindName, c.text, c.units, c.amount, c.billable, IF(c.settled_on IS NULL, c.paid_from, 'operating') AS paidFrom, c.state, c.receipt_id AS receiptId, p.name AS receipt, b.number AS billed
           FROM cost_entry c LEFT JOIN cost_kind k ON k.id = c.kind_id LEFT JOIN bill b ON b.id = c.bill_id LEFT JOIN paper p ON p.id = c.receipt_id AND p.deleted_at IS NULL
          WHERE c.matter_id = ? ${unbilled ? `AND (${isUnbilledCost('c')} OR ${isToldCost('c')})` : ''} ORDER BY c.day DESC, c.id DESC LIMIT ${shownAtOnce}`,
        [matterId],
      )
  const told = costs.map((c) => ({ ...c, billable: Boolean(c.billable), units: c.units === null ? '' : showUnits(c.units) }))
  return { time: shownTime(time), costs: told, more: Math.max(0, count!.n - shownAtOnce), unbilled: count!.worth }
}

export const activities = (ctx: Ctx) =>
  rows<{ code: string; name: string }>(ctx.db.manager, `SELECT code, name FROM activity ORDER BY name`)
