import { showDay, type Day } from '@heron/core/calendar'
import { showMoney } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { accountFor, move } from '../ledger'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { insertMany, insertRow } from '../platform/database'
import { Bill, BillLine } from './entities'
import { snapshotOf, numberAfter } from './issue-queries'
import { keepDocument } from './payments'

export interface OpeningBill {
  number: string
  matterId: number
  payerId: number
  issuedOn: Day
  dueOn: Day
  /** What of it is still open, by what it is. */
  fees: number
  costs: number
  tax: number
  /** Whose fees they are, for what is collected by timekeeper. */
  timekeeperId: number
}

/** A bill that was issued before the firm moved in, with what of it is still open; its receivable stands against opening clearing. */
export async function openBill(m: EntityManager, ctx: Ctx, asOf: Day, b: OpeningBill): Promise<number> {
  const account = await accountFor(m)
  const total = b.fees + b.costs + b.tax
  const snapshot = await snapshotOf(m, b.matterId, b.payerId)
  if (snapshot.look) snapshot.look.held = null
  let billId = 0
  await move(m, ctx, { day: asOf, kind: 'opening', memo: `Bill ${b.number} to ${snapshot.payer.name} moved in` }, async (journalId) => {
    const madeId = await insertRow(m, Bill, {
      number: b.number,
      matterId: b.matterId,
      preBillId: null,
      payerId: b.payerId,
      issuedOn: b.issuedOn,
      dueOn: b.dueOn,
      workTo: b.issuedOn,
      worked: b.fees,
      fees: b.fees,
      hardCosts: b.costs,
      softCosts: 0,
      discount: 0,
      tax: b.tax,
      total,
      snapshot: JSON.stringify(snapshot),
      journalId,
      issuedBy: ctx.actor.id,
    })
    billId = madeId
    const parts = [
      ['flat', b.fees, 'Fees'],
      ['hard cost', b.costs, 'Costs'],
      ['tax', b.tax, 'Tax'],
    ] as const
    await insertMany(
      m,
      'bill_line',
      ['bill_id', 'ordinal', 'kind', 'timekeeper_name', 'text', 'worked', 'charged', 'no_charge', 'discount', 'net', 'advanced', 'told'],
      parts
        .filter(([, amount]) => amount)
        .map(([kind, amount, text], i) => [billId, i + 1, kind, '', `${text} of bill ${b.number}, still open`, amount, amount, false, 0, amount, kind === 'hard cost' ? amount : null, false]), // prettier-ignore
    )
    const flat = await m.findOne(BillLine, { select: { id: true }, where: { billId, kind: 'flat' } })
    if (flat) await insertMany(m, 'bill_line_share', ['bill_line_id', 'timekeeper_id', 'weight'], [[flat.id, b.timekeeperId, 1]])
    return {
      lines: [
        { account: account('receivable'), amount: total, matterId: b.matterId, billId },
        { account: account('opening clearing'), amount: -total, matterId: b.matterId },
      ],
    }
  })
  // A number of the application's own series is not given again.
  const own = /^B-(\d{4,9})$/.exec(b.number)
  if (own) await numberAfter(m, own)
  await audit(m, ctx, {
    kind: 'moved in',
    text: `Bill ${b.number} moved in, ${showMoney(total)} open`,
    matterId: b.matterId,
    subject: 'bill',
    subjectId: billId,
  })
  return billId
}

/** What a payer paid beyond what was owed, before the firm moved in: a credit as from any payment, which stands against opening clearing. */
export async function openCredit(
  m: EntityManager,
  ctx: Ctx,
  asOf: Day,
  c: { payerId: number; day: Day; amount: number; reference: string },
): Promise<number> {
  const account = await accountFor(m)
  const journalId = await move(m, ctx, { day: asOf, kind: 'opening', memo: `Credit of a payer moved in, ${showMoney(c.amount)}` }, {
    lines: [{ account: account('opening clearing'), amount: c.amount }, { account: account('client credits'), amount: -c.amount }],
  }) // prettier-ignore
  const { payerId, amount, reference } = c
  const id = await keepDocument(m, ctx, { kind: 'transfer', payerId, day: asOf, amount, journalId, reference, reason: `Paid on ${showDay(c.day)}, moved in` }) // prettier-ignore
  await audit(m, ctx, { kind: 'moved in', text: `Credit of ${showMoney(amount)} moved in`, subject: 'payment', subjectId: id })
  return id
}
