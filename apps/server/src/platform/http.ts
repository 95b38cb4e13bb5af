import { contract, type RouteMeta } from '@heron/contract'
import { OpenAPIGenerator } from '@orpc/openapi'
import { OpenAPIHandler } from '@orpc/openapi/node'
import { ORPCError, traverseContractProcedures, type AnyRouter } from '@orpc/server'
import { ZodToJsonSchemaConverter } from '@orpc/zod/zod4'
import compression from 'compression'
import express, { type Express, type NextFunction, type Request, type Response } from 'express'
import helmet from 'helmet'
import { join } from 'node:path'
import type { Logger } from 'pino'
import { pinoHttp } from 'pino-http'
import { sessionOf } from './auth'
import { may, type Actor, type Ctx } from './context'
import { row } from './database'
import { Problem } from './problem'
import type { RouteContext } from './routes'

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
  return body(error.status, 'failed', 'Something went wrong on the server. Nothing was changed; try again.')
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
}

/** The one place where a call is let in: rule, session, origin and token, idempotency key. */
async function letIn(req: Request, res: Response, { meta, base }: Gate): Promise<RouteContext | ProblemBody> {
  const token = tokenOf(req)
  const found = meta.rule === 'public' ? null : await sessionOf(base.db, base.clock, token)
  if (meta.rule === null) return body(403, 'no-rule', 'This route is not open to anyone.')
  if (meta.rule !== 'public' && !found) return body(401, 'not-signed-in', 'Sign in to go on. What you entered is kept on this page.')
  if (req.method !== 'GET' && foreign(req, found?.csrf ?? null))
    return body(403, 'foreign-request', 'This request did not come from a page of yours. Reload and try again.')
  if (meta.rule !== 'public' && meta.rule !== 'signed in' && !may(found!.actor, meta.rule))
    return body(403, 'not-allowed', 'Your role does not include this.')
  const key = req.headers['idempotency-key']
  if (meta.posts && (typeof key !== 'string' || key.length < 8 || key.length > 80))
    return body(400, 'idempotency-key-needed', 'A request that posts needs an Idempotency-Key header.')
  const context: RouteContext = {
    ctx: { ...base, actor: found?.actor ?? nobody },
    address: req.ip ?? '',
    setToken: (value) =>
      value
        ? res.cookie(cookieName, value, { httpOnly: true, sameSite: 'strict', path: '/', secure: req.secure })
        : res.clearCookie(cookieName, { path: '/' }),
  }
  if (token) context.token = token
  if (meta.posts) context.idempotencyKey = key as string
  return context
}

/** Builds the application: every route of the contract, its document, health, and the pages. */
export function buildApp(base: Omit<Ctx, 'actor'>, router: AnyRouter, log: Logger, web?: string): Express {
  const app = express()
  app.disable('x-powered-by')
  app.use(
    pinoHttp({
      logger: log,
      autoLogging: { ignore: (req) => !req.url?.startsWith('/api') },
      redact: ['req.headers.cookie', 'res.headers["set-cookie"]', 'req.headers["x-heron-csrf"]'],
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
  app.use(compression())

  app.get('/health', async (_req, res) => {
    const up = await row(base.db.manager, 'SELECT 1').catch(() => null)
    res.status(up ? 200 : 503).json({ ok: Boolean(up) })
  })

  const handler = new OpenAPIHandler(router, {
    customErrorResponseBodyEncoder: problemOf,
    clientInterceptors: [
      async ({ next }) => {
        try {
          return await next()
        } catch (error) {
          if (error instanceof Problem)
            throw new ORPCError(error.status === 404 ? 'NOT_FOUND' : 'CONFLICT', {
              status: error.status,
              message: error.message,
              cause: error,
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
      const entry = await letIn(req, res, { meta, base })
      if ('status' in entry) return send(res, entry)
      res.setHeader('cache-control', 'no-store')
      asProblem(res)
      await handler.handle(req, res, { prefix: '/api', context: entry })
    })
  })
  app.get('/api/openapi.json', async (_req, res) => {
    const generator = new OpenAPIGenerator({ schemaConverters: [new ZodToJsonSchemaConverter()] })
    res.json(await generator.generate(contract, { info: { title: 'Astute Heron', version: '0.1.0' }, servers: [{ url: '/api' }] }))
  })
  app.use('/api', (_req, res) => send(res, body(404, 'not-found', 'There is no such route.')))

  if (web) {
    app.use('/assets', express.static(join(web, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }))
    app.use(express.static(web, { index: false }))
    app.get('/{*page}', (_req, res) => res.sendFile(join(web, 'index.html'), { headers: { 'cache-control': 'no-cache' } }))
  }
  app.use((error: Error, _req: Request, res: Response, _next: NextFunction) => {
    log.error({ err: error }, 'request failed')
    if (!res.headersSent) send(res, body(500, 'failed', 'Something went wrong on the server. Nothing was changed; try again.'))
  })
  return app
}
