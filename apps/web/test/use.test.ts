import { describe, expect, it } from 'vitest'
import { defineComponent, h, ref } from 'vue'
import { useAddress } from '../src/address'
import { api } from '../src/api'
import { useAct, useLoad } from '../src/use'
import { faults, later, lost, refusal, Server, settled, show, unreachable } from './stage'

/** A component that is only there to hold what a composable gives. */
function held<T>(use: () => T, draw: (got: T) => unknown = () => '') {
  let got!: T
  const component = defineComponent({
    setup() {
      got = use()
      return () => h('p', String(draw(got)))
    },
  })
  return { component, got: () => got }
}

describe('what a page loads', () => {
  it('shows the latest answer, also when an earlier one comes after it', async () => {
    const replies = [later<number>(), later<number>()]
    let asked = 0
    const tick = ref(0)
    const { component, got } = held(() => useLoad(() => replies[asked++]!.promise, [tick]))
    await show(component)
    tick.value = 1
    await settled()
    replies[1]!.come(2)
    await settled()
    replies[0]!.come(1)
    await settled()
    expect([got().data.value, got().loading.value]).toEqual([2, false])
  })
  it('keeps what was there while it loads again, and when that fails says why', async () => {
    let fails = false
    const { component, got } = held(() =>
      useLoad(() => (fails ? Promise.reject(new Error('The server does not answer.')) : Promise.resolve('the list'))),
    )
    await show(component)
    fails = true
    await got().reload()
    expect([got().data.value, got().problem.value]).toEqual(['the list', 'The server does not answer.'])
    fails = false
    await got().reload()
    expect(got().problem.value).toBe('')
  })
})

describe('an act', () => {
  const mark = () => api.docket.mark({ id: 5, mark: 'met' })

  it('runs once however often it is pressed', async () => {
    const slow = later<unknown>()
    const server = new Server({ 'PUT /docket/5/mark': () => slow.promise })
    const { component, got } = held(useAct)
    await show(component)
    const first = got().act(() => mark())
    expect([got().state.busy, await got().act(() => mark())]).toEqual([true, null])
    slow.come({ ok: true })
    expect([await first, got().state.busy, server.asked.length]).toEqual([{ ok: true }, false, 1])
  })
  it('keeps its key until the server has taken or refused it, so that a repeat never posts twice', async () => {
    const server = new Server({ 'PUT /docket/5/mark': unreachable, 'GET /acts/{key}': unreachable })
    const { component, got } = held(useAct)
    await show(component)
    const go = () => got().act(() => mark())
    await go()
    expect(got().state.message).toContain('It is not known whether this was done')
    expect(got().state.message).toContain('What you entered is kept')
    server.on('PUT /docket/5/mark', refusal('closed', 'It is closed.'))
    await go()
    server.on('PUT /docket/5/mark', { ok: true })
    await go()
    await go()
    const keys = server.sent('PUT /docket/5/mark').map((a) => a.key)
    expect([keys[0] === keys[1], keys[1] === keys[2], keys[2] === keys[3]]).toEqual([true, false, false])
  })
  it('whose answer was lost is asked for by its key: done, it goes on; not done, its key stays', async () => {
    const server = new Server({ 'PUT /docket/5/mark': lost, 'GET /acts/{key}': { done: false, answer: null } })
    const { component, got } = held(useAct)
    await show(component)
    const go = () => got().act(() => mark())
    expect(await go()).toBeNull()
    expect(got().state.message).toContain('was not done')
    server.on('GET /acts/{key}', { done: true, answer: { ok: true } })
    expect(await go()).toEqual({ ok: true })
    expect(got().state.message).toBe('')
    const [first, second] = server.sent('PUT /docket/5/mark').map((a) => a.key)
    expect(first).toBe(second)
    expect(server.asked.at(-1)!.path).toBe(`/acts/${first}`)
  })
  it('of several calls may have been done in part, and says so', async () => {
    new Server({ 'PUT /docket/5/mark': lost })
    const { component, got } = held(useAct)
    await show(component)
    await got().act(async () => {
      await mark()
      await mark()
    })
    expect(got().state.message).toContain('Look whether it was done')
  })
  it('is not begun while a field in front of the reader cannot be read: nothing it held is turned into nothing', async () => {
    const server = new Server({ 'PUT /docket/5/mark': { ok: true } })
    const { component, got } = held(useAct)
    await show(component)
    const field = document.body.appendChild(document.createElement('input'))
    field.dataset['unread'] = 'Engaged on'
    expect(await got().act(() => mark())).toBeNull()
    expect([got().state.message.includes('“Engaged on” cannot be read'), server.asked.length]).toEqual([true, 0])
    field.remove()
    expect(await got().act(() => mark())).toEqual({ ok: true })
  })
  it('puts a fault at its field; one that no field of the page shows is told as a message', async () => {
    const server = new Server({ 'PUT /docket/5/mark': faults(['mark', 'Choose a mark'], ['other', 'Not shown']) })
    const { component, got } = held(useAct, (it) => it.fault('mark'))
    const { container } = await show(component)
    await got().act(() => mark())
    expect(container.textContent).toBe('Choose a mark')
    server.on('PUT /docket/5/mark', faults(['elsewhere', 'The party is gone']))
    await got().act(() => mark())
    expect([container.textContent, got().state.message, got().state.fields]).toEqual(['', 'The party is gone', []])
  })
})

describe('what a page shows, in its address', () => {
  const usual = { view: 'agenda', q: '', span: '20' }
  const at = async (path: string) => {
    const { component, got } = held(() => useAddress(usual, ['view']))
    const { router } = await show({ render: () => '' })
    await router.push(path)
    const shown = await show(component)
    return { router: shown.router, s: got() }
  }
  it('is read from it, and what is usual is left away', async () => {
    const { router, s } = await at('/docket?view=week&q=gannet&unknown=1')
    expect({ ...s }).toEqual({ view: 'week', q: 'gannet', span: '20' })
    s.q = ''
    s.span = '5'
    await settled()
    expect(router.currentRoute.value.query).toEqual({ view: 'week', span: '5' })
  })
  it('is put back by Back for a step such as another view, not for each letter typed', async () => {
    const { router, s } = await at('/docket')
    s.view = 'week'
    await settled()
    s.q = 'g'
    await settled()
    s.q = 'ga'
    await settled()
    router.back()
    await settled()
    expect({ ...s }).toEqual(usual)
  })
  it('is not put back by its own navigation when more was typed meanwhile', async () => {
    const { router, s } = await at('/docket')
    for (const q of ['g', 'ga', 'gan']) {
      s.q = q
      await Promise.resolve()
    }
    await settled()
    expect([s.q, router.currentRoute.value.query['q']]).toEqual(['gan', 'gan'])
  })
})
