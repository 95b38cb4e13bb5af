import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { addDays, firmCalendar, weekdaysOnly, type Day } from '../src/calendar'
import {
  bucketOf,
  docketAnchors,
  dueFrom,
  faultsOfSteps,
  followAnchors,
  planProcedure,
  showTiming,
  type Anchor,
  type Known,
  type Step,
  type StepDue,
} from '../src/tasks'

const due = (count: number, anchor: Anchor = { kind: 'start' }, more: Partial<StepDue> = {}): StepDue => ({
  count,
  unit: 'business',
  direction: 'after',
  anchor,
  ...more,
})
const step = (key: string, d: StepDue, more: Partial<Step> = {}): Step => ({
  key,
  text: `Step ${key}`,
  assignTo: { kind: 'starter' },
  priority: 'normal',
  estimateMinutes: null,
  remindDays: null,
  waitsFor: [],
  due: d,
  ...more,
})
const known = (more: Partial<Known> = {}): Known => ({ start: '2026-11-23', opened: '2026-11-02', docket: {}, done: {}, ...more })
const dates = (steps: Step[], k: Known) => Object.fromEntries(planProcedure(steps, k, weekdaysOnly).map((p) => [p.key, p.due]))

describe('a procedure dated', () => {
  // Counted by hand on a wall calendar of November and December 2026.
  it('from its start, the opening, another step, its completion and a docket date', () => {
    const steps = [
      step('a', due(0)),
      step('b', due(3, { kind: 'step', step: 'a' })),
      step('c', due(30, { kind: 'opened' }, { unit: 'calendar' })),
      step('d', due(2, { kind: 'done', step: 'b' })),
      step('e', due(10, { kind: 'docket', name: 'trial' }, { direction: 'before' })),
    ]
    expect(dates(steps, known({ docket: { trial: '2026-12-21' } }))).toEqual({
      a: '2026-11-23',
      b: '2026-11-26',
      c: '2026-12-02',
      d: '2026-11-30',
      e: '2026-12-07',
    })
    expect(planProcedure(steps, known(), weekdaysOnly).find((p) => p.key === 'd')?.provisional).toBe(true)
    expect(dates(steps, known({ done: { b: '2026-12-01' } }))['d']).toBe('2026-12-03')
    expect(dates(steps, known())['e']).toBeNull()
    expect(docketAnchors(steps)).toEqual(['trial'])
  })
  it('business days are those on which the firm works', () => {
    const firm = firmCalendar(weekdaysOnly, [1, 2, 3, 4], new Map([['2026-11-26', 'Harbor day']]))
    expect(dueFrom('2026-11-23', due(3), firm)).toBe('2026-11-30')
    expect(firm.closedWhy('2026-11-27', 'after')).toBe('Friday')
    expect(firmCalendar(weekdaysOnly, [1, 2, 3, 4, 5, 6], new Map()).closedWhy('2026-11-28', 'after')).toBeNull()
  })
  it.each([
    [due(0), 'on the day it starts'],
    [due(0, { kind: 'done', step: 'b' }), 'when “Step b” is done'],
    [due(1, { kind: 'step', step: 'b' }, { direction: 'before' }), '1 business day before “Step b”'],
    [due(30, { kind: 'docket', name: 'trial' }, { direction: 'before', unit: 'calendar' }), '30 calendar days before the trial'],
    [due(0, { kind: 'opened' }), 'on the day the matter was opened'],
  ])('reads as the office says it', (d, text) => expect(showTiming(d, (k) => `Step ${k}`)).toBe(text))
})

describe('faults of a procedure', () => {
  it.each([
    ['a step counted from itself', [step('a', due(1, { kind: 'step', step: 'a' }))], 'comes round'],
    [
      'two counted from each other',
      [step('a', due(1, { kind: 'step', step: 'b' })), step('b', due(1, { kind: 'done', step: 'a' }))],
      'comes round',
    ],
    [
      'one that waits for what is counted from its completion',
      [step('a', due(0), { waitsFor: ['b'] }), step('b', due(1, { kind: 'done', step: 'a' }))],
      'comes round',
    ],
    ['a step that is not there', [step('a', due(1, { kind: 'step', step: 'z' }))], 'not there'],
    ['waiting for one that is not there', [step('a', due(1), { waitsFor: ['z'] })], 'not there'],
    ['half days', [step('a', due(1.5))], 'whole number'],
    ['a step without words', [step('a', due(1), { text: ' ' })], 'say what'],
    ['the same key twice', [step('a', due(1)), step('a', due(2))], 'same key'],
    ['a docket date without a name', [step('a', due(1, { kind: 'docket', name: '' }))], 'name the docket date'],
  ])('%s', (_, steps, said) => {
    expect(faultsOfSteps(steps).join()).toContain(said)
    expect(() => planProcedure(steps, known(), weekdaysOnly)).toThrow(RangeError)
  })
})

const anyDay = fc.integer({ min: 0, max: 3000 }).map((n): Day => addDays('2025-01-01', n))
const anchorOf = (i: number): fc.Arbitrary<Anchor> =>
  fc.oneof(
    fc.constant<Anchor>({ kind: 'start' }),
    fc.constant<Anchor>({ kind: 'opened' }),
    fc.constant<Anchor>({ kind: 'docket', name: 'trial' }),
    ...(i
      ? [
          fc.nat(i - 1).map((s): Anchor => ({ kind: 'step', step: `s${s}` })),
          fc.nat(i - 1).map((s): Anchor => ({ kind: 'done', step: `s${s}` })),
        ]
      : []),
  )
const anySteps = fc.integer({ min: 1, max: 12 }).chain((n) =>
  fc.tuple(
    ...Array.from({ length: n }, (_, i) =>
      fc
        .record({
          count: fc.nat(40),
          unit: fc.constantFrom('calendar' as const, 'business' as const),
          direction: fc.constantFrom('after' as const, 'before' as const),
          anchor: anchorOf(i),
        })
        .map((d) => step(`s${i}`, d)),
    ),
  ),
)

describe('procedures, always', () => {
  it('every date stands on the right side of its anchor, whatever the anchors', () =>
    void fc.assert(
      fc.property(anySteps, anyDay, anyDay, (steps, start, trial) => {
        expect(faultsOfSteps(steps)).toEqual([])
        const k = known({ start, opened: addDays(start, -20), docket: { trial } })
        const at = dates(steps, k)
        for (const s of steps) {
          const a = s.due.anchor
          const base = a.kind === 'start' ? start : a.kind === 'opened' ? k.opened : a.kind === 'docket' ? trial : at[a.step]!
          expect(s.due.direction === 'after' ? at[s.key]! >= base : at[s.key]! <= base).toBe(true)
        }
      }),
    ))

  it('when an anchor moves later no date moves earlier, and what hangs on another anchor stays', () =>
    void fc.assert(
      fc.property(anySteps, anyDay, anyDay, fc.integer({ min: 1, max: 60 }), (steps, start, trial, gap) => {
        const before = dates(steps, known({ start, docket: { trial } }))
        const after = dates(steps, known({ start, docket: { trial: addDays(trial, gap) } }))
        const hangs = (key: string): boolean => {
          const a = steps.find((s) => s.key === key)!.due.anchor
          return a.kind === 'docket' || ((a.kind === 'step' || a.kind === 'done') && hangs(a.step))
        }
        for (const s of steps) expect(hangs(s.key) ? after[s.key]! >= before[s.key]! : after[s.key] === before[s.key]).toBe(true)
      }),
    ))

  it('what was done or set by hand never follows, and following twice is following once', () =>
    void fc.assert(
      fc.property(
        anySteps,
        anyDay,
        anyDay,
        fc.integer({ min: -60, max: 60 }),
        fc.array(fc.nat(3), { minLength: 12, maxLength: 12 }),
        (steps, start, trial, gap, marks) => {
          const at = dates(steps, known({ start, docket: { trial } }))
          const running = steps.map((s, i) => ({ key: s.key, due: at[s.key]!, done: marks[i] === 0, byHand: marks[i] === 1 }))
          const done = Object.fromEntries(running.filter((r) => r.done).map((r) => [r.key, r.due]))
          const moved = known({ start, docket: { trial: addDays(trial, gap) }, done })
          const changes = followAnchors(steps, running, moved, weekdaysOnly)
          for (const c of changes) expect(running.find((r) => r.key === c.key)).toMatchObject({ done: false, byHand: false })
          const followed = running.map((r) => ({ ...r, due: changes.find((c) => c.key === r.key)?.becomes ?? r.due }))
          expect(followAnchors(steps, followed, moved, weekdaysOnly)).toEqual([])
          expect(followAnchors(steps, running, known({ start, docket: { trial }, done }), weekdaysOnly)).toEqual([])
        },
      ),
    ))
})

describe('a list of tasks', () => {
  it.each([
    ['2026-11-20', 'overdue'],
    ['2026-11-23', 'today'],
    ['2026-11-24', 'tomorrow'],
    ['2026-11-29', 'this week'],
    ['2026-11-30', 'later'],
    [null, 'no date'],
  ])('on Monday 23 November, %s is %s', (day, bucket) => expect(bucketOf(day as Day | null, false, '2026-11-23', 1)).toBe(bucket))
  it('done is done, whenever it was due', () => expect(bucketOf('2026-01-01', true, '2026-11-23', 1)).toBe('done'))
})
