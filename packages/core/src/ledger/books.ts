import { addDays, dayOf, daysInMonth, isDay, parts, type Day } from '../calendar'
import { share, sum, type Cents } from '../money'
import type { JournalLine } from './journal'

export type AccountKind = 'asset' | 'liability' | 'equity' | 'income' | 'expense'

/** What an account stands at, debit positive, in cents. */
export interface AccountBalance {
  id: number
  kind: AccountKind
  balance: Cents
}

/** A span of days, both ends included. */
export interface Span {
  from: Day
  to: Day
}

export type Beside = 'none' | 'months' | 'year'
/**
 * The columns of a statement: the span alone, its calendar months beside one another (the first and last as far as the span goes),
 * or the same days of the year before beside it (29 February becomes the 28th). At most 24 months.
 */
export function columnsOf(span: Span, beside: Beside): Span[] {
  if (beside === 'none') return [span]
  if (beside === 'year') return [span, { from: yearBefore(span.from), to: yearBefore(span.to) }]
  const months: Span[] = []
  for (let from = span.from; from <= span.to && months.length < 24;) {
    const [y, m] = parts(from)
    const end = dayOf(y, m, daysInMonth(y, m))
    months.push({ from, to: end < span.to ? end : span.to })
    from = addDays(end, 1)
  }
  return months
}
function yearBefore(day: Day): Day {
  const [y, m, d] = parts(day)
  return dayOf(y - 1, m, Math.min(d, daysInMonth(y - 1, m)))
}

/** The fiscal year in which a day lies, by its last month and day, such as `12-31`; 02-29 is the last day of February. */
export function fiscalYear(day: Day, yearEnd: string): Span {
  const endIn = (year: number): Day => {
    const [m, d] = yearEnd.split('-').map(Number) as [number, number]
    return dayOf(year, m, Math.min(m === 2 && d === 29 ? 29 : d, daysInMonth(year, m)))
  }
  const [year] = parts(day)
  const to = day <= endIn(year) ? endIn(year) : endIn(year + 1)
  const [last] = parts(to)
  return { from: addDays(endIn(last - 1), 1), to }
}

/** Whether text is a month and day that ends a fiscal year in every year. */
export const isYearEnd = (text: string): boolean => /^\d{2}-\d{2}$/.test(text) && (text === '02-29' || isDay(`2025-${text}`))

export interface BalanceSheet {
  assets: Cents
  liabilities: Cents
  /** As it is posted, years closed so far with it. */
  equity: Cents
  /** Income less expenses of what is not closed yet. */
  earned: Cents
  /** What the two sides differ by; nothing where every journal balances. */
  off: Cents
}
/** The two sides of a balance sheet: assets, and what is owed, put in and earned; each as it is read, credits above zero. */
export function balanceSheet(accounts: readonly AccountBalance[]): BalanceSheet {
  const of = (...kinds: AccountKind[]) => sum(accounts.filter((a) => kinds.includes(a.kind)).map((a) => a.balance))
  const assets = of('asset')
  const liabilities = -of('liability')
  const equity = -of('equity')
  const earned = -of('income', 'expense')
  return { assets, liabilities, equity, earned, off: assets - liabilities - equity - earned || 0 }
}

/** What became so far of a line of a bill for a cost that the firm had advanced, in cents. */
export interface AdvanceSettled {
  net: Cents
  /** What of it the firm advanced; the rest is markup. */
  advanced: Cents
  paid: Cents
  credited: Cents
  writtenOff: Cents
  /** The bill was voided: the cost is unbilled again. */
  voided: boolean
}
/**
 * What such a line comes to on paid money, all that happened so far together. Payments bring the advance back first; what is paid beyond
 * it is income, and what of the advance is neither paid nor open any more is lost. Markup that was credited or written off was never
 * income, and is no loss. `income - lost = paid - advance + outstanding`. As billed, all that was written off stands as bad debts and all
 * that was credited as costs not recovered; `less` is by how much each is less on paid money, the loss being one of bad debts first.
 */
export function advanceOnPaidMoney(l: AdvanceSettled): {
  income: Cents
  lost: Cents
  outstanding: Cents
  less: { badDebts: Cents; notRecovered: Cents }
} {
  if (l.voided) return { income: 0, lost: 0, outstanding: 0, less: { badDebts: l.writtenOff, notRecovered: l.credited } }
  const advance = Math.min(l.advanced, l.net)
  const left = Math.max(0, advance - l.paid)
  const outstanding = Math.max(0, Math.min(left, l.net - l.paid - l.credited - l.writtenOff))
  const lost = left - outstanding
  const asBadDebts = Math.min(lost, l.writtenOff)
  return {
    income: Math.max(0, l.paid - advance),
    lost,
    outstanding,
    less: { badDebts: l.writtenOff - asBadDebts, notRecovered: l.credited - (lost - asBadDebts) },
  }
}

/** What a partner's equity takes of a year, in hundredths of a percent. */
export interface PartnerShare {
  account: number
  basisPoints: number
}
/** What is wrong with the shares of the partners; null where they make exactly the whole. */
export function faultOfShares(shares: readonly PartnerShare[]): string | null {
  if (!shares.length) return 'Say which equity accounts take the year’s result, and what share each'
  if (new Set(shares.map((s) => s.account)).size < shares.length) return 'Name each account once'
  if (shares.some((s) => !Number.isInteger(s.basisPoints) || s.basisPoints <= 0)) return 'Each share is above zero'
  return sum(shares.map((s) => s.basisPoints)) === 10_000 ? null : 'The shares must make exactly 100 %'
}

/**
 * The closing entry of a year: every account of income and expense is brought to zero, and the result goes to the partners' equity
 * by their shares (largest remainder). Accounts of any other kind, and so trust, are never touched. Empty where nothing moved.
 */
export function closingLines(accounts: readonly AccountBalance[], shares: readonly PartnerShare[]): JournalLine[] {
  const own = accounts.filter((a) => (a.kind === 'income' || a.kind === 'expense') && a.balance !== 0)
  const result = sum(own.map((a) => a.balance))
  const parts = share(
    result,
    shares.map((s) => s.basisPoints),
  )
  return [
    ...own.map((a) => ({ account: a.id, amount: -a.balance })),
    ...shares.map((s, i) => ({ account: s.account, amount: parts[i]! })).filter((l) => l.amount !== 0),
  ]
}
