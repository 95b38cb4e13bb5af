import { area } from '../platform/area'
import { matterEntities } from './entities'
import { leadHandedOver, teamHandedOver } from './handing'
import { matterRoutes, wallRoutes } from './routes'
import { matterWrites } from './writing'
import { dropRows, find } from './file-queries'

declare module '../platform/area' {
  interface ActSubjects {
    matter: true
  }
}

/** What belongs to a matter alone and goes with it. */
const ownTables = [
  'matter_party',
  'matter_team',
  'matter_screen',
  'matter_client',
  'matter_payer',
  'matter_tag',
  'matter_stage',
  'matter_follow',
  'matter_word',
  'fee_portion',
  'matter_arrangement',
  'contingent_fee',
  'contingent_stage',
  'matter_retainer',
]

export const matters = area({
  name: 'matters',
  entities: matterEntities,
  migrations: [{ name: '0034-arrangements', file: new URL('./migrations/0034-arrangements.sql', import.meta.url) }],
  routes: { matters: matterRoutes, setUp: wallRoutes },
  acts: { matter: { part: 'file', beyond: 'firm.set-up' } },
  find,
  removeMatter: async (m, id) => {
    for (const table of ownTables) await dropRows(m, table, id)
  },
  handsOver: [leadHandedOver, teamHandedOver],
  writes: matterWrites,
})
