import type { EntityManager } from 'typeorm'
import { requireOpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { work } from '../platform/database'
import { fieldFault } from '../platform/problem'
import { reachedByStage } from './arrangement'
import { MatterStage, Stage } from './entities'
import { Matter } from '../platform/shared-entities'

/** Keeps since when a matter stands at a stage. */
export const stageReached = (m: EntityManager, ctx: Ctx, matterId: number, stageId: number, fromDay = ctx.clock.today()) =>
  m.insert(MatterStage, { matterId, stageId, fromDay, setBy: ctx.actor.id })

/** A matter that comes to another area stands at its first stage, or at the one given; without an area at none. */
export async function startInArea(m: EntityManager, ctx: Ctx, matterId: number, areaId: number | null, at?: number | null): Promise<void> {
  const stage = await m.findOne(Stage, {
    where: at ? { id: at, areaId: areaId ?? 0 } : { areaId: areaId ?? 0, retired: false },
    order: { ordinal: 'ASC' },
  })
  if (at && !stage) throw fieldFault('stageId', 'Choose a stage of this area')
  const stageId = at === null ? null : (stage?.id ?? null)
  await m.update(Matter, matterId, { stageId })
  if (stageId) await stageReached(m, ctx, matterId, stageId)
}

export function setStage(ctx: Ctx, matterId: number, stageId: number): Promise<void> {
  return work(ctx, async (m) => {
    await requireOpenMatter(m, ctx, matterId)
    await moveToStage(m, ctx, matterId, stageId)
  })
}

/** Moves an open matter to a stage of its area, in a transaction that already checked who may. */
export async function moveToStage(m: EntityManager, ctx: Ctx, matterId: number, stageId: number): Promise<void> {
  const { areaId, stageId: wasId } = await m.findOneByOrFail(Matter, { id: matterId })
  const stage = areaId ? await m.findOneBy(Stage, { id: stageId, areaId }) : null
  if (!stage) throw fieldFault('stageId', 'Choose a stage of this matter’s area')
  if (wasId === stageId) return
  const was = wasId ? await m.findOneBy(Stage, { id: wasId }) : null
  await m.update(Matter, matterId, { stageId })
  await reachedByStage(m, ctx, matterId, stageId)
  await stageReached(m, ctx, matterId, stageId)
  await audit(m, ctx, {
    kind: 'stage',
    text: `Stage: ${stage.name}`,
    matterId,
    subject: 'matter',
    subjectId: matterId,
    detail: { was: { stage: was?.name ?? null }, became: { stage: stage.name } },
  })
}
