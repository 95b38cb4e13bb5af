import { latestDay, maxDay } from '@heron/core/calendar'
import { In } from 'typeorm'
import { handable, matterScope, nameInHandover } from '../platform/access'
import type { HandingOver } from '../platform/area'
import { instant } from '../platform/context'
import { touched, row, rows, run } from '../platform/database'
import { refused } from '../platform/problem'
import { DocketEntry } from './entities'

/** Dates ahead for which someone is responsible; those of a leave only as far as they fall in it. */
export const datesHandedOver: HandingOver = {
  what: 'date',
  order: 1,
  held: (m, ctx, userId, span) =>
    rows(
      m,
      `SELECT d.id, IF(${matterScope(ctx.actor, 'm', 'docket')}, d.title, 'A date') AS text, CONCAT(d.day, ', ', ${nameInHandover(ctx.actor)}) AS hint FROM docket_entry d JOIN matter m ON m.id = d.matter_id
        WHERE d.responsible_id = ? AND d.day >= ? AND d.day <= ? AND d.mark IN ('open', 'in hand') AND NOT d.left_out AND d.removed_at IS NULL AND m.closed_on IS NULL AND ${handable(ctx.actor)} ORDER BY d.day, d.id`,
      [userId, maxDay(ctx.clock.today(), span.from ?? ctx.clock.today()), span.to ?? latestDay],
    ),
  matterOf: (m, id) =>
    row(m, `SELECT d.matter_id AS matterId, m.number FROM docket_entry d JOIN matter m ON m.id = d.matter_id WHERE d.id = ?`, [id]),
  nameOf: async (m, id) => (await m.findOne(DocketEntry, { select: { title: true, id: true }, where: { id } }))?.title ?? null,
  give: async (m, ctx, { fromId, toId, subjectId }) => {
    if (!(await touched(m.update(DocketEntry, { id: subjectId, responsibleId: fromId }, { responsibleId: toId }))))
      throw refused('changed-meanwhile', 'One of the dates has changed meanwhile. Look at the list again.')
    await run(
      m,
      `INSERT INTO docket_history (entry_id, at, user_id, what, was, became, why) SELECT ?, ?, ?, 'handed over', a.name, b.name, '' FROM user_account a, user_account b WHERE a.id = ? AND b.id = ?`,
      [subjectId, instant(ctx.clock.now()), ctx.actor.id, fromId, toId],
    )
    return {}
  },
  giveBack: async (m, { fromId, toId, subjectId }) =>
    (await touched(
      m.update(DocketEntry, { id: subjectId, responsibleId: toId, mark: In(['open', 'in hand']) }, { responsibleId: fromId }),
    )) > 0,
}
