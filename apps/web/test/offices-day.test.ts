import { fireEvent, screen, within } from '@testing-library/vue'
import { describe, expect, it } from 'vitest'
import Decisions from '../src/reports/Decisions.vue'
import { useSession } from '../src/shell/session'
import TimerSheet from '../src/shell/TimerSheet.vue'
import TaskSheet from '../src/tasks/TaskSheet.vue'
import Ledgers from '../src/trust/Ledgers.vue'
import PrintJobs from '../src/trust/PrintJobs.vue'
import { later, refusal, Server, settled, show, signIn, standAt, type Asked } from './stage'

describe('what needs a decision', () => {
  const row = (key: string, text: string) => ({ key, text, hint: '', amount: null, day: null, to: '/matters/1' })
  it('is put off row by row where no act settles it, and shown again', async () => {
    signIn({ rights: ['bills.see'] })
    const off = new Set<string>()
    const kinds = () => [
      { key: 'pre-bills', title: 'Pre-bills to review', count: 1, rows: [row('1', 'Gannet')], all: '/bills', act: 'Review', aside: null },
      { key: 'budgets', title: 'Budgets nearly used', count: 2 - off.size, rows: [row('7', 'Tern'), row('8', 'Avocet')].filter((r) => !off.has(r.key)), all: '/reports/budget', act: 'Look', aside: 'budgets' }, // prettier-ignore
    ]
    const server = new Server({
      'GET /oversight/decisions': () => ({ kinds: kinds(), aside: off.size }),
      'POST /oversight/decisions/put-off': ({ body }: Asked) => (off.add(String(body['key'])), { ok: true }),
      'POST /oversight/decisions/take-up': () => (off.clear(), { ok: true }),
    })
    const on = await show(Decisions)
    expect(screen.getAllByRole('button', { name: /^Put off/ })).toHaveLength(2)
    await on.user.click(screen.getByRole('button', { name: 'Put off Tern for a week' }))
    await settled()
    expect(server.sent('POST /oversight/decisions/put-off')[0]!.body).toEqual({ kind: 'budgets', key: '7', days: 7 })
    const budgets = () => within(screen.getByRole('region', { name: 'Budgets nearly used' }))
    expect([budgets().queryByText('Tern'), screen.getByText(/You put off 1 thing/)]).toEqual([null, expect.anything()])
    await on.user.click(screen.getByRole('button', { name: 'Show it again' }))
    await settled()
    expect(budgets().getByText('Tern')).toBeTruthy()
    // What the server refuses is said, and nothing goes from the page.
    server.on('POST /oversight/decisions/put-off', refusal('changed-meanwhile', '1,000 things are put off already.'))
    await on.user.click(screen.getByRole('button', { name: 'Put off Avocet for a week' }))
    await settled()
    expect([screen.getByRole('alert').textContent, budgets().getByText('Avocet')]).toEqual(['1,000 things are put off already.', expect.anything()]) // prettier-ignore
  })
})

describe('sheets that are still being read', () => {
  const timer = { id: 5, matterId: 7, matter: 'Gannet v. Corvane', text: 'Call', seconds: 60, running: true, since: { day: '2026-11-23', time: '9:10' }, overnight: false } // prettier-ignore
  it('show no field of a timer until it is known, and keep what is typed from then on', async () => {
    signIn({ rights: ['time.record'] })
    const read = later<unknown>()
    const server = new Server({ 'GET /timers': () => read.promise, 'GET /matters': { rows: [], total: 0 }, 'POST /timers/5/stop': { id: 1 } }) // prettier-ignore
    const on = await show(TimerSheet)
    expect([screen.queryByLabelText('What is being done'), screen.getByText('One moment …')]).toEqual([null, expect.anything()])
    read.come([timer])
    await settled()
    const field = screen.getByLabelText('What is being done')
    await on.user.clear(field)
    await on.user.type(field, 'File opening')
    // It is the same field that was typed into, however often what runs is read.
    expect([(field as HTMLInputElement).value, field.isConnected, screen.getAllByRole('dialog')]).toEqual(['File opening', true, [expect.anything()]]) // prettier-ignore
    expect(server.sent('GET /timers')).toHaveLength(1)
  })
  it('say what went wrong where a task cannot be read, and nothing can be saved over it', async () => {
    signIn({ rights: ['tasks.change'] })
    new Server({
      'GET /tasks/9': refusal('not-found', 'There is no such task, or it is not open to you.'),
      'GET /matter-setting': { areas: [], staff: [] },
      'GET /matters/setting': { areas: [], staff: [] },
    })
    await show(TaskSheet, { id: 9 })
    expect(screen.getByRole('alert').textContent).toContain('not open to you')
    expect(screen.queryByLabelText('What is to be done')).toBeNull()
    expect((screen.getByRole('button', { name: /^Save/ }) as HTMLButtonElement).disabled).toBe(true)
  })
})

describe('client ledgers', () => {
  it('are narrowed by what the address says, and an answer that comes late takes nothing back', async () => {
    signIn({ rights: ['trust.see'] })
    const ledger = (id: number, client: string) => ({ id, bankAccountId: 2, bank: 'Pooled', kind: 'client', clientId: id, client, matterId: null, matter: null, book: 100_00, uncleared: 0, reserved: 0, available: 100_00 }) // prettier-ignore
    const first = later<unknown>()
    const server = new Server({
      'GET /trust/ledgers': ({ query }: Asked) =>
        query['q'] === 'av'
          ? first.promise
          : { rows: [ledger(2, query['q'] === 'avocet' ? 'Avocet Ltd' : 'Tern Ltd')], total: 1, totalBook: 100_00 },
    })
    await standAt('/trust', '/trust?q=tern&withMoney=no&asOf=2026-10-31', Ledgers)
    const on = await show(Ledgers)
    expect(server.asked[0]!.query).toMatchObject({ q: 'tern', withMoney: 'no', asOf: '2026-10-31' })
    const find = screen.getByLabelText('Find by client or matter')
    for (const q of ['av', 'avocet']) {
      await fireEvent.update(find, q)
      await new Promise((r) => setTimeout(r, 220))
      await settled()
    }
    first.come({ rows: [ledger(3, 'Avalanche Ltd')], total: 1, totalBook: 100_00 })
    await settled()
    expect([screen.queryByText('Avalanche Ltd'), screen.getByText('Avocet Ltd')]).toEqual([null, expect.anything()])
    expect(on.router.currentRoute.value.query).toEqual({ q: 'avocet', withMoney: 'no', asOf: '2026-10-31' })
  })
})

describe('a print job', () => {
  it('asks of each check how it came out, and is ended where none is open to its owner any more', async () => {
    signIn({ rights: ['trust.see', 'trust.post'] })
    const check = (id: number, outcome: string | null = null) => ({ id, checkNo: 2000 + id, day: '2026-11-20', payee: `Payee ${id}`, amount: 100_00, bank: 'Pooled', outcome }) // prettier-ignore
    let jobs = [{ id: 4, bank: 'Pooled', madeAt: '2026-11-23T10:00:00Z', checks: [check(1), check(2, 'again'), check(3, 'printed')] }]
    const server = new Server({ 'GET /print-jobs': () => jobs, 'POST /print-jobs/4/outcomes': { closed: true, replaced: [] } })
    const on = await show(PrintJobs, { book: 'trust' })
    await on.user.selectOptions(screen.getByLabelText('Check 2002 came out'), 'spoiled: void it, next number')
    await on.user.click(screen.getByRole('button', { name: 'This is how they came out' }))
    await settled()
    expect(server.sent('POST /print-jobs/4/outcomes')[0]!.body).toEqual({ outcomes: [{ paymentId: 1, outcome: 'printed' }, { paymentId: 2, outcome: 'spoiled' }] }) // prettier-ignore
    jobs = [{ ...jobs[0]!, checks: [] }]
    useSession().changed()
    await settled()
    expect(screen.queryAllByText(/as PDF/)).toHaveLength(0)
    await on.user.click(screen.getByRole('button', { name: 'End it' }))
    await settled()
    expect(server.sent('POST /print-jobs/4/outcomes')[1]!.body).toEqual({ outcomes: [] })
  })
})
