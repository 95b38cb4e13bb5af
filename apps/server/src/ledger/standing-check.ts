import type { EntityManager } from 'typeorm'
import { instant, isoOf, type Ctx } from '../platform/context'
import { AccountDayMark } from './books/entities'
import { type BankSums, bankSums, entriesIn, everyDay, keptSums, moved } from './books/sum-queries'
import {
  type CheckResult,
  checkLast,
  closingsOfLedgers,
  lastBill,
  lastJournal,
  trustBanks,
  unbalancedIn,
  wrongBillsIn,
} from './check-queries'
import { Account, StandingCheck } from './entities'

type Found = Pick<CheckResult, 'ok' | 'unbalancedJournals' | 'accounts' | 'firmMoney' | 'wrongSums'>
/** So many journals are looked at by one statement, so that however many there are none takes long. */
const atOnce = 100_000

/** What the records come to, whether by the sums that are kept or by every entry. */
interface Sums {
  accounts: ReadonlyMap<number, number>
  banks: ReadonlyMap<number, BankSums>
  unbalanced: number
  wrongSums: number
}

async function judge(m: EntityManager, s: Sums): Promise<Found> {
  const closings = new Map((await closingsOfLedgers(m)).map((c) => [c.id, c.held]))
  const accounts = (await trustBanks(m)).map((b) => ({
    bankAccountId: b.id,
    name: b.name,
    bank: s.banks.get(b.id)?.bank ?? 0,
    liability: 0 - (s.accounts.get(b.owedId) ?? 0),
    ledgers: s.banks.get(b.id)?.ledgers ?? 0,
    ledgerDays: closings.get(b.id) ?? 0,
  }))
  const own = await m.findOne(Account, { select: { id: true }, where: { role: 'firm money in trust' } })
  const firmMoney = {
    ledgers: [...s.banks.values()].reduce((sum, b) => sum + b.firm, 0),
    account: own ? (s.accounts.get(own.id) ?? 0) : 0,
  }
  const ok =
    s.wrongSums === 0 &&
    s.unbalanced === 0 &&
    firmMoney.ledgers === firmMoney.account &&
    accounts.every((a) => a.bank === a.liability && a.bank === a.ledgers && a.bank === a.ledgerDays)
  return { ok, unbalancedJournals: s.unbalanced, accounts, firmMoney, wrongSums: s.wrongSums }
}

async function unbalancedFrom(m: EntityManager, first: number, last: number): Promise<number> {
  let found = 0
  for (let from = first; from < last; from += atOnce) found += await unbalancedIn(m, from, Math.min(last, from + atOnce))
  return found
}

/** By the sums that are kept by day, with what was posted since: as quick with many years on record as with one. */
async function bySums(m: EntityManager): Promise<Found> {
  const mark = await m.findOneByOrFail(AccountDayMark, { id: 1 })
  return judge(m, {
    accounts: new Map((await moved(m, { to: everyDay })).map((a) => [a.id, a.balance])),
    banks: await bankSums(m),
    unbalanced: mark.unbalanced + (await unbalancedFrom(m, mark.upTo, await lastJournal(m))),
    wrongSums: 0,
  })
}

const sides = ['bank', 'ledgers', 'unidentified', 'firm'] as const
function addTo(total: { accounts: Map<number, number>; banks: Map<number, BankSums> }, part: Awaited<ReturnType<typeof entriesIn>>) {
  for (const a of part.accounts) total.accounts.set(a.id, (total.accounts.get(a.id) ?? 0) + a.amount)
  for (const b of part.banks) {
    const all = total.banks.get(b.id) ?? { id: b.id, bank: 0, ledgers: 0, unidentified: 0, firm: 0 }
    for (const side of sides) all[side] += b[side]
    total.banks.set(b.id, all)
  }
}

/** By every entry that there is, span after span; and whether the sums that are kept by day are those of their entries. */
async function byEntries(m: EntityManager): Promise<Found> {
  const mark = await m.findOneByOrFail(AccountDayMark, { id: 1 })
  const last = await lastJournal(m)
  const total = { accounts: new Map<number, number>(), banks: new Map<number, BankSums>() }
  const read = async (first: number, end: number) => {
    for (let from = first; from < end; from += atOnce) addTo(total, await entriesIn(m, from, Math.min(end, from + atOnce)))
  }
  await read(0, mark.upTo)
  const kept = { accounts: new Map<number, number>(), banks: new Map<number, BankSums>() }
  addTo(kept, await keptSums(m))
  const differ = <T>(of: (t: typeof total) => ReadonlyMap<number, T>, same: (a: T | undefined, b: T | undefined) => boolean) =>
    [...new Set([...of(total).keys(), ...of(kept).keys()])].filter((id) => !same(of(total).get(id), of(kept).get(id))).length
  const wrongSums =
    differ((t) => t.accounts, (a = 0, b = 0) => a === b) + // prettier-ignore
    differ((t) => t.banks, (a, b) => sides.every((side) => (a?.[side] ?? 0) === (b?.[side] ?? 0))) // prettier-ignore
  await read(mark.upTo, last)
  let wrongBills = 0
  const bills = await lastBill(m)
  for (let from = 0; from < bills; from += atOnce) wrongBills += await wrongBillsIn(m, from, Math.min(bills, from + atOnce))
  return judge(m, { ...total, unbalanced: await unbalancedFrom(m, 0, last), wrongSums: wrongSums + wrongBills })
}

/** What the last check that read every entry found; what it found wrong stays wrong until another says otherwise. */
async function lastWhole(m: EntityManager): Promise<{ at: string | null; ok: boolean; wrongSums: number }> {
  const last = await checkLast(m, true)
  if (!last) return { at: null, ok: true, wrongSums: 0 }
  return { at: isoOf(last.at), ok: Boolean(last.ok), wrongSums: (JSON.parse(last.detail) as { wrongSums?: number }).wrongSums ?? 0 }
}

/**
 * Compares what is kept as separate records: the bank book, the liability account, the client ledgers and their
 * closing balances; and that every journal balances and is posted. Keeps the result with its time. `whole` reads every entry
 * and takes as long as there are many; without it, it goes by the sums of days, which such a check compares with their entries.
 */
export async function runStandingCheck(ctx: Pick<Ctx, 'db' | 'clock'>, how: { whole: boolean } = { whole: false }): Promise<CheckResult> {
  return ctx.db.transaction('REPEATABLE READ', async (m) => {
    const found = how.whole ? await byEntries(m) : await bySums(m)
    const at = instant(ctx.clock.now())
    const before = how.whole ? { at: isoOf(at), ok: true, wrongSums: found.wrongSums } : await lastWhole(m)
    const result = { ...found, ok: found.ok && before.ok, wrongSums: before.wrongSums }
    const { ok, ...detail } = result
    await m.insert(StandingCheck, { at, ok, detail: JSON.stringify(detail), whole: how.whole })
    return { at: isoOf(at), ...result, wholeAt: before.at }
  })
}

export async function lastCheck(ctx: Pick<Ctx, 'db' | 'clock'>): Promise<CheckResult> {
  const m = ctx.db.manager
  const last = await checkLast(m, false)
  // Before the first check was kept: as it stands now, with no time to show.
  if (!last) return { at: null, wholeAt: null, ...(await ctx.db.transaction('REPEATABLE READ', bySums)) }
  const detail = JSON.parse(last.detail) as Pick<CheckResult, 'unbalancedJournals' | 'accounts'> & Partial<CheckResult>
  const whole = await lastWhole(m)
  return { firmMoney: { ledgers: 0, account: 0 }, wrongSums: 0, ...detail, at: isoOf(last.at), ok: Boolean(last.ok), wholeAt: whole.at }
}
