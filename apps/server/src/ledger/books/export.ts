import type { Day } from '@heron/core/calendar'
import { journalText, plainAccount } from '@heron/core/formats'
import type { Ctx } from '../../platform/context'
import { atOnce, journalsInOrder, journalsWithDocuments, type Line } from './journal-queries'

/**
 * Every posted journal up to a day as plain text, so that another program can check any balance; matter, client, timekeeper and
 * document stand as tags. Of a matter that is closed to the reader it has the sums and not the words.
 */
export async function exportJournals(ctx: Ctx, to: Day): Promise<string> {
  const m = ctx.db.manager
  const ids = await journalsInOrder(m, to)
  const out: string[] = []
  for (let at = 0; at < ids.length; at += atOnce) {
    const lines = await journalsWithDocuments(m, ctx, ids, at)
    for (let i = 0; i < lines.length;) {
      const head = lines[i]!
      const own: Line[] = []
      while (lines[i]?.id === head.id) own.push(lines[i++]!)
      const document = head.subject && head.subjectId && head.subject !== 'bill' ? `${head.subject} ${head.subjectId}` : ''
      out.push(
        journalText({
          id: head.id,
          day: head.day,
          memo: head.memo,
          tags: { document },
          lines: own.map((l) => ({
            account: plainAccount(l.kind, l.code, l.name),
            cents: l.amount,
            tags: { matter: l.matter ?? '', client: l.client ?? '', timekeeper: l.who ?? '', bill: l.matter ? (l.bill ?? '') : '' },
          })),
        }),
      )
    }
  }
  return out.join('\n')
}
