import { screen, within } from '@testing-library/vue'
import { describe, expect, it } from 'vitest'
import Agenda from '../src/docket/Agenda.vue'
import Calendars from '../src/docket/Calendars.vue'
import Closures from '../src/docket/Closures.vue'
import FreeHours from '../src/docket/FreeHours.vue'
import LinesOfTime from '../src/docket/LinesOfTime.vue'
import ReminderSheet from '../src/docket/ReminderSheet.vue'
import Reports from '../src/docket/Reports.vue'
import ReportSheet from '../src/docket/ReportSheet.vue'
import SentTo from '../src/docket/SentTo.vue'
import { answer, appointment, entry, faults, lastNote, refusal, Server, setting, settled, show, signIn, today } from './stage'

type Shown = Awaited<ReturnType<typeof show>>
const press = async ({ user }: Shown, name: string | RegExp) => {
  await user.click(screen.getByRole('button', { name }))
  await settled()
}
const fill = async ({ user }: Shown, label: string | RegExp, text: string) => {
  await user.clear(screen.getByLabelText(label))
  await user.type(screen.getByLabelText(label), text)
  await user.tab()
  await settled()
}

describe('a day on which a court is closed', () => {
  const moved = {
    entryId: 1,
    effect: 'moves',
    title: 'Answer',
    weight: 'rule',
    authority: 'Rule 12',
    because: null,
    was: '2026-11-30',
    becomes: '2026-12-01',
    beforeRoll: '2026-11-30',
    howCounted: '21 calendar days after complaint served',
    trace: [],
    leftOut: false,
    provisional: false,
    tentative: false,
    wasProvisional: false,
    wasTentative: false,
  }
  const begin = (more: Record<string, unknown> = {}) =>
    new Server({
      'GET /court-closures': [{ id: 4, day: '2026-11-02', name: 'Storm', ruleSetKey: null, filingOnly: true, by: 'Jun Aldana' }],
      'GET /matters/setting': setting,
      'POST /court-closures/preview': {
        moves: 1,
        matters: [{ matterId: 7, number: '2026-0012', name: 'Gannet Ferry', differences: [moved] }],
      },
      'POST /court-closures': { id: 5, moved: 1 },
      ...more,
    })
  const enter = async (on: Shown) => {
    await fill(on, 'Closed on', '30 Nov')
    await fill(on, 'Why', 'Ice storm')
    await press(on, /^Show what it moves/)
  }

  it('shows what it moves before it does, and moves just that', async () => {
    const server = begin()
    const on = await show(Closures)
    await enter(on)
    const found = screen.getByRole('region', { name: 'What it moves' })
    expect(found.textContent).toContain('1 docketed date would move')
    expect(within(found).getByText('Tue 1 Dec')).toBeTruthy()
    expect(within(found).queryByRole('checkbox')).toBeNull()
    await press(on, /^Enter it and move 1 date/)
    expect(server.sent('POST /court-closures')[0]!.body).toEqual({
      day: '2026-11-30',
      name: 'Ice storm',
      ruleSetKey: null,
      filingOnly: false,
      moves: 1,
    })
    expect(lastNote()?.text).toBe('Ice storm entered; 1 date moved')
  })
  it('asks anew when anything of it is changed', async () => {
    begin()
    const on = await show(Closures)
    await enter(on)
    await on.user.selectOptions(screen.getByLabelText('What it puts off'), 'Only filing: the clerk’s office cannot be reached')
    expect(screen.queryByRole('region', { name: 'What it moves' })).toBeNull()
    expect(screen.getByRole('button', { name: /^Show what it moves/ })).toBeTruthy()
  })
  it('puts off filing alone where the court’s rule says so of an office that cannot be reached', async () => {
    const federal = { ...setting.ruleSets[0]!, unreachable: 'Fed. R. Civ. P. 6(a)(3)' }
    const server = begin({ 'GET /matters/setting': { ...setting, ruleSets: [federal] } })
    const on = await show(Closures)
    expect(screen.getByText(/days to serve, to answer by letter or to appear stay/).textContent).toContain('6(a)(3)')
    await enter(on)
    await press(on, /^Enter it/)
    expect(server.sent('POST /court-closures')[0]!.body).toMatchObject({ filingOnly: true })
  })
  it('keeps what was entered when dockets changed meanwhile, or the day is entered already', async () => {
    const server = begin({ 'POST /court-closures': refusal('changed-meanwhile', 'Dockets changed meanwhile. Nothing was entered.') })
    const on = await show(Closures)
    await enter(on)
    await press(on, /^Enter it/)
    expect(screen.getByRole('alert').textContent).toContain('Nothing was entered')
    server.on('POST /court-closures/preview', faults(['day', 'This closure is entered already']))
    await fill(on, 'Why', 'Snow')
    await press(on, /^Show what it moves/)
    expect(screen.getByText('This closure is entered already')).toBeTruthy()
    expect(document.activeElement).toBe(screen.getByLabelText('Closed on'))
    expect(screen.getByLabelText<HTMLInputElement>('Why').value).toBe('Snow')
  })
  it('is only read by whoever may not change rules', async () => {
    signIn({ rights: ['docket.see'] })
    begin()
    await show(Closures)
    expect(screen.getByText(/Storm/).textContent).toContain('every court, filing only')
    expect(screen.queryByLabelText('Closed on')).toBeNull()
    expect(screen.queryByRole('button', { name: 'Take back Storm' })).toBeNull()
  })
})

describe('a free hour', () => {
  const hour = (time: string) => ({ day: '2026-11-24', time, elsewhere: [{ zone: 'America/Los_Angeles', time: '06:00' }] })
  const begin = (more: Record<string, unknown> = {}) =>
    new Server({
      'GET /matters/setting': setting,
      'POST /free-hours': {
        zone: 'America/New_York',
        people: [{ id: 2, name: 'Noor Haddad-Lind', from: '09:00', to: '17:30', zone: 'America/New_York' }],
        hours: [hour('09:00'), hour('09:30')],
        more: false,
      },
      ...more,
    })

  it('is asked for oneself and others within two weeks, and shown with the hour elsewhere', async () => {
    const server = begin()
    const on = await show(FreeHours)
    await press(on, 'Find free hours')
    const [asked] = server.asked.filter((a) => a.path.endsWith('free-hours'))
    expect({ ...asked!.body, ...asked!.query }).toMatchObject({ from: today, to: '2026-12-07' })
    expect(screen.getByRole('button', { name: 'Take Tue 24 Nov, 9:00 am' }).textContent).toContain('6:00 am Los Angeles')
  })
  it('found for others or another length is not offered any longer', async () => {
    begin()
    const on = await show(FreeHours)
    await press(on, 'Find free hours')
    await on.user.selectOptions(screen.getByLabelText('For'), '2 h')
    await settled()
    expect(screen.queryByRole('button', { name: /^Take Tue/ })).toBeNull()
  })
})

describe('someone outside who has a date', () => {
  const has = (more: object = {}) => ({
    email: 'ida@ode.example',
    name: 'Ida Ode',
    zone: 'Europe/Paris',
    changed: false,
    withdrawn: false,
    ...more,
  })
  const begin = () => new Server({ 'GET /my-hours': { from: '09:00', to: '17:00', zone: '', firmZone: 'America/Chicago' } })

  it('is shown as having what was, once it changed, and gets it again', async () => {
    const server = begin()
    server.on('POST /docket/5/sent', { ok: true })
    const on = await show(SentTo, { row: appointment({ sentTo: [has({ changed: true })] }) })
    await press(on, 'Send it to ida@ode.example again')
    expect(server.sent('POST /docket/5/sent')[0]!.body).toMatchObject({ email: 'ida@ode.example', zone: 'Europe/Paris' })
    expect(lastNote()?.text).toBe('Sent to Ida Ode')
  })
  it('is invited in their own zone, the firm’s unless said otherwise, and told where an address is wrong', async () => {
    const server = begin()
    server.on('POST /docket/5/sent', faults(['email', 'Give an e-mail address']))
    const on = await show(SentTo, { row: appointment() })
    await press(on, 'Send to someone outside')
    expect(screen.getByLabelText<HTMLInputElement>('Their time zone').value).toBe('America/Chicago')
    await fill(on, 'E-mail address', 'ida@')
    await press(on, /^Send$|^Send it/)
    expect(screen.getByText('Give an e-mail address')).toBeTruthy()
    expect(screen.getByLabelText<HTMLInputElement>('E-mail address').value).toBe('ida@')
  })
})

describe('reminders', () => {
  it('are set by court days before, with the weeks ahead by letter', async () => {
    const server = new Server({ 'GET /reminders': { leads: [10, 5, 1, 0], digestOn: null, rows: [] }, 'PUT /reminders': { ok: true } })
    const on = await show(ReminderSheet)
    expect(screen.getByLabelText<HTMLInputElement>('Court days before a date').value).toBe('10, 5, 1, 0')
    await fill(on, 'Court days before a date', '20 5 0')
    await on.user.selectOptions(screen.getByLabelText('The weeks ahead by letter'), 'Every Monday')
    await press(on, /^Save/)
    expect(server.sent('PUT /reminders')[0]!.body).toEqual({ leads: [20, 5, 0], digestOn: 1 })
  })
  it('are left by Esc without a question where nothing was changed', async () => {
    new Server({ 'GET /reminders': { leads: [10, 5], digestOn: 3, rows: [] } })
    const on = await show(ReminderSheet)
    await on.user.keyboard('{Escape}')
    expect(on.emitted('close').length).toBe(1)
  })
})

describe('a calendar with a secret address', () => {
  it('shows the address once, and can be withdrawn', async () => {
    const server = new Server({
      'GET /calendar-feeds': [{ id: 6, scope: 'firm', name: 'The whole firm', createdAt: '2026-11-01T09:00:00Z' }],
      'GET /matters/setting': setting,
      'POST /calendar-feeds': { id: 7, address: 'https://heron.example/api/calendars/s3cret' },
    })
    server.on('DELETE /calendar-feeds/6', { ok: true })
    const on = await show(Calendars)
    await press(on, /^Make/)
    expect(screen.getByRole('region', { name: 'New address' }).textContent).toContain('https://heron.example/api/calendars/s3cret')
    await press(on, 'Withdraw the calendar of The whole firm')
    expect(server.sent('DELETE /calendar-feeds/6')).toHaveLength(0)
    await answer(true)
    expect(server.sent('DELETE /calendar-feeds/6')).toHaveLength(1)
  })
})

describe('reports', () => {
  const table = { title: 'Docket', under: 'Dates of Noor', columns: ['Date', 'Title'], rows: [['2026-11-25', 'Answer']], asOf: today }
  const begin = (more: Record<string, unknown> = {}) =>
    new Server({
      'GET /docket/report/table': table,
      'GET /docket/report/schedules': [],
      'GET /matters': { rows: [], total: 0 },
      'GET /matters/setting': setting,
      ...more,
    })
  const tables = (server: Server) => server.asked.filter((a) => a.path.includes('table'))

  it('are read on the page as they are narrowed, days in words', async () => {
    const server = begin()
    const on = await show(Reports)
    expect(screen.getByRole('cell', { name: 'Wed 25 Nov' })).toBeTruthy()
    await on.user.selectOptions(screen.getByLabelText('Practice area'), 'Admiralty')
    await settled()
    expect(tables(server).at(-1)!.query).toMatchObject({ areaId: '1', kind: 'span' })
    expect(on.router.currentRoute.value.query['areaId']).toBe('1')
  })
  it('of a matter wait until one is chosen', async () => {
    const server = begin()
    const on = await show(Reports)
    await press(on, 'A matter’s docket')
    expect(screen.getByText('Choose the matter whose docket you want.')).toBeTruthy()
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'File or send it' }).disabled).toBe(true)
    expect(tables(server).every((a) => a.query['kind'] === 'span')).toBe(true)
  })
  it('are opened as the file that was chosen, and sent now or every week', async () => {
    const server = begin({ 'POST /docket/report/schedules': { id: 3 } })
    const on = await show(ReportSheet, { report: { kind: 'span', from: today, scope: 'firm' } })
    const open = () => new URL(screen.getByRole<HTMLAnchorElement>('link', { name: 'Open the report' }).href)
    expect([open().pathname, open().searchParams.get('paper'), open().searchParams.get('scope')]).toEqual([
      '/api/docket/report',
      'LETTER',
      'firm',
    ])
    await on.user.selectOptions(screen.getByLabelText('As'), 'XLSX, a workbook')
    expect(open().searchParams.get('format')).toBe('xlsx')
    expect(screen.queryByLabelText('Paper')).toBeNull()
    await on.user.selectOptions(screen.getByLabelText('When'), 'Every Friday')
    await press(on, /^Send it every Friday/)
    const sent = server.asked.find((a) => a.method === 'POST')
    expect(sent!.body).toMatchObject({ weekday: 5, userIds: [2], format: 'xlsx', kind: 'span' })
    expect(lastNote()?.text).toContain('every Friday')
  })
})

describe('lists of dates', () => {
  it('group the agenda by day in court days left, closed days among them, what is late first', async () => {
    const rows = [entry({ id: 1, title: 'Due today', day: today, courtDays: 0 }), entry({ id: 2, title: 'Next' })]
    await show(Agenda, {
      agenda: {
        today,
        until: '2026-12-22',
        rows,
        late: [entry({ id: 3, title: 'Missed', day: '2026-11-19', courtDays: -2 })],
        more: { rows: true, late: false },
        closed: [{ day: '2026-11-26', name: 'Thanksgiving Day, courts closed' }],
        courtDays: { '2026-11-23': 0, '2026-11-25': 2, '2026-11-26': 2 },
      },
    })
    const text = document.body.textContent
    const order = [
      'Overdue',
      'Missed',
      'Today',
      'Due today',
      'Wednesday',
      'in 2 court days',
      'Next',
      'Thanksgiving Day',
      'There are more dates',
    ]
    expect(order.map((w) => text.indexOf(w)).every((at, i, all) => at >= 0 && (i === 0 || at > all[i - 1]!))).toBe(true)
    expect(text).toContain('2 court days late')
  })
  it('draw a line of time for each matter, each date a button that says what it is', async () => {
    const on = await show(LinesOfTime, {
      rows: [
        entry({ id: 1 }),
        entry({ id: 2, matterId: 8, matter: 'Redstart Theatre', title: 'Report', weight: 'strict', day: '2026-11-20', courtDays: -1 }),
        entry({ id: 3, title: 'Met one', mark: 'met', day: '2026-11-19' }),
      ],
    })
    expect(screen.getAllByRole('region').map((r) => r.getAttribute('aria-label'))).toEqual([
      'Line of time, Gannet Ferry v. Corvane',
      'Line of time, Redstart Theatre',
    ])
    expect(screen.getByRole('button', { name: 'Met one, Thu 19 Nov, rule, met' })).toBeTruthy()
    screen.getByRole('button', { name: 'Report, Fri 20 Nov, strict, overdue' }).focus()
    await on.user.keyboard(' ')
    expect((on.emitted('open')[0] as [{ id: number }])[0].id).toBe(2)
  })
})
