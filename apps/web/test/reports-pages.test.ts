import { fireEvent, screen, waitFor, within } from '@testing-library/vue'
import { flowSteps } from '@heron/core/oversight'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { h } from 'vue'
import Flow from '../src/reports/Flow.vue'
import ReportPage from '../src/reports/ReportPage.vue'
import Weeks from '../src/reports/Weeks.vue'
import { field, lastNote, later, press, put, refusal, Server, settled, show, signIn, standAt } from './stage'

// Nothing is drawn here; what would be is told in words.
vi.mock('../src/reports/Bars.vue', () => ({
  __esModule: true,
  default: { props: ['names', 'series'], render: (bars: { names: string[] }) => h('p', { 'data-bars': '' }, bars.names.join(', ')) },
}))

beforeEach(() => {
  localStorage.clear()
  signIn({ rights: ['bills.see', 'bills.review', 'time.record', 'matters.see'] })
})
const rowOf = (text: string) => within(screen.getByText(text).closest<HTMLElement>('[role="row"], tr')!)
const cells = (text: string) => [...screen.getByText(text).closest('tr')!.querySelectorAll('td')].map((c) => c.textContent.trim())
const heads = (table: string) =>
  [...screen.getByRole('table', { name: table }).querySelectorAll('thead th')].map((c) => c.textContent.trim())
const choose = async (label: string, value: string) => {
  await fireEvent.update(screen.getByLabelText(label), value)
  await settled()
}

describe('work to money', () => {
  const flow = (own: Partial<Record<(typeof flowSteps)[number], number>>) => ({
    ...Object.fromEntries(flowSteps.map((s) => [s, 0])),
    ...own,
  })
  const group = (key: string, name: string, own: object, months: number[] = []) => ({ key, name, flow: flow(own), months })
  const noor = { worked: 100_000, writtenDown: 10_000, billed: 90_000, credited: 5_000, collected: 60_000, open: 25_000 }
  const tomas = { worked: 50_000, billed: 50_000, collected: 50_000 }
  const both = { worked: 150_000, writtenDown: 10_000, billed: 140_000, credited: 5_000, collected: 110_000, open: 25_000 }
  const byPerson = {
    groups: [group('2', 'Noor Haddad-Lind', noor), group('3', 'Tomas Okafor-Reyes', tomas)],
    together: flow(both),
    months: [],
  }
  const byMonth = { groups: [group('2026-10', '2026-10', both), group('', 'none', {})], together: flow(both), months: [] }
  const stand = async (more: Record<string, unknown> = {}, address = '/reports/flow') => {
    const server = new Server({ 'GET /views': [], 'GET /oversight/flow': byPerson, ...more })
    await standAt('/reports/flow', address, Flow)
    return { server, ...(await show(Flow)) }
  }
  const asked = (server: Server) => server.sent('GET /oversight/flow').at(-1)!.query

  it('asks for this year by timekeeper, and says what was lost before and after a bill', async () => {
    const { server } = await stand()
    expect(asked(server)).toEqual({ from: '2026-01-01', to: '2026-11-23', as: 'work', by: 'person' })
    expect(heads('Work to money').slice(0, 8)).toEqual(['Timekeeper', 'Worked', 'Lost before', 'Billed', 'Lost after', 'Collected', 'Billed %', 'Coll. %']) // prettier-ignore
    // $1,000.00 worked, $100.00 written down: 90 % billed; of $900.00, $600.00 collected.
    expect(cells('Noor Haddad-Lind').slice(1, 8)).toEqual(['$1,000.00', '$100.00', '$900.00', '$50.00', '$600.00', '90.0 %', '66.7 %'])
    expect(cells('Together').slice(1, 6)).toEqual(['$1,500.00', '$100.00', '$1,400.00', '$50.00', '$1,100.00'])
  })

  it('shows the figures of before until those by another group are there', async () => {
    const slow = later()
    const { server } = await stand()
    server.on('GET /oversight/flow', (a: { query: Record<string, string> }) => (a.query['by'] === 'month' ? slow.promise : byPerson))
    await choose('By', 'month')
    expect(screen.getByText('Noor Haddad-Lind')).toBeTruthy()
    slow.come(byMonth)
    await settled()
    expect(screen.queryByText('Noor Haddad-Lind')).toBeNull()
    expect(cells('Oct 2026')[1]).toBe('$1,500.00')
    // The chart goes on from left to right; what belongs to no month is told as such.
    expect(document.querySelector('[data-bars]')?.textContent).toBe('none, Oct 2026')
  })

  it('lets go of a step beside that is not counted in what was done', async () => {
    const { server } = await stand({}, '/reports/flow?beside=open')
    expect(asked(server)).toMatchObject({ beside: 'open' })
    await press('What was done')
    expect(asked(server)).toEqual({ from: '2026-01-01', to: '2026-11-23', as: 'act', by: 'person' })
    expect(field('Month by month').value).toBe('')
  })

  it('goes back with its days in the fields and in the figures alike', async () => {
    const { server, router } = await stand()
    await choose('By', 'client')
    await put('From', '2026-10-01')
    await fireEvent.blur(field('From'))
    await settled()
    expect(asked(server)).toMatchObject({ from: '2026-10-01', by: 'client' })
    router.back()
    await waitFor(() => expect(asked(server)).toMatchObject({ from: '2026-01-01', by: 'person' }))
    await settled()
    expect(field('From').value).toContain('1 Jan 2026')
  })

  it('opens what stands behind a figure, of one and of all, and keeps it in the address', async () => {
    const lines = { name: 'Noor Haddad-Lind', total: 90_000, more: true, rows: [{ key: 'l1', day: '2026-10-05', who: 'Noor Haddad-Lind', matter: 'Gannet Ferry', matterId: 7, text: 'Draft', bill: '1042', billId: 9, amount: 90_000 }] } // prettier-ignore
    const { server, router } = await stand({ 'GET /oversight/flow/lines': lines })
    await fireEvent.click(rowOf('Noor Haddad-Lind').getByRole('button', { name: '$900.00' }))
    await settled()
    expect(server.sent('GET /oversight/flow/lines')[0]!.query).toMatchObject({ step: 'billed', key: '2', all: '' })
    expect(router.currentRoute.value.query).toMatchObject({ step: 'billed', key: '2' })
    const sheet = within(screen.getByRole('dialog'))
    expect(sheet.getByText(/The last 1 are listed/)).toBeTruthy()
    await fireEvent.click(sheet.getByRole('button', { name: /^Leave/ }))
    await settled()
    await press('billed')
    expect(server.sent('GET /oversight/flow/lines').at(-1)!.query).toMatchObject({ step: 'billed', key: '', all: 'yes' })
  })

  it('adds a long span up in the background, and hands its work on to the files', async () => {
    let done = false
    const { server, user } = await stand({
      'GET /oversight/flow': refusal('long-span', 'This takes a while.'),
      'POST /oversight/figures': { jobId: 31 },
      'GET /jobs/31': () => (done ? { state: 'done', progress: 100, error: null } : { state: 'waiting', progress: 40, error: null }),
      'GET /oversight/figures/31': { flow: byPerson, table: null },
    })
    expect(screen.getByRole('progressbar')).toBeTruthy()
    done = true
    await waitFor(() => expect(screen.getByText('Noor Haddad-Lind')).toBeTruthy(), { timeout: 5_000 })
    expect(server.sent('POST /oversight/figures')[0]!.body).toMatchObject({ what: 'flow', from: '2026-01-01', by: 'person' })
    await user.click(screen.getByRole('button', { name: 'As a file' }))
    expect(screen.getByRole('menuitem', { name: 'CSV' }).getAttribute('href')).toContain('added=31')
  })

  it('says what cannot be read, and reads it again', async () => {
    const { server } = await stand({ 'GET /oversight/flow': refusal('failed', 'The figures are being made anew.') })
    expect(screen.getByRole('alert').textContent).toContain('The figures are being made anew.')
    server.on('GET /oversight/flow', byPerson)
    await press('Try again')
    expect(screen.getByText('Noor Haddad-Lind')).toBeTruthy()
  })
})

describe('the week by timekeeper', () => {
  const days = (n: number) => ({ from: `2026-11-${String(23 - 7 * n).padStart(2, '0')}`, to: `2026-11-${String(29 - 7 * n).padStart(2, '0')}`, workDays: 5, daysOver: n ? 5 : 1 }) // prettier-ignore
  const week = (minutes: number, counted: number, more: object = {}) => ({ minutes, worth: counted, counted, goal: 200_000, share: Math.round(counted / 20), late: null, ...more }) // prettier-ignore
  const late = { minutes: 60, worth: 30_000, wasWorth: 70_000, wasMinutes: 240 }
  const rows = [
    { id: 2, name: 'Noor Haddad-Lind', title: 'Partner', left: null, outside: false, basis: 'billable', lastDay: '2026-11-20', weeks: [week(120, 60_000), week(300, 100_000, { late }), week(0, 0)], month: week(900, 300_000), stopped: null }, // prettier-ignore
    { id: 3, name: 'Tomas Okafor-Reyes', title: 'Associate', left: null, outside: false, basis: 'billable', lastDay: '2026-11-12', weeks: [week(0, 0), week(30, 9_000), week(1_500, 450_000)], month: week(1_600, 480_000), stopped: { usual: 1_500, was: 30, of: 'last week' } }, // prettier-ignore
    { id: 4, name: 'Ilse Brandt', title: '', left: '2026-10-31', outside: false, basis: null, lastDay: null, weeks: [week(0, 0), week(0, 0), week(6, 2_000)], month: week(0, 0), stopped: null }, // prettier-ignore
  ]
  const totals = { weeks: [week(120, 60_000), week(330, 109_000), week(1_506, 452_000)], month: week(2_500, 780_000) }
  const answer = { weekEnds: 7, weeks: [days(0), days(1), days(2)], month: { from: '2026-11-01', to: '2026-11-30', workDays: 20, daysOver: 15 }, look: null, rows, totals } // prettier-ignore
  const stand = async (more: Record<string, unknown> = {}, address = '/reports/weeks') => {
    const server = new Server({ 'GET /views': [], 'GET /oversight/weeks': answer, ...more })
    await standAt('/reports/weeks', address, Weeks)
    return { server, ...(await show(Weeks)) }
  }
  const asked = (server: Server) => server.sent('GET /oversight/weeks').at(-1)!.query

  it('tells hours and value of this week and those before, with what stopped and who left', async () => {
    const { server } = await stand()
    expect(asked(server)).toEqual({ weeks: '5' })
    expect(cells('Noor Haddad-Lind').slice(1, 6)).toEqual(['2.0', '$600.00', '$2,000.00', '30.0 %', '$1,000.00'])
    expect(screen.getByText('stopped recording').title).toBe('0.5 h last week, 25.0 h is usual')
    expect(screen.getByText(', left')).toBeTruthy()
    expect(cells('Together').slice(1, 6)).toEqual(['2.0', '$600.00', '$2,000.00', '30.0 %', '$1,090.00'])
    expect(screen.getAllByText(/1 of 5 working days are over\. 15 of 20 working days of the month are over\./)).toHaveLength(2)
  })

  it('tells weeks before in hours and by goal as well', async () => {
    await stand()
    const as = within(screen.getByRole('group', { name: 'Weeks before as' }))
    await fireEvent.click(as.getByText('Hours'))
    await settled()
    expect(cells('Tomas Okafor-Reyes').slice(5, 7)).toEqual(['0.5', '25.0'])
    await fireEvent.click(as.getByText('Of goal'))
    await settled()
    expect(cells('Together')[6]).toBe('226.0 %')
  })

  it('goes back to the week of before in the field and in the figures', async () => {
    const { server, router } = await stand()
    await put('Week of', '2026-10-12')
    await fireEvent.blur(field('Week of'))
    await settled()
    expect(asked(server)).toEqual({ weeks: '5', asOf: '2026-10-12' })
    router.back()
    await waitFor(() => expect(router.currentRoute.value.query).toEqual({}))
    await settled()
    expect([asked(server), field('Week of').value]).toEqual([{ weeks: '5' }, 'Mon 23 Nov 2026'])
  })

  it('marks what came late since the last look, with the figures of then, and takes the weeks as seen', async () => {
    const { server } = await stand({ 'GET /oversight/weeks': { ...answer, look: { day: '2026-11-16', at: '2026-11-16T15:00:00Z' } }, 'POST /oversight/looks': refusal('failed', 'Not just now.') }) // prettier-ignore
    const lateRow = within(screen.getByRole('table', { name: 'Recorded late' }))
      .getByText('Noor Haddad-Lind')
      .closest('tr')!
    expect([...lateRow.querySelectorAll('td')].slice(2, 8).map((c) => c.textContent.trim())).toEqual(['4.0', '1.0', '5.0', '$700.00', '$300.00', '$1,000.00']) // prettier-ignore
    await press('Take as seen')
    expect(lastNote()?.text).toBe('Not just now.')
    server.on('POST /oversight/looks', { ok: true })
    await press('Take as seen')
    expect(lastNote()?.text).toMatch(/^Taken as seen/)
  })

  it('begins a note to whoever stopped, from the list or by a link, and none to whoever left', async () => {
    const { user, router } = await stand({}, '/reports/weeks?note=3')
    const sheet = () => within(screen.getByRole('dialog'))
    expect(sheet().getByDisplayValue(/0\.5 h last week, 25\.0 h is usual, the last entry is of Thu 12 Nov/)).toBeTruthy()
    await waitFor(() => expect(router.currentRoute.value.query).toEqual({}))
    await fireEvent.keyDown(screen.getByRole('dialog'), { key: 'Escape' })
    await settled()
    await user.click(rowOf('Ilse Brandt').getByRole('button', { name: /^Acts on/ }))
    expect(screen.getAllByRole('menuitem').map((x) => x.textContent.trim())).not.toContain('Write a note …')
  })
})

describe('a report of the firm', () => {
  const table = (more: object = {}) => ({ title: 'Profit by matter', under: 'Money collected less what hours cost', columns: [{ key: 'matter', text: 'Matter', kind: 'text' }, { key: 'profit', text: 'Profit', kind: 'money' }, { key: 'hours', text: 'Hours', kind: 'hours' }, { key: 'share', text: 'Margin', kind: 'share' }, { key: 'last', text: 'Last', kind: 'day' }], rows: [{ key: '7', to: '/matters/7', cells: ['Gannet', 6_154_00, 90, 2550, '2026-11-20'] }, { key: '8', to: null, cells: ['Lease', -100_00, 30, null, null] }], totals: ['Together', 6_054_00, 120, 2400, null], more: true, bars: ['profit'], ...more }) // prettier-ignore
  const stand = async (what: string, address: string, routes: Record<string, unknown> = {}) => {
    const server = new Server({ 'GET /views': [], [`GET /oversight/reports/${what}`]: table(), ...routes })
    await standAt('/reports/:key', address, ReportPage)
    return { server, ...(await show(ReportPage, { what })) }
  }
  const asked = (server: Server, what: string) => server.sent(`GET /oversight/reports/${what}`).at(-1)!.query

  it('tells each value as what it is, with what all come to, and that there are more', async () => {
    const { user, router } = await stand('profit', '/reports/profit')
    expect(cells('Gannet').slice(1, 5)).toEqual(['$6,154.00', '1.5', '25.5 %', 'Fri 20 Nov'])
    expect(cells('Lease').slice(1, 5)).toEqual(['−$100.00', '0.5', '', ''])
    expect(cells('Together').slice(1, 4)).toEqual(['$6,054.00', '2.0', '24.0 %'])
    expect(document.querySelector('[data-bars]')?.textContent).toBe('Gannet, Lease')
    expect(screen.getByText('The first 2 are listed; what stands together is of all.')).toBeTruthy()
    await user.click(screen.getByText('Lease'))
    expect(router.currentRoute.value.path).toBe('/reports/profit')
    await user.click(screen.getByText('Gannet'))
    await waitFor(() => expect(router.currentRoute.value.path).toBe('/matters/7'))
  })

  it('asks only by what it is asked with', async () => {
    const { server } = await stand('idle', '/reports/idle?days=90&from=2026-02-01')
    expect(asked(server, 'idle')).toEqual({ days: '90' })
    expect(screen.queryByLabelText('From')).toBeNull()
  })

  it('keeps its span in the fields and in the figures, also where the address changes it', async () => {
    const { server, router } = await stand('profit', '/reports/profit?from=2026-02-01')
    expect([asked(server, 'profit'), field('From').value]).toEqual([{ from: '2026-02-01', to: '2026-11-23' }, 'Sun 1 Feb 2026'])
    await put('To', '2026-06-30')
    await fireEvent.blur(field('To'))
    await settled()
    expect(asked(server, 'profit')).toEqual({ from: '2026-02-01', to: '2026-06-30' })
    await router.push('/reports/profit')
    await settled()
    expect([asked(server, 'profit'), field('To').value]).toEqual([{ from: '2026-01-01', to: '2026-11-23' }, 'Mon 23 Nov 2026'])
    // Half a day asks nothing.
    const before = server.asked.length
    await put('From', '')
    await fireEvent.blur(field('From'))
    await settled()
    expect(server.asked.length).toBe(before)
  })

  it('goes to another report by its name', async () => {
    const { router } = await stand('trust', '/reports/trust')
    await choose('Report', 'delays')
    expect(router.currentRoute.value.path).toBe('/reports/delays')
  })
})
