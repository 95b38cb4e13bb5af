import { fireEvent, screen, waitFor } from '@testing-library/vue'
import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import Costs from '../src/costs/Costs.vue'
import CostSheet from '../src/costs/CostSheet.vue'
import { type Asked, drawn, faults, field, lastNote, press, put, Server, settled, setting, show, signIn, standAt, wrong } from './stage'

beforeAll(() => import('../src/ui/judging'))
beforeEach(() => signIn({ rights: ['costs.record', 'books.post', 'matters.see', 'bills.see', 'trust.post'] }))
const kind = (id: number, name: string, hard: boolean) => ({ id, code: name, name, hard, unit: hard ? '' : 'page', unitRate: hard ? null : 15, markup: 0, taxable: false, billable: true, expenseCode: '', retired: false, used: 1 }) // prettier-ignore
const cost = (id: number, more: object = {}) => ({ id, matterId: 5, number: '26-005', matter: 'Gannet', day: '2026-11-20', kind: 'hard', kindName: 'Courier', text: `Parcel ${id}`, payee: 'Swift Couriers', units: '', paid: 42_50, amount: 42_50, billable: true, paidFrom: 'owed', settledOn: null, state: 'recorded', payment: null, billId: null, billed: null, receiptId: null, receipt: null, ...more }) // prettier-ignore
const rows = [cost(1), cost(2, { payee: 'Harbor Post' }), cost(3, { paidFrom: 'operating', billId: 8, billed: 'B-8' }), cost(4, { state: 'reversed' })] // prettier-ignore
const around = {
  'GET /matters/setting': setting,
  'GET /matters': { rows: [], total: 0 },
  'GET /costs/kinds': [kind(1, 'Courier', true), kind(2, 'Copies', false)],
  'GET /costs': { rows, total: 4, paid: 170_00, amount: 170_00 },
}
const open = async (server: Record<string, unknown> = {}) => {
  const on = new Server({ ...around, ...server })
  await standAt('/time/costs', '/time/costs', Costs)
  const page = await show(Costs)
  await settled()
  return { ...page, server: on }
}
const actsOn = async (text: string) => {
  await fireEvent.click(screen.getByRole('button', { name: `Acts on ${text}` }))
  await settled()
  return screen.getAllByRole('menuitem').map((m) => m.textContent.trim())
}

describe('costs that are recorded', () => {
  it('of those that are chosen only what is owed to a vendor is paid, one payment for each', async () => {
    const { server, user } = await open({ 'POST /costs/settle': faults(['day', 'The books are closed to 31 Oct']) })
    expect(screen.queryByRole('button', { name: /^Pay/ })).toBeNull()
    for (const box of screen.getAllByRole('checkbox').slice(1)) await user.click(box)
    await settled()
    await press('Pay 2 vendor bills …')
    const owed = [...screen.getByRole('dialog').querySelectorAll('li')].map((x) => x.textContent)
    expect(owed).toEqual(['Swift Couriers: Parcel 1, $42.50', 'Harbor Post: Parcel 2, $42.50'])
    await press(/^Record the payments/)
    expect(wrong('On')).toBe(true)
    server.on('POST /costs/settle', { amount: 85_00, payments: 2 })
    await press(/^Record the payments/)
    expect(server.sent('POST /costs/settle').at(-1)!.body).toMatchObject({ ids: [1, 2], day: '2026-11-23' })
    expect([lastNote()?.text, screen.queryByRole('dialog')]).toEqual(['$85.00 paid in 2 payments', null])
  })
  it('what is billed or reversed is only looked at', async () => {
    await open()
    expect(await actsOn('Parcel 1')).toEqual(['Time and costs of the matter', 'Correct or move …', 'Reverse …'])
    await fireEvent.keyDown(screen.getByRole('menu'), { key: 'Escape' })
    await settled()
    expect(await actsOn('Parcel 3')).toEqual(['Time and costs of the matter'])
    await fireEvent.keyDown(screen.getByRole('menu'), { key: 'Escape' })
    await settled()
    expect(await actsOn('Parcel 4')).toEqual(['Time and costs of the matter'])
  })
  it('are narrowed by what is in the address, and nothing stays chosen that is not shown', async () => {
    const { server, user } = await open()
    await user.click(screen.getAllByRole('checkbox')[1]!)
    await settled()
    expect(screen.getByRole('button', { name: /^Pay/ })).toBeTruthy()
    await fireEvent.update(screen.getByLabelText('Which'), 'unbilled')
    await settled()
    await waitFor(() => expect(server.sent('GET /costs').at(-1)!.query).toMatchObject({ state: 'unbilled', page: '1' }))
    expect(screen.queryByRole('button', { name: /^Pay/ })).toBeNull()
  })
})

describe('a cost', () => {
  const gannet = { id: 5, text: '26-005 Gannet' }
  const sheet = async (server: Record<string, unknown>) => {
    const on = new Server({ ...around, 'GET /ledgers': { rows: [] }, 'GET /trust/ledgers': { rows: [{ id: 31, bank: 'Trust', available: 900_00 }] }, 'GET /papers': { rows: [], total: 0 }, 'POST /costs/quote': { how: '40 × $0.15', paid: 6_00, amount: 6_00 }, ...server }) // prettier-ignore
    const page = await show(CostSheet, { matter: gannet })
    await settled()
    return { ...page, server: on }
  }
  it('by units says what it comes to, is kept, and the next line stands open with kind and day', async () => {
    const { server } = await sheet({ 'POST /matters/5/costs': { id: 9 } })
    await fireEvent.update(screen.getByLabelText('Kind'), '2')
    await settled()
    await put('Number of pages', '40')
    await put(/^For what/, 'Exhibits')
    expect((await screen.findByRole('status', { name: 'Comes to' })).textContent?.replaceAll(/\s+/g, ' ').trim()).toBe('40 × $0.15 = $6.00')
    await press('Record and next')
    expect(server.sent('POST /matters/5/costs')[0]!.body).toMatchObject({ kindId: 2, units: '40', text: 'Exhibits', paidFrom: 'operating', billable: true, markup: null }) // prettier-ignore
    expect([lastNote()?.text, field('Number of pages').value]).toEqual(['$6.00 recorded', ''])
  })
  it('takes neither the receipt nor the trust money of one matter along to another', async () => {
    const matters = [{ id: 5, name: 'Gannet', number: '26-005', client: 'Gannet Ferry' }, { id: 6, name: 'Lease', number: '26-006', client: 'Lessor' }] // prettier-ignore
    const server = new Server({
      ...around,
      'GET /matters': { rows: matters, total: 2 },
      'GET /trust/ledgers': ({ query }: Asked) => ({ rows: query['matterId'] === '5' ? [{ id: 31, bank: 'Pooled', available: 900_00 }] : [], total: 0, totalBook: 0 }), // prettier-ignore
      'GET /papers': { rows: [{ id: 71, name: 'Receipt.pdf', folder: 'Receipts' }], total: 1 },
      'POST /costs/quote': null,
      'POST /matters/6/costs': { id: 9 },
    })
    const { user } = await show(CostSheet)
    const take = async (label: RegExp, typed: string, option: RegExp) => {
      const box = screen.getByRole('combobox', { name: label })
      await user.clear(box)
      await user.type(box, typed)
      await drawn()
      await user.click(await screen.findByRole('option', { name: option }))
      await settled()
    }
    await take(/^Matter/, 'gann', /^Gannet/)
    await fireEvent.update(screen.getByLabelText('Kind', { selector: 'select' }), '1')
    await settled()
    await fireEvent.update(screen.getByLabelText('Paid from'), 'trust')
    await take(/^Receipt/, 'rec', /^Receipt\.pdf/)
    expect(screen.getByText(/^Pooled: \$900\.00 available/)).toBeTruthy()
    await take(/^Matter/, 'leas', /^Lease/)
    expect(field('Paid from').value).toBe('operating')
    expect(screen.getByRole<HTMLInputElement>('combobox', { name: /^Receipt/ }).value).toBe('')
    await put('Amount', '42.50')
    await press(/^Record cost/)
    expect(server.sent('POST /matters/6/costs')[0]!.body).toMatchObject({ paidFrom: 'operating', receiptId: null })
    expect('ledgerId' in server.sent('POST /matters/6/costs')[0]!.body).toBe(false)
  })
})
