import { addDays, freeHours, hourIn, overlaps, showDay, spanOf, type Attending, type Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { requireOpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { row, rows, work } from '../platform/database'
import { fieldFault, refused } from '../platform/problem'
import { ruleSets } from '../platform/rule-sets'
import { firmZone } from './calendars'
import { insertOwn } from './own'
import { inviteTo, type Outside } from './sending'
import { courtCalendarOf, districtOf } from './state'
import { Firm, UserAccount } from '../platform/shared-entities'

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

export function setOwnHours(ctx: Ctx, input: { zone: string; from: string; to: string }): Promise<void> {
  return work(ctx, async (m) => {
    if (input.from >= input.to) throw fieldFault('to', 'It must be later than the hour at which work begins')
    await m.update(UserAccount, { id: ctx.actor.id }, { zone: input.zone, workFrom: input.from, workTo: input.to })
  })
}

/** What has an hour and makes people busy: appointments and other timed dates they take part in or answer for, whatever the matter. */
async function busyOf(m: EntityManager, userIds: readonly number[], from: Day, to: Day) {
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

/** How many free hours are shown at most. */
const shownHours = 200

/** When everyone chosen is free. Of what others have on only that they are busy is used; nothing of it is told. */
export async function findFreeHours(ctx: Ctx, ask: { userIds: number[]; minutes: number; from: Day; to: Day }) {
  const m = ctx.db.manager
  if (ask.to < ask.from) throw fieldFault('to', 'It ends before it begins')
  if (addDays(ask.from, 92) < ask.to) throw fieldFault('to', 'Look at three months at most')
  const ids = [...new Set(ask.userIds)]
  const home = await firmZone(m)
  const people = await rows<{ id: number; name: string; zone: string; from: string; to: string }>(
    m,
    `SELECT id, name, IF(zone = '', ?, zone) AS zone, TIME_FORMAT(work_from, '%H:%i') AS \`from\`, TIME_FORMAT(work_to, '%H:%i') AS \`to\` FROM user_account WHERE active AND id IN (?) ORDER BY name`,
    [home, ids],
  )
  if (people.length < ids.length) throw fieldFault('userIds', 'Choose people who work here')
  const firm = await m.findOne(Firm, { select: { workDays: true, id: true }, where: { id: 1 } })
  const holidays = await rows<{ day: Day }>(m, `SELECT day FROM firm_holiday WHERE day BETWEEN ? AND ?`, [ask.from, ask.to])
  const courts = await courtCalendarOf(m, null, await districtOf(m))
  const closed = new Set(holidays.map((h) => h.day))
  for (let day = ask.from; day <= ask.to; day = addDays(day, 1)) if (courts.nameOf(day)) closed.add(day)
  const away = await rows<{ userId: number; from: Day; to: Day | null }>(
    m,
    `SELECT user_id AS userId, from_day AS \`from\`, to_day AS \`to\` FROM absence WHERE ended_at IS NULL AND user_id IN (?)`,
    [ids],
  )
  const busy = await busyOf(m, ids, ask.from, ask.to)
  const days = JSON.parse(firm?.workDays ?? '[1,2,3,4,5]') as number[]
  const attending = people.map((p): Attending => ({
    ...p,
    days,
    away: away.filter((a) => a.userId === p.id),
    busy: busy.filter((b) => b.userId === p.id),
  }))
  const zone = (await ownHours(ctx)).zone || home
  const found = freeHours(attending, { ...ask, zone, closed, after: ctx.clock.now().toISOString(), most: shownHours + 1 })
  const others = [...new Set(people.map((p) => p.zone))].filter((z) => z !== zone)
  return {
    zone,
    people,
    more: found.length > shownHours,
    hours: found
      .slice(0, shownHours)
      .map((f) => ({ day: f.day, time: f.time, elsewhere: others.map((z) => ({ zone: z, ...hourIn(f.from, z) })) })),
  }
}

/** Takes a free hour for an appointment; the hour stands in the reader's zone and is docketed in the matter's. */
export function pickHour(
  ctx: Ctx,
  matterId: number,
  input: {
    title: string
    day: Day
    time: string
    lengthMinutes: number
    place: string
    meetingLink: string
    attendeeIds: number[]
    invite: Outside[]
  },
): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    const matter = await requireOpenMatter(m, ctx, matterId, 'docket')
    const home = await firmZone(m)
    const mine = (await ownHours(ctx)).zone || home
    const court = (await ruleSets(m)).get(matter.ruleSetKey ?? '')?.set.timeZone ?? home
    const { invite, day, time, ...own } = input
    const at = hourIn(spanOf(day, time, 1, mine).from, court)
    const taken = spanOf(day, time, own.lengthMinutes, mine)
    const busy = (await busyOf(m, [ctx.actor.id, ...own.attendeeIds], addDays(day, -1), addDays(day, 1))).filter((b) =>
      own.attendeeIds.includes(b.userId),
    )
    if (busy.some((b) => overlaps(b, taken)))
      throw refused('taken', 'That hour is no longer free for everyone. Nothing was docketed; look for free hours again.')
    const responsibleId = own.attendeeIds.includes(ctx.actor.id) || !own.attendeeIds.length ? ctx.actor.id : own.attendeeIds[0]!
    const id = await insertOwn(m, ctx, matter, {
      ...own,
      ...at,
      text: '',
      weight: 'appointment',
      authority: '',
      sum: '',
      responsibleId,
      urgent: false,
      offCalendar: false,
      tags: [],
      paperIds: [],
    })
    for (const to of invite) await inviteTo(m, ctx, id, to)
    await audit(m, ctx, {
      kind: 'docketed',
      text: `${input.title}, ${showDay(at.day)} ${at.time}${invite.length ? `; ${invite.map((i) => i.email).join(', ')} invited` : ''}`,
      matterId,
      subject: 'docket entry',
      subjectId: id,
    })
    return { id }
  })
}
