import { cleanup, configure, fireEvent, render, screen } from '@testing-library/vue'
import userEvent from '@testing-library/user-event'
import type { DocketRow, Me, Right } from '@heron/contract'
import { createPinia, setActivePinia } from 'pinia'
import { afterEach, beforeEach, expect, vi } from 'vitest'
import { nextTick, type Component } from 'vue'
import { createMemoryHistory, createRouter, type Router } from 'vue-router'
import { useNotes } from '../src/shell/notes'
import { useSession } from '../src/shell/session'
import { question } from '../src/ui/question'

// What is hidden from readers is looked into in a real browser; here it would only cost time.
configure({ defaultHidden: true, getElementError: (message) => new Error(message ?? 'not found') })

export const today = '2026-11-23'

/** One request as it reached the server. */
export interface Asked {
  method: string
  path: string
  query: Record<string, string>
  body: Record<string, unknown>
  key: string | null
}
type Reply = unknown | ((asked: Asked) => unknown)

/** What the server says when it refuses. */
export class Refusal {
  constructor(
    readonly status: number,
    readonly body: { code: string; detail: string; fields?: { path: string; message: string }[] },
  ) {}
}
export const refusal = (code: string, detail: string) => new Refusal(409, { code, detail })
export const faults = (...fields: [path: string, message: string][]) =>
  new Refusal(422, {
    code: 'invalid',
    detail: 'Look at the marked fields.',
    fields: fields.map(([path, message]) => ({ path, message })),
  })
/** An answer that got lost on the way, whatever the server did. */
export const lost = new Refusal(502, { code: 'failed', detail: 'Bad gateway' })
/** A server that cannot be reached. */
export const unreachable = () => {
  throw new TypeError('fetch failed')
}

/** Routes that were asked for and have no answer: each fails its test. */
let unanswered: string[] = []
/** What the framework complains of: what is handed on wrongly looks right until it is seen. */
let complained: string[] = []

/** A server of the test's own making: routes as `PUT /docket/5`, each with its answer. What it was asked is kept. */
export class Server {
  readonly asked: Asked[] = []
  constructor(private readonly routes: Record<string, Reply>) {
    vi.stubGlobal('fetch', (request: Request) => this.answer(request))
  }
  on(route: string, reply: Reply) {
    this.routes[route] = reply
  }
  /** What was sent to a route, oldest first. */
  sent(route: string): Asked[] {
    return this.asked.filter((a) => `${a.method} ${a.path}` === route)
  }
  private async answer(request: Request): Promise<Response> {
    const url = new URL(request.url)
    const written = await request.text()
    const asked: Asked = {
      method: request.method,
      path: url.pathname.replace(/^\/api/, ''),
      query: Object.fromEntries(url.searchParams),
      // A form with a file is told by its length alone.
      body: (written.startsWith('{') ? JSON.parse(written) : { form: written.length }) as Record<string, unknown>,
      key: request.headers.get('idempotency-key'),
    }
    this.asked.push(asked)
    // The key of an act is made by chance.
    const route = `${asked.method} ${asked.path.replace(/^\/acts\/.*/, '/acts/{key}')}`
    if (!(route in this.routes)) unanswered.push(route)
    const reply = this.routes[route]
    const said: unknown = await (typeof reply === 'function' ? (reply as (asked: Asked) => unknown)(asked) : reply)
    const [status, body] = said instanceof Refusal ? [said.status, said.body] : [200, said]
    return new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } })
  }
}

/** An answer that comes when the test says so. */
export function later<T>() {
  let come!: (value: T) => void
  const promise = new Promise<T>((done) => (come = done))
  return { promise, come }
}

/** The rights of a lawyer on the docket; fewer where a test says so. */
const usual: Right[] = ['docket.see', 'docket.change', 'docket.rules', 'papers.see', 'tasks.change', 'matters.see']
let router: Router

beforeEach(() => {
  unanswered = []
  complained = []
  vi.spyOn(console, 'warn').mockImplementation((...words: unknown[]) => void complained.push(String(words[0])))
  setActivePinia(createPinia())
  // What the browser has and the test's document has not.
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe() {}
      unobserve() {}
      disconnect() {}
    },
  )
  router = createRouter({ history: createMemoryHistory(), routes: [{ path: '/:all(.*)*', component: { template: '<p></p>' } }] })
  void router.push('/docket')
  signIn()
})
afterEach(() => {
  question.answer(false)
  cleanup()
  document.body.replaceChildren()
  vi.unstubAllGlobals()
  expect(unanswered).toEqual([])
  expect(complained.filter((words) => words.startsWith('[Vue warn]'))).toEqual([])
})

export function signIn(more: Partial<Me> = {}) {
  const session = useSession()
  session.today = today
  session.set({ id: 2, name: 'Noor Haddad-Lind', initials: 'NH', role: 'lawyer', rights: usual, csrf: 't', mayOverride: false, ...more })
}

/** Stands at an address whose page is this component. */
export async function standAt(path: string, address: string, component: Component) {
  router.addRoute({ path, component })
  await router.push(address)
}

/** Shows a component as a page would, with a person who types and presses. */
export async function show(component: Component, props: Record<string, unknown> = {}) {
  // Taken down with the last page, the router stands nowhere, and would never be ready.
  if (!router.currentRoute.value.matched.length) void router.push('/docket')
  await router.isReady()
  const shown = render(component, { props, global: { plugins: [router] } })
  await settled()
  return { ...shown, user: userEvent.setup(), router }
}

/** Waits until what was asked has been answered and is on the page. */
export async function settled() {
  for (let i = 0; i < 6; i += 1) {
    await new Promise((done) => setTimeout(done, 0))
    await nextTick()
  }
}
/** Waits for two frames, after which a field that is searched in takes what is chosen for more than typing that still goes on. */
export const drawn = () => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))
/** A field by its label, what is typed into it, and whether it is marked as wrong. */
export const field = (name: string | RegExp) => screen.getByLabelText(name) as HTMLInputElement
export const put = (name: string | RegExp, text: string) => fireEvent.update(field(name), text)
export const wrong = (name: string | RegExp) => field(name).getAttribute('aria-invalid') === 'true'
/** Presses a button, and waits for what comes of it. */
export async function press(name: string | RegExp) {
  await fireEvent.click(screen.getByRole('button', { name }))
  await settled()
}
/** Answers the question that stands over the page; without one the test fails. */
export async function answer(yes: boolean) {
  expect(question.asked).not.toBeNull()
  question.answer(yes)
  await settled()
}
/** The latest line that says what was done. */
export const lastNote = () => useNotes().notes.at(-1)

/** A counted date: an answer due two court days from today. */
export const entry = (more: Partial<DocketRow> = {}): DocketRow => ({
  id: 5,
  ruleSetKey: 'us-federal-civil',
  matterId: 7,
  matter: 'Gannet Ferry v. Corvane',
  title: 'Answer',
  text: 'Serve an answer',
  authority: 'Fed. R. Civ. P. 12(a)(1)(A)(i)',
  link: null,
  weight: 'rule',
  day: '2026-11-25',
  beforeRoll: '2026-11-25',
  time: null,
  lengthMinutes: null,
  place: '',
  zone: 'America/New_York',
  dayEnds: '',
  howCounted: '21 calendar days after complaint served',
  trace: [{ text: 'Counted from complaint served, Wed 4 Nov 2026; that day is not counted', date: '2026-11-04' }],
  leftOut: false,
  mark: 'open',
  urgent: false,
  provisional: false,
  tentative: false,
  trigger: { id: 3, label: 'Complaint served', day: '2026-11-04', service: 'hand' },
  setBy: 'rule',
  ruleDay: null,
  how: '21 calendar days after complaint served',
  metOn: null,
  isEvent: false,
  reason: '',
  paper: null,
  offCalendar: false,
  meetingLink: '',
  responsibleId: 2,
  tags: [],
  attendees: [],
  papers: [],
  sentTo: [],
  series: null,
  leads: null,
  responsible: 'Noor Haddad-Lind',
  courtDays: 2,
  version: 40,
  ...more,
})
/** An appointment, which no rule counted. */
export const appointment = (more: Partial<DocketRow> = {}) =>
  entry({ title: 'Meet the client', weight: 'appointment', trigger: null, setBy: 'hand', trace: [], authority: '', time: '14:00', ...more })

export const setting = {
  staff: [
    { id: 2, name: 'Noor Haddad-Lind', title: 'Partner' },
    { id: 3, name: 'Tomas Okafor-Reyes', title: 'Associate' },
  ],
  areas: [{ id: 1, name: 'Admiralty' }],
  ruleSets: [{ key: 'us-federal-civil', title: 'U.S. federal civil' }],
}
