/**
 * How the weeks of timekeepers, what became of the work, and each report hold with very many entries and bills on record. Not a test:
 * run it by hand with
 *   node --import tsx bench/oversight.ts [entries] [where it is kept]
 * Ten entries make a bill; nine bills of ten are paid.
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
const first = 1_000_000
const people = 60
// What is said besides is where the firm is kept, for bench/reads.ts.
const kept = process.argv[3]
const dir = kept ?? mkdtempSync(join(tmpdir(), 'heron-bench-'))
const db = await provision({ dir, today: '2026-11-23' }, say)
const running = await serve(db, { dir, today: '2026-11-23' }, { HERON_PORT: '0', HERON_LOG: 'error', HERON_REQUESTS_PER_MINUTE: '1000000' })
const base = `http://127.0.0.1:${running.port}/api`
const m = running.base.db.manager
const ask = async <T>(sql: string) => ((await m.query(sql)) as T[])[0]!
const { lead } = await ask<{ lead: number }>(`SELECT MIN(lead_id) AS lead FROM matter`)
const { journal } = await ask<{ journal: number }>(`SELECT MIN(id) AS journal FROM journal WHERE kind = 'bill'`)
await insertMany(m, 'user_account', ['id', 'name', 'initials', 'email', 'role', 'password_hash'], Array.from({ length: people }, (_, i) => [first + i, `Bench Keeper ${i}`, 'BK', `keeper${i}@bench.example`, 'lawyer', 'none'])) // prettier-ignore
await insertMany(m, 'contact', ['id', 'kind', 'name', 'normalized', 'created_at'], Array.from({ length: 400 }, (_, i) => [first + i, 'organization', `Bench Client ${i}`, `bench client ${i}`, '2020-01-01 00:00:00'])) // prettier-ignore
await insertMany(
  m,
  'matter',
  ['id', 'number', 'name', 'short_name', 'client_id', 'bill_to_id', 'opened_on', 'lead_id', 'active_on', 'originating_id'],
  Array.from({ length: matters }, (_, i) => [first + i, `B-${first + i}`, `Bench ${i}`, `Bench ${i}`, first + (i % 400), first + (i % 400), '2016-01-01', lead, '2026-11-01', first + (i % 20)]), // prettier-ignore
)
const began = performance.now()
const slice = 5_000
const billed = entries - 20_000
const tens = '(SELECT 0 AS n UNION ALL SELECT 1 UNION ALL SELECT 2 UNION ALL SELECT 3 UNION ALL SELECT 4 UNION ALL SELECT 5 UNION ALL SELECT 6 UNION ALL SELECT 7 UNION ALL SELECT 8 UNION ALL SELECT 9)' // prettier-ignore
const numbers = (at: number, upTo: number) => `(SELECT * FROM (SELECT ${at} + a.n + 10 * b.n + 100 * c.n + 1000 * d.n AS seq FROM ${tens} a, ${tens} b, ${tens} c, ${tens} d) s WHERE s.seq < ${upTo})` // prettier-ignore
// About 550 a day, as many years back as there are entries for.
const day = (seq: string) => `DATE_SUB('2026-11-20', INTERVAL FLOOR((${entries} - ${seq}) / 550) DAY)`
const bill = (seq: string) => `${first} + FLOOR(${seq} / 10)`
const matter = (seq: string) => `${first} + FLOOR(${seq} / 10) % ${matters}`
const keeper = (seq: string) => `${first} + ${seq} % ${people}`
for (let at = 0; at < entries; at += slice) {
  const to = Math.min(at + slice, billed)
  await m.query(
    `INSERT INTO time_entry (id, user_id, entered_by, matter_id, day, text, worked_minutes, minutes, rate, rate_origin, amount, state, bill_id, created_at)
     SELECT ${first} + s.seq, ${keeper('s.seq')}, ${lead}, ${matter('s.seq')}, ${day('s.seq')}, CONCAT('Reviewed documents, part ', s.seq), 42, 42, 28500, 'timekeeper', 19950, 'posted',
            IF(s.seq < ${billed}, ${bill('s.seq')}, NULL), '2026-10-05 10:00:00' FROM ${numbers(at, at + slice)} s`,
  )
  if (at < billed) {
    await m.query(
      `INSERT INTO bill (id, number, matter_id, payer_id, issued_on, due_on, work_to, fees, hard_costs, soft_costs, discount, tax, total, worked, snapshot, journal_id, issued_by)
       SELECT ${first} + n.seq, CONCAT('BB-', n.seq), ${first} + n.seq % ${matters}, ${first} + n.seq % ${matters} % 400, ${day('n.seq * 10')} + INTERVAL 20 DAY, ${day('n.seq * 10')} + INTERVAL 50 DAY, ${day('n.seq * 10')}, 190000, 0, 0, 0, 0, 190000, 199500, '{}', ${journal}, ${lead}
         FROM ${numbers(at / 10, Math.ceil(to / 10))} n WHERE n.seq < ${at / 10 + slice / 10}`,
    )
    await m.query(
      `INSERT INTO bill_line (id, bill_id, ordinal, kind, day, timekeeper_id, text, minutes, rate, worked, charged, no_charge, discount, net, source_id)
       SELECT ${first} + s.seq, ${bill('s.seq')}, s.seq % 10 + 1, 'time', ${day('s.seq')}, ${keeper('s.seq')}, 'Reviewed documents', 42, 28500, 19950, 19950, FALSE, 950, 19000, ${first} + s.seq FROM ${numbers(at, to)} s`,
    )
    await m.query(
      `INSERT INTO journal (id, day, kind, memo, user_id, created_at) SELECT ${first} * 10 + n.seq, '2026-10-05', 'payment', 'bench', ${lead}, '2026-10-05 10:00:00' FROM ${numbers(at / 10, Math.ceil(to / 10))} n WHERE n.seq < ${at / 10 + slice / 10}`,
    )
    await m.query(
      `INSERT INTO payment (id, kind, payer_id, day, amount, reference, journal_id, created_at, reason)
       SELECT ${first} + n.seq, 'check', ${first} + n.seq % ${matters} % 400, ${day('n.seq * 10')} + INTERVAL 45 DAY, 190000, '', ${first} * 10 + n.seq, '2026-10-05 10:00:00', ''
         FROM ${numbers(at / 10, Math.ceil(to / 10))} n WHERE n.seq < ${at / 10 + slice / 10} AND n.seq % 10 > 0`,
    )
    await m.query(
      `INSERT INTO allocation (id, payment_id, bill_id, bill_line_id, amount, applied_on, journal_id)
       SELECT ${first} + s.seq, ${bill('s.seq')}, ${bill('s.seq')}, ${first} + s.seq, 19000, ${day('s.seq')} + INTERVAL 45 DAY, ${journal} FROM ${numbers(at, to)} s WHERE FLOOR(s.seq / 10) % 10 > 0`,
    )
    await m.query(
      `INSERT INTO allocation_share (allocation_id, timekeeper_id, amount, applied_on)
       SELECT ${first} + s.seq, ${keeper('s.seq')}, 19000, ${day('s.seq')} + INTERVAL 45 DAY FROM ${numbers(at, to)} s WHERE FLOOR(s.seq / 10) % 10 > 0`,
    )
  }
  if ((at / slice) % 20 === 19)
    say(`${(at + slice).toLocaleString('en-US')} entries after ${Math.round((performance.now() - began) / 1000)} s`)
}
await m.query('ANALYZE TABLE time_entry, bill, bill_line, allocation, allocation_share')
const signed = await fetch(`${base}/session`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ email: 'orla@callowayfenn.example', password: demoPassword }) }) // prettier-ignore
const cookie = signed.headers.get('set-cookie')!.split(';')[0]!
const { csrf } = (await signed.json()) as { csrf: string }
async function timed(name: string, path: string, aim: number, times = 12) {
  const took: number[] = []
  for (let i = 0; i < times; i += 1) {
    const at = performance.now()
    const answer = await fetch(`${base}${path}`, { headers: { cookie } })
    await answer.arrayBuffer()
    if (answer.status !== 200) throw new Error(`${path}: ${answer.status}`)
    took.push(performance.now() - at)
  }
  took.sort((a, b) => a - b)
  const at = (share: number) => Math.round(took[Math.min(took.length - 1, Math.floor(share * took.length))]!)
  say(`${name.padEnd(46)} p50 ${at(0.5)} ms, p95 ${at(0.95)} ms (aim ${aim})`)
}
await timed('week by timekeeper', '/oversight/weeks', 300)
const year = 'from=2026-01-01&to=2026-11-23'
for (const as of ['act', 'work'])
  for (const by of ['person', 'matter', 'month'])
    await timed(`a year, ${as}, by ${by}`, `/oversight/flow?${year}&as=${as}&by=${by}`, 1500, 6)
await timed('what stands behind a figure', `/oversight/flow/lines?${year}&as=work&by=person&key=${first}&step=collected`, 1500, 4)
for (const key of ['unbilled', 'trust', 'matters', 'idle', 'budget', 'profit', 'trial', 'funding', 'originating', 'delays']) await timed(key, `/oversight/reports/${key}?${year}`, 1500, 6) // prettier-ignore
async function long(name: string, asked: object) {
  const at = performance.now()
  const { jobId } =
    (await (await fetch(`${base}/oversight/figures`, { method: 'POST', headers: { cookie, 'content-type': 'application/json', 'x-heron-csrf': csrf, 'idempotency-key': crypto.randomUUID() }, body: JSON.stringify(asked) })) // prettier-ignore
      .json()) as { jobId: number }
  for (let state = ''; state !== 'done';) {
    const job = (await (await fetch(`${base}/jobs/${jobId}`, { headers: { cookie } })).json()) as { state: string; error: string | null }
    if (job.state === 'failed') throw new Error(job.error ?? name)
    state = job.state
    await new Promise((r) => setTimeout(r, 200))
  }
  say(`${name.padEnd(46)} ${((performance.now() - at) / 1000).toFixed(1)} s in the background`)
}
await long('two years of the work, by client', { what: 'flow', from: '2025-01-01', to: '2026-11-23', as: 'work', by: 'client' })
const all = { from: '2010-01-01', to: '2026-11-23' }
for (const as of ['act', 'work']) for (const by of ['person', 'client']) await long(`all years, ${as}, by ${by}`, { what: 'flow', ...all, as, by }) // prettier-ignore
for (const what of ['profit', 'funding', 'originating', 'delays']) await long(`all years, ${what}`, { what, ...all })
await timed('what stands behind a figure of all years', `/oversight/flow/lines?from=2010-01-01&to=2026-11-23&as=work&by=person&all=yes&step=worked`, 5000, 3) // prettier-ignore
await timed('what needs a decision', '/oversight/decisions', 1500, 6)
await timed('a question by words', '/oversight/ask?q=unbilled%20above%2020000', 300, 6)
await running.stop()
await db.stop()
if (!kept) rmSync(dir, { recursive: true, force: true })
process.exit(0)
