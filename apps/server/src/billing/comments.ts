import type { EntityManager } from 'typeorm'
import { PreBillComment } from './entities'
import { headOf } from './pre-bills'
import { audit } from '../platform/audit'
import { instant, isoOf, may, type Ctx } from '../platform/context'
import { insertRow, row, rows, work } from '../platform/database'
import { sendMail } from '../platform/mail'
import { Problem, refused } from '../platform/problem'

export async function commentsOf(m: EntityManager, preBillId: number) {
  const list = await rows<{ id: number; by: string; at: string; text: string }>(
    m,
    `SELECT c.id, u.name AS \`by\`, c.at, c.text FROM pre_bill_comment c JOIN user_account u ON u.id = c.user_id WHERE c.pre_bill_id = ? ORDER BY c.id LIMIT 200`,
    [preBillId],
  )
  return list.map((c) => ({ ...c, at: isoOf(c.at) }))
}

/** With whom a pre-bill lies: the lead lawyer while it is reviewed, whoever issues bills once it is approved; and since when. */
export async function heldBy(m: EntityManager, preBillId: number): Promise<{ who: string; since: string } | null> {
  const found = await row<{ state: string; lead: string; since: string }>(
    m,
    `SELECT p.state, u.name AS lead, COALESCE(p.state_since, p.created_at) AS since FROM pre_bill p JOIN matter x ON x.id = p.matter_id JOIN user_account u ON u.id = x.lead_id WHERE p.id = ?`,
    [preBillId],
  )
  if (!found || found.state === 'issued') return null
  return { who: found.state === 'review' ? found.lead : 'whoever issues bills', since: isoOf(found.since) }
}

/** Says something about a pre-bill to those who have to do with it: the lead lawyer, who made it, and who said something before. */
export const comment = (ctx: Ctx, preBillId: number, text: string): Promise<{ id: number }> =>
  work(ctx, async (m) => {
    const head = await headOf(m, ctx, preBillId, false)
    if (!may(ctx.actor, 'bills.review')) throw new Problem(403, 'not-allowed', 'Who reviews bills comments on them.')
    const count = await m.countBy(PreBillComment, { preBillId })
    if (count >= 200) throw refused('taken', 'There are 200 comments on this pre-bill already. Talk to each other instead.')
    const id = await insertRow(m, PreBillComment, { preBillId, userId: ctx.actor.id, at: instant(ctx.clock.now()), text })
    const others = await rows<{ id: number }>(
      m,
      `SELECT u.id FROM user_account u WHERE u.active AND u.id <> ? AND (u.id = (SELECT x.lead_id FROM matter x WHERE x.id = ?) OR u.id = (SELECT p.created_by FROM pre_bill p WHERE p.id = ?)
          OR u.id IN (SELECT c.user_id FROM pre_bill_comment c WHERE c.pre_bill_id = ?))
         AND NOT EXISTS (SELECT 1 FROM matter_screen s WHERE s.matter_id = ? AND s.user_id = u.id)`,
      [ctx.actor.id, head.matterId, preBillId, preBillId, head.matterId],
    )
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
