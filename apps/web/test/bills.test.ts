import { fireEvent, screen } from '@testing-library/vue'
import type { Right } from '@heron/contract'
import { beforeEach, describe, expect, it } from 'vitest'
import BillTable from '../src/billing/BillTable.vue'
import Credits from '../src/billing/Credits.vue'
import CreditNote from '../src/billing/CreditNote.vue'
import CreditSheet from '../src/billing/CreditSheet.vue'
import ReceivePayment from '../src/billing/ReceivePayment.vue'
import SettleSheet from '../src/billing/SettleSheet.vue'
import Accounts from '../src/setup/Accounts.vue'
import Letters from '../src/setup/Letters.vue'
import TermsSheet from '../src/time/TermsSheet.vue'
import { drawn, faults, lastNote, later, refusal, Server, settled, show, signIn } from './stage'

const rights: Right[] = ['bills.see', 'bills.issue', 'bills.review', 'trust.see', 'trust.post', 'books.see']
beforeEach(() => {
  localStorage.clear()
  signIn({ name: 'Orla Petrakis', role: 'bookkeeper', rights })
})

const bank = (id: number, name: string) => ({ id, name, kind: 'operating', bank: 'B', ending: '1111', balance: 0, nextCheck: 1 })
const openBill = (id: number, open: number, dueOn: string) => ({
  id,
  number: `B-${id}`,
  matter: 'Gannet v. Corvane',
  issuedOn: '2026-10-01',
  dueOn,
  total: open,
  open,
})
const stands = {
  id: 9,
  name: 'Gannet Ferry',
  owed: 30_000,
  open: 2,
  bills: [openBill(11, 10_000, '2026-11-01'), openBill(12, 20_000, '2026-12-01')],
  credits: [],
  credit: 0,
}
const type = (label: string | RegExp, text: string) => fireEvent.update(screen.getByLabelText(label), text)
const value = (label: string) => (screen.getByLabelText(label) as HTMLInputElement).value
const save = async (name: string | RegExp) => {
  // Of two of that name the sheet in front is meant.
  await fireEvent.click(screen.getAllByRole('button', { name }).at(-1)!)
  await settled()
}

describe('a payment received', () => {
  const routes = () => ({
    'GET /payers/9': stands,
    'GET /trust/accounts': [bank(1, 'Operating'), bank(4, 'Second operating')],
    'POST /payments': { id: 5, applied: [{ billId: 11, number: 'B-11', amount: 10_000 }], credit: 2_000 },
  })
  it('is spread over the oldest due first until someone says otherwise, and says what is left over', async () => {
    const server = new Server(routes())
    await show(ReceivePayment, { payer: { id: 9, text: 'Gannet Ferry' } })
    expect(value('Amount')).toBe('300.00')
    await type('Amount', '120.00')
    await settled()
    expect([value('On B-11'), value('On B-12')]).toEqual(['100.00', '20.00'])
    await type('On B-12', '0')
    await settled()
    expect(screen.getByText('$20.00')).toBeTruthy()
    // What was said by hand stays, whatever the amount becomes.
    await type('Amount', '150.00')
    await settled()
    expect([value('On B-11'), value('On B-12')]).toEqual(['100.00', '0'])
    await fireEvent.update(screen.getByLabelText('Into'), '4')
    await save(/^Receive/)
    expect(server.sent('POST /payments')[0]!.body).toMatchObject({
      payerId: 9,
      amount: 15_000,
      kind: 'check',
      bankAccountId: 4,
      parts: [{ billId: 11, amount: 10_000 }],
    })
    expect(server.sent('POST /payments')[0]!.key).toBeTruthy()
    expect(lastNote()?.text).toBe('$150.00 received on B-11; $20.00 is left over as a credit')
  })
  it('of a bill that is open on the page pays that bill first, and puts a fault at its line', async () => {
    const server = new Server({ ...routes(), 'POST /payments': faults(['parts.0.amount', 'Bill B-12 leaves $150.00 open']) })
    await show(ReceivePayment, { payer: { id: 9, text: 'Gannet Ferry' }, billId: 12 })
    expect([value('Amount'), value('On B-11'), value('On B-12')]).toEqual(['200.00', '', '200.00'])
    await save(/^Receive/)
    expect(server.sent('POST /payments')).toHaveLength(1)
    expect(screen.getByText('Bill B-12 leaves $150.00 open')).toBeTruthy()
  })
  it('of another payer after all has nothing of the first: neither their bills nor the amount they owe', async () => {
    const slow = later()
    const other = { ...stands, id: 10, name: 'Corvane', owed: 5_000, open: 1, bills: [openBill(21, 5_000, '2026-10-01')] }
    const contact = (id: number, name: string) => ({ id, name, kind: 'organization', kinds: [], email: '', phone: '', matters: 1 })
    const server = new Server({ ...routes(), 'GET /contacts': { rows: [contact(9, 'Gannet Ferry'), contact(10, 'Corvane'), contact(12, 'Lessor')], total: 3 }, 'GET /payers/10': () => slow.promise }) // prettier-ignore
    const { user } = await show(ReceivePayment)
    const from = async (letters: string, name: RegExp) => {
      const box = screen.getByRole('combobox', { name: 'From' })
      await user.clear(box)
      await user.type(box, letters)
      await drawn()
      await user.click(await screen.findByRole('option', { name }))
      await settled()
    }
    await from('gann', /^Gannet/)
    expect(value('Amount')).toBe('300.00')
    await from('corv', /^Corvane/)
    // Until it is known how the other stands, nothing is received.
    expect(screen.queryByLabelText('On B-11')).toBeNull()
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /^Receive/ }).disabled).toBe(true)
    slow.come(other)
    await settled()
    expect([value('Amount'), value('On B-21')]).toEqual(['50.00', '50.00'])
    await save(/^Receive/)
    expect(server.sent('POST /payments')[0]!.body).toMatchObject({ payerId: 10, amount: 5_000, parts: [{ billId: 21, amount: 5_000 }] })
  })
  it('that reaches beyond the bills that are listed goes on to those due after them', async () => {
    const server = new Server({ ...routes(), 'GET /payers/9': { ...stands, open: 230, owed: 900_000 } })
    await show(ReceivePayment, { payer: { id: 9, text: 'Gannet Ferry' } })
    expect(screen.getByText(/It goes on to the bills that are due after these/)).toBeTruthy()
    await save(/^Receive/)
    expect('parts' in server.sent('POST /payments')[0]!.body).toBe(false)
  })
  it('given to bills beyond what was paid says so before it is sent', async () => {
    new Server(routes())
    await show(ReceivePayment, { payer: { id: 9, text: 'Gannet Ferry' } })
    await type('Amount', '50.00')
    await type('On B-12', '200.00')
    await settled()
    expect(screen.getByText(/Given to bills beyond what was paid/)).toBeTruthy()
  })
})

const line = (id: number, net: number, kind = 'time') => ({ id, kind, text: `Line ${id}`, net, noCharge: false })
const bill = (more: object = {}) => ({
  id: 11,
  number: 'B-11',
  open: 10_000,
  others: [],
  lines: [line(1, 6_000), line(2, 4_000), line(3, 500, 'tax')],
  payments: [],
  ...more,
})

describe('a credit note', () => {
  const shown = { lines: [], net: 2_000, tax: 100, total: 2_100, back: [{ paymentId: 4, kind: 'trust', amount: 700, to: 'trust' }] }
  it('is seen before it is made; an answer that comes late does not take the place of a newer one', async () => {
    const slow = later<unknown>()
    let n = 0
    const server = new Server({
      'POST /bills/11/credit-notes/preview': () => ((n += 1) === 1 ? slow.promise : shown),
      'POST /bills/11/credit-notes': { ...shown, id: 8, number: 'CN-1007' },
    })
    await show(CreditNote, { bill: bill() })
    await type('Amount before tax', '19.00')
    await new Promise((r) => setTimeout(r, 230))
    await type('Amount before tax', '20.00')
    await new Promise((r) => setTimeout(r, 230))
    await settled()
    slow.come({ ...shown, total: 999_999 })
    await settled()
    expect(screen.getByText('$7.00', { exact: false }).parentElement!.textContent).toContain('returns to its ledger')
    expect(screen.queryByText('$9,999.99')).toBeNull()
    await type('Why', 'courtesy')
    await save('Credit $21.00')
    expect(server.sent('POST /bills/11/credit-notes')[0]!.body).toMatchObject({ amount: 2_000, reason: 'courtesy' })
    expect(lastNote()?.text).toBe('Credit note CN-1007 of $21.00 made')
  })
  it('by line sends the lines that were given an amount, none of them tax, and puts a fault at its line', async () => {
    const server = new Server({
      'POST /bills/11/credit-notes/preview': shown,
      'POST /bills/11/credit-notes': faults(['lines.0.amount', '$40.00 before tax is left to credit']),
    })
    await show(CreditNote, { bill: bill() })
    await save('By line')
    expect(screen.queryByLabelText('Credit of Line 3')).toBeNull()
    await type('Credit of Line 2', '50.00')
    await type('Why', 'wrong rate')
    await save(/^Credit/)
    expect(server.sent('POST /bills/11/credit-notes')[0]!.body).toMatchObject({ lines: [{ lineId: 2, amount: 5_000 }] })
    expect(screen.getByText('$40.00 before tax is left to credit')).toBeTruthy()
  })
})

describe('what settles a bill', () => {
  const payment = {
    id: 4,
    day: '2026-11-20',
    kind: 'trust',
    number: null,
    reason: '',
    amount: 5_000,
    here: 4_000,
    credit: 0,
    reversed: false,
  }
  const other = { number: 'B-12' }
  it.each([
    ['written off', { what: 'write off' }, /^Write off \$100\.00/, 'POST /bills/11/write-offs', { amount: 10_000 }],
    ['taken off', { what: 'take off', payment }, /^Take off \$40\.00/, 'POST /payments/4/take-off', { billId: 11, amount: 4_000 }],
    ['reversed', { what: 'reverse', payment }, /^Reverse/, 'POST /payments/4/reverse', { day: '2026-11-23' }],
  ])('is %s, with a day and why', async (_, settling, button, path, body) => {
    const server = new Server({ [path]: { id: 1, ok: true, amount: 4_000 } })
    await show(SettleSheet, { bill: bill(), settling })
    await type('Why', 'as it is')
    await save(button)
    expect(server.sent(path)[0]!.body).toMatchObject({ ...body, reason: 'as it is' })
  })
  it('stays where a void is refused, and says which bills go with it', async () => {
    new Server({ 'POST /bills/11/void': refusal('has-credits', 'Bill B-11 has credit notes or write-offs. Reverse them first.') })
    await show(SettleSheet, { bill: bill({ others: [other] }), settling: { what: 'void' } })
    expect(screen.getByText(/The bills of the other payers \(B-12\) are voided with it/)).toBeTruthy()
    await type('Why', 'wrong matter')
    await save(/^Void the bill/)
    expect(screen.getByRole('alert').textContent).toContain('Reverse them first')
  })
})

describe('a credit of a payer', () => {
  const credit = {
    id: 5,
    day: '2026-11-20',
    kind: 'check',
    reference: '77',
    amount: 50_000,
    payerId: 9,
    payer: 'Gannet Ferry',
    credit: 15_000,
  }
  it('is listed with what can be done to it, by right', async () => {
    const server = new Server({ 'GET /credits': { rows: [credit], total: 1, together: 15_000 } })
    const on = await show(Credits)
    await on.user.click(screen.getByRole('button', { name: 'Acts on Gannet Ferry' }))
    expect(screen.getAllByRole('menuitem').map((m) => m.textContent.trim())).toEqual(['Apply to a bill', 'Pay back', 'Move to trust'])
    expect(server.asked).toHaveLength(1)
    document.body.replaceChildren()
    signIn({ rights: ['bills.see'] })
    await show(Credits)
    expect(screen.queryByRole('button', { name: 'Acts on Gannet Ferry' })).toBeNull()
  })
  it('is applied to no more than a bill leaves open', async () => {
    const server = new Server({ 'GET /payers/9': stands, 'POST /payments/5/apply': { ok: true } })
    await show(CreditSheet, { credit, what: 'apply' })
    expect(value('Amount')).toBe('100.00')
    await save(/^Apply to a bill/)
    expect(server.sent('POST /payments/5/apply')[0]!.body).toMatchObject({ billId: 11, amount: 10_000 })
  })
  it('is moved to trust for the client as a whole, or for a matter', async () => {
    const server = new Server({
      'GET /payers/9': stands,
      'GET /trust/accounts': [{ ...bank(2, 'Pooled'), kind: 'pooled' }],
      'GET /matters': { rows: [], total: 0 },
      'POST /payments/5/to-trust': { journalId: 3 },
    })
    await show(CreditSheet, { credit, what: 'to trust' })
    await save(/^Move to trust/)
    expect(server.sent('POST /payments/5/to-trust')[0]!.body).toMatchObject({ trustAccountId: 2, matterId: null, amount: 15_000 })
  })
})

describe('a list of bills', () => {
  it('says paid, void and late, and what is open on all', async () => {
    const row = (id: number, more: object) => ({ ...openBill(id, 500, '2026-11-01'), matterId: 7, payer: 'Gannet', void: false, ...more })
    await show(BillTable, { rows: [row(1, {}), row(2, { open: 0 }), row(3, { open: 0, void: true })], totalOpen: 500, showMatter: true })
    expect(screen.getByText('paid')).toBeTruthy()
    expect(screen.getByText('void')).toBeTruthy()
    expect(screen.getByText('All open').closest('tr')!.textContent).toContain('$5.00')
    expect(screen.getAllByText('Sun 1 Nov')[0]!.className).toContain('rust')
  })
})

describe('rounding and rates', () => {
  it('of a matter go back as they were given, empty ones as usual', async () => {
    const server = new Server({
      'GET /time/fields': { fields: [], funding: [] },
      'GET /field-groups': [],
      'GET /phrases': [],
      'GET /activities': [],
      'GET /matters/7/terms': {
        unit: null,
        rounding: null,
        usual: { unit: 6, rounding: 'up' },
        roles: [{ role: 'paralegal', rate: 12_000 }],
      },
      'GET /time/rates-anew': { looked: 0, more: false, difference: 0, rows: [] },
      'PUT /matters/7/terms': { ok: true },
    })
    await show(TermsSheet, { of: 'matter', id: 7, name: '26-0001' })
    expect(value('Rate of paralegal')).toBe('120.00')
    expect(screen.getByText('Empty: 6 minutes, as usual')).toBeTruthy()
    await type(/^Unit in minutes/, '15')
    await type('Rate of lead', '310.00')
    await type('Rate of paralegal', '')
    await save('Save')
    expect(server.sent('PUT /matters/7/terms')[0]!.body).toMatchObject({
      unit: 15,
      rounding: null,
      roles: [{ role: 'lead', rate: 31_000 }],
    })
  })
})

describe('the set-up of money and letters', () => {
  it('adds a bank account with the accounts it is booked to', async () => {
    const server = new Server({
      'GET /accounts': { banks: [], chart: [], clearing: [] },
      'POST /accounts/banks': faults(['liabilityCode', '2010 is Owed to clients. Give another number']),
    })
    await show(Accounts)
    await save('New bank account')
    await fireEvent.update(screen.getByLabelText('Kind'), 'pooled')
    await settled()
    for (const [label, text] of [
      ['Name', 'Second pooled'],
      ['Bank', 'Tidewater'],
      ['Last four digits', '4455'],
      ['Number of its account in the chart', '1021'],
      ['Number of what is owed to clients', '2010'],
    ])
      await type(label!, text!)
    await save('Save')
    expect(server.sent('POST /accounts/banks')[0]!.body).toMatchObject({
      kind: 'pooled',
      code: '1021',
      liabilityCode: '2010',
      nextCheck: 1001,
    })
    expect(screen.getByText('2010 is Owed to clients. Give another number')).toBeTruthy()
  })
  it('never sends back a password that was not typed', async () => {
    const way = {
      name: '',
      address: 'office@firm.example',
      filing: '',
      host: 'smtp.firm.example',
      port: 587,
      security: 'starttls',
      user: 'office',
    }
    const server = new Server({ 'GET /firm/mail': { ...way, hasPassword: true, own: false }, 'PUT /firm/mail': { ok: true } })
    await show(Letters)
    expect(screen.getByText('One is kept; give another to change it.')).toBeTruthy()
    await type('Port', '465')
    await save('Save')
    expect(server.sent('PUT /firm/mail')[0]!.body).toEqual({ ...way, port: 465 })
    expect(lastNote()?.text).toBe('How letters go out is kept')
  })
})
