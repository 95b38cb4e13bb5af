import { addDays, weekday, type Day } from '@heron/core/calendar'
import { bucketOf, buckets, type Bucket } from '@heron/core/tasks'
import { matterScope, requireMatter } from '../platform/access'
import { isoOf, may, type Ctx } from '../platform/context'
import { row, rows, literal } from '../platform/database'
import { notFound } from '../platform/problem'
import { taskScope } from './scope'

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
