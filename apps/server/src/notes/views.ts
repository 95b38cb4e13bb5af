import type { Ctx } from '../platform/context'
import { locked, touched, rows, work } from '../platform/database'
import { fieldFault, notFound } from '../platform/problem'
import { SavedView } from './entities'

/** How many views of one list somebody keeps. */
const mostViews = 100

export async function viewsOf(ctx: Ctx, list: string) {
  const found = await rows<{ id: number; name: string; state: string; shared: number; own: number; by: string }>(
    ctx.db.manager,
    `SELECT v.id, v.name, v.state, v.shared, v.user_id = ? AS own, u.name AS \`by\` FROM saved_view v JOIN user_account u ON u.id = v.user_id WHERE v.list = ? AND (v.user_id = ? OR v.shared) ORDER BY v.user_id <> ?, v.name LIMIT 300`,
    [ctx.actor.id, list, ctx.actor.id, ctx.actor.id],
  )
  return found.map((v) => ({ ...v, shared: Boolean(v.shared), own: Boolean(v.own) }))
}

/** Keeps a view under a name; the same name again replaces it. */
export const saveView = (ctx: Ctx, input: { list: string; name: string; state: string; shared: boolean }) =>
  work(ctx, async (m) => {
    const kept = await m.find(SavedView, { select: { name: true, id: true }, where: { userId: ctx.actor.id, list: input.list }, ...locked(m) }) // prettier-ignore
    if (kept.length >= mostViews && !kept.some((v) => v.name === input.name))
      throw fieldFault('name', `You keep ${mostViews} views of this list already. Forget one first`)
    const made = (await m.query(
      `INSERT INTO saved_view (user_id, list, name, state, shared) VALUES (?, ?, ?, ?, ?) ON DUPLICATE KEY UPDATE state = VALUES(state), shared = VALUES(shared), id = LAST_INSERT_ID(id)`,
      [ctx.actor.id, input.list, input.name, input.state, input.shared],
    )) as { insertId: number }
    return { id: made.insertId }
  })

export const removeView = (ctx: Ctx, id: number) =>
  work(ctx, async (m) => {
    if (!(await touched(m.delete(SavedView, { id, userId: ctx.actor.id })))) throw notFound('view of yours')
  })
