import type { EntityManager } from 'typeorm'
import { requireMatter, requireOpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { work } from '../platform/database'
import { notFound, refused } from '../platform/problem'
import { Task } from './entities'
import { pending, lockedRun, runRow, runsOn } from './procedure-queries'

/** What dates of a running procedure would follow its anchors as they are now. */
export async function pendingOf(m: EntityManager, ctx: Ctx, runId: number) {
  const found = await runRow(m, runId)
  if (!found) throw notFound('procedure')
  return pending(m, ctx, found)
}

/** All running procedures of a matter that have dates which would follow. */
export async function followingOf(ctx: Ctx, matterId: number) {
  const m = ctx.db.manager
  const matter = await requireMatter(m, ctx, matterId)
  if (matter.closedOn) return []
  const runs = await runsOn(m, matterId)
  const out = []
  for (const r of runs) {
    const p = await pending(m, ctx, r)
    if (p.changes.length) out.push(p)
  }
  return out
}

/** Lets the chosen dates follow, as they were shown. */
export function follow(ctx: Ctx, runId: number, taskIds: readonly number[]): Promise<{ changed: number }> {
  return work(ctx, async (m) => {
    const r = await lockedRun(m, runId)
    if (!r) throw notFound('procedure')
    await requireOpenMatter(m, ctx, r.matterId)
    const { changes, procedure } = await pending(m, ctx, r)
    const chosen = changes.filter((c) => taskIds.includes(c.taskId))
    if (chosen.length !== new Set(taskIds).size)
      throw refused('changed-meanwhile', 'The dates have moved again meanwhile. Look at the changes once more.')
    for (const c of chosen) await m.update(Task, c.taskId, { dueOn: c.becomes })
    await audit(m, ctx, {
      kind: 'task',
      text: `${procedure}: ${chosen.length} ${chosen.length === 1 ? 'date follows' : 'dates follow'}`,
      matterId: r.matterId,
      subject: 'procedure',
      subjectId: runId,
      detail: {
        was: Object.fromEntries(chosen.map((c) => [c.text, c.was])),
        became: Object.fromEntries(chosen.map((c) => [c.text, c.becomes])),
      },
    })
    return { changed: chosen.length }
  })
}
