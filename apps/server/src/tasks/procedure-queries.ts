import type { ProcedureIn } from '@heron/contract'
import { type Day } from '@heron/core/calendar'
import { docketAnchors, followAnchors, type Known, type Step } from '@heron/core/tasks'
import type { EntityManager } from 'typeorm'
import { type Ctx, isoOf } from '../platform/context'
import { literal, row, rows } from '../platform/database'
import { notFound } from '../platform/problem'
import { workingDays } from './queries'

export interface RunRow {
  id: number
  matterId: number
  procedure: string
  start: Day
  opened: Day
  steps: string
  anchors: string
}

export const runSql = `SELECT r.id, r.matter_id AS matterId, p.name AS \`procedure\`, r.started_on AS start, m.opened_on AS opened, v.steps, r.anchors
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

/** What of a running procedure waits for an anchor, and how each of its tasks is dated by what is known now. */
export async function pending(m: EntityManager, ctx: Ctx, r: RunRow) {
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
    done: Object.fromEntries(tasks.filter((t) => t.done).map((t) => [t.key, ctx.clock.at(t.done!).day])),
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

/** All procedures as they stand now, with how many steps each has. */
export async function procedures(ctx: Ctx) {
  const list = await rows<{
    id: number
    name: string
    description: string
    areaId: number | null
    area: string | null
    version: number
    retired: number
    steps: string
  }>(
    ctx.db.manager,
    `SELECT p.id, p.name, p.description, p.area_id AS areaId, a.name AS area, p.version, p.retired, v.steps FROM procedure_def p JOIN procedure_version v ON v.procedure_id = p.id AND v.version = p.version
       LEFT JOIN practice_area a ON a.id = p.area_id ORDER BY p.retired, p.name`,
  )
  return list.map((p) => {
    const steps = JSON.parse(p.steps) as Step[]
    return {
      ...p,
      retired: Boolean(p.retired),
      steps: steps.length,
      dates: docketAnchors(steps),
      given: steps.some((s) => s.assignTo.kind === 'given'),
    }
  })
}

/** A procedure in its latest version. */
export async function current(m: EntityManager, id: number) {
  const p = await row<{
    id: number
    name: string
    description: string
    areaId: number | null
    version: number
    retired: number
    steps: string
  }>(
    m,
    `SELECT p.id, p.name, p.description, p.area_id AS areaId, p.version, p.retired, v.steps FROM procedure_def p JOIN procedure_version v ON v.procedure_id = p.id AND v.version = p.version WHERE p.id = ?`,
    [id],
  )
  if (!p) throw notFound('procedure')
  return { ...p, retired: Boolean(p.retired), steps: JSON.parse(p.steps) as ProcedureIn['steps'] }
}

/** A procedure with its versions and how often it was started. */
export async function procedure(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const own = await current(m, id)
  const versions = await rows<{ version: number; at: string; by: string }>(
    m,
    `SELECT v.version, v.made_at AS at, COALESCE(u.name, 'Set up with the firm') AS \`by\` FROM procedure_version v LEFT JOIN user_account u ON u.id = v.made_by WHERE v.procedure_id = ? ORDER BY v.version DESC`,
    [id],
  )
  const runs = await row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM procedure_run WHERE procedure_id = ?`, [id])
  return { ...own, runs: runs!.n, versions: versions.map((v) => ({ ...v, at: isoOf(v.at) })) }
}

/** The matter's dates that a named docket date may be, its trigger events included: those with the name in their title first. */
export async function datesFor(m: EntityManager, matterId: number, name: string, wanted: string | undefined) {
  const list = await rows<{ key: string; title: string; day: Day; fits: number }>(
    m,
    `SELECT x.*, CASE WHEN x.title = ? THEN 3 WHEN x.title LIKE ? THEN 2 WHEN x.title LIKE ? AND x.set_day THEN 1 ELSE 0 END AS fits FROM (
        SELECT CONCAT('entry ', id) AS \`key\`, title, day, weight IN ('court order', 'appointment') AS set_day FROM docket_entry WHERE matter_id = ? AND mark <> 'vacated' AND NOT left_out
        UNION ALL SELECT CONCAT('trigger ', id), label, day, TRUE FROM trigger_event WHERE matter_id = ? AND removed_at IS NULL) x ORDER BY fits DESC, x.set_day DESC, x.day LIMIT 80`,
    [name, `${literal(name)} %`, `%${literal(name)}%`, matterId, matterId],
  )
  const chosen = wanted === 'none' ? null : (list.find((d) => d.key === wanted)?.key ?? (list[0]?.fits ? list[0].key : null))
  return { name, chosen, choices: list.map(({ key, title, day }) => ({ key, title, day })) }
}

/** Who is on a matter and still works here, the longest first, for giving out steps by role. */
export const teamOf = (m: EntityManager, matterId: number) =>
  rows<{ id: number; role: string }>(
    m,
    `SELECT t.user_id AS id, t.role FROM matter_team t JOIN user_account u ON u.id = t.user_id WHERE t.matter_id = ? AND u.active ORDER BY t.since, t.user_id`,
    [matterId],
  )

/** A running procedure. */
export const runRow = (m: EntityManager, runId: number) => row<RunRow>(m, `${runSql} WHERE r.id = ?`, [runId])

/** Running procedures of a matter that have open tasks. */
export const runsOn = (m: EntityManager, matterId: number) =>
  rows<RunRow>(
    m,
    `${runSql} WHERE r.matter_id = ? AND EXISTS (SELECT 1 FROM task t WHERE t.run_id = r.id AND t.done_at IS NULL) ORDER BY r.id`,
    [matterId],
  )

/** A running procedure, locked while its dates follow. */
export const lockedRun = (m: EntityManager, runId: number) => row<RunRow>(m, `${runSql} WHERE r.id = ? FOR UPDATE`, [runId])
