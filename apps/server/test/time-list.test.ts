import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { Office, today, type Person } from './office'

let office: Office
let noor: Person
let orla: Person
let jun: Person
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  orla = await office.signIn('orla')
  jun = await office.signIn('jun')
})
afterAll(() => office.running.stop())

interface List {
  rows: { id: number; day: string; minutes: number; amount: number }[]
  more: boolean
}
interface Sums {
  entries: number
  minutes: number
  worth: number
  tooMany: boolean
  groups: { key: string; name: string; entries: number; minutes: number; worth: number }[]
}

describe('the time of the firm', () => {
  it('is narrowed by any mix of filters, and its sums and its file are those of the same entries', async () => {
    const m = await office.matter(noor, 'Listshire')
    const entry = (more: object) =>
      noor.must<{ id: number }>('POST', '/time', {
        matterId: m.id,
        day: today,
        text: 'Reading 100% of it',
        duration: '1',
        rate: 200_00,
        ...more,
      })
    const posted = await entry({})
    await entry({ charge: 'no charge', text: 'A courtesy' })
    const older = await entry({ day: '2026-09-02', duration: '0.5', text: 'Older work' })
    await noor.must('POST', '/time/post', { ids: [posted.id, older.id] })
    const q = `matterId=${m.id}`
    const sums = await orla.must<Sums>('GET', `/time/sums?${q}&by=month`)
    expect(sums).toMatchObject({ entries: 3, minutes: 150, worth: 300_00, tooMany: false })
    expect(sums.groups.map((g) => [g.key, g.minutes, g.worth])).toEqual([
      [today.slice(0, 7), 120, 200_00],
      ['2026-09', 30, 100_00],
    ])
    for (const [narrow, n] of [
      ['state=draft', 1],
      ['state=unbilled', 2],
      ['state=billed', 0],
      ['charge=no%20charge', 1],
      ['q=100%25%20of', 1],
      ['q=1__%25', 0],
      ['to=2026-09-30', 1],
      ['from=2026-09-03', 2],
      ['inCourt=yes', 0],
      [`userId=${await office.user('noor')}`, 3],
    ] as const) {
      expect((await orla.must<List>('GET', `/time/all?${q}&${narrow}`)).rows.length, narrow).toBe(n)
      expect((await orla.must<Sums>('GET', `/time/sums?${q}&${narrow}`)).entries, narrow).toBe(n)
    }
    const first = await orla.must<List>('GET', `/time/all?${q}&size=2`)
    expect([first.rows.length, first.more]).toEqual([2, true])
    const second = await orla.must<List>('GET', `/time/all?${q}&size=2&page=2`)
    expect(second.rows.map((r) => r.id)).toEqual([older.id])
    const file = (await orla.get(`/time/file?${q}&columns=day,minutes,amount`)).bytes.toString()
    expect(file.split('\r\n').slice(0, 2)).toEqual(['\uFEFFDate,Hours,Amount', `${today},1.00,200.00`])
    // Sums of each group are those of the whole, whatever they are told apart by.
    for (const by of ['person', 'matter', 'client', 'area', 'activity', 'charge', 'funding']) {
      const g = await orla.must<Sums>('GET', `/time/sums?${q}&by=${by}`)
      expect(
        g.groups.reduce((n, x) => n + x.worth, 0),
        by,
      ).toBe(300_00)
    }
  })

  it('is priced by rates that stand in one list, with whom and what each is for', async () => {
    const m = await office.matter(noor, 'Rateshire')
    await noor.must('PUT', `/matters/${m.id}/terms`, {
      unit: null,
      rounding: null,
      fundingId: null,
      roles: [{ role: 'paralegal', rate: 133_00 }],
    })
    const list = (q: string) =>
      noor.must<{ rows: { kind: string; who: string; of: string; rate: number }[]; total: number }>('GET', `/rates?q=${q}`)
    expect((await list('Rateshire')).rows).toMatchObject([{ kind: 'role', who: 'paralegal', rate: 133_00 }])
    expect((await list('Noor')).rows.some((r) => r.kind === 'timekeeper' && r.rate > 0)).toBe(true)
    expect((await jun.get('/rates')).status).toBe(403)
  })

  it('has fields of the firm’s own, kept, shown, filed and split with the entry', async () => {
    const ferdi = await office.signIn('ferdi')
    const group = await ferdi.must<{ id: number }>('POST', '/field-groups', { owner: 'time', name: 'Where it was', repeating: false })
    const field = await ferdi.must<{ id: number }>('POST', '/fields', { groupId: group.id, name: 'Place', type: 'text', required: true })
    const m = await office.matter(noor, 'Fieldshire')
    const entry = { matterId: m.id, day: today, text: 'Survey', duration: '1', rate: 100_00 }
    expect((await noor.post('/time', { ...entry, fields: {} })).body.fields?.[0]?.path).toBe('fields')
    const { id } = await noor.must<{ id: number }>('POST', '/time', { ...entry, fields: { [field.id]: ['Quay'] } })
    expect(await noor.must('GET', `/time/${id}/fields`)).toEqual({ [field.id]: ['Quay'] })
    expect((await jun.get(`/time/${id}/fields`)).status).toBe(404)
    await noor.must('POST', '/time/post', { ids: [id] })
    const correction = { ...entry, activity: null, charge: 'billable', reason: 'the other place' }
    await noor.must('PUT', `/time/${id}/correction`, { ...correction, fields: { [field.id]: ['Dock'] } })
    const part = await noor.must<{ id: number }>('POST', `/time/${id}/split`, { duration: '0.5', text: 'a', restText: 'b' })
    expect(await noor.must('GET', `/time/${part.id}/fields`)).toEqual({ [field.id]: ['Dock'] })
    const list = await orla.must<{ rows: { fields: object }[] }>('GET', `/time/all?matterId=${m.id}&fields=${field.id}`)
    expect(list.rows.map((r) => r.fields)).toEqual([{ [field.id]: 'Dock' }, { [field.id]: 'Dock' }])
    const file = (await orla.get(`/time/file?matterId=${m.id}&columns=text,f${field.id}`)).bytes.toString()
    expect(file).toContain('Work,Place\r\n')
    await ferdi.must('PUT', `/fields/${field.id}`, { groupId: group.id, name: 'Place', type: 'text', retired: true })
  })

  it('is written with words of the firm and names around the matter taken for right', async () => {
    const m = await office.matter(noor, 'Quorvane Spelling')
    await noor.must('POST', '/spelling', { word: 'bunkering' })
    await noor.must('POST', '/spelling', { word: 'bunkering' })
    const known = await noor.must<{ words: string[]; names: string[] }>('GET', `/spelling?matterId=${m.id}`)
    expect(known.words.filter((w) => w === 'bunkering')).toHaveLength(1)
    expect(known.names).toContain('Quorvane')
    for (const word of ['two words', 'a1', '', 'x'.repeat(61)]) expect((await noor.post('/spelling', { word })).status).toBe(400)
    expect((await noor.put('/spelling', { words: [] })).status).toBe(403)
  })

  it('is one’s own alone where one does not see bills', async () => {
    const all = await jun.must<{ rows: { userId: number }[] }>('GET', '/time/all?size=200')
    expect(new Set(all.rows.map((r) => r.userId)).size).toBeLessThanOrEqual(1)
    expect((await jun.must<Sums>('GET', `/time/sums?userId=${await office.user('noor')}`)).entries).toBe(0)
  })
})
