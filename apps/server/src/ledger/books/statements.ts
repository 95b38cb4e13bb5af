import type { IncomeIn } from '@heron/contract'
import { addDays, type Day } from '@heron/core/calendar'
import { advanceOnPaidMoney, balanceSheet as sidesOf, columnsOf, underParents, type AccountRole, type Span } from '@heron/core/ledger'
import { sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import type { Ctx } from '../../platform/context'
import { rows } from '../../platform/database'
import { oldTaxRateOf } from '../../platform/figures'
import { fieldFault } from '../../platform/problem'
import { balances, cashShifts, chart, closingJournals, moved, spansSql } from './sums'

interface Row {
  name: string
  accountId: number | null
  amounts: number[]
}

/** Rows of amounts by name and column, gathered to one row a name in order of size. */
function gathered(found: readonly { name: string; accountId?: number | null; n: number; amount: number }[], columns: number): Row[] {
  const byName = new Map<string, Row>()
  for (const f of found) {
    const own = byName.get(f.name) ?? { name: f.name, accountId: f.accountId ?? null, amounts: Array<number>(columns).fill(0) }
    own.amounts[f.n]! += f.amount
    byName.set(f.name, own)
  }
  return [...byName.values()].filter((r) => r.amounts.some((a) => a !== 0))
}

/** Fees collected, by timekeeper or area of practice, in the span in which each payment was applied. */
const collected = (m: EntityManager, columns: readonly Span[], by: IncomeIn['by']) =>
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
async function otherCollected(m: EntityManager, columns: readonly Span[]) {
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
const neverCame = (m: EntityManager, columns: readonly Span[]) =>
  rows<{ n: number; amount: number }>(
    m,
    `SELECT s.n, SUM(a.amount) AS amount FROM ${spansSql(columns)} JOIN allocation a ON a.applied_on BETWEEN s.f AND s.t JOIN payment p ON p.id = a.payment_id AND p.kind = 'write-off'
       JOIN bill_line b ON b.id = a.bill_line_id AND b.kind <> 'hard cost' GROUP BY s.n`,
  )

/**
 * Costs of the firm's own, not to be billed, that are owed to somebody: booked on their day, on paid money they count as they are paid,
 * by themselves or with the bill of a vendor. What was taken back unpaid never counts.
 */
const owedCosts = (m: EntityManager, columns: readonly Span[]) =>
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
async function markups(m: EntityManager, columns: readonly Span[]) {
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
const billed = (m: EntityManager, columns: readonly Span[], by: 'timekeeper' | 'area') =>
  rows<{ name: string; n: number; amount: number }>(
    m,
    `SELECT ${by === 'timekeeper' ? `COALESCE(u.name, 'Not of one person')` : `COALESCE(p.name, 'No area')`} AS name, s.n, -SUM(l.amount) AS amount
       FROM ${spansSql(columns)} JOIN account a ON a.role = 'fees' JOIN journal_line l ON l.account_id = a.id AND l.day BETWEEN s.f AND s.t
       ${by === 'timekeeper' ? 'LEFT JOIN user_account u ON u.id = l.timekeeper_id' : 'LEFT JOIN matter m ON m.id = l.matter_id LEFT JOIN practice_area p ON p.id = m.area_id'}
       LEFT JOIN ${closingJournals()} c ON c.journal_id = l.journal_id WHERE c.journal_id IS NULL GROUP BY name, s.n ORDER BY amount DESC, name`,
  )

/** Income and expenses of a span, with months or the year before beside it. */
export async function incomeStatement(ctx: Ctx, f: IncomeIn) {
  if (f.from > f.to) throw fieldFault('to', 'It ends before it begins')
  const m = ctx.db.manager
  const columns = columnsOf(f, f.beside)
  if (f.beside === 'months' && columns.at(-1)!.to < f.to) throw fieldFault('from', 'At most 24 months stand beside one another')
  const byAccount: Row[][] = [[], []]
  // On paid money an expense counts when it is paid.
  const shifts = f.basis === 'cash' ? await cashShifts(m, columns) : []
  const marked = f.basis === 'cash' ? await markups(m, columns) : []
  if (f.basis === 'cash') {
    const idOf = new Map((await chart(m)).map((a) => [a.role, a.id]))
    const less = (role: AccountRole, n: number, amount: number) => amount && idOf.has(role) && shifts.push({ accountId: idOf.get(role)!, n, amount: -amount }) // prettier-ignore
    for (const x of await neverCame(m, columns)) less('bad debts', x.n, x.amount)
    for (const x of await owedCosts(m, columns)) less('costs not recovered', x.n, -x.amount)
    marked.forEach((x, n) => (less('bad debts', n, x.badDebts), less('costs not recovered', n, x.notRecovered)))
  }
  // One after the other: a statement of two years takes no more of the database than any other page.
  const all: Awaited<ReturnType<typeof balances>>[] = []
  for (const c of columns) all.push(await balances(m, { from: c.from, to: c.to, without: 'all' }))
  for (const a of all[0]!) {
    if (a.kind !== 'income' && a.kind !== 'expense') continue
    const sign = a.kind === 'income' ? -1 : 1
    const amounts = all.map(
      (list, n) =>
        sign *
          (list.find((x) => x.id === a.id)!.balance + sum(shifts.filter((s) => s.accountId === a.id && s.n === n).map((s) => s.amount))) ||
        0,
    )
    const split = a.role === 'fees' && f.by !== 'account'
    if (amounts.some((x) => x !== 0) && !split)
      byAccount[a.kind === 'income' ? 0 : 1]!.push({ name: `${a.code} ${a.name}`, accountId: a.id, amounts })
  }
  const accrued = f.by === 'account' ? [] : gathered(await billed(m, columns, f.by), columns.length)
  const income =
    f.basis === 'accrual'
      ? [...accrued, ...byAccount[0]!]
      : [
          ...gathered(await collected(m, columns, f.by), columns.length),
          ...gathered(
            [
              ...(await otherCollected(m, columns)),
              ...marked.map((x, n) => ({ name: 'Costs recovered beyond what was advanced', n, amount: x.income })),
            ],
            columns.length,
          ),
        ]
  const totals = (list: readonly Row[]) => columns.map((_, i) => sum(list.map((r) => r.amounts[i]!)))
  const heads = await chart(m)
  const sections = [
    { name: 'Income', rows: underParents(income, heads), totals: totals(income) },
    { name: 'Expenses', rows: underParents(byAccount[1]!, heads), totals: totals(byAccount[1]!) },
  ]
  const net = columns.map((_, i) => sections[0]!.totals[i]! - sections[1]!.totals[i]!)
  return {
    columns,
    sections: sections.map((x) => ({ ...x, rows: x.rows.map((r) => ({ ...r, together: sum(r.amounts) })), together: sum(x.totals) })),
    net,
    together: sum(net),
  }
}

/** What the firm has and owes on a day, trust among both; with what was earned and is not closed yet. */
export async function balanceSheet(ctx: Ctx, asOf: Day) {
  const all = await balances(ctx.db.manager, { to: asOf })
  const sides = sidesOf(all)
  const of = (kind: string, sign: 1 | -1) =>
    all
      .filter((a) => a.kind === kind && a.balance !== 0)
      .map((a) => ({ name: `${a.code} ${a.name}`, accountId: a.id as number | null, amounts: [sign * a.balance] }))
  const earned = { name: 'Earned and not closed yet', accountId: null, amounts: [sides.earned] }
  const placed = (list: readonly Row[]) => underParents(list, all).map(({ amounts, ...r }) => ({ ...r, amount: amounts[0]! }))
  return {
    sections: [
      { name: 'Assets', rows: placed(of('asset', 1)), total: sides.assets },
      { name: 'Liabilities', rows: placed(of('liability', -1)), total: sides.liabilities },
      { name: 'Equity', rows: placed([...of('equity', -1), earned]), total: sides.equity + sides.earned },
    ],
    off: sides.off,
  }
}

/**
 * Where the firm's own money came from and went: of every journal that moves an operating bank, its other legs by account. Legs of
 * trust accounts make nothing together in any journal and are left out.
 */
export async function cashFlow(ctx: Ctx, from: Day, to: Day) {
  if (from > to) throw fieldFault('to', 'It ends before it begins')
  const m = ctx.db.manager
  const banks = await rows<{ gl: number }>(m, `SELECT gl_account_id AS gl FROM bank_account WHERE kind = 'operating'`)
  const own = new Set(banks.map((b) => b.gl))
  const at = async (day: Day) => sum((await moved(m, { to: day })).filter((a) => own.has(a.id)).map((a) => a.balance))
  const opening = await at(addDays(from, -1))
  const list = await rows<{ accountId: number; name: string; moneyIn: number; moneyOut: number }>(
    m,
    `SELECT a.id AS accountId, CONCAT(a.code, ' ', a.name) AS name, COALESCE(SUM(GREATEST(-x.amount, 0)), 0) AS moneyIn, COALESCE(SUM(GREATEST(x.amount, 0)), 0) AS moneyOut
       FROM (SELECT l.journal_id, l.account_id, SUM(l.amount) AS amount FROM journal_line l
              WHERE l.journal_id IN (SELECT e.journal_id FROM bank_entry e JOIN bank_account b ON b.id = e.bank_account_id AND b.kind = 'operating' WHERE e.day BETWEEN ? AND ?)
                AND l.account_id NOT IN (SELECT gl_account_id FROM bank_account) AND l.account_id NOT IN (SELECT liability_account_id FROM bank_account WHERE liability_account_id IS NOT NULL)
              GROUP BY l.journal_id, l.account_id) x
       JOIN account a ON a.id = x.account_id GROUP BY a.id HAVING moneyIn <> 0 OR moneyOut <> 0 ORDER BY a.code`,
    [from, to],
  )
  const moneyIn = sum(list.map((r) => r.moneyIn))
  const moneyOut = sum(list.map((r) => r.moneyOut))
  return { opening, rows: list, moneyIn, moneyOut, closing: await at(to) }
}

/** The rate of a line of tax; on bills of before rates were kept, their pre-bill's. */
const taxRateOfLine = `COALESCE(l.tax_basis_points, ${oldTaxRateOf('b')})`

/** Tax on bills by month and rate, null where a bill of before the firm moved in does not tell it: as billed, less what credit notes, voids and write-offs took, and as it was collected. */
export async function taxes(ctx: Ctx, from: Day, to: Day) {
  if (from > to) throw fieldFault('to', 'It ends before it begins')
  const list = await rows<{ month: string; rate: number | null; billed: number; credited: number; collected: number }>(
    ctx.db.manager,
    `SELECT month, rate, SUM(billed) AS billed, SUM(credited) AS credited, SUM(collected) AS collected FROM (
       SELECT DATE_FORMAT(b.issued_on, '%Y-%m') AS month, ${taxRateOfLine} AS rate, SUM(l.net) AS billed, 0 AS credited, 0 AS collected FROM bill b JOIN bill_line l ON l.bill_id = b.id AND l.kind = 'tax' WHERE b.issued_on BETWEEN ? AND ? GROUP BY 1, 2
       UNION ALL SELECT DATE_FORMAT(a.applied_on, '%Y-%m'), ${taxRateOfLine}, 0, SUM(IF(p.kind IN ('credit note', 'write-off', 'void'), a.amount, 0)), SUM(IF(p.kind IN ('credit note', 'write-off', 'void'), 0, a.amount))
         FROM allocation a JOIN bill_line l ON l.id = a.bill_line_id AND l.kind = 'tax' JOIN bill b ON b.id = l.bill_id JOIN payment p ON p.id = a.payment_id WHERE a.applied_on BETWEEN ? AND ? GROUP BY 1, 2) x
      GROUP BY month, rate ORDER BY month, rate DESC`,
    [from, to, from, to],
  )
  const of = (key: 'billed' | 'credited' | 'collected') => sum(list.map((r) => r[key]))
  return { rows: list, billed: of('billed'), credited: of('credited'), collected: of('collected') }
}
