import { showDay, showDayInWords, showTime } from '@heron/core/calendar'
import type { Ctx } from '../platform/context'
import { download } from '../platform/files'
import { makePdf } from '../platform/pdf'
import { conflictCheck } from './conflicts'
import { Firm } from '../platform/shared-entities'

/** The record of a conflict check: terms, data as of when, every hit with its reasons, and the decisions. */
export async function conflictPdf(ctx: Ctx, id: number): Promise<File> {
  const check = await conflictCheck(ctx, id)
  const firm = await ctx.db.manager.findOne(Firm, { select: { name: true, id: true }, where: { id: 1 } })
  const made = ctx.clock.at(check.madeAt)
  const at = `${showDayInWords(made.day)}, ${showTime(made.time)}`
  const head = ['Searched', 'On record', 'Why', 'Score', 'Where', 'Decision'].map((text) => ({ text, style: 'head' }))
  const body = check.hits.map((h) => [
    h.term,
    h.name,
    h.reasons.join('; '),
    { text: String(h.score), alignment: 'right' },
    h.matters.map((x) => x.text).join('\n') || 'in no matter',
    h.decision
      ? `${h.decision}${h.note ? `: ${h.note}` : ''}\n${h.decidedBy ?? ''}${h.decidedAt ? `, ${showDay(ctx.clock.at(h.decidedAt).day)}` : ''}`
      : 'not decided',
  ])
  const pdf = await makePdf({
    info: { title: `Conflict check ${check.id}` },
    pageSize: 'LETTER',
    pageOrientation: 'landscape',
    pageMargins: [48, 48, 48, 48],
    foot: { line: '', words: `Conflict check ${check.id} · page {page} of {pages}` },
    content: [
      { text: firm?.name ?? '', style: 'firm' },
      { text: 'Conflict check', style: 'title', margin: [0, 10, 0, 2] },
      {
        text: `Made by ${check.madeBy} on ${at}, against ${check.namesOnRecord.toLocaleString('en-US')} names on record.${check.about ? ` ${check.about}.` : ''}`,
        style: 'small',
      },
      { text: `Names: ${check.terms.join('; ')}`, margin: [0, 8, 0, 10] },
      check.hits.length
        ? {
            table: { headerRows: 1, dontBreakRows: true, widths: [100, 110, 120, 30, '*', 130], body: [head, ...body] },
            layout: 'lightHorizontalLines',
          }
        : { text: 'No name on record was like these.' },
      ...(check.moreHits
        ? [{ text: `${check.moreHits} further names scored lower and were not kept.`, style: 'small', margin: [0, 8, 0, 0] }]
        : []),
    ],
  })
  return download(pdf, `Conflict check ${check.id}.pdf`, 'application/pdf')
}
