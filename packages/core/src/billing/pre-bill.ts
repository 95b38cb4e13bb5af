import { proportion, share, sum, type Cents } from '../money'
import { isFee, type LineKind } from './lines'
import { splitBill, type BillPart, type PayerShare } from './payers'
import { taxesOn, type TaxAmount } from './tax'

/** One line of a pre-bill: what was recorded, and what the lawyer left of it. */
export interface PreBillLine {
  kind: LineKind
  /** Value as recorded. */
  worked: Cents
  /** Value after editing; below `worked` it is a write-down. 0 with `noCharge`. */
  charged: Cents
  noCharge: boolean
  heldBack: boolean
  /** Ten-thousandths of its net; 0 where it bears no tax. */
  taxRate: number
}

export interface Discount {
  amount: Cents
  /** Ten-thousandths: 5 % is 500. Used where `amount` is 0. */
  basisPoints: number
}

export interface PreBillTotals {
  worked: Cents
  writtenDown: Cents
  noCharge: Cents
  fees: Cents
  /** Costs the firm advanced to others, and its own such as copies. */
  hardCosts: Cents
  softCosts: Cents
  discount: Cents
  tax: Cents
  /** The same by rate; where several pay, each rate's sum over their parts. */
  taxes: TaxAmount[]
  total: Cents
  /** Discount and net amount of each line, in the order given; held-back lines are 0. */
  lineDiscounts: Cents[]
  lineNets: Cents[]
  /** What each of several payers is billed, in their order; none where one bears all. */
  parts: BillPart[]
}

/** Taxes of several parts by rate, the highest first. */
const together = (taxes: readonly TaxAmount[]): TaxAmount[] =>
  [...new Set(taxes.map((t) => t.rate))]
    .sort((a, b) => b - a)
    .map((rate) => ({ rate, amount: sum(taxes.filter((t) => t.rate === rate).map((t) => t.amount)) }))

/**
 * Adds up a pre-bill. A discount lessens fees, never costs, and is shared out over fee lines to the cent;
 * tax is rounded once for each rate, on the net of the lines that bear it; where several pay, on each one's own part, and the whole
 * is their sum. Throws RangeError when the discount is above the fees.
 */
export function addUpPreBill(lines: readonly PreBillLine[], discount: Discount, payers: readonly PayerShare[] = []): PreBillTotals {
  const charged = lines.map((l) => (l.heldBack || l.noCharge ? 0 : l.charged))
  const feeAmounts = lines.map((l, i) => (isFee(l.kind) ? charged[i]! : 0))
  const fees = sum(feeAmounts)
  const off = discount.amount || proportion(fees, discount.basisPoints, 10_000)
  if (off < 0 || off > fees) throw new RangeError('The discount must be between nothing and the fees')
  const lineDiscounts = lines.length ? share(off, feeAmounts) : []
  const lineNets = charged.map((c, i) => c - lineDiscounts[i]!)
  const shown = lines.filter((l) => !l.heldBack)
  const feeLines = shown.filter((l) => isFee(l.kind))
  const amounts = lines.map((l, i) => ({
    worked: l.heldBack ? 0 : l.worked,
    discount: lineDiscounts[i]!,
    net: lineNets[i]!,
    taxRate: l.taxRate,
  }))
  const parts = payers.length ? splitBill(amounts, payers) : []
  const taxes = payers.length ? together(parts.flatMap((p) => p.taxes)) : taxesOn(amounts)
  const tax = sum(taxes.map((t) => t.amount))
  const costs = (kind: LineKind) => sum(charged.filter((_, i) => lines[i]!.kind === kind))
  const noCharge = sum(feeLines.filter((l) => l.noCharge).map((l) => l.worked))
  const worked = sum(feeLines.map((l) => l.worked))
  return {
    worked,
    writtenDown: worked - noCharge - fees,
    noCharge,
    fees,
    hardCosts: costs('hard cost'),
    softCosts: costs('soft cost'),
    discount: off,
    tax,
    taxes,
    total: sum(lineNets) + tax,
    lineDiscounts,
    lineNets,
    parts,
  }
}
