import { fireEvent, screen, within } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import FeeShares from '../src/billing/FeeShares.vue'
import BillingSheet from '../src/matters/BillingSheet.vue'
import ScheduleSheet from '../src/reports/ScheduleSheet.vue'
import Notices from '../src/today/Notices.vue'
import Reminders from '../src/today/Reminders.vue'
import Today from '../src/today/Today.vue'
import { entry, lastNote, later, press, refusal, Server, settled, show, signIn } from './stage'

beforeEach(() => {
  localStorage.clear()
  signIn({ rights: ['docket.see', 'time.record', 'matters.see', 'matters.open', 'bills.see'] })
})
const told = (element: Element | null) => element?.textContent?.trim().replaceAll(/\s+/g, ' ')
const none = { preBills: null, approved: null, sheets: null, covers: 0, agree: 0, conflicts: 0, enquiries: 0, given: 0, stuck: 0, mail: 0, reviews: 0, stoppedJournals: 0, stoppedBills: 0, stoppedCosts: 0 } // prettier-ignore
const agenda = { today: '2026-11-23', until: '2026-12-07', rows: [entry(), entry({ id: 6, title: 'Reply', courtDays: 7 })], late: [entry({ id: 4, title: 'Disclosures', courtDays: -3, day: '2026-11-18' })], more: { rows: false, late: false }, closed: [], courtDays: {} } // prettier-ignore
const day = { rows: [], together: { minutes: 0, worth: 0 }, days: [], matters: [], goal: 450 }
const open = async (routes: Record<string, unknown> = {}) => {
  const server = new Server({ 'GET /docket': agenda, 'GET /time': day, 'GET /waiting': none, 'GET /reminders': { rows: [] }, 'GET /mentions': [], 'GET /notices': { rows: [], upTo: 5 }, 'GET /tasks': { rows: [], total: 0 }, ...routes }) // prettier-ignore
  return { server, ...(await show(Today)) }
}

describe('the page with which the day begins', () => {
  it('says in a line what is near and what is late', async () => {
    await open()
    expect(screen.getByRole('heading', { name: 'Monday 23 November' })).toBeTruthy()
    expect(screen.getByText('Noor, 1 court date in the next 5 court days; 1 date overdue.')).toBeTruthy()
  })

  it('lists what waits on the reader, each with where it is done, and says when nothing does', async () => {
    await open({ 'GET /waiting': { ...none, preBills: { count: 2, total: 6_154_00 }, given: 1, stoppedCosts: 3 } })
    const waiting = within(screen.getByRole('region', { name: 'Waiting on you' }))
    expect(waiting.getAllByRole('link').map((a) => [told(a), a.getAttribute('href')])).toEqual([
      ['Bills2 pre-bills to review, $6,154.00', '/bills'],
      ['Tasks1 task you gave out is overdue', '/tasks?view=assigned&when=overdue'],
      ['Costs3 recurring costs stopped', '/time/costs?show=recurring'],
    ])
    document.body.replaceChildren()
    await open()
    expect(screen.getByText('Nothing waits on you.')).toBeTruthy()
  })

  it('does not take time that could not be read for none', async () => {
    const { server } = await open({ 'GET /time': refusal('failed', 'The server is being renewed.') })
    const time = within(screen.getByRole('region', { name: 'Time today' }))
    expect([time.queryByText(/Nothing recorded today/) === null, told(time.getByRole('alert'))]).toEqual([true, 'The server is being renewed. Try again']) // prettier-ignore
    server.on('GET /time', day)
    await fireEvent.click(time.getByRole('button', { name: 'Try again' }))
    await settled()
    expect(time.getByText(/Nothing recorded today/)).toBeTruthy()
  })

  it('asks for the team’s dates and the firm’s', async () => {
    const { server } = await open()
    await fireEvent.click(within(screen.getByRole('group', { name: 'Whose dates' })).getByText('Firm'))
    await settled()
    expect(server.sent('GET /docket').at(-1)!.query).toMatchObject({ scope: 'firm', courtDays: '10' })
  })
})

describe('notices', () => {
  const rows = [{ id: 5, matterId: 7, matter: 'Gannet', who: 'Tomas', at: '2026-11-23T10:00:00Z', text: 'Filed a letter' }]
  const choices = [{ kind: 'made', told: true }, { kind: 'said', told: false }] // prettier-ignore
  it('are put away up to what was seen', async () => {
    const server = new Server({ 'GET /notices': { rows, upTo: 5 }, 'PUT /notices': { ok: true } })
    await show(Notices)
    await press('Put away')
    expect(server.asked.find((a) => a.method !== 'GET')!.body).toEqual({ upTo: 5 })
    expect(lastNote()?.text).toMatch(/^Put away/)
  })
  it('are chosen once it is known what was chosen before; nothing is sent or written over meanwhile', async () => {
    const slow = later()
    const server = new Server({ 'GET /notices': { rows: [], upTo: 0 }, 'GET /notice-choices': () => slow.promise, 'PUT /notice-choices': { ok: true } }) // prettier-ignore
    const { user } = await show(Notices)
    await press('Choose')
    const sheet = within(screen.getByRole('dialog'))
    expect(sheet.queryByRole('checkbox')).toBeNull()
    expect(sheet.getByRole<HTMLButtonElement>('button', { name: /^Save/ }).disabled).toBe(true)
    slow.come(choices)
    await settled()
    await user.click(sheet.getByLabelText('Said: talk, notes, comments'))
    await user.click(sheet.getByRole('button', { name: /^Save/ }))
    await settled()
    expect(server.sent('PUT /notice-choices')[0]!.body).toEqual({
      choices: [
        { kind: 'made', told: true },
        { kind: 'said', told: true },
      ],
    })
  })
})

describe('reminders of dates', () => {
  const due = (id: number, weight: string) => ({
    id,
    matterId: 7,
    matter: 'Gannet',
    title: `Date ${id}`,
    day: '2026-11-25',
    weight,
    courtDays: 2,
  })
  it('fold away all but the first, never a strict one, and put away what is shown', async () => {
    const rows = Array.from({ length: 12 }, (_, i) => due(i + 1, i === 11 ? 'strict' : 'rule'))
    const server = new Server({ 'GET /reminders': { rows }, 'PUT /reminders/seen': refusal('failed', 'Not just now.') })
    await show(Reminders)
    expect(screen.getAllByRole('link').map((a) => told(a)!.slice(0, 7).trim())).toEqual([...Array.from({ length: 8 }, (_, i) => `Date ${i + 1}G`.slice(0, 7)), 'Date 12']) // prettier-ignore
    await press('Put away')
    expect([server.sent('PUT /reminders/seen')[0]!.body, lastNote()?.text]).toEqual([
      { ids: [1, 2, 3, 4, 5, 6, 7, 8, 12] },
      'Not just now.',
    ])
  })
})

describe('a sheet in which nothing was changed', () => {
  const leave = async (user: Awaited<ReturnType<typeof show>>['user']) => {
    await user.click(within(screen.getByRole('dialog')).getByRole('button', { name: /^Leave/ }))
    await settled()
  }
  const asked = () => screen.queryByText(/What you entered is not saved/) !== null
  it('of payers is left without a question, and asks once one was taken out', async () => {
    new Server({ 'GET /contacts': { rows: [], total: 0 } })
    const matter = { id: 7, billToId: 4, billTo: 'Gannet', payers: [{ contactId: 4, name: 'Gannet', fixed: null, basisPoints: 6000, share: '60 %' }, { contactId: 9, name: 'Corvane Re', fixed: null, basisPoints: 4000, share: '40 %' }] } // prettier-ignore
    const first = await show(BillingSheet, { matter })
    await leave(first.user)
    expect([asked(), first.emitted('close')?.length]).toEqual([false, 1])
    first.unmount()
    const second = await show(BillingSheet, { matter })
    await second.user.click(screen.getByRole('button', { name: 'Take out Corvane Re' }))
    await leave(second.user)
    expect([asked(), second.emitted('close')]).toEqual([true, undefined])
  })
  it('of shares is left without a question, asks once one was taken out, and says what is left to share', async () => {
    new Server({})
    const kept = { shares: [{ userId: 2, name: 'Noor', basisPoints: 60_00 }, { userId: 5, name: 'Ilse', basisPoints: 40_00 }], staff: [{ id: 2, name: 'Noor' }] } // prettier-ignore
    const first = await show(FeeShares, { matter: { id: 7 }, kept })
    await leave(first.user)
    expect(first.emitted('close')).toHaveLength(1)
    first.unmount()
    const second = await show(FeeShares, { matter: { id: 7 }, kept })
    await second.user.click(screen.getByRole('button', { name: 'Take out timekeeper 2' }))
    expect(screen.getByRole('status').textContent).toBe('40 % is left')
    await leave(second.user)
    expect([asked(), second.emitted('close')]).toEqual([true, undefined])
  })
  it('of a report that goes out is left without a question', async () => {
    new Server({ 'GET /oversight/readers': [{ id: 2, name: 'Noor' }] })
    const { user, emitted } = await show(ScheduleSheet, { what: 'flow', asked: {} })
    await leave(user)
    expect(emitted('close')).toHaveLength(1)
  })
})
