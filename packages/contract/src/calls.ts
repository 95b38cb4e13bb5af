import { callStates } from '@heron/core/billing'
import { z } from 'zod'
import { amount, cents, day, dayOut, id, made, ok, page, pageOf, route, text, whole, withId } from './base'

const callIn = z.object({
  bankAccountId: id,
  clientId: z.number({ error: 'Choose of whom' }).int().positive(),
  matterId: id.nullable().default(null),
  amount,
  dueOn: day.nullable().default(null),
  message: text(1000).default(''),
  /** Below it, it is asked for again up to the amount; none for a call that is asked once. */
  minimum: amount.nullable().default(null),
  everyDays: whole(1, 90, 'Give days').nullable().default(null),
})
export type CallIn = z.infer<typeof callIn>
const callRow = z.object({
  id: z.number(),
  bankAccountId: z.number(),
  bank: z.string(),
  clientId: z.number(),
  client: z.string(),
  matterId: z.number().nullable(),
  matter: z.string().nullable(),
  amount: cents,
  paid: cents,
  open: cents,
  dueOn: dayOut.nullable(),
  message: z.string(),
  minimum: cents.nullable(),
  everyDays: z.number().nullable(),
  sentOn: dayOut.nullable(),
  seenOn: dayOut.nullable(),
  remindedOn: dayOut.nullable(),
  version: z.number(),
  /** Of the call that it asks for again. */
  afterId: z.number().nullable(),
  by: z.string(),
  state: z.enum(callStates),
  email: z.string(),
  fault: z.string(),
})
export const calls = {
  list: route('trust.see', 'GET', '/calls', 'Calls on account by state')
    .input(z.object({ state: z.enum(['', 'open', ...callStates]).default(''), clientId: id.optional(), matterId: id.optional(), ...page }))
    .output(pageOf(callRow).extend({ open: cents })),
  make: route('trust.post', 'POST', '/calls', 'Draft a call on account').input(callIn).output(made),
  change: route('trust.post', 'PUT', '/calls/{id}', 'Change a draft')
    .input(callIn.extend({ id, version: z.number().int().min(0) }))
    .output(ok),
  send: route('trust.post', 'POST', '/calls/{id}/send', 'Send a call, or remind of it, with a link to pay')
    .input(withId)
    .output(z.object({ url: z.string(), to: z.string() })),
  link: route('trust.post', 'POST', '/calls/{id}/link', 'A link to pay, to be handed over by hand')
    .input(withId)
    .output(z.object({ url: z.string() })),
  withdraw: route('trust.post', 'POST', '/calls/{id}/withdraw', 'Withdraw a call; nothing more is asked for').input(withId).output(ok),
  receipts: route('trust.see', 'GET', '/calls/{id}/receipts', 'Receipts that may have come for a call')
    .input(withId)
    .output(
      z.array(z.object({ id: z.number(), receiptNo: z.number(), day: dayOut, depositor: z.string(), amount: cents, taken: z.boolean() })),
    ),
  took: route('trust.post', 'POST', '/calls/{id}/receipts', 'A posted receipt came for this call')
    .input(z.object({ id, receiptId: id }))
    .output(ok),
}
