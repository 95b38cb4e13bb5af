import { addDays, type Day } from '@heron/core/calendar'
import type { TaskIn } from '@heron/contract'
import { In, Not, type EntityManager } from 'typeorm'
import { differences } from '../people'
import { requireMatter, requireOpenMatter, touchMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertRow, touched, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { sendMail } from '../platform/mail'
import { Task, TaskComment, TaskItem, TaskPaper, TaskPerson, TaskWait } from './entities'
import { pendingOf } from './following'
import { mayChange, dropOf, lockedTask, paperSeen, shortNameOf, waitsFor } from './queries'
import { mayWork } from './scope'

async function around(m: EntityManager, ctx: Ctx, id: number, input: TaskIn) {
  await m.delete(TaskPerson, { taskId: id })
  for (const userId of new Set(input.named)) {
    await mayWork(m, userId, input.matterId, 'named')
    await m.insert(TaskPerson, { taskId: id, userId })
  }
  const keep = input.items.flatMap((i) => i.id ?? [])
  await m.delete(TaskItem, { taskId: id, id: Not(In(keep.length ? keep : [0])) })
  for (const [i, item] of input.items.entries()) {
    const own = { text: item.text, done: item.done, ordinal: i + 1 }
    // An item that somebody else took out meanwhile, and that was kept here, comes back.
    const there = item.id ? await touched(m.update(TaskItem, { id: item.id, taskId: id }, own)) : 0
    if (!there) await m.insert(TaskItem, { taskId: id, ...own })
  }
  await m.delete(TaskPaper, { taskId: id })
  for (const paperId of new Set(input.paperIds)) {
    const there = await paperSeen(m, ctx, paperId, input.matterId)
    if (!there) throw fieldFault('paperIds', 'Choose papers of this matter')
    await m.insert(TaskPaper, { taskId: id, paperId })
  }
}

/** Tells whoever was given work by someone else. */
async function tell(
  m: EntityManager,
  ctx: Ctx,
  id: number,
  assigneeId: number,
  textOfTask: string,
  matterId: number | null,
  dueOn: Day | null,
) {
  if (assigneeId === ctx.actor.id) return
  const matter = matterId ? await shortNameOf(m, matterId) : null
  await sendMail(m, ctx, {
    key: `task ${id} ${assigneeId} ${ctx.clock.now().getTime()}`,
    to: assigneeId,
    subject: `To do: ${textOfTask}`,
    body: `${ctx.actor.name} gave you a task${matter ? ` on ${matter.name}` : ''}:\n\n${textOfTask}\n\n${dueOn ? `Due ${dueOn}.` : 'No date.'}`,
    matterId,
  })
}

const own = (input: TaskIn) => ({
  text: input.text,
  details: input.details,
  matterId: input.matterId,
  assigneeId: input.assigneeId,
  dueOn: input.dueOn,
  dueTime: input.dueOn ? input.dueTime : null,
  remindOn: input.remindOn,
  estimateMinutes: input.estimateMinutes,
  priority: input.priority,
  onlyNamed: input.onlyNamed || input.matterId === null,
})

export const makeTask = (ctx: Ctx, input: TaskIn): Promise<{ id: number }> => work(ctx, (m) => makeTaskIn(m, ctx, input))

/** Makes a task within an act. */
export async function makeTaskIn(m: EntityManager, ctx: Ctx, input: TaskIn): Promise<{ id: number }> {
  if (input.matterId) {
    const matter = await requireMatter(m, ctx, input.matterId)
    if (matter.closedOn) throw refused('matter-closed', `${matter.number} is closed. Reopen it first.`)
  }
  await mayWork(m, input.assigneeId, input.matterId)
  const id = await insertRow(m, Task, { ...own(input), assignedBy: ctx.actor.id, createdAt: instant(ctx.clock.now()) })
  await around(m, ctx, id, input)
  await tell(m, ctx, id, input.assigneeId, input.text, input.matterId, input.dueOn)
  await audit(m, ctx, {
    kind: 'task',
    text: `Task: ${input.text}`,
    matterId: input.onlyNamed ? null : input.matterId,
    subject: 'task',
    subjectId: id,
  })
  return { id }
}

/** The task, locked, when the actor may change it. */
async function lockTask(m: EntityManager, ctx: Ctx, id: number) {
  const t = await lockedTask(m, ctx, id)
  if (!t || !mayChange(ctx, t)) throw notFound('task')
  return t
}

/** Refuses to write over what somebody else changed after it was read. */
async function unchangedSince(m: EntityManager, id: number, before: Awaited<ReturnType<typeof lockTask>>, seen: TaskIn | undefined) {
  if (!seen) return
  const items = await m.find(TaskItem, { select: { id: true, text: true, done: true }, where: { taskId: id }, order: { ordinal: 'ASC' } })
  const people = await m.findBy(TaskPerson, { taskId: id })
  const papers = await m.findBy(TaskPaper, { taskId: id })
  const whole = (t: TaskIn) =>
    JSON.stringify([
      own(t),
      t.items.map((i) => [i.id, i.text, i.done]),
      [...t.named].sort((a, b) => a - b),
      [...t.paperIds].sort((a, b) => a - b),
    ])
  const now: TaskIn = {
    ...before,
    onlyNamed: Boolean(before.onlyNamed),
    items,
    named: people.map((p) => p.userId),
    paperIds: papers.map((p) => p.paperId),
  }
  if (whole(now) !== whole(seen))
    throw refused('changed-meanwhile', 'Somebody else changed this task while you wrote. Nothing was written over.')
}

export function changeTask(ctx: Ctx, id: number, { seen, ...input }: TaskIn & { seen?: TaskIn | undefined }): Promise<void> {
  return work(ctx, async (m) => {
    const before = await lockTask(m, ctx, id)
    await unchangedSince(m, id, before, seen)
    if (input.matterId && input.matterId !== before.matterId) await requireOpenMatter(m, ctx, input.matterId)
    if (before.runId && input.matterId !== before.matterId) throw fieldFault('matterId', 'A step of a procedure stays on its matter')
    // Whoever has it must be able to see where it goes, be it given to somebody else or moved under their hands.
    if (input.assigneeId !== before.assigneeId || input.matterId !== before.matterId) await mayWork(m, input.assigneeId, input.matterId)
    const moved = input.dueOn !== before.dueOn
    await m.update(Task, id, {
      ...own(input),
      ...(moved && before.runId ? { dueByHand: true } : {}),
      ...(input.remindOn !== before.remindOn ? { remindedAt: null } : {}),
    })
    await around(m, ctx, id, input)
    if (input.assigneeId !== before.assigneeId) await tell(m, ctx, id, input.assigneeId, input.text, input.matterId, input.dueOn)
    const { assignedById: _by, doneAt: _done, runId: _run, closedOn: _closed, onlyNamed: _named, ...was } = before
    const { named: _n, items: _i, paperIds: _p, onlyNamed: _o, ...became } = input
    await audit(m, ctx, {
      kind: 'task',
      text: `Task changed: ${input.text}`,
      matterId: input.onlyNamed ? null : input.matterId,
      subject: 'task',
      subjectId: id,
      detail: differences(was, became),
    })
    if (input.matterId) await touchMatter(m, ctx, input.matterId)
  })
}

export function removeTask(ctx: Ctx, id: number): Promise<void> {
  return work(ctx, async (m) => {
    const t = await lockTask(m, ctx, id)
    if (t.doneAt) throw refused('task-done', 'What is done stays on record. Mark it open again first.')
    for (const table of ['task_item', 'task_comment', 'task_person', 'task_paper', 'task_wait']) await dropOf(m, table, id)
    await m.delete(TaskWait, { waitsFor: id })
    await m.delete(Task, { id })
    await audit(m, ctx, {
      kind: 'task',
      text: `Task taken out: ${t.text}`,
      matterId: t.onlyNamed ? null : t.matterId,
      subject: 'task',
      subjectId: id,
    })
  })
}

async function settle(m: EntityManager, ctx: Ctx, id: number, done: boolean) {
  const t = await lockTask(m, ctx, id)
  if (done && !t.doneAt) {
    const waits = await waitsFor(m, id)
    if (waits?.text) throw refused('task-waits', `“${t.text}” waits for: ${waits.text}. Do that first.`)
  }
  if (Boolean(t.doneAt) === done) return t
  await m.update(Task, id, { doneAt: done ? instant(ctx.clock.now()) : null, doneBy: done ? ctx.actor.id : null })
  await audit(m, ctx, {
    kind: 'task',
    text: `${done ? 'Done' : 'Open again'}: ${t.text}`,
    matterId: t.onlyNamed ? null : t.matterId,
    subject: 'task',
    subjectId: id,
  })
  if (t.matterId) await touchMatter(m, ctx, t.matterId)
  return t
}

/** Marks a task done or open again. Answers with the dates that would follow, where steps are counted from this one. */
export function setDone(ctx: Ctx, id: number, done: boolean) {
  return work(ctx, async (m) => {
    const t = await settle(m, ctx, id, done)
    const pending = t.runId ? await pendingOf(m, ctx, t.runId) : null
    return { ok: true as const, follows: pending?.changes.length ? pending : null }
  })
}

export interface Many {
  ids: number[]
  assigneeId?: number | undefined
  dueOn?: Day | null | undefined
  moveDays?: number | undefined
  priority?: 'high' | 'normal' | 'low' | undefined
  done?: boolean | undefined
}

/** Changes several tasks in one act: all of them, or none. */
export function changeMany(ctx: Ctx, input: Many): Promise<{ changed: number }> {
  return work(ctx, async (m) => {
    for (const id of [...new Set(input.ids)].sort((a, b) => a - b)) {
      const t = await lockTask(m, ctx, id)
      const dueOn = input.dueOn !== undefined ? input.dueOn : input.moveDays && t.dueOn ? addDays(t.dueOn, input.moveDays) : t.dueOn
      if (input.assigneeId && input.assigneeId !== t.assigneeId) {
        await mayWork(m, input.assigneeId, t.matterId)
        await tell(m, ctx, id, input.assigneeId, t.text, t.matterId, dueOn)
      }
      const became = { assigneeId: input.assigneeId ?? t.assigneeId, dueOn, priority: input.priority ?? (t.priority as 'normal') }
      await m.update(Task, id, { ...became, ...(dueOn !== t.dueOn && t.runId ? { dueByHand: true } : {}) })
      const detail = differences(
        { assigneeId: t.assigneeId, dueOn: t.dueOn, priority: t.priority },
        became as { assigneeId: number; dueOn: Day | null; priority: string },
      )
      if (Object.keys(detail.became).length)
        await audit(m, ctx, {
          kind: 'task',
          text: `Task changed: ${t.text}`,
          matterId: t.onlyNamed ? null : t.matterId,
          subject: 'task',
          subjectId: id,
          detail,
        })
      if (input.done !== undefined) await settle(m, ctx, id, input.done)
    }
    return { changed: new Set(input.ids).size }
  })
}

export function tickItem(ctx: Ctx, itemId: number, done: boolean): Promise<void> {
  return work(ctx, async (m) => {
    const item = await m.findOne(TaskItem, { select: { taskId: true, text: true, id: true }, where: { id: itemId } })
    if (!item) throw notFound('item')
    const t = await lockTask(m, ctx, item.taskId)
    await m.update(TaskItem, { id: itemId }, { done })
    await audit(m, ctx, {
      kind: 'task',
      text: `${done ? 'Ticked' : 'Unticked'}: ${item.text}`,
      matterId: t.onlyNamed ? null : t.matterId,
      subject: 'task',
      subjectId: item.taskId,
    })
  })
}

export function commentOn(ctx: Ctx, id: number, text: string): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    const t = await lockTask(m, ctx, id)
    const madeId = await insertRow(m, TaskComment, { taskId: id, authorId: ctx.actor.id, text, createdAt: instant(ctx.clock.now()) })
    await audit(m, ctx, {
      kind: 'said',
      text: `On “${t.text}”: ${text.slice(0, 200)}`,
      matterId: t.onlyNamed ? null : t.matterId,
      subject: 'task',
      subjectId: id,
    })
    return { id: madeId }
  })
}
