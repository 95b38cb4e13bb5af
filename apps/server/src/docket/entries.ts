import { type Day, type TraceStep } from '@heron/core/calendar'
import type { Weight } from '@heron/core/docket'
import type { EntityManager } from 'typeorm'
import { change, matterScope, requireOpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { row, work } from '../platform/database'
import { notFound } from '../platform/problem'
import { noteHistory } from './change'
import { DocketEntry } from './entities'

export interface EntryIn {
  title: string
  text: string
  weight: Weight
  day: Day
  time: string | null
  lengthMinutes: number | null
  place: string
  authority: string
}

/** An appointment, a date that an order fixed, or a date of the firm's own, without a trigger. It never rolls. */
export function addEntry(ctx: Ctx, matterId: number, input: EntryIn): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    const matter = await requireOpenMatter(m, ctx, matterId, 'docket')
    const { time, ...own } = input
    const trace: TraceStep[] = [{ text: input.weight === 'court order' ? 'Set by the court' : 'Entered by hand', date: input.day }]
    const made = await m.insert(DocketEntry, {
      ...own,
      matterId,
      atTime: time,
      trace: JSON.stringify(trace),
      setBy: input.weight === 'court order' ? 'court' : 'hand',
      responsibleId: matter.leadId,
      placedOn: ctx.clock.today(),
      createdAt: instant(ctx.clock.now()),
    })
    const id = made.identifiers[0]!['id'] as number
    await noteHistory(m, ctx, [{ entryId: id, what: 'docketed', became: input.day }])
    await audit(m, ctx, { kind: 'docketed', text: `${input.title}, ${input.day}`, matterId, subject: 'docket entry', subjectId: id })
    return { id }
  })
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
