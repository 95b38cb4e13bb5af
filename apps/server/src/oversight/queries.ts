import { type AsideKind, asideKinds } from '@heron/contract'
import { addDays, type Day, showDay } from '@heron/core/calendar'
import { type Goal, monthOf, type Week } from '@heron/core/oversight'
import type { EntityManager } from 'typeorm'
import { matterScope } from '../platform/access'
import { type Ctx, instant, may } from '../platform/context'
import { row, rows, run } from '../platform/database'
import { recordedWorth } from '../platform/figures'
import { inScope, type Kept } from './flow-queries'

/** How much one person may have put off. */
export const most = 1_000

/** What the actor has put off and is not due again, as `kind item`. */
export async function putOffBy(ctx: Ctx): Promise<Set<string>> {
  const list = await rows<{ kind: string; item: string }>(
    ctx.db.manager,
    `SELECT kind, item FROM decision_aside WHERE user_id = ? AND until > ? ORDER BY until DESC LIMIT ${most + 100}`,
    [ctx.actor.id, ctx.clock.today()],
  )
  return new Set(list.map((x) => `${x.kind} ${x.item}`))
}

export interface KeptGoal extends Goal {
  userId: number
  costRate: number | null
}

/** Goals of timekeepers, each from its day on. */
export const goalsOf = (m: EntityManager) =>
  rows<KeptGoal>(
    m,
    `SELECT user_id AS userId, from_day AS \`from\`, basis, weekly, monthly, cost_rate AS costRate FROM timekeeper_goal ORDER BY user_id, from_day DESC`,
  )

/** On which day of the week the firm's week ends. */
export const weekEnd = async (m: EntityManager) => (await row<{ d: number }>(m, `SELECT week_ends AS d FROM firm`))?.d ?? 5

/** Time and money by timekeeper and week before the one that ends on a day (0 that week, 1 the one before). */
export async function byWeek(m: EntityManager, kept: Kept, from: Day, to: Day, upTo: Day) {
  const k = kept('t.matter_id')
  return rows<{ userId: number; n: number; minutes: number; worth: number; last: Day }>(
    m,
    `SELECT t.user_id AS userId, FLOOR(DATEDIFF(?, t.day) / 7) AS n, SUM(t.minutes) AS minutes, SUM(${recordedWorth('t')}) AS worth, MAX(t.day) AS last
       FROM time_entry t FORCE INDEX (time_entry_by_day) ${k.join} WHERE t.state <> 'reversed' AND t.day BETWEEN ? AND ? AND ${k.where} GROUP BY t.user_id, n`,
    [to, from, upTo],
  )
}

/** Money that counts towards a goal, of those whose goals count it. */
export async function collectedBy(m: EntityManager, kept: Kept, keepers: readonly number[], from: Day, to: Day, upTo: Day) {
  if (!keepers.length) return []
  const k = kept('x.matter_id')
  return rows<{ userId: number; n: number; amount: number }>(
    m,
    `SELECT STRAIGHT_JOIN x.timekeeper_id AS userId, FLOOR(DATEDIFF(?, x.applied_on) / 7) AS n, SUM(x.amount) AS amount
       FROM allocation_share x ${k.join}
      WHERE x.applied_on BETWEEN ? AND ? AND x.timekeeper_id IN (?) AND ${k.where} GROUP BY x.timekeeper_id, n`,
    [to, from, upTo, keepers],
  )
}

/** Time by person and week, from what is added up by day. */
export const weeksMoved = (m: EntityManager, ctx: Ctx, last: Day, at: string, shown: Week[], asOf: Day) =>
  rows<{ userId: number; n: number; minutes: number; worth: number }>(
    m,
    `SELECT v.user_id AS userId, FLOOR(DATEDIFF(?, v.day) / 7) AS n, SUM(v.minutes) AS minutes, SUM(v.worth) AS worth
           FROM time_moved v JOIN matter m ON m.id = v.matter_id WHERE v.at > ? AND v.day BETWEEN ? AND ? AND ${inScope(ctx)} GROUP BY v.user_id, n`,
    [last, at, shown.at(-1)!.from, asOf],
  )

/** Who was or is away since a day. */
export const awayUntil = (m: EntityManager, all: Week[]) =>
  rows<{ userId: number; from: Day; to: Day | null }>(
    m,
    `SELECT user_id AS userId, from_day AS \`from\`, to_day AS \`to\` FROM absence WHERE to_day IS NULL OR to_day >= ?`,
    [all[1]!.from],
  )

/** When somebody looked, and what was told then. */
export const noteLook = (m: EntityManager, ctx: Ctx) =>
  run(m, `INSERT INTO oversight_look (user_id, at, day, told_at) VALUES (?, UTC_TIMESTAMP(6), ?, ?)`, [
    ctx.actor.id,
    ctx.clock.today(),
    instant(ctx.clock.now()),
  ])

/** How many goals a person has, locked while one is added. */
export const goalsSet = (m: EntityManager, userId: number) =>
  row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM timekeeper_goal WHERE user_id = ? FOR UPDATE`, [userId])

interface Item {
  key: string
  text: string
  hint: string
  amount: number | null
  day: Day | null
  to: string
}

export interface Kind {
  key: string
  title: string
  count: number
  rows: Item[]
  /** Where all of them stand, and what is done there. */
  all: string
  act: string
  /** Under which name its rows may be put off. */
  aside: AsideKind | null
}

/** How many of a kind are told; the rest stand where they are dealt with. */
export const few = 6

/** Days after the end of a month by which its accounts are reconciled. */
const graceDays = 10

/** A kind of things that want a decision, with the first few of them; nothing where there are none. */
export const kind = (key: string, title: string, act: string, all: string, list: Item[], count = list.length): Kind[] =>
  count ? [{ key, title, count, rows: list.slice(0, few), all, act, aside: asideKinds.find((k) => k === key) ?? null }] : []

/** Dates of open matters that passed without being met. */
export async function overdue(ctx: Ctx): Promise<Kind[]> {
  if (!may(ctx.actor, 'docket.see')) return []
  const from = `FROM docket_entry d JOIN matter m ON m.id = d.matter_id LEFT JOIN user_account u ON u.id = d.responsible_id
    WHERE d.day < ? AND d.mark IN ('open', 'in hand') AND NOT d.left_out AND d.removed_at IS NULL AND d.weight <> 'appointment' AND m.closed_on IS NULL AND m.kind <> 'practice' AND ${matterScope(ctx.actor, 'm', 'docket')}`
  const today = ctx.clock.today()
  const list = await rows<{ id: number; title: string; day: Day; matterId: number; matter: string; who: string | null }>(
    ctx.db.manager,
    `SELECT d.id, d.title, d.day, m.id AS matterId, CONCAT(m.number, ' ', m.short_name) AS matter, u.name AS who ${from} ORDER BY d.day, d.id LIMIT ${few}`,
    [today],
  )
  if (!list.length) return []
  const n = (await row<{ n: number }>(ctx.db.manager, `SELECT COUNT(*) AS n ${from}`, [today]))!.n
  return kind('dates', 'Dates that are past and not met', 'Mark', '/docket', list.map((d) => ({ key: String(d.id), text: d.title, hint: [d.matter, d.who].filter(Boolean).join(', '), amount: null, day: d.day, to: `/matters/${d.matterId}/docket?entry=${d.id}` })), n) // prettier-ignore
}

/** Bank accounts whose month should be closed by now and is not. */
export async function reconciliations(ctx: Ctx, open: (kind: AsideKind, key: string) => boolean): Promise<Kind[]> {
  if (!may(ctx.actor, 'trust.see')) return []
  const today = ctx.clock.today()
  // The last month that is to be closed by now.
  const due = addDays(monthOf(addDays(today, -graceDays)).from, -1)
  const list = await rows<{ id: number; name: string; closedTo: Day | null }>(
    ctx.db.manager,
    `SELECT b.id, b.name, (SELECT MAX(r.to_day) FROM reconciliation r WHERE r.bank_account_id = b.id AND NOT EXISTS (SELECT 1 FROM reconciliation_reopened o WHERE o.reconciliation_id = r.id)) AS closedTo
       FROM bank_account b WHERE (SELECT e.day FROM bank_entry e WHERE e.bank_account_id = b.id ORDER BY e.day LIMIT 1) <= ? HAVING closedTo IS NULL OR closedTo < ? ORDER BY b.id`,
    [due, due],
  )
  const to = may(ctx.actor, 'books.see') ? '/books?show=bank' : '/trust'
  return kind('months', 'Months of bank accounts that are not reconciled', 'Reconcile', to, list.filter((b) => open('months', `${b.id} ${due}`)).map((b) => ({ key: `${b.id} ${due}`, text: b.name, hint: b.closedTo ? `reconciled to ${showDay(b.closedTo)}` : 'never reconciled', amount: null, day: due, to }))) // prettier-ignore
}
