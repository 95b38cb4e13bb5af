import { contract, type RouteMeta } from '@heron/contract'
import { OpenAPIGenerator } from '@orpc/openapi'
import { OpenAPIHandler } from '@orpc/openapi/node'
import { ORPCError, traverseContractProcedures, type AnyRouter } from '@orpc/server'
import { ZodToJsonSchemaConverter } from '@orpc/zod/zod4'
import compression from 'compression'
import sirv from 'sirv'
import express, { type Express, type NextFunction, type Request, type Response } from 'express'
import { rateLimit } from 'express-rate-limit'
import helmet from 'helmet'
import { createHash, timingSafeEqual } from 'node:crypto'
import { join } from 'node:path'
import type { Logger } from 'pino'
import { pinoHttp } from 'pino-http'
import { sessionOf } from './queries'
import { may, type Actor, type Ctx } from './context'
import { answers } from './queries'
import { streamed } from './files'
import { reading } from './gone'
import type { Live } from './live'
import { Problem, problemIn } from './problem'
import type { RouteContext } from './routes'
import { Budget, Turns } from './turns'

export interface ProblemBody {
  type: string
  title: string
  status: number
  code: string
  detail: string
  fields: { path: string; message: string }[]
}

const body = (status: number, code: string, detail: string, fields: ProblemBody['fields'] = []): ProblemBody => ({
  type: `about:blank#${code}`,
  title: detail,
  status,
  code,
  detail,
  fields,
})

const failed = 'Something went wrong on the server. What you entered is kept; try again, and nothing is done twice.'
const missing = Object.assign(new Error('There is no such file'), { status: 404 })

interface Issue {
  path?: readonly (PropertyKey | { key: PropertyKey })[]
  message: string
}

/** Every error in the one shape of RFC 9457; faults of input name their field. */
function problemOf(error: ORPCError<string, unknown>): ProblemBody {
  if (error.cause instanceof Problem) return body(error.cause.status, error.cause.code, error.cause.message, error.cause.fields)
  if (error.code === 'BAD_REQUEST') {
    const issues = (error.data as { issues?: Issue[] } | undefined)?.issues ?? []
    const fields = issues.map((i) => ({
      path: (i.path ?? []).map((p) => String(typeof p === 'object' ? p.key : p)).join('.'),
      message: i.message,
    }))
    return body(400, 'invalid', fields[0]?.message ?? 'This request could not be read.', fields)
  }
  return body(error.status, 'failed', failed)
}

function send(res: Response, problem: ProblemBody) {
  res.status(problem.status).type('application/problem+json').send(JSON.stringify(problem))
}

/** Errors that the route library writes carry the media type of problem documents too. */
function asProblem(res: Response) {
  const write = res.writeHead.bind(res) as (...args: unknown[]) => Response
  res.writeHead = ((status: number, ...rest: unknown[]) => {
    const written = write(
      status,
      ...rest.map((r) => (status >= 400 && r && typeof r === 'object' ? { ...r, 'content-type': 'application/problem+json' } : r)),
    )
    return written
  }) as typeof res.writeHead
}

const cookieName = 'heron_session'
const tokenOf = (req: Request) => /(?:^|;\s*)heron_session=([\w-]+)/.exec(req.headers.cookie ?? '')?.[1]

/** Nobody: the actor of a route that is open to anyone. Never passes a check of rights. */
const nobody: Actor = { id: 0, name: '', role: 'outside lawyer', mayOverride: false }

/** Whether a write comes from a page of ours: same origin, and the token of its session. */
function foreign(req: Request, csrf: string | null): boolean {
  const origin = req.headers.origin
  if (origin && (!URL.canParse(origin) || new URL(origin).host !== req.headers.host)) return true
  return csrf !== null && req.headers['x-heron-csrf'] !== csrf
}

interface Gate {
  meta: RouteMeta
  base: Omit<Ctx, 'actor'>
  settings: HttpSettings
}

/** Whether a call comes from what hands letters over, before anything of it is read. Without a secret there is none. */
function isMailServer(req: Request, own: string | undefined): boolean {
  const said = req.headers['x-heron-secret']
  return (
    own !== undefined &&
    typeof said === 'string' &&
    timingSafeEqual(createHash('sha256').update(said).digest(), createHash('sha256').update(own).digest())
  )
}

/** The one place where a call is let in: rule, session, origin and token, idempotency key. */
async function letIn(req: Request, res: Response, { meta, base, settings }: Gate): Promise<RouteContext | ProblemBody> {
  if (meta.rule === 'mail server' && !isMailServer(req, settings.filingSecret))
    return body(403, 'not-allowed', 'This is not the mail server of the firm.')
  const token = tokenOf(req)
  const open = meta.rule === 'public' || meta.rule === 'mail server'
  const found = open ? null : await sessionOf(base.db, base.clock, token)
  if (meta.rule === null) return body(403, 'no-rule', 'This route is not open to anyone.')
  if (!open && !found) return body(401, 'not-signed-in', 'Sign in to go on. What you entered is kept on this page.')
  if (req.method !== 'GET' && foreign(req, found?.csrf ?? null))
    return body(403, 'foreign-request', 'This request did not come from a page of yours. Reload and try again.')
  if (meta.rule !== 'public' && meta.rule !== 'mail server' && meta.rule !== 'signed in' && !may(found!.actor, meta.rule))
    return body(403, 'not-allowed', 'Your role does not include this.')
  const key = req.headers['idempotency-key']
  const keyed = typeof key === 'string' && key.length >= 8 && key.length <= 70
  if (meta.once === 'must' && !keyed)
    return body(400, 'idempotency-key-needed', 'A request that makes something needs an Idempotency-Key header of 8 to 70 characters.')
  const context: RouteContext = {
    ctx: { ...base, actor: found?.actor ?? nobody },
    address: req.ip ?? '',
    origin: `${req.protocol}://${req.headers.host ?? ''}`,
    setToken: (value) =>
      value
        ? res.cookie(cookieName, value, { httpOnly: true, sameSite: 'strict', path: '/', secure: req.secure })
        : res.clearCookie(cookieName, { path: '/' }),
  }
  if (token) context.token = token
  if (keyed && meta.once !== 'never') context.idempotencyKey = key
  return context
}

/** How much the server takes on. A person's requests beyond these wait; beyond the line, or where bodies would fill the memory, they are refused. */
const turnsOf = { person: new Turns(6, 200), address: new Turns(6, 60) }
const bodies = new Budget(256_000_000)

const busy = body(429, 'too-many-requests', 'You have very many requests under way. Wait a moment and try again.')

/**
 * Reads the body of a call, no more of it than the route allows, before anything is made of it. What is too long is told from
 * its head where it says its length, and else as soon as it is.
 */
async function readBody(req: Request, res: Response, meta: RouteMeta): Promise<ProblemBody | null> {
  const tooLarge = () => {
    res.setHeader('connection', 'close')
    const most = meta.body >= 1_000_000 ? `${Math.floor(meta.body / 1_000_000)} MB` : `${Math.floor(meta.body / 1000)} kB`
    return body(413, 'too-large', `That is more than the ${most} that this takes at once.`)
  }
  if (req.method === 'GET') {
    // Nothing is read of what a reading call may carry.
    req.body = {}
    return null
  }
  // A body of unknown length would have to be read to its end, however far that is.
  if (req.headers['transfer-encoding']) {
    res.setHeader('connection', 'close')
    return body(411, 'length-needed', 'What is sent must say its length.')
  }
  const said = req.headers['content-length']
  if (said !== undefined && Number(said) > meta.body) return tooLarge()
  if (meta.upload === 'bytes') {
    if (said === undefined) return body(411, 'length-needed', 'What is sent must say its length.')
    // Read by the route as it comes, and by nobody before.
    req.body = streamed(() => req, Number(said), 'piece', 'application/octet-stream')
    return null
  }
  const type = req.headers['content-type'] ?? ''
  if (meta.upload && type.startsWith('multipart/form-data')) return null
  if (type && !type.startsWith('application/json') && said !== '0')
    return body(415, 'not-json', meta.upload ? 'Send the file as a form.' : 'Send what you enter as JSON.')
  return new Promise((resolve) => {
    express.json({ limit: meta.body, strict: false, inflate: false })(req, res, (error?: unknown) => {
      const status = (error as { status?: number } | undefined)?.status
      // Where nothing was sent there is nothing to read; a stream of unknown kind is not begun.
      req.body ??= {}
      if (!error) return resolve(null)
      resolve(status === 413 ? tooLarge() : body(status ?? 400, 'unreadable', 'This request could not be read.'))
    })
  })
}

/** Letters and secrets that must not stand in a log. */
const withoutSecrets = (url: string) => url.replace(/^(\/api\/calendars\/)[^/?]+/, '$1[secret]')

export interface HttpSettings {
  /** Proxies before the server whose word on the caller's address and on TLS is taken: how many, or which. */
  proxies?: number | string
  /** Requests of one address in a minute. */
  perMinute: number
  /** By this the mail server shows that it is the one, when it hands letters over; without it there is none. */
  filingSecret?: string
}

/** Builds the application: every route of the contract, its document, health, and the pages. */
export function buildApp(
  base: Omit<Ctx, 'actor'>,
  router: AnyRouter,
  log: Logger,
  web: string | undefined,
  settings: HttpSettings,
  live: Live,
): Express {
  const app = express()
  app.disable('x-powered-by')
  app.set('trust proxy', settings.proxies ?? false)
  app.use(
    pinoHttp({
      logger: log,
      autoLogging: { ignore: (req) => !req.url?.startsWith('/api') },
      redact: ['req.headers.cookie', 'res.headers["set-cookie"]', 'req.headers["x-heron-csrf"]'],
      serializers: { req: (req: { url: string }) => ({ ...req, url: withoutSecrets(req.url) }) },
    }),
  )
  app.use(
    helmet({
      hsts: false,
      crossOriginEmbedderPolicy: false,
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'none'"],
          scriptSrc: ["'self'"],
          styleSrc: ["'self'"],
          fontSrc: ["'self'"],
          imgSrc: ["'self'"],
          connectSrc: ["'self'"],
          formAction: ["'none'"],
          frameAncestors: ["'none'"],
          baseUri: ["'none'"],
        },
      },
    }),
  )
  // Only where the connection is encrypted; on loopback a browser must not learn to insist on it.
  app.use((req, res, next) => {
    if (req.secure) res.setHeader('strict-transport-security', 'max-age=31536000')
    next()
  })
  // Whatever is sent piece by piece can fail on the way: that ends the one answer, not the server.
  app.use((_req, res, next) => {
    res.on('pipe', (from) => {
      from.on('error', (error) => {
        // Where whoever asked has gone, there is nothing left to end.
        if (res.destroyed) return
        log.error({ err: error }, 'answer broken off')
        res.destroy()
      })
    })
    next()
  })
  app.use(compression())
  app.use(
    '/api',
    rateLimit({
      windowMs: 60_000,
      limit: settings.perMinute,
      standardHeaders: 'draft-8',
      legacyHeaders: false,
      validate: false,
      handler: (_req, res) => send(res, busy),
    }),
  )

  app.get('/health', async (_req, res) => {
    const up = await answers(base.db.manager).catch(() => null)
    res.status(up ? 200 : 503).json({ ok: Boolean(up) })
  })

  const handler = new OpenAPIHandler(router, {
    customErrorResponseBodyEncoder: problemOf,
    clientInterceptors: [
      async ({ next }) => {
        try {
          return await next()
        } catch (error) {
          const problem = error instanceof Problem ? error : problemIn(error)
          if (problem)
            throw new ORPCError(problem.status === 404 ? 'NOT_FOUND' : 'CONFLICT', {
              status: problem.status,
              message: problem.message,
              cause: problem,
            })
          if (!(error instanceof ORPCError) || error.status >= 500) log.error({ err: error }, 'route failed')
          throw error
        }
      },
    ],
  })
  traverseContractProcedures({ path: [], router: contract }, ({ contract: procedure }) => {
    const { route, meta } = procedure['~orpc'] as unknown as {
      route: { method: 'GET' | 'POST' | 'PUT' | 'DELETE'; path: string }
      meta: RouteMeta
    }
    const path = `/api${route.path.replace(/\{(\w+)\}/g, ':$1')}`
    app[route.method.toLowerCase() as 'get'](path, async (req: Request, res: Response) => {
      const entry = await letIn(req, res, { meta, base, settings })
      if ('status' in entry) return send(res, entry)
      const { ctx, address } = entry
      const done = await (ctx.actor.id ? turnsOf.person.take(String(ctx.actor.id)) : turnsOf.address.take(address))
      if (!done) return send(res, busy)
      res.setHeader('cache-control', 'no-store')
      try {
        if (res.destroyed) return
        await answer(req, res, entry, meta)
      } finally {
        done()
      }
    })
  })
  async function answer(req: Request, res: Response, entry: RouteContext, meta: RouteMeta) {
    const held = bodies.take(
      meta.upload === 'bytes' ? 100_000 : Math.min(Number(req.headers['content-length'] ?? meta.body) || 0, meta.body),
    )
    if (!held) return send(res, body(503, 'busy', 'The server has very much to read just now. Try again in a moment.'))
    try {
      const refused = await readBody(req, res, meta)
      if (refused) return send(res, refused)
      asProblem(res)
      const handle = () => handler.handle(req, res, { prefix: '/api', context: entry })
      if (req.method !== 'GET') return void (await handle())
      const { result, leave } = reading(base.db, handle)
      res.once('close', leave)
      await result
      res.off('close', leave)
    } finally {
      held()
    }
  }
  const listening: RouteMeta = { rule: 'signed in', once: 'never', body: 0, upload: false }
  app.get('/api/live', async (req, res) => {
    const entry = await letIn(req, res, { meta: listening, base, settings })
    if ('status' in entry) return send(res, entry)
    const who = async () => (await sessionOf(base.db, base.clock, entry.token))?.actor ?? null
    const heard = Number(req.headers['last-event-id'])
    if (!(await live.listen(res, entry.ctx.actor.id, who, Number.isSafeInteger(heard) ? heard : 0))) send(res, busy)
  })
  app.get('/api/openapi.json', async (_req, res) => {
    const generator = new OpenAPIGenerator({ schemaConverters: [new ZodToJsonSchemaConverter()] })
    res.json(await generator.generate(contract, { info: { title: 'Astute Heron', version: '0.1.0' }, servers: [{ url: '/api' }] }))
  })
  app.use('/api', (_req, res) => send(res, body(404, 'not-found', 'There is no such route.')))

  if (web) {
    // Packed once when the pages are built, not for each request; names of assets change with their contents. A folder of its own is
    // read at the start, so that nothing is looked for on the disk that is not there.
    const packed = { brotli: true, gzip: true, etag: true }
    app.use(
      '/assets',
      sirv(join(web, 'assets'), { ...packed, immutable: true, maxAge: 31_536_000, onNoMatch: (_req, res) => res.writeHead(404).end() }),
    )
    app.use(sirv(web, { ...packed, extensions: [] }))
    app.get('/{*page}', (req, res, next) =>
      /\.\w{1,8}$/.test(req.path) ? next(missing) : res.sendFile(join(web, 'index.html'), { headers: { 'cache-control': 'no-cache' } }),
    )
  }
  app.use((error: Error & { status?: number }, _req: Request, res: Response, _next: NextFunction) => {
    const status = error.status ?? 500
    if (status >= 500) log.error({ err: error }, 'request failed')
    if (res.headersSent) return
    if (status === 404) send(res, body(404, 'not-found', 'There is no such file.'))
    else if (status < 500) send(res, body(status, 'unreadable', 'This request could not be read.'))
    else send(res, body(500, 'failed', failed))
  })
  return app
}
