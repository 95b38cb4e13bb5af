import { fireEvent, screen, waitFor, within } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import Run from '../src/billing/Run.vue'
import Unbilled from '../src/billing/Unbilled.vue'
import ChangeMatter from '../src/matters/ChangeMatter.vue'
import { faults, field, later, press, put, refusal, Server, settled, setting, show, signIn, standAt, wrong } from './stage'

beforeEach(() => signIn({ rights: ['bills.see', 'bills.review', 'bills.issue', 'matters.see', 'matters.open', 'people.see'] }))

describe('unbilled work', () => {
  const row = (matterId: number, matter: string, billTo: string | null) => ({ matterId, number: `26-0${matterId}`, matter, client: matter, billTo, time: 570_00, costs: 0, flat: 0, together: 570_00, oldest: '2026-10-02' }) // prettier-ignore
  const list = { rows: [row(5, 'Gannet', 'Gannet Ferry'), row(6, 'Kestrel', null)], total: 2, together: 1_140_00, payable: 1 }
  const open = async (server: Record<string, unknown> = {}) => {
    const on = new Server({ 'GET /matters/setting': setting, 'GET /contacts': { rows: [], total: 0 }, 'GET /unbilled': list, ...server })
    await standAt('/bills', '/bills?show=unbilled', Unbilled)
    const page = await show(Unbilled)
    await settled()
    return { ...page, server: on }
  }
  const make = () => screen.getByRole<HTMLButtonElement>('button', { name: /^Make \d+ pre-bills?/ })

  it('says what is unbilled and who is billed by nobody yet; of all that is shown pre-bills are made by their filter', async () => {
    const { server, router } = await open({ 'POST /bill-runs': { id: 12 } })
    expect(screen.getByRole('status').textContent).toContain('2 matters with unbilled work; 1 does not say who is billed')
    expect(make().textContent).toContain('Make 1 pre-bill')
    await fireEvent.update(screen.getByLabelText('Lead lawyer'), '3')
    await settled()
    await fireEvent.click(make())
    await settled()
    expect(server.sent('POST /bill-runs')[0]!.body).toMatchObject({ workTo: '2026-11-23', matterIds: null, filter: { leadId: 3 } })
    expect(router.currentRoute.value.path).toBe('/bills/runs/12')
  })

  it('makes none while what is typed has not been looked up', async () => {
    const { server } = await open({ 'POST /bill-runs': { id: 12 } })
    const slow = later<unknown>()
    server.on('GET /unbilled', () => slow.promise)
    await put(/^Matter/, 'gannet')
    expect(make().disabled).toBe(true)
    await waitFor(() => expect(server.sent('GET /unbilled').at(-1)!.query['q']).toBe('gannet'))
    expect(make().disabled).toBe(true)
    slow.come({ ...list, rows: [list.rows[0]], total: 1, together: 570_00 })
    await waitFor(() => expect(make().disabled).toBe(false))
  })

  it('of those that are chosen only these', async () => {
    const { server, user } = await open({ 'POST /bill-runs': refusal('run-goes-on', 'Another run makes pre-bills just now.') })
    await user.click(screen.getAllByRole('checkbox')[1]!)
    await settled()
    await fireEvent.click(make())
    await settled()
    expect(server.sent('POST /bill-runs')[0]!.body).toMatchObject({ matterIds: [5], filter: null })
    expect(screen.getByRole('alert').textContent).toContain('Another run makes pre-bills just now.')
  })
})

describe('a run of bills', () => {
  const run = { id: 12, what: 'make', day: '2026-10-31', send: false, by: 'Orla Byrne', beganAt: '2026-11-23T14:00:00Z', endedAt: '2026-11-23T14:01:00Z', of: 2, left: 0, done: 1, refused: 1, total: 2, rows: [] as object[] } // prettier-ignore
  const rows = [
    { ordinal: 1, matterId: 5, matter: 'Gannet', number: '26-005', preBillId: 31, state: 'done', words: '$570.00', bills: [] },
    { ordinal: 2, matterId: 6, matter: 'Kestrel', number: '26-006', preBillId: null, state: 'refused', words: 'It has a pre-bill already.', bills: [] }, // prettier-ignore
  ]
  it('shows what was made and why the rest was not, and narrows to it', async () => {
    const server = new Server({ 'GET /bill-runs/12': (a: { query: Record<string, string> }) => ({ ...run, rows: a.query['state'] === 'refused' ? [rows[1]] : rows }) }) // prettier-ignore
    await standAt('/bills/runs/:id', '/bills/runs/12', Run)
    await show(Run)
    await settled()
    expect(screen.getByRole('status').textContent?.replaceAll(/\s+/g, ' ')).toContain('1 of 2 done, 1 not')
    expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('2')
    expect(screen.getByRole('link', { name: 'Gannet' }).getAttribute('href')).toBe('/bills/pre/31')
    await press('Not done')
    await settled()
    expect(server.sent('GET /bill-runs/12').at(-1)!.query).toMatchObject({ state: 'refused', page: '1' })
    expect([screen.queryByText('Gannet'), screen.getByText('It has a pre-bill already.').textContent]).toEqual([null, 'It has a pre-bill already.']) // prettier-ignore
  })
  it('that goes on is looked at again until it has ended', async () => {
    const going = { ...run, endedAt: null, done: 0, refused: 0, rows: [] }
    const server = new Server({ 'GET /bill-runs/12': going })
    await standAt('/bills/runs/:id', '/bills/runs/12', Run)
    await show(Run)
    await settled()
    expect(screen.getByRole('status').textContent).toContain('it goes on, also when you leave this page')
    server.on('GET /bill-runs/12', { ...run, rows })
    await waitFor(() => expect(screen.getByRole('status').textContent).not.toContain('it goes on'), { timeout: 3000 })
    const asked = server.asked.length
    await new Promise((done) => requestAnimationFrame(done))
    expect(server.asked.length).toBe(asked)
  })
})

describe('the file of a matter', () => {
  const matter = { id: 5, version: 7, name: 'Gannet Ferry v. Corvane', shortName: 'Gannet', secondNumber: '', clientId: 9, client: 'Gannet Ferry', clients: [], openedOn: '2026-03-02', areaId: 1, court: 'D. Harrow', caseNumber: '', judge: null, ourSide: 'claimant', ruleSetKey: 'us-federal-civil', originating: { id: 2, name: 'Noor Haddad-Lind' }, tags: ['ferry', 'cargo'], description: '', fields: {} } // prettier-ignore
  const open = async (server: Record<string, unknown>) => {
    const on = new Server({ 'GET /matters/setting': { ...setting, staff: setting.staff.map((s) => ({ ...s, role: 'lawyer' })) }, 'GET /field-groups': [], 'GET /contacts': { rows: [], total: 0 }, ...server }) // prettier-ignore
    const page = await show(ChangeMatter, { matter })
    await settled()
    return { ...page, server: on }
  }
  it('goes out with its version and its tags apart; a fault stands at its field', async () => {
    const { server, emitted } = await open({ 'PUT /matters/5': faults(['name', 'Name the matter']) })
    await put(/^Tags/, 'ferry, , cargo , salvage')
    await put('Name of the matter', '')
    await press('Save')
    expect(wrong('Name of the matter')).toBe(true)
    server.on('PUT /matters/5', { ok: true })
    await put('Name of the matter', 'Gannet v. Corvane')
    await press('Save')
    expect(server.sent('PUT /matters/5').at(-1)!.body).toMatchObject({ version: 7, name: 'Gannet v. Corvane', tags: ['ferry', 'cargo', 'salvage'], clientId: 9, originatingId: 2, judgeId: null }) // prettier-ignore
    expect(emitted('close')).toHaveLength(1)
  })
  it('that somebody else changed is put side by side in words, and saved on the version that stands by now', async () => {
    const { server, user } = await open({ 'PUT /matters/5': refusal('changed-meanwhile', 'Somebody else changed this file while you wrote.') }) // prettier-ignore
    await fireEvent.update(screen.getByLabelText('Brought in by'), '3')
    server.on('GET /matters/5', { ...matter, version: 8, originating: null, court: 'D. Tern' })
    await press('Save')
    await settled()
    const mine = within(screen.getByRole('group', { name: 'Brought in by' }))
    expect([mine.getByText('Tomas Okafor-Reyes'), mine.getByText('nothing')]).toHaveLength(2)
    expect(field(/^Court$|^Court \(/).value).toBe('D. Tern')
    await user.click(mine.getByRole('button', { name: 'Keep yours' }))
    server.on('PUT /matters/5', { ok: true })
    await press('Save')
    expect(server.sent('PUT /matters/5').at(-1)!.body).toMatchObject({ version: 8, originatingId: 3, court: 'D. Tern' })
  })
})
