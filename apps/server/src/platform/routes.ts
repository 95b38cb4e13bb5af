import { contract } from '@heron/contract'
import { implement } from '@orpc/server'
import type { Ctx } from './context'
import { sha256 } from './files'

/** What a route is called with; `idempotencyKey` is set on routes that post. */
export interface RouteContext {
  ctx: Ctx
  idempotencyKey?: string
  address: string
  token?: string
  setToken: (token: string | null) => void
}

/** The contract to be implemented; a key on a posting route is tied to the path and to what was sent. */
export const routes = implement(contract)
  .$context<RouteContext>()
  .use(({ context, next, path }, input) => {
    if (!context.idempotencyKey) return next()
    const bodyHash = sha256(`${path.join('.')} ${JSON.stringify(input)}`)
    return next({ context: { ...context, ctx: { ...context.ctx, idempotency: { key: context.idempotencyKey, bodyHash } } } })
  })

export const ok = { ok: true as const }
/** Answers a route that only says it was done. */
export const done = async (act: Promise<unknown>) => {
  await act
  return ok
}
