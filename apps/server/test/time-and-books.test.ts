import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row, rows } from '../src/platform'
import { Office, today, type Person } from './office'

let office: Office
let noor: Person
let orla: Person
let billie: Person
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  orla = await office.signIn('orla')
  billie = await office.signIn('billie')
})
afterAll(async () => {
  expect(await office.agrees()).toBe(true)
  await office.close()
})

let n = 0
const client = () => office.matter(noor, `Mended Client ${(n += 1)} Ltd`)

describe('timers', () => {
  it('are rounded once, by the second: 32:30 to the nearest six minutes is 30', async () => {
    const m = await client()
    await office.db.query(`UPDATE firm SET time_rounding = 'nearest'`)
    const timer = await billie.must<{ id: number }>('POST', '/timers', { matterId: m.id, text: 'Call' })
    await billie.must('PUT', `/timers/${timer.id}`, { running: false })
    await office.db.query(`UPDATE timer SET seconds = 1950 WHERE id = ?`, [timer.id])
    const entry = await billie.must<{ id: number }>('POST', `/timers/${timer.id}/stop`, { matterId: m.id, text: 'Call' })
    await office.db.query(`UPDATE firm SET time_rounding = 'up'`)
    expect(await row(office.db.manager, `SELECT minutes FROM time_entry WHERE id = ?`, [entry.id])).toEqual({ minutes: 30 })
  })
  it('paused from a page left open, leave the one running that was started since', async () => {
    const m = await client()
    const first = await billie.must<{ id: number }>('POST', '/timers', { matterId: m.id, text: 'First' })
    const second = await billie.must<{ id: number }>('POST', '/timers', { matterId: m.id, text: 'Second' })
    await billie.must('PUT', `/timers/${first.id}`, { running: false })
    const timers = await billie.must<{ id: number; running: boolean }[]>('GET', '/timers')
    expect(timers.find((t) => t.id === second.id)!.running).toBe(true)
  })
})

describe('rounding and rates', () => {
  it('come from the matter, then the client, then the firm; and the rate of a role stands between client and activity', async () => {
    const m = await client()
    const ask = (more: object = {}) =>
      noor.must<{ minutes: number; rate: number; origin: string; amount: number }>('POST', '/time/quote', {
        matterId: m.id,
        day: today,
        duration: '38m',
        activity: null,
        rate: null,
        ...more,
      })
    // Noor's own rate is $285.00: 38 minutes in units of 6 are 42, 0.7 h, $199.50.
    expect(await ask()).toMatchObject({ minutes: 42, rate: 285_00, amount: 199_50, origin: 'own rate in force' })
    const terms = (of: 'contacts' | 'matters', id: number, more: object) =>
      noor.call('PUT', `/${of}/${id}/terms`, { unit: null, rounding: null, ...(of === 'matters' ? { roles: [] } : { rates: [] }), ...more })
    await terms('contacts', m.clientId, { unit: 10 })
    expect((await ask()).minutes).toBe(40)
    await terms('matters', m.id, { unit: 15, rounding: 'nearest', roles: [{ role: 'lead', rate: 310_00 }] })
    expect(await ask()).toMatchObject({ minutes: 45, rate: 310_00, origin: 'rate of the role on this matter' })
    const noorId = await office.user('Noor')
    await terms('contacts', m.clientId, { rates: [{ userId: noorId, rate: 300_00 }] })
    expect(await ask()).toMatchObject({ rate: 300_00, origin: 'own rate for this client' })
    expect(await ask({ rate: 111_00 })).toMatchObject({ rate: 111_00, origin: 'typed on the entry' })
    // What is wrong is said at its field; others may look and not change.
    expect((await terms('matters', m.id, { unit: 61 })).body.fields[0]?.path).toBe('unit')
    const twice = [1, 2].map(() => ({ userId: noorId, rate: 1 }))
    expect((await terms('contacts', m.clientId, { rates: twice })).body.fields[0]?.path).toBe('rates')
    const billie = await office.signIn('billie')
    expect((await billie.put(`/matters/${m.id}/terms`, { unit: null, rounding: null, roles: [] })).status).toBe(403)
    expect(await noor.must('GET', `/matters/${m.id}/terms`)).toMatchObject({ unit: 15, rounding: 'nearest', roles: [{ role: 'lead' }] })
  })
})

describe('the books', () => {
  it('income entered by hand stands on the income statement', async () => {
    const owner = await office.owner()
    await owner.query(`INSERT IGNORE INTO account (code, name, kind) VALUES ('4200', 'Interest earned', 'income')`)
    await owner.destroy()
    const accounts = await rows<{ id: number; code: string }>(
      office.db.manager,
      `SELECT id, code FROM account WHERE code IN ('4200', '1010')`,
    )
    const of = (code: string) => accounts.find((a) => a.code === code)!.id
    await orla.must('POST', '/books/journals', {
      day: today,
      memo: 'Interest',
      lines: [
        { accountId: of('4200'), amount: -1_234 },
        { accountId: of('1010'), amount: 1_234 },
      ],
    })
    const s = await orla.must<{ sections: { rows: { name: string; amounts: number[] }[] }[] }>('GET', `/books/statements/income?from=${today}&to=${today}&basis=cash`) // prettier-ignore
    expect(s.sections[0]!.rows.find((r) => r.name.endsWith('Interest earned'))?.amounts).toEqual([1_234])
  })
})
