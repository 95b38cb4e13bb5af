import { addDays, weekday, type Day } from '@heron/core/calendar'
import { addFlow, cutByMonths, goalOn, lastDue, losses, monthlyGoal, monthOf, noFlow, readQuestion, realization, shareOf, stopped, unexplained, usualMinutes, weeklyGoal, weekOf, weeksBack, questionForms } from '@heron/core/oversight' // prettier-ignore
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'

const anyDay = fc.integer({ min: 0, max: 40_000 }).map((n) => addDays('1980-01-01', n))
const weekdaysOnly = (from: Day, to: Day) => {
  let n = 0
  for (let d = from; d <= to; d = addDays(d, 1)) if (weekday(d) <= 5) n += 1
  return n
}

describe('a long span', () => {
  it('is cut at months, into pieces that follow one another and hold all of it', () => {
    expect(cutByMonths({ from: '2025-11-15', to: '2026-03-02' }, 3)).toEqual([{ from: '2025-11-15', to: '2026-01-31' }, { from: '2026-02-01', to: '2026-03-02' }]) // prettier-ignore
    expect(cutByMonths({ from: '2026-03-02', to: '2026-03-01' }, 3)).toEqual([])
    expect(() => cutByMonths({ from: '2026-03-02', to: '2026-03-02' }, 0)).toThrow(RangeError)
    fc.assert(
      fc.property(anyDay, fc.integer({ min: 0, max: 4000 }), fc.integer({ min: 1, max: 24 }), (from, days, months) => {
        const to = addDays(from, days)
        const cut = cutByMonths({ from, to }, months)
        expect([cut[0]!.from, cut.at(-1)!.to]).toEqual([from, to])
        cut.forEach((c, i) => {
          expect(c.from <= c.to).toBe(true)
          if (i) expect([c.from, c.from.slice(8)]).toEqual([addDays(cut[i - 1]!.to, 1), '01'])
        })
      }),
    )
  })
})

describe('weeks of the firm', () => {
  it('end on the day that is set, hold every day once, and follow one another', () => {
    expect(weekOf('2026-11-23', 5)).toEqual({ from: '2026-11-21', to: '2026-11-27' })
    expect(weekOf('2026-11-27', 5)).toEqual({ from: '2026-11-21', to: '2026-11-27' })
    expect(weekOf('2026-11-28', 5)).toEqual({ from: '2026-11-28', to: '2026-12-04' })
    expect(weeksBack('2026-01-01', 7, 2)).toEqual([{ from: '2025-12-29', to: '2026-01-04' }, { from: '2025-12-22', to: '2025-12-28' }]) // prettier-ignore
    expect(() => weekOf('2026-11-23', 8)).toThrow(RangeError)
    fc.assert(
      fc.property(anyDay, fc.integer({ min: 1, max: 7 }), (day, ends) => {
        const w = weekOf(day, ends)
        expect(w.from <= day && day <= w.to && addDays(w.from, 6) === w.to && weekday(w.to) === ends).toBe(true)
        expect(weekOf(addDays(w.to, 1), ends).from).toBe(addDays(w.to, 1))
      }),
    )
  })

  it('take the goal in force on their last day, and what is not set from the other by working days', () => {
    const goals = [
      { from: '2026-01-01' as const, basis: 'billable' as const, weekly: 10_000_00, monthly: null },
      { from: '2026-11-01' as const, basis: 'collected' as const, weekly: null, monthly: 42_000_00 },
    ]
    expect([goalOn(goals, '2025-12-31'), goalOn(goals, '2026-10-31')?.weekly, goalOn(goals, '2026-11-01')?.monthly]).toEqual([null, 10_000_00, 42_000_00]) // prettier-ignore
    // What an hour costs, set alone from a day on, takes no goal away.
    expect(
      goalOn([...goals, { from: '2026-11-10' as const, basis: 'billable' as const, weekly: null, monthly: null }], '2026-11-23')?.monthly,
    ).toBe(42_000_00)
    // November 2026 has 21 weekdays: five of them are 10,000.00 of 42,000.00.
    expect(weeklyGoal(goals[1]!, weekOf('2026-11-23', 5), weekdaysOnly)).toBe(10_000_00)
    expect(monthlyGoal(goals[0]!, monthOf('2026-11-23'), weekdaysOnly)).toBe(42_000_00)
    expect([weeklyGoal(null, weekOf('2026-11-23', 5), weekdaysOnly), monthlyGoal(goals[1]!, monthOf('2026-11-01'), weekdaysOnly)]).toEqual([null, 42_000_00]) // prettier-ignore
    expect([shareOf(8_350_00, 10_000_00), shareOf(1, 3), shareOf(5, 0), shareOf(5, null), shareOf(-1, 8)]).toEqual([8350, 3333, null, null, -1250]) // prettier-ignore
  })

  it('say when something that recurs was due last, also where its day was missed', () => {
    expect([lastDue('week', 1, '2026-11-23'), lastDue('week', 1, '2026-11-29'), lastDue('week', 2, '2026-11-23')]).toEqual(['2026-11-23', '2026-11-23', '2026-11-17']) // prettier-ignore
    expect([lastDue('month', 31, '2026-03-01'), lastDue('month', 31, '2026-04-30'), lastDue('month', 1, '2026-01-01'), lastDue('month', 5, '2026-01-04')]).toEqual(['2026-02-28', '2026-04-30', '2026-01-01', '2025-12-05']) // prettier-ignore
  })

  it('show who has stopped recording, by their own usual', () => {
    expect(usualMinutes([0, 600, 1800, 0, 2000, 1900])).toBe(1850)
    expect(usualMinutes([600, 1800, 2000])).toBeNull()
    const usual = [1900, 1800, 2000, 1900, 1950]
    const of = (weeks: number[], more: object = {}) => stopped({ weeks, now: 300, daysOver: 1, days: 5, there: 5, ...more })
    expect(of([950, ...usual])).toBeNull()
    expect(of([949, ...usual])).toEqual({ usual: 1900, was: 949, of: 'last week' })
    // One who records four hours a week does not stand out with two and a half.
    expect(of([150, 240, 240, 250, 230])).toBeNull()
    // Away the whole week, or but two days there.
    expect(of([0, ...usual], { there: 0 })).toBeNull()
    expect(of([400, ...usual], { there: 2 })).toBeNull()
    expect(of([1900, ...usual], { now: 0, daysOver: 2 })).toEqual({ usual: 1900, was: 0, of: 'this week' })
    expect(of([1900, ...usual], { now: 6, daysOver: 4 })).toBeNull()
  })
})

describe('from work to money', () => {
  it('accounts for all that was worked and billed', () => {
    // 800.00 of time written down to 700.00 with 70.00 off; a fee of 1,600.00 for 2,000.00 of time; 300.00 at no charge; 600.00 waits.
    const f = addFlow(noFlow(), { worked: 3_700_00, noCharge: 300_00, waiting: 600_00, feeDifference: -400_00, writtenDown: 100_00, discount: 70_00, billed: 2_230_00, credited: 50_00, writtenOff: 80_00, open: 1_000_00, collected: 1_100_00 }) // prettier-ignore
    expect(unexplained(f)).toEqual({ billed: 0, collected: 0 })
    expect(realization(f)).toEqual({ billing: 7194, collection: 4933 })
    expect(losses(f)).toEqual({ before: 470_00, after: 130_00 })
    expect(unexplained(addFlow(f, { billed: 1 }))).toEqual({ billed: -1, collected: 1 })
    expect(realization(noFlow())).toEqual({ billing: null, collection: null })
  })
})

describe('a question by words', () => {
  const ask = (q: string) => readQuestion(q, '2026-11-23', 5)
  it('is understood in the documented forms', () => {
    expect(ask('hours noor last month')).toEqual({ is: 'hours', who: 'noor', from: '2026-10-01', to: '2026-10-31', span: 'last month' })
    expect(ask('Hours')).toEqual({ is: 'hours', who: '', from: '2026-11-01', to: '2026-11-23', span: 'this month' })
    expect(ask('billed noor haddad this year?')).toMatchObject({ is: 'billed', who: 'noor haddad', from: '2026-01-01', to: '2026-11-23' })
    expect(ask('collected last week')).toMatchObject({ who: '', from: '2026-11-14', to: '2026-11-20' })
    expect(ask('worked jun feb 2024')).toMatchObject({ who: 'jun', from: '2024-02-01', to: '2024-02-29' })
    expect([ask('worked december'), ask('worked november')]).toMatchObject([{ from: '2025-12-01' }, { from: '2026-11-01' }])
    expect(ask('hours may')).toMatchObject({ who: '', from: '2026-05-01' })
    expect(ask('worked 2025')).toMatchObject({ from: '2025-01-01', to: '2025-12-31' })
    expect(ask('hours noor since 2026-11-20')).toMatchObject({ who: 'noor', from: '2026-11-20', to: '2026-11-23' })
    expect(ask('owed gannet')).toEqual({ is: 'owed', who: 'gannet' })
    expect(ask('trust below 2000')).toEqual({ is: 'trust below', amount: 2000_00 })
    expect(ask('owed above $1,500.50')).toEqual({ is: 'owed above', amount: 1500_50 })
    for (const f of questionForms) expect(ask(f.example)).not.toBeNull()
  })
  it('is not guessed at', () => {
    for (const q of ['', 'owed', 'trust', 'trust below', 'trust below much', 'trust below -5', 'owed above 5 6', 'how much is owed', 'hour noor', 'constructor', 'x'.repeat(81)]) expect(ask(q)).toBeNull() // prettier-ignore
    fc.assert(fc.property(fc.string({ maxLength: 100 }), (q) => void ask(q)))
    fc.assert(
      fc.property(fc.constantFrom('hours', 'billed'), fc.array(fc.constantFrom('last', 'this', 'month', 'week', 'noor', '2025', 'may', 'since'), { maxLength: 6 }), (first, words) => {
        const q = readQuestion([first, ...words].join(' '), '2026-11-23', 5)
        expect(q && 'from' in q && q.from <= q.to).toBe(true)
      }), // prettier-ignore
    )
  })
})
