import { contract } from '@heron/contract'
import { implement } from '@orpc/server'
import type { Ctx } from './context'
import { sha256 } from './files'

/** What a route is called with; `idempotencyKey` is set where the caller sent one for something that is done once. */
export interface RouteContext {
  ctx: Ctx
  idempotencyKey?: string
  address: string
  /** The address by which the application was reached, for letters that carry a link. */
  origin: string
  token?: string
  setToken: (token: string | null) => void
}

/** What was sent, as text: of a file its contents count. */
async function sentAs(input: unknown): Promise<string> {
  const fileList: Blob[] = []
  const files: string[] = []
  const text = JSON.stringify(input, (_, value: unknown) => {
    if (!(value instanceof Blob)) return value
    fileList.push(value)
    return `file ${fileList.length}`
  })
  // Off the main thread: a large file holds nobody up.
  for (const file of fileList) files.push(Buffer.from(await crypto.subtle.digest('SHA-256', await file.arrayBuffer())).toString('hex'))
  return [text, ...files].join(' ')
}

/** The contract to be implemented; a key is tied to the path and to what was sent. */
export const routes = implement(contract)
  .$context<RouteContext>()
  .use(async ({ context, next, path }, input) => {
    if (!context.idempotencyKey) return next()
    const bodyHash = sha256(`${path.join('.')} ${await sentAs(input)}`)
    return next({ context: { ...context, ctx: { ...context.ctx, idempotency: { key: context.idempotencyKey, bodyHash, parts: 0 } } } })
  })

export const ok = { ok: true as const }
/** Answers a route that only says it was done. */
export const done = async (act: Promise<unknown>) => {
  await act
  return ok
}
