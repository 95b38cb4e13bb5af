import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row, run } from '../src/platform'
import { isMorning } from '../src/docket/reminders'
import { Office, type Person } from './office'

let office: Office
const who = {} as Record<'noor' | 'tomas' | 'orla' | 'ferdi', Person>
const ids = {} as Record<'tomas' | 'noor' | 'ferdi', number>
beforeAll(async () => {
  office = await Office.open()
  for (const n of ['noor', 'tomas', 'orla', 'ferdi'] as const) who[n] = await office.signIn(n)
  for (const n of ['tomas', 'noor', 'ferdi'] as const) ids[n] = await office.user(n)
})
afterAll(() => office.close())

interface Log {
  rows: { id: number; who: string; kind: string; text: string; matterId: number | null; changes: { what: string; became: string }[] }[]
  more: boolean
}

describe('walls of the firm', () => {
  it('are raised by the administrator for several matters in one act, and whoever keeps them is told', async () => {
    const [a, b] = [await office.matter(who.noor, 'Skerry Pilots'), await office.matter(who.noor, 'Skerry Lights')]
    const input = { userId: ids.tomas, matterIds: [a.id, b.id, a.id], reason: 'acted for the other side' }
    expect(await who.ferdi.must('POST', '/walls', input)).toEqual({ raised: 2 })
    const walls = await who.ferdi.must<{ rows: { matterId: number; name: string; reason: string }[] }>('GET', '/walls')
    expect(walls.rows.filter((w) => [a.id, b.id].includes(w.matterId)).map((w) => w.reason)).toEqual([input.reason, input.reason])
    expect((await who.tomas.get(`/matters/${a.id}`)).status).toBe(404)
    const letter = await row<{ n: number }>(
      office.db.manager,
      `SELECT COUNT(*) AS n FROM mail WHERE matter_id IN (?) AND subject LIKE '%is screened from%'`,
      [[a.id, b.id]],
    )
    expect(letter!.n).toBe(2)
    expect((await who.ferdi.post('/walls', input)).body.fields[0]?.path).toBe('matterIds')
  })
  it('leave no sign of a matter for an administrator behind one; of one kept to its team, that there are more', async () => {
    const hidden = async () => (await who.ferdi.get<{ hidden: number }>('/walls')).body.hidden
    const before = await hidden()
    const kept = await office.matter(who.noor, 'Skerry Kept')
    await who.noor.must('PUT', `/matters/${kept.id}/access`, { staff: { file: 0, docket: 0, papers: 0, money: 0, trust: 0 } })
    await who.noor.must('POST', `/matters/${kept.id}/screens`, { userId: ids.tomas, reason: 'a cousin' })
    expect(await hidden()).toBe(before + 1)
    const m = await office.matter(who.noor, 'Skerry Ferries')
    await who.noor.must('POST', `/matters/${m.id}/screens`, { userId: ids.tomas, reason: 'a cousin' })
    await who.noor.must('POST', `/matters/${m.id}/screens`, { userId: ids.ferdi, reason: 'a brother' })
    const walls = (await who.ferdi.get<{ rows: { matterId: number }[]; hidden: number }>('/walls')).body
    expect(walls.rows.some((w) => w.matterId === m.id)).toBe(false)
    expect(walls.hidden).toBe(before + 1)
    const refused = await who.ferdi.post('/walls', { userId: ids.tomas, matterIds: [m.id], reason: 'none of his business' })
    expect(refused.status).toBe(404)
  })
  it('never stand between a matter and its lead, and are raised by nobody else', async () => {
    const m = await office.matter(who.noor, 'Skerry Docks')
    const input = { userId: ids.noor, matterIds: [m.id], reason: 'x' }
    expect((await who.ferdi.post('/walls', input)).body.fields[0]?.message).toMatch(/lead/)
    expect((await who.orla.post('/walls', input)).status).toBe(403)
  })
})

describe('the log of the firm', () => {
  const log = async (q: Record<string, string | number>) =>
    (await who.ferdi.get<Log>(`/log?${new URLSearchParams(Object.entries(q).map(([k, v]) => [k, String(v)])).toString()}`)).body
  it('is read by person, kind, matter, words and span, and goes on from the last act seen', async () => {
    const m = await office.matter(who.noor, 'Quern Mills')
    const own = await log({ matterId: m.id })
    expect(own.rows.length).toBeGreaterThan(0)
    expect(own.rows.every((l) => l.matterId === m.id && l.who === 'Noor Haddad-Lind')).toBe(true)
    expect((await log({ matterId: m.id, userId: ids.tomas })).rows).toEqual([])
    expect((await log({ matterId: m.id, from: '2026-11-24' })).rows).toEqual([])
    expect((await log({ q: 'Quern Mills made' })).rows.map((l) => l.kind)).toEqual(['made'])
    const first = await log({ size: 3 })
    const next = await log({ size: 3, before: first.rows[2]!.id })
    expect(next.rows.every((l) => l.id < first.rows[2]!.id)).toBe(true)
  })
  it('shows an administrator no act on a matter they are shut out of, nor a private contact of another', async () => {
    const m = await office.matter(who.noor, 'Tansy Walled')
    await who.noor.must('POST', '/contacts', { kind: 'person', name: 'Tansy Private', kinds: [], isPrivate: true })
    await who.noor.must('POST', `/matters/${m.id}/screens`, { userId: ids.ferdi, reason: 'a sister' })
    const said = JSON.stringify(await log({ q: 'Tansy' }))
    expect(said).not.toContain('Tansy Private')
    expect((await log({ matterId: m.id })).rows).toEqual([])
    const file = (await who.ferdi.get('/log.csv?q=Tansy')).bytes.toString()
    expect(file).toContain('At,Who,Kind')
    expect(file).not.toContain('Tansy Private')
  })
  it('is the administrator’s', async () => {
    expect((await who.noor.get('/log')).status).toBe(403)
  })
})

describe('what the firm sets', () => {
  it('reminds by the firm’s days and from its hour on', async () => {
    const was = await who.ferdi.must<object>('GET', '/firm/reminders')
    await who.ferdi.must('PUT', '/firm/reminders', { usual: [3, 0, 3], strict: [15], lettersFrom: '23:59' })
    expect(await who.ferdi.must('GET', '/firm/reminders')).toEqual({ usual: [3, 0], strict: [15], lettersFrom: '23:59' })
    expect((await who.tomas.get<{ leads: number[] }>('/reminders')).body.leads).toEqual([3, 0])
    expect(await isMorning(office.running.base)).toBe(false)
    const none = await who.ferdi.put('/firm/reminders', { usual: [], strict: [], lettersFrom: '06:00' })
    expect(none.body.fields[0]?.path).toBe('strict')
    await who.ferdi.must('PUT', '/firm/reminders', was)
  })
  it('keeps the letterhead, and shows a sample before', async () => {
    const head = { line: 'Attorneys at law', email: 'office@callowayfenn.example', web: '', foot: 'Pay to the trust account only as told.' }
    const sample = await who.ferdi.get(`/firm/letterhead/sample?${new URLSearchParams(head).toString()}`)
    expect(sample.bytes.subarray(0, 5).toString()).toBe('%PDF-')
    await who.ferdi.must('PUT', '/firm/letterhead', head)
    expect(await who.ferdi.must('GET', '/firm/letterhead')).toEqual(head)
    expect((await who.ferdi.put('/firm/letterhead', { ...head, email: 'nowhere' })).body.fields[0]?.path).toBe('email')
  })
  it('never gives a check’s number again, nor an account’s', async () => {
    const all = await who.ferdi.must<{
      banks: { id: number; name: string; bank: string; ending: string; nextCheck: number; kind: string; lastCheck: number | null }[]
      chart: { id: number; code: string; name: string }[]
    }>('GET', '/accounts')
    const { id, name, bank, ending } = all.banks.find((b) => b.kind === 'pooled')!
    await run(office.db.manager, `INSERT INTO check_number (bank_account_id, number, used_at) VALUES (?, 88001, NOW())`, [id])
    const low = await who.ferdi.put(`/accounts/banks/${id}`, { name, bank, ending, nextCheck: 88_001 })
    expect(low.body.fields[0]?.message).toMatch(/88001 was used/)
    await who.ferdi.must('PUT', `/accounts/banks/${id}`, { name, bank, ending, nextCheck: 88_002 })
    const taken = await who.ferdi.post('/accounts', { code: all.chart[0]!.code, name: 'Again', kind: 'expense' })
    expect(taken.body.fields[0]?.path).toBe('code')
    const made = await who.ferdi.must<{ id: number }>('POST', '/accounts', { code: '5555', name: 'Coffee', kind: 'expense' })
    await who.ferdi.must('PUT', `/accounts/${made.id}`, { code: '5556', name: 'Coffee and tea' })
  })
  it('asks for one backup at a time', async () => {
    await run(office.db.manager, `DELETE FROM backup`)
    await who.ferdi.must('POST', '/backups', {})
    expect((await who.ferdi.post('/backups', {})).body.code).toBe('backup-running')
    const list = await who.ferdi.must<{ rows: { state: string; who: string }[] }>('GET', '/backups')
    expect(list.rows[0]).toMatchObject({ state: 'wanted', who: 'Ferdi Kranz' })
  })
})

describe('work in the background', () => {
  it('that failed is shown with its reason, told of on Today, and tried again or given up', async () => {
    const add = async (state: string, error: string | null, at: string) =>
      (
        (await office.db.query(
          `INSERT INTO job (kind, payload, state, attempts, run_after, error, user_id, created_at) VALUES ('make paper', '{}', ?, 3, '2099-01-01', ?, ?, ?)`,
          [state, error, ids.noor, at],
        )) as { insertId: number }
      ).insertId
    const failed = await add('failed', 'No template of that name', '2026-11-23 10:00:00')
    const fresh = await add('waiting', 'The converter does not answer', '2026-11-23 13:59:00')
    const fine = await add('waiting', null, '2026-11-23 13:59:00')
    interface Job {
      id: number
      state: string
      error: string
    }
    const list = await who.ferdi.must<Job[]>('GET', '/jobs/stuck')
    expect(list.find((j) => j.id === failed)).toMatchObject({ state: 'failed', error: 'No template of that name' })
    expect(list.some((j) => j.id === fresh)).toBe(true)
    expect(list.some((j) => j.id === fine)).toBe(false)
    const before = (await who.ferdi.must<{ stuck: number }>('GET', '/waiting')).stuck
    expect(before).toBeGreaterThan(0)
    expect((await who.noor.must<{ stuck: number }>('GET', '/waiting')).stuck).toBe(0)
    await who.ferdi.must('PUT', `/jobs/${failed}`, { what: 'give up' })
    expect((await who.ferdi.must<{ stuck: number }>('GET', '/waiting')).stuck).toBe(before - 1)
    await who.ferdi.must('PUT', `/jobs/${fresh}`, { what: 'try again' })
    // A worker may have taken it at once; its tries were counted anew in any case.
    const [again] = (await office.db.query(`SELECT attempts FROM job WHERE id = ?`, [fresh])) as { attempts: number }[]
    expect(again!.attempts).toBeLessThan(3)
    expect((await who.ferdi.put(`/jobs/${fine}`, { what: 'give up' })).status).toBe(404)
    await office.db.query(`DELETE FROM job WHERE id IN (?, ?, ?)`, [failed, fresh, fine])
  })
})
