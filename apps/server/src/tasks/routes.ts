import { done, routes } from '../platform/routes'
import { makeTask, previewProcedure, procedures, setDone, startProcedure, tasksOf } from './service'

const t = routes.tasks
export const taskRoutes = {
  list: t.list.handler(({ context, input }) => tasksOf(context.ctx, input)),
  make: t.make.handler(({ context, input }) => makeTask(context.ctx, input)),
  setDone: t.setDone.handler(({ context, input }) => done(setDone(context.ctx, input.id, input.done))),
  procedures: t.procedures.handler(({ context }) => procedures(context.ctx)),
  preview: t.preview.handler(async ({ context, input }) => {
    const steps = await previewProcedure(context.ctx, input.id, input.procedureId, input.start)
    return steps.map(({ priority: _priority, ...s }) => s)
  }),
  start: t.start.handler(({ context, input }) => startProcedure(context.ctx, input.id, input.procedureId, input.start, input.steps)),
}
