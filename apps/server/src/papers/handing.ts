import { mayRead } from './review'
import { handable, matterScope, nameInHandover } from '../platform/access'
import type { HandingOver } from '../platform/area'
import { touched, row, rows } from '../platform/database'
import { fieldFault, refused } from '../platform/problem'
import { Paper, PaperReview } from './entities'

const changed = () => refused('changed-meanwhile', 'One of the papers has changed meanwhile. Look at the list again.')

/** Papers that someone has checked out. */
export const checkedOutHandedOver: HandingOver = {
  what: 'paper',
  order: 2,
  held: (m, ctx, userId) =>
    rows(
      m,
      `SELECT p.id, IF(${matterScope(ctx.actor, 'm', 'papers')}, p.name, 'A paper') AS text, ${nameInHandover(ctx.actor)} AS hint FROM paper p JOIN matter m ON m.id = p.matter_id
        WHERE p.out_to = ? AND p.deleted_at IS NULL AND m.closed_on IS NULL AND ${handable(ctx.actor)} ORDER BY p.out_at, p.id`,
      [userId],
    ),
  matterOf: (m, id) =>
    row(m, `SELECT p.matter_id AS matterId, m.number FROM paper p JOIN matter m ON m.id = p.matter_id WHERE p.id = ?`, [id]),
  nameOf: async (m, id) => (await m.findOne(Paper, { select: { name: true, id: true }, where: { id } }))?.name ?? null,
  give: async (m, _ctx, { fromId, toId, subjectId }) => {
    if (!(await touched(m.update(Paper, { id: subjectId, outTo: fromId }, { outTo: toId })))) throw changed()
    return {}
  },
  giveBack: async (m, { fromId, toId, subjectId }) =>
    (await touched(m.update(Paper, { id: subjectId, outTo: toId }, { outTo: fromId }))) > 0,
}

/** Drafts that someone was asked to read and has not answered; only to someone who sees the matter's papers. */
export const reviewsHandedOver: HandingOver = {
  what: 'review',
  order: 4,
  held: (m, ctx, userId) =>
    rows(
      m,
      `SELECT r.id, IF(${matterScope(ctx.actor, 'm', 'papers')}, p.name, 'A draft') AS text, CONCAT_WS(', ', r.due_on, ${nameInHandover(ctx.actor)}) AS hint
         FROM paper_review r JOIN paper p ON p.id = r.paper_id JOIN matter m ON m.id = p.matter_id
        WHERE r.to_id = ? AND r.state = 'asked' AND p.deleted_at IS NULL AND m.closed_on IS NULL AND ${handable(ctx.actor)} ORDER BY r.due_on IS NULL, r.due_on, r.id`,
      [userId],
    ),
  matterOf: (m, id) =>
    row(
      m,
      `SELECT p.matter_id AS matterId, m.number FROM paper_review r JOIN paper p ON p.id = r.paper_id JOIN matter m ON m.id = p.matter_id WHERE r.id = ?`,
      [id],
    ),
  nameOf: async (m, id) =>
    (await row<{ name: string }>(m, `SELECT p.name FROM paper_review r JOIN paper p ON p.id = r.paper_id WHERE r.id = ?`, [id]))?.name ??
    null,
  give: async (m, _ctx, { fromId, toId, subjectId }) => {
    const draft = await row<{ matterId: number; askedBy: number; name: string }>(
      m,
      `SELECT p.matter_id AS matterId, r.from_id AS askedBy, p.name FROM paper_review r JOIN paper p ON p.id = r.paper_id WHERE r.id = ?`,
      [subjectId],
    )
    if (!draft) throw changed()
    if (draft.askedBy === toId) throw fieldFault('gives', `Whoever asked for ${draft.name} to be read does not read it. Choose another`)
    if (!(await mayRead(m, toId, draft.matterId)))
      throw fieldFault('gives', `Choose someone who sees the papers of the matter to read ${draft.name}`)
    if (!(await touched(m.update(PaperReview, { id: subjectId, toId: fromId, state: 'asked' }, { toId })))) throw changed()
    return {}
  },
  giveBack: async (m, { fromId, toId, subjectId }) =>
    (await touched(m.update(PaperReview, { id: subjectId, toId, state: 'asked' }, { toId: fromId }))) > 0,
}
