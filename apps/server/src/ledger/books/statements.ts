import type { IncomeIn } from '@heron/contract'
import { addDays, type Day } from '@heron/core/calendar'
import { balanceSheet as sidesOf, columnsOf, underParents, type AccountRole } from '@heron/core/ledger'
import { sum } from '@heron/core/money'
import type { Ctx } from '../../platform/context'
import { fieldFault } from '../../platform/problem'
import { balances, chart } from './sums'
import { cashShifts, moved } from './sum-queries'
import {
  billed,
  cashMoved,
  collected,
  markups,
  neverCame,
  operatingBanks,
  otherCollected,
  owedCosts,
  taxByMonth,
} from './statement-queries'

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
  const banks = await operatingBanks(m)
  const own = new Set(banks.map((b) => b.gl))
  const at = async (day: Day) => sum((await moved(m, { to: day })).filter((a) => own.has(a.id)).map((a) => a.balance))
  const opening = await at(addDays(from, -1))
  const list = await cashMoved(m, from, to)
  const moneyIn = sum(list.map((r) => r.moneyIn))
  const moneyOut = sum(list.map((r) => r.moneyOut))
  return { opening, rows: list, moneyIn, moneyOut, closing: await at(to) }
}

/** Tax on bills by month and rate, null where a bill of before the firm moved in does not tell it: as billed, less what credit notes, voids and write-offs took, and as it was collected. */
export async function taxes(ctx: Ctx, from: Day, to: Day) {
  if (from > to) throw fieldFault('to', 'It ends before it begins')
  const list = await taxByMonth(ctx, from, to)
  const of = (key: 'billed' | 'credited' | 'collected') => sum(list.map((r) => r[key]))
  return { rows: list, billed: of('billed'), credited: of('credited'), collected: of('collected') }
}
