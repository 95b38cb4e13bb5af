import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { moneyInWords, proportion, readMoney, share, shareOverRemaining, showMoney, sum } from '../src/money'
import { amountFor, readDuration, resolveRate, roundMinutes, showHours } from '../src/time'

describe('sharing to the cent', () => {
  it('gives the odd cents to the largest remainders, ties to the earlier line', () => {
    expect(share(100, [1, 1, 1])).toEqual([34, 33, 33])
    expect(share(-100, [1, 1, 1])).toEqual([-34, -33, -33])
  })
  it('always adds up and stays within one cent of the exact share', () => {
    const weights = fc.array(fc.nat(1_000_000), { minLength: 1, maxLength: 40 })
    fc.assert(
      fc.property(fc.integer({ min: -1e12, max: 1e12 }), weights, (amount, ws) => {
        expect(sum(share(amount, ws))).toBe(amount)
      }),
    )
  })
  it('pays three lines of $1.00 exactly with three payments of $1.00', () => {
    let open = [100, 100, 100]
    for (let i = 0; i < 3; i++) {
      const parts = shareOverRemaining(100, open)
      open = open.map((o, n) => o - parts[n]!)
      expect(Math.min(...open)).toBeGreaterThanOrEqual(0)
    }
    expect(open).toEqual([0, 0, 0])
    expect(() => shareOverRemaining(1, open)).toThrow(RangeError)
  })
})

describe('money', () => {
  it('rounds half away from zero', () => {
    expect([proportion(5, 1, 2), proportion(-5, 1, 2), proportion(1_000_00, 825, 10_000)]).toEqual([3, -3, 8250])
  })
  it('reads and shows', () => {
    expect(['1,311.00', '$88', '-0.5', '12,34.00', '1.234', ''].map(readMoney)).toEqual([131100, 8800, -50, null, null, null])
    expect(showMoney(-8800)).toBe('−$88.00')
    expect(moneyInWords(1_234_056)).toBe('Twelve thousand three hundred forty and 56/100')
  })
})

describe('time', () => {
  it('38 minutes at $285.00 in 6-minute units is 0.7 h and $199.50', () => {
    const minutes = roundMinutes([38], 6)
    expect([minutes, showHours(minutes), amountFor(minutes, 28500)]).toEqual([42, '0.7', 19950])
  })
  it('sums the pieces first, rounds once, never below one unit', () => {
    expect(roundMinutes([4, 4, 4], 6)).toBe(12)
    expect(roundMinutes([1], 6, 'nearest')).toBe(6)
    expect(roundMinutes([8], 6, 'nearest')).toBe(6)
    expect(roundMinutes([9], 6, 'nearest')).toBe(12)
  })
  it('reads the notations people type', () => {
    // Half a minute is a whole one, exactly: 1.025 h is 61.5 minutes.
    expect([readDuration('1.025'), readDuration('1.025h'), readDuration('0.0083'), readDuration('9'.repeat(41))]).toEqual([
      62,
      62,
      null,
      null,
    ])
    expect(['1.5', '1:30', '90m', '1h 30m', '.7', '38m', '25:00', '0', 'soon'].map(readDuration)).toEqual([
      90,
      90,
      90,
      90,
      42,
      38,
      null,
      null,
      null,
    ])
  })
  it('takes the first rate that exists and says which', () => {
    const timekeeper = [
      { from: '2024-01-01' as const, to: '2025-12-31' as const, rate: 26500, usual: true },
      { from: '2026-01-01' as const, to: null, rate: 28500, usual: true },
      { from: '2026-01-01' as const, to: null, rate: 19000, usual: false },
    ]
    expect(resolveRate({ timekeeper }, '2025-06-01')).toEqual({ rate: 26500, origin: 'timekeeper' })
    expect(resolveRate({ timekeeper }, '2026-06-01')).toEqual({ rate: 28500, origin: 'timekeeper' })
    expect(resolveRate({ timekeeper, client: 25000, role: 1 }, '2026-06-01')).toEqual({ rate: 25000, origin: 'client' })
    expect(resolveRate({ timekeeper: [] }, '2026-06-01')).toBeNull()
  })
})
