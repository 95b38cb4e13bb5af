/**
 * How long a run of bills over 2,000 matters with 60,000 entries takes, from pre-bills to issued bills with their PDFs. Not a test:
 * run it by hand with
 *   node --import tsx bench/billing.ts [matters] [a folder to leave the firm in, or one with a firm already]
 */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { insertMany } from '@heron/server/platform'
import { demoPassword } from '@heron/server/firm'
import { provision, serve } from '../tools/provision'

const say = (text: string) => process.stdout.write(`${text}\n`)
const matters = Number(process.argv[2] ?? 2_000)
const each = 30
const first = 100_000
const kept = process.argv[3]
const dir = kept ?? mkdtempSync(join(tmpdir(), 'heron-bench-'))
const db = await provision({ dir, today: '2026-11-23' }, say)
const running = await serve(db, { dir, today: '2026-11-23' }, { HERON_PORT: '0', HERON_LOG: 'error' })
const base = `http://127.0.0.1:${running.port}/api`
const m = running.base.db.manager
const [one] = (await m.query(`SELECT MIN(contact.id) AS contact, (SELECT MIN(lead_id) FROM matter) AS lead FROM contact`)) as { contact: number; lead: number }[] // prettier-ignore
const ids = Array.from({ length: matters }, (_, i) => first + i)
await insertMany(
  m,
  'matter',
  ['id', 'number', 'name', 'short_name', 'client_id', 'bill_to_id', 'opened_on', 'lead_id', 'active_on'],
  ids.map((id) => [id, `B-${id}`, `Bench ${id}`, `Bench ${id}`, one!.contact, one!.contact, '2026-01-01', one!.lead, '2026-11-01']),
)
for (let at = 0; at < ids.length; at += 100)
  await insertMany(
    m,
    'time_entry',
    ['user_id', 'entered_by', 'matter_id', 'day', 'text', 'worked_minutes', 'minutes', 'rate', 'rate_origin', 'amount', 'state', 'created_at'], // prettier-ignore
    ids.slice(at, at + 100).flatMap((id) => Array.from({ length: each }, (_, k) => [one!.lead, one!.lead, id, '2026-10-05', `Reviewed the documents of the other side, part ${k}`, 42, 42, 28_500, 'timekeeper', 19_950, 'posted', '2026-10-05 10:00:00'])), // prettier-ignore
  )
say(`${matters.toLocaleString('en-US')} matters with ${(matters * each).toLocaleString('en-US')} entries`)

const signed = await fetch(`${base}/session`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ email: 'orla@callowayfenn.example', password: demoPassword }) }) // prettier-ignore
const headers = { cookie: signed.headers.get('set-cookie')!.split(';')[0]!, 'x-heron-csrf': ((await signed.json()) as { csrf: string }).csrf } // prettier-ignore
const get = async <T>(path: string) => (await (await fetch(`${base}${path}`, { headers })).json()) as T
const post = async <T>(path: string, body: object) =>
  (await (await fetch(`${base}${path}`, { method: 'POST', headers: { ...headers, 'content-type': 'application/json', 'idempotency-key': crypto.randomUUID() }, body: JSON.stringify(body) })).json()) as T // prettier-ignore
async function timed(what: string, act: () => Promise<void>) {
  const before = process.memoryUsage().rss
  const start = performance.now()
  await act()
  say(`${what.padEnd(46)} ${((performance.now() - start) / 1000).toFixed(1)} s, memory ${Math.round((process.memoryUsage().rss - before) / 1_000_000)} MB more`) // prettier-ignore
}
const wait = () => new Promise((r) => setTimeout(r, 200))
const ended = async (id: number) => {
  while (!(await get<{ endedAt: string | null }>(`/bill-runs/${id}?size=1`)).endedAt) await wait()
}
await timed('unbilled work, the first page', async () => void (await get('/unbilled?to=2026-10-31&q=Bench&size=100')))
await timed('pre-bills of all', async () => {
  const run = await post<{ id: number }>('/bill-runs', { workTo: '2026-10-31', matterIds: null, filter: { q: 'Bench' } })
  await ended(run.id)
})
await m.query(`UPDATE pre_bill SET state = 'approved', approved_by = ? WHERE matter_id >= ?`, [one!.lead, first])
await timed('list of pre-bills', async () => void (await get('/pre-bills?q=Bench&size=100')))
const pre = (await m.query(`SELECT id FROM pre_bill WHERE matter_id >= ? AND state = 'approved'`, [first])) as { id: number }[]
await timed('bills issued', async () => {
  const run = await post<{ id: number }>('/bill-runs/issue', { day: '2026-11-23', preBillIds: pre.map((p) => p.id), send: false })
  await ended(run.id)
})
await timed('their PDFs, after that', async () => {
  for (;;) {
    const [left] = (await m.query(`SELECT COUNT(*) AS n FROM job WHERE kind = 'bill after issue' AND state IN ('waiting', 'running')`)) as { n: number }[] // prettier-ignore
    if (!Number(left!.n)) return
    await wait()
  }
})
await running.stop()
await db.stop()
if (!kept) rmSync(dir, { recursive: true, force: true })
process.exit(0)
