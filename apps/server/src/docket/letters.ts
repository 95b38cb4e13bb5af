import { showDay, type Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import type { OpenMatter } from '../platform/access'
import type { Ctx } from '../platform/context'
import { rows } from '../platform/database'
import { sendMail } from '../platform/mail'

/** Sends everyone on the team who sees the docket the matter's coming dates, with what has just changed. */
export async function sendDocketList(
  m: EntityManager,
  ctx: Ctx,
  matter: Pick<OpenMatter, 'id' | 'number' | 'name'>,
  what: string,
): Promise<number> {
  const dates = await rows<{ title: string; day: Day; authority: string; tentative: number; mark: string }>(
    m,
    `SELECT title, day, authority, tentative, mark FROM docket_entry WHERE matter_id = ? AND removed_at IS NULL AND NOT left_out AND day >= ? AND mark IN ('open', 'in hand') ORDER BY day, id`,
    [matter.id, ctx.clock.today()],
  )
  const team = await rows<{ userId: number }>(
    m,
    `SELECT t.user_id AS userId FROM matter_team t JOIN user_account u ON u.id = t.user_id WHERE t.matter_id = ? AND t.at_docket > 0 AND u.active
        AND NOT EXISTS (SELECT 1 FROM matter_screen s WHERE s.matter_id = t.matter_id AND s.user_id = t.user_id)`,
    [matter.id],
  )
  const list = dates.map((d) => `${showDay(d.day)}  ${d.title}${d.tentative ? ' (tentative)' : ''}${d.authority ? `, ${d.authority}` : ''}`)
  for (const { userId } of team)
    await sendMail(m, ctx, {
      key: `docket ${matter.id} ${userId} ${ctx.clock.now().getTime()}`,
      to: userId,
      subject: `Docket of ${matter.number}, ${matter.name}`,
      body: `${what}\n\n${list.length ? `Coming dates:\n\n${list.join('\n')}` : 'There are no coming dates.'}\n\nSent by ${ctx.actor.name}.`,
      matterId: matter.id,
    })
  return team.length
}
