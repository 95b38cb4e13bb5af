import { done, routes } from '../platform/routes'
import { follow, followingOf } from './following'
import {
  previewOpening,
  previewProcedure,
  readProcedureFile,
  retireProcedure,
  saveProcedure,
  startProcedure,
  writeProcedureFile,
} from './procedures'
import { procedure, procedures } from './procedure-queries'
import { board, task, tasksOf } from './queries'
import { changeMany, changeTask, commentOn, makeTask, removeTask, setDone, tickItem } from './service'

const t = routes.tasks
export const taskRoutes = {
  list: t.list.handler(({ context, input }) => tasksOf(context.ctx, input)),
  board: t.board.handler(({ context }) => board(context.ctx)),
  get: t.get.handler(({ context, input }) => task(context.ctx, input.id)),
  make: t.make.handler(({ context, input }) => makeTask(context.ctx, input)),
  change: t.change.handler(({ context, input: { id, ...own } }) => done(changeTask(context.ctx, id, own))),
  remove: t.remove.handler(({ context, input }) => done(removeTask(context.ctx, input.id))),
  setDone: t.setDone.handler(({ context, input }) => setDone(context.ctx, input.id, input.done)),
  many: t.many.handler(({ context, input }) => changeMany(context.ctx, input)),
  tick: t.tick.handler(({ context, input }) => done(tickItem(context.ctx, input.id, input.done))),
  comment: t.comment.handler(({ context, input }) => commentOn(context.ctx, input.id, input.text)),
  procedures: t.procedures.handler(({ context }) => procedures(context.ctx)),
  procedure: t.procedure.handler(({ context, input }) => procedure(context.ctx, input.id)),
  saveProcedure: t.saveProcedure.handler(({ context, input }) => saveProcedure(context.ctx, input)),
  retireProcedure: t.retireProcedure.handler(({ context, input }) => done(retireProcedure(context.ctx, input.id, input.retired))),
  procedureFile: t.procedureFile.handler(({ context, input }) => writeProcedureFile(context.ctx, input.id)),
  readProcedure: t.readProcedure.handler(async ({ context, input }) => readProcedureFile(context.ctx, await input.file.text())),
  preview: t.preview.handler(({ context, input: { id, ...own } }) => previewProcedure(context.ctx, id, own)),
  previewOpening: t.previewOpening.handler(({ context, input }) => previewOpening(context.ctx, input)),
  start: t.start.handler(({ context, input: { id, ...own } }) => startProcedure(context.ctx, id, own)),
  following: t.following.handler(({ context, input }) => followingOf(context.ctx, input.id)),
  follow: t.follow.handler(({ context, input }) => follow(context.ctx, input.id, input.taskIds)),
}
