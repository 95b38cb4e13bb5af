import { area } from '../platform/area'
import { enterAllDue } from './recurring'
import { vendorRoutes } from './routes'
import { vendorEntities } from './entities'

declare module '../platform/area' {
  interface ActSubjects {
    'vendor bill': true
  }
}

/** Vendors of the firm, their bills, and paying them. */
export const vendors = area({
  name: 'vendors',
  entities: vendorEntities,
  migrations: [{ name: '0048-vendors', file: new URL('./migrations/0048-vendors.sql', import.meta.url) }],
  routes: { vendors: vendorRoutes },
  acts: { 'vendor bill': { part: null, beyond: 'books.see' } },
  schedules: [{ name: 'enter bills that come again', at: '11 * * * *', atStart: true, run: enterAllDue }],
})
