import { applyPayment, type OpenLine } from '@heron/core/billing'
import { faultOfPast, maxDay, type Day } from '@heron/core/calendar'
import { judgeBillFromTrust } from '@heron/core/ledger'
import { share, showMoney, sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { accountFor, lockLedger, move, operatingBank, reverse } from '../ledger'
import { matterScope, touchMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { dayOfInstant, instant, type Ctx } from '../platform/context'
import { insertMany, row, rows, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { Allocation, Payment } from './entities'
import { openOf, openOfLine } from '../platform/figures'

interface BillHead {
  id: number
  number: string
  matterId: number
  payerId: number
  issuedOn: Day
  /** The day, by the firm's clock, on which it was really issued. */
  madeOn: Day
  open: number
  unearned: number
}

/** A line billed in advance whose portion is not earned by a day, as SQL. */
const notEarned = `EXISTS (SELECT 1 FROM fee_portion p WHERE p.id = l.source_id AND l.kind = 'flat' AND (p.earned_on IS NULL OR p.earned_on > ?))`

/** Locks the bill by its matter and reads what it leaves open, and how much of that is not earned on a day. */
async function lockBill(m: EntityManager, ctx: Ctx, id: number, day: Day): Promise<BillHead> {
  await rows(m, `SELECT m.id FROM matter m JOIN bill b ON b.matter_id = m.id WHERE b.id = ? FOR UPDATE`, [id])
  const found = await row<BillHead & { madeAt: string; zone: string }>(
    m,
    `SELECT b.id, b.number, b.matter_id AS matterId, COALESCE((SELECT p.merged_into FROM contact p WHERE p.id = b.payer_id), b.payer_id) AS payerId, b.issued_on AS issuedOn, j.created_at AS madeAt, (SELECT zone FROM firm LIMIT 1) AS zone,
            ${openOf('b')} AS open,
            COALESCE((SELECT SUM(${openOfLine()}) FROM bill_line l WHERE l.bill_id = b.id AND ${notEarned}), 0) AS unearned
       FROM bill b JOIN matter m ON m.id = b.matter_id JOIN journal j ON j.id = b.journal_id WHERE b.id = ? AND ${matterScope(ctx.actor, 'm', 'money')}`,
    [day, id],
  )
  if (!found) throw notFound('bill')
  const { madeAt, zone, ...bill } = found
  return { ...bill, madeOn: dayOfInstant(ctx.clock, madeAt, zone) }
}

/** What is open on the lines of a bill. From trust only what is earned on the payment's day is paid; the rest stays open. */
async function openLines(m: EntityManager, billId: number, earnedBy: Day | null): Promise<(OpenLine & { timekeeperId: number | null })[]> {
  return rows(
    m,
    `SELECT l.id, l.kind, l.timekeeper_id AS timekeeperId, ${openOfLine()} AS open
       FROM bill_line l WHERE l.bill_id = ? ${earnedBy ? `AND NOT ${notEarned}` : ''} ORDER BY l.ordinal`,
    earnedBy ? [billId, earnedBy] : [billId],
  )
}

const shareColumns = ['allocation_id', 'timekeeper_id', 'amount', 'applied_on']

/** Applies a payment to the lines of a bill, and what falls on fees to the timekeepers behind them. */
async function allocate(m: EntityManager, paymentId: number, billId: number, amount: number, day: Day, fromTrust: boolean) {
  const lines = await openLines(m, billId, fromTrust ? day : null)
  const parts = applyPayment(amount, lines)
  await insertMany(
    m,
    'allocation',
    ['payment_id', 'bill_id', 'bill_line_id', 'amount', 'applied_on'],
    parts.map((p) => [paymentId, billId, p.id, p.amount, day]),
  )
  const made = await rows<{ id: number; lineId: number; amount: number }>(
    m,
    `SELECT id, bill_line_id AS lineId, amount FROM allocation WHERE payment_id = ? ORDER BY id`,
    [paymentId],
  )
  const fixed = await rows<{ lineId: number; keeper: number; weight: number }>(
    m,
    `SELECT s.bill_line_id AS lineId, s.timekeeper_id AS keeper, s.weight FROM bill_line_share s JOIN bill_line l ON l.id = s.bill_line_id WHERE l.bill_id = ? ORDER BY s.timekeeper_id`,
    [billId],
  )
  const shares = made.flatMap((a) => {
    const line = lines.find((l) => l.id === a.lineId)!
    if (line.kind === 'time') return [[a.id, line.timekeeperId, a.amount, day]]
    if (line.kind !== 'flat') return []
    const keepers = fixed.filter((s) => s.lineId === a.lineId)
    const amounts = share(
      a.amount,
      keepers.map((s) => s.weight),
    )
    return keepers.map((s, i) => [a.id, s.keeper, amounts[i]!, day])
  })
  await insertMany(m, 'allocation_share', shareColumns, shares)
}

/**
 * Pays an issued bill from trust as one act in both books: the client's ledger and the trust bank go down,
 * the operating bank goes up and the receivable down, in one journal of four legs.
 */
export function payBillFromTrust(
  ctx: Ctx,
  p: { ledgerId: number; billId: number; day: Day; amount: number; overrideReason: string },
): Promise<{ id: number; journalId: number }> {
  return work(ctx, async (m) => {
    const bill = await lockBill(m, ctx, p.billId, p.day)
    const ledger = await lockLedger(m, ctx, p.ledgerId, true)
    const firm = await row<{ notice: number }>(m, `SELECT trust_notice_days AS notice FROM firm`)
    const refusal = judgeBillFromTrust({ amount: p.amount, day: p.day, bill, ledger, noticeDays: firm!.notice })
    if (refusal) throw refused(refusal.code, refusal.sentence)
    const account = await accountFor(m)
    const bank = await operatingBank(m)
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
            reference: bill.number,
            text: `Transfer to operating, bill ${bill.number}`,
          },
          {
            bankAccountId: bank.id,
            amount: p.amount,
            kind: 'transfer',
            reference: bill.number,
            text: `Transfer from trust, bill ${bill.number}`,
          },
        ],
        ledgers: [{ ledgerId: ledger.id, bankAccountId: ledger.bankAccountId, amount: -p.amount, text: `Bill ${bill.number}` }],
      },
      { overrideReason: p.overrideReason },
    )
    const id = await recordPayment(m, ctx, {
      kind: 'trust',
      bill,
      day: p.day,
      amount: p.amount,
      reference: '',
      ledgerId: ledger.id,
      journalId,
    })
    return { id, journalId }
  })
}

async function recordPayment(
  m: EntityManager,
  ctx: Ctx,
  p: {
    kind: 'trust' | 'check' | 'card' | 'transfer'
    bill: BillHead
    day: Day
    amount: number
    reference: string
    ledgerId: number | null
    journalId: number
  },
): Promise<number> {
  const made = await m.insert(Payment, {
    kind: p.kind,
    payerId: p.bill.payerId,
    day: p.day,
    amount: p.amount,
    reference: p.reference,
    ledgerId: p.ledgerId,
    journalId: p.journalId,
    createdAt: instant(ctx.clock.now()),
  })
  const id = made.identifiers[0]!['id'] as number
  await allocate(m, id, p.bill.id, p.amount, p.day, p.kind === 'trust')
  const how = p.kind === 'trust' ? 'from trust' : `by ${p.kind}`
  await audit(m, ctx, {
    kind: 'paid',
    text: `${showMoney(p.amount)} ${how} on bill ${p.bill.number}`,
    matterId: p.bill.matterId,
    subject: 'bill',
    subjectId: p.bill.id,
  })
  await touchMatter(m, ctx, p.bill.matterId)
  return id
}

/** A payment that came into the operating account. */
export function payBill(
  ctx: Ctx,
  p: { id: number; day: Day; amount: number; kind: 'check' | 'card' | 'transfer'; reference: string },
): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    const bill = await lockBill(m, ctx, p.id, p.day)
    const wrongDay = faultOfPast(p.day, ctx.clock.today())
    if (wrongDay) throw fieldFault('day', wrongDay)
    if (p.day < bill.issuedOn) throw fieldFault('day', 'That is before the bill was issued')
    if (p.amount > bill.open)
      throw fieldFault('amount', `The bill leaves ${showMoney(bill.open)} open. Take what is over into trust with a deposit sheet.`)
    const account = await accountFor(m)
    const bank = await operatingBank(m)
    const text = `Payment of bill ${bill.number} by ${p.kind}${p.reference ? ` ${p.reference}` : ''}`
    const journalId = await move(
      m,
      ctx,
      { day: p.day, kind: 'payment', memo: text, subject: 'bill', subjectId: bill.id },
      {
        lines: [
          { account: bank.glAccountId, amount: p.amount, matterId: bill.matterId },
          { account: account('receivable'), amount: -p.amount, matterId: bill.matterId, billId: bill.id },
        ],
        bank: [{ bankAccountId: bank.id, amount: p.amount, kind: p.kind, reference: p.reference, text }],
      },
    )
    return { id: await recordPayment(m, ctx, { ...p, bill, ledgerId: null, journalId }) }
  })
}

/**
 * Reverses a payment: its journal is mirrored and what it was applied to, on however many bills, is open again. Money from
 * trust returns to its ledger.
 */
export function reversePayment(ctx: Ctx, id: number, day: Day, reason: string): Promise<{ ok: true }> {
  return work(ctx, async (m) => {
    const found = await row<{ journalId: number; amount: number }>(m, `SELECT journal_id AS journalId, amount FROM payment WHERE id = ?`, [
      id,
    ])
    if (!found) throw notFound('payment')
    const on = await rows<{ id: number }>(m, `SELECT DISTINCT bill_id AS id FROM allocation WHERE payment_id = ? ORDER BY bill_id`, [id])
    // Every bill must be open to the actor; a payment that went partly onto one that is not is not reversed by halves.
    const bills = new Map<number, BillHead>()
    for (const bill of on) bills.set(bill.id, await lockBill(m, ctx, bill.id, day))
    if (day > ctx.clock.today()) throw fieldFault('day', 'It cannot be reversed on a day ahead')
    await reverse(m, ctx, found.journalId, day, reason)
    const parts = await rows<{ id: number; billId: number; billLineId: number; amount: number; appliedOn: Day }>(
      m,
      `SELECT id, bill_id AS billId, bill_line_id AS billLineId, amount, applied_on AS appliedOn FROM allocation WHERE payment_id = ?`,
      [id],
    )
    if (sum(parts.map((p) => p.amount)) !== found.amount) throw refused('already-reversed', 'This was already reversed.')
    for (const part of parts) {
      const applied = maxDay(day, part.appliedOn)
      const made = await m.insert(Allocation, {
        paymentId: id,
        billId: part.billId,
        billLineId: part.billLineId,
        amount: -part.amount,
        appliedOn: applied,
      })
      const shares = await rows<{ keeper: number; amount: number }>(
        m,
        `SELECT timekeeper_id AS keeper, amount FROM allocation_share WHERE allocation_id = ?`,
        [part.id],
      )
      await insertMany(
        m,
        'allocation_share',
        shareColumns,
        shares.map((s) => [made.identifiers[0]!['id'] as number, s.keeper, -s.amount, applied]),
      )
    }
    for (const bill of bills.values()) {
      const own = sum(parts.filter((p) => p.billId === bill.id).map((p) => p.amount))
      await audit(m, ctx, {
        kind: 'reversed',
        text: `Payment of ${showMoney(own)} on bill ${bill.number} reversed: ${reason}`,
        matterId: bill.matterId,
        subject: 'bill',
        subjectId: bill.id,
      })
    }
    return { ok: true as const }
  })
}
