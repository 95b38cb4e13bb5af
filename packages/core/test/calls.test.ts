import type { Day } from '../src/calendar'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { askAgain, asksStill, callState, dueAgain, remindsToday, type CallFacts } from '../src/billing'

const call: CallFacts = { amount: 5_000_00, paid: 0, dueOn: '2026-11-30', sentOn: '2026-11-10', seenOn: null, withdrawnOn: null }
describe('a call on account', () => {
  it('stands by what was sent, seen, paid and due', () => {
    const on = (more: Partial<CallFacts>, today: Day = '2026-11-20') => callState({ ...call, ...more }, today)
    expect(on({ sentOn: null })).toBe('draft')
    expect(on({})).toBe('sent')
    expect(on({ seenOn: '2026-11-11' })).toBe('seen')
    expect(on({ paid: 1 })).toBe('part paid')
    expect(on({ paid: 5_000_00, withdrawnOn: '2026-11-12' })).toBe('paid')
    expect(on({ withdrawnOn: '2026-11-12', paid: 1 })).toBe('withdrawn')
    // Due today is not late.
    expect(on({ paid: 1 }, '2026-11-30')).toBe('part paid')
    expect(on({ paid: 1 }, '2026-12-01')).toBe('late')
    expect(on({ dueOn: null }, '2029-01-01')).toBe('sent')
  })
  it('reminds every so many days while money is asked for, and never of a draft', () => {
    const due = (remindedOn: Day | null, today: Day, more: Partial<CallFacts> = {}) =>
      remindsToday({ ...call, ...more, everyDays: 7, remindedOn }, today)
    expect(due(null, '2026-11-16')).toBe(false)
    expect(due(null, '2026-11-17')).toBe(true)
    expect(due('2026-11-17', '2026-11-23')).toBe(false)
    expect(due('2026-11-17', '2026-11-24')).toBe(true)
    expect(due(null, '2026-12-24', { paid: 5_000_00 })).toBe(false)
    expect(due(null, '2026-12-24', { sentOn: null })).toBe(false)
  })
  it('asks again for what fills the ledger up, and only below the minimum', () => {
    expect(askAgain(1_000_00, 1_000_00, 5_000_00)).toBe(0)
    expect(askAgain(999_99, 1_000_00, 5_000_00)).toBe(4_000_01)
    expect(askAgain(-50_00, 0, 5_000_00)).toBe(5_050_00)
    expect(dueAgain({ sentOn: '2026-11-10', dueOn: '2026-11-30' }, '2027-01-05')).toBe('2027-01-25')
    const cents = fc.integer({ min: 0, max: 10_000_00 })
    fc.assert(
      fc.property(cents, cents, cents, (available, minimum, amount) => {
        const asked = askAgain(available, minimum, amount)
        if (available >= minimum) expect(asked).toBe(0)
        else expect(asked === 0 ? available >= amount : available + asked).toBe(asked === 0 ? true : amount)
      }),
    )
    expect(asksStill('late')).toBe(true)
  })
})
