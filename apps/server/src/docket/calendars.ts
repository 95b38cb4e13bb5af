import { randomBytes } from 'node:crypto'
import { addDays } from '@heron/core/calendar'
import { writeCalendar, type CalendarEntry } from '@heron/core/formats'
import { IsNull, type EntityManager } from 'typeorm'
import { requireMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { actorOf } from '../platform/auth'
import { instant, isoOf, type Ctx } from '../platform/context'
import { insertRow, touched, work } from '../platform/database'
import { download } from '../platform/files'
import { fieldFault, notFound } from '../platform/problem'
import { ruleSets, type RuleSets } from '../platform/rule-sets'
import { Firm } from '../platform/shared-entities'
import { CalendarFeed } from './own-entities'
import {
  docketOpenTo,
  domainOfFirm,
  entriesOf,
  feedBySecret,
  type FeedIn,
  firmAndDomain,
  firmZone,
  hashOf,
  scopeThere,
  type ShownEntry,
} from './calendar-queries'

/** The time zone of a court, in which its hours stand; else the firm's. */
export const zoneOf = async (m: EntityManager, ruleSetKey: string | null): Promise<string> =>
  (await ruleSets(m)).get(ruleSetKey ?? '')?.set.timeZone ?? (await firmZone(m))

/** Makes a calendar with a secret address, of which only the hash is kept. It shows what its owner may see, as of each reading. */
export function makeFeed(ctx: Ctx, input: FeedIn): Promise<{ id: number; address: string }> {
  return work(ctx, async (m) => {
    if (input.scope === 'matter') await requireMatter(m, ctx, input.matterId ?? 0, 'docket')
    const of = { person: ['user_account', input.userId], area: ['practice_area', input.areaId] } as const
    const [table, id] = of[input.scope as 'person'] ?? []
    if (table && !(await scopeThere(m, table, id))) throw fieldFault(input.scope === 'person' ? 'userId' : 'areaId', 'Choose whose dates')
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
  const firm = await firmAndDomain(m)
  if (!firm) return 'firm.example'
  if (firm.domain) return firm.domain
  const plain = firm.name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .slice(0, 100)
  const made = `${plain.replace(/^-/, '').replace(/-$/, '')}.example`
  await m.update(Firm, { calendarDomain: '' }, { calendarDomain: made })
  return (await domainOfFirm(m))!.domain
}

/** A calendar by its secret address, as its owner may see it now; withdrawn ones and those of people who left are not there. */
export async function readFeed(base: Omit<Ctx, 'actor'>, secret: string) {
  const m = base.db.manager
  const feed = await feedBySecret(m, secret)
  const owner = feed && (await actorOf(m, feed.ownerId))
  if (!feed || !owner) throw notFound('calendar')
  // A matter that was closed to its owner since is as if it had never been there: not even its name is left.
  if (feed.matterId && !(await docketOpenTo(m, owner, feed.matterId))) throw notFound('calendar')
  const list = await entriesOf(m, owner, feed, addDays(base.clock.today(), -90))
  const firm = { host: await firmHost(m), zone: await firmZone(m) }
  const sets = await ruleSets(m)
  const text = writeCalendar(
    feed.name ?? '',
    list.map((e) => calendarEntry(e, firm, sets)),
  )
  return download(Buffer.from(text), 'docket.ics', 'text/calendar; charset=utf-8')
}
