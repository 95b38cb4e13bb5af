import type { Day } from '../calendar'
import { setOtherwise } from './chains'
import { acted, keptBecause, proposalsFor } from './change'
import type { Docket, DocketAct, DocketRules } from './docket'

/** The outcomes for what is counted from a date that was set otherwise than its rule gives. */
export interface ChainOutcome {
  entryId: number
  /** Whether the chain follows the day set, as chosen or by itself. */
  follows: boolean
  /** The dates that depend on the choice: on which day each falls either way. */
  dates: { entryId: number; follows: Day | null; byRule: Day | null }[]
}

/**
 * The dates from which chains could run in two ways after an act, with both outcomes side by side: for every date of a trigger
 * that stands otherwise than its rule gives, what is counted from it, where the choice makes a difference.
 */
export function chainOutcomes(docket: Docket, act: DocketAct, rules: DocketRules | null): ChainOutcome[] {
  if (!rules || act.kind === 'recount' || act.kind === 'facts') return []
  const after = acted(docket, act)
  return after.entries.filter(setOtherwise).flatMap((base): ChainOutcome[] => {
    const trigger = after.triggers.find((t) => t.id === base.triggerId)
    if (!trigger) return []
    const way = (follows: boolean) => {
      const chosen = { ...after, entries: after.entries.map((e) => (e.id === base.id ? { ...e, chainFollows: follows } : e)) }
      return new Map(proposalsFor(chosen, trigger, rules).map((p) => [p.key, p.date]))
    }
    const [following, byRule] = [way(true), way(false)]
    const dates = after.entries
      .filter((e) => e.triggerId === trigger.id && e.key && e.id !== base.id && !keptBecause(e) && !e.leftOut)
      .map((e) => ({ entryId: e.id, follows: following.get(e.key!) ?? null, byRule: byRule.get(e.key!) ?? null }))
      .filter((d) => d.follows !== d.byRule)
    return dates.length ? [{ entryId: base.id, follows: base.chainFollows, dates }] : []
  })
}
