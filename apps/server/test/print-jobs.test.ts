import { afterAll, beforeAll, expect, it } from 'vitest'
import { run } from '../src/platform'
import { Office, type Person } from './office'

let office: Office
let noor: Person
let orla: Person
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  orla = await office.signIn('orla')
})
afterAll(() => office.running.stop())

it('checks go back to those that wait when their matter is closed to whoever prints them', async () => {
  const check = async (matter: { id: number; clientId: number }) => {
    const ledgerId = await office.deposit(orla, matter, 900_00)
    return orla.must<{ id: number }>('POST', '/trust/payments/now', { ledgerId, day: '2026-11-03', payeeName: 'A Surveyor', amount: 100_00, method: 'check' }) // prettier-ignore
  }
  const [a, b] = [await office.matter(noor, 'Printed Ltd'), await office.matter(noor, 'Screened Ltd')]
  const [one, two] = [await check(a), await check(b)]
  const keeper = await office.user('Orla')
  const bank = await office.bank('pooled')
  const screened = (on: boolean) => run(office.db.manager, on ? `INSERT INTO matter_screen (matter_id, user_id) VALUES (?, ?)` : `DELETE FROM matter_screen WHERE matter_id = ? AND user_id = ?`, [b.id, keeper]) // prettier-ignore
  const waits = async (p: Person) => (await p.must<{ id: number }[]>('GET', `/checks/to-print?bankAccountId=${bank}`)).filter((c) => c.id === one.id || c.id === two.id).map((c) => c.id) // prettier-ignore
  const tell = (job: number, list: [number, string][]) => orla.post<{ closed: boolean }>(`/print-jobs/${job}/outcomes`, { outcomes: list.map(([paymentId, outcome]) => ({ paymentId, outcome })) }) // prettier-ignore

  const job = await orla.must<{ id: number }>('POST', '/print-jobs', { paymentIds: [one.id, two.id] })
  expect((await tell(job.id, [])).body.code).toBe('invalid')
  await screened(true)
  expect((await tell(job.id, [[one.id, 'printed']])).body.closed).toBe(true)
  expect([await waits(orla), await waits(noor)]).toEqual([[], [two.id]])

  // A job of which nothing is open any more is ended without a word about its checks.
  await screened(false)
  const other = await orla.must<{ id: number }>('POST', '/print-jobs', { paymentIds: [two.id] })
  await screened(true)
  const jobs = await orla.must<{ id: number; checks: unknown[] }[]>('GET', '/print-jobs')
  expect(jobs.find((j) => j.id === other.id)).toMatchObject({ checks: [] })
  expect((await tell(other.id, [])).body.closed).toBe(true)
  expect(await waits(noor)).toEqual([two.id])
})
