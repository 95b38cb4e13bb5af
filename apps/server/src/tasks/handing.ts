import { latestDay } from '@heron/core/calendar'
import { IsNull } from 'typeorm'
import { handable, matterScope, nameInHandover } from '../platform/access'
import type { HandingOver } from '../platform/area'
import { touched, row, rows } from '../platform/database'
import { refused } from '../platform/problem'
import { Task } from './entities'

/** Tasks not done that someone has; those of a leave only as far as they fall due in it. */
export const tasksHandedOver: HandingOver = {
  what: 'task',
  order: 2,
  held: (m, ctx, userId, span) =>
    rows(
      m,
      `SELECT t.id, IF(m.id IS NULL OR (${matterScope(ctx.actor)} AND NOT t.only_named), t.text, 'A task') AS text, CONCAT_WS(', ', t.due_on, IF(m.id IS NULL, 'no matter', ${nameInHandover(ctx.actor)})) AS hint FROM task t LEFT JOIN matter m ON m.id = t.matter_id
        WHERE t.assignee_id = ? AND t.done_at IS NULL AND (t.due_on IS NULL OR t.due_on <= ?) AND (m.id IS NULL OR (m.closed_on IS NULL AND ${handable(ctx.actor)})) ORDER BY t.due_on IS NULL, t.due_on, t.id`,
      [userId, span.to ?? latestDay],
    ),
  matterOf: (m, id) =>
    row(m, `SELECT t.matter_id AS matterId, m.number FROM task t LEFT JOIN matter m ON m.id = t.matter_id WHERE t.id = ?`, [id]),
  nameOf: async (m, id) => (await m.findOne(Task, { select: { text: true, id: true }, where: { id } }))?.text ?? null,
  give: async (m, _ctx, { fromId, toId, subjectId }) => {
    if (!(await touched(m.update(Task, { id: subjectId, assigneeId: fromId, doneAt: IsNull() }, { assigneeId: toId }))))
      throw refused('changed-meanwhile', 'One of the tasks has changed meanwhile. Look at the list again.')
    return {}
  },
  giveBack: async (m, { fromId, toId, subjectId }) =>
    (await touched(m.update(Task, { id: subjectId, assigneeId: toId, doneAt: IsNull() }, { assigneeId: fromId }))) > 0,
}
