import { fireEvent, screen, waitFor, within } from '@testing-library/vue'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import MatterPapers from '../src/papers/MatterPapers.vue'
import { useNotes } from '../src/shell/notes'
import { type Asked, field, lastNote, press, put, refusal, Server, settled, show, signIn, standAt } from './stage'

beforeEach(() => {
  localStorage.clear()
  signIn({ rights: ['papers.see', 'papers.change', 'docket.change', 'time.record'] })
})
const paper = (id: number, name: string, more: object = {}) => ({
  id,
  matterId: 7,
  matter: 'Gannet Ferry',
  folder: 'Correspondence',
  name,
  kind: 'letter',
  author: '',
  day: null,
  tags: [],
  note: '',
  mediaType: 'application/pdf',
  size: 12_000,
  version: 1,
  madeBy: 'Noor Haddad-Lind',
  madeAt: '2026-11-20T15:00:00Z',
  changedAt: '2026-11-20T15:00:00Z',
  template: null,
  out: null,
  shared: 0,
  words: 'done',
  review: null,
  deletedAt: null,
  deletedBy: null,
  rowVersion: 1,
  ...more,
})
const rows = [
  paper(31, 'Letter to Corvane.pdf'),
  paper(32, 'Survey.pdf', { folder: 'Evidence', version: 3, shared: 1 }),
  paper(33, 'Lease.docx', { out: { id: 3, name: 'Tomas Okafor-Reyes', at: '', note: '' }, template: 'Lease' }),
]
const folders = {
  folders: [
    { path: 'Correspondence', count: 2, standard: true },
    { path: 'Evidence', count: 1, standard: true },
    { path: 'Evidence/Photographs', count: 0, standard: false },
  ],
  all: 3,
  bin: 1,
  words: { waiting: 0, none: 0 },
}
const stand = async (more: Record<string, unknown> = {}, address = '/matters/7/papers') => {
  const server = new Server({ 'GET /matters/7/folders': folders, 'GET /papers': { rows, total: 3 }, ...more })
  await standAt('/matters/7/papers', address, MatterPapers)
  return { server, ...(await show(MatterPapers, { matterId: 7 })) }
}
const asked = (server: Server) => server.sent('GET /papers').at(-1)!.query
type User = Awaited<ReturnType<typeof show>>['user']
const items = async (user: User, name: string | RegExp) => {
  await user.click(screen.getByRole('button', { name }))
  return screen.getAllByRole('menuitem').map((x) => x.textContent.trim())
}
const choose = async (user: User, name: string | RegExp, item: string | RegExp) => {
  await user.click(screen.getByRole('button', { name }))
  await user.click(screen.getByRole('menuitem', { name: item }))
  await settled()
}
/** What is dragged: papers of the list, or files from outside. */
const dragged = (papers: string, files: File[] = []) => ({
  dataTransfer: { getData: (kind: string) => (kind === 'text/heron-papers' ? papers : ''), types: files.length ? ['Files'] : ['text/heron-papers'], files, items: [] }, // prettier-ignore
})

describe('papers of a matter', () => {
  it('are listed by folder, with what stands beside a name and what can be done', async () => {
    const { server, user } = await stand()
    expect(asked(server)).toEqual({ matterId: '7', page: '1', size: '100' })
    expect(screen.getByText('v3').title).toBe('Version 3')
    expect(screen.getByText('out: Tomas Okafor-Reyes')).toBeTruthy()
    expect(await items(user, 'Acts on Lease.docx')).toEqual([
      'Open',
      'Details and versions',
      'Download',
      'Record time',
      'Give back for Tomas Okafor-Reyes',
      'Save a new version …',
      'Make it again …',
      'Ask a colleague to read it …',
      'Move …',
      'Show to someone outside …',
      'Work out dates from it',
      'Put in the bin',
    ])
    await user.keyboard('{Escape}')
    await fireEvent.click(screen.getByRole('button', { name: 'Evidence, 1' }))
    await settled()
    expect(asked(server)).toMatchObject({ folder: 'Evidence', page: '1' })
  })

  it('can be read and nothing more by whoever may not change them', async () => {
    signIn({ rights: ['papers.see'] })
    const { server, user } = await stand()
    expect(await items(user, 'Acts on Lease.docx')).toEqual(['Open', 'Details and versions', 'Download'])
    await user.keyboard('{Escape}')
    expect(screen.queryByRole('button', { name: 'Add files' })).toBeNull()
    await fireEvent.drop(screen.getByRole('button', { name: 'Evidence, 1' }), dragged('31'))
    await settled()
    expect(server.sent('POST /papers/move')).toEqual([])
  })

  it('move to the folder on which they are dropped, and back', async () => {
    const { server } = await stand({ 'POST /papers/move': ({ body }: Asked) => ({ moved: (body['ids'] as number[]).length }) })
    // Three are chosen, and one of them is dragged: all go.
    await fireEvent.click(screen.getByLabelText('Choose all'))
    await fireEvent.drop(screen.getByRole('button', { name: /Photographs/ }), dragged('32'))
    await settled()
    const moved = () => server.sent('POST /papers/move').map((a) => [a.body['ids'], a.body['folder']])
    expect(moved()).toEqual([[[31, 32, 33], 'Evidence/Photographs']])
    expect(lastNote()?.text).toBe('3 papers moved to Evidence/Photographs')
    await useNotes().undo(lastNote()!)
    expect(moved().slice(1)).toEqual([
      [[31, 33], 'Correspondence'],
      [[32], 'Evidence'],
    ])
  })

  it('stay where they are when let go over the list they came from', async () => {
    const { server } = await stand()
    await fireEvent.drop(screen.getByText('Survey.pdf'), dragged('32'))
    await settled()
    expect(server.sent('POST /papers/move')).toEqual([])
  })

  it('say why they cannot be moved, and keep the folder that was typed', async () => {
    const { user, server } = await stand({ 'POST /papers/move': refusal('closed', 'The matter is closed.') })
    await choose(user, 'Acts on Survey.pdf', 'Move …')
    await put('Folder', 'Evidence/Hull')
    await press(/^Move/)
    expect([server.sent('POST /papers/move')[0]!.body, lastNote()?.text]).toEqual([{ ids: [32], folder: 'Evidence/Hull' }, 'The matter is closed.']) // prettier-ignore
    expect(field('Folder').value).toBe('Evidence/Hull')
  })

  it('go into the bin and out of it, several at once', async () => {
    const { server, user } = await stand({
      'POST /papers/remove': ({ body }: Asked) => ({ removed: (body['ids'] as number[]).length }),
      'POST /papers/restore': { restored: 1 },
    })
    await fireEvent.click(screen.getByLabelText('Choose Survey.pdf'))
    await fireEvent.click(screen.getByLabelText('Choose Lease.docx'))
    await choose(user, /^Acts on 2 chosen papers/, 'Put in the bin')
    expect(server.sent('POST /papers/remove')[0]!.body).toEqual({ ids: [32, 33] })
    expect(screen.queryByRole('button', { name: /chosen/ })).toBeNull()
    await useNotes().undo(lastNote()!)
    expect(server.sent('POST /papers/restore')[0]!.body).toEqual({ ids: [32, 33] })
    server.on('GET /papers', {
      rows: [paper(40, 'Old.pdf', { deletedAt: '2026-11-01T10:00:00Z', deletedBy: 'Noor Haddad-Lind' })],
      total: 1,
    })
    await fireEvent.click(screen.getByRole('button', { name: /^Bin/ }))
    await settled()
    expect(asked(server)).toEqual({ matterId: '7', page: '1', size: '100', bin: 'yes' })
    expect(await items(user, 'Acts on Old.pdf')).toEqual(['Take out of the bin'])
  })

  it('are checked out and given back, and say when that is refused', async () => {
    const { server, user } = await stand({ 'POST /papers/31/check-out': refusal('out', 'Tomas has it.'), 'POST /papers/33/release': { ok: true } }) // prettier-ignore
    await choose(user, 'Acts on Letter to Corvane.pdf', 'Check out to work on it')
    expect(lastNote()?.text).toBe('Tomas has it.')
    await choose(user, 'Acts on Lease.docx', /^Give back/)
    expect([server.sent('POST /papers/33/release').length, lastNote()?.text]).toEqual([1, 'Lease.docx is given back'])
  })

  it('are found by their words, in the folder that is open, until all are shown again', async () => {
    const { server, router } = await stand({ 'GET /papers/search': { rows: [{ ...rows[1], snippets: [[{ text: 'the ', hit: false }, { text: 'hull', hit: true }]] }], total: 1, more: false } }, '/matters/7/papers?folder=Evidence') // prettier-ignore
    await put('Find words in these papers', ' hull ')
    await fireEvent.submit(screen.getByRole('search'))
    await settled()
    expect(server.sent('GET /papers/search')[0]!.query).toMatchObject({ q: 'hull', matterId: '7', folder: 'Evidence' })
    expect(router.currentRoute.value.query).toEqual({ folder: 'Evidence', q: 'hull' })
    await press('Show all papers')
    expect([field('Find words in these papers').value, router.currentRoute.value.query]).toEqual(['', { folder: 'Evidence' }])
    // Whoever comes by a link finds the words in the field.
    await router.push('/matters/7/papers?q=survey')
    await settled()
    expect(field('Find words in these papers').value).toBe('survey')
  })

  it('make folders, rename them, and take an empty one away', async () => {
    const { server, user, router } = await stand({ 'POST /matters/7/folders': { ok: true }, 'POST /matters/7/folders/remove': refusal('not-empty', 'Papers lie in Evidence. Move them first.'), 'POST /matters/7/folders/move': { moved: 1 } }, '/matters/7/papers?folder=Evidence') // prettier-ignore
    await choose(user, 'More with papers', 'New folder …')
    expect(field('Folder').value).toBe('Evidence/')
    await put('Folder', 'Evidence/Hull')
    await press(/^Make it/)
    expect(server.sent('POST /matters/7/folders')[0]!.body).toEqual({ path: 'Evidence/Hull' })
    await waitFor(() => expect(router.currentRoute.value.query).toEqual({ folder: 'Evidence/Hull' }))
    await fireEvent.click(screen.getByRole('button', { name: 'Evidence, 1' }))
    await settled()
    await choose(user, 'More with papers', 'Take Evidence away')
    expect([lastNote()?.text, router.currentRoute.value.query]).toEqual([
      'Papers lie in Evidence. Move them first.',
      { folder: 'Evidence' },
    ])
    await choose(user, 'More with papers', 'Rename or move Evidence …')
    await put('Folder', 'Proof')
    await press(/^Save/)
    expect(server.sent('POST /matters/7/folders/move')[0]!.body).toEqual({ from: 'Evidence', to: 'Proof' })
    expect(lastNote()?.text).toBe('Evidence is now Proof, with 1 paper')
  })

  it('go back to the last page there is when the only one on theirs has gone', async () => {
    const many = (n: number) => ({ rows: n > 100 ? [paper(900, 'Last.pdf')] : rows, total: n })
    let total = 101
    const { server, user } = await stand({ 'GET /papers': ({ query }: Asked) => (query['page'] === '2' && total === 100 ? { rows: [], total } : many(total)), 'POST /papers/remove': () => ((total = 100), { removed: 1 }) }) // prettier-ignore
    await press('Further')
    expect(asked(server)['page']).toBe('2')
    await choose(user, 'Acts on Last.pdf', 'Put in the bin')
    await waitFor(() => expect(asked(server)['page']).toBe('1'))
    await settled()
    expect(screen.getByText('1–100 of 100 papers')).toBeTruthy()
  })

  it('take files that are dropped into the folder that is open', async () => {
    const announced = vi.fn(() => refusal('too-many', 'Twenty files are on their way.'))
    const { server } = await stand({ 'POST /uploads': announced }, '/matters/7/papers?folder=Evidence')
    const file = new File(['%PDF-1.7'], 'Chart.pdf', { type: 'application/pdf' })
    await fireEvent.drop(screen.getByText('Survey.pdf'), dragged('', [file]))
    await waitFor(() => expect(announced).toHaveBeenCalled())
    await settled()
    expect(server.sent('POST /uploads')[0]!.body).toEqual({ name: 'Chart.pdf', size: 8 })
    const list = within(screen.getByRole('region', { name: /files?/i }))
    expect(list.getByText(/Twenty files are on their way/)).toBeTruthy()
  })
})
