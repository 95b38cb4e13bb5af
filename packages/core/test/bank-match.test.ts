import type { Day } from '@heron/core/calendar'
import { matchLines, reconcile, ruleFor, splitFault, usualMatchRules, type Match, type OpenEntry, type OpenLine } from '@heron/core/bank'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'

let n = 0
const line = (day: Day, amount: number, more: Partial<OpenLine> = {}): OpenLine => ({
  id: (n += 1),
  day,
  amount,
  check: '',
  reference: '',
  text: '',
  ...more,
})
const entry = (day: Day, amount: number, more: Partial<OpenEntry> = {}): OpenEntry => ({
  id: (n += 1),
  day,
  amount,
  check: '',
  reference: '',
  text: '',
  sheet: '',
  ...more,
})
const only = (lines: OpenLine[], entries: OpenEntry[]) => {
  const { matches } = matchLines(lines, entries)
  expect(matches).toHaveLength(1)
  return matches[0]!
}

describe('a line that is split over accounts', () => {
  it('comes to the cent of its parts, of which none is nothing', () => {
    expect(splitFault(95_00, [100_00, -5_00])).toBeNull()
    expect(splitFault(-95_00, [-90_00, -5_00])).toBeNull()
    expect(splitFault(95_00, [100_00, -4_99])).toEqual({ at: null, words: 'The parts come to $95.01, and the bank moved $95.00' })
    expect(splitFault(95_00, [95_00, 0])!.at).toBe(1)
    expect(splitFault(95_00, [])!.at).toBeNull()
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 10 ** 9 }), { minLength: 1, maxLength: 20 }), fc.integer({ min: 1, max: 99 }), (parts, off) => {
        const line = parts.reduce((a, b) => a + b, 0)
        expect([splitFault(line, parts), splitFault(line + off, parts)?.at]).toEqual([null, null])
      }),
    ) // prettier-ignore
  })
})

describe('a card settlement', () => {
  const settlement = 'S-2026-11-20'
  const entries = () => [
    entry('2026-11-18', 615_40, { settlement }),
    entry('2026-11-18', 200_00, { settlement }),
    entry('2026-11-20', -18_15, { settlement }),
    entry('2026-11-20', -6_10, { settlement }),
  ]
  it('is one movement of the bank less its fees, or without them, or entry by entry, as the bank shows it', () => {
    const net = entries()
    expect(only([line('2026-11-21', 791_15)], net)).toMatchObject({ entries: net.map((e) => e.id), by: 'sheet', sure: true, why: 'The 4 entries of one card settlement, less its fees, 1 day apart' }) // prettier-ignore
    const gross = entries()
    const apart = matchLines([line('2026-11-21', 815_40), line('2026-11-21', -18_15), line('2026-11-21', -6_10)], gross).matches
    expect(apart.map((m) => [m.entries, m.sure])).toEqual([[gross.slice(0, 2).map((e) => e.id), true], [[gross[2]!.id], true], [[gross[3]!.id], true]]) // prettier-ignore
    const each = entries()
    expect(matchLines(each.map((e) => line('2026-11-20', e.amount)), each).matches.map((m) => m.by)).toEqual(['amount and day', 'amount and day', 'amount and day', 'amount and day']) // prettier-ignore
  })
})

describe('a line of the bank and an entry of the book', () => {
  it('belong together by number and amount, however long the check took', () => {
    const l = line('2026-11-20', -1250_00, { check: '1041' })
    const e = entry('2026-09-03', -1250_00, { check: '1041' })
    expect(only([l], [e, entry('2026-11-20', -1250_00, { check: '1042' })])).toMatchObject({
      lines: [l.id],
      entries: [e.id],
      by: 'number and amount',
      sure: true,
      score: 100,
    })
    // Paid before it was written: something is wrong with a date.
    expect(only([line('2026-11-01', -5, { check: '7' })], [entry('2026-11-20', -5, { check: '7' })]).sure).toBe(false)
    // The bank paid one check twice: once it is ours, the other stays open.
    const twice = matchLines([l, line('2026-11-21', -1250_00, { check: '1041' })], [e])
    expect(twice.matches).toHaveLength(1)
  })
  it('belong together by amount and a day within five, where nothing else could be meant', () => {
    expect(only([line('2026-11-06', 500)], [entry('2026-11-01', 500)])).toMatchObject({ by: 'amount and day', sure: true })
    expect(only([line('2026-11-07', 500)], [entry('2026-11-01', 500)])).toMatchObject({ by: 'amount, later', sure: false })
    expect(matchLines([line('2026-11-01', 500)], [entry('2026-11-01', -500)]).matches).toEqual([])
    expect(matchLines([line('2026-11-01', 500)], [entry('2026-11-09', 500)]).matches).toEqual([])
    // Two alike: a proposal each, in the order of their days.
    const [a, b] = [line('2026-11-02', -25_00), line('2026-11-03', -25_00)]
    const [x, y] = [entry('2026-11-02', -25_00), entry('2026-11-04', -25_00)]
    const { matches } = matchLines([b, a], [y, x])
    expect(matches.map((m) => [m.lines[0], m.entries[0], m.sure])).toEqual([
      [a.id, x.id, false],
      [b.id, y.id, false],
    ])
    // Words that they share go before the order.
    const wire = line('2026-11-02', 1500_00, { text: 'WIRE IN' })
    const both = [entry('2026-11-02', 1500_00, { text: 'Sheet 135' }), entry('2026-11-02', 1500_00, { text: 'Wire, Brinewell' })]
    expect(matchLines([wire, line('2026-11-02', 1500_00, { text: 'DEPOSIT' })], both).matches[0]).toMatchObject({
      lines: [wire.id],
      entries: [both[1]!.id],
      sure: false,
    })
    // One line and two entries alike: which of them it is, is for a person.
    expect(only([a], [x, y]).sure).toBe(false)
  })
  it('are proposed, and never sure, where a number and an amount do not go together', () => {
    const l = line('2026-11-05', -90_00, { check: '1050' })
    expect(only([l], [entry('2026-11-04', -60_00, { check: '1050' })])).toMatchObject({
      by: 'number, other amount',
      sure: false,
      difference: -30_00,
    })
    expect(only([l], [entry('2026-11-04', -90_00, { check: '1051' })])).toMatchObject({ by: 'amount, other number', sure: false })
    // A number on one side only says nothing against it.
    expect(only([line('2026-11-05', -90_00)], [entry('2026-11-04', -90_00, { check: '1051' })]).sure).toBe(true)
  })
})

describe('one movement of the bank', () => {
  it('is a whole sheet, and not a part of one', () => {
    const sheet = [entry('2026-11-13', 60_00, { sheet: 's1' }), entry('2026-11-13', 40_00, { sheet: 's1' })]
    const l = line('2026-11-14', 100_00)
    expect(only([l], sheet)).toMatchObject({ by: 'sheet', sure: true, entries: sheet.map((e) => e.id) })
    // An entry alone of the same amount could be meant as well.
    expect(matchLines([l], [...sheet, entry('2026-11-13', 100_00)]).matches[0]!.sure).toBe(false)
    expect(matchLines([line('2026-11-14', 60_00)], sheet).matches).toEqual([])
  })
  it('may be the sum of several, as a proposal; and an entry may have come in several lines', () => {
    const some = [entry('2026-11-13', 10_00), entry('2026-11-12', 25_00), entry('2026-11-14', 7_00)]
    expect(only([line('2026-11-14', 32_00)], some)).toMatchObject({ by: 'several', sure: false, score: 65 })
    const other = matchLines(
      [line('2026-11-14', 30_00)],
      [5, 25, 12, 18].map((c) => entry('2026-11-13', c * 100)),
    )
    expect([other.matches[0]!.score, other.matches[0]!.why]).toEqual([45, '2 entries make it up; others would, too'])
    expect(only([line('2026-11-13', 10_00), line('2026-11-14', 15_00)], [entry('2026-11-12', 25_00)])).toMatchObject({
      by: 'several',
      sure: false,
    })
  })
  it('says where the search for a sum was given up', () => {
    const many = Array.from({ length: 38 }, (_, i) => entry('2026-11-13', 2 ** 20 + 2 * i * 7919))
    const l = line('2026-11-13', 2 ** 20 * 7 + 1)
    expect(matchLines([l], many).gaveUp).toEqual([l.id])
  })
})

describe('whatever is matched', () => {
  const some = fc.record({
    day: fc.integer({ min: 1, max: 28 }),
    amount: fc.constantFrom(-300, -200, -100, 100, 200, 300),
    check: fc.constantFrom('', '', '1', '2'),
    sheet: fc.constantFrom('', '', 'a', 'b'),
  })
  it('stands in one match at most, adds up, and is the same however the lists are ordered', () => {
    fc.assert(
      fc.property(fc.array(some, { maxLength: 25 }), fc.array(some, { maxLength: 25 }), (ls, es) => {
        const day = (d: number) => `2026-11-${String(d).padStart(2, '0')}` as Day
        const lines = ls.map((l, i) => line(day(l.day), l.amount, { id: i + 1, check: l.amount < 0 ? l.check : '' }))
        const entries = es.map((e, i) =>
          entry(day(e.day), e.amount, { id: i + 101, check: e.amount < 0 ? e.check : '', sheet: e.amount > 0 ? e.sheet : '' }),
        )
        const { matches } = matchLines(lines, entries)
        const all = (of: (m: Match) => number[]) => matches.flatMap(of)
        expect(new Set(all((m) => m.lines)).size).toBe(all((m) => m.lines).length)
        expect(new Set(all((m) => m.entries)).size).toBe(all((m) => m.entries).length)
        const sum = (ids: number[], list: { id: number; amount: number }[]) =>
          ids.reduce((s, id) => s + list.find((x) => x.id === id)!.amount, 0)
        for (const m of matches) {
          expect(sum(m.lines, lines) - sum(m.entries, entries)).toBe(m.difference)
          if (m.sure) expect(m.difference).toBe(0)
        }
        const again = matchLines([...lines].reverse(), [...entries].reverse()).matches
        expect(again.filter((m) => m.sure).length).toBe(matches.filter((m) => m.sure).length)
      }),
      { numRuns: 400 },
    )
  })
  it('takes little time for 2,000 lines and 5,000 entries, however alike they are', () => {
    const lines = Array.from({ length: 2000 }, (_, i) =>
      line(`2026-11-${String(1 + (i % 28)).padStart(2, '0')}` as Day, (i % 7) * 100 + 100),
    )
    const entries = Array.from({ length: 5000 }, (_, i) =>
      entry(`2026-11-${String(1 + (i % 28)).padStart(2, '0')}` as Day, (i % 11) * 100 + 100),
    )
    expect(matchLines(lines, entries, { ...usualMatchRules, allSteps: 50_000 }).matches.length).toBeGreaterThan(0)
  })
  it('may be booked by a rule of the firm: all its words, the way, and the amount where one is given', () => {
    const rules = [
      { id: 1, words: 'monthly CHARGE', way: 'out' as const, amount: null },
      { id: 2, words: 'interest', way: 'in' as const, amount: 500 },
    ]
    expect(ruleFor({ amount: -2500, text: 'Charge, monthly', reference: '' }, rules)?.id).toBe(1)
    expect(ruleFor({ amount: 2500, text: 'Charge, monthly', reference: '' }, rules)).toBeNull()
    expect([
      ruleFor({ amount: 500, text: '', reference: 'INTEREST' }, rules)?.id,
      ruleFor({ amount: 501, text: 'interest', reference: '' }, rules),
    ]).toEqual([2, null])
  })
})

describe('three figures', () => {
  const fair = {
    bank: 13_725_50,
    book: 12_500_00,
    ledgers: 12_500_00,
    inTransit: [-1250_50, 0],
    unbooked: [{ amount: -25_00, named: true }],
    errors: [],
    unidentified: 0,
  }
  it('agree when what is in transit and what is not in the book is taken into account', () => {
    expect(reconcile(fair)).toMatchObject({
      outstanding: -1250_50,
      depositsInTransit: 0,
      unbookedOut: -25_00,
      adjusted: 12_500_00,
      bankFromBook: 0,
      bookFromLedgers: 0,
      stops: [],
    })
  })
  it('say which of them differs, and close nothing that is unnamed or whose owner is not known', () => {
    expect(reconcile({ ...fair, bank: fair.bank + 1 })).toMatchObject({ bankFromBook: 1, bookFromLedgers: 0 })
    expect(reconcile({ ...fair, ledgers: 12_499_00 })).toMatchObject({ bankFromBook: 0, bookFromLedgers: 1_00 })
    expect(reconcile({ ...fair, ledgers: null }).bookFromLedgers).toBe(0)
    expect(reconcile({ ...fair, unidentified: 5 }).stops).toHaveLength(1)
    expect(reconcile({ ...fair, bank: fair.bank - 30_00, errors: [{ amount: -30_00, named: false }] })).toMatchObject({
      bankFromBook: 0,
      errors: -30_00,
      stops: ['One difference is not named.'],
    })
  })
})
