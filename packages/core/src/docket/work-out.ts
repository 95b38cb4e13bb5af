import {
  capital,
  countPeriod,
  courtCalendar,
  showDay,
  showPeriod,
  type Counted,
  type CountingRules,
  type CourtCalendar,
  type Day,
  type HolidayRule,
  type TraceStep,
} from '../calendar'
import { deadlinesInForce, eventKey, type HolidaySet, type Leg, type RuleDeadline, type RuleSet, type Weight } from './rule-set'

export interface WorkOutInput {
  ruleSet: RuleSet
  /** The court's calendar where it is at hand; else it is built from the holiday sets, the district and the closures. */
  calendar?: CourtCalendar
  holidaySets?: HolidaySet[]
  trigger: string
  date: Day
  /** Key of the method of service, or null where none was named. */
  service: string | null
  /** Dates of the matter's other trigger events, latest of each kind. */
  events: Record<string, Day>
  /** Facts of the matter that hold. */
  facts: string[]
  /** District whose local holidays count forward; null for none. */
  district?: string | null
  /** Closures of the court that the firm has added. */
  closures?: { name: string; date: Day; filingOnly: boolean }[]
  tentative?: boolean
  /** Kinds of the events whose dates are only expected. */
  tentativeEvents?: string[]
  /** Deadlines of this trigger that stand otherwise than the rule gives them. */
  bases?: Record<string, HeldBase>
}

/** How a deadline stands from which others are counted: on which day, why, and whether they follow it there. */
export interface HeldBase {
  /** Null where the docket does not hold it at all. */
  date: Day | null
  why: string
  follows: boolean
}

/** A deadline as worked out, not yet on any calendar. */
export interface Proposal {
  key: string
  title: string
  text: string
  authority: string
  link: string | null
  weight: Weight
  /** Null when no leg could be counted. */
  date: Day | null
  beforeRoll: Day | null
  /** `30 calendar days after interrogatories served`. */
  howCounted: string
  /** Whether the facts of the matter make it apply; those that do not are proposed as left out. */
  applies: boolean
  provisional: boolean
  tentative: boolean
  notes: string[]
  trace: TraceStep[]
  /** Keys of the deadlines and events it was counted from. */
  countedFrom: string[]
}

/** The calendar by which a rule set counts, for a district and with closures added by the firm. */
export function calendarFor(
  ruleSet: Pick<RuleSet, 'holidays' | 'districtHolidays' | 'holidaySets'>,
  holidaySets: readonly HolidaySet[],
  district: string | null,
  closures: { name: string; date: Day; filingOnly: boolean }[] = [],
): CourtCalendar {
  const rulesOf = (keys: string[]) =>
    keys.flatMap((k) => [...(ruleSet.holidaySets ?? []), ...holidaySets].find((h) => h.key === k)?.rules ?? [])
  const single = (filingOnly: boolean): HolidayRule[] =>
    closures.filter((c) => c.filingOnly === filingOnly).map((c) => ({ kind: 'single' as const, name: c.name, date: c.date }))
  return courtCalendar([
    { rules: rulesOf(ruleSet.holidays), counts: 'both' },
    { rules: rulesOf(district ? (ruleSet.districtHolidays[district] ?? []) : []), counts: 'forward' },
    { rules: single(false), counts: 'both' },
    { rules: single(true), counts: 'forward', extends: 'filing' },
  ])
}

const titles = new WeakMap<RuleSet, ReadonlyMap<string, string>>()
/** The titles of the triggers as they stand within a sentence. */
function titlesOf(set: RuleSet): ReadonlyMap<string, string> {
  const found = titles.get(set) ?? new Map(set.triggers.map((t) => [t.key, t.title.toLowerCase()]))
  titles.set(set, found)
  return found
}

/**
 * What takes place on the day of a trigger itself, such as the trial whose date was set: it is that very day and never rolls,
 * since a court's own date stays. Null where the trigger fixes nothing of the kind.
 */
export function eventOf(ruleSet: RuleSet, trigger: string, date: Day, tentative: boolean): Proposal | null {
  const kind = ruleSet.triggers.find((t) => t.key === trigger)
  if (!kind?.event) return null
  const { title, text, weight, authority } = kind.event
  return {
    key: eventKey,
    title,
    text: text ?? '',
    authority: authority?.cite ?? '',
    link: authority?.link ?? null,
    weight,
    date,
    beforeRoll: date,
    howCounted: '',
    applies: true,
    provisional: false,
    tentative,
    notes: tentative ? ['The trigger date is tentative'] : [],
    trace: [{ text: `${title} on ${showDay(date)}${tentative ? ', as expected; the court has not set it' : ''}`, date }],
    countedFrom: [trigger],
  }
}

/**
 * Every deadline that follows from a trigger event, in order of date, each with its trace.
 * Throws RangeError when the trigger or the service is not one of the rule set, or chains form a circle.
 */
export function workOutDates(input: WorkOutInput): Proposal[] {
  const { ruleSet } = input
  const kind = ruleSet.triggers.find((t) => t.key === input.trigger)
  if (!kind) throw new RangeError(`“${input.trigger}” is not a trigger of ${ruleSet.title}`)
  const method = input.service ? ruleSet.services.find((s) => s.key === input.service) : null
  if (input.service && !method) throw new RangeError(`“${input.service}” is not a method of service in ${ruleSet.title}`)
  const rules: CountingRules = {
    calendar: input.calendar ?? calendarFor(ruleSet, input.holidaySets ?? [], input.district ?? null, input.closures),
    shortPeriodUnder: ruleSet.counting.shortPeriodUnder,
  }
  const rows = deadlinesInForce(ruleSet, input.trigger, input.date)
  const rowOf = new Map(rows.map((r) => [r.key, r]))
  const done = new Map<string, Proposal>()
  const open = new Set<string>()

  const titleOfTrigger = (key: string) => titlesOf(ruleSet).get(key) ?? key

  function resolve(key: string): Proposal {
    const known = done.get(key)
    if (known) return known
    if (open.has(key)) throw new RangeError(`${key} is counted from itself`)
    const row = rowOf.get(key)
    if (!row) throw new RangeError(`${key} is not in force on ${input.date}`)
    open.add(key)
    const proposal = propose(row)
    open.delete(key)
    done.set(key, proposal)
    return proposal
  }

  function baseOf(row: RuleDeadline, leg: Leg): { date: Day | null; name: string; from: string } {
    const made = row.provisionalUntil ? input.events[row.provisionalUntil] : undefined
    if (made && leg.base.kind === 'deadline')
      return { date: made, name: titleOfTrigger(row.provisionalUntil!), from: row.provisionalUntil! }
    switch (leg.base.kind) {
      case 'trigger':
        return { date: input.date, name: kind!.title.toLowerCase(), from: input.trigger }
      case 'event':
        return { date: input.events[leg.base.key] ?? null, name: titleOfTrigger(leg.base.key), from: leg.base.key }
      case 'deadline': {
        const other = resolve(leg.base.key)
        const held = input.bases?.[leg.base.key]
        if (held?.date && held.follows) return { date: held.date, name: `“${other.title}” ${held.why}`, from: leg.base.key }
        const date = leg.base.moment === 'final' ? other.date : other.beforeRoll
        // The day used is on no docket: said here, so that nobody looks for it there.
        const stands =
          held && held.date !== other.date ? ` by its rule (${held.date ? `${held.why} for ${showDay(held.date)}` : held.why})` : ''
        return { date, name: `“${other.title}”${stands}`, from: leg.base.key }
      }
    }
  }

  function countLeg(row: RuleDeadline, leg: Leg): { counted: Counted | null; note: string | null; name: string; from: string } {
    const base = baseOf(row, leg)
    const { name, from } = base
    if (!base.date) return { counted: null, note: `${capital(name)} is not entered; that leg is skipped`, name, from }
    const helps = row.serviceExtends && method && (leg.direction === 'after' || ruleSet.counting.service.backward)
    const service = helps ? { ...method, added: ruleSet.counting.service.added } : null
    return { counted: countPeriod(base.date, name, leg, rules, service, row.filing), note: null, name, from }
  }

  function propose(row: RuleDeadline): Proposal {
    const legs = row.legs.map((leg) => ({ leg, ...countLeg(row, leg) }))
    const counted = legs.flatMap((l) => (l.counted ? [{ ...l.counted, from: l.from }] : []))
    const chosen = counted.reduce<(typeof counted)[number] | null>((best, c) => {
      if (!best) return c
      return (row.combine === 'latest' ? c.date > best.date : c.date < best.date) ? c : best
    }, null)
    const notes = legs.flatMap((l) => (l.note ? [l.note] : []))
    const trace = counted.flatMap((c) => c.trace)
    if (counted.length > 1 && chosen) trace.push({ text: `The ${row.combine} of these is ${showDay(chosen.date)}`, date: chosen.date })
    const applies = !row.appliesWhen || input.facts.includes(row.appliesWhen.fact) !== row.appliesWhen.not
    if (!applies) {
      const fact = ruleSet.facts.find((f) => f.key === row.appliesWhen!.fact)
      notes.push(`Applies ${row.appliesWhen!.not ? 'unless' : 'only where'} ${fact?.question ?? row.appliesWhen!.fact}`)
    }
    const since = row.provisionalUntil && !input.events[row.provisionalUntil] ? row.provisionalUntil : null
    if (since) notes.push(`Provisional until “${titleOfTrigger(since)}” is entered with its real date`)
    const expected = legs.map((l) => l.from).filter((k) => input.tentativeEvents?.includes(k))
    if (input.tentative) notes.push('The trigger date is tentative')
    else if (expected.length) notes.push(`Counted from “${titleOfTrigger(expected[0]!)}”, which is tentative`)
    return {
      key: row.key,
      title: row.title,
      text: row.text,
      authority: row.authority.cite,
      link: row.authority.link ?? null,
      weight: row.weight,
      date: chosen?.date ?? null,
      beforeRoll: chosen?.beforeRoll ?? null,
      howCounted: legs
        .map((l) => (l.leg.count === 0 ? `the day of ${l.name}` : `${showPeriod(l.leg)} ${l.name}`))
        .join(row.combine === 'latest' ? ', or if later ' : ', or if earlier '),
      applies,
      provisional: Boolean(since),
      tentative: Boolean(input.tentative) || expected.length > 0,
      notes,
      trace,
      countedFrom: [...new Set(legs.map((l) => l.from))],
    }
  }

  return rows
    .map((row) => resolve(row.key))
    .sort((a, b) => ((a.date ?? '9999') < (b.date ?? '9999') ? -1 : (a.date ?? '9999') > (b.date ?? '9999') ? 1 : 0))
}
