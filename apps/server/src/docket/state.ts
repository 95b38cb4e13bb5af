import type { Day, TraceStep } from '@heron/core/calendar'
import {
  calendarFor,
  shippedHolidaySets,
  shippedRuleSets,
  type Docket,
  type DocketRules,
  type Entry,
  type RuleSet,
  type Trigger,
} from '@heron/core/docket'
import type { CourtCalendar } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { row, rows, run } from '../platform/database'
import { fieldFault } from '../platform/problem'

export function ruleSetOf(key: string | null): RuleSet {
  const set = shippedRuleSets.find((s) => s.key === key)
  if (!set) throw fieldFault('ruleSetKey', 'This matter has no court rules. Choose a rule set on its file first.')
  return set
}

const calendars = new Map<string, CourtCalendar>()

/**
 * The days on which a court is closed, with what the firm knows of closures; `district` brings in the local holidays that
 * count forward only. Federal courts where a matter has no rules.
 */
export async function courtCalendarOf(m: EntityManager, ruleSetKey: string | null, district: string | null = null): Promise<CourtCalendar> {
  const set = shippedRuleSets.find((r) => r.key === ruleSetKey) ?? shippedRuleSets[0]!
  const closures = await rows<{ name: string; date: Day; filingOnly: number }>(
    m,
    `SELECT name, day AS date, filing_only AS filingOnly FROM court_closure WHERE rule_set_key IS NULL OR rule_set_key = ? ORDER BY day, id`,
    [set.key],
  )
  const key = JSON.stringify([set.key, set.edition, district, closures])
  let known = calendars.get(key)
  if (!known) {
    if (calendars.size > 60) calendars.clear()
    known = calendarFor(
      set,
      shippedHolidaySets,
      district,
      closures.map((c) => ({ ...c, filingOnly: Boolean(c.filingOnly) })),
    )
    calendars.set(key, known)
  }
  return known
}

export async function districtOf(m: EntityManager): Promise<string | null> {
  return (await row<{ district: string | null }>(m, `SELECT district FROM firm`))?.district ?? null
}

export async function rulesOf(m: EntityManager, ruleSetKey: string | null): Promise<DocketRules> {
  return { ruleSet: ruleSetOf(ruleSetKey), calendar: await courtCalendarOf(m, ruleSetKey, await districtOf(m)) }
}

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

/** A matter's docket as counting sees it: what was counted by the matter's present rules, and nothing that was taken away. */
export async function docketStateOf(
  m: EntityManager,
  matter: { id: number; facts: string; ruleSetKey: string | null },
  lock = false,
): Promise<DocketState> {
  const locked = lock ? 'FOR UPDATE' : ''
  const set = shippedRuleSets.find((s) => s.key === matter.ruleSetKey)
  const triggers = await rows<Omit<Trigger, 'tentative'> & { tentative: number; ruleSetKey: string }>(
    m,
    `SELECT id, kind, label, day, service, tentative, answers_id AS answersId, rule_set_key AS ruleSetKey FROM trigger_event WHERE matter_id = ? AND removed_at IS NULL ORDER BY id ${locked}`,
    [matter.id],
  )
  const counts = triggers.filter((t) => t.ruleSetKey === set?.key && set.triggers.some((k) => k.key === t.kind))
  const entries = await rows<
    Omit<EntryState, 'chainFollows' | 'leftOut' | 'provisional' | 'tentative' | 'trace'> &
      Record<'chainFollows' | 'leftOut' | 'provisional' | 'tentative', number> & { trace: string }
  >(
    m,
    `SELECT id, trigger_id AS triggerId, deadline_key AS \`key\`, day, before_roll AS beforeRoll, set_by AS setBy, chain_follows AS chainFollows, rule_day AS ruleDay, mark,
            left_out AS leftOut, provisional, tentative, how_counted AS howCounted, trace, title, weight, authority, responsible_id AS responsibleId
       FROM docket_entry WHERE matter_id = ? AND removed_at IS NULL ORDER BY id ${locked}`,
    [matter.id],
  )
  return {
    facts: JSON.parse(matter.facts) as string[],
    triggers: counts.map(({ ruleSetKey: _key, ...t }) => ({
      ...t,
      // Without words of its own a trigger is called by its kind.
      label: t.label === set!.triggers.find((k) => k.key === t.kind)!.title ? '' : t.label,
      tentative: Boolean(t.tentative),
    })),
    entries: entries.map((e) => ({
      ...e,
      chainFollows: Boolean(e.chainFollows),
      leftOut: Boolean(e.leftOut),
      provisional: Boolean(e.provisional),
      tentative: Boolean(e.tentative),
      trace: JSON.parse(e.trace) as TraceStep[],
    })),
  }
}

/** Writes what counting decides of entries, many at once. */
export async function writeEntries(m: EntityManager, entries: readonly Entry[], today: Day): Promise<void> {
  for (let at = 0; at < entries.length; at += 100) {
    const part = entries.slice(at, at + 100)
    const pick = (of: (e: Entry) => string | number | boolean | null) => ({
      sql: `CASE id ${part.map(() => 'WHEN ? THEN ?').join(' ')} END`,
      values: part.flatMap((e) => [e.id, of(e)]),
    })
    const columns = {
      day: pick((e) => e.day),
      before_roll: pick((e) => e.beforeRoll),
      set_by: pick((e) => e.setBy),
      chain_follows: pick((e) => e.chainFollows),
      rule_day: pick((e) => e.ruleDay),
      left_out: pick((e) => e.leftOut),
      provisional: pick((e) => e.provisional),
      tentative: pick((e) => e.tentative),
      how_counted: pick((e) => e.howCounted.slice(0, 300)),
      trace: pick((e) => JSON.stringify(e.trace)),
      mark: pick((e) => e.mark),
    }
    await run(
      m,
      // A day that changes stands there from today on; this comes first, while the row still has the old day.
      `UPDATE docket_entry SET placed_on = IF(day <=> (${columns.day.sql}), placed_on, ?), ${Object.entries(columns)
        .map(([name, c]) => `${name} = ${c.sql}`)
        .join(', ')}, removed_at = NULL WHERE id IN (?)`,
      [...columns.day.values, today, ...Object.values(columns).flatMap((c) => c.values), part.map((e) => e.id)],
    )
  }
}
