import type { Day } from '@heron/core/calendar'
import { matterScope } from '../platform/access'
import type { Ctx } from '../platform/context'
import { rows } from '../platform/database'

/** The next open date of each of some matters, asked for all at once. */
export async function nextOwnDates(ctx: Ctx, ids: readonly number[]): Promise<Map<number, { day: Day; title: string }>> {
  if (!ids.length) return new Map()
  const list = await rows<{ matterId: number; day: Day; title: string }>(
    ctx.db.manager,
    `SELECT x.matter_id AS matterId, x.day, x.title FROM (
       SELECT d.matter_id, d.day, d.title, ROW_NUMBER() OVER (PARTITION BY d.matter_id ORDER BY d.day, d.id) AS n FROM docket_entry d JOIN matter m ON m.id = d.matter_id
        WHERE d.matter_id IN (?) AND d.day >= ? AND d.mark IN ('open', 'in hand') AND NOT d.left_out AND d.removed_at IS NULL AND ${matterScope(ctx.actor, 'm', 'docket')}) x WHERE x.n = 1`,
    [[...ids], ctx.clock.today()],
  )
  return new Map(list.map((d) => [d.matterId, { day: d.day, title: d.title }]))
}
