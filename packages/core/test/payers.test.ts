import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { payersFault, sharesInWords, splitAmount, splitBill, type PayerShare } from '../src/billing'
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
const line = fc.tuple(fc.integer({ min: 0, max: 900_000 }), fc.nat(90), fc.boolean()).map(([charged, off, noCharge]) => {
  const discount = noCharge ? 0 : Math.floor((charged * off) / 100)
  return { worked: charged + 500, discount, net: noCharge ? 0 : charged - discount }
})

describe('payers of a matter', () => {
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
      fc.property(fc.array(line, { minLength: 1, maxLength: 12 }), fc.nat(90_000), payers, (lines, tax, who) => {
        const parts = splitBill(lines, tax, who)
        expect(parts.map((p) => p.total)).toEqual(splitAmount(sum(lines.map((l) => l.net)) + tax, who))
        expect(sum(parts.map((p) => p.tax))).toBe(tax)
        for (const p of parts) {
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
