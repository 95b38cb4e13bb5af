import { fireEvent, screen, waitFor } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import Income from '../src/books/Income.vue'
import { field, later, put, refusal, Server, settled, show, signIn, standAt } from './stage'

beforeEach(() => {
  localStorage.clear()
  signIn({ rights: ['books.see'] })
})
const row = (name: string, amounts: number[], more: object = {}) => ({ name, accountId: null, depth: 0, sum: false, amounts, together: amounts[0]! + (amounts[1] ?? 0) + (amounts[2] ?? 0), ...more }) // prettier-ignore
/** An income statement over so many months from September on. */
const statement = (months: number, fees: number[], rent: number[]) => ({
  columns: Array.from({ length: months }, (_, i) => ({
    from: `2026-${String(9 + i).padStart(2, '0')}-01`,
    to: `2026-${String(9 + i).padStart(2, '0')}-28`,
  })),
  sections: [
    {
      name: 'Income',
      rows: [
        row('Noor Haddad-Lind', fees),
        row(
          'Refunds',
          fees.map(() => 0),
        ),
      ],
      totals: fees,
      together: fees.reduce((a, b) => a + b, 0),
    },
    { name: 'Expenses', rows: [row('Rent', rent, { accountId: 61 })], totals: rent, together: rent.reduce((a, b) => a + b, 0) },
  ],
  net: fees.map((f, i) => f - rent[i]!),
  together: 0,
})
const open = async (answer: unknown, address = '/books?show=income') => {
  const server = new Server({ 'GET /views': [], 'GET /books/statements/income': answer })
  await standAt('/books', address, Income)
  return { server, ...(await show(Income)) }
}
const asked = (server: Server) => server.sent('GET /books/statements/income').at(-1)!.query
const heads = () => [...document.querySelectorAll('thead th')].map((c) => c.textContent.trim()).filter((t) => t && !t.includes('list'))
const lines = () => [...document.querySelectorAll('tbody tr, tfoot tr')].map((tr) => [...tr.querySelectorAll('th, td')].map((c) => c.textContent.trim()).filter(Boolean).join(' | ')) // prettier-ignore

describe('the income statement', () => {
  it('is of this year by money collected and timekeeper, each part with its sum, a row of nothing left empty', async () => {
    const { server } = await open(statement(1, [90_000], [30_000]))
    expect(asked(server)).toEqual({ from: '2026-01-01', to: '2026-11-23', basis: 'cash', beside: 'none', by: 'timekeeper' })
    expect(heads()).toEqual(['Of', 'Amount'])
    expect(lines()).toEqual(['Income', 'Noor Haddad-Lind | $900.00', 'Refunds', 'Income together | $900.00', 'Expenses', 'Rent | $300.00', 'Expenses together | $300.00', 'Net | $600.00']) // prettier-ignore
  })

  it('leads from an account to its entries of the span', async () => {
    await open(statement(1, [90_000], [30_000]), '/books?show=income&from=2026-09-01&to=2026-09-30')
    expect(screen.getByRole('link', { name: 'Rent' }).getAttribute('href')).toBe('/books/accounts/61?from=2026-09-01&to=2026-09-30')
    expect(screen.queryByRole('link', { name: 'Noor Haddad-Lind' })).toBeNull()
  })

  it('has months beside one another with what they come to, by what the answer has, not by what is chosen meanwhile', async () => {
    const slow = later()
    const { server } = await open(statement(1, [90_000], [30_000]))
    server.on('GET /books/statements/income', () => slow.promise)
    await fireEvent.update(screen.getByLabelText('Beside it'), 'months')
    await settled()
    expect(heads()).toEqual(['Of', 'Amount'])
    slow.come(statement(3, [10_000, 20_000, 30_000], [1_000, 1_000, 1_000]))
    await settled()
    expect(asked(server)['beside']).toBe('months')
    expect(heads()).toEqual(['Of', 'Together', 'Sep 26', 'Oct 26', 'Nov 26'])
    expect(lines().at(-1)).toMatch(/\$90\.00 \| \$190\.00 \| \$290\.00$/)
  })

  it('has the year before under the days it goes to', async () => {
    await open({ ...statement(2, [90_000, 80_000], [30_000, 20_000]), columns: [{ from: '2026-01-01', to: '2026-11-23' }, { from: '2025-01-01', to: '2025-11-23' }] }) // prettier-ignore
    expect(heads()).toEqual(['Of', 'to Mon 23 Nov', 'to Sun 23 Nov 2025'])
  })

  it('follows Back to the days of before', async () => {
    const { server, router } = await open(statement(1, [1], [0]))
    await put('From', '2026-10-01')
    await fireEvent.blur(field('From'))
    await waitFor(() => expect(router.currentRoute.value.query).toMatchObject({ from: '2026-10-01' }))
    await router.push('/books?show=income')
    await settled()
    expect([asked(server)['from'], field('From').value]).toEqual(['2026-01-01', 'Thu 1 Jan 2026'])
  })

  it('says why there is none', async () => {
    await open(refusal('failed', 'This span is longer than ten years.'))
    expect(screen.getByRole('alert').textContent).toContain('This span is longer than ten years.')
  })
})
