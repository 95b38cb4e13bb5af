import { fireEvent, screen, waitFor } from '@testing-library/vue'
import { h } from 'vue'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import Docket from '../src/docket/Docket.vue'
import { useNotes } from '../src/shell/notes'
import { appointment, entry, field, lastNote, press, refusal, Server, setting, settled, show, signIn, standAt } from './stage'

interface Dropped {
  row: ReturnType<typeof entry>
  to: { day: string; time: string | null; lengthMinutes: number | null }
}
const drop: { let?: (what: Dropped) => void; back: number } = { back: 0 }
// The calendar is drawn by a package; here it only says what it was given, and lets go of what a test drags.
vi.mock('../src/docket/Calendar.vue', () => ({
  __esModule: true,
  default: {
    props: ['view', 'day', 'rows', 'mayChange'],
    emits: ['open', 'move', 'add'],
    render(this: {
      $emit: (event: string, ...args: unknown[]) => void
      view: string
      day: string
      rows: { title: string }[]
      mayChange: boolean
    }) {
      drop.let = ({ row, to }) => this.$emit('move', row, to, () => (drop.back += 1))
      return h(
        'p',
        { 'data-calendar': '' },
        `${this.view} ${this.day} ${this.mayChange ? 'changes' : 'shows'}: ${this.rows.map((r) => r.title).join(', ')}`,
      )
    },
  },
}))

beforeEach(() => {
  localStorage.clear()
  drop.back = 0
  signIn({ rights: ['docket.see', 'docket.change', 'matters.see'] })
})
const meeting = appointment({ id: 9, day: '2026-11-24', version: 4 })
const agenda = { today: '2026-11-23', until: '2026-12-21', rows: [entry(), meeting], late: [], more: { rows: false, late: false }, closed: [{ day: '2026-11-26', name: 'Thanksgiving' }, { day: '2026-12-25', name: 'Christmas' }], courtDays: {} } // prettier-ignore
const open = async (address = '/docket', routes: Record<string, unknown> = {}) => {
  const server = new Server({ 'GET /docket': agenda, 'GET /my-hours': { from: '09:00', to: '17:00', zone: 'America/Los_Angeles', firmZone: 'America/New_York' }, 'GET /matters/setting': setting, 'GET /views': [], ...routes }) // prettier-ignore
  await standAt('/docket', address, Docket)
  return { server, ...(await show(Docket)) }
}
const asked = (server: Server) => server.sent('GET /docket').at(-1)!.query
const calendar = () => document.querySelector('[data-calendar]')?.textContent

describe('the docket', () => {
  it('asks for one’s own dates of four weeks of court days, and of the firm’s for the clerk', async () => {
    const { server } = await open()
    expect(asked(server)).toMatchObject({ from: '2026-11-23', courtDays: '20', scope: 'mine' })
    signIn({ role: 'docket clerk', rights: ['docket.see', 'docket.change'] })
    expect(asked((await open()).server)['scope']).toBe('firm')
  })

  it('is narrowed by words, person, weight and what to look for, and keeps that in the address', async () => {
    const { server, router, user } = await open()
    await user.type(field('Words'), 'answer')
    await fireEvent.update(field('Person'), '3')
    await fireEvent.update(field('Weight'), 'strict')
    await fireEvent.update(field('Look for'), 'late')
    await waitFor(() => expect(asked(server)).toMatchObject({ q: 'answer', userId: '3', weight: 'strict', only: 'late' }))
    expect(router.currentRoute.value.query).toEqual({ q: 'answer', userId: '3', weight: 'strict', only: 'late' })
  })

  it.each([
    ['week', '2026-11-23', '2026-11-29', 'week 2026-11-23 changes: Answer, Meet the client'],
    ['month', '2026-10-26', '2026-12-06', 'month 2026-11-01 changes: Answer, Meet the client'],
  ])('shows whole weeks as a %s', async (view, from, to, words) => {
    const { server } = await open(`/docket?view=${view}`)
    expect(asked(server)).toMatchObject({ from, to, onCalendar: 'true', size: '1000' })
    await waitFor(() => expect(calendar()).toBe(words))
    expect(screen.getByText(/^Closed:/).textContent.trim()).toBe('Closed: Thu 26 Nov, Thanksgiving')
    expect(screen.getByText(/Los Angeles time/)).toBeTruthy()
  })

  it('goes on by a week or a month, and back to today; Back goes back one', async () => {
    const { server, router } = await open('/docket?view=month&day=2027-01-31')
    expect(screen.getByRole('status').textContent).toBe('January 2027')
    await press('After')
    expect([asked(server)['from'], screen.getByRole('status').textContent]).toEqual(['2027-02-01', 'February 2027'])
    router.back()
    await waitFor(() => expect(screen.getByRole('status').textContent).toBe('January 2027'))
    await press('Today')
    expect(screen.getByRole('status').textContent).toBe('November 2026')
  })

  it('says when there is more than fits, and why nothing is shown', async () => {
    const { server } = await open('/docket?view=line', { 'GET /docket': { ...agenda, more: { rows: true, late: false } } })
    expect(screen.getByText(/There are more dates than are shown here/)).toBeTruthy()
    server.on('GET /docket', refusal('failed', 'The docket is being renewed.'))
    await fireEvent.update(field('Weight'), 'rule')
    await settled()
    expect(screen.getByRole('alert').textContent).toContain('The docket is being renewed.')
  })
})

describe('what is dragged in the calendar', () => {
  const stand = async (routes: Record<string, unknown> = {}) => {
    const on = await open('/docket?view=week', routes)
    await waitFor(() => expect(drop.let).toBeTruthy())
    return on
  }
  const at = { day: '2026-11-25', time: '15:30', lengthMinutes: 45 } as const

  it('moves an appointment, with Undo to the hour it had', async () => {
    const { server } = await stand({ 'PUT /docket/9/when': { ok: true } })
    drop.let!({ row: meeting, to: at })
    await settled()
    expect(server.sent('PUT /docket/9/when')[0]!.body).toEqual({ ...at, version: 4 })
    expect(lastNote()?.text).toBe('Meet the client moved to Wed 25 Nov')
    await useNotes().undo(lastNote()!)
    expect(server.sent('PUT /docket/9/when')[1]!.body).toEqual({ day: '2026-11-24', time: '14:00', lengthMinutes: null })
    expect(drop.back).toBe(0)
  })

  it('puts it back, and says why, where it was refused', async () => {
    await stand({ 'PUT /docket/9/when': refusal('changed-meanwhile', 'Noor moved it meanwhile.') })
    drop.let!({ row: meeting, to: at })
    await settled()
    expect([drop.back, lastNote()?.text]).toEqual([1, 'Noor moved it meanwhile.'])
  })

  it('asks why of a counted date, and leaves its hour to its sheet', async () => {
    const { server } = await stand({ 'GET /docket/5': entry(), 'GET /docket/5/history': [] })
    drop.let!({ row: entry(), to: { day: '2026-11-25', time: '09:00', lengthMinutes: null } })
    await settled()
    expect([drop.back, lastNote()?.text, screen.queryByRole('dialog')]).toEqual([1, 'The hour of a counted date is changed on its sheet: open it, then Change', null]) // prettier-ignore
    drop.let!({ row: entry(), to: { day: '2026-11-30', time: null, lengthMinutes: null } })
    await settled()
    expect([drop.back, screen.getByRole('dialog') !== null]).toEqual([2, true])
    expect(server.asked.filter((a) => a.method === 'PUT')).toEqual([])
  })
})
