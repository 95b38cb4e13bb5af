import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { addDays, showDay, type Day } from '../src/calendar'
import {
  applyAct,
  calendarFor,
  chainOutcomes,
  differencesOf,
  keptBecause,
  movedByRules,
  proposalsFor,
  showHow,
  shippedHolidaySets,
  shippedRuleSets,
  undo,
  undoOf,
  type Docket,
  type DocketAct,
  type DocketRules,
  type Entry,
  type Trigger,
} from '../src/docket'

const rulesOf = (key: string): DocketRules => {
  const ruleSet = shippedRuleSets.find((s) => s.key === key)!
  return { ruleSet, calendar: calendarFor(ruleSet, shippedHolidaySets, 'wexmoor') }
}
const federal = rulesOf('us-federal-civil')
const state = rulesOf('wexmoor-superior')

const trigger = (id: number, kind: string, day: Day, more: Partial<Trigger> = {}): Trigger => ({
  id,
  kind,
  label: '',
  day,
  service: null,
  tentative: false,
  answersId: null,
  ...more,
})

/** A docket on which all that its triggers give is docketed. */
function docketed(rules: DocketRules, triggers: Trigger[], change: (e: Entry, n: number) => Partial<Entry> = () => ({})): Docket {
  const bare: Docket = { triggers, entries: [], facts: [] }
  const entries = triggers.flatMap((t) =>
    proposalsFor(bare, t, rules)
      .filter((p) => p.date)
      .map((p) => ({ t, p })),
  )
  return {
    ...bare,
    entries: entries.map(({ t, p }, i) => {
      const own: Entry = {
        id: i + 1,
        triggerId: t.id,
        key: p.key,
        day: p.date!,
        beforeRoll: p.beforeRoll,
        setBy: 'rule',
        chainFollows: false,
        ruleDay: null,
        mark: 'open',
        metOn: null,
        leftOut: !p.applies,
        provisional: p.provisional,
        tentative: p.tentative,
        howCounted: p.howCounted,
        trace: p.trace,
      }
      return { ...own, ...change(own, i) }
    }),
  }
}
const of = (d: Docket, key: string) => d.entries.find((e) => e.key === key)!
const move = (triggerId: number, day: Day, more: object = {}): DocketAct => ({
  kind: 'change',
  triggerId,
  day,
  tentative: false,
  service: null,
  label: '',
  ...more,
})

describe('a trial continued three weeks', () => {
  // 9 March to 30 March 2027; the worked dates are those of the examples for a trial on 30 March.
  const before = docketed(federal, [trigger(1, 'trial-set', '2027-03-09')], (e) =>
    e.key === 'expert-disclosures'
      ? { mark: 'met' }
      : e.key === 'offer-of-judgment'
        ? { setBy: 'court', day: '2027-02-22', ruleDay: e.day }
        : {},
  )
  const differences = differencesOf(before, move(1, '2027-03-30'), federal)
  const found = (key: string) => differences.find((d) => d.entry.key === key)

  it('moves what the rule set, through chains, with old and new day', () => {
    expect(found('pretrial-disclosures')).toMatchObject({ effect: 'moves', was: '2027-02-05', becomes: '2027-02-26' })
    expect(found('disclosure-objections')).toMatchObject({ effect: 'moves', was: '2027-02-19', becomes: '2027-03-12' })
    expect(found('pretrial-disclosures')!.entry.beforeRoll).toBe('2027-02-28')
  })
  it('keeps what was met and what the court fixed, and says what the rule now gives', () => {
    expect(found('expert-disclosures')).toMatchObject({ effect: 'kept', because: 'met', becomes: '2026-12-30' })
    expect(found('offer-of-judgment')).toMatchObject({ effect: 'kept', because: 'set by the court', becomes: '2027-03-16' })
    expect(found('offer-of-judgment')!.entry).toMatchObject({ day: '2027-02-22', ruleDay: '2027-03-16' })
  })
  it('counts on from the day on which a duty was met', () => {
    // Rebuttal is counted from the disclosures as made, so a later trial does not move it.
    expect(found('rebuttal-experts')).toMatchObject({ effect: 'recounted', becomes: '2027-01-08' })
    expect(of(before, 'rebuttal-experts').day).toBe('2027-01-08')
  })
  it('leaves on its day what was not taken, marked as set by hand', () => {
    const after = applyAct(before, move(1, '2027-03-30'), federal, new Set([of(before, 'disclosure-objections').id]))
    expect(of(after, 'pretrial-disclosures')).toMatchObject({ day: '2027-02-05', setBy: 'hand', ruleDay: '2027-02-26' })
    expect(of(after, 'disclosure-objections').day).toBe('2027-03-12')
  })
  it('turns a tentative trial into one that is set, day for day', () => {
    const expected = docketed(federal, [trigger(1, 'trial-set', '2027-03-30', { tentative: true })])
    expect(expected.entries.every((e) => e.tentative)).toBe(true)
    const set = differencesOf(expected, move(1, '2027-03-30'), federal)
    expect(set.map((d) => d.effect)).toEqual(expected.entries.map(() => 'recounted'))
    expect(applyAct(expected, move(1, '2027-03-30'), federal).entries.some((e) => e.tentative)).toBe(false)
  })
})

describe('an act entered later', () => {
  it('makes a provisional date exact', () => {
    const before = docketed(federal, [trigger(1, 'trial-set', '2027-03-30')])
    const act: DocketAct = { kind: 'add', trigger: trigger(2, 'expert-disclosures-made', '2026-12-16') }
    const [d] = differencesOf(before, act, federal)
    expect([d!.entry.key, d!.was, d!.becomes, d!.entry.provisional]).toEqual(['rebuttal-experts', '2027-01-29', '2027-01-15', false])
    const gone = differencesOf(applyAct(before, act, federal), { kind: 'remove', triggerId: 2 }, federal)
    expect(gone.map((g) => [g.effect, g.becomes, g.entry.provisional])).toEqual([['moves', '2027-01-29', true]])
  })
  it('prefers the event that belongs to this set over a later one of another', () => {
    const sets = [
      trigger(1, 'discovery-served', '2026-11-02', { service: 'hand', label: 'to Munro' }),
      trigger(2, 'discovery-served', '2026-11-16', { service: 'hand', label: 'to Larkin' }),
    ]
    const before = docketed(state, sets)
    expect(before.entries.map((e) => e.day)).toEqual(['2026-11-30', '2026-12-11'])
    // One of two sets is withdrawn: only its own dates go.
    const left = applyAct(before, { kind: 'remove', triggerId: 1 }, state)
    expect(left.entries.map((e) => [e.triggerId, e.day])).toEqual([[2, '2026-12-11']])
  })
})

describe('a response', () => {
  it('closes the deadline of the set it answers, and of no other', () => {
    const before = docketed(state, [
      trigger(1, 'discovery-served', '2026-11-02', { service: 'hand', label: 'to Munro' }),
      trigger(2, 'discovery-served', '2026-11-16', { service: 'hand', label: 'to Larkin' }),
    ])
    const act: DocketAct = {
      kind: 'add',
      trigger: trigger(3, 'discovery-response-served', '2026-11-24', { service: 'hand', answersId: 1 }),
    }
    expect(differencesOf(before, act, state).map((d) => [d.entry.triggerId, d.effect])).toEqual([[1, 'closes']])
    expect(applyAct(before, act, state).entries.map((e) => e.mark)).toEqual(['met', 'open'])
  })
})

describe('a fact of the matter', () => {
  it('brings in and drops what hangs on it, on the days it has', () => {
    const before = docketed(federal, [trigger(1, 'judgment-entered', '2026-10-29')])
    const act: DocketAct = { kind: 'facts', facts: ['us-party'] }
    const effects = differencesOf(before, act, federal).map((d) => [d.entry.key, d.effect])
    expect(effects).toContainEqual(['notice-of-appeal', 'drops out'])
    expect(effects).toContainEqual(['notice-of-appeal-united-states', 'comes in'])
    const after = applyAct(before, act, federal)
    expect(of(after, 'notice-of-appeal-united-states')).toMatchObject({ leftOut: false, day: '2026-12-28' })
  })
})

describe('undoing', () => {
  it('leaves facts that a later act changed', () => {
    const before = docketed(federal, [trigger(1, 'trial-set', '2027-03-09')])
    const moved = applyAct(before, move(1, '2027-03-30'), federal)
    const later = applyAct(moved, { kind: 'facts', facts: ['us-party'] }, federal)
    expect(undo(later, undoOf(before, moved))).toEqual({ ...before, facts: ['us-party'] })
  })
  it('and extending need no rules where a matter has none', () => {
    const own: Entry = {
      ...docketed(federal, [trigger(1, 'trial-set', '2027-03-09')]).entries[0]!,
      id: 9,
      triggerId: null,
      key: null,
      setBy: 'hand',
    }
    const bare: Docket = { triggers: [], entries: [own], facts: [] }
    const act: DocketAct = { kind: 'extend', entryId: 9, day: '2027-05-03', by: 'court', chainFollows: false }
    expect(differencesOf(bare, act, null)).toEqual([])
    const after = applyAct(bare, act, null)
    expect(after.entries[0]).toMatchObject({ day: '2027-05-03', setBy: 'court' })
    expect(undo(after, undoOf(bare, after))).toEqual(bare)
  })
})

describe('a date that the court moved, from which another is counted', () => {
  // The trial of 20 April 2027: disclosures by the rule on 19 March (a Saturday rolls back), objections 14 days after.
  const before = docketed(federal, [trigger(1, 'trial-set', '2027-04-20')])
  const disclosures = of(before, 'pretrial-disclosures')
  const objections = of(before, 'disclosure-objections')
  const extend = (by: 'hand' | 'court'): DocketAct => ({
    kind: 'extend',
    entryId: disclosures.id,
    day: '2027-03-24',
    by,
    chainFollows: false,
  })
  const ordered = applyAct(before, extend('court'), federal)
  const later = move(1, '2027-05-11')

  it('shows both outcomes side by side when the trial moves; an order carries its chain along by itself', () => {
    expect(of(ordered, 'disclosure-objections').day).toBe(objections.day)
    expect(chainOutcomes(ordered, later, federal)).toEqual([
      { entryId: disclosures.id, follows: true, dates: [{ entryId: objections.id, follows: '2027-04-07', byRule: '2027-04-23' }] },
    ])
    const after = applyAct(ordered, later, federal)
    expect(of(after, 'disclosure-objections').day).toBe('2027-04-07')
    expect(of(after, 'disclosure-objections').trace[0]!.text).toContain('“Pretrial disclosures” set by the court, Wed 24 Mar 2027')
  })
  it('and what a person chooses is what is done, and said in the trace', () => {
    const chosen: DocketAct = { ...later, chains: { [disclosures.id]: false } }
    const after = applyAct(ordered, chosen, federal)
    expect(of(after, 'disclosure-objections').day).toBe('2027-04-23')
    expect(of(after, 'disclosure-objections').trace[0]!.text).toContain('by its rule (set by the court for Wed 24 Mar 2027)')
  })
  it('a stipulation does not carry its chain along, unless that is chosen', () => {
    const agreed = applyAct(before, extend('hand'), federal)
    expect(of(applyAct(agreed, later, federal), 'disclosure-objections').day).toBe('2027-04-23')
    expect(of(applyAct(agreed, { ...later, chains: { [disclosures.id]: true } }, federal), 'disclosure-objections').day).toBe('2027-04-07')
  })
  it('says how it came to its day, and what the rule gives now', () => {
    const after = applyAct(ordered, later, federal)
    const kept = of(after, 'pretrial-disclosures')
    expect(kept).toMatchObject({ day: '2027-03-24', setBy: 'court', ruleDay: '2027-04-09' })
    expect(kept.trace.at(-1)!.text).toBe('The court set it for Wed 24 Mar 2027')
    expect(kept.trace[0]!.text).toContain('Tue 11 May 2027')
    expect(showHow(kept)).toBe('set by the court; by its rule, 30 calendar days before trial set, it would be Fri 9 Apr 2027')
  })
})

describe('what takes place on the day of a trigger itself', () => {
  const before = docketed(federal, [trigger(1, 'trial-set', '2027-04-20', { tentative: true })])
  it('is on the docket, moves with it, and never rolls', () => {
    expect(of(before, 'event')).toMatchObject({ day: '2027-04-20', tentative: true })
    const after = applyAct(before, move(1, '2027-05-15'), federal)
    expect(of(after, 'event')).toMatchObject({ day: '2027-05-15', tentative: false })
  })
})

describe('a date that was met', () => {
  const before = docketed(federal, [trigger(1, 'trial-set', '2027-04-20', { tentative: true })])
  const disclosures = of(before, 'pretrial-disclosures')
  it('on another day than it was due carries what is counted from it there', () => {
    const act: DocketAct = { kind: 'meet', entryId: disclosures.id, day: '2027-03-10' }
    const moved = differencesOf(before, act, federal).filter((d) => d.effect === 'moves')
    expect(moved.map((d) => [d.entry.key, d.becomes])).toEqual([['disclosure-objections', '2027-03-24']])
    const after = applyAct(before, act, federal)
    expect(of(after, 'pretrial-disclosures')).toMatchObject({ mark: 'met', metOn: '2027-03-10', day: disclosures.day })
    expect(undo(after, undoOf(before, after))).toEqual(before)
  })
  it('is tentative no longer once the court has set what it hangs on; nor is one that the court set', () => {
    const met = docketed(federal, [trigger(1, 'trial-set', '2027-04-20', { tentative: true })], (e) =>
      e.key === 'pretrial-disclosures'
        ? { mark: 'met' }
        : e.key === 'offer-of-judgment'
          ? { setBy: 'court', day: '2027-03-01', ruleDay: e.day }
          : {},
    )
    const after = applyAct(met, move(1, '2027-04-20'), federal)
    expect(after.entries.filter((e) => e.tentative)).toEqual([])
  })
})

describe('one date extended', () => {
  const before = docketed(state, [trigger(1, 'hearing-set', '2027-02-17', { service: 'hand' })])
  const opposition = of(before, 'motion-opposition')
  const extend = (chainFollows: boolean): DocketAct => ({
    kind: 'extend',
    entryId: opposition.id,
    day: addDays(opposition.day, 2),
    by: 'hand',
    chainFollows,
  })
  it('leaves what is counted from it, unless that is asked for', () => {
    // The day stays; the trace says that it is counted from a day that is not on the docket.
    const left = differencesOf(before, extend(false), state)
    expect(left.map((d) => [d.entry.key, d.effect])).toEqual([['motion-reply', 'recounted']])
    expect(left[0]!.entry.trace[0]!.text).toContain('“Opposition” by its rule (set by hand for')
    const reply = differencesOf(before, extend(true), state)
    expect(reply.map((d) => d.entry.key)).toEqual(['motion-reply'])
    expect(reply[0]!.entry.trace[0]!.text).toContain('“Opposition” set by hand')
    const after = applyAct(before, extend(true), state)
    expect(of(after, 'motion-opposition')).toMatchObject({ setBy: 'hand', ruleDay: opposition.day, day: addDays(opposition.day, 2) })
  })
})

describe('always', () => {
  const kinds = ['trial-set', 'judgment-entered', 'expert-disclosures-made', 'pretrial-disclosures-made', 'planning-conference-held']
  const day = fc.integer({ min: 0, max: 700 }).map((n) => addDays('2026-06-01', n))
  const docket = fc
    .tuple(
      fc.array(fc.tuple(fc.constantFrom(...kinds), day, fc.boolean()), { minLength: 2, maxLength: 5 }),
      fc.array(fc.integer({ min: 0, max: 11 }), { minLength: 40, maxLength: 40 }),
    )
    .map(([list, marks]) =>
      docketed(
        federal,
        list.map(([kind, on, tentative], i) => trigger(i + 1, kind, on, { tentative })),
        (e, n): Partial<Entry> => {
          const how = marks[n % marks.length]
          if (how === 0) return { mark: 'met' }
          if (how === 1) return { mark: 'vacated' }
          if (how === 2) return { setBy: 'court', day: addDays(e.day, 3), ruleDay: e.day }
          if (how === 3) return { setBy: 'hand', day: addDays(e.day, -2), ruleDay: e.day, chainFollows: true }
          if (how === 4) return { leftOut: true }
          return {}
        },
      ),
    )
  const act = (d: Docket) =>
    fc.oneof(
      fc.tuple(fc.constantFrom(...d.triggers), day, fc.boolean()).map(([t, on, tentative]) => move(t.id, on, { tentative })),
      fc.constantFrom(...d.triggers).map((t): DocketAct => ({ kind: 'remove', triggerId: t.id })),
      fc.constant<DocketAct>({ kind: 'facts', facts: ['us-party'] }),
      fc.tuple(fc.constantFrom(...kinds), day).map(([kind, on]): DocketAct => ({ kind: 'add', trigger: trigger(99, kind, on) })),
    )
  const titleOf = (key: string, d: Docket, e: Entry) => {
    const kind = d.triggers.find((t) => t.id === e.triggerId)?.kind
    return federal.ruleSet.deadlines.find((x) => x.trigger === kind && x.key === key)?.title
  }
  const acts = docket.chain((d) => fc.tuple(fc.constant(d), act(d), act(d)))

  it('applying and undoing returns the same docket', () => {
    fc.assert(
      fc.property(acts, ([before, one]) => {
        const after = applyAct(before, one, federal)
        expect(undo(after, undoOf(before, after))).toEqual(before)
      }),
      { numRuns: 60 },
    )
  })
  it('looking over many dockets in brief finds the same moves, counts kept or not', () => {
    const closed = calendarFor(federal.ruleSet, shippedHolidaySets, 'wexmoor', [
      { name: 'Storm', date: '2026-12-14', filingOnly: false },
      { name: 'Outage', date: '2027-03-01', filingOnly: true },
    ])
    const counts: DocketRules['counts'] = new Map()
    fc.assert(
      fc.property(docket, (before) => {
        const rules = { ruleSet: federal.ruleSet, calendar: closed }
        const moves = differencesOf(before, { kind: 'recount' }, rules).filter((d) => d.effect === 'moves')
        const ids = moves.map((d) => d.entryId).sort((a, b) => a - b)
        const sorted = (list: number[]) => list.sort((a, b) => a - b)
        expect(sorted(movedByRules(before, rules))).toEqual(ids)
        expect(sorted(movedByRules(before, { ...rules, counts }))).toEqual(ids)
        expect(differencesOf(before, { kind: 'recount' }, { ...rules, counts }).filter((d) => d.effect === 'moves')).toEqual(moves)
      }),
      { numRuns: 60 },
    )
  })
  it('no trace names a date from which it was counted on a day that the docket does not hold, without saying so', () => {
    fc.assert(
      fc.property(acts, ([before, one, two]) => {
        const after = [{ kind: 'recount' } as DocketAct, one, two].reduce((d, a) => applyAct(d, a, federal), before)
        for (const e of after.entries) {
          if (keptBecause(e) || e.triggerId === null) continue
          for (const step of e.trace) {
            const named = /^Counted from “(.+?)”/.exec(step.text)
            const base = named && after.entries.find((x) => x.triggerId === e.triggerId && x.key && titleOf(x.key, after, e) === named[1])
            if (!base || step.text.includes('by its rule (')) continue
            expect([base.leftOut, base.mark === 'vacated', base.metOn ?? base.day, step.text.includes(showDay(step.date))]).toEqual([
              false,
              false,
              step.date,
              true,
            ])
          }
        }
      }),
      { numRuns: 60 },
    )
  })
  it('a date that stays says how its rule counts now, also where that comes to the same day by another way', () => {
    const events = [1, 2].map((id) => trigger(id, 'pretrial-disclosures-made', '2026-06-01'))
    const met = docketed(federal, [...events, trigger(3, 'trial-set', '2026-06-01')], () => ({ mark: 'met' }))
    const after = applyAct(applyAct(met, move(1, '2026-06-05'), federal), move(2, '2026-06-06'), federal)
    const objections = after.entries.find((e) => e.key === 'disclosure-objections')!
    expect([objections.day, objections.trace[0]!.date]).toEqual(['2026-06-15', '2026-06-06'])
  })
  it('nothing that is kept ever moves', () => {
    fc.assert(
      fc.property(acts, ([before, one, two]) => {
        const after = applyAct(applyAct(before, one, federal), two, federal)
        for (const e of before.entries) {
          const now = after.entries.find((x) => x.id === e.id)
          if (keptBecause(e) && now) expect([now.day, now.mark, now.setBy]).toEqual([e.day, e.mark, e.setBy])
        }
      }),
      { numRuns: 60 },
    )
  })
  it('the order of changes to two triggers does not matter, and a change made twice changes nothing more', () => {
    fc.assert(
      fc.property(docket, day, day, (before, a, b) => {
        const [one, two] = [move(1, a), move(2, b)]
        const there = applyAct(applyAct(before, one, federal), two, federal)
        const back = applyAct(applyAct(before, two, federal), one, federal)
        // What is kept was certain once what it hung on was certain, and stays so, whatever that hangs on later: which way it came there may show.
        const settled = (d: typeof there) => d.entries.map((e) => (keptBecause(e) ? { ...e, tentative: false, provisional: false } : e))
        expect({ ...there, entries: settled(there) }).toEqual({ ...back, entries: settled(back) })
        expect(differencesOf(there, two, federal).filter((d) => d.effect !== 'kept')).toEqual([])
      }),
      { numRuns: 60 },
    )
  })
})
