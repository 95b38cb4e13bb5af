import { z } from 'zod'
import { amount, asks, cents, day, dayOut, id, made, needed, ok, page, route, text, whole, withId } from './base'

export const costKinds = ['soft cost', 'hard cost'] as const
/** Out of which pocket a cost was paid: the firm's operating account, the client's money in trust, or nobody's yet. */
export const paidFrom = ['operating', 'trust', 'owed'] as const

const kindIn = z.object({
  code: needed('Give a code', 12),
  name: needed('Name the kind', 80),
  hard: z.boolean(),
  /** What is counted, such as page or mile; empty where an amount is typed. */
  unit: text(20).default(''),
  /** The price of a unit in dollars, such as 0.25 or 0.655. */
  unitRate: text(20).default(''),
  markup: whole(0, 10_000, 'Give a markup of up to 100 %').default(0),
  taxable: z.boolean().default(false),
  billable: z.boolean().default(true),
  /** The code of the expense in electronic bills. */
  expenseCode: text(12).default(''),
  retired: z.boolean().default(false),
})
export type CostKindIn = z.infer<typeof kindIn>

const costIn = z.object({
  day,
  kindId: id.nullable().default(null),
  /** Where no kind of the list is chosen: money paid to someone, or the firm's own. */
  kind: z.enum(costKinds).default('hard cost'),
  text: needed('Say what it was for', 300),
  /** Units such as 12 or 36.4, priced by the kind; or the amount alone. */
  units: text(20).default(''),
  amount: amount.nullable().default(null),
  payee: text(160).default(''),
  billable: z.boolean().nullable().default(null),
  taxable: z.boolean().nullable().default(null),
  markup: whole(0, 10_000, 'Give a markup of up to 100 %').nullable().default(null),
  paidFrom: z.enum(paidFrom).default('operating'),
  /** A paper of the matter that shows it. */
  receiptId: id.nullable().default(null),
  /** Of what is paid from trust: out of which ledger, and how. The payment is drafted with it. */
  ledgerId: id.nullable().default(null),
  method: z.enum(['check', 'wire']).default('check'),
  payeeAddress: text(300).default(''),
})
export type CostIn = z.infer<typeof costIn>

const costRow = z.object({
  id: z.number(),
  matterId: z.number(),
  number: z.string(),
  matter: z.string(),
  day: dayOut,
  kind: z.enum(costKinds),
  kindName: z.string(),
  text: z.string(),
  payee: z.string(),
  units: z.string(),
  /** What it cost, and what the client is charged. */
  paid: cents,
  amount: cents,
  billable: z.boolean(),
  /** `before`: before the firm moved in. */
  paidFrom: z.enum([...paidFrom, 'before']).nullable(),
  /** Where it is owed to a vendor: the day on which it was paid. */
  settledOn: dayOut.nullable(),
  state: z.enum(['recorded', 'reversed']),
  /** Where trust money pays it: how that payment stands. */
  payment: z.enum(['draft', 'posted', 'dropped', 'void']).nullable(),
  billId: z.number().nullable(),
  billed: z.string().nullable(),
  receiptId: z.number().nullable(),
  receipt: z.string().nullable(),
})
const filter = z.object({
  from: day.optional(),
  to: day.optional(),
  matterId: id.optional(),
  kindId: id.optional(),
  paidFrom: z.enum(paidFrom).optional(),
  state: z.enum(['all', 'unbilled', 'billed', 'owed', 'not billable', 'reversed']).default('all'),
  q: text(80).default(''),
})
export type CostFilter = z.infer<typeof filter>

const recurringIn = z.object({
  matterId: id,
  kindId: id,
  text: needed('Say what it is for', 300),
  units: text(20).default(''),
  amount: amount.nullable().default(null),
  payee: text(160).default(''),
  paidFrom: z.enum(['operating', 'owed']).default('operating'),
  dayOfMonth: whole(1, 31, 'Give a date of the month'),
  firstOn: day,
  until: day.nullable().default(null),
})
export type RecurringIn = z.infer<typeof recurringIn>

export const costs = {
  list: route('costs.record', 'GET', '/costs', 'Costs of all matters that are open to the reader')
    .input(filter.extend(page))
    .output(z.object({ rows: z.array(costRow), total: z.number(), paid: cents, amount: cents })),
  kinds: route('signed in', 'GET', '/costs/kinds', 'Kinds of costs with their units and rates').output(
    z.array(kindIn.extend({ id: z.number(), used: z.number() })),
  ),
  makeKind: route('firm.set-up', 'POST', '/costs/kinds', 'Add a kind of cost').input(kindIn).output(made),
  changeKind: route('firm.set-up', 'PUT', '/costs/kinds/{id}', 'Change a kind of cost; what is recorded stays as it is')
    .input(kindIn.extend({ id }))
    .output(ok),
  quote: route('costs.record', 'POST', '/costs/quote', 'What a cost would come to', asks)
    .input(costIn.pick({ kindId: true, units: true, amount: true, markup: true }))
    .output(z.object({ paid: cents, amount: cents, how: z.string() })),
  record: route('costs.record', 'POST', '/matters/{id}/costs', 'Record a cost').input(costIn.extend({ id })).output(made),
  split: route('costs.record', 'POST', '/costs/split', 'Record one payment for several matters')
    .input(
      costIn.omit({ units: true, receiptId: true, ledgerId: true, method: true, payeeAddress: true }).extend({
        amount,
        paidFrom: z.enum(['operating', 'owed']).default('operating'),
        parts: z
          .array(z.object({ matterId: id, amount: amount.nullable().default(null) }))
          .min(2, 'Choose at least two matters')
          .max(200, 'At most 200 matters at once'),
      }),
    )
    .output(z.object({ ids: z.array(z.number()) })),
  correct: route('costs.record', 'PUT', '/costs/{id}/correction', 'Correct a cost that is not billed, or move it to another matter')
    .input(
      z.object({
        id,
        matterId: id,
        text: needed('Say what it was for', 300),
        billable: z.boolean(),
        receiptId: id.nullable().default(null),
        reason: needed('Say why', 300),
      }),
    )
    .output(ok),
  reverse: route('costs.record', 'POST', '/costs/{id}/reverse', 'Reverse a cost that is not billed')
    .input(z.object({ id, reason: needed('Say why', 300), day: day.nullable().default(null) }))
    .output(ok),
  settle: route('books.post', 'POST', '/costs/settle', 'Pay vendors what is owed to them, one payment for each')
    .input(z.object({ ids: z.array(id).min(1, 'Choose at least one cost').max(500), day }))
    .output(z.object({ payments: z.number(), amount: cents })),
  recurring: route('costs.record', 'GET', '/costs/recurring', 'Costs that recur each month').output(
    z.array(
      z.object({
        id: z.number(),
        matterId: z.number(),
        matter: z.string(),
        kindName: z.string(),
        text: z.string(),
        amount: cents,
        payee: z.string(),
        nextOn: dayOut.nullable(),
        until: dayOut.nullable(),
        fault: z.string(),
      }),
    ),
  ),
  makeRecurring: route('costs.record', 'POST', '/costs/recurring', 'Let a cost recur each month').input(recurringIn).output(made),
  endRecurring: route('costs.record', 'POST', '/costs/recurring/{id}/end', 'Let a cost recur no more').input(withId).output(ok),
}
