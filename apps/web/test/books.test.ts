import { screen, waitFor } from '@testing-library/vue'
import { describe, expect, it } from 'vitest'
import LineSheet from '../src/books/LineSheet.vue'
import ReportPage from '../src/reports/ReportPage.vue'
import { later, refusal, Server, settled, show, signIn } from './stage'

const account = (id: number, code: string, name: string, byHand = true) => ({ id, code, name, kind: 'expense', debit: 0, credit: 0, closed: false, byHand }) // prettier-ignore
const chart = { rows: [account(5, '5020', 'Rent'), account(6, '5900', 'Bank charges'), account(7, '5800', 'Costs', false)], debit: 0, credit: 0 } // prettier-ignore
const line = { id: 9, day: '2026-11-06', countsOn: '2026-11-06', amount: -95_00, check: '', reference: '', text: 'RENT AND FEE', named: '', days: 3 } // prettier-ignore

describe('a line of the bank', () => {
  it('that went out is split in amounts as they are said, and the chart may come after what is typed', async () => {
    signIn({ rights: ['books.see', 'books.post'] })
    const comes = later<typeof chart>()
    const server = new Server({
      'GET /books/trial-balance': () => comes.promise,
      'POST /bank/lines/9/booked': { id: 77 },
    })
    const { user } = await show(LineSheet, { line, how: 'book' })
    await user.type(screen.getByRole('combobox', { name: 'Account' }), 'rent')
    expect(screen.queryAllByRole('option')).toEqual([])
    comes.come(chart)
    await user.click(await screen.findByRole('option', { name: /5020 Rent/ }))
    await user.click(screen.getByRole('button', { name: 'Split over accounts' }))
    await user.type(screen.getByLabelText('Amount 1'), '90')
    expect(screen.getByText('$5.00 is left')).toBeDefined()
    await user.type(screen.getByLabelText('Amount 2'), '5')
    await user.type(screen.getByRole('combobox', { name: 'Account 2' }), 'c')
    // What only its own acts move is not offered.
    await waitFor(() => expect(screen.getAllByRole('option').map((o) => o.textContent)).toEqual([expect.stringContaining('Bank charges')]))
    await user.keyboard('{Enter}')
    expect(screen.getByText('The parts are the line')).toBeDefined()
    await user.click(screen.getByRole('button', { name: /^Book it/ }))
    await settled()
    expect(server.sent('POST /bank/lines/9/booked')[0]!.body).toMatchObject({
      memo: 'RENT AND FEE',
      parts: [
        { accountId: 5, amount: -90_00 },
        { accountId: 6, amount: -5_00 },
      ],
    })
  })
})

describe('a report over a long span', () => {
  it('is added up in the background, with how far it is, and its files are of the same figures', async () => {
    signIn({ rights: ['bills.see'] })
    const table = { title: 'Profit', under: 'all years', columns: [{ key: 'name', text: 'Matter', kind: 'text' }], rows: [{ key: '1', to: null, cells: ['24-0001 Tidecrest'] }], totals: ['Together'], more: false, bars: [] } // prettier-ignore
    const server = new Server({
      'GET /views/report profit': [],
      'GET /views': [],
      'GET /oversight/reports/profit': refusal('long-span', 'This span is long.'),
      'POST /oversight/figures': { jobId: 31 },
      'GET /jobs/31': { state: 'running', progress: 40, error: null },
      'GET /oversight/figures/31': { flow: null, table },
    })
    const { user } = await show(ReportPage, { what: 'profit' })
    expect(await screen.findByText(/Adding up a long span … 40 %/)).toBeDefined()
    server.on('GET /jobs/31', { state: 'done', progress: 100, error: null })
    expect(await screen.findByText('24-0001 Tidecrest', {}, { timeout: 10_000 })).toBeDefined()
    expect(server.sent('POST /oversight/figures')[0]!.body).toMatchObject({ what: 'profit' })
    await user.click(screen.getByRole('button', { name: 'As a file' }))
    expect(screen.getByRole('menuitem', { name: 'CSV' }).getAttribute('href')).toContain('added=31')
  })
})
