import { spawnSync } from 'node:child_process'
import { existsSync, readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { freePort } from './mariadb'
import { provision, serve } from './provision'

const root = new URL('..', import.meta.url).pathname
const dist = join(root, 'apps/web/dist')
const say = (text: string) => process.stdout.write(`${text}\n`)

function newest(folder: string): number {
  return Math.max(
    0,
    ...readdirSync(folder, { withFileTypes: true })
      .filter((e) => !['node_modules', 'dist'].includes(e.name))
      .map((e) => (e.isDirectory() ? newest(join(folder, e.name)) : statSync(join(folder, e.name)).mtimeMs)),
  )
}

/** Builds the pages when a source is newer than what was built. */
export function buildPages() {
  const built = join(dist, 'index.html')
  const sources = Math.max(
    ...['apps/web', 'packages/contract', 'packages/core'].map((f) => newest(join(root, f))),
    statSync(join(root, 'package-lock.json')).mtimeMs,
  )
  if (existsSync(built) && statSync(built).mtimeMs > sources) return
  say('Building the pages …')
  const made = spawnSync('npm', ['run', '--silent', 'build'], { cwd: root, stdio: ['ignore', 'ignore', 'inherit'] })
  if (made.status !== 0) throw new Error('The pages could not be built; see above.')
}

const place = { dir: join(root, '.data'), ...(process.env['HERON_TODAY'] ? { today: process.env['HERON_TODAY'] } : {}) }

try {
  buildPages()
  const db = await provision(place, say)
  const wanted = Number(process.env['HERON_PORT'] ?? 4600)
  const port = await freePort(wanted)
  if (port !== wanted) say(`Port ${wanted} is taken; using ${port}.`)
  const running = await serve(db, place, { HERON_PORT: String(port), HERON_WEB: dist, HERON_LOG: process.env['HERON_LOG'] ?? 'warn' })
  say(`Astute Heron is ready at http://127.0.0.1:${running.port}  (Ctrl C stops it)`)
  let stopping = false
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const)
    process.on(signal, () => {
      if (stopping) return
      stopping = true
      say('Stopping …')
      void running
        .stop()
        .then(db.stop)
        .then(() => process.exit(0))
    })
} catch (error) {
  process.stderr.write(`Astute Heron could not start.\n${error instanceof Error ? error.message : String(error)}\n`)
  process.exit(1)
}
