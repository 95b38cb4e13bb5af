import { interestToCharge, interestUpTo, nextReminder, type PrincipalFrom } from '@heron/core/billing'
import { addDays, daysBetween, faultOfPast, maxDay, showDay, showDayInWords, type Day } from '@heron/core/calendar'
import { showMoney } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { lockBill } from '../allocations'
import { type BillHead } from '../payment-queries'
import { sendBill, proposeLetter } from '../delivery'
import { Bill } from '../entities'
import { snapshotOf } from '../issue-queries'
import { interestFacts, overdueRows, type OverdueFilter, booksClosed, reminderRule, stepsOf } from './queries'
import { BillDispute, BillInterest } from '../run-entities'
import { termsOf } from '../terms'
import { accountFor, move } from '../../ledger'
import { touchMatter } from '../../platform/access'
import { audit } from '../../platform/audit'
import type { Ctx } from '../../platform/context'
import { insertMany, insertRow, nextNumber, work } from '../../platform/database'
import { fieldFault, Problem, refused } from '../../platform/problem'

/** What accrued on a bill up to a day and what of it was charged before, by the terms of its matter. */
function interestOn(
  b: { dueOn: Day; interestBasisPoints: number; graceDays: number; principal: readonly PrincipalFrom[]; charged: number },
  asOf: Day,
) {
  const accrued = interestUpTo(b.dueOn, { basisPoints: b.interestBasisPoints, graceDays: b.graceDays }, b.principal, asOf)
  return { accrued, charged: b.charged, toCharge: interestToCharge(accrued, b.charged) }
}

/** Bills past due, with the reminder that comes next, interest by the engagement's terms, and what is disputed. */
export async function overdue(ctx: Ctx, f: OverdueFilter) {
  const m = ctx.db.manager
  const today = ctx.clock.today()
  const { list, total, open } = await overdueRows(ctx, f, today)
  const steps = await stepsOf(m)
  const facts = await interestFacts(m, list.map((b) => b.id)) // prettier-ignore
  const rows = list.map((b) => {
    const days = daysBetween(b.dueOn, today)
    const { accrued, toCharge } = interestOn(facts.get(b.id)!, today)
    const next =
      b.disputed || b.interestOf ? null : nextReminder(steps, b.step, days, b.remindedAt ? ctx.clock.at(b.remindedAt).day : null, today)
    return { ...b, days, next, accrued, interest: b.disputed || b.interestOf ? 0 : toCharge }
  })
  const rule = await reminderRule(ctx)
  return { rows, total, open, steps, stoppedBy: rule.stopped ? rule.by : null }
}

/** Sends the reminder that is due on each of some bills; what is disputed or has none due is left out, and why is said. */
export async function remind(ctx: Ctx, billIds: readonly number[]) {
  const { rows } = await overdue(ctx, { ids: billIds, page: 1, size: 200 })
  const left: { number: string; why: string }[] = []
  let sent = 0
  for (const b of rows) {
    if (b.next === null) {
      left.push({ number: b.number, why: b.disputed ? 'is disputed' : 'has no reminder due' })
      continue
    }
    const kind = `reminder ${b.next}` as 'reminder 1' | 'reminder 2' | 'reminder 3'
    const letter = await proposeLetter(ctx, b.id, kind)
    if (!letter.email) {
      left.push({ number: b.number, why: `cannot be sent: ${letter.name} has no e-mail address` })
      continue
    }
    await sendBill(ctx, b.id, kind, letter)
    sent += 1
  }
  return { sent, left }
}

/** What bills have run up of interest is charged, each as a numbered bill of its own, due by the matter's terms. */
export const chargeInterest = (ctx: Ctx, input: { day: Day; billIds: readonly number[] }) =>
  work(ctx, async (m) => {
    if (input.day > ctx.clock.today()) throw fieldFault('day', 'Interest is charged up to today at the latest')
    const wrong = faultOfPast(input.day, ctx.clock.today())
    if (wrong) throw fieldFault('day', wrong)
    const made: { id: number; number: string; ofBill: string; amount: number }[] = []
    for (const id of [...new Set(input.billIds)].sort((a, b) => a - b)) {
      const bill = await lockBill(m, ctx, id, input.day)
      const charge = await chargeOne(m, ctx, bill, input.day)
      if (charge) made.push(charge)
    }
    if (!made.length) throw fieldFault('billIds', 'No interest is to be charged on these bills up to that day')
    return { made }
  })

async function chargeOne(m: EntityManager, ctx: Ctx, bill: BillHead, day: Day) {
  const firm = await booksClosed(m)
  if (firm?.closedTo && day <= firm.closedTo)
    throw new Problem(409, 'period-closed', `The books are closed up to ${showDay(firm.closedTo)}; charge interest after that`, [
      { path: 'day', message: `The books are closed up to ${showDay(firm.closedTo)}` },
    ])
  if (await m.findOneBy(BillDispute, { openBill: bill.id }))
    throw refused('bill-disputed', `Bill ${bill.number} is disputed; no interest is charged on it.`)
  if (await m.findOneBy(BillInterest, { billId: bill.id })) return null
  const facts = (await interestFacts(m, [bill.id])).get(bill.id)!
  const { toCharge } = interestOn(facts, day)
  if (!toCharge) return null
  const account = await accountFor(m)
  const snapshot = await snapshotOf(m, bill.matterId, bill.payerId)
  const terms = await termsOf(m, bill.matterId, facts.clientId)
  const from = addDays(
    facts.chargedTo ? maxDay(facts.chargedTo, addDays(facts.dueOn, facts.graceDays)) : addDays(facts.dueOn, facts.graceDays),
    1,
  )
  const text = `Interest on bill ${bill.number}, ${facts.interestBasisPoints / 100} % a year on what was open, ${showDayInWords(from)} to ${showDayInWords(day)}`
  const number = `B-${1000 + (await nextNumber(m, 'bill'))}`
  let id = 0
  await move(
    m,
    ctx,
    { day, kind: 'bill', memo: `${text}, to ${snapshot.payer.name}`, subject: 'bill', subjectId: bill.id },
    async (journalId) => {
      const madeId = await insertRow(m, Bill, {
        number,
        matterId: bill.matterId,
        preBillId: null,
        payerId: bill.payerId,
        issuedOn: day,
        dueOn: addDays(day, terms.dueDays),
        workTo: day,
        worked: 0,
        fees: 0,
        hardCosts: 0,
        softCosts: 0,
        discount: 0,
        tax: 0,
        total: toCharge,
        snapshot: JSON.stringify(snapshot),
        journalId,
        issuedBy: ctx.actor.id,
      })
      id = madeId
      await insertMany(
        m,
        'bill_line',
        ['bill_id', 'ordinal', 'kind', 'day', 'timekeeper_name', 'text', 'worked', 'charged', 'no_charge', 'discount', 'net'],
        [[id, 1, 'interest', day, '', text, toCharge, toCharge, false, 0, toCharge]],
      )
      await m.insert(BillInterest, { billId: id, ofBillId: bill.id, accruedTo: day, amount: toCharge })
      return {
        lines: [
          { account: account('receivable'), amount: toCharge, matterId: bill.matterId, billId: id },
          { account: account('interest'), amount: -toCharge, matterId: bill.matterId, billId: id },
        ],
      }
    },
  )
  await audit(m, ctx, { kind: 'billed', text: `Interest of ${showMoney(toCharge)} on bill ${bill.number} charged as ${number}`, matterId: bill.matterId, subject: 'bill', subjectId: id }) // prettier-ignore
  await touchMatter(m, ctx, bill.matterId)
  return { id, number, ofBill: bill.number, amount: toCharge }
}

/** Marks a bill as disputed, or takes the mark off. While it stands, no reminder goes out and no interest is charged. */
export const dispute = (ctx: Ctx, billId: number, input: { disputed: boolean; reason: string }): Promise<void> =>
  work(ctx, async (m) => {
    const bill = await lockBill(m, ctx, billId, ctx.clock.today())
    const standing = await m.findOneBy(BillDispute, { openBill: billId })
    const log = (text: string) => audit(m, ctx, { kind: 'billed', text, matterId: bill.matterId, subject: 'bill', subjectId: billId })
    if (input.disputed) {
      if (!input.reason.trim()) throw fieldFault('reason', 'Say what is disputed')
      if (standing) throw refused('changed-meanwhile', 'This bill is marked as disputed already.')
      if (bill.open <= 0) throw refused('nothing-open', `Bill ${bill.number} leaves nothing open.`)
      await m.insert(BillDispute, { billId, since: ctx.clock.today(), reason: input.reason, byId: ctx.actor.id })
      await log(`Bill ${bill.number} is disputed: ${input.reason}`)
    } else {
      if (!standing) throw refused('changed-meanwhile', 'This bill is not marked as disputed.')
      await m.update(BillDispute, standing.id, { endedOn: ctx.clock.today() })
      await log(`Bill ${bill.number} is no longer disputed${input.reason ? `: ${input.reason}` : ''}`)
    }
  })
