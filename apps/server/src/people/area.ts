import { area } from '../platform/area'
import { ConflictCheck, Enquiry, peopleEntities } from './entities'
import { peopleRoutes } from './routes'
import { contactWrites } from './writing'
import { find, hitsUndecided, waiting } from './queries'

declare module '../platform/area' {
  interface ActSubjects {
    contact: true
    enquiry: true
    'conflict check': true
  }
}

export const people = area({
  name: 'people',
  entities: peopleEntities,
  appendOnly: ['contact_merge'],
  routes: { people: peopleRoutes },
  acts: {
    contact: { part: 'file', beyond: 'contact' },
    enquiry: { part: 'file', beyond: 'matters.open' },
    // A check names parties of matters from which others may be screened: it is its author's, like its record.
    'conflict check': { part: 'file', beyond: 'author' },
  },
  find,
  openEnds: async (m, _ctx, id) => {
    const found = await hitsUndecided(m, id)
    const n = found!.n
    return [n ? { key: 'conflicts', text: `${n} conflict ${n === 1 ? 'hit is' : 'hits are'} not decided`, blocks: false } : null]
  },
  removeMatter: async (m, id) => {
    await m.update(ConflictCheck, { matterId: id }, { matterId: null })
    await m.update(Enquiry, { matterId: id }, { matterId: null, state: 'open', settledAt: null })
  },
  writes: contactWrites,
  waiting,
})
