import { dayPart, type Day } from '@heron/core/calendar'
import { followAnchors, type Known, type Step } from '@heron/core/tasks'
import type { EntityManager } from 'typeorm'
import { requireMatter, requireOpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { row, rows, work } from '../platform/database'
import { notFound, refused } from '../platform/problem'
import { Task } from './entities'
import { workingDays } from './scope'

interface RunRow {
  id: number
  matterId: number
  procedure: string
  start: Day
  opened: Day
  steps: string
  anchors: string
}

const runSql = `SELECT r.id, r.matter_id AS matterId, p.name AS \`procedure\`, r.started_on AS start, m.opened_on AS opened, v.steps, r.anchors
  FROM procedure_run r JOIN procedure_def p ON p.id = r.procedure_id JOIN matter m ON m.id = r.matter_id JOIN procedure_version v ON v.procedure_id = r.procedure_id AND v.version = r.version`

/**
 * Days of docket dates by the names a procedure gives them. Each is an entry of the docket (`entry 12`) or a trigger
 * event (`trigger 5`). Vacated entries, and those left out, are no anchors.
 */
export async function docketDays(m: EntityManager, anchors: Readonly<Record<string, string>>): Promise<Record<string, Day | null>> {
  const days = new Map<string, Day>()
  const ids = (kind: string) => Object.values(anchors).flatMap((a) => (a.startsWith(`${kind} `) ? [Number(a.slice(kind.length + 1))] : []))
  const [entries, triggers] = [ids('entry'), ids('trigger')]
  if (entries.length)
    for (const d of await rows<{ id: number; day: Day }>(
      m,
      `SELECT id, day FROM docket_entry WHERE id IN (?) AND mark <> 'vacated' AND NOT left_out`,
      [entries],
    ))
      days.set(`entry ${d.id}`, d.day)
  if (triggers.length)
    for (const d of await rows<{ id: number; day: Day }>(m, `SELECT id, day FROM trigger_event WHERE id IN (?) AND removed_at IS NULL`, [
      triggers,
    ]))
      days.set(`trigger ${d.id}`, d.day)
  return Object.fromEntries(Object.entries(anchors).map(([name, key]) => [name, days.get(key) ?? null]))
}

/** What dates of a running procedure would follow its anchors as they are now. */
export async function pendingOf(m: EntityManager, ctx: Ctx, runId: number) {
  const found = await row<RunRow>(m, `${runSql} WHERE r.id = ?`, [runId])
  if (!found) throw notFound('procedure')
  return pending(m, ctx, found)
}

async function pending(m: EntityManager, _ctx: Ctx, r: RunRow) {
  const tasks = await rows<{ id: number; key: string; text: string; due: Day | null; done: string | null; byHand: number }>(
    m,
    `SELECT id, step_key AS \`key\`, text, due_on AS due, done_at AS done, due_by_hand AS byHand FROM task WHERE run_id = ?`,
    [r.id],
  )
  const kept = new Set(tasks.map((t) => t.key))
  const all = JSON.parse(r.steps) as Step[]
  // Steps that were left out at the start are dated, since others may be counted from them, but never follow.
  const known: Known = {
    start: r.start,
    opened: r.opened,
    docket: await docketDays(m, JSON.parse(r.anchors) as Record<string, string>),
    done: Object.fromEntries(tasks.filter((t) => t.done).map((t) => [t.key, dayPart(t.done!)])),
  }
  const running = tasks.map((t) => ({ key: t.key, due: t.due, done: t.done !== null, byHand: Boolean(t.byHand) }))
  const changes = followAnchors(all, running, known, await workingDays(m)).filter((c) => kept.has(c.key))
  const byKey = new Map(tasks.map((t) => [t.key, t]))
  return {
    runId: r.id,
    procedure: r.procedure,
    changes: changes.map((c) => ({
      taskId: byKey.get(c.key)!.id,
      text: byKey.get(c.key)!.text,
      was: c.was,
      becomes: c.becomes,
      why: c.why,
    })),
  }
}

/** All running procedures of a matter that have dates which would follow. */
export async function followingOf(ctx: Ctx, matterId: number) {
  const m = ctx.db.manager
  const matter = await requireMatter(m, ctx, matterId)
  if (matter.closedOn) return []
  const runs = await rows<RunRow>(
    m,
    `${runSql} WHERE r.matter_id = ? AND EXISTS (SELECT 1 FROM task t WHERE t.run_id = r.id AND t.done_at IS NULL) ORDER BY r.id`,
    [matterId],
  )
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
    const r = await row<RunRow>(m, `${runSql} WHERE r.id = ? FOR UPDATE`, [runId])
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
