import type { TaskIn } from '@heron/contract'
import { addDays, type CourtCalendar, type Day, firmCalendar, latestDay, weekday } from '@heron/core/calendar'
import { calendarFor, shippedHolidaySets, shippedRuleSets } from '@heron/core/docket'
import { type Bucket, bucketOf, buckets } from '@heron/core/tasks'
import type { EntityManager } from 'typeorm'
import { handable, matterScope, nameInHandover, requireMatter } from '../platform/access'
import type { Held } from '../platform/area'
import { type Actor, type Ctx, isoOf, may } from '../platform/context'
import { literal, row, rows, run } from '../platform/database'
import { notFound } from '../platform/problem'
import { Firm } from '../platform/shared-entities'

const undone = `FROM task_wait tw JOIN task w ON w.id = tw.waits_for WHERE tw.task_id = t.id AND w.done_at IS NULL`
const select = `SELECT t.id, t.text, t.matter_id AS matterId, m.short_name AS matter, t.assignee_id AS assigneeId, u.name AS assignee, u.initials, t.assigned_by AS assignedById, g.name AS assignedBy,
    t.due_on AS dueOn, TIME_FORMAT(t.due_time, '%H:%i') AS dueTime, t.priority, t.done_at AS doneAt, CONCAT('step ', t.step, ' of ', r.steps) AS step, p.name AS \`procedure\`, t.only_named AS onlyNamed, t.remind_on AS remindOn,
    (SELECT GROUP_CONCAT(w.text ORDER BY w.id SEPARATOR '; ') ${undone}) AS waits,
    (SELECT COUNT(*) FROM task_item i WHERE i.task_id = t.id) AS items, (SELECT COUNT(*) FROM task_item i WHERE i.task_id = t.id AND i.done) AS itemsDone,
    (SELECT COUNT(*) FROM task_comment c WHERE c.task_id = t.id) AS comments`
const from = `FROM task t JOIN user_account u ON u.id = t.assignee_id JOIN user_account g ON g.id = t.assigned_by LEFT JOIN matter m ON m.id = t.matter_id
  LEFT JOIN procedure_run r ON r.id = t.run_id LEFT JOIN procedure_def p ON p.id = r.procedure_id`
const order = `ORDER BY t.done_at IS NOT NULL, t.done_at DESC, t.due_on IS NULL, t.due_on, t.due_time IS NULL, t.due_time, FIELD(t.priority, 'high', 'normal', 'low'), t.id`

interface TaskRead {
  id: number
  text: string
  matterId: number | null
  matter: string | null
  assigneeId: number
  assignee: string
  initials: string
  assignedById: number
  assignedBy: string
  dueOn: Day | null
  dueTime: string | null
  priority: 'high' | 'normal' | 'low'
  doneAt: string | null
  step: string | null
  procedure: string | null
  onlyNamed: number
  remindOn: Day | null
  waits: string | null
  items: number
  itemsDone: number
  comments: number
}

const shown = (today: Day, t: TaskRead) => ({
  ...t,
  done: t.doneAt !== null,
  doneAt: t.doneAt && isoOf(t.doneAt),
  onlyNamed: Boolean(t.onlyNamed),
  reminds: t.doneAt === null && t.remindOn !== null && t.remindOn <= today,
  waits: t.doneAt ? null : t.waits,
  bucket: bucketOf(t.dueOn, t.doneAt !== null, today, weekday(today)) as string,
})

/** Days of a bucket as a condition, so that a view is cut by the database. */
function whereBucket(bucket: string, today: Day): string {
  const sunday = addDays(today, 7 - weekday(today))
  const tomorrow = addDays(today, 1)
  return (
    {
      overdue: `t.done_at IS NULL AND t.due_on < '${today}'`,
      today: `t.done_at IS NULL AND t.due_on = '${today}'`,
      tomorrow: `t.done_at IS NULL AND t.due_on = '${tomorrow}'`,
      'this week': `t.done_at IS NULL AND t.due_on > '${tomorrow}' AND t.due_on <= '${sunday}'`,
      later: `t.done_at IS NULL AND t.due_on > '${tomorrow > sunday ? tomorrow : sunday}'`,
      'no date': `t.done_at IS NULL AND t.due_on IS NULL`,
      done: `t.done_at IS NOT NULL`,
    }[bucket] ?? '1 = 1'
  )
}

interface Filter {
  matterId?: number | undefined
  view: 'mine' | 'assigned' | 'person' | 'all'
  userId?: number | undefined
  q: string
  done: 'open' | 'done' | 'all'
  when: string
  page: number
}
const size = 200

/** Tasks of a matter, of a person or of the firm as the reader may see them, a page of them. */
export async function tasksOf(ctx: Ctx, f: Filter) {
  const m = ctx.db.manager
  if (f.matterId) await requireMatter(m, ctx, f.matterId)
  const today = ctx.clock.today()
  const me = Number(ctx.actor.id)
  const which = f.matterId
    ? `t.matter_id = ${Number(f.matterId)}`
    : {
        mine: `t.assignee_id = ${me}`,
        assigned: `t.assigned_by = ${Number(f.userId ?? me)} AND t.assignee_id <> ${Number(f.userId ?? me)}`,
        person: `t.assignee_id = ${Number(f.userId ?? me)}`,
        all: '1 = 1',
      }[f.view]
  const base = `${which} AND (m.id IS NULL OR m.closed_on IS NULL OR t.done_at IS NOT NULL OR ${f.matterId ? '1 = 1' : '1 = 0'}) AND ${taskScope(ctx.actor)} AND (? = '' OR t.text LIKE ? OR m.short_name LIKE ?)`
  const like = `%${literal(f.q)}%`
  const values = [f.q, like, like]
  const state = f.when ? whereBucket(f.when, today) : { open: 't.done_at IS NULL', done: 't.done_at IS NOT NULL', all: '1 = 1' }[f.done]
  const count = (bucket: string) => `SUM(${whereBucket(bucket, today)})`
  const counts = await row<Record<string, number | null>>(
    m,
    `SELECT SUM(${state}) AS total, ${buckets.map((b) => `${count(b)} AS \`${b}\``).join(', ')} FROM task t LEFT JOIN matter m ON m.id = t.matter_id WHERE ${base}`,
    values,
  )
  const list = await rows<TaskRead>(
    m,
    `${select} ${from} WHERE ${base} AND ${state} ${order} LIMIT ${size} OFFSET ${(Number(f.page) - 1) * size}`,
    values,
  )
  return {
    rows: list.map((t) => shown(today, t)),
    total: counts!['total'] ?? 0,
    counts: Object.fromEntries(buckets.map((b: Bucket) => [b, counts![b] ?? 0])),
  }
}

/** Open tasks by person. Tasks of one's own that others may not see are not on it. */
export async function board(ctx: Ctx) {
  const m = ctx.db.manager
  const today = ctx.clock.today()
  const people = await rows<{ userId: number; name: string; initials: string; open: number; overdue: number }>(
    m,
    `SELECT u.id AS userId, u.name, u.initials, COUNT(x.id) AS open, COALESCE(SUM(x.due_on < ?), 0) AS overdue FROM user_account u
       LEFT JOIN (SELECT t.id, t.assignee_id, t.due_on FROM task t LEFT JOIN matter m ON m.id = t.matter_id WHERE t.done_at IS NULL AND (m.id IS NULL OR m.closed_on IS NULL) AND ${taskScope(ctx.actor)}) x ON x.assignee_id = u.id
      WHERE u.active GROUP BY u.id ORDER BY u.id`,
    [today],
  )
  const list = await rows<TaskRead & { place: number }>(
    m,
    `SELECT * FROM (${select}, ROW_NUMBER() OVER (PARTITION BY t.assignee_id ORDER BY t.due_on IS NULL, t.due_on, FIELD(t.priority, 'high', 'normal', 'low'), t.id) AS place ${from}
      WHERE t.done_at IS NULL AND (m.id IS NULL OR m.closed_on IS NULL) AND ${taskScope(ctx.actor)}) x WHERE x.place <= 30 ORDER BY x.place`,
  )
  return people.map((p) => ({
    ...p,
    rows: list.filter((t) => t.assigneeId === p.userId).map(({ place: _place, ...t }) => shown(today, t)),
  }))
}

/** Tasks of a matter are changed by whoever sees them; others only by whom they are of or from. */
export const mayChange = (ctx: Ctx, t: { matterId: number | null; assigneeId: number; assignedById: number }) =>
  t.matterId !== null || t.assigneeId === ctx.actor.id || t.assignedById === ctx.actor.id

/** One task with its checklist, comments, papers and what must be done before it. */
export async function task(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const found = await row<TaskRead & { details: string; estimateMinutes: number | null; doneBy: string | null }>(
    m,
    `${select}, t.details, t.estimate_minutes AS estimateMinutes, d.name AS doneBy ${from} LEFT JOIN user_account d ON d.id = t.done_by WHERE t.id = ? AND ${taskScope(ctx.actor)}`,
    [id],
  )
  if (!found) throw notFound('task')
  const checklist = await rows<{ id: number; text: string; done: number }>(
    m,
    `SELECT id, text, done FROM task_item WHERE task_id = ? ORDER BY ordinal`,
    [id],
  )
  const talk = await rows<{ id: number; who: string; at: string; text: string }>(
    m,
    `SELECT c.id, u.name AS who, c.created_at AS at, c.text FROM task_comment c JOIN user_account u ON u.id = c.author_id WHERE c.task_id = ? ORDER BY c.id`,
    [id],
  )
  const named = await rows<{ id: number; name: string }>(
    m,
    `SELECT u.id, u.name FROM task_person p JOIN user_account u ON u.id = p.user_id WHERE p.task_id = ? ORDER BY u.name`,
    [id],
  )
  const papers = may(ctx.actor, 'papers.see')
    ? await rows<{ id: number; name: string }>(
        m,
        `SELECT x.id, x.name FROM task_paper p JOIN paper x ON x.id = p.paper_id JOIN matter m ON m.id = x.matter_id WHERE p.task_id = ? AND x.deleted_at IS NULL AND ${matterScope(ctx.actor, 'm', 'papers')} ORDER BY x.name`,
        [id],
      )
    : []
  return {
    ...shown(ctx.clock.today(), found),
    details: found.details,
    remindOn: found.remindOn,
    estimateMinutes: found.estimateMinutes,
    doneBy: found.doneBy,
    checklist: checklist.map((i) => ({ ...i, done: Boolean(i.done) })),
    talk: talk.map((c) => ({ ...c, at: isoOf(c.at) })),
    named,
    papers,
    mayChange: mayChange(ctx, found),
  }
}

/** Open tasks of a person; what whoever asks may not see is told without its words. */
export const tasksHeld = (m: EntityManager, ctx: Ctx, userId: number, to: Day | undefined) =>
  rows<Held>(
    m,
    `SELECT t.id, IF(m.id IS NULL OR (${matterScope(ctx.actor)} AND NOT t.only_named), t.text, 'A task') AS text, CONCAT_WS(', ', t.due_on, IF(m.id IS NULL, 'no matter', ${nameInHandover(ctx.actor)})) AS hint FROM task t LEFT JOIN matter m ON m.id = t.matter_id
        WHERE t.assignee_id = ? AND t.done_at IS NULL AND (t.due_on IS NULL OR t.due_on <= ?) AND (m.id IS NULL OR (m.closed_on IS NULL AND ${handable(ctx.actor)})) ORDER BY t.due_on IS NULL, t.due_on, t.id`,
    [userId, to ?? latestDay],
  )

/** The matter that a task belongs to, if any. */
export const matterOfTask = (m: EntityManager, id: number) =>
  row<{ matterId: number | null; number: string | null }>(
    m,
    `SELECT t.matter_id AS matterId, m.number FROM task t LEFT JOIN matter m ON m.id = t.matter_id WHERE t.id = ?`,
    [id],
  )

/** Tasks whose reminder is due. */
export const toRemindOf = (base: Omit<Ctx, 'actor'>, today: Day) =>
  rows<{
    id: number
    assigneeId: number
    text: string
    dueOn: Day | null
    remindOn: Day
    matterId: number | null
    matter: string | null
  }>(
    base.db.manager,
    `SELECT t.id, t.assignee_id AS assigneeId, t.text, t.due_on AS dueOn, t.remind_on AS remindOn, t.matter_id AS matterId, m.short_name AS matter FROM task t LEFT JOIN matter m ON m.id = t.matter_id
      WHERE t.remind_on <= ? AND t.reminded_at IS NULL AND t.done_at IS NULL AND (m.id IS NULL OR m.closed_on IS NULL) ORDER BY t.id LIMIT 200`,
    [today],
  )

/** Whether a matter is open to whoever asks. */
export const matterSeen = (m: EntityManager, actor: Actor, matterId: number) =>
  row(m, `SELECT 1 FROM matter m WHERE m.id = ? AND ${matterScope(actor)}`, [matterId])

/**
 * Who may see a task, as SQL on `task t` and its `matter m`: those who see the matter's file, or, where it is for those
 * named only, the assignee, who gave it out, and those named. A task without a matter is always for those only.
 */
export function taskScope(actor: Actor): string {
  const user = Number(actor.id)
  const own = `(t.assignee_id = ${user} OR t.assigned_by = ${user} OR EXISTS (SELECT 1 FROM task_person tp WHERE tp.task_id = t.id AND tp.user_id = ${user}))`
  return `((t.matter_id IS NULL AND ${own}) OR (t.matter_id IS NOT NULL AND ${matterScope(actor)} AND (NOT t.only_named OR ${own})))`
}

/** The days on which the firm works: its week, its own holidays, and those of the federal courts. */
export async function workingDays(m: EntityManager): Promise<CourtCalendar> {
  const firm = await m.findOne(Firm, { select: { district: true, workDays: true, id: true }, where: { id: 1 } })
  const own = await rows<{ day: Day; name: string }>(m, `SELECT day, name FROM firm_holiday`)
  return firmCalendar(
    calendarFor(shippedRuleSets[0]!, shippedHolidaySets, firm?.district ?? null),
    JSON.parse(firm?.workDays ?? '[1,2,3,4,5]') as number[],
    new Map(own.map((h) => [h.day, h.name])),
  )
}

/** Whether somebody is screened from a matter. */
export const screened = (m: EntityManager, matterId: number, assigneeId: number) =>
  row(m, `SELECT 1 FROM matter_screen WHERE matter_id = ? AND user_id = ?`, [matterId, assigneeId])

/** Whether a paper lies on a matter and is open to whoever asks. */
export const paperSeen = (m: EntityManager, ctx: Ctx, paperId: number, matterId: number | null) =>
  row(
    m,
    `SELECT 1 FROM paper p JOIN matter m ON m.id = p.matter_id WHERE p.id = ? AND p.matter_id = ? AND ${matterScope(ctx.actor, 'm', 'papers')}`,
    [paperId, matterId],
  )

/** What a matter is called. */
export const shortNameOf = (m: EntityManager, matterId: number) =>
  row<{ name: string }>(m, `SELECT short_name AS name FROM matter WHERE id = ?`, [matterId])

/** A task as it stands once it is locked. */
export const lockedTask = (m: EntityManager, ctx: Ctx, id: number) =>
  row<{
    text: string
    matterId: number | null
    assigneeId: number
    assignedById: number
    dueOn: Day | null
    dueTime: string | null
    remindOn: Day | null
    priority: TaskIn['priority']
    details: string
    estimateMinutes: number | null
    onlyNamed: number
    doneAt: string | null
    runId: number | null
    closedOn: Day | null
  }>(
    m,
    `SELECT t.text, t.matter_id AS matterId, t.assignee_id AS assigneeId, t.assigned_by AS assignedById, t.due_on AS dueOn, TIME_FORMAT(t.due_time, '%H:%i') AS dueTime, t.remind_on AS remindOn, t.priority,
            t.details, t.estimate_minutes AS estimateMinutes, t.only_named AS onlyNamed, t.done_at AS doneAt, t.run_id AS runId, m.closed_on AS closedOn
       FROM task t LEFT JOIN matter m ON m.id = t.matter_id WHERE t.id = ? AND ${taskScope(ctx.actor)} FOR UPDATE`,
    [id],
  )

/** What hangs on a task is written anew. */
export const dropOf = (m: EntityManager, table: string, id: number) => run(m, `DELETE FROM ${table} WHERE task_id = ?`, [id])

/** The open tasks that a task waits for, by their words. */
export const waitsFor = (m: EntityManager, id: number) =>
  row<{ text: string | null }>(
    m,
    `SELECT GROUP_CONCAT(w.text ORDER BY w.id SEPARATOR '; ') AS text FROM task_wait x JOIN task w ON w.id = x.waits_for WHERE x.task_id = ? AND w.done_at IS NULL`,
    [id],
  )

/** Tasks given to others that are late. */
export const lateElsewhere = (ctx: Ctx) =>
  row<{ n: number }>(
    ctx.db.manager,
    `SELECT COUNT(*) AS n FROM task t LEFT JOIN matter m ON m.id = t.matter_id WHERE t.assigned_by = ? AND t.assignee_id <> ? AND t.done_at IS NULL AND t.due_on < ? AND (m.id IS NULL OR (m.closed_on IS NULL AND ${matterScope(ctx.actor)}))`,
    [ctx.actor.id, ctx.actor.id, ctx.clock.today()],
  )
