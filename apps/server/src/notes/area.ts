import { area } from '../platform/area'
import { touched } from '../platform/database'
import { noteRoutes, viewRoutes } from './routes'
import { noteEntities, Topic } from './entities'

declare module '../platform/area' {
  interface ActSubjects {
    note: true
  }
}

export const notes = area({
  name: 'notes',
  entities: noteEntities,
  routes: { notes: noteRoutes, views: viewRoutes },
  acts: { note: { part: 'file', beyond: 'author' } },
  work: ['note'],
  removeMatter: (m, id) => touched(m.delete(Topic, { matterId: id })),
})
