import { done, routes } from '../platform/routes'
import { takenFile } from '../platform/table-file'
import { putOff, takeUp } from './aside'
import { ask } from './ask'
import { board } from './board-queries'
import { decisions } from './decisions'
import { fileOf, report } from './files'
import { flow, flowLines, judgeAtOnce } from './flow'
import { added, addUp, judgeReport } from './long-spans'
import { changeSchedule, makeSchedule, mayRead, removeSchedule, sendNow } from './schedules'
import { schedules } from './schedule-queries'
import { goals, removeGoal, setGoal, setWeekEnd, takeLook, weeks, writeNote } from './weeks'

const o = routes.oversight
export const oversightRoutes = {
  weeks: o.weeks.handler(({ context, input }) => weeks(context.ctx, input)),
  look: o.look.handler(({ context }) => done(takeLook(context.ctx))),
  goals: o.goals.handler(({ context }) => goals(context.ctx)),
  setGoal: o.setGoal.handler(({ context, input }) => done(setGoal(context.ctx, input))),
  removeGoal: o.removeGoal.handler(({ context, input }) => done(removeGoal(context.ctx, input.userId, input.from))),
  setWeekEnd: o.setWeekEnd.handler(({ context, input }) => done(setWeekEnd(context.ctx, input.weekEnds))),
  note: o.note.handler(({ context, input }) => writeNote(context.ctx, input.userId, input.text)),
  flow: o.flow.handler(async ({ context, input }) => {
    await judgeAtOnce(context.ctx, input)
    return flow(context.ctx, input)
  }),
  addUp: o.addUp.handler(({ context, input }) => addUp(context.ctx, input)),
  added: o.added.handler(({ context, input }) => added(context.ctx, input.id)),
  flowLines: o.flowLines.handler(({ context, input }) => flowLines(context.ctx, input)),
  report: o.report.handler(async ({ context, input }) => {
    await judgeReport(context.ctx, input.key, input)
    return report(context.ctx, input.key, input)
  }),
  file: o.file.handler(async ({ context, input }) => {
    const was = input.added ? await added(context.ctx, input.added) : undefined
    if (!was) await judgeReport(context.ctx, input.what, input)
    return takenFile(context.ctx, await fileOf(context.ctx, input.what, input, { columns: input.columns, was }), input.format, 'oversight')
  }),
  readers: o.readers.handler(({ context }) => mayRead(context.ctx)),
  schedules: o.schedules.handler(({ context }) => schedules(context.ctx)),
  makeSchedule: o.makeSchedule.handler(({ context, input }) => makeSchedule(context.ctx, input)),
  changeSchedule: o.changeSchedule.handler(({ context, input: { id, ...s } }) => done(changeSchedule(context.ctx, id, s))),
  removeSchedule: o.removeSchedule.handler(({ context, input }) => done(removeSchedule(context.ctx, input.id))),
  sendSchedule: o.sendSchedule.handler(({ context, input }) => done(sendNow(context.ctx, input.id))),
  decisions: o.decisions.handler(({ context }) => decisions(context.ctx)),
  putOff: o.putOff.handler(({ context, input }) => done(putOff(context.ctx, input))),
  takeUp: o.takeUp.handler(({ context }) => done(takeUp(context.ctx))),
  board: o.board.handler(({ context, input }) => board(context.ctx, input)),
  ask: o.ask.handler(({ context, input }) => ask(context.ctx, input.q)),
}
