import { counted } from '@heron/core/words'
import type { ProcedureFile, ProcedureIn } from '@heron/contract'
import { procedureFile as fileSchema } from '@heron/contract'
import { addDays, type Day } from '@heron/core/calendar'
import { docketAnchors, faultsOfSteps, planProcedure, type AssignTo } from '@heron/core/tasks'
import type { EntityManager } from 'typeorm'
import { requireMatter, requireOpenMatter, touchMatter, type OpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertRow, locked, work } from '../platform/database'
import { download } from '../platform/files'
import { fieldFault, notFound, Problem, refused } from '../platform/problem'
import { unchangedSince } from '../platform/seen'
import { ProcedureDef, ProcedureRun, ProcedureVersion, Task, TaskWait } from './entities'
import { docketDays, current, datesFor, teamOf } from './procedure-queries'
import { mayWork } from './scope'
import { workingDays } from './queries'
import { PracticeArea, UserAccount } from '../platform/shared-entities'

/** Makes a procedure, or a new version of one. What was started keeps the version it was started from. */
export function saveProcedure(
  ctx: Ctx,
  input: ProcedureIn & { id?: number | undefined; seen?: number | undefined },
): Promise<{ id: number; version: number }> {
  return work(ctx, async (m) => {
    const faults = faultsOfSteps(input.steps)
    if (faults.length)
      throw new Problem(
        400,
        'invalid',
        faults[0]!,
        faults.map((message) => ({ path: 'steps', message })),
      )
    if (input.areaId && !(await m.existsBy(PracticeArea, { id: input.areaId }))) throw fieldFault('areaId', 'Choose a practice area')
    for (const [i, s] of input.steps.entries())
      if (s.assignTo.kind === 'person') await mayWork(m, s.assignTo.userId, null, `steps.${i}.assignTo`)
    const own = { name: input.name, description: input.description, areaId: input.areaId }
    let id = input.id ?? 0
    let version = 1
    if (input.id) {
      const before = await m.findOne(ProcedureDef, {
        select: { version: true, id: true },
        where: { id: input.id },
        ...locked(m),
      })
      if (!before) throw notFound('procedure')
      unchangedSince({ version: before.version }, input.seen ? { version: input.seen } : undefined, 'this procedure')
      version = before.version + 1
      await m.update(ProcedureDef, input.id, { ...own, version })
    } else {
      const madeId = await insertRow(m, ProcedureDef, { ...own, version, retired: false })
      id = madeId
    }
    await m.insert(ProcedureVersion, {
      procedureId: id,
      version,
      steps: JSON.stringify(input.steps),
      madeBy: ctx.actor.id || null,
      madeAt: instant(ctx.clock.now()),
    })
    await audit(m, ctx, {
      kind: 'set up',
      text: `Procedure ${input.name}, version ${version}`,
      subject: 'procedure definition',
      subjectId: id,
    })
    return { id, version }
  })
}

export function retireProcedure(ctx: Ctx, id: number, retired: boolean): Promise<void> {
  return work(ctx, async (m) => {
    const p = await current(m, id)
    await m.update(ProcedureDef, { id }, { retired })
    await audit(m, ctx, {
      kind: 'set up',
      text: `Procedure ${p.name} ${retired ? 'is no longer offered' : 'is offered again'}`,
      subject: 'procedure definition',
      subjectId: id,
    })
  })
}

/** A procedure in the open format of docs/procedure-file.md. */
export async function writeProcedureFile(ctx: Ctx, id: number): Promise<File> {
  const m = ctx.db.manager
  const p = await current(m, id)
  const area = p.areaId ? await m.findOne(PracticeArea, { select: { name: true, id: true }, where: { id: p.areaId } }) : null
  const emails = new Map((await m.find(UserAccount, { select: { id: true, email: true } })).map((u) => [u.id, u.email]))
  const who = (a: AssignTo) =>
    a.kind === 'role' ? (a.role as 'lead') : a.kind === 'person' ? { email: emails.get(a.userId) ?? '' } : a.kind
  const file: ProcedureFile = {
    format: 'heron-procedure',
    edition: 1,
    name: p.name,
    description: p.description,
    area: area?.name ?? null,
    steps: p.steps.map((s) => ({ ...s, assignTo: who(s.assignTo) })),
  }
  return download(Buffer.from(`${JSON.stringify(file, null, 2)}\n`), `${p.name}.procedure.json`, 'application/json')
}

export async function readProcedureFile(ctx: Ctx, text: string): Promise<{ id: number; name: string }> {
  let json: unknown
  try {
    json = JSON.parse(text)
  } catch (error) {
    throw fieldFault('file', `This file is not JSON: ${error instanceof Error ? error.message : ''}`)
  }
  const read = fileSchema.safeParse(json)
  if (!read.success)
    throw new Problem(
      400,
      'invalid',
      `${read.error.issues[0]!.path.join('.')}: ${read.error.issues[0]!.message}`,
      read.error.issues.map((i) => ({ path: `file.${i.path.join('.')}`, message: i.message })),
    )
  return work(ctx, async (m) => {
    const { area, steps, name, description } = read.data
    const areaId = area ? ((await m.findOne(PracticeArea, { select: { id: true }, where: { name: area } }))?.id ?? null) : null
    if (area && !areaId)
      throw fieldFault('file', `There is no practice area called ${area}. Make it first, or take "area" out of the file.`)
    const people = new Map(
      (await m.find(UserAccount, { select: { id: true, email: true }, where: { active: true } })).map((u) => [u.email.toLowerCase(), u.id]),
    )
    const assigned = steps.map((s, i): ProcedureIn['steps'][number] => {
      const to = s.assignTo
      if (typeof to === 'object') {
        const userId = people.get(to.email.toLowerCase())
        if (!userId) throw fieldFault('file', `Step ${i + 1}: nobody here has the address ${to.email}`)
        return { ...s, assignTo: { kind: 'person', userId } }
      }
      return { ...s, assignTo: to === 'starter' || to === 'given' ? { kind: to } : { kind: 'role', role: to } }
    })
    const { id } = await saveProcedure({ ...ctx, tx: m }, { name, description, areaId, steps: assigned })
    return { id, name }
  })
}

export interface StartIn {
  procedureId: number
  start: Day
  givenTo: number | null
  anchors: Record<string, string>
}

/** What dates and people of a procedure are taken from: a matter, or one that is being opened. */
interface PlannedFor {
  id: number | null
  openedOn: Day
  leadId: number
  team: readonly { id: number; role: string }[]
}
const planned = async (m: EntityManager, matter: OpenMatter): Promise<PlannedFor> => ({ ...matter, team: await teamOf(m, matter.id) })

async function plan(m: EntityManager, ctx: Ctx, matter: PlannedFor, input: StartIn) {
  const p = await current(m, input.procedureId)
  const dates = []
  if (matter.id !== null) for (const name of docketAnchors(p.steps)) dates.push(await datesFor(m, matter.id, name, input.anchors[name]))
  const anchors = Object.fromEntries(dates.flatMap((d) => (d.chosen ? [[d.name, d.chosen]] : [])))
  const dated = planProcedure(
    p.steps,
    { start: input.start, opened: matter.openedOn, docket: await docketDays(m, anchors), done: {} },
    await workingDays(m),
  )
  const { team } = matter
  // A role that nobody has on this matter falls to the lead, who can give it on.
  const ofRole = (role: string) =>
    team.find((t) => t.role === role)?.id ??
    (role === 'paralegal' ? team.find((t) => t.role === 'assistant')?.id : undefined) ??
    matter.leadId
  const who = (a: AssignTo) =>
    a.kind === 'starter'
      ? ctx.actor.id
      : a.kind === 'given'
        ? (input.givenTo ?? ctx.actor.id)
        : a.kind === 'person'
          ? a.userId
          : ofRole(a.role)
  return {
    version: p.version,
    name: p.name,
    anchors,
    dates,
    all: p.steps,
    steps: p.steps.map((s, i) => ({
      key: s.key,
      text: s.text,
      dueOn: dated[i]!.due,
      how: dated[i]!.how,
      provisional: dated[i]!.provisional,
      assigneeId: who(s.assignTo),
      waitsFor: [...s.waitsFor],
    })),
  }
}

/** The actual dates and people of a procedure, before anything is made. */
export async function previewProcedure(ctx: Ctx, matterId: number, input: StartIn) {
  const m = ctx.tx ?? ctx.db.manager
  const matter = await requireMatter(m, ctx, matterId)
  const { version, steps, dates } = await plan(m, ctx, await planned(m, matter), input)
  return { version, steps, dates }
}

/** The same for a matter that is not open yet: from the day, the lead and the team that stand in the opening sheet. */
export async function previewOpening(
  ctx: Ctx,
  input: { procedureId: number; start: Day; leadId: number; team: readonly { userId: number; role: string }[] },
) {
  const team = [{ id: input.leadId, role: 'lead' }, ...input.team.map((t) => ({ id: t.userId, role: t.role }))]
  const asked = { procedureId: input.procedureId, start: input.start, givenTo: null, anchors: {} }
  const { version, steps } = await plan(ctx.db.manager, ctx, { id: null, openedOn: input.start, leadId: input.leadId, team }, asked)
  return { version, steps }
}

/** Starts a procedure with the dates and people as agreed in the preview; steps left out of it are not made. */
export function startProcedure(
  ctx: Ctx,
  matterId: number,
  input: StartIn & { version: number; steps: { key: string; dueOn: Day | null; assigneeId: number; byHand: boolean }[] },
): Promise<{ tasks: number }> {
  return work(ctx, async (m) => {
    const matter = await requireOpenMatter(m, ctx, matterId)
    const now = await plan(m, ctx, await planned(m, matter), input)
    if (now.version !== input.version) throw refused('procedure-changed', 'The procedure was changed meanwhile. Look at the preview again.')
    const chosen = new Map(input.steps.map((s) => [s.key, s]))
    if ([...chosen.keys()].some((k) => !now.all.some((s) => s.key === k)))
      throw fieldFault('steps', 'There is no such step. Look at the preview again.')
    const runId = await insertRow(m, ProcedureRun, {
      procedureId: input.procedureId,
      matterId,
      startedOn: input.start,
      startedBy: ctx.actor.id,
      steps: chosen.size,
      version: now.version,
      anchors: JSON.stringify(now.anchors),
      givenTo: input.givenTo,
    })
    const taskIds = new Map<string, number>()
    let n = 0
    for (const [i, step] of now.all.entries()) {
      const own = chosen.get(step.key)
      if (!own) continue
      n += 1
      await mayWork(m, own.assigneeId, matterId)
      const madeId = await insertRow(m, Task, {
        matterId,
        runId,
        step: n,
        stepKey: step.key,
        text: step.text,
        assigneeId: own.assigneeId,
        assignedBy: ctx.actor.id,
        priority: step.priority,
        estimateMinutes: step.estimateMinutes,
        dueOn: own.dueOn,
        dueByHand: own.byHand || (own.dueOn !== null && own.dueOn !== now.steps[i]!.dueOn),
        remindOn: own.dueOn && step.remindDays !== null ? addDays(own.dueOn, -step.remindDays) : null,
        createdAt: instant(ctx.clock.now()),
      })
      taskIds.set(step.key, madeId)
    }
    for (const step of now.all)
      for (const w of step.waitsFor)
        if (taskIds.has(step.key) && taskIds.has(w)) await m.insert(TaskWait, { taskId: taskIds.get(step.key)!, waitsFor: taskIds.get(w)! })
    await audit(m, ctx, {
      kind: 'task',
      text: `Procedure ${now.name} started, ${counted(n, 'step')}`,
      matterId,
      subject: 'procedure',
      subjectId: runId,
    })
    await touchMatter(m, ctx, matterId)
    return { tasks: n }
  })
}
