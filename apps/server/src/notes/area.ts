import { area } from '../platform/area'
import { run } from '../platform/database'
import { noteRoutes, viewRoutes } from './routes'
import { noteEntities } from './entities'

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
  removeMatter: (m, id) => run(m, `DELETE FROM topic WHERE matter_id = ?`, [id]),
})
