/**
 * How long an import of 50,000 contacts takes, tried and then loaded. Not a test: run it by hand with
 *   node --import tsx bench/import.ts [rows]
 */
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { writeTable } from '@heron/core/formats'
import { firmPlan } from '@heron/demo/firm'
import { demoPassword, setUpFirm } from '@heron/server/firm'
import { provision, serve } from '../tools/provision'

const wanted = Number(process.argv[2] ?? 50_000)
const say = (text: string) => process.stdout.write(`${text}\n`)
const dir = mkdtempSync(join(tmpdir(), 'heron-bench-'))
const db = await provision({ dir }, say, false)
const running = await serve(db, { dir }, { HERON_PORT: '0', HERON_LOG: 'error' })
await setUpFirm(
  { ...running.base, actor: { id: 0, name: '', role: 'administrator', mayOverride: false } },
  firmPlan(running.base.clock.today()),
)
const base = `http://127.0.0.1:${running.port}/api`
const entered = await fetch(`${base}/session`, {
  method: 'POST',
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify({ email: 'noor@callowayfenn.example', password: demoPassword }),
})
const headers = {
  cookie: entered.headers.get('set-cookie')!.split(';')[0]!,
  'x-heron-csrf': ((await entered.json()) as { csrf: string }).csrf,
}
const rows = Array.from({ length: wanted }, (_, i) => [
  `Given${i % 997} Family${i}`,
  `p${i}@list.example`,
  `555 ${1_000_000 + i}`,
  'witness',
  i % 5 ? '' : `Works ${i % 300}`,
])
const form = new FormData()
form.set('what', 'contacts')
form.set('file', new File([writeTable(['Name', 'E-mail', 'Phone', 'Kinds', 'Works for'], rows)], 'many.csv'))
const read = (await (await fetch(`${base}/imports`, { method: 'POST', headers, body: form })).json()) as { id: number; mapping: object }

async function until(path: string, body: object) {
  const began = Date.now()
  const asked = await fetch(`${base}${path}`, {
    method: 'POST',
    headers: { ...headers, 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })
  const { jobId } = (await asked.json()) as { jobId: number }
  for (;;) {
    const job = (await (await fetch(`${base}/jobs/${jobId}`, { headers })).json()) as { state: string; error: string | null }
    if (job.state === 'done') return Math.round((Date.now() - began) / 1000)
    if (job.state === 'failed') throw new Error(job.error ?? 'failed')
    await new Promise((r) => setTimeout(r, 200))
  }
}
say(`${wanted.toLocaleString('en-US')} rows tried in ${await until(`/imports/${read.id}/tried`, { mapping: read.mapping })} s`)
say(`loaded in ${await until(`/imports/${read.id}/loaded`, {})} s`)
await running.stop()
await db.stop()
rmSync(dir, { recursive: true, force: true })
