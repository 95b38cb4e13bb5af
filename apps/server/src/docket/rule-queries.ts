import type { Day } from '@heron/core/calendar'
import { practicePrefix, type RuleDeadline, type RuleFault, type RuleSet, withPractice } from '@heron/core/docket'
import { readRuleSet, writeRuleSet } from '@heron/core/formats'
import type { EntityManager } from 'typeorm'
import { type Ctx, isoOf } from '../platform/context'
import { row, rows } from '../platform/database'
import { notFound } from '../platform/problem'
import { holidaySets, type KnownRuleSet, ruleSets } from '../platform/rule-sets'
import { type Effect, effectsOn } from './effects'
import { rulesOf } from './state'

/** A rule set by its key, or the refusal that there is none. */
export async function requireRules(m: EntityManager, key: string): Promise<KnownRuleSet> {
  const found = (await ruleSets(m)).get(key)
  if (!found) throw notFound('rule set')
  return found
}

/** Rule sets with by how many open matters each is used. */
export async function listRules(ctx: Ctx) {
  const m = ctx.db.manager
  const used = await rows<{ key: string; n: number }>(
    m,
    `SELECT rule_set_key AS \`key\`, COUNT(*) AS n FROM matter WHERE closed_on IS NULL AND rule_set_key IS NOT NULL GROUP BY rule_set_key`,
  )
  return [...(await ruleSets(m)).values()].map(({ set, court, practice, own }) => ({
    key: set.key,
    title: set.title,
    court: set.court,
    jurisdiction: set.jurisdiction,
    kind: set.kind,
    edition: set.edition,
    own,
    triggers: set.triggers.length,
    deadlines: court.deadlines.length,
    practice: practice.length,
    matters: used.find((u) => u.key === set.key)?.n ?? 0,
  }))
}

/** A rule set as a book: triggers, deadlines, holidays, and the editions it had. */
export async function ruleBook(ctx: Ctx, key: string) {
  const m = ctx.db.manager
  const { set, court, practice, own } = await requireRules(m, key)
  const editions = await rows<{ part: 'set' | 'practice'; no: number; note: string; by: string; at: string }>(
    m,
    `SELECT e.part, e.no, e.note, u.name AS \`by\`, e.created_at AS at FROM rule_set_edition e JOIN user_account u ON u.id = e.created_by WHERE e.rule_set_key = ? ORDER BY e.id DESC LIMIT 100`,
    [key],
  )
  return {
    key,
    own,
    edition: set.edition,
    no: await lastEdition(m, key, 'set'),
    file: writeRuleSet(court),
    practice: JSON.stringify(practice),
    editions: editions.map((e) => ({ ...e, at: isoOf(e.at) })),
    holidaySets: [...holidaySets, ...(court.holidaySets ?? [])].map((h) => ({ key: h.key, title: h.title })),
  }
}

const named = (d: RuleDeadline) => `${d.trigger} ${d.key} ${d.inForce?.from ?? ''}`

/** What a file would change against the edition in force here. */
function against(now: RuleSet, set: RuleSet) {
  const before = new Map(now.deadlines.map((d) => [named(d), d]))
  const after = new Map(set.deadlines.map((d) => [named(d), d]))
  const inOrder = (d: RuleDeadline) =>
    JSON.stringify([
      d.title,
      d.text,
      d.authority.cite,
      d.authority.link,
      d.weight,
      d.legs,
      d.combine,
      d.serviceExtends,
      d.filing,
      d.appliesWhen,
      d.provisionalUntil,
      d.inForce,
    ])
  return {
    added: set.deadlines.filter((d) => !before.has(named(d))).map((d) => d.title),
    changed: set.deadlines.filter((d) => before.has(named(d)) && inOrder(before.get(named(d))!) !== inOrder(d)).map((d) => d.title),
    gone: now.deadlines.filter((d) => !after.has(named(d))).map((d) => d.title),
  }
}

/** What is wrong with a file here: within itself, with the sets that ship, and with the firm's own dates on top of it. */
export async function readHere(m: EntityManager, file: string): Promise<{ set: RuleSet | null; faults: RuleFault[] }> {
  const { set, faults } = readRuleSet(file, holidaySets)
  if (!set) return { set, faults }
  const now = (await ruleSets(m)).get(set.key)
  if (now && !now.own)
    return { set: null, faults: [{ where: 'key', what: `“${set.key}” ships with the application; give your set a key of its own` }] }
  const firms = set.deadlines.findIndex((d) => d.key.startsWith(practicePrefix))
  if (firms >= 0)
    return {
      set: null,
      faults: [
        {
          where: `deadlines[${firms + 1}]`,
          what: `Keys that begin with “${practicePrefix}” are kept for the firm’s own dates on top of a court’s`,
        },
      ],
    }
  const together = now?.practice.length ? readRuleSet(JSON.stringify(withPractice(set, now.practice)), holidaySets).faults : []
  if (together.length)
    return {
      set: null,
      faults: together.map((f) => ({
        where: 'the firm’s own dates on top',
        what: `${f.where}: ${f.what}. Change or take them away first.`,
      })),
    }
  return { set, faults: [] }
}

/** What is wrong with a file of rules, and what taking it would change for open matters. */
export async function checkRules(ctx: Ctx, file: string) {
  const m = ctx.db.manager
  const { set, faults } = await readHere(m, file)
  if (!set) return { faults, warnings: [], found: null }
  const now = (await ruleSets(m)).get(set.key)
  const kinds = set.triggers.map((t) => t.key)
  const orphans = await rows<{ kind: string; n: number }>(
    m,
    `SELECT t.kind, COUNT(DISTINCT t.matter_id) AS n FROM trigger_event t JOIN matter m ON m.id = t.matter_id AND m.closed_on IS NULL WHERE t.rule_set_key = ? AND t.removed_at IS NULL AND t.kind NOT IN (?) GROUP BY t.kind`,
    [set.key, kinds.length ? kinds : ['']],
  )
  return {
    faults,
    warnings: orphans.map(
      (o) =>
        `${o.n} open ${o.n === 1 ? 'matter has' : 'matters have'} the event “${o.kind}”, which is no longer in the set; its dates stay and follow nothing`,
    ),
    found: {
      key: set.key,
      title: set.title,
      court: set.court,
      edition: set.edition,
      triggers: set.triggers.length,
      deadlines: set.deadlines.length,
      no: await lastEdition(m, set.key, 'set'),
      against: now ? against(now.court, set) : null,
    },
  }
}

/** Whoever changes rules waits for whoever does so already: each sees the other's edition, and none is lost. */
export const oneAtATime = (m: EntityManager) => row(m, `SELECT 1 FROM firm FOR UPDATE`)

/** The number of the latest edition of a set, or of the firm's own dates on top of it; 0 before the first. */
export async function lastEdition(m: EntityManager, key: string, part: 'set' | 'practice', lock: '' | 'FOR UPDATE' = ''): Promise<number> {
  const last = await row<{ no: number }>(
    m,
    `SELECT COALESCE(MAX(no), 0) AS no FROM rule_set_edition WHERE rule_set_key = ? AND part = ? ${lock}`,
    [key, part],
  )
  return last!.no
}

/** What stands in the way of removing a set of rules. */
export const rulesInUse = (m: EntityManager, key: string) =>
  row<{ what: string }>(
    m,
    `SELECT 'matters' AS what FROM matter WHERE rule_set_key = ? UNION SELECT 'practice areas' FROM practice_area WHERE rule_set_key = ? UNION SELECT 'closed days' FROM court_closure WHERE rule_set_key = ? LIMIT 1`,
    [key, key, key],
  )

/** Days on which a court is closed beyond its rules. */
export const closedDaysFor = (m: EntityManager, key: string) =>
  rows<{ name: string; date: Day; filingOnly: number }>(
    m,
    `SELECT name, day AS date, filing_only AS filingOnly FROM court_closure WHERE rule_set_key IS NULL OR rule_set_key = ?`,
    [key],
  )

/** What the rules in force count otherwise than open dockets have it, and what they add that still lies ahead. */
export async function effectsOf(m: EntityManager, ctx: Ctx, key: string, taking: boolean): Promise<Effect[]> {
  const matters = await rows<{ id: number }>(
    m,
    `SELECT m.id FROM matter m WHERE m.rule_set_key = ? AND m.closed_on IS NULL AND EXISTS (SELECT 1 FROM trigger_event t WHERE t.matter_id = m.id AND t.removed_at IS NULL)`,
    [key],
  )
  const rules = new Map([[key, { ...(await rulesOf(m, key)), counts: new Map() }]])
  return effectsOn(
    m,
    ctx,
    matters.map((x) => x.id),
    rules,
    { taking, addsFrom: ctx.clock.today() },
  )
}
