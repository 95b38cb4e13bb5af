import { proportion, type Cents } from '../money'
import { isFee, type LineKind } from './lines'

/** Tax by kind of line, in ten-thousandths: 8.25 % is 825. */
export interface TaxRates {
  /** On time and fees of set amounts. */
  fees: number
  /** On the firm's own costs, such as copies. */
  softCosts: number
  /** On what was advanced to others. */
  hardCosts: number
}
/** What a line of a bill bears, as it is taxed. */
export interface TaxedLine {
  net: Cents
  /** Ten-thousandths; 0 where it bears none. */
  taxRate: number
}
export interface TaxAmount {
  rate: number
  amount: Cents
}

/**
 * The rate of a line: that of its kind, none where it is said to be free of tax. A cost that is said to be taxed, of a kind that
 * usually is not, bears the rate of fees. Interest bears none.
 */
export function taxRateOf(line: { kind: LineKind | 'tax'; taxable: boolean | null }, rates: TaxRates): number {
  if (line.taxable === false || line.kind === 'interest' || line.kind === 'tax') return 0
  if (isFee(line.kind)) return rates.fees
  const own = line.kind === 'soft cost' ? rates.softCosts : rates.hardCosts
  return own || (line.taxable ? rates.fees : 0)
}

/** Tax on lines by their net amounts: for each rate once, rounded half up on the absolute value, then the sign; the highest rate first. */
export function taxesOn(lines: readonly TaxedLine[]): TaxAmount[] {
  const bases = new Map<number, Cents>()
  for (const l of lines) if (l.taxRate) bases.set(l.taxRate, (bases.get(l.taxRate) ?? 0) + l.net)
  return [...bases]
    .sort(([a], [b]) => b - a)
    .map(([rate, base]) => ({ rate, amount: Math.sign(base) * proportion(Math.abs(base), rate, 10_000) }))
    .filter((t) => t.amount !== 0)
}

/** `Tax 8.25 %`, as bills and credit notes name it. */
export const taxWords = (rate: number): string => `Tax ${rate / 100} %`
