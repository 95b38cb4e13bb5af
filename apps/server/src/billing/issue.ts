import { isFee, taxRateOf, taxWords, type TaxAmount } from '@heron/core/billing'
import { addDays, faultOfPast, showDay, type Day } from '@heron/core/calendar'
import { share, showMoney, sum, type Cents } from '@heron/core/money'
import type { JournalLine } from '@heron/core/ledger'
import type { EntityManager } from 'typeorm'
import { accountFor, move } from '../ledger'
import { touchMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { insertMany, insertRow, lockRow, nextNumber, work } from '../platform/database'
import { fieldFault, Problem, refused } from '../platform/problem'
import { Bill, BillLine, PreBill } from './entities'
import { termsOf } from './terms'
import { headOf, totalsOf } from './pre-bills'
import { type PreBillHead, linesOf, payersOf, type PreLine } from './pre-bill-queries'
import { Matter } from '../platform/shared-entities'
import { activitiesOf, type KeptLine, mergedInto, rulesOfIssue, type Shares, sharesOf, snapshotOf, takeUnbilled } from './issue-queries'

/** Work in progress is turned round at worked value, and the receivable, fees, recovered costs and tax are booked. */
async function legsOf(
  m: EntityManager,
  matterId: number,
  lines: readonly KeptLine[],
  tax: number,
  billId: number,
  shares: Shares,
): Promise<JournalLine[]> {
  const account = await accountFor(m)
  const legs: JournalLine[] = []
  const add = (l: JournalLine) => l.amount !== 0 && legs.push(l)
  const byKeeper = new Map<number | null, { worked: number; net: number }>()
  const earns = (keeper: number | null, net: Cents, worked: Cents) => {
    const own = byKeeper.get(keeper) ?? { worked: 0, net: 0 }
    byKeeper.set(keeper, { worked: own.worked + worked, net: own.net + net })
  }
  for (const { line, worked, net } of lines) {
    if (line.kind === 'time') earns(line.timekeeperId, net, worked)
    // A fee is earned by those who share it, as its money will be.
    else if (line.kind === 'flat')
      share(
        net,
        shares.map((s) => s.weight),
      ).forEach((part, i) => earns(shares[i]!.keeper, part, 0))
  }
  const soft = sum(lines.filter((l) => l.line.kind === 'soft cost').map((l) => l.net))
  const hard = lines.filter((l) => l.line.kind === 'hard cost')
  for (const [timekeeperId, { worked }] of byKeeper) {
    add({ account: account('unbilled fees'), amount: worked, matterId, timekeeperId })
    add({ account: account('work in progress'), amount: -worked, matterId, timekeeperId })
  }
  add({ account: account('receivable'), amount: sum(lines.map((l) => l.net)) + tax, matterId, billId })
  for (const [timekeeperId, { net }] of byKeeper) add({ account: account('fees'), amount: -net, matterId, timekeeperId, billId })
  // What was advanced leaves the assets whole: what the client is not charged of it is the firm's own expense.
  const advanced = sum(hard.map((l) => l.advanced))
  const recovered = sum(hard.map((l) => Math.min(l.advanced, l.net)))
  add({ account: account('costs advanced'), amount: -advanced, matterId, billId })
  add({ account: account('costs not recovered'), amount: advanced - recovered, matterId, billId })
  // What is charged beyond what was advanced is the firm's own.
  add({ account: account('costs recovered'), amount: -soft - (sum(hard.map((l) => l.net)) - recovered), matterId, billId })
  add({ account: account('tax payable'), amount: -tax, matterId, billId })
  return legs
}
/** Keeps them with each flat line of a bill. */
async function fixShares(m: EntityManager, billId: number, shares: Shares) {
  if (!shares.length) return
  const flat = await m.find(BillLine, { select: { id: true }, where: { billId, kind: 'flat' }, order: { ordinal: 'ASC' } })
  if (!flat.length) return
  await insertMany(
    m,
    'bill_line_share',
    ['bill_line_id', 'timekeeper_id', 'weight'],
    flat.flatMap((l) => shares.map((s) => [l.id, s.keeper, s.weight])),
  )
}

/** One bill to issue: to whom, which part of the whole, and its amounts. */
interface BillToWrite {
  payerId: number
  part?: { share: string; of: number }
  lines: KeptLine[]
  tax: number
  taxes: TaxAmount[]
}

/** Who is billed what: everything to one payer, or a part for each of several; a part of nothing makes no bill. */
async function billsOf(m: EntityManager, head: PreBillHead, preBillId: number): Promise<BillToWrite[]> {
  const all = await linesOf(m, preBillId)
  const payers = await payersOf(m, preBillId)
  const totals = totalsOf(head, all, payers)
  const billed = <T>(list: readonly T[]) => list.filter((_, i) => !all[i]!.heldBack)
  const advanced = all.map((l) => (l.kind === 'hard cost' ? (l.advanced ?? l.worked) : 0))
  const lines = billed(
    all.map((line, i) => ({
      line,
      worked: line.worked,
      net: totals.lineNets[i]!,
      discount: totals.lineDiscounts[i]!,
      advanced: advanced[i]!,
    })),
  )
  if (!lines.length) throw refused('nothing-to-bill', 'Every line is held back.')
  if (!payers.length) return [{ payerId: head.payerId, lines, tax: totals.tax, taxes: totals.taxes }]
  const { parts } = totals
  const advancedOf = advanced.map((a, i) => share(a, parts.map((p) => p.lines[i]!.worked))) // prettier-ignore
  return payers
    .map((p, k) => ({
      payerId: p.contactId,
      part: { share: p.share, of: totals.total },
      lines: billed(all.map((line, i) => ({ line, ...parts[k]!.lines[i]!, advanced: advancedOf[i]![k]! }))),
      tax: parts[k]!.tax,
      taxes: parts[k]!.taxes,
    }))
    .filter((_, k) => parts[k]!.total > 0 || (totals.total === 0 && k === 0))
}

const lineColumns =
  'bill_id ordinal kind day timekeeper_id timekeeper_name text minutes rate worked charged no_charge discount net source_id advanced taxable told tax_basis_points'.split(
    ' ',
  )

async function writeBill(m: EntityManager, ctx: Ctx, head: PreBillHead, day: Day, bill: BillToWrite) {
  const { matterId } = head
  const terms = await termsOf(m, matterId, head.clientId)
  const snapshot = { ...(await snapshotOf(m, matterId, bill.payerId, terms)), ...(bill.part ? { part: bill.part } : {}) }
  if (snapshot.look?.group === 'activity') snapshot.look.activities = await activitiesOf(m, bill.lines)
  const charged = (l: KeptLine) => l.net + l.discount
  const of = (wanted: (kind: PreLine['kind']) => boolean, amountOf: (l: KeptLine) => number) =>
    sum(bill.lines.filter((l) => wanted(l.line.kind)).map(amountOf))
  const total =
    of(
      () => true,
      (l) => l.net,
    ) + bill.tax
  const number = `B-${1000 + (await nextNumber(m, 'bill'))}`
  let billId = 0
  await move(
    m,
    ctx,
    {
      day,
      kind: 'bill',
      memo: `Bill to ${snapshot.payer.name}, ${snapshot.matter.number}`,
      subject: 'pre-bill',
      subjectId: head.id,
    },
    async (journalId) => {
      const madeId = await insertRow(m, Bill, {
        number,
        matterId,
        preBillId: head.id,
        payerId: bill.payerId,
        issuedOn: day,
        dueOn: addDays(day, terms.dueDays),
        workTo: head.workTo,
        worked: of(isFee, (l) => l.worked),
        fees: of(isFee, charged),
        hardCosts: of((k) => k === 'hard cost', charged),
        softCosts: of((k) => k === 'soft cost', charged),
        discount: of(
          () => true,
          (l) => l.discount,
        ),
        tax: bill.tax,
        total,
        snapshot: JSON.stringify(snapshot),
        journalId,
        issuedBy: ctx.actor.id,
      })
      billId = madeId
      type Values = (string | number | boolean | null)[]
      const lines = bill.lines.map((k, i): Values => {
        const l = k.line
        return [
          billId,
          i + 1,
          l.kind,
          l.day,
          l.timekeeperId,
          l.timekeeper,
          l.text,
          l.minutes,
          l.rate,
          k.worked,
          charged(k),
          l.noCharge,
          k.discount,
          k.net,
          l.sourceId,
          isFee(l.kind) ? null : k.advanced,
          l.taxable,
          l.told,
          taxRateOf(l, head.taxes),
        ]
      })
      for (const { rate, amount } of bill.taxes)
        lines.push([
          billId,
          lines.length + 1,
          'tax',
          null,
          null,
          '',
          taxWords(rate),
          null,
          null,
          amount,
          amount,
          false,
          0,
          amount,
          null,
          null,
          null,
          false,
          rate,
        ])
      await insertMany(m, 'bill_line', lineColumns, lines)
      const shares = await sharesOf(m, matterId, bill.lines)
      await fixShares(m, billId, shares)
      const legs = await legsOf(m, matterId, bill.lines, bill.tax, billId, shares)
      if (!legs.length) throw refused('nothing-to-bill', 'Nothing on this pre-bill has a value.')
      return { lines: legs }
    },
  )
  await audit(m, ctx, {
    kind: 'billed',
    text: `Bill ${number} issued, ${showMoney(total)}${bill.part ? `, ${bill.part.share} of ${showMoney(bill.part.of)} to ${snapshot.payer.name}` : ''}`,
    matterId,
    subject: 'bill',
    subjectId: billId,
  })
  return { id: billId, number }
}

/** Marks what was recorded as billed; where a bill is split, by the first payer's. */
async function takeSources(m: EntityManager, billId: number, lines: readonly KeptLine[]) {
  for (const [table, kinds] of [
    ['time_entry', ['time']],
    ['cost_entry', ['soft cost', 'hard cost']],
    ['fee_portion', ['flat']],
  ] as const) {
    const own = lines.filter((l) => (kinds as readonly string[]).includes(l.line.kind))
    if (!own.length) continue
    const ids = own.map((l) => l.line.sourceId)
    // A line that stands for several takes them all.
    const carriers = own.filter((l) => l.line.carries).map((l) => l.line.id)
    if (carriers.length) ids.push(...(await mergedInto(m, carriers)).map((s) => s.id))
    const taken = await takeUnbilled(m, table, billId, ids)
    if (taken !== ids.length) throw refused('billed-already', 'A line of this pre-bill was billed meanwhile. Drop it and make it again.')
  }
}

/**
 * Where the firm asks for two people, whoever approved a pre-bill does not issue it. A bill bears a day not ahead, not before the
 * last work on it, and not in a closed period.
 */
async function judgeIssue(m: EntityManager, ctx: Ctx, head: PreBillHead, day: Day, bills: readonly BillToWrite[]) {
  const firm = await rulesOfIssue(m)
  if (firm?.two && head.approvedBy === ctx.actor.id)
    throw refused('same-person', 'You approved this pre-bill yourself, and the firm asks that somebody else issues it.')
  if (day > ctx.clock.today()) throw fieldFault('day', 'A bill cannot be dated ahead')
  if (firm?.closedTo && day <= firm.closedTo)
    throw new Problem(409, 'period-closed', `The books are closed up to ${showDay(firm.closedTo)}; date the bill after that`, [
      { path: 'day', message: `The books are closed up to ${showDay(firm.closedTo)}` },
    ])
  const last = bills
    .flatMap((b) => b.lines.flatMap((l) => l.line.day ?? []))
    .sort()
    .at(-1)
  if (last && day < last) throw fieldFault('day', `The last work on this bill was on ${showDay(last)}; date the bill then or later`)
  const wrong = faultOfPast(day, ctx.clock.today())
  if (wrong) throw fieldFault('day', wrong)
}

/**
 * Issues an approved pre-bill: a number without gaps, its own lines, names and rates, and its journal, in one act.
 * Each of several payers gets a bill of their own; together they are the whole to the cent.
 */
export const issueBill = (ctx: Ctx, preBillId: number, day: Day, seen?: Cents) =>
  work(ctx, (m) => issueBillIn(m, ctx, preBillId, day, seen))

/** What it was seen to come to is judged where it is given: a bill once issued does not change. */
export async function issueBillIn(m: EntityManager, ctx: Ctx, preBillId: number, day: Day, seen?: Cents) {
  const head = await headOf(m, ctx, preBillId, true)
  if (head.state === 'issued') throw refused('issued', 'This pre-bill was issued already.')
  if (head.state !== 'approved') throw refused('not-approved', 'Someone who reviews bills approves the pre-bill before it is issued.')
  await lockRow(m, Matter, head.matterId)
  const bills = await billsOf(m, head, preBillId)
  const total = sum(bills.map((b) => sum(b.lines.map((l) => l.net)) + b.tax))
  if (seen !== undefined && seen !== total)
    throw refused('changed-meanwhile', `This bill comes to ${showMoney(total)} by now, and not to ${showMoney(seen)}. Look at it again.`)
  await judgeIssue(m, ctx, head, day, bills)
  const made: { id: number; number: string }[] = []
  for (const bill of bills) made.push(await writeBill(m, ctx, head, day, bill))
  const [first, ...others] = made
  await takeSources(m, first!.id, bills[0]!.lines)
  await m.update(PreBill, { id: preBillId }, { state: 'issued', billId: first!.id })
  await touchMatter(m, ctx, head.matterId)
  return { ...first!, others }
}
