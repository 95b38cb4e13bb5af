import { area } from '../platform/area'
import { fieldEntities } from './entities'
import { fieldRoutes } from './routes'
import { dropMatterValues } from './queries'

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
  removeMatter: (m, id) => dropMatterValues(m, id),
})
