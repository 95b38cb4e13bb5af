import { screen } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import FindOrDo from '../src/shell/FindOrDo.vue'
import { type Asked, later, refusal, Server, settled, show, signIn } from './stage'

beforeEach(() => signIn({ rights: ['matters.see', 'time.record', 'bills.see', 'papers.see'] }))
const recent = [
  { id: 7, number: '26-0007', name: 'Gannet v. Corvane' },
  { id: 8, number: '26-0008', name: 'Lease of berth 9' },
]
const hits = [
  { kind: 'matter', id: 7, title: 'Gannet v. Corvane', hint: '26-0007' },
  { kind: 'bill', id: 9, title: 'Bill 1042', hint: 'Gannet Ferry' },
]
const open = async (routes: Record<string, unknown> = {}) => {
  const server = new Server({ 'GET /matters/recent': recent, 'GET /find': hits, ...routes })
  const on = await show(FindOrDo)
  const box = screen.getByRole('combobox', { name: 'Find or do' })
  return { server, ...on, type: async (text: string) => (await on.user.type(box, text), settled()) }
}
const offered = () => screen.getAllByRole('option').map((o) => o.textContent.trim().replaceAll(/\s+/g, ' '))

describe('find or do', () => {
  it('begins with the matters worked on last, and with what can be done', async () => {
    await open()
    expect(offered().slice(0, 2)).toEqual(['Gannet v. Corvane26-0007matter', 'Lease of berth 926-0008matter'])
    expect(offered().some((o) => o.startsWith('Record time'))).toBe(true)
    // What the person may not do is not offered.
    expect(offered().some((o) => o.startsWith('Open a matter'))).toBe(false)
  })

  it('goes to what is taken, each kind to its page', async () => {
    const { user, type, router, emitted } = await open()
    await type('gannet')
    await user.click(screen.getByRole('option', { name: /Bill 1042/ }))
    await settled()
    expect([router.currentRoute.value.path, emitted('close')?.length]).toEqual(['/bills/9', 1])
  })

  it.each([
    [
      'time 0.4 call with the surveyor',
      '/time?record=1&duration=0.4&words=call%20with%20the%20surveyor',
      'Record 0.4 call with the surveyor',
    ],
    ['0.4 gannet call', '/time?record=1&duration=0.4&line=gannet%20call', 'Record 0.4: gannet call'],
    ['1:15 gannet call', '/time?record=1&duration=1%3A15&line=gannet%20call', 'Record 1:15: gannet call'],
  ])('reads time to be recorded: %s', async (typed, address, words) => {
    const { user, type, router } = await open({ 'GET /find': [] })
    await type(typed)
    await user.click(screen.getByRole('option', { name: words }))
    await settled()
    expect(router.currentRoute.value.fullPath).toBe(router.resolve(address).fullPath)
  })

  it('looks a bare number up, and records none by it', async () => {
    const { type } = await open({ 'GET /find': [] })
    await type('1042')
    expect(screen.queryByRole('option', { name: /^Record 1042/ })).toBeNull()
  })

  it('answers a question for a figure, for those who see bills', async () => {
    const { type, server } = await open({ 'GET /oversight/ask': [{ title: '$6,154.00 owed', hint: 'by Gannet Ferry', to: '/reports/owed' }], 'GET /find': [] }) // prettier-ignore
    await type('owed gannet')
    expect(offered()[0]).toBe('$6,154.00 owedby Gannet Ferryfigure')
    expect(server.asked.filter((a) => a.path.endsWith('/ask')).at(-1)!.query).toEqual({ q: 'owed gannet' })
  })

  it('says that it looks, that nothing is there, and that nothing could be looked up: three things', async () => {
    const slow = later()
    const { type, server } = await open({ 'GET /find': ({ query }: Asked) => (query['q'] === 'zzq' ? slow.promise : []) })
    await type('zzq')
    expect(screen.getByRole('status').textContent.trim()).toBe('Looking …')
    slow.come([])
    await settled()
    expect(screen.getByRole('status').textContent.trim()).toBe('Nothing by these letters. Try fewer of them.')
    server.on('GET /find', refusal('failed', 'The server is being renewed.'))
    await type('x')
    expect(screen.getByRole('alert').textContent).toBe('Nothing can be looked up: The server is being renewed.')
  })
})
