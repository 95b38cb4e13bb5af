import { fireEvent, screen, within } from '@testing-library/vue'
import { h, type Component } from 'vue'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import Board from '../src/matters/Board.vue'
import MatterTalk from '../src/notes/MatterTalk.vue'
import TimeFields from '../src/setup/TimeFields.vue'
import CardBoard from '../src/ui/CardBoard.vue'
import { question } from '../src/ui/question'
import { somethingUnsaved } from '../src/ui/unsaved'
import { answer, field, lastNote, press, put, refusal, Server, settled, setting, show, signIn, standAt } from './stage'

// What is written in is a package of its own; here it is a plain field.
vi.mock('../src/notes/Editor.vue', () => ({
  __esModule: true,
  default: {
    props: ['modelValue', 'label'],
    emits: ['update:modelValue', 'send'],
    render(this: { $emit: (event: string, text?: string) => void; modelValue: string; label: string }) {
      return h('textarea', { 'aria-label': this.label, value: this.modelValue, onInput: (e: Event) => this.$emit('update:modelValue', (e.target as HTMLTextAreaElement).value) }) // prettier-ignore
    },
  },
}))

beforeEach(() => {
  localStorage.clear()
  signIn({ rights: ['matters.see', 'matters.open', 'firm.set-up'] })
})

describe('the talk of a team', () => {
  const message = (id: number, more: object = {}) => ({ id, author: 'Tomas', initials: 'TO', at: '2026-11-20T10:00:00Z', changedAt: null, html: `<p>Words ${id}</p>`, mine: false, paper: null, ...more }) // prettier-ignore
  const topic = (id: number, title: string, messages: object[], earlier = false) => ({ id, title, matterId: 7, messages, earlier })
  const topics = [
    { id: 3, title: 'Expert', messages: 2, lastBy: 'Tomas', lastAt: '2026-11-20T10:00:00Z' },
    { id: 4, title: 'Settlement', messages: 1, lastBy: 'Noor', lastAt: '2026-11-19T10:00:00Z' },
  ]
  const open = async (routes: Record<string, unknown> = {}, address = '/matters/7/talk') => {
    const server = new Server({
      'GET /matters/7/topics': topics,
      'GET /topics/3': topic(3, 'Expert', [message(31), message(32)], true),
      'GET /topics/4': topic(4, 'Settlement', [message(41)]),
      'GET /notes': { rows: [], total: 0 },
      'GET /papers': { rows: [], total: 0 },
      ...routes,
    })
    await standAt('/matters/7/talk', address, MatterTalk)
    return { server, ...(await show(MatterTalk, { matterId: 7 })) }
  }
  const go = async (on: Awaited<ReturnType<typeof open>>, query: string) => {
    await on.router.push(`/matters/7/talk${query}`)
    await settled()
  }

  it('keeps what is typed for one topic there, and says it nowhere else', async () => {
    const on = await open({ 'POST /notes': { id: 50 } }, '/matters/7/talk?topic=3')
    await put('Answer', 'We have an expert')
    await go(on, '?topic=4')
    expect(field('Answer').value).toBe('')
    await put('Answer', 'They offered')
    await go(on, '?topic=3')
    expect(field('Answer').value).toBe('We have an expert')
    expect(somethingUnsaved()).toBe(true)
    await press(/^Say it/)
    expect(on.server.sent('POST /notes')[0]!.body).toMatchObject({ topicId: 3, html: 'We have an expert' })
    expect(field('Answer').value).toBe('')
    await go(on, '?topic=4')
    expect(field('Answer').value).toBe('They offered')
  })

  it('says why something was not said, and keeps it', async () => {
    await open({ 'POST /notes': refusal('closed', 'The matter is closed.') }, '/matters/7/talk?topic=4')
    await put('Answer', 'Too late')
    await press(/^Say it/)
    expect([screen.getByRole('alert').textContent, field('Answer').value]).toEqual(['The matter is closed.', 'Too late'])
  })

  it('reads earlier messages above those that are there', async () => {
    const on = await open({}, '/matters/7/talk?topic=3')
    on.server.on('GET /topics/3', topic(3, 'Expert', [message(29), message(30)]))
    await press('Earlier messages')
    expect(screen.getAllByRole('article').length).toBe(4)
    expect(on.server.sent('GET /topics/3').at(-1)!.query).toEqual({ before: '31' })
    expect(screen.queryByRole('button', { name: 'Earlier messages' })).toBeNull()
  })

  it('begins with a topic and its first words, and goes there', async () => {
    const on = await open({ 'POST /matters/7/topics': { id: 4 } })
    await press('Begin a topic')
    await put('Topic', 'Settlement')
    await put('First words', 'Shall we?')
    await press('Begin it')
    expect(on.server.sent('POST /matters/7/topics')[0]!.body).toEqual({ title: 'Settlement', html: 'Shall we?' })
    expect([on.router.currentRoute.value.query, somethingUnsaved()]).toEqual([{ topic: '4' }, false])
  })

  it('says that a topic cannot be read', async () => {
    await open({ 'GET /topics/9': refusal('gone', 'There is no such topic.') }, '/matters/7/talk?topic=9')
    expect(lastNote()?.text).toBe('A part of this page could not be read: There is no such topic.')
  })

  it('takes a note of one’s own out only after it was asked', async () => {
    const on = await open({ 'GET /topics/4': topic(4, 'Settlement', [message(41, { mine: true })]), 'DELETE /notes/41': { ok: true } }, '/matters/7/talk?topic=4') // prettier-ignore
    await press('Take out')
    expect(question.asked?.words).toBe('Its words are gone for everybody.')
    await answer(true)
    expect(on.server.sent('DELETE /notes/41')).toHaveLength(1)
  })
})

describe('a board of cards', () => {
  const card = (id: number, name: string) => ({ id, name, number: `26-${id}`, lead: 'Noor', stageId: 1, next: null })
  const board = { columns: [{ key: '1', name: 'Pleadings', count: 1, cards: [card(7, 'Gannet')] }, { key: '2', name: 'Discovery', count: 0, cards: [] }] } // prettier-ignore
  const open = async (routes: Record<string, unknown> = {}) => {
    const server = new Server({ 'GET /matters/setting': setting, 'GET /oversight/board': board, ...routes })
    await standAt('/matters/board', '/matters/board', Board)
    const on = await show(Board)
    return { server, ...on }
  }
  const column = (name: string) => within(screen.getByRole('region', { name })).queryAllByRole('button').map((b) => b.textContent.trim().slice(0, 6)) // prettier-ignore

  it('moves a card by Shift and an arrow key, with the focus, and back by Undo', async () => {
    const { server } = await open({ 'POST /matters/7/place': { before: null }, 'PUT /matters/7/place': { before: null } })
    const moved = { columns: [{ ...board.columns[0]!, count: 0, cards: [] }, { ...board.columns[1]!, count: 1, cards: [card(7, 'Gannet')] }] } // prettier-ignore
    server.on('GET /oversight/board', moved)
    await fireEvent.keyDown(screen.getByRole('button', { name: /^Gannet/ }), { key: 'ArrowRight', shiftKey: true })
    await settled()
    expect(server.asked.find((a) => a.path === '/matters/7/place')!.body).toMatchObject({ by: 'stage', from: '1', to: '2' })
    expect([column('Pleadings'), column('Discovery')]).toEqual([[], ['Gannet']])
    expect(document.activeElement?.textContent).toContain('Gannet')
    expect(lastNote()?.text).toBe('Gannet is at Discovery now')
  })

  it('puts a card back where a move was refused, though nothing that is read anew differs', async () => {
    const cards = [{ key: '1', name: 'One', count: 1, note: '', cards: [{ id: 7 }] }, { key: '2', name: 'Two', count: 0, note: '', cards: [] }] // prettier-ignore
    const { emitted, rerender } = await show(CardBoard as Component, { label: 'Cards', columns: cards, moves: true })
    await fireEvent.keyDown(document.querySelector('[data-card="7"]')!, { key: 'ArrowRight', shiftKey: true })
    const [, from, to, back] = emitted('move')![0] as [unknown, string, string, () => void]
    expect([from, to]).toEqual(['1', '2'])
    back()
    await rerender({ columns: cards })
    await settled()
    expect(document.querySelector('section[aria-label="One"] [data-card="7"]')).not.toBeNull()
    expect((document.activeElement as HTMLElement).dataset['card']).toBe('7')
  })
})

describe('sources of funding', () => {
  it('that were begun by mistake are taken out again; those that are kept are retired', async () => {
    const server = new Server({ 'GET /time/fields': { fields: ['funding'], funding: [{ id: 2, name: 'Harbor Fund', from: null, to: null, retired: false }] }, 'GET /field-groups': [], 'GET /phrases': [], 'GET /activities': [], 'GET /firm-words': [], 'GET /spelling': { words: [], names: [] }, 'PUT /time/fields': { ok: true } }) // prettier-ignore
    await standAt('/set-up/time', '/set-up/time', TimeFields)
    await show(TimeFields)
    await press('Add a source')
    expect(screen.queryByRole('button', { name: 'Take out source 1' })).toBeNull()
    await press('Take out source 2')
    await fireEvent.click(screen.getByLabelText('Retired'))
    await fireEvent.click(screen.getAllByRole('button', { name: 'Save' })[0]!)
    await settled()
    expect(server.sent('PUT /time/fields')[0]!.body).toEqual({ fields: ['funding'], funding: [{ id: 2, name: 'Harbor Fund', from: null, to: null, retired: true }] }) // prettier-ignore
  })
})
