import { proportion, shareOverRemaining, sum, type Cents } from '../money'
import { applyPayment, usualOrder, type OpenLine, type PaymentOrder } from './payments'
import type { LineKind } from './lines'

/** A line of a bill as a credit note sees it; tax is a line of its own kind. */
export interface CreditableLine {
  id: number
  kind: LineKind | 'tax'
  /** Its net amount less what credit notes and write-offs took before, in cents; payments do not lessen it. */
  left: Cents
  /** Of a line, the rate at which it was taxed, 0 where it bore none; of tax, its rate, or null where that is not known, as on bills from before the firm moved in. */
  taxRate: number | null
}

/**
 * The lines of a credit note: amounts before tax, either by line or as one amount shared over the lines by what is left on them, and
 * the tax on them, for each of the bill's rates once. It is never more than what is left of that tax, and the note that takes the last
 * of the lines that bore it takes the rest of it; where the rate is not known, it is taken as the lines are. Throws RangeError where
 * more is asked than is left on a line.
 */
export function creditNoteLines(
  lines: readonly CreditableLine[],
  wanted: { byLine: ReadonlyMap<number, Cents> } | { net: Cents },
): { id: number; amount: Cents }[] {
  const own = lines.filter((l) => l.kind !== 'tax')
  const amounts =
    'net' in wanted
      ? shareOverRemaining(
          wanted.net,
          own.map((l) => l.left),
        )
      : own.map((l) => wanted.byLine.get(l.id) ?? 0)
  own.forEach((l, i) => {
    if (amounts[i]! < 0 || amounts[i]! > l.left) throw new RangeError('A credit note never takes more than is left on a line')
  })
  const noted = own.map((l, i) => ({ id: l.id, amount: amounts[i]! }))
  for (const tax of lines.filter((l) => l.kind === 'tax')) {
    const bears = own.map((l) => (tax.taxRate === null ? l.taxRate !== 0 : l.taxRate === tax.taxRate))
    const taxed = sum(amounts.filter((_, i) => bears[i]))
    const taxable = sum(own.filter((_, i) => bears[i]).map((l) => l.left))
    if (!taxed) continue
    const rest = tax.taxRate === null ? proportion(tax.left, taxed, taxable) : proportion(taxed, tax.taxRate, 10_000)
    noted.push({ id: tax.id, amount: taxed === taxable ? tax.left : Math.min(tax.left, rest) })
  }
  return noted.filter((l) => l.amount > 0)
}

/** A line of a bill and what payments may still take of it. */
export interface RoomyLine {
  id: number
  kind: LineKind | 'tax'
  room: Cents
}
/** What one payment has paid of the lines of a bill. */
export interface PaidPart {
  paymentId: number
  lines: ReadonlyMap<number, Cents>
}
export interface Refit {
  /** What no longer fits and goes back where it came from; the latest payment first. */
  back: { paymentId: number; amount: Cents }[]
  /** How what each payment paid of each line changes, below zero where it is taken off. */
  changes: { paymentId: number; lineId: number; amount: Cents }[]
}

/**
 * Fits payments, oldest first, to lines that have less room than before, such as after a credit note. What exceeds the bill as a
 * whole is freed from the latest payment first; what stays keeps to its lines where it can, and what cannot is applied again to the
 * other lines in the firm's order. Afterwards no line is paid above its room.
 */
export function refitPayments(lines: readonly RoomyLine[], payments: readonly PaidPart[], order: PaymentOrder = usualOrder): Refit {
  const paid = payments.map((p) => sum([...p.lines.values()]))
  let over = Math.max(0, sum(paid) - sum(lines.map((l) => l.room)))
  const keeps = [...paid]
  for (let i = payments.length - 1; i >= 0 && over > 0; i -= 1) {
    const off = Math.min(over, keeps[i]!)
    keeps[i]! -= off
    over -= off
  }
  const room = new Map(lines.map((l) => [l.id, l.room]))
  const open = (of: (id: number) => Cents): OpenLine[] => lines.map((l) => ({ id: l.id, kind: l.kind, open: of(l.id) }))
  const target = payments.map(() => new Map<number, Cents>())
  const place = (i: number, amount: Cents, on: OpenLine[]) => {
    for (const part of applyPayment(amount, on, order)) {
      target[i]!.set(part.id, (target[i]!.get(part.id) ?? 0) + part.amount)
      room.set(part.id, room.get(part.id)! - part.amount)
    }
  }
  payments.forEach((p, i) => {
    const stays = open((id) => Math.min(p.lines.get(id) ?? 0, room.get(id)!))
    place(i, Math.min(keeps[i]!, sum(stays.map((l) => l.open))), stays)
  })
  payments.forEach((_, i) =>
    place(
      i,
      keeps[i]! - sum([...target[i]!.values()]),
      open((id) => room.get(id)!),
    ),
  )
  return {
    back: payments
      .map((p, i) => ({ paymentId: p.paymentId, amount: paid[i]! - keeps[i]! }))
      .filter((b) => b.amount > 0)
      .reverse(),
    changes: payments.flatMap((p, i) =>
      lines
        .map((l) => ({ paymentId: p.paymentId, lineId: l.id, amount: (target[i]!.get(l.id) ?? 0) - (p.lines.get(l.id) ?? 0) }))
        .filter((c) => c.amount !== 0),
    ),
  }
}
