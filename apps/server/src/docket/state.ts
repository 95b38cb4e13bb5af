import type { Day } from '@heron/core/calendar'
import type { DocketRules, Entry } from '@heron/core/docket'
import type { EntityManager } from 'typeorm'
import { ruleSetOf } from '../platform/rule-sets'
import { Firm } from '../platform/shared-entities'
import { type Closure, courtCalendarOf, type DocketState, docketStatesOf, type Matter, writeEntryRows } from './state-queries'

export async function districtOf(m: EntityManager): Promise<string | null> {
  return (await m.findOne(Firm, { select: { district: true, id: true }, where: { id: 1 } }))?.district ?? null
}

export async function rulesOf(m: EntityManager, ruleSetKey: string | null, more: readonly Closure[] = []): Promise<DocketRules> {
  return { ruleSet: await ruleSetOf(m, ruleSetKey), calendar: await courtCalendarOf(m, ruleSetKey, await districtOf(m), more) }
}

export const docketStateOf = async (m: EntityManager, matter: Matter, lock = false): Promise<DocketState> =>
  (await docketStatesOf(m, [matter], { lock })).get(matter.id)!

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
      met_on: pick((e) => e.metOn),
    }
    await writeEntryRows(m, columns, columns.day, today, part)
  }
}
