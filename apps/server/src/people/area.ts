import { contactScope, matterScope } from '../platform/access'
import { area, type Found } from '../platform/area'
import { may, type Ctx } from '../platform/context'
import { literal, row, rows } from '../platform/database'
import { ConflictCheck, Enquiry, peopleEntities } from './entities'
import { peopleRoutes } from './routes'
import { contactWrites } from './writing'

declare module '../platform/area' {
  interface ActSubjects {
    contact: true
    enquiry: true
    'conflict check': true
  }
}

function find(ctx: Ctx, term: string): Promise<Found[]> {
  if (!may(ctx.actor, 'people.see')) return Promise.resolve([])
  return rows<Found>(
    ctx.db.manager,
    `SELECT 'person' AS kind, c.id, c.name AS title, COALESCE((SELECT GROUP_CONCAT(k.kind ORDER BY k.kind SEPARATOR ', ') FROM contact_kind k WHERE k.contact_id = c.id), c.kind) AS hint
       FROM contact c WHERE ${contactScope(ctx.actor)} AND c.name LIKE ? ORDER BY c.name NOT LIKE ?, c.name LIMIT 5`,
    [`%${literal(term)}%`, `${literal(term)}%`],
  )
}

/** Enquiries whose next step is due, and hits of checks that the lead has still to decide. */
async function waiting(ctx: Ctx) {
  const m = ctx.db.manager
  const enquiries = may(ctx.actor, 'people.see')
    ? await row<{ n: number }>(
        m,
        `SELECT COUNT(*) AS n FROM enquiry e JOIN contact c ON c.id = e.contact_id WHERE e.state = 'open' AND e.owner_id = ? AND e.next_on <= ? AND ${contactScope(ctx.actor)}`,
        [ctx.actor.id, ctx.clock.today()],
      )
    : null
  const conflicts = may(ctx.actor, 'matters.open')
    ? await row<{ n: number }>(
        m,
        `SELECT COUNT(DISTINCT m.id) AS n FROM conflict_hit h JOIN conflict_check k ON k.id = h.check_id JOIN matter m ON m.id = k.matter_id WHERE h.decision IS NULL AND m.closed_on IS NULL AND m.lead_id = ? AND ${matterScope(ctx.actor)}`,
        [ctx.actor.id],
      )
    : null
  return { enquiries: enquiries?.n ?? 0, conflicts: conflicts?.n ?? 0 }
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
    const found = await row<{ n: number }>(
      m,
      `SELECT COUNT(*) AS n FROM conflict_hit h JOIN conflict_check k ON k.id = h.check_id WHERE k.matter_id = ? AND h.decision IS NULL`,
      [id],
    )
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
