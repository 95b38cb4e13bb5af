import { z } from 'zod'
import { amount, cents, day, dayOut, fileOut, id, needed, ok, longBody, page, pageOf, route, text, whole, withId, asks } from './base'
import { receiptKinds } from './names'

export const sheetIn = z.object({
  bankAccountId: id,
  day,
  controlTotal: amount,
  receipts: z
    .array(
      z.object({
        clientId: z.number({ error: 'Choose the client, or leave it unidentified' }).int().positive().nullable(),
        matterId: id.nullable().default(null),
        depositor: needed('Say who paid', 160),
        kind: z.enum(receiptKinds),
        reference: text(60).default(''),
        text: text(200).default(''),
        amount,
        /** Whether the administration fee, where the firm's jurisdiction has one, is charged to the matter. */
        fee: z.boolean().default(true),
      }),
    )
    .min(1, 'Enter at least one receipt')
    .max(200),
})
export type SheetIn = z.infer<typeof sheetIn>
const sheetRow = z.object({
  id: z.number(),
  number: z.number(),
  bank: z.string(),
  day: dayOut,
  state: z.enum(['draft', 'posted']),
  controlTotal: cents,
  entered: cents,
  receipts: z.number(),
})
export const ledgerRow = z.object({
  id: z.number(),
  bankAccountId: z.number(),
  bank: z.string(),
  kind: z.enum(['client', 'firm', 'unidentified', 'foundation']),
  clientId: z.number().nullable(),
  client: z.string(),
  matterId: z.number().nullable(),
  matter: z.string().nullable(),
  book: cents,
  uncleared: cents,
  reserved: cents,
  available: cents,
})
export const checkIn = z.object({
  ledgerId: id,
  day,
  method: z.enum(['check', 'wire']).default('check'),
  payeeName: needed('Say to whom', 160),
  payeeAddress: text(400).default(''),
  amount,
  memo: text(200).default(''),
  checkNo: whole(1, 99_999_999, 'Give the number of the check').nullable().default(null),
  overrideReason: text(300).default(''),
  /** The receipt that it gives back to whoever deposited it. */
  refundOf: id.nullable().default(null),
})
const paymentRow = z.object({
  id: z.number(),
  ledgerId: z.number(),
  ledger: z.string(),
  method: z.string(),
  checkNo: z.number().nullable(),
  day: dayOut,
  payee: z.string(),
  amount: cents,
  memo: z.string(),
  state: z.enum(['draft', 'posted', 'void', 'dropped']),
  /** Of a draft: whether a second person is asked for, and who it was; whether the reader drafted it. */
  twoPeople: z.boolean(),
  approvedBy: z.string().nullable(),
  own: z.boolean(),
})
const check = z.object({
  at: z.string().nullable(),
  ok: z.boolean(),
  unbalancedJournals: z.number(),
  /** Accounts and bills whose kept sums are not those of their entries. */
  wrongSums: z.number(),
  /** When every entry was last read, and not the sums of days. */
  wholeAt: z.string().nullable(),
  firmMoney: z.object({ ledgers: cents, account: cents }),
  accounts: z.array(
    z.object({ bankAccountId: z.number(), name: z.string(), bank: cents, liability: cents, ledgers: cents, ledgerDays: cents }),
  ),
})

export const trust = {
  accounts: route('trust.see', 'GET', '/trust/accounts', 'Bank accounts with their balances').output(
    z.array(
      z.object({
        id: z.number(),
        name: z.string(),
        kind: z.enum(['pooled', 'separate', 'operating']),
        bank: z.string(),
        ending: z.string(),
        balance: cents,
        nextCheck: z.number(),
      }),
    ),
  ),
  check: route('trust.see', 'GET', '/trust/check', 'The standing check as last made').output(check),
  runCheck: route('trust.see', 'POST', '/trust/check', 'Make the standing check now', asks).output(check),
  ledgers: route('trust.see', 'GET', '/trust/ledgers', 'Client ledgers with what is available')
    .input(
      z.object({
        q: text(80).default(''),
        matterId: id.optional(),
        withMoney: z.enum(['yes', 'no']).default('yes'),
        /** At the close of a day; left out, today. */ asOf: day.optional(),
        bankAccountId: id.optional(),
        ...page,
      }),
    )
    .output(pageOf(ledgerRow).extend({ totalBook: cents })),
  ledger: route('trust.see', 'GET', '/trust/ledgers/{id}', 'One client ledger, entry by entry, newest first')
    .input(withId.extend(page))
    .output(
      ledgerRow.extend({
        entries: z.array(
          z.object({
            id: z.number(),
            journalId: z.number(),
            day: dayOut,
            text: z.string(),
            amount: cents,
            balance: cents,
            clearsOn: dayOut.nullable(),
          }),
        ),
        /** How many entries there are on all pages. */
        total: z.number(),
        holds: z.array(
          z.object({
            id: z.number(),
            kind: z.string(),
            amount: cents,
            reason: z.string(),
            laidAt: z.string().nullable(),
            laidBy: z.string().nullable(),
          }),
        ),
      }),
    ),
  sheets: route('trust.see', 'GET', '/trust/sheets', 'Deposit sheets, newest first').input(z.object(page)).output(pageOf(sheetRow)),
  sheet: route('trust.see', 'GET', '/trust/sheets/{id}', 'A deposit sheet')
    .input(withId)
    .output(
      sheetRow.omit({ receipts: true }).extend({
        bankAccountId: z.number(),
        /** Grows with every change; a change of what was read before is refused. */
        version: z.number(),
        receipts: z.array(
          z.object({
            id: z.number(),
            receiptNo: z.number(),
            clientId: z.number().nullable(),
            client: z.string(),
            matterId: z.number().nullable(),
            matter: z.string().nullable(),
            depositor: z.string(),
            kind: z.enum(receiptKinds),
            reference: z.string(),
            text: z.string(),
            amount: cents,
            fee: cents,
          }),
        ),
      }),
    ),
  makeSheet: route('trust.post', 'POST', '/trust/sheets', 'Keep a deposit sheet as a draft', longBody)
    .input(sheetIn)
    .output(z.object({ id: z.number(), number: z.number() })),
  changeSheet: route('trust.post', 'PUT', '/trust/sheets/{id}', 'Change a draft deposit sheet', longBody)
    .input(sheetIn.extend({ id, /** The version that was read. */ version: z.number().int().min(0).optional() }))
    .output(ok),
  postSheet: route('trust.post', 'POST', '/trust/sheets/{id}/post', 'Post a deposit sheet that meets its control total')
    .input(withId)
    .output(ok),
  payBill: route('trust.post', 'POST', '/trust/bill-payments', 'Pay an issued bill from trust: one act in both books')
    .input(z.object({ ledgerId: id, billId: id, day, amount, overrideReason: text(300).default('') }))
    .output(z.object({ id: z.number(), journalId: z.number() })),
  transferAhead: route('trust.post', 'POST', '/trust/transfers/ahead', 'Bills that their own payers’ money in an account could pay', asks)
    .input(z.object({ bankAccountId: id, day }))
    .output(
      z.object({
        rows: z.array(
          z.object({
            ledgerId: z.number(),
            ledger: z.string(),
            billId: z.number(),
            number: z.string(),
            matter: z.string(),
            dueOn: dayOut,
            open: cents,
            available: cents,
            /** How far the money reaches, the oldest due first. */
            amount: cents,
          }),
        ),
        total: cents,
        /** There are bills besides that the money reaches: as many as travel together are told. */
        more: z.boolean(),
      }),
    ),
  makeTransfer: route('trust.post', 'POST', '/trust/transfers', 'Pay many issued bills from trust as one movement of the banks')
    .input(
      z.object({
        bankAccountId: id,
        operatingAccountId: id.nullable().default(null),
        day,
        parts: z
          .array(z.object({ ledgerId: id, billId: id, amount }))
          .min(1, 'Choose at least one bill')
          .max(200, 'At most 200 bills at once'),
      }),
    )
    .output(z.object({ id: z.number(), number: z.number(), total: cents })),
  transfers: route('trust.see', 'GET', '/trust/transfers', 'Transfer sheets, newest first')
    .input(z.object(page))
    .output(
      pageOf(
        z.object({
          id: z.number(),
          number: z.number(),
          day: dayOut,
          from: dayOut,
          to: dayOut,
          bills: z.number(),
          total: cents,
          /** Whether the statement of each bank shows it. */
          fromShown: z.boolean(),
          toShown: z.boolean(),
        }),
      ),
    ),
  remembered: route('trust.post', 'GET', '/trust/remembered', 'Payees with their addresses, and words that were written before').output(
    z.object({
      payees: z.array(z.object({ name: z.string(), address: z.string() })),
      memos: z.array(z.string()),
      texts: z.array(z.string()),
      /** What is levied on each receipt. */
      receiptFee: cents,
    }),
  ),
  slip: route('trust.see', 'GET', '/trust/sheets/{id}/slip', 'The slip of a deposit as PDF').input(withId).output(fileOut),
  receiptPdf: route('trust.see', 'GET', '/trust/receipts/{id}/pdf', 'The receipt of a posted line as PDF').input(withId).output(fileOut),
  payments: route('trust.see', 'GET', '/trust/payments', 'Payments out of trust, newest first')
    .input(z.object(page))
    .output(pageOf(paymentRow)),
  draftPayment: route('trust.post', 'POST', '/trust/payments', 'Draft a payment; it reserves the money')
    .input(checkIn)
    .output(z.object({ id: z.number() })),
  dropPayment: route('trust.post', 'DELETE', '/trust/payments/{id}', 'Drop a draft payment').input(withId).output(ok),
  approvePayment: route('trust.approve', 'POST', '/trust/payments/{id}/approve', 'Agree to a drafted payment of another')
    .input(withId)
    .output(ok),
  postPayment: route('trust.post', 'POST', '/trust/payments/{id}/post', 'Post a drafted payment')
    .input(withId)
    .output(z.object({ checkNo: z.number().nullable(), printJob: z.number().nullable() })),
  pay: route('trust.post', 'POST', '/trust/payments/now', 'Draft and post a payment in one act')
    .input(checkIn)
    .output(z.object({ id: z.number(), checkNo: z.number().nullable(), printJob: z.number().nullable() })),
  voidPayment: route('trust.post', 'POST', '/trust/payments/{id}/void', 'Void a payment; the money returns to the same ledger')
    .input(
      z.object({
        id,
        day,
        reason: needed('Say why', 300),
        /** Of a check: it is in hand, or the bank was told not to pay it. */
        how: z.enum(['in hand', 'stopped']).optional(),
        /** Nobody cashed it: it is followed on the list of unclaimed money. */
        unclaimed: z.boolean().default(false),
      }),
    )
    .output(ok),
  checkPdf: route('trust.see', 'GET', '/trust/payments/{id}/check', 'The check as PDF').input(withId).output(fileOut),
}
