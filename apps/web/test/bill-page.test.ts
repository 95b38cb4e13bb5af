import { fireEvent, screen, within } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import Bill from '../src/billing/Bill.vue'
import PayLinks from '../src/billing/PayLinks.vue'
import Statement from '../src/billing/Statement.vue'
import PaymentsTable from '../src/trust/PaymentsTable.vue'
import { answer, faults, field, lastNote, press, put, refusal, Server, settled, show, signIn, standAt, wrong } from './stage'

beforeEach(() => {
  localStorage.clear()
  signIn({ rights: ['bills.see', 'bills.issue', 'trust.see', 'trust.post'] })
})
type User = Awaited<ReturnType<typeof show>>['user']
const told = (element: Element | null) => element?.textContent?.trim().replaceAll(/\s+/g, ' ')
const items = async (user: User, name: string | RegExp) => {
  await user.click(screen.getByRole('button', { name }))
  const texts = screen.getAllByRole('menuitem').map((x) => x.textContent.trim())
  await user.keyboard('{Escape}')
  return texts
}

describe('an issued bill', () => {
  const line = (id: number, more: object = {}) => ({ id, day: '2026-10-05', timekeeper: 'Noor Haddad-Lind', initials: 'NH', text: `Line ${id}`, minutes: 42, rate: 285_00, worked: 199_50, charged: 199_50, noCharge: false, told: false, ...more }) // prettier-ignore
  const payment = (id: number, more: object = {}) => ({ id, day: '2026-11-02', kind: 'check', number: null, reason: '', amount: 1_000_00, here: 1_000_00, credit: 0, reversed: false, ...more }) // prettier-ignore
  const totals = { worked: 399_00, workedMinutes: 84, writtenDown: 0, noCharge: 199_50, fees: 199_50, costs: 0, discount: 0, tax: 0, taxes: [], total: 199_50 } // prettier-ignore
  const bill = (more: object = {}) => ({ id: 9, number: '1042', matterId: 7, matter: 'Gannet v. Corvane', payer: 'Gannet Ferry', payerId: 4, issuedOn: '2026-10-31', dueOn: '2026-11-30', total: 6_154_00, open: 5_154_00, void: false, workTo: '2026-10-31', lines: [line(1), line(2, { noCharge: true })], totals, payments: [], pdfHash: null, disputed: null, sent: [], part: null, others: [], ledgers: [{ id: 3, name: 'Gannet retainer', available: 5_000_00, held: 6_000_00 }], ...more }) // prettier-ignore
  const open = async (more: object = {}, routes: Record<string, unknown> = {}) => {
    const server = new Server({ 'GET /bills/9': bill(more), 'GET /bills/9/ledes/check': { format: 'pdf', faults: [] }, 'GET /views': [], ...routes }) // prettier-ignore
    await standAt('/bills/:id', '/bills/9', Bill)
    return { server, ...(await show(Bill)) }
  }

  it('offers what can still be done with it, and of a void one only the account', async () => {
    const { user } = await open()
    expect(await items(user, 'More on this bill')).toEqual(['Statement of account', 'Pay by link', 'Credit note', 'Write off what is open', 'Mark as disputed', 'Void the bill']) // prettier-ignore
    document.body.replaceChildren()
    await open({ void: true, open: 0 })
    expect(await items(user, 'More on this bill')).toEqual(['Statement of account'])
    expect(screen.queryByRole('button', { name: /Payment received|Pay from trust|^Send/ })).toBeNull()
    expect(screen.getByText(/its number stays, nothing is owed on it/)).toBeTruthy()
  })

  it('is read by whoever issues none', async () => {
    signIn({ rights: ['bills.see'] })
    const { user } = await open({ payments: [payment(1)] })
    expect(await items(user, 'More on this bill')).toEqual(['Statement of account'])
    expect(screen.queryByRole('button', { name: /^Acts on check/i })).toBeNull()
  })

  it('tells of each payment what stands here, and offers what fits it', async () => {
    const { user } = await open({
      payments: [
        payment(1, { amount: 2_500_00 }),
        payment(2, { kind: 'credit note', number: '7', amount: 100_00, here: 100_00, reason: 'Goodwill' }),
        payment(3, { kind: 'check', here: 0, amount: 300_00 }),
        payment(4, { kind: 'card', amount: 90_00, reversed: true }),
      ],
    })
    const paid = told(screen.getByRole('region', { name: 'Payments' }))!
    expect(paid).toMatch(/, of \$2,500\.00 ?\$1,000\.00/)
    expect(paid).toContain(': Goodwill')
    expect(paid).toContain(', reversed')
    expect(await items(user, /\$2,500\.00$/)).toEqual(['Take off this bill', 'Reverse', 'Receipt as PDF', 'Send the receipt …'])
    expect(await items(user, /\$100\.00$/)).toEqual(['Reverse'])
    // Nothing of it stands here: there is nothing to take off.
    expect(await items(user, /\$300\.00$/)).toEqual(['Reverse', 'Receipt as PDF', 'Send the receipt …'])
  })

  it('is paid from trust by no more than is there and open, shown as it will be posted', async () => {
    const { server } = await open({}, { 'POST /trust/bill-payments': faults(['amount', 'Only $5,000.00 is available']) })
    await press('Pay from trust')
    expect(field('Amount').value).toBe('5,000.00')
    expect(told(screen.getByRole('table', { name: 'What will be posted' }))).toContain('Owed to clients, Gannet retainer$5,000.00 Trust bank$5,000.00') // prettier-ignore
    await put('Amount', '5,100')
    await fireEvent.blur(field('Amount'))
    await press(/^Pay \$5,100\.00/)
    expect(wrong('Amount')).toBe(true)
    server.on('POST /trust/bill-payments', { id: 1 })
    await put('Amount', '5,000')
    await fireEvent.blur(field('Amount'))
    await press(/^Pay \$5,000\.00/)
    expect(server.sent('POST /trust/bill-payments').at(-1)!.body).toMatchObject({
      ledgerId: 3,
      billId: 9,
      day: '2026-11-23',
      amount: 5_000_00,
    })
    expect(lastNote()?.text).toBe('$5,000.00 paid from trust')
  })

  it('is not paid from trust where no ledger may pay it', async () => {
    await open({ ledgers: [] })
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Pay from trust' }).disabled).toBe(true)
  })

  it('says what keeps it from going out as LEDES, or gives the file', async () => {
    await open({}, { 'GET /bills/9/ledes/check': { format: 'ledes', faults: ['Line 2 has no task code'] } })
    expect(screen.getByText('Line 2 has no task code')).toBeTruthy()
    expect(screen.queryByRole('link', { name: 'LEDES' })).toBeNull()
    document.body.replaceChildren()
    await open({}, { 'GET /bills/9/ledes/check': { format: 'ledes', faults: [] } })
    expect(screen.getByRole('link', { name: 'LEDES' }).getAttribute('href')).toBe('/api/bills/9/ledes')
  })

  it('of one payer’s part says which, and leads to the others', async () => {
    await open({ part: { share: '60 %', of: 10_256_67 }, others: [{ id: 10, number: '1043', payer: 'Corvane Re', total: 4_102_67 }] })
    expect(screen.getByText(/60 % of \$10,256\.67; hours and rates are those of the whole work/)).toBeTruthy()
    expect(screen.getByRole('link', { name: '1043' }).getAttribute('href')).toBe('/bills/10')
  })
})

describe('links by which a bill is paid', () => {
  const links = { offered: true, links: [{ id: 2, madeAt: '2026-11-02T10:00:00Z', by: 'Orla', endedAt: null }], charges: [] }
  it('are shown once, and end only after it was asked', async () => {
    const server = new Server({ 'GET /bills/9/pay-links': links, 'POST /bills/9/pay-links': { url: 'https://heron.example/pay/s3cret' }, 'POST /pay-links/2/ended': { ok: true } }) // prettier-ignore
    await show(PayLinks, { id: 9, number: '1042', open: 100 })
    await press('Make a link')
    expect(field('Address of the link').value).toBe('https://heron.example/pay/s3cret')
    await press(/^End the link of/)
    await answer(false)
    expect(server.sent('POST /pay-links/2/ended')).toEqual([])
    await press(/^End the link of/)
    await answer(true)
    expect([server.sent('POST /pay-links/2/ended').length, lastNote()?.text]).toEqual([1, 'The link is ended'])
  })
})

describe('the statement of account', () => {
  const statement = { payerId: 4, payer: 'Gannet Ferry', email: '', matter: null, from: '2026-08-23', to: '2026-11-23', opening: 100_00, closing: 350_00, credit: 20_00, aging: [0, 350_00], rows: [{ day: '2026-10-31', text: 'Bill 1042', billId: 9, charged: 500_00, settled: 0, balance: 600_00 }, { day: '2026-11-02', text: 'Check', billId: 9, charged: 0, settled: 250_00, balance: 350_00 }], open: [{ id: 9, number: '1042', due: '2026-11-30', open: 350_00 }] } // prettier-ignore
  const open = async (address = '/people/4/statement', routes: Record<string, unknown> = {}) => {
    const server = new Server({
      'GET /contacts/4/statement': statement,
      'GET /views': [],
      'GET /matters': { rows: [], total: 0 },
      ...routes,
    })
    await standAt('/people/:id/statement', address, Statement)
    return { server, ...(await show(Statement)) }
  }
  const asked = (server: Server) => server.sent('GET /contacts/4/statement').at(-1)!.query

  it('is of the last three months, and its PDF is of what is shown', async () => {
    const { server } = await open()
    expect(asked(server)).toEqual({ from: '2026-08-23', to: '2026-11-23' })
    expect(screen.getByRole('link', { name: 'PDF' }).getAttribute('href')).toBe(
      '/api/contacts/4/statement/pdf?from=2026-08-23&to=2026-11-23',
    )
    expect(told(screen.getByText('Owed').closest('tr'))).toBe('Owed $350.00'.replace(' ', ''))
    expect(screen.getByText('$20.00 of payments is left over, not applied.')).toBeTruthy()
  })

  it('keeps its days where they were refused, so that they can be mended', async () => {
    const { server, router } = await open('/people/4/statement?from=2026-11-30', { 'GET /contacts/4/statement': refusal('span', 'It begins after it ends.') }) // prettier-ignore
    expect(screen.getByRole('alert').textContent).toContain('It begins after it ends.')
    server.on('GET /contacts/4/statement', statement)
    await put('From', '2026-11-01')
    await fireEvent.blur(field('From'))
    await settled()
    expect(asked(server)).toEqual({ from: '2026-11-01', to: '2026-11-23' })
    expect(router.currentRoute.value.query).toEqual({ from: '2026-11-01', to: '2026-11-23' })
    expect(screen.getByText('Bill 1042')).toBeTruthy()
  })

  it('of one matter asks for that alone from the start', async () => {
    const { server } = await open('/people/4/statement?matter=7', { 'GET /matters/7': { id: 7, name: 'Gannet v. Corvane' } })
    expect(server.sent('GET /contacts/4/statement').map((a) => a.query['matterId'])).toEqual(['7'])
    expect(screen.getByRole<HTMLInputElement>('combobox', { name: /Matter/ }).value).toBe('Gannet v. Corvane')
  })
})

describe('payments out of trust', () => {
  const payment = (id: number, more: object = {}) => ({ id, ledgerId: 3, ledger: 'Gannet retainer', method: 'check', checkNo: null, day: '2026-11-20', payee: `Payee ${id}`, amount: 400_00, memo: '', state: 'draft', twoPeople: true, approvedBy: null, own: false, ...more }) // prettier-ignore
  const stand = async (list: object[], routes: Record<string, unknown> = {}) => {
    const server = new Server({ 'GET /trust/payments': { rows: list, total: list.length }, 'GET /views': [], ...routes })
    return { server, ...(await show(PaymentsTable)) }
  }
  const choose = async (user: User, row: RegExp, name: string) => {
    await user.click(screen.getByRole('button', { name: row }))
    await user.click(screen.getByRole('menuitem', { name }))
    await settled()
  }

  it('are posted only once a second person agreed, and agreed to only by another than who drafted', async () => {
    const { user } = await stand([payment(1), payment(2, { own: true }), payment(3, { approvedBy: 'Desmond', own: true })])
    await user.click(screen.getByRole('button', { name: 'Acts on Payee 1' }))
    expect(screen.getAllByRole('menuitem').map((x) => [x.textContent.trim(), x.getAttribute('aria-disabled')])).toEqual([['Agree to it', null], ['Post', 'true'], ['Drop', null]]) // prettier-ignore
    await user.keyboard('{Escape}')
    expect(await items(user, 'Acts on Payee 2')).toEqual(['Post', 'Drop'])
    await user.click(screen.getByRole('button', { name: 'Acts on Payee 3' }))
    expect(screen.getByRole('menuitem', { name: 'Post' }).getAttribute('aria-disabled')).toBeNull()
    expect([screen.getAllByText('waits').length, screen.getByText('agreed') !== null]).toEqual([2, true])
  })

  it('say their check number once posted, and why they were not', async () => {
    const { user, server } = await stand([payment(1, { twoPeople: false })], { 'POST /trust/payments/1/post': refusal('trust-short', 'Only $300.00 has cleared.') }) // prettier-ignore
    await choose(user, /^Acts on Payee 1/, 'Post')
    expect(screen.getByRole('alert').textContent).toBe('Only $300.00 has cleared.')
    server.on('POST /trust/payments/1/post', { checkNo: 1042, printJob: null })
    await choose(user, /^Acts on Payee 1/, 'Post')
    expect(lastNote()?.text).toBe('Posted as check 1042')
  })

  it('of which a draft is dropped only after it was asked', async () => {
    const { user, server } = await stand([payment(1)], { 'DELETE /trust/payments/1': { ok: true } })
    await choose(user, /^Acts on Payee 1/, 'Drop')
    expect(server.sent('DELETE /trust/payments/1')).toEqual([])
    await answer(true)
    expect([server.sent('DELETE /trust/payments/1').length, lastNote()?.text]).toEqual([1, 'Draft dropped; the money is free again'])
  })

  it('that are posted can be printed and voided; what was dropped or void is only looked at', async () => {
    const { user } = await stand([payment(1, { state: 'posted', checkNo: 1042 }), payment(2, { state: 'posted', method: 'wire' }), payment(3, { state: 'void', checkNo: 1041 })]) // prettier-ignore
    expect(await items(user, 'Acts on Payee 1')).toEqual(['Print check 1042', 'Void check 1042'])
    expect(await items(user, 'Acts on Payee 2')).toEqual(['Void the wire'])
    expect(within(screen.getByText('Payee 3').closest('tr')!).queryByRole('button')).toBeNull()
  })
})
