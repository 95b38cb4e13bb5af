import fc from 'fast-check'
import { Temporal } from 'temporal-polyfill'
import { describe, expect, it } from 'vitest'
import {
  addCourtDays,
  addDays,
  addMonths,
  addUp,
  countPeriod,
  courtDaysUntil,
  daysBetween,
  easter,
  isDay,
  putOff,
  readDaySum,
  rollDay,
  showDay,
  weekday,
  type Day,
} from '../src/calendar'
import { calendarFor, shippedHolidaySets, shippedRuleSets } from '../src/docket'
import type { Cents } from '../src/money'
import { showHours } from '../src/time'

const federal = calendarFor(shippedRuleSets[0]!, shippedHolidaySets, 'wexmoor')
const superior = calendarFor(shippedRuleSets[1]!, shippedHolidaySets, null)
const anyDay = fc.integer({ min: 0, max: 5000 }).map((n): Day => addDays('2024-01-01', n))
const direction = fc.constantFrom('after' as const, 'before' as const)
const calendar = fc.constantFrom(federal, superior)

describe('dates', () => {
  it('are no plain text, and money no minutes, for the compiler', () => {
    const [typed, cents]: [string, Cents] = ['2026-11-25', 1_00]
    // @ts-expect-error text is judged first
    expect(weekday(typed)).toBe(3)
    // @ts-expect-error an amount of money is no time
    expect(showHours(cents)).toBe('1.67')
    expect(isDay(typed) && weekday(typed)).toBe(3)
  })
  it('add up and fall on weekdays as Temporal has it, from 1900 to 2200', () => {
    const far = fc.integer({ min: 0, max: 109_000 })
    fc.assert(
      fc.property(far, fc.integer({ min: -4000, max: 4000 }), (at, n) => {
        const day = Temporal.PlainDate.from('1901-01-01').add({ days: at })
        expect(addDays(day.toString() as Day, n)).toBe(day.add({ days: n }).toString())
        expect(weekday(day.toString() as Day)).toBe(day.dayOfWeek)
        expect(daysBetween(day.toString() as Day, day.add({ days: n }).toString() as Day)).toBe(n)
      }),
    )
  })
  it('keeps the last day of a month that lacks the day', () => {
    expect(addMonths('2027-10-31', 4)).toBe('2028-02-29')
    expect(addMonths('2028-03-31', -1)).toBe('2028-02-29')
  })
  it('knows Easter (dates from the U.S. Naval Observatory)', () => {
    expect([2024, 2025, 2026, 2027, 2028].map(easter)).toEqual(['2024-03-31', '2025-04-20', '2026-04-05', '2027-03-28', '2028-04-16'])
  })
  it('accepts only existing dates', () => {
    expect(['2027-02-30', '2027-2-3', '2028-02-29', 'today'].map(isDay)).toEqual([false, false, true, false])
  })
  it('shows the year only when it is not this one', () => {
    expect(showDay('2026-11-25', '2026-11-23')).toBe('Wed 25 Nov')
    expect(showDay('2027-01-04', '2026-11-23')).toBe('Mon 4 Jan 2027')
  })
})

describe('closed days', () => {
  it('observes a holiday on Saturday the day before, even in the year before', () => {
    expect(federal.closedWhy('2027-12-31', 'before')).toBe("New Year's Day")
  })
  it('has no Juneteenth before 2021', () => {
    expect(federal.closedWhy('2020-06-19', 'after')).toBeNull()
    expect(federal.closedWhy('2023-06-19', 'after')).toContain('Juneteenth')
  })
  it('counts a state holiday forward only in federal court', () => {
    expect(federal.closedWhy('2027-03-26', 'after')).toBe('Good Friday')
    expect(federal.closedWhy('2027-03-26', 'before')).toBeNull()
    expect(addCourtDays(federal, '2027-03-30', -6)).toBe('2027-03-22')
  })
  it('extends only filing, forward, when the clerk cannot be reached', () => {
    const down = calendarFor(shippedRuleSets[0]!, shippedHolidaySets, null, [
      { name: 'Clerk’s system down', date: '2026-11-25', filingOnly: true },
    ])
    expect(down.closedWhy('2026-11-25', 'after')).toBeNull()
    expect(down.unreachableWhy('2026-11-25')).toBe('Clerk’s system down')
    // Thanksgiving follows, and the Friday after is no federal holiday.
    expect(putOff('2026-11-25', down)).toEqual({ date: '2026-11-27', why: 'Clerk’s system down' })
  })
})

describe('what always holds of counting', () => {
  it('never rolls onto a closed day, and never against the way of the roll', () => {
    fc.assert(
      fc.property(anyDay, direction, calendar, (day, way, cal) => {
        const { date } = rollDay(day, 'default', way, cal)
        expect(cal.closedWhy(date, way)).toBeNull()
        expect(way === 'after' ? date >= day : date <= day).toBe(true)
      }),
    )
  })
  it('counts court days there and back to the same open day', () => {
    fc.assert(
      fc.property(anyDay, fc.integer({ min: 0, max: 60 }), (day, n) => {
        // The superior court's closures count both ways, so the two directions must agree.
        const start = rollDay(day, 'forward', 'after', superior).date
        expect(addCourtDays(superior, addCourtDays(superior, start, n), -n)).toBe(start)
        expect(courtDaysUntil(superior, start, addCourtDays(superior, start, n))).toBe(n)
      }),
    )
  })
  it('is monotone: a later trigger never gives an earlier date', () => {
    const unit = fc.constantFrom('day' as const, 'courtDay' as const, 'clearDay' as const, 'week' as const, 'month' as const)
    fc.assert(
      fc.property(anyDay, fc.nat(20), fc.nat(90), unit, direction, calendar, (day, gap, count, u, way, cal) => {
        const at = (d: Day) =>
          countPeriod(d, 'x', { count, unit: u, direction: way, roll: 'default' }, { calendar: cal, shortPeriodUnder: 7 }).date
        expect(at(day) <= at(addDays(day, gap))).toBe(true)
      }),
    )
  })
  it('leaves a trace that ends on the date, and clear days leave the whole number between', () => {
    fc.assert(
      fc.property(anyDay, fc.integer({ min: 1, max: 60 }), calendar, (day, count, cal) => {
        const rules = { calendar: cal, shortPeriodUnder: null }
        const c = countPeriod(day, 'x', { count, unit: 'clearDay', direction: 'after', roll: 'none' }, rules)
        expect(daysBetween(day, c.date) - 1).toBe(count)
        expect(c.trace.at(-1)?.date).toBe(c.date)
      }),
    )
  })
})

describe('dates as sums', () => {
  const today = '2026-11-23'
  const court = calendarFor(
    shippedRuleSets.find((s) => s.key === 'us-federal-civil')!,
    shippedHolidaySets,
    'wexmoor',
  )
  it.each([
    ['+90', '2027-02-21', '90 calendar days after Mon 23 Nov 2026'],
    ['30 Mar 2027 - 6 court days', '2027-03-22', '6 court days before Tue 30 Mar 2027'],
    ['−10 cd', '2026-11-06', '10 court days before Mon 23 Nov 2026'],
    ['31 jan 2027 + 1 month', '2027-02-28', '1 month after Sun 31 Jan 2027'],
    ['today + 2 weeks', '2026-12-07', '2 weeks after Mon 23 Nov 2026'],
    ['+1 y', '2027-11-23', '1 year after Mon 23 Nov 2026'],
  ])('%s', (text, day, words) => expect(addUp(readDaySum(text, today)!, court)).toEqual({ day, text: words }))
  it.each(['2026-11-25', '25 Nov', 'soon', '+5 lawyers', 'nonsense + 3'])('%s is no sum', (text) =>
    expect(readDaySum(text, today)).toBeNull(),
  )
})
