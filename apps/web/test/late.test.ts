import { fireEvent, screen, waitFor } from '@testing-library/vue'
import userEvent from '@testing-library/user-event'
import { beforeEach, describe, expect, it } from 'vitest'
import ReadStatement from '../src/books/ReadStatement.vue'
import CostSheet from '../src/costs/CostSheet.vue'
import Merge from '../src/people/Merge.vue'
import StartProcedure from '../src/tasks/StartProcedure.vue'
import DaySheet from '../src/time/DaySheet.vue'
import Week from '../src/time/Week.vue'
import { faults, lastNote, later, lost, Server, setting, settled, show, signIn, standAt, type Asked } from './stage'

beforeEach(() => signIn({ rights: ['time.record', 'costs.record', 'books.see', 'books.post', 'people.change', 'tasks.change', 'matters.see'] })) // prettier-ignore
const field = (name: string | RegExp) => screen.getByLabelText(name) as HTMLInputElement
const button = (name: string | RegExp) => screen.getByRole('button', { name }) as HTMLButtonElement
const press = async (name: string | RegExp) => {
  await fireEvent.click(button(name))
  await settled()
}

describe('what an act would do, asked with each change', () => {
  it('of a bank’s file: columns that were chosen while another reading ran are read last, and nothing unseen is taken', async () => {
    const first = later<unknown>()
    const match = { day: 0, order: 'mdy', decimal: '.', amount: 2, moneyIn: null, moneyOut: null, check: null, reference: null, balance: null, text: [1], turned: false } // prettier-ignore
    const reading = (lines: number, more: object = {}) => ({ fileId: 8, format: 'CSV', lines, fresh: lines, from: '2026-10-01', to: '2026-10-31', closing: 100_00, faults: [], oddities: [], differences: [], account: '', opening: null, sample: [], csv: { columns: ['Date', 'Text', 'Sum', 'Paid'], rows: [], match }, ...more }) // prettier-ignore
    let reads = 0
    const server = new Server({
      'POST /bank/accounts/2/statements/read': () => [reading(5), first.promise, reading(4)][reads++],
      'POST /bank/accounts/2/statements': { fresh: 4, matched: 0 },
    })
    await show(ReadStatement, { id: 2, name: 'Operating' })
    const file = new File(['a,b'], 'oct.csv', { type: 'text/csv' })
    await userEvent.upload(field(/^File/), file)
    await settled()
    expect([screen.getByRole('status').textContent, button(/^Take it/).disabled]).toEqual([expect.stringContaining('5 lines'), false])
    await fireEvent.update(field('Order of the date'), 'dmy')
    await fireEvent.update(field('Amount'), '3')
    await settled()
    // Two readings are behind what stands in the fields.
    expect([reads, button(/^Take it/).disabled]).toEqual([2, true])
    first.come(reading(9))
    await settled()
    expect([reads, screen.getByRole('status').textContent]).toEqual([3, expect.stringContaining('4 lines')])
    await press(/^Take it/)
    expect(server.sent('POST /bank/accounts/2/statements')[0]!.body).toMatchObject({ fileId: 8, columns: { order: 'dmy', amount: 3 } })
  })

  it('of a merge: only what this very merge would move stands beside it', async () => {
    const slow = later<unknown>()
    const told = (what: string) => ({ keep: { id: 1, name: 'Gannet' }, merge: { id: 2, name: what }, moves: [{ what, count: 3 }], differs: [], trust: null }) // prettier-ignore
    const alike = [
      { id: 2, name: 'Ganet Ferry', reason: 'near spelling' },
      { id: 3, name: 'Gannett', reason: 'same sound' },
    ]
    const server = new Server({
      'GET /contacts/1/alike': alike,
      'GET /contacts': { rows: [], total: 0 },
      'GET /contacts/1/merge/2': () => slow.promise,
      'GET /contacts/1/merge/3': told('bills of Gannett'),
      'POST /contacts/1/merge': { merged: true },
    })
    const on = await show(Merge, { id: 1, name: 'Gannet' })
    await fireEvent.click(screen.getByRole('button', { name: /Ganet Ferry/ }))
    await on.user.clear(screen.getByRole('combobox'))
    await settled()
    await fireEvent.click(screen.getByRole('button', { name: /Gannett/ }))
    await settled()
    expect(button(/^Merge the two/).disabled).toBe(true)
    slow.come(told('bills of Ganet Ferry'))
    await settled()
    expect([screen.queryByText('bills of Ganet Ferry'), screen.getByText('bills of Gannett')]).toEqual([null, expect.anything()])
    await press(/^Merge the two/)
    expect(server.sent('POST /contacts/1/merge')[0]!.body).toMatchObject({ otherId: 3 })
  })

  it('of a procedure: its tasks are made from the start that stands there, once they are planned for it', async () => {
    const slow = later<unknown>()
    const step = (dueOn: string) => ({ key: 'a', text: 'Send letter', dueOn, assigneeId: 2, how: 'at the start', provisional: false, waitsFor: [] }) // prettier-ignore
    const plan = (dueOn: string) => ({ version: 1, steps: [step(dueOn)], dates: [] })
    const server = new Server({
      'GET /procedures': [{ id: 4, name: 'Opening', steps: 1, areaId: null, retired: false, given: false }],
      'GET /matters/setting': setting,
      'POST /matters/7/procedures/preview': ({ body }: Asked) => (body['start'] === '2026-11-23' ? slow.promise : plan('2026-12-04')),
      'POST /matters/7/procedures': { id: 1, tasks: 1 },
    })
    await show(StartProcedure, { matterId: 7, areaId: null })
    await fireEvent.update(field('Starts on'), '1 Dec')
    await settled()
    expect(button(/^Make/).disabled).toBe(true)
    slow.come(plan('2026-11-26'))
    await settled()
    await waitFor(() => expect(button(/^Make 1 task/).disabled).toBe(false))
    await press(/^Make 1 task/)
    expect(JSON.stringify(server.sent('POST /matters/7/procedures')[0]!.body)).toContain('"start":"2026-12-01"')
    expect(JSON.stringify(server.sent('POST /matters/7/procedures')[0]!.body)).not.toContain('2026-11-26')
  })

  it('of a cost: it is told with the sum of what was entered, or with none', async () => {
    const kinds = [{ id: 1, code: 'C', name: 'Copies', hard: false, unit: 'page', unitRate: '0.25', markup: 0, taxable: false, billable: true, expenseCode: '', retired: false }] // prettier-ignore
    const server = new Server({
      'GET /costs/kinds': kinds,
      'GET /papers': { rows: [], total: 0 },
      'GET /matters': { rows: [], total: 0 },
      'POST /costs/quote': ({ body }: Asked) => ({ paid: 0, amount: Number(body['units']) * 25, how: '' }),
      'POST /matters/7/costs': { id: 1 },
    })
    await show(CostSheet, { matter: { id: 7, text: 'Gannet' } })
    await fireEvent.update(field('Kind'), '1')
    await fireEvent.update(field('Number of pages'), '10')
    await fireEvent.update(field(/^For what/), 'Exhibits')
    await waitFor(() => expect(server.sent('POST /costs/quote').at(-1)?.body['units']).toBe('10'))
    await settled()
    await press('Record and next')
    expect(lastNote()?.text).toBe('$2.50 recorded')
    // The next one is sent before it was looked at.
    await fireEvent.update(field('Number of pages'), '400')
    await fireEvent.update(field(/^For what/), 'Binder')
    await press('Record and next')
    expect(lastNote()?.text).toBe('Cost recorded')
  })
})

describe('time in rows', () => {
  const day = { day: '2026-11-23', minutes: 0, goal: 0, worth: 0 }
  const list = (rows: object[] = []) => ({ rows, days: [day], together: { minutes: 0, worth: 0 }, goal: 0, matters: [] })
  const common = {
    'GET /time/fields': { fields: [], funding: [] },
    'GET /field-groups': [],
    'GET /phrases': [],
    'GET /activities': [],
    'GET /matters': { rows: [{ id: 7, number: '26-0031', name: 'Gannet', client: 'Gannet Ferry' }], total: 1 },
    'GET /time/days/2026-11-23': { dates: [], acts: [] },
    'GET /time/missing': { goal: 0, days: [] },
    'GET /spelling': { words: [], names: [] },
  }
  const draft = { id: 31, matterId: 7, matter: '26-0031 Gannet', day: '2026-11-23', text: 'Call', minutes: 24, workedMinutes: 24, state: 'draft', rateOrigin: 'timekeeper', rate: 100, amount: 40, activity: null, task: null, charge: 'billable', inCourt: false, fundingId: null, privateAttorney: false, billed: null } // prettier-ignore

  it('of a week whose answer was lost is not kept a second time', async () => {
    let there: object[] = [{ ...draft, id: 30, day: '2026-11-24', minutes: 6 }]
    const server = new Server({
      ...common,
      'GET /time': () => list(there),
      'POST /time': () => ((there = [...there, draft]), lost),
      'GET /acts/{key}': { done: true, answer: { id: 31 } },
    })
    await standAt('/time/week', '/time/week', Week)
    await show(Week)
    const cell = () => screen.getAllByLabelText(/Call, Mon 23 Nov/)[0] as HTMLInputElement
    await fireEvent.input(cell(), { target: { value: '0.4' } })
    await fireEvent.change(cell())
    await settled()
    expect([server.sent('POST /time').length, cell().value, cell().getAttribute('aria-invalid')]).toEqual([1, '0.4', null])
    // Where it is not known, what stands by then is changed, not recorded anew.
    server.on('PUT /time/31', lost)
    server.on('GET /acts/{key}', lost)
    await fireEvent.input(cell(), { target: { value: '0.5' } })
    await fireEvent.change(cell())
    await settled()
    expect([cell().value, cell().getAttribute('aria-invalid')]).toEqual(['0.5', 'true'])
    const key = server.sent('PUT /time/31')[0]!.key
    server.on('PUT /time/31', { ok: true })
    await fireEvent.change(cell())
    await settled()
    expect([server.sent('PUT /time/31').map((a) => a.key), server.sent('POST /time').length]).toEqual([[key, key], 1])
  })

  it('of a day keeps the caret where a line was refused, and its words', async () => {
    const server = new Server({ ...common, 'GET /time': list(), 'POST /time': faults(['matterId', 'Choose a matter']) })
    await standAt('/time/day', '/time/day', DaySheet)
    const on = await show(DaySheet)
    await on.user.type(field('Time'), '0.4')
    await on.user.keyboard('{Enter}')
    await settled()
    expect([screen.getByRole('alert').textContent, document.activeElement, field('Time').value]).toEqual(['Choose a matter', field('Time'), '0.4']) // prettier-ignore
    const keys = () => server.sent('POST /time').map((a) => a.key)
    await on.user.keyboard('{Enter}')
    await settled()
    // What was refused is another act when it is sent again.
    expect(new Set(keys()).size).toBe(2)
  })
})
