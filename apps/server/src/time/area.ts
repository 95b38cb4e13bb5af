import { counted, agreeing } from '@heron/core/words'
import { area } from '../platform/area'
import { amountFor, may } from '../platform/context'
import { RoleRate, timeEntities, TimeTerms } from './entities'
import { timeRoutes } from './routes'
import { timersOf, timeLeft, timeOfDay } from './queries'

declare module '../platform/area' {
  interface ActSubjects {
    time: true
  }
}

export const time = area({
  name: 'time',
  entities: timeEntities,
  migrations: ['0021-terms', '0027-time-written-off', '0029-time-fields', '0031-timers', '0038-time-list', '0040-own-time-fields'].map(
    (name) => ({
      name,
      file: new URL(`./migrations/${name}.sql`, import.meta.url),
    }),
  ),
  routes: { time: timeRoutes },
  acts: { time: { part: 'money', beyond: 'author' } },
  openEnds: async (m, ctx, id) => {
    const n = (await timeLeft(m, id))!
    const amount = amountFor(ctx.actor)
    return [
      n.drafts
        ? { key: 'drafts', text: `${counted(n.drafts, 'draft')} of time ${agreeing(n.drafts, 'is', 'are')} not posted`, blocks: false }
        : null,
      n.time ? { key: 'time', text: `${amount(n.time)} of time is not billed`, blocks: false } : null,
    ]
  },
  removeMatter: async (m, id) => {
    await m.delete(RoleRate, { matterId: id })
    await m.delete(TimeTerms, { owner: 'matter', ownerId: id })
  },
  work: ['time_entry', 'timer'],
  waterline: async (ctx) => {
    const own = await timeOfDay(ctx)
    return {
      timer: may(ctx.actor, 'time.record') ? ((await timersOf(ctx))[0] ?? null) : null,
      todayMinutes: own!.today,
      goalMinutes: own!.goal,
      drafts: own!.drafts,
    }
  },
})
