import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { addDays } from '../src/calendar'
import {
  advanceOnPaidMoney,
  availability,
  balancesFrom,
  chargeLegs,
  checkState,
  coverNeeded,
  faultsOfJournal,
  firstDayBelowZero,
  interestLegs,
  judgeCorrection,
  judgeMove,
  type LedgerEntry,
  moveLegs,
  returnedLegs,
  type TrustSide,
  unclaimedDue,
  unclearedOn,
} from '../src/ledger'

const trust = [
  { bankAccountId: 1, bankGl: 11, liabilityGl: 12 },
  { bankAccountId: 2, bankGl: 21, liabilityGl: 22 },
]
const side = (bank: 0 | 1, ledgerId: number, matterId: number | null = ledgerId): TrustSide => ({ ...trust[bank]!, ledgerId, matterId })
const firm = { bankAccountId: 9, bankGl: 91 }
const amount = fc.integer({ min: 1, max: 1_000_000_000 })

describe('acts on trust money', () => {
  it('are journals that balance, with bank, liability and ledgers alike', () => {
    fc.assert(
      fc.property(amount, amount, fc.boolean(), (a, b, far) => {
        const cover = Math.min(a, b)
        for (const j of [
          moveLegs(side(0, 1), side(far ? 1 : 0, 2), a),
          returnedLegs({ from: side(0, 1), amount: a, cover, firm, dueFromClients: 99 }),
          returnedLegs({ from: side(0, 1), amount: a, cover: 0, firm, dueFromClients: 99 }),
          chargeLegs({ firmLedger: side(0, 3, null), amount: a, cover, firm, charges: 50, firmMoney: 51 }),
          interestLegs(side(1, 4), a),
        ])
          expect(faultsOfJournal(j, trust)).toEqual([])
      }),
    )
  })
  it('move no bank within one account, and both between two', () => {
    expect(moveLegs(side(0, 1), side(0, 2), 500).bank).toEqual([])
    expect(moveLegs(side(0, 1), side(1, 2), 500).bank).toEqual([
      { bankAccountId: 1, amount: -500 },
      { bankAccountId: 2, amount: 500 },
    ])
  })
})

describe('the cover of what the bank took', () => {
  it('is $3,200.00 where $5,000.00 came back and $3,200.00 was spent; $18.00 of a charge of $118.00 on $100.00', () => {
    expect(coverNeeded([{ book: 1_800_00 }], 5_000_00)).toBe(3_200_00)
    expect(coverNeeded([{ book: 100_00 }], 118_00)).toBe(18_00)
    expect(coverNeeded([{ book: 5_000_00 }], 5_000_00)).toBe(0)
    expect(coverNeeded([{ book: 0 }], 5_000_00)).toBe(5_000_00)
  })
  it('is what the lowest day lacks: no day closes below zero, and a cent less would not do', () => {
    const entry = fc.record({ at: fc.integer({ min: 0, max: 60 }), amount: fc.integer({ min: -500, max: 900 }).filter((n) => n !== 0) })
    fc.assert(
      fc.property(
        fc.array(entry, { maxLength: 15 }),
        fc.integer({ min: 0, max: 60 }),
        fc.integer({ min: 1, max: 2_000 }),
        (list, at, taken) => {
          let own: LedgerEntry[] = []
          for (const e of list) {
            const next = [...own, { day: addDays('2026-09-01', e.at), amount: e.amount, clearsOn: null }]
            if (!firstDayBelowZero(next)) own = next
          }
          const day = addDays('2026-09-01', at)
          const cover = coverNeeded(balancesFrom(own, day), taken)
          const after = (c: number): LedgerEntry[] => [...own, { day, amount: c - taken, clearsOn: null }]
          expect(cover).toBeLessThanOrEqual(taken)
          expect(firstDayBelowZero(after(cover))).toBeNull()
          if (cover) expect(firstDayBelowZero(after(cover - 1))).not.toBeNull()
        },
      ),
    )
  })
})

describe('what has not cleared', () => {
  it('is at the close of each day what the entries say, also of those that leave with their day of clearing', () => {
    const dayAt = fc.integer({ min: 0, max: 30 }).map((n) => addDays('2026-10-20', n))
    const entry = fc.record({ day: dayAt, amount: fc.integer({ min: -900, max: 900 }), clearsOn: fc.option(dayAt) })
    fc.assert(
      fc.property(fc.array(entry, { maxLength: 20 }), fc.array(dayAt, { minLength: 1, maxLength: 8 }), (entries, days) => {
        expect(unclearedOn(days, entries)).toEqual(days.map((d) => availability(entries, 0, d).uncleared))
        // What has cleared by the first of the days may be left out.
        const first = [...days].sort()[0]!
        const later = entries.filter((e) => e.clearsOn !== null && e.clearsOn > first)
        expect(unclearedOn(days, later)).toEqual(unclearedOn(days, entries))
      }),
    )
  })
})

describe('a cost advanced, on paid money', () => {
  const of = (net: number, advanced: number, paid: number, credited = 0, writtenOff = 0, voided = false) =>
    advanceOnPaidMoney({ net, advanced, paid, credited, writtenOff, voided })
  it('comes back first; only what is paid beyond it is income, and only what of it is given up is lost', () => {
    // $100.00 advanced and charged with 10 %: $60.00 paid, then all.
    expect(of(110_00, 100_00, 0)).toMatchObject({ income: 0, lost: 0, outstanding: 100_00 })
    expect(of(110_00, 100_00, 60_00)).toMatchObject({ income: 0, lost: 0, outstanding: 40_00 })
    expect(of(110_00, 100_00, 110_00)).toMatchObject({ income: 10_00, lost: 0, outstanding: 0 })
    // The markup is credited, and was never income; $50.00 are written off, of which $10.00 are markup.
    expect(of(110_00, 100_00, 100_00, 10_00)).toMatchObject({ income: 0, lost: 0, outstanding: 0 })
    expect(of(110_00, 100_00, 60_00, 0, 50_00)).toMatchObject({
      income: 0,
      lost: 40_00,
      outstanding: 0,
      less: { badDebts: 10_00, notRecovered: 0 },
    })
    expect(of(80_00, 100_00, 30_00, 20_00, 30_00)).toMatchObject({ income: 0, lost: 50_00, outstanding: 0 })
    expect(of(110_00, 100_00, 0, 0, 0, true)).toMatchObject({ income: 0, lost: 0, outstanding: 0 })
  })
  it('is never more than what is open, and nothing of it is unexplained', () => {
    const cents = fc.integer({ min: 0, max: 500 })
    fc.assert(
      fc.property(cents, cents, cents, cents, cents, (net, advanced, a, b, c) => {
        const paid = Math.min(a, net)
        const credited = Math.min(b, net - paid)
        const writtenOff = Math.min(c, net - paid - credited)
        const { income, lost, outstanding, less } = of(net, advanced, paid, credited, writtenOff)
        expect(income - lost).toBe(paid - Math.min(advanced, net) + outstanding)
        expect(outstanding).toBeLessThanOrEqual(net - paid - credited - writtenOff)
        expect(Math.min(income, lost, outstanding)).toBeGreaterThanOrEqual(0)
        // What is booked as a loss, less what is none, is the loss.
        expect(credited + writtenOff - less.badDebts - less.notRecovered).toBe(lost)
        expect(Math.min(less.badDebts, less.notRecovered)).toBeGreaterThanOrEqual(0)
      }),
    )
  })
})

describe('who may have what', () => {
  const client = (clientId: number, ledgerId: number) => ({ kind: 'client' as const, clientId, ledgerId, name: `Client ${clientId}` })
  it('money moves only between ledgers of one client', () => {
    expect(judgeMove(client(1, 10), client(1, 11))).toBeNull()
    expect(judgeMove(client(1, 10), client(2, 12))?.code).toBe('other-clients-money')
    expect(judgeMove(client(1, 10), client(1, 10))?.code).toBe('same-ledger')
    const firmLedger = { kind: 'firm' as const, clientId: null, ledgerId: 13, name: 'Firm money' }
    expect(judgeMove(client(1, 10), firmLedger)?.code).toBe('other-clients-money')
    expect(judgeMove(firmLedger, client(1, 10))?.code).toBe('other-clients-money')
    const unknown = { kind: 'unidentified' as const, clientId: null, ledgerId: 14, name: 'Nobody' }
    expect(judgeMove(unknown, client(1, 10))?.code).toBe('unidentified-money')
  })
  it('an entry is corrected by no more than it moved, on no day before it', () => {
    const entry = { amount: 1_000_00, day: '2026-10-05' as const, correctedBefore: 400_00 }
    expect(judgeCorrection(entry, 600_00, '2026-10-05', '2026-11-01')).toBeNull()
    expect(judgeCorrection(entry, 600_01, '2026-10-05', '2026-11-01')?.code).toBe('more-than-entry')
    expect(judgeCorrection({ ...entry, amount: -500_00 }, 100_00, '2026-10-06', '2026-11-01')).toBeNull()
    expect(judgeCorrection(entry, 1, '2026-10-04', '2026-11-01')?.code).toBe('before-original')
    expect(judgeCorrection(entry, 1, '2026-11-02', '2026-11-01')?.code).toBe('future-date')
  })
})

describe('numbers of checks', () => {
  it('are paid whatever their age, stale after the days of the account, spoiled where nothing was paid', () => {
    const c = { day: '2026-01-05' as const, state: 'posted' as const, paidOn: null }
    expect(checkState(c, '2026-07-04', 180)).toBe('outstanding')
    expect(checkState(c, '2026-07-05', 180)).toBe('stale')
    expect(checkState({ ...c, paidOn: '2026-09-01' }, '2026-10-01', 180)).toBe('paid')
    expect(checkState({ ...c, state: 'void' }, '2026-10-01', 180)).toBe('void')
    expect(checkState({ day: null, state: null, paidOn: null }, '2026-10-01', 180)).toBe('spoiled')
  })
  it('and unclaimed money is due so many days after the last word of its owner', () => {
    expect(unclaimedDue({ checkDay: '2026-03-05', lastContact: null }, 1_095)).toBe('2029-03-04')
    expect(unclaimedDue({ checkDay: '2026-03-05', lastContact: '2026-01-01' }, 1_095)).toBe('2029-03-04')
    expect(unclaimedDue({ checkDay: '2026-03-05', lastContact: '2026-11-20' }, 1_095)).toBe('2029-11-19')
  })
})
