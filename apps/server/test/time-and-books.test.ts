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
    const income = await orla.must<{ otherIncome: { name: string; amount: number }[] }>('GET', `/books/income?from=${today}&to=${today}`)
    expect(income.otherIncome).toContainEqual({ name: 'Interest earned', amount: 1_234 })
  })
})
