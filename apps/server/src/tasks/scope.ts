import { calendarFor, shippedHolidaySets, shippedRuleSets } from '@heron/core/docket'
import { firmCalendar, type CourtCalendar, type Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { matterScope } from '../platform/access'
import type { Actor } from '../platform/context'
import { row, rows } from '../platform/database'
import { fieldFault } from '../platform/problem'
import { Firm, UserAccount } from '../platform/shared-entities'

/**
 * Who may see a task, as SQL on `task t` and its `matter m`: those who see the matter's file, or, where it is for those
 * named only, the assignee, who gave it out, and those named. A task without a matter is always for those only.
 */
export function taskScope(actor: Actor): string {
  const user = Number(actor.id)
  const own = `(t.assignee_id = ${user} OR t.assigned_by = ${user} OR EXISTS (SELECT 1 FROM task_person tp WHERE tp.task_id = t.id AND tp.user_id = ${user}))`
  return `((t.matter_id IS NULL AND ${own}) OR (t.matter_id IS NOT NULL AND ${matterScope(actor)} AND (NOT t.only_named OR ${own})))`
}

/** The days on which the firm works: its week, its own holidays, and those of the federal courts. */
export async function workingDays(m: EntityManager): Promise<CourtCalendar> {
  const firm = await m.findOne(Firm, { select: { district: true, workDays: true, id: true }, where: { id: 1 } })
  const own = await rows<{ day: Day; name: string }>(m, `SELECT day, name FROM firm_holiday`)
  return firmCalendar(
    calendarFor(shippedRuleSets[0]!, shippedHolidaySets, firm?.district ?? null),
    JSON.parse(firm?.workDays ?? '[1,2,3,4,5]') as number[],
    new Map(own.map((h) => [h.day, h.name])),
  )
}

/** Checks that someone works here and may be given work on the matter. */
export async function mayWork(m: EntityManager, assigneeId: number, matterId: number | null, path = 'assigneeId'): Promise<string> {
  const who = await m.findOne(UserAccount, { select: { active: true, name: true, id: true }, where: { id: assigneeId } })
  if (!who?.active) throw fieldFault(path, 'Choose someone who works here')
  if (matterId && (await row(m, `SELECT 1 FROM matter_screen WHERE matter_id = ? AND user_id = ?`, [matterId, assigneeId])))
    throw fieldFault(path, `${who.name} cannot be given work on this matter`)
  return who.name
}
