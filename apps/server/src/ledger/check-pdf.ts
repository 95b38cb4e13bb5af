import { showDayInWords } from '@heron/core/calendar'
import { moneyInWords, showAmount } from '@heron/core/money'
import { matterScope } from '../platform/access'
import type { Ctx } from '../platform/context'
import { row } from '../platform/database'
import { makePdf } from '../platform/pdf'
import { notFound, refused } from '../platform/problem'

/** The check of a posted payment on one Letter page: the check above, its stub below. */
export async function checkPdf(ctx: Ctx, id: number): Promise<{ data: Buffer; name: string }> {
  const p = await row<{
    checkNo: number | null
    day: string
    payee: string
    address: string
    amount: number
    memo: string
    state: string
    firm: string
    firmAddress: string
    bank: string
    account: string
    client: string | null
  }>(
    ctx.db.manager,
    `SELECT p.check_no AS checkNo, p.day, p.payee_name AS payee, p.payee_address AS address, p.amount, p.memo, p.state, f.name AS firm, f.address AS firmAddress,
            b.bank, b.name AS account, CONCAT(c.name, COALESCE(CONCAT(', ', m.number), '')) AS client
       FROM payment_out p JOIN client_ledger l ON l.id = p.ledger_id JOIN bank_account b ON b.id = l.bank_account_id
       LEFT JOIN contact c ON c.id = l.client_id LEFT JOIN matter m ON m.id = l.matter_id JOIN firm f
      WHERE p.id = ? AND (l.matter_id IS NULL OR ${matterScope(ctx.actor, 'm', 'trust')})`,
    [id],
  )
  if (!p) throw notFound('payment')
  if (p.state !== 'posted' || !p.checkNo) throw refused('not-a-check', 'Only a posted check can be printed.')
  const stub = (title: string) => [
    { text: title, style: 'small', margin: [0, 26, 0, 6] },
    {
      table: {
        widths: ['*', 'auto'],
        body: [
          [`Check ${p.checkNo}, ${showDayInWords(p.day)}`, { text: `$${showAmount(p.amount)}`, alignment: 'right' }],
          [`To ${p.payee}`, ''],
          [`For ${p.memo || '—'}`, { text: p.client ?? '', alignment: 'right' }],
        ],
      },
      layout: 'lightHorizontalLines',
    },
  ]
  const data = await makePdf({
    pageSize: 'LETTER',
    pageMargins: [50, 40, 50, 40],
    info: { title: `Check ${p.checkNo}`, creationDate: new Date(`${p.day}T12:00:00Z`) },
    content: [
      {
        columns: [
          {
            stack: [
              { text: p.firm, style: 'firm' },
              { text: 'Client trust account', style: 'small' },
              { text: p.firmAddress, style: 'small' },
            ],
          },
          {
            stack: [
              { text: `No. ${p.checkNo}`, alignment: 'right', bold: true },
              { text: showDayInWords(p.day), alignment: 'right', margin: [0, 6, 0, 0] },
            ],
          },
        ],
      },
      {
        columns: [
          { text: `Pay to the order of  ${p.payee}`, margin: [0, 24, 0, 0] },
          { text: `$ **${showAmount(p.amount)}`, alignment: 'right', bold: true, margin: [0, 24, 0, 0], width: 120 },
        ],
      },
      { text: `${moneyInWords(p.amount)} dollars ${'*'.repeat(12)}`, margin: [0, 8, 0, 0] },
      { text: p.address, style: 'small', margin: [0, 10, 0, 0] },
      {
        columns: [
          { text: `${p.bank}\nMemo: ${p.memo}`, style: 'small', margin: [0, 18, 0, 0] },
          { text: '________________________________\nAuthorized signature', style: 'small', alignment: 'right', margin: [0, 18, 0, 0] },
        ],
      },
      ...stub('Stub for the payee'),
      ...stub('Stub for the firm'),
    ],
  })
  return { data, name: `check-${p.checkNo}.pdf` }
}
