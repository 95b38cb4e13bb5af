import { startProcessor } from '@heron/standins/cards'
import { startMailbox } from '@heron/standins/mail'
import { randomUUID } from 'node:crypto'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { freePort } from './mariadb'
import { watchBackups } from './backup'
import { buildPages, dist } from './pages'
import { provision, serve } from './provision'

const root = new URL('..', import.meta.url).pathname
const say = (text: string) => process.stdout.write(`${text}\n`)

/** `--restore NAME` puts a backup in the place of what is there before starting. */
const wanted = process.argv.indexOf('--restore')
const restoreFrom = wanted > 0 ? process.argv[wanted + 1] : undefined

/** `--empty` begins with no firm at all: the first page sets one up. It keeps its data apart from the demo firm's. */
const empty = process.argv.includes('--empty')
const place = {
  dir: join(root, empty ? '.data-empty' : '.data'),
  ...(process.env['HERON_TODAY'] ? { today: process.env['HERON_TODAY'] } : {}),
}

/** Kept with the data, so that charges begun before a restart are still known after it. */
function processorSecret(dir: string): string {
  const file = join(dir, 'processor-secret')
  if (!existsSync(file)) writeFileSync(file, randomUUID(), { mode: 0o600 })
  return readFileSync(file, 'utf8')
}
const leave = () => process.exit(130)
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.once(signal, leave)

try {
  buildPages()
  const db = await provision(place, say, !empty, restoreFrom)
  const wished = Number(process.env['HERON_PORT'] ?? 4600)
  const port = await freePort(wished)
  if (port !== wished) say(`Port ${wished} is taken; using ${port}.`)
  // By this the mail server shows that it is the one, when it hands over what is sent to the address for filing.
  const secret = randomUUID()
  const mailbox = await startMailbox({
    smtpPort: await freePort(4625),
    webPort: await freePort(4680),
    keep: join(place.dir, 'letters.json'),
    deliver: (letter, to, from) => {
      const form = new FormData()
      for (const [name, value] of Object.entries({ to, from })) form.set(name, value)
      form.set('file', new File([new Uint8Array(letter)], 'letter.eml'))
      return fetch(`http://127.0.0.1:${port}/api/filing/arrive`, { method: 'POST', body: form, headers: { 'x-heron-secret': secret } })
    },
  })
  const cardSecret = processorSecret(place.dir)
  const processor = await startProcessor({
    port: await freePort(4690),
    secret: cardSecret,
    tell: `http://127.0.0.1:${port}/api/card-events`,
    keep: join(place.dir, 'charges.json'),
  })
  const running = await serve(db, place, {
    HERON_SMTP_PORT: String(mailbox.smtpPort),
    HERON_PORT: String(port),
    HERON_FILING_SECRET: secret,
    HERON_CARD_URL: processor.url,
    HERON_CARD_SECRET: cardSecret,
    HERON_WEB: dist,
    HERON_LOG: process.env['HERON_LOG'] ?? 'warn',
  })
  say(`The stand-in for a card processor is at ${processor.url}`)
  say(`Letters the application sends are shown at http://127.0.0.1:${mailbox.webPort}`)
  say(`Astute Heron is ready at http://127.0.0.1:${running.port}${empty ? ', with no firm yet' : ''}  (Ctrl C stops it)`)
  // What nobody expected ends no colleague's work: nothing is kept outside of transactions, and what was asked ends with its own fault.
  let faults: number[] = []
  process.on('uncaughtException', (error) => {
    process.stderr.write(`${new Date().toISOString()} not expected: ${error.stack ?? error.message}\n`)
    faults = [...faults.filter((at) => at > Date.now() - 60_000), Date.now()]
    if (faults.length > 50) process.exit(1)
  })
  const endBackups = watchBackups(db, place, say)
  let stopping = false
  // A database that ended by itself is started again, with a word; one that ends again and again ends the application, with one.
  let restarts: number[] = []
  db.onEnd((words) => {
    if (stopping) return
    restarts = [...restarts.filter((at) => at > Date.now() - 5 * 60_000), Date.now()]
    if (restarts.length > 3) {
      process.stderr.write(`${words} That was the fourth time in five minutes; Astute Heron ends. See ${join(place.dir, 'mariadb.err')}.\n`)
      process.exit(1)
    }
    say(`${words} It is being started again …`)
    db.again().then(
      () => say('MariaDB is back.'),
      (error: unknown) => {
        process.stderr.write(`${error instanceof Error ? error.message : String(error)}\nAstute Heron ends.\n`)
        process.exit(1)
      },
    )
  })
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) {
    process.off(signal, leave)
    process.on(signal, () => {
      if (stopping) return
      stopping = true
      say('Stopping …')
      void running
        .stop()
        .then(endBackups)
        .then(mailbox.stop)
        .then(processor.stop)
        .then(db.stop)
        .then(() => process.exit(0))
    })
  }
} catch (error) {
  process.stderr.write(`Astute Heron could not start.\n${error instanceof Error ? error.message : String(error)}\n`)
  process.exit(1)
}
