import { isFee } from '@heron/core/billing'
import { addDays, type Day } from '@heron/core/calendar'
import { showMoney, sum } from '@heron/core/money'
import type { JournalLine } from '@heron/core/ledger'
import type { EntityManager } from 'typeorm'
import { accountFor, closeJournal, openJournal } from '../ledger'
import { touchMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { insertMany, nextNumber, row, rows, run, work } from '../platform/database'
import { fieldFault, refused } from '../platform/problem'
import { Bill } from './entities'
import { headOf, linesOf, totalsOf, type PreBillHead, type PreLine } from './pre-bills'

/** What a bill keeps of the firm, the payer and the matter as they were on the day of issue. */
export interface BillSnapshot {
  firm: { name: string; address: string; phone: string }
  payer: { name: string; address: string }
  matter: { number: string; name: string; client: string; lead: string }
}

async function snapshotOf(m: EntityManager, head: PreBillHead): Promise<BillSnapshot> {
  const s = await row<
    Record<'firm' | 'firmAddress' | 'phone' | 'payer' | 'payerAddress' | 'number' | 'matter' | 'client' | 'lead', string>
  >(
    m,
    `SELECT f.name AS firm, f.address AS firmAddress, f.phone, p.name AS payer, p.address AS payerAddress, m.number, m.name AS matter, c.name AS client, u.name AS lead
       FROM firm f JOIN matter m ON m.id = ? JOIN contact p ON p.id = ? JOIN contact c ON c.id = m.client_id JOIN user_account u ON u.id = m.lead_id`,
    [head.matterId, head.payerId],
  )
  return {
    firm: { name: s!.firm, address: s!.firmAddress, phone: s!.phone },
    payer: { name: s!.payer, address: s!.payerAddress },
    matter: { number: s!.number, name: s!.matter, client: s!.client, lead: s!.lead },
  }
}

/** Work in progress is turned round at worked value, and the receivable, fees, recovered costs and tax are booked. */
async function legsOf(
  m: EntityManager,
  head: PreBillHead,
  lines: PreLine[],
  nets: number[],
  tax: number,
  billId: number,
): Promise<JournalLine[]> {
  const account = await accountFor(m)
  const { matterId } = head
  const legs: JournalLine[] = []
  const add = (l: JournalLine) => l.amount !== 0 && legs.push(l)
  const byKeeper = new Map<number | null, { worked: number; net: number }>()
  lines.forEach((l, i) => {
    if (!isFee(l.kind)) return
    const own = byKeeper.get(l.timekeeperId) ?? { worked: 0, net: 0 }
    if (l.kind === 'time') own.worked += l.worked
    own.net += nets[i]!
    byKeeper.set(l.timekeeperId, own)
  })
  const of = (kind: PreLine['kind']) => sum(nets.filter((_, i) => lines[i]!.kind === kind))
  for (const [timekeeperId, { worked }] of byKeeper) {
    add({ account: account('unbilled fees'), amount: worked, matterId, timekeeperId })
    add({ account: account('work in progress'), amount: -worked, matterId, timekeeperId })
  }
  add({ account: account('receivable'), amount: sum(nets) + tax, matterId, billId })
  for (const [timekeeperId, { net }] of byKeeper) add({ account: account('fees'), amount: -net, matterId, timekeeperId, billId })
  add({ account: account('costs advanced'), amount: -of('hard cost'), matterId, billId })
  add({ account: account('costs recovered'), amount: -of('soft cost'), matterId, billId })
  add({ account: account('tax payable'), amount: -tax, matterId, billId })
  return legs
}

/** Flat fees are credited to those who did the work, by its recorded value; to the lead lawyer where none was recorded. */
async function fixShares(m: EntityManager, head: PreBillHead, billId: number, lines: PreLine[]) {
  const flat = await rows<{ id: number }>(m, `SELECT id FROM bill_line WHERE bill_id = ? AND kind = 'flat' ORDER BY ordinal`, [billId])
  if (!flat.length) return
  const weights = new Map<number, number>()
  for (const l of lines)
    if (l.kind === 'time' && l.timekeeperId && l.worked > 0) weights.set(l.timekeeperId, (weights.get(l.timekeeperId) ?? 0) + l.worked)
  if (!weights.size) weights.set((await row<{ id: number }>(m, `SELECT lead_id AS id FROM matter WHERE id = ?`, [head.matterId]))!.id, 1)
  await insertMany(
    m,
    'bill_line_share',
    ['bill_line_id', 'timekeeper_id', 'weight'],
    flat.flatMap((l) => [...weights].map(([keeper, weight]) => [l.id, keeper, weight])),
  )
}

/** Issues an approved pre-bill: a number without gaps, its own lines, names and rates, and its journal, in one act. */
export function issueBill(ctx: Ctx, preBillId: number, day: Day): Promise<{ id: number; number: string }> {
  return work(ctx, async (m) => {
    const head = await headOf(m, ctx, preBillId, true)
    if (head.state === 'issued') throw refused('issued', 'This pre-bill was issued already.')
    if (head.state !== 'approved') throw refused('not-approved', 'A lawyer approves the pre-bill before it is issued.')
    if (day > ctx.clock.today()) throw fieldFault('day', 'A bill cannot be dated ahead')
    await rows(m, `SELECT id FROM matter WHERE id = ? FOR UPDATE`, [head.matterId])
    const all = await linesOf(m, preBillId)
    const totals = totalsOf(head, all)
    const kept = all
      .map((line, i) => ({ line, net: totals.lineNets[i]!, discount: totals.lineDiscounts[i]! }))
      .filter((x) => !x.line.heldBack)
    if (!kept.length) throw refused('nothing-to-bill', 'Every line is held back.')
    const snapshot = await snapshotOf(m, head)
    const terms = await row<{ days: number }>(m, `SELECT bill_terms_days AS days FROM firm`)
    const journalId = await openJournal(m, ctx, {
      day,
      kind: 'bill',
      memo: `Bill to ${snapshot.payer.name}, ${snapshot.matter.number}`,
      subject: 'pre-bill',
      subjectId: preBillId,
    })
    const number = `B-${1000 + (await nextNumber(m, 'bill'))}`
    const made = await m.insert(Bill, {
      number,
      matterId: head.matterId,
      payerId: head.payerId,
      issuedOn: day,
      dueOn: addDays(day, terms!.days),
      workTo: head.workTo,
      worked: totals.worked,
      fees: totals.fees,
      hardCosts: totals.hardCosts,
      softCosts: totals.softCosts,
      discount: totals.discount,
      tax: totals.tax,
      total: totals.total,
      snapshot: JSON.stringify(snapshot),
      journalId,
      issuedBy: ctx.actor.id,
    })
    const billId = made.identifiers[0]!['id'] as number
    const lines = kept.map(({ line: l, net, discount }, i) => [
      billId,
      i + 1,
      l.kind,
      l.day,
      l.timekeeperId,
      l.timekeeper,
      l.text,
      l.minutes,
      l.rate,
      l.worked,
      l.noCharge ? 0 : l.charged,
      l.noCharge,
      discount,
      net,
      l.sourceId,
    ])
    if (totals.tax)
      lines.push([
        billId,
        lines.length + 1,
        'tax',
        null,
        null,
        '',
        `Tax ${head.taxBasisPoints / 100} %`,
        null,
        null,
        totals.tax,
        totals.tax,
        false,
        0,
        totals.tax,
        null,
      ])
    await insertMany(
      m,
      'bill_line',
      [
        'bill_id',
        'ordinal',
        'kind',
        'day',
        'timekeeper_id',
        'timekeeper_name',
        'text',
        'minutes',
        'rate',
        'worked',
        'charged',
        'no_charge',
        'discount',
        'net',
        'source_id',
      ],
      lines,
    )
    const sources = (kinds: PreLine['kind'][]) => kept.filter((k) => kinds.includes(k.line.kind)).map((k) => k.line.sourceId)
    for (const [table, kinds] of [
      ['time_entry', ['time']],
      ['cost_entry', ['soft cost', 'hard cost']],
      ['fee_portion', ['flat']],
    ] as const) {
      const ids = sources([...kinds])
      if (!ids.length) continue
      const taken = await run(m, `UPDATE ${table} SET bill_id = ? WHERE id IN (?) AND bill_id IS NULL`, [billId, ids])
      if (taken !== ids.length) throw refused('billed-already', 'A line of this pre-bill was billed meanwhile. Drop it and make it again.')
    }
    const keptLines = kept.map((k) => k.line)
    await fixShares(m, head, billId, keptLines)
    const legs = await legsOf(
      m,
      head,
      keptLines,
      kept.map((k) => k.net),
      totals.tax,
      billId,
    )
    if (!legs.length) throw refused('nothing-to-bill', 'Nothing on this pre-bill has a value.')
    await closeJournal(m, ctx, journalId, day, { lines: legs })
    await run(m, `UPDATE pre_bill SET state = 'issued', bill_id = ? WHERE id = ?`, [billId, preBillId])
    await audit(m, ctx, {
      kind: 'billed',
      text: `Bill ${number} issued, ${showMoney(totals.total)}`,
      matterId: head.matterId,
      subject: 'bill',
      subjectId: billId,
    })
    await touchMatter(m, ctx, head.matterId)
    return { id: billId, number }
  })
}
