import { firmChecksPdf, jobPayments, makePrintJob, printJobs, tellOutcomes, toPrint, writtenByHand } from '../ledger'
import { download } from '../platform/files'
import { notFound } from '../platform/problem'
import { done, routes } from '../platform/routes'
import { enterBill, voidBill } from './bills'
import { billList, billOf, openAccounts, payables, paymentList, recurringList, usualOf, vendorOf } from './queries'
import { endRecurring, makeRecurring } from './recurring'
import { payBills, runAhead, spoilVendorCheck, voidVendorPayment, writeAnew } from './runs'

const v = routes.vendors
export const vendorRoutes = {
  bills: v.bills.handler(({ context, input }) => billList(context.ctx, input)),
  bill: v.bill.handler(async ({ context, input }) => {
    const bill = await billOf(context.ctx, input.id)
    if (!bill) throw notFound('bill of a vendor')
    return bill
  }),
  usual: v.usual.handler(async ({ context, input }) => {
    const vendor = await vendorOf(context.ctx.db.manager, context.ctx, input.id)
    if (!vendor) throw notFound('vendor')
    return usualOf(context.ctx, vendor)
  }),
  accounts: v.accounts.handler(({ context }) => openAccounts(context.ctx.db.manager)),
  enter: v.enter.handler(({ context, input }) => enterBill(context.ctx, input)),
  voidBill: v.voidBill.handler(({ context, input }) => voidBill(context.ctx, input.id, input.day, input.reason)),
  runAhead: v.runAhead.handler(({ context, input }) => runAhead(context.ctx, input)),
  run: v.run.handler(({ context, input }) => payBills(context.ctx, input)),
  payments: v.payments.handler(({ context, input }) => paymentList(context.ctx, input)),
  toPrint: v.toPrint.handler(({ context }) => toPrint(context.ctx, 'operating', null)),
  byHand: v.byHand.handler(({ context, input }) => done(writtenByHand(context.ctx, 'operating', input.paymentIds))),
  jobs: v.jobs.handler(({ context }) => printJobs(context.ctx, 'operating')),
  makeJob: v.makeJob.handler(({ context, input }) => makePrintJob(context.ctx, 'operating', input.paymentIds)),
  jobPdf: v.jobPdf.handler(async ({ context, input }) => {
    const pdf = await firmChecksPdf(context.ctx, await jobPayments(context.ctx, 'operating', input.id))
    return download(pdf.data, pdf.name, 'application/pdf')
  }),
  outcomes: v.outcomes.handler(({ context, input }) => tellOutcomes(context.ctx, 'operating', input.id, input.outcomes, writeAnew)),
  spoilCheck: v.spoilCheck.handler(({ context, input }) => spoilVendorCheck(context.ctx, input.id)),
  voidPayment: v.voidPayment.handler(({ context, input }) => voidVendorPayment(context.ctx, input.id, input.day, input.reason)),
  checks: v.checks.handler(async ({ context, input }) => {
    const pdf = await firmChecksPdf(context.ctx, input.ids.split(',').map(Number))
    return download(pdf.data, pdf.name, 'application/pdf')
  }),
  recurring: v.recurring.handler(({ context }) => recurringList(context.ctx)),
  makeRecurring: v.makeRecurring.handler(({ context, input }) => makeRecurring(context.ctx, input)),
  endRecurring: v.endRecurring.handler(({ context, input }) => done(endRecurring(context.ctx, input.id))),
  aging: v.aging.handler(({ context, input }) => payables(context.ctx, input.asOf)),
}
