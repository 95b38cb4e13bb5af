import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { isShown, mergeKeyOf, readFields, sortableNumber, type FieldRule, type GroupRule } from '../src/fields'
import { conflictState, daysInStages, faultOfNumberPattern, formatMatterNumber, numberSeries, searchWords } from '../src/matters'

describe('numbers of matters', () => {
  it.each([
    ['{yy}-{n:4}', '26-0007'],
    ['{yyyy}/{n}', '2026/7'],
    ['{client:5}.{n:3}', '00042.007'],
  ])('%s gives %s', (pattern, number) => expect(formatMatterNumber(pattern, { year: 2026, n: 7, client: 42 })).toBe(number))
  it.each([
    ['{yy}-{client}', 'needs {n}'],
    ['{n}{n}', 'once'],
    ['{n}-{name}', 'only'],
    ['MATTER-{yyyy}-{client:9}-{n:9}', 'longer'],
  ])('%s is refused', (pattern, why) => expect(faultOfNumberPattern(pattern)).toContain(why))
  it('count anew each year only where the year shows', () => {
    expect(numberSeries('{yy}-{n:4}', 2026)).not.toBe(numberSeries('{yy}-{n:4}', 2027))
    expect(numberSeries('{n:6}', 2026)).toBe(numberSeries('{n:6}', 2027))
  })
  it('two of one series are never the same', () =>
    void fc.assert(
      fc.property(fc.constantFrom('{yy}-{n:4}', '{client:5}-{n}', '{n:6}'), fc.nat(99_998), fc.nat(99_998), (p, a, b) =>
        a === b ? true : formatMatterNumber(p, { year: 2026, n: a, client: 3 }) !== formatMatterNumber(p, { year: 2026, n: b, client: 3 }),
      ),
    ))
})

describe('a conflict check', () => {
  it.each([
    [false, [], 'not checked'],
    [true, [], 'cleared'],
    [true, ['no conflict', 'waiver on file'], 'cleared'],
    [true, ['no conflict', null], 'to decide'],
    [true, ['waiver needed', 'no conflict'], 'waiver needed'],
    [true, ['decline', null], 'declined'],
  ] as const)('checked %s with %j is %s', (checked, decisions, state) => expect(conflictState(checked, decisions)).toBe(state))
})

describe('time in stages', () => {
  it('adds up to the whole time, a stage that comes again included', () => {
    const days = daysInStages(
      [
        { stageId: 1, fromDay: '2026-01-01' },
        { stageId: 2, fromDay: '2026-01-11' },
        { stageId: 1, fromDay: '2026-02-01' },
      ],
      '2026-02-11',
    )
    expect([days.get(1), days.get(2)]).toEqual([20, 21])
  })
})

describe('words of a matter', () => {
  it('are found by number with and without its dash, and without accents', () =>
    expect(searchWords('26-0142', 'Ström v. Corvane')).toEqual(expect.arrayContaining(['260142', '26', '0142', 'strom', 'corvane'])))
})

const rule = (id: number, more: Partial<FieldRule> = {}): FieldRule => ({
  id,
  name: `Field ${id}`,
  type: 'text',
  choices: [],
  otherAllowed: false,
  required: false,
  areaIds: [],
  shownIf: null,
  retired: false,
  ...more,
})
const group = (fields: FieldRule[], repeating = false): GroupRule => ({ id: 1, name: 'Vessels', repeating, fields })

describe('fields of the firm’s own', () => {
  it('keep what can be read and say what cannot', () => {
    const g = group([
      rule(1, { type: 'money' }),
      rule(2, { type: 'date' }),
      rule(3, { type: 'choice', choices: ['sloop', 'ketch'] }),
      rule(4, { type: 'choices', choices: ['a', 'b'], otherAllowed: true }),
      rule(5, { type: 'number' }),
      rule(6, { type: 'yes/no' }),
    ])
    const good = readFields([g], { 1: ['$1,200.5'], 2: ['2026-11-23'], 3: ['ketch'], 4: [['a', 'z']], 5: ['-3.5'], 6: ['yes'] }, null)
    expect(good.faults).toEqual([])
    expect(good.kept.map((k) => k.value)).toEqual(['1200.50', '2026-11-23', 'ketch', '["a","z"]', '-3.5', 'yes'])
    const bad = readFields([g], { 1: ['much'], 2: ['2026-02-30'], 3: ['yawl'], 5: ['x'], 6: ['perhaps'] }, null)
    expect(bad.faults.map((f) => f.fieldId)).toEqual([1, 2, 3, 5, 6])
  })
  it('are asked by area and by the value of another, also within an item', () => {
    const g = group([rule(1), rule(2, { shownIf: { fieldId: 1, value: 'yes' } }), rule(3, { areaIds: [7] })], true)
    const values = { 1: ['yes', 'no'], 2: ['a', 'b'], 3: ['c', 'd'] }
    expect(isShown(g.fields[1]!, g, 0, [g], values, null)).toBe(true)
    expect(isShown(g.fields[1]!, g, 1, [g], values, null)).toBe(false)
    expect(readFields([g], values, 8).kept.map((k) => [k.fieldId, k.item])).toEqual([
      [1, 0],
      [2, 0],
      [1, 1],
    ])
    expect(readFields([g], values, 7).kept.filter((k) => k.fieldId === 3)).toHaveLength(2)
  })
  it('a condition that comes round to itself shows nothing rather than going on for ever', () => {
    const g = group([rule(1, { shownIf: { fieldId: 2, value: 'x' } }), rule(2, { shownIf: { fieldId: 1, value: 'x' } })])
    expect(isShown(g.fields[0]!, g, 0, [g], { 1: ['x'], 2: ['x'] }, null)).toBe(false)
  })
  it('required ones are missed by item, and not where nothing is entered', () => {
    const g = group([rule(1, { required: true }), rule(2)], true)
    expect(readFields([g], { 1: ['', ''], 2: ['a', ''] }, null).missing).toEqual(['Field 1 (Vessels 1)'])
    expect(readFields([group([rule(1, { required: true })])], {}, null).missing).toEqual(['Field 1'])
  })
  it('numbers sort as text as they sort as numbers', () =>
    void fc.assert(
      fc.property(
        fc.integer({ min: -1e12, max: 1e12 }),
        fc.integer({ min: -1e12, max: 1e12 }),
        (a, b) => Math.sign(a - b) === (sortableNumber(a) < sortableNumber(b) ? -1 : sortableNumber(a) > sortableNumber(b) ? 1 : 0),
      ),
    ))
  it('give merge fields names', () =>
    expect([mergeKeyOf('Hull number'), mergeKeyOf('2nd Größe!')]).toEqual(
      ['hull_number', 'f_2nd_grosse'].map((x) => x.replace('grosse', 'gro_e')),
    ))
})
