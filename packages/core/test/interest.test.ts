import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { fractionOf, interestToCharge, interestUpTo, readFraction, settlementStatement, showFraction } from '../src/billing'
import { addDays, daysBetween, type Day } from '../src/calendar'
import { sum } from '../src/money'

const day = (text: string) => text as Day
const twelve = { basisPoints: 1200, graceDays: 0 }

describe('interest on overdue bills', () => {
  it('is $34.39 on $6,154.00 at 12 % for 17 days', () => {
    const whole = [{ from: day('2026-10-01'), open: 615_400 }]
    expect(interestUpTo(day('2026-10-31'), twelve, whole, day('2026-11-17'))).toBe(3439)
    // Ten days of grace: seven days are left, 6,154.00 × 0.12 × 7 ÷ 365 = 14.1626….
    expect(interestUpTo(day('2026-10-31'), { ...twelve, graceDays: 10 }, whole, day('2026-11-17'))).toBe(1416)
    expect(interestUpTo(day('2026-10-31'), { ...twelve, graceDays: 17 }, whole, day('2026-11-17'))).toBe(0)
    expect(interestUpTo(day('2026-10-31'), twelve, whole, day('2026-10-31'))).toBe(0)
  })
  it('runs on the principal of before on the day of a payment, and is rounded once', () => {
    // $1,000.00 up to and with day 10, $400.00 for 20 days more: (1,000 × 10 + 400 × 20) × 0.12 ÷ 365 = 5.9178….
    const changes = [
      { from: day('2026-09-15'), open: 100_000 },
      { from: day('2026-10-11'), open: 40_000 },
    ]
    expect(interestUpTo(day('2026-10-01'), twelve, changes, day('2026-10-31'))).toBe(592)
    expect(interestUpTo(day('2026-10-01'), twelve, changes, day('2026-10-11'))).toBe(329)
    // Paid before the due day: only what stayed open counts.
    expect(interestUpTo(day('2026-10-01'), twelve, [changes[0]!, { from: day('2026-09-20'), open: 40_000 }], day('2026-10-31'))).toBe(395)
  })
  it('charges what came on top, so that the charges add up to what has accrued however often it is charged', () => {
    const principal = fc.array(fc.tuple(fc.nat(200), fc.nat(1_000_000)), { minLength: 1, maxLength: 6 })
    const stops = fc.uniqueArray(fc.integer({ min: 1, max: 300 }), { minLength: 1, maxLength: 8 })
    fc.assert(
      fc.property(principal, stops, fc.integer({ min: 1, max: 3000 }), fc.nat(40), (list, days, basisPoints, graceDays) => {
        const issued = day('2025-01-15')
        const due = addDays(issued, 30)
        const changes = [...list].sort((a, b) => a[0] - b[0]).map(([n, open]) => ({ from: addDays(issued, n), open }))
        const terms = { basisPoints, graceDays }
        let charged = 0
        for (const n of [...days].sort((a, b) => a - b))
          charged += interestToCharge(interestUpTo(due, terms, changes, addDays(issued, n)), charged)
        const last = addDays(issued, Math.max(...days))
        expect(charged).toBe(interestUpTo(due, terms, changes, last))
        // Day by day, by the principal that stood at the end of the day before.
        let byDay = 0n
        for (let d = addDays(due, graceDays); d < last; d = addDays(d, 1)) {
          const open = changes.filter((c, i) => i === 0 || c.from <= d).at(-1)!.open
          byDay += BigInt(open)
        }
        const exact = Number(byDay * BigInt(basisPoints)) / 3_650_000
        expect(Math.abs(charged - exact)).toBeLessThanOrEqual(0.5 + 1e-6)
      }),
    )
    expect(daysBetween(day('2026-10-31'), day('2026-11-17'))).toBe(17)
  })
})

describe('contingency fees', () => {
  it('takes thirds as thirds: $33,333.33 of the whole, $31,333.33 after costs', () => {
    const base = { gross: 10_000_000, costs: 600_000, fee: readFraction('1/3')!, liens: [] }
    expect(settlementStatement({ ...base, feeOf: 'gross' })).toMatchObject({ fee: 3_333_333, toClient: 6_066_667 })
    expect(settlementStatement({ ...base, feeOf: 'net of costs' })).toMatchObject({ fee: 3_133_333, toClient: 6_266_667 })
  })
  it.each([
    ['1/3', [1, 3], '33⅓ %'],
    ['33 1/3 %', [1, 3], '33⅓ %'],
    ['33⅓%', [1, 3], '33⅓ %'],
    ['66⅔ %', [2, 3], '66⅔ %'],
    ['40%', [2, 5], '40 %'],
    ['37.5 %', [3, 8], '37.5 %'],
    ['0.4', [2, 5], '40 %'],
    ['100 %', [1, 1], '100 %'],
    ['1/7', [1, 7], '1/7'],
  ])('reads %s', (text, [numerator, denominator], shown) => {
    const f = readFraction(text)!
    expect(f).toEqual({ numerator, denominator })
    expect(showFraction(f)).toBe(shown)
  })
  it.each(['', '0', '0 %', '101 %', '1/0', '2', 'third', '-1/3', '1/3/3', '%'])('refuses %s', (text) =>
    expect(readFraction(text)).toBeNull(),
  )
  it('adds up to what was recovered, or says that it cannot', () => {
    const amount = fc.nat(5_000_000)
    fc.assert(
      fc.property(
        amount,
        amount,
        fc.array(amount, { maxLength: 4 }),
        fc.integer({ min: 1, max: 9 }),
        fc.boolean(),
        (gross, costs, liens, part, net) => {
          const s = { gross, costs, liens: liens.map((a) => ({ name: 'Lien', amount: a })), fee: { numerator: part, denominator: 10 }, feeOf: net ? ('net of costs' as const) : ('gross' as const) } // prettier-ignore
          const fee = costs <= gross ? fractionOf(net ? gross - costs : gross, s.fee) : 0
          if (costs > gross || fee + costs + sum(liens) > gross) expect(() => settlementStatement(s)).toThrow(RangeError)
          else expect(sum(settlementStatement(s).lines.map((l) => l.amount))).toBe(gross)
        },
      ),
    )
  })
})
