import { mayRead } from './link-queries'
import type { HandingOver } from '../platform/area'
import { touched } from '../platform/database'
import { fieldFault, refused } from '../platform/problem'
import { Paper, PaperReview } from './entities'
import { matterOfPaper, matterOfReview, papersOutTo, paperUnderReview, reviewAsked, reviewsOf } from './paper-queries'

const changed = () => refused('changed-meanwhile', 'One of the papers has changed meanwhile. Look at the list again.')

/** Papers that someone has checked out. */
export const checkedOutHandedOver: HandingOver = {
  what: 'paper',
  order: 2,
  held: (m, ctx, userId) => papersOutTo(m, ctx, userId),
  matterOf: (m, id) => matterOfPaper(m, id),
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
  held: (m, ctx, userId) => reviewsOf(m, ctx, userId),
  matterOf: (m, id) => matterOfReview(m, id),
  nameOf: async (m, id) => (await paperUnderReview(m, id))?.name ?? null,
  give: async (m, _ctx, { fromId, toId, subjectId }) => {
    const draft = await reviewAsked(m, subjectId)
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
