import { fireEvent, screen, waitFor, within } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import Matters from '../src/matters/Matters.vue'
import MatterTime from '../src/time/MatterTime.vue'
import Ledger from '../src/trust/Ledger.vue'
import { field, later, press, put, refusal, Server, settled, setting, show, signIn, standAt } from './stage'

beforeEach(() => signIn({ rights: ['matters.see', 'matters.open', 'bills.see', 'bills.review', 'time.record', 'costs.record', 'trust.see', 'trust.post', 'books.see'] })) // prettier-ignore
const rowOf = (text: string) => within(screen.getByText(text).closest('[role="row"], tr') as HTMLElement)
const told = (element: Element | null) => element?.textContent?.trim().replaceAll(/\s+/g, ' ')

describe('the list of matters', () => {
  const matter = (id: number, name: string, more: object = {}) => ({
    id,
    number: `26-0${id}`,
    name,
    clientId: 4,
    client: 'Gannet Ferry',
    area: 'Admiralty',
    stage: 'Discovery',
    lead: 'Tomas Okafor-Reyes',
    court: '',
    openedOn: '2026-02-02',
    closedOn: null,
    lastOn: '2026-11-20',
    nextDay: '2026-11-25',
    nextTitle: 'Answer',
    overdue: 0,
    conflicts: 'cleared',
    tags: [],
    unbilled: null,
    owed: null,
    trust: null,
    fields: {},
    ...more,
  })
  const list = {
    rows: [matter(5, 'Gannet Ferry v. Corvane'), matter(6, 'Lease of berth 9', { overdue: 2, conflicts: 'not decided' })],
    total: 2,
  }
  const open = async (address = '/matters', server: Record<string, unknown> = {}) => {
    const on = new Server({ 'GET /matters/setting': setting, 'GET /matters': list, 'GET /field-groups': [], 'GET /views': [], ...server })
    await standAt('/matters', address, Matters)
    return { ...(await show(Matters)), server: on }
  }
  const asked = (server: Server) => server.sent('GET /matters').at(-1)!.query

  it('is asked by what the address says, and says what is overdue and whose conflicts are not cleared', async () => {
    const { server } = await open('/matters?q=gannet&areaId=1&page=2')
    expect(asked(server)).toMatchObject({ q: 'gannet', areaId: '1', page: '2', sort: 'active', money: 'false' })
    expect(told(rowOf('Lease of berth 9').getByText('2 overdue'))).toBe('2 overdue')
    expect(rowOf('Lease of berth 9').getByTitle('conflicts: not decided')).toBeTruthy()
  })

  it('looks once for what is typed, from the first page, and keeps it in the address', async () => {
    const { server, router } = await open('/matters?page=3')
    const before = server.sent('GET /matters').length
    // However slow the machine is, these letters come one right after the other.
    for (const typed of ['b', 'be', 'ber', 'bert', 'berth']) void put(/^Find by letters/, typed)
    await waitFor(() => expect(asked(server)).toMatchObject({ q: 'berth', page: '1' }))
    expect(server.sent('GET /matters').length - before).toBe(1)
    expect(router.currentRoute.value.query).toEqual({ q: 'berth' })
  })

  it('keeps what stands there while it looks, and says why it could not', async () => {
    const { server } = await open()
    const slow = later<unknown>()
    server.on('GET /matters', () => slow.promise)
    await fireEvent.update(screen.getByLabelText('State'), 'closed')
    await waitFor(() => expect(asked(server)).toMatchObject({ state: 'closed' }))
    expect(screen.getByText('Lease of berth 9')).toBeTruthy()
    slow.come(refusal('busy', 'Too much is asked at once. Try again in a moment.'))
    await waitFor(() => expect(screen.getByText(/Too much is asked at once/)).toBeTruthy())
  })

  it('follows a command or a link that comes while it stands open, and Back', async () => {
    const { server, router } = await open()
    await router.push('/matters?then=dates&q=berth')
    await waitFor(() => expect(asked(server)).toMatchObject({ q: 'berth' }))
    await settled()
    expect(screen.getByText('Choose the matter whose dates are to be worked out.')).toBeTruthy()
    expect(field(/^Find by letters/).value).toBe('berth')
    expect(rowOf('Lease of berth 9').getByRole('link', { name: 'Lease of berth 9' }).getAttribute('href')).toBe('/matters/6/docket?work=1')
    router.back()
    await waitFor(() => expect(field(/^Find by letters/).value).toBe(''))
    await waitFor(() => expect(asked(server)).not.toHaveProperty('q'))
  })

  it('does not put back what is typed on while the address is written', async () => {
    const { server, router } = await open()
    await put(/^Find by letters/, 'ber')
    await waitFor(() => expect(asked(server)).toMatchObject({ q: 'ber' }))
    await put(/^Find by letters/, 'berth')
    await waitFor(() => expect(router.currentRoute.value.query).toEqual({ q: 'berth' }))
    expect(field(/^Find by letters/).value).toBe('berth')
  })

  it('asks for nobody’s once the party is emptied', async () => {
    const { server, user } = await open('/matters?partyId=4', {
      'GET /matters/facets': { courts: [], tags: [] },
      'GET /contacts': { rows: [], total: 0 },
      'GET /contacts/4': { id: 4, name: 'Gannet Ferry' },
    })
    const party = screen.getByRole<HTMLInputElement>('combobox', { name: 'Client or party' })
    expect([party.value, asked(server)['partyId']]).toEqual(['Gannet Ferry', '4'])
    await user.clear(party)
    await waitFor(() => expect(asked(server)).not.toHaveProperty('partyId'))
  })

  it('forgets the stage with the area that it belongs to', async () => {
    const { server } = await open('/matters?areaId=1&stageId=4', {
      'GET /matters/facets': { courts: [], tags: [] },
      'GET /contacts': { rows: [], total: 0 },
    })
    await fireEvent.update(screen.getByLabelText('Area', { selector: 'select' }), '0')
    await waitFor(() => expect(asked(server)).not.toHaveProperty('areaId'))
    expect(asked(server)).not.toHaveProperty('stageId')
  })
})

describe('time and costs of a matter', () => {
  const entry = (id: number, more: object = {}) => ({ id, day: '2026-11-20', userId: 2, who: 'Noor Haddad-Lind', initials: 'NH', text: `Call ${id}`, state: 'posted', minutes: 24, rate: 285_00, rateOrigin: 'of the person', amount: 114_00, charge: 'billable', billed: null, ...more }) // prettier-ignore
  const cost = (id: number, more: object = {}) => ({ id, day: '2026-11-19', text: `Courier ${id}`, units: '', state: 'recorded', billed: null, billable: true, paidFrom: 'operating', kindName: 'Courier', amount: 18_50, receiptId: null, ...more }) // prettier-ignore
  const all = { time: [entry(1), entry(2, { charge: 'no charge', amount: 0 }), entry(3, { billed: '2026-0007' })], costs: [cost(1), cost(2, { paidFrom: 'trust' }), cost(3, { billed: '2026-0007' })], unbilled: 132_50, more: false } // prettier-ignore
  const open = async (server: Record<string, unknown> = {}, of: object = all) => {
    const on = new Server({ 'GET /matters/5/time': of, 'GET /views': [], ...server })
    return { ...(await show(MatterTime, { matter: { id: 5, number: '26-005', name: 'Gannet Ferry v. Corvane' } })), server: on }
  }
  const acts = async (title: string) => {
    await fireEvent.click(screen.getByRole('button', { name: `Acts on ${title}` }))
    await settled()
    return screen.getAllByRole('menuitem').map((m) => m.textContent?.trim())
  }

  it('says of each what becomes of it, and offers only what can be done with it', async () => {
    await open()
    expect(told(rowOf('Call 2').getByText('no charge'))).toBe('no charge')
    expect(rowOf('Courier 2').getByText('paid $18.50')).toBeTruthy()
    expect(rowOf('Call 3').getByText('billed 2026-0007')).toBeTruthy()
    expect(await acts('Call 1')).toEqual(['Correct or move …', 'Split …', 'Write off …', 'Reverse …'])
    expect(screen.queryByRole('button', { name: 'Acts on Call 3' })).toBeNull()
    expect(screen.queryByRole('button', { name: 'Acts on Courier 3' })).toBeNull()
  })

  it('offers no money and no writing off to whoever may not see it; time of others stays theirs', async () => {
    signIn({ id: 2, rights: ['matters.see', 'time.record'] })
    await open({}, { ...all, time: [entry(1), entry(2, { userId: 3 })], costs: [] })
    expect(await acts('Call 1')).toEqual(['Correct or move …', 'Split …', 'Reverse …'])
    expect(screen.queryByRole('button', { name: 'Acts on Call 2' })).toBeNull()
    expect(screen.queryByText('$132.50')).toBeNull()
  })

  it('writes several off in one act, each by its id, with a reason', async () => {
    const { server, user } = await open({ 'POST /time/write-off': { ended: 2 } }, { ...all, time: [entry(1), entry(4)], costs: [] })
    for (const text of ['Call 1', 'Call 4']) await user.click(rowOf(text).getByRole('checkbox'))
    await press(/^Write off 2/)
    await put('Why', 'Agreed with the client')
    await press(/^Write off$/)
    expect(server.asked.filter((a) => a.method !== 'GET').map((a) => a.body)).toMatchObject([
      { ids: [1, 4], reason: 'Agreed with the client' },
    ])
  })
})

describe('a client’s ledger', () => {
  const ledger = {
    id: 3,
    kind: 'client',
    client: 'Gannet Ferry',
    clientId: 4,
    matterId: 5,
    matter: 'Gannet Ferry v. Corvane',
    bank: 'Trust, Harbor Bank',
    bankAccountId: 1,
    book: 6_000_00,
    uncleared: 1_000_00,
    reserved: 500_00,
    available: 4_500_00,
    holds: [{ id: 8, amount: 500_00, kind: 'held', reason: 'Disputed share', laidBy: 'Noor Haddad-Lind' }],
    entries: [
      { id: 2, journalId: 12, day: '2026-11-20', text: 'Check 104, Corvane', clearsOn: '2026-11-25', amount: 1_000_00, balance: 6_000_00 },
      { id: 1, journalId: 11, day: '2026-11-02', text: 'Court fees', clearsOn: null, amount: -200_00, balance: 5_000_00 },
    ],
    total: 2,
  }
  const open = async (more: object = {}, server: Record<string, unknown> = {}) => {
    const on = new Server({ 'GET /trust/ledgers/3': { ...ledger, ...more }, 'GET /views': [], ...server })
    await standAt('/trust/ledgers/:id', '/trust/ledgers/3', Ledger)
    return { ...(await show(Ledger)), server: on }
  }

  it('says how available comes about, and what each entry left', async () => {
    await open()
    expect(told(screen.getByLabelText('What is available'))).toBe('$6,000.00in the book−$1,000.00not cleared−$500.00reserved=$4,500.00available') // prettier-ignore
    expect(rowOf('Court fees').getByText('$200.00')).toBeTruthy()
    expect(rowOf('Court fees').getByText('$5,000.00')).toBeTruthy()
  })

  it('offers to correct, hold and move only what is a client’s, and nothing to whoever only looks', async () => {
    const first = await open({ kind: 'firm' })
    expect(screen.queryByRole('button', { name: /^Acts on/ })).toBeNull()
    expect(screen.queryByRole('button', { name: 'More acts on this ledger' })).toBeNull()
    first.unmount()
    signIn({ id: 9, rights: ['trust.see'] })
    await open()
    expect(screen.queryByRole('button', { name: 'Pay out' })).toBeNull()
    expect(screen.queryByRole('button', { name: /^Release/ })).toBeNull()
  })

  it('releases what is held', async () => {
    await open()
    await press('Release $500.00')
    await waitFor(() => expect(screen.getByRole('dialog').textContent).toContain('$500.00'))
  })
})
