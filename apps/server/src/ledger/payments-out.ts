import { faultOfPast, type Day } from '@heron/core/calendar'
import { bankKinds, type BankKindName, type JournalLine } from '@heron/core/ledger'
import { showMoney } from '@heron/core/money'
import { nameWords } from '@heron/core/people'
import type { EntityManager } from 'typeorm'
import { touchMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertRow, locked, lockRow, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { useCheckNumber } from './check-numbers'
import { dayOfAnew, bankOfLedger, firmRules } from './payment-queries'
import { BankAccount, PaymentOut } from './entities'
import { judgeAhead, judgeTaking, move, reverse } from './door'
import { lockLedger } from './ledgers'
import { type LedgerHead } from './ledger-queries'
import { printAtOnce } from './print-jobs'
import { judgeRefund } from './receipts'
import { accountFor } from './posting'
import { requireUncorrected, requireUnmatched } from './acts/reversal'
import { Unclaimed } from './check-entities'

export interface PaymentIn {
  ledgerId: number
  day: Day
  method: 'check' | 'wire'
  payeeName: string
  payeeAddress: string
  amount: number
  memo: string
  checkNo: number | null
  overrideReason: string
  refundOf?: number | null
}
type FirmRules = Awaited<ReturnType<typeof firmRules>>

function judgeMethod(firm: FirmRules, bankKind: BankKindName, method: string) {
  if (!bankKinds[bankKind].checksAlways && method === 'check' && firm?.viaPooled)
    throw refused(
      'separate-trust-check',
      'Money in a separate trust account is moved to the pooled account first, and a check is drawn there. Open the ledger and choose Move.',
    )
}

/** The firm takes money out of trust in payment of an issued bill only, and never by a check to its own name. */
function judgePayee(firm: FirmRules, payee: string) {
  const own = nameWords(firm?.name ?? '')
  const named = new Set(nameWords(payee))
  if (own.length && own.every((w) => named.has(w)))
    throw refused(
      'firm-without-bill',
      `${payee} is the firm itself. Trust money goes to the firm only in payment of an issued bill: open the bill and choose Pay from trust.`,
    )
}

/** Drafts a payment within an act; every rule of what may leave a ledger is judged, by the door where it is posted at once. */
export async function draftPaymentIn(m: EntityManager, ctx: Ctx, input: PaymentIn, atOnce = false): Promise<number> {
  // A day ahead has a refusal of its own, below.
  const wrongDay = input.day <= ctx.clock.today() ? faultOfPast(input.day, ctx.clock.today()) : null
  if (wrongDay) throw fieldFault('day', wrongDay)
  const firm = await firmRules(m)
  judgePayee(firm, input.payeeName)
  const ledger = atOnce ? await lockLedger(m, ctx, input.ledgerId, Boolean(input.overrideReason)) : await judgeTaking(m, ctx, input)
  judgeMethod(firm, ledger.bankKind, input.method)
  if (input.refundOf) await judgeRefund(m, input.refundOf, input)
  if (input.method !== 'check' && input.checkNo) throw fieldFault('checkNo', 'Only a check has a number')
  const id = await insertRow(m, PaymentOut, { ...input, createdBy: ctx.actor.id, createdAt: instant(ctx.clock.now()) })
  await audit(m, ctx, {
    kind: 'drafted',
    text: `${input.method === 'check' ? 'Check' : 'Wire'} of ${showMoney(input.amount)} to ${input.payeeName} drafted`,
    matterId: ledger.matterId,
    subject: 'payment out',
    subjectId: id,
  })
  return id
}

/** Drafts a payment; from now on it reserves the money. */
export function draftPayment(ctx: Ctx, input: PaymentIn): Promise<{ id: number }> {
  return work(ctx, async (m) => ({ id: await draftPaymentIn(m, ctx, input) }))
}

interface Payment extends PaymentIn {
  id: number
  state: string
  journalId: number | null
  createdBy: number
  approvedBy: number | null
}
/** A payment with its ledger, both locked. */
async function lockPayment(m: EntityManager, ctx: Ctx, id: number): Promise<Payment & { ledger: LedgerHead }> {
  const found = await m.findOne(PaymentOut, {
    select: {
      id: true,
      ledgerId: true,
      method: true,
      checkNo: true,
      day: true,
      payeeName: true,
      payeeAddress: true,
      amount: true,
      memo: true,
      state: true,
      overrideReason: true,
      refundOf: true,
      journalId: true,
      createdBy: true,
      approvedBy: true,
    },
    where: { id },
    ...locked(m),
  })
  if (!found) throw notFound('payment')
  return {
    ...found,
    method: found.method as PaymentIn['method'],
    ledger: await lockLedger(m, ctx, found.ledgerId, found.overrideReason !== ''),
  }
}

export function dropPayment(ctx: Ctx, id: number): Promise<void> {
  return work(ctx, async (m) => {
    const payment = await lockPayment(m, ctx, id)
    if (payment.state !== 'draft') throw refused('already-posted', 'Only a draft can be dropped. Void a posted payment.')
    await m.update(PaymentOut, id, { state: 'dropped' })
    await audit(m, ctx, {
      kind: 'dropped',
      text: `Draft of ${showMoney(payment.amount)} to ${payment.payeeName} dropped`,
      matterId: payment.ledger.matterId,
      subject: 'payment out',
      subjectId: id,
    })
  })
}

/** Another than who drafted it agrees that it is paid. */
export const approvePayment = (ctx: Ctx, id: number): Promise<void> =>
  work(ctx, async (m) => {
    const payment = await lockPayment(m, ctx, id)
    if (payment.state !== 'draft') throw refused('already-posted', 'Only a draft is approved.')
    if (payment.createdBy === ctx.actor.id) throw refused('same-person', 'A payment is approved by somebody else than who drafted it.')
    await m.update(PaymentOut, id, { approvedBy: ctx.actor.id, approvedAt: instant(ctx.clock.now()) })
    await audit(m, ctx, {
      kind: 'approved',
      text: `${showMoney(payment.amount)} to ${payment.payeeName} approved`,
      matterId: payment.ledger.matterId,
      subject: 'payment out',
      subjectId: id,
    })
  })

interface PostedOut {
  checkNo: number | null
  /** Where the account's checks go to print at once: the print job that it stands in. */
  printJob: number | null
}
async function post(m: EntityManager, ctx: Ctx, id: number, prints = true): Promise<PostedOut> {
  const payment = await lockPayment(m, ctx, id)
  if (payment.state !== 'draft') throw refused('already-posted', 'This payment is posted already.')
  judgeMethod(await firmRules(m), payment.ledger.bankKind, payment.method)
  return postLocked(m, ctx, payment, payment.ledger, prints)
}

/** Posts a draft that is held, with its ledger, and by the method that its account allows. */
async function postLocked(m: EntityManager, ctx: Ctx, payment: Payment, ledger: LedgerHead, prints: boolean): Promise<PostedOut> {
  const { id } = payment
  if (ledger.twoPeople && (payment.approvedBy === null || payment.approvedBy === payment.createdBy))
    throw refused('needs-approval', 'This account asks for two people: keep it as a draft, and have somebody else approve it.')
  const taking = { overrideReason: payment.overrideReason, exceptPayment: id }
  const judged = await judgeAhead(m, ctx, { ...taking, ledgerId: payment.ledgerId, amount: payment.amount, day: payment.day })
  const checkNo = payment.method === 'check' ? await useCheckNumber(m, ctx, ledger.bankAccountId, { paymentId: id }, payment.checkNo) : null
  const name = checkNo ? `Check ${checkNo}` : 'Wire'
  const text = `${name}, ${payment.payeeName}${payment.memo ? `: ${payment.memo}` : ''}`
  const journalId = await move(
    m,
    ctx,
    { day: payment.day, kind: 'payment out', memo: `${text} (${ledger.name})`, subject: 'payment out', subjectId: id },
    {
      lines: [
        { account: ledger.liabilityGl, amount: payment.amount, matterId: ledger.matterId },
        { account: ledger.bankGl, amount: -payment.amount, matterId: ledger.matterId },
        ...(ledger.kind === 'firm' ? await firmMoneySpent(m, payment.amount) : []),
      ],
      bank: [
        {
          bankAccountId: ledger.bankAccountId,
          amount: -payment.amount,
          kind: payment.method,
          reference: checkNo ? String(checkNo) : '',
          text,
        },
      ],
      ledgers: [{ ledgerId: ledger.id, bankAccountId: ledger.bankAccountId, amount: -payment.amount, text }],
    },
    { ...taking, judged },
  )
  await m.update(PaymentOut, id, { state: 'posted', journalId, checkNo })
  await audit(m, ctx, {
    kind: 'paid',
    text: `${name}: ${showMoney(payment.amount)} out of trust to ${payment.payeeName}${payment.overrideReason ? `, not yet cleared: ${payment.overrideReason}` : ''}`,
    matterId: ledger.matterId,
    subject: 'payment out',
    subjectId: id,
  })
  if (ledger.matterId) await touchMatter(m, ctx, ledger.matterId)
  return {
    checkNo,
    printJob: await printAtOnce(m, ctx, 'trust', ledger.bankAccountId, prints && checkNo && ledger.printsAtOnce ? [id] : []),
  }
}

/** The firm's own money in trust is an asset; what is paid out of it for charges is an expense. */
async function firmMoneySpent(m: EntityManager, amount: number): Promise<JournalLine[]> {
  const account = await accountFor(m)
  return [
    { account: account('bank charges'), amount },
    { account: account('firm money in trust'), amount: -amount },
  ]
}

export const postPayment = (ctx: Ctx, id: number): Promise<PostedOut> => work(ctx, (m) => post(m, ctx, id))

export function payNow(ctx: Ctx, input: PaymentIn): Promise<PostedOut & { id: number }> {
  return work(ctx, async (m) => {
    const id = await draftPaymentIn(m, ctx, input, true)
    const ledger = await lockLedger(m, ctx, input.ledgerId, input.overrideReason !== '')
    const payment = { ...input, id, state: 'draft', journalId: null, createdBy: ctx.actor.id, approvedBy: null }
    return { id, ...(await postLocked(m, ctx, payment, ledger, true)) }
  })
}

interface Voiding {
  day: Day
  reason: string
  /** Of a check: the check itself is in hand, or the bank was told not to pay it. */
  how?: 'in hand' | 'stopped' | undefined
  /** Nobody cashed it: the money goes to the list of what is unclaimed. */
  unclaimed?: boolean | undefined
}

async function voidIn(m: EntityManager, ctx: Ctx, id: number, v: Voiding) {
  const payment = await lockPayment(m, ctx, id)
  if (payment.state !== 'posted' || !payment.journalId) throw refused('not-posted', 'Only a posted payment can be voided.')
  const what = payment.checkNo ? `Check ${payment.checkNo}` : 'This wire'
  const bank = await bankOfLedger(m, payment.ledgerId)
  // Whoever matches lines of the bank holds the account.
  await lockRow(m, BankAccount, bank!.id)
  await requireUnmatched(m, payment.journalId, what)
  await requireUncorrected(m, payment.journalId)
  await reverse(m, ctx, payment.journalId, v.day, v.reason)
  await m.update(PaymentOut, id, { state: 'void' })
  if (v.unclaimed) await m.insert(Unclaimed, { paymentId: id })
  const how = v.how ? `, ${v.how === 'stopped' ? 'payment stopped at the bank' : 'check in hand'}` : ''
  await audit(m, ctx, {
    kind: 'voided',
    text: `${payment.checkNo ? what : 'Wire'} of ${showMoney(payment.amount)} to ${payment.payeeName} voided${how}: ${v.reason}`,
    matterId: payment.ledger.matterId,
    subject: 'payment out',
    subjectId: id,
  })
  return payment
}

/** Voids a posted payment; the money returns to the same ledger by a mirrored entry. */
export function voidPayment(ctx: Ctx, id: number, v: Voiding): Promise<{ ok: true }> {
  return work(ctx, async (m) => {
    if (v.day > ctx.clock.today()) throw fieldFault('day', 'It cannot be voided on a day ahead')
    await voidIn(m, ctx, id, v)
    return { ok: true as const }
  })
}

/** A check that was spoiled in printing: voided on its own day, and written anew under the next number of the account. */
export async function reissueIn(m: EntityManager, ctx: Ctx, id: number): Promise<{ paymentId: number; checkNo: number }> {
  const own = await lockPayment(m, ctx, id)
  const day = await dayOfAnew(m, ctx, own.ledger.bankAccountId, own.day)
  const was = await voidIn(m, ctx, id, { day, reason: 'spoiled in printing' })
  const paymentId = await insertRow(m, PaymentOut, {
    ledgerId: was.ledgerId,
    method: was.method,
    checkNo: null,
    day,
    payeeName: was.payeeName,
    payeeAddress: was.payeeAddress,
    amount: was.amount,
    memo: was.memo,
    overrideReason: was.overrideReason,
    refundOf: was.refundOf ?? null,
    createdBy: was.createdBy,
    createdAt: instant(ctx.clock.now()),
  })
  // What was agreed to is the same payment under another number.
  if (was.approvedBy) await m.update(PaymentOut, paymentId, { approvedBy: was.approvedBy, approvedAt: instant(ctx.clock.now()) })
  return { paymentId, checkNo: (await post(m, ctx, paymentId, false)).checkNo! }
}
