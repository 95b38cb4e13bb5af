import type { ReportHow, ReportIn } from '@heron/contract'
import { capital, isDay, showDay, showTime, type Day } from '@heron/core/calendar'
import { eventTitle, isOpen, layLine, nextOfSeries, type LinePoint } from '@heron/core/docket'
import { writeTable } from '@heron/core/formats'
import writeExcelFile from 'write-excel-file/node'
import type { Ctx } from '../platform/context'
import { download } from '../platform/files'
import { makePdf } from '../platform/pdf'
import { ruleSets } from '../platform/rule-sets'
import { titleOfTrigger } from './queries'
import { firmName, reportTable, rolled, standing, type ReportRow, type ReportTable } from './report-tables'
import { triggersInOrder } from './reminder-queries'

interface Head {
  firm: string
  title: string
  under: string
  printed: string
}

function layout(
  head: { firm: string; title: string; under: string; printed: string },
  list: readonly ReportRow[],
  how: Pick<ReportHow, 'texts' | 'paper'>,
  withMatter: boolean,
  today: Day,
) {
  const counted = (r: ReportRow) =>
    [r.how, r.setBy === 'rule' ? rolled(r) : '', r.reason && r.setBy !== 'rule' ? r.reason : ''].filter(Boolean).join('; ')
  const line = (r: ReportRow) => [
    { stack: [{ text: showDay(r.day), bold: true }, ...(r.time ? [showTime(r.time)] : [])] },
    {
      stack: [
        {
          text: [
            { text: r.title, bold: true },
            standing(r, today) ? ` (${standing(r, today)})` : '',
            r.weight === 'strict' ? '  strict' : '',
          ],
        },
        ...(withMatter ? [{ text: r.matter, style: 'small' }] : []),
        ...(counted(r) ? [{ text: counted(r), style: 'small' }] : []),
        ...(how.texts && r.text ? [{ text: r.text, margin: [0, 2, 0, 0] }] : []),
        // What was entered by hand has nothing more to tell than that.
        ...(how.texts && r.trigger ? r.trace.map((t, i) => ({ text: `${i + 1}. ${t.text}`, style: 'small' })) : []),
      ],
    },
    { text: [r.authority || capital(r.weight), r.responsible].filter(Boolean).join('\n'), style: 'small' },
  ]
  return page(head, how.paper, [
    list.length
      ? {
          table: {
            headerRows: 1,
            dontBreakRows: true,
            widths: [92, '*', 130],
            body: [['Date', 'What', 'Authority'].map((text) => ({ text, style: 'head' })), ...list.map(line)],
          },
          layout: 'lightHorizontalLines',
        }
      : { text: 'No dates.' },
  ])
}

const page = (head: Head, paper: 'LETTER' | 'A4', content: unknown[], landscape = false) => ({
  pageSize: paper,
  pageOrientation: landscape ? 'landscape' : 'portrait',
  pageMargins: [54, 54, 54, 60],
  info: { title: head.title },
  foot: { line: '', words: `${head.title} · ${head.printed} · page {page} of {pages}` },
  content: [
    { text: head.firm, style: 'small' },
    { text: head.title, style: 'title', margin: [0, 2, 0, 0] },
    { text: head.under, style: 'small', margin: [0, 2, 0, 12] },
    ...content,
  ],
})

const shown = (cell: string) => (isDay(cell) ? showDay(cell) : cell)

const plainLayout = (head: Head, table: ReportTable, paper: 'LETTER' | 'A4') =>
  page(head, paper, [
    table.rows.length
      ? {
          table: {
            headerRows: 1,
            dontBreakRows: true,
            widths: table.columns.map((_, i) =>
              i === table.columns.length - 1 || table.columns[i] === 'Name' || table.columns[i] === 'Why' ? '*' : 'auto',
            ),
            body: [
              table.columns.map((text) => ({ text, style: 'head' })),
              ...table.rows.map((r) => r.map((cell) => ({ text: shown(cell), noWrap: isDay(cell) }))),
            ],
          },
          layout: 'lightHorizontalLines',
        }
      : { text: 'Nothing to show.' },
  ])

const xml = (s: string) => s.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!)
const cut = (s: string, n: number) => (s.length > n ? `${s.slice(0, n - 1)}…` : s)

const stroke = (x1: number, y1: number, x2: number, y2: number, color: string, width: number, dash = '') =>
  `<line x1="${x1}" y1="${y1}" x2="${x2}" y2="${y2}" stroke="${color}" stroke-width="${width}"${dash ? ` stroke-dasharray="${dash}"` : ''}/>`

/** The margin rule of a date's weight: double, single, with a square head, dotted, or a ring. */
function markOf(kind: LinePoint['kind'], x: number, from: number, to: number): string {
  if (kind === 'appointment') return `<circle cx="${x}" cy="${from + 5}" r="3" fill="#FFFFFF" stroke="#4F5E7C" stroke-width="1.3"/>`
  if (kind === 'strict') return stroke(x - 1.6, from, x - 1.6, to, '#1C262B', 1.2) + stroke(x + 1.6, from, x + 1.6, to, '#1C262B', 1.2)
  if (kind === 'firm practice') return stroke(x, from, x, to, '#637178', 1.6, '1.6 1.8')
  const head = kind === 'court order' ? `<rect x="${x - 2.6}" y="${from}" width="5.2" height="5.2" fill="#1C262B"/>` : ''
  return stroke(x, from, x, to, '#1C262B', 1.6) + head
}

/** Events above, dates below, to scale: an image of the line of time for paper. */
function lineImage(points: readonly LinePoint[], today: Day, width: number): string {
  const words = (p: LinePoint) => cut(p.title, 30)
  const wide = (p: LinePoint) => Math.max(words(p).length * 4.4, 74)
  const line = layLine(points, today, width, wide)
  const row = 25
  const at = 16 + line.eventRows * row
  const height = at + 22 + line.dateRows * row
  const yOf = (p: { row: number }) => at + 26 + p.row * row
  // Words stand on white, so that no line of another date runs through them.
  const under = (p: LinePoint & { textX: number }, y: number) =>
    `<rect x="${p.textX - 1}" y="${y}" width="${wide(p) - 6}" height="17" fill="#FFFFFF"/>`
  const parts = [
    `<line x1="0" y1="${at}" x2="${width}" y2="${at}" stroke="#1C262B" stroke-width="1.2"/>`,
    ...line.months.map(
      (m) =>
        `<line x1="${m.x}" y1="${at - 4}" x2="${m.x}" y2="${at + 4}" stroke="#637178"/><text x="${m.x + 2}" y="${at + 11}" font-size="6.5" fill="#55646B">${m.text}</text>`,
    ),
    line.todayX === null
      ? ''
      : `<line x1="${line.todayX}" y1="4" x2="${line.todayX}" y2="${height}" stroke="#D3951F" stroke-width="1.4"/><text x="${line.todayX + 3}" y="9" font-size="7" fill="#7A5408">today</text>`,
    ...line.events.map((p) => stroke(p.x, at - 22 - p.row * row, p.x, at, '#637178', 0.7)),
    ...line.dates.map((p) => stroke(p.x, at, p.x, yOf(p) - 10, '#C3CDCF', 0.6)),
    ...line.events.map((p) => {
      const y = at - 10 - p.row * row
      return `${under(p, y - 15)}<circle cx="${p.x}" cy="${at}" r="2.4" fill="#1C262B"/><text x="${p.textX}" y="${y - 7}" font-size="8" fill="#1C262B">${xml(words(p))}</text><text x="${p.textX}" y="${y + 1}" font-size="7" fill="#55646B">${showDay(p.day)}</text>`
    }),
    ...line.dates.map((p) => {
      const y = yOf(p)
      return `${under(p, y - 9)}${markOf(p.kind, p.x, y - 10, y + 8)}<text x="${p.textX}" y="${y - 2}" font-size="8" fill="${p.done ? '#637178' : '#1C262B'}">${xml(words(p))}</text><text x="${p.textX}" y="${y + 6}" font-size="7" fill="#55646B">${showDay(p.day)}${p.kind === 'strict' ? ', strict' : ''}</text>`
    }),
  ]
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}">${parts.join('')}</svg>`
}

async function lineLayout(ctx: Ctx, head: Head, table: ReportTable, paper: 'LETTER' | 'A4') {
  const events = table.matterId ? await triggersInOrder(ctx, table.matterId) : []
  const sets = await ruleSets(ctx.db.manager)
  const today = ctx.clock.today()
  const of = (list: readonly ReportRow[]): LinePoint[] =>
    nextOfSeries(list, today).map((r) => ({ id: `d${r.id}`, day: r.day, title: r.title, kind: r.weight, done: !isOpen(r.mark) }))
  const width = paper === 'A4' ? 734 : 684
  const lines = table.withMatter
    ? [...new Set(table.dates!.map((r) => r.matterId))]
        .map((id) => table.dates!.filter((r) => r.matterId === id))
        .map((list) => ({ name: list[0]!.matter, points: of(list) }))
    : [
        {
          name: '',
          points: [
            ...events.map((e): LinePoint => ({
              id: `e${e.id}`,
              day: e.day,
              title: eventTitle(titleOfTrigger(sets, e.key, e.kind), e.label),
              kind: 'event',
              done: false,
            })),
            ...of(table.dates!),
          ],
        },
      ]
  return page(
    head,
    paper,
    lines.flatMap((l) => [
      {
        unbreakable: true,
        stack: [...(l.name ? [{ text: l.name, bold: true, margin: [0, 8, 0, 2] }] : []), { svg: lineImage(l.points, today, width), width }],
      },
    ]),
    true,
  )
}

const asCsv = (t: ReportTable) => Buffer.from(writeTable(t.columns, t.rows))

/** Days stand as dates in the workbook, so that it sorts and counts them. */
async function asXlsx(t: ReportTable): Promise<Buffer> {
  const head = t.columns.map((value) => ({ value, fontWeight: 'bold' as const }))
  const body = t.rows.map((r) =>
    r.map((cell) =>
      isDay(cell) ? { type: Date, value: new Date(`${cell}T00:00:00Z`), format: 'yyyy-mm-dd' } : { type: String, value: cell },
    ),
  )
  const widths = t.columns.map((c, i) => ({
    width: Math.min(60, Math.max(c.length, ...t.rows.slice(0, 200).map((r) => r[i]!.length)) + 2),
  }))
  return await writeExcelFile([head, ...body], { columns: widths, stickyRowsCount: 1 }).toBuffer()
}

/** A report as a file, as its reader may see it. */
export async function reportFile(ctx: Ctx, input: ReportIn, how: ReportHow): Promise<File> {
  const table = await reportTable(ctx, input)
  if (how.format === 'csv') return download(asCsv(table), `${table.file}.csv`, 'text/csv; charset=utf-8')
  if (how.format === 'xlsx')
    return download(await asXlsx(table), `${table.file}.xlsx`, 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet')
  const head: Head = { firm: await firmName(ctx), title: table.title, under: table.under, printed: `as of ${showDay(ctx.clock.today())}` }
  const document = !table.dates
    ? plainLayout(head, table, how.paper)
    : how.layout === 'line' && table.dates.length
      ? await lineLayout(ctx, head, table, how.paper)
      : layout(head, table.dates, how, table.withMatter, ctx.clock.today())
  return download(await makePdf(document), `${table.file}.pdf`, 'application/pdf')
}

/** A report to read on screen. Without texts what must be done is left away. */
export async function reportOnScreen(ctx: Ctx, input: ReportIn & { texts: boolean }) {
  const { title, under, columns, rows: list, dates } = await reportTable(ctx, input)
  // The trade's columns of a date; the workbook has them all.
  const keep = columns
    .map((_, i) => i)
    .filter(
      (i) =>
        !dates ||
        ['Date', 'Time', 'Matter', 'Title', 'Weight', 'Authority', 'Standing', 'Counted', 'Responsible'].includes(columns[i]!) ||
        (input.texts && columns[i] === 'What must be done'),
    )
  return {
    title,
    under,
    columns: keep.map((i) => columns[i]!),
    rows: list.map((r) => keep.map((i) => r[i]!)),
    asOf: ctx.clock.today(),
  }
}
