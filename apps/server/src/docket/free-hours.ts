import { addDays, freeHours, hourIn, overlaps, showDay, spanOf, type Attending, type Day } from '@heron/core/calendar'
import { requireOpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { work } from '../platform/database'
import { fieldFault, refused } from '../platform/problem'
import { ruleSets } from '../platform/rule-sets'
import { firmZone, absencesOf, busyOf, holidaysBetween, ownHours, workHours } from './calendar-queries'
import { insertOwn } from './own'
import { inviteTo, type Outside } from './sending'
import { districtOf } from './state'
import { courtCalendarOf } from './state-queries'
import { Firm, UserAccount } from '../platform/shared-entities'

export function setOwnHours(ctx: Ctx, input: { zone: string; from: string; to: string }): Promise<void> {
  return work(ctx, async (m) => {
    if (input.from >= input.to) throw fieldFault('to', 'It must be later than the hour at which work begins')
    await m.update(UserAccount, { id: ctx.actor.id }, { zone: input.zone, workFrom: input.from, workTo: input.to })
  })
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
  const people = await workHours(m, home, ids)
  if (people.length < ids.length) throw fieldFault('userIds', 'Choose people who work here')
  const firm = await m.findOne(Firm, { select: { workDays: true, id: true }, where: { id: 1 } })
  const holidays = await holidaysBetween(m, ask.from, ask.to)
  const courts = await courtCalendarOf(m, null, await districtOf(m))
  const closed = new Set(holidays.map((h) => h.day))
  for (let day = ask.from; day <= ask.to; day = addDays(day, 1)) if (courts.nameOf(day)) closed.add(day)
  const away = await absencesOf(m, ids)
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
