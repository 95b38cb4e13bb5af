import { billLetterKinds } from '@heron/core/billing'
import { mostMoney } from '@heron/core/money'
import { z } from 'zod'
import { billLine, noteShown, totals } from './bill-rows'
import { payLinks } from './cards'
import { review, settlements } from './settlements'
import { budgetStands, statements, terms, termsOut } from './statements'
import { amount, amountOrNone, asks, cents, day, dayOut, fileOut, id, made, needed, ok, page, pageOf, route, text, whole, withId } from './base' // prettier-ignore

export const billRow = z.object({
  id: z.number(),
  number: z.string(),
  matterId: z.number(),
  matter: z.string(),
  payer: z.string(),
  issuedOn: dayOut,
  dueOn: dayOut,
  total: cents,
  open: cents,
  /** Voided: its number stays, and nothing is owed on it. */
  void: z.boolean(),
})
export const moneyKinds = ['check', 'card', 'transfer', 'bank debit'] as const
const noteIn = {
  id,
  day,
  reason: needed('Say why', 300),
  lines: z
    .array(z.object({ lineId: id, amount: amountOrNone }))
    .max(5000)
    .optional(),
  amount: amount.optional(),
}
const creditRow = z.object({
  id: z.number(),
  day: dayOut,
  kind: z.enum(moneyKinds),
  reference: z.string(),
  amount: cents,
  payerId: z.number(),
  payer: z.string(),
  credit: cents,
})
const creditUse = { id, amount, day, reference: text(60).default(''), bankAccountId: id.nullish() }
export const preBillRow = z.object({
  id: z.number(),
  matterId: z.number(),
  matter: z.string(),
  payer: z.string(),
  workTo: dayOut,
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
  comments: z.array(z.object({ id: z.number(), by: z.string(), at: z.string(), text: z.string() })),
  liesWith: z.object({ who: z.string(), since: z.string() }).nullable(),
  /** Where the matter has a budget: how it stands with this bill. */
  budget: budgetStands,
  /** What the last bill of the matter came to. */
  last: z.object({ id: z.number(), number: z.string(), issuedOn: dayOut, total: cents, fees: cents, costs: cents }).nullable(),
  held: cents,
  /** Where it stands among those that wait, and which comes next. */
  place: z.object({ at: z.number(), of: z.number(), next: z.number().nullable() }),
})
export const billOut = billRow.extend({
  lines: z.array(billLine),
  totals,
  workTo: dayOut,
  /** All that settles it, each with what stands applied here and what was left over of it. */
  payments: z.array(
    z.object({
      id: z.number(),
      day: dayOut,
      kind: z.enum(['trust', ...moneyKinds, 'credit note', 'write-off', 'void']),
      number: z.string().nullable(),
      reason: z.string(),
      amount: cents,
      here: cents,
      credit: cents,
      reversed: z.boolean(),
    }),
  ),
  pdfHash: z.string().nullable(),
  /** What its payer disputes, while the mark stands. */
  disputed: z.string().nullable(),
  /** What went out about it. */
  sent: z.array(z.object({ kind: z.string(), at: z.string(), name: z.string(), address: z.string(), by: z.string() })),
  payerId: z.number(),
  /** Where a bill is one payer's part: which part, of how much, and the others' bills. */
  part: z.object({ share: z.string(), of: cents }).nullable(),
  others: z.array(z.object({ id: z.number(), number: z.string(), payer: z.string(), total: cents })),
  ledgers: z.array(z.object({ id: z.number(), name: z.string(), available: cents, held: cents })),
})

const sums = z.object({ count: z.number(), total: cents })
const unbilledFilter = {
  q: text(80).optional(),
  leadId: id.optional(),
  areaId: id.optional(),
  payerId: id.optional(),
  least: z.coerce
    .number('Give an amount')
    .int('Give whole cents')
    .min(0, 'Give an amount of zero or more')
    .max(mostMoney.amount)
    .optional(),
  payable: z.literal('yes').optional(),
}
const runMade = z.object({ id: z.number(), of: z.number(), jobId: z.number() })
const runRow = z.object({
  id: z.number(),
  what: z.enum(['make', 'issue']),
  day: dayOut,
  send: z.boolean(),
  by: z.string(),
  beganAt: z.string(),
  endedAt: z.string().nullable(),
  of: z.number(),
  left: z.number(),
})
const runItem = z.object({
  ordinal: z.number(),
  matterId: z.number(),
  matter: z.string(),
  number: z.string(),
  preBillId: z.number().nullable(),
  state: z.enum(['waiting', 'done', 'refused']),
  words: z.string(),
  bills: z.array(z.object({ id: z.number(), number: z.string() })),
})
const letterKind = z.enum(billLetterKinds)
const billIds = z.array(id).min(1, 'Choose at least one bill').max(200, 'Choose at most 200 bills at once')
const overdueRow = z.object({
  id: z.number(),
  number: z.string(),
  matterId: z.number(),
  matter: z.string(),
  payer: z.string(),
  email: z.string(),
  dueOn: dayOut,
  days: z.number(),
  total: cents,
  open: cents,
  /** Reminders sent, and which is due next. */
  step: z.number(),
  next: z.number().nullable(),
  remindedAt: z.string().nullable(),
  /** What is disputed; no reminder and no interest meanwhile. */
  disputed: z.string().nullable(),
  /** Where it is itself a charge of interest: on which bill. */
  interestOf: z.string().nullable(),
  accrued: cents,
  /** Interest not charged yet, up to today. */ interest: cents,
})
const letterOut = z.object({ name: z.string(), email: z.string(), subject: z.string(), body: z.string() })

export const billing = {
  list: route('bills.see', 'GET', '/bills', 'Issued bills')
    .input(z.object({ q: text(80).default(''), state: z.enum(['open', 'paid', 'all']).default('all'), matterId: id.optional(), ...page }))
    .output(pageOf(billRow).extend({ totalOpen: cents })),
  preBills: route('bills.see', 'GET', '/pre-bills', 'Pre-bills that wait')
    .input(
      z.object({
        q: text(80).default(''),
        state: z.enum(['all', 'review', 'approved']).default('all'),
        leadId: id.optional(),
        matterId: id.optional(),
        ...page,
      }),
    )
    .output(pageOf(preBillRow).extend({ review: sums, approved: sums })),
  ...statements,
  ...settlements,
  ...payLinks,
  ...review,
  unbilled: route('bills.see', 'GET', '/unbilled', 'Unbilled work by matter, up to a day')
    .input(z.object({ to: day, ...unbilledFilter, ...page }))
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
        /** How many of them say who is billed. */ payable: z.number(),
      }),
    ),
  makePreBill: route('bills.review', 'POST', '/pre-bills', 'Make a pre-bill of unbilled work up to a date')
    .input(z.object({ matterId: id, workTo: day }))
    .output(z.object({ id: z.number() })),
  startRun: route('bills.review', 'POST', '/bill-runs', 'Make pre-bills of many matters, by a job')
    .input(
      z.object({
        workTo: day,
        /** Null for all matters that the filter lets through. */
        matterIds: z.array(id).min(1, 'Choose at least one matter').max(5000).nullable(),
        filter: z.object(unbilledFilter).nullable().default(null),
      }),
    )
    .output(runMade),
  startIssuing: route('bills.issue', 'POST', '/bill-runs/issue', 'Issue many approved pre-bills, by a job')
    .input(z.object({ day, preBillIds: z.array(id).min(1, 'Choose at least one pre-bill').max(5000), send: z.boolean().default(false) }))
    .output(runMade),
  runs: route('bills.see', 'GET', '/bill-runs', 'The last runs').output(z.array(runRow)),
  run: route('bills.see', 'GET', '/bill-runs/{id}', 'What a run has done')
    .input(z.object({ id, state: z.enum(['all', 'waiting', 'done', 'refused']).default('all'), ...page }))
    .output(runRow.extend({ done: z.number(), refused: z.number(), total: z.number(), rows: z.array(runItem) })),
  overdue: route('bills.see', 'GET', '/overdue', 'Bills past due: reminders, interest, disputes')
    .input(z.object({ q: text(80).optional(), leadId: id.optional(), disputed: z.enum(['yes', 'no']).optional(), ...page }))
    // In whose name reminders went out by themselves stands in `stoppedBy`, where they left or issue no bills any more.
    .output(pageOf(overdueRow).extend({ open: cents, steps: z.array(z.number()), stoppedBy: z.string().nullable() })),
  remind: route('bills.issue', 'POST', '/overdue/reminders', 'Send the reminder that is due on each of some bills')
    .input(z.object({ billIds }))
    .output(z.object({ sent: z.number(), left: z.array(z.object({ number: z.string(), why: z.string() })) })),
  chargeInterest: route('bills.issue', 'POST', '/overdue/interest', 'Charge interest on overdue bills up to a day')
    .input(z.object({ billIds, day }))
    .output(z.object({ made: z.array(z.object({ id: z.number(), number: z.string(), ofBill: z.string(), amount: cents })) })),
  dispute: route('bills.issue', 'PUT', '/bills/{id}/dispute', 'Mark a bill as disputed, or take the mark off')
    .input(z.object({ id, disputed: z.boolean(), reason: text(300).default('') }))
    .output(ok),
  matterTerms: route('bills.see', 'GET', '/matters/{id}/bill-terms', 'When bills of a matter are due, and interest on overdue ones')
    .input(withId)
    .output(termsOut),
  changeMatterTerms: route('bills.review', 'PUT', '/matters/{id}/bill-terms', 'Change when bills of a matter are due, and interest')
    .input(z.object({ id, ...terms, seen: z.object(terms).optional() }))
    .output(ok),
  clientTerms: route('bills.see', 'GET', '/contacts/{id}/bill-terms', 'When bills of a client are due, and interest on overdue ones')
    .input(withId)
    .output(termsOut),
  changeClientTerms: route('bills.review', 'PUT', '/contacts/{id}/bill-terms', 'Change when bills of a client are due, and interest')
    .input(z.object({ id, ...terms, seen: z.object(terms).optional() }))
    .output(ok),
  letters: route('firm.set-up', 'GET', '/bill-letters', 'Words of letters about bills').output(
    z.array(z.object({ kind: letterKind, language: z.enum(['en', 'es']), subject: z.string(), body: z.string(), own: z.boolean() })),
  ),
  saveLetter: route(
    'firm.set-up',
    'PUT',
    '/bill-letters',
    'Change the words of a letter about bills; empty words bring back those that ship',
  )
    .input(z.object({ kind: letterKind, language: z.enum(['en', 'es']), subject: text(200), body: text(5000) }))
    .output(ok),
  letter: route('bills.see', 'GET', '/bills/{id}/letter', 'With which words and to whom a bill would be sent')
    .input(withId)
    .output(letterOut),
  send: route('bills.issue', 'POST', '/bills/{id}/send', 'Send a bill by e-mail')
    .input(
      z.object({
        id,
        name: needed('Say to whom', 200),
        email: z.email('Give an e-mail address').max(190),
        subject: needed('Give a subject', 200),
        body: needed('Write a few words', 5000),
      }),
    )
    .output(ok),
  preBill: route('bills.see', 'GET', '/pre-bills/{id}', 'A pre-bill').input(withId).output(preBillOut),
  changeLine: route('bills.review', 'PUT', '/pre-bills/{id}/lines/{lineId}', 'Edit, write down, no charge or hold back a line')
    .input(
      z.object({
        id,
        lineId: id,
        /** What is left out stays as it is. */
        text: needed('A line needs its text', 1000).optional(),
        charged: amountOrNone.optional(),
        noCharge: z.boolean().optional(),
        heldBack: z.boolean().optional(),
        /** The line as it was read; where what is changed stands otherwise by then, nothing is done. */
        seen: z.object({ text: z.string().max(1200), charged: amountOrNone, noCharge: z.boolean(), heldBack: z.boolean() }).optional(),
      }),
    )
    .output(ok),
  setDiscount: route('bills.review', 'PUT', '/pre-bills/{id}/discount', 'Give a discount on fees')
    .input(
      z.object({
        id,
        amount: amountOrNone,
        basisPoints: whole(0, 10_000, 'Give a percentage from 0 to 100'),
        /** What the bill is to come to, with tax, in place of either. */ target: amount.nullable().default(null),
      }),
    )
    .output(ok),
  feeShares: route('bills.see', 'GET', '/matters/{id}/fee-shares', 'Who shares the fixed fees of a matter')
    .input(withId)
    .output(
      z.object({
        shares: z.array(z.object({ userId: z.number(), name: z.string(), basisPoints: z.number() })),
        staff: z.array(z.object({ id: z.number(), name: z.string() })),
      }),
    ),
  setFeeShares: route('bills.review', 'PUT', '/matters/{id}/fee-shares', 'Set who shares the fixed fees of a matter')
    .input(
      z.object({
        id,
        shares: z
          .array(z.object({ userId: id, basisPoints: whole(1, 10_000, 'Give a percentage') }))
          .max(20, 'At most 20 people share a fee'),
      }),
    )
    .output(ok),
  approve: route('bills.review', 'POST', '/pre-bills/{id}/approve', 'Approve a pre-bill, or take it back for review')
    /** `seen`: what the bill came to as it was read; where it comes to something else by then, it is not approved. */
    .input(z.object({ id, approved: z.boolean(), seen: amountOrNone.optional() }))
    .output(ok),
  comment: route('bills.review', 'POST', '/pre-bills/{id}/comments', 'Say something about a pre-bill to those who have to do with it')
    .input(z.object({ id, text: needed('Write a few words', 2000) }))
    .output(made),
  drop: route('bills.review', 'DELETE', '/pre-bills/{id}', 'Drop a pre-bill; its lines stay unbilled').input(withId).output(ok),
  issue: route('bills.issue', 'POST', '/pre-bills/{id}/issue', 'Issue an approved pre-bill as a numbered bill')
    /** `seen`: what it came to as it was read; where it was taken back, changed and approved anew since, it is not issued. */
    .input(z.object({ id, day, seen: amountOrNone.optional() }))
    .output(z.object({ id: z.number(), number: z.string(), others: z.array(z.object({ id: z.number(), number: z.string() })) })),
  get: route('bills.see', 'GET', '/bills/{id}', 'An issued bill').input(withId).output(billOut),
  pdf: route('bills.see', 'GET', '/bills/{id}/pdf', 'The bill as PDF, the same bytes each time').input(withId).output(fileOut),
  ledesCheck: route('bills.see', 'GET', '/bills/{id}/ledes/check', 'What a bill needs before it goes out as LEDES 1998B')
    .input(withId)
    .output(z.object({ format: z.enum(['pdf', 'ledes']).nullable(), faults: z.array(z.string()) })),
  ledes: route('bills.see', 'GET', '/bills/{id}/ledes', 'The bill as LEDES 1998B').input(withId).output(fileOut),
  pay: route('bills.issue', 'POST', '/bills/{id}/payments', 'A payment that came into operating')
    .input(z.object({ id, day, amount, kind: z.enum(moneyKinds), reference: text(60).default('') }))
    .output(z.object({ id: z.number() })),
  receive: route(
    'bills.issue',
    'POST',
    '/payments',
    'A payment into operating over several bills; what is left over is a credit of its payer',
  )
    .input(
      z.object({
        payerId: id,
        day,
        amount,
        kind: z.enum(moneyKinds),
        reference: text(60).default(''),
        bankAccountId: id.nullish(),
        /** How much on which bills; the oldest due first where nothing is said. */
        parts: z
          .array(z.object({ billId: id, amount: amountOrNone }))
          .max(200)
          .optional(),
      }),
    )
    .output(
      z.object({
        id: z.number(),
        applied: z.array(z.object({ billId: z.number(), number: z.string(), amount: cents })),
        credit: cents,
      }),
    ),
  payer: route('bills.see', 'GET', '/payers/{id}', 'What a payer owes and what is left over of what they paid')
    .input(withId)
    .output(
      z.object({
        id: z.number(),
        name: z.string(),
        owed: cents,
        /** How many are open; two hundred are told, the oldest due first. */ open: z.number(),
        bills: z.array(billRow.omit({ matterId: true, payer: true, void: true })),
        credits: z.array(creditRow),
        credit: cents,
      }),
    ),
  credits: route('bills.see', 'GET', '/credits', 'What payers have left over of payments, the oldest first')
    .input(z.object(page))
    .output(pageOf(creditRow).extend({ together: cents })),
  applyCredit: route('bills.issue', 'POST', '/payments/{id}/apply', 'Apply what is left over of a payment to a bill')
    .input(z.object({ id, billId: id, amount, day }))
    .output(ok),
  unapply: route('bills.issue', 'POST', '/payments/{id}/take-off', 'Take a payment, or part of it, off a bill')
    .input(z.object({ id, billId: id, amount: amount.nullable().default(null), day, reason: needed('Say why', 300) }))
    .output(z.object({ amount: cents })),
  refund: route('bills.issue', 'POST', '/payments/{id}/refund', 'Pay back what is left over of a payment')
    .input(z.object(creditUse))
    .output(z.object({ journalId: z.number() })),
  toTrust: route('trust.post', 'POST', '/payments/{id}/to-trust', 'Move what is left over of a payment into trust')
    .input(z.object({ ...creditUse, trustAccountId: id, matterId: id.nullable() }))
    .output(z.object({ journalId: z.number() })),
  previewNote: route('bills.issue', 'POST', '/bills/{id}/credit-notes/preview', 'What a credit note would do', asks)
    .input(z.object(noteIn))
    .output(noteShown),
  creditNote: route('bills.issue', 'POST', '/bills/{id}/credit-notes', 'Credit an issued bill by a numbered note')
    .input(z.object(noteIn))
    .output(noteShown.extend({ id: z.number(), number: z.string() })),
  writeOff: route('bills.issue', 'POST', '/bills/{id}/write-offs', 'Write off what will not be paid of a bill')
    .input(z.object({ id, day, amount, reason: needed('Say why', 300) }))
    .output(z.object({ id: z.number() })),
  void: route('bills.issue', 'POST', '/bills/{id}/void', 'Void a bill; its lines are unbilled again')
    .input(z.object({ id, day, reason: needed('Say why', 300) }))
    .output(z.object({ voided: z.array(z.string()) })),
  reversePayment: route(
    'bills.issue',
    'POST',
    '/payments/{id}/reverse',
    'Reverse a payment, a credit note or a write-off; what it settled is open again',
  )
    .input(z.object({ id, day, reason: needed('Say why', 300) }))
    .output(ok),
}
