import { randomBytes } from 'node:crypto'
import type { CardEventKind } from '@heron/core/billing'
import { asksStill, callState, chargeState, settlementName } from '@heron/core/billing'
import { showMoney } from '@heron/core/money'
import { IsNull, type EntityManager } from 'typeorm'
import { BankDid, DepositReceipt, makeSheet, operatingBank, postSheet, returnIn, settledTogether } from '../../ledger'
import { audit } from '../../platform/audit'
import { instant, type Ctx } from '../../platform/context'
import { lockRow } from '../../platform/database'
import { sendMail } from '../../platform/mail'
import { Problem } from '../../platform/problem'
import { callById, type CallRow } from './queries'
import { bookCardFee } from '../card-fees'
import { settleCharge } from '../charge-queries'
import { AccountCall, AccountCallReceipt } from './entities'
import { CardCharge, CardEvent, PayLink } from '../card-entities'
import { Firm, UserAccount } from '../../platform/shared-entities'

export interface LinkedCall {
  linkId: number
  origin: string
  callId: number
  firm: string
}
/** What a payer sees of a call by its link; that it was seen is noted. */
export async function openCall(m: EntityManager, ctx: Ctx, l: LinkedCall): Promise<CallRow & { state: string }> {
  const call = (await callById(m, ctx, l.callId, true))!
  if (!call.seenOn) await m.update(AccountCall, { id: call.id, seenOn: IsNull() }, { seenOn: ctx.clock.today() })
  return { ...call, state: callState(call, ctx.clock.today()) }
}
/** Begins a charge of what is still asked for; a page that is opened again goes on with the one that was begun. */
export async function beginCall(m: EntityManager, ctx: Ctx, l: LinkedCall, most: number): Promise<{ id: string; amount: number } | null> {
  await lockRow(m, PayLink, l.linkId)
  const call = (await callById(m, ctx, l.callId, true))!
  if (!asksStill(callState(call, ctx.clock.today()))) return null
  const open = call.amount - call.paid
  const begun = await m.find(CardCharge, { select: { id: true, amount: true }, where: { linkId: l.linkId, state: 'begun' } })
  const same = begun.find((c) => c.amount === open)
  if (same) return same
  if (begun.length >= most)
    throw new Problem(409, 'too-many-begun', 'Too many payments were begun by this link. Please ask the firm for a new one.')
  const id = randomBytes(12).toString('hex')
  await m.insert(CardCharge, { id, linkId: l.linkId, callId: call.id, amount: open, begunAt: instant(ctx.clock.now()) })
  return { id, amount: open }
}

interface CallCharge {
  id: string
  callId: number
  amount: number
  receiptId: number | null
  feeJournalId: number | null
  settlement: string | null
  method: 'card' | 'bank'
}
interface Event {
  id: string
  kind: CardEventKind
  fee: number | null
  settlement: string | null
  method: 'card' | 'bank'
}
/**
 * What the processor tells of a call's charge: the gross goes into trust by a deposit sheet of its own, its fee out of operating; a
 * charge that is taken back is a returned deposit, with the firm's cover of what the ledger then lacks.
 */
export async function callEvent(m: EntityManager, own: Ctx, charge: CallCharge, event: Event): Promise<void> {
  const kinds = (await m.find(CardEvent, { select: { kind: true, id: true }, where: { chargeId: charge.id } })).map((e) => e.kind)
  const state = chargeState(kinds)
  const call = (await callById(m, own, charge.callId, true))!
  const today = own.clock.today()
  const by = event.method === 'bank' ? 'bank debit' : 'card'
  let { receiptId, feeJournalId } = charge
  let fault = ''
  const tried = async <T>(words: string, act: (inside: Ctx) => Promise<T>): Promise<T | null> => {
    try {
      return await m.transaction((inner) => act({ ...own, tx: inner }))
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      fault = `${words}: ${error.message}`.slice(0, 300)
      return null
    }
  }
  const back = receiptId ? await m.existsBy(BankDid, { receiptId }) : null
  // A dispute that the firm won brings the money a second time.
  if (state === 'paid' && (!receiptId || back)) {
    const sheet = await tried('Paid by link, and not booked here', async (inside) => {
      const made = await makeSheet(inside, {
        bankAccountId: call.bankAccountId,
        day: today,
        controlTotal: charge.amount,
        receipts: [
          {
            clientId: call.clientId,
            matterId: call.matterId,
            depositor: call.client,
            kind: by,
            reference: charge.id,
            text: 'call on account',
            amount: charge.amount,
          },
        ],
      })
      await postSheet(inside, made.id)
      return made
    })
    if (sheet) {
      const receipt = await m.findOne(DepositReceipt, { select: { id: true, receiptNo: true }, where: { sheetId: sheet.id } })
      receiptId = receipt!.id
      await m.insert(AccountCallReceipt, { receiptId, callId: call.id })
      await tellBoth(m, own, call, charge.amount, receipt!.receiptNo)
    }
  } else if (state === 'disputed' && receiptId) {
    const id = receiptId
    if (!back) {
      const reason = charge.method === 'bank' ? 'the bank debit was returned' : 'the card payment is disputed'
      await tried('Taken back by the payer, and not here', (inside) =>
        returnIn(inside.tx!, inside, id, { day: today, text: reason, operatingAccountId: null }),
      )
    }
  }
  if (event.kind === 'settled' && event.fee && !feeJournalId)
    feeJournalId = await bookCardFee(m, own, today, charge, event.fee, { words: 'a call on account', subject: 'call', subjectId: call.id })
  const settlement = charge.settlement ?? settlementName(event, today)
  await settleCharge(
    m,
    charge.id,
    { receipt_id: receiptId },
    {
      method: event.method,
      state,
      fee: event.kind === 'settled' ? event.fee : null,
      feeJournalId,
      settlement,
      fault,
    },
  )
  // The gross is trust's; its fee lessens what the operating account gets of the same settlement.
  if (settlement && feeJournalId) await settledTogether(m, (await operatingBank(m, null)).id, settlement, [feeJournalId])
  if (fault) await audit(m, own, { kind: 'received', text: fault, matterId: call.matterId, subject: 'call', subjectId: call.id })
}

/** The payer gets a receipt, and whoever made the link is told at once. */
async function tellBoth(m: EntityManager, ctx: Ctx, call: CallRow, amount: number, receiptNo: number): Promise<void> {
  const firm = (await m.findOne(Firm, { select: { name: true, id: true }, where: { id: 1 } }))!.name
  const own = await m.findOne(UserAccount, { select: { name: true, email: true, id: true }, where: { id: ctx.actor.id } })
  const what = `${showMoney(amount)} on account${call.matter ? ` in the matter ${call.matter}` : ''}`
  if (call.email)
    await sendMail(m, ctx, {
      key: `call receipt ${receiptNo}`,
      to: { name: call.client, email: call.email },
      subject: `Receipt ${receiptNo}, ${firm}`,
      body: `${firm} has received ${what}. It is held in trust for you. This is receipt ${receiptNo}.`,
    })
  if (own)
    await sendMail(m, ctx, {
      key: `call paid ${receiptNo}`,
      to: own,
      subject: `Paid on account: ${call.client}`,
      body: `${call.client} has paid ${what} by link. It stands in trust as receipt ${receiptNo}; it clears as its kind of payment does.`,
    })
}
