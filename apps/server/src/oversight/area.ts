import { area } from '../platform/area'
import { figureJobs } from './long-spans'
import { oversightRoutes } from './routes'
import { sendDue, sending } from './schedules'
import { oversightEntities } from './entities'

declare module '../platform/area' {
  interface ActSubjects {
    goal: true
    oversight: true
  }
}

/** What partners see of the whole firm: weeks, how work becomes money, reports, boards, decisions. */
export const oversight = area({
  name: 'oversight',
  entities: oversightEntities,
  migrations: [
    { name: '0053-oversight', file: new URL('./migrations/0053-oversight.sql', import.meta.url) },
    { name: '0057-flow', file: new URL('./migrations/0057-flow.sql', import.meta.url) },
    { name: '0064-decisions-aside', file: new URL('./migrations/0064-decisions-aside.sql', import.meta.url) },
    { name: '0066-share-matter', file: new URL('./migrations/0066-share-matter.sql', import.meta.url) },
  ],
  kept: ['time_moved'],
  routes: { oversight: oversightRoutes },
  acts: { goal: { part: null, beyond: 'bills.review' }, oversight: { part: null, beyond: 'author' } },
  jobs: { 'send report': sending, ...figureJobs },
  schedules: [{ name: 'send reports that are due', at: '17 * * * *', atStart: true, run: sendDue }],
})
