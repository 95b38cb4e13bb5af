import { showCount } from '@heron/core/calendar'
import { done, routes } from '../platform/routes'
import { ruleSetOf } from '../platform/rule-sets'
import { carryOut, previewAct, undoChange } from './change'
import { makeFeed, readFeed, withdrawFeed } from './calendars'
import { feeds, ownHours } from './calendar-queries'
import { addClosure, previewClosure, removeClosure } from './closures'
import { closures } from './closure-queries'
import { addEntry, changeEntry, daySum, markEntry, moveOwn, removeEntry, setLeftOut } from './entries'
import { figures } from './figure-queries'
import { triggersOf } from './trigger-queries'
import { findFreeHours, pickHour, setOwnHours } from './free-hours'
import { agenda, docketOf, entryOf, historyOfEntry } from './queries'
import { reportFile, reportOnScreen } from './report'
import { endSchedule, mailReport, scheduleReport } from './report-letters'
import { schedules, ownReminders, reminderRules } from './reminder-queries'
import { chooseEntryReminders, changeReminderRules, chooseReminders, putAway } from './reminders'
import {
  exportRules,
  removePractice,
  removeRules,
  rulesEffect,
  rulesSchema,
  savePractice,
  saveRules,
  takeRulesEffect,
  tryRules,
} from './rules'
import { checkRules, listRules, ruleBook } from './rule-queries'
import { sendEntry, withdrawEntry } from './sending'
import { endSeries } from './series'
import { addMissing } from './triggers'
import { docketDates, workOut } from './work-out'

const d = routes.docket
export const docketRoutes = {
  ruleSet: d.ruleSet.handler(async ({ context, input }) => {
    const set = await ruleSetOf(context.ctx.db.manager, input.key)
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
          asksParty: t.asksParty ?? false,
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
  mark: d.mark.handler(({ context, input }) => done(markEntry(context.ctx, input.id, input.mark, input.day))),
  remove: d.remove.handler(({ context, input }) => done(removeEntry(context.ctx, input.id))),
  triggers: d.triggers.handler(({ context, input }) => triggersOf(context.ctx, input.id)),
  addMissing: d.addMissing.handler(({ context, input: { id, ...own } }) => addMissing(context.ctx, id, own)),
  previewAct: d.previewAct.handler(({ context, input }) => previewAct(context.ctx, input.id, input.act, input.chains)),
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
  sum: d.sum.handler(({ context, input }) => daySum(context.ctx, input.text, input.ruleSetKey ?? null, input.from)),
  change: d.change.handler(({ context, input: { id, ...words } }) => done(changeEntry(context.ctx, id, words))),
  closures: d.closures.handler(({ context }) => closures(context.ctx)),
  previewClosure: d.previewClosure.handler(({ context, input }) => previewClosure(context.ctx, input)),
  addClosure: d.addClosure.handler(({ context, input: { moves, ...closure } }) => addClosure(context.ctx, closure, moves)),
  removeClosure: d.removeClosure.handler(({ context, input }) => done(removeClosure(context.ctx, input.id))),
  entry: d.entry.handler(({ context, input }) => entryOf(context.ctx, input.id)),
  history: d.history.handler(({ context, input }) => historyOfEntry(context.ctx, input.id)),
  include: d.include.handler(({ context, input }) => done(setLeftOut(context.ctx, input.id, input.leftOut))),
}

const r = routes.rules
export const rulesRoutes = {
  list: r.list.handler(({ context }) => listRules(context.ctx)),
  one: r.one.handler(({ context, input }) => ruleBook(context.ctx, input.key)),
  check: r.check.handler(({ context, input }) => checkRules(context.ctx, input.file)),
  save: r.save.handler(({ context, input }) => saveRules(context.ctx, input.file, input.note, input.after)),
  remove: r.remove.handler(({ context, input }) => done(removeRules(context.ctx, input.key))),
  savePractice: r.savePractice.handler(({ context, input: { key, ...own } }) => savePractice(context.ctx, key, own)),
  removePractice: r.removePractice.handler(({ context, input }) => done(removePractice(context.ctx, input.key, input.deadlineKey))),
  tryOut: r.tryOut.handler(({ context, input }) => tryRules(context.ctx, input)),
  effect: r.effect.handler(({ context, input }) => rulesEffect(context.ctx, input.key)),
  takeEffect: r.takeEffect.handler(({ context, input: { key, ...seen } }) => takeRulesEffect(context.ctx, key, seen)),
  export: r.export.handler(({ context, input }) => exportRules(context.ctx, input.key, input.practice)),
  schema: r.schema.handler(() => rulesSchema()),
}

const c = routes.calendar
export const calendarRoutes = {
  when: c.when.handler(({ context, input: { id, ...to } }) => done(moveOwn(context.ctx, id, to))),
  endSeries: c.endSeries.handler(({ context, input }) => endSeries(context.ctx, input.id)),
  invite: c.invite.handler(({ context, input: { id, ...to } }) => done(sendEntry(context.ctx, id, to))),
  withdraw: c.withdraw.handler(({ context, input }) => done(withdrawEntry(context.ctx, input.id, input.email))),
  hours: c.hours.handler(({ context }) => ownHours(context.ctx)),
  setHours: c.setHours.handler(({ context, input }) => done(setOwnHours(context.ctx, input))),
  freeHours: c.freeHours.handler(({ context, input }) => findFreeHours(context.ctx, input)),
  pick: c.pick.handler(({ context, input: { id, ...own } }) => pickHour(context.ctx, id, own)),
}

const p = routes.reports
export const reportRoutes = {
  file: p.file.handler(({ context, input }) => reportFile(context.ctx, input, input)),
  table: p.table.handler(({ context, input }) => reportOnScreen(context.ctx, input)),
  mail: p.mail.handler(({ context, input: { userIds, ...report } }) => mailReport(context.ctx, report, userIds)),
  schedules: p.schedules.handler(({ context }) => schedules(context.ctx)),
  schedule: p.schedule.handler(({ context, input: { userIds, weekday, ...report } }) =>
    scheduleReport(context.ctx, report, userIds, weekday),
  ),
  endSchedule: p.endSchedule.handler(({ context, input }) => done(endSchedule(context.ctx, input.id))),
  figures: p.figures.handler(({ context, input }) => figures(context.ctx, input)),
}

const u = routes.setUp
export const reminderRuleRoutes = {
  reminderRules: u.reminderRules.handler(({ context }) => reminderRules(context.ctx.db.manager)),
  changeReminderRules: u.changeReminderRules.handler(({ context, input }) => done(changeReminderRules(context.ctx, input))),
}
