import type { ReminderRules } from '@heron/contract'
import { addDays, courtDaysUntil, type Day, weekday } from '@heron/core/calendar'
import type { Weight } from '@heron/core/docket'
import type { EntityManager } from 'typeorm'
import { matterScope } from '../platform/access'
import { type Actor, type Ctx, instant, isoOf } from '../platform/context'
import { row, rows, run } from '../platform/database'
import { ReminderChoice } from './entities'
import { courtCalendars } from './state-queries'

/** How many days ahead, as they are kept; null where nothing was chosen. */
export const read = (leads: string | null) => (leads === null ? null : leads ? leads.split(',').map(Number) : [])

/** When the firm reminds of dates: for whoever chose nothing, of strict dates always, and from which hour on. */
export async function reminderRules(m: EntityManager): Promise<ReminderRules> {
  const found = await row<{ usual: string; strict: string; lettersFrom: string }>(
    m,
    `SELECT usual_leads AS \`usual\`, strict_leads AS strict, letters_from AS lettersFrom FROM firm`,
  )
  return { usual: read(found?.usual ?? '') ?? [], strict: read(found?.strict ?? '') ?? [], lettersFrom: found?.lettersFrom ?? '06:00' }
}

/** Open dates, for everyone on the team who may see the docket, for whoever is responsible, and for those who take part. */
export const nearSql = `SELECT d.id, d.title, d.authority, d.weight, d.day, d.placed_on AS placedOn, d.created_at AS createdAt, TIME_FORMAT(d.at_time, '%H:%i') AS time,
    m.id AS matterId, m.number, m.name AS matter, m.rule_set_key AS ruleSetKey, u.id AS userId, e.leads AS ofEntry, c.leads AS ofPerson
  FROM docket_entry d JOIN matter m ON m.id = d.matter_id JOIN user_account u ON u.active AND (u.id = d.responsible_id OR u.id IN (SELECT t.user_id FROM matter_team t WHERE t.matter_id = m.id AND t.at_docket > 0) OR u.id IN (SELECT a.user_id FROM docket_attendee a WHERE a.entry_id = d.id))
  LEFT JOIN reminder_choice c ON c.user_id = u.id LEFT JOIN entry_reminder_choice e ON e.entry_id = d.id AND e.user_id = u.id
 WHERE d.mark IN ('open', 'in hand') AND NOT d.left_out AND NOT d.off_calendar AND m.closed_on IS NULL AND m.kind <> 'practice'
   AND NOT EXISTS (SELECT 1 FROM matter_screen s WHERE s.matter_id = m.id AND s.user_id = u.id)`

/** How long ahead anybody is reminded. */
export const leadsInUse = (m: EntityManager) =>
  rows<{ leads: string | null }>(m, `SELECT leads FROM reminder_choice UNION SELECT leads FROM entry_reminder_choice`)

/** The matters whose docket is open to somebody. */
export const docketsSeen = (m: EntityManager, actor: Actor, own: readonly { matterId: number }[]) =>
  rows<{ id: number }>(m, `SELECT m.id FROM matter m WHERE m.id IN (?) AND ${matterScope(actor, 'm', 'docket')}`, [
    [...new Set(own.map((d) => d.matterId))],
  ])

/** A reminder stands once for a person and a day. */
export const noteReminder = (tx: EntityManager, id: number, userId: number, day: Day, lead: number, base: Omit<Ctx, 'actor'>) =>
  run(tx, `INSERT IGNORE INTO docket_reminder (entry_id, user_id, day, lead, at) VALUES (?, ?, ?, ?, ?)`, [
    id,
    userId,
    day,
    lead,
    instant(base.clock.now()),
  ])

/** Who wants a digest on a day of the week. */
export const digestsOn = (base: Omit<Ctx, 'actor'>, today: Day) =>
  rows<{ userId: number }>(
    base.db.manager,
    `SELECT c.user_id AS userId FROM reminder_choice c JOIN user_account u ON u.id = c.user_id AND u.active WHERE c.digest_on = ?`,
    [weekday(today)],
  )

/** The actor's own choice, and reminders not yet put away. */
export async function ownReminders(ctx: Ctx) {
  const m = ctx.db.manager
  const choice = await m.findOne(ReminderChoice, { select: { leads: true, digestOn: true, userId: true }, where: { userId: ctx.actor.id } })
  const list = await rows<{
    id: number
    entryId: number
    title: string
    matterId: number
    matter: string
    day: Day
    lead: number
    at: string
    weight: Weight
    ruleSetKey: string | null
  }>(
    m,
    `SELECT r.id, d.weight, r.entry_id AS entryId, d.title, m.id AS matterId, m.short_name AS matter, d.day, r.lead, r.at, m.rule_set_key AS ruleSetKey
       FROM docket_reminder r JOIN docket_entry d ON d.id = r.entry_id AND d.day = r.day JOIN matter m ON m.id = d.matter_id
      WHERE r.user_id = ? AND NOT r.seen AND d.mark IN ('open', 'in hand') AND NOT d.left_out AND ${matterScope(ctx.actor, 'm', 'docket')} ORDER BY d.weight <> 'strict', d.day, d.id, r.lead LIMIT 500`,
    [ctx.actor.id],
  )
  const shown = [...new Map([...list].reverse().map((r) => [r.entryId, r])).values()].reverse()
  const courts = await courtCalendars(m)
  const out = shown.map((r) => ({ ...r, at: isoOf(r.at), courtDays: courtDaysUntil(courts(r.ruleSetKey), ctx.clock.today(), r.day) }))
  return { leads: read(choice?.leads ?? null) ?? (await reminderRules(m)).usual, digestOn: choice?.digestOn ?? null, rows: out }
}

/** The dates behind reminders of a person. */
export const datesReminded = (m: EntityManager, ctx: Ctx, ids: readonly number[]) =>
  rows<{ id: number }>(m, `SELECT entry_id AS id FROM docket_reminder WHERE user_id = ? AND id IN (?)`, [ctx.actor.id, [0, ...ids]])

/** How much a date weighs, where it is open to whoever asks. */
export const weightOf = (m: EntityManager, ctx: Ctx, id: number) =>
  row<{ weight: Weight }>(
    m,
    `SELECT d.weight FROM docket_entry d JOIN matter m ON m.id = d.matter_id WHERE d.id = ? AND d.removed_at IS NULL AND ${matterScope(ctx.actor, 'm', 'docket')}`,
    [id],
  )

/** Those of a team who see its docket. */
export const teamToTell = (m: EntityManager, id: number) =>
  rows<{ userId: number }>(
    m,
    `SELECT t.user_id AS userId FROM matter_team t JOIN user_account u ON u.id = t.user_id WHERE t.matter_id = ? AND t.at_docket > 0 AND u.active
        AND NOT EXISTS (SELECT 1 FROM matter_screen s WHERE s.matter_id = t.matter_id AND s.user_id = t.user_id)`,
    [id],
  )

/** Docket reports that go out every week by one's own order. */
export async function schedules(ctx: Ctx) {
  const m = ctx.db.manager
  const list = await rows<{ id: number; words: string; weekday: number; lastOn: Day | null; createdAt: string; names: string | null }>(
    m,
    `SELECT s.id, s.words, s.weekday, s.last_on AS lastOn, s.created_at AS createdAt,
            (SELECT GROUP_CONCAT(u.name ORDER BY u.name SEPARATOR '|') FROM report_schedule_to t JOIN user_account u ON u.id = t.user_id WHERE t.schedule_id = s.id) AS names
       FROM report_schedule s WHERE s.owner_id = ? AND s.ended_at IS NULL ORDER BY s.id`,
    [ctx.actor.id],
  )
  return list.map(({ names, createdAt, lastOn, ...s }) => ({
    ...s,
    lastOn: lastOn === ctx.clock.at(createdAt).day ? null : lastOn,
    to: names?.split('|') ?? [],
  }))
}

/** Who gets a report. */
export const readersOf = (m: EntityManager, id: number) =>
  rows<{ id: number }>(m, `SELECT user_id AS id FROM report_schedule_to WHERE schedule_id = ?`, [id])

/** Who works on what, with the next date of each matter. */
export const teamRows = (ctx: Ctx, where: string[], values: number[]) =>
  rows<{ who: string; role: string; number: string; name: string; area: string | null; since: Day; next: Day | null }>(
    ctx.db.manager,
    `SELECT u.name AS who, t.role, m.number, m.name, a.name AS area, t.since,
            (SELECT MIN(d.day) FROM docket_entry d WHERE d.matter_id = m.id AND d.day >= ? AND d.removed_at IS NULL AND NOT d.left_out AND d.mark IN ('open', 'in hand') AND ${matterScope(ctx.actor, 'm', 'docket')}) AS next
       FROM matter_team t JOIN matter m ON m.id = t.matter_id JOIN user_account u ON u.id = t.user_id LEFT JOIN practice_area a ON a.id = m.area_id
      WHERE ${where.join(' AND ')} ORDER BY u.name, m.number LIMIT 20000`,
    [ctx.clock.today(), ...values],
  )

/** The triggers of a matter by their days. */
export const triggersInOrder = (ctx: Ctx, matterId: number) =>
  rows<{ id: number; label: string; kind: string; key: string | null; day: Day }>(
    ctx.db.manager,
    `SELECT id, label, kind, rule_set_key AS \`key\`, day FROM trigger_event WHERE matter_id = ? AND removed_at IS NULL ORDER BY day`,
    [matterId],
  )

export interface Near {
  id: number
  title: string
  authority: string
  weight: Weight
  day: Day
  placedOn: Day | null
  createdAt: string
  time: string | null
  matterId: number
  number: string
  matter: string
  ruleSetKey: string | null
  userId: number
  ofEntry: string | null
  ofPerson: string | null
}

/** Dates of a span with whoever is reminded of them. */
export const nearBetween = (m: EntityManager, today: Day, longest: number) =>
  rows<Near>(m, `${nearSql} AND d.day BETWEEN ? AND ? ORDER BY u.id, d.day, d.id`, [
    addDays(today, -30),
    addDays(today, Math.ceil(longest * 1.5) + 14),
  ])

/** What a digest of four weeks tells somebody. */
export const digestDates = (m: EntityManager, actor: Actor, userId: number, today: Day) =>
  rows<Near>(
    m,
    `${nearSql} AND ${matterScope(actor, 'm', 'docket')} AND u.id = ? AND d.day BETWEEN ? AND DATE_ADD(?, INTERVAL 28 DAY) ORDER BY d.day, d.id LIMIT 500`,
    [userId, today, today],
  )

/** A condition: somebody is on the team of a matter. */
export const onTeam = 'EXISTS (SELECT 1 FROM matter_team x WHERE x.matter_id = m.id AND x.user_id = ?)'
