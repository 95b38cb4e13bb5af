import { type Arrangement, type Charge, chargeUnder } from '@heron/core/billing'
import { addDays, type Day } from '@heron/core/calendar'
import { showUnits } from '@heron/core/costs'
import { sum } from '@heron/core/money'
import { type RateOrigin, showRateOrigin } from '@heron/core/time'
import type { EntityManager } from 'typeorm'
import { matterScope, mayPart, type OpenMatter, requireMatter } from '../platform/access'
import { actsOpenTo } from '../platform/acts'
import { type Ctx, instant, isoOf, may } from '../platform/context'
import { row, rows } from '../platform/database'
import { isToldCost, isUnbilledCost, isUnbilledTime, unbilledOn, worthOfTime } from '../platform/figures'
import { fieldFault } from '../platform/problem'
import { workingDays } from '../tasks'

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

/** Entries of time as they are shown, their rate's origin in words. */
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

/** One's own time of a span by day, with what is left to the goal. */
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

/** Time of a matter as far as the reader may see it: all of it with the matter's money, else their own. */
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

/** Activity codes of the firm by name. */
export const activities = (ctx: Ctx) =>
  rows<{ code: string; name: string }>(ctx.db.manager, `SELECT code, name FROM activity ORDER BY name`)

interface Sources {
  name: string
  active: number
  unit: number
  rounding: 'up' | 'nearest'
  matter: number | null
  client: number | null
  role: number | null
  activity: number | null
  fromDay: Day | null
  toDay: Day | null
  rate: number | null
  usual: number | null
}

/** What an entry is rounded and rated by, from all who have a say in it. */
export const priceFacts = (m: EntityManager, matterId: number, clientId: number, activity: string | null, userId: number) =>
  rows<Sources>(
    m,
    `SELECT u.name, u.active, COALESCE(mt.unit_minutes, ct.unit_minutes, f.time_unit_minutes) AS unit, COALESCE(mt.rounding, ct.rounding, f.time_rounding) AS rounding,
            t.rate AS matter, c.rate AS client, rr.rate AS role, a.rate AS activity,
            r.from_day AS fromDay, r.to_day AS toDay, r.rate, r.usual
       FROM user_account u JOIN firm f
       LEFT JOIN matter_team t ON t.user_id = u.id AND t.matter_id = ?
       LEFT JOIN client_rate c ON c.user_id = u.id AND c.client_id = ?
       LEFT JOIN role_rate rr ON rr.matter_id = t.matter_id AND rr.role = t.role
       LEFT JOIN time_terms mt ON mt.owner = 'matter' AND mt.owner_id = ?
       LEFT JOIN time_terms ct ON ct.owner = 'client' AND ct.owner_id = ?
       LEFT JOIN activity a ON a.code = ?
       LEFT JOIN user_rate r ON r.user_id = u.id
      WHERE u.id = ?`,
    [matterId, clientId, matterId, clientId, activity, userId],
  )

/** How time of a matter is charged on a day: never on the firm's own matters, nor where it is done at no charge or for a grant. */
export async function chargeOn(m: EntityManager, matter: OpenMatter, day: Day, said: Charge): Promise<Charge> {
  if (matter.kind !== 'client') return 'non-billable'
  const then = await row<{ billing: Arrangement }>(
    m,
    `SELECT billing FROM matter_arrangement WHERE matter_id = ? AND from_day <= ? ORDER BY from_day DESC LIMIT 1`,
    [matter.id, day],
  )
  return chargeUnder(then?.billing ?? matter.billing, said)
}

export interface DraftRow {
  id: number
  userId: number
  matterId: number
  day: Day
  amount: number
  charge: string
}

/** Drafts that whoever asks may post, in the order of their days. */
export const draftsToPost = (m: EntityManager, ctx: Ctx, ids: number[]) =>
  rows<DraftRow>(
    m,
    `SELECT id, user_id AS userId, matter_id AS matterId, day, amount, charge FROM time_entry
        WHERE id IN (?) AND state = 'draft' AND (user_id = ? OR entered_by = ?) ORDER BY day, id FOR UPDATE`,
    [ids, ctx.actor.id, ctx.actor.id],
  )

/** The number of the bill that an entry stands on. */
export const numberOfBill = (m: EntityManager, billId: number) =>
  row<{ number: string }>(m, `SELECT number FROM bill WHERE id = ?`, [billId])

/** The matter whose pre-bill holds an entry. */
export const preBillWith = (m: EntityManager, id: number) =>
  row<{ matter: string }>(
    m,
    `SELECT m.number AS matter FROM pre_bill_line l JOIN pre_bill p ON p.id = l.pre_bill_id JOIN matter m ON m.id = p.matter_id WHERE l.kind = 'time' AND l.source_id = ? AND p.state <> 'issued'`,
    [id],
  )

/** What a matter has of drafts and of time that was not billed. */
export const timeLeft = (m: EntityManager, id: number) =>
  row<{ drafts: number; time: number }>(
    m,
    `SELECT (SELECT COUNT(*) FROM time_entry WHERE matter_id = x.id AND state = 'draft') AS drafts, ${unbilledOn.time('x')} AS time FROM matter x WHERE x.id = ?`,
    [id],
  )

/** What a person recorded today, and what waits. */
export const timeOfDay = (ctx: Ctx) =>
  row<{ today: number; drafts: number; goal: number }>(
    ctx.db.manager,
    `SELECT COALESCE((SELECT SUM(minutes) FROM time_entry WHERE user_id = ? AND day = ? AND state <> 'reversed'), 0) AS today,
              (SELECT COUNT(*) FROM time_entry WHERE user_id = ? AND state = 'draft') AS drafts, (SELECT day_goal_minutes FROM user_account WHERE id = ?) AS goal`,
    [ctx.actor.id, ctx.clock.today(), ctx.actor.id, ctx.actor.id],
  )

/** How far back days are looked at. */
const daysBack = 35

/** Days of work on which one has recorded less than one means to, the newest first; none for those without a goal. */
export async function missingDays(ctx: Ctx): Promise<{ goal: number; days: { day: Day; minutes: number }[] }> {
  const m = ctx.db.manager
  const own = await row<{ goal: number }>(m, `SELECT day_goal_minutes AS goal FROM user_account WHERE id = ?`, [ctx.actor.id]) // prettier-ignore
  const goal = own?.goal ?? 0
  if (!goal) return { goal: 0, days: [] }
  const today = ctx.clock.today()
  const from = addDays(today, -daysBack)
  const recorded = new Map(
    (
      await rows<{ day: Day; minutes: number }>(
        m,
        `SELECT day, SUM(minutes) AS minutes FROM time_entry WHERE user_id = ? AND day BETWEEN ? AND ? AND state <> 'reversed' GROUP BY day`,
        [ctx.actor.id, from, today],
      )
    ).map((r) => [r.day, Number(r.minutes)]),
  )
  const away = await rows<{ from: Day; to: Day | null }>(m, `SELECT from_day AS \`from\`, to_day AS \`to\` FROM absence WHERE user_id = ?`, [ctx.actor.id]) // prettier-ignore
  const calendar = await workingDays(m)
  const days: { day: Day; minutes: number }[] = []
  for (let day = addDays(today, -1); day >= from; day = addDays(day, -1)) {
    const minutes = recorded.get(day) ?? 0
    if (minutes < goal && calendar.closedWhy(day, 'before') === null && !away.some((a) => a.from <= day && (a.to === null || day <= a.to)))
      days.push({ day, minutes })
  }
  return { goal, days }
}

/** What one did on a day by the log, and what stood on one's calendar, to jog the memory. */
export async function dayAtWork(ctx: Ctx, day: Day) {
  const m = ctx.db.manager
  const acts = await rows<{ id: number; at: string; kind: string; text: string; matterId: number; matter: string }>(
    m,
    `SELECT l.id, l.at, l.kind, l.text, l.matter_id AS matterId, m.short_name AS matter FROM audit_log l JOIN matter m ON m.id = l.matter_id
      WHERE l.user_id = ? AND l.at >= ? AND l.at < ? AND l.subject <> 'time' AND ${actsOpenTo(ctx)} ORDER BY l.id DESC LIMIT 60`,
    [ctx.actor.id, instant(ctx.clock.beginOf(day)), instant(ctx.clock.beginOf(addDays(day, 1)))],
  )
  const dates = may(ctx.actor, 'docket.see')
    ? await rows<{ id: number; title: string; time: string | null; matterId: number; matter: string }>(
        m,
        `SELECT e.id, e.title, TIME_FORMAT(e.at_time, '%H:%i') AS time, e.matter_id AS matterId, m.short_name AS matter FROM docket_entry e JOIN matter m ON m.id = e.matter_id
          WHERE e.responsible_id = ? AND e.day = ? AND NOT e.left_out AND e.mark <> 'vacated' AND ${matterScope(ctx.actor, 'm', 'docket')} ORDER BY e.at_time, e.id LIMIT 30`,
        [ctx.actor.id, day],
      )
    : []
  return { dates, acts: acts.map(({ id, text, matterId, matter, kind }) => ({ id, kind, text, matterId, matter })) }
}

interface TimerRow {
  id: number
  matterId: number | null
  matter: string
  text: string
  seconds: number
  since: string | null
}

/** How long a timer has run, what it runs just now included. */
export const secondsOf = (ctx: Ctx, t: Pick<TimerRow, 'seconds' | 'since'>) =>
  t.seconds + (t.since ? Math.max(0, Math.floor((ctx.clock.now().getTime() - Date.parse(isoOf(t.since))) / 1000)) : 0)

/** The actor's timers, the running one first; their state is the server's, so every browser shows the same. */
export async function timersOf(ctx: Ctx) {
  const found = await rows<TimerRow>(
    ctx.db.manager,
    `SELECT t.id, m.id AS matterId, COALESCE(m.short_name, '') AS matter, t.text, t.seconds, t.running_since AS since
       FROM timer t LEFT JOIN matter m ON m.id = t.matter_id AND ${matterScope(ctx.actor)} WHERE t.user_id = ? ORDER BY t.running_since IS NULL, t.id DESC`,
    [ctx.actor.id],
  )
  return found.map(({ since, ...t }) => {
    const began = since ? ctx.clock.at(since) : null
    const overnight = began !== null && began.day < ctx.clock.today()
    return { ...t, seconds: secondsOf(ctx, { seconds: t.seconds, since }), running: since !== null, since: began, overnight }
  })
}

/** The timer that runs, locked. */
export const runningTimer = (m: EntityManager, ctx: Ctx) =>
  row<{ id: number; seconds: number; since: string }>(
    m,
    `SELECT id, seconds, running_since AS since FROM timer WHERE user_id = ? AND running_since IS NOT NULL FOR UPDATE`,
    [ctx.actor.id],
  )

/** A timer of a person, locked. */
export const timerOf = (m: EntityManager, ctx: Ctx, id: number) =>
  row<{ id: number; seconds: number; since: string | null; workedOn: Day | null }>(
    m,
    `SELECT id, seconds, running_since AS since, worked_on AS workedOn FROM timer WHERE id = ? AND user_id = ? FOR UPDATE`,
    [id, ctx.actor.id],
  )
