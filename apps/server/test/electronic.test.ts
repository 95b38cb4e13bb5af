import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { Office, today, type Person } from './office'

let office: Office
let noor: Person
let orla: Person
let ferdi: Person
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  orla = await office.signIn('orla')
  ferdi = await office.signIn('ferdi')
})
afterAll(() => office.running.stop())

const usual = { dueDays: null, interestBasisPoints: null, graceDays: null }
const terms = (path: string, more: object) => noor.call('PUT', `${path}/bill-terms`, { ...usual, ...more })
const posted = async (m: { id: number }, more: object) => {
  const { id } = await noor.must<{ id: number }>('POST', '/time', {
    matterId: m.id,
    day: '2026-10-20',
    text: 'Work',
    rate: 100_00,
    ...more,
  })
  await noor.must('POST', '/time/post', { ids: [id] })
}
const preBillOf = (m: { id: number }) => noor.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: '2026-10-31' })

describe('bills for clients that ask for LEDES 1998B', () => {
  it('name what they need, are not sent without it, and go out with the file once they have it', async () => {
    await office.alone('time fields', async () => {
      await ferdi.must('PUT', '/time/fields', { fields: ['activity', 'task'], funding: [] })
      const m = await office.matter(noor, 'Ledesworth')
      const kind = (await office.db.query<{ id: number }[]>(`SELECT id FROM cost_kind WHERE code = 'COPY'`))[0]!.id
      expect((await noor.post('/time', { matterId: m.id, day: today, text: 'x', duration: '1', task: 'L999' })).body.fields[0]!.path).toBe(
        'task',
      )
      await posted(m, { duration: '0.7', rate: 285_00, activity: 'A103', task: 'L120' })
      await posted(m, { duration: '1', activity: null })
      await orla.must('POST', `/matters/${m.id}/costs`, { day: '2026-10-20', kindId: kind, units: '168', text: 'Copies' })
      const pre = await preBillOf(m)
      await noor.must('POST', `/pre-bills/${pre.id}/approve`, { approved: true })
      const bill = await orla.must<{ id: number; number: string }>('POST', `/pre-bills/${pre.id}/issue`, { day: today })
      await terms(`/contacts/${m.clientId}`, { format: 'ledes', theirNumber: 'LW-1' })
      await office.db.query(`UPDATE firm SET tax_number = ''`)
      const check = () => orla.must<{ format: string; faults: string[] }>('GET', `/bills/${bill.id}/ledes/check`)
      expect(await check()).toEqual({ format: 'ledes', faults: ['The client’s number of the matter is missing', 'The firm’s number (tax ID) is missing', 'Line 2 needs a task code', 'Line 2 needs an activity code'] }) // prettier-ignore
      const letter = { name: 'C', email: 'c@ledes.example', subject: 'Bill', body: 'It is here.' }
      expect((await orla.post(`/bills/${bill.id}/send`, letter)).body.code).toBe('ledes-faults')
      expect((await orla.get(`/bills/${bill.id}/ledes`)).status).toBe(409)
      await terms(`/matters/${m.id}`, { theirNumber: 'LIT-9' })
      await office.db.query(`UPDATE firm SET tax_number = '04-1234567'`)
      await office.db.query(`UPDATE time_entry SET task = 'L210', activity = 'A104' WHERE matter_id = ? AND task IS NULL`, [m.id])
      expect((await check()).faults).toEqual([])
      const rows = (await orla.get(`/bills/${bill.id}/ledes`)).bytes.toString().split('\r\n')
      expect(rows[0]).toBe('LEDES1998B[]')
      expect(rows[2]!.split('|').slice(1, 5)).toEqual([bill.number, 'LW-1', m.number, '341.50'])
      expect(rows[4]).toContain('|E|168.00|0.00|42.00|')
      expect((await orla.post(`/bills/${bill.id}/send`, letter)).status).toBe(200)
      const files = await office.db.query<{ name: string }[]>(`SELECT f.name FROM mail_file f JOIN mail l ON l.message_key = f.message_key WHERE l.to_address = ?`, [letter.email]) // prettier-ignore
      expect(files.map((f) => f.name)).toEqual([`Bill ${bill.number}.pdf`, `${bill.number}.txt`])
    })
  })
})

describe('a budget of a matter', () => {
  it('is shown at entry, and those who are to know are told once at each share', async () => {
    const m = await office.matter(noor, 'Capham')
    const orlaId = await office.user('Orla')
    expect((await terms(`/matters/${m.id}`, { capped: true })).body.fields[0]!.path).toBe('budget')
    expect((await terms(`/matters/${m.id}`, { budget: 1_000_00, warnAt: 'half' })).body.fields[0]!.path).toBe('warnAt')
    expect((await terms(`/matters/${m.id}`, { budget: 1_000_00, capped: true, warnAt: '75, 90', warnIds: [orlaId] })).status).toBe(200)
    await posted(m, { duration: '5' })
    const quote = await noor.must<{ budget: { percent: number; capped: boolean; left: number } }>('POST', '/time/quote', { matterId: m.id, day: today, duration: '4.2', rate: 100_00 }) // prettier-ignore
    expect(quote.budget).toEqual({ percent: 92, capped: true, left: 80_00 })
    const told = async () => (await office.db.query<{ subject: string }[]>(`SELECT subject FROM mail WHERE matter_id = ? ORDER BY created_at`, [m.id])).map((l) => l.subject) // prettier-ignore
    expect(await told()).toEqual([])
    await posted(m, { duration: '3' })
    await posted(m, { duration: '0.2' })
    expect(await told()).toEqual(['Capham, test matter: 80 % of the cap used'])
    await orla.must('POST', `/matters/${m.id}/costs`, { day: '2026-10-20', kind: 'hard cost', text: 'Fee', amount: 200_00, payee: 'Clerk' })
    expect((await told()).at(-1)).toBe('Capham, test matter: 102 % of the cap used')
    // What is billed, and credited, counts as such.
    const pre = await preBillOf(m)
    expect((await noor.must<{ budget: { used: number; percent: number } }>('GET', `/pre-bills/${pre.id}`)).budget).toMatchObject({ used: 1_020_00, percent: 102 }) // prettier-ignore
    expect((await noor.call('PUT', `/pre-bills/${pre.id}/discount`, { amount: 0, basisPoints: 0, target: 100_00 })).body.fields[0]!.path).toBe('target') // prettier-ignore
    await noor.must('PUT', `/pre-bills/${pre.id}/discount`, { amount: 0, basisPoints: 0, target: 1_000_00 })
    await noor.must('POST', `/pre-bills/${pre.id}/approve`, { approved: true })
    const bill = await orla.must<{ id: number }>('POST', `/pre-bills/${pre.id}/issue`, { day: today })
    expect((await orla.must<{ total: number }>('GET', `/bills/${bill.id}`)).total).toBe(1_000_00)
    const stands = async () => (await noor.must<{ stands: { used: number } }>('GET', `/matters/${m.id}/bill-terms`)).stands.used
    expect(await stands()).toBe(1_000_00)
    await orla.must('POST', `/bills/${bill.id}/credit-notes`, { day: today, amount: 300_00, reason: 'goodwill' })
    expect(await stands()).toBe(700_00)
    // Those who see no bills are told of no budget.
    const billie = await office.signIn('billie')
    expect((await billie.must<{ budget: unknown }>('POST', '/time/quote', { matterId: m.id, day: today, duration: '1' })).budget).toBeNull()
  })
})

describe('a pre-bill', () => {
  it('carries what reviewer and bookkeeper say, told to the others, and says with whom it lies', async () => {
    const m = await office.matter(noor, 'Commentby')
    await posted(m, { duration: '1' })
    const pre = await orla.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: '2026-10-31' })
    const say = (who: Person, text: string) => who.post(`/pre-bills/${pre.id}/comments`, { text })
    expect((await say(orla, '')).status).toBe(400)
    expect((await say(orla, 'Is the research theirs to pay?')).status).toBe(200)
    expect((await say(noor, 'Half of it; see line 1')).status).toBe(200)
    const one = await noor.must<{ comments: { by: string; text: string }[]; liesWith: { who: string } }>('GET', `/pre-bills/${pre.id}`)
    expect(one.comments.map((c) => c.by.split(' ')[0])).toEqual(['Orla', 'Noor'])
    expect(one.liesWith.who).toMatch(/^Noor/)
    const told = await office.db.query<{ to_address: string }[]>(`SELECT to_address FROM mail WHERE matter_id = ? ORDER BY message_key`, [
      m.id,
    ])
    expect(told.map((l) => l.to_address.split('@')[0]).sort()).toEqual(['noor', 'orla'])
    await noor.must('POST', `/pre-bills/${pre.id}/approve`, { approved: true })
    expect((await orla.must<{ liesWith: { who: string } }>('GET', `/pre-bills/${pre.id}`)).liesWith.who).toBe('whoever issues bills')
    expect((await say(await office.signIn('billie'), 'x')).status).toBe(403)
    await noor.call('DELETE', `/pre-bills/${pre.id}`)
    expect((await say(noor, 'x')).status).toBe(404)
  })
})
