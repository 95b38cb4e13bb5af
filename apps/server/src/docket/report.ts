import type { AgendaIn } from '@heron/contract'
import { showDay, showDayInWords } from '@heron/core/calendar'
import { writeTable } from '@heron/core/formats'
import { requireMatter } from '../platform/access'
import type { Ctx } from '../platform/context'
import { row } from '../platform/database'
import { download } from '../platform/files'
import { makePdf } from '../platform/pdf'
import { agenda, docketOf } from './queries'

export interface ReportHow {
  format: 'csv' | 'pdf'
  /** What must be done, and each step of the count, besides titles. */
  texts: boolean
  paper: 'LETTER' | 'A4'
}
type Row = Awaited<ReturnType<typeof docketOf>>[number]

const standing = (r: Row) =>
  [
    r.mark === 'open' ? '' : r.mark,
    r.urgent ? 'urgent' : '',
    r.tentative ? 'tentative' : '',
    r.provisional ? 'provisional' : '',
    r.leftOut ? 'left out' : '',
  ]
    .filter(Boolean)
    .join(', ')
const rolled = (r: Row) => (r.beforeRoll && r.beforeRoll !== r.day ? `rolled from ${showDay(r.beforeRoll)}` : '')
const fixed = (r: Row) =>
  r.trigger && r.setBy !== 'rule'
    ? `${r.setBy === 'court' ? 'set by the court' : 'set by hand'}${r.ruleDay ? `; the rule gives ${showDay(r.ruleDay)}` : ''}`
    : ''

function asCsv(list: readonly Row[]): Buffer {
  return Buffer.from(
    writeTable(
      [
        'Date',
        'Time',
        'Matter',
        'Title',
        'Weight',
        'Authority',
        'Standing',
        'Counted',
        'Rolled from',
        'Set',
        'Responsible',
        'Place',
        'What must be done',
      ],
      list.map((r) => [
        r.day,
        r.time ?? '',
        r.matter,
        r.title,
        r.weight,
        r.authority,
        standing(r),
        r.howCounted,
        r.beforeRoll && r.beforeRoll !== r.day ? r.beforeRoll : '',
        fixed(r),
        r.responsible ?? '',
        r.place,
        r.text,
      ]),
    ),
  )
}

function layout(
  head: { firm: string; title: string; under: string; printed: string },
  list: readonly Row[],
  how: ReportHow,
  withMatter: boolean,
) {
  const line = (r: Row) => [
    { text: `${showDay(r.day)}${r.time ? `\n${r.time}` : ''}`, bold: true, noWrap: true },
    {
      stack: [
        { text: [{ text: r.title, bold: true }, standing(r) ? ` (${standing(r)})` : '', r.weight === 'strict' ? '  strict' : ''] },
        ...(withMatter ? [{ text: r.matter, style: 'small' }] : []),
        { text: [r.howCounted, rolled(r), fixed(r)].filter(Boolean).join('; '), style: 'small' },
        ...(how.texts && r.text ? [{ text: r.text, margin: [0, 2, 0, 0] }] : []),
        ...(how.texts ? r.trace.map((t, i) => ({ text: `${i + 1}. ${t.text}`, style: 'small' })) : []),
      ],
    },
    { text: [r.authority, r.responsible].filter(Boolean).join('\n'), style: 'small' },
  ]
  return {
    pageSize: how.paper,
    pageMargins: [54, 54, 54, 60],
    info: { title: head.title },
    footer: (page: number, pages: number) => ({
      text: `${head.title} · ${head.printed} · page ${page} of ${pages}`,
      style: 'small',
      alignment: 'center',
    }),
    content: [
      { text: head.firm, style: 'small' },
      { text: head.title, style: 'title', margin: [0, 2, 0, 0] },
      { text: head.under, style: 'small', margin: [0, 2, 0, 12] },
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
    ],
  }
}

const firmName = async (ctx: Ctx) => (await row<{ name: string }>(ctx.db.manager, `SELECT name FROM firm`))?.name ?? ''

/** Dates of a span, late ones first, as the agenda shows them. */
export async function agendaReport(ctx: Ctx, f: AgendaIn, how: ReportHow): Promise<File> {
  const found = await agenda(ctx, f, { rows: 5000, late: 5000 })
  const list = [...found.late, ...found.rows]
  if (how.format === 'csv') return download(asCsv(list), 'docket.csv', 'text/csv; charset=utf-8')
  const whose = { mine: ctx.actor.name, team: `${ctx.actor.name}’s teams`, firm: 'the whole firm' }[f.scope]
  const head = {
    firm: await firmName(ctx),
    title: `Docket, ${showDayInWords(f.from)} to ${showDayInWords(found.until)}`,
    under: `Dates of ${whose}${found.late.length ? `; ${found.late.length} overdue stand first` : ''}${found.more.rows || found.more.late ? '; not all fit here, narrow the list' : ''}`,
    printed: `as of ${showDay(found.today)}`,
  }
  return download(await makePdf(layout(head, list, how, true)), 'docket.pdf', 'application/pdf')
}

/** One matter's docket, with authorities, rolls and counts. */
export async function matterReport(ctx: Ctx, id: number, how: ReportHow): Promise<File> {
  const matter = await requireMatter(ctx.db.manager, ctx, id, 'docket')
  const list = (await docketOf(ctx, id)).filter((r) => !r.leftOut)
  if (how.format === 'csv') return download(asCsv(list), `docket-${matter.number}.csv`, 'text/csv; charset=utf-8')
  const head = {
    firm: await firmName(ctx),
    title: `Docket of ${matter.name}`,
    under: `Matter ${matter.number}; ${list.length === 1 ? 'one date' : `${list.length} dates`}`,
    printed: `as of ${showDay(ctx.clock.today())}`,
  }
  return download(await makePdf(layout(head, list, how, false)), `docket-${matter.number}.pdf`, 'application/pdf')
}
