import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { doRun } from '../src/billing/runs'
import { actorOf } from '../src/platform/auth'
import { Office, today, type Person } from './office'

let office: Office
let noor: Person
let orla: Person
let sable: Person
interface Item {
  matterId: number
  preBillId: number | null
  state: string
  words: string
  bills: { id: number; number: string }[]
}
interface Run {
  endedAt: string | null
  done: number
  refused: number
  of: number
  rows: Item[]
}
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  orla = await office.signIn('orla')
  sable = await office.signIn('sable')
})
afterAll(() => office.running.stop())

const ended = async (id: number, who: Person = noor): Promise<Run> => {
  for (;;) {
    const run = await who.must<Run>('GET', `/bill-runs/${id}?size=200`)
    if (run.endedAt) return run
    await new Promise((r) => setTimeout(r, 50))
  }
}
async function worked(name: string, more: Record<string, unknown> = {}) {
  const m = await office.matter(noor, name, more)
  const entry = await noor.must<{ id: number }>('POST', '/time', { matterId: m.id, day: '2026-10-20', text: 'Work', duration: '2.0', rate: 100_00 }) // prettier-ignore
  await noor.must('POST', '/time/post', { ids: [entry.id] })
  return m
}
const unbilled = (q: string) =>
  noor.must<{ rows: { matterId: number }[]; total: number; together: number; payable: number }>(
    'GET',
    `/unbilled?to=2026-10-31&q=${encodeURIComponent(q)}`,
  )

describe('a run of bills', () => {
  it('is seen first, makes what it can, and says of the rest why not', async () => {
    const [a, b] = [await worked('Runfield One'), await worked('Runfield Two')]
    await worked('Runfield Nobody', { billToId: null })
    const waits = await worked('Runfield Waits')
    expect(await unbilled('Runfield')).toMatchObject({ total: 4, together: 800_00, payable: 3 })
    expect((await noor.must<{ total: number }>('GET', '/unbilled?to=2026-10-31&q=Runfield&least=20001')).total).toBe(0)
    const run = await noor.must<{ id: number; of: number }>('POST', '/bill-runs', { workTo: '2026-10-31', matterIds: null, filter: { q: 'Runfield' } }) // prettier-ignore
    expect(run.of).toBe(3)
    expect(await ended(run.id)).toMatchObject({ done: 3, refused: 0, of: 3 })
    // What has a pre-bill is not unbilled any more; asked for by name, it is refused with the reason.
    const again = await noor.must<{ id: number }>('POST', '/bill-runs', { workTo: '2026-10-31', matterIds: [waits.id] })
    const told = await ended(again.id)
    expect(told).toMatchObject({ done: 0, refused: 1 })
    expect(told.rows[0]!.words).toMatch(/has a pre-bill already/)
    const list = await noor.must<{ rows: { matterId: number; total: number; lines: number }[]; review: { count: number } }>('GET', '/pre-bills?q=Runfield') // prettier-ignore
    expect(list.rows.map((r) => [r.matterId, r.total, r.lines])).toEqual([a, b, waits].map((m) => [m.id, 200_00, 1]))
    expect((await noor.post('/bill-runs', { workTo: '2026-10-31', matterIds: [], filter: null })).status).toBe(400)
    expect((await sable.post('/bill-runs', { workTo: '2026-10-31', matterIds: [a.id] })).status).toBe(403)
  })

  it('issues what is approved and sends it, each once, whoever else issues at that moment', async () => {
    const matters = [await worked('Issuewick One'), await worked('Issuewick Two'), await worked('Issuewick Three')]
    await office.db.query(`UPDATE contact SET email = 'one@client.example', language = 'Spanish' WHERE id = ?`, [matters[0]!.clientId])
    const made = await noor.must<{ id: number }>('POST', '/bill-runs', { workTo: '2026-10-31', matterIds: matters.map((m) => m.id) })
    const preBillIds = (await ended(made.id)).rows.map((r) => r.preBillId!)
    for (const id of preBillIds.slice(0, 2)) await noor.must('POST', `/pre-bills/${id}/approve`, { approved: true })
    const start = () => orla.must<{ id: number }>('POST', '/bill-runs/issue', { day: today, preBillIds, send: true })
    const [first, second, alone] = await Promise.all([start(), start(), orla.post(`/pre-bills/${preBillIds[1]}/issue`, { day: today })])
    const runs = [await ended(first.id, orla), await ended(second.id, orla)]
    const numbers = await office.db.query<{ number: string; matterId: number; id: number }[]>(
      `SELECT number, matter_id AS matterId, id FROM bill WHERE matter_id IN (?) ORDER BY id`,
      [matters.map((m) => m.id)],
    )
    expect(numbers.map((n) => n.matterId).sort((x, y) => x - y)).toEqual([matters[0]!.id, matters[1]!.id])
    expect(runs.reduce((n, r) => n + r.done, 0) + Number(alone.status === 200)).toBe(2)
    expect(runs.flatMap((r) => r.rows).filter((i) => i.state === 'refused').every((i) => /issued already|approves/.test(i.words))).toBe(true) // prettier-ignore
    // Gapless over the whole firm.
    const all = (await office.db.query<{ n: number }[]>(`SELECT CAST(SUBSTRING(number, 3) AS UNSIGNED) AS n FROM bill WHERE number REGEXP "^B-[0-9]+$" ORDER BY n`)).map((x) => x.n) // prettier-ignore
    expect(all).toEqual(all.map((_, i) => all[0]! + i))

    const { id } = numbers.find((n) => n.matterId === matters[0]!.id)!
    const sent = async () => (await orla.must<{ sent: { address: string; kind: string }[]; pdfHash: string | null }>('GET', `/bills/${id}`)) // prettier-ignore
    while (!(await sent()).sent.length) await new Promise((r) => setTimeout(r, 50))
    expect(await sent()).toMatchObject({ sent: [{ address: 'one@client.example', kind: 'bill' }], pdfHash: expect.any(String) })
    const letter = await orla.must<{ subject: string; body: string }>('GET', `/bills/${id}/letter`)
    expect(letter.subject).toMatch(/^Factura B-\d+ de /)
    expect((await orla.post(`/bills/${id}/send`, { ...letter, name: 'X', email: 'not one' })).status).toBe(400)
    await orla.must('POST', `/bills/${id}/send`, { ...letter, name: 'Ms. One', email: 'other@client.example' })
    expect((await sent()).sent.map((s) => s.address)).toEqual(['one@client.example', 'other@client.example'])
  })

  it('goes on where it was broken off, and two workers at once do nothing twice', async () => {
    const matters = [await worked('Brokenham One'), await worked('Brokenham Two'), await worked('Brokenham Three')]
    const actor = (await actorOf(office.db.manager, await office.user('Noor')))!
    const made = (await office.db.query(`INSERT INTO bill_run (what, day, user_id, began_at) VALUES ('make', '2026-10-31', ?, NOW(6))`, [actor.id])) as { insertId: number } // prettier-ignore
    for (const [i, m] of matters.entries()) await office.db.query(`INSERT INTO bill_run_item (run_id, ordinal, matter_id) VALUES (?, ?, ?)`, [made.insertId, i + 1, m.id]) // prettier-ignore
    const ctx = { ...office.running.base, actor }
    // The first dies after one matter.
    let steps = 0
    const dying = { ...ctx, db: Object.create(ctx.db, { transaction: { value: (...args: unknown[]) => (steps++ < 1 ? (ctx.db.transaction as (...a: unknown[]) => unknown)(...args) : Promise.reject(new Error('killed'))) } }) as typeof ctx.db } // prettier-ignore
    await expect(doRun(dying, { runId: made.insertId }, () => Promise.resolve())).rejects.toThrow('killed')
    const none = () => Promise.resolve()
    await Promise.all([doRun(ctx, { runId: made.insertId }, none), doRun(ctx, { runId: made.insertId }, none)])
    expect(await ended(made.insertId)).toMatchObject({ done: 3, refused: 0 })
    const counts = await office.db.query<{ n: number }[]>(`SELECT COUNT(*) AS n FROM pre_bill WHERE matter_id IN (?)`, [matters.map((m) => m.id)]) // prettier-ignore
    expect(Number(counts[0]!.n)).toBe(3)
  })

  it('shows nothing of matters from which one is screened', async () => {
    const m = await worked('Wallrun')
    await office.db.query(`INSERT INTO matter_screen (matter_id, user_id) VALUES (?, ?)`, [m.id, await office.user('Orla')])
    const run = await noor.must<{ id: number }>('POST', '/bill-runs', { workTo: '2026-10-31', matterIds: [m.id] })
    const { rows } = await ended(run.id)
    expect((await orla.get(`/bill-runs/${run.id}`)).status).toBe(404)
    expect((await orla.post('/bill-runs/issue', { day: today, preBillIds: [rows[0]!.preBillId], send: false })).status).toBe(404)
    expect((await orla.must<{ rows: { matterId: number }[] }>('GET', '/pre-bills?q=Wallrun')).rows).toEqual([])
  })

  it('keeps the firm’s words of letters, and refuses fields that there are not', async () => {
    const ferdi = await office.signIn('ferdi')
    const own = { kind: 'reminder 1', language: 'en', subject: 'Bill {bill}', body: 'Dear {payer}' }
    expect((await ferdi.call('PUT', '/bill-letters', { ...own, body: 'Dear {client}' })).status).toBe(400)
    expect((await ferdi.call('PUT', '/bill-letters', { ...own, subject: ' ' })).status).toBe(400)
    expect((await ferdi.call('PUT', '/bill-letters', { ...own, kind: 'constructor' })).status).toBe(400)
    await ferdi.must('PUT', '/bill-letters', own)
    const letters = () => ferdi.must<{ kind: string; language: string; own: boolean; body: string }[]>('GET', '/bill-letters')
    const one = async () => (await letters()).find((l) => l.kind === 'reminder 1' && l.language === 'en')!
    expect(await one()).toMatchObject({ own: true, body: 'Dear {payer}' })
    await ferdi.must('PUT', '/bill-letters', { ...own, subject: '', body: '' })
    expect((await one()).own).toBe(false)
  })
})
