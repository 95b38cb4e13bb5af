import type { Day } from '@heron/core/calendar'
import { calendarFor, shippedHolidaySets, shippedRuleSets } from '@heron/core/docket'
import { planProcedure, type StepTiming } from '@heron/core/tasks'
import type { EntityManager } from 'typeorm'
import { matterScope, requireMatter, touchMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { row, rows, work } from '../platform/database'
import { fieldFault, notFound } from '../platform/problem'
import { ProcedureRun, Task } from './entities'

export async function tasksOf(ctx: Ctx, f: { matterId?: number | undefined; done: 'open' | 'done' | 'all' }) {
  const m = ctx.db.manager
  if (f.matterId) await requireMatter(m, ctx, f.matterId)
  const which = f.matterId ? `t.matter_id = ${Number(f.matterId)}` : `t.assignee_id = ${Number(ctx.actor.id)}`
  const state = { open: 'AND t.done_at IS NULL', done: 'AND t.done_at IS NOT NULL', all: '' }[f.done]
  const list = await rows<{
    id: number
    text: string
    matterId: number | null
    matter: string | null
    assigneeId: number
    assignee: string
    dueOn: string | null
    priority: 'high' | 'normal' | 'low'
    done: number
    step: string | null
  }>(
    m,
    `SELECT t.id, t.text, t.matter_id AS matterId, m.short_name AS matter, t.assignee_id AS assigneeId, u.name AS assignee, t.due_on AS dueOn, t.priority, t.done_at IS NOT NULL AS done,
            CONCAT('step ', t.step, ' of ', r.steps) AS step
       FROM task t JOIN user_account u ON u.id = t.assignee_id LEFT JOIN matter m ON m.id = t.matter_id LEFT JOIN procedure_run r ON r.id = t.run_id
      WHERE ${which} ${state} AND (t.matter_id IS NULL OR ${matterScope(ctx.actor)}) ORDER BY t.done_at IS NOT NULL, t.due_on IS NULL, t.due_on, FIELD(t.priority, 'high', 'normal', 'low'), t.id LIMIT 500`,
  )
  return list.map((t) => ({ ...t, done: Boolean(t.done) }))
}

export interface TaskIn {
  text: string
  matterId: number | null
  assigneeId: number
  dueOn: Day | null
  priority: 'high' | 'normal' | 'low'
}

async function mayWork(m: EntityManager, assigneeId: number, matterId: number | null) {
  const who = await row<{ active: number; name: string }>(m, `SELECT active, name FROM user_account WHERE id = ?`, [assigneeId])
  if (!who?.active) throw fieldFault('assigneeId', 'Choose someone who works here')
  if (matterId && (await row(m, `SELECT 1 FROM matter_screen WHERE matter_id = ? AND user_id = ?`, [matterId, assigneeId])))
    throw fieldFault('assigneeId', `${who.name} cannot be given work on this matter`)
}

export function makeTask(ctx: Ctx, input: TaskIn): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    if (input.matterId) await requireMatter(m, ctx, input.matterId)
    await mayWork(m, input.assigneeId, input.matterId)
    const made = await m.insert(Task, { ...input, assignedBy: ctx.actor.id, createdAt: instant(ctx.clock.now()) })
    const id = made.identifiers[0]!['id'] as number
    await audit(m, ctx, { kind: 'task', text: `Task: ${input.text}`, matterId: input.matterId, subject: 'task', subjectId: id })
    return { id }
  })
}

export function setDone(ctx: Ctx, id: number, done: boolean): Promise<void> {
  return work(ctx, async (m) => {
    const task = await row<{ text: string; matterId: number | null; assigneeId: number; assignedBy: number }>(
      m,
      `SELECT t.text, t.matter_id AS matterId, t.assignee_id AS assigneeId, t.assigned_by AS assignedBy FROM task t LEFT JOIN matter m ON m.id = t.matter_id
        WHERE t.id = ? AND (t.matter_id IS NULL OR ${matterScope(ctx.actor)}) FOR UPDATE`,
      [id],
    )
    const own = task && (task.assigneeId === ctx.actor.id || task.assignedBy === ctx.actor.id)
    if (!task || (!task.matterId && !own)) throw notFound('task')
    await m.update(Task, id, { doneAt: done ? instant(ctx.clock.now()) : null, doneBy: done ? ctx.actor.id : null })
    await audit(m, ctx, {
      kind: 'task',
      text: `${done ? 'Done' : 'Open again'}: ${task.text}`,
      matterId: task.matterId,
      subject: 'task',
      subjectId: id,
    })
    if (task.matterId) await touchMatter(m, ctx, task.matterId)
  })
}

export const procedures = (ctx: Ctx) =>
  rows<{ id: number; name: string; description: string; area: string | null; steps: number }>(
    ctx.db.manager,
    `SELECT p.id, p.name, p.description, a.name AS area, (SELECT COUNT(*) FROM procedure_step s WHERE s.procedure_id = p.id) AS steps
       FROM procedure_def p LEFT JOIN practice_area a ON a.id = p.area_id ORDER BY p.name`,
  )

interface StepRow {
  ordinal: number
  text: string
  assignTo: 'lead' | 'paralegal' | 'starter'
  anchorStep: number | null
  count: number
  unit: 'calendar' | 'business'
  direction: 'after' | 'before'
  priority: 'high' | 'normal' | 'low'
}

async function plan(m: EntityManager, ctx: Ctx, matterId: number, leadId: number, procedureId: number, start: Day) {
  const steps = await rows<StepRow>(
    m,
    `SELECT ordinal, text, assign_to AS assignTo, anchor_step AS anchorStep, count, unit, direction, priority FROM procedure_step WHERE procedure_id = ? ORDER BY ordinal`,
    [procedureId],
  )
  if (!steps.length) throw notFound('procedure')
  const timings = steps.map((s): StepTiming => ({
    anchor: s.anchorStep === null ? { kind: 'start' } : { kind: 'step', step: s.anchorStep - 1 },
    count: s.count,
    unit: s.unit,
    direction: s.direction,
  }))
  const district = (await row<{ district: string | null }>(m, `SELECT district FROM firm`))!.district
  const dated = planProcedure(timings, start, calendarFor(shippedRuleSets[0]!, shippedHolidaySets, district))
  const paralegal = await row<{ id: number }>(
    m,
    `SELECT user_id AS id FROM matter_team WHERE matter_id = ? AND role IN ('paralegal', 'assistant') ORDER BY role DESC LIMIT 1`,
    [matterId],
  )
  const who = { lead: leadId, paralegal: paralegal?.id ?? leadId, starter: ctx.actor.id }
  return steps.map((s, i) => ({
    ordinal: s.ordinal,
    text: s.text,
    priority: s.priority,
    dueOn: dated[i]!.due,
    how: dated[i]!.how,
    assigneeId: who[s.assignTo],
  }))
}

/** The actual dates and people of a procedure, before anything is made. */
export async function previewProcedure(ctx: Ctx, matterId: number, procedureId: number, start: Day) {
  const matter = await requireMatter(ctx.db.manager, ctx, matterId)
  return plan(ctx.db.manager, ctx, matterId, matter.leadId, procedureId, start)
}

/** Starts a procedure with the dates and people as agreed in the preview; steps left out of it are not made. */
export function startProcedure(
  ctx: Ctx,
  matterId: number,
  procedureId: number,
  start: Day,
  chosen: { ordinal: number; dueOn: Day; assigneeId: number }[],
) {
  return work(ctx, async (m) => {
    const matter = await requireMatter(m, ctx, matterId)
    const steps = await plan(m, ctx, matterId, matter.leadId, procedureId, start)
    const name = await row<{ name: string }>(m, `SELECT name FROM procedure_def WHERE id = ?`, [procedureId])
    const run = await m.insert(ProcedureRun, { procedureId, matterId, startedOn: start, startedBy: ctx.actor.id, steps: chosen.length })
    const runId = run.identifiers[0]!['id'] as number
    let n = 0
    for (const step of steps) {
      const own = chosen.find((c) => c.ordinal === step.ordinal)
      if (!own) continue
      n += 1
      await mayWork(m, own.assigneeId, matterId)
      await m.insert(Task, {
        matterId,
        runId,
        step: n,
        text: step.text,
        assigneeId: own.assigneeId,
        assignedBy: ctx.actor.id,
        priority: step.priority,
        dueOn: own.dueOn,
        createdAt: instant(ctx.clock.now()),
      })
    }
    if (n !== chosen.length) throw fieldFault('steps', 'The procedure has changed. Look at the preview again.')
    await audit(m, ctx, {
      kind: 'task',
      text: `Procedure ${name!.name} started, ${n} steps`,
      matterId,
      subject: 'procedure',
      subjectId: runId,
    })
    await touchMatter(m, ctx, matterId)
    return { tasks: n }
  })
}
