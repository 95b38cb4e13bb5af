import { addUp, readDaySum, showDay, type Day, type TraceStep } from '@heron/core/calendar'
import type { Weight } from '@heron/core/docket'
import type { EntityManager } from 'typeorm'
import { change, matterScope, requireOpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { actorOf } from '../platform/auth'
import { instant, type Ctx } from '../platform/context'
import { row, run, work } from '../platform/database'
import { fieldFault, notFound } from '../platform/problem'
import { noteHistory } from './change'
import { DocketEntry } from './entities'
import { courtCalendarOf, courtOf, districtOf } from './state'

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
}

async function writeTags(m: EntityManager, id: number, tags: readonly string[]) {
  await run(m, `DELETE FROM docket_entry_tag WHERE entry_id = ?`, [id])
  for (const tag of new Set(tags.map((t) => t.toLowerCase())))
    await run(m, `INSERT INTO docket_entry_tag (entry_id, tag) VALUES (?, ?)`, [id, tag])
}

/** Whoever is responsible works here and may see the docket of the matter. */
async function mayAnswer(m: EntityManager, matterId: number, userId: number | null) {
  if (!userId) return
  const who = await actorOf(m, userId)
  const sees = who && (await row(m, `SELECT 1 FROM matter m WHERE m.id = ? AND ${matterScope(who, 'm', 'docket')}`, [matterId]))
  if (!sees) throw fieldFault('responsibleId', 'Choose someone who may see the docket of this matter')
}

/**
 * An appointment, a date that an order fixed, or a date of the firm's own, without a trigger. It never rolls. Where the day
 * was given as a sum, the sum stays in its trace.
 */
export function addEntry(
  ctx: Ctx,
  matterId: number,
  input: EntryWords & { day: Day; weight: Weight; authority: string; sum: string },
): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    const matter = await requireOpenMatter(m, ctx, matterId, 'docket')
    await mayAnswer(m, matterId, input.responsibleId)
    const { time, sum, tags, ...own } = input
    const how = input.weight === 'court order' ? 'Set by the court' : 'Entered by hand'
    const trace: TraceStep[] = [{ text: sum ? `${how}: ${showDay(input.day)}, ${sum}` : how, date: input.day }]
    const made = await m.insert(DocketEntry, {
      ...own,
      matterId,
      atTime: time,
      trace: JSON.stringify(trace),
      howCounted: sum,
      setBy: input.weight === 'court order' ? 'court' : 'hand',
      responsibleId: input.responsibleId ?? matter.leadId,
      placedOn: ctx.clock.today(),
      createdAt: instant(ctx.clock.now()),
    })
    const id = made.identifiers[0]!['id'] as number
    await writeTags(m, id, tags)
    await noteHistory(m, ctx, [{ entryId: id, what: 'docketed', became: input.day, why: sum }])
    await audit(m, ctx, { kind: 'docketed', text: `${input.title}, ${input.day}`, matterId, subject: 'docket entry', subjectId: id })
    return { id }
  })
}

/** Changes what an entry says: its words, hour, place, who is responsible. Its day moves by an act of its own. */
export function changeEntry(ctx: Ctx, id: number, { tags, time, ...own }: EntryWords): Promise<void> {
  return work(ctx, async (m) => {
    const entry = await lockEntry(m, ctx, id)
    await requireOpenMatter(m, ctx, entry.matterId, 'docket')
    await mayAnswer(m, entry.matterId, own.responsibleId)
    const wordsOf = () =>
      row<Record<string, string | number | null>>(
        m,
        `SELECT d.title, d.text, TIME_FORMAT(d.at_time, '%H:%i') AS time, d.length_minutes AS length, d.place, d.meeting_link AS meetingLink, u.name AS responsible, d.urgent, d.off_calendar AS offCalendar,
                (SELECT GROUP_CONCAT(t.tag ORDER BY t.tag SEPARATOR ', ') FROM docket_entry_tag t WHERE t.entry_id = d.id) AS tags
           FROM docket_entry d LEFT JOIN user_account u ON u.id = d.responsible_id WHERE d.id = ?`,
        [id],
      )
    const was = await wordsOf()
    await m.update(DocketEntry, id, { ...own, atTime: time })
    await writeTags(m, id, tags)
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
      kind: 'changed',
      text: `${own.title}: changed`,
      matterId: entry.matterId,
      subject: 'docket entry',
      subjectId: id,
      detail: { was: Object.fromEntries(changed.map((k) => [k, was![k]])), became: Object.fromEntries(changed.map((k) => [k, now![k]])) },
    })
  })
}

/** The day of a sum by a court's calendar; federal courts' where none is named. */
export async function daySum(ctx: Ctx, text: string, ruleSetKey: string | null): Promise<{ day: Day; text: string }> {
  const m = ctx.db.manager
  const sum = readDaySum(text, ctx.clock.today())
  if (!sum) throw fieldFault('text', 'Give a sum like +90 or 30 Mar 2027 − 10 court days')
  const found = addUp(sum, await courtCalendarOf(m, ruleSetKey, await districtOf(m)))
  return sum.unit === 'courtDay' ? { ...found, text: `${found.text}, by the days of ${courtOf(ruleSetKey).title}` } : found
}

async function lockEntry(m: EntityManager, ctx: Ctx, id: number) {
  const found = await row<{ id: number; matterId: number; title: string; mark: string; leftOut: number; day: Day }>(
    m,
    `SELECT d.id, d.matter_id AS matterId, d.title, d.mark, d.left_out AS leftOut, d.day FROM docket_entry d JOIN matter m ON m.id = d.matter_id WHERE d.id = ? AND d.removed_at IS NULL AND ${matterScope(ctx.actor, 'm', 'docket', change)} FOR UPDATE`,
    [id],
  )
  if (!found) throw notFound('docket entry')
  return found
}

export function markEntry(ctx: Ctx, id: number, mark: 'open' | 'in hand' | 'met' | 'waived' | 'vacated'): Promise<void> {
  return work(ctx, async (m) => {
    const entry = await lockEntry(m, ctx, id)
    await m.update(DocketEntry, id, { mark })
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

export function setLeftOut(ctx: Ctx, id: number, leftOut: boolean): Promise<void> {
  return work(ctx, async (m) => {
    const entry = await lockEntry(m, ctx, id)
    await m.update(DocketEntry, id, { leftOut })
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
