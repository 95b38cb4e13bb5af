import { share, shareOverRemaining, showMoney, sum, type Cents } from '../money'
import { taxesOn, type TaxAmount } from './tax'

/** What one of several payers bears: a fixed amount of each bill, or a part of what the fixed ones leave. */
export interface PayerShare {
  /** Cents of each bill before tax; null where the payer bears a part. */
  fixed: Cents | null
  /** Ten-thousandths of what is left after fixed amounts; null where the payer bears a fixed amount. */
  basisPoints: number | null
}

/** Equal parts for so many payers, making 100 %; what cannot be equal falls to the earlier ones. */
export const evenParts = (payers: number): number[] =>
  share(
    10_000,
    Array.from({ length: payers }, () => 1),
  )

/** Says what is wrong with how bills are split, or null. No payers at all means that one person is billed. */
export function payersFault(payers: readonly PayerShare[]): string | null {
  if (!payers.length) return null
  if (payers.length === 1) return 'A bill is split among two payers or more'
  if (payers.some((p) => (p.fixed === null) === (p.basisPoints === null)))
    return 'Give each payer a fixed amount or a percentage, and not both'
  if (payers.some((p) => (p.fixed ?? p.basisPoints ?? 0) <= 0)) return 'Each payer bears more than nothing'
  const parts = payers.filter((p) => p.basisPoints !== null)
  if (!parts.length) return 'Give at least one payer a percentage, to bear what the fixed amounts leave'
  const whole = sum(parts.map((p) => p.basisPoints!))
  return whole === 10_000 ? null : `The percentages make ${whole / 100} %; they must make 100 %`
}

/** In words, as pre-bills and bills show it: `60 %`, `$500.00`, `60 % of what is left`. */
export function sharesInWords(payers: readonly PayerShare[]): string[] {
  const fixed = payers.some((p) => p.fixed !== null)
  return payers.map((p) => (p.fixed !== null ? showMoney(p.fixed) : `${p.basisPoints! / 100} %${fixed ? ' of what is left' : ''}`))
}

/**
 * Splits an amount of 0 or more among payers: fixed amounts first, in order and at most what is left, then parts by
 * percentage. The shares always add up to the cent. Throws RangeError where `payersFault` finds a fault.
 */
export function splitAmount(amount: Cents, payers: readonly PayerShare[]): Cents[] {
  const wrong = payersFault(payers)
  if (wrong || amount < 0) throw new RangeError(wrong ?? 'An amount below nothing cannot be split')
  let left = amount
  const fixed = payers.map((p) => {
    const own = Math.min(p.fixed ?? 0, left)
    left -= own
    return own
  })
  const parts = share(
    left,
    payers.map((p) => p.basisPoints ?? 0),
  )
  return payers.map((_, i) => fixed[i]! + parts[i]!)
}

/** A line of a bill as it is split: value as recorded, discount given, and what remains to be paid. */
export interface LineAmounts {
  worked: Cents
  discount: Cents
  net: Cents
}
export interface TaxableLine extends LineAmounts {
  taxRate: number
}
export interface BillPart {
  total: Cents
  tax: Cents
  taxes: TaxAmount[]
  /** In the order of the bill's lines; a payer's part of each. */
  lines: LineAmounts[]
}

/**
 * Splits a whole bill into one part for each payer, before tax: what the shares give of the nets together, each line's net taken
 * by what remains of it, so that the parts of every line, and the lines of every part, add up to the cent. Each payer's tax is
 * worked out on that payer's own part; the tax of the whole is their sum. Nets are 0 or more.
 */
export function splitBill(lines: readonly TaxableLine[], payers: readonly PayerShare[]): BillPart[] {
  const shares = splitAmount(sum(lines.map((l) => l.net)), payers)
  const remaining = lines.map((l) => l.net)
  const nets = shares.map((amount) => {
    const own = shareOverRemaining(amount, remaining)
    own.forEach((n, i) => (remaining[i]! -= n))
    return own
  })
  const partsOf = (amount: Cents, i: number) => {
    const by = nets.map((own) => own[i]!)
    return share(amount, by.some((n) => n > 0) ? by : payers.map((p, k) => shares[k]! || (p.basisPoints ?? p.fixed!)))
  }
  const worked = lines.map((l, i) => partsOf(l.worked, i))
  const discounts = lines.map((l, i) => partsOf(l.discount, i))
  return shares.map((amount, k) => {
    const taxes = taxesOn(lines.map((l, i) => ({ net: nets[k]![i]!, taxRate: l.taxRate })))
    const tax = sum(taxes.map((t) => t.amount))
    return {
      total: amount + tax,
      tax,
      taxes,
      lines: lines.map((_, i) => ({ worked: worked[i]![k]!, discount: discounts[i]![k]!, net: nets[k]![i]! })),
    }
  })
}
