import { fireEvent, screen, within } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import Payables from '../src/books/Payables.vue'
import PayVendors from '../src/books/PayVendors.vue'
import VendorBill from '../src/books/VendorBill.vue'
import { faults, field, lastNote, later, press, put, refusal, Server, settled, show, signIn, standAt, wrong, type Asked } from './stage'

beforeEach(() => signIn({ rights: ['books.see', 'books.post'] }))

const bill = (id: number, vendor: string, more: object = {}) => ({ id, vendorId: id, vendor, number: `N-${id}`, day: '2026-11-02', dueOn: '2026-12-02', discountOn: null, discount: 0, memo: 'Paper', total: 100_00, open: 100_00, state: 'open', ...more }) // prettier-ignore
const bills = [bill(1, 'Copy House'), bill(2, 'Tern Reporters', { open: 40_00, state: 'part paid' }), bill(3, 'Quiet Surveyors', { open: 0, state: 'paid' })] // prettier-ignore
const detail = (id: number, more: object = {}) => ({ ...bill(id, bills[id - 1]!.vendor), journalId: 70 + id, lines: [{ id: 1, account: `Account of ${id}`, matterId: null, costId: null, text: '', amount: 100_00 }], payments: [], ...more }) // prettier-ignore
const payment = { id: 8, day: '2026-11-10', vendor: 'Copy House', bank: 'Operating', what: 'check 2041', checkNo: 2041, bills: 'N-1', amount: 100_00, state: 'posted' } // prettier-ignore
const stand = async (address: string) => {
  await standAt('/books', address, Payables)
  return show(Payables)
}
const rowOf = (text: string) => within(screen.getByText(text).closest<HTMLElement>('[role="row"], tr')!)
const menu = async (user: Awaited<ReturnType<typeof show>>['user'], row: string, item: string) => {
  await user.click(rowOf(row).getByRole('button', { name: /^What can be done|^Acts|More/ }))
  await user.click(screen.getByRole('menuitem', { name: item }))
  await settled()
}

describe('bills of vendors', () => {
  const list = { 'GET /vendors/bills': { rows: bills, total: 3, open: 140_00 } }
  it('show the lines of the bill that was opened, and never those of the one before while they are read', async () => {
    const second = later<unknown>()
    new Server({ ...list, 'GET /vendors/bills/1': detail(1), 'GET /vendors/bills/2': () => second.promise })
    const { user } = await stand('/books?show=payables')
    await menu(user, 'Copy House', 'Lines and payments')
    expect(screen.getByRole('dialog').textContent).toContain('Account of 1')
    await press(/^(Close|Leave)/)
    await menu(user, 'Tern Reporters', 'Lines and payments')
    expect(screen.getByRole('dialog').textContent).not.toContain('Account of 1')
    second.come(detail(2))
    await settled()
    expect(screen.getByRole('dialog').textContent).toContain('Account of 2')
  })
  it('are taken back with a reason while nothing is paid of them, and paid while anything is open', async () => {
    const server = new Server({ ...list, 'POST /vendors/bills/1/void': faults(['reason', 'Say why']) })
    const { user } = await stand('/books?show=payables')
    const items = async (row: string) => {
      await user.click(rowOf(row).getByRole('button', { name: /^What can be done|^Acts|More/ }))
      const found = screen.getAllByRole('menuitem').map((x) => x.textContent.trim())
      await user.keyboard('{Escape}')
      return found
    }
    expect(await items('Tern Reporters')).toEqual(['Lines and payments', 'Pay …'])
    expect(await items('Quiet Surveyors')).toEqual(['Lines and payments'])
    await menu(user, 'Copy House', 'Take back …')
    await press('Take it back')
    expect(wrong('Why')).toBe(true)
    server.on('POST /vendors/bills/1/void', { ok: true })
    await put('Why', 'Entered twice')
    await press('Take it back')
    expect([server.sent('POST /vendors/bills/1/void')[1]!.body, lastNote()?.text]).toEqual([{ day: '2026-11-23', reason: 'Entered twice' }, 'Taken back']) // prettier-ignore
  })
  it('show payments: a spoiled check is written anew, and a voided one opens its bills', async () => {
    const server = new Server({
      'GET /vendors/bills': { rows: [], total: 0, open: 0 },
      'GET /vendors/payments': { rows: [payment], total: 1 },
      'GET /vendors/checks/to-print': [],
      'GET /vendors/print-jobs': [],
      'POST /vendors/payments/8/spoiled': { id: 9, checkNo: 2042 },
      'POST /vendors/payments/8/void': refusal('month-closed', 'November is closed.'),
    })
    const { user } = await stand('/books?show=payables&part=payments')
    await menu(user, 'Copy House', 'Spoiled, write it anew …')
    await press('Write it anew')
    expect(lastNote()?.text).toBe('Check 2041 is void; check 2042 waits to be printed')
    await menu(user, 'Copy House', 'Void …')
    await put('Why', 'Lost')
    await press('Void it')
    expect(screen.getByRole('dialog').textContent).toContain('November is closed.')
    expect(server.sent('POST /vendors/payments/8/void')[0]!.body).toEqual({ day: '2026-11-23', reason: 'Lost' })
  })
  it('say what of accounts payable is no bill', async () => {
    new Server({
      'GET /vendors/bills': { rows: [], total: 0, open: 0 },
      'GET /reports/payables': { rows: [{ vendorId: 1, vendor: 'Copy House', buckets: [0, 100_00, 0, 0, 0], total: 100_00 }], together: { buckets: [0, 100_00, 0, 0, 0], total: 100_00 }, account: 130_00, unexplained: 30_00 }, // prettier-ignore
    })
    await stand('/books?show=payables&part=age')
    expect(screen.getByText(/stand at \$130\.00; \$30\.00 of it is no bill/)).toBeTruthy()
  })
})

describe('paying vendors', () => {
  const ahead = (discount: number) => ({ bills: [{ id: 1, vendor: 'Copy House', number: 'N-1', open: 100_00, discount, amount: 100_00 - discount }, { id: 2, vendor: 'Tern Reporters', number: '', open: 40_00, discount: 0, amount: 40_00 }], payees: 2, discount, total: 140_00 - discount }) // prettier-ignore
  it('keeps what was typed when the discount comes or goes, and pays each bill its amount', async () => {
    const server = new Server({
      'GET /trust/accounts': [{ id: 7, name: 'Operating', kind: 'operating', ending: '1', nextCheck: 1, balance: 0, bank: 'B' }],
      'POST /vendors/run/ahead': ({ body }: Asked) => ahead(body['takeDiscounts'] ? 2_00 : 0),
      'POST /vendors/run': faults(['parts.1.amount', 'Only $40.00 is open']),
    })
    const { emitted } = await show(PayVendors, { ids: [1, 2] })
    expect([field('Pay N-1').value, field('Pay Tern Reporters').value]).toEqual(['98.00', '40.00'])
    await put('Pay Tern Reporters', '45')
    await fireEvent.change(field('Pay Tern Reporters'))
    await fireEvent.click(screen.getByRole('checkbox', { name: /Take discounts/ }))
    await settled()
    expect([field('Pay N-1').value, field('Pay Tern Reporters').value]).toEqual(['100.00', '45.00'])
    await press('Pay $145.00')
    expect(wrong('Pay Tern Reporters')).toBe(true)
    server.on('POST /vendors/run', { amount: 140_00, printJob: null, payments: [{ id: 8, vendor: 'Copy House', checkNo: 2041, amount: 100_00 }, { id: 9, vendor: 'Tern Reporters', checkNo: null, amount: 40_00 }] }) // prettier-ignore
    await put('Pay Tern Reporters', '40')
    await fireEvent.change(field('Pay Tern Reporters'))
    await press('Pay $140.00')
    expect(server.sent('POST /vendors/run').at(-1)!.body).toEqual({ bankAccountId: 7, day: '2026-11-23', method: 'check', parts: [{ billId: 1, amount: 100_00 }, { billId: 2, amount: 40_00 }] }) // prettier-ignore
    await press('Done')
    expect(emitted('paid')).toEqual([[1]])
  })
})

describe('a vendor’s bill', () => {
  const around = {
    'GET /vendors/accounts': [
      { id: 31, text: '5020 Rent' },
      { id: 32, text: '5040 Office' },
    ],
    'GET /costs/kinds': [{ id: 3, code: 'DEPO', name: 'Deposition', hard: true, retired: false, unit: null, rate: null }],
    'GET /contacts': { rows: [{ id: 9, kind: 'organization', name: 'Copy House', email: '', phone: '', kinds: [], matters: 0, isPrivate: false }], total: 1 }, // prettier-ignore
    'GET /contacts/near': [],
    'GET /vendors/9/usual': { accountId: 32, dueDays: 15, bills: 4 },
  }
  it('takes account and days until due from the vendor’s last, but not over what was typed', async () => {
    const server = new Server({ ...around, 'POST /vendors/bills': faults(['lines.0.amount', 'Give an amount']) })
    const { user } = await show(VendorBill)
    expect(field('Due on').value).toContain('Dec 2026')
    await fireEvent.update(field('Account 1'), '31')
    await user.type(screen.getByRole('combobox', { name: 'Vendor' }), 'Copy')
    await settled()
    await user.click(await screen.findByRole('option', { name: /Copy House/ }))
    await settled()
    await press('Another line')
    await press('Enter bill')
    const sent = server.sent('POST /vendors/bills')[0]!.body
    expect(sent).toMatchObject({ vendorId: 9, day: '2026-11-23', dueOn: '2026-12-08' })
    expect((sent['lines'] as { accountId: number }[]).map((l) => l.accountId)).toEqual([31, 32])
    expect(wrong('Amount 1')).toBe(true)
  })
  it('that comes again is refused at its field where a number cannot be read', async () => {
    const server = new Server({ ...around, 'POST /vendors/recurring': faults(['dayOfMonth', 'Give a day from 1 to 31']) })
    await show(VendorBill, { recurring: true })
    await put('Date of the month', 'first')
    await press('Let it come again')
    expect([server.sent('POST /vendors/recurring')[0]!.body['dayOfMonth'], wrong('Date of the month')]).toEqual([-1, true])
  })
})
