import {
  addCourtDays,
  addDays,
  addMonths,
  addYears,
  faultOfRecurrence,
  recurrences,
  showDay,
  showRecurrence,
  type Day,
} from '@heron/core/calendar'
import { In, type EntityManager } from 'typeorm'
import { requireOpenMatter, type OpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { actorOf } from '../platform/auth'
import { instant, type Ctx } from '../platform/context'
import { insertRow, work } from '../platform/database'
import { fieldFault, refused } from '../platform/problem'
import { noteHistory } from './change'
import { insertOwn, lockEntry, writeBeside, type OwnEntry } from './own'
import { withdrawAll } from './sending'
import { districtOf } from './state'
import { courtCalendarOf } from './state-queries'
import { DocketSeries } from './own-entities'
import { UserAccount } from '../platform/shared-entities'
import { DocketEntry } from './entities'
import { ahead, keeperOfSeries, later, lockedSeriesOf, papersOfDate, seriesOf, seriesToExtend, seriesWithMatter } from './series-queries'

/** A date before each one that recurs: by when notice must be given, say. */
export interface SeriesNotice {
  title: string
  count: number
  unit: 'day' | 'courtDay' | 'week' | 'month' | 'year'
}
interface Body extends OwnEntry {
  notice: SeriesNotice | null
}
const most = 120

async function noticeDay(m: EntityManager, ruleSetKey: string | null, day: Day, n: SeriesNotice): Promise<Day> {
  switch (n.unit) {
    case 'day':
      return addDays(day, -n.count)
    case 'week':
      return addDays(day, -7 * n.count)
    case 'month':
      return addMonths(day, -n.count)
    case 'year':
      return addYears(day, -n.count)
    case 'courtDay':
      return addCourtDays(await courtCalendarOf(m, ruleSetKey, await districtOf(m)), day, -n.count)
  }
}

type SeriesMatter = Pick<OpenMatter, 'id' | 'leadId' | 'ruleSetKey'>

/** Dockets the days of a series after `from`, and their notices; returns the entries of the days themselves. */
async function docketDays(
  m: EntityManager,
  ctx: Ctx,
  matter: SeriesMatter,
  seriesId: number,
  body: Body,
  days: readonly Day[],
  words: string,
) {
  const { notice, ...own } = body
  const ids: number[] = []
  for (const day of days) {
    ids.push(
      await insertOwn(m, ctx, matter, { ...own, day, sum: '' }, { seriesId, recursOn: day, howCounted: `Recurs ${words}`, why: words }),
    )
    if (!notice) continue
    const before = await noticeDay(m, matter.ruleSetKey, day, notice)
    if (before < ctx.clock.today()) continue
    await insertOwn(
      m,
      ctx,
      matter,
      {
        ...own,
        title: notice.title,
        weight: 'firm practice',
        time: null,
        lengthMinutes: null,
        place: '',
        meetingLink: '',
        attendeeIds: [],
        day: before,
        sum: '',
      },
      { seriesId, recursOn: day, howCounted: `Before “${own.title}” of ${showDay(day)}`, why: words },
    )
  }
  return ids
}

/** The days from `from` on that are to stand on the docket today: those near, and the next one in any case. */
function daysDue(rule: string, first: Day, from: Day, today: Day): Day[] {
  const all = recurrences(rule, first, addYears(today, 60), 5000).filter((d) => d >= from)
  const near = all.filter((d) => d <= addDays(today, ahead)).slice(0, most)
  return near.some((d) => d > today) ? near : [...near, ...all.filter((d) => d > (near.at(-1) ?? '') && d > today).slice(0, 1)]
}

export async function startSeries(
  m: EntityManager,
  ctx: Ctx,
  matter: SeriesMatter,
  own: OwnEntry,
  rule: string,
  notice: SeriesNotice | null,
): Promise<{ id: number; entries: number; words: string }> {
  const fault = faultOfRecurrence(rule, own.day)
  if (fault) throw fieldFault('repeats', fault)
  const days = daysDue(rule, own.day, own.day, ctx.clock.today())
  if (!days.length) throw fieldFault('repeats', 'By this rule no day recurs')
  if (days[0] !== own.day) throw fieldFault('repeats', `By this rule the first day is ${showDay(days[0]!)}; begin on that day`)
  const body: Body = { ...own, notice }
  const madeId = await insertRow(m, DocketSeries, {
    matterId: matter.id,
    rule,
    firstDay: own.day,
    body: JSON.stringify(body),
    madeTo: days.at(-1)!,
    createdBy: ctx.actor.id,
  })
  const words = showRecurrence(rule, own.day)
  const ids = await docketDays(m, ctx, matter, madeId, body, days, words)
  return { id: ids[0]!, entries: ids.length, words }
}

/** Dockets what has come near of every series; run once a day, and as often as one likes. */
export async function extendSeries(base: Omit<Ctx, 'actor'>): Promise<number> {
  const today = base.clock.today()
  const due = await seriesToExtend(base, today)
  let n = 0
  for (const { id } of due) {
    const owner = await keeperOfSeries(base, id)
    const actor = owner && (await actorOf(base.db.manager, owner.userId))
    if (!actor) continue
    n += await work({ ...base, actor }, async (m) => {
      const s = await seriesWithMatter(m, id)
      const days = s ? daysDue(s.rule, s.firstDay, addDays(s.madeTo, 1), today) : []
      // Where a later one stands already, the next is there and nothing far ahead is added.
      if (!s || !days.length || (s.madeTo > today && days[0]! > addDays(today, ahead))) return 0
      const body = await whoIsThere(m, JSON.parse(s.body) as Body)
      const matter = { id: s.matterId, leadId: s.leadId, ruleSetKey: s.ruleSetKey }
      await docketDays(m, { ...base, actor }, matter, id, body, days, showRecurrence(s.rule, s.firstDay))
      await m.update(DocketSeries, { id }, { madeTo: days.at(-1)! })
      return days.length
    })
  }
  return n
}

/** Those who left since are no longer named; the matter's lead answers then. */
async function whoIsThere(m: EntityManager, body: Body): Promise<Body> {
  const named = [...body.attendeeIds, ...(body.responsibleId ? [body.responsibleId] : [])]
  if (!named.length) return { ...body, paperIds: [] }
  const there = new Set((await m.find(UserAccount, { select: { id: true }, where: { active: true, id: In(named) } })).map((u) => u.id))
  return {
    ...body,
    paperIds: [],
    attendeeIds: body.attendeeIds.filter((id) => there.has(id)),
    responsibleId: body.responsibleId && there.has(body.responsibleId) ? body.responsibleId : null,
  }
}

/** Ends what recurs with an entry: it stays, later open ones go, and nothing new comes. */
export function endSeries(ctx: Ctx, entryId: number): Promise<{ gone: number }> {
  return work(ctx, async (m) => {
    const entry = await lockEntry(m, ctx, entryId)
    await requireOpenMatter(m, ctx, entry.matterId, 'docket')
    const s = await seriesOf(m, entryId)
    if (!s) throw refused('no-series', 'This date does not recur.')
    const gone = await later(m, entryId)
    if (gone.length) await m.update(DocketEntry, { id: In(gone.map((g) => g.id)) }, { removedAt: instant(ctx.clock.now()), leftOut: true })
    for (const g of gone) await withdrawAll(m, ctx, g.id)
    await noteHistory(
      m,
      ctx,
      gone.map((g) => ({ entryId: g.id, what: 'taken away', was: g.day, why: 'No longer recurs' })),
    )
    await m.update(DocketSeries, { id: s.id }, { endedOn: s.recursOn })
    await audit(m, ctx, {
      kind: 'changed',
      text: `${entry.title} recurs no longer after ${s.recursOn}; ${gone.length} later dates taken away`,
      matterId: entry.matterId,
      subject: 'docket entry',
      subjectId: entryId,
    })
    return { gone: gone.length }
  })
}

/** What an entry of a series now says, the later ones say too, and those still to come. */
export async function changeFollowing(
  m: EntityManager,
  ctx: Ctx,
  entryId: number,
  words: Omit<OwnEntry, 'day' | 'weight' | 'authority' | 'sum' | 'paperIds'>,
): Promise<void> {
  const s = await lockedSeriesOf(m, entryId)
  if (!s) return
  const { tags, attendeeIds, ...own } = words
  for (const e of await later(m, entryId)) {
    // The notice of a date has words of its own.
    if (e.title !== s.title) continue
    await m.update(
      DocketEntry,
      { id: e.id },
      {
        title: own.title,
        text: own.text,
        atTime: own.time,
        lengthMinutes: own.lengthMinutes,
        place: own.place,
        meetingLink: own.meetingLink,
        responsibleId: own.responsibleId,
        urgent: own.urgent,
        offCalendar: own.offCalendar,
      },
    )
    const papers = await papersOfDate(m, e.id)
    await writeBeside(m, e.matterId, e.id, { tags, attendeeIds, paperIds: papers.map((p) => p.id) })
    await noteHistory(m, ctx, [
      { entryId: e.id, what: 'changed', was: e.title, became: own.title, why: 'With an earlier date of its series' },
    ])
  }
  await m.update(DocketSeries, { id: s.id }, { body: JSON.stringify({ ...(JSON.parse(s.body) as Body), ...words }) })
}
