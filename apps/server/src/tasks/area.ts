import { IsNull } from 'typeorm'
import { matterScope } from '../platform/access'
import { area } from '../platform/area'
import { touched, row } from '../platform/database'
import { ProcedureRun, Task, taskEntities } from './entities'
import { tasksHandedOver } from './handing'
import { remindOfTasks } from './reminders'
import { taskRoutes } from './routes'

declare module '../platform/area' {
  interface ActSubjects {
    task: true
    procedure: true
    'procedure definition': true
  }
}

export const tasks = area({
  name: 'tasks',
  entities: taskEntities,
  routes: { tasks: taskRoutes },
  schedules: [{ name: 'remind of tasks', at: '* * * * *', atStart: true, run: remindOfTasks }],
  acts: {
    task: { part: 'file', beyond: 'author' },
    procedure: { part: 'file', beyond: 'author' },
    'procedure definition': { part: null, beyond: 'firm.set-up' },
  },
  openEnds: async (m, _ctx, id) => {
    const n = await m.countBy(Task, { matterId: id, doneAt: IsNull() })
    return [n ? { key: 'tasks', text: `${n} ${n === 1 ? 'task is' : 'tasks are'} not done`, blocks: false } : null]
  },
  work: ['task'],
  removeMatter: (m, id) => touched(m.delete(ProcedureRun, { matterId: id })),
  handsOver: [tasksHandedOver],
  waiting: async (ctx) => {
    const given = await row<{ n: number }>(
      ctx.db.manager,
      `SELECT COUNT(*) AS n FROM task t LEFT JOIN matter m ON m.id = t.matter_id WHERE t.assigned_by = ? AND t.assignee_id <> ? AND t.done_at IS NULL AND t.due_on < ? AND (m.id IS NULL OR (m.closed_on IS NULL AND ${matterScope(ctx.actor)}))`,
      [ctx.actor.id, ctx.actor.id, ctx.clock.today()],
    )
    return { given: given!.n }
  },
})
