import { screen } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import { defineComponent, h, ref } from 'vue'
import { asks, api } from '../src/api'
import { recent, useShown } from '../src/shown'
import { useSession } from '../src/shell/session'
import { later, refusal, Server, settled, show, signIn } from './stage'

const page = ref(1)
beforeEach(() => {
  page.value = 1
  open.value = true
})
/** A page that lists matters, and says what it shows. */
const List = defineComponent({
  setup() {
    const { data, problem, loading } = useShown(() =>
      page.value ? asks.matters.list.queryOptions({ input: { page: page.value, size: 50 } as never }) : null,
    )
    return () =>
      h('p', { role: 'status' }, [
        data.value ? data.value.rows.map((r) => r.name).join(', ') : 'nothing',
        problem.value && `; ${problem.value}`,
        loading.value && ' (asking)',
      ])
  },
})
/** The page can be left and come back to. */
const open = ref(true)
const Shell = defineComponent(() => () => (open.value ? h(List) : null))
async function leave() {
  open.value = false
  await settled()
}
async function comeBack() {
  open.value = true
  await settled()
}
const stands = () => screen.getByRole('status').textContent
const matters = (...names: string[]) => ({ rows: names.map((name) => ({ name })), total: names.length })
const asked = (server: Server) => server.sent('GET /matters').map((a) => a.query['page'])

describe('what a page shows', () => {
  it('stands there as it was when one comes back, until the new answer comes', async () => {
    const server = new Server({ 'GET /matters': matters('Gannet Ferry') })
    await show(Shell)
    await leave()
    const answer = later()
    server.on('GET /matters', answer.promise)
    await comeBack()
    expect(stands()).toBe('Gannet Ferry (asking)')
    answer.come(matters('Gannet Ferry', 'Orrin Slip'))
    await settled()
    expect(stands()).toBe('Gannet Ferry, Orrin Slip')
  })

  it('is asked once for two who show the same, and again when something was done', async () => {
    const server = new Server({ 'GET /matters': matters('Gannet Ferry') })
    await show(defineComponent(() => () => [h(List), h(List)]))
    expect(asked(server)).toEqual(['1'])
    server.on('GET /matters', matters('Orrin Slip'))
    useSession().changed()
    await settled()
    expect(asked(server)).toEqual(['1', '1'])
    expect(screen.getAllByRole('status').map((s) => s.textContent)).toEqual(['Orrin Slip', 'Orrin Slip'])
  })

  it('is not kept past an act, a word that others changed something, or the person it was shown to', async () => {
    const server = new Server({
      'GET /matters': matters('Gannet Ferry'),
      'PUT /mentions/{id}': { ok: true },
      'DELETE /session': { ok: true },
    })
    const past: (() => unknown)[] = [
      () => api.shell.signOut(),
      () => useSession().hear({ matters: [7], areas: ['matters'] }),
      () => signIn({ id: 3 }),
    ]
    await show(Shell)
    for (const happens of past) {
      server.on('GET /matters', matters('Gannet Ferry'))
      await comeBack()
      await leave()
      await happens()
      server.on('GET /matters', later().promise)
      await comeBack()
      expect(stands()).toBe('nothing (asking)')
      await leave()
    }
  })

  it('stays while the next page is asked, and no late answer of the page before stands in its place', async () => {
    const server = new Server({ 'GET /matters': matters('One') })
    await show(List)
    const [second, third] = [later(), later()]
    server.on('GET /matters', (a: { query: Record<string, string> }) => (a.query['page'] === '2' ? second : third).promise)
    page.value = 2
    await settled()
    expect(stands()).toBe('One (asking)')
    page.value = 3
    await settled()
    third.come(matters('Three'))
    await settled()
    second.come(matters('Two'))
    await settled()
    expect(stands()).toBe('Three')
  })

  it('shows nothing of the one before where nothing was asked in between', async () => {
    const server = new Server({ 'GET /matters': matters('One') })
    await show(List)
    page.value = 0
    await settled()
    expect(stands()).toBe('nothing')
    const second = later()
    server.on('GET /matters', second.promise)
    page.value = 2
    await settled()
    expect(stands()).toBe('nothing (asking)')
    second.come(matters('Two'))
    await settled()
    expect(stands()).toBe('Two')
  })

  it('says why there is no answer, and shows nothing where nothing is asked', async () => {
    new Server({ 'GET /matters': refusal('closed', 'This matter is closed to you.') })
    await show(List)
    expect(stands()).toBe('nothing; This matter is closed to you.')
    page.value = 0
    await settled()
    expect(stands()).toBe('nothing')
  })
})

it('asks what can be chosen from once for a while, and anew after an act', async () => {
  const server = new Server({ 'GET /contact-kinds': [], 'DELETE /session': { ok: true } })
  const kinds = () => recent(asks.people.kinds.queryOptions())
  await Promise.all([kinds(), kinds()])
  await kinds()
  expect(server.sent('GET /contact-kinds')).toHaveLength(1)
  await api.shell.signOut()
  await kinds()
  expect(server.sent('GET /contact-kinds')).toHaveLength(2)
})
