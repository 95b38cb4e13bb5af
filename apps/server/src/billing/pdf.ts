import { showDayInWords } from '@heron/core/calendar'
import { showAmount, showMoney } from '@heron/core/money'
import { showHours } from '@heron/core/time'
import { instant, type Ctx } from '../platform/context'
import { row, work } from '../platform/database'
import { keepFile, readStored } from '../platform/files'
import { footOf, headOf, makePdf } from '../platform/pdf'
import { BillPdf } from './entities'
import type { BillSnapshot } from './issue'
import { bill } from './queries'

type BillOut = Awaited<ReturnType<typeof bill>>
const right = (text: string, extra: object = {}) => ({ text, alignment: 'right', ...extra })

function linesTable(b: BillOut) {
  const fees = b.lines.filter((l) => l.kind === 'time' || l.kind === 'flat')
  const head = ['Date', 'Who', 'Work', 'Hours', 'Rate', 'Amount'].map((t, i) => ({
    text: t,
    style: 'head',
    alignment: i > 2 ? 'right' : 'left',
  }))
  const body = fees.map((l) => [
    l.day ? l.day.slice(5).replace('-', '/') : '',
    l.initials,
    l.text,
    right(l.minutes ? showHours(l.minutes) : ''),
    right(l.rate && l.kind === 'time' ? showAmount(l.rate) : ''),
    right(l.noCharge ? 'no charge' : l.kind === 'time' && l.charged === 0 ? 'included' : showAmount(l.charged)),
  ])
  return {
    table: { headerRows: 1, dontBreakRows: true, widths: [34, 26, '*', 34, 48, 58], body: [head, ...body] },
    layout: 'lightHorizontalLines',
  }
}

function costsTable(b: BillOut) {
  const costs = b.lines.filter((l) => l.kind === 'soft cost' || l.kind === 'hard cost')
  if (!costs.length) return []
  return [
    { text: 'Costs', style: 'total', margin: [0, 14, 0, 4] },
    {
      table: {
        widths: [34, '*', 70],
        body: costs.map((l) => [
          l.day ? l.day.slice(5).replace('-', '/') : '',
          l.text,
          right(l.told ? `paid ${showAmount(l.worked)}` : l.noCharge ? 'no charge' : showAmount(l.charged)),
        ]),
      },
      layout: 'lightHorizontalLines',
    },
  ]
}

function layout(b: BillOut, s: BillSnapshot) {
  const interest = b.lines.filter((l) => l.kind === 'interest')
  const sums: [string, string][] = interest.length ? [] : [['Fees', showMoney(b.totals.fees)]]
  if (b.totals.costs) sums.push(['Costs', showMoney(b.totals.costs)])
  if (b.totals.discount) sums.push(['Discount on fees', showMoney(-b.totals.discount)])
  if (b.totals.tax) sums.push(['Tax', showMoney(b.totals.tax)])
  return {
    pageSize: 'LETTER',
    pageMargins: [54, 54, 54, 66],
    // Fixed by the bill itself, so that the same bill gives the same bytes.
    info: { title: `Bill ${b.number}`, author: s.firm.name, creationDate: new Date(`${b.issuedOn}T12:00:00Z`) },
    foot: footOf(s.firm, `Bill ${b.number} · page {page} of {pages}`),
    content: [
      {
        columns: [
          headOf(s.firm),
          {
            stack: [
              right(`Bill ${b.number}`, { style: 'title' }),
              right(showDayInWords(b.issuedOn)),
              right(`Due ${showDayInWords(b.dueOn)}`, { style: 'small' }),
            ],
          },
        ],
      },
      { text: `${s.payer.name}\n${s.payer.address}`, margin: [0, 26, 0, 18] },
      { text: s.matter.name, style: 'total' },
      {
        text: `Matter ${s.matter.number} · ${s.matter.client} · ${s.matter.lead} · work to ${showDayInWords(b.workTo)}`,
        style: 'small',
        margin: [0, 2, 0, 12],
      },
      ...(s.part
        ? [
            {
              text: `Your part, ${s.part.share}, of a bill of ${showMoney(s.part.of)}. Hours and rates are those of the whole work, amounts are your part.`,
              margin: [0, 0, 0, 10],
            },
          ]
        : []),
      ...(interest.length
        ? interest.map((l) => ({ columns: [{ text: l.text }, { ...right(showAmount(l.net)), width: 70 }] }))
        : [linesTable(b)]),
      ...costsTable(b),
      {
        margin: [0, 18, 0, 0],
        columns: [
          { text: '' },
          {
            width: 220,
            table: {
              widths: ['*', 'auto'],
              body: [
                ...sums.map(([k, v]) => [k, right(v)]),
                [{ text: 'This bill', style: 'total' }, right(showMoney(b.total), { style: 'total' })],
              ],
            },
            layout: 'lightHorizontalLines',
          },
        ],
        unbreakable: true,
      },
    ],
  }
}

/** The bill as PDF. Made once from what the bill keeps; afterwards the same bytes, checked against their hash. */
export async function billPdf(ctx: Ctx, id: number): Promise<{ data: Buffer; name: string; fileId: number }> {
  const b = await bill(ctx, id)
  const m = ctx.db.manager
  const kept = async () => (await m.findOneBy(BillPdf, { billId: id }))?.fileId
  let fileId = await kept()
  if (!fileId) {
    const stored = await row<{ snapshot: string }>(m, `SELECT snapshot FROM bill WHERE id = ?`, [id])
    const made = await makePdf(layout(b, JSON.parse(stored!.snapshot) as BillSnapshot))
    // To make it again does no harm, so it takes no part in what a call does once.
    const { idempotency: _, ...alone } = ctx
    await work(alone, async (tx) => {
      const file = await keepFile(tx, ctx, made, 'application/pdf')
      // Two first readers at once: whoever comes second keeps what the first one made.
      await tx
        .createQueryBuilder()
        .insert()
        .orIgnore()
        .into(BillPdf)
        .values({ billId: id, fileId: file.id, sha256: file.sha256, madeAt: instant(ctx.clock.now()) })
        .execute()
    })
    fileId = (await kept())!
  }
  const { data } = await readStored(m, ctx, fileId)
  return { data, name: `bill-${b.number}.pdf`, fileId }
}
