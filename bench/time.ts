/**
 * How recording time, the list of all time and the list of unbilled work hold with very many entries on record, and the statement of a
 * client with 2,000 bills. Not a test: run it by hand with
 *   node --import tsx bench/time.ts [entries]
 */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { demoPassword } from '@heron/server/firm'
import { insertMany } from '@heron/server/platform'
import { provision, serve } from '../tools/provision'

const say = (text: string) => process.stdout.write(`${text}\n`)
const entries = Number(process.argv[2] ?? 2_000_000)
const matters = 4_000
const bills = 2_000
const first = 100_000
const dir = mkdtempSync(join(tmpdir(), 'heron-bench-'))
const db = await provision({ dir, today: '2026-11-23' }, say)
const running = await serve(db, { dir, today: '2026-11-23' }, { HERON_PORT: '0', HERON_LOG: 'error', HERON_REQUESTS_PER_MINUTE: '1000000' })
const base = `http://127.0.0.1:${running.port}/api`
const m = running.base.db.manager
const one = ((await m.query(`SELECT MIN(contact.id) AS contact, (SELECT MIN(lead_id) FROM matter) AS lead FROM contact`)) as { contact: number; lead: number }[])[0]! // prettier-ignore
await insertMany(
  m,
  'contact',
  ['id', 'kind', 'name', 'normalized', 'created_at'],
  [[first, 'organization', 'Bench Client Ltd', 'bench client', '2020-01-01 00:00:00']],
)
await insertMany(
  m,
  'matter',
  ['id', 'number', 'name', 'short_name', 'client_id', 'bill_to_id', 'opened_on', 'lead_id', 'active_on'],
  Array.from({ length: matters }, (_, i) => [first + i, `B-${first + i}`, `Bench ${i}`, `Bench ${i}`, first, first, '2020-01-01', one.lead, '2026-11-01']), // prettier-ignore
)
const began = performance.now()
const slice = 10_000
const digits =
  '(SELECT 0 AS n UNION ALL SELECT 1 UNION ALL SELECT 2 UNION ALL SELECT 3 UNION ALL SELECT 4 UNION ALL SELECT 5 UNION ALL SELECT 6 UNION ALL SELECT 7 UNION ALL SELECT 8 UNION ALL SELECT 9)'
for (let at = 0; at < entries; at += slice) {
  // About 550 a day, as many years back as there are entries for; the last 20,000 wait to be billed.
  await m.query(
    `INSERT INTO time_entry (user_id, entered_by, matter_id, day, text, worked_minutes, minutes, rate, rate_origin, amount, state, bill_id, created_at)
     SELECT ${one.lead}, ${one.lead}, ${first} + s.seq % ${matters}, DATE_SUB('2026-11-20', INTERVAL FLOOR((${entries} - s.seq) / 550) DAY), CONCAT('Reviewed the documents of the other side, part ', s.seq),
            42, 42, 28500, 'timekeeper', 19950, 'posted', IF(s.seq <= ${entries - 20_000}, 1, NULL), '2026-10-05 10:00:00'
       FROM (SELECT ${at + 1} + a.n + 10 * b.n + 100 * c.n + 1000 * d.n AS seq FROM ${digits} a, ${digits} b, ${digits} c, ${digits} d) s`,
  )
  if ((at / slice) % 10 === 9)
    say(`${(at + slice).toLocaleString('en-US')} entries after ${Math.round((performance.now() - began) / 1000)} s`)
}
await m.query('ANALYZE TABLE time_entry')
for (let at = 0; at < bills; at += 200) {
  const ids = Array.from({ length: 200 }, (_, k) => first + at + k)
  await insertMany(
    m,
    'bill',
    [
      'id',
      'number',
      'matter_id',
      'payer_id',
      'issued_on',
      'due_on',
      'work_to',
      'fees',
      'hard_costs',
      'soft_costs',
      'discount',
      'tax',
      'total',
      'worked',
      'snapshot',
      'journal_id',
      'issued_by',
    ],
    ids.map((id) => [id, `BB-${id}`, first + (id % matters), first, '2026-05-01', '2026-05-31', '2026-04-30', 19_950, 0, 0, 0, 0, 19_950, 19_950, '{}', 1, one.lead]), // prettier-ignore
  )
}

const signed = await fetch(`${base}/session`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ email: 'orla@callowayfenn.example', password: demoPassword }) }) // prettier-ignore
const sessionOf = async (answer: Response) => ({ cookie: answer.headers.get('set-cookie')!.split(';')[0]!, 'x-heron-csrf': ((await answer.json()) as { csrf: string }).csrf }) // prettier-ignore
const orla = await sessionOf(signed)
const noor = await sessionOf(await fetch(`${base}/session`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ email: 'noor@callowayfenn.example', password: demoPassword }) })) // prettier-ignore
async function timed(what: string, turns: number, act: (i: number) => Promise<Response>) {
  const took: number[] = []
  for (let i = 0; i < turns; i += 1) {
    const start = performance.now()
    const answer = await act(i)
    await answer.arrayBuffer()
    took.push(performance.now() - start)
    if (!answer.ok) throw new Error(`${what}: ${answer.status}`)
  }
  took.sort((a, b) => a - b)
  say(
    `${what.padEnd(52)} p50 ${took[Math.floor(turns / 2)]!.toFixed(0).padStart(5)} ms, p95 ${took[Math.ceil(turns * 0.95) - 1]!.toFixed(0).padStart(5)} ms`,
  )
}
const get = (path: string, headers = orla) => fetch(`${base}${path}`, { headers })
await timed('one entry recorded', 100, (i) =>
  fetch(`${base}/time`, { method: 'POST', headers: { ...noor, 'content-type': 'application/json', 'idempotency-key': crypto.randomUUID() }, body: JSON.stringify({ matterId: first + i, day: '2026-11-23', duration: '0.7', text: 'Call with the surveyor' }) })) // prettier-ignore
await timed('unbilled work by matter, a page', 30, (i) => get(`/unbilled?to=2026-11-23&size=100&page=${1 + (i % 5)}`))
await timed('unbilled work by matter, with words', 30, () => get('/unbilled?to=2026-11-23&q=Bench%201&size=100'))
await timed('own time of a month', 30, () => get('/time?from=2026-10-24&to=2026-11-23', noor))
await timed('time of one matter, unbilled', 30, (i) => get(`/matters/${first + i}/time?unbilled=yes`))
await timed('all time, first page', 30, () => get('/time/all?size=100'))
await timed('all time of a month, added up by person', 30, () => get('/time/sums?from=2026-10-01&to=2026-10-31&by=person'))
await timed('all time, added up as far as it goes', 10, () => get('/time/sums?by=client'))
await timed('time of one matter, all of it, page 3', 30, (i) => get(`/time/all?matterId=${first + i}&size=100&page=3`))
await timed('statement of a client with 2,000 bills', 10, () => get(`/contacts/${first}/statement?from=2026-01-01&to=2026-11-23`))
await running.stop()
await db.stop()
rmSync(dir, { recursive: true, force: true })
process.exit(0)
