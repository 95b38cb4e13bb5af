import type { Day } from '../src/calendar'
import { Ajv } from 'ajv'
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { faultsOf, shippedHolidaySets, shippedRuleSets, workOutDates, type RuleSet } from '../src/docket'
import examples from './worked-examples.json' with { type: 'json' }

const setOf = (key: string) => shippedRuleSets.find((s) => s.key === key) as RuleSet

describe('worked examples', () => {
  for (const e of examples) {
    const name = `${e.ruleSet}: ${e.trigger} ${e.date} ${e.service ?? ''} ${e.district ?? 'no district'}`
    it(name, () => {
      const proposals = workOutDates({
        ruleSet: setOf(e.ruleSet),
        holidaySets: shippedHolidaySets,
        trigger: e.trigger,
        date: e.date as Day,
        service: e.service,
        events: e.events as Record<string, Day>,
        facts: [],
        district: e.district,
      })
      const dates = Object.fromEntries(proposals.map((p) => [p.key, p.date]))
      expect(dates).toEqual(e.deadlines)
    })
  }
})

describe('shipped rule sets', () => {
  const schema = JSON.parse(readFileSync(new URL('../src/docket/rule-set.schema.json', import.meta.url), 'utf8')) as object
  const valid = new Ajv({ strict: false, formats: { date: true } }).compile(schema)
  it.each(shippedRuleSets.map((s) => [s.key, s] as const))('%s follows the schema and holds together', (_, set) => {
    expect(valid(set), JSON.stringify(valid.errors)).toBe(true)
    expect(faultsOf(set, shippedHolidaySets)).toEqual([])
  })
  it('says what a strict date still allows', () => {
    for (const d of shippedRuleSets.flatMap((s) => s.deadlines).filter((d) => d.weight === 'strict'))
      expect(d.text, d.key).toMatch(/cannot|only|allows|beyond|agreement|No extension/)
  })
})

describe('what a proposal tells', () => {
  const trial = (events: Record<string, Day>) =>
    workOutDates({
      ruleSet: setOf('us-federal-civil'),
      holidaySets: shippedHolidaySets,
      trigger: 'trial-set',
      date: '2027-03-30',
      service: null,
      events,
      facts: [],
      district: 'wexmoor',
    })

  it('is provisional until the act it hangs on is entered, then counted from that', () => {
    const before = trial({}).find((p) => p.key === 'rebuttal-experts')
    expect(before).toMatchObject({ date: '2027-01-29', provisional: true })
    const after = trial({ 'expert-disclosures-made': '2026-12-16' }).find((p) => p.key === 'rebuttal-experts')
    expect(after).toMatchObject({ date: '2027-01-15', provisional: false })
  })

  it('explains a roll in plain words', () => {
    const p = trial({}).find((x) => x.key === 'pretrial-disclosures')
    expect(p?.trace.map((t) => t.text)).toEqual([
      'Counted from trial set, Tue 30 Mar 2027; that day is not counted',
      '30 calendar days before is Sun 28 Feb 2027',
      'The court is closed on Sun 28 Feb and Sat 27 Feb 2027; rolls back to Fri 26 Feb 2027',
    ])
  })

  it('leaves out what the facts of the matter exclude, with the reason', () => {
    const dates = workOutDates({
      ruleSet: setOf('us-federal-civil'),
      holidaySets: shippedHolidaySets,
      trigger: 'judgment-entered',
      date: '2026-10-29',
      service: null,
      events: {},
      facts: ['us-party'],
      district: 'wexmoor',
    })
    expect(dates.find((p) => p.key === 'notice-of-appeal')?.applies).toBe(false)
    expect(dates.find((p) => p.key === 'notice-of-appeal-united-states')?.applies).toBe(true)
  })

  it('skips a leg whose event is unknown and says so', () => {
    const [p] = workOutDates({
      ruleSet: setOf('us-federal-civil'),
      holidaySets: shippedHolidaySets,
      trigger: 'subpoena-served',
      date: '2025-11-22',
      service: null,
      events: {},
      facts: [],
      district: 'wexmoor',
    })
    expect(p?.notes).toContain('Compliance day of the subpoena is not entered; that leg is skipped')
  })

  it('refuses a service the court does not know', () => {
    expect(() => trial({})).not.toThrow()
    expect(() =>
      workOutDates({
        ruleSet: setOf('us-federal-civil'),
        holidaySets: shippedHolidaySets,
        trigger: 'interrogatories-served',
        date: '2026-10-30',
        service: 'pigeon',
        events: {},
        facts: [],
        district: null,
      }),
    ).toThrow(RangeError)
  })
})
