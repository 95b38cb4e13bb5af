import { fireEvent, screen, within } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import PreBills from '../src/billing/PreBills.vue'
import SettlementSheet from '../src/billing/SettlementSheet.vue'
import RecurringCosts from '../src/costs/RecurringCosts.vue'
import SplitCost from '../src/costs/SplitCost.vue'
import CostKinds from '../src/setup/CostKinds.vue'
import { useSession } from '../src/shell/session'
import { faults, field, press, put, refusal, Server, settled, show, signIn } from './stage'

beforeEach(() => signIn({ rights: ['bills.see', 'bills.issue', 'books.post', 'time.record', 'matters.see'] }))
/** Leaves the sheet at hand, and what was entered with it. */
async function leave() {
  await press(/^Leave/)
  const asked = screen.queryByRole('button', { name: 'Leave without saving' })
  if (asked) await fireEvent.click(asked)
  await settled()
}
const kind = (id: number, name: string, more: object = {}) => ({ id, code: `K${id}`, name, hard: true, unit: '', unitRate: '', markup: 0, taxable: false, billable: true, expenseCode: '', retired: false, ...more }) // prettier-ignore

describe('a sheet that stands in its page', () => {
  it('takes along what was refused in it: another row begins without a word of that', async () => {
    const server = new Server({ 'GET /costs/kinds': [kind(1, 'Courier'), kind(2, 'Filing fee')], 'PUT /costs/kinds/1': faults(['markup', 'Give a number']) }) // prettier-ignore
    await show(CostKinds)
    await fireEvent.click(screen.getByText('Courier'))
    await settled()
    await put(/^Markup in percent/, 'a lot')
    await press('Save')
    expect([field(/^Markup in percent/).getAttribute('aria-invalid'), screen.queryAllByText('Give a number')]).toMatchObject(['true', [{}]])
    expect(server.sent('PUT /costs/kinds/1')).toHaveLength(1)
    await leave()
    await fireEvent.click(screen.getByText('Filing fee'))
    await settled()
    expect([field(/^Markup in percent/).getAttribute('aria-invalid'), field(/^Markup in percent/).value]).toEqual([null, ''])
    expect(screen.queryAllByText('Give a number')).toEqual([])
  })
  it('leaves no refusal behind on the page, and opens without what was thrown away', async () => {
    const server = new Server({
      'GET /costs/recurring': [],
      'GET /costs/kinds': [kind(1, 'Courier')],
      'GET /matters': { rows: [], total: 0 },
      'POST /costs/recurring': refusal('matter-closed', 'Matter 26-0031 is closed.'),
    })
    await show(RecurringCosts)
    await press('Let a cost recur')
    await put('Amount', '12.50')
    await put(/^For what/, 'Courier of the month')
    await put('Date of the month', '31')
    await fireEvent.update(field('Paid from'), 'owed')
    await press('Let it recur')
    expect(within(screen.getByRole('dialog')).getByText('Matter 26-0031 is closed.')).toBeTruthy()
    expect(server.sent('POST /costs/recurring')[0]!.body).toMatchObject({ amount: 12_50, dayOfMonth: 31, paidFrom: 'owed' })
    await leave()
    expect(screen.queryByText('Matter 26-0031 is closed.')).toBeNull()
    await press('Let a cost recur')
    expect([field('Amount').value, field(/^For what/).value, field('Date of the month').value, field('Paid from').value]).toEqual(['', '', '23', 'operating']) // prettier-ignore
  })
  it('dates what is issued by the day on which it opens, however long its page stood there', async () => {
    const row = {
      id: 2,
      matterId: 2,
      matter: 'Gannet lease',
      payer: 'Gannet',
      workTo: '2026-10-31',
      state: 'approved',
      lines: 2,
      total: 1000,
    }
    const sums = { count: 1, total: 1000 }
    new Server({ 'GET /pre-bills': { rows: [row], total: 1, review: sums, approved: sums } })
    await show(PreBills)
    await fireEvent.click(screen.getByRole('checkbox', { name: 'Choose all' }))
    await press('Issue 1 …')
    expect(field('Dated').value).toMatch(/23 Nov/)
    await leave()
    useSession().today = '2026-11-24'
    await settled()
    await fireEvent.click(screen.getByRole('checkbox', { name: 'Choose all' }))
    if (!screen.queryByRole('button', { name: 'Issue 1 …' })) await fireEvent.click(screen.getByRole('checkbox', { name: 'Choose all' }))
    await press('Issue 1 …')
    expect(field('Dated').value).toMatch(/24 Nov/)
  })
})

describe('rows of a sheet', () => {
  it('keep their own fields where one before them is taken away', async () => {
    const server = new Server({
      'GET /costs/kinds': [kind(1, 'Courier')],
      'GET /matters': { rows: [], total: 0 },
      'POST /costs/split': faults(['parts', 'Choose the matters']),
    })
    await show(SplitCost)
    await press('Add a matter')
    const parts = () => screen.getAllByLabelText(/^Part/) as HTMLInputElement[]
    await fireEvent.update(parts()[0]!, 'some')
    await fireEvent.update(parts()[1]!, '40')
    await press('Take matter 1 away')
    expect(parts().map((p) => p.value)).toEqual(['40', ''])
    await put('Paid together', '100')
    await press('Record costs')
    expect(server.sent('POST /costs/split')[0]!.body).toMatchObject({ amount: 100_00, parts: [{ amount: 40_00 }, { amount: null }] })
    expect(screen.getByText('Choose the matters')).toBeTruthy()
  })
  it('of a settlement are sent as they stand, and what came of them is shown before it is kept', async () => {
    const shown = {
      toClient: 41_000_00,
      lines: [
        { text: 'Fee', amount: -33_000_00 },
        { text: 'To Gannet Ferry', amount: 41_000_00 },
      ],
    }
    const server = new Server({
      'POST /settlements/preview': shown,
      'POST /settlements': refusal('changed-meanwhile', 'What is unbilled changed since the statement was shown. Look again.'),
    })
    const matter = { id: 7, parties: [{ side: 'adverse', name: 'Corvane Holdings' }] }
    await show(SettlementSheet, { matter, terms: { of: 'gross', stages: [{ label: 'Before suit', share: '33 1/3 %' }, { label: 'After suit', share: '40 %' }] } }) // prettier-ignore
    await press('Another lien')
    await press('Another lien')
    await put('Amount 1', 'much')
    await put('To whom 2', 'Harrow Clinic')
    await put('Amount 2', '26,000')
    await put('What for 2', 'Treatment')
    await press('Take out lien 1')
    await put('Recovered', '100,000')
    await fireEvent.update(field('Stage'), '1')
    await settled()
    expect(server.sent('POST /settlements/preview').at(-1)!.body).toEqual({
      matterId: 7,
      recoveredOn: '2026-11-23',
      fromWhom: 'Corvane Holdings',
      gross: 100_000_00,
      stage: 1,
      liens: [{ payee: 'Harrow Clinic', address: '', text: 'Treatment', amount: 26_000_00 }],
    })
    expect(screen.getByText('$41,000.00')).toBeTruthy()
    await press(/^Keep statement/)
    expect(server.sent('POST /settlements')[0]!.body).toMatchObject({ toClient: 41_000_00, liens: [{ payee: 'Harrow Clinic' }] })
    expect(screen.getByText(/Look again/)).toBeTruthy()
  })
})
