import { z } from 'zod'
import { amount, basisPoints, cents, day, dayOut, fileOut, id, needed, ok, route, text, whole, withId } from './base'

export const budgetStands = z.object({ budget: cents, capped: z.boolean(), used: cents, drafts: cents, percent: z.number() }).nullable()
const percentOrUsual = basisPoints.nullable().default(null)
/** Under what the lines of work stand on a bill. */
export const billGroup = z.enum(['none', 'person', 'day', 'activity'])
/** Terms of bills of a matter or a client. */
export const terms = {
  dueDays: whole(0, 365, 'Give days from 0 to 365').nullable(),
  interestBasisPoints: whole(0, 6000, 'Give a yearly rate from 0 to 60 %').nullable(),
  graceDays: whole(0, 365, 'Give days from 0 to 365').nullable(),
  /** How bills are sent; null as usual, which is as PDF alone. */
  format: z.enum(['pdf', 'ledes']).nullable().default(null),
  /** How the client calls itself, or the matter, in electronic bills. */
  theirNumber: text(20).default(''),
  /** Off the fees of every bill, and the taxes that its lines bear; null as usual. */
  discountBasisPoints: percentOrUsual,
  taxFees: percentOrUsual,
  taxSoftCosts: percentOrUsual,
  taxHardCosts: percentOrUsual,
  /** Of a matter: the language of its bills and the letters about them; null that of whoever is billed. */
  language: z.enum(['en', 'es']).nullable().default(null),
  /** What bills show; null as usual. */
  billGroup: billGroup.nullable().default(null),
  billSummary: z.boolean().nullable().default(null),
  billTrust: z.boolean().nullable().default(null),
  billSlip: z.boolean().nullable().default(null),
  /** Of a matter: what fees and costs are to come to before tax, whether that is a cap, and at which shares whom to warn. */
  budget: amount.nullable().default(null),
  capped: z.boolean().default(false),
  warnAt: text(40).default(''),
  warnIds: z.array(id).max(20).default([]),
}
export const termsOut = z.object({
  ...terms,
  /** What holds where nothing is said. */
  usual: z.object({
    dueDays: z.number(),
    interestBasisPoints: z.number(),
    graceDays: z.number(),
    discountBasisPoints: z.number(),
    taxes: z.object({ fees: z.number(), softCosts: z.number(), hardCosts: z.number() }),
    group: billGroup,
    summary: z.boolean(),
    trust: z.boolean(),
    slip: z.boolean(),
  }),
  stands: budgetStands,
})
const proposedLetter = z.object({ name: z.string(), email: z.string(), subject: z.string(), body: z.string() })
const letterIn = {
  name: needed('Say to whom', 200),
  email: z.email('Give an e-mail address').max(190),
  subject: needed('Give a subject', 200),
  body: needed('Write a few words', 5000),
}
const statementSpan = { from: day.optional(), to: day.optional(), matterId: id.optional() }

/** Statements of account, receipts, and when bills are reminded of. */
export const statements = {
  statement: route('bills.see', 'GET', '/contacts/{id}/statement', 'Statement of account of a payer')
    .input(z.object({ ...statementSpan, id }))
    .output(
      z.object({
        payerId: z.number(),
        payer: z.string(),
        email: z.string(),
        matter: z.string().nullable(),
        from: dayOut,
        to: dayOut,
        opening: cents,
        closing: cents,
        credit: cents,
        aging: z.array(cents),
        rows: z.array(z.object({ day: dayOut, text: z.string(), billId: z.number(), charged: cents, settled: cents, balance: cents })),
        open: z.array(z.object({ id: z.number(), number: z.string(), due: dayOut, open: cents })),
      }),
    ),
  statementPdf: route('bills.see', 'GET', '/contacts/{id}/statement/pdf', 'Statement of account as PDF')
    .input(z.object({ ...statementSpan, id }))
    .output(fileOut),
  statementLetter: route('bills.issue', 'GET', '/contacts/{id}/statement/letter', 'To whom a statement would go, and in which words')
    .input(z.object({ ...statementSpan, id }))
    .output(proposedLetter),
  sendStatement: route('bills.issue', 'POST', '/contacts/{id}/statement/send', 'Send a statement of account by e-mail')
    .input(z.object({ ...statementSpan, id, ...letterIn }))
    .output(ok),
  receiptPdf: route('bills.see', 'GET', '/payments/{id}/receipt', 'Receipt for a payment as PDF').input(withId).output(fileOut),
  receiptLetter: route('bills.issue', 'GET', '/payments/{id}/receipt/letter', 'To whom a receipt would go, and in which words')
    .input(withId)
    .output(proposedLetter),
  sendReceipt: route('bills.issue', 'POST', '/payments/{id}/receipt', 'Send a receipt by e-mail')
    .input(z.object({ id, ...letterIn }))
    .output(ok),
  reminderRule: route('bills.see', 'GET', '/overdue/rule', 'On which days bills are reminded of, and in whose name by themselves').output(
    z.object({ days: z.string(), by: z.string().nullable(), /** Nobody sends them any more. */ stopped: z.boolean() }),
  ),
  setReminderRule: route('bills.issue', 'PUT', '/overdue/rule', 'Set the days of reminders, and whether they go out by themselves')
    .input(z.object({ days: needed('Give the days', 40), automatic: z.boolean() }))
    .output(ok),
}
