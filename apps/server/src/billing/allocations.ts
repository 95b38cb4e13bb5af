import { paymentOrder, type OpenLine, type PaymentClass, type PaymentOrder } from '@heron/core/billing'
import type { Day } from '@heron/core/calendar'
import { share } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { matterScope } from '../platform/access'
import { dayOfInstant, type Ctx } from '../platform/context'
import { insertMany, row, rows } from '../platform/database'
import { oldTaxRateOf, openOf, openOfLine } from '../platform/figures'
import { notFound } from '../platform/problem'

export interface BillHead {
  id: number
  number: string
  matterId: number
  payerId: number
  preBillId: number | null
  journalId: number
  /** The rate of fees and own costs on a bill of before there were several; 0 where it is not known. */
  oldTaxRate: number
  total: number
  issuedOn: Day
  dueOn: Day
  /** The day, by the firm's clock, on which it was really issued. */
  madeOn: Day
  open: number
  unearned: number
}

/** A line billed in advance whose portion is not earned by a day, as SQL. */
const notEarned = `EXISTS (SELECT 1 FROM fee_portion p WHERE p.id = l.source_id AND l.kind = 'flat' AND (p.earned_on IS NULL OR p.earned_on > ?) AND (SELECT f.flat_fee_in_advance FROM firm f LIMIT 1) = 'trust')`

/** What of a bill's open lines is billed in advance and not earned by a day, which is bound once, as SQL. */
export const unearnedOn = (b: string) =>
  `COALESCE((SELECT SUM(${openOfLine()}) FROM bill_line l WHERE l.bill_id = ${b}.id AND ${notEarned}), 0)`

/** Whoever a contact was merged into stands for it, as SQL on its id. */
export const standsFor = (contactId: string) => `COALESCE((SELECT mc.merged_into FROM contact mc WHERE mc.id = ${contactId}), ${contactId})`

/** Locks bills by their matters, in order of id, and reads what each leaves open, and how much of that is not earned on a day. */
export async function lockBills(m: EntityManager, ctx: Ctx, ids: readonly number[], day: Day): Promise<BillHead[]> {
  const wanted = [...new Set(ids)]
  if (!wanted.length) return []
  await rows(m, `SELECT m.id FROM matter m WHERE m.id IN (SELECT b.matter_id FROM bill b WHERE b.id IN (?)) ORDER BY m.id FOR UPDATE`, [
    wanted,
  ])
  const found = await rows<BillHead & { madeAt: string; zone: string; movedIn: number }>(
    m,
    `SELECT b.id, b.number, b.matter_id AS matterId, ${standsFor('b.payer_id')} AS payerId, b.pre_bill_id AS preBillId, b.journal_id AS journalId, b.total,
            COALESCE(${oldTaxRateOf('b')}, 0) AS oldTaxRate,
            b.issued_on AS issuedOn, b.due_on AS dueOn, j.created_at AS madeAt, j.kind = 'opening' AS movedIn, (SELECT zone FROM firm LIMIT 1) AS zone, ${openOf('b')} AS open,
            ${unearnedOn('b')} AS unearned
       FROM bill b JOIN matter m ON m.id = b.matter_id JOIN journal j ON j.id = b.journal_id WHERE b.id IN (?) AND ${matterScope(ctx.actor, 'm', 'money')} ORDER BY b.id`,
    [day, wanted],
  )
  if (found.length !== wanted.length) throw notFound('bill')
  return found.map(({ madeAt, zone, movedIn, ...bill }) => ({
    ...bill,
    // A bill of before the firm moved in was issued on the day that it bears.
    madeOn: movedIn ? bill.issuedOn : dayOfInstant(ctx.clock, madeAt, zone),
  }))
}

export async function lockBill(m: EntityManager, ctx: Ctx, id: number, day: Day): Promise<BillHead> {
  return (await lockBills(m, ctx, [id], day))[0]!
}

/** What is open on the lines of a bill. From trust only what is earned on the payment's day is paid; the rest stays open. */
export function openLines(m: EntityManager, billId: number, earnedBy: Day | null): Promise<OpenLine[]> {
  return rows(
    m,
    `SELECT l.id, l.kind, ${openOfLine()} AS open FROM bill_line l WHERE l.bill_id = ? ${earnedBy ? `AND NOT ${notEarned}` : ''} ORDER BY l.ordinal`,
    earnedBy ? [billId, earnedBy] : [billId],
  )
}

/** In which order money goes to what a bill is made of, as the firm has it. */
export async function orderOfFirm(m: EntityManager): Promise<PaymentOrder> {
  const firm = await row<{ order: string }>(m, `SELECT payment_order AS \`order\` FROM firm`)
  return paymentOrder(firm!.order.split(',') as PaymentClass[])
}

export interface Part {
  paymentId: number
  billId: number
  lineId: number
  amount: number
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
  await insertMany(
    m,
    'allocation',
    ['payment_id', 'bill_id', 'bill_line_id', 'amount', 'applied_on', 'journal_id'],
    list.map((p) => [p.paymentId, p.billId, p.lineId, p.amount, day, journalId]),
  )
  if (!money) return
  const made = await rows<{ id: number; lineId: number; amount: number; kind: string; timekeeperId: number | null }>(
    m,
    `SELECT a.id, a.bill_line_id AS lineId, a.amount, l.kind, l.timekeeper_id AS timekeeperId FROM allocation a JOIN bill_line l ON l.id = a.bill_line_id
      WHERE a.journal_id = ? AND l.kind IN ('time', 'flat') ORDER BY a.id`,
    [journalId],
  )
  const flat = [...new Set(made.filter((a) => a.kind === 'flat').map((a) => a.lineId))]
  const weights = flat.length
    ? await rows<{ lineId: number; keeper: number; weight: number; shared: number }>(
        m,
        `SELECT s.bill_line_id AS lineId, s.timekeeper_id AS keeper, s.weight,
                COALESCE((SELECT SUM(x.amount) FROM allocation_share x JOIN allocation a ON a.id = x.allocation_id WHERE a.bill_line_id = s.bill_line_id AND x.timekeeper_id = s.timekeeper_id), 0) AS shared
           FROM bill_line_share s WHERE s.bill_line_id IN (?) ORDER BY s.bill_line_id, s.timekeeper_id`,
        [flat],
      )
    : []
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
