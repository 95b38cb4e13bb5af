import { counted, agreeing } from '@heron/core/words'
import { area } from '../platform/area'
import { amountFor, may } from '../platform/context'
import { row } from '../platform/database'
import { unbilledOn } from '../platform/figures'
import { RoleRate, timeEntities, TimeTerms } from './entities'
import { timeRoutes } from './routes'
import { timersOf } from './timers'

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
    const n = (await row<{ drafts: number; time: number }>(
      m,
      `SELECT (SELECT COUNT(*) FROM time_entry WHERE matter_id = x.id AND state = 'draft') AS drafts, ${unbilledOn.time('x')} AS time FROM matter x WHERE x.id = ?`,
      [id],
    ))!
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
    const own = await row<{ today: number; drafts: number; goal: number }>(
      ctx.db.manager,
      `SELECT COALESCE((SELECT SUM(minutes) FROM time_entry WHERE user_id = ? AND day = ? AND state <> 'reversed'), 0) AS today,
              (SELECT COUNT(*) FROM time_entry WHERE user_id = ? AND state = 'draft') AS drafts, (SELECT day_goal_minutes FROM user_account WHERE id = ?) AS goal`,
      [ctx.actor.id, ctx.clock.today(), ctx.actor.id, ctx.actor.id],
    )
    return {
      timer: may(ctx.actor, 'time.record') ? ((await timersOf(ctx))[0] ?? null) : null,
      todayMinutes: own!.today,
      goalMinutes: own!.goal,
      drafts: own!.drafts,
    }
  },
})
