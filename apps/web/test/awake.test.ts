import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { defineComponent, h } from 'vue'
import { useNews } from '../src/matters/news'
import { useAwake } from '../src/shell/awake'
import { changedHere } from '../src/shell/live'
import { useSession } from '../src/shell/session'
import { answers } from '../src/shown'
import { useUnsaved } from '../src/ui/unsaved'
import { lastNote, Server, settled, show, today } from './stage'

let now = Date.now()
beforeEach(() => {
  now = Date.now()
  vi.spyOn(Date, 'now').mockImplementation(() => now)
})
afterEach(() => void vi.restoreAllMocks())

/** A page that is there only to use something. */
const using = (use: () => unknown) =>
  defineComponent({
    setup() {
      use()
      return () => h('p')
    },
  })

/** A page that was left for some minutes and is come back to; `answer` is what the server then says of the session. */
async function comeBack(minutes: number, answer: { today?: string; me?: unknown }, unsaved = false) {
  const session = useSession()
  session.today = today
  const came = { lost: 0, reloaded: 0 }
  new Server({ 'GET /session': { firm: 'Calloway Fenn LLP', today, empty: false, demo: null, me: session.me, ...answer } })
  await show(
    using(() => {
      useUnsaved({ changed: () => unsaved })
      useAwake(
        () => (came.lost += 1),
        () => (came.reloaded += 1),
      )
    }),
  )
  const again = vi.spyOn(answers, 'invalidateQueries')
  now += minutes * 60_000
  window.dispatchEvent(new Event('focus'))
  await settled()
  return { ...came, session, looked: again.mock.calls.length }
}

describe('a page that stands open', () => {
  it('learns the new day, and looks at everything again', async () => {
    const { session, looked } = await comeBack(1, { today: '2026-11-24' })
    expect([session.today, looked]).toEqual(['2026-11-24', 1])
    expect(lastNote()?.text).toMatch(/^It is Tue.* 24 Nov.* now$/)
  })
  it.each([
    [0.2, 0],
    [2, 0],
    [10, 1],
  ])('looks again after a while away, and not after a moment: %s minutes', async (minutes, times) => {
    expect((await comeBack(minutes, {})).looked).toBe(times)
  })
  it('loads nothing over what is typed, and says so', async () => {
    const { session, looked } = await comeBack(600, { today: '2026-11-24' }, true)
    expect([session.today, looked]).toEqual(['2026-11-24', 0])
    expect(lastNote()?.text).toMatch(/Save what you entered, then reload/)
  })
  it('is told when the session has ended', async () => {
    expect((await comeBack(10, { me: null })).lost).toBe(1)
  })
  it('is made anew for another person', async () => {
    const other = { id: 99, name: 'Orla Petrakis', initials: 'OP', role: 'bookkeeper', rights: [], csrf: 'x', mayOverride: false }
    expect((await comeBack(10, { me: other })).reloaded).toBe(1)
  })
})

describe('a matter that stands open', () => {
  it('says what others did meanwhile, until it is looked at again', async () => {
    const session = useSession()
    const others = [
      { id: 9, at: '2026-11-23T19:02:00Z', who: 'Jun Aldana', text: 'Trial set' },
      { id: 8, at: '2026-11-23T19:01:00Z', who: 'Jun Aldana', text: 'Hearing set' },
    ]
    new Server({ 'GET /matters/4/news': ({ query }: { query: Record<string, string> }) => (query['after'] === '0' ? { last: 7, others: [] } : { last: 9, others }) }) // prettier-ignore
    let got!: ReturnType<typeof useNews>
    await show(using(() => (got = useNews(4))))
    expect(got.news.value).toBe('')
    session.looked += 1
    await settled()
    expect(got.news.value).toMatch(/^Jun Aldana, .*: Trial set, and 1 more$/)
    got.again()
    await settled()
    expect(got.news.value).toBe('')
    // What is told of other matters is asked about by nobody.
    session.hear({ matters: [5], areas: ['tasks'] })
    await settled()
    expect(got.news.value).toBe('')
    session.hear({ matters: [4], areas: ['docket'] })
    await settled()
    expect(got.news.value).toMatch(/^Jun Aldana/)
  })
})

describe('what others did', () => {
  it.each([
    ['/tasks', true],
    ['/today', true],
    ['/docket', false],
    ['/matters', false],
    ['/matters/4/tasks', false],
    ['/reports', false],
  ])('told of tasks is said on %s: %s', (path, said) => expect(changedHere({ matters: [4], areas: ['tasks'] }, path)).toBe(said))
  it('is kept together until the page looks again, or another opens', () => {
    const session = useSession()
    session.heard()
    session.hear({ matters: [4], areas: ['tasks'] })
    session.hear({ matters: [5, 4], areas: ['docket', 'tasks'] })
    expect(session.others).toEqual({ matters: [4, 5], areas: ['tasks', 'docket'] })
    session.changed()
    expect(session.others).toEqual({ matters: [], areas: [] })
  })
})
