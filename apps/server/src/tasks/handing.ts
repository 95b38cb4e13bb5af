import { IsNull } from 'typeorm'
import type { HandingOver } from '../platform/area'
import { touched } from '../platform/database'
import { refused } from '../platform/problem'
import { Task } from './entities'
import { matterOfTask, tasksHeld } from './queries'

/** Tasks not done that someone has; those of a leave only as far as they fall due in it. */
export const tasksHandedOver: HandingOver = {
  what: 'task',
  order: 2,
  held: (m, ctx, userId, span) => tasksHeld(m, ctx, userId, span.to),
  matterOf: (m, id) => matterOfTask(m, id),
  nameOf: async (m, id) => (await m.findOne(Task, { select: { text: true, id: true }, where: { id } }))?.text ?? null,
  give: async (m, _ctx, { fromId, toId, subjectId }) => {
    if (!(await touched(m.update(Task, { id: subjectId, assigneeId: fromId, doneAt: IsNull() }, { assigneeId: toId }))))
      throw refused('changed-meanwhile', 'One of the tasks has changed meanwhile. Look at the list again.')
    return {}
  },
  giveBack: async (m, { fromId, toId, subjectId }) =>
    (await touched(m.update(Task, { id: subjectId, assigneeId: toId, doneAt: IsNull() }, { assigneeId: fromId }))) > 0,
}
