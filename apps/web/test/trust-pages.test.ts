import { fireEvent, screen, within } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import Calls from '../src/trust/Calls.vue'
import CheckLayout from '../src/trust/CheckLayout.vue'
import Checks from '../src/trust/Checks.vue'
import ToSettle from '../src/trust/ToSettle.vue'
import Unclaimed from '../src/trust/Unclaimed.vue'
import { faults, field, lastNote, press, put, refusal, Server, settled, show, signIn, standAt, wrong } from './stage'

beforeEach(() => {
  localStorage.clear()
  signIn({ rights: ['trust.see', 'trust.post', 'trust.approve', 'books.see'] })
})
type User = Awaited<ReturnType<typeof show>>['user']
const rowOf = (text: string | RegExp) => within(screen.getByText(text).closest<HTMLElement>('[role="row"], tr')!)
const opened = async (user: User, row: string | RegExp) => {
  await user.click(rowOf(row).getByRole('button', { name: /^What can be done|^Acts|More/ }))
  return screen.getAllByRole('menuitem').map((x) => x.textContent.trim())
}
const menu = async (user: User, row: string | RegExp, item: string | RegExp) => {
  await opened(user, row)
  await user.click(screen.getByRole('menuitem', { name: item }))
  await settled()
}

describe('the register of checks', () => {
  const check = (number: number, state: string, more: object = {}) => ({ number, upTo: null, paymentId: number, state, out: null, day: '2026-10-01', payee: `Payee ${number}`, ledgerId: 3, ledger: 'Gannet Ferry', amount: 75_00, words: '', paidOn: null, ...more }) // prettier-ignore
  const stand = async (more: object = {}) => {
    const server = new Server({
      'GET /trust/accounts': [{ id: 2, name: 'Pooled', kind: 'pooled', ending: '1', nextCheck: 1, balance: 0, bank: 'B' }, { id: 7, name: 'Operating', kind: 'operating', ending: '2', nextCheck: 1, balance: 0, bank: 'B' }], // prettier-ignore
      'GET /checks': { rows: [check(1042, 'outstanding', { out: 'printed' }), check(1041, 'stale'), check(1040, 'paid', { paidOn: '2026-10-20' }), check(1039, 'missing', { paymentId: null, payee: 'Nobody', amount: null })], total: 4 }, // prettier-ignore
      'GET /checks/to-print': [],
      'GET /print-jobs': [],
      ...more,
    })
    await standAt('/trust', '/trust?show=checks', Checks)
    return { server, ...(await show(Checks)) }
  }
  it('offers with each number what can still be done, and nothing with what the bank has paid', async () => {
    const { server, user } = await stand()
    expect(server.sent('GET /checks')[0]!.query).toMatchObject({ bankAccountId: '2', page: '1' })
    expect(await opened(user, 'Payee 1042')).toEqual(['Print check 1042', 'Void check 1042'])
    await user.keyboard('{Escape}')
    expect(rowOf('Payee 1040').queryByRole('button', { name: /^What can be done|^Acts|More/ })).toBeNull()
    await menu(user, 'Payee 1041', 'Void check 1041')
    // A stale one is followed as unclaimed.
    expect(field(/^Nobody claimed it/).checked).toBe(true)
  })
  it('accounts for a missing number; one that cannot be read goes out as none, and is refused at its field', async () => {
    const { server, user } = await stand({ 'POST /checks/spoiled': faults(['number', 'Give the number'], ['reason', 'Say what happened']) })
    await menu(user, 'Nobody', 'It was spoiled')
    expect(field('Number').value).toBe('1039')
    await put('Number', '10x9')
    await press('Account for it')
    expect([server.sent('POST /checks/spoiled')[0]!.body['number'], wrong('Number'), wrong('What happened')]).toEqual([0, true, true])
    server.on('POST /checks/spoiled', { ok: true })
    await put('Number', '1039')
    await put('What happened', 'torn')
    await press('Account for it')
    expect([server.sent('POST /checks/spoiled')[1]!.body, lastNote()?.text]).toEqual([{ bankAccountId: 2, number: 1039, reason: 'torn' }, 'Check 1039 is accounted for']) // prettier-ignore
  })
  it('is seen and not touched by whoever may not post', async () => {
    signIn({ rights: ['trust.see'] })
    await stand()
    expect(screen.queryByRole('button', { name: /was spoiled/ })).toBeNull()
    expect(screen.queryAllByRole('button', { name: /^What can be done|^Acts|More/ })).toHaveLength(0)
  })
})

describe('the layout of a check', () => {
  const parts = ['firm', 'number', 'date', 'payee', 'amount', 'words', 'address', 'memo', 'signature']
  const layout = Object.fromEntries(parts.map((p, i) => [p, { x: 10, y: 10 * i }]))
  it('is moved by the arrow keys within the page, and asked about before it is lost', async () => {
    const server = new Server({ 'GET /checks/layout': { layout, numbers: true }, 'PUT /checks/layout': refusal('failed', 'Try again.') })
    const { emitted } = await show(CheckLayout, { bankAccountId: 2 })
    const part = () => screen.getByRole('button', { name: /^No\. 1234/ })
    for (const [key, shiftKey] of [['ArrowRight', false], ['ArrowDown', true], ['ArrowLeft', true], ['ArrowLeft', true], ['x', false]] as const) await fireEvent.keyDown(part(), { key, shiftKey }) // prettier-ignore
    expect(part().getAttribute('aria-label')).toContain('0 millimetres from the left, 20 from the top')
    await press(/^(Close|Leave)/)
    expect(emitted('close')).toBeUndefined()
    await press('Save')
    expect(screen.getByText('Try again.')).toBeTruthy()
    server.on('PUT /checks/layout', { ok: true })
    await press('Save')
    expect((server.sent('PUT /checks/layout')[1]!.body['layout'] as typeof layout)['number']).toEqual({ x: 0, y: 20 })
    await fireEvent.click(field(/^Print the number/))
    expect(screen.queryByRole('button', { name: /^No\. 1234/ })).toBeNull()
  })
})

describe('money of checks that nobody cashed', () => {
  const row = { paymentId: 9, payee: 'Harrow Clerk', address: '1 Main', checkNo: 977, day: '2026-01-05', ledger: 'Gannet Ferry', ledgerId: 3, lastContact: '2026-02-01', dueOn: '2029-02-01', note: 'Wrote twice', amount: 40_00 } // prettier-ignore
  it('keeps the last contact with what was said before, and is settled in words', async () => {
    const server = new Server({ 'GET /trust/unclaimed': [row], 'PUT /trust/unclaimed/9': { ok: true }, 'POST /trust/unclaimed/9/settled': faults(['words', 'Say how']) }) // prettier-ignore
    const { user } = await show(Unclaimed)
    await menu(user, 'Harrow Clerk', 'There was contact')
    expect(field(/^Note/).value).toBe('Wrote twice')
    await put(/^Note/, 'Wrote twice; called')
    await press('Save')
    expect(server.sent('PUT /trust/unclaimed/9')[0]!.body).toEqual({ lastContact: '2026-02-01', note: 'Wrote twice; called' })
    await menu(user, 'Harrow Clerk', 'It is settled')
    expect(field('How').value).toBe('')
    await press('Save')
    expect([server.sent('POST /trust/unclaimed/9/settled')[0]!.body['day'], wrong('How')]).toEqual(['2026-11-23', true])
  })
})

describe('what is to be settled', () => {
  const cover = (id: number, more: object = {}) => ({ id, what: 'returned', bank: 'Pooled', ledgerId: 3, ledger: `Ledger ${id}`, day: '2026-11-10', amount: 500_00, cover: 200_00, text: 'Check of Ann', journalId: 4, inTransit: true, due: 200_00, ...more }) // prettier-ignore
  const correction = (id: number, own: boolean, state = 'asked') => ({ id, day: '2026-11-12', wrong: `Wrong ${id}`, right: 'Tern', reason: 'Meant for the lease', decision: '', askedBy: own ? 'Orla' : 'Billie', decidedBy: '', own, state, amount: 90_00 }) // prettier-ignore
  const month = (id: number, own: boolean) => ({ id, kind: 'close', bank: `Account ${id}`, to: '2026-10-31', by: 'Billie', reason: '', balance: 100_00, book: 100_00, own }) // prettier-ignore
  const routes = (more: object = {}) => ({
    'GET /trust/covers': [cover(1), cover(2, { inTransit: false, due: 0, what: 'charge' })],
    'GET /trust/unidentified': [],
    'GET /trust/corrections': { rows: [correction(5, true), correction(6, false), correction(7, false, 'posted')], total: 3 },
    'GET /bank/month-requests': [month(8, true), month(9, false)],
    'GET /trust/unclaimed': [],
    ...more,
  })
  it('is what came back from the client: the amount is filled in, and what is refused stays with its sheet', async () => {
    const server = new Server(routes({ 'POST /trust/covers/1/repaid': faults(['amount', 'Only $150.00 is still owed']) }))
    const { user } = await show(ToSettle)
    expect(rowOf('Ledger 2').queryByRole('button', { name: /^What can be done|^Acts|More/ })).toBeNull()
    expect(await opened(user, 'Ledger 1')).toEqual(['It has landed in trust', 'The client paid it back'])
    await user.click(screen.getByRole('menuitem', { name: 'The client paid it back' }))
    await settled()
    await press('Post $200.00')
    expect(wrong(/^Amount/)).toBe(true)
    server.on('POST /trust/covers/1/repaid', { journalId: 9 })
    await put(/^Amount/, '150')
    await fireEvent.change(field(/^Amount/))
    await put(/^Reference/, 'check 12')
    await press('Post $150.00')
    expect(server.sent('POST /trust/covers/1/repaid')[1]!.body).toEqual({ day: '2026-11-23', amount: 150_00, reference: 'check 12' })
    expect(lastNote()?.text).toBe('Posted into operating')
  })
  it('is a correction that another agrees to, and that whoever asked takes back', async () => {
    const server = new Server(routes({ 'POST /trust/corrections/6/approve': refusal('changed-meanwhile', 'It was decided meanwhile.'), 'POST /trust/corrections/5/refuse': { ok: true } })) // prettier-ignore
    const { user } = await show(ToSettle)
    expect(await opened(user, 'Wrong 5')).toEqual(['Take it back'])
    await user.click(screen.getByRole('menuitem', { name: 'Take it back' }))
    await settled()
    await put('Why', 'It was right')
    await press('Do not correct it')
    expect(server.sent('POST /trust/corrections/5/refuse')[0]!.body).toEqual({ reason: 'It was right' })
    expect(await opened(user, 'Wrong 6')).toEqual(['Agree, and post it', 'Do not make it'])
    await user.click(screen.getByRole('menuitem', { name: 'Agree, and post it' }))
    await settled()
    expect(screen.getByRole('alert').textContent).toContain('decided meanwhile')
    expect(rowOf('Wrong 7').queryByRole('button', { name: /^What can be done|^Acts|More/ })).toBeNull()
  })
  it('is a month that another prepared, and not one’s own', async () => {
    const server = new Server(routes({ 'POST /bank/month-requests/9/agree': { ok: true } }))
    const { user } = await show(ToSettle)
    expect(await opened(user, 'Account 8')).toEqual(['Take it back'])
    await user.keyboard('{Escape}')
    await menu(user, 'Account 9', 'Agree')
    expect([server.sent('POST /bank/month-requests/9/agree').length, lastNote()?.text]).toEqual([1, 'Closed'])
  })
})

describe('calls on account', () => {
  const call = (id: number, state: string, more: object = {}) => ({ id, clientId: 9, client: `Client ${id}`, email: 'a@client.example', matterId: 7, matter: '26-0031', bankAccountId: 2, amount: 500_00, paid: 0, open: 500_00, sentOn: null, dueOn: '2026-12-01', state, message: '', minimum: null, everyDays: null, fault: '', seenOn: null, version: 1, ...more }) // prettier-ignore
  const list = {
    rows: [call(1, 'draft'), call(2, 'late', { email: '' }), call(3, 'paid', { open: 0, paid: 500_00 })],
    total: 3,
    open: 1_000_00,
  }
  it('offer by their state what can be done, and no reminder to whoever has no address', async () => {
    const server = new Server({ 'GET /calls': list, 'POST /calls/1/send': { to: 'a@client.example', url: '' }, 'POST /calls/2/link': { url: 'https://pay.example/x1' } }) // prettier-ignore
    const { user } = await show(Calls, { clientId: 9 })
    expect(server.sent('GET /calls')[0]!.query).toMatchObject({ clientId: '9' })
    await menu(user, 'Client 1', 'Send to a@client.example')
    expect(lastNote()?.text).toBe('Sent to a@client.example')
    expect(await opened(user, 'Client 2')).toEqual(['Remind now', 'A link to hand over', 'A receipt came for it', 'Withdraw'])
    expect(screen.getByRole('menuitem', { name: 'Remind now' }).getAttribute('aria-disabled')).toBe('true')
    await user.click(screen.getByRole('menuitem', { name: 'A link to hand over' }))
    await settled()
    expect(field('Address of the link').value).toBe('https://pay.example/x1')
  })
  it('count a receipt that came for them, once', async () => {
    const receipt = (id: number, taken: boolean) => ({
      id,
      receiptNo: 500 + id,
      day: '2026-11-20',
      depositor: 'Ann',
      amount: 100_00,
      taken,
    })
    let taken = false
    const server = new Server({
      'GET /calls': list,
      'GET /calls/2/receipts': () => [receipt(1, true), receipt(2, taken)],
      'POST /calls/2/receipts': () => ((taken = true), { ok: true }),
    })
    const { user } = await show(Calls, { clientId: 9 })
    await menu(user, 'Client 2', 'A receipt came for it')
    await press('Receipt 502 came for it')
    expect(server.sent('POST /calls/2/receipts')[0]!.body).toEqual({ receiptId: 2 })
    expect(screen.getAllByText('counts')).toHaveLength(2)
  })
})
