import type { Ctx } from '../platform/context'
import { locked, touched, work } from '../platform/database'
import { fieldFault, notFound } from '../platform/problem'
import { SavedView } from './entities'
import { keepView } from './queries'

/** How many views of one list somebody keeps. */
const mostViews = 100

/** Keeps a view under a name; the same name again replaces it. */
export const saveView = (ctx: Ctx, input: { list: string; name: string; state: string; shared: boolean }) =>
  work(ctx, async (m) => {
    const kept = await m.find(SavedView, { select: { name: true, id: true }, where: { userId: ctx.actor.id, list: input.list }, ...locked(m) }) // prettier-ignore
    if (kept.length >= mostViews && !kept.some((v) => v.name === input.name))
      throw fieldFault('name', `You keep ${mostViews} views of this list already. Forget one first`)
    const made = (await keepView(m, ctx, input.list, input.name, input.state, input.shared)) as { insertId: number }
    return { id: made.insertId }
  })

export const removeView = (ctx: Ctx, id: number) =>
  work(ctx, async (m) => {
    if (!(await touched(m.delete(SavedView, { id, userId: ctx.actor.id })))) throw notFound('view of yours')
  })
