import { matterScope } from '../platform/access'
import { aFewTries, area, jobKind } from '../platform/area'
import { may } from '../platform/context'
import { literal, rows } from '../platform/database'
import { paperEntities } from './entities'
import { paperRoutes } from './routes'
import { makePaper, type MakePayload } from './service'

declare module '../platform/area' {
  interface ActSubjects {
    paper: true
  }
}

export const papers = area({
  name: 'papers',
  entities: paperEntities,
  routes: { papers: paperRoutes },
  jobs: { 'make paper': jobKind<MakePayload>({ noun: 'paper', waits: aFewTries, run: makePaper }) },
  acts: { paper: { part: 'papers', beyond: 'author' } },
  work: ['paper'],
  find: async (ctx, term) =>
    may(ctx.actor, 'papers.see')
      ? rows(
          ctx.db.manager,
          `SELECT 'paper' AS kind, p.id, p.name AS title, m.short_name AS hint FROM paper p JOIN matter m ON m.id = p.matter_id WHERE ${matterScope(ctx.actor, 'm', 'papers')} AND p.deleted_at IS NULL AND p.name LIKE ? ORDER BY p.created_at DESC LIMIT 4`,
          [`%${literal(term)}%`],
        )
      : [],
})
