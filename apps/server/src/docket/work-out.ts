import type { Day } from '@heron/core/calendar'
import {
  answersTooEarly,
  applyAct,
  differencesOf,
  eventKey,
  eventOf,
  eventsFor,
  workOutDates,
  type Docket,
  type DocketAct,
  type Proposal,
  type Trigger,
} from '@heron/core/docket'
import { counted } from '@heron/core/words'
import type { DifferenceSeen } from '@heron/contract'
import { showDay } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { requireMatter, requireOpenMatter, touchMatter, type OpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertRow, lockRow, work } from '../platform/database'
import { fieldFault, refused } from '../platform/problem'
import { asSeen, historyOf, keepChange, noteHistory, shownDifferences, writeDocket } from './change'
import { insertEntries } from './entering'
import { DocketEntry, TriggerEvent } from './entities'
import { ruleSetOf } from '../platform/rule-sets'
import { docketStateOf, rulesOf } from './state'
import { Matter } from '../platform/shared-entities'
import { paperOnMatter, partyNamed } from './entry-queries'

export interface TriggerIn {
  trigger: string
  date: Day
  service: string | null
  tentative: boolean
  facts: string[]
  answersId: number | null
  partyId?: number | null
}

/** A trigger that is not there yet comes after all that are. */
const notYet = Number.MAX_SAFE_INTEGER

async function propose(m: EntityManager, matter: OpenMatter, input: TriggerIn, lock = false, left: readonly string[] = []) {
  const set = await ruleSetOf(m, matter.ruleSetKey)
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
  const early = answersTooEarly(trigger, state.triggers)
  if (early) throw fieldFault('date', early)
  const act: DocketAct = { kind: 'add', trigger, facts: set.facts.map((f) => f.key).filter((f) => input.facts.includes(f)) }
  const events = eventsFor(trigger, state.triggers)
  const proposals = workOutDates({
    ...input,
    ruleSet: set,
    calendar: rules.calendar,
    events: events.days,
    tentativeEvents: events.tentative,
    bases: Object.fromEntries(left.map((key) => [key, { date: null, why: 'left out of the docket', follows: false }])),
  })
  const event = eventOf(set, input.trigger, input.date, input.tentative)
  return { set, kind, state, rules, act, proposals, event, differences: differencesOf(state, act, rules) }
}

/** Works out the dates of a trigger, and what it does to those on the docket; nothing is docketed yet. */
export async function workOut(ctx: Ctx, matterId: number, input: TriggerIn) {
  const m = ctx.db.manager
  const matter = await requireMatter(m, ctx, matterId, 'docket')
  const { proposals, event, state, differences } = await propose(m, matter, input)
  const told = ({ countedFrom: _from, ...p }: Proposal) => p
  const already = new Set(state.entries.filter((e) => e.key && !e.leftOut).map((e) => e.key!))
  return {
    proposals: proposals.map(told),
    event: event && told(event),
    already: [...already],
    differences: shownDifferences(state, differences),
  }
}

interface Seen {
  key: string
  date: Day
}
/** Refuses where the rules give other dates now than whoever dockets them was shown: none comes unseen, and none is lost. */
export function datesAsSeen(proposals: readonly { key: string; date: Day | null }[], seen: readonly Seen[]) {
  const text = (list: readonly { key: string; date: Day | null }[]) =>
    list
      .filter((x) => x.date)
      .map((x) => `${x.key} ${x.date}`)
      .sort()
      .join()
  if (text(proposals) !== text(seen))
    throw refused('changed-meanwhile', 'The docket or its rules changed meanwhile. Nothing was docketed; look at the dates again.')
}

/** What a party of the matter is called; empty without one. */
async function partyName(m: EntityManager, matterId: number, partyId: number | null): Promise<string> {
  if (!partyId) return ''
  const found = await partyNamed(m, partyId, matterId)
  if (!found) throw fieldFault('partyId', 'Choose a party of this matter')
  return found.name
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
    paperId?: number | null
    take: string[]
    /** Null, like `moves`, for callers who showed nothing to anyone. */
    seen: Seen[] | null
    /** Hour, length and place of what takes place on the day itself. */
    event?: { time: string | null; lengthMinutes: number | null; place: string }
    /** Null takes all that follows. */
    moves: { take: number[]; seen: DifferenceSeen[] } | null
  },
) {
  return work(ctx, async (m) => {
    const matter = await requireOpenMatter(m, ctx, matterId, 'docket')
    await lockRow(m, Matter, matterId)
    const first = await propose(m, matter, input, true)
    const { set, kind, state, rules, act, event, differences } = first
    // What is left out is on no docket: the traces of what was counted from it say so.
    const { proposals } = await propose(
      m,
      matter,
      input,
      true,
      first.proposals.map((p) => p.key).filter((key) => !input.take.includes(key)),
    )
    if (input.moves) asSeen(differences, input.moves.seen)
    const label = input.label || (await partyName(m, matterId, kind.asksParty ? (input.partyId ?? null) : null))
    if (input.paperId && !(await paperOnMatter(m, input.paperId, matterId))) throw fieldFault('paperId', 'Choose a paper of this matter')
    if (input.seen) datesAsSeen(proposals, input.seen)
    const after = applyAct(state, act, rules, input.moves ? new Set(input.moves.take) : 'all')
    const triggerId = await insertRow(m, TriggerEvent, {
      matterId,
      ruleSetKey: set.key,
      ruleSetEdition: set.edition,
      kind: input.trigger,
      label: label || kind.title,
      day: input.date,
      service: input.service,
      tentative: input.tentative,
      answersId: input.answersId,
      partyId: kind.asksParty ? (input.partyId ?? null) : null,
      paperId: input.paperId ?? null,
      createdBy: ctx.actor.id,
      createdAt: instant(ctx.clock.now()),
    })
    const dated = proposals.filter((p) => p.date).map((p) => ({ p, out: !input.take.includes(p.key) }))
    if (event) dated.unshift({ p: event, out: false })
    const entries = await insertEntries(m, ctx, matter, set, { id: triggerId, label, paperId: input.paperId ?? null }, dated)
    const what = `${label || kind.title} ${showDay(input.date)}`
    if (event && input.event)
      await m.update(
        DocketEntry,
        { triggerId, deadlineKey: eventKey },
        { atTime: input.event.time, lengthMinutes: input.event.lengthMinutes, place: input.event.place },
      )
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
      text: `${what}: ${counted(docketed, 'date')} docketed, ${leftOut} left out${list.length ? `, ${counted(list.length, 'other')} changed` : ''}`,
      matterId,
      subject: 'trigger',
      subjectId: triggerId,
    })
    await touchMatter(m, ctx, matterId)
    return { docketed, leftOut, moved: list.length, triggerId, changeId }
  })
}
