import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { addUpPreBill, crossed, discountTo, percentOf, readShares, type PreBillLine } from '../src/billing'

const line = (kind: PreBillLine['kind'], charged: number, tax = 0): PreBillLine => ({ kind, worked: charged, charged, noCharge: false, heldBack: false, taxRate: kind === 'hard cost' ? 0 : tax }) // prettier-ignore

describe('a budget', () => {
  it('warns once at each share that is reached', () => {
    expect(crossed(10_000_00, 7_400_00, 9_200_00, [75, 90, 100])).toEqual([75, 90])
    expect(crossed(10_000_00, 9_200_00, 9_300_00, [75, 90, 100])).toEqual([])
    expect(crossed(10_000_00, 9_999_99, 10_000_00, [100])).toEqual([100])
    expect([percentOf(9_200_00, 10_000_00), percentOf(9_999_99, 10_000_00), percentOf(12_000_00, 10_000_00)]).toEqual([92, 99, 120])
  })
  it('reads its shares', () => {
    expect([readShares('90, 75 %,100'), readShares(''), readShares('0'), readShares('half')]).toEqual([[75, 90, 100], [], null, null])
  })
})

describe('a discount to a sum', () => {
  it('takes the bill to it, with its tax', () => {
    const linesAt = (tax: number) => [line('time', 600_00, tax), line('time', 400_00, tax), line('hard cost', 125_00)]
    const lines = linesAt(0)
    expect(discountTo(1_000_00, lines)).toBe(125_00)
    expect(discountTo(1_125_00, lines)).toBeNull()
    expect(discountTo(100_00, lines)).toBeNull()
    const off = discountTo(1_000_00, linesAt(825))!
    expect(addUpPreBill(linesAt(825), { amount: off, basisPoints: 0 }).total).toBe(1_000_00)
  })
  it('is the least that is enough, whatever the lines, tax and payers', () => {
    const lines = fc.array(fc.tuple(fc.constantFrom('time' as const, 'soft cost' as const, 'hard cost' as const), fc.nat(100_000), fc.nat(2_000)).map(([k, c, tax]) => line(k, c, tax)), { minLength: 1, maxLength: 8 }) // prettier-ignore
    const payers = fc.constantFrom([], [{ fixed: null, basisPoints: 3_333 }, { fixed: null, basisPoints: 6_667 }]) // prettier-ignore
    fc.assert(
      fc.property(lines, fc.nat(500_000), payers, (ls, target, ps) => {
        const off = discountTo(target, ls, ps)
        const at = (amount: number) => addUpPreBill(ls, { amount, basisPoints: 0 }, ps)
        if (off === null) expect(at(0).total <= target || at(at(0).fees).total > target).toBe(true)
        else {
          expect(at(off).total).toBeLessThanOrEqual(target)
          expect(at(off - 1).total).toBeGreaterThan(target)
        }
      }),
    )
  })
})
