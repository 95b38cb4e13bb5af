/**
 * How fast the list of matters answers with 20,000 matters on record. Not a test: run it by hand with
 *   node --import tsx bench/matters.ts
 * It makes a database of its own in a temporary folder, loads the demo firm and the matters, and asks over HTTP.
 */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { insertMany } from '@heron/server/platform'
import { demoPassword } from '@heron/server/firm'
import { provision, serve } from '../tools/provision'

const wanted = 20_000
const dir = mkdtempSync(join(tmpdir(), 'heron-bench-'))
const say = (text: string) => process.stdout.write(`${text}\n`)
const db = await provision({ dir }, say)
const running = await serve(db, { dir }, { HERON_PORT: '0', HERON_LOG: 'silent' })
const base = `http://127.0.0.1:${running.port}/api`

const things = ['charter', 'salvage', 'lease', 'will', 'overtime', 'mark', 'permit', 'supply', 'refit', 'cargo']
const people = (await running.base.db.query(`SELECT id FROM contact ORDER BY id`)) as { id: number }[]
const rows = Array.from({ length: wanted }, (_, i) => {
  const client = people[i % people.length]!.id
  const day = new Date(Date.UTC(2020, 0, 1 + (i % 2400))).toISOString().slice(0, 10)
  return [
    `20-${String(i).padStart(5, '0')}`,
    `Bench matter ${i}, ${things[i % things.length]}`,
    `Bench ${i}`,
    client,
    1 + (i % 7),
    day,
    1 + (i % 4),
    client,
    day,
  ]
})
await insertMany(
  running.base.db.manager,
  'matter',
  ['number', 'name', 'short_name', 'client_id', 'area_id', 'opened_on', 'lead_id', 'bill_to_id', 'active_on'],
  rows,
)
const entries = rows
  .slice(0, 8000)
  .map((_, i) => [100 + i, 'Bench date', '', 'rule', `2027-0${1 + (i % 9)}-1${i % 10}`, '[]', '2026-11-01 00:00:00'])
await insertMany(running.base.db.manager, 'docket_entry', ['matter_id', 'title', 'text', 'weight', 'day', 'trace', 'created_at'], entries)

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
  '/matters?q=lease',
  '/matters?q=20-01',
  '/matters?sort=name',
  '/matters?sort=client&page=40',
  '/matters?areaId=3',
  '/find?q=gannet',
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
rmSync(dir, { recursive: true, force: true })
