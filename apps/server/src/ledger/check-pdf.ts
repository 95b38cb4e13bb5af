import { showDayInWords, type Day } from '@heron/core/calendar'
import type { CheckLayout, CheckPart } from '@heron/core/ledger'
import { moneyInWords, showAmount } from '@heron/core/money'
import { matterScope } from '../platform/access'
import type { Ctx } from '../platform/context'
import { row, rows } from '../platform/database'
import { makePdf } from '../platform/pdf'
import { notFound, refused } from '../platform/problem'
import { layoutOf } from './checks'
import { bankAccount } from './ledgers'

export interface Check {
  bankId: number
  checkNo: number | null
  day: Day
  payee: string
  address: string
  amount: number
  memo: string
  state: string
  firm: string
  firmAddress: string
  bank: string
  client: string | null
  /** What the account is for, as it stands under the firm's name. */
  purpose: string
}
const checkSql = `SELECT p.check_no AS checkNo, p.day, p.payee_name AS payee, p.payee_address AS address, p.amount, p.memo, p.state, f.name AS firm, f.address AS firmAddress,
    b.id AS bankId, b.bank, CONCAT(c.name, COALESCE(CONCAT(', ', m.number), '')) AS client, 'Client trust account' AS purpose
  FROM payment_out p JOIN client_ledger l ON l.id = p.ledger_id JOIN bank_account b ON b.id = l.bank_account_id
  LEFT JOIN contact c ON c.id = l.client_id LEFT JOIN matter m ON m.id = l.matter_id JOIN firm f`

const points = (mm: number) => Math.round(mm * 283.465) / 100
/** Room to the right of a part, in millimetres, so that long names break within the check. */
const widths: Record<CheckPart, number> = {
  number: 28,
  date: 58,
  payee: 138,
  amount: 40,
  words: 172,
  address: 95,
  memo: 95,
  firm: 95,
  signature: 75,
}

/** One check on a Letter page: its parts where the layout has them, and the stubs below. */
function pageOf(p: Check, { layout, numbers }: { layout: CheckLayout; numbers: boolean }, first: boolean): object[] {
  const text: Record<CheckPart, string> = {
    number: numbers && p.checkNo ? `No. ${p.checkNo}` : '',
    date: showDayInWords(p.day),
    payee: `Pay to the order of  ${p.payee}`,
    amount: `$ **${showAmount(p.amount)}`,
    words: `${moneyInWords(p.amount)} dollars ${'*'.repeat(12)}`,
    address: p.address,
    memo: `${p.bank}\nMemo: ${p.memo}`,
    firm: `${p.firm}\n${p.purpose}\n${p.firmAddress}`,
    signature: '________________________________\nAuthorized signature',
  }
  const small: readonly CheckPart[] = ['address', 'memo', 'firm', 'signature']
  const placed = (Object.keys(text) as CheckPart[])
    .filter((part) => text[part])
    .map((part) => ({
      absolutePosition: { x: points(layout[part].x), y: points(layout[part].y) },
      columns: [
        {
          width: points(Math.min(widths[part], 212 - layout[part].x)),
          text: text[part],
          ...(small.includes(part) ? { style: 'small' } : { bold: part === 'amount' }),
        },
      ],
    }))
  const lowest = Math.max(...Object.values(layout).map((at) => at.y))
  const stub = (title: string, at: number) => ({
    absolutePosition: { x: points(15), y: points(at) },
    stack: [
      { text: title, style: 'small', margin: [0, 0, 0, 6] },
      {
        table: {
          widths: [points(120), points(62)],
          body: [
            [
              `${numbers && p.checkNo ? `Check ${p.checkNo}, ` : ''}${showDayInWords(p.day)}`,
              { text: `$${showAmount(p.amount)}`, alignment: 'right' },
            ],
            [`To ${p.payee}`, ''],
            [`For ${p.memo || '—'}`, { text: p.client ?? '', alignment: 'right' }],
          ],
        },
        layout: 'lightHorizontalLines',
      },
    ],
  })
  // Stubs stand below the check, where there is room for them.
  const below = Math.max(100, lowest + 30)
  const stubs = [stub('Stub for the payee', below), stub('Stub for the firm', below + 70)].slice(
    0,
    below + 110 < 270 ? 2 : below < 220 ? 1 : 0,
  )
  return [{ text: ' ', ...(first ? {} : { pageBreak: 'before' }) }, ...placed, ...stubs]
}

export async function checksPdf(ctx: Ctx, list: readonly Check[], title: string): Promise<Buffer> {
  const layouts = new Map<number, Awaited<ReturnType<typeof layoutOf>>>()
  for (const p of list) if (!layouts.has(p.bankId)) layouts.set(p.bankId, await layoutOf(ctx.db.manager, p.bankId))
  return makePdf({
    pageSize: 'LETTER',
    pageMargins: [20, 20, 20, 20],
    info: { title, creationDate: new Date(`${list[0]!.day}T12:00:00Z`) },
    content: list.flatMap((p, i) => pageOf(p, layouts.get(p.bankId)!, i === 0)),
  } as never)
}
const printable = (p: Check) => {
  if (p.state !== 'posted' || !p.checkNo) throw refused('not-a-check', 'Only a posted check can be printed.')
}

/** The check of a posted payment. */
export async function checkPdf(ctx: Ctx, id: number): Promise<{ data: Buffer; name: string }> {
  const p = await row<Check>(
    ctx.db.manager,
    `${checkSql} WHERE p.id = ? AND (l.matter_id IS NULL OR ${matterScope(ctx.actor, 'm', 'trust')})`,
    [id],
  )
  if (!p) throw notFound('payment')
  printable(p)
  return { data: await checksPdf(ctx, [p], `Check ${p.checkNo}`), name: `check-${p.checkNo}.pdf` }
}

/** The checks of a print job, a page each, in order of their numbers. */
export async function jobPdf(ctx: Ctx, ids: readonly number[]): Promise<{ data: Buffer; name: string }> {
  if (!ids.length) throw refused('not-a-check', 'Nothing of this job is still to be printed.')
  const list = await rows<Check>(ctx.db.manager, `${checkSql} WHERE p.id IN (?) AND p.state = 'posted' AND (l.matter_id IS NULL OR ${matterScope(ctx.actor, 'm', 'trust')}) ORDER BY p.check_no`, [ids]) // prettier-ignore
  if (!list.length) throw refused('not-a-check', 'Nothing of this job is still to be printed.')
  const name = `checks-${list[0]!.checkNo}-${list.at(-1)!.checkNo}`
  return { data: await checksPdf(ctx, list, name), name: `${name}.pdf` }
}

/** A check with made-up words, so that the layout can be tried on the firm's own paper. */
export async function sampleCheck(ctx: Ctx, bankAccountId: number): Promise<{ data: Buffer; name: string }> {
  const bank = await bankAccount(ctx.db.manager, bankAccountId)
  const own = await row<Pick<Check, 'firm' | 'firmAddress' | 'bank' | 'purpose'>>(ctx.db.manager, `SELECT f.name AS firm, f.address AS firmAddress, b.bank, IF(b.kind = 'operating', 'Operating account', 'Client trust account') AS purpose FROM firm f JOIN bank_account b ON b.id = ?`, [bankAccountId]) // prettier-ignore
  const sample: Check = { ...own!, bankId: bank.id, checkNo: 1234, day: ctx.clock.today(), payee: 'Somebody with a Rather Long Name & Company', address: '1 Long Street\nHarrow Sound', amount: 123_456_78, memo: 'A sample, not a check', state: 'posted', client: 'A client' } // prettier-ignore
  return { data: await checksPdf(ctx, [sample], 'Sample of a check'), name: 'check-sample.pdf' }
}
