import { IsNull } from 'typeorm'
import { area } from '../platform/area'
import { touched } from '../platform/database'
import { ProcedureRun, Task, taskEntities } from './entities'
import { tasksHandedOver } from './handing'
import { remindOfTasks } from './reminders'
import { taskRoutes } from './routes'
import { lateElsewhere } from './queries'

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
    const given = await lateElsewhere(ctx)
    return { given: given!.n }
  },
})
