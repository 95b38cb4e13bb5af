import type { Day } from '@heron/core/calendar'
import {
  applyAct,
  differencesOf,
  missingOf,
  movedByRules,
  type Difference,
  type Docket,
  type DocketRules,
  type Entry,
  type Missing,
} from '@heron/core/docket'
import type { EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { historyOf, keepChange, noteHistory, shownDifferences, writeDocket } from './change'
import { docketMissing } from './entering'
import { takenAway } from './entry-queries'
import { docketStateOf } from './state'
import { docketStatesOf, type DocketState } from './state-queries'
import { type EffectMatter, mattersTouched } from './trigger-queries'

/** What a change of rules or of closed days does to one matter. */
export interface Effect {
  matter: EffectMatter
  state: DocketState
  moves: Difference[]
  missing: Missing[]
}

/**
 * What the rules as given count otherwise than the dockets of these matters have it. `only`: no other dates are looked at,
 * all of them dates of `triggers`.
 * All dockets are read in brief; words, traces and locks are asked for only where something changes.
 */
export async function effectsOn(
  m: EntityManager,
  ctx: Ctx,
  matterIds: readonly number[],
  rules: ReadonlyMap<string, DocketRules>,
  how: { taking: boolean; triggers?: readonly number[]; only?: (e: Entry) => boolean; addsFrom?: Day },
): Promise<Effect[]> {
  if (!matterIds.length) return []
  const matters = await mattersTouched(m, ctx, matterIds)
  const had = how.addsFrom ? await takenAway(m, matterIds) : new Set<string>()
  const ownOf = (matter: EffectMatter) => rules.get(matter.ruleSetKey)!
  const brief = await docketStatesOf(m, matters, { read: 'counts', ...(how.triggers ? { triggers: how.triggers } : {}) })
  const changed = matters.filter((matter) => {
    const state = brief.get(matter.id)!
    const adds = () => how.addsFrom && missingOf(state, ownOf(matter), how.addsFrom, had).length
    return movedByRules(state, ownOf(matter), how.only).length || adds()
  })
  const states = await docketStatesOf(m, changed, { read: how.taking ? 'all' : 'words', lock: how.taking })
  return changed.flatMap((matter): Effect[] => {
    const state = states.get(matter.id)!
    const only = how.only && new Set(state.entries.filter(how.only).map((e) => e.id))
    const moves = differencesOf(state, { kind: 'recount' }, ownOf(matter), only).filter((d) => d.effect === 'moves')
    const missing = how.addsFrom ? missingOf(state, ownOf(matter), how.addsFrom, had) : []
    return moves.length || missing.length ? [{ matter, state, moves, missing }] : []
  })
}

/** Of a matter from which the reader is screened nothing is told, not even that it has dates; it follows all the same. */
export const seenOf = (effects: readonly Effect[]) => effects.filter((e) => e.matter.seen)
export const movesOf = (effects: readonly Effect[]) => effects.reduce((n, e) => n + e.moves.length, 0)
export const addsOf = (effects: readonly Effect[]) => effects.reduce((n, e) => n + e.missing.length, 0)

export const shownEffect = (e: Effect) => ({
  matterId: e.matter.id,
  number: e.matter.number,
  name: e.matter.name,
  differences: shownDifferences(e.state, e.moves),
})

/** Carries the effects out: only what moves is written, other counts stay as they were taken; each matter can undo its own. */
export async function takeEffects(
  m: EntityManager,
  ctx: Ctx,
  effects: readonly Effect[],
  rules: ReadonlyMap<string, DocketRules>,
  why: string,
) {
  for (const effect of effects) {
    const { matter, state, moves, missing } = effect
    const own = rules.get(matter.ruleSetKey)!
    const counted = applyAct(state, { kind: 'recount' }, own)
    const moving = new Set(moves.map((d) => d.entryId))
    const after: Docket = {
      ...state,
      entries: state.entries.map((e) => (moving.has(e.id) ? counted.entries.find((x) => x.id === e.id)! : e)),
    }
    await writeDocket(m, ctx, matter, state, after)
    await noteHistory(m, ctx, historyOf(state, after, why))
    await docketMissing(m, ctx, effect, own, why)
    await keepChange(m, ctx, matter.id, why, state, missing.length ? await docketStateOf(m, matter, true) : after)
    const said = [moves.length ? `${moves.length} moved` : '', missing.length ? `${missing.length} added` : ''].filter(Boolean).join(', ')
    await audit(m, ctx, { kind: 'moved', text: `${why}; dates: ${said}`, matterId: matter.id, subject: 'trigger' })
  }
}
