import { agreeing, counted } from '@heron/core/words'
import { area } from '../platform/area'
import { may } from '../platform/context'
import { touched } from '../platform/database'
import { docketEntities } from './entities'
import { datesHandedOver } from './handing'
import { nextOwnDate } from './queries'
import { remindOfDates, sendDigests } from './reminders'
import { sendScheduled } from './report-letters'
import { calendarRoutes, docketRoutes, reminderRuleRoutes, reportRoutes, rulesRoutes } from './routes'
import { withdrawOfMatter } from './sending'
import { extendSeries } from './series'
import { CalendarFeed, ownEntities } from './own-entities'
import { datesAhead, datesOnCalendar, putOffCalendar } from './entry-queries'

declare module '../platform/area' {
  interface ActSubjects {
    'docket entry': true
    trigger: true
    calendar: true
    report: true
    'rule set': true
    'court closure': true
  }
}

export const docket = area({
  name: 'docket',
  entities: [...docketEntities, ...ownEntities],
  appendOnly: ['docket_history', 'rule_set_edition'],
  routes: { docket: docketRoutes, rules: rulesRoutes, calendar: calendarRoutes, reports: reportRoutes, setUp: reminderRuleRoutes },
  schedules: [
    {
      // Dates are reminded of by the day, so it is enough to look every ten minutes.
      name: 'remind of dates',
      at: '*/10 * * * *',
      atStart: true,
      run: async (base) => {
        await extendSeries(base)
        await remindOfDates(base)
        await sendDigests(base)
        await sendScheduled(base)
      },
    },
  ],
  acts: {
    'docket entry': { part: 'docket', beyond: 'author' },
    trigger: { part: 'docket', beyond: 'author' },
    calendar: { part: 'docket', beyond: 'firm.set-up' },
    report: { part: 'docket', beyond: 'firm.set-up' },
    'rule set': { part: null, beyond: 'firm.set-up' },
    'court closure': { part: null, beyond: 'firm.set-up' },
  },
  openEnds: async (m, ctx, id) => {
    const found = await datesAhead(m, ctx, id)
    const n = found!.n
    return [
      n ? { key: 'dates', text: `${counted(n, 'coming date')} ${agreeing(n, 'leaves', 'leave')} all calendars`, blocks: false } : null,
    ]
  },
  atClosing: withdrawOfMatter,
  // Dates still ahead come back to the calendars; those that passed meanwhile stay off them.
  atReopening: async (m, ctx, { id, closedOn }) => {
    const today = ctx.clock.today()
    await putOffCalendar(m, id, closedOn, today)
    const back = await datesOnCalendar(m, id, today)
    return back!.n
  },
  work: ['docket_entry', 'trigger_event'],
  removeMatter: (m, id) => touched(m.delete(CalendarFeed, { matterId: id })),
  handsOver: [datesHandedOver],
  waterline: async (ctx) => ({ next: may(ctx.actor, 'docket.see') ? await nextOwnDate(ctx) : null }),
})
