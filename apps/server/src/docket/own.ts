import { showDay, type Day, type TraceStep } from '@heron/core/calendar'
import type { Weight } from '@heron/core/docket'
import type { EntityManager } from 'typeorm'
import type { OpenMatter } from '../platform/access'
import { actorOf } from '../platform/auth'
import { instant, type Ctx } from '../platform/context'
import { insertRow } from '../platform/database'
import { fieldFault, notFound } from '../platform/problem'
import { noteHistory } from './change'
import { DocketEntry } from './entities'
import { DocketAttendee, DocketEntryPaper, DocketEntryTag } from './own-entities'
import { docketOpen, entryToChange, paperOnMatter } from './entry-queries'

export interface EntryWords {
  title: string
  text: string
  time: string | null
  lengthMinutes: number | null
  place: string
  meetingLink: string
  responsibleId: number | null
  urgent: boolean
  offCalendar: boolean
  tags: string[]
  attendeeIds: number[]
  paperIds: number[]
}

/** Whoever is responsible works here and may see the docket of the matter. */
export async function mayAnswer(m: EntityManager, matterId: number, userId: number | null, field = 'responsibleId') {
  if (!userId) return
  const who = await actorOf(m, userId)
  const sees = who && (await docketOpen(m, who, matterId))
  if (!sees) throw fieldFault(field, 'Choose someone who may see the docket of this matter')
}

/** What stands beside an entry: its tags, who takes part, papers. */
export async function writeBeside(
  m: EntityManager,
  matterId: number,
  id: number,
  beside: Pick<EntryWords, 'tags' | 'attendeeIds' | 'paperIds'>,
) {
  await m.delete(DocketEntryTag, { entryId: id })
  for (const tag of new Set(beside.tags.map((t) => t.toLowerCase()))) await m.insert(DocketEntryTag, { entryId: id, tag })
  await m.delete(DocketAttendee, { entryId: id })
  for (const userId of new Set(beside.attendeeIds)) {
    await mayAnswer(m, matterId, userId, 'attendeeIds')
    await m.insert(DocketAttendee, { entryId: id, userId })
  }
  await m.delete(DocketEntryPaper, { entryId: id })
  for (const paperId of new Set(beside.paperIds)) {
    if (!(await paperOnMatter(m, paperId, matterId))) throw fieldFault('paperIds', 'Choose papers of this matter')
    await m.insert(DocketEntryPaper, { entryId: id, paperId })
  }
}

export interface OwnEntry extends EntryWords {
  day: Day
  weight: Weight
  authority: string
  sum: string
}
/** How an entry without a trigger comes to be: of a series, at least. */
interface Origin {
  seriesId?: number
  recursOn?: Day
  howCounted?: string
  why?: string
}

/** Writes a date of its own, without a trigger. It never rolls. Where the day was given as a sum, the sum stays in its trace. */
export async function insertOwn(
  m: EntityManager,
  ctx: Ctx,
  matter: Pick<OpenMatter, 'id' | 'leadId'>,
  input: OwnEntry,
  origin: Origin = {},
): Promise<number> {
  const { time, sum, tags, attendeeIds, paperIds, ...own } = input
  const how = origin.howCounted ?? (input.weight === 'court order' ? 'Set by the court' : 'Entered by hand')
  const trace: TraceStep[] = [{ text: sum ? `${how}: ${showDay(input.day)}, ${sum}` : how, date: input.day }]
  const id = await insertRow(m, DocketEntry, {
    ...own,
    matterId: matter.id,
    atTime: time,
    trace: JSON.stringify(trace),
    howCounted: origin.howCounted ?? sum,
    setBy: input.weight === 'court order' ? 'court' : 'hand',
    responsibleId: input.responsibleId ?? matter.leadId,
    placedOn: ctx.clock.today(),
    createdAt: instant(ctx.clock.now()),
    seriesId: origin.seriesId ?? null,
    recursOn: origin.recursOn ?? null,
  })
  await writeBeside(m, matter.id, id, { tags, attendeeIds, paperIds })
  await noteHistory(m, ctx, [{ entryId: id, what: 'docketed', became: input.day, why: origin.why ?? sum }])
  return id
}

/** An entry that the actor may change, locked. */
export async function lockEntry(m: EntityManager, ctx: Ctx, id: number) {
  const found = await entryToChange(m, ctx, id)
  if (!found) throw notFound('docket entry')
  return found
}
