import { addCourtDays, addDays, courtDaysUntil, showRecurrence, type Day, type TraceStep } from '@heron/core/calendar'
import { eventKey, showHow, type Weight } from '@heron/core/docket'
import type { AgendaIn } from '@heron/contract'
import type { EntityManager } from 'typeorm'
import { matterScope, requireMatter } from '../platform/access'
import { isoOf, type Ctx } from '../platform/context'
import { row, rows, literal, mostWords } from '../platform/database'
import { fieldFault, notFound } from '../platform/problem'
import { ruleSets, type RuleSets } from '../platform/rule-sets'
import { firmZone } from './calendar-queries'
import { districtOf } from './state'
import { courtCalendarOf, courtCalendars, type CourtCalendars } from './state-queries'

/** What a trigger is called in its rule set; its key where the set has it no more. */
export const titleOfTrigger = (sets: RuleSets, ruleSetKey: string | null, kind: string | null) =>
  sets.get(ruleSetKey ?? '')?.set.triggers.find((t) => t.key === kind)?.title ?? kind ?? ''

/** The version of an entry: its latest act, since each change of it is noted in its history. */
export const versionOf = (d: string) => `COALESCE((SELECT MAX(h.id) FROM docket_history h WHERE h.entry_id = ${d}.id), 0)`

const select = `SELECT d.id, d.matter_id AS matterId, m.short_name AS matter, m.rule_set_key AS ruleSetKey, d.title, d.text, d.authority, d.link, d.weight, d.day, d.before_roll AS beforeRoll,
    TIME_FORMAT(d.at_time, '%H:%i') AS time, d.length_minutes AS lengthMinutes, d.place, d.day_ends AS dayEnds, d.how_counted AS howCounted, d.trace, d.left_out AS leftOut, d.mark,
    d.urgent, d.provisional, d.tentative, d.off_calendar AS offCalendar, d.set_by AS setBy, d.rule_day AS ruleDay, d.met_on AS metOn, d.deadline_key AS deadlineKey, d.reason, d.meeting_link AS meetingLink, d.responsible_id AS responsibleId, d.series_id AS seriesId, d.sequence, ${versionOf('d')} AS version,
    COALESCE((SELECT GROUP_CONCAT(g.tag ORDER BY g.tag SEPARATOR '|') FROM docket_entry_tag g WHERE g.entry_id = d.id), '') AS tags, d.paper_id AS paperId, p.name AS paperName,
    d.trigger_id AS triggerId, t.label AS triggerLabel, t.kind AS triggerKind, t.day AS triggerDay, t.service AS triggerService, u.name AS responsible
  FROM docket_entry d JOIN matter m ON m.id = d.matter_id LEFT JOIN trigger_event t ON t.id = d.trigger_id LEFT JOIN user_account u ON u.id = d.responsible_id LEFT JOIN paper p ON p.id = d.paper_id AND p.deleted_at IS NULL`

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
  triggerId: number | null
  triggerKind: string | null
  offCalendar: number
  meetingLink: string
  responsibleId: number | null
  seriesId: number | null
  sequence: number
  version: number
  tags: string
  setBy: 'rule' | 'hand' | 'court'
  ruleDay: Day | null
  metOn: Day | null
  deadlineKey: string | null
  reason: string
  paperId: number | null
  paperName: string | null
  triggerLabel: string | null
  triggerDay: Day | null
  triggerService: string | null
  responsible: string | null
}

/** The reader's own reminders of these dates, where they chose some. */
async function ownLeads(ctx: Ctx, ids: readonly number[]) {
  if (!ids.length) return new Map<number, number[]>()
  const found = await rows<{ id: number; leads: string }>(
    ctx.db.manager,
    `SELECT entry_id AS id, leads FROM entry_reminder_choice WHERE user_id = ? AND entry_id IN (?)`,
    [ctx.actor.id, ids],
  )
  return new Map(found.map((f) => [f.id, f.leads ? f.leads.split(',').map(Number) : []]))
}

/** What stands beside entries: who takes part, papers, those outside who have them, how they recur. */
async function besideOf(m: EntityManager, list: readonly EntryRow[]) {
  const ids = [0, ...list.map((d) => d.id)]
  const by = <T extends { entryId: number }, R>(found: readonly T[], of: (x: T) => R) => {
    const map = new Map<number, R[]>()
    for (const x of found) map.set(x.entryId, [...(map.get(x.entryId) ?? []), of(x)])
    return map
  }
  const attendees = await rows<{ entryId: number; id: number; name: string }>(
    m,
    `SELECT a.entry_id AS entryId, u.id, u.name FROM docket_attendee a JOIN user_account u ON u.id = a.user_id WHERE a.entry_id IN (?) ORDER BY u.name`,
    [ids],
  )
  const papers = await rows<{ entryId: number; id: number; name: string }>(
    m,
    `SELECT e.entry_id AS entryId, p.id, p.name FROM docket_entry_paper e JOIN paper p ON p.id = e.paper_id AND p.deleted_at IS NULL WHERE e.entry_id IN (?) ORDER BY p.name`,
    [ids],
  )
  const sent = await rows<{ entryId: number; email: string; name: string; zone: string; asOf: number; withdrawn: number }>(
    m,
    `SELECT entry_id AS entryId, email, name, zone, as_of AS asOf, withdrawn_at IS NOT NULL AS withdrawn FROM docket_sent WHERE entry_id IN (?) ORDER BY email`,
    [ids],
  )
  const seriesIds = [0, ...new Set(list.flatMap((d) => (d.seriesId ? [d.seriesId] : [])))]
  const series = await rows<{ id: number; rule: string; firstDay: Day; endedOn: Day | null }>(
    m,
    `SELECT id, rule, first_day AS firstDay, ended_on AS endedOn FROM docket_series WHERE id IN (?)`,
    [seriesIds],
  )
  const named = ({ id, name }: { id: number; name: string }) => ({ id, name })
  return {
    attendees: by(attendees, named),
    papers: by(papers, named),
    sent: by(sent, (s) => ({ ...s, withdrawn: Boolean(s.withdrawn) })),
    series: new Map(series.map((s) => [s.id, `${showRecurrence(s.rule, s.firstDay)}${s.endedOn ? ', ended' : ''}`])),
  }
}

async function shown(ctx: Ctx, list: EntryRow[], calendars?: CourtCalendars) {
  const today = ctx.clock.today()
  const courts = calendars ?? (await courtCalendars(ctx.db.manager))
  const sets = await ruleSets(ctx.db.manager)
  const home = await firmZone(ctx.db.manager)
  const counted = new Map<string, number>()
  const left = (key: string | null, day: Day) => {
    const at = `${key} ${day}`
    const known = counted.get(at) ?? courtDaysUntil(courts(key), today, day)
    counted.set(at, known)
    return known
  }
  const ids = list.map((d) => d.id)
  const [leads, beside] = [await ownLeads(ctx, ids), await besideOf(ctx.db.manager, list)]
  // Rows are copied whole: leaving columns out of a copy costs a fifth of the answer, and what the contract does not name is dropped there.
  return list.map((d) => ({
    ...d,
    how: showHow(d.triggerId ? d : { ...d, setBy: 'rule' }),
    isEvent: d.deadlineKey === eventKey,
    zone: sets.get(d.ruleSetKey ?? '')?.set.timeZone ?? home,
    trigger:
      d.triggerId && d.triggerDay
        ? {
            id: d.triggerId,
            label: d.triggerLabel || titleOfTrigger(sets, d.ruleSetKey, d.triggerKind),
            day: d.triggerDay,
            service: d.triggerService,
          }
        : null,
    paper: d.paperId ? { id: d.paperId, name: d.paperName ?? '' } : null,
    offCalendar: Boolean(d.offCalendar),
    tags: d.tags ? d.tags.split('|') : [],
    attendees: beside.attendees.get(d.id) ?? [],
    papers: beside.papers.get(d.id) ?? [],
    sentTo: (beside.sent.get(d.id) ?? []).map((s) => ({ ...s, changed: !s.withdrawn && d.sequence > s.asOf })),
    series: d.seriesId ? { id: d.seriesId, words: beside.series.get(d.seriesId) ?? '' } : null,
    leads: leads.get(d.id) ?? null,
    trace: JSON.parse(d.trace) as TraceStep[],
    leftOut: Boolean(d.leftOut),
    urgent: Boolean(d.urgent),
    provisional: Boolean(d.provisional),
    tentative: Boolean(d.tentative),
    courtDays: left(d.ruleSetKey, d.day),
  }))
}

/** The docket of a matter in order of days. */
export async function docketOf(ctx: Ctx, matterId: number) {
  const m = ctx.db.manager
  await requireMatter(m, ctx, matterId, 'docket')
  return shown(
    ctx,
    await rows<EntryRow>(m, `${select} WHERE d.matter_id = ? AND d.removed_at IS NULL ORDER BY d.day, d.at_time IS NULL, d.at_time, d.id`, [
      matterId,
    ]),
  )
}

/** One date as it stands now. */
export async function entryOf(ctx: Ctx, id: number) {
  const [found] = await shown(
    ctx,
    await rows<EntryRow>(ctx.db.manager, `${select} WHERE d.id = ? AND d.removed_at IS NULL AND ${matterScope(ctx.actor, 'm', 'docket')}`, [
      id,
    ]),
  )
  if (!found) throw notFound('docket entry')
  return found
}

/** The condition of a list of dates: what the reader may see of open matters, narrowed by the filter. */
function agendaWhere(ctx: Ctx, f: AgendaIn): { sql: string; values: (string | number)[] } {
  const user = Number(ctx.actor.id)
  const onTeam = (id: number) =>
    `(d.responsible_id = ${Number(id)} OR EXISTS (SELECT 1 FROM docket_attendee a WHERE a.entry_id = d.id AND a.user_id = ${Number(id)}) OR EXISTS (SELECT 1 FROM matter_team x WHERE x.matter_id = m.id AND x.user_id = ${Number(id)}))`
  const whose = {
    mine: onTeam(user),
    team: `m.lead_id IN (SELECT y.lead_id FROM matter y JOIN matter_team x ON x.matter_id = y.id WHERE x.user_id = ${user})`,
    firm: 'TRUE',
  }
  const where = [matterScope(ctx.actor, 'm', 'docket'), 'NOT d.left_out', 'm.closed_on IS NULL', whose[f.scope]]
  if (f.onCalendar) where.push('NOT d.off_calendar')
  const values: (string | number)[] = []
  if (f.userId) where.push(onTeam(f.userId))
  if (f.areaId) where.push(`m.area_id = ${Number(f.areaId)}`)
  if (f.only === 'unassigned') where.push('d.responsible_id IS NULL')
  if (f.only === 'unconfirmed') where.push('(d.tentative OR d.provisional)')
  if (f.weight) {
    where.push('d.weight = ?')
    values.push(f.weight)
  }
  for (const word of f.q.trim().split(/\s+/).filter(Boolean).slice(0, mostWords)) {
    where.push(
      `(d.title LIKE ? OR m.name LIKE ? OR m.number LIKE ? OR d.authority LIKE ? OR EXISTS (SELECT 1 FROM docket_entry_tag g WHERE g.entry_id = d.id AND g.tag LIKE ?))`,
    )
    values.push(...Array.from({ length: 5 }, () => `%${literal(word)}%`))
  }
  return { sql: where.join(' AND '), values }
}

/** Dates of a span in court days, what is late before it, and the days on which courts are closed. */
export async function agenda(ctx: Ctx, f: AgendaIn, most = { rows: f.size, late: f.size > 200 ? f.size : 100 }) {
  const m = ctx.db.manager
  const { from } = f
  const courts = await courtCalendars(m)
  const calendar = courts(null)
  const local = courts(null, await districtOf(m))
  const today = ctx.clock.today()
  if (f.to && (f.to < from || f.to > addDays(from, 1100))) throw fieldFault('to', 'Give a span of at most three years')
  const until = f.to ?? addCourtDays(calendar, from, f.courtDays)
  const { sql, values } = agendaWhere(ctx, f)
  // The page is cut first, on narrow rows; texts and traces are read only for what is shown.
  const find = async (more: string, own: (string | number)[], most: number) => {
    const ids = await rows<{ id: number }>(
      m,
      `SELECT d.id FROM docket_entry d JOIN matter m ON m.id = d.matter_id WHERE ${sql} ${more} ORDER BY d.day, d.id LIMIT ${most + 1}`,
      [...values, ...own],
    )
    const list = ids.length
      ? await rows<EntryRow>(
          m,
          `${select} WHERE d.id IN (?) ORDER BY d.day, d.at_time IS NULL, d.at_time, FIELD(d.weight, 'strict', 'rule', 'court order', 'firm practice', 'appointment'), d.id`,
          [ids.slice(0, most).map((x) => x.id)],
        )
      : []
    return { list, more: ids.length > most }
  }
  const [ahead, late] = await Promise.all([
    f.only === 'late' ? { list: [], more: false } : find(`AND d.day BETWEEN ? AND ? AND d.mark <> 'vacated'`, [from, until], most.rows),
    from <= today
      ? find(`AND d.day < ? AND d.mark IN ('open', 'in hand') AND d.weight <> 'appointment'`, [from], most.late)
      : { list: [], more: false },
  ])
  const closed: { day: Day; name: string }[] = []
  const count: Record<string, number> = {}
  let n = courtDaysUntil(calendar, today, from)
  for (let day = from; day <= until; day = addDays(day, 1)) {
    const federal = calendar.nameOf(day)
    const state = local.nameOf(day)
    const name = federal ? `${federal}, courts closed` : state ? `${state}, state courts closed` : null
    const why = calendar.closedWhy(day, 'after')
    if (name) closed.push({ day, name })
    if (day !== from && !why) n += 1
    count[day] = n
  }
  const all = await shown(ctx, [...ahead.list, ...late.list], courts)
  return {
    today,
    until,
    rows: all.slice(0, ahead.list.length),
    late: all.slice(ahead.list.length),
    more: { rows: ahead.more, late: late.more },
    closed,
    courtDays: count,
  }
}

/** The next date of the actor's own, for the waterline. */
export async function nextOwnDate(ctx: Ctx) {
  const m = ctx.db.manager
  const counts = `d.mark IN ('open', 'in hand') AND NOT d.left_out AND d.weight IN ('strict', 'rule', 'court order') AND m.closed_on IS NULL AND ${matterScope(ctx.actor, 'm', 'docket')}`
  // Every page asks for this: a docket clerk's is found by the days of all, everybody else's by their own matters.
  const clerk = ctx.actor.role === 'docket clerk'
  const of = clerk
    ? `FROM docket_entry d JOIN matter m ON m.id = d.matter_id WHERE ${counts}`
    : `FROM matter_team x STRAIGHT_JOIN matter m ON m.id = x.matter_id STRAIGHT_JOIN docket_entry d ON d.matter_id = m.id WHERE x.user_id = ${Number(ctx.actor.id)} AND ${counts}`
  const next = await row<{ day: Day | null }>(
    m,
    clerk ? `SELECT d.day ${of} AND d.day >= ? ORDER BY d.day LIMIT 1` : `SELECT MIN(d.day) AS day ${of} AND d.day >= ?`,
    [ctx.clock.today()],
  )
  const found = next?.day
    ? await row<{ title: string; matter: string; matterId: number; day: Day; ruleSetKey: string | null }>(
        m,
        `SELECT d.title, m.short_name AS matter, m.id AS matterId, d.day, m.rule_set_key AS ruleSetKey ${of} AND d.day = ? ORDER BY FIELD(d.weight, 'strict', 'rule', 'court order'), d.id LIMIT 1`,
        [next.day],
      )
    : null
  return (
    found && {
      title: found.title,
      matter: found.matter,
      matterId: found.matterId,
      courtDays: courtDaysUntil(await courtCalendarOf(m, found.ruleSetKey), ctx.clock.today(), found.day),
    }
  )
}

/** All that happened to one date, newest first. */
export async function historyOfEntry(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const there = await row(
    m,
    `SELECT 1 FROM docket_entry d JOIN matter m ON m.id = d.matter_id WHERE d.id = ? AND ${matterScope(ctx.actor, 'm', 'docket')}`,
    [id],
  )
  if (!there) throw notFound('docket entry')
  const list = await rows<{ at: string; who: string; what: string; was: string; became: string; why: string }>(
    m,
    `SELECT h.at, u.name AS who, h.what, h.was, h.became, h.why FROM docket_history h JOIN user_account u ON u.id = h.user_id WHERE h.entry_id = ? ORDER BY h.id DESC LIMIT 200`,
    [id],
  )
  return list.map((h) => ({ ...h, at: isoOf(h.at) }))
}
