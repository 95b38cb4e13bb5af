import { fireEvent, screen } from '@testing-library/vue'
import type { Right } from '@heron/contract'
import { beforeEach, describe, expect, it } from 'vitest'
import LinkSheet from '../src/papers/file/LinkSheet.vue'
import ReviewSheet from '../src/papers/file/ReviewSheet.vue'
import FolderTree from '../src/papers/file/FolderTree.vue'
import PaperSheet from '../src/papers/file/PaperSheet.vue'
import QuestionField from '../src/papers/make/QuestionField.vue'
import ValueField from '../src/papers/make/ValueField.vue'
import Questions from '../src/papers/templates/Questions.vue'
import ToRead from '../src/papers/ToRead.vue'
import { useUploads } from '../src/papers/uploads'
import { faults, lastNote, refusal, Server, settled, show, signIn, unreachable } from './stage'

const rights: Right[] = ['papers.see', 'papers.change', 'matters.see', 'firm.set-up']
beforeEach(() => {
  localStorage.clear()
  signIn({ id: 3, rights })
})
const type = (label: string | RegExp, text: string) => fireEvent.update(screen.getByLabelText(label), text)
const press = async (name: string | RegExp) => {
  await fireEvent.click(screen.getAllByRole('button', { name }).at(-1)!)
  await settled()
}
const setting = { 'GET /matters/setting': { staff: [{ id: 3, name: 'Noor' }, { id: 4, name: 'Tomas' }], areas: [] } } // prettier-ignore

describe('files on their way', () => {
  const file = (name: string, size: number) => new File([new Uint8Array(size)], name)
  const ends = async (done: () => boolean) => {
    for (let i = 0; i < 200 && !done(); i += 1) await new Promise((r) => setTimeout(r, 5))
    expect(done()).toBe(true)
  }
  it('go on where a broken line left them, and are filed once', async () => {
    let received = 0
    let broken = true
    const server = new Server({
      'POST /uploads': { id: 9, received: 0 },
      'GET /uploads/9': () => ({ received, whole: received >= 9_000_000 }),
      'PUT /uploads/9': () => {
        if (received === 4_000_000 && broken) {
          broken = false
          return unreachable()
        }
        received = Math.min(9_000_000, received + 4_000_000)
        return { received, whole: received >= 9_000_000 }
      },
      'POST /matters/5/papers/uploads': { ids: [77], doubles: [] },
    })
    const uploads = useUploads()
    uploads.add(5, 'Evidence', [file('film.mp4', 9_000_000)])
    await ends(() => uploads.list[0]?.state === 'failed')
    uploads.again(uploads.list[0]!)
    await ends(() => uploads.list[0]?.state === 'filed')
    expect(server.sent('POST /uploads')).toHaveLength(1)
    expect(server.sent('POST /matters/5/papers/uploads')).toHaveLength(1)
    expect(received).toBe(9_000_000)
  })
  it('say what is on file already, and are filed again only when that is wanted', async () => {
    const server = new Server({
      'POST /uploads': { id: 9, received: 0 },
      'GET /uploads/9': { received: 4, whole: true },
      'POST /matters/5/papers/uploads': ({ body }: { body: Record<string, unknown> }) =>
        body['doubles'] ? { ids: [8], doubles: [] } : { ids: [], doubles: [{ uploadId: 9, paperId: 2, name: 'Order.pdf' }] },
    })
    const uploads = useUploads()
    uploads.add(5, 'Pleadings', [file('scan.pdf', 4)])
    await ends(() => uploads.list[0]?.state === 'double')
    expect(uploads.list[0]!.message).toBe('Already on file as Order.pdf')
    uploads.again(uploads.list[0]!)
    await ends(() => uploads.list[0]?.state === 'filed')
    expect(server.sent('POST /matters/5/papers/uploads').map((a) => a.body['doubles'])).toEqual([false, true])
  })
})

describe('a link for someone outside', () => {
  it('tells its address once, and what is wrong at its field', async () => {
    const server = new Server({ 'POST /matters/5/links': faults(['email', 'Give the address to which it is sent']) })
    await show(LinkSheet, { matterId: 5, ids: [7], folder: null })
    await type('For whom', 'Dr. Ann Expert')
    await fireEvent.click(screen.getByLabelText('Send the link to this address'))
    await press(/^Make the link/)
    expect(screen.getByText('Give the address to which it is sent')).toBeTruthy()
    server.on('POST /matters/5/links', { id: 1, token: 'secret' })
    await press(/^Make the link/)
    expect((screen.getByLabelText('Address of the link') as HTMLInputElement).value).toMatch(/\/outside\/secret$/)
    expect(server.sent('POST /matters/5/links')[1]!.body).toMatchObject({
      paperIds: [7],
      folder: null,
      endsOn: '2026-12-23',
      forWhom: 'Dr. Ann Expert',
    })
  })
})

describe('a draft to read', () => {
  const review = {
    id: 4,
    paperId: 7,
    paper: 'Motion.docx',
    matterId: 5,
    matter: 'Gannet',
    from: 'Noor',
    dueOn: '2026-11-27',
    message: '',
    askedAt: '2026-11-23T10:00:00Z',
  }
  it('is sent back only with remarks, which stay when that is refused', async () => {
    const server = new Server({ 'GET /reviews': [review], 'POST /reviews/4': faults(['remarks', 'Say what is to be changed']) })
    await show(ToRead)
    await press('Send back')
    expect(screen.getByText('Say what is to be changed')).toBeTruthy()
    await type(/^Remarks on Motion\.docx/, 'Shorter')
    server.on('POST /reviews/4', { ok: true })
    await press('Send back')
    expect(server.sent('POST /reviews/4')[1]!.body).toMatchObject({ approved: false, remarks: 'Shorter' })
    expect(lastNote()?.text).toBe('Motion.docx went back to Noor')
  })
  it('is asked of a colleague, not of oneself', async () => {
    const server = new Server({ ...setting, 'POST /papers/7/review': { id: 1 } })
    await show(ReviewSheet, { id: 7, matterId: 5 })
    expect(screen.queryByRole('option', { name: 'Noor' })).toBeNull()
    await fireEvent.update(screen.getByLabelText('Who'), '4')
    await press(/^Ask/)
    expect(server.sent('POST /papers/7/review')[0]!.body).toMatchObject({ toId: 4 })
  })
})

describe('what is said of a paper', () => {
  const paper = {
    id: 7, matterId: 5, matter: 'Gannet', folder: 'Notes', name: 'Note.txt', kind: '', author: '', day: null, tags: ['x'], note: '', mediaType: 'text/plain', size: 4, version: 2, madeBy: 'Noor', madeAt: '2026-11-01T10:00:00Z', changedAt: '2026-11-01T10:00:00Z', template: null, out: null, shared: 0, words: 'done', review: null, deletedAt: null, deletedBy: null, rowVersion: 3,
    versions: [{ number: 2, why: 'mended', madeBy: 'Noor', madeAt: '2026-11-02T10:00:00Z', size: 4, mediaType: 'text/plain', current: true, made: false }, { number: 1, why: '', madeBy: 'Noor', madeAt: '2026-11-01T10:00:00Z', size: 4, mediaType: 'text/plain', current: false, made: false }],
    uses: [], ofMail: null, parts: [], links: [], reviews: [], mayChange: true, keeps: true,
  } // prettier-ignore
  const routes = () => ({ 'GET /papers/7': paper, 'GET /papers/7/made': refusal('not-found', 'no') })
  it('is not written over what someone else changed meanwhile, and stays on the sheet', async () => {
    const server = new Server({
      ...routes(),
      'PUT /papers/7': refusal('changed-meanwhile', 'Someone changed this paper meanwhile. Look again, then save.'),
    })
    await show(PaperSheet, { id: 7 })
    await type('Name', 'Note of the mate.txt')
    await type(/^Tags, with commas/, 'x, tide ,')
    await press(/^Save/)
    expect(screen.getByText(/Someone changed this paper meanwhile/)).toBeTruthy()
    expect((screen.getByLabelText('Name') as HTMLInputElement).value).toBe('Note of the mate.txt')
    expect(server.sent('PUT /papers/7')[0]!.body).toMatchObject({ rowVersion: 3, tags: ['x', 'tide'], name: 'Note of the mate.txt' })
  })
  it('shows what changed between versions', async () => {
    new Server({ ...routes(), 'GET /papers/7/compare': { pieces: [{ text: 'old', how: 'gone' }, { text: 'new', how: 'added' }], cut: false } }) // prettier-ignore
    await show(PaperSheet, { id: 7 })
    await press('Compare')
    expect(screen.getByLabelText('Version 1 beside 2').textContent).toMatch(/gone: old.*added: new/)
  })
})

describe('folders', () => {
  it('say how many lie in them, and are chosen', async () => {
    const { emitted } = await show(FolderTree, { modelValue: '', folders: [{ path: 'Discovery', count: 2, standard: true }, { path: 'Discovery/Served', count: 1, standard: false }], all: 2, bin: 1 }) // prettier-ignore
    await press('Discovery/Served, 1')
    expect(emitted('update:modelValue')).toEqual([['Discovery/Served']])
    expect(screen.getByRole('button', { name: /^Bin/ })).toBeTruthy()
  })
})

describe('a value of a paper', () => {
  const value = { path: 'court.name', label: 'Court: Name', type: 'text', value: '', typed: '', missing: true, writes: true }
  it('is given, kept on the record, or left blank on purpose', async () => {
    const { emitted, rerender } = await show(ValueField, { value, typed: undefined, fault: '', keep: [] })
    expect((screen.getByLabelText(/^Keep it on the record/) as HTMLInputElement).disabled).toBe(true)
    await type('Court: Name', 'Superior Court')
    await fireEvent.click(screen.getByLabelText(/^Leave it blank/))
    expect(emitted('change')).toEqual([['Superior Court'], ['']])
    await rerender({ value, typed: 'Superior Court', fault: '', keep: [] })
    await fireEvent.click(screen.getByLabelText(/^Keep it on the record/))
    expect(emitted('update:keep')).toEqual([[['court.name']]])
    await rerender({ value, typed: '', fault: '', keep: [] })
    expect(screen.getByText('Court: Name: stays blank')).toBeTruthy()
  })
})

describe('questions of a template', () => {
  it('are answered by their type', async () => {
    const question = { key: 'costs', text: 'Which costs', type: 'costs', choices: [], required: false, help: '' }
    const { emitted } = await show(QuestionField, {
      modelValue: undefined,
      question,
      costs: [{ id: 8, day: '2026-11-02', text: 'Courier', amount: 1895 }],
      time: [],
      fault: '',
    })
    await fireEvent.click(screen.getByLabelText(/Courier, \$18\.95/))
    expect(emitted('update:modelValue')).toEqual([[['8']]])
  })
  it('are put in order and saved with their choices, and faults stand at their fields', async () => {
    const server = new Server({
      'PUT /templates/2/questions': faults(['questions.1.key', 'Use small letters, digits and underscores, starting with a letter']),
    })
    const q = (key: string) => ({ key, text: key, type: 'choice' as const, choices: ['a', 'b'], required: true, when: '', help: '' })
    await show(Questions, { id: 2, version: 4, questions: [q('one'), q('two')], may: true })
    await press('Question 2 up')
    await fireEvent.update(screen.getAllByLabelText('Key')[1]!, 'No Key')
    await press('Save the questions')
    expect(screen.getByText(/Use small letters, digits/)).toBeTruthy()
    expect((server.sent('PUT /templates/2/questions')[0]!.body['questions'] as { key: string; choices: string[] }[]).map((x) => [x.key, x.choices.length])).toEqual([['two', 2], ['No Key', 2]]) // prettier-ignore
  })
})
