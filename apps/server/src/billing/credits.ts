import { applyPayment, type OpenLine } from '@heron/core/billing'
import { faultOfPast, type Day } from '@heron/core/calendar'
import { bankKinds } from '@heron/core/ledger'
import { showMoney, sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { accountFor, bankAccount, ensureLedger, move, operatingBank } from '../ledger'
import { requireMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { writeAllocations } from './allocations'
import { openLines, orderOfFirm, type LockedPayment, credits, openBillsOfPayer, payerOpen } from './payment-queries'
import { lockPayment, moneyKinds, takenOff } from './payments'
import { Contact } from '../people'
import { CreditUse } from './entities'

const judgeDay = (ctx: Ctx, p: LockedPayment, day: Day) => {
  const wrong = faultOfPast(day, ctx.clock.today())
  if (wrong) throw fieldFault('day', wrong)
  if (day < p.day) throw fieldFault('day', 'That is before the payment')
}
const judgeCredit = (p: LockedPayment, amount: number) => {
  if (p.reversed) throw refused('already-reversed', 'This payment was reversed.')
  if (amount > p.credit) throw fieldFault('amount', `${showMoney(p.credit)} of this payment is left over`)
}

/** Applies what is left over of a payment to a bill of the same payer. */
export function applyCredit(ctx: Ctx, id: number, input: { billId: number; amount: number; day: Day }): Promise<{ ok: true }> {
  return work(ctx, async (m) => {
    const p = await lockPayment(m, ctx, id, input.day, [input.billId])
    const bill = p.bills.find((b) => b.id === input.billId)!
    judgeDay(ctx, p, input.day)
    judgeCredit(p, input.amount)
    if (bill.payerId !== p.payerId) throw fieldFault('billId', `Bill ${bill.number} goes to someone else`)
    if (input.day < bill.issuedOn) throw fieldFault('day', `That is before bill ${bill.number} was issued`)
    if (input.amount > bill.open) throw fieldFault('amount', `Bill ${bill.number} leaves ${showMoney(bill.open)} open`)
    const account = await accountFor(m)
    const text = `Credit applied to bill ${bill.number}`
    const journalId = await move(
      m,
      ctx,
      { day: input.day, kind: 'credit applied', memo: text, subject: 'bill', subjectId: bill.id },
      {
        lines: [
          { account: account('client credits'), amount: input.amount },
          { account: account('receivable'), amount: -input.amount, matterId: bill.matterId, billId: bill.id },
        ],
      },
    )
    const parts = applyPayment(input.amount, await openLines(m, bill.id, null), await orderOfFirm(m))
    await writeAllocations(
      m,
      parts.map((x) => ({ paymentId: id, billId: bill.id, lineId: x.id, amount: x.amount })),
      input.day,
      journalId,
      true,
    )
    await audit(m, ctx, {
      kind: 'paid',
      text: `${showMoney(input.amount)} of a credit applied to bill ${bill.number}`,
      matterId: bill.matterId,
      subject: 'bill',
      subjectId: bill.id,
    })
    return { ok: true as const }
  })
}

/** Takes a payment, or part of it, off a bill, what is paid last first: money from trust returns to its ledger, other money is left over as a credit. */
export function unapply(
  ctx: Ctx,
  id: number,
  input: { billId: number; amount: number | null; day: Day; reason: string },
): Promise<{ amount: number }> {
  return work(ctx, async (m) => {
    const p = await lockPayment(m, ctx, id, input.day, [input.billId])
    if (!moneyKinds.includes(p.kind))
      throw refused('not-money', 'Only payments are taken off a bill. Reverse a credit note or a write-off.')
    if (p.reversed) throw refused('already-reversed', 'This payment was reversed.')
    judgeDay(ctx, p, input.day)
    if (input.day < p.lastDay) throw refused('before-original', 'It cannot be taken off on a day before it was applied.')
    const bill = p.bills.find((b) => b.id === input.billId)!
    const own = p.parts.filter((x) => x.billId === bill.id)
    const most = sum(own.map((x) => x.amount))
    const amount = input.amount ?? most
    if (!most || amount > most) throw fieldFault('amount', `This payment pays ${showMoney(most)} of bill ${bill.number}`)
    const lines: OpenLine[] = own.map((x) => ({ id: x.lineId, kind: x.kind, open: x.amount }))
    const off = applyPayment(amount, lines, [...(await orderOfFirm(m))].reverse())
    const text = `Taken off bill ${bill.number}: ${input.reason}`
    const head = { day: input.day, kind: 'payment taken off', memo: text, subject: 'bill', subjectId: bill.id }
    const journalId = await move(m, ctx, head, await takenOff(m, ctx, p, [{ bill, amount }], text))
    await writeAllocations(
      m,
      off.map((x) => ({ paymentId: id, billId: bill.id, lineId: x.id, amount: -x.amount })),
      input.day,
      journalId,
      true,
    )
    await audit(m, ctx, {
      kind: 'reversed',
      text: `${showMoney(amount)} of a payment taken off bill ${bill.number}, ${p.kind === 'trust' ? 'back in trust' : 'left over as a credit'}: ${input.reason}`,
      matterId: bill.matterId,
      subject: 'bill',
      subjectId: bill.id,
    })
    return { amount }
  })
}

interface Use {
  amount: number
  day: Day
  reference: string
  bankAccountId?: number | null | undefined
}

async function keepUse(
  m: EntityManager,
  ctx: Ctx,
  p: LockedPayment,
  kind: 'refund' | 'to trust',
  use: Use,
  journalId: number,
  text: string,
) {
  await m.insert(CreditUse, { paymentId: p.id, kind, amount: use.amount, day: use.day, reference: use.reference, journalId })
  await audit(m, ctx, { kind: 'paid', text, subject: 'payment', subjectId: p.id })
}

/** Pays what is left over of a payment back to its payer, out of operating. */
export function refundCredit(ctx: Ctx, id: number, use: Use): Promise<{ journalId: number }> {
  return work(ctx, async (m) => {
    const p = await lockPayment(m, ctx, id, use.day)
    judgeDay(ctx, p, use.day)
    judgeCredit(p, use.amount)
    const account = await accountFor(m)
    const bank = await operatingBank(m, use.bankAccountId)
    const payer = await m.findOne(Contact, { select: { name: true, id: true }, where: { id: p.payerId } })
    const text = `Credit refunded to ${payer!.name}${use.reference ? `, ${use.reference}` : ''}`
    const journalId = await move(
      m,
      ctx,
      { day: use.day, kind: 'credit refunded', memo: text, subject: 'payment', subjectId: id },
      {
        lines: [
          { account: account('client credits'), amount: use.amount },
          { account: bank.glAccountId, amount: -use.amount },
        ],
        bank: [{ bankAccountId: bank.id, amount: -use.amount, kind: 'refund', reference: use.reference, text }],
      },
    )
    await keepUse(m, ctx, p, 'refund', use, journalId, `${showMoney(use.amount)}: ${text}`)
    return { journalId }
  })
}

/** Moves what is left over of a payment into trust, to the payer's own ledger. */
export function creditToTrust(
  ctx: Ctx,
  id: number,
  use: Use & { trustAccountId: number; matterId: number | null },
): Promise<{ journalId: number }> {
  return work(ctx, async (m) => {
    const p = await lockPayment(m, ctx, id, use.day)
    judgeDay(ctx, p, use.day)
    judgeCredit(p, use.amount)
    if (use.matterId) {
      const matter = await requireMatter(m, ctx, use.matterId, 'trust')
      if (matter.clientId !== p.payerId) throw fieldFault('matterId', 'That is a matter of another client')
    }
    const trust = await bankAccount(m, use.trustAccountId)
    if (!bankKinds[trust.kind].trust) throw fieldFault('trustAccountId', 'Choose a trust account')
    const bank = await operatingBank(m, use.bankAccountId)
    const account = await accountFor(m)
    const ledgerId = await ensureLedger(m, trust.id, { kind: 'client', clientId: p.payerId, matterId: use.matterId })
    const payer = await m.findOne(Contact, { select: { name: true, id: true }, where: { id: p.payerId } })
    const text = `Credit of ${payer!.name} moved to trust`
    const { matterId, amount } = use
    const journalId = await move(
      m,
      ctx,
      { day: use.day, kind: 'credit to trust', memo: text, subject: 'payment', subjectId: id },
      {
        lines: [
          { account: account('client credits'), amount },
          { account: bank.glAccountId, amount: -amount },
          { account: trust.glAccountId, amount, matterId },
          { account: trust.liabilityAccountId!, amount: -amount, matterId },
        ],
        bank: [
          { bankAccountId: bank.id, amount: -amount, kind: 'transfer', reference: use.reference, text },
          { bankAccountId: trust.id, amount, kind: 'transfer', reference: use.reference, text },
        ],
        ledgers: [{ ledgerId, bankAccountId: trust.id, amount, text }],
      },
    )
    await keepUse(m, ctx, p, 'to trust', use, journalId, `${showMoney(amount)}: ${text}`)
    return { journalId }
  })
}

/** What a payer owes, the oldest due first, and what is left over of what they paid: what one needs to see when money comes in. */
export async function payerStands(ctx: Ctx, payerId: number) {
  const m = ctx.db.manager
  const payer = await payerOpen(m, ctx, payerId)
  if (!payer) throw notFound('contact')
  const open = await openBillsOfPayer(m, ctx, payerId)
  const left = await credits(ctx, { payerId, page: 1, size: 50 })
  return { ...payer, bills: open.list, open: open.n, owed: open.owed, credits: left.rows, credit: left.together }
}
