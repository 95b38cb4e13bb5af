import type { Day } from '@heron/core/calendar'
import { share } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import type { Ctx } from '../platform/context'
import { insertMany } from '../platform/database'
import { notFound } from '../platform/problem'
import { type BillHead, feesApplied, lockedBills, lockMattersOf, type Part, sharesApplied } from './payment-queries'

/** Locks bills by their matters, in order of id, and reads what each leaves open, and how much of that is not earned on a day. */
export async function lockBills(m: EntityManager, ctx: Ctx, ids: readonly number[], day: Day): Promise<BillHead[]> {
  const wanted = [...new Set(ids)]
  if (!wanted.length) return []
  await lockMattersOf(m, wanted)
  const found = await lockedBills(m, ctx, day, wanted)
  if (found.length !== wanted.length) throw notFound('bill')
  return found.map(({ madeAt, movedIn, ...bill }) => ({
    ...bill,
    // A bill of before the firm moved in was issued on the day that it bears.
    madeOn: movedIn ? bill.issuedOn : ctx.clock.at(madeAt).day,
  }))
}

export async function lockBill(m: EntityManager, ctx: Ctx, id: number, day: Day): Promise<BillHead> {
  return (await lockBills(m, ctx, [id], day))[0]!
}

/**
 * Writes what a document pays of lines, or takes off them again. What falls on fees is shared over the timekeepers behind them where
 * it is money: a line of time is its timekeeper's, a flat one is shared by the fixed weights, so that the shares of all its parts
 * together are those of its sum.
 */
export async function writeAllocations(m: EntityManager, parts: readonly Part[], day: Day, journalId: number, money: boolean) {
  if (!parts.length) return
  // Taken off first, so that no line is above its amount in between.
  const list = [...parts].sort((a, b) => a.amount - b.amount)
  // With the last row of each bill and document the database reckons what they leave open.
  const last = new Map(list.map((p, i) => [`${p.paymentId} ${p.billId}`, i]))
  await insertMany(
    m,
    'allocation',
    ['payment_id', 'bill_id', 'bill_line_id', 'amount', 'applied_on', 'journal_id', 'more'],
    list.map((p, i) => [p.paymentId, p.billId, p.lineId, p.amount, day, journalId, last.get(`${p.paymentId} ${p.billId}`) !== i]),
  )
  if (!money) return
  const made = await feesApplied(m, journalId)
  const flat = [...new Set(made.filter((a) => a.kind === 'flat').map((a) => a.lineId))]
  const weights = flat.length ? await sharesApplied(m, flat) : []
  const shares: (number | string)[][] = []
  for (const a of made) {
    if (a.kind === 'time') {
      if (a.timekeeperId) shares.push([a.id, a.timekeeperId, a.amount, day])
      continue
    }
    const own = weights.filter((w) => w.lineId === a.lineId)
    const sum = own.reduce((s, w) => s + w.shared, 0) + a.amount
    const due = share(
      sum,
      own.map((w) => w.weight),
    )
    own.forEach((w, i) => {
      if (due[i] !== w.shared) shares.push([a.id, w.keeper, due[i]! - w.shared, day])
      w.shared = due[i]!
    })
  }
  await insertMany(m, 'allocation_share', ['allocation_id', 'timekeeper_id', 'amount', 'applied_on'], shares)
}
