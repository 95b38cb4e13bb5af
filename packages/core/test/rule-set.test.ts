import type { Day } from '../src/calendar'
import { describe, expect, it } from 'vitest'
import {
  calendarFor,
  faultsOf,
  missingOf,
  practicePrefix,
  shippedHolidaySets,
  shippedRuleSets,
  withPractice,
  workOutDates,
  type RuleDeadline,
  type RuleSet,
} from '../src/docket'
import { readRuleSet, writeRuleSet } from '../src/formats'

const federal = shippedRuleSets.find((s) => s.key === 'us-federal-civil')!
const superior = shippedRuleSets.find((s) => s.key === 'wexmoor-superior')!
const first = superior.deadlines[0]!
const read = (change: (file: Record<string, unknown>) => unknown) =>
  readRuleSet(JSON.stringify(change(structuredClone(superior) as unknown as Record<string, unknown>)), shippedHolidaySets)

/** The firm wants a first draft six court days before the discovery answers are due. */
const draft: RuleDeadline = {
  key: `${practicePrefix}draft-answers`,
  trigger: 'interrogatories-served',
  title: 'Draft of the answers to the client',
  text: 'Send the client the draft answers for verification.',
  authority: { cite: 'Firm practice' },
  weight: 'firm practice',
  legs: [
    {
      base: { kind: 'deadline', key: 'interrogatory-answers', moment: 'final' },
      count: 6,
      unit: 'courtDay',
      direction: 'before',
      roll: 'default',
    },
  ],
  serviceExtends: false,
}

describe('files of rule sets', () => {
  it.each(shippedRuleSets.map((s) => [s.key, s] as const))('%s is read back as it was written', (_, set) => {
    const { $schema: _schema, ...own } = set as RuleSet & { $schema?: string }
    expect(readRuleSet(writeRuleSet(set), shippedHolidaySets)).toEqual({ set: own, faults: [] })
  })
  it('every fault is told with its place, and no set comes of it', () => {
    const { set, faults } = read((s) => ({
      ...s,
      kind: undefined,
      colour: 'blue',
      deadlines: [
        { ...first, weight: 'heavy', legs: [{ ...first.legs[0], unit: 'fortnight' }] },
        { ...first, key: 'Big Key' },
      ],
    }))
    expect(set).toBeNull()
    expect(faults).toEqual(
      [
        { where: 'the file', what: '“kind” is missing' },
        { where: 'the file', what: '“colour” is not part of the format' },
        {
          where: `deadlines[1] (serve-complaint) › legs[1] › unit`,
          what: 'It must be one of “day”, “courtDay”, “clearDay”, “week”, “month”, “year”',
        },
        {
          where: 'deadlines[1] (serve-complaint) › weight',
          what: 'It must be one of “strict”, “rule”, “court order”, “firm practice”, “appointment”',
        },
        { where: 'deadlines[2] (Big Key) › key', what: 'Use lower-case letters, digits and single hyphens' },
      ].sort(
        (a, b) =>
          faults.findIndex((f) => f.where === a.where && f.what === a.what) -
          faults.findIndex((f) => f.where === b.where && f.what === b.what),
      ),
    )
  })
  it('of a holiday or a base only what is wrong with its kind is told', () => {
    const { faults } = read((s) => ({
      ...s,
      holidaySets: [{ key: 'local', title: 'Local', rules: [{ kind: 'nth', name: 'Fair Day', month: 9, nth: 2 }] }],
      deadlines: [{ ...first, legs: [{ ...first.legs[0], base: { kind: 'deadline', key: 'x' } }] }],
    }))
    expect(faults).toEqual([
      { where: 'holidaySets[1] (local) › rules[1] (Fair Day)', what: '“weekday” is missing' },
      { where: 'deadlines[1] (serve-complaint) › legs[1] › base', what: '“moment” is missing' },
    ])
  })
  it('what is no JSON is said to be none', () => {
    expect(readRuleSet('{', []).faults[0]!.what).toMatch(/^It is no JSON/)
  })
})

describe('faults that the schema cannot see', () => {
  const faultsWith = (change: Partial<RuleSet>) => faultsOf({ ...superior, ...change }, shippedHolidaySets)
  const leg = (key: string) => ({ ...first.legs[0]!, base: { kind: 'deadline' as const, key, moment: 'final' as const } })
  it('are put into words with their place', () => {
    expect(
      faultsWith({
        timeZone: 'Wexmoor/Harrow',
        holidays: ['nowhere'],
        deadlines: [
          { ...first, trigger: 'moonrise' },
          { ...superior.deadlines[1]!, legs: [...superior.deadlines[1]!.legs, ...superior.deadlines[1]!.legs] },
          { ...superior.deadlines[2]!, appliesWhen: { fact: 'rain', not: false } },
          { ...superior.deadlines[3]!, legs: [leg('nothing')] },
        ],
      }).map((f) => `${f.where}: ${f.what}`),
    ).toEqual([
      'holidays: The holiday set “nowhere” is neither in the file nor known here',
      'timeZone: “Wexmoor/Harrow” is no time zone; give one like America/New_York',
      'triggers[8] (opposition-served): It closes “motion-opposition”, which that trigger does not have',
      'deadlines[1] (serve-complaint): The trigger “moonrise” is not in the set',
      'deadlines[2] (appearance): Several legs need “combine”: the earliest or the latest of them',
      'deadlines[3] (change-of-judge): The fact “rain” is not in the set',
      'deadlines[4] (discovery-response) › legs[1]: It counts from “nothing”, which its trigger does not have',
    ])
  })
  it('a circle of chains, also one through others', () => {
    const chain = ['a', 'b', 'c'].map((key, i, all) => ({ ...first, key, legs: [leg(all[(i + 1) % 3]!)] }))
    expect(faultsWith({ triggers: superior.triggers.slice(0, 1), deadlines: chain }).filter((f) => f.what.includes('itself'))).toHaveLength(
      3,
    )
  })
  it('two rows of one key need spans that do not meet', () => {
    const old = { ...first, inForce: { to: '2026-12-31' as const } }
    const amended = (from: Day) => ({ ...first, inForce: { from } })
    const clash = (from: Day) => faultsWith({ deadlines: [...superior.deadlines.slice(1), old, amended(from)] }).length
    expect(clash('2027-01-01')).toBe(0)
    expect(clash('2026-12-31')).toBe(1)
  })
  it('a holiday that not every year has', () => {
    const rule = (r: object) =>
      faultsWith({ holidaySets: [{ key: 'own', title: 'Own', rules: [{ name: 'X', ...r } as never] }] }).map((f) => f.what)
    expect(rule({ kind: 'fixed', month: 2, day: 29, observed: 'none' })).toEqual(['There is no such day in every year'])
    expect(rule({ kind: 'recess', fromMonth: 12, fromDay: 24, toMonth: 1, toDay: 2 })).toEqual([
      'A recess over the turn of the year is two rules, one for each year',
    ])
    expect(rule({ kind: 'single', date: '2026-02-30' })).toContain('2026-02-30 is no day')
  })
})

describe('the rule in force on the trigger’s date', () => {
  it('applies: 28 days until the end of 2026, 35 from 2027 on', () => {
    const row = superior.deadlines.find((d) => d.key === 'appearance')!
    const set: RuleSet = {
      ...superior,
      deadlines: [
        { ...row, inForce: { to: '2026-12-31' } },
        { ...row, inForce: { from: '2027-01-01' }, legs: [{ ...row.legs[0]!, count: 35 }] },
      ],
    }
    const on = (date: Day) =>
      workOutDates({
        ruleSet: set,
        holidaySets: shippedHolidaySets,
        trigger: 'complaint-served',
        date,
        service: 'hand',
        events: {},
        facts: [],
      })[0]!.date
    // Thu 31 Dec 2026 + 28 = Thu 28 Jan 2027; Fri 1 Jan 2027 + 35 = Fri 5 Feb 2027.
    expect(on('2026-12-31')).toBe('2027-01-28')
    expect(on('2027-01-01')).toBe('2027-02-05')
  })
})

describe('a firm’s own dates on top of a court’s', () => {
  const set = withPractice(federal, [draft])
  const input = {
    holidaySets: shippedHolidaySets,
    district: 'wexmoor',
    trigger: 'interrogatories-served',
    date: '2026-10-30' as const,
    service: 'mail',
    events: {},
    facts: [],
  }
  it('hang on the court’s deadlines like any other', () => {
    expect(faultsOf(set, shippedHolidaySets)).toEqual([])
    const found = Object.fromEntries(workOutDates({ ruleSet: set, ...input }).map((p) => [p.key, p.date]))
    // Answers are due Thu 3 Dec; back over 2, 1, 30 Nov, Fri 27 (a state holiday, which does not count backward), 25 (26 is Thanksgiving), 24 Nov.
    expect(found).toMatchObject({ 'interrogatory-answers': '2026-12-03', 'firm-draft-answers': '2026-11-24' })
  })
  it('and are missing on dockets made before, where they still lie ahead', () => {
    const calendar = calendarFor(federal, shippedHolidaySets, 'wexmoor')
    const trigger = {
      id: 4,
      kind: 'interrogatories-served',
      label: '',
      day: '2026-10-30' as const,
      service: 'mail',
      tentative: false,
      answersId: null,
    }
    const answers = workOutDates({ ruleSet: federal, ...input }).find((p) => p.key === 'interrogatory-answers')!
    const entry = {
      id: 1,
      triggerId: 4,
      key: answers.key,
      day: answers.date!,
      beforeRoll: answers.beforeRoll,
      setBy: 'rule' as const,
      chainFollows: false,
      metOn: null,
      ruleDay: null,
      mark: 'open' as const,
      leftOut: false,
      provisional: false,
      tentative: false,
      howCounted: answers.howCounted,
      trace: answers.trace,
    }
    const docket = { triggers: [trigger], entries: [entry], facts: [] }
    const missing = (from: Day, had: string[] = []) =>
      missingOf(docket, { ruleSet: set, calendar }, from, new Set(had)).map((x) => x.proposal.key)
    expect(missing('2026-11-23')).toEqual(['firm-draft-answers'])
    expect(missing('2026-11-25')).toEqual([])
    expect(missing('2026-11-23', ['4:firm-draft-answers'])).toEqual([])
  })
})

describe('a clerk’s office that cannot be reached', () => {
  const closures = [{ name: 'Clerk’s system down', date: '2026-11-30' as const, filingOnly: true }]
  const on = (trigger: string, date: Day) =>
    Object.fromEntries(
      workOutDates({
        ruleSet: federal,
        holidaySets: shippedHolidaySets,
        district: 'wexmoor',
        trigger,
        date,
        service: trigger.includes('served') ? 'hand' : null,
        events: {},
        facts: [],
        closures,
      }).map((p) => [p.key, p.date]),
    )
  it('extends filing to the first day on which it can be, and nothing else (Fed. R. Civ. P. 6(a)(3))', () => {
    // Judgment Thu 29 Oct 2026: 30 days end Sat 28 Nov, roll to Mon 30 Nov, and to Tue 1 Dec as that day nothing can be filed.
    expect(on('judgment-entered', '2026-10-29')['notice-of-appeal']).toBe('2026-12-01')
    // Interrogatories served by hand Fri 30 Oct: answers are served, not filed; Sun 29 Nov rolls to Mon 30 Nov and stays.
    expect(on('interrogatories-served', '2026-10-30')['interrogatory-answers']).toBe('2026-11-30')
  })
  it('is an ordinary court day for periods counted in court days', () => {
    const calendar = calendarFor(federal, shippedHolidaySets, 'wexmoor', closures)
    expect([calendar.closedWhy('2026-11-30', 'after'), calendar.closedWhy('2026-11-30', 'before')]).toEqual([null, null])
    expect(calendar.unreachableWhy('2026-11-30')).toBe('Clerk’s system down')
  })
})
