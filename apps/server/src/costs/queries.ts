import type { CostFilter } from '@heron/contract'
import type { Day } from '@heron/core/calendar'
import { showUnits } from '@heron/core/costs'
import type { EntityManager } from 'typeorm'
import { matterScope } from '../platform/access'
import { type Ctx, may } from '../platform/context'
import { literal, row, rows } from '../platform/database'
import { isOwedCost, unbilledOn } from '../platform/figures'
import { CostEntry } from './entities'

/** Locks matters in order of id, so that two acts over several never wait for one another. */
export const lockMatters = (m: EntityManager, ids: readonly number[]) =>
  rows(m, `SELECT id FROM matter WHERE id IN (?) ORDER BY id FOR UPDATE`, [[...new Set(ids)].sort((a, b) => a - b)])

/** Where a cost stands already: on a bill, or on a pre-bill that waits. */
export async function onPreBill(m: EntityManager, cost: { id: number; billId: number | null }) {
  const found = await row<{ bill: string | null; preBill: string | null }>(
    m,
    `SELECT (SELECT number FROM bill WHERE id = ?) AS bill,
            (SELECT m.number FROM pre_bill_line l JOIN pre_bill p ON p.id = l.pre_bill_id JOIN matter m ON m.id = p.matter_id
              WHERE l.kind IN ('soft cost', 'hard cost') AND l.source_id = ? AND p.state <> 'issued' LIMIT 1) AS preBill`,
    [cost.billId, cost.id],
  )
  return found!
}

/** The recorded cost that stands for the fee of a receipt, locked. */
export const feeOfReceipt = (m: EntityManager, receiptId: number) =>
  m.createQueryBuilder(CostEntry, 'c').where({ depositReceiptId: receiptId, state: 'recorded' }).setLock('pessimistic_write').getOne()

/** Whether a paper is of a matter and not in its bin. */
export const paperOfMatter = (m: EntityManager, matterId: number, paperId: number) =>
  row(m, `SELECT 1 FROM paper WHERE id = ? AND matter_id = ? AND deleted_at IS NULL`, [paperId, matterId])

/** What is owed to vendors, locked, of matters that are open to the actor. */
export const vendorDebts = (m: EntityManager, ctx: Ctx, ids: readonly number[]) =>
  rows<{ id: number; matterId: number; day: Day; payee: string; text: string; paid: number }>(
    m,
    `SELECT c.id, c.matter_id AS matterId, c.day, c.payee, c.text, c.paid FROM cost_entry c JOIN matter m ON m.id = c.matter_id
      WHERE c.id IN (?) AND ${isOwedCost('c')} AND c.settled_on IS NULL AND ${matterScope(ctx.actor, 'm', 'money')}
      ORDER BY c.payee, c.id FOR UPDATE`,
    [ids],
  )

const states: Record<CostFilter['state'], string> = {
  all: 'TRUE',
  unbilled: 'c.bill_id IS NULL AND c.open_amount > 0',
  billed: 'c.bill_id IS NOT NULL',
  owed: `${isOwedCost('c')} AND c.settled_on IS NULL`,
  'not billable': `c.billable = 0 AND c.state = 'recorded'`,
  reversed: `c.state = 'reversed'`,
}

/** Costs by any mix of filters, newest first. Those who do not see bills see what they recorded themselves. */
export async function costList(ctx: Ctx, f: CostFilter & { page: number; size: number }) {
  const m = ctx.db.manager
  const where = [matterScope(ctx.actor, 'm', may(ctx.actor, 'bills.see') ? 'money' : 'file'), states[f.state]]
  const values: (string | number)[] = []
  const and = (sql: string, ...own: (string | number)[]) => {
    where.push(sql)
    values.push(...own)
  }
  if (!may(ctx.actor, 'bills.see')) and('c.entered_by = ?', ctx.actor.id)
  if (f.from) and('c.day >= ?', f.from)
  if (f.to) and('c.day <= ?', f.to)
  if (f.matterId) and('c.matter_id = ?', f.matterId)
  if (f.kindId) and('c.kind_id = ?', f.kindId)
  if (f.paidFrom) and('c.paid_from = ?', f.paidFrom)
  if (f.q) and('(c.text LIKE ? OR c.payee LIKE ?)', `%${literal(f.q)}%`, `%${literal(f.q)}%`)
  const from = `FROM cost_entry c JOIN matter m ON m.id = c.matter_id`
  const list =
    await rows<{ units: number | null; billable: number; id: number; matterId: number; number: string; matter: string; day: Day; kind: 'soft cost' | 'hard cost'; kindName: string; text: string; payee: string; paid: number; amount: number; paidFrom: 'operating' | 'trust' | 'owed' | null; settledOn: Day | null; state: 'recorded' | 'reversed'; payment: 'draft' | 'posted' | 'dropped' | 'void' | null; billId: number | null; billed: string | null; receiptId: number | null; receipt: string | null }> // prettier-ignore
    (
      m,
      `SELECT c.id, c.matter_id AS matterId, m.number, m.short_name AS matter, c.day, c.kind, COALESCE(k.name, IF(c.kind = 'hard cost', 'Paid to someone', 'The firm’s own')) AS kindName, c.text, c.payee,
            c.units, c.paid, c.amount, c.billable, c.paid_from AS paidFrom, c.settled_on AS settledOn, c.state, o.state AS payment, c.bill_id AS billId, b.number AS billed, c.receipt_id AS receiptId, p.name AS receipt
       FROM (SELECT c.id FROM cost_entry c STRAIGHT_JOIN matter m ON m.id = c.matter_id WHERE ${where.join(' AND ')} ORDER BY c.day DESC, c.id DESC LIMIT ? OFFSET ?) page
       JOIN cost_entry c ON c.id = page.id JOIN matter m ON m.id = c.matter_id LEFT JOIN cost_kind k ON k.id = c.kind_id LEFT JOIN bill b ON b.id = c.bill_id LEFT JOIN paper p ON p.id = c.receipt_id AND p.deleted_at IS NULL LEFT JOIN payment_out o ON o.id = c.payment_out_id
      ORDER BY c.day DESC, c.id DESC`,
      [...values, f.size, (f.page - 1) * f.size],
    )
  const sums = await row<{ total: number; paid: number; amount: number }>(
    m,
    `SELECT COUNT(*) AS total, COALESCE(SUM(c.paid), 0) AS paid, COALESCE(SUM(IF(c.billable, c.amount, 0)), 0) AS amount ${from} WHERE ${where.join(' AND ')}`,
    values,
  )
  return { rows: list.map((c) => ({ ...c, units: c.units === null ? '' : showUnits(c.units), billable: Boolean(c.billable) })), ...sums! }
}

/** Kinds of costs, those in use first, each with whether any cost has it. */
export const kindRows = (m: EntityManager) =>
  rows<{ id: number; code: string; name: string; hard: number; unit: string; unitRate: number | null; markup: number; taxable: number; billable: number; expenseCode: string; retired: number; used: number }> // prettier-ignore
  (
    m,
    `SELECT k.id, k.code, k.name, k.hard, k.unit, k.unit_rate AS unitRate, k.markup_basis_points AS markup, k.taxable, k.billable, k.expense_code AS expenseCode, k.retired,
            EXISTS (SELECT 1 FROM cost_entry c WHERE c.kind_id = k.id) AS used FROM cost_kind k ORDER BY k.retired, k.hard, k.name`,
  )

/** Which costs that recur somebody sees: with the money of matters all of these, else their own. */
const recurringSeen = (ctx: Ctx) =>
  `r.next_on IS NOT NULL AND ${matterScope(ctx.actor, 'm', may(ctx.actor, 'bills.see') ? 'money' : 'file')} ${may(ctx.actor, 'bills.see') ? '' : `AND r.made_by = ${Number(ctx.actor.id)}`}`

/** How many that recur could not be recorded on their day. */
export const stoppedCosts = (ctx: Ctx) =>
  row<{ n: number }>(
    ctx.db.manager,
    `SELECT COUNT(*) AS n FROM recurring_cost r JOIN matter m ON m.id = r.matter_id WHERE r.fault <> '' AND ${recurringSeen(ctx)}`,
  )

/** Costs that recur, as far as their matters' money is open to the reader, the next due first. */
export const recurringRows = (ctx: Ctx) =>
  rows<{ id: number; matterId: number; matter: string; kindName: string; text: string; units: number | null; unitRate: number | null; amount: number | null; markup: number; payee: string; nextOn: Day | null; until: string | null; fault: string }> // prettier-ignore
  (
    ctx.db.manager,
    `SELECT r.id, r.matter_id AS matterId, m.short_name AS matter, k.name AS kindName, r.text, r.units, k.unit_rate AS unitRate, r.amount, k.markup_basis_points AS markup, r.payee, r.next_on AS nextOn, r.until, r.fault
       FROM recurring_cost r JOIN matter m ON m.id = r.matter_id JOIN cost_kind k ON k.id = r.kind_id
      WHERE ${recurringSeen(ctx)} ORDER BY r.next_on, r.id LIMIT 500`,
  )

/** Costs that recur and are due, with who let them recur. */
export const dueRecurring = (m: EntityManager, today: Day) =>
  rows<{ id: number; madeBy: number }>(
    m,
    `SELECT id, made_by AS madeBy FROM recurring_cost WHERE next_on <= ? ORDER BY fault <> '', next_on, id LIMIT 500`,
    [today],
  )

/** Papers that are receipts of costs which stand. */
export const receiptsAmong = async (m: EntityManager, ids: readonly number[]): Promise<number[]> =>
  (
    await rows<{ id: number }>(m, `SELECT DISTINCT receipt_id AS id FROM cost_entry WHERE receipt_id IN (?) AND state = 'recorded'`, [ids])
  ).map((r) => r.id)

/** How a payment out of trust stands: only one that was dropped or voided leaves its cost to be taken back. */
export const stateOfPayment = async (m: EntityManager, id: number | null) =>
  id === null ? null : ((await row<{ state: string }>(m, `SELECT state FROM payment_out WHERE id = ?`, [id]))?.state ?? null)

/** What a matter has of costs that were not billed, and of recurring ones. */
export const costsLeft = (m: EntityManager, id: number) =>
  row<{ costs: number; recurring: number }>(
    m,
    `SELECT ${unbilledOn.costs('x')} AS costs, (SELECT COUNT(*) FROM recurring_cost WHERE matter_id = x.id AND next_on IS NOT NULL) AS recurring FROM matter x WHERE x.id = ?`,
    [id],
  )
