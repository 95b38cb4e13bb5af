import { screen, within } from '@testing-library/vue'
import { describe, expect, it } from 'vitest'
import MatterDocket from '../src/docket/MatterDocket.vue'
import WorkOut from '../src/docket/WorkOut.vue'
import { entry, faults, lastNote, later, refusal, Server, settled, show, signIn, type Asked } from './stage'

const ruleSet = {
  key: 'us-federal-civil',
  title: 'U.S. federal civil',
  edition: '2026.1',
  triggers: [
    { key: 'complaint-served', title: 'Complaint served', asksService: true, asksParty: true, answers: null, deadlines: 2 },
    { key: 'trial-set', title: 'Trial set', asksService: false, asksParty: false, answers: null, deadlines: 5 },
    {
      key: 'discovery-answered',
      title: 'Discovery answered',
      asksService: false,
      asksParty: false,
      answers: 'discovery-served',
      deadlines: 0,
    },
  ],
  services: [
    { key: 'hand', title: 'By hand', adds: 'adds nothing' },
    { key: 'mail', title: 'By mail', adds: 'adds 3 calendar days' },
  ],
  facts: [{ key: 'us-party', question: 'the United States is a party' }],
}
const proposal = (key: string, title: string, date: string | null, more: object = {}) => ({
  key,
  title,
  text: `What must be done about ${title}`,
  authority: 'Fed. R. Civ. P. 12',
  link: null,
  weight: 'rule',
  date,
  beforeRoll: date,
  howCounted: '21 calendar days after complaint served',
  applies: true,
  provisional: false,
  tentative: false,
  notes: [],
  trace: [{ text: 'Counted from complaint served', date: '2026-11-04' }],
  ...more,
})
const trigger = (more: object = {}) => ({
  id: 3,
  kind: 'trial-set',
  title: 'Trial set',
  label: 'Trial set',
  day: '2027-03-09',
  service: null,
  asksService: false,
  tentative: false,
  answers: null,
  party: null,
  paper: null,
  dates: 3,
  missing: [],
  elsewhere: false,
  ...more,
})
const triggers = (...list: object[]) => ({ facts: [], triggers: list, services: ruleSet.services, parties: [], last: null })
const difference = (entryId: number, title: string, effect: string, was: string, becomes: string | null, more: object = {}) => ({
  entryId,
  title,
  effect,
  was,
  becomes,
  weight: 'rule',
  authority: 'Fed. R. Civ. P. 26',
  because: null,
  beforeRoll: becomes,
  howCounted: '30 calendar days before trial set',
  trace: [],
  leftOut: false,
  provisional: false,
  tentative: false,
  wasProvisional: false,
  wasTentative: false,
  ...more,
})

const begin = (proposals: object[], more: Record<string, unknown> = {}) =>
  new Server({
    'GET /rule-sets/us-federal-civil': ruleSet,
    'GET /matters/7/triggers': { ...triggers(), facts: [], parties: [{ id: 8, name: 'Corvane Towing Co.', role: 'defendant' }] },
    'GET /papers': { rows: [], total: 0 },
    'POST /matters/7/dates/proposed': { proposals, event: null, already: [], differences: [] },
    'POST /matters/7/dates': { docketed: 1, leftOut: 1, moved: 0, triggerId: 4, changeId: 11 },
    ...more,
  })
const sheet = { matterId: 7, ruleSetKey: 'us-federal-civil' }
type Shown = Awaited<ReturnType<typeof show>>
const choose = async ({ user }: Shown, words: string, title: RegExp) => {
  await user.type(screen.getByRole('combobox', { name: 'What happened' }), words)
  await settled()
  await user.click(screen.getByRole('option', { name: title }))
}
const press = async ({ user }: Shown, name: string | RegExp) => {
  await user.click(screen.getByRole('button', { name }))
  await settled()
}
const ticked = () =>
  screen
    .getAllByRole<HTMLInputElement>('checkbox', { name: /^Docket / })
    .filter((box) => box.checked)
    .map((box) => box.getAttribute('aria-label'))

describe('working out dates', () => {
  const two = [proposal('answer', 'Answer', '2026-11-25'), proposal('waiver', 'Answer after waiver', '2027-01-04', { applies: false })]

  it('asks what its kind of event needs: found by typing, with the days each method of service adds', async () => {
    begin(two)
    const on = await show(WorkOut, sheet)
    expect(screen.queryByLabelText('Served by')).toBeNull()
    await choose(on, 'serv comp', /^Complaint served/)
    const services = within(screen.getByLabelText('Served by')).getAllByRole('option')
    expect(services.map((o) => o.textContent.trim())).toEqual(['Choose', 'By hand, adds nothing', 'By mail, adds 3 calendar days'])
    expect(within(screen.getByLabelText(/^Which party/)).getByText('Corvane Towing Co., defendant')).toBeTruthy()
  })
  it('works nothing out before the facts of the matter are read: by others the dates are others', async () => {
    const slow = later()
    const facts = [{ key: 'jury', question: 'A jury was asked for', holds: true }]
    const server = begin(two, { 'GET /matters/7/triggers': () => slow.promise })
    await show(WorkOut, sheet)
    const save = () => screen.getByRole<HTMLButtonElement>('button', { name: /^Show proposed dates/ })
    expect([screen.queryByRole('combobox') === null, save().disabled]).toEqual([true, true])
    slow.come({ ...triggers(), facts })
    await settled()
    expect([screen.queryByRole('combobox') === null, save().disabled]).toEqual([false, false])
    server.on('GET /matters/7/triggers', refusal('failed', 'The server is being renewed.'))
    document.body.replaceChildren()
    await show(WorkOut, sheet)
    expect([screen.getByRole('alert').textContent, save().disabled]).toEqual(['The server is being renewed.', true])
  })
  it('proposes what applies, lets the rest be left out, and dockets exactly what was shown', async () => {
    const server = begin(two)
    const on = await show(WorkOut, sheet)
    await choose(on, 'complaint', /^Complaint served/)
    await on.user.selectOptions(screen.getByLabelText('Served by'), 'By mail, adds 3 calendar days')
    await press(on, /^Show proposed dates/)
    expect(ticked()).toEqual(['Docket Answer'])
    await press(on, 'Trace of Answer')
    expect(screen.getByText('Counted from complaint served')).toBeTruthy()
    await press(on, /^Docket 1 date/)
    expect(server.sent('POST /matters/7/dates')[0]!.body).toMatchObject({
      trigger: 'complaint-served',
      date: '2026-11-23',
      service: 'mail',
      take: ['answer'],
      seen: [
        { key: 'answer', date: '2026-11-25' },
        { key: 'waiver', date: '2027-01-04' },
      ],
    })
    expect(lastNote()?.text).toBe('1 date docketed, 1 left out')
    server.on('POST /docket-changes/11/undo', { moved: 0 })
    await lastNote()!.undo!.act()
    expect(lastNote()?.text).toBe('Undone')
  })
  it('drops what was proposed when what it is counted from is changed', async () => {
    begin(two)
    const on = await show(WorkOut, sheet)
    await choose(on, 'complaint', /^Complaint served/)
    await press(on, /^Show proposed dates/)
    expect(screen.queryAllByRole('checkbox', { name: /^Docket / })).toHaveLength(2)
    await on.user.clear(screen.getByLabelText('On'))
    await on.user.type(screen.getByLabelText('On'), '20 Nov')
    await settled()
    expect(screen.queryAllByRole('checkbox', { name: /^Docket / })).toHaveLength(0)
    expect(screen.getByRole('button', { name: /^Show proposed dates/ })).toBeTruthy()
  })
  it('does not show dates of an earlier day that arrive after the day was changed', async () => {
    const slow = later<unknown>()
    begin(two, { 'POST /matters/7/dates/proposed': () => slow.promise })
    const on = await show(WorkOut, sheet)
    await choose(on, 'complaint', /^Complaint served/)
    await on.user.click(screen.getByRole('button', { name: /^Show proposed dates/ }))
    await on.user.clear(screen.getByLabelText('On'))
    await on.user.type(screen.getByLabelText('On'), '20 Nov')
    slow.come({ proposals: two, event: null, already: [], differences: [] })
    await settled()
    expect(screen.queryAllByRole('checkbox', { name: /^Docket / })).toHaveLength(0)
  })
  it('marks what is past or provisional, and cannot docket what has no date', async () => {
    begin([
      proposal('past', 'Objection', '2026-11-20'),
      proposal('open', 'Rebuttal', '2027-01-04', { provisional: true }),
      proposal('none', 'Reply', null, { notes: ['Motion filed is not entered; that leg is skipped'] }),
    ])
    const on = await show(WorkOut, sheet)
    await choose(on, 'complaint', /^Complaint served/)
    await press(on, /^Show proposed dates/)
    expect(screen.getByText('already past')).toBeTruthy()
    expect(screen.getByText('provisional')).toBeTruthy()
    expect(screen.getByRole<HTMLInputElement>('checkbox', { name: 'Docket Reply' }).disabled).toBe(true)
    await press(on, 'Trace of Reply')
    expect(screen.getByText(/that leg is skipped/)).toBeTruthy()
  })
  it('puts a fault at its field and tells when the rules changed meanwhile, keeping the sheet as it is', async () => {
    const server = begin(two, { 'POST /matters/7/dates/proposed': faults(['service', 'Choose how it was served']) })
    const on = await show(WorkOut, sheet)
    await choose(on, 'complaint', /^Complaint served/)
    await press(on, /^Show proposed dates/)
    expect(screen.getByText('Choose how it was served')).toBeTruthy()
    server.on('POST /matters/7/dates/proposed', { proposals: two, event: null, already: [], differences: [] })
    server.on('POST /matters/7/dates', refusal('changed-meanwhile', 'The docket or its rules changed meanwhile. Nothing was docketed.'))
    await press(on, /^Show proposed dates/)
    await press(on, /^Docket 1 date/)
    expect(screen.getByRole('alert').textContent).toContain('Nothing was docketed')
    expect(on.emitted('close')).toBeUndefined()
  })
  it('of a response asks which set it answers, and says what it does to that one', async () => {
    const answered = difference(9, 'Answers to interrogatories', 'closes', '2026-12-03', '2026-12-03')
    const sets = triggers(
      trigger({ id: 21, kind: 'discovery-served', label: 'First set to Corvane', day: '2026-10-30' }),
      trigger({ id: 22, kind: 'discovery-served', label: 'Second set to Ode', day: '2026-11-06' }),
    )
    const server = begin([], {
      'GET /matters/7/triggers': sets,
      'POST /matters/7/dates/proposed': { proposals: [], event: null, already: [], differences: [answered] },
    })
    const on = await show(WorkOut, sheet)
    await choose(on, 'answered', /^Discovery answered/)
    await on.user.selectOptions(screen.getByLabelText('Answers'), 'First set to Corvane, Fri 30 Oct')
    await press(on, /^Show proposed dates/)
    expect(screen.getByText('answered; its deadline is met')).toBeTruthy()
    await press(on, /^Docket 1 change/)
    expect(server.sent('POST /matters/7/dates')[0]!.body).toMatchObject({
      answersId: 21,
      take: [],
      moves: { take: [9], seen: [{ entryId: 9, effect: 'closes', becomes: '2026-12-03' }] },
    })
  })
})

describe('changing what dates are counted from', () => {
  const moves = [
    difference(1, 'Pretrial disclosures', 'moves', '2027-02-05', '2027-02-26'),
    difference(2, 'Objections', 'moves', '2027-02-19', '2027-03-12'),
    difference(3, 'Offer of judgment', 'kept', '2027-02-22', '2027-03-16', { because: 'set by the court' }),
    difference(4, 'Expert report', 'recounted', '2026-12-30', '2026-12-30'),
  ]
  const onFile = (more: Record<string, unknown> = {}) =>
    new Server({
      'GET /matters/7/docket': [entry({ day: '2027-02-05', title: 'Pretrial disclosures' })],
      'GET /matters/7/triggers': triggers(trigger()),
      'POST /matters/7/docket/acts/preview': { text: 'Trial set moves to Tue 30 Mar 2027', differences: moves, chains: [] },
      'POST /matters/7/docket/acts': { changeId: 12, moved: 1, follows: 0 },
      ...more,
    })
  const change = async (on: Shown, day: string) => {
    await press(on, /^Change Trial set of/)
    await on.user.clear(screen.getByLabelText('On'))
    await on.user.type(screen.getByLabelText('On'), day)
    await press(on, /^Show what follows/)
  }

  it('shows every difference first, kept ones with the reason; some are taken, and it can be undone', async () => {
    const server = onFile()
    const on = await show(MatterDocket, sheet)
    await change(on, '30 Mar 2027')
    expect(server.sent('POST /matters/7/docket/acts/preview')[0]!.body['act']).toMatchObject({
      kind: 'change',
      triggerId: 3,
      day: '2027-03-30',
    })
    const shown = screen.getByRole('region', { name: 'What would change' })
    expect(shown.textContent).toContain('2 dates follow it, 1 needs a look')
    expect(shown.textContent).toContain('kept as the court set it; the rule would give Tue 16 Mar 2027')
    // What only counts otherwise, on the same day, is carried along without being asked about.
    expect(within(shown).queryByText('Expert report')).toBeNull()
    expect(screen.queryByRole('checkbox', { name: 'Take Offer of judgment' })).toBeNull()
    await on.user.click(screen.getByRole('checkbox', { name: 'Take Objections' }))
    await on.user.type(screen.getByLabelText(/^Why/), 'Order of 23 November')
    await on.user.click(screen.getByLabelText('Send the team the new list'))
    await press(on, /^Docket 1 change/)
    const [sent] = server.sent('POST /matters/7/docket/acts')
    expect(sent!.body).toMatchObject({ take: [1], why: 'Order of 23 November', tell: true })
    expect((sent!.body['seen'] as unknown[]).length).toBe(3)
    expect(lastNote()?.text).toBe('1 date moved; the team is told')
    server.on('POST /docket-changes/12/undo', { moved: 1 })
    await lastNote()!.undo!.act()
    expect(lastNote()?.text).toBe('Undone')
  })
  it('is left with nothing done, and keeps what was chosen when someone else was quicker', async () => {
    const server = onFile({ 'POST /matters/7/docket/acts': refusal('changed-meanwhile', 'The docket changed meanwhile. Look again.') })
    const on = await show(MatterDocket, sheet)
    await change(on, '30 Mar 2027')
    await press(on, /^Docket 2 changes/)
    expect(screen.getByRole('alert').textContent).toContain('Look again')
    await press(on, 'Leave as is')
    expect(screen.queryByRole('region', { name: 'What would change' })).toBeNull()
    expect(server.sent('POST /matters/7/docket/acts')).toHaveLength(1)
  })
  it('of an event leaves its sheet open with the fault where the day is none', async () => {
    onFile({ 'POST /matters/7/docket/acts/preview': faults(['act.day', 'Give a date that exists, like 2026-11-25']) })
    const on = await show(MatterDocket, sheet)
    await press(on, /^Change Trial set of/)
    await on.user.clear(screen.getByLabelText('On'))
    await press(on, /^Show what follows/)
    expect(screen.getByRole('dialog', { name: 'Trial set' }).textContent).toContain('Give a date that exists')
  })
  it('counting again says so where nothing moves', async () => {
    onFile({ 'POST /matters/7/docket/acts/preview': { text: '', differences: [], chains: [] } })
    const on = await show(MatterDocket, sheet)
    await press(on, 'Count again')
    expect(lastNote()?.text).toBe('Every date stands where the rules count it')
    expect(screen.queryByRole('region', { name: 'What would change' })).toBeNull()
  })
  it('dockets more dates of an event as they were shown', async () => {
    const missing = [proposal('early', 'Retain an expert', '2026-12-01'), proposal('late', 'Order transcripts', '2027-01-05')]
    const server = onFile({
      'GET /matters/7/triggers': triggers(trigger({ missing })),
      'POST /matters/7/triggers/3/dates': { docketed: 1, changeId: 13 },
    })
    const on = await show(MatterDocket, sheet)
    await press(on, 'Docket more dates of Trial set')
    await on.user.click(screen.getByRole('checkbox', { name: 'Docket Order transcripts' }))
    await press(on, /^Docket 1 date/)
    expect(server.sent('POST /matters/7/triggers/3/dates')[0]!.body).toMatchObject({
      take: ['early'],
      seen: [{ key: 'early' }, { key: 'late' }],
    })
  })
  it('is not offered to whoever only sees the docket', async () => {
    signIn({ rights: ['docket.see'] })
    onFile()
    await show(MatterDocket, sheet)
    expect(screen.getByRole('region', { name: 'What happened' })).toBeTruthy()
    for (const name of ['Count again', 'New date', 'Work out dates', /^Take away/, /^Change/])
      expect(screen.queryByRole('button', { name })).toBeNull()
  })
})

describe('the docket of a matter', () => {
  it('lists what is coming, past and left out apart, and says what is late', async () => {
    new Server({
      'GET /matters/7/docket': [
        entry({ id: 2, title: 'Done thing', day: '2026-11-19', mark: 'met', courtDays: -2 }),
        entry({ id: 1, title: 'Late thing', day: '2026-11-20', courtDays: -1 }),
        entry({ id: 3, title: 'Next thing' }),
        entry({ id: 4, title: 'Other thing', leftOut: true }),
      ],
      'GET /matters/7/triggers': triggers(),
    })
    await show(MatterDocket, sheet)
    const of = (name: string) => screen.getByRole('region', { name }).textContent
    expect([of('Coming'), of('Past'), of('Left out')].map((t) => /Next thing|Late thing[^]*Done thing|Other thing/.test(t))).toEqual([
      true,
      true,
      true,
    ])
    expect(of('Past')).toContain('1 court day late')
    expect(of('Past')).not.toContain('2 court days late')
    expect(of('Left out')).not.toContain('in 2 court days')
  })
  it('keeps the choice of a line of time in the address, where Back takes it back', async () => {
    const server = new Server({
      'GET /matters/7/docket': [entry()],
      'GET /matters/7/triggers': (_: Asked) => triggers(trigger({ label: 'Complaint served', day: '2026-11-04' })),
    })
    const on = await show(MatterDocket, sheet)
    await press(on, 'Line of time')
    expect(on.router.currentRoute.value.query['as']).toBe('line')
    await settled()
    expect(screen.getByRole('button', { name: 'Answer, Wed 25 Nov, rule' })).toBeTruthy()
    expect(screen.getByRole('img', { name: 'Trial set: Complaint served, Wed 4 Nov, what happened' })).toBeTruthy()
    server.on('GET /docket/5', entry())
    server.on('GET /docket/5/history', [])
    screen.getByRole('button', { name: 'Answer, Wed 25 Nov, rule' }).focus()
    await on.user.keyboard('{Enter}')
    await settled()
    expect(screen.getByRole('dialog', { name: 'Answer' })).toBeTruthy()
  })
})
