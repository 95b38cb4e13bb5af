import { z } from 'zod'
import { amount, asks, cents, day, dayOut, id, made, needed, ok, page, pageOf, route, text, withId } from './base'

const reason = needed('Say why', 240)
const owner = { clientId: id, matterId: id.nullable().default(null) }
export const holdKinds = ['lien', 'disputed', 'other'] as const
const holdIn = z.object({ kind: z.enum(holdKinds), amount, reason })
export type HoldIn = z.infer<typeof holdIn>
const moveIn = z.object({
  fromLedgerId: id,
  bankAccountId: id,
  /** To which matter of the same client; none for the client as a whole. */
  matterId: id.nullable().default(null),
  day,
  amount,
  reason,
  /** Said by whoever takes money out of a term account before its day. */
  beforeTerm: z.boolean().default(false),
})
export type MoveIn = z.infer<typeof moveIn>
const ownerIn = z.object({ ...owner, day, reason })
export type OwnerIn = z.infer<typeof ownerIn>
const correctionIn = z.object({ entryId: id, ...owner, amount, day, reason })
export type CorrectionIn = z.infer<typeof correctionIn>
/** From which account the firm covers; left out, from the usual one. */
const operating = { operatingAccountId: id.nullable().default(null) }
const returnIn = z.object({ day, text: needed('Say what the bank gave as the reason', 160), ...operating })
export type ReturnIn = z.infer<typeof returnIn>
const chargeIn = z.object({ day, amount, text: needed('Say what it is for', 160), ...operating })
export type ChargeIn = z.infer<typeof chargeIn>
const interestIn = z.object({ day, amount, text: text(120).default(''), ledgerId: id.nullable().default(null) })
export type InterestIn = z.infer<typeof interestIn>
const posted = z.object({ journalId: z.number() })
const covered = posted.extend({ cover: cents })

/** Acts on money in trust beside receipts and payments. */
export const trustActs = {
  move: route('trust.post', 'POST', '/trust/moves', 'Move money between ledgers of one client').input(moveIn).output(posted),
  hold: route('trust.post', 'POST', '/trust/ledgers/{id}/holds', 'Hold part of a ledger: a lien, a disputed sum')
    .input(holdIn.extend({ id }))
    .output(made),
  release: route('trust.post', 'POST', '/trust/holds/{id}/release', 'Release what is held').input(z.object({ id, reason })).output(ok),
  unidentified: route('trust.see', 'GET', '/trust/unidentified', 'Receipts whose owner is not known').output(
    z.array(
      z.object({
        id: z.number(),
        receiptNo: z.number(),
        sheet: z.number(),
        day: dayOut,
        bank: z.string(),
        bankAccountId: z.number(),
        depositor: z.string(),
        kind: z.string(),
        text: z.string(),
        amount: cents,
      }),
    ),
  ),
  creditOwner: route('trust.post', 'POST', '/trust/receipts/{id}/owner', 'Credit a receipt to the owner who was found')
    .input(ownerIn.extend({ id }))
    .output(posted.extend({ ledgerId: z.number() })),
  corrections: route('trust.see', 'GET', '/trust/corrections', 'Corrections, those that wait first')
    .input(z.object({ state: z.enum(['', 'asked', 'posted', 'refused']).default(''), ...page }))
    .output(
      pageOf(
        z.object({
          id: z.number(),
          ledgerId: z.number(),
          wrong: z.string(),
          right: z.string(),
          entry: z.string(),
          entryAmount: cents,
          amount: cents,
          day: dayOut,
          reason: z.string(),
          state: z.enum(['asked', 'posted', 'refused']),
          askedBy: z.string(),
          /** Whether the reader asked for it: somebody else decides. */
          own: z.boolean(),
          decidedBy: z.string().nullable(),
          decision: z.string(),
          journalId: z.number().nullable(),
        }),
      ),
    ),
  correct: route('trust.post', 'POST', '/trust/corrections', 'Ask that an entry on the wrong ledger be put right')
    .input(correctionIn)
    .output(made),
  approve: route('trust.approve', 'POST', '/trust/corrections/{id}/approve', 'Agree to a correction that another asked for; it is posted')
    .input(withId)
    .output(posted),
  refuse: route('trust.approve', 'POST', '/trust/corrections/{id}/refuse', 'Do not make a correction')
    .input(z.object({ id, reason }))
    .output(ok),
  receipts: route('trust.see', 'GET', '/trust/receipts', 'Posted receipts by number, depositor, client or amount')
    .input(z.object({ q: text(60).default(''), bankAccountId: id.optional() }))
    .output(
      z.array(z.object({ id: z.number(), receiptNo: z.number(), day: dayOut, depositor: z.string(), amount: cents, client: z.string() })),
    ),
  returnAhead: route('trust.see', 'POST', '/trust/receipts/{id}/returned/ahead', 'What a returned deposit would leave to be covered', asks)
    .input(z.object({ id, day }))
    .output(z.object({ receiptNo: z.number(), depositor: z.string(), amount: cents, ledger: z.string(), cover: cents })),
  returned: route(
    'trust.post',
    'POST',
    '/trust/receipts/{id}/returned',
    'The bank took a deposit back; the firm covers what the ledger lacks',
  )
    .input(returnIn.extend({ id }))
    .output(covered),
  charge: route('trust.post', 'POST', '/trust/accounts/{id}/charges', 'A charge of the bank on a trust account, borne by the firm')
    .input(chargeIn.extend({ id }))
    .output(covered),
  firmMoney: route(
    'trust.post',
    'POST',
    '/trust/accounts/{id}/firm-money',
    'Put the firm’s own money for bank charges into a trust account',
  )
    .input(z.object({ id, day, amount, ...operating }))
    .output(posted),
  interest: route('trust.post', 'POST', '/trust/accounts/{id}/interest', 'Interest that the bank paid into a trust account')
    .input(interestIn.extend({ id }))
    .output(posted),
  interestOf: route('trust.see', 'GET', '/trust/interest', 'Interest of a year, ledger by ledger')
    .input(z.object({ year: z.coerce.number().int().min(1990).max(2200) }))
    .output(
      z.object({
        rows: z.array(
          z.object({ ledgerId: z.number(), ledger: z.string(), bank: z.string(), taxNumber: z.string(), times: z.number(), amount: cents }),
        ),
        /** How many ledgers it went to, of which the first two thousand are listed; what stands together is of all. */
        ledgers: z.number(),
        together: cents,
      }),
    ),
  covers: route('trust.see', 'GET', '/trust/covers', 'Covers of the firm that are in transit, or that a client still owes').output(
    z.array(
      z.object({
        id: z.number(),
        what: z.enum(['returned', 'charge']),
        bank: z.string(),
        ledgerId: z.number(),
        ledger: z.string(),
        day: dayOut,
        amount: cents,
        cover: cents,
        text: z.string(),
        journalId: z.number(),
        repaid: cents,
        inTransit: z.boolean(),
        due: cents,
      }),
    ),
  ),
  landed: route('trust.post', 'POST', '/trust/covers/{id}/landed', 'The cover has arrived in trust')
    .input(z.object({ id, day }))
    .output(ok),
  repaid: route('trust.post', 'POST', '/trust/covers/{id}/repaid', 'The client paid back what the firm covered')
    .input(z.object({ id, day, amount, reference: text(60).default(''), ...operating }))
    .output(posted),
  reverse: route('books.post', 'POST', '/books/journals/{id}/reverse', 'Reverse a journal that no statement shows yet')
    .input(z.object({ id, day, reason }))
    .output(posted),
}
