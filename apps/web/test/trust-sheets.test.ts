import { fireEvent, screen } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import FeeShares from '../src/billing/FeeShares.vue'
import Years from '../src/books/Years.vue'
import CallSheet from '../src/trust/CallSheet.vue'
import FirmMoney from '../src/trust/FirmMoney.vue'
import HoldSheet from '../src/trust/HoldSheet.vue'
import OwnerSheet from '../src/trust/OwnerSheet.vue'
import VoidSheet from '../src/trust/VoidSheet.vue'
import { faults, field, lastNote, press, put, refusal, Server, settled, show, signIn, wrong } from './stage'

beforeEach(() => signIn({ rights: ['trust.see', 'trust.post', 'books.see', 'books.post', 'bills.see', 'bills.review'] }))
const bank = (id: number, name: string, kind: string) => ({ id, name, kind, ending: '4471', nextCheck: 1042, glAccountId: id })
const accounts = [bank(2, 'Pooled', 'pooled'), bank(3, 'Term of Gannet', 'separate'), bank(7, 'Operating', 'operating'), bank(8, 'Payroll', 'operating')] // prettier-ignore
const matters = { 'GET /matters': { rows: [], total: 0 }, 'GET /contacts': { rows: [], total: 0 } }

describe('what is held of a ledger', () => {
  it('is held with its reason, and each fault stands at its field', async () => {
    const server = new Server({
      'POST /trust/ledgers/12/holds': faults(['amount', 'Only $300.00 is there to hold'], ['reason', 'Say why']),
    })
    const { emitted } = await show(HoldSheet, { ledger: { id: 12, holds: [] } })
    await put('Amount', '400')
    await fireEvent.update(field('What it is'), 'disputed')
    await press('Hold $400.00')
    expect([wrong('Amount'), wrong(/^Why/), emitted('close')]).toEqual([true, true, undefined])
    server.on('POST /trust/ledgers/12/holds', { id: 4 })
    await put('Amount', '250')
    await put(/^Why/, 'The clinic says it is theirs')
    await press('Hold $250.00')
    expect(server.sent('POST /trust/ledgers/12/holds')[1]!.body).toMatchObject({ kind: 'disputed', amount: 250_00, reason: 'The clinic says it is theirs' }) // prettier-ignore
    expect([emitted('close')!.length, lastNote()?.text]).toEqual([1, 'Held; it is not paid out until it is released'])
  })
  it('is released for a reason of its own', async () => {
    const server = new Server({ 'POST /trust/holds/4/release': {} })
    const release = { id: 4, amount: 250_00, kind: 'lien', reason: 'Harrow Clinic', by: 'Orla' }
    await show(HoldSheet, { ledger: { id: 12, holds: [release] }, release })
    await put(/^Why/, 'Paid by the insurer')
    await press('Release $250.00')
    expect(server.sent('POST /trust/holds/4/release')[0]!.body).toMatchObject({ reason: 'Paid by the insurer' })
  })
})

describe('whose money it is', () => {
  it('of an entry on the wrong ledger is asked for at its whole amount, and waits for a second person', async () => {
    const server = new Server({ ...matters, 'POST /trust/corrections': faults(['clientId', 'Choose whose ledger is right']) })
    await show(OwnerSheet, { entry: { id: 31, day: '2026-11-02', text: 'Deposit of Ann', amount: 250_00 } })
    expect(field('Amount').value).toBe('250.00')
    await put('Amount', '90')
    await put(/^Why/, 'It was meant for the lease')
    await press('Ask for the correction')
    expect(server.sent('POST /trust/corrections')[0]!.body).toMatchObject({ entryId: 31, amount: 90_00, clientId: 0, matterId: null, day: '2026-11-23' }) // prettier-ignore
    expect(screen.getByText('Choose whose ledger is right')).toBeTruthy()
    server.on('POST /trust/corrections', { id: 5 })
    await press('Ask for the correction')
    expect(lastNote()?.text).toMatch(/posted when somebody else agrees/)
  })
  it('of a payment is told as it was, above zero', async () => {
    new Server(matters)
    await show(OwnerSheet, { entry: { id: 31, day: '2026-11-02', text: 'Check 1041', amount: -75_00 } })
    expect(field('Amount').value).toBe('75.00')
    expect(screen.getByText(/made good by the right one/)).toBeTruthy()
  })
})

describe('a payment that is voided', () => {
  it('says of a check how it is sure, and of a stale one that its money is followed', async () => {
    const server = new Server({ 'POST /trust/payments/9/void': {} })
    await show(VoidSheet, { id: 9, name: 'check 1041', stale: true })
    expect([field('Why').value, field(/^Nobody claimed it/).checked]).toEqual(['nobody cashed it', true])
    await fireEvent.update(field(/^How it is sure/), 'stopped')
    await press('Void it')
    expect(server.sent('POST /trust/payments/9/void')[0]!.body).toEqual({ day: '2026-11-23', reason: 'nobody cashed it', unclaimed: true, how: 'stopped' }) // prettier-ignore
  })
  it('says nothing of that where it is a wire, and stays as it is when it is refused', async () => {
    const server = new Server({ 'POST /trust/payments/9/void': refusal('month-closed', 'October is closed. Date it in an open month.') })
    const { emitted } = await show(VoidSheet, { id: 9, name: 'wire to Harrow Clerk' })
    await put('Why', 'Sent twice')
    await press('Void it')
    expect(server.sent('POST /trust/payments/9/void')[0]!.body).toEqual({ day: '2026-11-23', reason: 'Sent twice', unclaimed: false })
    expect([screen.getByText(/October is closed/).textContent, field('Why').value, emitted('close')]).toMatchObject([{}, 'Sent twice', undefined]) // prettier-ignore
  })
})

describe('the firm’s own money for charges', () => {
  it('goes from an operating account into one of trust', async () => {
    const server = new Server({
      'GET /trust/accounts': accounts,
      'POST /trust/accounts/2/firm-money': faults(['amount', 'Keep at most $200.00']),
    })
    await show(FirmMoney)
    expect([field('Into').value, field('Out of').value]).toEqual(['2', '7'])
    await put('Amount', '500')
    await press('Post it')
    expect([server.sent('POST /trust/accounts/2/firm-money')[0]!.body, wrong('Amount')]).toMatchObject([{ operatingAccountId: 7, amount: 500_00, day: '2026-11-23' }, true]) // prettier-ignore
  })
})

describe('a call on account', () => {
  const from = { client: { id: 9, text: 'Gannet Ferry' }, matter: null }
  it('keeps what is asked for, and refuses at its field what is no number of days', async () => {
    const server = new Server({ ...matters, 'GET /trust/accounts': accounts, 'POST /calls': faults(['everyDays', 'Give days like 14']) })
    await show(CallSheet, { call: null, from })
    await put('Amount', '5,000')
    await put(/^Ask again below/, '1,000')
    await put(/^Remind every/, 'often')
    expect(screen.getByText(/what fills it up to \$5,000.00 is asked for again/)).toBeTruthy()
    await press('Keep as draft')
    expect(server.sent('POST /calls')[0]!.body).toMatchObject({ bankAccountId: 2, clientId: 9, matterId: null, amount: 5_000_00, minimum: 1_000_00, everyDays: 0, dueOn: null }) // prettier-ignore
    expect(wrong(/^Remind every/)).toBe(true)
    server.on('POST /calls', { id: 3 })
    await put(/^Remind every/, '14')
    await press('Keep as draft')
    expect([server.sent('POST /calls')[1]!.body['everyDays'], lastNote()?.text]).toEqual([14, 'Kept as a draft; send it from its row'])
  })
})

describe('shares of fees and of the result', () => {
  it('say how much is left or too much, as they are typed', async () => {
    const staff = [
      { id: 2, name: 'Noor Haddad-Lind' },
      { id: 3, name: 'Tomas Ferreira' },
    ]
    const server = new Server({ 'PUT /matters/7/fee-shares': {} })
    await show(FeeShares, { matter: { id: 7 }, kept: { shares: [{ userId: 2, name: 'Noor Haddad-Lind', basisPoints: 60_00 }], staff } })
    expect(screen.getByRole('status').textContent).toBe('40 % is left')
    await press('Add someone')
    await fireEvent.update(field('Timekeeper 2'), '3')
    await put('Percent 2', '45,5')
    expect(screen.getByRole('status').textContent).toBe('5.5 % too much')
    await put('Percent 2', '40 %')
    expect(screen.queryByRole('status')).toBeNull()
    await press('Save')
    expect(server.sent('PUT /matters/7/fee-shares')[0]!.body).toEqual({ shares: [{ userId: 2, basisPoints: 60_00 }, { userId: 3, basisPoints: 40_00 }] }) // prettier-ignore
  })
  it('of a year are closed for the result that was shown, and opened again for a reason', async () => {
    const year = (to: string, more: object) => ({
      from: `${to.slice(0, 4)}-01-01`,
      to,
      over: true,
      journalId: null,
      net: 41_500_00,
      ...more,
    })
    const server = new Server({
      'GET /books/years': {
        closedTo: '2024-12-31',
        yearEnd: '12-31',
        years: [year('2025-12-31', {}), year('2024-12-31', { journalId: 88 })],
        shares: [{ accountId: 30, name: 'Equity of Fenn', basisPoints: 100_00 }],
        equity: [{ id: 30, name: 'Equity of Fenn' }],
      },
      'POST /books/years/2025-12-31/close': refusal('changed-meanwhile', 'The year earned $41,600.00 by now. Look again.'),
      'POST /books/closed-to': faults(['reason', 'Say why the books are opened']),
    })
    const { user } = await show(Years)
    const act = async (row: number, name: string) => {
      await user.click(screen.getAllByRole('button', { name: /^What can be done|^Acts|More/ })[row]!)
      await user.click(screen.getByRole('menuitem', { name }))
      await settled()
    }
    await act(0, 'Close the year')
    await press('Close the year')
    expect(server.sent('POST /books/years/2025-12-31/close')[0]!.body).toEqual({ net: 41_500_00 })
    expect(screen.getByText(/Look again/)).toBeTruthy()
    await press(/^Leave/)
    // What was refused went with its sheet.
    expect(screen.queryByText(/Look again/)).toBeNull()
    await fireEvent.click(screen.getAllByRole('button', { name: 'Change …' })[0]!)
    await settled()
    await put(/^Closed up to/, '2024-06-30')
    await fireEvent.change(field(/^Closed up to/))
    await settled()
    await press('Save')
    expect(server.sent('POST /books/closed-to')[0]!.body).toEqual({ day: '2024-06-30', reason: '' })
    expect(wrong(/^Why they are opened/)).toBe(true)
  })
})
