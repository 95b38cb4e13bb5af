import type { CourtCalendar, Day, TraceStep } from '@heron/core/calendar'
import { calendarFor, type Docket, type Entry, type RuleSet, type Trigger } from '@heron/core/docket'
import type { EntityManager } from 'typeorm'
import { rows, run } from '../platform/database'
import { courtIn, holidaySets, ruleSets } from '../platform/rule-sets'

/** A day on which a court is closed beyond its rules. */
export interface Closure {
  name: string
  date: Day
  /** Only the clerk's office cannot be reached: puts off filing, and nothing else. */
  filingOnly: boolean
}

const calendars = new WeakMap<RuleSet, Map<string, CourtCalendar>>()

/** The days on which a court is closed, by its rule set; federal courts where a matter has no rules. */
export type CourtCalendars = (ruleSetKey: string | null, district?: string | null, more?: readonly Closure[]) => CourtCalendar

function calendarOf(set: RuleSet, district: string | null, closures: Closure[]): CourtCalendar {
  const key = JSON.stringify([district, closures])
  const ofSet = calendars.get(set) ?? new Map<string, CourtCalendar>()
  calendars.set(set, ofSet)
  let known = ofSet.get(key)
  if (!known) {
    if (ofSet.size > 30) ofSet.clear()
    known = calendarFor(set, holidaySets, district, closures)
    ofSet.set(key, known)
  }
  return known
}

/**
 * The calendars of all courts, asked for once for whatever needs several: with what the firm knows of closures; `district` brings in
 * the local holidays that count forward only.
 */
export async function courtCalendars(m: EntityManager): Promise<CourtCalendars> {
  const sets = await ruleSets(m)
  const kept = await rows<{ name: string; date: Day; filingOnly: number; key: string | null }>(
    m,
    `SELECT name, day AS date, filing_only AS filingOnly, rule_set_key AS \`key\` FROM court_closure ORDER BY day, id`,
  )
  const asked = new Map<string, CourtCalendar>()
  return (ruleSetKey, district = null, more = []) => {
    const set = courtIn(sets, ruleSetKey)
    const at = `${set.key} ${district}`
    const before = more.length ? undefined : asked.get(at)
    if (before) return before
    const own = kept.filter((c) => c.key === null || c.key === set.key)
    const found = calendarOf(set, district, [
      ...own.map(({ name, date, filingOnly }) => ({ name, date, filingOnly: Boolean(filingOnly) })),
      ...more,
    ])
    if (!more.length) asked.set(at, found)
    return found
  }
}

/** The calendar of one court, as `courtCalendars` has it. */
export const courtCalendarOf = async (
  m: EntityManager,
  ruleSetKey: string | null,
  district: string | null = null,
  more: readonly Closure[] = [],
): Promise<CourtCalendar> => (await courtCalendars(m))(ruleSetKey, district, more)

export interface EntryState extends Entry {
  title: string
  weight: 'strict' | 'rule' | 'court order' | 'firm practice' | 'appointment'
  authority: string
  responsibleId: number | null
}

/** A docket with what its dates are called. */
export interface DocketState extends Docket {
  entries: EntryState[]
}

export type Matter = { id: number; facts: string; ruleSetKey: string | null }

type Flag = 'chainFollows' | 'leftOut' | 'provisional' | 'tentative'

/**
 * Dockets as counting sees them: what was counted by each matter's present rules, and nothing that was taken away. Words and
 * traces are long; where many dockets are read to see what moves, they are left away: `counts` has neither, `words` no traces. With `triggers` only dates that hang on these are read.
 */
export async function docketStatesOf(
  m: EntityManager,
  matters: readonly Matter[],
  how: { lock?: boolean; read?: 'counts' | 'words' | 'all'; triggers?: readonly number[] } = {},
): Promise<Map<number, DocketState>> {
  const out = new Map<number, DocketState>()
  if (!matters.length) return out
  const ids = matters.map((x) => x.id)
  const locked = how.lock ? 'FOR UPDATE' : ''
  const read = how.read ?? 'all'
  const words =
    read === 'counts'
      ? ''
      : `, before_roll AS beforeRoll, how_counted AS howCounted, title, weight, authority, responsible_id AS responsibleId${read === 'all' ? ', trace' : ''}`
  const triggers = await rows<Omit<Trigger, 'tentative'> & { tentative: number; ruleSetKey: string; matterId: number }>(
    m,
    `SELECT matter_id AS matterId, id, kind, label, day, service, tentative, answers_id AS answersId, rule_set_key AS ruleSetKey FROM trigger_event WHERE matter_id IN (?) AND removed_at IS NULL ORDER BY id ${locked}`,
    [ids],
  )
  const entries = await rows<Omit<EntryState, Flag | 'trace'> & Record<Flag, number> & { trace?: string; matterId: number }>(
    m,
    `SELECT matter_id AS matterId, id, trigger_id AS triggerId, deadline_key AS \`key\`, day, set_by AS setBy, chain_follows AS chainFollows, rule_day AS ruleDay, mark, met_on AS metOn,
            left_out AS leftOut, provisional, tentative${words}
       FROM docket_entry WHERE matter_id IN (?) AND removed_at IS NULL ${how.triggers ? 'AND trigger_id IN (?)' : ''} ${read === 'counts' ? '' : 'ORDER BY id'} ${locked}`,
    how.triggers ? [ids, [0, ...how.triggers]] : [ids],
  )
  for (const { id, facts } of matters) out.set(id, { facts: JSON.parse(facts) as string[], triggers: [], entries: [] })
  const sets = await ruleSets(m)
  const setOf = new Map(matters.map((x) => [x.id, sets.get(x.ruleSetKey ?? '')?.set]))
  for (const { ruleSetKey, matterId, ...t } of triggers) {
    const set = setOf.get(matterId)
    const kind = ruleSetKey === set?.key ? set.triggers.find((k) => k.key === t.kind) : undefined
    // Without words of its own a trigger is called by its kind.
    if (kind) out.get(matterId)!.triggers.push({ ...t, label: t.label === kind.title ? '' : t.label, tentative: Boolean(t.tentative) })
  }
  for (const { matterId, ...e } of entries)
    out.get(matterId)!.entries.push({
      ...e,
      chainFollows: Boolean(e.chainFollows),
      leftOut: Boolean(e.leftOut),
      provisional: Boolean(e.provisional),
      tentative: Boolean(e.tentative),
      trace: e.trace ? (JSON.parse(e.trace) as TraceStep[]) : [],
    })
  return out
}

/** Several dates in one statement; the day on which one was placed is kept while the day is the same. */
export const writeEntryRows = (
  m: EntityManager,
  columns: Readonly<Record<string, { sql: string; values: (string | number | boolean | null)[] }>>,
  day: { sql: string; values: (string | number | boolean | null)[] },
  today: Day,
  part: Entry[],
) =>
  run(
    m,
    // A day that changes stands there from today on; this comes first, while the row still has the old day.
    `UPDATE docket_entry SET placed_on = IF(day <=> (${day.sql}), placed_on, ?), ${Object.entries(columns)
      .map(([name, c]) => `${name} = ${c.sql}`)
      .join(', ')}, removed_at = NULL WHERE id IN (?)`,
    [...day.values, today, ...Object.values(columns).flatMap((c) => c.values), part.map((e) => e.id)],
  )
