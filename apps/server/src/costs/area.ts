import { area } from '../platform/area'
import { amountFor, may } from '../platform/context'
import { touched } from '../platform/database'
import { costEntities, RecurringCost } from './entities'
import { chargeReceiptFee, takeBackReceiptFee } from './receipt-fees'
import { recordAllDue } from './recurring'
import { costRoutes } from './routes'
import { costsLeft, stoppedCosts } from './queries'

declare module '../platform/area' {
  interface ActSubjects {
    cost: true
  }
}

export const costs = area({
  name: 'costs',
  entities: costEntities,
  migrations: [
    { name: '0028-costs', file: new URL('./migrations/0028-costs.sql', import.meta.url) },
    { name: '0067-cost-reversal', file: new URL('./migrations/0067-cost-reversal.sql', import.meta.url) },
    { name: '0072-cost-kinds', file: new URL('./migrations/0072-cost-kinds.sql', import.meta.url) },
  ],
  routes: { costs: costRoutes },
  acts: { cost: { part: 'money', beyond: 'author' } },
  schedules: [{ name: 'record costs that recur', at: '7 * * * *', atStart: true, run: recordAllDue }],
  waiting: async (ctx) => ({ stoppedCosts: may(ctx.actor, 'costs.record') ? ((await stoppedCosts(ctx))?.n ?? 0) : 0 }),
  atReceipt: chargeReceiptFee,
  atReceiptReversed: takeBackReceiptFee,
  openEnds: async (m, ctx, id) => {
    const n = (await costsLeft(m, id))!
    return [
      n.costs ? { key: 'costs', text: `${amountFor(ctx.actor)(n.costs)} of costs is not billed`, blocks: false } : null,
      n.recurring ? { key: 'recurring costs', text: 'A cost recurs each month; it ends with the matter', blocks: false } : null,
    ]
  },
  atClosing: async (m, _ctx, id) => void (await m.update(RecurringCost, { matterId: id }, { nextOn: null })),
  removeMatter: (m, id) => touched(m.delete(RecurringCost, { matterId: id })),
  work: ['cost_entry'],
})
