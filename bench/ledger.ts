/**
 * How the books hold with very many lines: any day's trial balance, an account, the listing of all client ledgers, a long deposit
 * sheet, a month's matching, and posting by sixteen people at once. Not a test: run it by hand with
 *   node --import tsx bench/ledger.ts [lines] [where it is kept]
 */
import { execFile } from 'node:child_process'
import { createWriteStream, mkdtempSync, rmSync, statSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { promisify } from 'node:util'
import { matchLines } from '@heron/core/bank'
import { addDays } from '@heron/core/calendar'
import { demoPassword } from '@heron/server/firm'
import { addUpDays } from '@heron/server/ledger'
import { dataSource, insertMany, rows } from '@heron/server/platform'
import { databaseName, ownerUser } from '../tools/mariadb'
import { provision, serve } from '../tools/provision'

const say = (text: string) => process.stdout.write(`${text}\n`)
const lines = Number(process.argv[2] ?? 2_000_000)
const ledgerCount = 20_000
const journals = lines / 2
const first = 1_000_000
// What is said besides is where the firm is kept, for bench/reads.ts.
const kept = process.argv[3]
const dir = kept ?? mkdtempSync(join(tmpdir(), 'heron-bench-'))
const db = await provision({ dir, today: '2026-11-23' }, say)
const owner = await dataSource({ port: db.port, user: ownerUser, password: db.owner, name: databaseName, pool: 1 }).initialize()
const m = owner.manager
const [bank] = await rows<{ id: number; gl: number; owed: number; operating: number; rent: number; user: number; contact: number }>(
  m,
  `SELECT b.id, b.gl_account_id AS gl, b.liability_account_id AS owed, (SELECT gl_account_id FROM bank_account WHERE kind = 'operating' LIMIT 1) AS operating, (SELECT id FROM account WHERE code = '5020') AS rent,
          (SELECT MIN(id) FROM user_account) AS user, (SELECT MIN(id) FROM contact) AS contact FROM bank_account b WHERE b.kind = 'pooled'`,
)
const b = bank!
// Rows of long ago are laid down at once; the rules that the database holds stand again before anything is measured.
const tables = ['journal', 'journal_line', 'bank_entry', 'ledger_entry', 'journal_posting', 'client_ledger']
const triggers = await rows<{ name: string }>(
  m,
  `SELECT TRIGGER_NAME AS name FROM information_schema.TRIGGERS WHERE TRIGGER_SCHEMA = DATABASE() AND EVENT_OBJECT_TABLE IN (?) ORDER BY ACTION_ORDER`,
  [tables],
)
const made: string[] = []
for (const t of triggers) {
  const [shown] = (await m.query(`SHOW CREATE TRIGGER ${t.name}`)) as { 'SQL Original Statement': string }[]
  made.push(shown!['SQL Original Statement'])
}
for (const t of triggers) await m.query(`DROP TRIGGER ${t.name}`)
const began = performance.now()
await insertMany(m, 'contact', ['id', 'kind', 'name', 'normalized', 'created_at'], Array.from({ length: ledgerCount }, (_, i) => [first + i, 'organization', `Bench Client ${i}`, `bench client ${i}`, '2020-01-01 00:00:00'])) // prettier-ignore
await insertMany(m, 'client_ledger', ['id', 'bank_account_id', 'kind', 'client_id', 'owner_key'], Array.from({ length: ledgerCount }, (_, i) => [first + i, b.id, 'client', first + i, `client ${first + i} matter 0`])) // prettier-ignore
const digits =
  '(SELECT 0 AS n UNION ALL SELECT 1 UNION ALL SELECT 2 UNION ALL SELECT 3 UNION ALL SELECT 4 UNION ALL SELECT 5 UNION ALL SELECT 6 UNION ALL SELECT 7 UNION ALL SELECT 8 UNION ALL SELECT 9)'
const slice = 10_000
const seq = (at: number) =>
  `(SELECT ${at} + a.n + 10 * b.n + 100 * c.n + 1000 * d.n AS n FROM ${digits} a, ${digits} b, ${digits} c, ${digits} d) s`
const day = (n: string) => `DATE_SUB('2026-08-31', INTERVAL FLOOR((${journals} - ${n}) / ${Math.max(1, journals / 3600)}) DAY)`
// Every second journal is a receipt of one client, every other one rent.
for (let at = 0; at < journals; at += slice) {
  await m.query(
    `INSERT INTO journal (id, day, kind, memo, user_id, created_at) SELECT ${first} + s.n, ${day('s.n')}, IF(s.n % 2, 'general', 'deposit'), 'Bench', ${b.user}, '2020-01-01' FROM ${seq(at)}`,
  )
  await m.query(
    `INSERT INTO journal_line (journal_id, account_id, amount, day) SELECT ${first} + s.n, IF(s.n % 2, ${b.rent}, ${b.gl}), 10000, ${day('s.n')} FROM ${seq(at)}`,
  )
  await m.query(
    `INSERT INTO journal_line (journal_id, account_id, amount, day) SELECT ${first} + s.n, IF(s.n % 2, ${b.operating}, ${b.owed}), -10000, ${day('s.n')} FROM ${seq(at)}`,
  )
  await m.query(
    `INSERT INTO bank_entry (journal_id, bank_account_id, day, amount, kind, text) SELECT ${first} + s.n, IF(s.n % 2, (SELECT id FROM bank_account WHERE kind = 'operating' LIMIT 1), ${b.id}), ${day('s.n')}, IF(s.n % 2, -10000, 10000), 'deposit', 'Bench' FROM ${seq(at)}`,
  )
  await m.query(
    `INSERT INTO ledger_entry (journal_id, ledger_id, day, amount, text) SELECT ${first} + s.n, ${first} + FLOOR(s.n / 2) % ${ledgerCount}, ${day('s.n')}, 10000, 'Bench' FROM ${seq(at)} WHERE s.n % 2 = 0`,
  )
  await m.query(`INSERT INTO journal_posting (journal_id, posted_at) SELECT ${first} + s.n, '2020-01-01' FROM ${seq(at)}`)
}
await m.query(
  `INSERT INTO ledger_day (ledger_id, day, balance, closing) SELECT ledger_id, day, n, DATEDIFF(day, '1899-12-31') * 100000000000000 + n
     FROM (SELECT ledger_id, day, SUM(SUM(amount)) OVER (PARTITION BY ledger_id ORDER BY day) AS n FROM ledger_entry WHERE ledger_id >= ${first} GROUP BY ledger_id, day) x`,
)
for (const t of made) await m.query(t)
for (const t of [...tables, 'ledger_day']) await m.query(`ANALYZE TABLE ${t}`)
await owner.destroy()
say(
  `${lines.toLocaleString('en-US')} lines, ${ledgerCount.toLocaleString('en-US')} ledgers, laid down in ${Math.round((performance.now() - began) / 1000)} s`,
)

const running = await serve(db, { dir, today: '2026-11-23' }, { HERON_PORT: '0', HERON_LOG: 'error', HERON_REQUESTS_PER_MINUTE: '1000000' })
const summing = performance.now()
for (let i = 0; i < 2; i += 1) await addUpDays(running.base, 0)
say(`days of accounts added up in ${((performance.now() - summing) / 1000).toFixed(1)} s`)
const base = `http://127.0.0.1:${running.port}/api`
const signed = await fetch(`${base}/session`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ email: 'orla@callowayfenn.example', password: demoPassword }) }) // prettier-ignore
const orla = { cookie: signed.headers.get('set-cookie')!.split(';')[0]!, 'x-heron-csrf': ((await signed.json()) as { csrf: string }).csrf }
const told = (what: string, took: number[], more = '') => {
  took.sort((x, y) => x - y)
  say(
    `${what.padEnd(56)} p50 ${took[Math.floor(took.length / 2)]!.toFixed(0).padStart(5)} ms, p95 ${took[Math.ceil(took.length * 0.95) - 1]!.toFixed(0).padStart(5)} ms${more}`,
  )
}
async function timed(what: string, turns: number, act: (i: number) => Promise<Response>) {
  const took: number[] = []
  for (let i = 0; i < turns; i += 1) {
    const start = performance.now()
    const answer = await act(i)
    const body = await answer.text()
    took.push(performance.now() - start)
    if (!answer.ok) throw new Error(`${what}: ${answer.status} ${body.slice(0, 200)}`)
  }
  told(what, took)
}
const get = (path: string) => fetch(`${base}${path}`, { headers: orla })
const post = (path: string, body: object) => fetch(`${base}${path}`, { method: 'POST', headers: { ...orla, 'content-type': 'application/json', 'idempotency-key': crypto.randomUUID() }, body: JSON.stringify(body) }) // prettier-ignore
const anyDay = (i: number) => addDays('2026-08-31', -((i * 97) % 3_500))
await timed('trial balance as of any day', 40, (i) => get(`/books/trial-balance?asOf=${anyDay(i)}`))
await timed('general ledger, a page of a month of a bank', 40, (i) =>
  get(`/books/accounts/${b.gl}?from=${addDays(anyDay(i), -30)}&to=${anyDay(i)}&size=100`),
)
await timed('general ledger, page 50 of a year', 20, () => get(`/books/accounts/${b.gl}?from=2025-09-01&to=2026-08-31&size=100&page=50`))
await timed('bank accounts with their balances', 20, () => get('/trust/accounts'))
await timed('a bank account, reconciled to a day', 20, () => get(`/bank/accounts/${b.id}/reconciliation?to=2026-10-31`))
await timed('the standing check, made now', 10, () => post('/trust/check', {}))
await timed('a client ledger, first page', 20, (i) => get(`/trust/ledgers/${first + i}`))
await timed('listing of all ledgers today, first page', 20, () => get('/trust/ledgers?size=200'))
await timed('listing of all ledgers as of any day, first page', 20, (i) => get(`/trust/ledgers?asOf=${anyDay(i)}&size=200`))
await timed('income of a year, month by month', 10, () =>
  get('/books/statements/income?from=2025-09-01&to=2026-08-31&beside=months&basis=accrual&by=account'),
)
await timed('balance sheet', 20, (i) => get(`/books/statements/balance?asOf=${anyDay(i)}`))
const receipts = Array.from({ length: 200 }, (_, i) => ({
  clientId: first + i,
  matterId: null,
  depositor: 'Bench',
  kind: 'check',
  amount: 100_00,
}))
await timed('200 receipts on one sheet, kept and posted', 3, async () => {
  const sheet = (await (
    await post('/trust/sheets', { bankAccountId: b.id, day: '2026-11-23', controlTotal: 200 * 100_00, receipts })
  ).json()) as { id: number }
  return post(`/trust/sheets/${sheet.id}/post`, {})
})
const entries = Array.from({ length: 5_000 }, (_, i) => ({ id: i + 1, day: addDays('2026-10-01', i % 31), amount: (i % 3 ? 1 : -1) * (1_000 + ((i * 7919) % 90_000)), check: i % 3 ? '' : String(2_000 + i), text: `Entry ${i}`, sheet: '' })) // prettier-ignore
const bankLines = entries.filter((_, i) => i % 5 < 2).map((e) => ({ id: e.id, day: addDays(e.day, 2), countsOn: addDays(e.day, 2), amount: e.amount, check: e.check, reference: '', text: 'Line' })) // prettier-ignore
const matching = performance.now()
const found = matchLines(bankLines as never, entries as never)
say(
  `${bankLines.length} lines against ${entries.length} entries in core: ${((performance.now() - matching) / 1000).toFixed(2)} s, ${found.matches.length} matches`,
)
/**
 * Checks out of ledgers of their own by sixteen people, from a process of its own as people's browsers are: as fast as each is answered,
 * or at a pace of so many a second together.
 */
const browsers = `
const { base, headers, first, turn, each, aSecond } = JSON.parse(process.argv[1])
const took = [], refused = [], start = performance.now()
await Promise.all(Array.from({ length: 16 }, async (_, who) => {
  for (let i = 0; i < each; i += 1) {
    const due = aSecond ? start + ((i * 16 + who) * 1000) / aSecond : 0
    if (due > performance.now()) await new Promise((r) => setTimeout(r, due - performance.now()))
    const at = due || performance.now()
    const body = { ledgerId: first + who * 500 + turn * 100 + i, day: '2026-11-20', payeeName: 'Bench', amount: 100, method: 'check' }
    const answer = await fetch(base + '/trust/payments/now', { method: 'POST', headers: { ...headers, 'content-type': 'application/json', 'idempotency-key': crypto.randomUUID() }, body: JSON.stringify(body) })
    const text = await answer.text()
    if (!answer.ok) refused.push(text)
    took.push(performance.now() - at)
  }
}))
console.log(JSON.stringify({ took, refused, speed: (16 * each) / ((performance.now() - start) / 1000) }))`
async function posting(what: string, turn: number, each: number, aSecond = 0) {
  const asked = JSON.stringify({ base, headers: orla, first, turn, each, aSecond })
  const { stdout } = await promisify(execFile)(process.execPath, ['--input-type=module', '-e', browsers, asked], { maxBuffer: 10_000_000 })
  const found = JSON.parse(stdout) as { took: number[]; refused: string[]; speed: number }
  told(what, found.took, `, ${found.speed.toFixed(0)} a second, ${found.refused.length} refused ${found.refused[0] ?? ''}`)
}
await posting('640 checks posted by 16 as fast as they are answered', 0, 40)
await posting('800 checks posted by 16, 50 a second', 1, 50, 50)
await posting('640 checks posted by 16, 30 a second', 2, 40, 30)
// The same balances from the exported journal by another program, where there is one on this machine.
const exported = join(dir, 'all.journal')
const asked = performance.now()
await pipeline(Readable.fromWeb((await get('/books/export')).body as never), createWriteStream(exported))
say(`journal exported: ${(statSync(exported).size / 1_000_000).toFixed(0)} MB in ${((performance.now() - asked) / 1000).toFixed(1)} s`)
const bal = performance.now()
const by = await promisify(execFile)('hledger', ['-f', exported, 'bal', '--flat', '-e', '2025-09-01'], {
  maxBuffer: 100_000_000,
  timeout: 900_000,
}).catch((e: Error) => e)
say(by instanceof Error ? `hledger: ${by.message.slice(0, 100)}` : `hledger bal on it: ${((performance.now() - bal) / 1000).toFixed(1)} s`)
await running.stop()
await db.stop()
if (!kept) rmSync(dir, { recursive: true, force: true })
process.exit(0)
