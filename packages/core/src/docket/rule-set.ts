import type { Day, Direction, HolidayRule, Roll, Unit } from '../calendar'

/** How heavy a duty is; `strict`: the court cannot enlarge it beyond what the rule itself allows. */
export const weights = ['strict', 'rule', 'court order', 'firm practice', 'appointment'] as const
export type Weight = (typeof weights)[number]

/** What a leg is counted from. */
export type Base =
  | { kind: 'trigger' }
  /** Another deadline of the same trigger: its final date, or the date before it was rolled. */
  | { kind: 'deadline'; key: string; moment: 'final' | 'before-roll' }
  /** Another trigger event of the matter; the leg is skipped while that event is unknown. */
  | { kind: 'event'; key: string }

export interface Leg {
  base: Base
  count: number
  unit: Unit
  direction: Direction
  roll: Roll
}

export interface RuleDeadline {
  key: string
  trigger: string
  title: string
  /** What must be done, in full. */
  text: string
  authority: { cite: string; link?: string }
  weight: Weight
  legs: Leg[]
  /** Needed where there is more than one leg. */
  combine?: 'earliest' | 'latest'
  serviceExtends: boolean
  /** A fact of the matter, or its absence with `not: true`. */
  appliesWhen?: { fact: string; not: boolean }
  /** Counted from what a party does; provisional until the trigger of that name is entered. */
  provisionalUntil?: string
  /** Span of trigger dates for which this row is in force. */
  inForce?: { from?: Day; to?: Day }
}

export interface TriggerKind {
  key: string
  title: string
  /** Place in the order of a case. */
  order: number
  asksService: boolean
  /** A response: the kind of trigger it answers, and the deadlines of that one which it closes. */
  answers?: { trigger: string; closes: string[] }
}

export interface ServiceMethod {
  key: string
  title: string
  count: number
  unit: 'day' | 'courtDay'
}

/** A named list of holidays and closures, shared by rule sets. */
export interface HolidaySet {
  key: string
  title: string
  rules: HolidayRule[]
}

/** The rules of one court, as data. The JSON Schema of this format is `rule-set.schema.json`. */
export interface RuleSet {
  format: 'astute-heron/rule-set'
  formatVersion: 1
  key: string
  title: string
  edition: string
  jurisdiction: string
  court: string
  kind: string
  timeZone: string
  /** When the day ends: midnight for electronic filing, closing time otherwise (`HH:MM`). */
  dayEnds: { electronic: 'midnight'; otherwise: string }
  counting: {
    shortPeriodUnder: number | null
    service: { added: 'before-roll' | 'after-roll'; backward: boolean }
    roll: 'open-day'
  }
  /** Keys of holiday sets that close the court for every count. */
  holidays: string[]
  /** Holiday sets by district that count forward only. */
  districtHolidays: Record<string, string[]>
  services: ServiceMethod[]
  facts: { key: string; question: string }[]
  triggers: TriggerKind[]
  deadlines: RuleDeadline[]
}

/** The rows in force for a trigger on its date. */
export function deadlinesInForce(set: RuleSet, trigger: string, date: Day): RuleDeadline[] {
  return set.deadlines.filter(
    (d) => d.trigger === trigger && (!d.inForce?.from || d.inForce.from <= date) && (!d.inForce?.to || d.inForce.to >= date),
  )
}

/** What is wrong within a rule set that the schema cannot see; empty when it holds together. */
export function faultsOf(set: RuleSet, holidaySets: HolidaySet[]): string[] {
  const faults: string[] = []
  const triggers = new Set(set.triggers.map((t) => t.key))
  const facts = new Set(set.facts.map((f) => f.key))
  const known = new Set(holidaySets.map((h) => h.key))
  for (const key of [...set.holidays, ...Object.values(set.districtHolidays).flat()])
    if (!known.has(key)) faults.push(`Holiday set “${key}” is not known`)
  for (const t of set.triggers) {
    if (!t.answers) continue
    const known = set.deadlines.filter((d) => d.trigger === t.answers!.trigger).map((d) => d.key)
    if (!triggers.has(t.answers.trigger)) faults.push(`${t.key}: answers “${t.answers.trigger}”, which is not in the set`)
    for (const key of t.answers.closes) if (!known.includes(key)) faults.push(`${t.key}: closes “${key}”, which that trigger does not have`)
  }
  for (const d of set.deadlines) {
    if (!triggers.has(d.trigger)) faults.push(`${d.key}: trigger “${d.trigger}” is not in the set`)
    if (d.legs.length > 1 && !d.combine) faults.push(`${d.key}: several legs need “combine”`)
    if (d.appliesWhen && !facts.has(d.appliesWhen.fact)) faults.push(`${d.key}: fact “${d.appliesWhen.fact}” is not in the set`)
    const siblings = set.deadlines.filter((x) => x.trigger === d.trigger).map((x) => x.key)
    for (const leg of d.legs)
      if (leg.base.kind === 'deadline' && !siblings.includes(leg.base.key))
        faults.push(`${d.key}: counts from “${leg.base.key}”, which its trigger does not have`)
  }
  return faults
}
