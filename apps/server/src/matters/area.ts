import { matterScope } from '../platform/access'
import { area } from '../platform/area'
import { may, type Ctx } from '../platform/context'
import { literal, rows, run } from '../platform/database'
import { matterEntities } from './entities'
import { leadHandedOver, teamHandedOver } from './handing'
import { matterRoutes, wallRoutes } from './routes'
import { matterIdsByWords } from './words'
import { matterWrites } from './writing'

declare module '../platform/area' {
  interface ActSubjects {
    matter: true
  }
}

async function find(ctx: Ctx, term: string) {
  const words = matterIdsByWords(term)
  if (!words || !may(ctx.actor, 'matters.see')) return []
  return rows<{ kind: 'matter'; id: number; title: string; hint: string }>(
    ctx.db.manager,
    `SELECT 'matter' AS kind, m.id, m.name AS title, CONCAT(m.number, ' · ', m.client_name, IF(m.closed_on IS NULL, '', ' · closed')) AS hint
       FROM (${words.sql}) found STRAIGHT_JOIN matter m ON m.id = found.matter_id WHERE ${matterScope(ctx.actor)} ORDER BY m.closed_on IS NOT NULL, m.name NOT LIKE ?, m.active_on DESC LIMIT 7`,
    [...words.values, `${literal(term)}%`],
  )
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
    for (const table of ownTables) await run(m, `DELETE FROM ${table} WHERE matter_id = ?`, [id])
  },
  handsOver: [leadHandedOver, teamHandedOver],
  writes: matterWrites,
})
