import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { Office, today, type Person } from './office'

let office: Office
let noor: Person
let ferdi: Person
let orla: Person
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  ferdi = await office.signIn('ferdi')
  orla = await office.signIn('orla')
})
afterAll(() => office.running.stop())

interface Row {
  id: number
  minutes: number
  amount: number
  rateOrigin: string
  start: string | null
  inCourt: boolean
  funding: string | null
  privateAttorney: boolean
}
interface SetUp {
  fields: string[]
  funding: { id: number; name: string; from: string | null; to: string | null; retired: boolean }[]
}
const all = ['activity', 'times', 'amount', 'court', 'funding', 'private attorney', 'note']
const setUp = (fields: string[], funding: object[] = []) => ferdi.must('PUT', '/time/fields', { fields, funding })
const record = (m: { id: number }, more: object) =>
  noor.post<{ id: number }>('/time', { matterId: m.id, day: today, text: 'Hearing', ...more })
const of = async (m: { id: number }) => (await noor.must<{ time: Row[] }>('GET', `/matters/${m.id}/time`)).time

describe('an entry of time', () => {
  it('takes its time from start and end, or has an amount alone, and nothing that contradicts itself', async () => {
    await office.alone('time fields', async () => {
      await setUp(all)
      const m = await office.matter(noor, 'Timeshire')
      expect((await record(m, { start: '09:10', end: '10:00', rate: 285_00 })).status).toBe(200)
      expect((await of(m))[0]).toMatchObject({ start: '09:10', minutes: 54, amount: 256_50 })
      const { id } = (await record(m, { amount: 750_00 })).body
      expect((await of(m))[0]).toMatchObject({ id, minutes: 0, amount: 750_00, rateOrigin: 'amount alone' })
      for (const [more, field] of [
        [{ start: '10:00', end: '09:00' }, 'end'],
        [{ start: '10:00' }, 'end'],
        [{ end: '10:00' }, 'start'],
        [{ start: '09:00', end: '10:00', duration: '0.5' }, 'duration'],
        [{ amount: 100, duration: '1' }, 'amount'],
        [{}, 'duration'],
        [{ start: '25:00', end: '26:00' }, 'start'],
      ] as const)
        expect((await record(m, more)).body.fields?.[0]?.path, JSON.stringify(more)).toBe(field)
      // It is posted, billed and corrected like any other.
      await noor.must('POST', '/time/post', { ids: [id] })
      const change = { matterId: m.id, day: today, activity: null, text: 'Hearing', charge: 'billable', rate: null, reason: 'agreed' }
      expect((await noor.call('PUT', `/time/${id}/correction`, { ...change, amount: 700_00 })).status).toBe(200)
      expect((await of(m))[0]).toMatchObject({ amount: 700_00, minutes: 0 })
      expect((await noor.post(`/time/${id}/split`, { duration: '0.1', text: 'a', restText: 'b' })).body.code).toBe('not-reversible')
      const pre = await noor.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: today })
      expect((await noor.must<{ totals: { total: number } }>('GET', `/pre-bills/${pre.id}`)).totals.total).toBe(700_00)
      expect(await office.agrees()).toBe(true)
    })
  })

  it('carries court, private attorney and funding where the firm uses them, by the matter’s source while that is open', async () => {
    await office.alone('time fields', async () => {
      await setUp(all, [{ name: `Grant ${Date.now()}`, from: '2026-10-01', to: '2026-11-30' }])
      const { funding } = await noor.must<SetUp>('GET', '/time/fields')
      const grant = funding[funding.length - 1]!
      const m = await office.matter(noor, 'Grantham')
      await noor.must('PUT', `/matters/${m.id}/terms`, { unit: null, rounding: null, roles: [], fundingId: grant.id })
      await record(m, { duration: '1', inCourt: true, privateAttorney: true })
      expect((await of(m))[0]).toMatchObject({ inCourt: true, privateAttorney: true, funding: grant.name })
      await record(m, { duration: '1', fundingId: null })
      expect((await of(m))[0]!.funding).toBeNull()
      await record(m, { duration: '1', day: '2026-09-20' })
      expect((await of(m)).at(-1)!.funding).toBeNull()
      expect((await record(m, { duration: '1', day: '2026-09-20', fundingId: grant.id })).body.fields[0]!.path).toBe('fundingId')
      // What the firm does not use is not kept, whoever sends it.
      await setUp(['activity'], funding)
      await record(m, { duration: '1', day: '2026-11-20', inCourt: true, privateAttorney: true, fundingId: grant.id, start: '09:00', end: '10:00' }) // prettier-ignore
      expect((await of(m)).find((t) => !t.inCourt && t.funding === null && t.start === null)).toBeDefined()
      expect((await noor.call('PUT', '/time/fields', { fields: all, funding: [] })).status).toBe(403)
    })
  })

  it('brings a note to the file, tells colleagues and writes to someone outside', async () => {
    await office.alone('time fields', async () => {
      await setUp(all)
      const m = await office.matter(noor, 'Noteby')
      const orlaId = await office.user('Orla')
      const note = { text: 'Surveyor <b>late</b> & ill', toIds: [orlaId], email: 'expert@out.example' }
      expect((await record(m, { duration: '0.4', note })).status).toBe(200)
      const [kept] = await office.db.query<{ plain: string }[]>(`SELECT plain FROM note WHERE matter_id = ?`, [m.id])
      expect(kept!.plain).toContain('Surveyor <b>late</b> & ill')
      const letters = await office.db.query<{ to_address: string }[]>(`SELECT * FROM mail WHERE matter_id = ?`, [m.id])
      expect(JSON.stringify(letters)).toContain('expert@out.example')
      expect(JSON.stringify(letters)).toContain('orla@')
      expect((await record(m, { duration: '0.4', note: { ...note, email: 'no address' } })).body.fields[0]!.path).toBe('note.email')
    })
  })
})

describe('phrases', () => {
  it('are one’s own, or the firm’s, each code once', async () => {
    await noor.must('PUT', '/phrases', { firm: false, phrases: [{ code: 'tc', text: 'Telephone call with [whom]' }] })
    await ferdi.must('PUT', '/phrases', { firm: true, phrases: [{ code: 'rev', text: 'Review of [what]' }] })
    const codes = async (who: Person) =>
      (await who.must<{ code: string; own: boolean }[]>('GET', '/phrases')).map((p) => `${p.code} ${p.own}`)
    expect(await codes(noor)).toEqual(['tc true', 'rev false'])
    expect(await codes(await office.signIn('tomas'))).toEqual(['rev false'])
    expect((await noor.call('PUT', '/phrases', { firm: true, phrases: [] })).status).toBe(403)
    const twice = await noor.call<object>('PUT', '/phrases', { firm: false, phrases: [{ code: 'a', text: 'x' }, { code: 'A', text: 'y' }] }) // prettier-ignore
    expect(twice.body.fields[0]!.path).toBe('phrases.1.code')
    expect(await codes(noor)).toEqual(['tc true', 'rev false'])
  })
})

it('days of work with little time are shown to their owner, with what was done on them', async () => {
  const m = await office.matter(noor, 'Memoryford')
  const { goal, days } = await noor.must<{ goal: number; days: { day: string; minutes: number }[] }>('GET', '/time/missing')
  if (goal) expect(days.every((d) => d.minutes < goal && d.day < today && ![0, 6].includes(new Date(d.day).getUTCDay()))).toBe(true)
  const at = await noor.must<{ acts: { text: string; matterId: number }[] }>('GET', `/time/days/${today}`)
  expect(at.acts.some((a) => a.matterId === m.id)).toBe(true)
  expect((await orla.get(`/time/missing`)).status).toBe(403)
})

describe('a timer', () => {
  interface Timer {
    id: number
    seconds: number
    running: boolean
    overnight: boolean
    since: { day: string; time: string } | null
  }
  const timers = () => noor.must<Timer[]>('GET', '/timers')
  it('is corrected while it runs, and asks when it ran over the night', async () => {
    const m = await office.matter(noor, 'Timerby')
    const { id } = await noor.must<{ id: number }>('POST', '/timers', { matterId: m.id, text: 'Draft' })
    const one = async () => (await timers()).find((t) => t.id === id)!
    const began = (await one()).since!
    expect(began.day).toBe(today)
    expect((await noor.call('PUT', `/timers/${id}/hours`, { started: '23:59' })).body.fields[0]!.path).toBe('started')
    await noor.must('PUT', `/timers/${id}/hours`, { started: '00:00' })
    expect(Math.abs((await one()).seconds - (Number(began.time.slice(0, 2)) * 3600 + Number(began.time.slice(3)) * 60))).toBeLessThan(120)
    // It ran over the weekend: nobody knows until when it was work.
    await office.db.query(`UPDATE timer SET running_since = '2026-11-20 16:10:00' WHERE id = ?`, [id])
    expect(await one()).toMatchObject({ overnight: true, since: { day: '2026-11-20', time: '16:10' } })
    const stop = () => noor.post<{ id: number }>(`/timers/${id}/stop`, { matterId: m.id, text: 'Draft' })
    expect((await stop()).body.code).toBe('timer-forgotten')
    // Nor is it paused, by hand or by another one, with all those hours on it.
    expect((await noor.call<object>('PUT', `/timers/${id}`, { running: false })).body.code).toBe('timer-forgotten')
    expect((await noor.post('/timers', { text: 'Other' })).body.code).toBe('timer-forgotten')
    expect((await noor.call('PUT', `/timers/${id}/hours`, { ended: '16:00' })).body.fields[0]!.path).toBe('ended')
    await noor.must('PUT', `/timers/${id}/hours`, { ended: '17:34' })
    expect(await one()).toMatchObject({ running: false, seconds: 84 * 60 })
    expect((await stop()).status).toBe(200)
    const [entry] = await office.db.query<{ day: string; minutes: number }[]>(`SELECT day, minutes FROM time_entry WHERE matter_id = ?`, [
      m.id,
    ])
    expect(entry).toEqual({ day: '2026-11-20', minutes: 84 })
    const tomas = await office.signIn('tomas')
    expect((await tomas.call('PUT', `/timers/${id}/hours`, { started: '01:00' })).status).toBe(404)
  })
})

describe('unbilled time by the rates of now', () => {
  interface Shown {
    difference: number
    rows: { id: number; was: { amount: number }; now: { amount: number; origin: string } }[]
  }
  it('is shown with its differences, and rated anew as it was shown, in the books too', async () => {
    const m = await office.matter(noor, 'Anewton')
    const made = async (more: object = {}) => (await record(m, { day: '2026-11-02', duration: '1', ...more })).body.id
    const [draft, posted] = [await made(), await made()]
    const typed = await made({ rate: 100_00 })
    await noor.must('POST', '/time/post', { ids: [posted, typed] })
    const show = () => noor.must<Shown>('GET', `/time/rates-anew?matterId=${m.id}`)
    expect((await show()).rows).toEqual([])
    await noor.must('PUT', `/matters/${m.id}/terms`, { unit: null, rounding: null, roles: [{ role: 'lead', rate: 300_00 }] })
    const found = await show()
    expect(found.rows.map((r) => [r.id, r.now.amount, r.now.origin])).toEqual([draft, posted].map((id) => [id, 300_00, 'rate of the role on this matter'])) // prettier-ignore
    expect(found.difference).toBe(600_00 - found.rows.reduce((n, r) => n + r.was.amount, 0))
    const seen = found.rows.map((r) => ({ id: r.id, amount: r.now.amount }))
    const anew = (own: object[]) => noor.post('/time/rates-anew', { matterId: m.id, seen: own })
    expect((await anew([{ id: draft, amount: 1 }])).body.code).toBe('changed-since')
    expect((await anew([{ id: typed, amount: 300_00 }])).body.code).toBe('changed-since')
    expect((await anew(seen)).status).toBe(200)
    expect((await of(m)).map((t) => t.amount).sort()).toEqual([100_00, 300_00, 300_00])
    const [wip] = await office.db.query<{ n: string }[]>(`SELECT SUM(l.amount) AS n FROM journal_line l JOIN account a ON a.id = l.account_id WHERE a.role = 'work in progress' AND l.matter_id = ?`, [m.id]) // prettier-ignore
    expect(Number(wip!.n)).toBe(400_00)
    expect((await anew(seen)).body.code).toBe('changed-since')
    expect((await (await office.signIn('billie')).get(`/time/rates-anew?matterId=${m.id}`)).status).toBe(403)
    expect(await office.agrees()).toBe(true)
  })
})
