import { showCount } from '@heron/core/calendar'
import { done, routes } from '../platform/routes'
import { carryOut, previewAct, undoChange } from './change'
import { feeds, makeFeed, readFeed, withdrawFeed } from './calendars'
import { addClosure, closures, previewClosure, removeClosure } from './closures'
import { addEntry, changeEntry, daySum, markEntry, removeEntry, setLeftOut } from './entries'
import { agenda, docketOf, historyOfEntry } from './queries'
import { agendaReport, matterReport } from './report'
import { chooseEntryReminders, chooseReminders, ownReminders, putAway } from './reminders'
import { ruleSetOf } from './state'
import { docketDates, triggersOf, workOut } from './work-out'

const d = routes.docket
export const docketRoutes = {
  ruleSet: d.ruleSet.handler(({ input }) => {
    const set = ruleSetOf(input.key)
    return {
      key: set.key,
      title: set.title,
      edition: set.edition,
      triggers: [...set.triggers]
        .sort((a, b) => a.order - b.order)
        .map((t) => ({
          key: t.key,
          title: t.title,
          asksService: t.asksService,
          answers: t.answers?.trigger ?? null,
          deadlines: set.deadlines.filter((x) => x.trigger === t.key).length,
        })),
      services: set.services.map((s) => ({
        key: s.key,
        title: s.title,
        adds: s.count ? `adds ${showCount(s.count, s.unit)}` : 'adds nothing',
      })),
      facts: set.facts,
    }
  }),
  workOut: d.workOut.handler(({ context, input: { id, ...trigger } }) => workOut(context.ctx, id, trigger)),
  add: d.add.handler(({ context, input: { id, ...trigger } }) => docketDates(context.ctx, id, trigger)),
  addEntry: d.addEntry.handler(({ context, input: { id, ...entry } }) => addEntry(context.ctx, id, entry)),
  ofMatter: d.ofMatter.handler(({ context, input }) => docketOf(context.ctx, input.id)),
  agenda: d.agenda.handler(({ context, input }) => agenda(context.ctx, input)),
  mark: d.mark.handler(({ context, input }) => done(markEntry(context.ctx, input.id, input.mark))),
  remove: d.remove.handler(({ context, input }) => done(removeEntry(context.ctx, input.id))),
  triggers: d.triggers.handler(({ context, input }) => triggersOf(context.ctx, input.id)),
  previewAct: d.previewAct.handler(({ context, input }) => previewAct(context.ctx, input.id, input.act)),
  carryOut: d.carryOut.handler(({ context, input: { id, ...own } }) => carryOut(context.ctx, id, own)),
  undo: d.undo.handler(({ context, input }) => undoChange(context.ctx, input.id)),
  reminders: d.reminders.handler(({ context }) => ownReminders(context.ctx)),
  chooseReminders: d.chooseReminders.handler(({ context, input }) => done(chooseReminders(context.ctx, input))),
  putAwayReminders: d.putAwayReminders.handler(({ context, input }) => done(putAway(context.ctx, input.ids))),
  entryReminders: d.entryReminders.handler(({ context, input }) => done(chooseEntryReminders(context.ctx, input.id, input.leads))),
  feeds: d.feeds.handler(({ context }) => feeds(context.ctx)),
  makeFeed: d.makeFeed.handler(({ context, input }) => makeFeed(context.ctx, input)),
  withdrawFeed: d.withdrawFeed.handler(({ context, input }) => done(withdrawFeed(context.ctx, input.id))),
  calendar: d.calendar.handler(({ context, input }) => readFeed(context.ctx, input.secret)),
  sum: d.sum.handler(({ context, input }) => daySum(context.ctx, input.text, input.ruleSetKey ?? null)),
  change: d.change.handler(({ context, input: { id, ...words } }) => done(changeEntry(context.ctx, id, words))),
  closures: d.closures.handler(({ context }) => closures(context.ctx)),
  previewClosure: d.previewClosure.handler(({ context, input }) => previewClosure(context.ctx, input)),
  addClosure: d.addClosure.handler(({ context, input: { moves, ...closure } }) => addClosure(context.ctx, closure, moves)),
  removeClosure: d.removeClosure.handler(({ context, input }) => done(removeClosure(context.ctx, input.id))),
  report: d.report.handler(({ context, input: { format, texts, paper, ...filter } }) =>
    agendaReport(context.ctx, filter, { format, texts, paper }),
  ),
  matterReport: d.matterReport.handler(({ context, input: { id, ...how } }) => matterReport(context.ctx, id, how)),
  history: d.history.handler(({ context, input }) => historyOfEntry(context.ctx, input.id)),
  include: d.include.handler(({ context, input }) => done(setLeftOut(context.ctx, input.id, input.leftOut))),
}
