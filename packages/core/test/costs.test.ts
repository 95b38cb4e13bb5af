import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { markedUp, nextOfMonth, priceOfUnits, readUnitRate, readUnits, showUnitRate, showUnits, splitCost } from '../src/costs'
import type { Day } from '../src/calendar'

describe('costs by units', () => {
  it.each([
    ['12', 12_000],
    ['1,250', 1_250_000],
    ['36.4', 36_400],
    ['.5', 500],
    ['0.0005', null],
    ['0', null],
    ['12 pages', null],
    ['', null],
    ['1000001', null],
  ])('read %s', (text, units) => expect(readUnits(text)).toBe(units))

  it.each([
    ['0.25', 2500],
    ['.655', 6550],
    ['$1.10', 11_000],
    ['0.00001', null],
    ['-1', null],
  ])('read the rate %s', (text, rate) => expect(readUnitRate(text)).toBe(rate))

  it('are priced once, half up', () => {
    expect(priceOfUnits(36_400, 6550)).toBe(2384) // 36.4 miles at 65.5 cents: 23.842
    expect(priceOfUnits(1000, 50)).toBe(1) // half a cent
    expect(priceOfUnits(3_000, 2500)).toBe(75)
    expect(priceOfUnits(1_000_000_000, 100_000_000)).toBe(1_000_000_000_000)
    expect([showUnits(36_400), showUnits(1_250_000), showUnitRate(2500), showUnitRate(6550)]).toEqual(['36.4', '1,250', '$0.25', '$0.655'])
  })

  it('carry a markup rounded once', () => {
    expect(markedUp(12_345, 1000)).toBe(13_580) // 1,234.5 more
    expect(markedUp(100, 0)).toBe(100)
  })
})

describe('one cost for several matters', () => {
  it('adds up, whatever is fixed', () => {
    expect(splitCost(10_000, [null, null, null])).toEqual([3334, 3333, 3333])
    expect(splitCost(10_000, [5000, null, null])).toEqual([5000, 2500, 2500])
    expect(() => splitCost(100, [60, 60])).toThrow(RangeError)
    expect(() => splitCost(100, [60, 30])).toThrow(RangeError)
    expect(() => splitCost(2, [null, null, null])).toThrow(RangeError)
    fc.assert(
      fc.property(fc.integer({ min: 50, max: 1e10 }), fc.integer({ min: 1, max: 40 }), (total, n) => {
        const parts = splitCost(
          total,
          Array.from({ length: n }, () => null),
        )
        expect(parts.reduce((a, b) => a + b, 0)).toBe(total)
        expect(Math.max(...parts) - Math.min(...parts)).toBeLessThanOrEqual(1)
      }),
    )
  })
})

it('a monthly cost falls on its date, or the last of a short month', () => {
  const days = ['2026-01-31' as Day]
  for (let i = 0; i < 3; i++) days.push(nextOfMonth(days.at(-1)!, 31))
  expect(days).toEqual(['2026-01-31', '2026-02-28', '2026-03-31', '2026-04-30'])
  expect(nextOfMonth('2026-02-10' as Day, 15)).toBe('2026-02-15')
  expect(nextOfMonth('2026-12-15' as Day, 15)).toBe('2027-01-15')
})
