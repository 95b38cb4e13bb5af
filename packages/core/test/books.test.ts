import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { sum } from '../src/money'
import {
  balanceSheet,
  closingLines,
  columnsOf,
  faultOfShares,
  fiscalYear,
  isYearEnd,
  type AccountBalance,
  type AccountKind,
} from '../src/ledger'

const kinds: AccountKind[] = ['asset', 'liability', 'equity', 'income', 'expense']
/** Balances of a chart whose journals all balanced. */
const chart = fc
  .array(fc.record({ kind: fc.constantFrom(...kinds), balance: fc.integer({ min: -1_000_000, max: 1_000_000 }) }), {
    minLength: 1,
    maxLength: 25,
  })
  .map((list): AccountBalance[] => {
    const all = list.map((a, i) => ({ ...a, id: i + 1 }))
    return [...all, { id: 99, kind: 'asset', balance: -sum(all.map((a) => a.balance)) || 0 }]
  })

describe('a balance sheet', () => {
  it('has two sides that agree wherever every journal balanced', () => {
    fc.assert(
      fc.property(chart, (accounts) => {
        expect(balanceSheet(accounts).off).toBe(0)
      }),
    )
  })
  it('shows what is owed and earned above zero', () => {
    const accounts: AccountBalance[] = [
      { id: 1, kind: 'asset', balance: 900_00 },
      { id: 2, kind: 'liability', balance: -300_00 },
      { id: 3, kind: 'equity', balance: -100_00 },
      { id: 4, kind: 'income', balance: -800_00 },
      { id: 5, kind: 'expense', balance: 300_00 },
    ]
    expect(balanceSheet(accounts)).toEqual({ assets: 900_00, liabilities: 300_00, equity: 100_00, earned: 500_00, off: 0 })
  })
})

describe('the closing of a year', () => {
  const shares = [
    { account: 201, basisPoints: 5_000 },
    { account: 202, basisPoints: 3_333 },
    { account: 203, basisPoints: 1_667 },
  ]
  it('brings income and expenses to zero and gives the partners the result to the cent', () => {
    fc.assert(
      fc.property(chart, (accounts) => {
        const lines = closingLines(accounts, shares)
        expect(sum(lines.map((l) => l.amount))).toBe(0)
        expect(lines.every((l) => l.amount !== 0)).toBe(true)
        for (const a of accounts) {
          const closed = sum(lines.filter((l) => l.account === a.id).map((l) => l.amount))
          expect(a.balance + closed).toBe(a.kind === 'income' || a.kind === 'expense' ? 0 : a.balance)
        }
      }),
    )
  })
  it('shares $100.01 as $50.01, $33.33 and $16.67', () => {
    const lines = closingLines([{ id: 4, kind: 'income', balance: -100_01 }], shares)
    expect(lines).toEqual([
      { account: 4, amount: 100_01 },
      { account: 201, amount: -50_01 },
      { account: 202, amount: -33_33 },
      { account: 203, amount: -16_67 },
    ])
  })
  it('asks for shares that make the whole', () => {
    expect(faultOfShares(shares)).toBeNull()
    expect(faultOfShares([])).toContain('equity')
    expect(faultOfShares(shares.slice(1))).toContain('100')
    expect(faultOfShares([shares[0]!, shares[0]!])).toContain('once')
  })
})

describe('spans', () => {
  it('stand beside one another by month, or by the year before', () => {
    expect(columnsOf({ from: '2026-01-15', to: '2026-03-10' }, 'months')).toEqual([
      { from: '2026-01-15', to: '2026-01-31' },
      { from: '2026-02-01', to: '2026-02-28' },
      { from: '2026-03-01', to: '2026-03-10' },
    ])
    expect(columnsOf({ from: '2024-02-01', to: '2024-02-29' }, 'year')[1]).toEqual({ from: '2023-02-01', to: '2023-02-28' })
    expect(columnsOf({ from: '2020-01-01', to: '2026-01-01' }, 'months')).toHaveLength(24)
  })
  it('lie in a fiscal year that ends when the firm says', () => {
    expect(fiscalYear('2026-11-23', '12-31')).toEqual({ from: '2026-01-01', to: '2026-12-31' })
    expect(fiscalYear('2026-11-23', '06-30')).toEqual({ from: '2026-07-01', to: '2027-06-30' })
    expect(fiscalYear('2026-06-30', '06-30')).toEqual({ from: '2025-07-01', to: '2026-06-30' })
    expect(fiscalYear('2024-02-29', '02-29')).toEqual({ from: '2023-03-01', to: '2024-02-29' })
    expect(fiscalYear('2023-03-01', '02-29')).toEqual({ from: '2023-03-01', to: '2024-02-29' })
    expect([isYearEnd('12-31'), isYearEnd('02-29'), isYearEnd('02-30'), isYearEnd('6-30')]).toEqual([true, true, false, false])
  })
})
