import type { Day } from '@heron/core/calendar'
import {
  applyAct,
  differencesOf,
  eventsFor,
  workOutDates,
  type DocketAct,
  type Docket,
  type Proposal,
  type RuleSet,
  type Trigger,
  type Weight,
} from '@heron/core/docket'
import type { DifferenceSeen } from '@heron/contract'
import { showCount, showDay } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { requireMatter, requireOpenMatter, touchMatter, type OpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, isoOf, type Ctx } from '../platform/context'
import { insertMany, row, rows, work } from '../platform/database'
import { fieldFault } from '../platform/problem'
import { asSeen, historyOf, keepChange, noteHistory, shownDifferences, titleWith, writeDocket } from './change'
import { TriggerEvent } from './entities'
import { docketStateOf, rulesOf, ruleSetOf } from './state'

export interface TriggerIn {
  trigger: string
  date: Day
  service: string | null
  tentative: boolean
  facts: string[]
  answersId: number | null
}

/** A trigger that is not there yet comes after all that are. */
const notYet = Number.MAX_SAFE_INTEGER

async function propose(m: EntityManager, matter: OpenMatter, input: TriggerIn, lock = false) {
  const set = ruleSetOf(matter.ruleSetKey)
  const kind = set.triggers.find((t) => t.key === input.trigger)
  if (!kind) throw fieldFault('trigger', 'Choose one of this court’s trigger events')
  if (kind.asksService && !input.service) throw fieldFault('service', 'Say how it was served')
  if (input.service && !set.services.some((s) => s.key === input.service))
    throw fieldFault('service', 'Choose one of this court’s ways of service')
  const state = await docketStateOf(m, matter, lock)
  const answers = state.triggers.find((t) => t.id === input.answersId)
  if (input.answersId && (!answers || answers.kind !== kind.answers?.trigger)) throw fieldFault('answersId', 'Choose what this one answers')
  const rules = await rulesOf(m, matter.ruleSetKey)
  const trigger: Trigger = {
    id: notYet,
    kind: input.trigger,
    label: '',
    day: input.date,
    service: input.service,
    tentative: input.tentative,
    answersId: input.answersId,
  }
  const act: DocketAct = { kind: 'add', trigger, facts: set.facts.map((f) => f.key).filter((f) => input.facts.includes(f)) }
  const events = eventsFor(trigger, state.triggers)
  const proposals = workOutDates({
    ...input,
    ruleSet: set,
    calendar: rules.calendar,
    events: events.days,
    tentativeEvents: events.tentative,
  })
  return { set, kind, state, rules, act, proposals, differences: differencesOf(state, act, rules) }
}

/** Works out the dates of a trigger, and what it does to those on the docket; nothing is docketed yet. */
export async function workOut(ctx: Ctx, matterId: number, input: TriggerIn) {
  const m = ctx.db.manager
  const matter = await requireMatter(m, ctx, matterId, 'docket')
  const { proposals, state, differences } = await propose(m, matter, input)
  const already = new Set(state.entries.filter((e) => e.key && !e.leftOut).map((e) => e.key!))
  return {
    proposals: proposals.map(({ countedFrom: _from, ...p }) => p),
    already: [...already],
    differences: shownDifferences(state, differences),
  }
}

const dayEndsOf = (set: RuleSet, weight: Weight) => (weight === 'firm practice' || weight === 'appointment' ? '' : set.dayEnds.electronic)

async function insertEntries(
  m: EntityManager,
  ctx: Ctx,
  matter: OpenMatter,
  set: RuleSet,
  triggerId: number,
  label: string,
  list: readonly { p: Proposal; out: boolean }[],
) {
  await insertMany(
    m,
    'docket_entry',
    'matter_id trigger_id deadline_key title text authority link weight day before_roll day_ends how_counted counted_from trace left_out provisional tentative responsible_id created_at placed_on'.split(
      ' ',
    ),
    list.map(({ p, out }) => [
      matter.id,
      triggerId,
      p.key,
      titleWith(p.title, label),
      p.text,
      p.authority,
      p.link,
      p.weight,
      p.date,
      p.beforeRoll,
      dayEndsOf(set, p.weight),
      p.howCounted.slice(0, 300),
      JSON.stringify(p.countedFrom),
      JSON.stringify(p.trace),
      out,
      p.provisional,
      p.tentative,
      matter.leadId,
      instant(ctx.clock.now()),
      ctx.clock.today(),
    ]),
  )
  return rows<{ id: number; leftOut: number; day: Day }>(
    m,
    `SELECT id, left_out AS leftOut, day FROM docket_entry WHERE trigger_id = ? ORDER BY id`,
    [triggerId],
  )
}

/**
 * Dockets the dates that were taken and keeps the others as left out, with their trace. What the trigger does to dates
 * already on the docket (one becomes exact, the deadline it answers closes) is done in the same act, and all of it can be undone.
 */
export function docketDates(
  ctx: Ctx,
  matterId: number,
  input: TriggerIn & {
    label: string
    take: string[] /** Null takes all that follows, for callers who showed nothing to anyone. */
    moves: { take: number[]; seen: DifferenceSeen[] } | null
  },
) {
  return work(ctx, async (m) => {
    const matter = await requireOpenMatter(m, ctx, matterId, 'docket')
    await rows(m, `SELECT id FROM matter WHERE id = ? FOR UPDATE`, [matterId])
    const { set, kind, state, rules, act, proposals, differences } = await propose(m, matter, input, true)
    if (input.moves) asSeen(differences, input.moves.seen)
    const after = applyAct(state, act, rules, input.moves ? new Set(input.moves.take) : 'all')
    const made = await m.insert(TriggerEvent, {
      matterId,
      ruleSetKey: set.key,
      ruleSetEdition: set.edition,
      kind: input.trigger,
      label: input.label || kind.title,
      day: input.date,
      service: input.service,
      tentative: input.tentative,
      answersId: input.answersId,
      createdBy: ctx.actor.id,
      createdAt: instant(ctx.clock.now()),
    })
    const triggerId = made.identifiers[0]!['id'] as number
    const dated = proposals.filter((p) => p.date).map((p) => ({ p, out: !input.take.includes(p.key) }))
    const entries = await insertEntries(m, ctx, matter, set, triggerId, input.label, dated)
    const what = `${input.label || kind.title} ${showDay(input.date)}`
    await noteHistory(
      m,
      ctx,
      entries.map((e) => ({ entryId: e.id, what: e.leftOut ? 'left out' : 'docketed', became: e.day, why: what })),
    )
    const others: Docket = { ...after, triggers: state.triggers }
    await writeDocket(m, ctx, matter, state, others)
    const list = historyOf(state, others, what)
    await noteHistory(m, ctx, list)
    const whole = await docketStateOf(m, { ...matter, facts: JSON.stringify(after.facts) })
    const changeId = await keepChange(m, ctx, matterId, `${what} docketed`, state, whole)
    const docketed = entries.filter((e) => !e.leftOut).length
    const leftOut = entries.length - docketed
    await audit(m, ctx, {
      kind: 'docketed',
      text: `${what}: ${docketed} dates docketed, ${leftOut} left out${list.length ? `, ${list.length} others changed` : ''}`,
      matterId,
      subject: 'trigger',
      subjectId: triggerId,
    })
    await touchMatter(m, ctx, matterId)
    return { docketed, leftOut, moved: list.length, triggerId, changeId }
  })
}

/** What happened in a matter, in the order of a case, and the facts by which its dates are counted. */
export async function triggersOf(ctx: Ctx, matterId: number) {
  const m = ctx.db.manager
  const matter = await requireMatter(m, ctx, matterId, 'docket')
  const list = await rows<Trigger & { ruleSetKey: string; dates: number }>(
    m,
    `SELECT t.id, t.kind, t.label, t.day, t.service, t.tentative, t.answers_id AS answersId, t.rule_set_key AS ruleSetKey,
            (SELECT COUNT(*) FROM docket_entry d WHERE d.trigger_id = t.id AND NOT d.left_out AND d.removed_at IS NULL) AS dates
       FROM trigger_event t WHERE t.matter_id = ? AND t.removed_at IS NULL ORDER BY t.day DESC, t.id DESC LIMIT 500`,
    [matterId],
  )
  const set = matter.ruleSetKey ? ruleSetOf(matter.ruleSetKey) : null
  const titleOf = (t: { kind: string }) => set?.triggers.find((k) => k.key === t.kind)?.title ?? t.kind
  const facts = JSON.parse(matter.facts) as string[]
  const last = await row<{ id: number; text: string; at: string; by: string; undone: number }>(
    m,
    `SELECT c.id, c.text, c.at, u.name AS \`by\`, c.undone_at IS NOT NULL AS undone FROM docket_change c JOIN user_account u ON u.id = c.user_id WHERE c.matter_id = ? ORDER BY c.id DESC LIMIT 1`,
    [matterId],
  )
  return {
    facts: (set?.facts ?? []).map((f) => ({ ...f, holds: facts.includes(f.key) })),
    services: (set?.services ?? []).map((s) => ({
      key: s.key,
      title: s.title,
      adds: s.count ? `adds ${showCount(s.count, s.unit)}` : 'adds nothing',
    })),
    triggers: list.map(({ ruleSetKey, answersId, ...t }) => {
      const answered = list.find((x) => x.id === answersId)
      return {
        ...t,
        title: titleOf(t),
        asksService: set?.triggers.find((k) => k.key === t.kind)?.asksService ?? false,
        tentative: Boolean(t.tentative),
        answers: answered ? answered.label : null,
        elsewhere: ruleSetKey !== set?.key,
      }
    }),
    last: last && !last.undone ? { id: last.id, text: last.text, at: isoOf(last.at), by: last.by } : null,
  }
}
