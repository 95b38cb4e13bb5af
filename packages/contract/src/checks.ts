import { checkParts, type CheckPart } from '@heron/core/ledger'
import { z } from 'zod'
import { cents, day, dayOut, fileOut, id, made, needed, ok, page, pageOf, route, text, whole, withId } from './base'

const place = z.object({ x: z.number('Give millimetres').min(0).max(210), y: z.number('Give millimetres').min(0).max(275) })
const checkLayout = z.object(Object.fromEntries(checkParts.map((p) => [p, place])) as Record<CheckPart, typeof place>)
export const checkStates = ['outstanding', 'stale', 'paid', 'void', 'spoiled', 'missing'] as const
export const checkIds = z
  .array(id)
  .min(1, 'Choose checks')
  .max(200, 'At most 200 at once')
  .refine((list) => new Set(list).size === list.length, 'Each stands here once')
export const checkToPrint = z.object({
  id: z.number(),
  checkNo: z.number(),
  day: dayOut,
  payee: z.string(),
  amount: cents,
  bank: z.string(),
})
const outcome = z.enum(['printed', 'spoiled', 'again'])
export const printJobs = z.array(
  z.object({
    id: z.number(),
    bank: z.string(),
    madeAt: z.string(),
    checks: z.array(checkToPrint.extend({ outcome: outcome.nullable() })),
  }),
)
export const outcomesIn = z.object({
  id,
  /** Of none where none of the job is open to its owner any more: it ends so. */
  outcomes: z.array(z.object({ paymentId: id, outcome })).max(200, 'At most 200 at once'),
})
export const outcomesOut = z.object({
  closed: z.boolean(),
  replaced: z.array(z.object({ paymentId: z.number(), checkNo: z.number() })),
})

export const checks = {
  register: route('trust.see', 'GET', '/checks', 'Every number of an account’s checks, with what became of it')
    .input(z.object({ bankAccountId: id, state: z.enum(['', ...checkStates]).default(''), ...page }))
    .output(
      pageOf(
        z.object({
          number: z.number(),
          /** Of missing numbers, the last of the run. */
          upTo: z.number().nullable(),
          paymentId: z.number().nullable(),
          state: z.enum(checkStates),
          out: z.enum(['printed', 'by hand']).nullable(),
          day: dayOut.nullable(),
          paidOn: dayOut.nullable(),
          payee: z.string(),
          ledgerId: z.number().nullable(),
          ledger: z.string(),
          amount: cents.nullable(),
          words: z.string(),
        }),
      ),
    ),
  spoil: route('trust.post', 'POST', '/checks/spoiled', 'A number that was spoiled before anything was written on it')
    .input(z.object({ bankAccountId: id, number: whole(1, 99_999_999, 'Give the number'), reason: needed('Say what happened', 200) }))
    .output(ok),
  toPrint: route('trust.see', 'GET', '/checks/to-print', 'Posted checks that have not left the house')
    .input(z.object({ bankAccountId: id }))
    .output(z.array(checkToPrint)),
  byHand: route('trust.post', 'POST', '/checks/by-hand', 'Checks that were written by hand')
    .input(z.object({ paymentIds: checkIds }))
    .output(ok),
  jobs: route('trust.see', 'GET', '/print-jobs', 'Print jobs of the reader that are open').output(printJobs),
  makeJob: route('trust.post', 'POST', '/print-jobs', 'Print checks together')
    .input(z.object({ paymentIds: checkIds }))
    .output(made),
  jobPdf: route('trust.see', 'GET', '/print-jobs/{id}/pdf', 'The checks of a print job that are still to be printed')
    .input(withId)
    .output(fileOut),
  outcomes: route('trust.post', 'POST', '/print-jobs/{id}/outcomes', 'How the checks of a print job came out')
    .input(outcomesIn)
    .output(outcomesOut),
  layout: route('trust.see', 'GET', '/checks/layout', 'Where the parts of a check stand')
    .input(z.object({ bankAccountId: id }))
    .output(z.object({ layout: checkLayout, numbers: z.boolean() })),
  setLayout: route('trust.post', 'PUT', '/checks/layout', 'Set where the parts of a check stand')
    .input(z.object({ bankAccountId: id, layout: checkLayout, numbers: z.boolean() }))
    .output(ok),
  sample: route('trust.see', 'GET', '/checks/sample', 'A check with made-up words, to try the layout on paper')
    .input(z.object({ bankAccountId: id }))
    .output(fileOut),
  unclaimed: route('trust.see', 'GET', '/trust/unclaimed', 'Money of checks that nobody cashed, by when it is due to the state').output(
    z.array(
      z.object({
        paymentId: z.number(),
        checkNo: z.number().nullable(),
        day: dayOut,
        payee: z.string(),
        address: z.string(),
        ledgerId: z.number(),
        ledger: z.string(),
        amount: cents,
        lastContact: dayOut.nullable(),
        dueOn: dayOut,
        note: z.string(),
      }),
    ),
  ),
  contact: route('trust.post', 'PUT', '/trust/unclaimed/{id}', 'The last contact with whoever the money is for')
    .input(z.object({ id, lastContact: day.nullable(), note: text(300).default('') }))
    .output(ok),
  claimed: route('trust.post', 'POST', '/trust/unclaimed/{id}/settled', 'It was paid to them, or handed to the state')
    .input(z.object({ id, day, words: needed('Say how it was settled', 300) }))
    .output(ok),
}
