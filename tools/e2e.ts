import { spawn, type ChildProcess } from 'node:child_process'
import { once } from 'node:events'
import { createServer } from 'node:http'
import { cpSync, existsSync, renameSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { freePort, type Database } from './mariadb'
import { environment, provision, type Place } from './provision'

const root = new URL('..', import.meta.url).pathname

/** The day on which the browser tests take place; two years of demo work lie before it. */
export const testDay = '2026-11-23'

interface Service {
  db: Database
  server: ChildProcess
}

async function startService(place: Place, port: number, demo = true): Promise<Service> {
  const db = await provision(place, undefined, demo)
  const server = spawn(process.execPath, ['--import', 'tsx', join(root, 'apps/server/src/main.ts')], {
    cwd: root,
    env: {
      ...process.env,
      ...environment(db, place),
      HERON_PORT: String(port),
      HERON_WEB: join(root, 'apps/web/dist'),
      HERON_LOG: 'error',
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  await Promise.race([
    once(server.stdout!, 'data'),
    once(server, 'exit').then(() => {
      throw new Error('The server ended before it was ready')
    }),
  ])
  return { db, server }
}

async function stopService({ db, server }: Service) {
  const ended = once(server, 'exit')
  server.kill('SIGTERM')
  await ended
  await db.stop()
}

/** Loads the demo firm once and gives each run a copy of it, so that a run finds the firm as it was. */
async function freshCopy(dir: string) {
  const seeded = `${dir}-seeded`
  if (!existsSync(seeded)) {
    const half = `${dir}-seeding`
    rmSync(half, { recursive: true, force: true })
    await (await provision({ dir: half, today: testDay }, (text) => process.stdout.write(`${text}\n`))).stop()
    renameSync(half, seeded)
  }
  rmSync(dir, { recursive: true, force: true })
  cpSync(seeded, dir, { recursive: true })
}

/** Runs the browser tests against a real server on a database of its own; returns the exit code. */
export async function runBrowserTests(dir: string, args: string[] = []): Promise<number> {
  const place = { dir, today: testDay }
  await freshCopy(dir)
  const port = await freePort()
  let service = await startService(place, port)
  // A second server without a firm, for the first set-up.
  const emptyPlace = { dir: `${dir}-empty`, today: testDay }
  rmSync(emptyPlace.dir, { recursive: true, force: true })
  const emptyPort = await freePort()
  const empty = await startService(emptyPlace, emptyPort, false)
  const control = createServer((_req, res) => {
    void stopService(service)
      .then(() => startService(place, port))
      .then((fresh) => {
        service = fresh
        res.end('ok')
      })
      .catch((error: unknown) => {
        res.statusCode = 500
        res.end(String(error))
      })
  })
  await once(control.listen(0, '127.0.0.1'), 'listening')
  const address = control.address()
  const controlPort = typeof address === 'object' && address ? address.port : 0
  const tests = spawn('npx', ['playwright', 'test', '--config', 'e2e/playwright.config.ts', ...args], {
    cwd: root,
    env: {
      ...process.env,
      HERON_URL: `http://127.0.0.1:${port}`,
      HERON_EMPTY_URL: `http://127.0.0.1:${emptyPort}`,
      HERON_CONTROL: `http://127.0.0.1:${controlPort}`,
      HERON_E2E_RESULT: join(dir, 'e2e.json'),
    },
    stdio: 'inherit',
  })
  const [code] = (await once(tests, 'exit')) as [number | null]
  control.close()
  await stopService(service)
  await stopService(empty)
  return code ?? 1
}

if (process.argv[1] === new URL(import.meta.url).pathname) {
  const { buildPages } = await import('./pages')
  buildPages()
  process.exit(await runBrowserTests(join(root, '.data/e2e'), process.argv.slice(2)))
}
