import { buckets } from '@heron/core/tasks'
import { z } from 'zod'
import { day, dayOut, fileOut, hour, id, longBody, made, needed, ok, route, text, upload, whole, withId, asks } from './base'
import { procedureRoles } from './names'

const priority = z.enum(['high', 'normal', 'low'])
const time = z.union([z.null(), hour])

export const taskRow = z.object({
  id: z.number(),
  text: z.string(),
  matterId: z.number().nullable(),
  matter: z.string().nullable(),
  assigneeId: z.number(),
  assignee: z.string(),
  initials: z.string(),
  assignedById: z.number(),
  assignedBy: z.string(),
  dueOn: dayOut.nullable(),
  dueTime: z.string().nullable(),
  priority,
  done: z.boolean(),
  doneAt: z.string().nullable(),
  bucket: z.enum(buckets as [string, ...string[]]),
  /** What it waits for, in words; it can be done when that is. */
  waits: z.string().nullable(),
  step: z.string().nullable(),
  procedure: z.string().nullable(),
  items: z.number(),
  itemsDone: z.number(),
  comments: z.number(),
  onlyNamed: z.boolean(),
  /** The day to be reminded has come. */
  reminds: z.boolean(),
})
export type TaskRow = z.infer<typeof taskRow>

const taskIn = z.object({
  text: needed('Say what is to be done'),
  details: text(4000).default(''),
  matterId: id.nullable().default(null),
  assigneeId: id,
  dueOn: day.nullable().default(null),
  dueTime: time.default(null),
  remindOn: day.nullable().default(null),
  estimateMinutes: whole(1, 60_000, 'Give minutes').nullable().default(null),
  priority: priority.default('normal'),
  /** Seen only by those named, the assignee and who assigned it; otherwise by all who see the matter. */
  onlyNamed: z.boolean().default(false),
  named: z.array(id).max(40).default([]),
  items: z
    .array(z.object({ id: id.optional(), text: needed('Say what is to be done'), done: z.boolean().default(false) }))
    .max(60)
    .default([]),
  paperIds: z.array(id).max(40).default([]),
})
export type TaskIn = z.infer<typeof taskIn>

const taskOut = taskRow.extend({
  details: z.string(),
  remindOn: dayOut.nullable(),
  estimateMinutes: z.number().nullable(),
  named: z.array(z.object({ id: z.number(), name: z.string() })),
  checklist: z.array(z.object({ id: z.number(), text: z.string(), done: z.boolean() })),
  talk: z.array(z.object({ id: z.number(), who: z.string(), at: z.string(), text: z.string() })),
  papers: z.array(z.object({ id: z.number(), name: z.string() })),
  doneBy: z.string().nullable(),
  mayChange: z.boolean(),
})

const anchor = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('start') }),
  z.object({ kind: z.literal('opened') }),
  z.object({ kind: z.literal('step'), step: needed('Choose the step', 20) }),
  z.object({ kind: z.literal('done'), step: needed('Choose the step', 20) }),
  z.object({ kind: z.literal('docket'), name: needed('Name the docket date', 40) }),
])
const assignTo = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('starter') }),
  z.object({ kind: z.literal('given') }),
  z.object({ kind: z.literal('role'), role: z.enum(procedureRoles) }),
  z.object({ kind: z.literal('person'), userId: id }),
])
const step = z.object({
  key: z.string().regex(/^[a-z0-9]{1,20}$/),
  text: needed('Say what is to be done'),
  assignTo,
  priority: priority.default('normal'),
  estimateMinutes: whole(1, 60_000, 'Give minutes').nullable().default(null),
  remindDays: whole(0, 365, 'Give days').nullable().default(null),
  waitsFor: z.array(z.string().max(20)).max(40).default([]),
  due: z.object({
    count: whole(0, 3650, 'Give a whole number of days'),
    unit: z.enum(['calendar', 'business']),
    direction: z.enum(['after', 'before']),
    anchor,
  }),
})
const procedureIn = z.object({
  name: needed('Name the procedure', 120),
  description: text(400).default(''),
  areaId: id.nullable().default(null),
  steps: z.array(step).min(1, 'Give at least one step').max(100),
})
export type ProcedureIn = z.infer<typeof procedureIn>

/** A procedure as a file, documented in docs/procedure-file.md. People are named by their e-mail addresses. */
export const procedureFile = z.object({
  format: z.literal('heron-procedure', { error: 'This is not a procedure: "format" must be "heron-procedure"' }),
  edition: z.literal(1, { error: 'Only edition 1 of the format can be read' }),
  name: needed('Give the procedure a name', 120),
  description: text(400).default(''),
  area: z.string().max(80).nullable().default(null),
  steps: z
    .array(
      step.omit({ assignTo: true }).extend({
        assignTo: z.union([
          z.enum(['starter', 'given', ...procedureRoles]),
          z.object({ email: z.email('Name the person by an e-mail address') }),
        ]),
      }),
    )
    .min(1, 'Give at least one step')
    .max(100),
})
export type ProcedureFile = z.infer<typeof procedureFile>

const startIn = {
  id,
  procedureId: id,
  start: day,
  givenTo: id.nullable().default(null),
  /** Which of the matter's dates is meant by each docket date that the procedure names. */
  anchors: z
    .record(z.string().max(40), z.string().regex(/^(entry|trigger) \d{1,10}$|^none$/, 'Choose a date of the matter'))
    .refine((a) => Object.keys(a).length <= 100, 'At most 100 dates')
    .default({}),
}
/** A step as it was agreed in the preview. */
export const agreedStep = z.object({ key: z.string().max(20), dueOn: day.nullable(), assigneeId: id, byHand: z.boolean().default(false) })
const plannedStep = z.object({
  key: z.string(),
  text: z.string(),
  dueOn: dayOut.nullable(),
  how: z.string(),
  provisional: z.boolean(),
  assigneeId: z.number(),
  waitsFor: z.array(z.string()),
})
const following = z.object({
  taskId: z.number(),
  text: z.string(),
  was: dayOut.nullable(),
  becomes: dayOut.nullable(),
  why: z.string(),
})
const runFollowing = z.object({ runId: z.number(), procedure: z.string(), changes: z.array(following) })

export const taskViews = ['mine', 'assigned', 'person', 'all'] as const

export const tasks = {
  list: route('signed in', 'GET', '/tasks', 'Tasks of the reader, of another person, given out by someone, or of a matter')
    .input(
      z.object({
        matterId: id.optional(),
        view: z.enum(taskViews).default('mine'),
        userId: id.optional(),
        q: text(80).default(''),
        done: z.enum(['open', 'done', 'all']).default('open'),
        when: z.enum(['', ...buckets] as [string, ...string[]]).default(''),
        page: z.coerce.number().int().min(1).max(100_000).default(1),
      }),
    )
    .output(z.object({ rows: z.array(taskRow), total: z.number(), counts: z.record(z.string(), z.number()) })),
  board: route('tasks.change', 'GET', '/tasks/board', 'Open tasks by person, for whoever gives out work').output(
    z.array(
      z.object({
        userId: z.number(),
        name: z.string(),
        initials: z.string(),
        open: z.number(),
        overdue: z.number(),
        rows: z.array(taskRow),
      }),
    ),
  ),
  get: route('signed in', 'GET', '/tasks/{id}', 'One task with its checklist, comments and papers').input(withId).output(taskOut),
  make: route('tasks.change', 'POST', '/tasks', 'Make a task').input(taskIn).output(made),
  change: route('tasks.change', 'PUT', '/tasks/{id}', 'Change a task', longBody)
    /** `seen`: the task as it was read; where it stands otherwise by then, nothing is done. */
    .input(taskIn.extend({ id, seen: taskIn.optional() }))
    .output(ok),
  remove: route('tasks.change', 'DELETE', '/tasks/{id}', 'Take out a task that is not done').input(withId).output(ok),
  setDone: route('tasks.change', 'PUT', '/tasks/{id}/done', 'Mark a task done or open again; says what would follow')
    .input(z.object({ id, done: z.boolean() }))
    .output(ok.extend({ follows: runFollowing.nullable() })),
  many: route('tasks.change', 'PUT', '/tasks', 'Change several tasks at once')
    .input(
      z.object({
        ids: z.array(id).min(1, 'Choose tasks').max(200),
        assigneeId: id.optional(),
        dueOn: day.nullable().optional(),
        /** So many calendar days later, or earlier. */
        moveDays: z.number().int().min(-3650).max(3650).optional(),
        priority: priority.optional(),
        done: z.boolean().optional(),
      }),
    )
    .output(z.object({ changed: z.number() })),
  tick: route('tasks.change', 'PUT', '/task-items/{id}', 'Tick an item of a checklist')
    .input(z.object({ id, done: z.boolean() }))
    .output(ok),
  comment: route('tasks.change', 'POST', '/tasks/{id}/comments', 'Comment on a task')
    .input(z.object({ id, text: needed('Say something', 2000) }))
    .output(made),

  procedures: route('matters.see', 'GET', '/procedures', 'Procedures of the firm').output(
    z.array(
      z.object({
        id: z.number(),
        name: z.string(),
        description: z.string(),
        areaId: z.number().nullable(),
        area: z.string().nullable(),
        steps: z.number(),
        version: z.number(),
        retired: z.boolean(),
        /** Docket dates from which steps are counted. */
        dates: z.array(z.string()),
        given: z.boolean(),
      }),
    ),
  ),
  procedure: route('matters.see', 'GET', '/procedures/{id}', 'One procedure with its steps')
    .input(withId)
    .output(
      procedureIn.extend({
        id: z.number(),
        version: z.number(),
        retired: z.boolean(),
        runs: z.number(),
        versions: z.array(z.object({ version: z.number(), at: z.string(), by: z.string() })),
      }),
    ),
  saveProcedure: route('firm.set-up', 'POST', '/procedures', 'Make a procedure, or change one as a new version', longBody)
    /** `seen` is the version that was changed; a later one by somebody else is not written over unseen. */
    .input(procedureIn.extend({ id: id.optional(), seen: z.number().int().positive().optional() }))
    .output(made.extend({ version: z.number() })),
  retireProcedure: route('firm.set-up', 'PUT', '/procedures/{id}/retired', 'No longer offer a procedure, or offer it again')
    .input(z.object({ id, retired: z.boolean() }))
    .output(ok),
  procedureFile: route('matters.see', 'GET', '/procedures/{id}/file', 'A procedure as a file').input(withId).output(fileOut),
  readProcedure: route('firm.set-up', 'POST', '/procedures/file', 'Read a procedure from a file', upload(1_000_000))
    .input(z.object({ file: z.file({ error: 'Choose a file' }).max(1_000_000, 'A procedure file is under 1 MB') }))
    .output(made.extend({ name: z.string() })),
  preview: route('tasks.change', 'POST', '/matters/{id}/procedures/preview', 'The actual dates and people, before anything is made', asks)
    .input(z.object(startIn))
    .output(
      z.object({
        version: z.number(),
        steps: z.array(plannedStep),
        /** For each docket date that is named: the matter's dates it may be, the likeliest first. */
        dates: z.array(
          z.object({
            name: z.string(),
            chosen: z.string().nullable(),
            choices: z.array(z.object({ key: z.string(), title: z.string(), day: dayOut })),
          }),
        ),
      }),
    ),
  previewOpening: route(
    'matters.open',
    'POST',
    '/procedures/{procedureId}/preview',
    'The actual dates and people of a procedure on a matter that is being opened',
    asks,
  )
    .input(
      z.object({
        procedureId: id,
        start: day,
        leadId: id,
        team: z.array(z.object({ userId: id, role: z.enum([...procedureRoles, 'outside']) })).max(60),
      }),
    )
    .output(z.object({ version: z.number(), steps: z.array(plannedStep) })),
  start: route('tasks.change', 'POST', '/matters/{id}/procedures', 'Start a procedure')
    .input(
      z.object({
        ...startIn,
        version: z.number().int(),
        steps: z.array(agreedStep).min(1, 'Keep at least one step').max(200),
      }),
    )
    .output(z.object({ tasks: z.number() })),
  following: route('signed in', 'GET', '/matters/{id}/procedures/following', 'Dates of running procedures that would follow moved anchors')
    .input(withId)
    .output(z.array(runFollowing)),
  follow: route('tasks.change', 'POST', '/procedure-runs/{id}/follow', 'Let dates of a running procedure follow')
    .input(z.object({ id, taskIds: z.array(id).min(1, 'Choose what follows').max(200) }))
    .output(z.object({ changed: z.number() })),
}
