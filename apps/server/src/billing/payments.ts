import { applyPayment, spreadOverBills } from '@heron/core/billing'
import { faultOfPast, maxDay, type Day } from '@heron/core/calendar'
import { judgeBillFromTrust, type JournalLine } from '@heron/core/ledger'
import { showMoney, sum } from '@heron/core/money'
import { counted } from '@heron/core/words'
import { Not, type EntityManager } from 'typeorm'
import { accountFor, bankAccount, lockLedger, move, operatingBank, reverse, type BankHead, type Legs } from '../ledger'
import { touchMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertRow, lockRow, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { lockBill, lockBills, writeAllocations } from './allocations'
import {
  openLines,
  orderOfFirm,
  type BillHead,
  type Part,
  appliedBy,
  billOpenTo,
  billsPaidBy,
  type LockedPayment,
  noticeDays,
  openBillsOf,
  payerOpenTo,
  paymentRow,
  usedOf,
} from './payment-queries'
import { Contact } from '../people'
import { Allocation, Payment, PaymentReversal, type PaymentKind } from './entities'

export type MoneyKind = 'check' | 'card' | 'transfer' | 'bank debit'
/** Kinds of documents that are money; the others lessen a bill without any. */
export const moneyKinds: readonly PaymentKind[] = ['trust', 'check', 'card', 'transfer', 'bank debit']

/** Locks a payer; what is done to one payer's documents is done one after another. Matters and ledgers are locked after it. */
export const lockPayer = (m: EntityManager, id: number) => lockRow(m, Contact, id)

export interface DocumentIn {
  kind: PaymentKind
  payerId: number
  day: Day
  amount: number
  journalId: number
  reference?: string
  ledgerId?: number | null
  number?: string | null
  reason?: string
  bankAccountId?: number | null
}
/** Keeps a document that settles bills. */
export async function keepDocument(m: EntityManager, ctx: Ctx, d: DocumentIn): Promise<number> {
  return insertRow(m, Payment, {
    reference: '',
    ledgerId: null,
    number: null,
    reason: '',
    bankAccountId: null,
    ...d,
    createdAt: instant(ctx.clock.now()),
  })
}

const applied = async (m: EntityManager, paymentId: number, bill: BillHead, amount: number, earnedBy: Day | null): Promise<Part[]> =>
  applyPayment(amount, await openLines(m, bill.id, earnedBy), await orderOfFirm(m)).map((p) => ({
    paymentId,
    billId: bill.id,
    lineId: p.id,
    amount: p.amount,
  }))

async function tellPaid(m: EntityManager, ctx: Ctx, bill: BillHead, amount: number, how: string) {
  await audit(m, ctx, {
    kind: 'paid',
    text: `${showMoney(amount)} ${how} on bill ${bill.number}`,
    matterId: bill.matterId,
    subject: 'bill',
    subjectId: bill.id,
  })
  await touchMatter(m, ctx, bill.matterId)
}

interface FromTrust {
  ledgerId: number
  billId: number
  day: Day
  amount: number
  overrideReason: string
}
/** Where it goes, and under which name the banks see it; alone, each bill is a movement of its own. */
interface Together {
  operating: BankHead
  reference: string
}
/** Pays an issued bill from trust within an act. */
export async function payFromTrustIn(m: EntityManager, ctx: Ctx, p: FromTrust, as?: Together): Promise<{ id: number; journalId: number }> {
  const bill = await lockBill(m, ctx, p.billId, p.day)
  const ledger = await lockLedger(m, ctx, p.ledgerId, true)
  const firm = await noticeDays(m)
  const refusal = judgeBillFromTrust({ amount: p.amount, day: p.day, bill, ledger, noticeDays: firm!.notice })
  if (refusal) throw refused(refusal.code, refusal.sentence)
  const account = await accountFor(m)
  const bank = as?.operating ?? (await operatingBank(m))
  const reference = as?.reference ?? bill.number
  const text = `Bill ${bill.number} from trust, ${ledger.name}`
  const { matterId } = bill
  const journalId = await move(
    m,
    ctx,
    { day: p.day, kind: 'bill from trust', memo: text, subject: 'bill', subjectId: bill.id },
    {
      lines: [
        { account: ledger.liabilityGl, amount: p.amount, matterId },
        { account: ledger.bankGl, amount: -p.amount, matterId },
        { account: bank.glAccountId, amount: p.amount, matterId },
        { account: account('receivable'), amount: -p.amount, matterId, billId: bill.id },
      ],
      bank: [
        {
          bankAccountId: ledger.bankAccountId,
          amount: -p.amount,
          kind: 'transfer',
          reference,
          text: `Transfer to operating, bill ${bill.number}`,
        },
        { bankAccountId: bank.id, amount: p.amount, kind: 'transfer', reference, text: `Transfer from trust, bill ${bill.number}` },
      ],
      ledgers: [{ ledgerId: ledger.id, bankAccountId: ledger.bankAccountId, amount: -p.amount, text: `Bill ${bill.number}` }],
    },
    { overrideReason: p.overrideReason },
  )
  const { amount, day } = p
  const id = await keepDocument(m, ctx, { kind: 'trust', payerId: bill.payerId, day, amount, ledgerId: ledger.id, journalId })
  await writeAllocations(m, await applied(m, id, bill, amount, day), day, journalId, true)
  await tellPaid(m, ctx, bill, amount, 'from trust')
  return { id, journalId }
}

/**
 * Pays an issued bill from trust as one act in both books: the client's ledger and the trust bank go down,
 * the operating bank goes up and the receivable down, in one journal of four legs.
 */
export const payBillFromTrust = (ctx: Ctx, p: FromTrust): Promise<{ id: number; journalId: number }> =>
  work(ctx, (m) => payFromTrustIn(m, ctx, p))

export interface ReceiptIn {
  payerId: number
  day: Day
  amount: number
  kind: MoneyKind
  reference: string
  /** Into which operating account; the usual one where nothing is said. */
  bankAccountId?: number | null | undefined
  /** On which bills, and how much on each; the oldest due first where nothing is said. */
  parts?: readonly { billId: number; amount: number }[] | undefined
}
export interface Received {
  id: number
  applied: { billId: number; number: string; amount: number }[]
  credit: number
}

/** How much of a payment each bill takes. What the chosen bills do not take is left over as a credit. */
async function spread(m: EntityManager, ctx: Ctx, p: ReceiptIn): Promise<{ bill: BillHead; amount: number }[]> {
  if (p.parts) {
    const bills = await lockBills(
      m,
      ctx,
      p.parts.map((x) => x.billId),
      p.day,
    )
    if (bills.length !== p.parts.length) throw fieldFault('parts', 'Name each bill once')
    return p.parts.map(({ billId, amount }, i) => {
      const bill = bills.find((b) => b.id === billId)!
      if (bill.payerId !== p.payerId) throw fieldFault(`parts.${i}.billId`, `Bill ${bill.number} goes to someone else`)
      if (p.day < bill.issuedOn) throw fieldFault('day', `That is before bill ${bill.number} was issued`)
      if (amount > bill.open) throw fieldFault(`parts.${i}.amount`, `Bill ${bill.number} leaves ${showMoney(bill.open)} open`)
      return { bill, amount }
    })
  }
  const bills = await lockBills(m, ctx, await openBillsOf(m, ctx, p.payerId, p.day, p.amount), p.day)
  const { parts } = spreadOverBills(
    p.amount,
    bills.map((b) => ({ id: b.id, due: b.dueOn, open: b.open })),
  )
  return parts.map((x) => ({ bill: bills.find((b) => b.id === x.id)!, amount: x.amount }))
}

/**
 * A payment that came into operating, over as many bills of its payer as it reaches or as were chosen. What is left over is owed to the
 * payer until it is applied, refunded or moved to trust; it is never income.
 */
export function receivePayment(ctx: Ctx, p: ReceiptIn): Promise<Received> {
  return work(ctx, async (m) => {
    const payer = await payerOpenTo(m, ctx, p.payerId)
    if (!payer) throw fieldFault('payerId', 'Choose who paid')
    const wrongDay = faultOfPast(p.day, ctx.clock.today())
    if (wrongDay) throw fieldFault('day', wrongDay)
    await lockPayer(m, p.payerId)
    const parts = (await spread(m, ctx, p)).filter((x) => x.amount > 0)
    const credit = p.amount - sum(parts.map((x) => x.amount))
    if (credit < 0) throw fieldFault('amount', 'The bills are given more than was paid')
    const account = await accountFor(m)
    const bank = await operatingBank(m, p.bankAccountId)
    const on = parts.length === 1 ? ` of bill ${parts[0]!.bill.number}` : parts.length ? ` of ${counted(parts.length, 'bill')}` : ''
    const text = `Payment${on} by ${p.kind}${p.reference ? ` ${p.reference}` : ''}${parts.length === 1 ? '' : `, ${payer.name}`}`
    const lines: JournalLine[] = [
      { account: bank.glAccountId, amount: p.amount, ...(parts.length === 1 ? { matterId: parts[0]!.bill.matterId } : {}) },
    ]
    for (const { bill, amount } of parts)
      lines.push({ account: account('receivable'), amount: -amount, matterId: bill.matterId, billId: bill.id })
    if (credit) lines.push({ account: account('client credits'), amount: -credit })
    const journalId = await move(
      m,
      ctx,
      { day: p.day, kind: 'payment', memo: text, ...(parts.length === 1 ? { subject: 'bill', subjectId: parts[0]!.bill.id } : {}) },
      { lines, bank: [{ bankAccountId: bank.id, amount: p.amount, kind: p.kind, reference: p.reference, text }] },
    )
    const { kind, payerId, day, amount, reference } = p
    const id = await keepDocument(m, ctx, { kind, payerId, day, amount, reference, journalId, bankAccountId: bank.id })
    const all: Part[] = []
    for (const x of parts) all.push(...(await applied(m, id, x.bill, x.amount, null)))
    await writeAllocations(m, all, day, journalId, true)
    for (const x of parts) await tellPaid(m, ctx, x.bill, x.amount, `by ${kind}`)
    if (credit)
      await audit(m, ctx, {
        kind: 'paid',
        text: `${showMoney(credit)} of a payment by ${payer.name} is left over as a credit`,
        subject: 'payment',
        subjectId: id,
      })
    return { id, applied: parts.map((x) => ({ billId: x.bill.id, number: x.bill.number, amount: x.amount })), credit }
  })
}

/** A payment of one bill, of no more than it leaves open. */
export function payBill(
  ctx: Ctx,
  p: { id: number; day: Day; amount: number; kind: MoneyKind; reference: string },
): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    const bill = await billOpenTo(m, ctx, p.id)
    if (!bill) throw notFound('bill')
    if (p.day < bill.issuedOn) throw fieldFault('day', 'That is before the bill was issued')
    if (p.amount > bill.open)
      throw fieldFault('amount', `The bill leaves ${showMoney(bill.open)} open. What is over is received from its payer as a credit.`)
    const { id } = await receivePayment({ ...ctx, tx: m }, { ...p, payerId: bill.payerId, parts: [{ billId: p.id, amount: p.amount }] })
    return { id }
  })
}

/** Locks a document with its payer and every bill it touches, which must all be open to the actor, and reads how it stands. */
export async function lockPayment(
  m: EntityManager,
  ctx: Ctx,
  id: number,
  day: Day,
  moreBills: readonly number[] = [],
): Promise<LockedPayment> {
  const first = await paymentRow(m, id)
  if (!first) throw notFound('payment')
  await lockPayer(m, first.payerId)
  const on = await billsPaidBy(m, id)
  const bills = await lockBills(m, ctx, [...on.map((b) => b.id), ...moreBills], day)
  const found = await paymentRow(m, id)
  const parts = await appliedBy(m, id)
  return { ...found!, reversed: Boolean(found!.reversed), movedIn: Boolean(found!.movedIn), bills, parts }
}

/** The legs by which a payment is taken off bills: money from trust returns to its ledger, other money becomes a credit. */
export async function takenOff(
  m: EntityManager,
  ctx: Ctx,
  p: Pick<LockedPayment, 'kind' | 'ledgerId' | 'bankAccountId'>,
  offs: readonly { bill: BillHead; amount: number }[],
  text: string,
): Promise<Legs> {
  const account = await accountFor(m)
  const total = sum(offs.map((o) => o.amount))
  const lines: JournalLine[] = offs.map((o) => ({
    account: account('receivable'),
    amount: o.amount,
    matterId: o.bill.matterId,
    billId: o.bill.id,
  }))
  if (p.kind !== 'trust') return { lines: [...lines, { account: account('client credits'), amount: -total }] }
  const ledger = await lockLedger(m, ctx, p.ledgerId!, true)
  const bank = await operatingBank(m, p.bankAccountId)
  const { matterId } = ledger
  return {
    lines: [
      ...lines,
      { account: bank.glAccountId, amount: -total, matterId },
      { account: ledger.bankGl, amount: total, matterId },
      { account: ledger.liabilityGl, amount: -total, matterId },
    ],
    bank: [
      { bankAccountId: ledger.bankAccountId, amount: total, kind: 'transfer', text },
      { bankAccountId: bank.id, amount: -total, kind: 'transfer', text },
    ],
    ledgers: [{ ledgerId: ledger.id, bankAccountId: ledger.bankAccountId, amount: total, text }],
  }
}

/**
 * Reverses a document: what it settles is open again. Money from trust returns to its ledger. A payment of which nothing was moved
 * since is mirrored; otherwise what stands applied and left over now is turned round.
 */
export function reversePayment(ctx: Ctx, id: number, day: Day, reason: string): Promise<{ ok: true }> {
  return work(ctx, async (m) => {
    if (day > ctx.clock.today()) throw fieldFault('day', 'It cannot be reversed on a day ahead')
    const p = await lockPayment(m, ctx, id, day)
    if (p.reversed) throw refused('already-reversed', 'This was already reversed.')
    if (p.movedIn)
      throw refused('moved-in', 'This credit came with the books of before. Take it off its bills, and pay it back or enter a journal.')
    if (p.kind === 'void') throw refused('void-stays', 'A void stays. Bill the work anew.')
    if (day < p.lastDay) throw refused('before-original', 'A reversal cannot be dated before what it reverses.')
    const used = await usedOf(m, id)
    if (used!.n) throw refused('credit-used', `${showMoney(used!.n)} of this payment was refunded or moved to trust. Put that right first.`)
    const moved = await m.existsBy(Allocation, { paymentId: id, journalId: Not(p.journalId) })
    const offs = p.bills
      .map((bill) => ({ bill, amount: sum(p.parts.filter((x) => x.billId === bill.id).map((x) => x.amount)) }))
      .filter((o) => o.amount !== 0)
    // What a void or a credit note has sent back to trust whole is not sent back again.
    if (p.kind === 'trust' && !offs.length) throw refused('already-reversed', 'All of this payment went back to trust already.')
    const text = `Payment reversed: ${reason}`
    const journalId = moved
      ? await move(m, ctx, { day, kind: 'payment reversed', memo: text }, await turned(m, ctx, p, offs, text))
      : await reverse(m, ctx, p.journalId, day, reason)
    await m.insert(PaymentReversal, { paymentId: id, journalId, day, reason })
    await writeAllocations(
      m,
      p.parts.map((x) => ({ ...x, amount: -x.amount })),
      maxDay(day, p.lastDay),
      journalId,
      moneyKinds.includes(p.kind),
    )
    const what = moneyKinds.includes(p.kind) ? 'Payment' : p.kind === 'write-off' ? 'Write-off' : `Credit note ${p.number}`
    for (const { bill, amount } of offs)
      await audit(m, ctx, {
        kind: 'reversed',
        text: `${what} of ${showMoney(amount)} on bill ${bill.number} reversed: ${reason}`,
        matterId: bill.matterId,
        subject: 'bill',
        subjectId: bill.id,
      })
    return { ok: true as const }
  })
}

/** The legs that undo a payment as it stands now: what it pays, and what is left over of it. */
async function turned(
  m: EntityManager,
  ctx: Ctx,
  p: LockedPayment,
  offs: readonly { bill: BillHead; amount: number }[],
  text: string,
): Promise<Legs> {
  if (p.kind === 'trust') return takenOff(m, ctx, p, offs, text)
  const account = await accountFor(m)
  const bank = p.bankAccountId ? await bankAccount(m, p.bankAccountId) : await operatingBank(m)
  const lines: JournalLine[] = offs.map((o) => ({
    account: account('receivable'),
    amount: o.amount,
    matterId: o.bill.matterId,
    billId: o.bill.id,
  }))
  if (p.credit) lines.push({ account: account('client credits'), amount: p.credit })
  lines.push({ account: bank.glAccountId, amount: -p.amount })
  return { lines, bank: [{ bankAccountId: bank.id, amount: -p.amount, kind: p.kind, text }] }
}
