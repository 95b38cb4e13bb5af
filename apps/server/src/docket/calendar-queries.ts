import { addDays, type Day, spanOf } from '@heron/core/calendar'
import { createHash } from 'node:crypto'
import type { EntityManager } from 'typeorm'
import { matterScope } from '../platform/access'
import { type Actor, type Ctx, instant, isoOf } from '../platform/context'
import { row, rows, run } from '../platform/database'
import { ruleSets } from '../platform/rule-sets'
import { Firm } from '../platform/shared-entities'

export interface FeedIn {
  scope: 'person' | 'matter' | 'area' | 'firm'
  userId: number | null
  matterId: number | null
  areaId: number | null
}

/** By what the secret of a feed is kept: the secret itself is nowhere. */
export const hashOf = (secret: string) => createHash('sha256').update(secret).digest('hex')

/** The time zone in which the firm works, and a matter's dates stand that has no court. */
export const firmZone = async (m: EntityManager): Promise<string> =>
  (await m.findOne(Firm, { select: { zone: true, id: true }, where: { id: 1 } }))?.zone ?? 'America/New_York'

const names = `CASE f.scope WHEN 'firm' THEN 'The whole firm' WHEN 'person' THEN u.name WHEN 'matter' THEN m.name ELSE a.name END`

const feedFrom = `FROM calendar_feed f LEFT JOIN user_account u ON u.id = f.user_id LEFT JOIN matter m ON m.id = f.matter_id LEFT JOIN practice_area a ON a.id = f.area_id`

/** The actor's own calendars. Their addresses are shown once, when they are made. */
export async function feeds(ctx: Ctx) {
  const list = await rows<{ id: number; scope: FeedIn['scope']; name: string; createdAt: string }>(
    ctx.db.manager,
    `SELECT f.id, f.scope, IF(f.matter_id IS NOT NULL AND NOT ${matterScope(ctx.actor, 'm', 'docket')}, 'A matter that is not open to you', COALESCE(${names}, '')) AS name, f.created_at AS createdAt ${feedFrom} WHERE f.owner_id = ? AND f.withdrawn_at IS NULL ORDER BY f.id`,
    [ctx.actor.id],
  )
  return list.map((f) => ({ ...f, createdAt: isoOf(f.createdAt) }))
}

/** Whether what a feed is made of is there. */
export const scopeThere = (m: EntityManager, table: string, id: number | null) => row(m, `SELECT 1 FROM ${table} WHERE id = ?`, [id ?? 0])

export interface ShownEntry {
  id: number
  title: string
  text: string
  authority: string
  weight: string
  day: Day
  time: string | null
  lengthMinutes: number | null
  place: string
  meetingLink: string
  mark: string
  urgent: number
  tentative: number
  sequence: number
  changedAt: string
  matter: string
  number: string
  ruleSetKey: string | null
}

export const entryColumns = `d.id, d.title, d.text, d.authority, d.weight, d.day, TIME_FORMAT(d.at_time, '%H:%i') AS time, d.length_minutes AS lengthMinutes, d.place, d.meeting_link AS meetingLink, d.mark, d.urgent, d.tentative,
  d.sequence, COALESCE(d.changed_at, d.created_at) AS changedAt, m.short_name AS matter, m.number, m.rule_set_key AS ruleSetKey`

/** The firm’s name, and the domain its calendars go by. */
export const firmAndDomain = (m: EntityManager) =>
  row<{ name: string; domain: string }>(m, `SELECT name, calendar_domain AS domain FROM firm`)

/** The domain that the firm’s calendars go by. */
export const domainOfFirm = (m: EntityManager) => row<{ domain: string }>(m, `SELECT calendar_domain AS domain FROM firm`)

const scopeSql = (f: FeedIn): string =>
  ({
    firm: 'TRUE',
    matter: `m.id = ${Number(f.matterId)}`,
    area: `m.area_id = ${Number(f.areaId)}`,
    person: `(d.responsible_id = ${Number(f.userId)} OR EXISTS (SELECT 1 FROM docket_attendee a WHERE a.entry_id = d.id AND a.user_id = ${Number(f.userId)}) OR EXISTS (SELECT 1 FROM matter_team x WHERE x.matter_id = m.id AND x.user_id = ${Number(f.userId)}))`,
  })[f.scope]

/** Dates of a feed from a day on, as far as its owner may see them now. */
export async function entriesOf(m: EntityManager, owner: Actor, feed: FeedIn, from: Day): Promise<ShownEntry[]> {
  return rows<ShownEntry>(
    m,
    `SELECT ${entryColumns} FROM docket_entry d JOIN matter m ON m.id = d.matter_id
      WHERE d.day >= ? AND NOT d.left_out AND NOT d.off_calendar AND d.removed_at IS NULL AND (m.closed_on IS NULL OR d.day < m.closed_on) AND ${scopeSql(feed)} AND ${matterScope(owner, 'm', 'docket')} ORDER BY d.day, d.id LIMIT 20000`,
    [from],
  )
}

/** The feed that a secret opens. */
export const feedBySecret = (m: EntityManager, secret: string) =>
  row<FeedIn & { id: number; ownerId: number; name: string | null }>(
    m,
    `SELECT f.id, f.owner_id AS ownerId, f.scope, f.user_id AS userId, f.matter_id AS matterId, f.area_id AS areaId, ${names} AS name ${feedFrom} WHERE f.secret_hash = ? AND f.withdrawn_at IS NULL`,
    [hashOf(secret)],
  )

/** Whether the docket of a matter is open to the owner of a feed. */
export const docketOpenTo = (m: EntityManager, owner: Actor, matterId: number) =>
  row(m, `SELECT 1 FROM matter m WHERE m.id = ? AND ${matterScope(owner, 'm', 'docket')}`, [matterId])

export interface SentEntry {
  id: number
  matterId: number
  title: string
  day: Day
  time: string | null
  minutes: number | null
  place: string
  link: string
  sequence: number
  ruleSetKey: string | null
  mark: string
  tentative: number
  leftOut: number
  removed: number
}

/** A date as it is sent to those outside. */
export const entryOf = (m: EntityManager, id: number) =>
  row<SentEntry>(
    m,
    `SELECT d.id, d.matter_id AS matterId, d.title, d.day, TIME_FORMAT(d.at_time, '%H:%i') AS time, d.length_minutes AS minutes, d.place, d.meeting_link AS link, d.sequence,
            m.rule_set_key AS ruleSetKey, d.mark, d.tentative, d.left_out AS leftOut, d.removed_at IS NOT NULL AS removed
       FROM docket_entry d JOIN matter m ON m.id = d.matter_id WHERE d.id = ?`,
    [id],
  )

/** What somebody was sent of a date before. */
export const inviteBefore = (m: EntityManager, id: number, email: string) =>
  row<{ sequence: number; withdrawn: number; name: string }>(
    m,
    `SELECT sequence, withdrawn_at IS NOT NULL AS withdrawn, name FROM docket_sent WHERE entry_id = ? AND email = ?`,
    [id, email],
  )

/** What somebody was sent of a date last. */
export const noteInvite = (
  m: EntityManager,
  ctx: Ctx,
  id: number,
  email: string,
  name: string,
  zone: string,
  sequence: number,
  eSequence: number,
) =>
  run(
    m,
    `INSERT INTO docket_sent (entry_id, email, name, zone, sequence, as_of, sent_at) VALUES (?, ?, ?, ?, ?, ?, ?)
       ON DUPLICATE KEY UPDATE name = VALUES(name), zone = VALUES(zone), sequence = VALUES(sequence), as_of = VALUES(as_of), sent_at = VALUES(sent_at), withdrawn_at = NULL`,
    [id, email, name, zone, sequence, eSequence, instant(ctx.clock.now())],
  )

/** Dates of a matter from a day on that somebody was sent. */
export const datesSent = (m: EntityManager, ctx: Ctx, matterId: number) =>
  rows<{ id: number }>(
    m,
    `SELECT DISTINCT d.id FROM docket_entry d JOIN docket_sent s ON s.entry_id = d.id AND s.withdrawn_at IS NULL
      WHERE d.matter_id = ? AND d.day >= ? AND d.removed_at IS NULL AND d.mark IN ('open', 'in hand') ORDER BY d.id`,
    [matterId, ctx.clock.today()],
  )

/** One's own working hours and time zone. */
export async function ownHours(ctx: Ctx) {
  const m = ctx.db.manager
  const own = await row<{ zone: string; from: string; to: string }>(
    m,
    `SELECT zone, TIME_FORMAT(work_from, '%H:%i') AS \`from\`, TIME_FORMAT(work_to, '%H:%i') AS \`to\` FROM user_account WHERE id = ?`,
    [ctx.actor.id],
  )
  return { ...own!, firmZone: await firmZone(m) }
}

/** What has an hour and makes people busy: appointments and other timed dates they take part in or answer for, whatever the matter. */
export async function busyOf(m: EntityManager, userIds: readonly number[], from: Day, to: Day) {
  const zones = await ruleSets(m)
  const home = await firmZone(m)
  const list = await rows<{ userId: number; day: Day; time: string; minutes: number | null; ruleSetKey: string | null }>(
    m,
    `SELECT u.id AS userId, d.day, TIME_FORMAT(d.at_time, '%H:%i') AS time, d.length_minutes AS minutes, m.rule_set_key AS ruleSetKey
       FROM docket_entry d JOIN matter m ON m.id = d.matter_id
       JOIN user_account u ON u.id IN (?) AND (u.id = d.responsible_id OR EXISTS (SELECT 1 FROM docket_attendee a WHERE a.entry_id = d.id AND a.user_id = u.id))
      WHERE d.day BETWEEN ? AND ? AND d.at_time IS NOT NULL AND d.removed_at IS NULL AND NOT d.left_out AND d.mark IN ('open', 'in hand') AND m.closed_on IS NULL`,
    [userIds, addDays(from, -1), addDays(to, 1)],
  )
  return list.map((b) => ({
    userId: b.userId,
    ...spanOf(b.day, b.time, b.minutes ?? 60, zones.get(b.ruleSetKey ?? '')?.set.timeZone ?? home),
  }))
}

/** When these people work, in their own zones. */
export const workHours = (m: EntityManager, home: string, ids: number[]) =>
  rows<{ id: number; name: string; zone: string; from: string; to: string }>(
    m,
    `SELECT id, name, IF(zone = '', ?, zone) AS zone, TIME_FORMAT(work_from, '%H:%i') AS \`from\`, TIME_FORMAT(work_to, '%H:%i') AS \`to\` FROM user_account WHERE active AND id IN (?) ORDER BY name`,
    [home, ids],
  )

/** The firm’s own holidays. */
export const holidaysBetween = (m: EntityManager, from: Day, to: Day) =>
  rows<{ day: Day }>(m, `SELECT day FROM firm_holiday WHERE day BETWEEN ? AND ?`, [from, to])

/** When these people are away. */
export const absencesOf = (m: EntityManager, ids: number[]) =>
  rows<{ userId: number; from: Day; to: Day | null }>(
    m,
    `SELECT user_id AS userId, from_day AS \`from\`, to_day AS \`to\` FROM absence WHERE ended_at IS NULL AND user_id IN (?)`,
    [ids],
  )
