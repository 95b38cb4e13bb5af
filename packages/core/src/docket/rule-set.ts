import { daysOfRule, isDay, showPeriod, type Day, type Direction, type HolidayRule, type Roll, type Unit } from '../calendar'

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
  /** Done by filing: put off while the clerk's office cannot be reached (Fed. R. Civ. P. 6(a)(3)). */
  filing?: boolean
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
  /** Whether it is asked which party it concerns: who was served, whose pleading it is. */
  asksParty?: boolean
  /** Whether it says that the party was served with what began the case. */
  servesParty?: boolean
  /** It fixes something that takes place on its day (a trial, a hearing), which goes onto docket and calendars itself. */
  event?: { title: string; text?: string; weight: Weight; authority?: { cite: string; link?: string } }
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
    /** The rule by which a day on which the clerk’s office cannot be reached puts off filing, and nothing else. */
    unreachable?: { cite: string; link?: string }
  }
  /** Keys of holiday sets that close the court for every count. */
  holidays: string[]
  /** Holiday sets by district that count forward only. */
  districtHolidays: Record<string, string[]>
  services: ServiceMethod[]
  facts: { key: string; question: string }[]
  /** Holidays of its own, besides those that ship with the application. */
  holidaySets?: HolidaySet[]
  triggers: TriggerKind[]
  deadlines: RuleDeadline[]
}

/** Key of what takes place on the day of a trigger itself; no deadline of that trigger may have it. */
export const eventKey = 'event'

/** The rows in force for a trigger on its date. */
export function deadlinesInForce(set: RuleSet, trigger: string, date: Day): RuleDeadline[] {
  return set.deadlines.filter(
    (d) => d.trigger === trigger && (!d.inForce?.from || d.inForce.from <= date) && (!d.inForce?.to || d.inForce.to >= date),
  )
}

/** What the rules call a date of a trigger, its event included; null for one that they do not have. */
export const titleOfDate = (set: RuleSet, trigger: string, key: string): string | null =>
  (key === eventKey ? set.triggers.find((t) => t.key === trigger)?.event?.title : undefined) ??
  set.deadlines.find((d) => d.trigger === trigger && d.key === key)?.title ??
  null

const rollText: Record<Roll, string> = {
  default: '',
  forward: ', moved on when the court is closed',
  back: ', moved back when the court is closed',
  none: ', not moved when the court is closed',
}

/** How a deadline is counted, in words: `14 calendar days after “Answer”, or if earlier 21 calendar days after complaint served`. */
export function showCounting(set: Pick<RuleSet, 'triggers' | 'deadlines'>, d: RuleDeadline): string {
  const event = (key: string) => set.triggers.find((t) => t.key === key)?.title.toLowerCase() ?? key
  const other = (key: string) => `“${set.deadlines.find((x) => x.trigger === d.trigger && x.key === key)?.title ?? key}”`
  const from = (base: Base) =>
    base.kind === 'trigger'
      ? event(d.trigger)
      : base.kind === 'event'
        ? event(base.key)
        : `${other(base.key)}${base.moment === 'before-roll' ? ' before it was moved' : ''}`
  return d.legs
    .map((leg) => `${leg.count === 0 ? `the day of ${from(leg.base)}` : `${showPeriod(leg)} ${from(leg.base)}`}${rollText[leg.roll]}`)
    .join(d.combine === 'latest' ? ', or if later ' : ', or if earlier ')
}

/** How a court counts, in plain sentences. */
export function showCourtCounting(set: RuleSet): string[] {
  const { shortPeriodUnder, service } = set.counting
  const adds = set.services.filter((s) => s.count > 0)
  return [
    shortPeriodUnder === null
      ? 'Every day of a period counts, weekends and holidays too.'
      : `Periods of calendar days under ${shortPeriodUnder} count court days.`,
    adds.length
      ? `Days for service are added ${service.added === 'after-roll' ? 'after the period would otherwise end' : 'before the last day is moved'}${service.backward ? ', in the direction of the count' : ', never when counting back'}.`
      : 'No method of service adds days.',
    `The day ends at midnight for electronic filing, else at ${set.dayEnds.otherwise}, ${set.timeZone.replace(/_/g, ' ')} time.`,
  ]
}

/** Keys of a firm's own dates on top of a court's rules begin so; no court's do. */
export const practicePrefix = 'firm-'

/** A key made from a title, not among those taken: `Draft answer, to the client` gives `draft-answer-to-the-client`. */
export function keyFromTitle(title: string, taken: readonly string[], prefix = ''): string {
  const slug = title
    .normalize('NFKD')
    .toLowerCase()
    .split(/[^a-z0-9]+/)
    .filter(Boolean)
    .join('-')
    .slice(0, 44)
    .replace(/-$/, '')
  const key = `${prefix}${slug || 'entry'}`
  for (let n = 1; ; n += 1) {
    const at = n === 1 ? key : `${key}-${n}`
    if (!taken.includes(at)) return at
  }
}

/** A court's rules with a firm's own dates on top; they count from its triggers and deadlines like any other. */
export function withPractice(set: RuleSet, practice: readonly RuleDeadline[]): RuleSet {
  return practice.length ? { ...set, deadlines: [...set.deadlines, ...practice] } : set
}

/** Something wrong with a rule set, and where in its file: `deadlines[3] (answer) › legs[1]`. */
export interface RuleFault {
  where: string
  what: string
}

const overlap = (a: RuleDeadline['inForce'], b: RuleDeadline['inForce']) =>
  (a?.from ?? '') <= (b?.to ?? '9999') && (b?.from ?? '') <= (a?.to ?? '9999')

function repeated(list: readonly { key: string }[], name: string): RuleFault[] {
  const seen = new Set<string>()
  return list.flatMap((x, i) => {
    const again = seen.has(x.key)
    seen.add(x.key)
    return again ? [{ where: `${name}[${i + 1}] (${x.key})`, what: 'This key stands in the list already' }] : []
  })
}

function faultsOfHolidays(set: RuleSet, known: readonly HolidaySet[]): RuleFault[] {
  const own = set.holidaySets ?? []
  const faults = repeated(own, 'holidaySets')
  const keys = new Set([...known, ...own].map((h) => h.key))
  for (const key of [...set.holidays, ...Object.values(set.districtHolidays).flat()])
    if (!keys.has(key)) faults.push({ where: 'holidays', what: `The holiday set “${key}” is neither in the file nor known here` })
  own.forEach((h, i) => {
    if (known.some((k) => k.key === h.key))
      faults.push({ where: `holidaySets[${i + 1}] (${h.key})`, what: 'A set with this key is known already; give it another' })
    h.rules.forEach((rule, j) => {
      const at = `holidaySets[${i + 1}] (${h.key}) › rules[${j + 1}] (${rule.name})`
      if (rule.kind === 'recess' && rule.fromMonth * 100 + rule.fromDay > rule.toMonth * 100 + rule.toDay)
        faults.push({ where: at, what: 'A recess over the turn of the year is two rules, one for each year' })
      if (rule.kind === 'single' && !isDay(rule.date)) faults.push({ where: at, what: `${rule.date} is no day` })
      try {
        // A leap year and the three after it: a day that not every year has is found in one of them.
        for (const year of [2024, 2025, 2026, 2027]) daysOfRule({ ...rule, fromYear: undefined, toYear: undefined } as HolidayRule, year)
      } catch {
        faults.push({ where: at, what: 'There is no such day in every year' })
      }
    })
  })
  return faults
}

/**
 * Deadlines that are counted from themselves, through others or at once, and those between two such rounds. What counts from
 * nothing in question, or has nothing counted from it, is taken away until nothing more can be: what is left goes round.
 */
function circles(rows: readonly RuleDeadline[]): Set<RuleDeadline> {
  const byName = new Map<string, RuleDeadline[]>()
  for (const d of rows) byName.set(`${d.trigger} ${d.key}`, [...(byName.get(`${d.trigger} ${d.key}`) ?? []), d])
  const from = new Map<RuleDeadline, RuleDeadline[]>()
  const to = new Map<RuleDeadline, RuleDeadline[]>(rows.map((d) => [d, []]))
  for (const d of rows) {
    const bases = d.legs.flatMap((l) => (l.base.kind === 'deadline' ? (byName.get(`${d.trigger} ${l.base.key}`) ?? []) : []))
    from.set(d, bases)
    for (const base of bases) to.get(base)!.push(d)
  }
  const left = new Set(rows)
  const free = (d: RuleDeadline) => !from.get(d)!.some((x) => left.has(x)) || !to.get(d)!.some((x) => left.has(x))
  const look = rows.filter(free)
  for (let d = look.pop(); d; d = look.pop()) {
    if (!left.delete(d)) continue
    for (const near of [...from.get(d)!, ...to.get(d)!]) if (left.has(near) && free(near)) look.push(near)
  }
  return left
}

function faultsOfDeadline(set: RuleSet, d: RuleDeadline, where: string): RuleFault[] {
  const faults: RuleFault[] = []
  const say = (what: string, at = '') => faults.push({ where: `${where}${at}`, what })
  const has = (key: string) => set.triggers.some((t) => t.key === key)
  if (d.key === eventKey && set.triggers.some((t) => t.key === d.trigger && t.event))
    say(`“${eventKey}” is what takes place on the day of the trigger; give this deadline another key`)
  if (!has(d.trigger)) say(`The trigger “${d.trigger}” is not in the set`)
  if (d.legs.length > 1 && !d.combine) say('Several legs need “combine”: the earliest or the latest of them')
  if (d.appliesWhen && !set.facts.some((f) => f.key === d.appliesWhen!.fact)) say(`The fact “${d.appliesWhen.fact}” is not in the set`)
  if (d.provisionalUntil && !has(d.provisionalUntil)) say(`It is provisional until “${d.provisionalUntil}”, which is no trigger of the set`)
  for (const day of [d.inForce?.from, d.inForce?.to]) if (day && !isDay(day)) say(`${day} is no day`, ' › inForce')
  if (d.inForce?.from && d.inForce.to && d.inForce.from > d.inForce.to) say('It ends before it begins', ' › inForce')
  d.legs.forEach((leg, i) => {
    const { base } = leg
    const at = ` › legs[${i + 1}]`
    if (base.kind === 'event' && !has(base.key)) say(`It counts from the event “${base.key}”, which is no trigger of the set`, at)
    if (base.kind !== 'deadline') return
    const bases = set.deadlines.filter((x) => x.trigger === d.trigger && x.key === base.key)
    if (!bases.length) say(`It counts from “${base.key}”, which its trigger does not have`, at)
    else if (!bases.some((x) => overlap(x.inForce, d.inForce))) say(`It counts from “${base.key}”, which is never in force with it`, at)
  })
  return faults
}

/**
 * What is wrong within a rule set that the schema cannot see, each with its place; empty when it holds together.
 * `known`: holiday sets that are there without the file bringing them.
 */
export function faultsOf(set: RuleSet, known: readonly HolidaySet[]): RuleFault[] {
  const faults = [
    ...faultsOfHolidays(set, known),
    ...repeated(set.triggers, 'triggers'),
    ...repeated(set.services, 'services'),
    ...repeated(set.facts, 'facts'),
  ]
  try {
    new Intl.DateTimeFormat('en', { timeZone: set.timeZone })
  } catch {
    faults.push({ where: 'timeZone', what: `“${set.timeZone}” is no time zone; give one like America/New_York` })
  }
  set.triggers.forEach((t, i) => {
    if (!t.answers) return
    const where = `triggers[${i + 1}] (${t.key})`
    const known = set.deadlines.filter((d) => d.trigger === t.answers!.trigger).map((d) => d.key)
    if (!set.triggers.some((x) => x.key === t.answers!.trigger))
      faults.push({ where, what: `It answers “${t.answers.trigger}”, which is not in the set` })
    for (const key of t.answers.closes)
      if (!known.includes(key)) faults.push({ where, what: `It closes “${key}”, which that trigger does not have` })
  })
  const round = circles(set.deadlines)
  set.deadlines.forEach((d, i) => {
    const where = `deadlines[${i + 1}] (${d.key})`
    faults.push(...faultsOfDeadline(set, d, where))
    if (round.has(d)) faults.push({ where, what: 'It is counted from itself, through others or at once' })
    if (set.deadlines.some((x, j) => j < i && x.trigger === d.trigger && x.key === d.key && overlap(x.inForce, d.inForce)))
      faults.push({ where, what: 'Two rows with this key are in force at the same time; give each its span, or another key' })
  })
  return faults
}
