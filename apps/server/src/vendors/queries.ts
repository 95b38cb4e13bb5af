import { agingBuckets, agingOf } from '@heron/core/billing'
import { addDays, type Day, daysBetween } from '@heron/core/calendar'
import { keptByActs } from '@heron/core/ledger'
import { sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { accountBalance, limit, type Paging } from '../ledger'
import { contactScope, matterScope } from '../platform/access'
import type { Ctx } from '../platform/context'
import { literal, row, rows, run } from '../platform/database'
import { isOwedCost } from '../platform/figures'

export interface Vendor {
  id: number
  name: string
  address: string
}
/** Someone on record who may be billed from, under the name they have now. */
export const vendorOf = (m: EntityManager, ctx: Ctx, id: number) =>
  row<Vendor>(
    m,
    `SELECT c.id, c.name, c.address FROM contact p JOIN contact c ON c.id = COALESCE(p.merged_into, p.id) WHERE p.id = ? AND ${contactScope(ctx.actor)}`,
    [id],
  )

/** Accounts to which a line of a bill may go: the firm's own, not those that acts keep, nor banks. */
export const openAccounts = (m: EntityManager) =>
  rows<{ id: number; text: string; kind: string }>(
    m,
    `SELECT a.id, CONCAT(a.code, ' ', a.name) AS text, a.kind FROM account a
      WHERE NOT a.closed AND (a.role IS NULL OR a.role NOT IN (?)) AND a.role <=> 'opening clearing' = 0
        AND a.id NOT IN (SELECT gl_account_id FROM bank_account) AND a.id NOT IN (SELECT liability_account_id FROM bank_account WHERE liability_account_id IS NOT NULL)
      ORDER BY a.kind <> 'expense', a.code`,
    [keptByActs],
  )

const fromBills = `FROM vendor_bill b JOIN contact p ON p.id = b.vendor_id JOIN contact c ON c.id = COALESCE(p.merged_into, p.id)`
const billColumns = `b.id, c.id AS vendorId, c.name AS vendor, b.number, b.day, b.due_on AS dueOn, b.discount_on AS discountOn,
  CASE WHEN b.open_amount > 0 AND b.discount_on >= ? THEN b.discount ELSE 0 END AS discount, b.memo, b.total, b.open_amount AS open,
  CASE WHEN b.state = 'void' THEN 'void' WHEN b.open_amount = 0 THEN 'paid' WHEN b.due_on < ? THEN 'overdue' WHEN b.settled > 0 THEN 'part paid' ELSE 'open' END AS state`
export type VendorBillRow = {
  id: number
  vendorId: number
  vendor: string
  number: string
  day: Day
  dueOn: Day
  discountOn: Day | null
  discount: number
  memo: string
  total: number
  open: number
  state: 'open' | 'overdue' | 'part paid' | 'paid' | 'void'
}

/** Bills of vendors by their state, what is due first, a page of them. */
export async function billList(
  ctx: Ctx,
  f: Paging & { state: 'open' | 'due' | 'paid' | 'void' | ''; vendorId?: number | undefined; q: string },
) {
  const m = ctx.db.manager
  const today = ctx.clock.today()
  const where = [contactScope(ctx.actor)]
  const values: (string | number)[] = []
  if (f.state === 'open') where.push('b.open_amount > 0')
  if (f.state === 'due') {
    where.push('b.open_amount > 0 AND (b.due_on <= ? OR (b.discount_on IS NOT NULL AND b.discount_on BETWEEN ? AND ?))')
    values.push(addDays(today, 7), today, addDays(today, 7))
  }
  if (f.state === 'paid') where.push(`b.state = 'posted' AND b.open_amount = 0`)
  if (f.state === 'void') where.push(`b.state = 'void'`)
  if (f.vendorId) {
    where.push('(c.id = ? OR p.id = ?)')
    values.push(f.vendorId, f.vendorId)
  }
  if (f.q) {
    where.push('(c.name LIKE ? OR b.number LIKE ? OR b.memo LIKE ?)')
    const like = `%${literal(f.q)}%`
    values.push(like, like, like)
  }
  const cond = where.join(' AND ')
  const all = (await row<{ n: number; open: number; due: number }>(
    m,
    `SELECT COUNT(*) AS n, COALESCE(SUM(b.open_amount), 0) AS open, COALESCE(SUM(IF(b.due_on <= ?, b.open_amount, 0)), 0) AS due ${fromBills} WHERE ${cond}`,
    [today, ...values],
  ))!
  const list = await rows<VendorBillRow>(
    m,
    `SELECT ${billColumns} ${fromBills} WHERE ${cond} ORDER BY b.open_amount = 0, ${f.state === 'paid' || f.state === 'void' || f.state === '' ? 'b.day DESC, b.id DESC' : 'b.due_on, b.id'} ${limit(f)}`,
    [today, today, ...values],
  )
  return { rows: list, total: all.n, open: all.open, due: all.due }
}

export interface LineRow {
  id: number
  account: string
  accountId: number | null
  accountKind: string | null
  matterId: number | null
  costId: number | null
  text: string
  amount: number
}
/** Lines of a bill; of a matter that is closed to the reader only the amount is told. */
export const linesOf = (m: EntityManager, ctx: Ctx, billId: number) =>
  rows<LineRow>(
    m,
    `SELECT l.id, COALESCE(CONCAT(a.code, ' ', a.name), CASE WHEN ${matterScope(ctx.actor)} THEN CONCAT(m.number, ' ', m.short_name) END, 'A matter that is not open to you') AS account, l.account_id AS accountId, a.kind AS accountKind,
            CASE WHEN ${matterScope(ctx.actor)} THEN m.id END AS matterId, l.cost_id AS costId, CASE WHEN l.cost_id IS NULL OR ${matterScope(ctx.actor)} THEN l.text ELSE '' END AS text, l.amount
       FROM vendor_bill_line l LEFT JOIN account a ON a.id = l.account_id LEFT JOIN cost_entry k ON k.id = l.cost_id LEFT JOIN matter m ON m.id = k.matter_id WHERE l.bill_id = ? ORDER BY l.id`,
    [billId],
  )

/** One bill of a vendor with its lines and what was paid on it; null where its vendor is not open to the reader. */
export async function billOf(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const today = ctx.clock.today()
  const head = await row<VendorBillRow & { journalId: number | null }>(
    m,
    `SELECT ${billColumns}, b.journal_id AS journalId ${fromBills} WHERE b.id = ? AND ${contactScope(ctx.actor)}`,
    [today, today, id],
  )
  if (!head) return null
  const payments = await rows<{ id: number; day: Day; what: string; amount: number; discount: number; state: 'posted' | 'void' }>(
    m,
    `SELECT f.id, f.day, IF(f.check_no IS NULL, 'Transfer', CONCAT('Check ', f.check_no)) AS what, v.amount, v.discount, f.state FROM vendor_part v JOIN firm_payment f ON f.id = v.payment_id WHERE v.bill_id = ? ORDER BY f.day, f.id`,
    [id],
  )
  return { ...head, lines: await linesOf(m, ctx, id), payments }
}

/** What was usual on a vendor's last bill. */
export async function usualOf(ctx: Ctx, vendor: Vendor) {
  const m = ctx.db.manager
  const last = await row<{ accountId: number | null; day: Day; dueOn: Day; bills: number }>(
    m,
    `SELECT (SELECT l.account_id FROM vendor_bill_line l JOIN account a ON a.id = l.account_id AND NOT a.closed WHERE l.bill_id = b.id ORDER BY l.amount DESC LIMIT 1) AS accountId, b.day, b.due_on AS dueOn,
            (SELECT COUNT(*) FROM vendor_bill x JOIN contact y ON y.id = x.vendor_id WHERE COALESCE(y.merged_into, y.id) = ?) AS bills
       FROM vendor_bill b JOIN contact p ON p.id = b.vendor_id WHERE COALESCE(p.merged_into, p.id) = ? AND b.state = 'posted' ORDER BY b.day DESC, b.id DESC LIMIT 1`,
    [vendor.id, vendor.id],
  )
  return {
    accountId: last?.accountId ?? null,
    dueDays: last ? Math.max(0, daysBetween(last.day, last.dueOn)) : 30,
    address: vendor.address,
    bills: last?.bills ?? 0,
  }
}

export interface LockedBill {
  id: number
  vendorId: number
  vendor: string
  address: string
  number: string
  day: Day
  discountOn: Day | null
  discount: number
  total: number
  settled: number
  state: 'posted' | 'void'
  journalId: number | null
}
/** Bills as they stand, held where they are to be changed. */
export const billsToPay = (m: EntityManager, ctx: Ctx, ids: readonly number[], lock: boolean) =>
  rows<LockedBill>(
    m,
    `SELECT b.id, c.id AS vendorId, c.name AS vendor, c.address, b.number, b.day, b.discount_on AS discountOn, b.discount, b.total, b.settled, b.state, b.journal_id AS journalId
       ${fromBills} WHERE b.id IN (?) AND ${contactScope(ctx.actor)} ORDER BY b.id ${lock ? 'FOR UPDATE' : ''}`,
    [ids],
  )

/** What a payment settled of each bill, and what was let off by it. */
export const partsPaid = (m: EntityManager, paymentId: number) =>
  rows<{ billId: number; amount: number; discount: number }>(m, `SELECT bill_id AS billId, amount, discount FROM vendor_part WHERE payment_id = ? ORDER BY bill_id`, [paymentId]) // prettier-ignore

/** What is not paid yet of each line of some bills; parts of void payments do not count. */
export const linesLeft = (m: EntityManager, billIds: readonly number[]) =>
  rows<{ id: number; billId: number; accountId: number | null; accountKind: string | null; costId: number | null; left: number }>(
    m,
    `SELECT l.id, l.bill_id AS billId, l.account_id AS accountId, a.kind AS accountKind, l.cost_id AS costId,
            l.amount - COALESCE((SELECT SUM(s.amount) FROM vendor_line_part s JOIN firm_payment f ON f.id = s.payment_id AND f.state = 'posted' WHERE s.line_id = l.id), 0) AS \`left\`
       FROM vendor_bill_line l LEFT JOIN account a ON a.id = l.account_id WHERE l.bill_id IN (?) ORDER BY l.id`,
    [billIds],
  )

/** Payments to vendors, the newest first, a page of them. */
export async function paymentList(ctx: Ctx, f: Paging & { vendorId?: number | undefined }) {
  const m = ctx.db.manager
  const from = `FROM firm_payment f LEFT JOIN contact p ON p.id = f.payee_id LEFT JOIN contact c ON c.id = COALESCE(p.merged_into, p.id) JOIN bank_account k ON k.id = f.bank_account_id WHERE f.state <> 'draft' AND (c.id IS NULL OR ${contactScope(ctx.actor)})${f.vendorId ? ' AND c.id = ?' : ''}`
  const values = f.vendorId ? [f.vendorId] : []
  return {
    total: (await row<{ n: number }>(m, `SELECT COUNT(*) AS n ${from}`, values))!.n,
    rows: await rows<{
      id: number
      day: Day
      vendor: string
      bank: string
      what: string
      checkNo: number | null
      bills: string
      amount: number
      state: 'posted' | 'void'
    }>(
      m,
      `SELECT f.id, f.day, f.payee_name AS vendor, k.name AS bank, IF(f.check_no IS NULL, 'Transfer', CONCAT('Check ', f.check_no)) AS what, f.check_no AS checkNo, f.memo AS bills, f.amount, f.state ${from} ORDER BY f.day DESC, f.id DESC ${limit(f)}`,
      values,
    ),
  }
}

/** Bills of vendors that come by themselves, with when the next one is due and what kept the last from coming. */
export const recurringList = (ctx: Ctx) =>
  rows<{
    id: number
    vendor: string
    memo: string
    everyMonths: number
    amount: number
    nextOn: Day | null
    until: Day | null
    fault: string
  }>(
    ctx.db.manager,
    `SELECT r.id, c.name AS vendor, r.memo, r.every_months AS everyMonths, r.amount, r.next_on AS nextOn, r.until, r.fault FROM vendor_recurring r JOIN contact p ON p.id = r.vendor_id JOIN contact c ON c.id = COALESCE(p.merged_into, p.id)
      WHERE ${contactScope(ctx.actor)} AND r.next_on IS NOT NULL ORDER BY r.next_on, r.id LIMIT 500`,
  )

/** Recurring bills that are due by a day, with in whose name each is entered. */
export const dueRecurring = (m: EntityManager, today: Day) =>
  rows<{ id: number; madeBy: number }>(
    m,
    `SELECT id, made_by AS madeBy FROM vendor_recurring WHERE next_on <= ? ORDER BY next_on, id LIMIT 1000`,
    [today],
  )

/** What is owed to each vendor as of a day, by days past due; costs owed without a bill are due at once. */
export async function payables(ctx: Ctx, asOf: Day) {
  const m = ctx.db.manager
  const owed = await rows<{ vendorId: number | null; vendor: string; due: Day; open: number }>(
    m,
    `SELECT c.id AS vendorId, c.name AS vendor, b.due_on AS due, b.total - COALESCE((SELECT SUM(v.amount + v.discount) FROM vendor_part v JOIN firm_payment f ON f.id = v.payment_id LEFT JOIN journal_reversal r ON r.journal_id = f.journal_id LEFT JOIN journal rj ON rj.id = r.reversal_id
            WHERE v.bill_id = b.id AND f.day <= ? AND (rj.day IS NULL OR rj.day > ?)), 0) AS open
       ${fromBills} WHERE b.day <= ? AND (b.void_on IS NULL OR b.void_on > ?) AND ${contactScope(ctx.actor)} HAVING open <> 0
     UNION ALL
     SELECT NULL, k.payee, k.day, SUM(k.paid) FROM cost_entry k WHERE ${isOwedCost('k')} AND k.day <= ? AND (k.settled_on IS NULL OR k.settled_on > ?) GROUP BY k.payee, k.day`,
    [asOf, asOf, asOf, asOf, asOf, asOf],
  )
  const byVendor = new Map<string, { vendorId: number | null; vendor: string; buckets: number[] }>()
  for (const b of owed) {
    const key = b.vendorId ? `id ${b.vendorId}` : b.vendor
    const line = byVendor.get(key) ?? { vendorId: b.vendorId, vendor: b.vendor, buckets: agingBuckets.map(() => 0) }
    line.buckets[agingBuckets.indexOf(agingOf(b.due, asOf))]! += b.open
    byVendor.set(key, line)
  }
  const list = [...byVendor.values()].map((l) => ({ ...l, total: sum(l.buckets) })).sort((a, b) => b.total - a.total)
  const together = { buckets: agingBuckets.map((_, i) => sum(list.map((l) => l.buckets[i]!))), total: sum(list.map((l) => l.total)) }
  const account = -(await accountBalance(m, 'payables', asOf))
  return { rows: list, together, account, unexplained: account - together.total }
}

/** What the payment of a bill moved on paid money. */
export const cashShiftsOf = (m: EntityManager, journalId: number) =>
  rows<{ accountId: number; amount: number }>(m, `SELECT account_id AS accountId, -amount AS amount FROM cash_shift WHERE journal_id = ?`, [
    journalId,
  ])

/** The journal that a payment was posted with. */
export const journalOfFirmPayment = (m: EntityManager, id: number) =>
  row<{ id: number }>(m, `SELECT journal_id AS id FROM firm_payment WHERE id = ?`, [id])

/** A bill is settled by so much more. */
export const addSettled = (m: EntityManager, amount: number, discount: number, id: number) =>
  run(m, `UPDATE vendor_bill SET settled = settled + ? WHERE id = ?`, [amount + discount, id])

/** Costs of matters that are on a bill know when it was paid. */
export const tellCostsOf = (m: EntityManager, billIds: readonly number[]) =>
  run(
    m,
    `UPDATE cost_entry k JOIN vendor_bill b ON b.id = k.vendor_bill_id
        SET k.settled_on = IF(b.settled = b.total, (SELECT MAX(f.day) FROM vendor_part v JOIN firm_payment f ON f.id = v.payment_id AND f.state = 'posted' WHERE v.bill_id = b.id), NULL) WHERE k.vendor_bill_id IN (?)`,
    [billIds],
  )

/** The bills that a payment settled, and by how much. */
export const partsOfPayment = (m: EntityManager, id: number) =>
  rows<{ billId: number; amount: number }>(
    m,
    `SELECT v.bill_id AS billId, v.amount + v.discount AS amount FROM vendor_part v WHERE v.payment_id = ? ORDER BY v.bill_id`,
    [id],
  )

/** The journal that took another back. */
export const reversalOf = (m: EntityManager, journalId: number | null) =>
  row<{ id: number }>(m, `SELECT reversal_id AS id FROM journal_reversal WHERE journal_id = ?`, [journalId])

/** What of a payment went to which expense. */
export const expensesPaid = (m: EntityManager, id: number) =>
  rows<{ accountId: number; amount: number }>(
    m,
    `SELECT l.account_id AS accountId, s.amount FROM vendor_line_part s JOIN vendor_bill_line l ON l.id = s.line_id JOIN account a ON a.id = l.account_id AND a.kind = 'expense' WHERE s.payment_id = ?`,
    [id],
  )

/** A bill is settled by so much less. */
export const takeSettled = (m: EntityManager, amount: number, billId: number) =>
  run(m, `UPDATE vendor_bill SET settled = settled - ? WHERE id = ?`, [amount, billId])

/** The account, day and way of a payment. */
export const paymentToWriteAnew = (m: EntityManager, id: number) =>
  row<{ bankId: number; day: Day; method: string }>(m, `SELECT bank_account_id AS bankId, day, method FROM firm_payment WHERE id = ?`, [id])
