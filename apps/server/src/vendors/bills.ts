import type { VendorBillIn } from '@heron/contract'
import { faultOfPast, showDay, type Day } from '@heron/core/calendar'
import type { JournalLine } from '@heron/core/ledger'
import { mostMoney, showMoney, sum } from '@heron/core/money'
import { IsNull, Not, type EntityManager } from 'typeorm'
import { CostEntry, recordCostIn, reverseCostOfVendor } from '../costs'
import { accountFor, move, reverse, shiftCash } from '../ledger'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertMany, insertRow, locked, work } from '../platform/database'
import { errno, fieldFault, notFound, refused } from '../platform/problem'
import { openAccounts, vendorOf, cashShiftsOf } from './queries'
import { VendorBill, VendorBillLine } from './entities'

const name = (number: string) => (number ? `Bill ${number}` : 'Bill')

/** What is wrong with the dates and the discount of a bill, each at its field. */
function judgeBill(ctx: Ctx, input: VendorBillIn) {
  const today = ctx.clock.today()
  const wrong = faultOfPast(input.day, today)
  if (wrong) throw fieldFault('day', wrong)
  if (input.dueOn < input.day) throw fieldFault('dueOn', 'It would be due before it was written')
  const total = sum(input.lines.map((l) => l.amount))
  if (total > mostMoney.amount) throw fieldFault('lines', 'One bill holds at most $1,000,000,000.00. Check the amounts')
  if (input.discountOn && input.discountOn < input.day) throw fieldFault('discountOn', 'The discount would end before the bill was written')
  if (input.discount && !input.discountOn) throw fieldFault('discountOn', 'Say until when the discount may be taken')
  if (input.discountOn && !input.discount) throw fieldFault('discount', 'Say what is let off, or leave its day out')
  // What a client is charged for a cost is what was paid: a discount of it is entered as the lower cost.
  const own = sum(input.lines.filter((l) => l.matterId === null).map((l) => l.amount))
  if (input.discount && input.discount >= Math.min(total, own + 1))
    throw fieldFault(
      'discount',
      own < total
        ? `A discount is of the firm’s own lines, ${showMoney(own)} here. Enter a matter’s cost at what is paid for it`
        : 'A discount is less than the bill',
    )
  return total
}

/** Enters a bill within an act: lines of the firm's own in one journal, a matter's cost as a cost of that matter, all of it owed. */
export async function enterBillIn(m: EntityManager, ctx: Ctx, input: VendorBillIn, recurringId: number | null = null): Promise<number> {
  const vendor = await vendorOf(m, ctx, input.vendorId)
  if (!vendor) throw fieldFault('vendorId', 'Choose someone on record')
  const total = judgeBill(ctx, input)
  const allowed = new Map((await openAccounts(m)).map((a) => [a.id, a]))
  for (const [i, l] of input.lines.entries()) {
    if ((l.accountId === null) === (l.matterId === null))
      throw fieldFault(`lines.${i}.accountId`, 'Choose an account, or a matter whose cost it is')
    if (l.accountId !== null && !allowed.has(l.accountId))
      throw fieldFault(`lines.${i}.accountId`, 'Choose an account that is open to bills of vendors')
    if (l.matterId !== null && !l.kindId) throw fieldFault(`lines.${i}.kindId`, 'Choose the kind of cost')
  }
  let id: number
  try {
    const madeId = await insertRow(m, VendorBill, {
      vendorId: vendor.id,
      number: input.number,
      day: input.day,
      dueOn: input.dueOn,
      discountOn: input.discountOn,
      discount: input.discount,
      memo: input.memo,
      total,
      recurringId,
      createdBy: ctx.actor.id,
      createdAt: instant(ctx.clock.now()),
    })
    id = madeId
  } catch (error) {
    if (errno(error) === 1062 && !recurringId) throw fieldFault('number', `${name(input.number)} of ${vendor.name} was entered before`)
    throw error
  }
  const text = `${name(input.number)} of ${vendor.name}${input.memo ? `: ${input.memo}` : ''}`
  const own = input.lines.filter((l) => l.accountId !== null)
  if (own.length) {
    const account = await accountFor(m)
    const lines: JournalLine[] = [
      ...own.map((l) => ({ account: l.accountId!, amount: l.amount })),
      { account: account('payables'), amount: -sum(own.map((l) => l.amount)) },
    ]
    const journalId = await move(
      m,
      ctx,
      { day: input.day, kind: 'vendor bill', memo: text, subject: 'vendor bill', subjectId: id },
      { lines },
    )
    await m.update(VendorBill, { id }, { journalId })
    await shiftCash(m, journalId, input.day, own.filter((l) => allowed.get(l.accountId!)!.kind === 'expense').map((l) => ({ accountId: l.accountId!, amount: -l.amount }))) // prettier-ignore
  }
  const lines: (readonly (string | number | null)[])[] = []
  for (const l of input.lines) {
    let costId: number | null = null
    if (l.matterId !== null) {
      costId = await recordCostIn(m, ctx, l.matterId, {
        day: input.day,
        kindId: l.kindId,
        kind: 'hard cost',
        text: l.text || input.memo || name(input.number),
        units: '',
        amount: l.amount,
        payee: vendor.name.slice(0, 160),
        billable: l.billable,
        taxable: null,
        markup: null,
        paidFrom: 'owed',
        receiptId: null,
        ledgerId: null,
        method: 'check',
        payeeAddress: '',
      })
      const paid = await m.findOne(CostEntry, { select: { paid: true, id: true }, where: { id: costId, kind: 'hard cost' } })
      if (paid?.paid !== l.amount) throw fieldFault(`lines.${lines.length}.kindId`, 'Choose a kind of cost that is paid to somebody')
      await m.update(CostEntry, { id: costId }, { vendorBillId: id })
    }
    lines.push([id, l.accountId, costId, l.text || input.memo, l.amount])
  }
  await insertMany(m, 'vendor_bill_line', ['bill_id', 'account_id', 'cost_id', 'text', 'amount'], lines)
  await audit(m, ctx, {
    kind: 'entered',
    text: `${text}, ${showMoney(total)}, due ${showDay(input.dueOn)}`,
    subject: 'vendor bill',
    subjectId: id,
  })
  return id
}

export const enterBill = (ctx: Ctx, input: VendorBillIn): Promise<{ id: number }> =>
  work(ctx, async (m) => ({ id: await enterBillIn(m, ctx, input) }))

/** Takes back a bill of which nothing is paid, with the costs of matters that it brought. */
export const voidBill = (ctx: Ctx, id: number, day: Day, reason: string): Promise<{ ok: true }> =>
  work(ctx, async (m) => {
    const bill = await m.findOne(VendorBill, {
      select: { state: true, settled: true, day: true, number: true, journalId: true, vendorId: true, id: true },
      where: { id },
      ...locked(m),
    })
    const vendor = bill && (await vendorOf(m, ctx, bill.vendorId))
    if (!bill || !vendor) throw notFound('bill of a vendor')
    if (bill.state !== 'posted') throw refused('already-reversed', 'This bill was taken back already.')
    if (bill.settled) throw refused('has-payments', 'Something of this bill is paid. Void its payments first.')
    const wrong = faultOfPast(day, ctx.clock.today())
    if (wrong) throw fieldFault('day', wrong)
    if (day > ctx.clock.today()) throw fieldFault('day', 'It cannot be taken back on a day ahead')
    if (day < bill.day) throw fieldFault('day', `It is of ${showDay(bill.day)}. Take it back then or later`)
    if (bill.journalId) {
      const reversal = await reverse(m, ctx, bill.journalId, day, reason, { subject: 'vendor bill', subjectId: id })
      const shifted = await cashShiftsOf(m, bill.journalId)
      await shiftCash(m, reversal, day, shifted)
    }
    for (const l of await m.find(VendorBillLine, {
      select: { costId: true, id: true },
      where: { billId: id, costId: Not(IsNull()) },
      order: { id: 'ASC' },
    }))
      await reverseCostOfVendor(m, ctx, l.costId!, { reason, day })
    await m.update(VendorBill, { id }, { state: 'void', voidOn: day })
    await audit(m, ctx, {
      kind: 'voided',
      text: `${name(bill.number)} of ${vendor.name} taken back: ${reason}`,
      subject: 'vendor bill',
      subjectId: id,
    })
    return { ok: true as const }
  })

export interface OpeningVendorBill {
  vendorId: number
  number: string
  day: Day
  dueOn: Day
  amount: number
  /** The expense that it was, for what counts on paid money when it is paid. */
  accountId: number | null
  memo: string
}
/** A bill of a vendor that was not paid when the firm moved in, owed against opening clearing. */
export async function openVendorBill(m: EntityManager, ctx: Ctx, asOf: Day, b: OpeningVendorBill): Promise<number> {
  const account = await accountFor(m)
  const clearing = account('opening clearing')
  const id = await insertRow(m, VendorBill, {
    vendorId: b.vendorId,
    number: b.number,
    day: b.day,
    dueOn: b.dueOn,
    memo: b.memo,
    total: b.amount,
    createdBy: ctx.actor.id,
    createdAt: instant(ctx.clock.now()),
  })
  const lines: JournalLine[] = [
    { account: clearing, amount: b.amount },
    { account: account('payables'), amount: -b.amount },
  ]
  const journalId = await move(m, ctx, { day: asOf, kind: 'vendor bill', memo: `${name(b.number)} moved in: ${b.memo}`, subject: 'vendor bill', subjectId: id }, { lines }) // prettier-ignore
  await m.update(VendorBill, { id }, { journalId })
  await insertMany(m, 'vendor_bill_line', ['bill_id', 'account_id', 'cost_id', 'text', 'amount'], [[id, b.accountId ?? clearing, null, b.memo, b.amount]]) // prettier-ignore
  return id
}
