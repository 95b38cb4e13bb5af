import { fireEvent, screen } from '@testing-library/vue'
import { defineComponent, h, ref } from 'vue'
import { describe, expect, it } from 'vitest'
import { api, asks } from '../src/api'
import { useNotes } from '../src/shell/notes'
import { useShown } from '../src/shown'
import Pager from '../src/ui/Pager.vue'
import { useAct, useLoad } from '../src/use'
import { faults, lastNote, press, refusal, Refusal, Server, settled, show } from './stage'

describe('what could not be read', () => {
  const page = (read: 'load' | 'shown', tells: boolean) =>
    defineComponent(() => {
      const got = read === 'load' ? useLoad(() => api.notes.mentions()) : useShown(() => asks.notes.mentions.queryOptions())
      const { data } = got
      const problem = tells ? got.problem : null
      return () => h('div', [h('p', data.value ? 'read' : 'nothing'), problem?.value ? h('p', { role: 'alert' }, problem.value) : null])
    })
  for (const read of ['load', 'shown'] as const) {
    it(`is said by a note where the page does not say it (${read})`, async () => {
      new Server({ 'GET /mentions': refusal('failed', 'The server is being renewed.') })
      await show(page(read, false))
      expect(lastNote()?.text).toBe('A part of this page could not be read: The server is being renewed.')
    })
    it(`is left to the page where it says it (${read})`, async () => {
      new Server({ 'GET /mentions': refusal('failed', 'The server is being renewed.') })
      await show(page(read, true))
      expect([screen.getByRole('alert').textContent, lastNote()]).toEqual(['The server is being renewed.', undefined])
    })
  }
  it('says nothing of its own to whoever is signed out: they are asked to sign in', async () => {
    new Server({ 'GET /mentions': new Refusal(401, { code: 'signed-out', detail: 'Sign in.' }) })
    await show(page('shown', false))
    expect(lastNote()).toBeUndefined()
  })
})

describe('what was refused', () => {
  const page = (tells: 'nowhere' | 'in words' | 'at its field') =>
    defineComponent(() => {
      const { state, act, fault } = useAct(tells === 'nowhere' ? () => true : undefined)
      return () =>
        h('div', [
          h('button', { onClick: () => act(() => api.time.startTimer({ matterId: 5, text: '' })) }, 'Start'),
          tells === 'in words' && state.message ? h('p', { role: 'alert' }, state.message) : null,
          tells === 'at its field' ? h('span', fault('text')) : null,
        ])
    })
  const refused = async (tells: Parameters<typeof page>[0], answer: unknown) => {
    new Server({ 'POST /timers': answer })
    await show(page(tells))
    await press('Start')
    await settled()
    return lastNote()?.text
  }
  const ended = refusal('closed', 'The matter is closed.')
  const empty = faults(['text', 'Say what it is'], ['matterId', 'Choose a matter'])
  it('is said by a note where the page has no place for it', async () => {
    expect(await refused('nowhere', ended)).toBe('The matter is closed.')
    // Told once, however often it is pressed.
    await press('Start')
    expect(useNotes().notes.map((n) => n.text)).toEqual(['The matter is closed.'])
  })
  it('is said by a note where the page takes faults for shown and shows them nowhere', async () =>
    expect(await refused('nowhere', empty)).toBe('Say what it is. Choose a matter'))
  it('is not said twice', async () => expect(await refused('in words', ended)).toBeUndefined())
  it('is said for the part that stands at no field', async () => expect(await refused('at its field', empty)).toBe('Choose a matter'))
})

describe('pages of a list', () => {
  const list = (total: number, begin: number) => {
    const [count, at] = [ref(total), ref(begin)]
    return { count, at, page: defineComponent(() => () => h(Pager, { total: count.value, size: 50, what: 'bills', modelValue: at.value, 'onUpdate:modelValue': (n: number) => (at.value = n) })) } // prettier-ignore
  }
  it('lead to the last one there is when rows went, and to the first of an empty list', async () => {
    const { count, at, page } = list(101, 3)
    await show(page)
    count.value = 100
    await settled()
    expect([at.value, screen.getByText('51–100 of 100 bills')]).toBeTruthy()
    expect(at.value).toBe(2)
    count.value = 0
    await settled()
    expect([at.value, screen.getByText('No bills') !== null]).toEqual([1, true])
  })
  it('stay where an address begins until something was counted', async () => {
    const { count, at, page } = list(0, 3)
    await show(page)
    expect(at.value).toBe(3)
    count.value = 120
    await settled()
    expect(at.value).toBe(3)
    await fireEvent.click(screen.getByRole('button', { name: 'Earlier' }))
    expect(at.value).toBe(2)
  })
})
