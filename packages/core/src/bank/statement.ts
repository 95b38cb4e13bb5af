import type { Day } from '../calendar'
import type { Cents } from '../money'

/** One movement as the bank tells it. */
export interface StatementLine {
  /** The bank's day as it is written, in whatever zone: never moved between zones. */
  day: Day
  /** Cents, above zero into the account. */
  amount: Cents
  /** The bank's own id of it; empty where there is none. Ids get used again, so one alone proves nothing. */
  bankId: string
  /** Number of a check, without leading zeros; empty where it is none. */
  check: string
  /** Any other reference. */
  reference: string
  /** What it is, in the bank's word: `CHECK`, `PMNT-RCDT`. */
  kind: string
  text: string
  /** What one booking is made of, where the bank tells it: told, and never counted on top. */
  details: StatementDetail[]
}
export interface StatementDetail {
  amount: Cents | null
  reference: string
  text: string
}

/** A statement as it was read. Nothing in it is mended: what does not fit is in `faults` or `oddities`. */
export interface Statement {
  format: 'OFX 1' | 'OFX 2' | 'camt.053' | 'CSV'
  /** Number of the account and of its bank, as they are written; empty where the file has none. */
  account: string
  bank: string
  currency: string
  from: Day | null
  to: Day | null
  opening: Cents | null
  closing: Cents | null
  lines: StatementLine[]
  /** Parts that could not be read: with any of these the file is not taken. */
  faults: string[]
  /** What a person should know, and what is no reason to refuse it. */
  oddities: string[]
}

/** How much of a statement is read; what is longer is refused, not cut. */
export const mostOfStatement = { bytes: 80_000_000, lines: 200_000, details: 2_000, faults: 20, text: 300 } as const

/** A statement of which nothing is read yet. */
export const emptyStatement = (format: Statement['format']): Statement => ({
  format,
  account: '',
  bank: '',
  currency: '',
  from: null,
  to: null,
  opening: null,
  closing: null,
  lines: [],
  faults: [],
  oddities: [],
})

/** Takes a fault down, as long as there are few: a file of ten thousand bad lines says so once. */
export function fault(s: Statement, words: string): void {
  if (s.faults.length < mostOfStatement.faults) s.faults.push(words)
}
/** Notes what of a statement could not be read, once, and no more than so many. */
export function odd(s: Statement, words: string): void {
  if (s.oddities.length < mostOfStatement.faults && !s.oddities.includes(words)) s.oddities.push(words)
}

/** One line of several parts of text, each once, with single spaces. */
export function oneText(...parts: (string | undefined)[]): string {
  const out: string[] = []
  for (const part of parts) {
    const clean = (part ?? '').slice(0, 2000).split(/\s+/).filter(Boolean).join(' ')
    if (clean && !out.some((o) => o.includes(clean))) out.push(clean)
  }
  return out.join(' · ').slice(0, mostOfStatement.text)
}
/** A check's number as it is compared: digits without leading zeros; anything else is no number. */
export const checkNumber = (text: string): string => (/^0*[1-9]\d{0,11}$/.test(text.trim()) ? text.trim().replace(/^0+/, '') : '')

const mostDigits = 12
/**
 * Cents of an amount as it is written with this decimal sign: `-1234.5`, `+7`, `.50`. More than two decimals are only taken where
 * the rest are zeros. Null for anything that cannot be read with certainty.
 */
export function readCents(text: string, decimal: '.' | ',' = '.'): Cents | null {
  const t = text.slice(0, 40).trim()
  const sign = t.startsWith('-') ? -1 : 1
  const body = /^[+-]/.test(t) ? t.slice(1) : t
  const at = body.indexOf(decimal)
  const whole = at < 0 ? body : body.slice(0, at)
  const rest = at < 0 ? '' : body.slice(at + 1)
  if (!/^\d*$/.test(whole) || !/^\d*$/.test(rest) || whole + rest === '' || whole.replace(/^0+/, '').length > mostDigits) return null
  if (/[1-9]/.test(rest.slice(2))) return null
  const cents = Number(whole || '0') * 100 + Number(rest.slice(0, 2).padEnd(2, '0'))
  return cents === 0 ? 0 : sign * cents
}

/**
 * By how much a statement's own figures do not add up: closing less opening less its lines. Zero where they do, null where the
 * file does not give both balances. The difference is stated to a person and never mended.
 */
export function ownDifference(s: Pick<Statement, 'opening' | 'closing' | 'lines'>): Cents | null {
  if (s.opening === null || s.closing === null) return null
  let moved = 0
  for (const l of s.lines) moved += l.amount
  return s.closing - s.opening - moved
}
