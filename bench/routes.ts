/**
 * How much of bare Express's speed is left: for each of the pages that people open most, the statements that its requests send to the
 * database are noted, and a bare Express server with the same statements, the same pool and the same answer as JSON is measured beside
 * it, turn by turn. What is lost is what the application does besides: access, validation, shaping. Not a test: run it by hand with
 *   node --import tsx bench/routes.ts [seconds a turn] [turns]
 * A ratio of 0.67 says that a page is served at two thirds of the speed of bare Express.
 */
import { AsyncLocalStorage } from 'node:async_hooks'
import { execFile } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { Server, type IncomingMessage } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'
import express from 'express'
import mysql from 'mysql2/promise'
import { demoPassword } from '@heron/server/firm'
import { appUser, databaseName } from '../tools/mariadb'
import { provision, serve } from '../tools/provision'

const say = (text: string) => process.stdout.write(`${text}\n`)
const seconds = Number(process.argv[2] ?? 4)
const turns = Number(process.argv[3] ?? 3)
const today = '2026-11-23'
const dir = mkdtempSync(join(tmpdir(), 'heron-bench-'))
const db = await provision({ dir, today }, say)

/** Statements by the request that sent them: of one that asks to be noted, each with its values. */
interface Statement {
  sql: string
  values: unknown[]
}
const noted = new AsyncLocalStorage<Statement[]>()
const notes = new Map<string, Statement[]>()
const emit = Server.prototype.emit as (this: Server, event: string, ...rest: unknown[]) => boolean
Server.prototype.emit = function (this: Server, event: string, ...rest: unknown[]) {
  const page = event === 'request' ? (rest[0] as IncomingMessage).headers['x-note'] : undefined
  if (typeof page !== 'string') return emit.call(this, event, ...rest)
  const list = notes.get(page) ?? []
  notes.set(page, list)
  return noted.run(list, () => emit.call(this, event, ...rest))
}

const running = await serve(db, { dir, today }, { HERON_PORT: '0', HERON_LOG: 'error', HERON_REQUESTS_PER_MINUTE: '100000000' })
const runner = Object.getPrototypeOf(running.base.db.createQueryRunner()) as { query: (sql: string, values?: unknown[], ...more: unknown[]) => unknown } // prettier-ignore
const query = runner.query
runner.query = function (this: object, sql: string, values: unknown[] = [], ...more: unknown[]) {
  noted.getStore()?.push({ sql, values })
  return query.call(this, sql, values, ...more)
}

const api = `http://127.0.0.1:${running.port}/api`
const signed = await fetch(`${api}/session`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ email: 'noor@callowayfenn.example', password: demoPassword }) }) // prettier-ignore
const noor = { cookie: signed.headers.get('set-cookie')!.split(';')[0]!, csrf: ((await signed.json()) as { csrf: string }).csrf }
const orlaIn = await fetch(`${api}/session`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ email: 'orla@callowayfenn.example', password: demoPassword }) }) // prettier-ignore
const orla = { cookie: orlaIn.headers.get('set-cookie')!.split(';')[0]!, csrf: ((await orlaIn.json()) as { csrf: string }).csrf }
const first = (await (await fetch(`${api}/matters?size=1`, { headers: { cookie: noor.cookie } })).json()) as { rows: { id: number }[] }
const matter = first.rows[0]!.id

/** What a page asks when it is opened, as the pages do. */
const pages: { name: string; who: typeof noor; paths: string[] }[] = [
  { name: 'list of matters', who: noor, paths: ['/matters?size=50'] },
  { name: 'Today', who: noor, paths: [`/docket?from=${today}&courtDays=10&scope=mine&onCalendar=true`, `/time?from=${today}&to=${today}`, '/waiting', '/mentions', '/notices', '/reminders', '/waterline'] }, // prettier-ignore
  { name: 'agenda', who: noor, paths: [`/docket?from=${today}&courtDays=20&scope=firm`] },
  { name: 'a matter’s file', who: noor, paths: [`/matters/${matter}`] },
  { name: 'find', who: noor, paths: ['/find?q=kestrel'] },
  { name: 'trial balance', who: orla, paths: [`/books/trial-balance?asOf=${today}`] },
]

/** A bare server: no sessions, no validation, no shapes; the statements of a request one after another, and their rows as JSON. */
const pool = mysql.createPool({ socketPath: db.socket, user: appUser, password: db.app, database: databaseName, connectionLimit: 10, dateStrings: true, decimalNumbers: true }) // prettier-ignore
const bare = express()
bare.get('/:page/:request', async (req, res) => {
  const connection = await pool.getConnection()
  try {
    const answers: unknown[] = []
    for (const s of notes.get(`${req.params.page} ${req.params.request}`) ?? []) answers.push((await connection.query(s.sql, s.values))[0])
    res.json(answers.at(-1))
  } finally {
    connection.release()
  }
})
const bareServer = await new Promise<Server>((done) => {
  const s = bare.listen(0, '127.0.0.1', () => done(s))
})
const bareAt = `http://127.0.0.1:${(bareServer.address() as AddressInfo).port}`

/** Eight people who open a page again and again, from a process of their own; how often it was opened in a second. */
const people = `
const { urls, headers, seconds } = JSON.parse(process.argv[1])
const until = performance.now() + seconds * 1000
let opened = 0
await Promise.all(Array.from({ length: 8 }, async () => {
  while (performance.now() < until) {
    await Promise.all(urls.map(async (u) => {
      const answer = await fetch(u, { headers })
      await answer.arrayBuffer()
      if (!answer.ok) throw new Error(u + ' ' + answer.status)
    }))
    opened += 1
  }
}))
console.log(opened / seconds)`
async function opened(urls: string[], headers: Record<string, string>): Promise<number> {
  const asked = JSON.stringify({ urls, headers, seconds })
  const { stdout } = await promisify(execFile)(process.execPath, ['--input-type=module', '-e', people, asked])
  return Number(stdout)
}
const median = (list: number[]) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!

say(`${'page'.padEnd(20)} statements  application    bare   ratio`)
for (const [at, page] of pages.entries()) {
  const headers = { cookie: page.who.cookie, 'x-heron-csrf': page.who.csrf }
  for (const [i, path] of page.paths.entries()) {
    const answer = await fetch(`${api}${path}`, { headers: { ...headers, 'x-note': `${at} ${i}` } })
    if (!answer.ok) throw new Error(`${path}: ${answer.status} ${await answer.text()}`)
    await answer.arrayBuffer()
  }
  const own: number[] = []
  const other: number[] = []
  for (let turn = 0; turn < turns; turn += 1) {
    own.push(await opened(page.paths.map((p) => `${api}${p}`), headers)) // prettier-ignore
    other.push(await opened(page.paths.map((_, i) => `${bareAt}/${at}/${i}`), {})) // prettier-ignore
  }
  const statements = page.paths.reduce((n, _, i) => n + (notes.get(`${at} ${i}`)?.length ?? 0), 0)
  say(
    `${page.name.padEnd(20)} ${String(statements).padStart(10)} ${median(own).toFixed(1).padStart(10)}/s ${median(other).toFixed(1).padStart(6)}/s ${(median(own) / median(other)).toFixed(2).padStart(6)}`,
  )
}
bareServer.close()
await pool.end()
await running.stop()
await db.stop()
rmSync(dir, { recursive: true, force: true })
process.exit(0)
