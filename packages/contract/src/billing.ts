import { z } from 'zod'
import { amount, amountOrNone, cents, day, fileOut, id, needed, ok, page, pageOf, route, text, whole, withId } from './base'

export const billRow = z.object({
  id: z.number(),
  number: z.string(),
  matterId: z.number(),
  matter: z.string(),
  payer: z.string(),
  issuedOn: z.string(),
  dueOn: z.string(),
  total: cents,
  open: cents,
})
const billLine = z.object({
  id: z.number(),
  kind: z.enum(['time', 'flat', 'soft cost', 'hard cost', 'interest', 'tax']),
  day: z.string().nullable(),
  timekeeper: z.string(),
  initials: z.string(),
  text: z.string(),
  minutes: z.number().nullable(),
  rate: cents.nullable(),
  worked: cents,
  charged: cents,
  noCharge: z.boolean(),
  heldBack: z.boolean(),
  net: cents,
})
const totals = z.object({
  worked: cents,
  workedMinutes: z.number(),
  writtenDown: cents,
  noCharge: cents,
  fees: cents,
  costs: cents,
  discount: cents,
  tax: cents,
  total: cents,
})
export const preBillRow = z.object({
  id: z.number(),
  matterId: z.number(),
  matter: z.string(),
  payer: z.string(),
  workTo: z.string(),
  state: z.enum(['review', 'approved', 'issued']),
  lines: z.number(),
  total: cents,
})
export const preBillOut = preBillRow.omit({ lines: true, total: true }).extend({
  lines: z.array(billLine),
  totals,
  discountAmount: cents,
  discountBasisPoints: z.number(),
  /** What each payer will be billed, where there is more than one. */
  parts: z.array(z.object({ name: z.string(), share: z.string(), total: cents })),
  owedBefore: cents,
  held: cents,
})
export const billOut = billRow.extend({
  lines: z.array(billLine),
  totals,
  workTo: z.string(),
  payments: z.array(z.object({ id: z.number(), day: z.string(), kind: z.string(), amount: cents, reversed: z.boolean() })),
  pdfHash: z.string().nullable(),
  payerId: z.number(),
  /** Where a bill is one payer's part: which part, of how much, and the others' bills. */
  part: z.object({ share: z.string(), of: cents }).nullable(),
  others: z.array(z.object({ id: z.number(), number: z.string(), payer: z.string(), total: cents })),
  ledgers: z.array(z.object({ id: z.number(), name: z.string(), available: cents, held: cents })),
})

export const billing = {
  list: route('bills.see', 'GET', '/bills', 'Issued bills')
    .input(z.object({ q: text(80).default(''), state: z.enum(['open', 'paid', 'all']).default('all'), matterId: id.optional(), ...page }))
    .output(pageOf(billRow).extend({ totalOpen: cents })),
  preBills: route('bills.see', 'GET', '/pre-bills', 'Pre-bills that wait').output(z.array(preBillRow)),
  unbilled: route('bills.see', 'GET', '/unbilled', 'Unbilled work by matter, up to a day')
    .input(z.object({ to: day, ...page }))
    .output(
      pageOf(
        z.object({
          matterId: z.number(),
          number: z.string(),
          matter: z.string(),
          client: z.string(),
          billTo: z.string().nullable(),
          time: cents,
          costs: cents,
          flat: cents,
          together: cents,
          oldest: z.string().nullable(),
        }),
      ).extend({
        /** Over all matters, not only those of the page. */
        together: cents,
      }),
    ),
  makePreBill: route('bills.review', 'POST', '/pre-bills', 'Make a pre-bill of unbilled work up to a date')
    .input(z.object({ matterId: id, workTo: day }))
    .output(z.object({ id: z.number() })),
  preBill: route('bills.see', 'GET', '/pre-bills/{id}', 'A pre-bill').input(withId).output(preBillOut),
  changeLine: route('bills.review', 'PUT', '/pre-bills/{id}/lines/{lineId}', 'Edit, write down, no charge or hold back a line')
    .input(
      z.object({
        id,
        lineId: id,
        text: needed('A line needs its text', 1000),
        charged: amountOrNone,
        noCharge: z.boolean(),
        heldBack: z.boolean(),
      }),
    )
    .output(ok),
  setDiscount: route('bills.review', 'PUT', '/pre-bills/{id}/discount', 'Give a discount on fees')
    .input(z.object({ id, amount: amountOrNone, basisPoints: whole(0, 10_000, 'Give a percentage from 0 to 100') }))
    .output(ok),
  approve: route('bills.review', 'POST', '/pre-bills/{id}/approve', 'Approve a pre-bill, or take it back for review')
    .input(z.object({ id, approved: z.boolean() }))
    .output(ok),
  drop: route('bills.review', 'DELETE', '/pre-bills/{id}', 'Drop a pre-bill; its lines stay unbilled').input(withId).output(ok),
  issue: route('bills.issue', 'POST', '/pre-bills/{id}/issue', 'Issue an approved pre-bill as a numbered bill')
    .input(z.object({ id, day }))
    .output(z.object({ id: z.number(), number: z.string(), others: z.array(z.object({ id: z.number(), number: z.string() })) })),
  get: route('bills.see', 'GET', '/bills/{id}', 'An issued bill').input(withId).output(billOut),
  pdf: route('bills.see', 'GET', '/bills/{id}/pdf', 'The bill as PDF, the same bytes each time').input(withId).output(fileOut),
  pay: route('bills.issue', 'POST', '/bills/{id}/payments', 'A payment that came into operating')
    .input(z.object({ id, day, amount, kind: z.enum(['check', 'card', 'transfer']), reference: text(60).default('') }))
    .output(z.object({ id: z.number() })),
  reversePayment: route('bills.issue', 'POST', '/payments/{id}/reverse', 'Reverse a payment; the bill is open again')
    .input(z.object({ id, day, reason: needed('Say why', 300) }))
    .output(ok),
}
