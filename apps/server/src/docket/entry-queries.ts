import { type Day, latestDay, maxDay } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { change, handable, matterScope, nameInHandover } from '../platform/access'
import type { Held } from '../platform/area'
import { type Actor, type Ctx, instant } from '../platform/context'
import { row, rows, run } from '../platform/database'
import { versionOf } from './queries'

/** Open dates of a person; what whoever asks may not see is told without its words. */
export const datesHeld = (m: EntityManager, ctx: Ctx, userId: number, from: Day | undefined, to: Day | undefined) =>
  rows<Held>(
    m,
    `SELECT d.id, IF(${matterScope(ctx.actor, 'm', 'docket')}, d.title, 'A date') AS text, CONCAT(d.day, ', ', ${nameInHandover(ctx.actor)}) AS hint FROM docket_entry d JOIN matter m ON m.id = d.matter_id
        WHERE d.responsible_id = ? AND d.day >= ? AND d.day <= ? AND d.mark IN ('open', 'in hand') AND NOT d.left_out AND d.removed_at IS NULL AND m.closed_on IS NULL AND ${handable(ctx.actor)} ORDER BY d.day, d.id`,
    [userId, maxDay(ctx.clock.today(), from ?? ctx.clock.today()), to ?? latestDay],
  )

/** The matter of a date. */
export const matterOfDate = (m: EntityManager, id: number) =>
  row<{ matterId: number | null; number: string | null }>(
    m,
    `SELECT d.matter_id AS matterId, m.number FROM docket_entry d JOIN matter m ON m.id = d.matter_id WHERE d.id = ?`,
    [id],
  )

/** The history of a date says from whom to whom it went. */
export const noteHandover = (m: EntityManager, ctx: Ctx, subjectId: number, fromId: number, toId: number) =>
  run(
    m,
    `INSERT INTO docket_history (entry_id, at, user_id, what, was, became, why) SELECT ?, ?, ?, 'handed over', a.name, b.name, '' FROM user_account a, user_account b WHERE a.id = ? AND b.id = ?`,
    [subjectId, instant(ctx.clock.now()), ctx.actor.id, fromId, toId],
  )

/** Whether a paper lies on a matter. */
export const paperOnMatter = (m: EntityManager, paperId: number, matterId: number) =>
  row(m, `SELECT 1 FROM paper WHERE id = ? AND matter_id = ? AND deleted_at IS NULL`, [paperId, matterId])

/** The reason of a date, and its paper where one is given. */
export const giveReason = (m: EntityManager, why: string, paperId: number | null, entryId: number) =>
  run(m, `UPDATE docket_entry SET reason = ?, paper_id = COALESCE(?, paper_id) WHERE id = ?`, [why.slice(0, 300), paperId, entryId])

/** Procedures keep the ids of the dates they are counted from; how many would follow those that moved. */
export async function runsThatFollow(m: EntityManager, matterId: number, entryIds: readonly number[]): Promise<number> {
  if (!entryIds.length) return 0
  const runs = await rows<{ anchors: string }>(
    m,
    `SELECT r.anchors FROM procedure_run r WHERE r.matter_id = ? AND EXISTS (SELECT 1 FROM task t WHERE t.run_id = r.id AND t.done_at IS NULL)`,
    [matterId],
  )
  const moved = new Set(entryIds.map((id) => `entry ${id}`))
  return runs.filter((r) => Object.values(JSON.parse(r.anchors) as Record<string, string>).some((a) => moved.has(a))).length
}

/** Dates that were docketed once and taken away by someone, as `trigger id:deadline key`: nobody proposes them again. */
export async function takenAway(m: EntityManager, matterIds: readonly number[]): Promise<Set<string>> {
  const list = await rows<{ triggerId: number; key: string }>(
    m,
    `SELECT DISTINCT trigger_id AS triggerId, deadline_key AS \`key\` FROM docket_entry WHERE matter_id IN (?) AND removed_at IS NOT NULL AND trigger_id IS NOT NULL`,
    [matterIds],
  )
  return new Set(list.map((x) => `${x.triggerId}:${x.key}`))
}

/** Whether the docket of a matter is open to somebody. */
export const docketOpen = (m: EntityManager, who: Actor, matterId: number) =>
  row(m, `SELECT 1 FROM matter m WHERE m.id = ? AND ${matterScope(who, 'm', 'docket')}`, [matterId])

/** A date, where whoever asks may change it. */
export const entryToChange = (m: EntityManager, ctx: Ctx, id: number) =>
  row<{ id: number; matterId: number; title: string; mark: string; leftOut: number; day: Day }>(
    m,
    `SELECT d.id, d.matter_id AS matterId, d.title, d.mark, d.left_out AS leftOut, d.day FROM docket_entry d JOIN matter m ON m.id = d.matter_id WHERE d.id = ? AND d.removed_at IS NULL AND ${matterScope(ctx.actor, 'm', 'docket', change)} FOR UPDATE`,
    [id],
  )

/** What says whether a date may be moved by hand. */
export const dayIsOwn = (m: EntityManager, id: number) =>
  row<{ triggerId: number | null; setBy: string; time: string | null }>(
    m,
    `SELECT trigger_id AS triggerId, set_by AS setBy, TIME_FORMAT(at_time, '%H:%i') AS time FROM docket_entry WHERE id = ?`,
    [id],
  )

/** What a date stands at, and who changed it last. */
export const versionNow = (m: EntityManager, id: number) =>
  row<{ version: number; who: string | null }>(
    m,
    `SELECT ${versionOf('d')} AS version, (SELECT u.name FROM docket_history h JOIN user_account u ON u.id = h.user_id WHERE h.entry_id = d.id ORDER BY h.id DESC LIMIT 1) AS who FROM docket_entry d WHERE d.id = ?`,
    [id],
  )

/** What a date says before it is changed. */
export const entryAsItStands = (m: EntityManager, id: number) =>
  row<Record<string, string | number | null>>(
    m,
    `SELECT d.title, d.text, TIME_FORMAT(d.at_time, '%H:%i') AS time, d.length_minutes AS length, d.place, d.meeting_link AS meetingLink, u.name AS responsible, d.urgent, d.off_calendar AS offCalendar,
                (SELECT GROUP_CONCAT(t.tag ORDER BY t.tag SEPARATOR ', ') FROM docket_entry_tag t WHERE t.entry_id = d.id) AS tags,
                (SELECT GROUP_CONCAT(x.name ORDER BY x.name SEPARATOR ', ') FROM docket_attendee a JOIN user_account x ON x.id = a.user_id WHERE a.entry_id = d.id) AS attendees,
                (SELECT GROUP_CONCAT(p.name ORDER BY p.name SEPARATOR ', ') FROM docket_entry_paper e JOIN paper p ON p.id = e.paper_id WHERE e.entry_id = d.id) AS papers
           FROM docket_entry d LEFT JOIN user_account u ON u.id = d.responsible_id WHERE d.id = ?`,
    [id],
  )

/** What of the docket hangs on papers, in words by the paper's id: dates that come of one, events entered from one, papers attached. */
export async function datesOnPapers(m: EntityManager, ids: readonly number[]): Promise<Map<number, string>> {
  if (!ids.length) return new Map()
  const found = await rows<{ id: number; text: string }>(
    m,
    `SELECT e.paper_id AS id, CONCAT('the date ', e.title) AS text FROM docket_entry e WHERE e.paper_id IN (?) AND e.removed_at IS NULL
      UNION ALL SELECT x.paper_id, CONCAT('the date ', e.title) FROM docket_entry_paper x JOIN docket_entry e ON e.id = x.entry_id WHERE x.paper_id IN (?) AND e.removed_at IS NULL
      UNION ALL SELECT t.paper_id, 'an event of the docket' FROM trigger_event t WHERE t.paper_id IN (?) AND t.removed_at IS NULL`,
    [ids, ids, ids],
  )
  return new Map(found.map((f) => [f.id, f.text]))
}

/** The name of a party of a matter. */
export const partyNamed = (m: EntityManager, partyId: number, matterId: number) =>
  row<{ name: string }>(m, `SELECT c.name FROM matter_party y JOIN contact c ON c.id = y.contact_id WHERE y.id = ? AND y.matter_id = ?`, [
    partyId,
    matterId,
  ])

/** How many open dates a matter has ahead. */
export const datesAhead = (m: EntityManager, ctx: Ctx, id: number) =>
  row<{ n: number }>(
    m,
    `SELECT COUNT(*) AS n FROM docket_entry WHERE matter_id = ? AND day >= ? AND mark IN ('open', 'in hand') AND NOT left_out`,
    [id, ctx.clock.today()],
  )

/** Open dates of a span are taken off the calendar. */
export const putOffCalendar = (m: EntityManager, id: number, closedOn: Day, today: Day) =>
  run(m, `UPDATE docket_entry SET off_calendar = TRUE WHERE matter_id = ? AND day >= ? AND day < ? AND mark IN ('open', 'in hand')`, [
    id,
    closedOn,
    today,
  ])

/** How many open dates of a matter stand on the calendar. */
export const datesOnCalendar = (m: EntityManager, id: number, today: Day) =>
  row<{ n: number }>(
    m,
    `SELECT COUNT(*) AS n FROM docket_entry WHERE matter_id = ? AND day >= ? AND mark IN ('open', 'in hand') AND NOT left_out AND NOT off_calendar`,
    [id, today],
  )
