import { fireEvent, screen, within } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import Arrangement from '../src/billing/Arrangement.vue'
import Band from '../src/matters/Band.vue'
import Overview from '../src/matters/Overview.vue'
import Parties from '../src/matters/Parties.vue'
import Relations from '../src/people/Relations.vue'
import { useNotes } from '../src/shell/notes'
import { answer, lastNote, press, put, refusal, Server, settled, setting, show, signIn, standAt, wrong, faults } from './stage'

beforeEach(() => signIn({ rights: ['matters.see', 'matters.open', 'bills.see', 'bills.review', 'trust.see', 'trust.post', 'people.see', 'people.change', 'docket.see'] })) // prettier-ignore
const told = (element: Element | null) => element?.textContent?.trim().replaceAll(/\s+/g, ' ')
const all = { file: 2, docket: 2, papers: 2, money: 2, trust: 2 }
const counts = { docket: 3, tasks: 2, papers: 9, bills: 1, parties: 2, notes: 0 }
const matter = (more: object = {}) => ({
  id: 7,
  number: '26-0007',
  secondNumber: '',
  name: 'Gannet Ferry v. Corvane',
  clientId: 4,
  client: 'Gannet Ferry',
  clients: [{ id: 9, name: 'Gannet Holdings' }],
  stageId: 2,
  stages: [
    { id: 1, name: 'Pleadings', days: 30 },
    { id: 2, name: 'Discovery', days: 12 },
    { id: 3, name: 'Trial', days: 0 },
  ],
  openedOn: '2026-02-02',
  closedOn: null,
  closingNote: '',
  description: '',
  judge: null,
  originating: null,
  tags: ['ferry'],
  billing: 'hourly',
  billToId: 4,
  billTo: 'Gannet Ferry',
  payers: [],
  team: [],
  staff: all,
  screens: [],
  own: { ...all, keeps: true, follows: false },
  parties: [],
  portions: [],
  counts,
  missing: [],
  fields: {},
  fieldNames: {},
  conflicts: null,
  conflictState: 'cleared',
  leadId: 3,
  lead: 'Tomas Okafor-Reyes',
  ...more,
})

describe('the overview of a matter', () => {
  const open = async (more: object = {}, routes: Record<string, unknown> = {}) => {
    const server = new Server({ 'GET /matters/setting': setting, 'GET /field-groups': [], ...routes })
    return { server, ...(await show(Overview, { matter: matter(more) })) }
  }

  it.each([
    ['hourly', 'Hourly'],
    ['flat', 'Flat fee'],
    ['contingency', 'Contingent fee'],
    ['no charge', 'No charge'],
  ])('says how it is paid for: %s', async (billing, words) => {
    await open({ billing })
    expect(told(screen.getByText('Billing').nextElementSibling)).toContain(`${words}, to Gannet Ferry`)
  })

  it('moves to another stage, back again by Undo, and says why it cannot', async () => {
    const { server, emitted } = await open({}, { 'PUT /matters/7/stage': { ok: true } })
    await press(/^Trial/)
    expect([server.sent('PUT /matters/7/stage')[0]!.body, lastNote()?.text]).toEqual([{ stageId: 3 }, 'Stage: Trial'])
    expect(emitted('changed')).toHaveLength(1)
    await useNotes().undo(lastNote()!)
    expect(server.sent('PUT /matters/7/stage')[1]!.body).toEqual({ stageId: 2 })
    server.on('PUT /matters/7/stage', refusal('closed', 'The matter was closed meanwhile.'))
    await press(/^Trial/)
    expect(screen.getByRole('alert').textContent).toBe('The matter was closed meanwhile.')
  })

  it('is shown and not changed by whoever may not, and of a closed one only reopening is offered', async () => {
    await open({ own: { ...all, file: 1, money: 1, keeps: false, follows: false } })
    expect(screen.queryByRole('button', { name: 'Change' })).toBeNull()
    expect((screen.getByRole('button', { name: /^Trial/ }) as HTMLButtonElement).disabled).toBe(true)
    expect(screen.queryByRole('button', { name: 'Close the matter' })).toBeNull()
  })

  it('is reopened with a reason, and says what comes back', async () => {
    const { server } = await open(
      { closedOn: '2026-10-01', closingNote: 'Settled' },
      { 'POST /matters/7/reopened': faults(['reason', 'Say why']) },
    )
    expect(screen.getByText(/Settled/)).toBeTruthy()
    await press('Reopen')
    const sheet = within(screen.getByRole('dialog'))
    await fireEvent.click(sheet.getByRole('button', { name: /^Reopen/ }))
    await settled()
    expect(wrong('Why')).toBe(true)
    server.on('POST /matters/7/reopened', { dates: 2 })
    await put('Why', 'A late appeal')
    await fireEvent.click(sheet.getByRole('button', { name: /^Reopen/ }))
    await settled()
    expect([server.sent('POST /matters/7/reopened')[1]!.body, lastNote()?.text]).toEqual([{ reason: 'A late appeal' }, 'Reopened; 2 dates are back']) // prettier-ignore
  })

  it('is deleted only where nothing was done on it, and only after it was asked', async () => {
    await open()
    expect(screen.queryByRole('button', { name: 'Delete it' })).toBeNull()
    const none = { docket: 0, tasks: 0, papers: 0, bills: 0, parties: 2, notes: 0 }
    const { server, router, unmount } = await open({ counts: none }, { 'DELETE /matters/7': refusal('matter-has-work', '26-0007 has work on it. Close it instead.') }) // prettier-ignore
    await press('Delete it')
    expect(server.sent('DELETE /matters/7')).toEqual([])
    await answer(false)
    expect(server.sent('DELETE /matters/7')).toEqual([])
    await press('Delete it')
    await answer(true)
    expect(screen.getByRole('alert').textContent).toBe('26-0007 has work on it. Close it instead.')
    server.on('DELETE /matters/7', { ok: true })
    await press('Delete it')
    await answer(true)
    expect([router.currentRoute.value.path, lastNote()?.text]).toEqual(['/matters', '26-0007 is deleted'])
    unmount()
  })

  it('says a fee is reached only where the money may be changed', async () => {
    const portions = [{ id: 5, label: 'Filing', amount: 1_500_00, earnedOn: null, billed: false }, { id: 6, label: 'Trial', amount: 900_00, earnedOn: '2026-10-05', billed: true }] // prettier-ignore
    const { server } = await open({ portions }, { 'POST /fee-portions/5/earned': { ok: true } })
    expect(screen.getByText('billed, reached Mon 5 Oct')).toBeTruthy()
    await press('Reached')
    expect(lastNote()?.text).toBe('Reached: Filing')
    expect(server.asked.at(-1)!.body).toEqual({ day: '2026-11-23' })
    document.body.replaceChildren()
    await open({ portions, closedOn: '2026-11-01' })
    expect(screen.queryByRole('button', { name: 'Reached' })).toBeNull()
  })
})

describe('the band of figures', () => {
  const figures = { unbilled: 4_000_00, owed: 2_154_00, stake: 6_154_00, oldestDue: '2026-11-13', held: 5_000_00, cleared: 4_000_00, short: 1_154_00 } // prettier-ignore
  const open = (own: object | null) =>
    show(Band, { matter: matter({ next: { title: 'Answer', day: '2026-11-25' }, tasks: { open: 2, today: 1 }, figures: own }) })
  const figure = (name: string) => told(document.querySelector(`[data-figure="${name}"]`))

  it('tells what is at stake against what is held, and by how much that is short', async () => {
    await open(figures)
    expect(figure('stake')).toBe('$6,154.00at stake')
    expect(figure('held')).toBe('$5,000.00in trust, $4,000.00 cleared')
    expect(screen.getByText('short by $1,154.00')).toBeTruthy()
    expect(screen.getByText('owed, oldest 10 days late')).toBeTruthy()
  })
  it('says it is covered where nothing is short', async () => {
    await open({ ...figures, short: 0 })
    expect(screen.getByText('covered')).toBeTruthy()
  })
  it('says nothing of trust to whom it is not open: nothing held is another thing', async () => {
    await open({ ...figures, held: null, cleared: null, short: null })
    expect(figure('stake')).toBe('$6,154.00at stake')
    expect(screen.queryByText(/short by|covered|in trust/)).toBeNull()
  })
  it('shows no money at all where none is open', async () => {
    await open(null)
    expect(screen.queryByLabelText('Money of the matter')).toBeNull()
  })
})

describe('how a matter is paid for, on its bills', () => {
  const kept = {
    billing: 'contingency',
    history: [
      { from: '2026-02-02', billing: 'hourly', by: 'Noor' },
      { from: '2026-05-01', billing: 'contingency', by: 'Noor' },
    ],
    portions: [{ id: 5, label: 'Filing', amount: 1_500_00, due: 'reached', stageId: 1, stage: 'Pleadings', earnedOn: null, added: false, billId: null, bill: null }], // prettier-ignore
    stages: [],
    contingent: { feeOf: 'net', stages: [{ label: 'before suit', share: '1/3' }] },
    retainer: { floor: 5_000_00, fillTo: 10_000_00, held: 2_000_00, ask: 8_000_00 },
  }
  const settlement = (more: object = {}) => ({ id: 8, matterId: 7, recoveredOn: '2026-10-05', fromWhom: 'Corvane', gross: 100_000_00, stage: 'before suit', fee: 33_333_33, toClient: 60_000_00, billed: null, billId: null, clientPaymentId: null, clientState: null, withdrawnOn: null, lines: [], liens: [], ...more }) // prettier-ignore
  const open = async (routes: Record<string, unknown> = {}, more: object = {}) => {
    const server = new Server({
      'GET /matters/7/arrangement': kept,
      'GET /matters/7/settlements': [settlement()],
      'GET /matters/7/fee-shares': { shares: [{ userId: 2, name: 'Noor', basisPoints: 2_550 }], staff: [] },
      ...routes,
    })
    await standAt('/matters/7/bills', '/matters/7/bills', Arrangement)
    return { server, ...(await show(Arrangement, { matter: matter(more) })) }
  }

  it('tells since when, its terms, its retainer and how fees are shared', async () => {
    await open()
    const region = screen.getByRole('region', { name: 'Arrangement' })
    expect(told(region)).toContain('Contingent fee since Fri 1 May, before hourly')
    expect(told(region)).toContain('Fee of what is left after costs: before suit 1/3.')
    expect(told(region)).toContain('$2,000.00 held, at least $5,000.00. Ask the client for $8,000.00.')
    expect(told(region)).toContain('Noor 25.5 %')
    expect(told(region)).toContain('Filing charged at stage Pleadings, not yet reached')
    expect(told(region)).toContain('fee $33,333.33, $60,000.00 to the client; fee not billed yet, not paid out yet')
  })

  it.each([
    ['payments drafted', { clientState: 'draft', liens: [{ payee: 'P', text: '', amount: 1, state: null }] }],
    ['paid out', { clientState: 'posted', liens: [{ payee: 'P', text: '', amount: 1, state: 'posted' }] }],
    ['fee on bill 1042', { billed: '1042', billId: 3 }],
    ['withdrawn Fri 6 Nov', { withdrawnOn: '2026-11-06' }],
  ])('says of a settlement: %s', async (words, more) => {
    await open({ 'GET /matters/7/settlements': [settlement(more)] })
    expect(told(screen.getByRole('region', { name: 'Arrangement' }))).toContain(words)
  })

  it('offers to withdraw only what is neither billed nor withdrawn, and says why it was refused', async () => {
    const { user, server } = await open({ 'POST /settlements/8/withdrawn': refusal('paid', 'The client was paid from it.') })
    await user.click(screen.getByRole('button', { name: /^More on the settlement/ }))
    expect(screen.getAllByRole('menuitem').map((x) => x.textContent.trim())).toEqual(['Statement as PDF', 'Draft the payments', 'Withdraw'])
    await user.click(screen.getByRole('menuitem', { name: 'Withdraw' }))
    await settled()
    await answer(true)
    expect(server.sent('POST /settlements/8/withdrawn')).toHaveLength(1)
    expect(screen.getByRole('alert').textContent).toBe('The client was paid from it.')
  })

  it('hides nothing it could not read: a recovery is not shared twice for a list that did not come', async () => {
    const { server } = await open({ 'GET /matters/7/settlements': refusal('failed', 'The server is being renewed.') })
    expect(screen.queryByRole('button', { name: 'Share a recovery' })).toBeNull()
    expect(screen.getByRole('alert').textContent).toContain('The server is being renewed.')
    server.on('GET /matters/7/settlements', [])
    await press('Try again')
    expect(screen.getByRole('button', { name: 'Share a recovery' })).toBeTruthy()
  })

  it('is read by whoever may not change it, and of a closed matter by all', async () => {
    await open({}, { closedOn: '2026-11-01' })
    expect(screen.queryByRole('button', { name: /Change arrangement|Share|Reached/ })).toBeNull()
  })
})

describe('what is taken out', () => {
  it('of a party is refused aloud where it must stay', async () => {
    const party = { id: 3, contactId: 9, name: 'Corvane', role: 'defendant', side: 'adverse', counsel: '', counselId: null, servedOn: null }
    const server = new Server({ 'DELETE /parties/3': refusal('party-needed', 'A date names Corvane. Change the date first.') })
    const { user } = await show(Parties, { matter: matter({ parties: [party] }) })
    expect(screen.getByText('not yet')).toBeTruthy()
    await user.click(screen.getByRole('button', { name: /^Acts on/ }))
    await user.click(screen.getByRole('menuitem', { name: 'Take out Corvane' }))
    await settled()
    await answer(true)
    expect([server.asked.length, lastNote()?.text]).toEqual([1, 'A date names Corvane. Change the date first.'])
  })

  it('of relations is refused aloud, and comes back by Undo from the side it was read from', async () => {
    const contact = { id: 4, kind: 'person', name: 'Ada Gannet', relations: [{ id: 11, otherId: 9, other: 'Gannet Ferry', kind: 'employs', reads: 'works for', title: 'Mate' }] } // prettier-ignore
    const server = new Server({ 'DELETE /relations/11': refusal('failed', 'Try again.'), 'POST /contacts/4/relations': { id: 12 } })
    await show(Relations, { contact })
    await press('Take out works for Gannet Ferry')
    expect(lastNote()?.text).toBe('Try again.')
    server.on('DELETE /relations/11', { ok: true })
    await press('Take out works for Gannet Ferry')
    expect(lastNote()?.text).toBe('No longer: works for Gannet Ferry')
    await useNotes().undo(lastNote()!)
    expect(server.sent('POST /contacts/4/relations')[0]!.body).toEqual({ otherId: 9, kind: 'employs', inverse: true, title: 'Mate' })
  })
})
