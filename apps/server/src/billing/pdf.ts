import { billWord, billWords, byPerson, dayInSpanish } from '@heron/core/billing'
import { showDayInWords, type Day } from '@heron/core/calendar'
import { showAmount, showMoney } from '@heron/core/money'
import { showHours } from '@heron/core/time'
import type { Ctx } from '../platform/context'
import { work } from '../platform/database'
import { keepFile, readStored } from '../platform/files'
import { footOf, headOf, makePdf } from '../platform/pdf'
import { BillPdf } from './entities'
import { type BillLook, type BillSnapshot, keepBillPdf } from './issue-queries'
import { billFace } from './queries'

type BillOut = Awaited<ReturnType<typeof billFace>>
const right = (text: string, extra: object = {}) => ({ text, alignment: 'right', ...extra })

type Line = BillOut['lines'][number]
interface Look extends BillLook {
  w: (typeof billWords)[BillLook['language']]
  day: (d: string) => string
}
/** Bills from before there was a choice look as they did. */
const plain: BillLook = { language: 'en', group: 'none', summary: false, slip: false, held: null }
const lookOf = (s: BillSnapshot): Look => {
  const look = s.look ?? plain
  return { ...look, w: billWords[look.language], day: look.language === 'es' ? (d) => dayInSpanish(d as Day) : (d) => showDayInWords(d as Day) } // prettier-ignore
}
/** Lines of fees under a head for each person, day or activity, in the order in which they first appear; fees of set amounts come last. */
function groupsOf(fees: readonly Line[], look: Look, all: readonly Line[]): { head: string; lines: Line[] }[] {
  if (look.group === 'none') return [{ head: '', lines: [...fees] }]
  const named = (l: Line) => {
    if (look.group === 'person') return l.timekeeper
    if (look.group === 'activity') return l.kind === 'time' ? (look.activities?.[all.indexOf(l) + 1] ?? look.w.otherWork) : ''
    return l.day ? look.day(l.day) : ''
  }
  const headOfLine = (l: Line) => named(l) || look.w.others
  const heads = [...new Set(fees.map(headOfLine))].sort((a, b) => Number(a === look.w.others) - Number(b === look.w.others))
  return heads.map((head) => ({ head, lines: fees.filter((l) => headOfLine(l) === head) }))
}

function linesTable(b: BillOut, look: Look) {
  const fees = b.lines.filter((l) => l.kind === 'time' || l.kind === 'flat')
  const { w } = look
  const head = [w.date, w.who, w.work, w.hours, w.rate, w.amount].map((t, i) => ({
    text: t,
    style: 'head',
    alignment: i > 2 ? 'right' : 'left',
  }))
  const row = (l: Line) => [
    l.day ? l.day.slice(5).replace('-', '/') : '',
    l.initials,
    l.text,
    right(l.minutes ? showHours(l.minutes) : ''),
    right(l.rate && l.kind === 'time' ? showAmount(l.rate) : ''),
    right(l.noCharge ? w.noCharge : l.kind === 'time' && l.charged === 0 ? w.included : showAmount(l.charged)),
  ]
  const body = groupsOf(fees, look, b.lines).flatMap((g) => {
    const [sum] = byPerson(g.lines.map((l) => ({ ...l, timekeeper: '' })))
    // The sums stand on the line of the larger letters of their head.
    const low = { margin: [0, 3.5, 0, 0] }
    const over = g.head
      ? [[{ text: g.head, style: 'total', colSpan: 3 }, '', '', right(sum?.minutes ? showHours(sum.minutes) : '', low), '', right(showAmount(sum?.amount ?? 0), low)]] // prettier-ignore
      : []
    return [...over, ...g.lines.map(row)]
  })
  return {
    table: { headerRows: 1, dontBreakRows: true, widths: [34, 26, '*', 34, 48, 58], body: [head, ...body] },
    layout: 'lightHorizontalLines',
  }
}

function summaryTable(b: BillOut, look: Look) {
  const people = byPerson(b.lines.filter((l) => l.kind === 'time' || l.kind === 'flat'))
  if (!look.summary || !people.length) return []
  const body = people.map((p) => [p.timekeeper || look.w.others, right(p.minutes ? showHours(p.minutes) : ''), right(showAmount(p.amount))])
  return [
    { text: look.w.summary, style: 'total', margin: [0, 14, 0, 4] },
    { table: { widths: ['*', 50, 70], body }, layout: 'rows', unbreakable: true },
  ]
}

function costsTable(b: BillOut, { w }: Look) {
  const costs = b.lines.filter((l) => l.kind === 'soft cost' || l.kind === 'hard cost')
  if (!costs.length) return []
  return [
    { text: w.costs, style: 'total', margin: [0, 14, 0, 4] },
    {
      table: {
        widths: [34, '*', 70],
        body: costs.map((l) => [
          l.day ? l.day.slice(5).replace('-', '/') : '',
          l.text,
          right(l.told ? billWord(w.paid, showAmount(l.worked)) : l.noCharge ? w.noCharge : showAmount(l.charged)),
        ]),
      },
      layout: 'rows',
    },
  ]
}

/** The part that comes back with the money. */
function slip(b: BillOut, s: BillSnapshot, { w, slip: wanted, day }: Look) {
  if (!wanted) return []
  const rows = [
    [w.payer, s.payer.name],
    [billWord(w.bill, b.number), s.matter.number],
    [w.toPay, showMoney(b.total)],
    [billWord(w.due, ''), day(b.dueOn)],
    [w.paidHere, '$ ____________'],
  ].map(([k, v]) => [k!.trim(), right(v!)])
  return [
    { margin: [0, 26, 0, 0], unbreakable: true, stack: [
      { canvas: [{ type: 'line', x1: 0, y1: 0, x2: 504, y2: 0, lineWidth: 0.7, dash: { length: 4 } }] },
      { text: w.slip, style: 'small', margin: [0, 6, 0, 8] },
      { columns: [headOf(s.firm), { width: 260, table: { widths: ['*', 'auto'], body: rows }, layout: 'rows' }] },
    ] },
  ] // prettier-ignore
}

function layout(b: BillOut, s: BillSnapshot) {
  const look = lookOf(s)
  const { w } = look
  const interest = b.lines.filter((l) => l.kind === 'interest')
  const sums: [string, string][] = interest.length ? [] : [[w.fees, showMoney(b.totals.fees)]]
  if (b.totals.costs) sums.push([w.costs, showMoney(b.totals.costs)])
  if (b.totals.discount) sums.push([w.discount, showMoney(-b.totals.discount)])
  // One tax is told as such; of several, each with its rate.
  const { taxes } = b.totals
  for (const t of taxes) sums.push([taxes.length > 1 && t.rate ? `${w.tax} ${t.rate / 100} %` : w.tax, showMoney(t.amount)])
  return {
    pageSize: 'LETTER',
    pageMargins: [54, 54, 54, 66],
    // Fixed by the bill itself, so that the same bill gives the same bytes.
    info: { title: billWord(w.bill, b.number), author: s.firm.name, creationDate: new Date(`${b.issuedOn}T12:00:00Z`) },
    foot: footOf(s.firm, `${billWord(w.bill, b.number)} · ${w.page}`),
    content: [
      {
        columns: [
          headOf(s.firm),
          {
            stack: [
              right(billWord(w.bill, b.number), { style: 'title' }),
              right(look.day(b.issuedOn)),
              right(billWord(w.due, look.day(b.dueOn)), { style: 'small' }),
            ],
          },
        ],
      },
      { text: `${s.payer.name}\n${s.payer.address}`, margin: [0, 26, 0, 18] },
      { text: s.matter.name, style: 'total' },
      {
        text: `${billWord(w.matter, s.matter.number)} · ${s.matter.client} · ${s.matter.lead} · ${billWord(w.workTo, look.day(b.workTo))}`,
        style: 'small',
        margin: [0, 2, 0, 12],
      },
      ...(s.part ? [{ text: billWord(w.part, s.part.share, showMoney(s.part.of)), margin: [0, 0, 0, 10] }] : []),
      ...(interest.length
        ? interest.map((l) => ({ columns: [{ text: l.text }, { ...right(showAmount(l.net)), width: 70 }] }))
        : [linesTable(b, look)]),
      ...costsTable(b, look),
      ...(interest.length ? [] : summaryTable(b, look)),
      {
        margin: [0, 18, 0, 0],
        columns: [
          look.held === null
            ? { text: '' }
            : { text: `${billWord(w.held, look.day(b.issuedOn))}: ${showMoney(look.held)}`, style: 'small' },
          {
            width: 220,
            table: {
              widths: ['*', 'auto'],
              body: [
                ...sums.map(([k, v]) => [k, right(v)]),
                [{ text: w.thisBill, style: 'total' }, right(showMoney(b.total), { style: 'total' })],
              ],
            },
            layout: 'rows',
          },
        ],
        unbreakable: true,
      },
      ...slip(b, s, look),
    ],
  }
}

/**
 * The PDF of a bill, made once from what the bill keeps; afterwards the same bytes. Whoever may see the bill may have it made.
 */
export async function keptPdf(ctx: Ctx, id: number): Promise<{ fileId: number; number: string }> {
  const b = await billFace(ctx, id)
  if (b.pdfFile) return { fileId: b.pdfFile, number: b.number }
  const made = await makePdf(layout(b, JSON.parse(b.snapshot) as BillSnapshot))
  // To make it again does no harm, so it takes no part in what a call does once.
  const { idempotency: _, ...alone } = ctx
  const fileId = await work(alone, async (m) => {
    const file = await keepFile(m, ctx, made, 'application/pdf')
    // Two first readers at once: whoever comes second keeps what the first one made.
    const mine = await keepBillPdf(m, ctx, id, file.id, file.sha256)
    return mine ? file.id : (await m.findOneByOrFail(BillPdf, { billId: id })).fileId
  })
  return { fileId, number: b.number }
}

/** The bill as PDF, its bytes checked against their hash. */
export async function billPdf(ctx: Ctx, id: number): Promise<{ data: Buffer; name: string }> {
  const { fileId, number } = await keptPdf(ctx, id)
  const { data } = await readStored(ctx.db.manager, ctx, fileId)
  return { data, name: `bill-${number}.pdf` }
}
