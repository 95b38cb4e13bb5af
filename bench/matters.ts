/**
 * How fast the list of matters answers with 200,000 matters on record. Not a test: run it by hand with
 *   node --import tsx bench/matters.ts [how many] [folder to keep]
 * It makes a database of its own in a temporary folder, loads the demo firm and the matters, and asks over HTTP. With a
 * folder given, the loaded database stays there, and a second run begins with it.
 */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { indexMatters } from '@heron/server/matters'
import { insertMany } from '@heron/server/platform'
import { demoPassword } from '@heron/server/firm'
import { provision, serve } from '../tools/provision'

const wanted = Number(process.argv[2] ?? 200_000)
const kept = process.argv[3]
const dir = kept ?? mkdtempSync(join(tmpdir(), 'heron-bench-'))
const say = (text: string) => process.stdout.write(`${text}\n`)
const db = await provision({ dir }, say)
const running = await serve(db, { dir }, { HERON_PORT: '0', HERON_LOG: 'silent' })
const base = `http://127.0.0.1:${running.port}/api`

const things = ['charter', 'salvage', 'lease', 'will', 'overtime', 'mark', 'permit', 'supply', 'refit', 'cargo']
const surnames =
  'Abara Brandt Castellan Dunlin Eklund Farrow Gannet Holloway Ito Juniper Korpela Lindqvist Maslanka Norrby Osei Pryce Quill Rowe Sandoval Tidecrest'.split(
    ' ',
  )
async function load() {
  const people = (await running.base.db.query(`SELECT id FROM contact ORDER BY id`)) as { id: number }[]
  const m = running.base.db.manager
  const first = 1_000_000
  const rows = Array.from({ length: wanted }, (_, i) => {
    const client = people[i % people.length]!.id
    const day = new Date(Date.UTC(2014, 0, 1 + (i % 4600))).toISOString().slice(0, 10)
    const closed = i % 5 === 0 ? null : new Date(Date.UTC(2014, 0, 40 + (i % 4600))).toISOString().slice(0, 10)
    const name = `${surnames[i % 20]!} ${i}, ${things[i % things.length]!}`
    return [
      first + i,
      `${14 + (i % 12)}-${String(i).padStart(6, '0')}`,
      name,
      name.slice(0, 60),
      client,
      1 + (i % 7),
      1 + (i % 4),
      day,
      closed,
      1 + (i % 4),
      client,
      day,
      `Court ${i % 40}`,
    ]
  })
  await insertMany(
    m,
    'matter',
    [
      'id',
      'number',
      'name',
      'short_name',
      'client_id',
      'area_id',
      'stage_id',
      'opened_on',
      'closed_on',
      'lead_id',
      'bill_to_id',
      'active_on',
      'court',
    ],
    rows,
  )
  say(`${wanted.toLocaleString('en-US')} matters`)
  for (let at = 0; at < wanted; at += 2000)
    await indexMatters(
      m,
      rows.slice(at, at + 2000).map((r) => r[0] as number),
    )
  await insertMany(
    m,
    'matter_tag',
    ['matter_id', 'tag'],
    rows.filter((_, i) => i % 10 === 0).map((r) => [r[0]!, `tag ${(r[0] as number) % 50}`]),
  )
  const open = rows.filter((r) => r[8] === null)
  const now = '2026-11-01 00:00:00'
  await insertMany(
    m,
    'docket_entry',
    ['matter_id', 'title', 'text', 'weight', 'day', 'trace', 'created_at'],
    open.map((r, i) => [r[0]!, 'Bench date', '', 'rule', `2027-0${1 + (i % 9)}-1${i % 10}`, '[]', now]),
  )
  await insertMany(
    m,
    'time_entry',
    [
      'user_id',
      'entered_by',
      'matter_id',
      'day',
      'text',
      'worked_minutes',
      'minutes',
      'rate',
      'rate_origin',
      'amount',
      'state',
      'created_at',
    ],
    open.map((r, i) => [1 + (i % 4), 1, r[0]!, '2026-10-01', 'Bench work', 30, 30, 20000, 'person', 10000 + i, 'posted', now]),
  )
  await running.base.db.query('ANALYZE TABLE matter, matter_word, matter_tag, docket_entry, time_entry')
}
const [there] = (await running.base.db.query(`SELECT COUNT(*) AS n FROM matter`)) as { n: number }[]
if (there!.n < wanted) await load()

async function signIn(name: string): Promise<string> {
  const answer = await fetch(`${base}/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email: `${name}@callowayfenn.example`, password: demoPassword }),
  })
  return answer.headers.get('set-cookie')!.split(';')[0]!
}

const paths = [
  '/matters',
  '/matters?page=200',
  '/matters?state=all',
  '/matters?state=all&sort=name',
  '/matters?state=all&sort=client&page=40',
  '/matters?areaId=2&stageId=3',
  '/matters?court=Court+7&leadId=2',
  '/matters?tag=tag+20&state=all',
  '/matters?q=gann',
  '/matters?q=lease+hollo&state=all',
  '/matters?q=14-0012&state=all',
  '/matters?userId=3',
  '/matters?idleSince=2020-01-01',
  '/matters?openedFrom=2024-01-01&openedTo=2024-12-31&state=all',
  '/matters?money=true',
  '/matters?unbilledOver=30000',
  '/matters?conflicts=open',
  '/find?q=tidec',
]
for (const who of ['noor', 'sable']) {
  const cookie = await signIn(who)
  for (const path of paths) {
    const times: number[] = []
    for (let i = 0; i < 60; i += 1) {
      const began = performance.now()
      await (await fetch(`${base}${path}`, { headers: { cookie } })).arrayBuffer()
      if (i >= 10) times.push(performance.now() - began)
    }
    times.sort((a, b) => a - b)
    say(`${who.padEnd(6)} ${path.padEnd(30)} median ${times[25]!.toFixed(1)} ms, p95 ${times[47]!.toFixed(1)} ms`)
  }
}
await running.stop()
await db.stop()
if (!kept) rmSync(dir, { recursive: true, force: true })
