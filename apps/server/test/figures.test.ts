import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { moneyRefusals, refusalCodes } from '@heron/contract'
import { showMoney } from '@heron/core/money'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { Office, today, type Person } from './office'

let office: Office
const who = {} as Record<'noor' | 'orla', Person>
beforeAll(async () => {
  office = await Office.open()
  for (const n of ['noor', 'orla'] as const) who[n] = await office.signIn(n)
})
afterAll(() => office.close())

/** Time, a cost and a flat fee on a matter; part of an earlier bill is paid, and money is held. */
async function worked(name: string, flat: boolean) {
  const portions = [
    { label: 'First', amount: 900_00 },
    { label: 'Last', amount: 600_00 },
  ]
  const m = await office.matter(who.noor, name, flat ? { billing: 'flat', flatFee: portions } : {})
  const record = async (day: string, duration: string, charge = 'billable') => {
    const entry = { matterId: m.id, day, text: 'Work', duration, charge }
    const made = await who.noor.must<{ id: number }>('POST', '/time', entry)
    await who.noor.must('POST', '/time/post', { ids: [made.id] })
  }
  const cost = (day: string, amount: number) =>
    who.orla.must('POST', `/matters/${m.id}/costs`, { day, kind: 'soft cost', text: 'Copies', amount, payee: '' })
  await record('2026-10-05', '2.0')
  await cost('2026-10-06', 40_00)
  const pre = await who.orla.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: '2026-10-31' })
  await who.noor.must('POST', `/pre-bills/${pre.id}/approve`, { approved: true })
  const bill = await who.orla.must<{ id: number }>('POST', `/pre-bills/${pre.id}/issue`, { day: '2026-11-02' })
  await who.orla.must('POST', `/bills/${bill.id}/payments`, { day: '2026-11-10', amount: 100_00, kind: 'check', reference: '1' })
  await record('2026-11-05', '1.5')
  await record('2026-11-06', '0.5', 'no charge')
  await record('2026-11-07', '0.7', 'non-billable')
  await cost('2026-11-08', 25_00)
  await office.deposit(who.orla, m, 750_00)
  return { ...m, bill: bill.id }
}

interface File {
  number: string
  figures: { unbilled: number; owed: number; held: number }
}
interface Listed {
  rows: { id: number; unbilled: number; owed: number; held: number }[]
}
interface Unbilled {
  rows: { matterId: number; together: number; time: number; costs: number; flat: number }[]
}

describe('a figure', () => {
  it.each([
    ['by the hour', false],
    ['for a flat fee', true],
  ])('is the same wherever it is shown, on a matter %s', async (name, flat) => {
    const m = await worked(`Figure ${name}`, flat)
    const { number, figures } = await who.noor.must<File>('GET', `/matters/${m.id}`)
    const listed = await who.noor.must<Listed>('GET', `/matters?q=${number}&money=true`)
    const row = listed.rows.find((r) => r.id === m.id)!
    expect(figures).toMatchObject({ unbilled: row.unbilled, owed: row.owed, held: row.held })
    // No bill waits, so the list of unbilled work has it.
    const work = (await who.orla.must<Unbilled>('GET', `/unbilled?to=${today}&size=200`)).rows.find((r) => r.matterId === m.id)!
    expect([work.together, work.time + work.costs + work.flat]).toEqual([figures.unbilled, figures.unbilled])
    const bill = await who.orla.must<{ open: number }>('GET', `/bills/${m.bill}`)
    expect(bill.open).toBe(figures.owed)
    const contact = await who.noor.must<{ money: { owed: number; held: number } }>('GET', `/contacts/${m.clientId}`)
    expect(contact.money).toEqual({ owed: figures.owed, held: figures.held })
    const aging = await who.noor.must<{ rows: { payerId: number; total: number }[]; together: { buckets: number[]; total: number } }>(
      'GET',
      `/reports/receivables?asOf=${today}`,
    )
    expect(aging.rows.find((r) => r.payerId === m.clientId)!.total).toBe(figures.owed)
    expect(aging.together.buckets.reduce((a, b) => a + b, 0)).toBe(aging.together.total)
    const said = (await who.noor.must<{ text: string }[]>('GET', `/matters/${m.id}/closing`)).map((f) => f.text).join('\n')
    expect(said).toContain(`${showMoney(figures.owed)} of bills`)
    expect(said).toContain(`${showMoney(figures.held)} is held in trust`)
    if (flat) expect(said).not.toContain('of time')
    else expect(said).toContain(`${showMoney(work.time)} of time is not billed`)
    expect(said).toContain(`${showMoney(work.costs)} of costs`)
  })
})

describe('what is posted', () => {
  const posted = ['journal', 'journal_line', 'bank_entry', 'ledger_entry', 'clearing_override', 'journal_posting', 'journal_reversal']
  const entities = ['Journal', 'JournalLine', 'BankEntry', 'LedgerEntry', 'ClearingOverride', 'JournalPosting', 'JournalReversal']
  const root = join(import.meta.dirname, '../src')
  const sources = readdirSync(root, { recursive: true, encoding: 'utf8' }).filter((f) => f.endsWith('.ts'))

  it('goes through the one door: no other source writes it, and no other area reaches behind it', () => {
    const door = ['ledger/posting.ts', 'ledger/posting-queries.ts', 'ledger/door.ts']
    const writes = new RegExp(
      `(insert|save|update|delete)\\w*\\((m, ')?(${[...entities, ...posted].join('|')})\\b|INTO (${posted.join('|')})\\b`,
    )
    const wrong = sources.filter((f) => !door.includes(f) && writes.test(readFileSync(join(root, f), 'utf8')))
    expect(wrong).toEqual([])
    const behind = sources.filter(
      (f) => !f.startsWith('ledger/') && /ledger\/(posting|posting-queries|door)'/.test(readFileSync(join(root, f), 'utf8')),
    )
    expect(behind).toEqual([])
    const begins = sources.filter((f) => !door.includes(f) && /\b(insertJournal|insertPosting)\b/.test(readFileSync(join(root, f), 'utf8')))
    expect(begins).toEqual([])
  })
  it('is out of reach of the application’s own user: it may add, and neither change nor take out', async () => {
    for (const table of posted)
      for (const sql of [
        `UPDATE ${table} SET ${table === 'journal_posting' ? 'posted_at = NOW()' : 'journal_id = 1'} LIMIT 1`,
        `DELETE FROM ${table} LIMIT 1`,
      ])
        await expect(office.db.query(sql.replace('UPDATE journal SET journal_id', 'UPDATE journal SET id')), sql).rejects.toThrow(/denied/)
  })
})

describe('a refusal', () => {
  const under = (folder: string) =>
    readdirSync(join(import.meta.dirname, folder), { recursive: true, encoding: 'utf8' })
      .filter((f) => f.endsWith('.ts'))
      .map((f) => readFileSync(join(import.meta.dirname, folder, f), 'utf8'))
      .join('\n')
  it('stands in the one list of codes, is given somewhere, and every rule of trust money is tried here', () => {
    const source = under('../src') + under('../../../packages/core/src')
    const tests = under('.')
    expect(refusalCodes.filter((c) => !source.includes(`'${c}'`))).toEqual([])
    expect(moneyRefusals.filter((c) => !tests.includes(c))).toEqual([])
    expect(new Set(refusalCodes).size).toBe(refusalCodes.length)
  })
})
