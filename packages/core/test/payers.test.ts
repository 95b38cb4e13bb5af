import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { addUpPreBill, payersFault, sharesInWords, splitAmount, splitBill, taxesOn, type PayerShare } from '../src/billing'
import { sum } from '../src/money'

const part = (percent: number): PayerShare => ({ fixed: null, basisPoints: Math.round(percent * 100) })
const fixed = (cents: number): PayerShare => ({ fixed: cents, basisPoints: null })

/** Two payers or more whose percentages make 100, some with a fixed amount before. */
const payers = fc
  .tuple(
    fc.array(fc.integer({ min: 1, max: 500_000 }), { maxLength: 2 }),
    fc.uniqueArray(fc.integer({ min: 1, max: 9_999 }), { minLength: 1, maxLength: 4 }),
  )
  .map(([fixes, cuts]) => {
    const at = [0, ...cuts.sort((a, b) => a - b), 10_000]
    return [...fixes.map(fixed), ...at.slice(1).map((c, i) => ({ fixed: null, basisPoints: c - at[i]! }))]
  })
const line = fc
  .tuple(fc.integer({ min: 0, max: 900_000 }), fc.nat(90), fc.boolean(), fc.nat(2_000))
  .map(([charged, off, noCharge, rate]) => {
    const discount = noCharge ? 0 : Math.floor((charged * off) / 100)
    return { worked: charged + 500, discount, net: noCharge ? 0 : charged - discount, taxRate: [0, rate, 825][charged % 3]! }
  })

describe('payers of a matter', () => {
  it('bears tax on each payer’s own part; the whole is their sum', () => {
    // $100.01 of fees and $10.00 advanced, 8.875 %: halves of $55.01 and $55.00; taxable $50.01 and $50.00, each $4.44, where the whole alone would be $8.88.
    const lines = [
      { kind: 'time' as const, worked: 10_001, charged: 10_001, noCharge: false, heldBack: false, taxRate: 888 },
      { kind: 'hard cost' as const, worked: 1000, charged: 1000, noCharge: false, heldBack: false, taxRate: 0 },
    ]
    const t = addUpPreBill(lines, { amount: 0, basisPoints: 0 }, [part(50), part(50)])
    expect(t.parts.map((p) => [p.total, p.tax])).toEqual([[5501 + 444, 444], [5500 + 444, 444]]) // prettier-ignore
    expect([t.tax, t.total]).toEqual([888, 11_001 + 888])
    const odd = addUpPreBill([{ ...lines[0]!, worked: 110, charged: 110, taxRate: 1000 }], { amount: 0, basisPoints: 0 }, [
      part(50),
      part(50),
    ])
    // 10 % of $0.55 is 5.5, rounded up on either bill: 12 together, not the 11 of the whole.
    expect([odd.tax, odd.total]).toEqual([12, 122])
  })
  it('splits $6,154.00 by 60 and 40 percent, and after $500.00 fixed', () => {
    expect(splitAmount(615400, [part(60), part(40)])).toEqual([369240, 246160])
    expect(splitAmount(615400, [fixed(50000), part(60), part(40)])).toEqual([50000, 339240, 226160])
    expect(splitAmount(30000, [fixed(50000), part(100)])).toEqual([30000, 0])
  })
  it('says what is wrong with a split', () => {
    expect(payersFault([])).toBeNull()
    expect(payersFault([part(100)])).toMatch(/two payers/)
    expect(payersFault([part(60), part(30)])).toMatch(/make 90 %/)
    expect(payersFault([fixed(100), fixed(200)])).toMatch(/at least one payer/)
    expect(payersFault([part(100), { fixed: 5, basisPoints: 5 }])).toMatch(/not both/)
    expect(payersFault([part(100), part(0)])).toMatch(/more than nothing/)
  })
  it('puts shares in words', () => {
    expect(sharesInWords([part(62.5), part(37.5)])).toEqual(['62.5 %', '37.5 %'])
    expect(sharesInWords([fixed(50000), part(100)])).toEqual(['$500.00', '100 % of what is left'])
  })
  it('adds up by line and by payer, whatever the amounts', () => {
    fc.assert(
      fc.property(fc.array(line, { minLength: 1, maxLength: 12 }), payers, (lines, who) => {
        const parts = splitBill(lines, who)
        expect(parts.map((p) => p.total - p.tax)).toEqual(splitAmount(sum(lines.map((l) => l.net)), who))
        for (const p of parts) {
          expect(p.taxes).toEqual(taxesOn(p.lines.map((l, i) => ({ net: l.net, taxRate: lines[i]!.taxRate }))))
          expect(p.tax).toBe(sum(p.taxes.map((t) => t.amount)))
          expect(sum(p.lines.map((l) => l.net)) + p.tax).toBe(p.total)
          expect(p.lines.every((l) => l.net >= 0 && l.discount >= 0 && l.worked >= 0)).toBe(true)
        }
        lines.forEach((l, i) => {
          for (const what of ['worked', 'discount', 'net'] as const) expect(sum(parts.map((p) => p.lines[i]![what]))).toBe(l[what])
        })
      }),
    )
  })
})
