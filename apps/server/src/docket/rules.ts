import { readRuleSet, ruleSetSchema, writeRuleSet } from '@heron/core/formats'
import {
  calendarFor,
  keyFromTitle,
  practicePrefix,
  withPractice,
  workOutDates,
  type RuleDeadline,
  type RuleFault,
  type RuleSet,
} from '@heron/core/docket'
import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import { instant, isoOf, type Ctx } from '../platform/context'
import { row, rows, work } from '../platform/database'
import { download } from '../platform/files'
import { fieldFault, notFound, refused } from '../platform/problem'
import { holidaySets, ruleSets, type KnownRuleSet } from '../platform/rule-sets'
import { addsOf, effectsOn, movesOf, seenOf, shownEffect, takeEffects, type Effect } from './effects'
import { districtOf, rulesOf } from './state'
import { RuleSetEdition } from './entities'

async function requireRules(m: EntityManager, key: string): Promise<KnownRuleSet> {
  const found = (await ruleSets(m)).get(key)
  if (!found) throw notFound('rule set')
  return found
}

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
async function readHere(m: EntityManager, file: string): Promise<{ set: RuleSet | null; faults: RuleFault[] }> {
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
const oneAtATime = (m: EntityManager) => row(m, `SELECT 1 FROM firm FOR UPDATE`)

/** The number of the latest edition of a set, or of the firm's own dates on top of it; 0 before the first. */
async function lastEdition(m: EntityManager, key: string, part: 'set' | 'practice', lock: '' | 'FOR UPDATE' = ''): Promise<number> {
  const last = await row<{ no: number }>(
    m,
    `SELECT COALESCE(MAX(no), 0) AS no FROM rule_set_edition WHERE rule_set_key = ? AND part = ? ${lock}`,
    [key, part],
  )
  return last!.no
}

async function addEdition(
  m: EntityManager,
  ctx: Ctx,
  key: string,
  part: 'set' | 'practice',
  body: string | null,
  note: string,
): Promise<number> {
  const no = (await lastEdition(m, key, part, 'FOR UPDATE')) + 1
  await m.insert(RuleSetEdition, { ruleSetKey: key, part, no, body, note, createdBy: ctx.actor.id, createdAt: instant(ctx.clock.now()) })
  return no
}

/** Keeps a set of the firm's own as the edition in force. What is docketed stays until someone takes what the rules now give. */
export function saveRules(ctx: Ctx, file: string, note: string, after?: number): Promise<{ key: string; no: number }> {
  return work(ctx, async (m) => {
    await oneAtATime(m)
    const { set, faults } = await readHere(m, file)
    if (!set)
      throw fieldFault('file', `${faults[0]!.where}: ${faults[0]!.what}${faults.length > 1 ? `, and ${faults.length - 1} more` : ''}`)
    if (after !== undefined && after !== (await lastEdition(m, set.key, 'set')))
      throw refused(
        'changed-meanwhile',
        'Someone kept another edition of these rules since you began. Yours is not kept; look at theirs, and enter your change again.',
      )
    const no = await addEdition(m, ctx, set.key, 'set', JSON.stringify(set), note)
    await audit(m, ctx, {
      kind: 'set up',
      text: `Rules “${set.title}” kept, edition ${set.edition}${note ? `: ${note}` : ''}`,
      subject: 'rule set',
    })
    return { key: set.key, no }
  })
}

export function removeRules(ctx: Ctx, key: string): Promise<void> {
  return work(ctx, async (m) => {
    await oneAtATime(m)
    const { own, set } = await requireRules(m, key)
    if (!own) throw refused('shipped', 'These rules ship with the application; leave them unused instead.')
    const used = await row<{ what: string }>(
      m,
      `SELECT 'matters' AS what FROM matter WHERE rule_set_key = ? UNION SELECT 'practice areas' FROM practice_area WHERE rule_set_key = ? UNION SELECT 'closed days' FROM court_closure WHERE rule_set_key = ? LIMIT 1`,
      [key, key, key],
    )
    if (used) throw refused('in-use', `There are ${used.what} with these rules; they cannot be taken away.`)
    await addEdition(m, ctx, key, 'practice', null, '')
    await addEdition(m, ctx, key, 'set', null, '')
    await audit(m, ctx, { kind: 'set up', text: `Rules “${set.title}” taken away`, subject: 'rule set' })
  })
}

/** Keeps one of the firm's own dates on top of a court's rules; it is checked as part of the whole set. */
export function savePractice(
  ctx: Ctx,
  key: string,
  input: { was: string | null; title: string; deadline: string; note: string },
): Promise<{ deadlineKey: string }> {
  return work(ctx, async (m) => {
    await oneAtATime(m)
    const { court, practice } = await requireRules(m, key)
    const at = practice.findIndex((d) => d.key === input.was)
    if (input.was && at < 0) throw notFound('date')
    let given: Partial<RuleDeadline>
    try {
      given = JSON.parse(input.deadline) as Partial<RuleDeadline>
    } catch {
      throw fieldFault('deadline', 'It is no JSON')
    }
    const deadlineKey =
      input.was ??
      keyFromTitle(
        input.title,
        practice.map((d) => d.key),
        practicePrefix,
      )
    const own = { ...given, key: deadlineKey, title: input.title } as RuleDeadline
    const list = at < 0 ? [...practice, own] : practice.map((d, i) => (i === at ? own : d))
    const { faults } = readRuleSet(JSON.stringify(withPractice(court, list)), holidaySets)
    if (faults.length)
      throw fieldFault(
        'deadline',
        faults.map((f) => `${f.where.replace(/^deadlines\[\d+\] \([^)]*\)( › )?/, '')} ${f.what}`.trim()).join('; '),
      )
    await addEdition(m, ctx, key, 'practice', JSON.stringify(list), input.note || `${input.title}${input.was ? ' changed' : ' added'}`)
    await audit(m, ctx, {
      kind: 'set up',
      text: `Own date “${input.title}” on top of “${court.title}” ${input.was ? 'changed' : 'added'}`,
      subject: 'rule set',
    })
    return { deadlineKey }
  })
}

export function removePractice(ctx: Ctx, key: string, deadlineKey: string): Promise<void> {
  return work(ctx, async (m) => {
    await oneAtATime(m)
    const { court, practice } = await requireRules(m, key)
    const gone = practice.find((d) => d.key === deadlineKey)
    if (!gone) throw notFound('date')
    const hangs = practice.find((d) => d !== gone && d.legs.some((l) => l.base.kind === 'deadline' && l.base.key === deadlineKey))
    if (hangs) throw refused('in-use', `“${hangs.title}” is counted from it. Change that one first.`)
    await addEdition(m, ctx, key, 'practice', JSON.stringify(practice.filter((d) => d !== gone)), `${gone.title} taken out`)
    await audit(m, ctx, { kind: 'set up', text: `Own date “${gone.title}” taken out of “${court.title}”`, subject: 'rule set' })
  })
}

/** What a set gives for an event, before it is kept: with the firm's district and closed days. */
export async function tryRules(ctx: Ctx, input: { file: string; trigger: string; date: Day; service: string | null; facts: string[] }) {
  const m = ctx.db.manager
  const { set, faults } = readRuleSet(input.file, holidaySets)
  if (!set) return { faults, proposals: [] }
  const kind = set.triggers.find((t) => t.key === input.trigger)
  if (!kind) throw fieldFault('trigger', 'Choose one of the set’s events')
  if (input.service && !set.services.some((s) => s.key === input.service))
    throw fieldFault('service', 'Choose one of the set’s ways of service')
  const closed = await rows<{ name: string; date: Day; filingOnly: number }>(
    m,
    `SELECT name, day AS date, filing_only AS filingOnly FROM court_closure WHERE rule_set_key IS NULL OR rule_set_key = ?`,
    [set.key],
  )
  const calendar = calendarFor(
    set,
    holidaySets,
    await districtOf(m),
    closed.map((c) => ({ ...c, filingOnly: Boolean(c.filingOnly) })),
  )
  const proposals = workOutDates({ ...input, ruleSet: set, calendar, events: {} })
  return { faults, proposals: proposals.map(({ countedFrom: _from, ...p }) => p) }
}

/** What the rules in force count otherwise than open dockets have it, and what they add that still lies ahead. */
async function effectsOf(m: EntityManager, ctx: Ctx, key: string, taking: boolean): Promise<Effect[]> {
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

export async function rulesEffect(ctx: Ctx, key: string) {
  const m = ctx.db.manager
  await requireRules(m, key)
  const effects = seenOf(await effectsOf(m, ctx, key, false))
  return {
    moves: movesOf(effects),
    adds: addsOf(effects),
    matters: effects.map((e) => ({ ...shownEffect(e), adds: e.missing.map(({ proposal: { countedFrom: _from, ...p } }) => p) })),
  }
}

/** Takes all that the rules in force move and add, in one act; `moves` and `adds` are how many were shown. */
export function takeRulesEffect(ctx: Ctx, key: string, input: { moves: number; adds: number }): Promise<{ moved: number; added: number }> {
  return work(ctx, async (m) => {
    const { set } = await requireRules(m, key)
    const effects = await effectsOf(m, ctx, key, true)
    const seen = seenOf(effects)
    if (movesOf(seen) !== input.moves || addsOf(seen) !== input.adds)
      throw refused('changed-meanwhile', 'Dockets changed meanwhile. Nothing was moved; look at the dates again.')
    await takeEffects(m, ctx, effects, new Map([[key, await rulesOf(m, key)]]), `Rules amended: ${set.title}, ${set.edition}`)
    return { moved: input.moves, added: input.adds }
  })
}

export async function exportRules(ctx: Ctx, key: string, practice: boolean) {
  const known = await requireRules(ctx.db.manager, key)
  const set = practice ? withPractice(known.court, known.practice) : known.court
  return download(Buffer.from(writeRuleSet(set)), `${key}.rules.json`, 'application/json')
}

export const rulesSchema = () =>
  download(Buffer.from(`${JSON.stringify(ruleSetSchema, null, 2)}\n`), 'rule-set.schema.json', 'application/schema+json')
