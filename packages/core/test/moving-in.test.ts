import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { discountOn, dueBy, openedByClearing, openingBanks, openingClearing, settledBy, type OpeningRow } from '@heron/core/ledger'

describe('opening books', () => {
  it('leave nothing on clearing where they balance, whatever trust holds', () => {
    const rows: OpeningRow[] = [
      { what: 'account', amount: 10_000_00, bankAccountId: 2 },
      { what: 'account', amount: -10_850_00, bankAccountId: null },
      { what: 'ledger', amount: 7_000_00, bankAccountId: 1 },
      { what: 'ledger', amount: 100_00, bankAccountId: 1, firmMoney: true },
      { what: 'check', amount: 750_00, bankAccountId: 1 },
      { what: 'deposit', amount: 300_00, bankAccountId: 1 },
      { what: 'statement', amount: 7_550_00, bankAccountId: 1 },
      { what: 'bill', amount: 1_200_00, bankAccountId: null },
      { what: 'vendor', amount: 600_00, bankAccountId: null },
      { what: 'cost', amount: 150_00, bankAccountId: null },
      { what: 'time', amount: 0, bankAccountId: null },
    ]
    expect(openingClearing(rows)).toBe(0)
    expect(openingBanks(rows)).toEqual([
      { bankAccountId: 1, book: 7_100_00, checks: 750_00, deposits: 300_00, statement: 7_550_00, said: 7_550_00 },
      { bankAccountId: 2, book: 10_000_00, checks: 0, deposits: 0, statement: 10_000_00, said: null },
    ])
    expect(openingClearing([...rows, { what: 'bill', amount: 1, bankAccountId: null }])).toBe(-1)
    // A credit of a payer is owed, as a vendor's bill is.
    expect(openingClearing([...rows, { what: 'credit', amount: 75_00, bankAccountId: null }])).toBe(75_00)
  })
  it('keep back of a ledger what has not cleared, as far as it is still there', () => {
    const deposits = [
      { clearsOn: '2026-12-01' as const, amount: 300_00 },
      { clearsOn: '2026-11-30' as const, amount: 200_00 },
    ]
    expect(openedByClearing(1_000_00, 0, [])).toEqual([{ clearsOn: null, amount: 1_000_00 }])
    expect(openedByClearing(1_000_00, 50_00, deposits)).toEqual([
      { clearsOn: null, amount: 550_00 },
      { clearsOn: '2026-11-30' as const, amount: 200_00 },
      { clearsOn: '2026-12-01' as const, amount: 300_00 },
    ])
    expect(openedByClearing(350_00, 50_00, deposits)).toEqual([
      { clearsOn: null, amount: 50_00 },
      { clearsOn: '2026-11-30' as const, amount: 50_00 },
      { clearsOn: '2026-12-01' as const, amount: 300_00 },
    ])
    expect(openedByClearing(0, 0, deposits)).toEqual([])
    const cents = fc.integer({ min: 0, max: 1_000_000 })
    fc.assert(
      fc.property(cents, cents, fc.array(fc.record({ clearsOn: fc.constantFrom('2026-11-30', '2026-12-01', '2026-12-02'), amount: cents }), { maxLength: 6 }), (held, drawn, list) => {
        const parts = openedByClearing(held, drawn, list)
        const of = (kept: typeof parts) => kept.reduce((n, p) => n + p.amount, 0)
        expect(of(parts)).toBe(held + drawn)
        expect(parts.every((p) => p.amount > 0)).toBe(true)
        expect(of(parts.filter((p) => p.clearsOn !== null))).toBe(Math.min(held, of(list.map((d) => ({ ...d })))))
      }),
    ) // prettier-ignore
  })
})

describe('a vendor’s bill', () => {
  const bill = { day: '2026-11-02', total: 1_000_00, settled: 0, discount: 20_00, discountOn: '2026-11-12' } as const
  it('is settled with its discount only when the rest is paid whole by its day', () => {
    expect(dueBy('2026-11-02', { dueDays: 30, discountDays: 10 })).toEqual({ dueOn: '2026-12-02', discountOn: '2026-11-12' })
    expect(settledBy(bill, 980_00, '2026-11-12')).toEqual({ amount: 980_00, discount: 20_00 })
    expect(settledBy(bill, 980_00, '2026-11-13')).toEqual({ amount: 980_00, discount: 0 })
    expect(settledBy(bill, 1_000_00, '2026-11-05')).toEqual({ amount: 1_000_00, discount: 0 })
    expect(settledBy({ ...bill, settled: 500_00 }, 480_00, '2026-11-05')).toEqual({ amount: 480_00, discount: 20_00 })
    expect(settledBy(bill, 1_000_01, '2026-11-05')).toBeNull()
    expect(settledBy(bill, 1, '2026-11-01')).toBeNull()
  })
  it('never settles more than is open, and never takes the whole as a discount', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1_000_000 }), fc.integer({ min: 0, max: 1_000_000 }), fc.integer({ min: 0, max: 1_000_000 }), fc.integer({ min: -5, max: 2_000_000 }), (total, settled, discount, amount) => {
        const b = { day: '2026-01-01' as const, total, settled: Math.min(settled, total), discount: Math.min(discount, total), discountOn: '2026-02-01' as const }
        const open = total - b.settled
        expect(discountOn(b, '2026-01-10')).toBeLessThan(Math.max(1, open))
        const s = settledBy(b, amount, '2026-01-10')
        if (s) {
          expect(s.amount + s.discount).toBeLessThanOrEqual(open)
          expect(s.amount).toBe(amount)
        }
      }),
    ) // prettier-ignore
  })
})
