import { hourIn, showDay, spanOf } from '@heron/core/calendar'
import { writeCalendar, type CalendarEntry } from '@heron/core/formats'
import { IsNull, type EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { locked, work } from '../platform/database'
import { sendMail } from '../platform/mail'
import { notFound, refused } from '../platform/problem'
import { firmHost, zoneOf } from './calendars'
import { lockEntry } from './own'
import { UserAccount } from '../platform/shared-entities'
import { DocketSent } from './own-entities'
import { datesSent, entryOf, inviteBefore, noteInvite, type SentEntry } from './calendar-queries'

export interface Outside {
  email: string
  name: string
  zone: string
}

/** Someone outside sees the title, when and where: nothing of the matter, the count, or what the firm notes. */
async function outsideEntry(
  m: EntityManager,
  ctx: Ctx,
  e: SentEntry,
  to: Outside,
  sequence: number,
  status: CalendarEntry['status'],
): Promise<CalendarEntry> {
  const who = await m.findOne(UserAccount, { select: { name: true, email: true, id: true }, where: { id: ctx.actor.id } })
  return {
    uid: `docket-${e.id}@${await firmHost(m)}`,
    sequence,
    title: e.title,
    description: e.link ? `Video meeting: ${e.link}` : '',
    place: e.place,
    day: e.day,
    time: e.time,
    minutes: e.minutes ?? 60,
    zone: await zoneOf(m, e.ruleSetKey),
    status,
    changedAt: ctx.clock.now().toISOString(),
    organizer: who ?? { name: ctx.actor.name, email: '' },
    attendees: [{ name: to.name || to.email, email: to.email }],
  }
}

/** The hour as it is where they are: `Wed 25 Nov 2026, 11:00 (Los Angeles)`. */
function whenFor(e: CalendarEntry, zone: string): string {
  if (!e.time) return `${showDay(e.day)}, all day`
  const there = hourIn(spanOf(e.day, e.time, e.minutes, e.zone).from, zone)
  return `${showDay(there.day)}, ${there.time} (${(zone.split('/').at(-1) ?? zone).replace(/_/g, ' ')} time), ${e.minutes} minutes`
}

async function letter(
  m: EntityManager,
  ctx: Ctx,
  e: SentEntry,
  to: Outside,
  how: { sequence: number; again: boolean; cancelled: boolean; note: string },
) {
  const entry = await outsideEntry(m, ctx, e, to, how.sequence, how.cancelled ? 'CANCELLED' : e.tentative ? 'TENTATIVE' : 'CONFIRMED')
  const when = whenFor(entry, to.zone)
  const opening = how.cancelled ? `${e.title} is cancelled.` : how.again ? `${e.title} has changed.` : `You are invited: ${e.title}.`
  await sendMail(m, ctx, {
    key: `entry ${e.id} ${how.sequence} ${how.cancelled ? 'cancel' : 'request'} ${ctx.clock.now().getTime()} ${to.email}`,
    to: { name: to.name || to.email, email: to.email },
    subject: `${how.cancelled ? 'Cancelled: ' : how.again ? 'Changed: ' : ''}${e.title}, ${showDay(entry.day)}`,
    body: [
      opening,
      `${how.cancelled ? 'It was set for' : 'When:'} ${when}${e.place ? `\nWhere: ${e.place}` : ''}${!how.cancelled && e.link ? `\nVideo meeting: ${e.link}` : ''}`,
      how.note,
      ctx.actor.name,
    ]
      .filter(Boolean)
      .join('\n\n'),
    matterId: e.matterId,
    calendar: { method: how.cancelled ? 'CANCEL' : 'REQUEST', text: writeCalendar('', [entry], how.cancelled ? 'CANCEL' : 'REQUEST') },
  })
}

/** Sends an entry to someone outside; sent again after it changed it replaces the one they have (same UID, higher SEQUENCE). */
export function sendEntry(ctx: Ctx, id: number, to: Outside & { note: string }): Promise<void> {
  return work(ctx, async (m) => {
    const entry = await lockEntry(m, ctx, id)
    await inviteTo(m, ctx, id, to, to.note)
    await audit(m, ctx, {
      kind: 'shared',
      text: `${entry.title}, ${entry.day}, sent to ${to.email}`,
      matterId: entry.matterId,
      subject: 'docket entry',
      subjectId: id,
    })
  })
}

export async function inviteTo(m: EntityManager, ctx: Ctx, id: number, to: Outside, note = ''): Promise<void> {
  const before = await inviteBefore(m, id, to.email)
  const e = (await entryOf(m, id))!
  if (e.leftOut || e.removed || e.mark === 'vacated') throw refused('not-open', 'This date is left out or vacated; it cannot be sent.')
  const named = { ...to, name: to.name || before?.name || '' }
  // A number of its own for each of them, so that what is sent later always replaces what was sent before.
  const sequence = before ? Math.max(e.sequence, before.sequence + 1) : e.sequence
  await noteInvite(m, ctx, id, to.email, named.name, to.zone, sequence, e.sequence)
  await letter(m, ctx, e, named, { sequence, again: Boolean(before && !before.withdrawn), cancelled: false, note })
}

type Sent = Outside & { sequence: number }

async function withdrawFrom(m: EntityManager, ctx: Ctx, id: number, to: Sent) {
  const e = (await entryOf(m, id))!
  const sequence = Math.max(e.sequence, to.sequence + 1)
  await m.update(DocketSent, { entryId: id, email: to.email }, { withdrawnAt: instant(ctx.clock.now()), sequence })
  await letter(m, ctx, e, to, { sequence, again: false, cancelled: true, note: '' })
}

/** Withdraws an entry from one person's calendar by a cancellation. */
export function withdrawEntry(ctx: Ctx, id: number, email: string): Promise<void> {
  return work(ctx, async (m) => {
    const entry = await lockEntry(m, ctx, id)
    const to = await m.findOne(DocketSent, {
      select: { email: true, name: true, zone: true, sequence: true, entryId: true },
      where: { entryId: id, email, withdrawnAt: IsNull() },
      ...locked(m),
    })
    if (!to) throw notFound('letter')
    await withdrawFrom(m, ctx, id, to)
    await audit(m, ctx, {
      kind: 'shared',
      text: `${entry.title}, ${entry.day}, withdrawn from ${email}`,
      matterId: entry.matterId,
      subject: 'docket entry',
      subjectId: id,
    })
  })
}

/** Coming dates of a matter that closes are withdrawn from everyone outside who has them. */
export async function withdrawOfMatter(m: EntityManager, ctx: Ctx, matterId: number): Promise<void> {
  const sent = await datesSent(m, ctx, matterId)
  for (const { id } of sent) await withdrawAll(m, ctx, id)
}

/** An entry that goes is withdrawn from everyone who has it. */
export async function withdrawAll(m: EntityManager, ctx: Ctx, id: number): Promise<void> {
  for (const to of await m.find(DocketSent, {
    select: { email: true, name: true, zone: true, sequence: true, entryId: true },
    where: { entryId: id, withdrawnAt: IsNull() },
  }))
    await withdrawFrom(m, ctx, id, to)
}
