import { fireEvent, screen, within } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import EnterJournal from '../src/books/EnterJournal.vue'
import PayVendors from '../src/books/PayVendors.vue'
import VendorBill from '../src/books/VendorBill.vue'
import SettleSheet from '../src/billing/SettleSheet.vue'
import BankDid from '../src/trust/BankDid.vue'
import MoveSheet from '../src/trust/MoveSheet.vue'
import PayOut from '../src/trust/PayOut.vue'
import TransferSheet from '../src/trust/TransferSheet.vue'
import { somethingUnsaved } from '../src/ui/unsaved'
import { faults, lastNote, later, Server, settled, show, signIn, type Asked } from './stage'

beforeEach(() => signIn({ rights: ['trust.see', 'trust.post', 'books.see', 'books.post', 'bills.issue'], mayOverride: true }))
const field = (name: string | RegExp) => screen.getByLabelText(name) as HTMLInputElement
const put = (name: string | RegExp, text: string) => fireEvent.update(field(name), text)
const press = async (name: string | RegExp) => {
  await fireEvent.click(screen.getByRole('button', { name }))
  await settled()
}
const bank = (id: number, name: string, kind: string) => ({ id, name, kind, ending: '4471', nextCheck: 1042, glAccountId: id })
const accounts = [bank(2, 'Pooled', 'pooled'), bank(3, 'Term of Gannet', 'separate'), bank(7, 'Operating', 'operating'), bank(8, 'Payroll', 'operating')] // prettier-ignore
const ledger = (more: object = {}) => ({ id: 12, bankAccountId: 2, bank: 'Pooled', kind: 'client', clientId: 9, client: 'Gannet Ferry', matterId: 7, matter: '26-0031 Gannet', book: 500_00, uncleared: 200_00, reserved: 0, available: 300_00, ...more }) // prettier-ignore

describe('a payment out of trust', () => {
  const remembered = { payees: [{ name: 'Harrow Clerk', address: '1 Court Row' }, { name: 'Tern Surveys', address: '4 Quay' }, { name: 'No Address', address: '' }], memos: [], texts: [], receiptFee: 0 } // prettier-ignore
  const routes = () => ({ 'GET /trust/accounts': accounts, 'GET /trust/remembered': remembered, 'GET /trust/ledgers': { rows: [ledger()], total: 1, totalBook: 0 }, 'POST /trust/payments/now': { id: 5, checkNo: 1042, printJob: null } }) // prettier-ignore
  it('takes the address of its payee along, and the one of another when it is another, but never one that was typed', async () => {
    const server = new Server(routes())
    await show(PayOut, { from: ledger() })
    expect(somethingUnsaved()).toBe(false)
    await put('To', 'Harrow Clerk')
    expect(field(/^Address/).value).toBe('1 Court Row')
    await put('To', 'Tern Surveys')
    expect(field(/^Address/).value).toBe('4 Quay')
    await put('To', 'Somebody new')
    expect(field(/^Address/).value).toBe('')
    await put(/^Address/, '9 Mole, by hand')
    await put('To', 'Harrow Clerk')
    expect(field(/^Address/).value).toBe('9 Mole, by hand')
    await put('Amount', '120')
    await press(/^Post \$120.00/)
    expect(server.sent('POST /trust/payments/now')[0]!.body).toMatchObject({ payeeName: 'Harrow Clerk', payeeAddress: '9 Mole, by hand', amount: 120_00, checkNo: null }) // prettier-ignore
  })
  it('sends no number that nobody could read, none of a wire, and no reason that is not asked for any more', async () => {
    const server = new Server({ ...routes(), 'POST /trust/payments/now': faults(['checkNo', 'Give the number of the check']) })
    await show(PayOut, { from: ledger() })
    await put('To', 'Harrow Clerk')
    await put('Amount', '400')
    await put(/^Reason for spending/, 'Court fee due today')
    await put(/^Check number/, '10x2')
    await press(/^Post/)
    const sent = () => server.sent('POST /trust/payments/now').at(-1)!.body
    expect([sent()['checkNo'], sent()['overrideReason'], field(/^Check number/).getAttribute('aria-invalid')]).toEqual(['10x2', 'Court fee due today', 'true']) // prettier-ignore
    await put('Amount', '250')
    expect(screen.queryByLabelText(/^Reason for spending/)).toBeNull()
    await fireEvent.update(field('By'), 'wire')
    await press(/^Post/)
    expect([sent()['checkNo'], sent()['overrideReason'], sent()['method']]).toEqual([null, '', 'wire'])
  })
})

describe('money within trust', () => {
  it('goes to another matter or account of the same client; before a term ends it is asked first', async () => {
    const server = new Server({
      'GET /trust/accounts': accounts,
      'GET /matters': { rows: [{ id: 7, number: '26-0031', name: 'Gannet' }, { id: 8, number: '26-0032', name: 'Gannet lease' }], total: 2 },
      'POST /trust/moves': faults(['beforeTerm', 'The term ends on 1 Mar 2027. Say that it leaves before.']),
    }) // prettier-ignore
    await show(MoveSheet, { from: { ...ledger(), entries: [], holds: [] } })
    await fireEvent.update(field('For'), '8')
    await put('Amount', '50')
    await put('Why', 'As the client asked')
    await press(/^Move \$50.00/)
    expect(server.sent('POST /trust/moves')[0]!.body).toMatchObject({ fromLedgerId: 12, bankAccountId: 2, matterId: 8, amount: 50_00, beforeTerm: false }) // prettier-ignore
    await fireEvent.click(screen.getByRole('checkbox', { name: /leaves before the term/ }))
    server.on('POST /trust/moves', { journalId: 4 })
    await press(/^Move/)
    expect([server.sent('POST /trust/moves')[1]!.body['beforeTerm'], lastNote()?.text]).toEqual([true, '$50.00 moved'])
  })
  it('pays the bills that were chosen and no others, each its own amount', async () => {
    const row = (billId: number, amount: number) => ({ ledgerId: 12, ledger: 'Gannet Ferry', billId, number: `B-${billId}`, matter: '26-0031', dueOn: '2026-11-01', open: 200_00, available: 300_00, amount }) // prettier-ignore
    const server = new Server({
      'GET /trust/accounts': accounts,
      'POST /trust/transfers/ahead': { rows: [row(1, 200_00), row(2, 100_00), row(3, 0)], total: 300_00, more: false },
      'POST /trust/transfers': faults(['parts.1.amount', 'Only $80.00 is available']),
    })
    await show(TransferSheet)
    expect(screen.getByRole('button', { name: /^Transfer/ })).toHaveProperty('disabled', true)
    await press(/^Choose all, \$300.00/)
    // What nothing is left for stays unchosen.
    expect(screen.getAllByRole('checkbox').map((c) => (c as HTMLInputElement).checked)).toEqual([true, true, false])
    await fireEvent.click(screen.getAllByRole('checkbox')[0]!)
    await fireEvent.click(screen.getAllByRole('checkbox')[0]!)
    await put('Pay B-2', '90')
    await press(/^Transfer \$290.00/)
    expect(server.sent('POST /trust/transfers')[0]!.body).toMatchObject({ bankAccountId: 2, operatingAccountId: 7, parts: [{ billId: 1, amount: 200_00 }, { billId: 2, amount: 90_00 }] }) // prettier-ignore
    expect(field('Pay B-2').getAttribute('aria-invalid')).toBe('true')
  })
})

describe('what the bank did', () => {
  it('shows what a returned deposit leaves to cover on the day that stands there, however late an answer of another day comes', async () => {
    const late = later<unknown>()
    const told = (cover: number) => ({ receiptNo: 31, depositor: 'Ann', amount: 250_00, ledger: 'Gannet Ferry', cover })
    const server = new Server({
      'GET /trust/accounts': accounts,
      'GET /trust/receipts': [{ id: 31, receiptNo: 31, depositor: 'Ann', amount: 250_00, day: '2026-11-02', client: 'Gannet Ferry' }],
      'POST /trust/receipts/31/returned/ahead': ({ body }: Asked) => (body['day'] === '2026-11-23' ? late.promise : told(40_00)),
      'POST /trust/receipts/31/returned': { cover: 40_00 },
    })
    const on = await show(BankDid)
    await on.user.type(screen.getByRole('combobox', { name: 'Receipt' }), '31')
    await on.user.click(await screen.findByRole('option', { name: /Receipt 31/ }))
    await put(/^On the bank/, '20 Nov')
    await settled()
    late.come(told(0))
    await settled()
    expect(screen.getByText(/would lack \$40.00/)).toBeTruthy()
    await put(/^The bank’s reason/, 'insufficient funds')
    await press(/^Post it/)
    expect([server.sent('POST /trust/receipts/31/returned')[0]!.body, lastNote()?.text]).toEqual([
      expect.objectContaining({ day: '2026-11-20', text: 'insufficient funds' }),
      'Posted; $40.00 is covered from operating. Send it to the trust account',
    ])
  })
})

describe('a vendor’s bill', () => {
  it('follows what was usual with its vendor, and with another, but not where somebody typed', async () => {
    const vendor = (id: number, name: string) => ({ id, name, kinds: [] })
    const server = new Server({
      'GET /vendors/accounts': [{ id: 5, text: '5020 Rent', kind: 'expense' }, { id: 6, text: '5300 Phone', kind: 'expense' }, { id: 8, text: '5800 Travel', kind: 'expense' }], // prettier-ignore
      'GET /costs/kinds': [],
      'GET /contacts': ({ query }: Asked) => ({ rows: query['q']?.startsWith('L') ? [vendor(1, 'Lime Street')] : query['q'] ? [vendor(2, 'Telecom')] : [], total: 1 }), // prettier-ignore
      'GET /vendors/1/usual': { accountId: 5, dueDays: 10, address: '', bills: 3 },
      'GET /vendors/2/usual': { accountId: 6, dueDays: 20, address: '', bills: 1 },
      'POST /vendors/bills': { id: 4 },
    })
    const on = await show(VendorBill)
    const take = async (q: string) => {
      await on.user.clear(screen.getByRole('combobox', { name: 'Vendor' }))
      await on.user.type(screen.getByRole('combobox', { name: 'Vendor' }), q)
      await on.user.click(await screen.findByRole('option', { name: q === 'L' ? 'Lime Street' : 'Telecom' }))
      await settled()
    }
    await take('L')
    expect([field('Account 1').value, field('Due on').value]).toEqual(['5', 'Thu 3 Dec 2026'])
    await take('T')
    expect([field('Account 1').value, field('Due on').value]).toEqual(['6', 'Sun 13 Dec 2026'])
    await fireEvent.update(field('Account 1'), '8')
    await put('Due on', '1 Dec')
    await take('L')
    expect([field('Account 1').value, field('Due on').value]).toEqual(['8', '1 Dec'])
    await put('Amount 1', '84.10')
    await press(/^Enter bill/)
    expect(server.sent('POST /vendors/bills')[0]!.body).toMatchObject({ vendorId: 1, dueOn: '2026-12-01', lines: [{ accountId: 8, amount: 84_10 }] }) // prettier-ignore
  })
  it('is paid as it was typed, though what a day would come to is worked out again', async () => {
    const bill = (id: number, discount: number) => ({ id, vendor: 'Lime Street', number: `L-${id}`, open: 100_00, discount, amount: 100_00 - discount }) // prettier-ignore
    const server = new Server({
      'GET /trust/accounts': accounts,
      'POST /vendors/run/ahead': ({ body }: Asked) => ({ bills: [bill(1, body['takeDiscounts'] ? 2_00 : 0), bill(2, 0)], payees: 1, discount: body['takeDiscounts'] ? 2_00 : 0, total: 200_00 }), // prettier-ignore
      'POST /vendors/run': { amount: 160_00, payments: [{ id: 1, vendor: 'Lime Street', checkNo: 5_001, amount: 160_00 }], printJob: null },
    })
    await show(PayVendors, { ids: [1, 2] })
    await put('Pay L-2', '60')
    await fireEvent.click(screen.getByRole('checkbox', { name: /Take discounts/ }))
    await settled()
    expect([field('Pay L-1').value, field('Pay L-2').value]).toEqual(['100.00', '60'])
    await press(/^Pay \$160.00/)
    expect(server.sent('POST /vendors/run')[0]!.body).toMatchObject({ parts: [{ billId: 1, amount: 100_00 }, { billId: 2, amount: 60_00 }] }) // prettier-ignore
    expect([screen.getByText(/Check 5001/).textContent, somethingUnsaved()]).toEqual([expect.stringContaining('Lime Street'), false])
  })
})

describe('a journal by hand', () => {
  it('leaves out lines that nobody filled in, and is not sent while it does not balance', async () => {
    const server = new Server({ 'GET /books/templates': [], 'POST /books/journals': { id: 77 } })
    const row = (id: number, name: string) => ({ id, code: `5${id}`, name, byHand: true })
    await show(EnterJournal, { accounts: [row(1, 'Rent'), row(2, 'Phone')] })
    await put('What it is', 'Moved to phone')
    await fireEvent.update(field('Account 1'), '1')
    await fireEvent.update(field('Account 2'), '2')
    const line = (n: number) => within(screen.getByRole('group', { name: `Line ${n}` }))
    await fireEvent.update(line(1).getByLabelText(/^Debit/), '10')
    expect(screen.getByRole('button', { name: /^Post journal/ })).toHaveProperty('disabled', true)
    await fireEvent.update(line(2).getByLabelText(/^Credit/), '10')
    await press('Another line')
    await press(/^Post journal/)
    expect(server.sent('POST /books/journals')[0]!.body).toMatchObject({ lines: [{ accountId: 1, amount: 10_00 }, { accountId: 2, amount: -10_00 }] }) // prettier-ignore
  })
})

describe('a payment taken off a bill', () => {
  it('of no amount is refused, and not taken for all of it', async () => {
    const payment = { id: 6, kind: 'check', number: null, amount: 80_00, here: 80_00, day: '2026-11-02' }
    const server = new Server({ 'POST /payments/6/take-off': faults(['amount', 'Give an amount above zero']) })
    await show(SettleSheet, { bill: { id: 4, number: 'B-1004', open: 0, others: [] }, settling: { what: 'take off', payment } })
    await put('Amount', '')
    await put('Why', 'Paid by mistake')
    await press(/^Take off \$0.00/)
    expect(server.sent('POST /payments/6/take-off')[0]!.body['amount']).toBe(0)
    expect(field('Amount').getAttribute('aria-invalid')).toBe('true')
  })
})
