import type { Difference, Docket, DocketAct, DocketRules, Entry, Trigger } from './docket'
import { showDay, type Day, type TraceStep } from '../calendar'
import type { RuleSet } from './rule-set'
import { followsBySelf, heldBases, setOtherwise, stayStep, withoutStay } from './chains'
import { isOpen } from './standing'
import { eventOf, workOutDates, type Proposal } from './work-out'

/** Why a date is not moved by its rule, or null. */
export function keptBecause(e: Pick<Entry, 'mark' | 'setBy'>): Difference['because'] {
  if (e.mark === 'met' || e.mark === 'waived' || e.mark === 'vacated') return e.mark
  return e.setBy === 'hand' ? 'set by hand' : e.setBy === 'court' ? 'set by the court' : null
}

/**
 * The dates of other events from which this trigger's deadlines may count: of each kind the one that answers this
 * trigger, or that this one answers, and else the latest.
 */
export function eventsFor(trigger: Trigger, triggers: readonly Trigger[]): { days: Record<string, Day>; tentative: string[] } {
  const best = new Map<string, Trigger>()
  const near = (t: Trigger) => t.answersId === trigger.id || trigger.answersId === t.id
  for (const t of triggers) {
    if (t.id === trigger.id || t.kind === trigger.kind) continue
    const other = best.get(t.kind)
    if (!other || (near(t) && !near(other)) || (near(t) === near(other) && (t.day > other.day || (t.day === other.day && t.id > other.id))))
      best.set(t.kind, t)
  }
  const chosen = [...best.values()]
  return {
    days: Object.fromEntries(chosen.map((t) => [t.kind, t.day])),
    tentative: chosen.filter((t) => t.tentative).map((t) => t.kind),
  }
}

/**
 * What is wrong with the day of an event next to the one that it answers, or that answers it, in words: a response comes on
 * the day of the set it answers or later. Null where nothing is.
 */
export function answersTooEarly(trigger: Pick<Trigger, 'id' | 'day' | 'answersId'>, triggers: readonly Trigger[]): string | null {
  const answered = triggers.find((t) => t.id === trigger.answersId)
  if (answered && trigger.day < answered.day)
    return `That is before what it answers, of ${showDay(answered.day)}. Check the day, or which set it answers`
  const response = triggers.filter((t) => t.answersId === trigger.id && t.day < trigger.day).sort((a, b) => (a.day < b.day ? -1 : 1))[0]
  return response ? `It was answered on ${showDay(response.day)}, before that day. Check the day, or take the response away first` : null
}

const otherEvents = new WeakMap<RuleSet, Map<string, string[]>>()
/** The kinds of other events from which the deadlines of a trigger may count. */
function otherEventsOf(set: RuleSet, kind: string): string[] {
  let ofSet = otherEvents.get(set)
  if (!ofSet) otherEvents.set(set, (ofSet = new Map()))
  let found = ofSet.get(kind)
  if (!found) {
    const legs = set.deadlines.filter((d) => d.trigger === kind)
    found = [
      ...new Set(legs.flatMap((d) => [d.provisionalUntil ?? '', ...d.legs.map((l) => (l.base.kind === 'event' ? l.base.key : ''))])),
    ].filter(Boolean)
    ofSet.set(kind, found)
  }
  return found
}

/** What the rules give for one trigger as the docket stands, what takes place on its day first: chains run through dates that were met or set to be followed. */
export function proposalsFor(docket: Docket, trigger: Trigger, rules: DocketRules): Proposal[] {
  const events = eventsFor(trigger, docket.triggers)
  const bases = heldBases(docket, trigger)
  const event = eventOf(rules.ruleSet, trigger.kind, trigger.day, trigger.tentative)
  const make = () => [
    ...(event ? [event] : []),
    ...workOutDates({
      ruleSet: rules.ruleSet,
      calendar: rules.calendar,
      trigger: trigger.kind,
      date: trigger.day,
      service: trigger.service,
      events: events.days,
      tentativeEvents: events.tentative,
      facts: docket.facts,
      tentative: trigger.tentative,
      bases,
    }),
  ]
  if (!rules.counts) return make()
  const known = otherEventsOf(rules.ruleSet, trigger.kind).map((k) => [k, events.days[k], events.tentative.includes(k)])
  const key = JSON.stringify([trigger.kind, trigger.day, trigger.service, trigger.tentative, docket.facts, known, bases])
  const kept = rules.counts.get(key) ?? make()
  rules.counts.set(key, kept)
  return kept
}

/** The docket after an act, its entries as yet where they were; `extend` and `meet` alone change their own entry. */
export function acted(docket: Docket, act: DocketAct): Docket {
  const after = actedOnly(docket, act)
  // A moved trigger asks anew from which day the chains of dates set otherwise run; all else leaves what was chosen.
  const asks = act.kind === 'change'
  if (!asks && !act.chains) return after
  const follows = (e: Entry) =>
    act.chains?.[e.id] ?? (asks && setOtherwise(e) && e.triggerId === act.triggerId ? followsBySelf(e) : e.chainFollows)
  return { ...after, entries: after.entries.map((e) => (follows(e) === e.chainFollows ? e : { ...e, chainFollows: follows(e) })) }
}

function actedOnly(docket: Docket, act: DocketAct): Docket {
  switch (act.kind) {
    case 'add':
      return { ...docket, triggers: [...docket.triggers, act.trigger], facts: act.facts ?? docket.facts }
    case 'change':
      return {
        ...docket,
        triggers: docket.triggers.map((t) =>
          t.id === act.triggerId ? { ...t, day: act.day, tentative: act.tentative, service: act.service, label: act.label } : t,
        ),
      }
    case 'remove':
      return { ...docket, triggers: docket.triggers.filter((t) => t.id !== act.triggerId) }
    case 'facts':
      return { ...docket, facts: act.facts }
    case 'extend':
      return {
        ...docket,
        entries: docket.entries.map((e) =>
          e.id === act.entryId
            ? {
                ...e,
                day: act.day,
                beforeRoll: null,
                setBy: act.by,
                chainFollows: act.chainFollows,
                ruleDay: e.setBy === 'rule' ? e.day : e.ruleDay,
                trace: [...withoutStay(e.trace), stayStep({ ...e, day: act.day, setBy: act.by, trace: [] }, act.sum)],
              }
            : e,
        ),
      }
    case 'meet':
      return {
        ...docket,
        entries: docket.entries.map((e) => (e.id === act.entryId ? { ...e, mark: 'met' as const, metOn: act.day, tentative: false } : e)),
      }
    case 'recount':
      return docket
  }
}

function counted(docket: Docket, rules: DocketRules | null, only?: ReadonlySet<number>): Map<number, Proposal | null> {
  const byEntry = new Map<number, Proposal | null>()
  if (!rules) return byEntry
  for (const trigger of docket.triggers) {
    const own = docket.entries.filter((e) => e.triggerId === trigger.id && e.key && (!only || only.has(e.id)))
    if (!own.length) continue
    const proposals = new Map(proposalsFor(docket, trigger, rules).map((p) => [p.key, p]))
    for (const e of own) byEntry.set(e.id, proposals.get(e.key!) ?? null)
  }
  return byEntry
}

/** A docket in which what a changed fact brings in or drops is so already, so that what is counted from it says how it stands. */
function withFacts(after: Docket, before: Docket, act: DocketAct, rules: DocketRules | null, only?: ReadonlySet<number>): Docket {
  if (after.facts === before.facts || (act.kind !== 'facts' && act.kind !== 'add')) return after
  const [was, now] = [counted(before, rules, only), counted(after, rules, only)]
  const turned = (e: Entry) => {
    const [a, b] = [was.get(e.id)?.applies, now.get(e.id)?.applies]
    return a !== undefined && b !== undefined && a !== b && b === e.leftOut && e.mark !== 'met' && e.mark !== 'vacated'
  }
  return { ...after, entries: after.entries.map((e) => (turned(e) ? { ...e, leftOut: !e.leftOut } : e)) }
}

/** The deadlines of an earlier trigger that a response closes. */
function closedBy(docket: Docket, act: DocketAct, rules: DocketRules | null): Set<number> {
  const answered = act.kind === 'add' ? act.trigger.answersId : null
  const closes = act.kind === 'add' ? rules?.ruleSet.triggers.find((t) => t.key === act.trigger.kind)?.answers?.closes : undefined
  return new Set(docket.entries.filter((e) => answered && e.triggerId === answered && closes?.includes(e.key!)).map((e) => e.id))
}

/**
 * What an act would do to every date of the matter, through all chains, before it takes effect. Dates set by hand or by
 * the court, and those met, waived or vacated, are kept; they are listed where the rule now gives another day than before.
 * Throws RangeError where the act names a trigger that the rules do not have. Without
 * rules nothing but the act itself takes effect. With `only`, no other dates are looked at.
 */
export function differencesOf(docket: Docket, act: DocketAct, rules: DocketRules | null, only?: ReadonlySet<number>): Difference[] {
  const after = withFacts(acted(docket, act), docket, act, rules, only)
  const gone = act.kind === 'remove' ? act.triggerId : null
  const now = counted(after, rules, only)
  // What the rules gave before is asked for only where a kept date, or a fact, makes it matter.
  let known: Map<number, Proposal | null> | null = null
  const before = (id: number) => (known ??= counted(docket, rules, only)).get(id)
  const closed = closedBy(docket, act, rules)
  const differences: Difference[] = []
  const entryAfter = after.entries === docket.entries ? null : new Map(after.entries.map((e) => [e.id, e]))
  for (const was of docket.entries) {
    if (was.triggerId === null || !was.key) continue
    const entry = entryAfter?.get(was.id) ?? was
    if (was.triggerId === gone) {
      differences.push({ entryId: was.id, effect: 'goes', because: null, was: was.day, becomes: null, entry: was })
      continue
    }
    if ((act.kind === 'extend' || act.kind === 'meet') && act.entryId === was.id) continue
    const p = now.get(was.id)
    // A deadline that is no longer in the rules stays where it is until someone decides on it.
    if (!p) continue
    const because = keptBecause(entry)
    const applied = now.get(was.id)!.applies === !was.leftOut || act.kind === 'recount' ? undefined : before(was.id)?.applies
    if (applied !== undefined && applied !== p.applies && p.applies === was.leftOut && because !== 'met' && because !== 'vacated') {
      const effect = p.applies ? 'comes in' : 'drops out'
      const as = because || !p.date ? {} : { day: p.date, trace: p.trace, howCounted: p.howCounted, beforeRoll: p.beforeRoll }
      const turned = { ...entry, ...as, leftOut: !p.applies }
      differences.push({ entryId: was.id, effect, because: null, was: was.day, becomes: turned.day, entry: turned })
      continue
    }
    if (closed.has(was.id) && isOpen(was.mark)) {
      differences.push({
        entryId: was.id,
        effect: 'closes',
        because: null,
        was: was.day,
        becomes: was.day,
        entry: { ...entry, mark: 'met', metOn: act.kind === 'add' ? act.trigger.day : null, tentative: false },
      })
      continue
    }
    if (because) {
      const gave = act.kind !== 'recount' ? (before(was.id)?.date ?? null) : entry.setBy === 'rule' ? entry.day : entry.ruleDay
      const moved = p.date !== null && p.date !== gave
      const kept = keptAs(entry, p, moved)
      if (moved) differences.push({ entryId: was.id, effect: 'kept', because, was: was.day, becomes: p.date, entry: kept })
      else if (kept.tentative !== was.tentative || kept.provisional !== was.provisional || !sameTrace(kept.trace, was.trace))
        differences.push({ entryId: was.id, effect: 'recounted', because, was: was.day, becomes: was.day, entry: kept })
      continue
    }
    if (!p.date) continue
    const moved = p.date !== was.day
    const firmed = p.provisional !== was.provisional || p.tentative !== was.tentative
    if (!moved && !firmed && p.howCounted === was.howCounted && sameTrace(p.trace, was.trace)) continue
    differences.push({
      entryId: was.id,
      effect: moved ? 'moves' : 'recounted',
      because: null,
      was: was.day,
      becomes: p.date,
      entry: {
        ...entry,
        day: p.date,
        beforeRoll: p.beforeRoll,
        provisional: p.provisional,
        tentative: p.tentative,
        howCounted: p.howCounted,
        trace: p.trace,
      },
    })
  }
  return differences.sort((a, b) => order(a) - order(b) || byDay(a.becomes ?? a.was, b.becomes ?? b.was) || a.entryId - b.entryId)
}

/**
 * A date that stays, as it stands afterwards: what its rule now gives, with the steps that lead there and the last one that
 * says why it stays; and no longer tentative or provisional once what it hangs on is certain. What was met before is left as it
 * was done, unless its rule gives another day now, or gave one before: what it says then is how its rule counts now.
 */
function keptAs(entry: Entry, p: Proposal, moved: boolean): Entry {
  const certain = { tentative: entry.tentative && p.tentative, provisional: entry.provisional && p.provisional }
  const toldOtherwise = withoutStay(entry.trace).length < entry.trace.length
  if (entry.setBy === 'rule' && !moved && !toldOtherwise) return { ...entry, ...certain }
  return {
    ...entry,
    ...certain,
    ruleDay: entry.setBy === 'rule' ? entry.ruleDay : (p.date ?? entry.ruleDay),
    howCounted: entry.setBy === 'rule' ? entry.howCounted : p.howCounted,
    trace: [...p.trace, stayStep(entry)],
  }
}

/**
 * The entries that counting anew would move: those for which `differencesOf` with `recount` says `moves`, and nothing of what
 * they would become. For looking over very many dockets.
 */
export function movedByRules(docket: Docket, rules: DocketRules, only: (e: Entry) => boolean = () => true): number[] {
  const moved: number[] = []
  for (const trigger of docket.triggers) {
    const own = docket.entries.filter((e) => e.triggerId === trigger.id && e.key && !keptBecause(e) && only(e))
    if (!own.length) continue
    const proposals = proposalsFor(docket, trigger, rules)
    for (const e of own) {
      const date = proposals.find((p) => p.key === e.key)?.date
      if (date && date !== e.day) moved.push(e.id)
    }
  }
  return moved
}

const order = (d: Difference) => (d.effect === 'recounted' ? 1 : 0)
const byDay = (a: Day, b: Day) => (a < b ? -1 : a > b ? 1 : 0)
const sameTrace = (a: readonly TraceStep[], b: readonly TraceStep[]) =>
  a.length === b.length && a.every((t, i) => t.text === b[i]!.text && t.date === b[i]!.date)

/**
 * The docket after an act with the differences that were taken; what was not taken stays on its day and counts as set by
 * hand from then on, so that it stays visible that the rule says otherwise. Left-out dates always follow.
 */
export function applyAct(docket: Docket, act: DocketAct, rules: DocketRules | null, taken: 'all' | ReadonlySet<number> = 'all'): Docket {
  const differences = new Map(differencesOf(docket, act, rules).map((d) => [d.entryId, d]))
  const after = acted(docket, act)
  return {
    ...after,
    entries: after.entries.flatMap((e) => {
      const d = differences.get(e.id)
      if (!d) return [e]
      if (d.effect === 'goes') return []
      const asked = d.effect === 'moves' || d.effect === 'closes' || d.effect === 'comes in' || d.effect === 'drops out'
      if (!asked || taken === 'all' || taken.has(e.id) || (d.effect === 'moves' && e.leftOut)) return [d.entry]
      if (d.effect !== 'moves') return [e]
      return [{ ...e, setBy: 'hand' as const, ruleDay: d.becomes, tentative: d.entry.tentative }]
    }),
  }
}

/** A deadline that the rules give for a trigger and the docket does not have. */
export interface Missing {
  triggerId: number
  proposal: Proposal
}

/**
 * What the rules now give for the triggers of a matter and the docket does not have yet: firm practice added since, a leg
 * whose event came in. Only what applies and falls on `from` or later; `had` names what was docketed once and taken away,
 * as `trigger id:deadline key`.
 */
export function missingOf(docket: Docket, rules: DocketRules, from: Day, had: ReadonlySet<string> = new Set()): Missing[] {
  const there = new Set(docket.entries.map((e) => `${e.triggerId}:${e.key}`))
  return docket.triggers.flatMap((trigger) =>
    proposalsFor(docket, trigger, rules)
      .filter((p) => p.applies && p.date !== null && p.date >= from)
      .filter((p) => !there.has(`${trigger.id}:${p.key}`) && !had.has(`${trigger.id}:${p.key}`))
      .map((proposal) => ({ triggerId: trigger.id, proposal })),
  )
}
