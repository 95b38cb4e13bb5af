import type { AsideKind } from '@heron/contract'
import { addDays } from '@heron/core/calendar'
import { LessThanOrEqual, type EntityManager } from 'typeorm'
import type { Ctx } from '../platform/context'
import { work } from '../platform/database'
import { fieldFault } from '../platform/problem'
import { DecisionAside } from './entities'
import { most } from './queries'

interface PutOff {
  kind: AsideKind
  key: string
  /** Days from today on which it is not shown. */
  days: number
}
/** Within an act: what waits for a decision of the actor is not shown to them for some days. Nobody else's page changes. */
export async function putOffIn(m: EntityManager, ctx: Ctx, what: PutOff): Promise<void> {
  const until = addDays(ctx.clock.today(), what.days)
  await m.upsert(DecisionAside, { userId: ctx.actor.id, kind: what.kind, item: what.key, until }, ['userId', 'kind', 'item']) // prettier-ignore
}
export const putOff = (ctx: Ctx, what: PutOff): Promise<void> =>
  work(ctx, async (m) => {
    await m.delete(DecisionAside, { userId: ctx.actor.id, until: LessThanOrEqual(ctx.clock.today()) })
    const known = await m.countBy(DecisionAside, { userId: ctx.actor.id })
    if (known >= most) throw fieldFault('key', `${known} things are put off already. Show them again first`)
    await putOffIn(m, ctx, what)
  })

/** All that the actor has put off is shown again. */
export const takeUp = (ctx: Ctx): Promise<void> =>
  work(ctx, async (m) => {
    await m.delete(DecisionAside, { userId: ctx.actor.id })
  })
