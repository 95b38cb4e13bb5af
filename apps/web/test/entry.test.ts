import { screen, within } from '@testing-library/vue'
import { describe, expect, it } from 'vitest'
import EntryForm from '../src/docket/EntryForm.vue'
import EntrySheet from '../src/docket/EntrySheet.vue'
import { useSession } from '../src/shell/session'
import { appointment, entry, faults, lastNote, refusal, Server, setting, settled, show, signIn, unreachable } from './stage'

const history = [{ at: '2026-11-20T10:00:00Z', who: 'Jun Aldana', what: 'moved', was: '2026-11-24', became: '2026-11-25', why: 'agreed' }]
const open = (row = entry(), now = row) =>
  new Server({
    [`GET /docket/${row.id}`]: now,
    [`GET /docket/${row.id}/history`]: history,
    'GET /my-hours': { from: '09:00', to: '17:00', zone: '', firmZone: 'America/New_York' },
    'GET /matters/setting': setting,
    'GET /papers': { rows: [], total: 0 },
  })
const button = (name: string | RegExp) => screen.queryByRole('button', { name })

describe('the sheet of a date', () => {
  it('shows what stands now, not what the list knew, and how it came about', async () => {
    open(entry(), entry({ day: '2026-12-04', setBy: 'hand', reason: 'agreed by telephone', ruleDay: '2026-11-25', courtDays: 8 }))
    await show(EntrySheet, { row: entry() })
    const sheet = screen.getByRole('dialog', { name: 'Answer' })
    expect(sheet.textContent).toContain('Fri 4 Dec')
    expect(sheet.textContent).toContain('Set by hand: agreed by telephone.')
    expect(sheet.textContent).toContain('The rule would give Wed 25 Nov')
    expect(within(sheet).getByRole('region', { name: 'How it is counted' }).textContent).toContain('that day is not counted')
    expect(within(sheet).getByRole('region', { name: 'History' }).textContent).toContain('moved: Tue 24 Nov to Wed 25 Nov · agreed')
  })
  it('looks again whenever something was changed', async () => {
    const server = open()
    await show(EntrySheet, { row: entry() })
    server.on('GET /docket/5', entry({ mark: 'in hand', title: 'Answer, extended' }))
    useSession().changed()
    await settled()
    expect(screen.getByRole('dialog', { name: 'Answer, extended' })).toBeTruthy()
    expect([button('Mark in hand'), button('Mark open')].map(Boolean)).toEqual([false, true])
  })
  it('says so when a colleague took the date off the docket meanwhile', async () => {
    const server = open()
    server.on('GET /docket/5', refusal('not-found', 'There is no such docket entry.'))
    await show(EntrySheet, { row: entry() })
    expect(screen.getByRole('alert').textContent).toContain('no such docket entry')
  })
  it.each([
    ['a counted date is moved with a reason', entry(), { 'Move or extend': true, 'Take off the docket': false, 'Make it a task': true }],
    ['an appointment is changed or taken off', appointment(), { 'Move or extend': false, 'Take off the docket': true, 'Mark met': true }],
    ['what is met is done', entry({ mark: 'met' }), { 'Move or extend': false, 'Make it a task': false, 'Mark open': true }],
    ['what is left out can be docketed', entry({ leftOut: true }), { 'Docket it after all': true, 'Mark met': false, 'Leave out': false }],
    ['what recurs can be ended', appointment({ series: { id: 1, words: 'every week' } }), { 'Recurs no longer': true }],
    ['what has ended cannot end again', appointment({ series: { id: 1, words: 'every week, ended' } }), { 'Recurs no longer': false }],
  ])('offers what can be done: %s', async (_name, row, offered) => {
    open(row)
    await show(EntrySheet, { row })
    expect(Object.fromEntries(Object.keys(offered).map((name) => [name, Boolean(button(name))]))).toEqual(offered)
  })
  it('lets whoever only sees the docket read, copy and be reminded, and no more', async () => {
    signIn({ rights: ['docket.see'] })
    open()
    await show(EntrySheet, { row: entry() })
    for (const name of ['Change', 'Mark met', 'Leave out', 'Move or extend', 'Send to someone outside']) expect(button(name)).toBeNull()
    expect(button('Copy the explanation')).toBeTruthy()
    expect(screen.getByLabelText('Remind me')).toBeTruthy()
  })
  it.each([
    ['rule', true],
    ['strict', false],
  ] as const)('of a %s date offers never to be reminded: %s', async (weight, offered) => {
    open(entry({ weight }))
    await show(EntrySheet, { row: entry({ weight }) })
    const choices = within(screen.getByLabelText('Remind me')).getAllByRole('option')
    expect(choices.some((o) => o.textContent.trim() === 'Never')).toBe(offered)
  })
  it('marks a date, closes, and can put the mark back', async () => {
    const server = open()
    server.on('PUT /docket/5/mark', { ok: true })
    const { user, emitted } = await show(EntrySheet, { row: entry({ mark: 'open' }) })
    await user.click(button('Mark in hand')!)
    await settled()
    expect([emitted('close').length, lastNote()?.text]).toEqual([1, 'Answer: in hand'])
    await lastNote()!.undo!.act()
    expect(server.sent('PUT /docket/5/mark').map((a) => a.body['mark'])).toEqual(['in hand', 'open'])
  })
  it('asks on which day a counted date was met, and shows what follows from it first', async () => {
    const follows = {
      entryId: 6,
      title: 'Objections',
      weight: 'rule',
      authority: '',
      effect: 'moves',
      because: null,
      was: '2026-12-09',
      becomes: '2026-12-07',
      beforeRoll: null,
      howCounted: '14 calendar days after “Answer” as met',
      trace: [],
      leftOut: false,
      provisional: false,
      tentative: false,
      wasProvisional: false,
      wasTentative: false,
    }
    const server = open()
    server.on('POST /matters/7/docket/acts/preview', { text: 'Answer met on Mon 23 Nov 2026', differences: [follows], chains: [] })
    server.on('POST /matters/7/docket/acts', { changeId: 4, moved: 1, follows: 0 })
    const { user, emitted } = await show(EntrySheet, { row: entry({ mark: 'open' }) })
    await user.click(button('Mark met')!)
    expect((screen.getByLabelText('Met on') as HTMLInputElement).value).toContain('23 Nov')
    await user.click(button('Mark it met')!)
    await settled()
    expect(server.sent('POST /matters/7/docket/acts/preview')[0]!.body['act']).toEqual({ kind: 'meet', entryId: 5, day: '2026-11-23' })
    await user.click(button('Mark it met, and move 1 date')!)
    await settled()
    expect(server.sent('POST /matters/7/docket/acts')[0]!.body).toMatchObject({ take: [6], act: { kind: 'meet', entryId: 5 } })
    expect([emitted('close').length, lastNote()?.text]).toEqual([1, '1 date moved'])
  })
  it('tells that those outside still have a date that was vacated or left out', async () => {
    const row = appointment({
      sentTo: [{ email: 'ida@ode.example', name: 'Ida Ode', zone: 'Europe/Paris', changed: false, withdrawn: false }],
    })
    const server = open(row)
    server.on('PUT /docket/5/mark', { ok: true })
    const { user } = await show(EntrySheet, { row })
    await user.click(button('Mark met')!)
    await settled()
    expect(lastNote()?.text).toBe('Meet the client: met')
    await user.click(button('Mark vacated')!)
    await settled()
    expect(lastNote()?.text).toContain('Those outside still have it')
  })
  it('stays open with the reason when the server refuses', async () => {
    const server = open()
    server.on('PUT /docket/5/mark', refusal('matter-closed', '2026-0012 is closed. Reopen it first.'))
    const { user, emitted } = await show(EntrySheet, { row: entry() })
    await user.click(button('Mark in hand')!)
    await settled()
    expect(screen.getByRole('alert').textContent).toContain('is closed. Reopen it first.')
    expect(emitted('close')).toBeUndefined()
  })
})

describe('changing what a date says', () => {
  it('sends the words with the version that was read, and leaves the day of a counted date alone', async () => {
    const server = open()
    server.on('PUT /docket/5', { ok: true })
    const { user, emitted } = await show(EntryForm, { matterId: 7, row: entry({ tags: ['pleadings'] }) })
    expect(screen.queryByLabelText('On')).toBeNull()
    await user.clear(screen.getByLabelText('Title'))
    await user.type(screen.getByLabelText('Title'), 'Our answer')
    await user.type(screen.getByLabelText(/^Tags/), ', urgent,  ,client ')
    await user.click(button('Save')!)
    await settled()
    const [sent] = server.sent('PUT /docket/5')
    expect(sent!.body).toMatchObject({ title: 'Our answer', tags: ['pleadings', 'urgent', 'client'], version: 40 })
    expect('day' in sent!.body).toBe(false)
    expect([emitted('close').length, lastNote()?.text]).toEqual([1, 'Our answer changed'])
  })
  it('moves an appointment by its day, typed as people write it', async () => {
    const server = open(appointment())
    server.on('PUT /docket/5', { ok: true })
    const { user } = await show(EntryForm, { matterId: 7, row: appointment() })
    await user.clear(screen.getByLabelText('On'))
    await user.type(screen.getByLabelText('On'), '+7')
    await user.tab()
    await user.click(button('Save')!)
    await settled()
    // A sum starts at the day that the appointment has.
    expect(server.sent('PUT /docket/5')[0]!.body).toMatchObject({ day: '2026-12-02', time: '14:00' })
    expect(lastNote()?.text).toBe('Meet the client moved to Wed 2 Dec')
  })
  it('puts each fault at its field, keeps what was entered, and tells of a colleague’s change', async () => {
    const server = open(appointment())
    server.on('PUT /docket/5', faults(['time', 'Give a time like 14:00'], ['meetingLink', 'Give an address that begins with https://']))
    const { user, emitted } = await show(EntryForm, { matterId: 7, row: appointment() })
    await user.clear(screen.getByLabelText(/^At/))
    await user.type(screen.getByLabelText(/^At/), '2 pm')
    await user.click(button('Save')!)
    await settled()
    const time = screen.getByLabelText(/^At/) as HTMLInputElement
    expect([time.value, time.getAttribute('aria-invalid')]).toEqual(['2:00 pm', 'true'])
    expect(document.getElementById(time.getAttribute('aria-describedby')!)?.textContent).toBe('Give a time like 14:00')
    server.on('PUT /docket/5', refusal('changed-meanwhile', 'Jun Aldana changed this date after you opened it.'))
    await user.click(button('Save')!)
    await settled()
    // Nothing that stands here is another: it is sent again by itself, and in the end said.
    expect(screen.getByRole('alert').textContent).toContain('Jun Aldana changed this date')
    server.on('GET /docket/5', appointment({ time: '15:00', place: 'Room 4', version: 44 }))
    await user.clear(time)
    await user.type(time, '5 pm')
    await user.click(button('Save')!)
    await settled()
    expect([time.value, emitted('close')]).toEqual(['5:00 pm', undefined])
    const both = screen.getByRole('group', { name: 'Changed meanwhile' })
    expect(both.textContent).toContain('Jun Aldana changed this date')
    expect([(screen.getByLabelText(/^Place/) as HTMLInputElement).value, both.textContent]).toEqual(['Room 4', expect.stringContaining('Theirs stands in the form now: Place')]) // prettier-ignore
    await user.click(within(screen.getByRole('group', { name: 'At' })).getByRole('button', { name: 'Take theirs' }))
    expect(time.value).toBe('3:00 pm')
    server.on('PUT /docket/5', { ok: true, entries: 1 })
    await user.click(button('Save')!)
    await settled()
    expect(server.sent('PUT /docket/5').at(-1)!.body).toMatchObject({ time: '15:00', place: 'Room 4', version: 44 })
    expect(emitted('close')).toHaveLength(1)
  })
  it('asks before it throws away what was entered, and keeps it while the server cannot be reached', async () => {
    const server = open(appointment())
    server.on('PUT /docket/5', unreachable)
    server.on('GET /acts/{key}', unreachable)
    const { user, emitted } = await show(EntryForm, { matterId: 7, row: appointment() })
    await user.type(screen.getByLabelText('Title'), ' again')
    await user.click(button(/^Leave/)!)
    expect(emitted('close')).toBeUndefined()
    await user.click(button('Save')!)
    await settled()
    expect(screen.getByText(/What you entered is kept/)).toBeTruthy()
    server.on('PUT /docket/5', { ok: true })
    await user.click(button('Save')!)
    await settled()
    expect(server.sent('PUT /docket/5').map((a) => a.body['title'])).toEqual(['Meet the client again', 'Meet the client again'])
    expect(emitted('close').length).toBe(1)
  })
  it('dockets a date of its own that recurs, with notice before each', async () => {
    const server = open()
    server.on('POST /matters/7/docket', { id: 9, entries: 3 })
    const { user } = await show(EntryForm, { matterId: 7, at: { day: '2027-05-31', time: '' } })
    await user.type(screen.getByLabelText('Title'), 'Licence renews')
    await user.selectOptions(screen.getByLabelText('Weight'), 'Firm practice: a date of our own')
    await user.selectOptions(screen.getByLabelText('Recurs'), 'By years')
    await user.click(screen.getByLabelText(/^A date before each one/))
    await user.type(screen.getByLabelText('What by then'), 'Give notice')
    await user.selectOptions(screen.getByLabelText('Before it'), 'months')
    await user.keyboard('{Control>}{Enter}{/Control}')
    await settled()
    expect(server.sent('POST /matters/7/docket')[0]!.body).toMatchObject({
      title: 'Licence renews',
      weight: 'firm practice',
      day: '2027-05-31',
      repeats: 'FREQ=YEARLY',
      notice: { title: 'Give notice', count: 30, unit: 'month' },
    })
    expect(lastNote()?.text).toBe('Licence renews docketed; 3 dates so far')
  })
})
