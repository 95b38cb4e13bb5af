/**
 * How fast papers answer with 200,000 of them, each of 3 kB text, and how much memory a large upload takes. Not a test: run it by hand with
 *   node --import tsx bench/papers.ts [papers]
 */
import { randomUUID } from 'node:crypto'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import PizZip from 'pizzip'
import { makeDocument } from '@heron/core/templates'
import { demoPassword } from '@heron/server/firm'
import { indexPapers, wordIds, wordsFor } from '@heron/server/papers'
import { insertMany } from '@heron/server/platform'
import { docx, p } from '../packages/core/test/docx'
import { provision, serve } from '../tools/provision'

const say = (text: string) => process.stdout.write(`${text}\n`)
const of = (list: number[]) => {
  const sorted = [...list].sort((a, b) => a - b)
  return `median ${sorted[Math.floor(sorted.length / 2)]!.toFixed(0)} ms, p95 ${sorted[Math.floor(sorted.length * 0.95)]!.toFixed(0)} ms`
}
const count = Number(process.argv[2] ?? 200_000)
const dir = mkdtempSync(join(tmpdir(), 'heron-bench-'))
const db = await provision({ dir, today: '2026-11-23' }, say)
const running = await serve(db, { dir, today: '2026-11-23' }, { HERON_PORT: '0', HERON_LOG: 'silent' })
const base = `http://127.0.0.1:${running.port}/api`
const m = running.base.db.manager
const [one] = (await m.query(
  `SELECT MIN(contact.id) AS contact, (SELECT MIN(lead_id) FROM matter) AS lead, (SELECT MIN(id) FROM stored_file) AS file FROM contact`,
)) as { contact: number; lead: number; file: number }[]
const first = 100_000
const matters = 2_000
await insertMany(
  m,
  'matter',
  ['id', 'number', 'name', 'short_name', 'client_id', 'opened_on', 'lead_id', 'active_on'],
  Array.from({ length: matters }, (_, i) => [
    first + i,
    `B-${i}`,
    `Bench ${i}`,
    `Bench ${i}`,
    one!.contact,
    '2026-01-01',
    one!.lead,
    '2026-11-01',
  ]),
)

// Words as they come in letters: few very often, most of them seldom.
let seed = 42
const chance = () => (seed = (seed * 1664525 + 1013904223) >>> 0) / 2 ** 32
const vocabulary = Array.from({ length: 30_000 }, (_, i) => {
  let n = i + 7
  let word = ''
  for (; n > 0; n = Math.floor(n / 60)) word += 'bcdfglmnprst'[n % 12]! + 'aeiou'[Math.floor(n / 12) % 5]!
  return word + i.toString(36)
})
const word = () => vocabulary[Math.min(29_999, Math.floor(chance() ** 3 * 30_000))]!
const began = performance.now()
for (let at = 0; at < count; at += 1024) {
  const size = Math.min(1024, count - at)
  const ids = Array.from({ length: size }, (_, k) => first + at + k)
  // One matter has 5,000 papers, the rest share what is left.
  const matterOf = (id: number) => (id - first < 5_000 ? first : first + 1 + ((id - first) % (matters - 1)))
  await insertMany(
    m,
    'paper',
    ['id', 'matter_id', 'folder', 'name', 'file_id', 'created_by', 'created_at', 'text_state'],
    ids.map((id) => [
      id,
      matterOf(id),
      id % 3 ? 'Discovery' : 'Pleadings',
      `Paper ${id}.txt`,
      one!.file,
      one!.lead,
      '2026-10-01 10:00:00',
      'done',
    ]),
  )
  await insertMany(
    m,
    'paper_version',
    ['paper_id', 'number', 'file_id', 'made_by', 'made_at'],
    ids.map((id) => [id, 1, one!.file, one!.lead, '2026-10-01 10:00:00']),
  )
  const bodies = ids.map((id) => {
    let body = `Paper ${id}.txt\n`
    while (body.length < 3000) body += `${word()} `
    return [id, matterOf(id), 1, body] as const
  })
  await insertMany(m, 'paper_text', ['paper_id', 'matter_id', 'version_no', 'body'], bodies)
  const indexed = await Promise.all(bodies.map(async ([id, , , body]) => ({ paperId: id, words: await wordsFor(`Paper ${id}.txt`, body) })))
  const known = await wordIds(running.base, [...new Set(indexed.flatMap((x) => x.words))])
  await m.transaction('READ COMMITTED', (tx) => indexPapers(tx, indexed, known))
}
say(`${count.toLocaleString('en-US')} papers loaded in ${Math.round((performance.now() - began) / 1000)} s`)

const signed = await fetch(`${base}/session`, {
  method: 'POST',
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify({ email: 'noor@callowayfenn.example', password: demoPassword }),
})
const headers = {
  cookie: signed.headers.get('set-cookie')!.split(';')[0]!,
  'x-heron-csrf': ((await signed.json()) as { csrf: string }).csrf,
}
const timed = async (what: string, paths: () => string, times = 60) => {
  const took: number[] = []
  for (let i = 0; i < times; i += 1) {
    const start = performance.now()
    const answer = await fetch(`${base}${paths()}`, { headers })
    await answer.arrayBuffer()
    if (!answer.ok) throw new Error(`${paths()}: ${answer.status}`)
    if (i >= 10) took.push(performance.now() - start)
  }
  say(`${what.padEnd(46)} ${of(took)}`)
}
await timed('search over the firm, two words', () => `/papers/search?q=${word()}+${word()}`)
await timed('search over the firm, one word', () => `/papers/search?q=${word()}`)
await timed('search over the firm, a rare word', () => `/papers/search?q=${vocabulary[20_000 + Math.floor(chance() * 9_999)]!}`)
await timed('search over the firm, a beginning', () => `/papers/search?q=${word().slice(0, 4)}*`)
await timed('search within the matter of 5,000', () => `/papers/search?matterId=${first}&q=${word()}`)
await timed('list of the matter of 5,000, 100 rows', () => `/papers?matterId=${first}&size=100&page=${1 + Math.floor(chance() * 40)}`)
await timed('folders of the matter of 5,000', () => `/matters/${first}/folders`)

// Ten pages with sixty fields, made in core.
const fields = Array.from({ length: 60 }, (_, i) =>
  p(`${'Some words of a letter that goes on for a while. '.repeat(9)}{f${i}} {if f${i}}yes{end}`),
)
const template = docx(fields.join('')).generate({ type: 'uint8array' })
const values = Object.fromEntries(Array.from({ length: 60 }, (_, i) => [`f${i}`, `value ${i}`]))
const making: number[] = []
for (let i = 0; i < 30; i += 1) {
  const start = performance.now()
  makeDocument(new PizZip(template), { values, language: 'en', today: '2026-11-23', wordField: () => null })
  if (i >= 5) making.push(performance.now() - start)
}
say(`DOCX of ten pages with 60 fields               ${of(making)}`)

const post = async <T>(path: string, body: object): Promise<T> =>
  (
    await fetch(`${base}${path}`, {
      method: 'POST',
      headers: { ...headers, 'content-type': 'application/json', 'idempotency-key': randomUUID() },
      body: JSON.stringify(body),
    })
  ).json() as Promise<T>
const [matter] = (await m.query(`SELECT id FROM matter WHERE number = '26-0001'`)) as { id: number }[]
const templates = (await (await fetch(`${base}/templates`, { headers })).json()) as { id: number; name: string }[]
const previews: number[] = []
for (let i = 0; i < 6; i += 1) {
  const start = performance.now()
  const { jobId } = await post<{ jobId: number }>('/papers/preview', {
    matterId: matter!.id,
    templateId: templates.find((t) => t.name === 'Settlement agreement')!.id,
    answers: { sum: '1000', days: '30', secret: 'no' },
  })
  for (let state = ''; state !== 'done'; await new Promise((r) => setTimeout(r, 50))) {
    state = ((await (await fetch(`${base}/jobs/${jobId}`, { headers })).json()) as { state: string }).state
    if (state === 'failed') throw new Error('the preview failed')
  }
  if (i) previews.push(performance.now() - start)
}
say(`PDF preview, from asking to being there        ${of(previews)}`)

const size = 500_000_000
const piece = new Uint8Array(4_000_000).fill(7)
const { id } = await post<{ id: number }>('/uploads', { name: 'film.bin', size })
globalThis.gc?.()
const before = process.memoryUsage().rss
let most = 0
const start = performance.now()
for (let at = 0; at < size; at += piece.length) {
  const answer = await fetch(`${base}/uploads/${id}?at=${at}`, {
    method: 'PUT',
    headers: { ...headers, 'content-type': 'application/octet-stream' },
    body: piece.slice(0, Math.min(piece.length, size - at)),
  })
  if (!answer.ok) throw new Error(await answer.text())
  most = Math.max(most, process.memoryUsage().rss)
}
say(
  `500 MB uploaded in ${((performance.now() - start) / 1000).toFixed(1)} s; this process, which sends and receives, grew by ${Math.round((most - before) / 1_000_000)} MB at most`,
)

await running.stop()
await db.stop()
rmSync(dir, { recursive: true, force: true })
process.exit(0)
