import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row } from '../src/platform'
import { Office, today, type Person } from './office'

let office: Office
const who = {} as Record<'noor' | 'orla' | 'sable', Person>
beforeAll(async () => {
  office = await Office.open()
  for (const n of ['noor', 'orla', 'sable'] as const) who[n] = await office.signIn(n)
})
afterAll(() => office.running.stop())

describe('what needs a decision', () => {
  it('is gathered until it is decided', async () => {
    const m = await office.matter(who.noor, 'Decided Ltd')
    const { id: entry } = await who.noor.must<{ id: number }>('POST', '/time', {
      matterId: m.id,
      day: '2026-11-02',
      duration: '1',
      rate: 100_00,
      text: 'work',
    })
    await who.noor.must('POST', '/time/post', { ids: [entry] })
    const { id } = await who.noor.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: today })
    const held = async () => (await who.noor.must<{ kinds: { key: string; count: number }[] }>('GET', '/oversight/decisions')).kinds.find((k) => k.key === 'pre-bills')?.count ?? 0 // prettier-ignore
    const before = await held()
    await who.noor.must('POST', `/pre-bills/${id}/approve`, { approved: true })
    expect(await held()).toBe(before - 1)
    expect((await who.sable.get('/oversight/decisions')).status).toBe(403)
  })

  it('goes when it was asked for, and what was put off comes again on its day', async () => {
    type Found = { kinds: { key: string; rows: { key: string; text: string }[]; aside: string | null }[]; aside: number }
    const found = (p: Person) => p.must<Found>('GET', '/oversight/decisions')
    const at = async (p: Person, kind: string, key: string) =>
      (await found(p)).kinds.find((k) => k.key === kind)?.rows.some((r) => r.key === key) ?? false
    // Nobody has asked yet; then the client is asked for all that lacks.
    const m = await office.matter(who.noor, 'Lowwater Ltd')
    const bank = (await row<{ id: number }>(office.db.manager, `SELECT id FROM bank_account WHERE kind = 'pooled' ORDER BY id LIMIT 1`))!.id
    await office.db.manager.query(`INSERT INTO matter_retainer (matter_id, floor_amount, fill_to) VALUES (?, 100000, 150000)`, [m.id])
    expect(await at(who.noor, 'trust', String(m.id))).toBe(true)
    const ask = async (amount: number) => {
      const { id } = await who.orla.must<{ id: number }>('POST', '/calls', {
        bankAccountId: bank,
        clientId: m.clientId,
        matterId: m.id,
        amount,
      })
      await who.orla.must('POST', `/calls/${id}/send`)
    }
    await ask(400_00)
    expect(await at(who.noor, 'trust', String(m.id))).toBe(true)
    await ask(600_00)
    expect(await at(who.noor, 'trust', String(m.id))).toBe(false)
    // What is put off is so for its reader alone, and comes again on its day.
    const { id } = await office.matter(who.noor, 'Shallows Ltd')
    await office.db.manager.query(`INSERT INTO matter_retainer (matter_id, floor_amount, fill_to) VALUES (?, 100000, 150000)`, [id])
    const key = String(id)
    const before = await found(who.noor)
    expect(before.kinds.find((k) => k.key === 'trust')).toMatchObject({ aside: 'trust' })
    await who.noor.must('POST', '/oversight/decisions/put-off', { kind: 'trust', key, days: 7 })
    expect([await at(who.noor, 'trust', key), (await found(who.noor)).aside, await at(who.orla, 'trust', key)]).toEqual([
      false,
      before.aside + 1,
      true,
    ])
    await office.db.manager.query(`UPDATE decision_aside SET until = ? WHERE user_id = ? AND item = ?`, [
      today,
      await office.user('Noor'),
      key,
    ])
    expect(await at(who.noor, 'trust', key)).toBe(true)
    await who.noor.must('POST', '/oversight/decisions/put-off', { kind: 'trust', key, days: 1 })
    await who.noor.must('POST', '/oversight/decisions/take-up')
    expect(await at(who.noor, 'trust', key)).toBe(true)
    for (const wrong of [
      { kind: 'dates', key, days: 7 },
      { kind: 'trust', key, days: 32 },
      { kind: 'trust', key: '', days: 7 },
    ])
      expect((await who.noor.post('/oversight/decisions/put-off', wrong)).status).toBe(400)
    expect((await who.sable.post('/oversight/decisions/put-off', { kind: 'trust', key, days: 7 })).status).toBe(403)
  })
})
