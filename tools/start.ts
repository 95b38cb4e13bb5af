import { join } from 'node:path'
import { freePort } from './mariadb'
import { buildPages, dist } from './pages'
import { provision, serve } from './provision'

const root = new URL('..', import.meta.url).pathname
const say = (text: string) => process.stdout.write(`${text}\n`)

const place = { dir: join(root, '.data'), ...(process.env['HERON_TODAY'] ? { today: process.env['HERON_TODAY'] } : {}) }

const leave = () => process.exit(130)
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.once(signal, leave)

try {
  buildPages()
  const db = await provision(place, say)
  const wanted = Number(process.env['HERON_PORT'] ?? 4600)
  const port = await freePort(wanted)
  if (port !== wanted) say(`Port ${wanted} is taken; using ${port}.`)
  const running = await serve(db, place, { HERON_PORT: String(port), HERON_WEB: dist, HERON_LOG: process.env['HERON_LOG'] ?? 'warn' })
  say(`Astute Heron is ready at http://127.0.0.1:${running.port}  (Ctrl C stops it)`)
  let stopping = false
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) {
    process.off(signal, leave)
    process.on(signal, () => {
      if (stopping) return
      stopping = true
      say('Stopping …')
      void running
        .stop()
        .then(db.stop)
        .then(() => process.exit(0))
    })
  }
} catch (error) {
  process.stderr.write(`Astute Heron could not start.\n${error instanceof Error ? error.message : String(error)}\n`)
  process.exit(1)
}
