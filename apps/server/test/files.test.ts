import { randomUUID } from 'node:crypto'
import { rm, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import { keepFile, readStored, sha256 } from '../src/platform/files'
import { areas, assemble, jobKind } from '../src/platform/area'
import { enqueue } from '../src/platform/enqueue'
import { failUnknownJobs, runOneJob } from '../src/platform/jobs'
import { row, work, type Ctx } from '../src/platform'
import { Office, type Person } from './office'

let office: Office
let ctx: Ctx
let noor: Person
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  ctx = { ...office.running.base, actor: { id: await office.user('Noor'), name: 'Noor Haddad-Lind', role: 'lawyer', mayOverride: false } }
})
afterAll(() => office.close())

async function filed(matterId: number, words: string): Promise<number> {
  const form = new FormData()
  form.set('folder', 'Correspondence')
  form.set('file', new File([words], 'letter.html', { type: 'text/html' }))
  const sent = await fetch(`${office.base}/api/matters/${matterId}/papers/file`, {
    method: 'POST',
    headers: { cookie: noor.cookie, 'x-heron-csrf': noor.csrf, 'idempotency-key': randomUUID() },
    body: form,
  })
  return ((await sent.json()) as { id: number }).id
}
const download = (path: string) => fetch(`${office.base}/api/papers/${path}`, { headers: { cookie: noor.cookie } })

describe('files', () => {
  it('are kept once by their contents and read back as they were', async () => {
    const data = Buffer.from('the same words')
    const [a, b] = [
      await work(ctx, (m) => keepFile(m, ctx, data, 'text/plain')),
      await work(ctx, (m) => keepFile(m, ctx, data, 'text/plain')),
    ]
    expect(a.sha256).toBe(b.sha256)
    expect((await readStored(ctx.db.manager, ctx, b.id)).data.equals(data)).toBe(true)
  })

  it('are refused when their contents no longer match their hash', async () => {
    const kept = await work(ctx, (m) => keepFile(m, ctx, Buffer.from('a deed'), 'text/plain'))
    await writeFile(join(inject('place').files, kept.sha256.slice(0, 2), kept.sha256), 'a forged deed')
    await expect(readStored(ctx.db.manager, ctx, kept.id)).rejects.toThrow(/does not match its hash/)
  })

  it('from outside never run in the browser: only known types are shown, the rest is handed over', async () => {
    const m = await office.matter(noor, 'File Client Ltd')
    const id = await filed(m.id, '<script>alert(1)</script>')
    const got = await download(`${id}/file`)
    expect(got.headers.get('content-type')).toBe('application/octet-stream')
    expect(got.headers.get('x-content-type-options')).toBe('nosniff')
    expect(sha256(Buffer.from(await got.arrayBuffer()))).toBe(sha256('<script>alert(1)</script>'))
  })

  it('that are gone from the disk are said to be, and one that goes while it is sent ends its own answer alone', async () => {
    const m = await office.matter(noor, 'Lost File Ltd')
    const [lost, whole] = [await filed(m.id, 'words that are lost'), await filed(m.id, 'words that stay')]
    const hash = sha256('words that are lost')
    await rm(join(inject('place').files, hash.slice(0, 2), hash))
    for (const path of [`${lost}/file`, `zip?ids=${lost},${whole}`]) {
      const got = await download(path)
      expect([got.status, ((await got.json()) as { code: string }).code]).toEqual([409, 'file-missing'])
    }
    // It was there when asked, and is not when it is read.
    const { has } = ctx.files
    ctx.files.has = () => Promise.resolve(true)
    try {
      for (const path of [`${lost}/file`, `zip?ids=${lost},${whole}`])
        await expect(download(path).then((got) => got.arrayBuffer())).rejects.toThrow()
    } finally {
      ctx.files.has = has
    }
    expect(await (await download(`${whole}/file`)).text()).toBe('words that stay')
  })
})

describe('work in the background', () => {
  const state = (id: number) =>
    row<{ state: string; attempts: number; error: string | null }>(ctx.db.manager, `SELECT state, attempts, error FROM job WHERE id = ?`, [
      id,
    ])
  const due = (id: number) => ctx.db.query(`UPDATE job SET run_after = '2020-01-01' WHERE id = ?`, [id])
  const settled = async (id: number, wanted: string) => {
    for (let i = 0; i < 60; i += 1) {
      const now = await state(id)
      if (now?.state === wanted) return now
      await due(id)
      await runOneJob(office.running.base)
    }
    return state(id)
  }

  const onJob = (kind: string, run: () => Promise<void>) =>
    assemble([...areas(), { name: kind, routes: {}, jobs: { [kind]: jobKind<object>({ noun: kind, waits: [1, 1], run }) } }])

  it('is tried three times, then failed with a reason that someone sees', async () => {
    onJob('always breaks', () => Promise.reject(new Error('broken inside')))
    const id = await work(ctx, (m) => enqueue(m, ctx, 'always breaks', {}))
    expect(await settled(id, 'failed')).toMatchObject({ state: 'failed', attempts: 3 })
    expect((await noor.must<{ error: string }>('GET', `/jobs/${id}`)).error).toContain('could not be done')
  })

  it('is taken up again when the server died over it, and done once by several workers', async () => {
    let done = 0
    onJob('counts', () => Promise.resolve(void (done += 1)))
    const id = await work(ctx, (m) => enqueue(m, ctx, 'counts', {}))
    await ctx.db.query(`UPDATE job SET state = 'running', run_after = '2020-01-01' WHERE id = ?`, [id])
    await Promise.all(Array.from({ length: 6 }, () => runOneJob(office.running.base)))
    expect(await settled(id, 'done')).toMatchObject({ state: 'done' })
    expect(done).toBe(1)
  })

  it('of a kind that nothing does any more is failed rather than left to wait', async () => {
    const id = await work(ctx, (m) => enqueue(m, ctx, 'counts', {}))
    await ctx.db.query(`UPDATE job SET kind = 'was taken out', run_after = '2020-01-01' WHERE id = ?`, [id])
    expect(await runOneJob(office.running.base)).toBe(false)
    await failUnknownJobs(office.running.base)
    expect(await state(id)).toMatchObject({ state: 'failed', error: 'Nothing does work of this kind any more.' })
  })

  it('shows nobody else’s jobs', async () => {
    const id = await work(ctx, (m) => enqueue(m, ctx, 'counts', {}))
    const billie = await office.signIn('billie')
    expect((await billie.get(`/jobs/${id}`)).status).toBe(404)
  })
})
