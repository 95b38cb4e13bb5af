import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { remindAlone } from '../src/billing'
import { Office, today, type Person } from './office'

let office: Office
let noor: Person
let orla: Person
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  orla = await office.signIn('orla')
})
afterAll(() => office.running.stop())

interface Row {
  id: number
  number: string
  days: number
  open: number
  step: number
  next: number | null
  interest: number
  disputed: string | null
  interestOf: string | null
}
const overdue = async (q: string) => (await orla.must<{ rows: Row[] }>('GET', `/overdue?q=${encodeURIComponent(q)}`)).rows
/** A bill of $6,154.00 that was due on 31 October, so that it is 23 days past due today. */
async function late(name: string, terms: object | null = { dueDays: 20, interestBasisPoints: 1200, graceDays: 6 }) {
  const m = await office.matter(noor, name)
  if (terms) await noor.must('PUT', `/matters/${m.id}/bill-terms`, terms)
  const entry = await noor.must<{ id: number }>('POST', '/time', { matterId: m.id, day: '2026-10-05', text: 'Work', duration: '20', rate: 307_70 }) // prettier-ignore
  await noor.must('POST', '/time/post', { ids: [entry.id] })
  const pre = await noor.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: '2026-10-10' })
  await noor.must('POST', `/pre-bills/${pre.id}/approve`, { approved: true })
  const bill = await orla.must<{ id: number; number: string }>('POST', `/pre-bills/${pre.id}/issue`, { day: '2026-10-11' })
  return { ...m, bill }
}

describe('overdue bills', () => {
  it('run up interest by the terms of the engagement, charged as numbered bills of their own', async () => {
    const m = await late('Latewick')
    // Six days of grace: seventeen of the twenty-three count, $34.39.
    expect(await overdue('Latewick')).toMatchObject([{ id: m.bill.id, days: 23, open: 615_400, interest: 3439 }])
    const charge = () => orla.post<{ made: { id: number; number: string; amount: number }[] }>('/overdue/interest', { billIds: [m.bill.id], day: today }) // prettier-ignore
    const first = await charge()
    expect(first.body.made).toMatchObject([{ amount: 3439 }])
    expect((await charge()).status).toBe(400)
    const bill = await orla.must<{ total: number; open: number; lines: { kind: string; text: string; net: number }[] }>('GET', `/bills/${first.body.made[0]!.id}`) // prettier-ignore
    expect(bill).toMatchObject({ total: 3439, open: 3439, lines: [{ kind: 'interest', net: 3439 }] })
    expect(bill.lines[0]!.text).toContain('12 % a year on what was open, November 7, 2026 to November 23, 2026')
    expect((await office.db.query<{ role: string; amount: number }[]>(`SELECT a.role, l.amount FROM journal_line l JOIN account a ON a.id = l.account_id JOIN bill b ON b.journal_id = l.journal_id WHERE b.id = ? ORDER BY l.amount`, [first.body.made[0]!.id])).map((x) => [x.role, Number(x.amount)])).toEqual([['interest', -3439], ['receivable', 3439]]) // prettier-ignore
    expect((await orla.get(`/bills/${first.body.made[0]!.id}/pdf`)).status).toBe(200)
    // A void takes the charge back: it may be charged anew.
    await orla.must('POST', `/bills/${first.body.made[0]!.id}/void`, { day: today, reason: 'too early' })
    expect((await overdue('Latewick')).find((r) => r.id === m.bill.id)!.interest).toBe(3439)
    expect((await charge()).body.made[0]!.amount).toBe(3439)
    expect(await office.agrees()).toBe(true)
  })

  it('run up none without terms, nor on what was paid, nor on interest itself', async () => {
    const plain = await late('Plainrow', { dueDays: 20, interestBasisPoints: null, graceDays: null })
    expect(await overdue('Plainrow')).toMatchObject([{ interest: 0 }])
    expect((await orla.post('/overdue/interest', { billIds: [plain.bill.id], day: today })).status).toBe(400)
    const m = await late('Paidholt', { dueDays: 20, interestBasisPoints: 1200, graceDays: 0 })
    await orla.must('POST', `/bills/${m.bill.id}/payments`, { day: '2026-11-10', amount: 515_400, kind: 'check' })
    // $6,154.00 for ten days, with that of the payment, then $1,000.00 for thirteen: 20.2323 + 4.2740.
    expect(await overdue('Paidholt')).toMatchObject([{ open: 100_000, interest: 2451 }])
    const { made } = await orla.must<{ made: { id: number }[] }>('POST', '/overdue/interest', { billIds: [m.bill.id], day: today })
    expect((await orla.post('/overdue/interest', { billIds: made.map((b) => b.id), day: today })).status).toBe(400)
    expect((await noor.call('PUT', `/matters/${m.id}/bill-terms`, { dueDays: null, interestBasisPoints: null, graceDays: 5 })).status).toBe(
      400,
    )
    await noor.must('PUT', `/contacts/${m.clientId}/bill-terms`, { dueDays: 12, interestBasisPoints: 600, graceDays: 0 })
    await noor.must('PUT', `/matters/${m.id}/bill-terms`, { dueDays: null, interestBasisPoints: null, graceDays: null })
    expect(await noor.must('GET', `/matters/${m.id}/bill-terms`)).toMatchObject({ dueDays: null, usual: { dueDays: 12, interestBasisPoints: 600 } }) // prettier-ignore
  })

  it('are reminded of step by step, not twice at once, and not while they are disputed', async () => {
    const m = await late('Remindham')
    const remind = () =>
      orla.post<{ sent: number; left: { number: string; why: string }[] }>('/overdue/reminders', { billIds: [m.bill.id] })
    expect((await remind()).body).toMatchObject({ sent: 0, left: [{ why: 'cannot be sent: Remindham has no e-mail address' }] })
    await office.db.query(`UPDATE contact SET email = 'late@client.example' WHERE id = ?`, [m.clientId])
    // Both the first (after 7 days) and the second (after 21) would be due by the days; they go out as far apart as they are set.
    expect((await overdue('Remindham'))[0]).toMatchObject({ step: 0, next: 1 })
    expect((await remind()).body).toEqual({ sent: 1, left: [] })
    expect((await remind()).body).toMatchObject({ sent: 0, left: [{ why: 'has no reminder due' }] })
    expect((await overdue('Remindham'))[0]).toMatchObject({ step: 1, next: null })
    const [letter] = await office.db.query<{ subject: string; body: string }[]>(`SELECT subject, body FROM mail WHERE to_address = 'late@client.example'`) // prettier-ignore
    expect(letter!.subject).toBe(`A reminder of bill ${m.bill.number}`)
    expect(letter!.body).toContain('$6,154.00 is still open')

    const mark = (disputed: boolean, reason = '') => orla.call('PUT', `/bills/${m.bill.id}/dispute`, { disputed, reason })
    expect((await mark(true)).status).toBe(400)
    expect((await mark(true, 'hours of 5 October')).status).toBe(200)
    expect((await mark(true, 'again')).status).toBe(409)
    expect((await overdue('Remindham'))[0]).toMatchObject({ disputed: 'hours of 5 October', interest: 0, next: null })
    expect((await orla.post('/overdue/interest', { billIds: [m.bill.id], day: today })).body.code).toBe('bill-disputed')
    // Nor by hand: what is sent of a bill is the bill, whatever kind is asked for.
    await orla.post(`/bills/${m.bill.id}/send`, { kind: 'reminder 2', name: 'X', email: 'x@client.example', subject: 'x', body: 'y' })
    expect((await overdue('Remindham'))[0]).toMatchObject({ step: 1 })
    await mark(false)
    expect((await overdue('Remindham'))[0]).toMatchObject({ disputed: null, interest: 3439 })
  })

  it('are shown and charged only where the matter is open to whoever asks', async () => {
    const m = await late('Wallate')
    await office.db.query(`INSERT INTO matter_screen (matter_id, user_id) VALUES (?, ?)`, [m.id, await office.user('Orla')])
    expect(await overdue('Wallate')).toEqual([])
    expect((await orla.post('/overdue/interest', { billIds: [m.bill.id], day: today })).status).toBe(404)
    expect((await orla.post('/overdue/reminders', { billIds: [m.bill.id] })).body).toEqual({ sent: 0, left: [] })
    expect((await orla.get(`/matters/${m.id}/bill-terms`)).status).toBe(404)
  })
})

it('reminders go out by themselves once a working morning, in the name of whoever said so', async () => {
  const m = await late('Selfsend', { dueDays: 20, interestBasisPoints: null, graceDays: null })
  await office.db.query(`UPDATE contact SET email = 'self@send.example' WHERE id = ?`, [m.clientId])
  const rule = (own: object) => orla.call('PUT', '/overdue/rule', own)
  expect((await rule({ days: '21, 7', automatic: true })).body.fields[0]!.path).toBe('days')
  expect((await noor.call('PUT', '/overdue/rule', { days: '7', automatic: true })).status).toBe(403)
  const sent = async () =>
    (await office.db.query<unknown[]>(`SELECT 1 FROM bill_sent WHERE bill_id = ? AND kind LIKE 'reminder%'`, [m.bill.id])).length
  const go = (clock: object = {}) => remindAlone({ ...office.running.base, clock: { ...office.running.base.clock, time: () => '09:00', ...clock } } as never, () => undefined) // prettier-ignore
  expect(await go()).toBe(0)
  await rule({ days: '7, 21, 45', automatic: true })
  try {
    await office.db.query(`UPDATE firm SET reminded_on = NULL`)
    expect(await go({ time: () => '05:00' })).toBe(0)
    expect(await go({ today: () => '2026-11-22' })).toBe(0)
    const counts = await Promise.all([go(), go()])
    expect(counts.filter((n) => n > 0).length).toBeLessThanOrEqual(1)
    expect(await sent()).toBe(1)
    await go()
    expect(await sent()).toBe(1)
    // Whoever left sends none, and that is told where one looks.
    const own = await office.user('Orla')
    await office.db.query(`UPDATE user_account SET active = 0 WHERE id = ?`, [own])
    const [ruled, list] = [await noor.must('GET', '/overdue/rule'), await noor.must('GET', '/overdue')]
    await office.db.query(`UPDATE user_account SET active = 1 WHERE id = ?`, [own])
    expect([ruled, list]).toMatchObject([{ stopped: true }, { stoppedBy: 'Orla Petrakis' }])
    expect(await orla.must('GET', '/overdue/rule')).toMatchObject({ by: 'Orla Petrakis', stopped: false })
  } finally {
    await rule({ days: '7, 21, 45', automatic: false })
  }
  expect((await orla.must<{ by: string | null }>('GET', '/overdue/rule')).by).toBeNull()
})
