import { z } from 'zod'
import { day, id, made, needed, ok, route } from './base'

export const taskRow = z.object({
  id: z.number(),
  text: z.string(),
  matterId: z.number().nullable(),
  matter: z.string().nullable(),
  assigneeId: z.number(),
  assignee: z.string(),
  dueOn: z.string().nullable(),
  priority: z.enum(['high', 'normal', 'low']),
  done: z.boolean(),
  step: z.string().nullable(),
})
const plannedStep = z.object({ ordinal: z.number(), text: z.string(), dueOn: z.string(), how: z.string(), assigneeId: z.number() })

export const tasks = {
  list: route('signed in', 'GET', '/tasks', 'Tasks of the reader, or of a matter')
    .input(z.object({ matterId: id.optional(), done: z.enum(['open', 'done', 'all']).default('open') }))
    .output(z.array(taskRow)),
  make: route('tasks.change', 'POST', '/tasks', 'Make a task')
    .input(
      z.object({
        text: needed('Say what is to be done'),
        matterId: id.nullable().default(null),
        assigneeId: id,
        dueOn: day.nullable().default(null),
        priority: z.enum(['high', 'normal', 'low']).default('normal'),
      }),
    )
    .output(made),
  setDone: route('tasks.change', 'PUT', '/tasks/{id}/done', 'Mark a task done or open again')
    .input(z.object({ id, done: z.boolean() }))
    .output(ok),
  procedures: route('matters.see', 'GET', '/procedures', 'Procedures of the firm').output(
    z.array(z.object({ id: z.number(), name: z.string(), description: z.string(), area: z.string().nullable(), steps: z.number() })),
  ),
  preview: route('tasks.change', 'POST', '/matters/{id}/procedures/preview', 'The actual dates and people, before anything is made')
    .input(z.object({ id, procedureId: id, start: day }))
    .output(z.array(plannedStep)),
  start: route('tasks.change', 'POST', '/matters/{id}/procedures', 'Start a procedure')
    .input(
      z.object({
        id,
        procedureId: id,
        start: day,
        steps: z.array(z.object({ ordinal: z.number().int(), dueOn: day, assigneeId: id })).min(1, 'Keep at least one step'),
      }),
    )
    .output(z.object({ tasks: z.number() })),
}
