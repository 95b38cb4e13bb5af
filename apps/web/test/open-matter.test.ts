import { fireEvent, screen } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import OpenMatter from '../src/matters/OpenMatter.vue'
import TaskSheet from '../src/tasks/TaskSheet.vue'
import { faults, field, lastNote, later, press, put, refusal, Server, settled, show, signIn, standAt, wrong, type Asked } from './stage'

beforeEach(() => {
  localStorage.clear()
  signIn({ rights: ['matters.see', 'matters.open', 'people.see', 'people.change', 'tasks.change'], role: 'lawyer' })
})

const area = (id: number, name: string, ruleSetKey: string | null, procedureIds: number[], team: object[] = []) => ({ id, name, ruleSetKey, open: true, stages: [], team, procedureIds }) // prettier-ignore
const staff = [{ id: 2, name: 'Noor Haddad-Lind', initials: 'NH', role: 'lawyer', title: 'Partner', rate: null }, { id: 3, name: 'Billie Tran', initials: 'BT', role: 'paralegal', title: 'Paralegal', rate: null }] // prettier-ignore
const contact = (id: number, name: string) => ({ id, kind: 'organization', name, email: '', phone: '', kinds: [], matters: 0, isPrivate: false }) // prettier-ignore
const check = (id: number) => ({ id, terms: [], namesOnRecord: 500, madeAt: '2026-11-23T10:00:00.000Z', madeBy: 'Noor', hits: [] })
const enquiry = { id: 4, contactId: 9, name: 'Gannet Ferry', about: 'Charter dispute', areaId: 1 }
const routes = (more: object = {}) => ({
  'GET /matters/setting': { nextNumber: '26-0040', areas: [area(1, 'Admiralty', 'us-federal-civil', [5], [{ userId: 3, role: 'paralegal' }]), area(2, 'Probate', 'ca-probate', [])], ruleSets: [{ key: 'us-federal-civil', title: 'U.S. federal civil' }, { key: 'ca-probate', title: 'Probate' }], fees: [], staff }, // prettier-ignore
  'GET /procedures': [{ id: 5, name: 'First month', description: '', areaId: 1, retired: false, steps: 3 }],
  'GET /field-groups': [],
  'GET /contacts': { rows: [contact(9, 'Gannet Ferry'), contact(10, 'Corvane Shipping')], total: 2 },
  'GET /contacts/near': [],
  'GET /contact-kinds': [],
  'POST /conflict-checks': () => check(71),
  'POST /procedures/5/preview': { version: 1, steps: [] },
  'GET /enquiries/4': enquiry,
  ...more,
})
const stand = async (address = '/matters/new') => {
  await standAt('/matters/new', address, OpenMatter)
  return show(OpenMatter)
}
const choose = async (user: Awaited<ReturnType<typeof show>>['user'], label: string, typed: string, name: RegExp) => {
  await user.type(screen.getByRole('combobox', { name: new RegExp(`^${label}`) }), typed)
  await settled()
  await user.click((await screen.findAllByRole('option', { name }))[0]!)
  await settled()
}
const picked = (label: string) => screen.getByRole<HTMLInputElement>('combobox', { name: label }).value

describe('opening a matter', () => {
  it('takes rules, team and first procedure from the area, and leaves what was chosen by hand', async () => {
    const server = new Server(routes({ 'POST /matters': faults(['clientId', 'Choose the client'], ['name', 'Name the matter']) }))
    await stand()
    await fireEvent.update(field('Area'), '1')
    await settled()
    expect([field('Rules by which dates are counted').value, screen.getAllByRole('button', { name: 'Take out' }).length]).toEqual(['us-federal-civil', 1]) // prettier-ignore
    await fireEvent.update(field('Rules by which dates are counted'), '')
    await fireEvent.update(field('Area'), '2')
    await settled()
    // Dates by hand were chosen; the procedure was the area’s, and goes with it.
    await press(/^Open 26-0040/)
    const sent = server.sent('POST /matters')[0]!.body
    expect(sent).toMatchObject({ areaId: 2, ruleSetKey: null, procedures: [], team: [{ userId: 2, role: 'lead' }, { userId: 3, role: 'paralegal' }] }) // prettier-ignore
    expect(wrong('Name of the matter')).toBe(true)
  })

  it('does not leave out a party of whom only half was entered', async () => {
    const server = new Server(routes({ 'POST /matters': { id: 40, number: '26-0040' } }))
    const { user, router } = await stand()
    await choose(user, 'Client', 'Gannet', /Gannet Ferry/)
    await choose(user, 'Party', 'Corvane', /Corvane/)
    await press(/^Open 26-0040/)
    expect([wrong('Role'), server.sent('POST /matters').length]).toEqual([true, 0])
    await put('Role', 'defendant')
    expect(wrong('Role')).toBe(false)
    await press(/^Open 26-0040/)
    expect(server.sent('POST /matters')[0]!.body).toMatchObject({ clientId: 9, billToId: 9, parties: [{ contactId: 10, role: 'defendant', side: 'adverse' }] }) // prettier-ignore
    expect([lastNote()?.text, router.currentRoute.value.path]).toEqual(['Matter 26-0040 opened', '/matters/40'])
  })

  it('checks the names again with each that is added, and shows no check of other names', async () => {
    let n = 70
    const server = new Server(routes({ 'POST /conflict-checks': () => check((n += 1)) }))
    const { user } = await stand()
    await choose(user, 'Client', 'Gannet', /Gannet Ferry/)
    server.on('POST /conflict-checks', refusal('failed', 'Names could not be checked. Try again.'))
    await choose(user, 'Further client', 'Corvane', /Corvane/)
    const asked = server.sent('POST /conflict-checks').map((a) => a.body)
    expect(asked.map((b) => (b['terms'] as { name: string }[]).map((t) => t.name))).toEqual([['Gannet Ferry'], ['Gannet Ferry', 'Corvane Shipping']]) // prettier-ignore
    expect(asked[1]!['replaces']).toBe(71)
    expect(screen.getByText(/could not be checked/)).toBeTruthy()
    expect(screen.queryByText(/on record,/)).toBeNull()
  })

  it('keeps what was begun, and begins anew when asked', async () => {
    new Server(routes())
    const first = await stand()
    await put('Name of the matter', 'Gannet v. Corvane')
    await settled()
    first.unmount()
    await stand()
    expect([field('Name of the matter').value, screen.queryAllByText(/is back/).length]).toEqual(['Gannet v. Corvane', 1])
    await press('Begin anew')
    expect(field('Name of the matter').value).toBe('')
    expect(Object.keys(localStorage).filter((k) => k.startsWith('draft'))).toEqual([])
  })
})

describe('an enquiry that becomes a matter', () => {
  it('brings what it gathered, but not over what was typed while it was read', async () => {
    const read = later<unknown>()
    const server = new Server(routes({ 'GET /enquiries/4': () => read.promise, 'POST /matters': { id: 40, number: '26-0040' } }))
    await stand('/matters/new?enquiry=4')
    await put(/^What the firm is engaged/, 'Arrest of the vessel')
    read.come(enquiry)
    await settled()
    expect([picked('Client'), field(/^What the firm is engaged/).value, field('Area').value]).toEqual(['Gannet Ferry', 'Arrest of the vessel', '1']) // prettier-ignore
    await press(/^Open 26-0040/)
    expect(server.sent('POST /matters')[0]!.body).toMatchObject({ enquiryId: 4, clientId: 9, description: 'Arrest of the vessel' })
  })
  it('does not mix with what was begun for somebody else', async () => {
    new Server(routes())
    const other = await stand()
    await choose(other.user, 'Client', 'Corvane', /Corvane/)
    await put('Name of the matter', 'Corvane advice')
    await settled()
    other.unmount()
    await standAt('/matters/new', '/matters/new?enquiry=4', OpenMatter)
    const mine = await show(OpenMatter)
    expect([picked('Client'), field('Name of the matter').value]).toEqual(['Gannet Ferry', ''])
    mine.unmount()
    await mine.router.push('/matters/new')
    await show(OpenMatter)
    expect([picked('Client'), field('Name of the matter').value]).toEqual(['Corvane Shipping', 'Corvane advice'])
  })
  it('says when the enquiry cannot be read, and opens without it', async () => {
    const server = new Server(routes({ 'GET /enquiries/4': refusal('not-found', 'No such enquiry.'), 'POST /matters': faults(['name', 'Name the matter']) })) // prettier-ignore
    await stand('/matters/new?enquiry=4')
    expect(screen.getByRole('alert').textContent).toContain('The enquiry could not be read')
    await press(/^Open 26-0040/)
    expect(server.sent('POST /matters')[0]!.body['enquiryId']).toBeNull()
  })
})

describe('a task that is saved', () => {
  const task = { id: 9, matterId: 7, matter: 'Gannet v. Corvane', text: 'Order the transcript', details: '', dueOn: '2026-11-30', dueTime: null, remindOn: null, estimateMinutes: null, assigneeId: 2, assignee: 'Noor Haddad-Lind', assignedBy: 'Noor Haddad-Lind', priority: 'normal', onlyNamed: false, named: [], checklist: [], talk: [], papers: [{ id: 61, name: 'Old complaint.pdf' }], doneAt: null, doneBy: null, mayChange: true, step: null } // prettier-ignore
  it('takes along a line of its list and a word that were typed and not added', async () => {
    const server = new Server({ ...routes(), 'GET /tasks/9': task, 'PUT /tasks/9': { ok: true }, 'POST /tasks/9/comments': { id: 1 }, 'GET /matters': { rows: [], total: 0 } }) // prettier-ignore
    const { emitted } = await show(TaskSheet, { id: 9 })
    await put('Comment', 'They want a deposit')
    await put('New item', 'Ask for the price')
    await press('Save')
    expect((server.sent('PUT /tasks/9')[0]!.body['items'] as { text: string }[]).map((i) => i.text)).toEqual(['Ask for the price'])
    expect(server.sent('POST /tasks/9/comments')[0]!.body).toEqual({ text: 'They want a deposit' })
    expect(emitted('close')).toHaveLength(1)
  })
  it('has any paper of its matter, and none of another', async () => {
    signIn({ rights: ['tasks.change', 'papers.see'] })
    const server = new Server({
      ...routes(),
      'GET /tasks/9': task,
      'PUT /tasks/9': { ok: true },
      'GET /matters': { rows: [{ id: 8, number: '26-0032', name: 'Tern v. Plover', client: 'Tern' }], total: 1 },
      'GET /papers': ({ query }: Asked) => ({ rows: query['q'] ? [{ id: 99, name: 'Exhibit 212.pdf' }] : [{ id: 62, name: 'Answer.docx' }], total: 300 }), // prettier-ignore
    })
    const { user } = await show(TaskSheet, { id: 9 })
    expect(screen.getByRole('button', { name: 'Take Old complaint.pdf out' })).toBeTruthy()
    await choose(user, 'Papers', 'Exhibit', /Exhibit 212/)
    await press('Save')
    expect(server.sent('PUT /tasks/9')[0]!.body['paperIds']).toEqual([61, 99])
    await user.clear(screen.getByRole('combobox', { name: /^Matter/ }))
    await choose(user, 'Matter', 'Tern', /Tern v. Plover/)
    await press('Save')
    expect(server.sent('PUT /tasks/9')[1]!.body).toMatchObject({ matterId: 8, paperIds: [] })
  })
  it('that somebody else moved to another matter meanwhile keeps the papers that it has there', async () => {
    signIn({ rights: ['tasks.change', 'papers.see'] })
    let now: object = task
    const server = new Server({
      ...routes(),
      'GET /tasks/9': () => now,
      'GET /matters': { rows: [], total: 0 },
      'GET /papers': { rows: [], total: 0 },
      'PUT /tasks/9': refusal('changed-meanwhile', 'Somebody else changed this task.'),
    })
    await show(TaskSheet, { id: 9 })
    await put('What is to be done', 'Order both transcripts')
    now = { ...task, matterId: 8, matter: 'Tern v. Plover', papers: [{ id: 77, name: 'Notice.pdf' }] }
    await press('Save')
    server.on('PUT /tasks/9', { ok: true })
    await press('Save')
    expect(server.sent('PUT /tasks/9')[1]!.body).toMatchObject({ text: 'Order both transcripts', matterId: 8, paperIds: [77] })
  })
})
