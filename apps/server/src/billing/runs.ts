import type { Day } from '@heron/core/calendar'
import { counted } from '@heron/core/words'
import { showMoney } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { issueBillIn } from './issue'
import { makePreBillIn } from './pre-bills'
import { letterFacts, unbilledIds, type UnbilledFilter } from './queries'
import { billsOfPreBills, lockedItem, mattersToBill, preBillsToIssue, runCounts, runItems, runRows } from './run-queries'
import { BillRun, BillRunItem } from './run-entities'
import { instant, type Ctx } from '../platform/context'
import { insertMany, insertRow, work } from '../platform/database'
import { enqueue } from '../platform/enqueue'
import { fieldFault, notFound, Problem } from '../platform/problem'

/** Most matters or pre-bills of one run. */
export const mostOfRun = 5000

async function begin(
  m: EntityManager,
  ctx: Ctx,
  run: Pick<BillRun, 'what' | 'day' | 'send'>,
  items: readonly { matterId: number; preBillId: number | null }[],
): Promise<{ id: number; of: number; jobId: number }> {
  const id = await insertRow(m, BillRun, { ...run, userId: ctx.actor.id, beganAt: instant(ctx.clock.now()) })
  await insertMany(
    m,
    'bill_run_item',
    ['run_id', 'ordinal', 'matter_id', 'pre_bill_id'],
    items.map((x, i) => [id, i + 1, x.matterId, x.preBillId]),
  )
  return { id, of: items.length, jobId: await enqueue(m, ctx, 'bill run', { runId: id }) }
}

/** Pre-bills of all chosen matters, or of all that a filter lets through; each matter for itself, by a job. */
export const startRun = (ctx: Ctx, input: { workTo: Day; matterIds: readonly number[] | null; filter: UnbilledFilter | null }) =>
  work(ctx, async (m) => {
    const ids = input.matterIds ?? (await unbilledIds(ctx, { ...input.filter, to: input.workTo, payable: 'yes' }, mostOfRun + 1))
    if (!ids.length) throw fieldFault('matterIds', 'Choose at least one matter')
    if (ids.length > mostOfRun)
      throw fieldFault('matterIds', `A run takes at most ${mostOfRun.toLocaleString('en-US')} matters. Narrow it by lawyer, area or amount`)
    const open = await mattersToBill(m, ctx, [...new Set(ids)])
    if (input.matterIds && open.length !== new Set(ids).size) throw notFound('matter')
    if (!open.length) throw fieldFault('matterIds', 'None of these matters is yours to bill')
    return begin(m, ctx, { what: 'make', day: input.workTo, send: false }, open.map((x) => ({ ...x, preBillId: null }))) // prettier-ignore
  })

/** Issues approved pre-bills, each for itself, and sends them where wanted. */
export const startIssuing = (ctx: Ctx, input: { day: Day; preBillIds: readonly number[]; send: boolean }) =>
  work(ctx, async (m) => {
    const ids = [...new Set(input.preBillIds)]
    if (input.day > ctx.clock.today()) throw fieldFault('day', 'A bill cannot be dated ahead')
    const open = await preBillsToIssue(m, ctx, ids)
    if (open.length !== ids.length) throw notFound('pre-bill')
    return begin(m, ctx, { what: 'issue', day: input.day, send: input.send }, open) // prettier-ignore
  })

/** Does one thing of a run, in a transaction of its own; what was done before is not done again. */
async function doOne(ctx: Ctx, run: BillRun, ordinal: number): Promise<void> {
  await work(ctx, async (m) => {
    const item = await lockedItem(m, run.id, ordinal)
    if (item?.state !== 'waiting') return
    if (run.what === 'make') {
      const made = await makePreBillIn(m, ctx, item.matterId, run.day)
      await m.update(BillRunItem, { runId: run.id, ordinal }, { state: 'done', preBillId: made.id, words: `${counted(made.lines, 'line')}, ${showMoney(made.total)}` }) // prettier-ignore
      return
    }
    const bills = await issueBillIn(m, ctx, item.preBillId!, run.day)
    const all = [bills, ...bills.others]
    const told: string[] = []
    for (const b of all) {
      const to = run.send ? (await letterFacts(m, ctx, b.id)).email : ''
      told.push(`${b.number}${!run.send ? '' : to ? ` to ${to}` : ', not sent: no e-mail address'}`)
      await enqueue(m, ctx, 'bill after issue', { billId: b.id, send: to !== '' })
    }
    const words = `Bill ${told.join('; ')}`
    await m.update(BillRunItem, { runId: run.id, ordinal }, { state: 'done', words: words.slice(0, 300) })
  })
}

/** The work of a run. Broken off, it goes on where it was; what is refused says why and holds nothing else up. */
export async function doRun(ctx: Ctx, { runId }: { runId: number }, progress: (percent: number) => Promise<void>) {
  const m = ctx.db.manager
  const run = await m.findOneByOrFail(BillRun, { id: runId })
  const items = await m.find(BillRunItem, { where: { runId }, order: { ordinal: 'ASC' } })
  // One after another: pre-bills and bills have their numbers in the order of the list.
  for (const [i, item] of items.entries()) {
    if (item.state === 'waiting')
      try {
        await doOne(ctx, run, item.ordinal)
      } catch (error) {
        if (!(error instanceof Problem)) throw error
        const words = error.fields.length ? error.fields.map((f) => f.message).join('. ') : error.message
        await m.update(BillRunItem, { runId, ordinal: item.ordinal, state: 'waiting' }, { state: 'refused', words: words.slice(0, 300) })
      }
    if (i % 5 === 4) await progress((100 * (i + 1)) / items.length)
  }
  await m.update(BillRun, runId, { endedAt: instant(ctx.clock.now()) })
  return { runId }
}

/** Whoever began a run sees it; others see it as far as its matters are open to them. */
export async function runOf(ctx: Ctx, id: number, page: { page: number; size: number; state: 'all' | 'waiting' | 'done' | 'refused' }) {
  const run = (await runRows(ctx, id))[0]
  if (!run) throw notFound('run')
  const list = await runItems(ctx, id, page)
  const bills = await billsOfPreBills(
    ctx.db.manager,
    list.rows.flatMap((r) => r.preBillId ?? []),
  )
  return {
    ...run,
    ...(await runCounts(ctx, id)),
    total: list.total,
    rows: list.rows.map((r) => ({ ...r, bills: bills.filter((b) => b.preBillId === r.preBillId).map(({ id: billId, number }) => ({ id: billId, number })) })), // prettier-ignore
  }
}

export const runs = (ctx: Ctx) => runRows(ctx, null)
