import type { IncomeIn } from '@heron/contract'
import { addDays, type Day } from '@heron/core/calendar'
import { advanceOnPaidMoney, type Span } from '@heron/core/ledger'
import { sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import type { Ctx } from '../../platform/context'
import { rows } from '../../platform/database'
import { oldTaxRateOf } from '../../platform/figures'
import { closingJournals, spansSql } from './sum-queries'

/** Fees collected, by timekeeper or area of practice, in the span in which each payment was applied. */
export const collected = (m: EntityManager, columns: readonly Span[], by: IncomeIn['by']) =>
  rows<{ name: string; n: number; amount: number }>(
    m,
    by === 'account'
      ? `SELECT 'Fees' AS name, s.n, SUM(x.amount) AS amount FROM ${spansSql(columns)} JOIN allocation_share x ON x.applied_on BETWEEN s.f AND s.t GROUP BY s.n`
      : by === 'timekeeper'
        ? `SELECT u.name, s.n, SUM(x.amount) AS amount FROM ${spansSql(columns)} JOIN allocation_share x ON x.applied_on BETWEEN s.f AND s.t JOIN user_account u ON u.id = x.timekeeper_id GROUP BY u.id, s.n ORDER BY amount DESC, u.name`
        : `SELECT COALESCE(p.name, 'No area') AS name, s.n, SUM(x.amount) AS amount FROM ${spansSql(columns)} JOIN allocation_share x ON x.applied_on BETWEEN s.f AND s.t
             JOIN matter m ON m.id = x.matter_id LEFT JOIN practice_area p ON p.id = m.area_id GROUP BY p.id, s.n ORDER BY amount DESC, name`,
  )

/** Other income on collected money: of bills when they are paid, and what was entered by hand. */
export async function otherCollected(m: EntityManager, columns: readonly Span[]) {
  const ofBills = await rows<{ name: string; n: number; amount: number }>(
    m,
    `SELECT CASE b.kind WHEN 'soft cost' THEN 'Copies and mileage recovered' ELSE 'Interest on overdue bills' END AS name, s.n, SUM(a.amount) AS amount
       FROM ${spansSql(columns)} JOIN allocation a ON a.applied_on BETWEEN s.f AND s.t JOIN bill_line b ON b.id = a.bill_line_id AND b.kind IN ('soft cost', 'interest') JOIN payment p ON p.id = a.payment_id AND p.kind NOT IN ('credit note', 'write-off', 'void') GROUP BY b.kind, s.n`,
  )
  const byHand = await rows<{ name: string; accountId: number; n: number; amount: number }>(
    m,
    `SELECT CONCAT(a.code, ' ', a.name) AS name, a.id AS accountId, s.n, -SUM(l.amount) AS amount FROM ${spansSql(columns)} JOIN journal_line l ON l.day BETWEEN s.f AND s.t JOIN account a ON a.id = l.account_id AND a.kind = 'income' JOIN journal j ON j.id = l.journal_id
       LEFT JOIN journal_reversal r ON r.reversal_id = j.id LEFT JOIN journal o ON o.id = r.journal_id
      WHERE (j.kind IN ('general', 'bank', 'opening', 'vendor bill', 'vendor payment') OR o.kind IN ('general', 'bank', 'opening', 'vendor bill', 'vendor payment')) GROUP BY a.id, s.n ORDER BY a.code`,
  )
  return [...ofBills, ...byHand]
}

/** What of write-offs is no loss on paid money: fees, copies, interest and tax that never came were never income. */
export const neverCame = (m: EntityManager, columns: readonly Span[]) =>
  rows<{ n: number; amount: number }>(
    m,
    `SELECT s.n, SUM(a.amount) AS amount FROM ${spansSql(columns)} JOIN allocation a ON a.applied_on BETWEEN s.f AND s.t JOIN payment p ON p.id = a.payment_id AND p.kind = 'write-off'
       JOIN bill_line b ON b.id = a.bill_line_id AND b.kind <> 'hard cost' GROUP BY s.n`,
  )

/**
 * Costs of the firm's own, not to be billed, that are owed to somebody: booked on their day, on paid money they count as they are paid,
 * by themselves or with the bill of a vendor. What was taken back unpaid never counts.
 */
export const owedCosts = (m: EntityManager, columns: readonly Span[]) =>
  rows<{ n: number; amount: number }>(
    m,
    `SELECT s.n, SUM(x.amount) AS amount FROM (
       SELECT k.day, -k.paid AS amount FROM cost_entry k WHERE ${ownAndOwed}
       UNION ALL SELECT j.day, k.paid FROM cost_entry k JOIN journal j ON j.id = k.reversal_id WHERE ${ownAndOwed} AND k.settled_on IS NULL
       UNION ALL SELECT k.settled_on, k.paid FROM cost_entry k WHERE ${ownAndOwed} AND k.settled_on IS NOT NULL AND k.vendor_bill_id IS NULL
       UNION ALL SELECT f.day, p.amount FROM cost_entry k JOIN vendor_bill_line l ON l.cost_id = k.id JOIN vendor_line_part p ON p.line_id = l.id JOIN firm_payment f ON f.id = p.payment_id AND f.state IN ('posted', 'void') WHERE ${ownAndOwed}
       UNION ALL SELECT j.day, -p.amount FROM cost_entry k JOIN vendor_bill_line l ON l.cost_id = k.id JOIN vendor_line_part p ON p.line_id = l.id JOIN firm_payment f ON f.id = p.payment_id AND f.state = 'void'
           JOIN journal_reversal r ON r.journal_id = f.journal_id JOIN journal j ON j.id = r.reversal_id WHERE ${ownAndOwed}) x
       JOIN ${spansSql(columns)} ON x.day BETWEEN s.f AND s.t GROUP BY s.n`,
  )

const ownAndOwed = `k.kind = 'hard cost' AND k.paid_from = 'owed' AND NOT k.billable`

/**
 * Costs that were charged with a markup, on paid money: what was collected beyond what the firm had advanced, and by how much what was
 * written off or credited of them is less of a loss than it was booked, in each column. Costs charged as they were need nothing.
 */
export async function markups(m: EntityManager, columns: readonly Span[]) {
  const [from, to] = [
    columns.map((c) => c.from).sort()[0]!,
    columns
      .map((c) => c.to)
      .sort()
      .at(-1)!,
  ]
  const moves = await rows<{ lineId: number; net: number; advanced: number; day: Day; kind: string; amount: number }>(
    m,
    `SELECT l.id AS lineId, l.net, l.advanced, a.applied_on AS day, p.kind, a.amount FROM (
       SELECT DISTINCT x.bill_line_id AS id FROM allocation x JOIN bill_line k ON k.id = x.bill_line_id AND k.kind = 'hard cost' AND k.advanced < k.net WHERE x.applied_on BETWEEN ? AND ?) o
       JOIN bill_line l ON l.id = o.id JOIN allocation a ON a.bill_line_id = l.id AND a.applied_on <= ? JOIN payment p ON p.id = a.payment_id ORDER BY l.id, a.applied_on`,
    [from, to, to],
  )
  const lines = new Map<number, typeof moves>()
  for (const x of moves) {
    const own = lines.get(x.lineId)
    if (own) own.push(x)
    else lines.set(x.lineId, [x])
  }
  const upTo = (own: typeof moves, day: Day) => {
    const of = (...kinds: string[]) => sum(own.filter((x) => x.day <= day && kinds.includes(x.kind)).map((x) => x.amount))
    const [credited, writtenOff, all] = [of('credit note'), of('write-off'), sum(own.filter((x) => x.day <= day).map((x) => x.amount))]
    const voided = of('void')
    const { net, advanced } = own[0]!
    const { income, less } = advanceOnPaidMoney({ net, advanced, paid: all - credited - writtenOff - voided, credited, writtenOff, voided: voided > 0 }) // prettier-ignore
    return { income, ...less }
  }
  const none = { income: 0, badDebts: 0, notRecovered: 0 }
  return columns.map((c) => {
    const out = { ...none }
    for (const own of lines.values()) {
      const [was, is] = [upTo(own, addDays(c.from, -1)), upTo(own, c.to)]
      for (const key of ['income', 'badDebts', 'notRecovered'] as const) out[key] += is[key] - was[key]
    }
    return out
  })
}

/** Fees as they were billed, by timekeeper or area; closing entries are left out. */
export const billed = (m: EntityManager, columns: readonly Span[], by: 'timekeeper' | 'area') =>
  rows<{ name: string; n: number; amount: number }>(
    m,
    `SELECT ${by === 'timekeeper' ? `COALESCE(u.name, 'Not of one person')` : `COALESCE(p.name, 'No area')`} AS name, s.n, -SUM(l.amount) AS amount
       FROM ${spansSql(columns)} JOIN account a ON a.role = 'fees' JOIN journal_line l ON l.account_id = a.id AND l.day BETWEEN s.f AND s.t
       ${by === 'timekeeper' ? 'LEFT JOIN user_account u ON u.id = l.timekeeper_id' : 'LEFT JOIN matter m ON m.id = l.matter_id LEFT JOIN practice_area p ON p.id = m.area_id'}
       LEFT JOIN ${closingJournals()} c ON c.journal_id = l.journal_id WHERE c.journal_id IS NULL GROUP BY name, s.n ORDER BY amount DESC, name`,
  )

/** The operating banks by their accounts in the books. */
export const operatingBanks = (m: EntityManager) =>
  rows<{ gl: number }>(m, `SELECT gl_account_id AS gl FROM bank_account WHERE kind = 'operating'`)

/** What stood against the operating banks, by account. */
export const cashMoved = (m: EntityManager, from: Day, to: Day) =>
  rows<{ accountId: number; name: string; moneyIn: number; moneyOut: number }>(
    m,
    `SELECT a.id AS accountId, CONCAT(a.code, ' ', a.name) AS name, COALESCE(SUM(GREATEST(-x.amount, 0)), 0) AS moneyIn, COALESCE(SUM(GREATEST(x.amount, 0)), 0) AS moneyOut
       FROM (SELECT l.journal_id, l.account_id, SUM(l.amount) AS amount FROM journal_line l
              WHERE l.journal_id IN (SELECT e.journal_id FROM bank_entry e JOIN bank_account b ON b.id = e.bank_account_id AND b.kind = 'operating' WHERE e.day BETWEEN ? AND ?)
                AND l.account_id NOT IN (SELECT gl_account_id FROM bank_account) AND l.account_id NOT IN (SELECT liability_account_id FROM bank_account WHERE liability_account_id IS NOT NULL)
              GROUP BY l.journal_id, l.account_id) x
       JOIN account a ON a.id = x.account_id GROUP BY a.id HAVING moneyIn <> 0 OR moneyOut <> 0 ORDER BY a.code`,
    [from, to],
  )

/** The rate of a line of tax; on bills of before rates were kept, their pre-bill's. */
const taxRateOfLine = `COALESCE(l.tax_basis_points, ${oldTaxRateOf('b')})`

/** Tax billed, credited and collected, by month and rate. */
export const taxByMonth = (ctx: Ctx, from: Day, to: Day) =>
  rows<{ month: string; rate: number | null; billed: number; credited: number; collected: number }>(
    ctx.db.manager,
    `SELECT month, rate, SUM(billed) AS billed, SUM(credited) AS credited, SUM(collected) AS collected FROM (
       SELECT DATE_FORMAT(b.issued_on, '%Y-%m') AS month, ${taxRateOfLine} AS rate, SUM(l.net) AS billed, 0 AS credited, 0 AS collected FROM bill b JOIN bill_line l ON l.bill_id = b.id AND l.kind = 'tax' WHERE b.issued_on BETWEEN ? AND ? GROUP BY 1, 2
       UNION ALL SELECT DATE_FORMAT(a.applied_on, '%Y-%m'), ${taxRateOfLine}, 0, SUM(IF(p.kind IN ('credit note', 'write-off', 'void'), a.amount, 0)), SUM(IF(p.kind IN ('credit note', 'write-off', 'void'), 0, a.amount))
         FROM allocation a JOIN bill_line l ON l.id = a.bill_line_id AND l.kind = 'tax' JOIN bill b ON b.id = l.bill_id JOIN payment p ON p.id = a.payment_id WHERE a.applied_on BETWEEN ? AND ? GROUP BY 1, 2) x
      GROUP BY month, rate ORDER BY month, rate DESC`,
    [from, to, from, to],
  )
