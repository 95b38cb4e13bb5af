import { fireEvent, screen, waitFor } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import FileMail from '../src/papers/filing/FileMail.vue'
import MakePaper from '../src/papers/make/MakePaper.vue'
import { somethingUnsaved } from '../src/ui/unsaved'
import { faults, field, lastNote, later, press, put, Server, settled, show, signIn, standAt, wrong } from './stage'

beforeEach(() => {
  localStorage.clear()
  signIn({ rights: ['papers.see', 'papers.change', 'matters.see', 'time.record', 'docket.change'] })
})
const setting = { nextNumber: '', areas: [], ruleSets: [], fees: [], staff: [{ id: 2, name: 'Noor Haddad-Lind', role: 'lawyer' }, { id: 3, name: 'Billie Tran', role: 'paralegal' }] } // prettier-ignore

describe('an e-mail that is filed', () => {
  const mail = (more: object = {}) => ({
    id: 5,
    state: 'waiting',
    known: true,
    source: 'dropped',
    subject: 'Survey',
    from: { name: 'Ann', address: 'ann@client.example' },
    to: [],
    cc: [],
    dateText: 'Mon 23 Nov',
    day: '2026-11-23',
    excerpt: 'Here it is',
    unread: '',
    name: '2026-11-23 Survey',
    parts: [{ index: 0, name: 'survey.pdf', proposed: 'Survey of hull.pdf', why: 'its text', mediaType: 'application/pdf', size: 9000, inline: false }, { index: 1, name: 'logo.png', proposed: 'logo.png', why: '', mediaType: 'image/png', size: 900, inline: true }], // prettier-ignore
    proposals: [{ matterId: 7, matter: 'Gannet v. Corvane', number: '26-0031', score: 30, why: ['from the client'] }, { matterId: 8, matter: 'Tern', number: '26-0032', score: 9, why: [] }], // prettier-ignore
    before: [{ paperId: 88, name: 'Survey', matterId: 8, matter: 'Tern' }],
    ...more,
  })
  const folders = (...paths: string[]) => ({ folders: paths.map((path) => ({ path, n: 1 })), bin: 0 })
  const routes = (more: object = {}) => ({
    'GET /filing/5': mail(),
    'GET /matters': { rows: [], total: 0 },
    'GET /matters/setting': setting,
    'GET /matters/7/folders': folders('Correspondence', 'Expert'),
    'GET /matters/8/folders': folders('Old'),
    ...more,
  })
  const stand = async () => {
    await standAt('/papers/mail/:id', '/papers/mail/5', FileMail)
    return show(FileMail)
  }
  it('goes on the likeliest matter with what came with it, and each fault stands at its part', async () => {
    const server = new Server(routes({ 'POST /filing/5': faults(['parts.0.name', 'Name the paper'], ['task.text', 'Say what is to do']) }))
    const { router } = await stand()
    // A picture in its text is none that is kept.
    expect(screen.getByRole('button', { name: /^File 2 papers/ })).toBeTruthy()
    await put('Name of survey.pdf', '')
    await fireEvent.click(screen.getByRole('checkbox', { name: /Give a colleague a task/ }))
    await settled()
    await press(/^File 2 papers/)
    expect([wrong('Name of survey.pdf'), wrong('What is to do')]).toEqual([true, true])
    server.on('POST /filing/5', { paperId: 91, partIds: [92] })
    await put('Name of survey.pdf', 'Hull survey.pdf')
    await put('What is to do', 'Read it')
    await fireEvent.update(field('Who'), '3')
    await fireEvent.click(screen.getByRole('checkbox', { name: /Go on to work out dates/ }))
    await press(/^File 2 papers/)
    expect(server.sent('POST /filing/5')[1]!.body).toMatchObject({ matterId: 7, name: '2026-11-23 Survey', parts: [{ index: 0, name: 'Hull survey.pdf', folder: 'Correspondence' }], again: false, task: { text: 'Read it', assigneeId: 3, dueOn: null } }) // prettier-ignore
    expect(router.currentRoute.value.fullPath).toBe('/matters/7/docket?work=1&paper=91')
  })
  it('asks before it is left once anything was typed or chosen, not only its name', async () => {
    new Server(routes())
    await stand()
    expect(somethingUnsaved()).toBe(false)
    await put('Folder of survey.pdf', 'Expert')
    expect(somethingUnsaved()).toBe(true)
    await put('Folder of survey.pdf', 'Correspondence')
    expect(somethingUnsaved()).toBe(false)
    await fireEvent.click(screen.getByRole('checkbox', { name: /logo\.png/ }))
    expect(somethingUnsaved()).toBe(true)
  })
  it('is filed a second time only where that is said, and offers the folders of the matter that is chosen', async () => {
    const slow = later<unknown>()
    const server = new Server(routes({ 'GET /matters/7/folders': () => slow.promise, 'POST /filing/5': { paperId: 91, partIds: [] } }))
    await stand()
    await fireEvent.click(screen.getByRole('button', { name: /Tern/ }))
    await settled()
    // Folders of the first matter that come late are not those of the second.
    slow.come(folders('Of the first'))
    await settled()
    expect([...document.querySelectorAll('#filing-folders option')].map((o) => (o as HTMLOptionElement).value)).toEqual(['Old'])
    expect(screen.getByText(/on file there already as Survey/)).toBeTruthy()
    await fireEvent.click(screen.getByRole('checkbox', { name: 'File it again' }))
    await press(/^File 2 papers/)
    expect(server.sent('POST /filing/5')[0]!.body).toMatchObject({ matterId: 8, again: true })
  })
})

describe('a paper that is made', () => {
  const prepared = (more: object = {}) => ({ name: 'Demand', folder: 'Correspondence', also: [], needsPerson: false, faulty: false, values: [{ path: 'court.name', label: 'Court', type: 'text', value: '', typed: '', missing: true, changed: false, writes: true }], questions: [], persons: [], costs: [], time: [], ready: false, ...more }) // prettier-ignore
  const routes = (more: object = {}) => ({
    'GET /templates': [{ id: 4, name: 'Demand letter', shelf: '', retired: false, faults: 0 }],
    'GET /template-sets': [],
    'GET /matters/7/folders': { folders: [], bin: 0 },
    'GET /matters/setting': setting,
    'POST /papers/prepare': prepared(),
    'POST /papers/preview': { jobId: 60, previewId: 1 },
    'GET /jobs/60': { state: 'running', progress: 10, error: null },
    'POST /papers/make': { jobId: 61 },
    ...more,
  })
  const stand = async (address = '/matters/7/make') => {
    await standAt('/matters/7/make', address, MakePaper)
    return show(MakePaper, { matterId: 7 })
  }
  it('asks what the record lacks, and is left without a question once it is being made', async () => {
    const made = later<unknown>()
    const server = new Server(routes({ 'GET /jobs/61': () => made.promise }))
    const { router, unmount } = await stand()
    await fireEvent.update(field('Template'), '4')
    await settled()
    expect(field('Name of the paper').value).toBe('Demand')
    await put('Court', 'Superior Court')
    expect(somethingUnsaved()).toBe(true)
    await press('Make it')
    expect(server.sent('POST /papers/make')[0]!.body).toMatchObject({ templateId: 4, name: 'Demand', folder: 'Correspondence', values: { 'court.name': 'Superior Court' }, versionOf: null }) // prettier-ignore
    expect(somethingUnsaved()).toBe(false)
    // Whoever went elsewhere meanwhile is told, and not fetched back.
    await router.push('/tasks')
    unmount()
    made.come({ state: 'done', progress: 100, error: null })
    await waitFor(() => expect(lastNote()?.text).toBe('Demand is in Correspondence'))
    expect(router.currentRoute.value.path).not.toBe('/matters/7/papers')
  })
  it('says why it could not be made, and keeps every answer', async () => {
    new Server(routes({ 'GET /jobs/61': { state: 'failed', progress: 0, error: 'The template was changed meanwhile.' } }))
    await stand()
    await fireEvent.update(field('Template'), '4')
    await settled()
    await put('Court', 'Superior Court')
    await press('Make it')
    expect([screen.getByText('The template was changed meanwhile.').getAttribute('role'), field('Court').value, somethingUnsaved()]).toEqual(['alert', 'Superior Court', true]) // prettier-ignore
  })
  it('again, opens with what it was made with, and asks only about what is changed by then', async () => {
    new Server(
      routes({
        'GET /papers/88/made': { templateId: 4, personId: null, answers: {}, values: { 'court.name': 'Old Court' }, changed: [] },
        'GET /papers/88': { id: 88, name: 'Demand.docx', folder: 'Letters' },
        'POST /papers/prepare': prepared({ values: [{ path: 'court.name', label: 'Court', type: 'text', value: 'Old Court', typed: 'Old Court', missing: false, changed: true, writes: true }] }), // prettier-ignore
      }),
    )
    await stand('/matters/7/make?again=88')
    expect([field('Name of the paper').value, field('Folder').value, field('Court').value, somethingUnsaved()]).toEqual(['Demand', 'Letters', 'Old Court', false]) // prettier-ignore
    await put('Court', 'New Court')
    expect(somethingUnsaved()).toBe(true)
  })
})
