import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { Office, today, type Person } from './office'
import { actAs, loadedImport, triedImport } from './papers'

let office: Office
let orla: Person
let ferdi: Person
beforeAll(async () => {
  office = await Office.open()
  orla = await office.signIn('orla')
  ferdi = await office.signIn('ferdi')
  actAs(orla)
})
afterAll(() => office.close())

interface Account {
  id: number
  code: string
  name: string
  kind: string
  parentId: number | null
  closed: boolean
  role: string | null
}
const chart = async () => (await ferdi.must<{ chart: Account[] }>('GET', '/accounts')).chart
const on = async (code: string) => (await chart()).find((a) => a.code === code)!
const add = async (code: string, kind: string, parentId: number | null = null) =>
  (await ferdi.must<{ id: number }>('POST', '/accounts', { code, name: `Charted ${code}`, kind, parentId })).id
const change = async (code: string, more: object) => {
  const { id, name, parentId, closed } = await on(code)
  return ferdi.put(`/accounts/${id}`, { code, name, parentId, closed, ...more })
}
const journal = (lines: { accountId: number; amount: number }[]) => orla.post<{ id: number }>('/books/journals', { day: today, memo: 'Charted', lines }) // prettier-ignore

describe('the chart of accounts', () => {
  it('has accounts under others of their kind, which statements add up, and closes what stands at nothing', async () => {
    const head = await add('8100', 'asset')
    const desk = await add('8110', 'asset', head)
    const chair = await add('8120', 'asset', head)
    const bank = (await on('1010')).id
    expect((await change('8100', { parentId: desk })).body.fields).toMatchObject([{ path: 'parentId', message: expect.stringContaining('itself') as string }]) // prettier-ignore
    expect((await change('8110', { parentId: (await on('5020')).id })).body.fields[0]?.path).toBe('parentId')
    const { body } = await journal([{ accountId: desk, amount: 300_00 }, { accountId: chair, amount: 200_00 }, { accountId: bank, amount: -500_00 }]) // prettier-ignore
    const assets = async () =>
      (await orla.must<{ sections: { rows: { name: string; amount: number; depth: number; sum: boolean }[] }[] }>('GET', `/books/statements/balance?asOf=${today}`)).sections[0]!.rows.filter((r) => r.name.includes('Charted')) // prettier-ignore
    expect((await assets()).map((r) => [r.name, r.amount, r.depth, r.sum])).toEqual([
      ['8100 Charted 8100', 0, 0, false],
      ['8110 Charted 8110', 300_00, 1, false],
      ['8120 Charted 8120', 200_00, 1, false],
      ['8100 Charted 8100 together', 500_00, 0, true],
    ])
    for (const [code, says] of [['8110', 'nothing'], ['8100', 'under it'], ['1010', 'Operating']] as const) expect((await change(code, { closed: true })).body.fields, code).toMatchObject([{ path: 'closed', message: expect.stringContaining(code === '1010' ? '' : says) as string }]) // prettier-ignore
    await orla.must('POST', `/books/journals/${body.id}/reverse`, { day: today, reason: 'Never bought' })
    for (const code of ['8110', '8120', '8100']) expect((await change(code, { closed: true })).status, code).toBe(200)
    expect((await journal([{ accountId: desk, amount: 5 }, { accountId: bank, amount: -5 }])).body.fields[0]?.path).toBe('lines.0.accountId') // prettier-ignore
    // What is under a closed one opens only with it.
    expect((await change('8120', { closed: false })).body.fields[0]?.path).toBe('parentId')
    expect((await change('8100', { closed: false })).status).toBe(200)
    expect((await change('8120', { closed: false })).status).toBe(200)
  })

  it('is read from a table in any order, whole or not at all; what is there takes its new name and place', async () => {
    const wrong = await triedImport('chart', 'Account number,Account name,Type,Parent\n82,Short,asset,\n8210,Boats,asset,8299\n8220,Cars,vehicles,\n1010,Cash,expense,\n8230,Twice,asset,\n8230,Twice,asset,\n8240,Ring,asset,8250\n8250,Ring,asset,8240\n8260,,asset,\n8270,Rent of cars,expense,1010\n') // prettier-ignore
    expect(wrong.faults.map((f) => [f.row, f.column]).sort((a, b) => Number(a[0]) - Number(b[0]))).toEqual([[2, 'Number'], [3, 'Stands under'], [4, 'Kind'], [5, 'Kind'], [7, 'Number'], [8, 'Stands under'], [9, 'Stands under'], [10, 'Name'], [11, 'Stands under']]) // prettier-ignore
    await add('8310', 'expense')
    const text = 'Number,Name,Kind,Stands under\n8312,Moorings,Expenses,8311 Harbour\n8311,Harbour,expense,8310\n8310,Premises,Expense,\n'
    const tried = await triedImport('chart', text)
    expect([tried.good, tried.faults]).toEqual([3, []])
    expect((await loadedImport(tried)).state).toBe('loaded')
    const all = await chart()
    const at = (code: string) => all.find((a) => a.code === code)!
    expect([at('8310').name, at('8311').parentId, at('8312').parentId]).toEqual(['Premises', at('8310').id, at('8311').id])
    const tooMany = await triedImport(
      'chart',
      `Number,Name,Kind\n${Array.from({ length: 1001 }, (_, i) => `${10000 + i},A,asset`).join('\n')}\n`,
    )
    expect(tooMany.faults).toMatchObject([{ text: 'A chart has at most 1,000 accounts' }])
  })
})
