import { shippedHolidaySets, shippedRuleSets, withPractice, type RuleDeadline, type RuleSet } from '@heron/core/docket'
import type { DataSource, EntityManager } from 'typeorm'
import { fieldFault } from './problem'
import { lastOfRules, rulesUpTo } from './queries'

/** The rules of one court as they are in force here, with the firm's own dates on top. */
export interface KnownRuleSet {
  set: RuleSet
  /** As the court has it, without the firm's own dates. */
  court: RuleSet
  practice: RuleDeadline[]
  /** Written or imported by the firm, rather than shipped. */
  own: boolean
}

export type RuleSets = ReadonlyMap<string, KnownRuleSet>

const read = new WeakMap<DataSource, { last: number; sets: RuleSets }>()

/** All rule sets: those shipped, and the firm's. Read again only when another edition was saved, by whichever server. */
export async function ruleSets(m: EntityManager): Promise<RuleSets> {
  const last = (await lastOfRules(m))!.last
  const before = read.get(m.connection)
  if (before?.last === last) return before.sets
  const kept = last ? await rulesUpTo(m, last) : []
  const courts = [
    ...shippedRuleSets.map((set) => ({ set, own: false })),
    ...kept.flatMap((k) => (k.part === 'set' && k.body ? [{ set: JSON.parse(k.body) as RuleSet, own: true }] : [])),
  ]
  const sets = new Map(
    courts.map(({ set, own }) => {
      const added = kept.find((k) => k.part === 'practice' && k.key === set.key)
      const practice = added?.body ? (JSON.parse(added.body) as RuleDeadline[]) : []
      const edition = practice.length ? `${set.edition}, firm ${added!.no}` : set.edition
      return [set.key, { set: { ...withPractice(set, practice), edition }, court: set, practice, own }] as const
    }),
  )
  read.set(m.connection, { last, sets })
  return sets
}

export async function ruleSetOf(m: EntityManager, key: string | null): Promise<RuleSet> {
  const found = key === null ? undefined : (await ruleSets(m)).get(key)
  if (!found) throw fieldFault('ruleSetKey', 'This matter has no court rules. Choose a rule set on its file first.')
  return found.set
}

/** The court by whose days is counted; federal courts where a matter has no rules. */
export const courtIn = (sets: RuleSets, key: string | null): RuleSet =>
  (key === null ? undefined : sets.get(key)?.set) ?? shippedRuleSets[0]!
export const courtOf = async (m: EntityManager, key: string | null): Promise<RuleSet> => courtIn(await ruleSets(m), key)

/** Refuses a rule set that is not known. */
export async function knownRuleSet(m: EntityManager, key: string | null, field = 'ruleSetKey', say = 'Choose a rule set'): Promise<void> {
  if (key && !(await ruleSets(m)).has(key)) throw fieldFault(field, say)
}

export const holidaySets = shippedHolidaySets
