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
