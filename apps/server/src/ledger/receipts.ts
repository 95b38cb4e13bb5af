import { moneyInWords, showAmount, showMoney, sum } from '@heron/core/money'
import { counted } from '@heron/core/words'
import { showDay, showDayInWords, type Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import type { Ctx } from '../platform/context'
import { lockRow } from '../platform/database'
import { headOf, makePdf } from '../platform/pdf'
import { letterheadOf } from '../platform/queries'
import { fieldFault, notFound, Problem, refused } from '../platform/problem'
import { tableFile } from '../platform/table-file'
import { receiptOf } from './acts/queries'
import { sheet } from './queries'
import { standsAlone } from './sheets'
import { DepositReceipt } from './entities'
import { receiptFacts, refundedOf } from './account-queries'

/**
 * Holds a receipt and judges whether so much of it may go back to whoever deposited it: out of the ledger on which it stands, to the same
 * name, and together with what went back before never more than was deposited.
 */
export async function judgeRefund(
  m: EntityManager,
  receiptId: number,
  p: { ledgerId: number; payeeName: string; amount: number; exceptPayment?: number },
): Promise<void> {
  await lockRow(m, DepositReceipt, receiptId)
  const r = await receiptOf(m, receiptId)
  if (!r) throw notFound('receipt')
  if (r.returned || r.reversed) throw refused('returned-already', `Receipt ${r.receiptNo} went back to the bank.`)
  if ((r.ownerLedgerId ?? r.ledgerId) !== p.ledgerId) throw fieldFault('ledgerId', `Receipt ${r.receiptNo} stands on another ledger`)
  if (p.payeeName.trim().toLowerCase() !== r.depositor.trim().toLowerCase())
    throw fieldFault('payeeName', `A refund goes to whoever deposited: ${r.depositor}. Pay anybody else as an ordinary payment`)
  const before = (await refundedOf(m, receiptId, p.exceptPayment))!.n
  if (p.amount > r.amount - before)
    throw fieldFault(
      'amount',
      `Of receipt ${r.receiptNo} ${showMoney(r.amount - before)} can go back${before ? `; ${showMoney(before)} has` : ''}`,
    )
}

/** The slip that goes to the bank with a deposit: what is handed in together, item by item, and its sum. */
export async function depositSlip(ctx: Ctx, id: number) {
  const s = await sheet(ctx, id)
  const together = s.receipts.filter((r) => !standsAlone(r.kind))
  if (sum(s.receipts.map((r) => r.amount)) !== s.entered)
    throw new Problem(
      403,
      'part-not-open',
      'A receipt of this sheet is not open to you. Ask a colleague who keeps trust money for the slip.',
    )
  if (!together.length) throw refused('not-a-check', 'Nothing on this sheet is handed in at the bank: wires and cards come by themselves.')
  const total = sum(together.map((r) => r.amount))
  return tableFile(
    ctx,
    {
      title: `Deposit slip, sheet ${s.number}`,
      under: `${s.bank}, ${showDay(s.day as Day)}`,
      file: `deposit-slip-${s.number}`,
      columns: [
        { text: 'Depositor', kind: 'text' },
        { text: 'By', kind: 'text' },
        { text: 'Number', kind: 'text' },
        { text: 'Receipt', kind: 'text' },
        { text: 'Amount', kind: 'money' },
      ],
      rows: [
        ...together.map((r) => ({ cells: [r.depositor, r.kind, r.reference, String(r.receiptNo), r.amount] })),
        { cells: [counted(together.length, 'item'), '', '', '', total], is: 'sum' as const },
      ],
    },
    'pdf',
  )
}

/** The receipt for whoever deposited money in trust. */
export async function receiptPdf(ctx: Ctx, id: number): Promise<{ data: Buffer; name: string }> {
  const m = ctx.db.manager
  const r = await receiptFacts(m, ctx, id)
  if (!r) throw notFound('receipt')
  if (r.state !== 'posted') throw refused('not-posted', 'A receipt is given for what is posted. Post the sheet first.')
  const firm = await letterheadOf(m)
  const line = (what: string, is: string | null) => (is ? [[{ text: what, style: 'small' }, is]] : [])
  const data = await makePdf({
    pageSize: 'LETTER',
    pageMargins: [60, 56, 60, 56],
    info: { title: `Receipt ${r.receiptNo}` },
    content: [
      headOf(firm),
      { text: `Receipt ${r.receiptNo}`, style: 'title', margin: [0, 24, 0, 2] },
      { text: 'Money received in trust', style: 'small', margin: [0, 0, 0, 14] },
      {
        table: {
          widths: [120, '*'],
          body: [
            ...line('On', showDayInWords(r.day)),
            ...line('From', r.depositor),
            ...line('For', r.client),
            ...line('Matter', r.matter),
            ...line('By', `${r.kind}${r.reference ? `, ${r.reference}` : ''}`),
            ...line('Text', r.text),
            ...line('Amount', `$${showAmount(r.amount)}`),
            ...line('Fee', r.fee ? `$${showAmount(r.fee)} of administration, charged with the next bill` : null),
            ...line('In words', `${moneyInWords(r.amount)} dollars`),
          ],
        },
        layout: 'lightHorizontalLines',
      },
      { text: `Received for the client trust account by ${r.who}. Checks are received subject to payment by the bank on which they are drawn.`, style: 'small', margin: [0, 18, 0, 0] },
    ],
  } as never) // prettier-ignore
  return { data, name: `receipt-${r.receiptNo}.pdf` }
}
