import { z } from 'zod'
import { cents, dayOut, id, ok, route, text, withId } from './base'
import { billGroup } from './statements'

const token = text(80).refine((t) => /^[\w-]{20,80}$/.test(t), 'This address is not complete')
/** How bills look: under what their lines stand, hours by person, what is held in trust, a part to return with the money. */
const billLook = z.object({
  group: billGroup,
  summary: z.boolean(),
  trust: z.boolean(),
  slip: z.boolean(),
})
export type BillLookIn = z.infer<typeof billLook>

/** Links by which a bill is paid on the card processor's page. */
export const payLinks = {
  look: route('firm.set-up', 'GET', '/firm/bill-look', 'What bills show').output(billLook),
  changeLook: route('firm.set-up', 'PUT', '/firm/bill-look', 'Say what bills show').input(billLook).output(ok),
  payLinks: route('bills.see', 'GET', '/bills/{id}/pay-links', 'Links by which a bill can be paid, and what came by them')
    .input(withId)
    .output(
      z.object({
        offered: z.boolean(),
        links: z.array(z.object({ id: z.number(), by: z.string(), madeAt: z.string(), endedAt: z.string().nullable() })),
        charges: z.array(
          z.object({
            id: z.string(),
            amount: cents,
            state: z.enum(['begun', 'refused', 'paid', 'disputed']),
            method: z.enum(['card', 'bank']),
            fee: cents.nullable(),
            fault: z.string(),
            at: z.string(),
          }),
        ),
      }),
    ),
  makePayLink: route('bills.issue', 'POST', '/bills/{id}/pay-links', 'Make a link by which a bill is paid; its address is told once')
    .input(withId)
    .output(z.object({ id: z.number(), url: z.string() })),
  endPayLink: route('bills.issue', 'POST', '/pay-links/{id}/ended', 'End a link at once').input(z.object({ id })).output(ok),
}
/** What a payer sees by a link, and what the processor tells. */
export const paying = {
  open: route('public', 'POST', '/pay/{token}', 'The bill or call that a link pays')
    .input(z.object({ token }))
    .output(
      z.object({
        /** A bill, or a call on account; of a call there is no number and no day of issue, and a message may be there. */
        what: z.enum(['bill', 'call']),
        firm: z.string(),
        number: z.string(),
        payer: z.string(),
        issuedOn: dayOut.nullable(),
        dueOn: dayOut.nullable(),
        message: z.string(),
        total: cents,
        open: cents,
        underWay: z.boolean(),
      }),
    ),
  begin: route('public', 'POST', '/pay/{token}/charges', 'Begin to pay what is open; answers with the processor’s page')
    .input(z.object({ token }))
    .output(z.object({ url: z.string() })),
  event: route('public', 'POST', '/card-events', 'What the card processor tells, signed')
    .input(z.object({ at: text(40), payload: text(4000), signature: text(64) }))
    .output(ok),
}
