import { agingBuckets, languageOf, letterWith, statementOf } from '@heron/core/billing'
import { addMonths, showDay, showDayInWords, type Day } from '@heron/core/calendar'
import { moneyInWords, showAmount, showMoney } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { letterWords, type Written } from './delivery'
import { accountMoves, matterOfStatement, openBills, payerOfStatement, receiptRow, type Move } from './statement-queries'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { work } from '../platform/database'
import { keepFile } from '../platform/files'
import { sendMail } from '../platform/mail'
import { footOf, headOf, makePdf } from '../platform/pdf'
import { letterheadOf } from '../platform/queries'
import { fieldFault, notFound, refused } from '../platform/problem'
import { randomUUID } from 'node:crypto'

export interface Asked {
  id: number
  from?: Day | undefined
  to?: Day | undefined
  matterId?: number | undefined
}
const kinds: Record<Exclude<Move['kind'], 'bill'>, string> = {
  trust: 'Paid from trust',
  check: 'Check',
  card: 'Card',
  transfer: 'Transfer',
  'bank debit': 'Bank debit',
  'credit note': 'Credit note',
  'write-off': 'Written off',
  void: 'Void',
}
const told = (x: Move) =>
  x.kind === 'bill'
    ? `Bill ${x.bill}, ${x.matter}`
    : `${x.amount > 0 ? `${kinds[x.kind]} taken back` : kinds[x.kind]}${x.reference ? ` ${x.reference}` : ''}, on bill ${x.bill}`

/** The account of a payer, with all matters or one: what was owed, what came and went, and what is owed by days past due. */
export async function statement(ctx: Ctx, asked: Asked) {
  const m = ctx.db.manager
  const to = asked.to ?? ctx.clock.today()
  const from = asked.from ?? addMonths(to, -3)
  if (from > to) throw fieldFault('from', 'It would begin after its end')
  if (to > ctx.clock.today()) throw fieldFault('to', 'This is ahead')
  const payer = await payerOfStatement(m, ctx, asked.id)
  if (!payer) throw notFound('contact')
  const matter = asked.matterId ? await matterOfStatement(m, ctx, asked.matterId) : null
  if (asked.matterId && !matter) throw notFound('matter')
  const of = { payerId: payer.id, matterId: matter?.id ?? null }
  const open = await openBills(m, ctx, of, to)
  const { rows, ...sums } = statementOf(await accountMoves(m, ctx, of, to), open, from, to)
  return {
    payerId: payer.id,
    payer: payer.name,
    address: payer.address,
    email: payer.email,
    language: languageOf(payer.language),
    matter: matter ? `${matter.number} ${matter.name}` : null,
    from,
    to,
    ...sums,
    // What is left over of payments is the payer's, whatever the matter.
    credit: matter ? 0 : payer.credit,
    open,
    rows: rows.map((r) => ({ day: r.day, text: told(r), billId: r.billId, charged: r.kind === 'bill' ? r.amount : 0, settled: r.kind === 'bill' ? 0 : -r.amount, balance: r.balance })), // prettier-ignore
  }
}

const right = (text: string, extra: object = {}) => ({ text, alignment: 'right', ...extra })
const headCells = (texts: readonly string[], rightFrom: number) =>
  texts.map((text, i) => ({ text, style: 'head', alignment: i >= rightFrom ? 'right' : 'left' }))

export async function statementPdf(ctx: Ctx, asked: Asked): Promise<{ data: Buffer; name: string }> {
  const s = await statement(ctx, asked)
  const firm = await letterheadOf(ctx.db.manager)
  const body = s.rows.map((r) => [
    showDay(r.day),
    r.text,
    right(r.charged ? showAmount(r.charged) : ''),
    right(r.settled ? showAmount(r.settled) : ''),
    right(showAmount(r.balance)),
  ])
  const data = await makePdf({
    pageSize: 'LETTER',
    pageMargins: [54, 54, 54, 66],
    info: { title: `Statement of account, ${s.payer}`, author: firm.name },
    foot: footOf(firm, `Statement of ${showDayInWords(s.to)} · page {page} of {pages}`),
    content: [
      {
        columns: [
          headOf(firm),
          {
            stack: [
              right('Statement of account', { style: 'title' }),
              right(`${showDayInWords(s.from)} to ${showDayInWords(s.to)}`, { style: 'small' }),
            ],
          },
        ],
      },
      { text: `${s.payer}\n${s.address}`, margin: [0, 26, 0, 18] },
      ...(s.matter ? [{ text: s.matter, style: 'total', margin: [0, 0, 0, 8] }] : []),
      {
        table: {
          headerRows: 1,
          dontBreakRows: true,
          widths: [84, '*', 66, 66, 66],
          body: [
            headCells(['Date', '', 'Charged', 'Settled', 'Balance'], 2),
            [showDay(s.from), 'Owed before', '', '', right(showAmount(s.opening))],
            ...body,
            [
              { text: showDay(s.to), style: 'total' },
              { text: 'Owed', style: 'total' },
              '',
              '',
              right(showMoney(s.closing), { style: 'total' }),
            ],
          ],
        },
        layout: 'lightHorizontalLines',
      },
      { text: 'By days past due', style: 'total', margin: [0, 18, 0, 4] },
      {
        table: {
          widths: agingBuckets.map(() => '*'),
          body: [headCells(agingBuckets, 0).map((c) => ({ ...c, alignment: 'right' })), s.aging.map((a) => right(showAmount(a)))],
        },
        layout: 'lightHorizontalLines',
        unbreakable: true,
      },
      ...(s.credit ? [{ text: `${showMoney(s.credit)} of your payments is left over and not yet applied.`, margin: [0, 12, 0, 0] }] : []),
    ],
  } as never)
  return { data, name: `statement-${s.to}.pdf` }
}

const filled = async (ctx: Ctx, kind: 'statement' | 'receipt', language: 'en' | 'es', values: Record<string, string>) =>
  letterWith(await letterWords(ctx.db.manager, kind, language), { firm: (await letterheadOf(ctx.db.manager)).name, ...values })

export async function statementLetter(ctx: Ctx, asked: Asked) {
  const s = await statement(ctx, asked)
  const words = await filled(ctx, 'statement', s.language, {
    payer: s.payer,
    open: showMoney(s.closing),
    due: showDayInWords(s.to),
    matter: s.matter ?? '',
  })
  return { name: s.payer, email: s.email, ...words }
}

interface Sending {
  written: Written
  pdf: { data: Buffer; name: string }
  text: string
  subjectId: number
}
/** A paper about an account goes out by e-mail, and the log says so. */
async function sendPaper(m: EntityManager, ctx: Ctx, s: Sending, key = `account ${ctx.idempotency?.key ?? randomUUID()}`) {
  const file = await keepFile(m, ctx, s.pdf.data, 'application/pdf')
  const { name, email, subject, body } = s.written
  await sendMail(m, ctx, { key, to: { name, email }, subject, body, files: [{ id: file.id, name: s.pdf.name }] }) // prettier-ignore
  await audit(m, ctx, { kind: 'billed', text: `${s.text} sent to ${email}`, subject: 'payment', subjectId: s.subjectId })
}

export async function sendStatement(ctx: Ctx, asked: Asked, written: Written): Promise<void> {
  const pdf = await statementPdf(ctx, asked)
  await work(ctx, (m) => sendPaper(m, ctx, { written, pdf, text: `Statement of account of ${written.name}`, subjectId: asked.id }))
}

async function receiptOf(ctx: Ctx, id: number) {
  const found = await receiptRow(ctx.db.manager, ctx, id)
  if (!found) throw notFound('payment')
  if (found.reversed) throw refused('already-reversed', 'This payment was reversed; there is no receipt for it.')
  return found
}

export async function receiptPdf(ctx: Ctx, id: number): Promise<{ data: Buffer; name: string }> {
  const r = await receiptOf(ctx, id)
  const firm = await letterheadOf(ctx.db.manager)
  const data = await makePdf({
    pageSize: 'LETTER',
    pageMargins: [54, 54, 54, 66],
    info: { title: `Receipt ${r.id}`, author: firm.name },
    foot: footOf(firm, `Receipt ${r.id} · page {page} of {pages}`),
    content: [
      { columns: [headOf(firm), { stack: [right(`Receipt ${r.id}`, { style: 'title' }), right(showDayInWords(r.day))] }] },
      { text: `${r.payer}\n${r.address}`, margin: [0, 26, 0, 18] },
      {
        text: `Received, by ${r.kind === 'trust' ? 'money held in trust' : r.kind}${r.reference ? ` ${r.reference}` : ''}: ${showMoney(r.amount)}`,
        style: 'total',
      },
      { text: moneyInWords(r.amount), style: 'small', margin: [0, 2, 0, 14] },
      {
        table: {
          headerRows: 1,
          widths: [80, '*', 80],
          body: [
            headCells(['Bill', 'Matter', 'Paid'], 2),
            ...r.bills.map((b) => [b.number, b.matter, right(showAmount(b.amount))]),
            ...(r.credit ? [['', 'Left over, and yours', right(showAmount(r.credit))]] : []),
          ],
        },
        layout: 'lightHorizontalLines',
      },
    ],
  } as never)
  return { data, name: `receipt-${r.id}.pdf` }
}

export async function receiptLetter(ctx: Ctx, id: number) {
  const r = await receiptOf(ctx, id)
  const values = { payer: r.payer, amount: showMoney(r.amount), due: showDayInWords(r.day), bill: r.bills.map((b) => b.number).join(', ') }
  return { name: r.payer, email: r.email, ...(await filled(ctx, 'receipt', languageOf(r.language), values)) }
}

/** `key` says which letter it is where it goes out by itself: tried again, it goes out once. */
export async function sendReceipt(ctx: Ctx, id: number, written: Written, key?: string): Promise<void> {
  const pdf = await receiptPdf(ctx, id)
  await work(ctx, (m) => sendPaper(m, ctx, { written, pdf, text: `Receipt ${id}`, subjectId: id }, key))
}
