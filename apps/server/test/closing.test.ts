import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row } from '../src/platform'
import { Office, type Person } from './office'

let office: Office
const who = {} as Record<'noor' | 'orla' | 'jun', Person>
beforeAll(async () => {
  office = await Office.open()
  for (const n of ['noor', 'orla', 'jun'] as const) who[n] = await office.signIn(n)
})
afterAll(() => office.close())

describe('closing', () => {
  it('asks for each open thing, blocks on trust money, clears calendars, and reopens with what is still ahead', async () => {
    await office.matter(who.noor, 'Closing Tyme')
    const m = await office.matter(who.noor, 'Closing Time')
    await office.deposit(who.orla, m, 500_00)
    await who.noor.must('POST', `/matters/${m.id}/docket`, { title: 'Ahead', weight: 'court order', day: '2026-12-15' })
    await who.noor.must('POST', '/tasks', { text: 'Left over', matterId: m.id, assigneeId: await office.user('Billie') })
    const found = await who.noor.must<{ key: string; blocks: boolean }[]>('GET', `/matters/${m.id}/closing`)
    expect(found.map((f) => f.key)).toEqual(['trust', 'dates', 'tasks', 'conflicts'])
    const close = (accepted: string[]) => who.noor.post(`/matters/${m.id}/closed`, { day: '2026-11-23', accepted })
    expect((await close(['trust', 'dates', 'tasks', 'conflicts'])).body.code).toBe('closing-blocked')
    const ledger = await row<{ id: number }>(office.db.manager, `SELECT id FROM client_ledger WHERE matter_id = ?`, [m.id])
    await who.orla.must('POST', '/trust/payments/now', {
      ledgerId: ledger!.id,
      day: '2026-11-20',
      payeeName: 'Closing Time',
      amount: 500_00,
    })
    expect((await close(['dates'])).body.code).toBe('closing-asks')
    expect((await close(['dates', 'tasks', 'conflicts'])).status).toBe(200)
    const agenda = async () => JSON.stringify((await who.jun.get('/docket?from=2026-11-23&courtDays=30&scope=firm')).body)
    expect(await agenda()).not.toContain('Ahead')
    expect((await who.noor.post('/tasks', { text: 'more', matterId: m.id, assigneeId: await office.user('Noor') })).body.code).toBe(
      'matter-closed',
    )
    expect((await who.noor.post(`/matters/${m.id}/docket`, { title: 'x', weight: 'appointment', day: '2026-12-01' })).body.code).toBe(
      'matter-closed',
    )
    expect(await who.noor.must('POST', `/matters/${m.id}/reopened`, { reason: 'more work' })).toEqual({ dates: 1 })
    expect(await agenda()).toContain('Ahead')
  })
  it('deletes only what never had work on it, and never gives its number out again', async () => {
    const bare = await office.matter(who.noor, 'Opened By Mistake')
    const busy = await office.matter(who.noor, 'Worked On')
    await who.noor.must('POST', '/notes', { matterId: busy.id, html: '<p>work</p>' })
    expect((await who.noor.call('DELETE', `/matters/${busy.id}`)).body.code).toBe('matter-has-work')
    expect((await who.noor.call('DELETE', `/matters/${bare.id}`)).status).toBe(200)
    expect((await who.noor.get(`/matters/${bare.id}`)).status).toBe(404)
    expect((await office.matter(who.noor, 'After The Mistake')).number).not.toBe(bare.number)
  })
})

describe('a practice matter', () => {
  it('stays out of the books: no bill, no cost, no money in trust, and its time counts nowhere', async () => {
    const m = await office.matter(who.noor, 'Practice Run', { kind: 'practice' })
    const time = await who.noor.must<{ id: number }>('POST', '/time', { matterId: m.id, day: '2026-11-20', text: 'trying', duration: '2' })
    await who.noor.must('POST', '/time/post', { ids: [time.id] })
    expect(await who.noor.must('GET', '/matters/totals?q=practice+run')).toMatchObject({ matters: 1, unbilled: 0 })
    expect((await who.noor.post('/pre-bills', { matterId: m.id, workTo: '2026-11-30' })).body.code).toBe('practice-matter')
    const receipt = { clientId: m.clientId, matterId: m.id, depositor: 'x', kind: 'wire', amount: 1_00 }
    const sheet = await who.orla.post('/trust/sheets', {
      bankAccountId: await office.bank('pooled'),
      day: '2026-11-20',
      controlTotal: 1_00,
      receipts: [receipt],
    })
    expect(sheet.body.fields[0]).toMatchObject({ path: 'receipts.0.matterId' })
  })
})
