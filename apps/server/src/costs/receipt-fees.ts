import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { requireMatter } from '../platform/access'
import type { ReceiptFee } from '../platform/area'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { CostEntry } from './entities'
import { feeOfReceipt, onPreBill } from './queries'
import { recordCostIn, reverseLocked, wholeCost } from './service'

/** What the jurisdiction levies on a receipt becomes a cost of its matter: owed to whoever levies it, or the firm's own. */
export async function chargeReceiptFee(m: EntityManager, ctx: Ctx, r: ReceiptFee): Promise<void> {
  // A closed matter has no bill to come; a practice matter stays out of the books.
  const matter = await requireMatter(m, ctx, r.matterId)
  if (matter.closedOn || matter.kind === 'practice') return
  const text = `Administration fee, receipt ${r.receiptNo}`
  const source = r.owedTo ? ({ kind: 'hard cost', payee: r.owedTo, paidFrom: 'owed' } as const) : ({ kind: 'soft cost' } as const)
  const id = await recordCostIn(m, ctx, r.matterId, wholeCost({ day: r.day, text, amount: r.amount, taxable: false, markup: 0, ...source }))
  await m.update(CostEntry, id, { depositReceiptId: r.receiptId })
}

/** Takes the fee back with its receipt, where no bill or pre-bill has it yet; else says that it stands there. */
export async function takeBackReceiptFee(m: EntityManager, ctx: Ctx, receiptId: number, day: Day, reason: string): Promise<void> {
  const cost = await feeOfReceipt(m, receiptId)
  if (!cost) return
  const on = await onPreBill(m, cost)
  const about = { matterId: cost.matterId, subject: 'cost' as const, subjectId: cost.id }
  if (on.bill || on.preBill || cost.settledOn)
    return audit(m, ctx, { kind: 'recorded', text: `${cost.text}: its receipt was reversed, the fee stands ${on.bill ? `on bill ${on.bill}` : on.preBill ? 'on a pre-bill' : 'and is paid'}`, ...about }) // prettier-ignore
  await reverseLocked(m, ctx, cost, { day, reason })
}
