import { asideKinds, type AsideKind } from '@heron/contract'
import { addDays, showDay, type Day } from '@heron/core/calendar'
import { monthOf } from '@heron/core/oversight'
import { showHours } from '@heron/core/time'
import { counted } from '@heron/core/words'
import { matterScope } from '../platform/access'
import { areas, type Waiting } from '../platform/area'
import { may, type Ctx } from '../platform/context'
import { row, rows } from '../platform/database'
import { preBills } from '../billing'
import { putOffBy } from './aside'
import { budgets } from './reports/matters'
import { trustListing } from './reports/money'
import { weeks } from './weeks'

interface Item {
  key: string
  text: string
  hint: string
  amount: number | null
  day: Day | null
  to: string
}
interface Kind {
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
const few = 6
/** A budget that is nearly used, in hundredths of a percent. */
const nearly = 80_00
/** Days after the end of a month by which its accounts are reconciled. */
const graceDays = 10

const kind = (key: string, title: string, act: string, all: string, list: Item[], count = list.length): Kind[] =>
  count ? [{ key, title, count, rows: list.slice(0, few), all, act, aside: asideKinds.find((k) => k === key) ?? null }] : []

async function overdue(ctx: Ctx): Promise<Kind[]> {
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

async function reconciliations(ctx: Ctx, open: (kind: AsideKind, key: string) => boolean): Promise<Kind[]> {
  if (!may(ctx.actor, 'trust.see')) return []
  const today = ctx.clock.today()
  // The last month that is to be closed by now.
  const due = addDays(monthOf(addDays(today, -graceDays)).from, -1)
  const list = await rows<{ id: number; name: string; closedTo: Day | null }>(
    ctx.db.manager,
    `SELECT b.id, b.name, (SELECT MAX(r.to_day) FROM reconciliation r WHERE r.bank_account_id = b.id AND NOT EXISTS (SELECT 1 FROM reconciliation_reopened o WHERE o.reconciliation_id = r.id)) AS closedTo
       FROM bank_account b WHERE EXISTS (SELECT 1 FROM bank_entry e WHERE e.bank_account_id = b.id AND e.day <= ?) HAVING closedTo IS NULL OR closedTo < ? ORDER BY b.id`,
    [due, due],
  )
  const to = may(ctx.actor, 'books.see') ? '/books?show=bank' : '/trust'
  return kind('months', 'Months of bank accounts that are not reconciled', 'Reconcile', to, list.filter((b) => open('months', `${b.id} ${due}`)).map((b) => ({ key: `${b.id} ${due}`, text: b.name, hint: b.closedTo ? `reconciled to ${showDay(b.closedTo)}` : 'never reconciled', amount: null, day: due, to }))) // prettier-ignore
}

/**
 * What needs a decision of a partner, each with where it is made; only what the reader may see. What the deciding act settles goes by
 * itself: a pre-bill that is approved, a client who was asked for what is lacking, somebody who was written to. The rest may be put off.
 */
export async function decisions(ctx: Ctx): Promise<{ kinds: Kind[]; aside: number }> {
  const off = await putOffBy(ctx)
  let aside = 0
  const open = (kind: AsideKind, key: string) => {
    if (!off.has(`${kind} ${key}`)) return true
    aside += 1
    return false
  }
  const waits: Partial<Waiting> = {}
  for (const own of areas()) Object.assign(waits, await own.waiting?.(ctx))
  const held = await preBills(ctx, { page: 1, size: few, q: '', state: 'review' })
  const approved = await preBills(ctx, { page: 1, size: few, q: '', state: 'approved' })
  const preRow = (p: (typeof held.rows)[number]) => ({ key: String(p.id), text: p.matter, hint: `${p.payer}, ${counted(p.lines, 'line')} up to ${showDay(p.workTo as Day)}`, amount: p.total, day: null, to: `/bills/pre/${p.id}` }) // prettier-ignore
  const caps = await budgets(ctx)
  const col = (key: string) => caps.columns.findIndex((c) => c.key === key)
  const near = caps.rows.filter((r) => Number(r.cells[col('share')] ?? 0) >= nearly && open('budgets', r.key))
  const trust = await trustListing(ctx)
  const at = (key: string) => trust.columns.findIndex((c) => c.key === key)
  const lacks = (r: (typeof trust.rows)[number]) => Number(r.cells[at('minimum')]) - Number(r.cells[at('held')])
  const low = trust.rows.filter((r) => r.cells[at('low')] === 'below minimum' && Number(r.cells[at('asked')] ?? 0) < lacks(r) && open('trust', r.key)) // prettier-ignore
  const halted = (await weeks(ctx, { weeks: 2 })).rows.filter((p) => p.stopped && open('stopped', String(p.id)))
  const kinds = [
    ...(await overdue(ctx)),
    ...kind('pre-bills', 'Pre-bills to review', 'Review', '/bills', held.rows.map(preRow), held.total),
    ...(may(ctx.actor, 'bills.issue') ? kind('approved', 'Approved pre-bills to issue', 'Issue', '/bills', approved.rows.map(preRow), approved.total) : []), // prettier-ignore
    ...kind('agree', 'Money that waits for a second person', 'Agree', '/trust?show=settle', [], waits.agree ?? 0),
    ...kind('conflicts', 'Conflict hits without a decision', 'Decide', '/people/conflicts?undecided=yes', [], waits.conflicts ?? 0),
    ...kind('budgets', 'Budgets nearly used', 'Look', '/reports/budget', near.map((r) => ({ key: r.key, text: String(r.cells[0]), hint: `${(Number(r.cells[col('share')]) / 100).toFixed(0)} % used${r.cells[col('capped')] ? ', capped' : ''}; left`, amount: Number(r.cells[col('left')]), day: null, to: r.to! }))), // prettier-ignore
    ...kind('trust', 'Trust below its minimum', 'Ask for money', '/reports/trust', low.map((r) => ({ key: r.key, text: String(r.cells[0]), hint: String(r.cells[1]), amount: Number(r.cells[at('held')]), day: null, to: r.to! }))), // prettier-ignore
    ...(await reconciliations(ctx, open)),
    ...kind('stopped', 'Time that is not recorded any more', 'Write', '/reports/weeks', halted.map((p) => ({ key: String(p.id), text: p.name, hint: `${p.stopped!.of === 'last week' ? `${showHours(p.stopped!.was)} h last week` : 'nothing this week'}, ${showHours(p.stopped!.usual)} h is usual`, amount: null, day: p.lastDay, to: `/reports/weeks?note=${p.id}` }))), // prettier-ignore
  ]
  return { kinds, aside }
}
