import { area } from '../platform/area'
import { run } from '../platform/database'
import { fieldEntities } from './entities'
import { fieldRoutes } from './routes'

declare module '../platform/area' {
  interface ActSubjects {
    fields: true
  }
}

export const fields = area({
  name: 'fields',
  entities: fieldEntities,
  routes: { fields: fieldRoutes },
  acts: { fields: { part: 'file', beyond: 'firm.set-up' } },
  removeMatter: (m, id) =>
    run(
      m,
      `DELETE v FROM field_value v JOIN field_def d ON d.id = v.field_id JOIN field_group g ON g.id = d.group_id WHERE g.owner = 'matter' AND v.owner_id = ?`,
      [id],
    ),
})
