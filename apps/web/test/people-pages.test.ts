import { fireEvent, screen, waitFor, within } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import Triggers from '../src/docket/Triggers.vue'
import { useChange } from '../src/docket/useChange'
import Conflicts from '../src/people/Conflicts.vue'
import Enquiries from '../src/people/Enquiries.vue'
import People from '../src/people/People.vue'
import FirmLog from '../src/setup/FirmLog.vue'
import { defineComponent, h } from 'vue'
import { faults, field, later, press, put, refusal, Server, settled, setting, show, signIn, standAt, wrong } from './stage'

beforeEach(() => {
  localStorage.clear()
  signIn({ rights: ['people.see', 'people.change', 'matters.open', 'matters.see', 'docket.see', 'docket.change', 'firm.set-up'] })
})
const told = (element: Element | null) => element?.textContent?.trim().replaceAll(/\s+/g, ' ')
const contact = (id: number, name: string, more: object = {}) => ({ id, name, kind: 'person', kinds: ['client'], email: '', phone: '', matters: 1, ...more }) // prettier-ignore

describe('contacts', () => {
  const open = async (routes: Record<string, unknown> = {}, address = '/people') => {
    const server = new Server({ 'GET /contacts': { rows: [contact(4, 'Gannet Ferry'), contact(5, 'Ada Marsh', { kinds: [], matters: 0 })], total: 120 }, 'GET /contact-kinds': ['client', 'expert'], 'GET /views': [], 'GET /contacts/near': [], ...routes }) // prettier-ignore
    await standAt('/people', address, People)
    return { server, ...(await show(People)) }
  }
  const asked = (server: Server) => server.sent('GET /contacts').at(-1)!.query

  it('are found by letters and kind, from the first page on, and taken home as they are found', async () => {
    const { server, user, router } = await open({}, '/people?page=2&kind=expert')
    expect(asked(server)).toMatchObject({ page: '2', kind: 'expert' })
    await put('Find by name, e-mail or phone', 'marsh')
    await waitFor(() => expect(asked(server)).toMatchObject({ q: 'marsh', page: '1', kind: 'expert' }))
    await waitFor(() => expect(router.currentRoute.value.query).toEqual({ q: 'marsh', kind: 'expert' }))
    await user.click(screen.getByRole('button', { name: 'The list Contacts' }))
    expect(screen.getByRole('menuitem', { name: 'vCards of all that fit' }).getAttribute('href')).toBe('/api/contacts/export?format=vcard&q=marsh&kind=expert') // prettier-ignore
  })

  it('are made by a command as often as it is given, also while the list stands open', async () => {
    const { router, user } = await open({ 'GET /matters/setting': setting })
    for (let i = 0; i < 2; i += 1) {
      await router.push('/people?new=1')
      await waitFor(() => expect(screen.queryByRole('dialog')).not.toBeNull())
      await waitFor(() => expect(router.currentRoute.value.query).toEqual({}))
      await user.click(within(screen.getByRole('dialog')).getByRole('button', { name: /^Leave/ }))
      await settled()
      expect(screen.queryByRole('dialog')).toBeNull()
    }
  })

  it('that are spelled nearly so are offered where nobody has the name', async () => {
    await open({ 'GET /contacts': { rows: [], total: 0 }, 'GET /contacts/near': [contact(9, 'Gannett Fery')] }, '/people?q=ganet')
    await settled()
    expect(told(screen.getByText(/Nobody by that name/))).toContain('Near it: Gannett Fery.')
  })
})

describe('conflict checks', () => {
  const hit = { id: 71, term: 'Corvane', name: 'Corvane Holdings', reasons: ['same name'], decision: null, note: '', contactId: 9, matters: [], hidden: false } // prettier-ignore
  const check = (id: number, hits: object[]) => ({ id, terms: ['Corvane'], about: 'A charter', matter: null, madeAt: '2026-11-20T10:00:00Z', madeBy: 'Noor', namesOnRecord: 73, hits, open: hits.length }) // prettier-ignore
  const open = async (routes: Record<string, unknown> = {}, address = '/people/conflicts') => {
    const server = new Server({ 'GET /conflict-checks': { rows: [], total: 0 }, 'GET /views': [], ...routes })
    await standAt('/people/conflicts', address, Conflicts)
    return { server, ...(await show(Conflicts)) }
  }

  it('take a name a line or between semicolons, and stand in the address once they are made', async () => {
    const { server, router } = await open({ 'POST /conflict-checks': check(31, []) })
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Check for conflicts' }).disabled).toBe(true)
    await put('Names, one a line', ' Corvane \n\nJ. Sequeira; 555-0100 ')
    await press('Check for conflicts')
    expect(server.sent('POST /conflict-checks')[0]!.body).toMatchObject({ terms: ['Corvane', 'J. Sequeira', '555-0100'] })
    expect(router.currentRoute.value.query).toEqual({ check: '31' })
    expect(screen.getByText('Nothing found.')).toBeTruthy()
  })

  it('say at their field what is no name, and keep what was typed', async () => {
    await open({ 'POST /conflict-checks': faults(['terms', 'At most 50 names']) })
    await put('Names, one a line', 'x')
    await press('Check for conflicts')
    expect([wrong('Names, one a line'), field('Names, one a line').value]).toEqual([true, 'x'])
  })

  it('are read again by their address', async () => {
    await open({ 'GET /conflict-checks/31': check(31, [hit]) }, '/people/conflicts?check=31')
    await settled()
    expect(told(screen.getByRole('region', { name: 'Hits' }))).toContain('Corvane same name: Corvane Holdings')
  })
})

describe('enquiries', () => {
  const enquiry = (id: number, more: object = {}) => ({ id, contactId: id, name: `Caller ${id}`, about: 'A lease', area: null, nextOn: null, nextStep: '', state: 'open', reason: '', matterId: null, matter: null, hitsOpen: null, owner: 'Noor', at: '2026-11-20T10:00:00Z', ...more }) // prettier-ignore
  it('say what comes next, what is late, and whether conflicts were looked for', async () => {
    const rows = [enquiry(1, { nextOn: '2026-11-20', nextStep: 'Call back' }), enquiry(2, { hitsOpen: 2 }), enquiry(3, { hitsOpen: 0, state: 'declined', reason: 'Conflict' }), enquiry(4, { hitsOpen: 0, matterId: 7, matter: 'Gannet' })] // prettier-ignore
    const server = new Server({ 'GET /enquiries': { rows, total: 4 }, 'GET /views': [] })
    await standAt('/people/enquiries', '/people/enquiries', Enquiries)
    await show(Enquiries)
    expect(server.sent('GET /enquiries')[0]!.query).toMatchObject({ state: 'open', page: '1' })
    expect(screen.getByText('Fri 20 Nov').className).toContain('rust')
    expect(screen.getByText('not checked')).toBeTruthy()
    expect(screen.getByText('2 to decide')).toBeTruthy()
    expect(screen.getByText('declined: Conflict')).toBeTruthy()
    expect(screen.getByRole('link', { name: 'Gannet' }).getAttribute('href')).toBe('/matters/7')
    await fireEvent.click(within(screen.getByRole('group', { name: 'State' })).getByText('Declined'))
    await settled()
    expect(server.sent('GET /enquiries').at(-1)!.query).toMatchObject({ state: 'declined', page: '1' })
  })
})

describe('the log of the firm', () => {
  const line = (id: number) => ({ id, at: '2026-11-20T10:00:00Z', who: 'Noor', userId: 2, kind: 'made', text: `Act ${id}`, changes: [], matterId: null, matter: null }) // prettier-ignore
  it('is looked through once words are typed, goes back page by page, and begins anew when it is narrowed', async () => {
    const server = new Server({ 'GET /log': { rows: [line(90), line(41)], more: true, kinds: ['made', 'paid'] }, 'GET /staff': [{ id: 2, name: 'Noor' }], 'GET /matters': { rows: [], total: 0 }, 'GET /views': [] }) // prettier-ignore
    await standAt('/set-up/log', '/set-up/log', FirmLog)
    const { router } = await show(FirmLog)
    const asked = () => server.sent('GET /log').at(-1)!.query
    await press('Further back')
    expect(asked()).toMatchObject({ before: '41' })
    const before = server.sent('GET /log').length
    for (const typed of ['g', 'ga', 'gan']) void put('Words', typed)
    await waitFor(() => expect(asked()).toMatchObject({ q: 'gan' }))
    expect(server.sent('GET /log').slice(before).map((a) => a.query['q'])).not.toContain('ga') // prettier-ignore
    await waitFor(() => expect(asked()).not.toHaveProperty('before'))
    await fireEvent.update(screen.getByLabelText('Kind'), 'paid')
    await settled()
    expect(asked()).toMatchObject({ q: 'gan', kind: 'paid' })
    await waitFor(() => expect(router.currentRoute.value.query).toEqual({ q: 'gan', kind: 'paid' }))
    expect(screen.getByRole('link', { name: 'CSV' }).getAttribute('href')).toBe('/api/log.csv?kind=paid&q=gan')
  })
})

describe('what happened in a matter', () => {
  const trigger = (more: object = {}) => ({ id: 3, kind: 'complaint-served', title: 'Complaint served', label: 'Complaint served', day: '2026-11-04', service: 'hand', asksService: true, tentative: false, answers: null, party: null, paper: null, dates: 2, missing: [], elsewhere: false, ...more }) // prettier-ignore
  const all = (more: object = {}) => ({ facts: [{ key: 'jury', question: 'A jury was asked for', holds: false }], triggers: [trigger()], services: [{ key: 'hand', title: 'By hand', adds: 'no days' }, { key: 'mail', title: 'By mail', adds: '3 days' }], parties: [], last: { id: 8, text: 'Complaint served docketed', at: '2026-11-04T10:00:00Z', by: 'Jun' }, ...more }) // prettier-ignore
  const page = defineComponent({
    props: { mayChange: Boolean },
    setup(props) {
      const change = useChange(() => 7)
      return () => h(Triggers, { matterId: 7, change, mayChange: props.mayChange, ruleSetKey: 'us-federal-civil' })
    },
  })
  const open = async (routes: Record<string, unknown> = {}, mayChange = true) => {
    const server = new Server({ 'GET /matters/7/triggers': all(), 'GET /matters/setting': setting, ...routes })
    return { server, ...(await show(page, { mayChange })) }
  }
  const nothing = { text: 'Changed', differences: [], chains: [] }

  it('is changed only after what follows was shown: by day, service and label', async () => {
    const { server } = await open({ 'POST /matters/7/docket/acts/preview': nothing })
    await press(/^Change Complaint served/)
    expect([field('On').value, field('Served by').value]).toEqual(['Wed 4 Nov 2026', 'hand'])
    await fireEvent.update(screen.getByLabelText('Served by'), 'mail')
    await press(/^Show what follows/)
    const sent = server.asked.filter((a) => a.method === 'POST').at(-1)!
    expect(sent.body).toMatchObject({
      act: { kind: 'change', triggerId: 3, day: '2026-11-04', service: 'mail', tentative: false, label: '' },
    })
    expect(screen.queryByRole('dialog')).toBeNull()
  })

  it('keeps a fact as it holds until what follows from the other was taken', async () => {
    const slow = later()
    const { server, user } = await open({ 'POST /matters/7/docket/acts/preview': () => slow.promise }) // prettier-ignore
    const box = screen.getByLabelText<HTMLInputElement>('A jury was asked for')
    await user.click(box)
    expect(box.checked).toBe(false)
    expect(server.asked.filter((a) => a.method === 'POST').at(-1)!.body).toMatchObject({ act: { kind: 'facts', facts: ['jury'] } })
    slow.come(refusal('closed', 'The matter is closed.'))
    await settled()
    expect(box.checked).toBe(false)
  })

  it('is only read by whoever may not change it', async () => {
    await open(
      { 'GET /matters/7/triggers': all({ triggers: [trigger({ tentative: true }), trigger({ id: 4, label: 'Reply', elsewhere: true })] }) },
      false,
    )
    expect(screen.getByText('tentative')).toBeTruthy()
    expect(screen.getByText('other rules')).toBeTruthy()
    expect(screen.queryByRole('button')).toBeNull()
    expect(screen.getByLabelText<HTMLInputElement>('A jury was asked for').disabled).toBe(true)
  })
})
