import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { Office, today, type Person } from './office'

let office: Office
let noor: Person
let tomas: Person
let orla: Person
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  tomas = await office.signIn('tomas')
  orla = await office.signIn('orla')
})
afterAll(() => office.running.stop())

interface Row {
  id: number
  text: string
  minutes: number
  amount: number
  rate: number
  state: string
  day: string
}
const entries = async (matterId: number) =>
  await noor.must<{ time: Row[]; unbilled: number }>('GET', `/matters/${matterId}/time?unbilled=yes`)
async function posted(matterId: number, duration = '0.7', more: object = {}) {
  const { id } = await noor.must<{ id: number }>('POST', '/time', { matterId, day: '2026-11-02', text: 'Call with the surveyor', duration, rate: 285_00, ...more }) // prettier-ignore
  await noor.must('POST', '/time/post', { ids: [id] })
  return id
}
/** Work in progress of a matter as the books have it on a day. */
const inProgress = async (matterId: number, day: string = today) =>
  Number((await office.db.query<{ n: string }[]>(`SELECT COALESCE(SUM(l.amount), 0) AS n FROM journal_line l JOIN journal j ON j.id = l.journal_id JOIN account a ON a.id = l.account_id WHERE a.role = 'work in progress' AND l.matter_id = ? AND j.day <= ?`, [matterId, day]))[0]!.n) // prettier-ignore
const correction = (matterId: number, more: object = {}) => ({ matterId, day: '2026-11-02', text: 'Call with the surveyor', duration: '0.7', rate: 285_00, reason: 'typed wrongly', ...more }) // prettier-ignore

describe('posted time', () => {
  it('is reworded without touching the books, and corrected with what it was in the log', async () => {
    const m = await office.matter(noor, 'Correctham')
    const id = await posted(m.id)
    expect(await inProgress(m.id)).toBe(199_50)
    await noor.must('PUT', `/time/${id}/correction`, correction(m.id, { text: 'Call with the surveyor on the hull' }))
    expect((await office.db.query(`SELECT 1 FROM journal WHERE memo LIKE ?`, [`Correction of time ${id}:%`])) as unknown[]).toHaveLength(0)
    await noor.must('PUT', `/time/${id}/correction`, correction(m.id, { duration: '1.5', day: '2026-11-03' }))
    expect((await entries(m.id)).time).toMatchObject([{ id, minutes: 90, amount: 427_50, day: '2026-11-03' }])
    expect([await inProgress(m.id, '2026-11-02'), await inProgress(m.id, '2026-11-03')]).toEqual([0, 427_50])
    await noor.must('PUT', `/time/${id}/correction`, correction(m.id, { duration: '1.5', day: '2026-11-03', charge: 'non-billable' }))
    expect([await inProgress(m.id), (await entries(m.id)).unbilled]).toEqual([0, 0])
    const [log] = await office.db.query<{ text: string; detail: string }[]>(`SELECT text, detail FROM audit_log WHERE subject = 'time' AND subject_id = ? ORDER BY id DESC LIMIT 1`, [id]) // prettier-ignore
    expect(log!.text).toContain('typed wrongly')
    expect(log!.detail).toContain('42750')
    expect((await noor.call('PUT', `/time/${id}/correction`, correction(m.id, { day: '2026-12-24' }))).status).toBe(400)
    expect(await office.agrees()).toBe(true)
  })

  it('goes to another matter with its value, priced by that matter', async () => {
    const [a, b] = [await office.matter(noor, 'Fromwick'), await office.matter(noor, 'Towick')]
    const id = await posted(a.id)
    await noor.must('PUT', `/time/${id}/correction`, correction(b.id, { rate: null }))
    const [moved] = (await entries(b.id)).time
    expect(moved).toMatchObject({ id, minutes: 42 })
    expect([await inProgress(a.id), await inProgress(b.id)]).toEqual([0, moved!.amount])
    expect((await entries(a.id)).time).toEqual([])
    await office.db.query(`INSERT INTO matter_screen (matter_id, user_id) VALUES (?, ?)`, [a.id, await office.user('Noor')])
    expect((await noor.call('PUT', `/time/${id}/correction`, correction(a.id))).status).toBe(404)
    expect((await tomas.call('PUT', `/time/${id}/correction`, correction(b.id))).status).toBe(200)
  })

  it('is split into two that add up to it', async () => {
    const m = await office.matter(noor, 'Splitford')
    const id = await posted(m.id, '1.1', { rate: 333_33 })
    const before = (await entries(m.id)).time[0]!
    const part = (duration: string) => noor.post<{ id: number }>(`/time/${id}/split`, { duration, text: 'Call', restText: 'Letter' })
    expect((await part('1.1')).status).toBe(400)
    expect((await part('x')).status).toBe(400)
    expect((await part('0.4')).status).toBe(200)
    const two = (await entries(m.id)).time
    expect(two.map((t) => [t.text, t.minutes]).sort()).toEqual([['Call', 24], ['Letter', 42]]) // prettier-ignore
    expect(two[0]!.amount + two[1]!.amount).toBe(before.amount)
    expect([await inProgress(m.id), (await entries(m.id)).unbilled]).toEqual([before.amount, before.amount])
  })

  it('is written off or reversed on a day in an open period, never twice, and never what is on a bill or pre-bill', async () => {
    const m = await office.matter(noor, 'Offbury')
    const [a, b, c] = [await posted(m.id), await posted(m.id), await posted(m.id)]
    expect((await noor.post('/time/write-off', { ids: [a], day: '2026-11-01', reason: 'x' })).status).toBe(400)
    expect((await noor.post('/time/write-off', { ids: [a, b], day: '2026-11-10', reason: 'as a courtesy' })).body).toEqual({ written: 2 })
    expect([await inProgress(m.id, '2026-11-09'), await inProgress(m.id, '2026-11-10')]).toEqual([3 * 199_50, 199_50])
    expect((await noor.post('/time/write-off', { ids: [a], day: today, reason: 'again' })).body.code).toBe('not-reversible')
    expect((await noor.post(`/time/${a}/reverse`, { reason: 'again' })).body.code).toBe('not-reversible')
    const pre = await noor.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: today })
    for (const answer of [
      await noor.post(`/time/${c}/reverse`, { reason: 'x' }),
      await noor.post('/time/write-off', { ids: [c], day: today, reason: 'x' }),
      await noor.call('PUT', `/time/${c}/correction`, correction(m.id, { duration: '2' })),
      await noor.post(`/time/${c}/split`, { duration: '0.1', text: 'a', restText: 'b' }),
    ])
      expect(answer).toMatchObject({ status: 409, body: { code: 'on-pre-bill' } })
    await noor.call('DELETE', `/pre-bills/${pre.id}`, {})
    await noor.must('POST', `/time/${c}/reverse`, { reason: 'wrong matter', day: '2026-11-20' })
    expect([await inProgress(m.id, '2026-11-19'), await inProgress(m.id)]).toEqual([199_50, 0])
    expect((await entries(m.id)).unbilled).toBe(0)
    // Two at once: one of them finds it done.
    const d = await posted(m.id)
    const both = await Promise.all([noor.post(`/time/${d}/reverse`, { reason: 'x' }), noor.post('/time/write-off', { ids: [d], day: today, reason: 'y' })]) // prettier-ignore
    expect(both.map((x) => x.status).sort()).toEqual([200, 409])
    expect(await inProgress(m.id)).toBe(0)
    expect(await office.agrees()).toBe(true)
  })

  it('keeps work in progress equal to what is unbilled, whatever is done to it', async () => {
    const [a, b] = [await office.matter(noor, 'Anywick One'), await office.matter(noor, 'Anywick Two')]
    const ids: number[] = []
    const pick = fc.nat(100)
    const step = fc.oneof(
      fc.record({ do: fc.constant('post' as const), at: pick }),
      fc.record({ do: fc.constant('correct' as const), at: pick, minutes: fc.integer({ min: 1, max: 300 }), other: fc.boolean(), charge: fc.constantFrom('billable', 'no charge', 'non-billable') }), // prettier-ignore
      fc.record({ do: fc.constant('split' as const), at: pick, minutes: fc.integer({ min: 1, max: 60 }) }),
      fc.record({ do: fc.constant('off' as const), at: pick }),
      fc.record({ do: fc.constant('reverse' as const), at: pick }),
    )
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 3, maxLength: 8 }), async (steps) => {
        for (const s of steps) {
          const id = ids[s.at % Math.max(1, ids.length)] ?? 0
          if (s.do === 'post' || !id) ids.push(await posted(a.id))
          else if (s.do === 'correct')
            await noor.call(
              'PUT',
              `/time/${id}/correction`,
              correction(s.other ? b.id : a.id, { duration: `${s.minutes}m`, charge: s.charge }),
            )
          else if (s.do === 'split') {
            const made = await noor.post<{ id: number }>(`/time/${id}/split`, { duration: `${s.minutes}m`, text: 'a', restText: 'b' })
            if (made.status === 200) ids.push(made.body.id)
          } else if (s.do === 'off') await noor.post('/time/write-off', { ids: [id], day: today, reason: 'x' })
          else await noor.post(`/time/${id}/reverse`, { reason: 'x' })
        }
        for (const m of [a, b]) {
          const [sum] = await office.db.query<{ n: string }[]>(`SELECT COALESCE(SUM(amount), 0) AS n FROM time_entry WHERE matter_id = ? AND state = 'posted' AND charge <> 'non-billable'`, [m.id]) // prettier-ignore
          expect(await inProgress(m.id)).toBe(Number(sum!.n))
        }
      }),
      { numRuns: 8 },
    )
    expect((await orla.must<{ ok: boolean }>('POST', '/trust/check', {})).ok).toBe(true)
  })
})
