import { sum } from '@heron/core/money'
import { matterScope } from '../platform/access'
import { area } from '../platform/area'
import { amountFor, may, type Ctx } from '../platform/context'
import { literal, row, rows } from '../platform/database'
import { owedOn, unbilledOn } from '../platform/figures'
import { billingEntities } from './entities'
import { preBills } from './queries'
import { billingRoutes, payBillRoute } from './routes'

declare module '../platform/area' {
  interface ActSubjects {
    'pre-bill': true
    bill: true
    payment: true
    fee: true
  }
}

/** Pre-bills to review, and those approved that are to be issued. */
async function waiting(ctx: Ctx) {
  if (!may(ctx.actor, 'bills.review')) return { preBills: null, approved: null }
  const list = await preBills(ctx)
  const of = (state: string) => {
    const own = list.filter((p) => p.state === state)
    return { count: own.length, total: sum(own.map((p) => p.total)) }
  }
  return { preBills: of('review'), approved: may(ctx.actor, 'bills.issue') ? of('approved') : null }
}

export const billing = area({
  name: 'billing',
  entities: billingEntities,
  migrations: [
    { name: '0019-allocations', file: new URL('./migrations/0019-allocations.sql', import.meta.url) },
    { name: '0022-credit-left', file: new URL('./migrations/0022-credit-left.sql', import.meta.url) },
  ],
  kept: ['payment_credit'],
  appendOnly: [
    'bill',
    'bill_line',
    'bill_pdf',
    'bill_line_share',
    'payment',
    'allocation',
    'allocation_share',
    'payment_reversal',
    'credit_use',
  ],
  routes: { billing: billingRoutes, trust: { payBill: payBillRoute } },
  acts: {
    'pre-bill': { part: 'money', beyond: 'author' },
    bill: { part: 'money', beyond: 'author' },
    payment: { part: 'money', beyond: 'bills.see' },
    fee: { part: null, beyond: 'firm.set-up' },
  },
  moneyActs: ['billed', 'paid', 'received', 'pre-bill', 'approved'],
  find: async (ctx, term) =>
    may(ctx.actor, 'bills.see')
      ? rows(
          ctx.db.manager,
          `SELECT 'bill' AS kind, b.id, CONCAT('Bill ', b.number) AS title, m.short_name AS hint FROM bill b JOIN matter m ON m.id = b.matter_id WHERE ${matterScope(ctx.actor, 'm', 'money')} AND b.number LIKE ? ORDER BY b.id DESC LIMIT 4`,
          [`%${literal(term)}%`],
        )
      : [],
  openEnds: async (m, ctx, id) => {
    const n = (await row<{ preBills: number; fees: number; owed: number }>(
      m,
      `SELECT (SELECT COUNT(*) FROM pre_bill WHERE matter_id = x.id AND state <> 'issued') AS preBills, ${unbilledOn.portions('x')} AS fees, ${owedOn('x.id')} AS owed FROM matter x WHERE x.id = ?`,
      [id],
    ))!
    const amount = amountFor(ctx.actor)
    return [
      n.preBills
        ? {
            key: 'pre-bills',
            text: `${n.preBills} ${n.preBills === 1 ? 'pre-bill waits' : 'pre-bills wait'}. Issue or drop it first.`,
            blocks: true,
          }
        : null,
      n.fees ? { key: 'fees', text: `${amount(n.fees)} of flat fees is not billed`, blocks: false } : null,
      n.owed ? { key: 'bills', text: `${amount(n.owed)} of bills is not paid`, blocks: false } : null,
    ]
  },
  work: ['bill', 'pre_bill'],
  waiting,
})
