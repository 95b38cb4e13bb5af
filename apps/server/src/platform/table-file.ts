import { counted } from '@heron/core/words'
import { isDay, showDay, type Day } from '@heron/core/calendar'
import { writeTable } from '@heron/core/formats'
import { showAmount } from '@heron/core/money'
import writeExcelFile from 'write-excel-file/node'
import type { ActSubject } from './area'
import { audit } from './audit'
import type { Ctx } from './context'
import { download } from './files'
import { makePdf } from './pdf'
import { letterheadOf } from './queries'
import { refused } from './problem'

export interface FileColumn {
  text: string
  /** Amounts in cents, hours in minutes, shares in hundredths of a percent. */
  kind: 'text' | 'day' | 'money' | 'hours' | 'number' | 'share'
}
export interface FileRow {
  cells: readonly (string | number | null)[]
  /** A heading above what follows, or a sum. */
  is?: 'head' | 'sum'
}
export interface TableFile {
  title: string
  under: string
  /** A file's name without its ending. */
  file: string
  columns: readonly FileColumn[]
  rows: readonly FileRow[]
}
const plain = (cell: string | number | null, kind: FileColumn['kind']) =>
  cell === null
    ? ''
    : kind === 'money' && typeof cell === 'number'
      ? showAmount(cell)
      : kind === 'hours' && typeof cell === 'number'
        ? (cell / 60).toFixed(2)
        : kind === 'share' && typeof cell === 'number'
          ? `${(cell / 100).toFixed(1)} %`
          : kind === 'day' && isDay(String(cell))
            ? showDay(String(cell) as Day)
            : String(cell)

const rightOf = (c: FileColumn) => c.kind !== 'text' && c.kind !== 'day'

async function asPdf(ctx: Ctx, t: TableFile): Promise<Buffer> {
  const firm = await letterheadOf(ctx.db.manager)
  const wide = t.columns.length > 7
  return makePdf({
    pageSize: 'LETTER',
    pageOrientation: wide ? 'landscape' : 'portrait',
    pageMargins: [46, 50, 46, 56],
    info: { title: t.title },
    foot: { line: '', words: `${t.title} · ${t.under} · page {page} of {pages}` },
    content: [
      { text: firm.name, style: 'small' },
      { text: t.title, style: 'title', margin: [0, 2, 0, 0] },
      { text: t.under, style: 'small', margin: [0, 2, 0, 12] },
      {
        fontSize: wide ? 7.5 : 9,
        table: {
          headerRows: 1,
          dontBreakRows: true,
          widths: t.columns.map((c, i) => (c.kind === 'text' && (i === 0 || t.columns[i - 1]!.kind === 'day') ? '*' : 'auto')),
          body: [
            t.columns.map((c) => ({ text: c.text, style: 'head', alignment: rightOf(c) ? 'right' : 'left' })),
            ...t.rows.map((r) =>
              t.columns.map((c, i) => ({
                text: plain(r.cells[i] ?? null, c.kind),
                alignment: rightOf(c) ? 'right' : 'left',
                noWrap: c.kind !== 'text',
                ...(r.is ? { bold: true } : {}),
              })),
            ),
          ],
        },
        layout: 'lightHorizontalLines',
      },
    ],
  } as never)
}

const asNumber: Partial<Record<FileColumn['kind'], { per: number; format: string }>> = {
  money: { per: 100, format: '#,##0.00' },
  hours: { per: 60, format: '0.00' },
  share: { per: 10_000, format: '0.0%' },
  number: { per: 1, format: '0.##' },
}
async function asXlsx(t: TableFile): Promise<Buffer> {
  const head = t.columns.map((c) => ({ value: c.text, fontWeight: 'bold' as const }))
  const body = t.rows.map((r) =>
    t.columns.map((c, i) => {
      const cell = r.cells[i] ?? null
      const weight = r.is ? { fontWeight: 'bold' as const } : {}
      if (cell === null) return null
      // Cents become the amounts that a workbook adds up; exact, since two decimals are what they are.
      return c.kind in asNumber && typeof cell === 'number'
        ? { type: Number, value: cell / asNumber[c.kind]!.per, format: asNumber[c.kind]!.format, ...weight }
        : { type: String, value: String(cell), ...weight }
    }),
  )
  const widths = t.columns.map((c, i) => ({
    width: Math.min(60, Math.max(c.text.length, ...t.rows.slice(0, 300).map((r) => String(r.cells[i] ?? '').length)) + 3),
  }))
  return await writeExcelFile([head, ...body], { columns: widths, stickyRowsCount: 1 }).toBuffer()
}

/** More lines are laid out by no request. */
const mostOnPaper = 4_000

/** As `tableFile`, for a person who asks for it: what was taken out of the firm's books as a file stays on record. */
export async function takenFile(ctx: Ctx, t: TableFile, format: 'pdf' | 'xlsx' | 'csv', subject: ActSubject): Promise<File> {
  const file = await tableFile(ctx, t, format)
  await audit(ctx.db.manager, ctx, { kind: 'read', text: `${t.title}, ${t.under}: written to a file`, subject })
  return file
}

/** A table as PDF, as a workbook with amounts that add up, or as CSV with amounts as plain decimals. */
export async function tableFile(ctx: Ctx, t: TableFile, format: 'pdf' | 'xlsx' | 'csv'): Promise<File> {
  if (format === 'pdf' && t.rows.length > mostOnPaper)
    throw refused(
      'too-much',
      `These are ${counted(t.rows.length, 'line')}. As PDF there are ${mostOnPaper} at most; take a workbook or CSV, or a shorter span.`,
    )
  if (format === 'pdf') return download(await asPdf(ctx, t), `${t.file}.pdf`, 'application/pdf')
  if (format === 'xlsx')
    return download(await asXlsx(t), `${t.file}.xlsx`, 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet')
  const decimal = (cell: string | number | null, kind: FileColumn['kind']) =>
    kind === 'money' && typeof cell === 'number'
      ? (cell / 100).toFixed(2)
      : kind === 'hours' && typeof cell === 'number'
        ? (cell / 60).toFixed(2)
        : kind === 'share' && typeof cell === 'number'
          ? (cell / 100).toFixed(2)
          : cell
  return download(
    Buffer.from(
      writeTable(
        t.columns.map((c) => c.text),
        t.rows.map((r) => t.columns.map((c, i) => decimal(r.cells[i] ?? null, c.kind))),
      ),
    ),
    `${t.file}.csv`,
    'text/csv; charset=utf-8',
  )
}
