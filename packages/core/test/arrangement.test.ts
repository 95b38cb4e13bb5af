import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { arrangementFault, arrangements, chargeUnder, coversTime, effectOf, processingFee, settlementStatement, toReplenish, type Charge } from '../src/billing' // prettier-ignore

const portion = { label: 'All', amount: 1, due: 'opening' as const }
describe('an arrangement', () => {
  it('says what it lacks, at its field', () => {
    expect(arrangementFault('hourly', [], null)).toBeNull()
    expect(arrangementFault('flat', [], null)?.path).toEqual(['flatFee'])
    expect(arrangementFault('flat', [], null, true)).toBeNull()
    expect(arrangementFault('flat', [portion], null)).toBeNull()
    expect(arrangementFault('contingency', [], null)?.path).toEqual(['contingent'])
    expect(arrangementFault('mixed', [], null)?.path).toEqual(['flatFee'])
    expect(arrangementFault('mixed', [], { stages: [{ share: '1/3' }] })).toBeNull()
    for (const share of ['', '0', '101 %', '3/0', 'a third'])
      expect(arrangementFault('contingency', [], { stages: [{ share: '1/3' }, { share }] })?.path).toEqual([
        'contingent',
        'stages',
        1,
        'share',
      ])
  })
  it('puts time on no bill where it is done at no charge or for a grant', () => {
    expect(arrangements.filter((a) => chargeUnder(a, 'billable') === 'non-billable')).toEqual(['no charge', 'grant'])
    expect(chargeUnder('hourly', 'no charge')).toBe('no charge')
  })
  const entry = fc.record({
    amount: fc.integer({ min: 0, max: 1_000_000 }),
    charge: fc.constantFrom<Charge>('billable', 'no charge', 'non-billable'),
    covered: fc.boolean(),
  })
  it('that becomes another touches each billable entry in one way at most, and going there twice changes nothing more', () => {
    fc.assert(
      fc.property(fc.constantFrom(...arrangements), fc.array(entry, { maxLength: 30 }), (to, entries) => {
        const { nowCovered, nowCharged, stays } = effectOf(to, entries)
        expect(nowCovered.entries + nowCharged.entries + stays.entries).toBeLessThanOrEqual(
          entries.filter((e) => e.charge === 'billable').length,
        )
        const again = effectOf(to, entries.map((e) => ({ ...e, covered: coversTime(to) }))) // prettier-ignore
        expect([again.nowCovered.entries, again.nowCharged.entries]).toEqual([0, 0])
      }),
    )
  })
  it('asks for what fills a retainer again only below its floor', () => {
    expect([toReplenish(50_000, 50_000, 200_000), toReplenish(49_999, 50_000, 200_000), toReplenish(0, 50_000, 10)]).toEqual([
      0, 150_001, 50_000,
    ])
  })
})
describe('money that is shared or kept', () => {
  it('a settlement adds up to what was recovered, or is refused', () => {
    const cents = fc.integer({ min: 0, max: 50_000_000 })
    fc.assert(
      fc.property(
        cents,
        cents,
        cents,
        cents,
        fc.array(cents, { maxLength: 4 }),
        fc.boolean(),
        (gross, costs, owed, tax, liens, ofGross) => {
          const fee = { numerator: 1, denominator: 3 }
          try {
            const s = settlementStatement({ gross, costs, owed, tax, feeOf: ofGross ? 'gross' : 'net of costs', fee, liens: liens.map((amount, i) => ({ name: `${i}`, amount })) }) // prettier-ignore
            expect(s.lines.reduce((sum, l) => sum + l.amount, 0)).toBe(gross)
            expect(s.toClient).toBeGreaterThanOrEqual(0)
          } catch (error) {
            expect(error).toBeInstanceOf(RangeError)
          }
        },
      ),
    )
  })
  it('a processor keeps its share half up, and never more than the charge', () => {
    expect([processingFee(615_400, 290, 30), processingFee(10, 290, 30), processingFee(50, 100, 0)]).toEqual([17_877, 10, 1])
  })
})
