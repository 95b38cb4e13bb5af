import { faultOfPast, showDay, type Day } from '@heron/core/calendar'
import { discountOn, settledBy } from '@heron/core/ledger'
import { shareOverRemaining, showMoney, sum } from '@heron/core/money'
import { In, type EntityManager } from 'typeorm'
import {
  accountFor,
  bankAccount,
  dayOfAnew,
  FirmPayment,
  operatingBank,
  payFromOperating,
  printAtOnce,
  shiftCash,
  voidFirmPayment,
  type BankHead,
} from '../ledger'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { locked, insertMany, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import {
  billsToPay,
  linesLeft,
  partsPaid,
  vendorOf,
  type LockedBill,
  addSettled,
  expensesPaid,
  journalOfFirmPayment,
  partsOfPayment,
  paymentToWriteAnew,
  reversalOf,
  takeSettled,
  tellCostsOf,
} from './queries'
import { VendorBill } from './entities'

/** What paying some bills whole on a day would come to, with the discounts that may still be taken. */
export async function runAhead(ctx: Ctx, input: { day: Day; ids: readonly number[]; takeDiscounts: boolean }) {
  const bills = (await billsToPay(ctx.db.manager, ctx, [...new Set(input.ids)], false))
    .filter((b) => b.state === 'posted' && b.settled < b.total)
    .map((b) => {
      const off = input.takeDiscounts ? discountOn(b, input.day) : 0
      const open = b.total - b.settled
      return { id: b.id, vendorId: b.vendorId, vendor: b.vendor, number: b.number, open, discount: off, amount: open - off }
    })
  return {
    bills: bills.map(({ vendorId: _v, ...b }) => b),
    payees: new Set(bills.map((b) => b.vendorId)).size,
    discount: sum(bills.map((b) => b.discount)),
    total: sum(bills.map((b) => b.amount)),
  }
}

const called = (b: LockedBill) => (b.number ? `bill ${b.number}` : `a bill of ${showDay(b.day)}`)

/** Pays bills out of operating in one act: one check or transfer for each vendor, each bill whole, with its discount, or in part. */
export const payBills = (
  ctx: Ctx,
  input: { bankAccountId: number | null; day: Day; method: 'check' | 'transfer'; parts: readonly { billId: number; amount: number }[] },
) =>
  work(ctx, async (m) => {
    const wrong = faultOfPast(input.day, ctx.clock.today())
    if (wrong) throw fieldFault('day', wrong)
    if (input.day > ctx.clock.today()) throw fieldFault('day', 'This is dated ahead')
    if (new Set(input.parts.map((p) => p.billId)).size !== input.parts.length) throw fieldFault('parts', 'Each bill stands here once')
    const bills = await billsToPay(m, ctx, input.parts.map((p) => p.billId), true) // prettier-ignore
    if (bills.length !== input.parts.length) throw notFound('bill of a vendor')
    const parts = bills.map((bill) => {
      const i = input.parts.findIndex((p) => p.billId === bill.id)
      const { amount } = input.parts[i]!
      if (bill.state !== 'posted' || bill.settled >= bill.total)
        throw refused('not-owed', `Nothing of ${called(bill)} of ${bill.vendor} is owed any more. Reload and choose the rest.`)
      if (input.day < bill.day)
        throw fieldFault('day', `${called(bill)} of ${bill.vendor} is of ${showDay(bill.day)}. Pay it then or later`)
      const settled = settledBy(bill, amount, input.day)
      if (!settled) throw fieldFault(`parts.${i}.amount`, `${showMoney(bill.total - bill.settled)} of it is open`)
      return { bill, ...settled }
    })
    const bank = await operatingBank(m, input.bankAccountId)
    const payments = await payOut(m, ctx, bank, input, parts)
    const printJob = await printAtOnce(m, ctx, 'operating', bank.id, payments.filter((p) => p.checkNo).map((p) => p.id)) // prettier-ignore
    return { printJob, payments, amount: sum(payments.map((p) => p.amount)), discount: sum(parts.map((p) => p.discount)) }
  })

/** Pays parts of bills that were judged: one payment for each vendor. */
async function payOut(
  m: EntityManager,
  ctx: Ctx,
  bank: BankHead,
  input: { day: Day; method: 'check' | 'transfer' },
  parts: readonly { bill: LockedBill; amount: number; discount: number }[],
) {
  const account = await accountFor(m)
  const left = await linesLeft(m, parts.map((p) => p.bill.id)) // prettier-ignore
  const payments: { id: number; vendor: string; checkNo: number | null; amount: number }[] = []
  for (const vendorId of [...new Set(parts.map((p) => p.bill.vendorId))]) {
    const own = parts.filter((p) => p.bill.vendorId === vendorId)
    const { vendor, address } = own[0]!.bill
    const amount = sum(own.map((p) => p.amount))
    const discount = sum(own.map((p) => p.discount))
    const numbers = own.map((p) => p.bill.number || showDay(p.bill.day))
    const shown = numbers.slice(0, 8).join(', ') + (numbers.length > 8 ? ` and ${numbers.length - 8} more` : '')
    const made = await payFromOperating(m, ctx, bank, {
      payeeId: vendorId,
      payeeName: vendor,
      payeeAddress: address,
      method: input.method,
      day: input.day,
      amount,
      memo: `${own.length === 1 ? 'Bill' : 'Bills'} ${shown}`,
      lines: [
        { account: account('payables'), amount: amount + discount },
        ...(discount ? [{ account: account('vendor discounts'), amount: -discount }] : []),
      ],
    })
    await insertMany(m, 'vendor_part', ['payment_id', 'bill_id', 'amount', 'discount'], own.map((p) => [made.id, p.bill.id, p.amount, p.discount])) // prettier-ignore
    const journal = await journalOfFirmPayment(m, made.id)
    for (const p of own) {
      const lines = left.filter((l) => l.billId === p.bill.id)
      const shares = shareOverRemaining(
        p.amount + p.discount,
        lines.map((l) => l.left),
      )
      const counted = lines.map((l, i) => ({ ...l, amount: shares[i]! })).filter((l) => l.amount !== 0)
      await insertMany(m, 'vendor_line_part', ['payment_id', 'line_id', 'amount'], counted.map((l) => [made.id, l.id, l.amount])) // prettier-ignore
      await shiftCash(m, journal!.id, input.day, counted.filter((l) => l.accountKind === 'expense').map((l) => ({ accountId: l.accountId!, amount: l.amount }))) // prettier-ignore
      await addSettled(m, p.amount, p.discount, p.bill.id)
      await audit(m, ctx, { kind: 'paid', text: `${showMoney(p.amount)} of ${called(p.bill)} of ${vendor} paid${p.discount ? `, ${showMoney(p.discount)} let off` : ''}`, subject: 'vendor bill', subjectId: p.bill.id }) // prettier-ignore
    }
    payments.push({ id: made.id, vendor, checkNo: made.checkNo, amount })
  }
  await tellCosts(m, parts.map((p) => p.bill.id)) // prettier-ignore
  return payments
}

/** A matter's cost that came by a bill is paid once the whole bill is, and owed again where a payment was void. */
async function tellCosts(m: EntityManager, billIds: readonly number[]) {
  await tellCostsOf(m, billIds)
}

/** Voids a payment to a vendor; what it settled is open again, and so is its discount. */
export const voidVendorPayment = (ctx: Ctx, id: number, day: Day, reason: string): Promise<{ ok: true }> =>
  work(ctx, (m) => voidIn(m, ctx, id, day, reason))

async function voidIn(m: EntityManager, ctx: Ctx, id: number, day: Day, reason: string): Promise<{ ok: true }> {
  const payment = await m.findOne(FirmPayment, { select: { payeeId: true, journalId: true, id: true }, where: { id } }) // prettier-ignore
  if (!payment || (payment.payeeId !== null && !(await vendorOf(m, ctx, payment.payeeId)))) throw notFound('payment')
  // Bills before the payment, as where they are paid.
  const parts = await partsOfPayment(m, id)
  if (parts.length)
    await m.find(VendorBill, {
      select: { id: true },
      where: { id: In(parts.map((p) => p.billId)) },
      order: { id: 'ASC' },
      ...locked(m),
    })
  await voidFirmPayment(m, ctx, id, day, reason)
  const reversal = await reversalOf(m, payment.journalId)
  const shares = await expensesPaid(m, id)
  await shiftCash(m, reversal!.id, day, shares.map((s) => ({ accountId: s.accountId, amount: -s.amount }))) // prettier-ignore
  for (const p of parts) await takeSettled(m, p.amount, p.billId)
  if (parts.length) await tellCosts(m, parts.map((p) => p.billId)) // prettier-ignore
  return { ok: true as const }
}

/**
 * A check that was spoiled in printing: its number is void, and the same bills are paid by a check under the next number, with the
 * discount that was taken.
 */
export const spoilVendorCheck = (ctx: Ctx, id: number): Promise<{ id: number; checkNo: number }> =>
  work(ctx, async (m) => {
    const { paymentId, checkNo } = await writeAnew(m, ctx, id)
    return { id: paymentId, checkNo }
  })
export async function writeAnew(m: EntityManager, ctx: Ctx, id: number): Promise<{ paymentId: number; checkNo: number }> {
  const parts = await partsPaid(m, id)
  if (!parts.length) throw refused('not-a-check', 'Only a check that pays bills of a vendor is written anew.')
  const payment = (await paymentToWriteAnew(m, id))!
  if (payment.method !== 'check') throw refused('not-a-check', 'Only a check that pays bills of a vendor is written anew.')
  const day = await dayOfAnew(m, ctx, payment.bankId, payment.day)
  await voidIn(m, ctx, id, day, 'spoiled in printing')
  const bills = await billsToPay(m, ctx, parts.map((p) => p.billId), true) // prettier-ignore
  const [made] = await payOut(
    m,
    ctx,
    await bankAccount(m, payment.bankId),
    { day, method: 'check' },
    parts.map((p) => ({ ...p, bill: bills.find((b) => b.id === p.billId)! })),
  )
  return { paymentId: made!.id, checkNo: made!.checkNo! }
}
