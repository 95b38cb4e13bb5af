import { counted } from '@heron/core/words'
import type { bookFiles } from '@heron/contract'
import { showDay, yearStart, type Day } from '@heron/core/calendar'
import type { Ctx } from '../../platform/context'
import { fieldFault } from '../../platform/problem'
import { takenFile, type FileRow, type TableFile } from '../../platform/table-file'
import { accountLines } from './journals'
import { trialBalance } from './journal-queries'
import { balanceSheet, cashFlow, incomeStatement, taxes } from './statements'

interface Wanted {
  what: (typeof bookFiles)[number]
  format: 'pdf' | 'xlsx' | 'csv'
  id?: number | undefined
  asOf?: Day | undefined
  from?: Day | undefined
  to?: Day | undefined
  closing: 'with' | 'without'
  basis: 'cash' | 'accrual'
  beside: 'none' | 'months' | 'year'
  by: 'timekeeper' | 'area' | 'account'
}
const money = (text: string) => ({ text, kind: 'money' as const })
const words = (text: string) => ({ text, kind: 'text' as const })
const day = (text: string) => ({ text, kind: 'day' as const })
/** A row of a statement, set in as far as accounts stand above it. */
const indented = (r: { name: string; depth: number }) => `${'\u2003'.repeat(r.depth)}${r.name}`
/** The most lines of one file; a longer span is asked for in parts. */
const most = 20_000

async function tableOf(ctx: Ctx, f: Wanted): Promise<TableFile> {
  const today = ctx.clock.today()
  const asOf = f.asOf ?? today
  const to = f.to ?? today
  const from = f.from ?? yearStart(to)
  const span = `${showDay(from)} to ${showDay(to)}`
  const named = (title: string, file: string) => ({ title, under: span, file: `${file}-${from}-${to}` })
  if (f.what === 'trial') {
    const t = await trialBalance(ctx, asOf, f.closing === 'with')
    return {
      title: 'Trial balance',
      under: `as of ${showDay(asOf)}${f.closing === 'with' ? '' : ', before closing entries'}`,
      file: `trial-balance-${asOf}`,
      columns: [words('Account'), words('Kind'), money('Debit'), money('Credit')],
      rows: [
        ...t.rows
          .filter((a) => a.debit || a.credit)
          .map((a) => ({ cells: [`${a.code} ${a.name}`, a.kind, a.debit || null, a.credit || null] })),
        { cells: ['Together', '', t.debit, t.credit], is: 'sum' },
      ],
    }
  }
  if (f.what === 'balance') {
    const b = await balanceSheet(ctx, asOf)
    return {
      title: 'Balance sheet',
      under: `as of ${showDay(asOf)}`,
      file: `balance-sheet-${asOf}`,
      columns: [words('Account'), money('Amount')],
      rows: b.sections.flatMap((s): FileRow[] => [
        { cells: [s.name, null], is: 'head' },
        ...s.rows.map((r) => ({ cells: [indented(r), r.amount], ...(r.sum ? { is: 'sum' as const } : {}) })),
        { cells: [`${s.name} together`, s.total], is: 'sum' },
      ]),
    }
  }
  if (f.what === 'income') {
    const s = await incomeStatement(ctx, { from, to, basis: f.basis, beside: f.beside, by: f.by })
    const all = (cents: number) => (f.beside === 'months' ? [cents] : [])
    return {
      ...named(`Income statement, ${f.basis === 'cash' ? 'on collected money' : 'as billed and owed'}`, 'income'),
      columns: [
        words('Of'),
        ...(f.beside === 'months' ? [money('Together')] : []),
        ...s.columns.map((c) => money(f.beside === 'months' ? c.from.slice(0, 7) : `${showDay(c.from)} to ${showDay(c.to)}`)),
      ],
      rows: [
        ...s.sections.flatMap((x): FileRow[] => [
          { cells: [x.name], is: 'head' },
          ...x.rows.map((r) => ({ cells: [indented(r), ...all(r.together), ...r.amounts], ...(r.sum ? { is: 'sum' as const } : {}) })),
          { cells: [`${x.name} together`, ...all(x.together), ...x.totals], is: 'sum' },
        ]),
        { cells: ['Net', ...all(s.together), ...s.net], is: 'sum' },
      ],
    }
  }
  if (f.what === 'cash') {
    const c = await cashFlow(ctx, from, to)
    return {
      ...named('Cash flow of the firm', 'cash-flow'),
      columns: [words('Account'), money('In'), money('Out')],
      rows: [
        { cells: ['At the beginning', c.opening, null], is: 'sum' },
        ...c.rows.map((r) => ({ cells: [r.name, r.moneyIn || null, r.moneyOut || null] })),
        { cells: ['Together', c.moneyIn, c.moneyOut], is: 'sum' },
        { cells: ['At the end', c.closing, null], is: 'sum' },
      ],
    }
  }
  if (f.what === 'taxes') {
    const t = await taxes(ctx, from, to)
    return {
      ...named('Tax on bills', 'tax'),
      columns: [words('Month'), words('Rate'), money('Billed'), money('Credited'), money('Collected')],
      rows: [
        ...t.rows.map((r) => ({ cells: [r.month, r.rate === null ? '' : `${r.rate / 100} %`, r.billed, r.credited, r.collected] })),
        { cells: ['Together', '', t.billed, t.credited, t.collected], is: 'sum' },
      ],
    }
  }
  if (!f.id) throw fieldFault('id', 'Choose an account')
  const a = await accountLines(ctx, f.id, { from, to, page: 1, size: most })
  if (a.total > most) throw fieldFault('from', `These are ${counted(a.total, 'line')}. Take a shorter span, of ${most} at most`)
  return {
    ...named(`General ledger of ${a.code} ${a.name}`, `ledger-${a.code}`),
    columns: [day('Date'), words('What'), words('Matter'), money('Debit'), money('Credit'), money('Balance')],
    rows: [
      { cells: [null, 'At the beginning', '', null, null, a.opening], is: 'sum' },
      ...a.rows.map((l) => ({
        cells: [
          l.day,
          `${l.journalId}: ${l.memo}`,
          l.matter ?? '',
          l.amount > 0 ? l.amount : null,
          l.amount < 0 ? -l.amount : null,
          l.balance,
        ],
      })),
      { cells: [null, 'At the end', '', a.debit, a.credit, a.closing], is: 'sum' },
    ],
  }
}

export const bookFile = async (ctx: Ctx, f: Wanted): Promise<File> => takenFile(ctx, await tableOf(ctx, f), f.format, 'account')
