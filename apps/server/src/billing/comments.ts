import { PreBillComment } from './entities'
import { headOf } from './pre-bills'
import { audit } from '../platform/audit'
import { instant, may, type Ctx } from '../platform/context'
import { insertRow, work } from '../platform/database'
import { sendMail } from '../platform/mail'
import { Problem, refused } from '../platform/problem'
import { toldOfComment } from './pre-bill-queries'

/** Says something about a pre-bill to those who have to do with it: the lead lawyer, who made it, and who said something before. */
export const comment = (ctx: Ctx, preBillId: number, text: string): Promise<{ id: number }> =>
  work(ctx, async (m) => {
    const head = await headOf(m, ctx, preBillId, false)
    if (!may(ctx.actor, 'bills.review')) throw new Problem(403, 'not-allowed', 'Who reviews bills comments on them.')
    const count = await m.countBy(PreBillComment, { preBillId })
    if (count >= 200) throw refused('taken', 'There are 200 comments on this pre-bill already. Talk to each other instead.')
    const id = await insertRow(m, PreBillComment, { preBillId, userId: ctx.actor.id, at: instant(ctx.clock.now()), text })
    const others = await toldOfComment(m, ctx, head.matterId, preBillId)
    for (const { id: to } of others)
      await sendMail(m, ctx, { key: `pre-bill comment ${id} ${to}`, to, subject: `${ctx.actor.name} on the pre-bill of ${head.matter}`, body: text, matterId: head.matterId }) // prettier-ignore
    await audit(m, ctx, {
      kind: 'said',
      text: `On the pre-bill: ${text.slice(0, 160)}`,
      matterId: head.matterId,
      subject: 'pre-bill',
      subjectId: preBillId,
    })
    return { id }
  })
