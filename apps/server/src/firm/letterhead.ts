import type { Letterhead } from '@heron/contract'
import { showDayInWords } from '@heron/core/calendar'
import { differences } from '../people'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { work } from '../platform/database'
import { footOf, headOf, makePdf } from '../platform/pdf'
import { letterheadOf } from '../platform/queries'
import { Firm } from '../platform/shared-entities'
import { extras } from './queries'

export const letterhead = (ctx: Ctx) => extras(ctx.db.manager)

export function changeLetterhead(ctx: Ctx, input: Letterhead): Promise<void> {
  return work(ctx, async (m) => {
    const was = await extras(m)
    await m.updateAll(Firm, { letterLine: input.line, letterEmail: input.email, letterWeb: input.web, letterFoot: input.foot })
    await audit(m, ctx, {
      kind: 'set up',
      text: 'Letterhead changed',
      subject: 'firm',
      subjectId: 1,
      detail: differences({ ...was }, input),
    })
  })
}

/** How a paper would look with it, before it is kept. */
export async function letterheadSample(ctx: Ctx, input: Letterhead): Promise<Buffer> {
  const firm = { ...(await letterheadOf(ctx.db.manager)), ...input }
  return makePdf({
    pageSize: 'LETTER',
    pageMargins: [54, 54, 54, 66],
    info: { title: 'Sample of the letterhead', author: firm.name },
    foot: footOf(firm, 'Page {page} of {pages}'),
    content: [
      headOf(firm),
      { text: showDayInWords(ctx.clock.today()), margin: [0, 36, 0, 18] },
      { text: 'This is how letters and bills begin and end.', margin: [0, 0, 0, 8] },
      { text: 'Bills that were issued keep the letterhead of their day.' },
    ],
  })
}
