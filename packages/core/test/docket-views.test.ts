import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  addDays,
  faultOfRecurrence,
  freeHours,
  hoursToShow,
  recurrences,
  showRecurrence,
  spanOf,
  writeRecurrence,
  type Attending,
  type Day,
} from '../src/calendar'
import { isOverdue, layLine, nextOfSeries, quantile, spellsOf, spreadOf, type LinePoint, type Trigger } from '../src/docket'

describe('recurring dates (RFC 5545)', () => {
  const plain = { interval: 1, on: [], monthEnd: false, until: null, count: null }
  it.each([
    // Worked by hand from RFC 5545, 3.3.10 and a calendar of 2026 and 2027.
    ['FREQ=WEEKLY;BYDAY=MO,TH', '2026-11-23', ['2026-11-23', '2026-11-26', '2026-11-30', '2026-12-03']],
    ['FREQ=WEEKLY;INTERVAL=2', '2026-11-23', ['2026-11-23', '2026-12-07', '2026-12-21', '2027-01-04']],
    ['FREQ=MONTHLY;BYMONTHDAY=-1', '2026-11-30', ['2026-11-30', '2026-12-31', '2027-01-31', '2027-02-28']],
    // Months without a 31st are skipped, not shortened.
    ['FREQ=MONTHLY', '2026-12-31', ['2026-12-31', '2027-01-31', '2027-03-31', '2027-05-31']],
    ['FREQ=YEARLY', '2028-02-29', ['2028-02-29', '2032-02-29', '2036-02-29', '2040-02-29']],
    ['FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=-1', '2028-02-29', ['2028-02-29', '2029-02-28', '2030-02-28', '2031-02-28']],
    ['FREQ=YEARLY;INTERVAL=10', '2026-11-23', ['2026-11-23', '2036-11-23', '2046-11-23', '2056-11-23']],
  ])('%s from %s', (rule, first, days) => {
    expect(recurrences(rule, first as Day, '2099-12-31', 4)).toEqual(days)
  })
  it('end after a number of times, or on a last day', () => {
    expect(recurrences('FREQ=DAILY;COUNT=3', '2026-11-23', '2027-12-31')).toHaveLength(3)
    expect(recurrences('FREQ=DAILY;UNTIL=20261125', '2026-11-23', '2027-12-31').at(-1)).toBe('2026-11-25')
  })
  it('are written by the standard and put into words', () => {
    const rule = writeRecurrence({ ...plain, freq: 'WEEKLY', interval: 2, on: [4, 1], until: '2027-03-30' }, '2026-11-23')
    expect(rule).toBe('FREQ=WEEKLY;INTERVAL=2;BYDAY=MO,TH;UNTIL=20270330')
    expect(showRecurrence(rule, '2026-11-23')).toBe('every 2 weeks on Monday and Thursday, until Tue 30 Mar 2027')
    expect(showRecurrence('FREQ=MONTHLY;BYMONTHDAY=-1;COUNT=12', '2026-11-30')).toBe('every month on its last day, 12 times')
  })
  it('with a fault are refused in words', () => {
    for (const bad of [
      '',
      'FREQ=HOURLY',
      'FREQ=DAILY;INTERVAL=0',
      'FREQ=DAILY;COUNT=2;UNTIL=20270101',
      'FREQ=DAILY;BYHOUR=3',
      'FREQ=WEEKLY;BYDAY=XX',
    ])
      expect(faultOfRecurrence(bad), bad).toBeTypeOf('string')
  })
})

describe('a free hour', () => {
  const person = (id: number, more: Partial<Attending> = {}): Attending => ({
    id,
    zone: 'America/New_York',
    from: '09:00',
    to: '17:00',
    days: [1, 2, 3, 4, 5],
    away: [],
    busy: [],
    ...more,
  })
  const ask = { from: '2026-11-24' as const, to: '2026-11-24' as const, minutes: 60, zone: 'America/New_York' }
  const times = (people: Attending[], more: object = {}) => freeHours(people, { ...ask, ...more }).map((f) => f.time)
  it('is one in which everyone works, each in their own time zone', () => {
    expect(times([person(1)])).toEqual([
      '09:00',
      '09:30',
      '10:00',
      '10:30',
      '11:00',
      '11:30',
      '12:00',
      '12:30',
      '13:00',
      '13:30',
      '14:00',
      '14:30',
      '15:00',
      '15:30',
      '16:00',
    ])
    // Nine in Los Angeles is noon in New York; London stops at five, noon in New York.
    expect(times([person(1), person(2, { zone: 'America/Los_Angeles' })])[0]).toBe('12:00')
    expect(times([person(1), person(2, { zone: 'Europe/London' })]).at(-1)).toBe('11:00')
    expect(times([person(1), person(2, { zone: 'America/Los_Angeles' }), person(3, { zone: 'Europe/London' })])).toEqual([])
  })
  it('is not taken by anything that has an hour, nor by leave, a weekend or a closed day', () => {
    const busy = [spanOf('2026-11-24', '09:30', 90, 'America/New_York')]
    expect(times([person(1, { busy })])[0]).toBe('11:00')
    expect(times([person(1, { away: [{ from: '2026-11-20', to: '2026-11-24' }] })])).toEqual([])
    expect(times([person(1)], { from: '2026-11-28', to: '2026-11-29' })).toEqual([])
    expect(times([person(1)], { closed: new Set(['2026-11-24']) })).toEqual([])
    expect(times([person(1)], { after: spanOf('2026-11-24', '15:10', 0, 'America/New_York').from })).toEqual(['15:30', '16:00'])
  })
  it('holds over the change of the clocks', () => {
    // Europe leaves summer time on 25 Oct 2026, America on 1 Nov: between them London is four hours ahead of New York.
    const pair = [person(1), person(2, { zone: 'Europe/London' })]
    expect(times(pair, { from: '2026-10-28', to: '2026-10-28' }).at(-1)).toBe('12:00')
    expect(times(pair, { from: '2026-11-04', to: '2026-11-04' }).at(-1)).toBe('11:00')
  })
  it('never meets what makes someone busy', () => {
    const span = fc.record({
      day: fc.integer({ min: 0, max: 4 }),
      half: fc.integer({ min: 16, max: 34 }),
      minutes: fc.integer({ min: 10, max: 240 }),
    })
    fc.assert(
      fc.property(fc.array(span, { maxLength: 8 }), fc.integer({ min: 15, max: 180 }), (list, minutes) => {
        const busy = list.map((b) =>
          spanOf(
            addDays('2026-11-23', b.day),
            `${String(b.half >> 1).padStart(2, '0')}:${b.half % 2 ? '30' : '00'}`,
            b.minutes,
            'America/New_York',
          ),
        )
        for (const f of freeHours([person(1, { busy })], { ...ask, from: '2026-11-23', to: '2026-11-27', minutes }))
          expect(busy.every((b) => Date.parse(f.to) <= Date.parse(b.from) || Date.parse(b.to) <= Date.parse(f.from))).toBe(true)
      }),
      { numRuns: 40 },
    )
  })
})

describe('a line of time', () => {
  const point = (n: number, kind: LinePoint['kind'] = 'rule'): LinePoint => ({
    id: String(n),
    day: addDays('2026-11-23', n),
    title: `Date ${n}`,
    kind,
    done: false,
  })
  it('is to scale, events above and dates below', () => {
    const line = layLine([point(-30, 'event'), point(0), point(30)], '2026-11-23', 628, () => 100)
    expect([line.events[0]!.x, line.todayX, line.dates[0]!.x, line.dates[1]!.x]).toEqual([14, 314, 314, 614])
    expect(line.months.map((m) => m.text)).toEqual(['Nov 2026', 'Dec'])
  })
  it('has no words over others, and none off the paper', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -400, max: 800 }), { maxLength: 60 }), fc.integer({ min: 400, max: 1200 }), (days, width) => {
        const { dates } = layLine(
          days.map((n) => point(n)),
          '2026-11-23',
          width,
          () => 150,
        )
        for (const p of dates) {
          expect(p.textX >= 0 && p.textX + 150 <= width).toBe(true)
          for (const q of dates) if (p !== q && p.row === q.row) expect(Math.abs(p.textX - q.textX)).toBeGreaterThanOrEqual(150)
        }
      }),
      { numRuns: 60 },
    )
  })
})

describe('figures', () => {
  const spells = (days: number[]) => days.map((n, i) => ({ matterId: i, from: '2026-01-01' as const, to: addDays('2026-01-01', n) }))
  it('are count, median and quartiles by the linear method', () => {
    // 10, 20, 30, 40: quartiles lie a quarter and three quarters along the three gaps.
    expect(spreadOf(spells([40, 10, 30, 20]))).toMatchObject({
      count: 4,
      shortest: 10,
      lowerQuartile: 17.5,
      median: 25,
      upperQuartile: 32.5,
      longest: 40,
    })
    expect(spreadOf([])).toEqual({
      count: 0,
      shortest: null,
      lowerQuartile: null,
      median: null,
      upperQuartile: null,
      longest: null,
      bars: [],
    })
    expect(quantile([7], 0.25)).toBe(7)
  })
  const event = (id: number, kind: string, day: Day, more: Partial<Trigger> = {}): Trigger => ({
    id,
    kind,
    label: `${kind} ${id}`,
    day,
    service: null,
    tentative: false,
    answersId: null,
    ...more,
  })
  it('count from the first beginning of a case to the first trial day that is set', () => {
    const events = [
      event(1, 'removal-filed', '2026-03-01'),
      event(2, 'state-pleading-received', '2026-02-10'),
      event(3, 'trial-set', '2026-09-01', { tentative: true }),
      event(4, 'trial-set', '2026-10-05'),
    ]
    expect(spellsOf('trial', events)).toEqual([{ from: '2026-02-10', to: '2026-10-05', what: 'trial-set 4' }])
    expect(spellsOf('trial', events.slice(0, 3))).toEqual([])
  })
  it('count each motion to the ruling that answers it, else to the next ruling', () => {
    const events = [
      event(1, 'motion-filed', '2026-03-01'),
      event(2, 'motion-filed', '2026-04-01'),
      event(3, 'motion-decided', '2026-05-01', { answersId: 2 }),
      event(4, 'motion-decided', '2026-06-01'),
      event(5, 'motion-decided', '2026-07-01'),
    ]
    expect(spellsOf('ruling', events).map((s) => [s.what, s.to])).toEqual([
      ['motion-filed 2', '2026-05-01'],
      ['motion-filed 1', '2026-06-01'],
    ])
  })
  it('leave out what ends before it begins, and every other spell is in one bar', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -50, max: 3000 }), { maxLength: 80 }), (days) => {
        const { bars, count } = spreadOf(spells(days))
        expect(bars.reduce((n, b) => n + b.count, 0)).toBe(count)
        expect(count).toBe(days.filter((n) => n >= 0).length)
      }),
    )
  })
})

describe('what a list of dates shows', () => {
  const date = { day: '2026-11-20', mark: 'open', weight: 'rule', leftOut: false } as const
  it('is overdue when it passed with something still to be done', () => {
    expect(isOverdue(date, '2026-11-23')).toBe(true)
    expect(isOverdue({ ...date, mark: 'in hand' }, '2026-11-23')).toBe(true)
    // On its own day there is still time; what is settled, left out, or was only an appointment asks for nothing.
    expect(isOverdue(date, '2026-11-20')).toBe(false)
    for (const more of [{ mark: 'met' }, { mark: 'waived' }, { mark: 'vacated' }, { weight: 'appointment' }, { leftOut: true }] as const)
      expect(isOverdue({ ...date, ...more }, '2026-11-23')).toBe(false)
  })
  it('of what recurs is what is past and the next one', () => {
    const at = (id: number, day: Day, series: number | null) => ({ id, day, series: series === null ? null : { id: series } })
    const dates = [
      at(1, '2026-10-01', 1),
      at(2, '2026-11-23', 1),
      at(3, '2026-12-01', null),
      at(4, '2026-12-02', 2),
      at(5, '2026-12-23', 1),
    ]
    expect(nextOfSeries(dates, '2026-11-23').map((d) => d.id)).toEqual([1, 2, 3, 4])
  })
  it('in a week are the office’s hours, and those of whatever is before or after them', () => {
    const span = (from: string, to: string) => ({ from: `2026-11-23T${from}:00`, to: `2026-11-23T${to}:00` })
    expect(hoursToShow([])).toEqual({ first: 7, last: 20 })
    expect(hoursToShow([span('09:00', '10:30'), span('06:30', '07:00'), span('21:00', '22:15')])).toEqual({ first: 6, last: 23 })
    expect(hoursToShow([span('19:00', '20:00')])).toEqual({ first: 7, last: 20 })
    expect(hoursToShow([{ from: '2026-11-23T23:30:00', to: '2026-11-24T00:30:00' }])).toEqual({ first: 7, last: 24 })
  })
})
