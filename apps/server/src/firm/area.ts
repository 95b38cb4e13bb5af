import { area } from '../platform/area'
import { may } from '../platform/context'
import { beginAbsences } from './absence'
import { stuckCount } from './queries'
import { firmEntities } from './entities'
import { firmRoutes, setUpFirmRoutes, shellRoutes } from './routes'

declare module '../platform/area' {
  interface ActSubjects {
    firm: true
    user: true
    'practice area': true
    backup: true
  }
}

export const firm = area({
  name: 'firm',
  entities: firmEntities,
  migrations: [{ name: '0020-letters', file: new URL('./migrations/0020-letters.sql', import.meta.url) }],
  routes: { shell: shellRoutes, firm: firmRoutes, setUp: setUpFirmRoutes },
  schedules: [{ name: 'begin absences', at: '*/10 * * * *', atStart: true, run: beginAbsences }],
  acts: {
    firm: { part: null, beyond: 'firm.set-up' },
    user: { part: 'file', beyond: 'firm.set-up' },
    'practice area': { part: null, beyond: 'firm.set-up' },
    backup: { part: null, beyond: 'firm.set-up' },
  },
  waiting: async (ctx) => ({ stuck: may(ctx.actor, 'firm.set-up') ? await stuckCount(ctx) : 0 }),
})
