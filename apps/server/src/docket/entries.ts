import { addUp, readDaySum, type Day } from '@heron/core/calendar'
import { differencesOf } from '@heron/core/docket'
import type { EntityManager } from 'typeorm'
import { requireOpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { work } from '../platform/database'
import { fieldFault, refused } from '../platform/problem'
import { courtOf } from '../platform/rule-sets'
import { noteHistory } from './change'
import { DocketEntry } from './entities'
import { insertOwn, lockEntry, mayAnswer, writeBeside, type EntryWords, type OwnEntry } from './own'
import { withdrawAll } from './sending'
import { changeFollowing, startSeries, type SeriesNotice } from './series'
import { districtOf, docketStateOf, rulesOf, writeEntries } from './state'
import { courtCalendarOf } from './state-queries'
import { Matter } from '../platform/shared-entities'
import { dayIsOwn, entryAsItStands, versionNow } from './entry-queries'

/** An appointment, a date that an order fixed, or a date of the firm's own; with `repeats`, as often as it recurs. */
export function addEntry(
  ctx: Ctx,
  matterId: number,
  input: OwnEntry & { repeats: string | null; notice: SeriesNotice | null },
): Promise<{ id: number; entries: number }> {
  return work(ctx, async (m) => {
    const matter = await requireOpenMatter(m, ctx, matterId, 'docket')
    await mayAnswer(m, matterId, input.responsibleId)
    const { repeats, notice, ...own } = input
    const said = { kind: 'docketed', matterId, subject: 'docket entry' } as const
    if (repeats) {
      const made = await startSeries(m, ctx, matter, own, repeats, notice)
      await audit(m, ctx, { ...said, text: `${input.title}, from ${input.day} on, ${made.words}`, subjectId: made.id })
      return { id: made.id, entries: made.entries }
    }
    const id = await insertOwn(m, ctx, matter, own)
    await audit(m, ctx, { ...said, text: `${input.title}, ${input.day}`, subjectId: id })
    return { id, entries: 1 }
  })
}

const at = (day: Day, time: string | null) => `${day}${time ? ` ${time}` : ''}`

/** The hour of a date that may simply be moved; refuses what a rule counted or the court set. */
async function freeToMove(m: EntityManager, id: number): Promise<string | null> {
  const how = await dayIsOwn(m, id)
  if (how!.triggerId || how!.setBy === 'court')
    throw refused('counted', 'This date was counted or set by the court. Open it and use Move or extend, which asks why.')
  return how!.time
}

/** Refuses to write over what a colleague changed after it was read. */
async function unchangedSince(m: EntityManager, id: number, version: number | undefined) {
  if (version === undefined) return
  const now = (await versionNow(m, id))!
  if (now.version !== version)
    throw refused('changed-meanwhile', `${now.who ?? 'Someone'} changed this date after you opened it. Nothing was written over.`)
}

/** Moves an appointment, or another date that no rule counted, to another day or hour. */
export function moveOwn(
  ctx: Ctx,
  id: number,
  to: { day: Day; time: string | null; lengthMinutes: number | null; version?: number | undefined },
): Promise<void> {
  return work(ctx, async (m) => {
    const entry = await lockEntry(m, ctx, id)
    await unchangedSince(m, id, to.version)
    await requireOpenMatter(m, ctx, entry.matterId, 'docket')
    const time = await freeToMove(m, id)
    await m.update(DocketEntry, id, { day: to.day, atTime: to.time, lengthMinutes: to.lengthMinutes, placedOn: ctx.clock.today() })
    await noteHistory(m, ctx, [{ entryId: id, what: 'moved', was: at(entry.day, time), became: at(to.day, to.time) }])
    await audit(m, ctx, {
      kind: 'moved',
      text: `${entry.title}: ${at(entry.day, time)} to ${at(to.day, to.time)}`,
      matterId: entry.matterId,
      subject: 'docket entry',
      subjectId: id,
    })
  })
}

/** Changes what an entry says: its words, hour, place, who is responsible; the day, too, where no rule or court gave it. */
export function changeEntry(
  ctx: Ctx,
  id: number,
  {
    tags,
    attendeeIds,
    paperIds,
    time,
    following,
    day,
    version,
    ...own
  }: EntryWords & { following: boolean; day?: Day | undefined; version?: number | undefined },
): Promise<void> {
  return work(ctx, async (m) => {
    const entry = await lockEntry(m, ctx, id)
    await requireOpenMatter(m, ctx, entry.matterId, 'docket')
    await unchangedSince(m, id, version)
    await mayAnswer(m, entry.matterId, own.responsibleId)
    const wordsOf = () => entryAsItStands(m, id)
    const was = await wordsOf()
    const moved = day && day !== entry.day ? { day, placedOn: ctx.clock.today() } : null
    if (moved) {
      await freeToMove(m, id)
      await noteHistory(m, ctx, [{ entryId: id, what: 'moved', was: entry.day, became: moved.day }])
    }
    await m.update(DocketEntry, id, { ...own, ...moved, atTime: time })
    await writeBeside(m, entry.matterId, id, { tags, attendeeIds, paperIds })
    const now = await wordsOf()
    const changed = Object.keys(was!).filter((k) => String(was![k] ?? '') !== String(now![k] ?? ''))
    await noteHistory(
      m,
      ctx,
      changed.map((k) => ({
        entryId: id,
        what: `changed: ${k}`,
        was: String(was![k] ?? '').slice(0, 120),
        became: String(now![k] ?? '').slice(0, 120),
      })),
    )
    await audit(m, ctx, {
      kind: moved ? 'moved' : 'changed',
      text: moved ? `${own.title}: ${entry.day} to ${moved.day}` : `${own.title}: changed`,
      matterId: entry.matterId,
      subject: 'docket entry',
      subjectId: id,
      detail: { was: Object.fromEntries(changed.map((k) => [k, was![k]])), became: Object.fromEntries(changed.map((k) => [k, now![k]])) },
    })
    if (following) await changeFollowing(m, ctx, id, { ...own, time, tags, attendeeIds })
  })
}

/** The day of a sum by a court's calendar; federal courts' where none is named. */
export async function daySum(ctx: Ctx, text: string, ruleSetKey: string | null, from?: Day): Promise<{ day: Day; text: string }> {
  const m = ctx.db.manager
  const sum = readDaySum(text, ctx.clock.today(), from)
  if (!sum) throw fieldFault('text', 'Give a sum like +90 or 30 Mar 2027 − 10 court days')
  const found = addUp(sum, await courtCalendarOf(m, ruleSetKey, await districtOf(m)))
  return sum.unit === 'courtDay' ? { ...found, text: `${found.text}, by the days of ${(await courtOf(m, ruleSetKey)).title}` } : found
}

/**
 * Marks a date. Where it is met on a day that is said, what is counted from it runs from there, which is an act on the docket of its
 * own (`carryOut`); this one leaves every other date where it is.
 */
export function markEntry(ctx: Ctx, id: number, mark: 'open' | 'in hand' | 'met' | 'waived' | 'vacated', day?: Day): Promise<void> {
  return work(ctx, async (m) => {
    const entry = await lockEntry(m, ctx, id)
    if (day && day > ctx.clock.today()) throw fieldFault('day', 'Give the day on which it was done, today or earlier')
    await m.update(DocketEntry, id, { mark, metOn: mark === 'met' ? (day ?? null) : null })
    await retrace(m, ctx, entry.matterId)
    await noteHistory(m, ctx, [{ entryId: id, what: 'marked', was: entry.mark, became: mark }])
    await audit(m, ctx, {
      kind: 'marked',
      text: `${entry.title}: ${mark}`,
      matterId: entry.matterId,
      subject: 'docket entry',
      subjectId: id,
    })
  })
}

/** Lets the traces of a matter's dates say how what they were counted from stands now; no day moves by it. */
async function retrace(m: EntityManager, ctx: Ctx, matterId: number): Promise<void> {
  const matter = await m.findOne(Matter, { select: { id: true, facts: true, ruleSetKey: true }, where: { id: matterId } })
  if (!matter?.ruleSetKey) return
  const state = await docketStateOf(m, matter)
  const told = differencesOf(state, { kind: 'recount' }, await rulesOf(m, matter.ruleSetKey)).filter((d) => d.effect === 'recounted')
  if (told.length)
    await writeEntries(
      m,
      told.map((d) => d.entry),
      ctx.clock.today(),
    )
}

export function setLeftOut(ctx: Ctx, id: number, leftOut: boolean): Promise<void> {
  return work(ctx, async (m) => {
    const entry = await lockEntry(m, ctx, id)
    await m.update(DocketEntry, id, { leftOut })
    await retrace(m, ctx, entry.matterId)
    await noteHistory(m, ctx, [{ entryId: id, what: leftOut ? 'left out' : 'docketed', became: entry.day }])
    await audit(m, ctx, {
      kind: 'docketed',
      text: `${entry.title}: ${leftOut ? 'left out' : 'docketed after all'}`,
      matterId: entry.matterId,
      subject: 'docket entry',
      subjectId: id,
    })
  })
}

/** Takes a date away everywhere. It stays in the database for its history. */
export function removeEntry(ctx: Ctx, id: number): Promise<void> {
  return work(ctx, async (m) => {
    const entry = await lockEntry(m, ctx, id)
    await m.update(DocketEntry, id, { removedAt: instant(ctx.clock.now()), leftOut: true })
    await retrace(m, ctx, entry.matterId)
    await withdrawAll(m, ctx, id)
    await noteHistory(m, ctx, [{ entryId: id, what: 'taken away', was: entry.day }])
    await audit(m, ctx, {
      kind: 'deleted',
      text: `${entry.title}, ${entry.day}, taken off the docket`,
      matterId: entry.matterId,
      subject: 'docket entry',
      subjectId: id,
    })
  })
}
