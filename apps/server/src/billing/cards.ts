import { bookCardFee } from './card-fees'
import { settleCharge } from './charge-queries'
import { randomBytes } from 'node:crypto'
import { cardEventKinds, chargeState, settlementName } from '@heron/core/billing'
import { showMoney } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import { operatingBank, settledTogether } from '../ledger'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { lockRow, work } from '../platform/database'
import { sendMail } from '../platform/mail'
import { notFound, Problem, refused } from '../platform/problem'
import { isSigned, processorInUse, signature } from '../platform/processor'
import { enqueue } from '../platform/enqueue'
import { beginCall, callEvent, openCall } from './calls/paying'
import { receivePayment, reversePayment } from './payments'
import { receiptLetter, sendReceipt } from './statements'
import { CardCharge, CardEvent, PayLink } from './card-entities'
import { UserAccount } from '../platform/shared-entities'
import {
  asMaker,
  billCharge,
  callCharge,
  journalOfPayment,
  type LinkedBill,
  linkedBill,
  linkedCall,
  noteCardEvent,
  onBehalf,
} from './card-queries'

/** Charges that one link may begin and not end: a page that is loaded again and again begins no thousands of them. */
const mostBegun = 30
async function linked(m: EntityManager, token: string): Promise<LinkedBill> {
  const found = await linkedBill(m, token)
  if (!found) throw new Problem(404, 'not-found', 'This link has ended, or its address is not complete. Ask the firm for a new one.')
  return found
}

/** What a payer sees by a link: the bill or the call as it stands now, and nothing else. */
export const openPaying = (ctx: Ctx, token: string) =>
  work(ctx, async (m) => {
    const call = await linkedCall(m, token)
    const going = async (linkId: number) => m.existsBy(CardCharge, { linkId, state: 'begun' })
    if (call) {
      const c = await openCall(m, await asMaker(m, ctx, call.linkId), call)
      const open = c.state === 'withdrawn' ? 0 : Math.max(0, c.amount - c.paid)
      return { what: 'call' as const, firm: call.firm, number: c.matter ?? '', payer: c.client, issuedOn: null, dueOn: c.dueOn, message: c.message, total: c.amount, open, underWay: await going(call.linkId) } // prettier-ignore
    }
    const { linkId, billId: _, origin: __, ...bill } = await linked(m, token)
    return { ...bill, what: 'bill' as const, message: '', underWay: await going(linkId) }
  })

/** Begins a charge of what is open, and says on which page it is paid; what that page is told is signed. */
export const beginPaying = (ctx: Ctx, token: string): Promise<{ url: string }> =>
  work(ctx, async (m) => {
    const processor = processorInUse()
    if (!processor) throw refused('no-processor', 'Payment by card is not possible just now. Please ask the firm.')
    const to = (c: { id: string; amount: number }, l: { firm: string; origin: string }, what: string) => {
      const payload = JSON.stringify({ charge: c.id, amount: c.amount, firm: l.firm, what, back: `${l.origin}/pay/${token}` })
      return {
        url: `${processor.url}/charge?d=${Buffer.from(payload).toString('base64url')}&s=${signature(processor.secret, 'charge', payload)}`,
      }
    }
    const call = await linkedCall(m, token)
    if (call) {
      const begun = await beginCall(m, await asMaker(m, ctx, call.linkId), call, mostBegun)
      if (!begun) throw refused('nothing-open', 'Nothing more is asked for here. Thank you.')
      return to(begun, call, 'On account, held in trust')
    }
    const bill = await linked(m, token)
    if (bill.open <= 0) throw refused('nothing-open', 'This bill is paid. Thank you.')
    await lockRow(m, PayLink, bill.linkId)
    // A page left and opened again goes on with the charge that was begun, as long as the amount is the same.
    const begun = await m.find(CardCharge, { select: { id: true, amount: true }, where: { linkId: bill.linkId, state: 'begun' } })
    if (begun.length >= mostBegun) throw refused('too-many-begun', 'Too many payments were begun by this link. Please ask the firm for a new one.') // prettier-ignore
    let id = begun.find((c) => c.amount === bill.open)?.id
    if (!id) {
      id = randomBytes(12).toString('hex')
      await m.insert(CardCharge, { id, linkId: bill.linkId, billId: bill.billId, amount: bill.open, begunAt: instant(ctx.clock.now()) }) // prettier-ignore
    }
    return to({ id, amount: bill.open }, bill, `Bill ${bill.number}`)
  })

const told = z.object({
  id: z.string().min(4).max(60),
  charge: z.string().length(24),
  kind: z.enum(cardEventKinds),
  amount: z.number().int().positive(),
  fee: z.number().int().min(0).nullable().default(null),
  method: z.enum(['card', 'bank']).default('card'),
  /** The settlement by which the money came, as the processor names it. */
  settlement: z.string().min(1).max(60).nullable().default(null),
})

/** Keeps what was told once, works out how the charge stands by all of it, and brings the books there. */
export async function cardEvent(ctx: Ctx, input: { at: string; payload: string; signature: string }): Promise<void> {
  const processor = processorInUse()
  if (!processor || !isSigned(processor, input.at, input.payload, input.signature))
    throw new Problem(403, 'not-allowed', 'This does not bear the signature of the firm’s card processor.')
  let event: z.infer<typeof told>
  try {
    event = told.parse(JSON.parse(input.payload))
  } catch {
    throw new Problem(400, 'not-understood', 'This is not an event of a charge.')
  }
  await work(ctx, async (m) => {
    // The charge alone is locked here; its payer and bill are by the payment, in their own order.
    await lockRow(m, CardCharge, event.charge)
    const ofCall = await callCharge(m, event.charge)
    const fresh = async (charge: { id: string; amount: number }) => {
      if (charge.amount !== event.amount) throw refused('other-amount', `This charge is of ${showMoney(charge.amount)}.`)
      return noteCardEvent(m, ctx, event.id, charge.id, event.kind)
    }
    if (ofCall) {
      if (await fresh(ofCall)) await callEvent(m, await onBehalf(m, ctx, ofCall.madeBy), ofCall, event)
      return
    }
    const charge = await billCharge(m, event.charge)
    if (!charge) throw notFound('charge')
    if (!(await fresh(charge))) return
    const kinds = (await m.find(CardEvent, { select: { kind: true, id: true }, where: { chargeId: charge.id } })).map((e) => e.kind)
    const state = chargeState(kinds)
    const own = await onBehalf(m, ctx, charge.madeBy)
    const today = ctx.clock.today()
    let { paymentId } = charge
    let fault = ''
    // The processor has taken the money, or given it back, already: what the books refuse is kept for a person, and not lost.
    const tried = async <T>(words: string, act: (inside: Ctx) => Promise<T>): Promise<T | null> => {
      try {
        return await m.transaction((inner) => act({ ...own, tx: inner }))
      } catch (error) {
        if (!(error instanceof Problem)) throw error
        fault = `${words}: ${error.message}`.slice(0, 300)
        return null
      }
    }
    if (state === 'paid' && !paymentId) {
      const on = Math.max(0, Math.min(charge.open, charge.amount))
      const receive = (parts: { billId: number; amount: number }[]) =>
        tried('Paid by link, and not booked here', (inside) =>
          receivePayment(inside, {
            payerId: charge.payerId,
            day: today,
            amount: charge.amount,
            kind: event.method === 'bank' ? 'bank debit' : 'card',
            reference: charge.id,
            parts,
          }),
        )
      const received = (on ? await receive([{ billId: charge.billId, amount: on }]) : null) ?? (await receive([]))
      if (received) {
        ;[paymentId, fault] = [received.id, '']
        await enqueue(m, own, 'receipt of a link', { paymentId: received.id })
      }
    } else if (state === 'disputed' && paymentId) {
      const id = paymentId
      if (
        await tried('Disputed, and not taken back here', (inside) =>
          reversePayment(inside, id, today, charge.method === 'bank' ? 'the bank debit was returned' : 'the card payment is disputed'),
        )
      )
        paymentId = null
    }
    let { feeJournalId } = charge
    if (event.kind === 'settled' && event.fee && !feeJournalId)
      feeJournalId = await bookCardFee(m, own, today, charge, event.fee, {
        words: `bill ${charge.bill}`,
        subject: 'bill',
        subjectId: charge.billId,
      })
    const settlement = charge.settlement ?? settlementName(event, today)
    await settleCharge(
      m,
      charge.id,
      { payment_id: paymentId },
      {
        method: event.method,
        state,
        fee: event.kind === 'settled' ? event.fee : null,
        feeJournalId,
        settlement,
        fault,
      },
    )
    if (settlement) {
      // What came back by a dispute that was won came by itself.
      const payment = paymentId && !kinds.includes('disputed') ? await journalOfPayment(m, paymentId) : null
      await settledTogether(m, (await operatingBank(m, null)).id, settlement, [payment?.id, feeJournalId].filter((j) => typeof j === 'number')) // prettier-ignore
    }
    if (event.kind === 'disputed')
      await audit(m, own, { kind: 'reversed', text: `${charge.method === 'bank' ? 'Bank debit' : 'Card payment'} of ${showMoney(charge.amount)} on bill ${charge.bill} is ${charge.method === 'bank' ? 'returned' : 'disputed'}${fault ? `. ${fault}` : ''}`, matterId: charge.matterId, subject: 'bill', subjectId: charge.billId }) // prettier-ignore
  })
}

/** After money came by a link: its receipt goes to whoever paid, where there is an address, and whoever made the link is told. */
export async function receiptOfLink(ctx: Ctx, { paymentId }: { paymentId: number }) {
  const letter = await receiptLetter(ctx, paymentId).catch((error: unknown) => {
    // Returned or disputed before its receipt went out: there is none.
    if (error instanceof Problem) return null
    throw error
  })
  if (!letter) return { sent: false }
  const { name: firm, email } = (await ctx.db.manager.findOne(UserAccount, { select: { name: true, email: true, id: true }, where: { id: ctx.actor.id } }))! // prettier-ignore
  await work(ctx, (m) =>
    sendMail(m, ctx, {
      key: `paid by link ${paymentId}`,
      to: { name: firm, email },
      subject: `Paid by link: ${letter.name}`,
      body: `${letter.name} has paid by link. It is booked as payment ${paymentId}; ${letter.email ? `the receipt goes to ${letter.email}` : 'there is no e-mail address for its receipt'}.`,
    }),
  )
  if (letter.email) await sendReceipt(ctx, paymentId, letter, `receipt of link ${paymentId}`)
  return { sent: letter.email !== '' }
}
