import type { contract } from '@heron/contract'
import { createORPCClient } from '@orpc/client'
import type { ContractRouterClient } from '@orpc/contract'
import { OpenAPILink } from '@orpc/openapi-client/fetch'
import { createTanstackQueryUtils } from '@orpc/tanstack-query'
import routes from 'virtual:routes'
import { ApiProblem } from './problem'
import { forget } from './shown'

export { ApiProblem }

let csrf = ''
export const useToken = (token: string) => (csrf = token)

let lost: () => void = () => undefined
/** Called when the session has ended, so that the page can ask to sign in again. */
export const onLostSession = (act: () => void) => (lost = act)

async function ask(request: Request): Promise<Response> {
  const answer = await fetch(request).catch(() => {
    throw new ApiProblem(0, 'offline', 'The server does not answer. What you entered is kept; try again in a moment.', [])
  })
  // What was read before an act is not shown after it, whether or not the act was done.
  if (request.method !== 'GET') forget()
  if (answer.ok) return answer
  const said = (await answer.json().catch(() => null)) as {
    code?: string
    detail?: string
    fields?: { path: string; message: string }[]
  } | null
  if (answer.status === 401 && said?.code === 'not-signed-in') lost()
  throw new ApiProblem(
    answer.status,
    said?.code ?? 'failed',
    said?.detail ?? 'Something went wrong on the server. What you entered is kept.',
    said?.fields ?? [],
  )
}

interface CallContext {
  /** One key for one act of a person; a repeat of the same act carries the same. */
  key?: string
}

const link = new OpenAPILink<CallContext>(routes, {
  url: () => `${window.location.origin}/api`,
  headers: ({ context }) => ({ 'x-heron-csrf': csrf, 'idempotency-key': context.key ?? crypto.randomUUID() }),
  fetch: (request) => ask(request),
})

/** The act of a person that is being sent: its key goes with what it calls at once, one after another. */
let acting: { key: string; calls: number } | null = null
const AsyncFunction = (async () => undefined).constructor
/**
 * Runs an act with its key. The calls that it begins with carry the key, so that a repeat of the act is done once. `whole`: the
 * act is this one call, so that what became of the call is what became of the act.
 */
export function withKey<T>(key: string, work: () => Promise<T>): { answer: Promise<T>; whole: boolean } {
  const mine = (acting = { key, calls: 0 })
  try {
    const answer = work()
    return { answer, whole: mine.calls === 1 && !(work instanceof AsyncFunction) }
  } finally {
    acting = null
  }
}
function nextKey(): string | undefined {
  if (!acting) return undefined
  acting.calls += 1
  return acting.calls === 1 ? acting.key : `${acting.key}.${acting.calls}`
}

/** What a call would send, and to which route. */
export interface Asked {
  path: readonly string[]
  input: unknown
}
let looking: { asked: Asked | null } | null = null
/** What `call` would send as things stand; nothing is sent. Null where it cannot be put together yet. */
export function askedBy(call: () => Promise<unknown>): Asked | null {
  const mine = (looking = { asked: null as Asked | null })
  try {
    void call()
    return mine.asked
  } catch {
    return null
  } finally {
    looking = null
  }
}

export const api: ContractRouterClient<typeof contract, CallContext> = createORPCClient<ContractRouterClient<typeof contract, CallContext>>(
  {
    call: (path, input, options) => {
      if (!looking) return link.call(path, input, { ...options, context: { key: options.context.key ?? nextKey() } })
      looking.asked = { path, input }
      return new Promise(() => undefined)
    },
  },
)

/** What pages show, route by route, for `useShown`. */
export const asks = createTanstackQueryUtils(api)

export type Api = typeof api
/** What a route answers. */
export type Answer<T extends (...args: never[]) => Promise<unknown>> = Awaited<ReturnType<T>>
