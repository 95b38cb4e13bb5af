import { aFewTries, area, jobKind } from '../platform/area'
import { amountFor, may, type Ctx } from '../platform/context'
import { receiptOfLink } from './cards'
import { billingEntities } from './entities'
import { readyBill } from './delivery'
import { preBillSums, billsByNumber, leftToBill } from './queries'
import { runEntities } from './run-entities'
import { doRun } from './runs'
import { remindAlone } from './overdue/reminding'
import { followCalls } from './calls/service'
import { callRoutes } from './calls/routes'
import { billingRoutes, billsFromTrust, payingRoutes } from './routes'
import { callEntities } from './calls/entities'
import { cardEntities } from './card-entities'

declare module '../platform/area' {
  interface ActSubjects {
    'pre-bill': true
    bill: true
    payment: true
    fee: true
    call: true
  }
}

/** Pre-bills to review, and those approved that are to be issued. */
async function waiting(ctx: Ctx) {
  if (!may(ctx.actor, 'bills.review')) return { preBills: null, approved: null }
  const { review, approved } = await preBillSums(ctx)
  return { preBills: review, approved: may(ctx.actor, 'bills.issue') ? approved : null }
}

export const billing = area({
  name: 'billing',
  entities: [...billingEntities, ...runEntities, ...callEntities, ...cardEntities],
  migrations: [
    { name: '0019-allocations', file: new URL('./migrations/0019-allocations.sql', import.meta.url) },
    { name: '0022-credit-left', file: new URL('./migrations/0022-credit-left.sql', import.meta.url) },
    ...[
      '0025-runs',
      '0026-overdue',
      '0030-electronic',
      '0032-comments',
      '0033-reminders',
      '0035-settlements',
      '0036-cards',
      '0037-bill-layout',
      '0039-bank-debits',
      '0045-calls',
      '0054-fee-shares',
      '0059-card-settlements',
      '0061-taxes-and-terms',
      '0071-bill-figures',
      '0074-payment-applied',
      '0075-allocation-batches',
    ].map((name) => ({
      name,
      file: new URL(`./migrations/${name}.sql`, import.meta.url),
    })),
  ],
  jobs: {
    'bill run': jobKind<{ runId: number }>({ noun: 'run of bills', waits: aFewTries, lane: 'bills', run: doRun }),
    'receipt of a link': jobKind<{ paymentId: number }>({ noun: 'receipt', waits: aFewTries, lane: 'bills', run: receiptOfLink }),
    'bill after issue': jobKind<{ billId: number; send: boolean }>({ noun: 'bill', waits: aFewTries, lane: 'bills', run: readyBill }),
  },
  schedules: [
    { name: 'remind of overdue bills', at: '23 * * * *', atStart: true, run: remindAlone },
    { name: 'follow calls on account', at: '37 * * * *', atStart: true, run: followCalls },
  ],
  kept: ['payment_credit', 'payment_applied', 'bill_figure'],
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
  routes: { billing: billingRoutes, trust: billsFromTrust, paying: payingRoutes, calls: callRoutes },
  acts: {
    'pre-bill': { part: 'money', beyond: 'author' },
    bill: { part: 'money', beyond: 'author' },
    payment: { part: 'money', beyond: 'bills.see' },
    fee: { part: null, beyond: 'firm.set-up' },
    call: { part: 'trust', beyond: 'trust.see' },
  },
  moneyActs: ['billed', 'paid', 'received', 'pre-bill', 'approved'],
  find: async (ctx, term) => (may(ctx.actor, 'bills.see') ? billsByNumber(ctx, term) : []),
  openEnds: async (m, ctx, id) => {
    const n = (await leftToBill(m, id))!
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
