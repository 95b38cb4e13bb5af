import { matterScope, requireMatter } from '../platform/access'
import type { Ctx } from '../platform/context'
import { row, rows, work } from '../platform/database'
import { sendMail } from '../platform/mail'
import { fieldFault } from '../platform/problem'
import { raiseScreen } from './team'

/** Every screen of the firm. Of matters kept to their team only the number; of those from which the reader is screened, no sign. */
export async function walls(ctx: Ctx) {
  const m = ctx.db.manager
  const from = `FROM matter_screen s JOIN matter m ON m.id = s.matter_id`
  const all = await row<{ n: number }>(
    m,
    `SELECT COUNT(*) AS n ${from} WHERE NOT ${matterScope(ctx.actor)} AND m.id NOT IN (SELECT o.matter_id FROM matter_screen o WHERE o.user_id = ?)`,
    [ctx.actor.id],
  )
  const found = await rows<{
    matterId: number
    number: string
    matter: string
    lead: string
    userId: number
    name: string
    active: number
    reason: string
    since: string | null
  }>(
    m,
    `SELECT m.id AS matterId, m.number, m.name AS matter, l.name AS lead, u.id AS userId, u.name, u.active, s.reason, s.since
       ${from} JOIN user_account u ON u.id = s.user_id JOIN user_account l ON l.id = m.lead_id WHERE ${matterScope(ctx.actor)} ORDER BY u.name, m.number LIMIT 5000`,
  )
  return { rows: found.map((w) => ({ ...w, active: Boolean(w.active) })), hidden: all!.n }
}

/**
 * Screens one person from several matters in one act, as on the day when someone joins from another firm. The administrator
 * may do so without keeping the matters; whoever keeps them is told, and is who takes a screen down.
 */
export function raiseWalls(ctx: Ctx, input: { userId: number; matterIds: readonly number[]; reason: string }): Promise<{ raised: number }> {
  return work(ctx, async (m) => {
    if (input.userId === ctx.actor.id) throw fieldFault('userId', 'You cannot screen yourself here. Ask whoever keeps the matter.')
    const ids = [...new Set(input.matterIds)].sort((a, b) => a - b)
    let raised = 0
    for (const id of ids) {
      const matter = await requireMatter(m, ctx, id)
      const who = await raiseScreen(m, ctx, matter, input.userId, input.reason)
      if (!who.fresh) continue
      raised += 1
      const keepers = await rows<{ id: number }>(
        m,
        `SELECT user_id AS id FROM matter_team WHERE matter_id = ? AND keeps AND user_id NOT IN (?)`,
        [id, [ctx.actor.id, input.userId]],
      )
      for (const keeper of keepers)
        await sendMail(m, ctx, {
          key: `wall ${id} ${input.userId} ${keeper.id} ${ctx.clock.now().getTime()}`,
          to: keeper.id,
          subject: `${who.name} is screened from ${matter.number}`,
          body: `${ctx.actor.name} screened ${who.name} from ${matter.number}, ${matter.name}: ${input.reason}.${who.moved ? `\n\n${who.moved} that lay with ${who.name} are with the lead now.` : ''}\n\nYou keep this matter: you take the screen down when its reason has gone.`,
          matterId: id,
        })
    }
    if (!raised)
      throw fieldFault(
        'matterIds',
        ids.length === 1 ? 'This person is screened from it already' : 'This person is screened from all of these already',
      )
    return { raised }
  })
}
