import { payBillFromTrust, payBill, reversePayment } from './payments'
import { download } from '../platform/files'
import { done, routes } from '../platform/routes'
import { issueBill } from './issue'
import { billPdf } from './pdf'
import { approve, changeLine, dropPreBill, makePreBill, setDiscount } from './pre-bills'
import { bill, bills, preBill, preBills, unbilled } from './queries'

const b = routes.billing
export const billingRoutes = {
  list: b.list.handler(({ context, input }) => bills(context.ctx, input)),
  preBills: b.preBills.handler(({ context }) => preBills(context.ctx)),
  unbilled: b.unbilled.handler(({ context, input }) => unbilled(context.ctx, input)),
  makePreBill: b.makePreBill.handler(({ context, input }) => makePreBill(context.ctx, input.matterId, input.workTo)),
  preBill: b.preBill.handler(({ context, input }) => preBill(context.ctx, input.id)),
  changeLine: b.changeLine.handler(({ context, input: { id, ...edit } }) => done(changeLine(context.ctx, id, edit))),
  setDiscount: b.setDiscount.handler(({ context, input }) => done(setDiscount(context.ctx, input.id, input.amount, input.basisPoints))),
  approve: b.approve.handler(({ context, input }) => done(approve(context.ctx, input.id, input.approved))),
  drop: b.drop.handler(({ context, input }) => done(dropPreBill(context.ctx, input.id))),
  issue: b.issue.handler(({ context, input }) => issueBill(context.ctx, input.id, input.day)),
  get: b.get.handler(({ context, input }) => bill(context.ctx, input.id)),
  pdf: b.pdf.handler(async ({ context, input }) => {
    const pdf = await billPdf(context.ctx, input.id)
    return download(pdf.data, pdf.name, 'application/pdf')
  }),
  pay: b.pay.handler(({ context, input }) => payBill(context.ctx, input)),
  reversePayment: b.reversePayment.handler(({ context, input }) => reversePayment(context.ctx, input.id, input.day, input.reason)),
}

/** Paying a bill from trust is an act of both books; it stands with the bills, which know what is owed. */
export const payBillRoute = routes.trust.payBill.handler(({ context, input }) => payBillFromTrust(context.ctx, input))
