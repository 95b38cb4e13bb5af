import { showDay } from '@heron/core/calendar'
import { In, IsNull, MoreThanOrEqual, type EntityManager } from 'typeorm'
import type { OpenMatter } from '../platform/access'
import type { Ctx } from '../platform/context'
import { sendMail } from '../platform/mail'
import { DocketEntry } from './entities'
import { teamToTell } from './reminder-queries'

/** Sends everyone on the team who sees the docket the matter's coming dates, with what has just changed. */
export async function sendDocketList(
  m: EntityManager,
  ctx: Ctx,
  matter: Pick<OpenMatter, 'id' | 'number' | 'name'>,
  what: string,
): Promise<number> {
  const dates = await m.find(DocketEntry, {
    select: { title: true, day: true, authority: true, tentative: true, mark: true, id: true },
    where: {
      matterId: matter.id,
      removedAt: IsNull(),
      leftOut: false,
      day: MoreThanOrEqual(ctx.clock.today()),
      mark: In(['open', 'in hand']),
    },
    order: { day: 'ASC', id: 'ASC' },
  })
  const team = await teamToTell(m, matter.id)
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
