import { contract, rightsOfRole, type RouteMeta } from '@heron/contract'
import { traverseContractProcedures } from '@orpc/server'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { Office, type Person } from './office'

interface Known {
  method: string
  path: string
  meta: RouteMeta
}
const known: Known[] = []
traverseContractProcedures({ path: [], router: contract }, ({ contract: c }) => {
  const { route, meta } = c['~orpc'] as unknown as { route: { method: string; path: string }; meta: RouteMeta }
  known.push({ method: route.method, path: `/api${route.path.replace(/\{(\w+)\}/g, ':$1')}`, meta })
})

interface Layer {
  route?: { path: string; methods: Record<string, boolean> }
}
/** Routes besides the contract: they show no data of the firm. */
const open = ['GET /health', 'GET /api/live', 'GET /api/openapi.json', 'GET /{*page}']

let office: Office
const people = {} as Record<'nobody' | 'noor' | 'billie' | 'jun' | 'orla' | 'sable' | 'ferdi', Person>
const roleOf = {
  noor: 'lawyer',
  billie: 'paralegal',
  jun: 'docket clerk',
  orla: 'bookkeeper',
  sable: 'outside lawyer',
  ferdi: 'administrator',
} as const
beforeAll(async () => {
  office = await Office.open()
  people.nobody = office.nobody()
  for (const name of ['noor', 'billie', 'jun', 'orla', 'sable', 'ferdi'] as const) people[name] = await office.signIn(name)
})
afterAll(() => office.close())

describe('every route that Express serves', () => {
  it('stands in the contract, and every route of the contract has a rule', () => {
    const stack = (office.running.app as unknown as { router: { stack: Layer[] } }).router.stack
    const served = stack.flatMap((l) => (l.route ? Object.keys(l.route.methods).map((m) => `${m.toUpperCase()} ${l.route!.path}`) : []))
    const inContract = known.map((k) => `${k.method} ${k.path}`)
    expect(served.filter((s) => !inContract.includes(s) && !open.includes(s))).toEqual([])
    expect(inContract.filter((k) => !served.includes(k))).toEqual([])
    expect(known.filter((k) => k.meta.rule === null)).toEqual([])
  })

  it.each(['nobody', 'noor', 'billie', 'jun', 'orla', 'sable', 'ferdi'] as const)('lets %s in only where the rule does', async (who) => {
    const wrong: string[] = []
    for (const { method, path, meta } of known) {
      // Signing out would end the walk.
      if (path.endsWith('/session') || path.endsWith('/sessions')) continue
      const url = path.replace('/api', '').replace(/:\w+/g, '999999')
      const { status } = await people[who].call(method, url, method === 'GET' ? undefined : {}, {
        'idempotency-key': `walk-${who}-${method}-${url}`.slice(0, 80),
      })
      const signedIn = who !== 'nobody'
      const allowed =
        meta.rule === 'public' || (signedIn && (meta.rule === 'signed in' || rightsOfRole[roleOf[who]].includes(meta.rule as never)))
      const refused = status === (signedIn || meta.rule === 'mail server' ? 403 : 401)
      if (allowed === refused || status >= 500) wrong.push(`${method} ${path}: ${status}`)
    }
    expect(wrong).toEqual([])
  })

  it('answers errors as problem documents that say what to do', async () => {
    const bad = await people.noor.post('/contacts', { kind: 'person', name: '' })
    expect(bad).toMatchObject({ status: 400, type: expect.stringContaining('application/problem+json') as string })
    expect(bad.body.fields).toContainEqual({ path: 'name', message: 'Give a name' })
  })

  it('describes itself as OpenAPI', async () => {
    const { body } = await people.nobody.get<{ openapi: string; paths: Record<string, unknown> }>('/openapi.json')
    expect(body.openapi).toMatch(/^3\.1/)
    expect(Object.keys(body.paths)).toContain('/trust/bill-payments')
  })
})

describe('sessions', () => {
  it('refuse a write without the token of the session, or from another origin', async () => {
    const person = await office.signIn('tomas')
    expect((await person.call('POST', '/tasks', {}, { 'x-heron-csrf': 'x' })).body.code).toBe('foreign-request')
    expect((await person.call('POST', '/tasks', {}, { origin: 'http://elsewhere.example' })).body.code).toBe('foreign-request')
    expect((await person.call('POST', '/tasks', {}, { origin: 'null' })).body.code).toBe('foreign-request')
    expect((await person.post('/tasks', {})).body.code).toBe('invalid')
  })
  it('end everywhere at once', async () => {
    const [one, two] = [await office.signIn('ingrid'), await office.signIn('ingrid')]
    await one.call('DELETE', '/sessions', {})
    expect((await two.get('/waterline')).status).toBe(401)
  })
  it('keep the cookie from scripts and other sites', async () => {
    const answer = await fetch(`${office.base}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ email: 'jun@callowayfenn.example', password: 'harrow-sound' }),
    })
    expect(answer.headers.get('set-cookie')).toMatch(/HttpOnly; SameSite=Strict/)
  })
  it('refuse after too many wrong passwords, even the right one', async () => {
    const nobody = office.nobody()
    const enter = (password: string) => nobody.post('/session', { email: 'desmond@callowayfenn.example', password })
    for (let i = 0; i < 6; i += 1) expect((await enter('wrong')).body.code).toBe('wrong-sign-in')
    expect((await enter('harrow-sound')).status).toBe(429)
  })
})
