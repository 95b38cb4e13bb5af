import { In } from 'typeorm'
import type { HandingOver } from '../platform/area'
import { touched } from '../platform/database'
import { refused } from '../platform/problem'
import { DocketEntry } from './entities'
import { datesHeld, matterOfDate, noteHandover } from './entry-queries'

/** Dates ahead for which someone is responsible; those of a leave only as far as they fall in it. */
export const datesHandedOver: HandingOver = {
  what: 'date',
  order: 1,
  held: (m, ctx, userId, span) => datesHeld(m, ctx, userId, span.from, span.to),
  matterOf: (m, id) => matterOfDate(m, id),
  nameOf: async (m, id) => (await m.findOne(DocketEntry, { select: { title: true, id: true }, where: { id } }))?.title ?? null,
  give: async (m, ctx, { fromId, toId, subjectId }) => {
    if (!(await touched(m.update(DocketEntry, { id: subjectId, responsibleId: fromId }, { responsibleId: toId }))))
      throw refused('changed-meanwhile', 'One of the dates has changed meanwhile. Look at the list again.')
    await noteHandover(m, ctx, subjectId, fromId, toId)
    return {}
  },
  giveBack: async (m, { fromId, toId, subjectId }) =>
    (await touched(
      m.update(DocketEntry, { id: subjectId, responsibleId: toId, mark: In(['open', 'in hand']) }, { responsibleId: fromId }),
    )) > 0,
}
