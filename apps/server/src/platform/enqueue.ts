import type { EntityManager } from 'typeorm'
import { instant, type Ctx } from './context'
import { Job } from './entities'
import { insertRow } from './database'

/** Puts work into the table, in the caller's transaction; a worker takes it after the commit. */
export async function enqueue(m: EntityManager, ctx: Ctx, kind: string, payload: unknown): Promise<number> {
  const now = instant(ctx.clock.now())
  return insertRow(m, Job, {
    kind,
    payload: JSON.stringify(payload),
    state: 'waiting',
    runAfter: now,
    createdAt: now,
    userId: ctx.actor.id,
  })
}
