/**
 * Kills the server or its database at random while sixteen people post payments out of trust, again and again, and then looks
 * whether anything that was acknowledged is lost, or anything is there twice. Not a test: run it by hand with
 *   node --import tsx tools/kill-posting.ts [kills] [folder of a stopped firm, such as .data]
 */
import { demoPassword } from '@heron/server/firm'
import { dataSource, row, rows } from '@heron/server/platform'
import { spawn, type ChildProcess } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { cpSync, readFileSync, mkdtempSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { databaseName, ownerUser } from './mariadb'
import { environment, provision } from './provision'

const kills = Number(process.argv[2] ?? 50)
const today = '2026-11-23'
const say = (text: string) => process.stdout.write(`${text}\n`)
const dir = mkdtempSync(join(tmpdir(), 'heron-kill-'))
// A firm that is there and stopped is copied, which is quicker than loading the demo firm anew.
if (process.argv[3]) for (const part of ['mariadb', 'files']) cpSync(join(process.argv[3], part), join(dir, part), { recursive: true })
const db = await provision({ dir, today }, say)
const port = await new Promise<number>((resolve) => {
  const probe = createServer().listen(0, '127.0.0.1', () => {
    const at = (probe.address() as { port: number }).port
    probe.close(() => resolve(at))
  })
})
const base = `http://127.0.0.1:${port}`
const wait = (ms: number) => new Promise((r) => setTimeout(r, ms))

let server: ChildProcess
async function begin() {
  server = spawn(process.execPath, ['--import', 'tsx', 'apps/server/src/main.ts'], {
    env: { ...process.env, ...environment(db, { dir, today }), HERON_PORT: String(port), HERON_LOG: 'silent', HERON_REQUESTS_PER_MINUTE: '1000000' }, // prettier-ignore
    stdio: 'ignore',
  })
  for (let i = 0; i < 900; i += 1) {
    const up = await fetch(`${base}/health`).then(
      (r) => r.ok,
      () => false,
    )
    if (up) return
    await wait(100)
  }
  throw new Error('The server did not come up')
}
await begin()

const signed = await fetch(`${base}/api/session`, { method: 'POST', headers: { 'content-type': 'application/json', origin: base }, body: JSON.stringify({ email: 'orla@callowayfenn.example', password: demoPassword }) }) // prettier-ignore
const headers = {
  cookie: signed.headers.get('set-cookie')!.split(';')[0]!,
  'x-heron-csrf': ((await signed.json()) as { csrf: string }).csrf,
  'content-type': 'application/json',
}
const list = (await (await fetch(`${base}/api/trust/ledgers?size=200`, { headers })).json()) as { rows: { id: number; kind: string; available: number; bank: string }[] } // prettier-ignore
const ledgers = list.rows.filter((l) => l.kind === 'client' && l.available > 2_000_00).slice(0, 16)
const owner = await dataSource({ port: db.port, user: ownerUser, password: db.owner, name: databaseName, pool: 2 }).initialize()
const before = await rows<{ id: number; book: number }>(owner.manager, `SELECT ledger_id AS id, SUM(amount) AS book FROM ledger_entry GROUP BY ledger_id`) // prettier-ignore
await owner.destroy()

/** Every payment that somebody began, by its key, and whether its answer came. */
const asked = new Map<string, { ledger: number; body: object; answered: boolean; said: string }>()
let posting = true
async function post(key: string): Promise<boolean> {
  const own = asked.get(key)!
  try {
    const answer = await fetch(`${base}/api/trust/payments/now`, { method: 'POST', headers: { ...headers, 'idempotency-key': key }, body: JSON.stringify(own.body), signal: AbortSignal.timeout(8_000) }) // prettier-ignore
    const text = await answer.text()
    if (answer.ok) own.answered = true
    // A database that is away answers 5xx; what is refused by a rule would be a fault of this script.
    else if (answer.status < 500) own.said = `${answer.status} ${text.slice(0, 160)}`
    return answer.ok
  } catch {
    return false
  }
}
const people = Array.from({ length: 16 }, async (_, who) => {
  const ledger = ledgers[who % ledgers.length]!.id
  while (posting) {
    const key = randomUUID()
    const method = who % 2 ? 'check' : 'wire'
    asked.set(key, { ledger, body: { ledgerId: ledger, day: today, payeeName: 'Kill', amount: 7, method, memo: key }, answered: false, said: '' }) // prettier-ignore
    // Whoever had no answer sends the same again, as the pages do.
    while (!(await post(key)) && (posting || asked.get(key)!.said === '')) {
      if (asked.get(key)!.said) break
      await wait(100 + Math.random() * 200)
    }
  }
})
let ofServer = 0
for (let n = 1; n <= kills; n += 1) {
  await wait(300 + Math.random() * 1500)
  if (Math.random() < 0.5) {
    ofServer += 1
    const gone = new Promise((r) => server.once('exit', r))
    server.kill('SIGKILL')
    await gone
    await begin()
  } else {
    const pid = Number(readFileSync(join(dir, 'mariadb', 'mariadb.pid'), 'utf8'))
    process.kill(pid, 'SIGKILL')
    for (let i = 0; i < 100; i += 1) {
      try {
        process.kill(pid, 0)
        await wait(50)
      } catch {
        break
      }
    }
    await db.again()
  }
  if (n % 10 === 0) say(`${n} kills, ${[...asked.values()].filter((a) => a.answered).length} payments acknowledged`)
}
await wait(3_000)
posting = false
await Promise.all(people)
const m = (await dataSource({ port: db.port, user: ownerUser, password: db.owner, name: databaseName, pool: 2 }).initialize()).manager
const found = new Map((await rows<{ memo: string; n: number; posted: number }>(m, `SELECT memo, COUNT(*) AS n, SUM(state = 'posted') AS posted FROM payment_out WHERE payee_name = 'Kill' GROUP BY memo`)).map((p) => [p.memo, p])) // prettier-ignore
const acknowledged = [...asked].filter(([, a]) => a.answered)
const lost = acknowledged.filter(([key]) => found.get(key)?.posted !== 1)
const twice = [...found.values()].filter((p) => p.n > 1)
const unknown = [...found.keys()].filter((key) => !asked.has(key))
const refusedOnes = [...asked.values()].filter((a) => a.said)
const after = new Map((await rows<{ id: number; book: number }>(m, `SELECT ledger_id AS id, SUM(amount) AS book FROM ledger_entry GROUP BY ledger_id`)).map((l) => [l.id, l.book])) // prettier-ignore
const off = before.filter((b) => {
  const paid = [...asked].filter(([key, a]) => a.ledger === b.id && found.get(key)?.posted === 1).length
  return after.get(b.id) !== b.book - 7 * paid
})
const numbers = (await row<{ n: number; checks: number }>(m, `SELECT (SELECT COUNT(*) FROM check_number c JOIN payment_out p ON p.id = c.payment_id WHERE p.payee_name = 'Kill') AS n, (SELECT COUNT(*) FROM payment_out WHERE payee_name = 'Kill' AND method = 'check' AND state = 'posted') AS checks`))! // prettier-ignore
const gaps = (await row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM check_number a WHERE a.number > (SELECT MIN(c.number) FROM check_number c JOIN payment_out p ON p.id = c.payment_id WHERE p.payee_name = 'Kill' AND c.bank_account_id = a.bank_account_id) AND NOT EXISTS (SELECT 1 FROM check_number b WHERE b.bank_account_id = a.bank_account_id AND b.number = a.number - 1)`))!.n // prettier-ignore
const checked = (await (await fetch(`${base}/api/trust/check`, { method: 'POST', headers: { ...headers, 'idempotency-key': randomUUID() }, body: '{}' })).json()) as { ok: boolean } // prettier-ignore
say(
  `${kills} kills (${ofServer} of the server, ${kills - ofServer} of the database), ${asked.size} payments begun, ${acknowledged.length} acknowledged`,
)
say(`lost ${lost.length}, twice ${twice.length}, of nobody ${unknown.length}, refused ${refusedOnes.length} ${refusedOnes[0]?.said ?? ''}`)
say(
  `ledgers that differ ${off.length}; checks ${numbers.checks}, numbers ${numbers.n}, missing numbers ${gaps}; the records agree: ${checked.ok}`,
)
await m.connection.destroy()
server!.kill('SIGTERM')
await db.stop()
rmSync(dir, { recursive: true, force: true })
process.exit(lost.length || twice.length || unknown.length || off.length || gaps || !checked.ok ? 1 : 0)
