import { addCourtDays, addDays, courtDaysUntil, type CourtCalendar, type Day, type TraceStep } from '@heron/core/calendar'
import {
  calendarFor,
  shippedHolidaySets,
  shippedRuleSets,
  workOutDates,
  type Proposal,
  type RuleSet,
  type Weight,
} from '@heron/core/docket'
import type { EntityManager } from 'typeorm'
import { change, matterScope, requireMatter, requireOpenMatter, touchMatter, type OpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { row, rows, work } from '../platform/database'
import { fieldFault, notFound } from '../platform/problem'
import { DocketEntry, DocketHistory, TriggerEvent } from './entities'

export function ruleSetOf(key: string | null): RuleSet {
  const set = shippedRuleSets.find((s) => s.key === key)
  if (!set) throw fieldFault('ruleSetKey', 'This matter has no court rules. Choose a rule set on its file first.')
  return set
}

async function districtOf(m: EntityManager): Promise<string | null> {
  return (await row<{ district: string | null }>(m, `SELECT district FROM firm`))?.district ?? null
}

export interface TriggerIn {
  trigger: string
  date: Day
  service: string | null
  tentative: boolean
  facts: string[]
}

async function propose(m: EntityManager, matter: OpenMatter, input: TriggerIn): Promise<{ set: RuleSet; proposals: Proposal[] }> {
  const set = ruleSetOf(matter.ruleSetKey)
  const kind = set.triggers.find((t) => t.key === input.trigger)
  if (!kind) throw fieldFault('trigger', 'Choose one of this court’s trigger events')
  if (kind.asksService && !input.service) throw fieldFault('service', 'Say how it was served')
  if (input.service && !set.services.some((s) => s.key === input.service))
    throw fieldFault('service', 'Choose one of this court’s ways of service')
  const known = await rows<{ kind: string; day: Day }>(
    m,
    `SELECT kind, MAX(day) AS day FROM trigger_event WHERE matter_id = ? GROUP BY kind`,
    [matter.id],
  )
  const events = Object.fromEntries(known.filter((e) => e.kind !== input.trigger).map((e) => [e.kind, e.day]))
  const proposals = workOutDates({ ...input, ruleSet: set, holidaySets: shippedHolidaySets, events, district: await districtOf(m) })
  return { set, proposals }
}

/** Works out the dates of a trigger; nothing is docketed yet. */
export async function workOut(ctx: Ctx, matterId: number, input: TriggerIn) {
  const m = ctx.db.manager
  const matter = await requireMatter(m, ctx, matterId, 'docket')
  const { proposals } = await propose(m, matter, input)
  const already = await rows<{ key: string }>(
    m,
    `SELECT deadline_key AS \`key\` FROM docket_entry WHERE matter_id = ? AND deadline_key IS NOT NULL AND NOT left_out`,
    [matterId],
  )
  return { proposals: proposals.map(({ countedFrom: _from, ...p }) => p), already: [...new Set(already.map((a) => a.key))] }
}

async function history(m: EntityManager, ctx: Ctx, entryId: number, what: string, was = '', became = '', why = '') {
  await m.insert(DocketHistory, { entryId, at: instant(ctx.clock.now()), userId: ctx.actor.id, what, was, became, why: why.slice(0, 300) })
}

const dayEndsOf = (set: RuleSet, weight: Weight) => (weight === 'firm practice' || weight === 'appointment' ? '' : set.dayEnds.electronic)

/** Dockets the dates that were taken and keeps the others as left out, with their trace, in one act. */
export function docketDates(ctx: Ctx, matterId: number, input: TriggerIn & { label: string; take: string[] }) {
  return work(ctx, async (m) => {
    const matter = await requireOpenMatter(m, ctx, matterId, 'docket')
    const { set, proposals } = await propose(m, matter, input)
    const kind = set.triggers.find((t) => t.key === input.trigger)!
    const made = await m.insert(TriggerEvent, {
      matterId,
      ruleSetKey: set.key,
      ruleSetEdition: set.edition,
      kind: input.trigger,
      label: input.label || kind.title,
      day: input.date,
      service: input.service,
      tentative: input.tentative,
      createdBy: ctx.actor.id,
      createdAt: instant(ctx.clock.now()),
    })
    const triggerId = made.identifiers[0]!['id'] as number
    let docketed = 0
    let leftOut = 0
    for (const p of proposals) {
      if (!p.date) continue
      const out = !input.take.includes(p.key)
      const entry = await m.insert(DocketEntry, {
        matterId,
        triggerId,
        deadlineKey: p.key,
        title: input.label ? `${p.title} (${input.label})`.slice(0, 200) : p.title,
        text: p.text,
        authority: p.authority,
        link: p.link,
        weight: p.weight,
        day: p.date,
        beforeRoll: p.beforeRoll,
        dayEnds: dayEndsOf(set, p.weight),
        howCounted: p.howCounted.slice(0, 300),
        countedFrom: JSON.stringify(p.countedFrom),
        trace: JSON.stringify(p.trace),
        leftOut: out,
        provisional: p.provisional,
        tentative: p.tentative,
        responsibleId: matter.leadId,
        createdAt: instant(ctx.clock.now()),
      })
      await history(m, ctx, entry.identifiers[0]!['id'] as number, out ? 'left out' : 'docketed', '', p.date, `${kind.title} ${input.date}`)
      if (out) leftOut += 1
      else docketed += 1
    }
    await audit(m, ctx, {
      kind: 'docketed',
      text: `${kind.title} ${input.date}: ${docketed} dates docketed, ${leftOut} left out`,
      matterId,
      subject: 'trigger',
      subjectId: triggerId,
    })
    await touchMatter(m, ctx, matterId)
    return { docketed, leftOut, triggerId }
  })
}

export interface EntryIn {
  title: string
  text: string
  weight: Weight
  day: Day
  time: string | null
  lengthMinutes: number | null
  place: string
  authority: string
}

/** An appointment, a date that an order fixed, or a date of the firm's own, without a trigger. It never rolls. */
export function addEntry(ctx: Ctx, matterId: number, input: EntryIn): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    const matter = await requireOpenMatter(m, ctx, matterId, 'docket')
    const { time, ...own } = input
    const trace: TraceStep[] = [{ text: input.weight === 'court order' ? 'Set by the court' : 'Entered by hand', date: input.day }]
    const made = await m.insert(DocketEntry, {
      ...own,
      matterId,
      atTime: time,
      trace: JSON.stringify(trace),
      setBy: input.weight === 'court order' ? 'court' : 'hand',
      responsibleId: matter.leadId,
      createdAt: instant(ctx.clock.now()),
    })
    const id = made.identifiers[0]!['id'] as number
    await history(m, ctx, id, 'docketed', '', input.day)
    await audit(m, ctx, { kind: 'docketed', text: `${input.title}, ${input.day}`, matterId, subject: 'docket entry', subjectId: id })
    return { id }
  })
}

async function lockEntry(m: EntityManager, ctx: Ctx, id: number) {
  const found = await row<{ id: number; matterId: number; title: string; mark: string; leftOut: number; day: Day }>(
    m,
    `SELECT d.id, d.matter_id AS matterId, d.title, d.mark, d.left_out AS leftOut, d.day FROM docket_entry d JOIN matter m ON m.id = d.matter_id WHERE d.id = ? AND ${matterScope(ctx.actor, 'm', 'docket', change)} FOR UPDATE`,
    [id],
  )
  if (!found) throw notFound('docket entry')
  return found
}

export function markEntry(ctx: Ctx, id: number, mark: 'open' | 'in hand' | 'met' | 'waived' | 'vacated'): Promise<void> {
  return work(ctx, async (m) => {
    const entry = await lockEntry(m, ctx, id)
    await m.update(DocketEntry, id, { mark })
    await history(m, ctx, id, 'marked', entry.mark, mark)
    await audit(m, ctx, {
      kind: 'marked',
      text: `${entry.title}: ${mark}`,
      matterId: entry.matterId,
      subject: 'docket entry',
      subjectId: id,
    })
  })
}

/** Moves a date by hand, or to the day the court set. Says how many dates of running procedures would follow. */
export function moveEntry(ctx: Ctx, id: number, input: { day: Day; by: 'hand' | 'court'; why: string }) {
  return work(ctx, async (m) => {
    const entry = await lockEntry(m, ctx, id)
    await requireOpenMatter(m, ctx, entry.matterId, 'docket')
    if (entry.day === input.day) throw fieldFault('day', 'It is on that day already')
    await m.update(DocketEntry, id, { day: input.day, setBy: input.by, beforeRoll: null })
    await history(m, ctx, id, 'moved', entry.day, input.day, input.why)
    await audit(m, ctx, {
      kind: 'moved',
      text: `${entry.title} moved: ${input.why}`,
      matterId: entry.matterId,
      subject: 'docket entry',
      subjectId: id,
      detail: { was: { day: entry.day }, became: { day: input.day } },
    })
    await touchMatter(m, ctx, entry.matterId)
    // Procedures keep the ids of the dates they are counted from.
    const runs = await rows<{ anchors: string }>(
      m,
      `SELECT r.anchors FROM procedure_run r WHERE r.matter_id = ? AND EXISTS (SELECT 1 FROM task t WHERE t.run_id = r.id AND t.done_at IS NULL)`,
      [entry.matterId],
    )
    return {
      ok: true as const,
      follows: runs.filter((r) => Object.values(JSON.parse(r.anchors) as Record<string, string>).includes(`entry ${id}`)).length,
    }
  })
}

export function setLeftOut(ctx: Ctx, id: number, leftOut: boolean): Promise<void> {
  return work(ctx, async (m) => {
    const entry = await lockEntry(m, ctx, id)
    await m.update(DocketEntry, id, { leftOut })
    await history(m, ctx, id, leftOut ? 'left out' : 'docketed', '', entry.day)
    await audit(m, ctx, {
      kind: 'docketed',
      text: `${entry.title}: ${leftOut ? 'left out' : 'docketed after all'}`,
      matterId: entry.matterId,
      subject: 'docket entry',
      subjectId: id,
    })
  })
}

const select = `SELECT d.id, d.matter_id AS matterId, m.short_name AS matter, m.rule_set_key AS ruleSetKey, d.title, d.text, d.authority, d.link, d.weight, d.day, d.before_roll AS beforeRoll,
    TIME_FORMAT(d.at_time, '%H:%i') AS time, d.length_minutes AS lengthMinutes, d.place, d.day_ends AS dayEnds, d.how_counted AS howCounted, d.trace, d.left_out AS leftOut, d.mark,
    d.urgent, d.provisional, d.tentative, t.label AS triggerLabel, t.day AS triggerDay, t.service AS triggerService, u.name AS responsible
  FROM docket_entry d JOIN matter m ON m.id = d.matter_id LEFT JOIN trigger_event t ON t.id = d.trigger_id LEFT JOIN user_account u ON u.id = d.responsible_id`

interface EntryRow {
  id: number
  matterId: number
  matter: string
  ruleSetKey: string | null
  title: string
  text: string
  authority: string
  link: string | null
  weight: Weight
  day: Day
  beforeRoll: Day | null
  time: string | null
  lengthMinutes: number | null
  place: string
  dayEnds: string
  howCounted: string
  trace: string
  leftOut: number
  mark: 'open' | 'in hand' | 'met' | 'waived' | 'vacated'
  urgent: number
  provisional: number
  tentative: number
  triggerLabel: string | null
  triggerDay: Day | null
  triggerService: string | null
  responsible: string | null
}

const calendars = new Map<string, CourtCalendar>()

/** The days on which a court is really closed, by which what is left is counted; federal courts where a matter has no rules. */
function courtCalendarOf(ruleSetKey: string | null): CourtCalendar {
  const set = shippedRuleSets.find((r) => r.key === ruleSetKey) ?? shippedRuleSets[0]!
  const known = calendars.get(set.key) ?? calendarFor(set, shippedHolidaySets, null)
  calendars.set(set.key, known)
  return known
}

function shown(ctx: Ctx, list: EntryRow[]) {
  const today = ctx.clock.today()
  return list.map(({ triggerLabel, triggerDay, triggerService, ruleSetKey, ...d }) => ({
    ...d,
    trigger: triggerLabel && triggerDay ? { label: triggerLabel, day: triggerDay, service: triggerService } : null,
    trace: JSON.parse(d.trace) as TraceStep[],
    leftOut: Boolean(d.leftOut),
    urgent: Boolean(d.urgent),
    provisional: Boolean(d.provisional),
    tentative: Boolean(d.tentative),
    courtDays: courtDaysUntil(courtCalendarOf(ruleSetKey), today, d.day),
  }))
}

export async function docketOf(ctx: Ctx, matterId: number) {
  const m = ctx.db.manager
  await requireMatter(m, ctx, matterId, 'docket')
  return shown(
    ctx,
    await rows<EntryRow>(m, `${select} WHERE d.matter_id = ? ORDER BY d.day, d.at_time IS NULL, d.at_time, d.id`, [matterId]),
  )
}

/** Dates of a span in court days, what is late before it, and the days on which courts are closed. */
export async function agenda(ctx: Ctx, from: Day, courtDays: number, scope: 'mine' | 'team' | 'firm') {
  const m = ctx.db.manager
  const calendar = courtCalendarOf(null)
  const local = calendarFor(shippedRuleSets[0]!, shippedHolidaySets, await districtOf(m))
  const today = ctx.clock.today()
  const until = addCourtDays(calendar, from, courtDays)
  const user = Number(ctx.actor.id)
  const whose = {
    mine: `AND (d.responsible_id = ${user} OR EXISTS (SELECT 1 FROM matter_team x WHERE x.matter_id = m.id AND x.user_id = ${user}))`,
    team: `AND m.lead_id IN (SELECT y.lead_id FROM matter y JOIN matter_team x ON x.matter_id = y.id WHERE x.user_id = ${user})`,
    firm: '',
  }[scope]
  const base = `${select} WHERE ${matterScope(ctx.actor, 'm', 'docket')} AND NOT d.left_out AND NOT d.off_calendar AND m.closed_on IS NULL ${whose}`
  const order = `ORDER BY d.day, d.at_time IS NULL, d.at_time, FIELD(d.weight, 'strict', 'rule', 'court order', 'firm practice', 'appointment'), d.id LIMIT 1000`
  const list = await rows<EntryRow>(m, `${base} AND d.day BETWEEN ? AND ? AND d.mark <> 'vacated' ${order}`, [from, until])
  const late =
    from <= today
      ? await rows<EntryRow>(m, `${base} AND d.day < ? AND d.mark IN ('open', 'in hand') AND d.weight <> 'appointment' ${order}`, [from])
      : []
  const closed: { day: Day; name: string }[] = []
  const count: Record<string, number> = {}
  let n = courtDaysUntil(calendar, today, from)
  for (let day = from; day <= until; day = addDays(day, 1)) {
    const all = calendar.nameOf(day)
    const state = local.nameOf(day)
    const name = all ? `${all}, courts closed` : state ? `${state}, state courts closed` : null
    const why = calendar.closedWhy(day, 'after')
    if (name) closed.push({ day, name })
    if (day !== from && !why) n += 1
    count[day] = n
  }
  return { today, until, rows: shown(ctx, list), late: shown(ctx, late), closed, courtDays: count }
}

/** The next date of the actor's own, for the waterline. */
export async function nextOwnDate(ctx: Ctx) {
  const m = ctx.db.manager
  const user = Number(ctx.actor.id)
  const found = await row<{ title: string; matter: string; matterId: number; day: Day; ruleSetKey: string | null }>(
    m,
    `SELECT d.title, m.short_name AS matter, m.id AS matterId, d.day, m.rule_set_key AS ruleSetKey FROM docket_entry d JOIN matter m ON m.id = d.matter_id
      WHERE d.day >= ? AND d.mark IN ('open', 'in hand') AND NOT d.left_out AND d.weight IN ('strict', 'rule', 'court order') AND m.closed_on IS NULL AND ${matterScope(ctx.actor, 'm', 'docket')}
        AND (? = 'docket clerk' OR EXISTS (SELECT 1 FROM matter_team x WHERE x.matter_id = m.id AND x.user_id = ${user})) ORDER BY d.day, FIELD(d.weight, 'strict', 'rule', 'court order'), d.id LIMIT 1`,
    [ctx.clock.today(), ctx.actor.role],
  )
  return (
    found && {
      title: found.title,
      matter: found.matter,
      matterId: found.matterId,
      courtDays: courtDaysUntil(courtCalendarOf(found.ruleSetKey), ctx.clock.today(), found.day),
    }
  )
}
