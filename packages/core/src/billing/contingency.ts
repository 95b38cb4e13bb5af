import { divideHalfUp, sum, type Cents } from '../money'

/** An exact part: a third is one of three, 33⅓ % and not 33.33 %. */
export interface Fraction {
  readonly numerator: number
  readonly denominator: number
}
/** Reads `1/3`, `33 1/3 %`, `33⅓%`, `40 %`, `0.4`; null for anything else, for nothing and for more than the whole. */
export function readFraction(text: string): Fraction | null {
  const t = text.slice(0, 40).replaceAll('⅓', ' 1/3').replaceAll('⅔', ' 2/3').replaceAll('½', ' 1/2').replaceAll('¼', ' 1/4').trim()
  const percent = t.endsWith('%')
  const bits = (percent ? t.slice(0, -1) : t).split(/\s+/).filter(Boolean)
  const fraction = /^(\d{1,3})\/(\d{1,3})$/.exec(bits.at(-1) ?? '')
  const wholes = fraction ? bits.slice(0, -1) : bits
  if (wholes.length > 1 || (!fraction && !wholes.length) || wholes.some((w) => !/^\d{1,3}(?:\.\d{1,4})?$/.test(w))) return null
  const whole = wholes[0] ?? '0'
  const [num, den] = [fraction?.[1] ?? '0', fraction?.[2] ?? '1']
  if (Number(den) === 0) return null
  const scale = 10 ** (whole.split('.')[1]?.length ?? 0)
  // As a fraction of whole numbers: (whole + num/den) over 100 where it is a percentage.
  const numerator = Math.round(Number(whole) * scale) * Number(den) + Number(num) * scale
  const denominator = scale * Number(den) * (percent ? 100 : 1)
  return numerator > 0 && numerator <= denominator ? lowest({ numerator, denominator }) : null
}
const gcd = (a: number, b: number): number => (b ? gcd(b, a % b) : a)
const lowest = ({ numerator, denominator }: Fraction): Fraction => {
  const by = gcd(numerator, denominator)
  return { numerator: numerator / by, denominator: denominator / by }
}
/** A fraction as people say it: `33⅓ %`, `40 %`, `37.5 %`. */
export function showFraction({ numerator, denominator }: Fraction): string {
  const hundred = numerator * 100
  if (hundred % denominator === 0) return `${hundred / denominator} %`
  if ((hundred * 100) % denominator === 0) return `${hundred / denominator} %`
  if ((hundred * 3) % denominator === 0) {
    const thirds = (hundred * 3) / denominator
    return `${Math.floor(thirds / 3)}${thirds % 3 === 1 ? '⅓' : '⅔'} %`
  }
  return `${numerator}/${denominator}`
}
/** A part of an amount, half up to the cent. */
export const fractionOf = (amount: Cents, f: Fraction): Cents => divideHalfUp(BigInt(amount) * BigInt(f.numerator), BigInt(f.denominator))

export interface Settlement {
  /** What was recovered, in cents. */
  readonly gross: Cents
  /** What the firm advanced and takes back. */
  readonly costs: Cents
  /** What else the client owes the firm and pays out of the recovery: open bills, hours of a mixed arrangement. */
  readonly owed?: Cents
  /** Tax on the fee and on costs that bear it; none unless given. */
  readonly tax?: Cents
  /** Whether the fee is of what was recovered, or of what is left after costs. */
  readonly feeOf: 'gross' | 'net of costs'
  readonly fee: Fraction
  /** What is owed to others out of the recovery: medical providers, insurers, liens of the state. */
  readonly liens: readonly { readonly name: string; readonly amount: Cents }[]
}
export interface SettlementStatement {
  readonly fee: Cents
  readonly costs: Cents
  readonly tax: Cents
  readonly liens: Cents
  readonly toClient: Cents
  /** Who gets what, adding up to the gross. */
  readonly lines: { text: string; amount: Cents }[]
}
/**
 * How a recovery is shared: fee, costs, liens, and what is left to the client; it adds up to the gross to the cent. A third of
 * $100,000.00 with $6,000.00 of costs is $33,333.33 before costs, $31,333.33 after. Throws RangeError where costs, fee and liens
 * together are more than was recovered, or an amount is below nothing.
 */
export function settlementStatement(s: Settlement): SettlementStatement {
  const { tax = 0, owed = 0 } = s
  if ([s.gross, s.costs, tax, owed, ...s.liens.map((l) => l.amount)].some((a) => a < 0))
    throw new RangeError('No amount of a settlement is below nothing')
  if (s.costs > s.gross) throw new RangeError('The costs are more than was recovered')
  const fee = fractionOf(s.feeOf === 'gross' ? s.gross : s.gross - s.costs, s.fee)
  const liens = sum(s.liens.map((l) => l.amount))
  const toClient = s.gross - fee - s.costs - tax - owed - liens
  if (toClient < 0) throw new RangeError('Fee, costs, tax and liens together are more than was recovered')
  return {
    fee,
    costs: s.costs,
    tax,
    liens,
    toClient,
    lines: [
      { text: `Fee, ${showFraction(s.fee)} ${s.feeOf === 'gross' ? 'of what was recovered' : 'of what is left after costs'}`, amount: fee },
      { text: 'Costs advanced', amount: s.costs },
      ...(owed ? [{ text: 'Owed to the firm besides', amount: owed }] : []),
      ...(tax ? [{ text: 'Tax', amount: tax }] : []),
      ...s.liens.map((l) => ({ text: l.name, amount: l.amount })),
      { text: 'To the client', amount: toClient },
    ],
  }
}
