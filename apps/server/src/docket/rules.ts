import { readRuleSet, ruleSetSchema, writeRuleSet } from '@heron/core/formats'
import { calendarFor, keyFromTitle, practicePrefix, withPractice, workOutDates, type RuleDeadline } from '@heron/core/docket'
import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { work } from '../platform/database'
import { download } from '../platform/files'
import { fieldFault, notFound, refused } from '../platform/problem'
import { holidaySets } from '../platform/rule-sets'
import { addsOf, movesOf, seenOf, shownEffect, takeEffects } from './effects'
import { districtOf, rulesOf } from './state'
import { RuleSetEdition } from './entities'
import { closedDaysFor, effectsOf, lastEdition, oneAtATime, readHere, requireRules, rulesInUse } from './rule-queries'

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
    const used = await rulesInUse(m, key)
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
  const closed = await closedDaysFor(m, set.key)
  const calendar = calendarFor(
    set,
    holidaySets,
    await districtOf(m),
    closed.map((c) => ({ ...c, filingOnly: Boolean(c.filingOnly) })),
  )
  const proposals = workOutDates({ ...input, ruleSet: set, calendar, events: {} })
  return { faults, proposals: proposals.map(({ countedFrom: _from, ...p }) => p) }
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
