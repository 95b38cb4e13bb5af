import type { AsideKind } from '@heron/contract'
import { showDay, type Day } from '@heron/core/calendar'
import { showHours } from '@heron/core/time'
import { counted } from '@heron/core/words'
import { areas, type Waiting } from '../platform/area'
import { may, type Ctx } from '../platform/context'
import { preBills } from '../billing'
import { putOffBy, few, type Kind, kind, overdue, reconciliations } from './queries'
import { budgets } from './reports/matter-queries'
import { trustListing } from './reports/money-queries'
import { weeks } from './weeks'

/** A budget that is nearly used, in hundredths of a percent. */
const nearly = 80_00

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
