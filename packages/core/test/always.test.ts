import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { addUpPreBill, applyPayment, type LineKind, type PreBillLine } from '../src/billing'
import { addDays, readDay, showCourtDays, type Day } from '../src/calendar'
import { calendarFor, shippedHolidaySets, shippedRuleSets, workOutDates, type RuleSet } from '../src/docket'
import { plainAccount } from '../src/formats'
import { closings, judgeBillFromTrust, mirror, faultsOfJournal } from '../src/ledger'
import { share, sum } from '../src/money'
import { normalizeName, compareNames } from '../src/people'
import { amountFor, readDuration, roundMinutes, showHours } from '../src/time'

const anyDay = fc.integer({ min: 0, max: 3000 }).map((n): Day => addDays('2025-01-01', n))

describe('every trigger of every shipped rule set, on any day', () => {
  const cases = shippedRuleSets.flatMap((set) => set.triggers.map((t) => ({ set, trigger: t.key })))
  const serviceOf = (set: RuleSet) => fc.constantFrom(null, ...set.services.map((s) => s.key))
  const any = fc.constantFrom(...cases).chain((c) => fc.record({ c: fc.constant(c), date: anyDay, service: serviceOf(c.set) }))
  const work = (c: (typeof cases)[number], date: Day, service: string | null) =>
    workOutDates({
      ruleSet: c.set,
      holidaySets: shippedHolidaySets,
      trigger: c.trigger,
      date,
      service,
      events: {},
      facts: [],
      district: 'wexmoor',
    })

  it('gives dates on open days, unless the rule never rolls', () => {
    fc.assert(
      fc.property(any, ({ c, date, service }) => {
        const calendar = calendarFor(c.set, shippedHolidaySets, 'wexmoor')
        for (const p of work(c, date, service)) {
          const row = c.set.deadlines.find((d) => d.key === p.key && d.trigger === c.trigger)!
          const leg = row.legs[0]!
          if (row.legs.length === 1 && leg.roll !== 'none') expect(calendar.closedWhy(p.date!, leg.direction), p.key).toBeNull()
          expect(p.trace.at(-1)?.date, p.key).toBe(p.date)
          if (row.legs.length > 1 || leg.base.kind !== 'trigger' || leg.roll === 'forward') continue
          expect(leg.direction === 'after' ? p.date! >= date : p.date! <= date, p.key).toBe(true)
        }
      }),
      { numRuns: 300 },
    )
  })

  it('never gives an earlier date for a later trigger', () => {
    fc.assert(
      fc.property(any, fc.integer({ min: 1, max: 40 }), ({ c, date, service }, gap) => {
        const before = new Map(work(c, date, service).map((p) => [p.key, p.date]))
        for (const p of work(c, addDays(date, gap), service)) expect(p.date! >= before.get(p.key)!, p.key).toBe(true)
      }),
      { numRuns: 150 },
    )
  })

  it('a method of service never shortens a period', () => {
    fc.assert(
      fc.property(any, ({ c, date, service }) => {
        const without = new Map(work(c, date, null).map((p) => [p.key, p.date]))
        for (const p of work(c, date, service)) {
          const after = c.set.deadlines.find((d) => d.key === p.key && d.trigger === c.trigger)!.legs[0]!.direction === 'after'
          if (after && p.countedFrom.includes(c.trigger)) expect(p.date! >= without.get(p.key)!, p.key).toBe(true)
        }
      }),
      { numRuns: 150 },
    )
  })
})

describe('chains', () => {
  const set = shippedRuleSets[1]!
  it('a circle of chains is refused when worked out', () => {
    const base = { kind: 'deadline' as const, key: 'serve-complaint', moment: 'final' as const }
    const circle: RuleSet = { ...set, deadlines: [{ ...set.deadlines[0]!, legs: [{ ...set.deadlines[0]!.legs[0]!, base }] }] }
    const input = {
      ruleSet: circle,
      holidaySets: shippedHolidaySets,
      trigger: 'complaint-filed',
      date: '2026-11-02' as const,
      service: null,
      events: {},
      facts: [],
      district: null,
    }
    expect(() => workOutDates(input)).toThrow(/counted from itself/)
  })
  it('a deadline out of force on the trigger’s date is not proposed', () => {
    const ended: RuleSet = { ...set, deadlines: [{ ...set.deadlines[0]!, inForce: { from: '2020-01-01', to: '2026-06-30' } }] }
    const at = (date: Day) =>
      workOutDates({
        ruleSet: ended,
        holidaySets: shippedHolidaySets,
        trigger: 'complaint-filed',
        date,
        service: null,
        events: {},
        facts: [],
        district: null,
      })
    expect([at('2026-06-30').length, at('2026-07-01').length]).toEqual([1, 0])
  })
})

describe('typed dates', () => {
  const today = '2026-11-23'
  it.each([
    ['today', '2026-11-23'],
    ['25 Nov', '2026-11-25'],
    ['Wed 25 Nov 2026', '2026-11-25'],
    ['4 jan', '2027-01-04'],
    ['11/25', '2026-11-25'],
    ['1/4/27', '2027-01-04'],
    ['2027-03-30', '2027-03-30'],
    ['+30', '2026-12-23'],
    ['−10', '2026-11-13'],
    ['-10', '2026-11-13'],
    // Neither this year nor the next has one, and a date is not guessed further ahead.
    ['29 Feb', null],
    ['29 Feb 2028', '2028-02-29'],
    ['31 Nov', null],
    ['tomorrowish', null],
    ['', null],
  ])('%s', (text, day) => expect(readDay(text, today)).toBe(day))
  it('reads back what it shows', () => {
    fc.assert(
      fc.property(anyDay, (day) => {
        expect(
          readDay(
            `${Number(day.slice(8))} ${['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'][Number(day.slice(5, 7)) - 1]} ${day.slice(0, 4)}`,
            today,
          ),
        ).toBe(day)
      }),
    )
  })
  it('says what is left in court days', () => {
    expect([0, 1, 4, -1, -3].map(showCourtDays)).toEqual([
      'today',
      'in 1 court day',
      'in 4 court days',
      '1 court day late',
      '3 court days late',
    ])
  })
})

describe('money, always', () => {
  const amounts = fc.array(fc.integer({ min: 0, max: 500_000 }), { minLength: 1, maxLength: 25 })
  it('a share is never more than a cent from the exact one', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1e9 }), amounts, (amount, weights) => {
        const total = sum(weights)
        fc.pre(total > 0)
        share(amount, weights).forEach((s, i) => expect(Math.abs(s - (amount * weights[i]!) / total)).toBeLessThan(1))
      }),
    )
  })
  const kinds = fc.constantFrom<LineKind>('time', 'flat', 'soft cost', 'hard cost')
  const line = fc.record({
    kind: kinds,
    worked: fc.integer({ min: 0, max: 90_000 }),
    cut: fc.integer({ min: 0, max: 100 }),
    noCharge: fc.boolean(),
    heldBack: fc.boolean(),
    taxRate: fc.constantFrom(0, 600, 825, 1_999),
  })
  const lines = fc
    .array(line, { minLength: 1, maxLength: 20 })
    .map((ls) => ls.map(({ cut, ...l }): PreBillLine => ({ ...l, charged: Math.floor((l.worked * cut) / 100) })))
  it('a pre-bill adds up: worked − written down − no charge = fees, and the lines make the total', () => {
    fc.assert(
      fc.property(lines, fc.integer({ min: 0, max: 10_000 }), (ls, off) => {
        const t = addUpPreBill(ls, { amount: 0, basisPoints: off })
        expect(t.worked - t.writtenDown - t.noCharge).toBe(t.fees)
        expect(sum(t.lineNets) + t.tax).toBe(t.total)
        expect(sum(t.taxes.map((x) => x.amount))).toBe(t.tax)
        expect(sum(t.lineDiscounts)).toBe(t.discount)
        expect(t.fees + t.hardCosts + t.softCosts - t.discount + t.tax).toBe(t.total)
        ls.forEach((l, i) =>
          l.kind.endsWith('cost') ? expect(t.lineDiscounts[i]).toBe(0) : expect(t.lineNets[i]).toBeGreaterThanOrEqual(0),
        )
      }),
    )
  })
  it('a payment is applied to the cent, costs before fees', () => {
    fc.assert(
      fc.property(amounts, fc.integer({ min: 1, max: 5_000_000 }), (open, pay) => {
        const ls = open.map((o, id) => ({ id, kind: id % 2 ? ('hard cost' as const) : ('time' as const), open: o }))
        const amount = Math.min(pay, sum(open))
        const applied = applyPayment(amount, ls)
        expect(sum(applied.map((a) => a.amount))).toBe(amount)
        const onCosts = sum(applied.filter((a) => a.id % 2).map((a) => a.amount))
        expect(onCosts).toBe(Math.min(amount, sum(open.filter((_, i) => i % 2))))
      }),
    )
  })
  it('the mirror of a journal balances and undoes it', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 9_999 }), { minLength: 1, maxLength: 6 }), (parts) => {
        const j = {
          lines: [...parts.map((p, i) => ({ account: i + 1, amount: p })), { account: 99, amount: -sum(parts) }],
          bank: [{ bankAccountId: 1, amount: sum(parts) }],
          ledgers: parts.map((p, i) => ({ ledgerId: i, bankAccountId: 1, amount: p })),
        }
        const m = mirror(j)
        expect(faultsOfJournal(m, [])).toEqual([])
        expect(sum([...j.lines, ...m.lines].map((l) => l.amount))).toBe(0)
        expect(mirror(m)).toEqual(j)
      }),
    )
  })
  it('trust, however often it pays, takes all that is earned of a bill and never a cent of the rest', () => {
    const portions = fc.array(fc.record({ amount: fc.integer({ min: 1, max: 40_000 }), earned: fc.boolean() }), {
      minLength: 1,
      maxLength: 6,
    })
    const tries = fc.array(fc.integer({ min: 1, max: 60_000 }), { maxLength: 12 })
    fc.assert(
      fc.property(portions, tries, (own, amounts) => {
        const earned = sum(own.filter((p) => p.earned).map((p) => p.amount))
        const total = sum(own.map((p) => p.amount))
        let paid = 0
        const pays = (amount: number) =>
          !judgeBillFromTrust({
            amount,
            day: '2026-11-23',
            bill: {
              number: 'B-1',
              issuedOn: '2026-11-01',
              madeOn: '2026-11-01',
              payerId: 1,
              matterId: 1,
              open: total - paid,
              unearned: total - earned,
            },
            ledger: { clientId: 1, matterId: null, name: 'x' },
            noticeDays: 0,
          })
        for (const amount of amounts) if (pays(amount)) paid += amount
        expect(paid).toBeLessThanOrEqual(earned)
        // What is left of it can still be paid, to the cent, and then nothing more.
        if (paid < earned) {
          expect(pays(earned - paid)).toBe(true)
          paid = earned
        }
        expect(pays(1)).toBe(false)
      }),
    )
  })
  it('closings carry every entry to the last day', () => {
    const entry = fc.record({ day: anyDay, amount: fc.integer({ min: -900, max: 900 }), clearsOn: fc.constant(null) })
    fc.assert(
      fc.property(fc.array(entry, { minLength: 1, maxLength: 30 }), (es) => {
        expect(closings(es).at(-1)?.balance).toBe(sum(es.map((e) => e.amount)))
      }),
    )
  })
})

describe('time, always', () => {
  it('is never rounded down when upward, and never by a whole unit or more', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1440 }), fc.constantFrom(1, 5, 6, 10, 15, 30), (minutes, unit) => {
        const rounded = roundMinutes([minutes], unit)
        expect(rounded % unit).toBe(0)
        expect(rounded - minutes).toBeGreaterThanOrEqual(0)
        expect(rounded - minutes).toBeLessThan(unit)
        expect(Math.abs(roundMinutes([minutes], unit, 'nearest') - Math.max(minutes, unit / 2))).toBeLessThanOrEqual(unit / 2)
      }),
    )
  })
  it('reads every notation of the same duration alike', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1439 }), (minutes) => {
        const [h, m] = [Math.floor(minutes / 60), minutes % 60]
        expect(readDuration(`${minutes}m`)).toBe(minutes)
        expect(readDuration(`${h}:${String(m).padStart(2, '0')}`)).toBe(minutes)
        expect(readDuration(`${h}h ${m}m`)).toBe(minutes)
        if (minutes % 6 === 0) expect(readDuration(showHours(minutes))).toBe(minutes)
      }),
    )
  })
  it('costs within half a cent of hours times rate', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1440 }), fc.integer({ min: 0, max: 200_000 }), (m, rate) => {
        expect(Math.abs(amountFor(m, rate) - (m * rate) / 60)).toBeLessThanOrEqual(0.5)
      }),
    )
  })
})

describe('names, always', () => {
  it('normalizing twice changes nothing more, and a name always meets itself', () => {
    const name = fc
      .array(fc.constantFrom('The', 'Gannet', 'Ferry', 'Tydén', 'O’Neil', '&', 'Co.', 'Inc', 'Dr.', 'São', 'A.B.'), {
        minLength: 1,
        maxLength: 6,
      })
      .map((w) => w.join(' '))
    fc.assert(
      fc.property(name, (n) => {
        expect(normalizeName(normalizeName(n))).toBe(normalizeName(n))
        expect(compareNames(n, n)?.score).toBe(100)
        expect(compareNames(`Gannet ${n}`, `GANNET ${n.toUpperCase()}, LLC`)?.score).toBeGreaterThanOrEqual(90)
      }),
    )
  })
})

it('names accounts so that the plain-text format keeps them whole', () => {
  expect(plainAccount('asset', '1010', 'Operating  bank; main: one')).toBe('assets:1010 Operating bank, main  one')
})
