import { applyPayment, creditNoteLines, isFee, refitPayments, type LineKind, type Refit } from '@heron/core/billing'
import { faultOfPast, showDay, type Day } from '@heron/core/calendar'
import type { AccountRole, JournalLine } from '@heron/core/ledger'
import { groupedBy } from '@heron/core/lists'
import { share, showMoney, sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { accountFor, move, reverse } from '../ledger'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { nextNumber, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { lockBill, lockBills, writeAllocations } from './allocations'
import { openLines, type Part } from './payment-queries'
import type { PaymentKind } from './entities'
import { keepDocument, lockPayer, takenOff } from './payments'
import { billsOfOneIssue, feeShares, leaveUnbilled, payerOfBill, standing, type Standing } from './issue-queries'

const payerOf = async (m: EntityManager, billId: number): Promise<number> => {
  const found = await payerOfBill(m, billId)
  if (!found) throw notFound('bill')
  return found.id
}

function judgeDay(ctx: Ctx, s: Standing, day: Day) {
  const wrong = faultOfPast(day, ctx.clock.today())
  if (wrong) throw fieldFault('day', wrong)
  if (day < s.lastDay) throw fieldFault('day', `Something was applied to this bill on ${showDay(s.lastDay)}; date it then or later`)
}

export interface NoteIn {
  day: Day
  reason: string
  /** Amounts before tax, by line; or one amount shared over the lines by what is left on them. */
  lines?: readonly { lineId: number; amount: number }[] | undefined
  amount?: number | undefined
}
export interface NoteShown {
  lines: { id: number; amount: number }[]
  net: number
  tax: number
  total: number
  /** What was paid too much then, and where it goes back. */
  back: { paymentId: number; kind: PaymentKind; amount: number; to: 'trust' | 'credit' }[]
}

function noteOf(s: Standing, input: NoteIn): { note: { id: number; amount: number }[]; refit: Refit; shown: NoteShown } {
  let note: { id: number; amount: number }[]
  try {
    note = creditNoteLines(
      s.lines,
      input.lines ? { byLine: new Map(input.lines.map((l) => [l.lineId, l.amount])) } : { net: input.amount ?? 0 },
    )
  } catch (error) {
    if (!(error instanceof RangeError)) throw error
    const most = sum(s.lines.filter((l) => l.kind !== 'tax').map((l) => l.left))
    const at = input.lines?.findIndex((l) => l.amount > (s.lines.find((x) => x.id === l.lineId)?.left ?? 0)) ?? -1
    const left = at < 0 ? most : (s.lines.find((x) => x.id === input.lines![at]!.lineId)?.left ?? 0)
    throw fieldFault(at < 0 ? 'amount' : `lines.${at}.amount`, `${showMoney(left)} before tax is left to credit`)
  }
  if (!note.length) throw fieldFault(input.lines ? 'lines' : 'amount', 'Give an amount above zero')
  const amounts = new Map(note.map((n) => [n.id, n.amount]))
  const of = (id: number) => amounts.get(id) ?? 0
  const refit = refitPayments(
    s.lines.map((l) => ({ id: l.id, kind: l.kind, room: l.left - of(l.id) })),
    s.payments.map((p) => ({ paymentId: p.id, lines: p.lines })),
    s.order,
  )
  const total = sum(note.map((n) => n.amount))
  const tax = sum(s.lines.filter((l) => l.kind === 'tax').map((l) => of(l.id)))
  const back = refit.back.map((b) => {
    const { kind } = s.payments.find((p) => p.id === b.paymentId)!
    return { ...b, kind, to: kind === 'trust' ? ('trust' as const) : ('credit' as const) }
  })
  return { note, refit, shown: { lines: note, net: total - tax, tax, total, back } }
}

/** Takes payments off as they no longer fit, each by a journal of its own, and tells the journal of each. */
async function giveBack(m: EntityManager, ctx: Ctx, s: Standing, refit: Refit, day: Day, why: string): Promise<Map<number, number>> {
  const journals = new Map<number, number>()
  for (const b of refit.back) {
    const p = s.payments.find((x) => x.id === b.paymentId)!
    const text = `${p.kind === 'trust' ? 'Back to trust' : 'Left over'} from bill ${s.bill.number}: ${why}`
    const head = { day, kind: 'payment taken off', memo: text, subject: 'bill', subjectId: s.bill.id }
    journals.set(b.paymentId, await move(m, ctx, head, await takenOff(m, ctx, p, [{ bill: s.bill, amount: b.amount }], text)))
  }
  return journals
}

/** Writes what payments pay anew: what is taken off first, then what moved to other lines. */
async function writeRefit(m: EntityManager, s: Standing, refit: Refit, journals: ReadonlyMap<number, number>, day: Day, journalId: number) {
  const part = (c: Refit['changes'][number]): Part => ({ paymentId: c.paymentId, billId: s.bill.id, lineId: c.lineId, amount: c.amount })
  for (const sign of [-1, 1])
    for (const p of s.payments)
      await writeAllocations(
        m,
        refit.changes.filter((c) => c.paymentId === p.id && Math.sign(c.amount) === sign).map(part),
        day,
        journals.get(p.id) ?? journalId,
        true,
      )
}

const accountOfKind: Record<LineKind | 'tax', AccountRole> = {
  time: 'fees',
  flat: 'fees',
  interest: 'interest',
  'soft cost': 'costs recovered',
  // What was advanced left the assets when it was billed; what is not charged after all is the firm's own expense.
  'hard cost': 'costs not recovered',
  tax: 'tax payable',
}

/** What a credit note would do, before anything is done. */
export function previewNote(ctx: Ctx, billId: number, input: NoteIn): Promise<NoteShown> {
  return work({ ...ctx, idempotency: undefined }, async (m) => {
    const s = await standing(m, await lockBill(m, ctx, billId, input.day))
    return noteOf(s, input).shown
  })
}

/**
 * Credits an issued bill by a numbered note, with tax at the bill's rate and never above what is left on a line. Payments that no
 * longer fit are taken off first, the latest first: money from trust returns to its ledger, other money is left over as a credit.
 */
export function creditNote(ctx: Ctx, billId: number, input: NoteIn): Promise<NoteShown & { id: number; number: string }> {
  return work(ctx, async (m) => {
    await lockPayer(m, await payerOf(m, billId))
    const bill = await lockBill(m, ctx, billId, input.day)
    const s = await standing(m, bill)
    judgeDay(ctx, s, input.day)
    const { note, refit, shown } = noteOf(s, input)
    const { day, reason } = input
    const { matterId } = bill
    const journals = await giveBack(m, ctx, s, refit, day, `credit note, ${reason}`)
    const account = await accountFor(m)
    const shares = await feeShares(m, billId)
    const lineOf = new Map(s.lines.map((l) => [l.id, l]))
    const sharesOf = groupedBy(shares, (x) => x.lineId)
    const each = note.flatMap((n): JournalLine[] => {
      const l = lineOf.get(n.id)!
      const leg = (amount: number, own: object = {}) => ({ account: account(accountOfKind[l.kind]), amount, matterId, billId, ...own })
      const parts = sharesOf.get(l.id) ?? []
      // What is taken off a fee is taken off those who share it.
      if (parts.length)
        return share(n.amount, parts.map((x) => x.weight)).flatMap((a, i) => (a ? [leg(a, { timekeeperId: parts[i]!.keeper })] : [])) // prettier-ignore
      return [leg(n.amount, isFee(l.kind as LineKind) ? { timekeeperId: l.timekeeperId } : {})]
    })
    // As when the bill was issued: what falls on one account, and on one timekeeper's work, is one line of the journal.
    const lines: JournalLine[] = [...groupedBy(each, (l) => `${l.account} ${l.timekeeperId ?? ''}`).values()].map((own) => ({
      ...own[0]!,
      amount: sum(own.map((l) => l.amount)),
    }))
    lines.push({ account: account('receivable'), amount: -shown.total, matterId, billId })
    const number = `CN-${1000 + (await nextNumber(m, 'credit note'))}`
    const text = `Credit note ${number} on bill ${bill.number}: ${reason}`
    const journalId = await move(m, ctx, { day, kind: 'credit note', memo: text, subject: 'bill', subjectId: bill.id }, { lines })
    const id = await keepDocument(m, ctx, {
      kind: 'credit note',
      payerId: bill.payerId,
      day,
      amount: shown.total,
      journalId,
      number,
      reason,
    })
    await writeRefit(m, s, refit, journals, day, journalId)
    await writeAllocations(
      m,
      note.map((n) => ({ paymentId: id, billId, lineId: n.id, amount: n.amount })),
      day,
      journalId,
      false,
    )
    await audit(m, ctx, {
      kind: 'billed',
      text: `Credit note ${number} of ${showMoney(shown.total)} on bill ${bill.number}: ${reason}`,
      matterId,
      subject: 'bill',
      subjectId: billId,
    })
    return { id, number, ...shown }
  })
}

/** Writes off what will not be paid of a bill: costs first, fees last. */
export function writeOff(ctx: Ctx, billId: number, input: { day: Day; amount: number; reason: string }): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    await lockPayer(m, await payerOf(m, billId))
    const bill = await lockBill(m, ctx, billId, input.day)
    judgeDay(ctx, await standing(m, bill), input.day)
    if (input.amount > bill.open) throw fieldFault('amount', `Bill ${bill.number} leaves ${showMoney(bill.open)} open`)
    const { day, amount, reason } = input
    const { matterId } = bill
    const account = await accountFor(m)
    const text = `Written off on bill ${bill.number}: ${reason}`
    const journalId = await move(
      m,
      ctx,
      { day, kind: 'write-off', memo: text, subject: 'bill', subjectId: bill.id },
      {
        lines: [
          { account: account('bad debts'), amount, matterId, billId },
          { account: account('receivable'), amount: -amount, matterId, billId },
        ],
      },
    )
    const id = await keepDocument(m, ctx, { kind: 'write-off', payerId: bill.payerId, day, amount, journalId, reason })
    const parts = applyPayment(amount, await openLines(m, billId, null))
    await writeAllocations(
      m,
      parts.map((p) => ({ paymentId: id, billId, lineId: p.id, amount: p.amount })),
      day,
      journalId,
      false,
    )
    await audit(m, ctx, {
      kind: 'billed',
      text: `${showMoney(amount)} written off on bill ${bill.number}: ${reason}`,
      matterId,
      subject: 'bill',
      subjectId: billId,
    })
    return { id }
  })
}

const sources = ['time_entry', 'cost_entry', 'fee_portion'] as const

/**
 * Voids a bill: its number stays, its journal is mirrored, payments go back where they came from, and its lines are unbilled again. The
 * bills of several payers for the same work are voided together.
 */
export function voidBill(ctx: Ctx, billId: number, input: { day: Day; reason: string }): Promise<{ voided: string[] }> {
  return work(ctx, async (m) => {
    const all = await billsOfOneIssue(m, billId)
    const payers = new Set<number>()
    for (const b of all) payers.add(await payerOf(m, b.id))
    for (const p of [...payers].sort((a, b) => a - b)) await lockPayer(m, p)
    const bills = await lockBills(
      m,
      ctx,
      all.map((b) => b.id),
      input.day,
    )
    const { day, reason } = input
    for (const bill of bills) {
      const s = await standing(m, bill)
      judgeDay(ctx, s, day)
      if (s.lines.some((l) => l.lessened))
        throw refused('has-credits', `Bill ${bill.number} has credit notes or write-offs. Reverse them first.`)
      if (bill.total <= 0) throw refused('nothing-to-bill', `Bill ${bill.number} has no amount, so there is nothing to void.`)
      const refit = refitPayments(
        s.lines.map((l) => ({ id: l.id, kind: l.kind, room: 0 })),
        s.payments.map((p) => ({ paymentId: p.id, lines: p.lines })),
      )
      const journals = await giveBack(m, ctx, s, refit, day, `void, ${reason}`)
      const journalId = await reverse(m, ctx, bill.journalId, day, `Bill ${bill.number} void: ${reason}`)
      const id = await keepDocument(m, ctx, { kind: 'void', payerId: bill.payerId, day, amount: bill.total, journalId, reason })
      await writeRefit(m, s, refit, journals, day, journalId)
      await writeAllocations(
        m,
        s.lines.filter((l) => l.left > 0).map((l) => ({ paymentId: id, billId: bill.id, lineId: l.id, amount: l.left })),
        day,
        journalId,
        false,
      )
      await audit(m, ctx, {
        kind: 'billed',
        text: `Bill ${bill.number} of ${showMoney(bill.total)} voided, its lines are unbilled again: ${reason}`,
        matterId: bill.matterId,
        subject: 'bill',
        subjectId: bill.id,
      })
    }
    for (const table of sources) await leaveUnbilled(m, table, bills)
    return { voided: bills.map((b) => b.number) }
  })
}
