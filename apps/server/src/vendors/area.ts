import { IsNull, Not } from 'typeorm'
import { area } from '../platform/area'
import { may } from '../platform/context'
import { enterAllDue } from './recurring'
import { vendorRoutes } from './routes'
import { vendorEntities, VendorRecurring } from './entities'

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
  waiting: async (ctx) => ({
    stoppedBills: may(ctx.actor, 'books.post')
      ? await ctx.db.manager.countBy(VendorRecurring, { fault: Not(''), nextOn: Not(IsNull()) })
      : 0,
  }),
})
