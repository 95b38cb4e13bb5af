import type { Day } from '@heron/core/calendar'
import { change, see } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertRow, work } from '../platform/database'
import { sendMail } from '../platform/mail'
import { fieldFault, notFound, refused } from '../platform/problem'
import type { EntityManager } from 'typeorm'
import { PaperReview, type Paper } from './entities'
import { requirePaper } from './store'
import { mayRead } from './link-queries'

export async function askReviewIn(
  m: EntityManager,
  ctx: Ctx,
  paper: Paper,
  input: { toId: number; dueOn: Day | null; message: string },
): Promise<number> {
  if (input.toId === ctx.actor.id) throw fieldFault('toId', 'Ask a colleague')
  const name = await mayRead(m, input.toId, paper.matterId)
  if (!name) throw fieldFault('toId', 'Choose someone who sees the papers of this matter')
  await m.update(PaperReview, { paperId: paper.id, state: 'asked' }, { state: 'withdrawn', answeredAt: instant(ctx.clock.now()) })
  const id = await insertRow(m, PaperReview, {
    paperId: paper.id,
    versionNo: paper.versionNo,
    fromId: ctx.actor.id,
    ...input,
    askedAt: instant(ctx.clock.now()),
  })
  await audit(m, ctx, {
    kind: 'paper',
    text: `Asked ${name} to read ${paper.name}${input.dueOn ? ` by ${input.dueOn}` : ''}`,
    matterId: paper.matterId,
    subject: 'paper',
    subjectId: paper.id,
  })
  await sendMail(m, ctx, {
    key: `review ${id}`,
    to: input.toId,
    subject: `To read: ${paper.name}`,
    body: `${ctx.actor.name} asks you to read ${paper.name}${input.dueOn ? ` by ${input.dueOn}` : ''}.${input.message ? `\n\n${input.message}` : ''}`,
    matterId: paper.matterId,
  })
  return id
}

export const askReview = (ctx: Ctx, input: { id: number; toId: number; dueOn: Day | null; message: string }): Promise<{ id: number }> =>
  work(ctx, async (m) => {
    const { paper } = await requirePaper(m, ctx, input.id, change)
    return { id: await askReviewIn(m, ctx, paper, { toId: input.toId, dueOn: input.dueOn, message: input.message }) }
  })

export function answerReview(ctx: Ctx, input: { id: number; approved: boolean; remarks: string }): Promise<void> {
  return work(ctx, async (m) => {
    const review = await m.createQueryBuilder(PaperReview, 'r').where({ id: input.id }).setLock('pessimistic_write').getOne()
    if (!review || review.toId !== ctx.actor.id) throw notFound('draft to read')
    const { paper } = await requirePaper(m, ctx, review.paperId, see)
    if (review.state !== 'asked') throw refused('changed-meanwhile', 'This was answered or withdrawn already. Reload it.')
    if (!input.approved && !input.remarks.trim()) throw fieldFault('remarks', 'Say what is to be changed')
    await m.update(PaperReview, review.id, {
      state: input.approved ? 'approved' : 'sent back',
      remarks: input.remarks,
      answeredAt: instant(ctx.clock.now()),
    })
    const said = input.approved ? 'Approved' : 'Sent back'
    await audit(m, ctx, {
      kind: 'paper',
      text: `${said} version ${review.versionNo} of ${paper.name}${input.remarks ? `: ${input.remarks.slice(0, 200)}` : ''}`,
      matterId: paper.matterId,
      subject: 'paper',
      subjectId: paper.id,
    })
    await sendMail(m, ctx, {
      key: `review ${review.id} answered`,
      to: review.fromId,
      subject: `${said}: ${paper.name}`,
      body: `${ctx.actor.name} ${input.approved ? 'approved' : 'sent back'} ${paper.name}.${input.remarks ? `\n\n${input.remarks}` : ''}`,
      matterId: paper.matterId,
    })
  })
}
