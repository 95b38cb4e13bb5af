import { done, routes } from '../../platform/routes'
import { calls } from './queries'
import { changeCall, linkOfCall, makeCall, receiptsOfCall, sendCall, tookReceipt, withdrawCall } from './service'

const c = routes.calls
export const callRoutes = {
  list: c.list.handler(({ context, input }) => calls(context.ctx, input)),
  make: c.make.handler(({ context, input }) => makeCall(context.ctx, input)),
  change: c.change.handler(({ context, input: { id, version, ...own } }) => done(changeCall(context.ctx, id, own, version))),
  send: c.send.handler(({ context, input }) => sendCall(context.ctx, input.id, context.origin)),
  link: c.link.handler(({ context, input }) => linkOfCall(context.ctx, input.id, context.origin)),
  withdraw: c.withdraw.handler(({ context, input }) => done(withdrawCall(context.ctx, input.id))),
  receipts: c.receipts.handler(({ context, input }) => receiptsOfCall(context.ctx, input.id)),
  took: c.took.handler(({ context, input }) => done(tookReceipt(context.ctx, input.id, input.receiptId))),
}
