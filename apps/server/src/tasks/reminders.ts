import type { Day } from '@heron/core/calendar'
import { IsNull } from 'typeorm'
import { actorOf } from '../platform/auth'
import { instant, type Ctx } from '../platform/context'
import { matterScope } from '../platform/access'
import { touched, row, rows, work } from '../platform/database'
import { sendMail } from '../platform/mail'
import { Task } from './entities'

/**
 * Reminds of tasks whose day to be reminded has come. The letter and the note that it was written stand in one
 * transaction, so that each goes out once, whenever the server stops; one that is late says so.
 */
export async function remindOfTasks(base: Omit<Ctx, 'actor'>): Promise<number> {
  const today = base.clock.today()
  const due = await rows<{
    id: number
    assigneeId: number
    text: string
    dueOn: Day | null
    remindOn: Day
    matterId: number | null
    matter: string | null
  }>(
    base.db.manager,
    `SELECT t.id, t.assignee_id AS assigneeId, t.text, t.due_on AS dueOn, t.remind_on AS remindOn, t.matter_id AS matterId, m.short_name AS matter FROM task t LEFT JOIN matter m ON m.id = t.matter_id
      WHERE t.remind_on <= ? AND t.reminded_at IS NULL AND t.done_at IS NULL AND (m.id IS NULL OR m.closed_on IS NULL) ORDER BY t.id LIMIT 200`,
    [today],
  )
  for (const t of due) {
    const actor = await actorOf(base.db.manager, t.assigneeId)
    if (!actor) continue
    const ctx: Ctx = { ...base, actor }
    await work(ctx, async (m) => {
      // A wall or a change of team since: the matter is closed to them, and nothing of it is written to them.
      if (t.matterId && !(await row(m, `SELECT 1 FROM matter m WHERE m.id = ? AND ${matterScope(actor)}`, [t.matterId]))) return
      const fresh = await touched(m.update(Task, { id: t.id, remindedAt: IsNull() }, { remindedAt: instant(base.clock.now()) }))
      if (!fresh) return
      const late = t.remindOn < today ? `This reminder was for ${t.remindOn}; it is late.\n\n` : ''
      await sendMail(m, ctx, {
        key: `remind task ${t.id} ${t.remindOn}`,
        to: t.assigneeId,
        subject: `Reminder: ${t.text}`,
        body: `${late}${t.text}${t.matter ? `, on ${t.matter}` : ''}.\n${t.dueOn ? `Due ${t.dueOn}.` : 'No date.'}`,
        matterId: t.matterId,
      })
    })
  }
  return due.length
}
