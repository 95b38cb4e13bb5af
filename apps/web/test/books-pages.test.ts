import { fireEvent, screen, within } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import Account from '../src/books/Account.vue'
import Cash from '../src/books/Cash.vue'
import Journal from '../src/books/Journal.vue'
import MonthsToClose from '../src/books/MonthsToClose.vue'
import RulesSheet from '../src/books/RulesSheet.vue'
import { answer, faults, field, lastNote, press, put, refusal, Server, settled, show, signIn, standAt, wrong } from './stage'

beforeEach(() => {
  localStorage.clear()
  signIn({ rights: ['books.see', 'books.post'] })
})
const told = (element: Element | null) => element?.textContent?.trim().replaceAll(/\s+/g, ' ')
const cells = (text: string) => [...screen.getByText(text).closest('tr')!.querySelectorAll('td')].map((c) => c.textContent.trim())

describe('the ledger of an account', () => {
  const ledger = { code: '1100', name: 'Accounts receivable', opening: 100_00, debit: 500_00, credit: 250_00, closing: 350_00, total: 2, rows: [{ journalId: 31, day: '2026-10-31', memo: 'Bill 1042', amount: 500_00, balance: 600_00, matter: 'Gannet v. Corvane' }, { journalId: 32, day: '2026-11-02', memo: 'Check', amount: -250_00, balance: 350_00, matter: null }] } // prettier-ignore
  const open = async (address = '/books/accounts/6', routes: Record<string, unknown> = {}) => {
    const server = new Server({ 'GET /books/accounts/6': ledger, 'GET /views': [], ...routes })
    await standAt('/books/accounts/:id', address, Account)
    return { server, ...(await show(Account)) }
  }
  const asked = (server: Server) => server.sent('GET /books/accounts/6').at(-1)!.query

  it('goes from what it began with to what it ends with, each line debit or credit with its balance', async () => {
    const { server } = await open()
    expect(asked(server)).toEqual({ from: '2026-01-01', to: '2026-11-23', page: '1', size: '100' })
    expect(told(screen.getByLabelText('From beginning to end'))).toBe('$100.00 + $500.00 − $250.00 = $350.00')
    expect(cells('Bill 1042').slice(2, 6)).toEqual(['Gannet v. Corvane', '$500.00', '', '$600.00'])
    expect(cells('Check').slice(3, 6)).toEqual(['', '$250.00', '$350.00'])
  })

  it('begins with the year of the day up to which it is asked', async () => {
    const { server } = await open('/books/accounts/6?to=2025-06-30')
    expect(asked(server)).toMatchObject({ from: '2025-01-01', to: '2025-06-30' })
  })

  it('keeps its days where they were refused, so that they can be mended', async () => {
    const { server } = await open('/books/accounts/6?from=2026-12-01&to=2026-11-01', { 'GET /books/accounts/6': refusal('span', 'It begins after it ends.') }) // prettier-ignore
    expect(screen.getByRole('alert').textContent).toContain('It begins after it ends.')
    server.on('GET /books/accounts/6', ledger)
    await put('From (optional)', '2026-10-01')
    await fireEvent.blur(field('From (optional)'))
    await settled()
    expect(asked(server)).toMatchObject({ from: '2026-10-01', to: '2026-11-01', page: '1' })
    expect(screen.getByRole('heading', { name: '1100 Accounts receivable' })).toBeTruthy()
  })
})

describe('where the firm’s money came from', () => {
  const flow = { opening: 1_000_00, moneyIn: 500_00, moneyOut: 200_00, closing: 1_300_00, rows: [{ accountId: 61, code: '6100', name: 'Rent', moneyIn: 0, moneyOut: 200_00 }] } // prettier-ignore
  const tax = {
    rows: [{ month: '2026-10', rate: 825, billed: 82_50, credited: 0, collected: 41_25 }],
    billed: 82_50,
    credited: 0,
    collected: 41_25,
  }
  it('adds up from beginning to end, with tax on bills below, each as a file of the same days', async () => {
    const server = new Server({ 'GET /views': [], 'GET /books/statements/cash': flow, 'GET /books/statements/taxes': tax })
    await standAt('/books', '/books?show=cash&from=2026-10-01', Cash)
    const { user } = await show(Cash)
    expect(server.asked.filter((a) => a.path.startsWith('/books')).map((a) => a.query)).toEqual([{ from: '2026-10-01', to: '2026-11-23' }, { from: '2026-10-01', to: '2026-11-23' }]) // prettier-ignore
    expect(told(screen.getByLabelText('The firm’s own money'))).toBe('$1,000.00 + $500.00 − $200.00 = $1,300.00')
    expect(cells('Rent').slice(1, 3)).toEqual(['', '$200.00'])
    expect(within(screen.getByRole('table', { name: 'Tax on bills' })).getByText('8.25 %')).toBeTruthy()
    await user.click(within(screen.getByRole('region', { name: 'Tax on bills' })).getAllByRole('button')[0]!)
    expect(screen.getAllByRole('menuitem').map((x) => x.getAttribute('href') ?? '').filter(Boolean)[0]).toMatch(/taxes.*from=2026-10-01/) // prettier-ignore
  })
})

describe('a journal', () => {
  const journal = (more: object = {}) => ({ id: 31, day: '2026-10-31', kind: 'bill', memo: 'Bill 1042', subject: 'bill', subjectId: 9, who: 'Orla', reverses: null, reversedBy: null, reversible: true, lines: [{ account: '1100 Accounts receivable', debit: 500_00, credit: 0, matter: null }, { account: '4000 Fees', debit: 0, credit: 500_00, matter: null }], bank: [], ledgers: [], ...more }) // prettier-ignore
  const open = async (more: object = {}, routes: Record<string, unknown> = {}) => {
    const server = new Server({ 'GET /books/journals/31': journal(more), 'GET /views': [], ...routes })
    await standAt('/books/journals/:id', '/books/journals/31', Journal)
    return { server, ...(await show(Journal)) }
  }
  it('leads to what it belongs to and to what reversed it, and is reversed once', async () => {
    await open({ reversedBy: 40, reversible: false })
    expect(screen.getByRole('link', { name: 'The bill' }).getAttribute('href')).toBe('/bills/9')
    expect(screen.getByRole('link', { name: 'journal 40' })).toBeTruthy()
    expect(screen.queryByRole('button', { name: /^Reverse/ })).toBeNull()
  })
  it('is reversed on its own day unless another is given, with a reason', async () => {
    const { server, router } = await open({}, { 'POST /books/journals/31/reverse': faults(['reason', 'Say why']) }) // prettier-ignore
    await press(/^Reverse …/)
    expect(field('On').value).toBe('Sat 31 Oct 2026')
    await press(/^Reverse it/)
    const route = 'POST /books/journals/31/reverse'
    expect(wrong('Why')).toBe(true)
    server.on(route, { journalId: 41 })
    await put('Why', 'Entered twice')
    await press(/^Reverse it/)
    expect(server.sent(route).at(-1)!.body).toMatchObject({ day: '2026-10-31', reason: 'Entered twice' })
    expect([router.currentRoute.value.path, lastNote()?.text]).toEqual(['/books/journals/41', 'Reversed by a mirrored entry'])
  })
})

describe('months that are behind', () => {
  const month = (to: string, more: object = {}) => ({ to, figures: { bank: 100_00, book: 100_00 }, lines: 0, entries: 1, stops: [], asked: false, ...more }) // prettier-ignore
  const open = async (months: object[], routes: Record<string, unknown> = {}) => {
    const server = new Server({ 'GET /bank/accounts/2/months': months, 'GET /views': [], ...routes })
    return { server, ...(await show(MonthsToClose, { id: 2, shown: '2026-08-31' })) }
  }
  it('are closed in order, as far as nothing keeps them open', async () => {
    const { server } = await open([month('2026-07-31'), month('2026-08-31'), month('2026-09-30', { stops: ['Two lines are open.'] }), month('2026-10-31')], { 'POST /bank/accounts/2/months': { id: 1 } }) // prettier-ignore
    await press('Close 2 months in order')
    await settled()
    expect(server.sent('POST /bank/accounts/2/months').map((a) => a.body)).toEqual([{ to: '2026-07-31', seen: { bank: 100_00, book: 100_00 } }, { to: '2026-08-31', seen: { bank: 100_00, book: 100_00 } }]) // prettier-ignore
    expect(lastNote()?.text).toBe('2 months closed, or prepared where somebody else closes')
  })
  it('stop where one is refused, and say how many were closed before it', async () => {
    let n = 0
    const { server } = await open([month('2026-07-31'), month('2026-08-31'), month('2026-09-30')], { 'POST /bank/accounts/2/months': () => ((n += 1) === 2 ? refusal('changed-meanwhile', 'A line came in.') : { id: n }) }) // prettier-ignore
    await press('Close 3 months in order')
    await settled()
    expect([server.sent('POST /bank/accounts/2/months').length, screen.getByRole('alert').textContent]).toEqual([2, 'A line came in.'])
    expect(lastNote()?.text).toMatch(/^1 month closed/)
  })
  it('that somebody prepared wait for a second person, and so do those after them', async () => {
    await open([month('2026-07-31', { asked: true }), month('2026-08-31')])
    expect(screen.getByText('Prepared; somebody else closes it')).toBeTruthy()
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'None agrees yet' }).disabled).toBe(true)
  })
  it('are not shown where only one is', async () => {
    await open([month('2026-10-31')])
    expect(screen.queryByRole('region', { name: 'Months to close' })).toBeNull()
  })
})

describe('rules for lines of the bank', () => {
  it('are taken out only after it was asked', async () => {
    const rule = { id: 5, words: 'MONTHLY FEE', way: 'out', amount: null, accountId: 61, account: '6100 Bank fees', memo: '' }
    const server = new Server({
      'GET /bank/rules': [rule],
      'GET /books/trial-balance': { rows: [] },
      'GET /views': [],
      'DELETE /bank/rules/5': { ok: true },
    })
    const { user } = await show(RulesSheet, { bankId: 2 })
    await user.click(screen.getByRole('button', { name: /^Acts on MONTHLY FEE/ }))
    await user.click(screen.getByRole('menuitem', { name: 'Take out' }))
    await settled()
    expect(server.sent('DELETE /bank/rules/5')).toEqual([])
    await answer(true)
    expect(server.sent('DELETE /bank/rules/5')).toHaveLength(1)
  })
})
