import { requireMatter } from '../platform/access'
import type { Ctx } from '../platform/context'
import { work } from '../platform/database'
import { sendMail } from '../platform/mail'
import { fieldFault } from '../platform/problem'
import { raiseScreen } from './team'
import { keepersBeside } from './team-queries'

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
      const keepers = await keepersBeside(m, ctx, id, input.userId)
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
