import { z } from 'zod'
import { checkIds, checkToPrint, outcomesIn, outcomesOut, printJobs } from './checks'
import {
  amount,
  amountOrNone,
  asks,
  cents,
  day,
  dayOut,
  fileOut,
  id,
  made,
  needed,
  ok,
  page,
  pageOf,
  route,
  text,
  whole,
  withId,
} from './base'

const lineIn = z.object({
  /** An account of the firm's own, or a matter whose cost it is, with the kind of cost. */
  accountId: id.nullable().default(null),
  matterId: id.nullable().default(null),
  kindId: id.nullable().default(null),
  text: text(200).default(''),
  amount,
  /** Of a matter's cost: whether it is billed; as its kind has it where nothing is said. */
  billable: z.boolean().nullable().default(null),
})
const lines = z.array(lineIn).min(1, 'A bill needs a line').max(100, 'A bill has at most 100 lines')
const billIn = z.object({
  vendorId: id,
  number: text(60).default(''),
  day,
  dueOn: day,
  discountOn: day.nullable().default(null),
  discount: amountOrNone.default(0),
  memo: text(200).default(''),
  lines,
})
export type VendorBillIn = z.infer<typeof billIn>
const recurringIn = z.object({
  vendorId: id,
  memo: needed('Say what it is for', 200),
  dayOfMonth: whole(1, 31, 'Give a date of the month'),
  /** Every so many months. */
  everyMonths: whole(1, 12, 'Say how often').default(1),
  dueDays: whole(0, 365, 'Give days').default(30),
  firstOn: day,
  until: day.nullable().default(null),
  lines: z.array(lineIn).min(1, 'A bill needs a line').max(20, 'A recurring bill has at most 20 lines'),
})
export type VendorRecurringIn = z.infer<typeof recurringIn>
export const vendorBillStates = ['open', 'due', 'paid', 'void', ''] as const
const billRow = z.object({
  id: z.number(),
  vendorId: z.number(),
  vendor: z.string(),
  number: z.string(),
  day: dayOut,
  dueOn: dayOut,
  discountOn: dayOut.nullable(),
  /** What is let off if it is paid whole by that day; nothing once the day is over. */
  discount: cents,
  memo: z.string(),
  total: cents,
  open: cents,
  state: z.enum(['open', 'overdue', 'part paid', 'paid', 'void']),
})
const run = z.object({
  day,
  ids: z.array(id).min(1, 'Choose at least one bill').max(200, 'At most 200 bills at once'),
  takeDiscounts: z.boolean().default(true),
})

/** Vendors, what they bill, and paying them out of operating. */
export const vendors = {
  bills: route('books.see', 'GET', '/vendors/bills', 'Bills of vendors, those due first')
    .input(z.object({ state: z.enum(vendorBillStates).default('open'), vendorId: id.optional(), q: text(80).default(''), ...page }))
    .output(pageOf(billRow).extend({ open: cents, due: cents })),
  bill: route('books.see', 'GET', '/vendors/bills/{id}', 'One bill with its lines and payments')
    .input(withId)
    .output(
      billRow.extend({
        journalId: z.number().nullable(),
        lines: z.array(
          z.object({
            id: z.number(),
            account: z.string(),
            matterId: z.number().nullable(),
            costId: z.number().nullable(),
            text: z.string(),
            amount: cents,
          }),
        ),
        payments: z.array(
          z.object({
            id: z.number(),
            day: dayOut,
            what: z.string(),
            amount: cents,
            discount: cents,
            state: z.enum(['posted', 'void']),
          }),
        ),
      }),
    ),
  usual: route('books.see', 'GET', '/vendors/{id}/usual', 'What was usual on the last bill of a vendor: account, days, address')
    .input(withId)
    .output(z.object({ accountId: z.number().nullable(), dueDays: z.number(), address: z.string(), bills: z.number() })),
  accounts: route('books.see', 'GET', '/vendors/accounts', 'Accounts to which a line of a bill may go').output(
    z.array(z.object({ id: z.number(), text: z.string(), kind: z.string() })),
  ),
  enter: route('books.post', 'POST', '/vendors/bills', 'Enter a bill of a vendor; it is owed from its day on').input(billIn).output(made),
  voidBill: route('books.post', 'POST', '/vendors/bills/{id}/void', 'Take back a bill of which nothing is paid')
    .input(z.object({ id, day, reason: needed('Say why', 300) }))
    .output(ok),
  runAhead: route('books.post', 'POST', '/vendors/run/ahead', 'What paying some bills on a day would come to', asks)
    .input(run)
    .output(
      z.object({
        bills: z.array(z.object({ id: z.number(), vendor: z.string(), number: z.string(), open: cents, discount: cents, amount: cents })),
        payees: z.number(),
        discount: cents,
        total: cents,
      }),
    ),
  run: route('books.post', 'POST', '/vendors/run', 'Pay bills out of operating, one check or transfer for each vendor')
    .input(
      z.object({
        bankAccountId: id.nullable().default(null),
        day,
        method: z.enum(['check', 'transfer']).default('check'),
        parts: z
          .array(z.object({ billId: id, amount }))
          .min(1, 'Choose at least one bill')
          .max(200, 'At most 200 bills at once'),
      }),
    )
    .output(
      z.object({
        payments: z.array(z.object({ id: z.number(), vendor: z.string(), checkNo: z.number().nullable(), amount: cents })),
        amount: cents,
        discount: cents,
        /** Where the account's checks go to print at once: the print job that they stand in. */
        printJob: z.number().nullable(),
      }),
    ),
  payments: route('books.see', 'GET', '/vendors/payments', 'Payments to vendors, newest first')
    .input(z.object({ vendorId: id.optional(), ...page }))
    .output(
      pageOf(
        z.object({
          id: z.number(),
          day: dayOut,
          vendor: z.string(),
          bank: z.string(),
          what: z.string(),
          checkNo: z.number().nullable(),
          bills: z.string(),
          amount: cents,
          state: z.enum(['posted', 'void']),
        }),
      ),
    ),
  toPrint: route('books.post', 'GET', '/vendors/checks/to-print', 'Checks to vendors that have not left the house').output(
    z.array(checkToPrint),
  ),
  byHand: route('books.post', 'POST', '/vendors/checks/by-hand', 'Checks to vendors that were written by hand')
    .input(z.object({ paymentIds: checkIds }))
    .output(ok),
  jobs: route('books.post', 'GET', '/vendors/print-jobs', 'Print jobs of checks to vendors, of the reader').output(printJobs),
  makeJob: route('books.post', 'POST', '/vendors/print-jobs', 'Print checks to vendors together')
    .input(z.object({ paymentIds: checkIds }))
    .output(made),
  jobPdf: route('books.post', 'GET', '/vendors/print-jobs/{id}/pdf', 'The checks of a print job that are still to be printed')
    .input(z.object({ id }))
    .output(fileOut),
  outcomes: route('books.post', 'POST', '/vendors/print-jobs/{id}/outcomes', 'How the checks of a print job came out')
    .input(outcomesIn)
    .output(outcomesOut),
  spoilCheck: route(
    'books.post',
    'POST',
    '/vendors/payments/{id}/spoiled',
    'A check was spoiled in printing; it is written anew under the next number',
  )
    .input(z.object({ id }))
    .output(z.object({ id: z.number(), checkNo: z.number() })),
  voidPayment: route('books.post', 'POST', '/vendors/payments/{id}/void', 'Void a payment to a vendor; its bills are open again')
    .input(z.object({ id, day, reason: needed('Say why', 300) }))
    .output(ok),
  checks: route('books.post', 'GET', '/vendors/checks', 'Checks to vendors as PDF, a page each')
    .input(z.object({ ids: z.string().regex(/^\d{1,10}(,\d{1,10}){0,199}$/, 'Give the numbers of payments') }))
    .output(fileOut),
  recurring: route('books.see', 'GET', '/vendors/recurring', 'Bills of vendors that come again').output(
    z.array(
      z.object({
        id: z.number(),
        vendor: z.string(),
        memo: z.string(),
        everyMonths: z.number(),
        amount: cents,
        nextOn: dayOut.nullable(),
        until: dayOut.nullable(),
        fault: z.string(),
      }),
    ),
  ),
  makeRecurring: route('books.post', 'POST', '/vendors/recurring', 'Let a bill of a vendor come again by itself')
    .input(recurringIn)
    .output(made),
  endRecurring: route('books.post', 'POST', '/vendors/recurring/{id}/end', 'Let a bill come no more').input(withId).output(ok),
  aging: route('books.see', 'GET', '/reports/payables', 'What is owed to vendors by days past due')
    .input(z.object({ asOf: day }))
    .output(
      z.object({
        rows: z.array(z.object({ vendorId: z.number().nullable(), vendor: z.string(), buckets: z.array(cents), total: cents })),
        together: z.object({ buckets: z.array(cents), total: cents }),
        /** The account of payables on that day, and what of it no bill or cost explains. */
        account: cents,
        unexplained: cents,
      }),
    ),
}
