/**
 * Each feature of counting with an example worked by hand on a paper calendar, and where the rule comes from. Months meant:
 * November 2026 begins on a Sunday, December on a Tuesday; January 2027 on a Friday, February and March on a Monday.
 */
import { describe, expect, it } from 'vitest'
import { countPeriod, daysOfRule, type CountingRules, type Observed, type Period, type ServiceDays, type Day } from '../src/calendar'
import { calendarFor, shippedHolidaySets, shippedRuleSets, workOutDates, type Leg, type RuleDeadline, type RuleSet } from '../src/docket'

const setOf = (key: string) => shippedRuleSets.find((s) => s.key === key)!
type Closures = NonNullable<Parameters<typeof calendarFor>[3]>
const federal = (closures: Closures = [], district: string | null = null): CountingRules => ({
  calendar: calendarFor(setOf('us-federal-civil'), shippedHolidaySets, district, closures),
  shortPeriodUnder: null,
})
const superior: CountingRules = { calendar: calendarFor(setOf('wexmoor-superior'), shippedHolidaySets, null), shortPeriodUnder: 7 }
const period = (count: number, unit: Period['unit'], direction: Period['direction'] = 'after', roll: Period['roll'] = 'default') => ({
  count,
  unit,
  direction,
  roll,
})
const mail: ServiceDays = { title: 'Mail', count: 3, unit: 'day', added: 'after-roll' }
const dateOf = (base: Day, p: Period, rules: CountingRules, service: ServiceDays | null = null, filing = false) =>
  countPeriod(base, 'the event', p, rules, service, filing).date

describe('calendar days (Fed. R. Civ. P. 6(a)(1))', () => {
  it('leave out the day of the event and count every day after it, weekends and holidays too', () => {
    // 12 Nov is day 0; 26 Nov (Thanksgiving) is day 14 of 20; 2 Dec is day 20, a Wednesday.
    expect(dateOf('2026-11-12', period(20, 'day'), federal())).toBe('2026-12-02')
  })
  it('end on the next day that is no weekend or holiday (committee note of 2009 to Rule 6(a)(5))', () => {
    // The note's own example: 30 days end on Saturday 1 Sep 2007; Monday 3 Sep is Labor Day, so Tuesday 4 Sep.
    expect(dateOf('2007-08-02', period(30, 'day'), federal())).toBe('2007-09-04')
  })
  it('counted back end on the last such day before (the same note)', () => {
    // 21 days before Saturday 22 Sep 2007 is Saturday 1 Sep, so Friday 31 Aug.
    expect(dateOf('2007-09-22', period(21, 'day', 'before'), federal())).toBe('2007-08-31')
  })
})

describe('a clerk’s office that cannot be reached (Rule 6(a)(3))', () => {
  const down = federal([{ name: 'Outage', date: '2007-08-31', filingOnly: true }])
  it('puts filing off forward even where the period was counted back (committee note of 2009)', () => {
    // The note: were the office inaccessible on 31 Aug, the filing is due no earlier than Tuesday 4 Sep.
    expect(dateOf('2007-09-22', period(21, 'day', 'before'), down, null, true)).toBe('2007-09-04')
  })
  it('puts off nothing but filing', () => {
    expect(dateOf('2007-09-22', period(21, 'day', 'before'), down)).toBe('2007-08-31')
    expect(dateOf('2007-08-17', period(14, 'day'), down)).toBe('2007-08-31')
    expect(dateOf('2007-08-17', period(14, 'day'), down, null, true)).toBe('2007-09-04')
  })
})

describe('service (Rule 6(d), as amended in 2005 and 2016)', () => {
  it('adds three days after the period would otherwise end, then the result rolls again', () => {
    // 30 days from Wed 4 Nov: Fri 4 Dec, an open day; three more: Mon 7 Dec.
    expect(dateOf('2026-11-04', period(30, 'day'), federal(), mail)).toBe('2026-12-07')
    // 30 days from Fri 6 Nov: Sun 6 Dec rolls to Mon 7 Dec; three more: Thu 10 Dec, not Wed 9 Dec.
    expect(dateOf('2026-11-06', period(30, 'day'), federal(), mail)).toBe('2026-12-10')
    // 21 days from Tue 1 Dec: Tue 22 Dec; three more: Fri 25 Dec, Christmas, so Mon 28 Dec.
    expect(dateOf('2026-12-01', period(21, 'day'), federal(), mail)).toBe('2026-12-28')
  })
  it('is added before the last day moves where a court has it so, in the direction of the count (Wexmoor, invented)', () => {
    const post: ServiceDays = { title: 'Mail', count: 5, unit: 'day', added: 'before-roll' }
    // 20 days from Mon 2 Nov: Sun 22 Nov; five more: Fri 27 Nov, closed after Thanksgiving, so Mon 30 Nov.
    expect(dateOf('2026-11-02', period(20, 'day'), superior, post)).toBe('2026-11-30')
    // 16 days before Wed 17 Feb: Mon 1 Feb; five more: Wed 27 Jan.
    expect(dateOf('2027-02-17', period(16, 'day', 'before'), superior, post)).toBe('2027-01-27')
    const overnight: ServiceDays = { title: 'Overnight', count: 2, unit: 'courtDay', added: 'before-roll' }
    // 16 days before Mon 22 Feb: Sat 6 Feb; two court days more: Fri 5 and Thu 4 Feb.
    expect(dateOf('2027-02-22', period(16, 'day', 'before'), superior, overnight)).toBe('2027-02-04')
  })
})

describe('short periods and court days (Wexmoor, invented; Rule 6(a) had such a rule under eleven days until 2009)', () => {
  it('count court days under seven days, calendar days from seven on', () => {
    // Six from Fri 20 Nov: 23, 24, 25 Nov, then past Thanksgiving and the day after it 30 Nov, 1 and 2 Dec.
    expect(dateOf('2026-11-20', period(6, 'day'), superior)).toBe('2026-12-02')
    // Seven calendar days from Fri 20 Nov: Fri 27 Nov, closed, so Mon 30 Nov.
    expect(dateOf('2026-11-20', period(7, 'day'), superior)).toBe('2026-11-30')
  })
  it('pass over a recess at the turn of the year', () => {
    // From Wed 23 Dec: the recess holds 24 to 31 Dec, 1 Jan is a holiday; so Mon 4 and Tue 5 Jan.
    expect(dateOf('2026-12-23', period(2, 'courtDay'), superior)).toBe('2027-01-05')
  })
  it('count back over the same closed days', () => {
    // Before Tue 1 Dec: Mon 30 Nov, then past 27 and 26 Nov to Wed 25 and Tue 24 Nov.
    expect(dateOf('2026-12-01', period(3, 'courtDay', 'before'), superior)).toBe('2026-11-24')
  })
})

describe('other units', () => {
  it('clear days: neither end is counted (a term of English practice, CPR 2.8(3))', () => {
    // That rule's own example: notice of at least three days for a hearing on Friday 20 October is served by Monday 16 October.
    // The 20th of November 2026 is a Friday, too: 17, 18 and 19 lie clear between.
    expect(dateOf('2026-11-20', period(3, 'clearDay', 'before'), superior)).toBe('2026-11-16')
    expect(dateOf('2026-11-16', period(3, 'clearDay'), superior)).toBe('2026-11-20')
  })
  it('weeks: the same weekday', () => {
    expect(dateOf('2026-11-12', period(2, 'week'), federal())).toBe('2026-11-27')
    // That was Thanksgiving rolled on to a Friday open in federal court without a district; with Wexmoor’s holidays: Monday.
    expect(dateOf('2026-11-12', period(2, 'week'), federal([], 'wexmoor'))).toBe('2026-11-30')
  })
  it('months: the same day, or the month’s last day where there is none', () => {
    // 31 Dec + 2 months: 28 Feb 2027, a Sunday, so Mon 1 Mar. 30 Nov + 1 month: Wed 30 Dec.
    expect(dateOf('2026-12-31', period(2, 'month'), federal())).toBe('2027-03-01')
    expect(dateOf('2026-11-30', period(1, 'month'), federal())).toBe('2026-12-30')
    expect(dateOf('2027-03-31', period(1, 'month', 'before', 'none'), federal())).toBe('2027-02-28')
  })
  it('years: 29 February becomes the 28th (as of a year after entry, Rule 60(c)(1))', () => {
    // 28 Feb 2029 is a Wednesday.
    expect(dateOf('2028-02-29', period(1, 'year'), federal())).toBe('2029-02-28')
  })
})

describe('rolling other than by default', () => {
  it('forward though counted back, back though counted forward, or never', () => {
    // 10 days before Tue 8 Dec is Sat 28 Nov; 10 days after Wed 18 Nov is Sat 28 Nov.
    expect(dateOf('2026-12-08', period(10, 'day', 'before', 'forward'), federal())).toBe('2026-11-30')
    expect(dateOf('2026-11-18', period(10, 'day', 'after', 'back'), federal())).toBe('2026-11-27')
    expect(dateOf('2026-11-18', period(10, 'day', 'after', 'none'), federal())).toBe('2026-11-28')
  })
})

describe('holidays', () => {
  it('are observed on Friday when on Saturday, on Monday when on Sunday (5 U.S.C. § 6103; Executive Order 11582)', () => {
    // 4 Jul 2026 is a Saturday: Fri 3 Jul is closed. 4 Jul 2027 is a Sunday: Mon 5 Jul is.
    expect(dateOf('2026-06-19', period(14, 'day'), federal())).toBe('2026-07-06')
    expect(dateOf('2027-06-21', period(14, 'day'), federal())).toBe('2027-07-06')
  })
  it('on a weekend close what a court says: the Monday after a Sunday alone, or after a Saturday, too', () => {
    // 25 Dec 2027 is a Saturday, 25 Dec 2022 and 2033 are Sundays.
    const christmas = (observed: Observed, year: number) =>
      daysOfRule({ kind: 'fixed', name: 'Christmas Day', month: 12, day: 25, observed }, year)
    expect(christmas('sunday-to-monday', 2027)).toEqual(['2027-12-25'])
    expect(christmas('sunday-to-monday', 2022)).toEqual(['2022-12-25', '2022-12-26'])
    expect(christmas('weekend-to-monday', 2027)).toEqual(['2027-12-25', '2027-12-27'])
    expect(christmas('weekend-to-monday', 2033)).toEqual(['2033-12-25', '2033-12-26'])
    expect(christmas('nearest-weekday', 2027)).toEqual(['2027-12-25', '2027-12-24'])
  })
  it('of the state count forward only in federal court (Rule 6(a)(6)(C))', () => {
    // Good Friday is 26 Mar 2027. 14 days after 12 Mar end on it and roll to Mon 29 Mar; 14 days before 9 Apr end on it, too,
    // and stay.
    expect(dateOf('2027-03-12', period(14, 'day'), federal([], 'wexmoor'))).toBe('2027-03-29')
    expect(dateOf('2027-04-09', period(14, 'day', 'before'), federal([], 'wexmoor'))).toBe('2027-03-26')
  })
  it('declared by the President close the court both ways (Rule 6(a)(6)(B))', () => {
    const mourning = federal([{ name: 'National day of mourning', date: '2025-01-09', filingOnly: false }])
    // Thu 9 Jan 2025: 14 days after 26 Dec 2024 roll to Fri 10 Jan; 14 days before 23 Jan roll back to Wed 8 Jan.
    expect(dateOf('2024-12-26', period(14, 'day'), mourning)).toBe('2025-01-10')
    expect(dateOf('2025-01-23', period(14, 'day', 'before'), mourning)).toBe('2025-01-08')
  })
})

describe('deadlines of several legs, of chains and of spans', () => {
  const leg = (count: number, more: Partial<Leg> = {}): Leg => ({
    base: { kind: 'trigger' },
    count,
    unit: 'day',
    direction: 'after',
    roll: 'default',
    ...more,
  })
  const row = (key: string, more: Partial<RuleDeadline>): RuleDeadline => ({
    key,
    trigger: 'filed',
    title: key,
    text: key,
    authority: { cite: 'R. 1' },
    weight: 'rule',
    legs: [leg(10)],
    serviceExtends: false,
    ...more,
  })
  const own = (deadlines: RuleDeadline[]): RuleSet => ({
    ...setOf('us-federal-civil'),
    triggers: [
      { key: 'filed', title: 'Filed', order: 1, asksService: false },
      { key: 'heard', title: 'Heard', order: 2, asksService: false },
    ],
    deadlines,
  })
  const given = (deadlines: RuleDeadline[], date: Day, events: Record<string, Day> = {}) =>
    Object.fromEntries(
      workOutDates({
        ruleSet: own(deadlines),
        holidaySets: shippedHolidaySets,
        trigger: 'filed',
        date,
        service: null,
        events,
        facts: [],
      }).map((p) => [p.key, p.date]),
    )

  it('take the earlier or the later, and skip a leg whose event is unknown', () => {
    const legs = [leg(30), leg(7, { base: { kind: 'event', key: 'heard' }, direction: 'before' })]
    const rows = [row('earlier', { legs, combine: 'earliest' }), row('later', { legs, combine: 'latest' })]
    // 30 days after Mon 2 Nov: Wed 2 Dec. 7 days before a hearing on Fri 20 Nov: Fri 13 Nov.
    expect(given(rows, '2026-11-02', { heard: '2026-11-20' })).toEqual({ earlier: '2026-11-13', later: '2026-12-02' })
    expect(given(rows, '2026-11-02')).toEqual({ earlier: '2026-12-02', later: '2026-12-02' })
  })
  it('chain from the final day of another, or from that day before it was moved', () => {
    const rows = [
      row('first', {}),
      row('from-final', { legs: [leg(4, { base: { kind: 'deadline', key: 'first', moment: 'final' } })] }),
      row('from-unmoved', { legs: [leg(4, { base: { kind: 'deadline', key: 'first', moment: 'before-roll' } })] }),
    ]
    // 10 days after Wed 4 Nov: Sat 14 Nov, moved to Mon 16 Nov. Four more: Fri 20 Nov, or from the Saturday Wed 18 Nov.
    expect(given(rows, '2026-11-04')).toEqual({ first: '2026-11-16', 'from-final': '2026-11-20', 'from-unmoved': '2026-11-18' })
  })
  it('are those in force on the day of the event', () => {
    const rows = [
      row('reply', { legs: [leg(10)], inForce: { to: '2026-11-30' } }),
      row('reply', { legs: [leg(14)], inForce: { from: '2026-12-01' } }),
    ]
    // Mon 30 Nov + 10: Thu 10 Dec. Tue 1 Dec + 14: Tue 15 Dec.
    expect(given(rows, '2026-11-30')).toEqual({ reply: '2026-12-10' })
    expect(given(rows, '2026-12-01')).toEqual({ reply: '2026-12-15' })
  })
})
