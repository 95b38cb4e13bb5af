import { fireEvent, screen, waitFor } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import { somethingUnsaved } from '../src/ui/unsaved'
import Week from '../src/time/Week.vue'
import { type Asked, drawn, faults, lastNote, later, press, refusal, Server, settled, show, signIn, standAt, unreachable } from './stage'

beforeEach(() => signIn({ rights: ['time.record'] }))
const entry = (id: number, day: string, more: object = {}) => ({ id, day, matterId: 7, matter: 'Gannet v. Corvane', text: 'Draft the answer', minutes: 42, amount: 199_50, state: 'draft', charge: 'billable', rate: 285_00, rateOrigin: 'timekeeper', activity: 'A103', task: null, inCourt: false, fundingId: null, privateAttorney: false, billed: null, start: null, end: null, ...more }) // prettier-ignore
const week = (rows: object[] = [entry(1, '2026-11-23'), entry(2, '2026-11-24', { state: 'posted' })]) => ({ rows, together: { minutes: 84, worth: 399_00 }, days: [{ day: '2026-11-23', minutes: 42, worth: 199_50 }], matters: [], goal: 450 }) // prettier-ignore
const open = async (routes: Record<string, unknown> = {}, address = '/time/week') => {
  const server = new Server({ 'GET /time': week(), 'GET /time/fields': { fields: [], funding: [] }, 'GET /field-groups': [], 'GET /phrases': [], 'GET /activities': [], 'GET /matters': { rows: [], total: 0 }, ...routes }) // prettier-ignore
  await standAt('/time/week', address, Week)
  return { server, ...(await show(Week)) }
}
const cell = (day: string, text = 'Draft the answer') => screen.getByLabelText<HTMLInputElement>(`Gannet v. Corvane, ${text}, ${day}`)
const type = async (day: string, text: string) => {
  await fireEvent.update(cell(day), text)
  await fireEvent.change(cell(day))
  await settled()
}

describe('the grid of a week', () => {
  it('has a field where nothing or one draft stands, and only looks at what is posted', async () => {
    const { server } = await open()
    expect(server.sent('GET /time')[0]!.query).toEqual({ from: '2026-11-23', to: '2026-11-29' })
    expect([cell('Mon 23 Nov').value, cell('Wed 25 Nov').value]).toEqual(['0.7', ''])
    expect(screen.queryByLabelText('Gannet v. Corvane, Draft the answer, Tue 24 Nov')).toBeNull()
    expect(screen.getByTitle('posted').textContent.trim()).toBe('0.7')
  })

  it('records what is typed into an empty field, changes a draft with all that it had, and takes an emptied one out', async () => {
    const { server } = await open({ 'POST /time': { id: 9 }, 'PUT /time/1': { ok: true }, 'DELETE /time/1': { ok: true } })
    await type('Wed 25 Nov', '1:15')
    expect(server.sent('POST /time')[0]!.body).toMatchObject({ matterId: 7, day: '2026-11-25', duration: '1:15', text: 'Draft the answer' })
    await type('Mon 23 Nov', '0.9')
    expect(server.sent('PUT /time/1')[0]!.body).toMatchObject({ duration: '0.9', activity: 'A103', charge: 'billable', rate: null })
    await type('Mon 23 Nov', '')
    expect(server.sent('DELETE /time/1')).toHaveLength(1)
    // Nothing typed into an empty field is nothing to keep.
    await type('Fri 27 Nov', ' ')
    expect(server.sent('POST /time')).toHaveLength(1)
    expect(somethingUnsaved()).toBe(false)
  })

  it('says what cannot be read at its field, keeps it there, and asks before it is left', async () => {
    await open({ 'POST /time': faults(['duration', 'This is no time']) })
    await type('Wed 25 Nov', 'soon')
    expect([cell('Wed 25 Nov').value, cell('Wed 25 Nov').getAttribute('aria-invalid')]).toEqual(['soon', 'true'])
    expect(screen.getByRole('alert').textContent).toBe('This is no time')
    expect(somethingUnsaved()).toBe(true)
  })

  it('records once what was sent twice, since the answer to the first was lost', async () => {
    const keys: (string | null)[] = []
    const { server } = await open({ 'POST /time': (a: Asked) => (keys.push(a.key), unreachable()), 'GET /acts/{key}': unreachable })
    await type('Wed 25 Nov', '0.5')
    server.on('POST /time', (a: Asked) => (keys.push(a.key), { id: 9 }))
    await fireEvent.change(cell('Wed 25 Nov'))
    await settled()
    expect(keys[0]).toBe(keys[1])
    expect(screen.queryByRole('alert')).toBeNull()
  })

  it('is not typed into before another week is read: what stands there is not seen yet', async () => {
    const slow = later()
    const { server } = await open()
    server.on('GET /time', () => slow.promise)
    await press('The week before')
    expect(cell('Mon 16 Nov').readOnly).toBe(true)
    expect(screen.getByRole<HTMLButtonElement>('button', { name: /^Post / }).disabled).toBe(true)
    slow.come(week([entry(4, '2026-11-16')]))
    await settled()
    expect([cell('Mon 16 Nov').readOnly, cell('Mon 16 Nov').value]).toEqual([false, '0.7'])
  })

  it('gets another row for a matter and its work, which stays until something stands in it', async () => {
    const { user } = await open({
      'GET /matters': { rows: [{ id: 8, name: 'Lease of berth 9', number: '26-0008', client: 'Gannet' }], total: 1 },
    })
    await user.type(screen.getByRole('combobox', { name: 'Matter' }), 'lease')
    await drawn()
    await user.click(await screen.findByRole('option', { name: /Lease of berth 9/ }))
    await user.type(screen.getByLabelText('What was done'), 'Read the lease')
    await press('Add a row')
    expect(screen.getByLabelText('Lease of berth 9, Read the lease, Mon 23 Nov')).toBeTruthy()
    await press('The week after')
    await waitFor(() => expect(screen.queryByLabelText(/^Lease of berth 9/)).toBeNull())
  })

  it('moves by the arrow keys, and Enter goes down', async () => {
    await open({ 'GET /time': week([entry(1, '2026-11-23'), entry(3, '2026-11-23', { text: 'Read the reply' })]) })
    const [first, second] = [cell('Mon 23 Nov'), cell('Mon 23 Nov', 'Read the reply')].sort((a, b) => a.dataset['cell']!.localeCompare(b.dataset['cell']!)) // prettier-ignore
    first!.focus()
    await fireEvent.keyDown(first!, { key: 'Enter' })
    expect(document.activeElement).toBe(second)
    await fireEvent.keyDown(second!, { key: 'ArrowUp' })
    expect(document.activeElement === first).toBe(true)
  })

  it('posts its drafts, or says why not', async () => {
    const { server } = await open({ 'POST /time/post': refusal('closed', 'November is closed.') })
    await press('Post 1 draft')
    expect([server.sent('POST /time/post')[0]!.body, screen.getByRole('alert').textContent.trim()]).toEqual([
      { ids: [1] },
      'November is closed.',
    ])
    server.on('POST /time/post', { posted: 1 })
    await press('Post 1 draft')
    expect(lastNote()?.text).toBe('1 entry posted')
  })
})
