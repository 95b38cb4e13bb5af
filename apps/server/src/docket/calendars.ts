import { createHash, randomBytes } from 'node:crypto'
import { addDays, type Day } from '@heron/core/calendar'
import { writeCalendar, type CalendarEntry } from '@heron/core/formats'
import { IsNull, type EntityManager } from 'typeorm'
import { matterScope, requireMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { actorOf } from '../platform/auth'
import { instant, isoOf, type Actor, type Ctx } from '../platform/context'
import { insertRow, row, rows, touched, work } from '../platform/database'
import { download } from '../platform/files'
import { fieldFault, notFound } from '../platform/problem'
import { ruleSets, type RuleSets } from '../platform/rule-sets'
import { Firm } from '../platform/shared-entities'
import { CalendarFeed } from './own-entities'

export interface FeedIn {
  scope: 'person' | 'matter' | 'area' | 'firm'
  userId: number | null
  matterId: number | null
  areaId: number | null
}

const hashOf = (secret: string) => createHash('sha256').update(secret).digest('hex')

/** The time zone in which the firm works, and a matter's dates stand that has no court. */
export const firmZone = async (m: EntityManager): Promise<string> =>
  (await m.findOne(Firm, { select: { zone: true, id: true }, where: { id: 1 } }))?.zone ?? 'America/New_York'

/** The time zone of a court, in which its hours stand; else the firm's. */
export const zoneOf = async (m: EntityManager, ruleSetKey: string | null): Promise<string> =>
  (await ruleSets(m)).get(ruleSetKey ?? '')?.set.timeZone ?? (await firmZone(m))

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

/** Makes a calendar with a secret address, of which only the hash is kept. It shows what its owner may see, as of each reading. */
export function makeFeed(ctx: Ctx, input: FeedIn): Promise<{ id: number; address: string }> {
  return work(ctx, async (m) => {
    if (input.scope === 'matter') await requireMatter(m, ctx, input.matterId ?? 0, 'docket')
    const of = { person: ['user_account', input.userId], area: ['practice_area', input.areaId] } as const
    const [table, id] = of[input.scope as 'person'] ?? []
    if (table && !(await row(m, `SELECT 1 FROM ${table} WHERE id = ?`, [id ?? 0])))
      throw fieldFault(input.scope === 'person' ? 'userId' : 'areaId', 'Choose whose dates')
    const secret = randomBytes(32).toString('base64url')
    const madeId = await insertRow(m, CalendarFeed, {
      secretHash: hashOf(secret),
      ownerId: ctx.actor.id,
      scope: input.scope,
      userId: input.scope === 'person' ? input.userId : null,
      matterId: input.scope === 'matter' ? input.matterId : null,
      areaId: input.scope === 'area' ? input.areaId : null,
      createdAt: instant(ctx.clock.now()),
    })
    await audit(m, ctx, {
      kind: 'shared',
      text: `Calendar address made: ${input.scope}`,
      subject: 'calendar',
      subjectId: madeId,
      matterId: input.scope === 'matter' ? input.matterId : null,
    })
    return { id: madeId, address: `/api/calendars/${secret}` }
  })
}

export function withdrawFeed(ctx: Ctx, id: number): Promise<void> {
  return work(ctx, async (m) => {
    const done = await touched(
      m.update(CalendarFeed, { id, ownerId: ctx.actor.id, withdrawnAt: IsNull() }, { withdrawnAt: instant(ctx.clock.now()) }),
    )
    if (!done) throw notFound('calendar')
    await audit(m, ctx, { kind: 'changed', text: 'Calendar address withdrawn', subject: 'calendar', subjectId: id })
  })
}

interface ShownEntry {
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

/** An entry as calendars show it: its marking before its title, its authority in the text. */
export function calendarEntry(e: ShownEntry, firm: { host: string; zone: string }, sets: RuleSets): CalendarEntry {
  const marks = [e.mark === 'open' ? '' : e.mark, e.urgent ? 'urgent' : '', e.tentative ? 'tentative' : ''].filter(Boolean)
  return {
    uid: `docket-${e.id}@${firm.host}`,
    sequence: e.sequence,
    title: `${marks.length ? `(${marks.join(', ')}) ` : ''}${e.title}, ${e.matter}`,
    description: [
      e.text,
      e.meetingLink && `Video meeting: ${e.meetingLink}`,
      e.authority && `Authority: ${e.authority}`,
      `Matter ${e.number}, ${e.weight}`,
    ]
      .filter(Boolean)
      .join('\n\n'),
    place: e.place,
    day: e.day,
    time: e.time,
    minutes: e.lengthMinutes ?? 60,
    zone: sets.get(e.ruleSetKey ?? '')?.set.timeZone ?? firm.zone,
    status: e.mark === 'vacated' ? 'CANCELLED' : e.tentative ? 'TENTATIVE' : 'CONFIRMED',
    changedAt: isoOf(e.changedAt),
  }
}

/**
 * Name by which this firm's entries are told from any other's. It is made once, of the name the firm had then, and kept: calendars
 * know an entry by it, so that it never changes once one was sent.
 */
export async function firmHost(m: EntityManager): Promise<string> {
  const firm = await row<{ name: string; domain: string }>(m, `SELECT name, calendar_domain AS domain FROM firm`)
  if (!firm) return 'firm.example'
  if (firm.domain) return firm.domain
  const plain = firm.name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .slice(0, 100)
  const made = `${plain.replace(/^-/, '').replace(/-$/, '')}.example`
  await m.update(Firm, { calendarDomain: '' }, { calendarDomain: made })
  return (await row<{ domain: string }>(m, `SELECT calendar_domain AS domain FROM firm`))!.domain
}

const scopeSql = (f: FeedIn): string =>
  ({
    firm: 'TRUE',
    matter: `m.id = ${Number(f.matterId)}`,
    area: `m.area_id = ${Number(f.areaId)}`,
    person: `(d.responsible_id = ${Number(f.userId)} OR EXISTS (SELECT 1 FROM docket_attendee a WHERE a.entry_id = d.id AND a.user_id = ${Number(f.userId)}) OR EXISTS (SELECT 1 FROM matter_team x WHERE x.matter_id = m.id AND x.user_id = ${Number(f.userId)}))`,
  })[f.scope]

async function entriesOf(m: EntityManager, owner: Actor, feed: FeedIn, from: Day): Promise<ShownEntry[]> {
  return rows<ShownEntry>(
    m,
    `SELECT ${entryColumns} FROM docket_entry d JOIN matter m ON m.id = d.matter_id
      WHERE d.day >= ? AND NOT d.left_out AND NOT d.off_calendar AND d.removed_at IS NULL AND (m.closed_on IS NULL OR d.day < m.closed_on) AND ${scopeSql(feed)} AND ${matterScope(owner, 'm', 'docket')} ORDER BY d.day, d.id LIMIT 20000`,
    [from],
  )
}

/** A calendar by its secret address, as its owner may see it now; withdrawn ones and those of people who left are not there. */
export async function readFeed(base: Omit<Ctx, 'actor'>, secret: string) {
  const m = base.db.manager
  const feed = await row<FeedIn & { id: number; ownerId: number; name: string | null }>(
    m,
    `SELECT f.id, f.owner_id AS ownerId, f.scope, f.user_id AS userId, f.matter_id AS matterId, f.area_id AS areaId, ${names} AS name ${feedFrom} WHERE f.secret_hash = ? AND f.withdrawn_at IS NULL`,
    [hashOf(secret)],
  )
  const owner = feed && (await actorOf(m, feed.ownerId))
  if (!feed || !owner) throw notFound('calendar')
  // A matter that was closed to its owner since is as if it had never been there: not even its name is left.
  if (feed.matterId && !(await row(m, `SELECT 1 FROM matter m WHERE m.id = ? AND ${matterScope(owner, 'm', 'docket')}`, [feed.matterId])))
    throw notFound('calendar')
  const list = await entriesOf(m, owner, feed, addDays(base.clock.today(), -90))
  const firm = { host: await firmHost(m), zone: await firmZone(m) }
  const sets = await ruleSets(m)
  const text = writeCalendar(
    feed.name ?? '',
    list.map((e) => calendarEntry(e, firm, sets)),
  )
  return download(Buffer.from(text), 'docket.ics', 'text/calendar; charset=utf-8')
}
