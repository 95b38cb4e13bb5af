import { IsNull } from 'typeorm'
import { actorOf } from '../platform/auth'
import { instant, type Ctx } from '../platform/context'
import { touched, work } from '../platform/database'
import { sendMail } from '../platform/mail'
import { Task } from './entities'
import { matterSeen, toRemindOf } from './queries'

/**
 * Reminds of tasks whose day to be reminded has come. The letter and the note that it was written stand in one
 * transaction, so that each goes out once, whenever the server stops; one that is late says so.
 */
export async function remindOfTasks(base: Omit<Ctx, 'actor'>): Promise<number> {
  const today = base.clock.today()
  const due = await toRemindOf(base, today)
  for (const t of due) {
    const actor = await actorOf(base.db.manager, t.assigneeId)
    if (!actor) continue
    const ctx: Ctx = { ...base, actor }
    await work(ctx, async (m) => {
      // A wall or a change of team since: the matter is closed to them, and nothing of it is written to them.
      if (t.matterId && !(await matterSeen(m, actor, t.matterId))) return
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
