import { aFewTries, area, jobKind } from '../platform/area'
import { importRoutes } from './routes'
import { loadTried, tryRows } from './service'
import { importEntities } from './entities'

declare module '../platform/area' {
  interface ActSubjects {
    import: true
  }
}

export const imports = area({
  name: 'imports',
  entities: importEntities,
  routes: { imports: importRoutes },
  jobs: {
    'try import': jobKind<{ id: number }>({
      noun: 'trial of an import',
      waits: aFewTries,
      run: (ctx, { id }, progress) => tryRows(ctx, id, progress),
    }),
    'load import': jobKind<{ id: number }>({
      noun: 'import',
      waits: aFewTries,
      run: (ctx, { id }, progress) => loadTried(ctx, id, progress),
    }),
  },
  acts: { import: { part: null, beyond: 'firm.set-up' } },
})
