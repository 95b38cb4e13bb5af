import { done, routes } from '../platform/routes'
import { changeCostKind, costKinds, makeCostKind } from './kinds'
import { priceCost } from './pricing'
import { costList } from './queries'
import { endRecurring, makeRecurring, recurringCosts } from './recurring'
import { correctCost, recordCost, reverseCost, settleCosts, splitCosts } from './service'

const c = routes.costs
export const costRoutes = {
  list: c.list.handler(({ context, input }) => costList(context.ctx, input)),
  kinds: c.kinds.handler(({ context }) => costKinds(context.ctx)),
  makeKind: c.makeKind.handler(({ context, input }) => makeCostKind(context.ctx, input)),
  changeKind: c.changeKind.handler(({ context, input: { id, ...own } }) => done(changeCostKind(context.ctx, id, own))),
  quote: c.quote.handler(({ context, input }) => priceCost(context.ctx.db.manager, input)),
  record: c.record.handler(({ context, input: { id, ...own } }) => recordCost(context.ctx, id, own)),
  split: c.split.handler(({ context, input }) => splitCosts(context.ctx, input)),
  correct: c.correct.handler(({ context, input: { id, ...own } }) => done(correctCost(context.ctx, id, own))),
  reverse: c.reverse.handler(({ context, input: { id, ...own } }) => reverseCost(context.ctx, id, own)),
  settle: c.settle.handler(({ context, input }) => settleCosts(context.ctx, input)),
  recurring: c.recurring.handler(({ context }) => recurringCosts(context.ctx)),
  makeRecurring: c.makeRecurring.handler(({ context, input }) => makeRecurring(context.ctx, input)),
  endRecurring: c.endRecurring.handler(({ context, input }) => done(endRecurring(context.ctx, input.id))),
}
