import { fireEvent, screen, within } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import Statement from '../src/billing/Statement.vue'
import { useNotes } from '../src/shell/notes'
import ProcedureEditor from '../src/setup/ProcedureEditor.vue'
import Tasks from '../src/tasks/Tasks.vue'
import { somethingUnsaved } from '../src/ui/unsaved'
import { field, later, lastNote, press, put, refusal, Server, settled, setting, show, signIn, standAt, unreachable } from './stage'

beforeEach(() => signIn({ rights: ['tasks.change', 'matters.see', 'bills.see', 'bills.issue'] }))

describe('the list of tasks', () => {
  const task = (id: number, text: string, more: object = {}) => ({
    id,
    text,
    matterId: 7,
    matter: 'Gannet Ferry v. Corvane',
    assigneeId: 2,
    assignee: 'Noor Haddad-Lind',
    dueOn: '2026-11-23',
    dueTime: null,
    done: false,
    doneOn: null,
    priority: 'normal',
    bucket: 'today',
    waits: null,
    reminds: false,
    step: null,
    items: 0,
    itemsDone: 0,
    comments: 0,
    version: 1,
    ...more,
  })
  const counts = { overdue: 1, today: 1, 'this week': 0, later: 0, 'no date': 0 }
  const list = {
    rows: [task(1, 'Serve the answer', { bucket: 'overdue', dueOn: '2026-11-19' }), task(2, 'Call the surveyor')],
    total: 2,
    counts,
  }
  const open = async (server: Record<string, unknown> = {}) => {
    const on = new Server({ 'GET /matters/setting': setting, 'GET /tasks': list, 'GET /views': [], ...server })
    await standAt('/tasks', '/tasks', Tasks)
    return { ...(await show(Tasks)), server: on }
  }
  const chosen = () => within(screen.getByRole('group', { name: 'Change the chosen tasks' })).getByText(/chosen$/).textContent

  it('stands by when it is due, what is overdue first', async () => {
    await open()
    const heads = screen.getAllByRole('heading', { level: 2 }).map((h) => h.textContent?.trim().replaceAll(/\s+/g, ' '))
    expect(heads).toEqual(['overdue 1', 'today 1'])
  })

  it('moves the chosen ones once, however often it is pressed before the answer comes', async () => {
    const { server } = await open()
    const answer = later<unknown>()
    server.on('PUT /tasks', () => answer.promise)
    await press('Choose several')
    await press('Choose all')
    expect(chosen()).toBe('2 tasks chosen')
    await press('A week later')
    await press('A week later')
    answer.come({ changed: 2 })
    await settled()
    expect(server.sent('PUT /tasks').map((a) => a.body)).toEqual([{ ids: [1, 2], moveDays: 7 }])
    expect(lastNote()?.text).toBe('2 tasks changed')
  })

  it('chooses nothing that is not shown any more', async () => {
    const { server } = await open()
    await press('Choose several')
    await press('Choose all')
    server.on('GET /tasks', { ...list, rows: [], total: 0 })
    await fireEvent.update(screen.getByLabelText('When'), 'overdue')
    await settled()
    expect(chosen()).toBe('0 tasks chosen')
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Mark done' }).disabled).toBe(true)
  })

  it('says why nothing was changed, and keeps what was chosen', async () => {
    await open({ 'PUT /tasks': refusal('closed', 'Gannet Ferry v. Corvane is closed. Reopen it first.') })
    await press('Choose several')
    await press('Choose all')
    await press('Mark done')
    expect(lastNote()?.text).toContain('is closed. Reopen it first.')
    expect(chosen()).toBe('2 tasks chosen')
  })

  it('shows as done only what was done: where that is refused its box stays as it was', async () => {
    const { user } = await open({ 'PUT /tasks/2/done': refusal('closed', 'Gannet Ferry v. Corvane is closed. Reopen it first.') })
    const box = screen.getByLabelText<HTMLInputElement>('Done: Call the surveyor')
    await user.click(box)
    await settled()
    expect(lastNote()?.text).toContain('is closed')
    expect(box.checked).toBe(false)
  })

  it('is marked done from its line, by X too, and says so with Undo', async () => {
    const { server } = await open({ 'PUT /tasks/2/done': { follows: null } })
    await fireEvent.keyDown(screen.getByLabelText('Done: Call the surveyor'), { key: 'x' })
    await settled()
    expect(server.sent('PUT /tasks/2/done')[0]!.body).toEqual({ done: true })
    expect(lastNote()).toMatchObject({ text: 'Done: Call the surveyor', undo: { label: 'Undo' } })
  })
})

describe('a procedure', () => {
  const step = (key: string, text: string) => ({ key, text, assignTo: { kind: 'starter' }, priority: 'normal', estimateMinutes: null, remindDays: null, waitsFor: [], due: { count: 1, unit: 'business', direction: 'after', anchor: { kind: 'start' } } }) // prettier-ignore
  const procedure = (version: number, by: string) => ({ id: 4, name: 'Closing a file', description: '', areaId: null, steps: [step('a', 'Write to the client')], version, retired: false, runs: 3, versions: [{ version, at: '2026-11-02T14:00:00Z', by }] }) // prettier-ignore
  const edit = async (server: Record<string, unknown> = {}, address = '/set-up/procedures/4') => {
    const on = new Server({ 'GET /matters/setting': setting, 'GET /procedures/4': procedure(2, 'Ferdi Brandt'), ...server })
    await standAt('/set-up/procedures/:id', address, ProcedureEditor)
    return { ...(await show(ProcedureEditor)), server: on }
  }
  const sent = (server: Server) => server.sent('POST /procedures').map((a) => [a.body['seen'], a.body['name']])

  it('stands unsaved until it is kept, and is kept on top of the version that was read', async () => {
    const { server, user } = await edit({ 'POST /procedures': { id: 4, version: 3 } })
    expect(somethingUnsaved()).toBe(false)
    await user.type(field('Name'), ' for good')
    expect(somethingUnsaved()).toBe(true)
    server.on('GET /procedures/4', { ...procedure(3, 'Ferdi Brandt'), name: 'Closing a file for good' })
    await press(/^Save as a version/)
    expect(sent(server)).toEqual([[2, 'Closing a file for good']])
    expect(somethingUnsaved()).toBe(false)
    await user.type(field('Name'), '!')
    await press(/^Save as a version/)
    expect(sent(server).at(-1)).toEqual([3, 'Closing a file for good!'])
  })

  it('says whose version came meanwhile, keeps what was typed, and goes after theirs when it is pressed again', async () => {
    const { server, user } = await edit({ 'POST /procedures': refusal('changed-meanwhile', 'Somebody else changed this procedure.') })
    await user.type(field('Name'), ' (mine)')
    server.on('GET /procedures/4', procedure(3, 'Ingrid Solberg'))
    await press(/^Save as a version/)
    expect(screen.getByRole('alert').textContent).toContain('Ingrid Solberg kept version 3 meanwhile')
    expect(field('Name').value).toBe('Closing a file (mine)')
    server.on('POST /procedures', { id: 4, version: 4 })
    await press(/^Save as a version/)
    expect(sent(server)).toEqual([
      [2, 'Closing a file (mine)'],
      [3, 'Closing a file (mine)'],
    ])
  })

  it('that is new stays as it was filled in while it is kept, and then stands under its own address', async () => {
    const { server, user, router } = await edit({}, '/set-up/procedures/new')
    await user.type(field('Name'), 'Opening a file')
    await press('New step')
    await put('What is to be done', 'Write to the client')
    await fireEvent.keyDown(field('What is to be done'), { key: 'Enter', ctrlKey: true })
    await settled()
    server.on('POST /procedures', { id: 9, version: 1 })
    await press(/^Save as a version/)
    expect(server.sent('POST /procedures')[0]!.body).toMatchObject({ name: 'Opening a file', steps: [{ text: 'Write to the client' }] })
    expect(server.sent('POST /procedures')[0]!.body).not.toHaveProperty('id')
    expect(router.currentRoute.value.path).toBe('/set-up/procedures/9')
    expect(field('Name').value).toBe('Opening a file')
  })

  it('shows no field before it was read, so that nothing is typed that a late answer writes over', async () => {
    const slow = later<unknown>()
    const { server } = await edit({ 'GET /procedures/4': () => slow.promise })
    expect(screen.queryByLabelText('Name')).toBeNull()
    slow.come(procedure(2, 'Ferdi Brandt'))
    await settled()
    expect(field('Name').value).toBe('Closing a file')
    expect(server.sent('GET /procedures/4')).toHaveLength(1)
  })
})

describe('what is taken back from its line', () => {
  const note = (act: () => Promise<unknown>) => {
    const notes = useNotes()
    notes.say('Closed', { label: 'Undo', act })
    return { notes, undo: () => notes.undo(notes.notes.at(-1)!) }
  }
  it('goes once, and its line goes with it', async () => {
    let times = 0
    const { notes, undo } = note(() => Promise.resolve((times += 1)))
    await undo()
    expect([times, notes.notes.length]).toEqual([1, 0])
  })
  it('says that it was not undone, and why', async () => {
    new Server({})
    const { ApiProblem } = await import('../src/api')
    const refused = note(() => Promise.reject(new ApiProblem(409, 'changed-meanwhile', 'It was changed meanwhile.', [])))
    await refused.undo()
    expect(lastNote()?.text).toBe('Not undone: It was changed meanwhile.')
    await note(() => Promise.reject(new Error('x'))).undo()
    expect(lastNote()?.text).toContain('could not be undone')
  })
})

describe('the statement of a payer', () => {
  const move = (text: string, charged: number, paid: number, balance: number) => ({ day: '2026-11-02', text, billId: 9, charged, settled: paid, balance }) // prettier-ignore
  const statement = {
    payer: 'Gannet Ferry',
    matter: null,
    opening: 100_00,
    closing: 98_00,
    credit: 5_00,
    aging: [0, 98_00, 0, 0],
    open: [{ id: 9, number: '2026-0009', open: 98_00 }],
    rows: [move('Payment, check', 0, 1_00, 99_00), move('Payment, check', 0, 1_00, 98_00)],
  }
  const stand = async (server: Record<string, unknown> = {}, query = '') => {
    const on = new Server({ 'GET /contacts/4/statement': statement, 'GET /matters': { rows: [], total: 0 }, 'GET /views': [], ...server })
    await standAt('/people/:id/statement', `/people/4/statement${query}`, Statement)
    return { ...(await show(Statement)), server: on }
  }

  it('tells each of two payments of a day that read alike, with what is owed after it', async () => {
    await stand()
    expect(screen.getAllByText('Payment, check')).toHaveLength(2)
    for (const balance of ['$99.00', '$98.00']) expect(screen.getAllByText(balance).length).toBeGreaterThan(0)
    expect(screen.getByText('$5.00 of payments is left over, not applied.')).toBeTruthy()
  })

  it('asks by the span that stands there and keeps it in the address; its PDF is of the same', async () => {
    const { server, router } = await stand({ 'GET /matters/5': { id: 5, name: 'Gannet Ferry v. Corvane' } }, '?from=2026-01-01&matter=5')
    expect(server.sent('GET /contacts/4/statement')[0]!.query).toEqual({ from: '2026-01-01', to: '2026-11-23', matterId: '5' })
    await put('From', '2026-02-01')
    await fireEvent.blur(screen.getByLabelText('From'))
    await settled()
    expect(server.sent('GET /contacts/4/statement').at(-1)!.query).toEqual({ from: '2026-02-01', to: '2026-11-23', matterId: '5' })
    expect(router.currentRoute.value.query).toEqual({ from: '2026-02-01', to: '2026-11-23', matter: '5' })
    expect(screen.getByText('PDF').closest('a')!.getAttribute('href')).toBe('/api/contacts/4/statement/pdf?from=2026-02-01&to=2026-11-23&matterId=5') // prettier-ignore
  })

  it('says when the server does not answer, and asks again', async () => {
    const { server } = await stand({ 'GET /contacts/4/statement': unreachable })
    expect(screen.getByText(/The server does not answer/)).toBeTruthy()
    server.on('GET /contacts/4/statement', statement)
    await press(/again/i)
    expect(screen.getAllByText('Payment, check')).toHaveLength(2)
  })
})
