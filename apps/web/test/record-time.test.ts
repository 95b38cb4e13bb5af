import { fireEvent, screen, waitFor } from '@testing-library/vue'
import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import AllTime from '../src/time/AllTime.vue'
import EndTime from '../src/time/EndTime.vue'
import RecordTime from '../src/time/RecordTime.vue'
import SplitTime from '../src/time/SplitTime.vue'
import Time from '../src/time/Time.vue'
import { faults, field, lastNote, press, put, Server, settled, setting, show, signIn, standAt, wrong } from './stage'

beforeAll(() => import('../src/ui/judging'))
beforeEach(() => signIn({ rights: ['time.record', 'matters.see', 'bills.see'] }))
const gannet = { id: 5, text: '26-014 Gannet' }
const quote = { minutes: 42, rate: 285_00, origin: 'the person’s own rate', amount: 199_50, budget: null as object | null }
const fields = { fields: ['activity', 'times', 'amount', 'funding', 'court'], funding: [{ id: 3, name: 'Harbor Fund', from: null, to: null, retired: false }] } // prettier-ignore
const around = {
  'GET /matters/setting': setting,
  'GET /matters': { rows: [], total: 0 },
  'GET /time/fields': fields,
  'GET /field-groups': [],
  'GET /phrases': [],
  'GET /activities': [{ code: 'A106', name: 'With client' }],
  'GET /spelling': { words: [] },
  'POST /time/quote': quote,
}
const entry = { id: 71, userId: 2, who: 'Noor Haddad-Lind', initials: 'NH', matterId: 5, matter: '26-014 Gannet', day: '2026-11-20', activity: 'A106', text: 'Call with surveyor', minutes: 42, workedMinutes: 38, rate: 285_00, rateOrigin: 'timekeeper', amount: 199_50, charge: 'billable', state: 'posted', billed: null, start: null, end: null, task: null, inCourt: false, fundingId: null, funding: null, privateAttorney: false } // prettier-ignore
const open = async (server: Record<string, unknown> = {}, props: Record<string, unknown> = { matter: gannet }) => {
  const on = new Server({ ...around, ...server })
  const page = await show(RecordTime, props)
  await settled()
  return { ...page, server: on }
}
const comesTo = () => screen.findByRole('status', { name: 'Comes to' }).then((s) => s.textContent?.replaceAll(/\s+/g, ' ').trim())

describe('recording time', () => {
  it('says what it comes to and by which rate, keeps it, and stands open for the next line of the same matter and day', async () => {
    const { server, emitted } = await open({ 'POST /time': { id: 9 } })
    await put('Time', '0.7')
    await put('What was done', 'Call with surveyor')
    expect(await comesTo()).toBe('0.7 h × $285.00 = $199.50 the person’s own rate')
    await press('Keep and next line')
    expect(server.sent('POST /time')[0]!.body).toMatchObject({ matterId: 5, day: '2026-11-23', duration: '0.7', text: 'Call with surveyor', charge: 'billable', amount: null, start: null, end: null }) // prettier-ignore
    expect(server.sent('POST /time')[0]!.body).not.toHaveProperty('fundingId')
    expect(lastNote()?.text).toBe('0.7 h, $199.50 kept as a draft')
    expect([field('Time').value, field('What was done').value, field('On').value, emitted('close')]).toEqual(['', '', 'Mon 23 Nov 2026', undefined]) // prettier-ignore
  })

  it('a time that cannot be read is told where it is left; nothing else is complained of', async () => {
    const { user } = await open()
    await user.type(field('Time'), 'soon')
    await user.tab()
    await waitFor(() => expect(wrong('Time')).toBe(true))
    expect(screen.getByText('Give the time like 0.7, 1:30 or 90m')).toBeTruthy()
    expect(wrong('What was done')).toBe(false)
    await user.clear(field('Time'))
    await user.type(field('Time'), '1:30')
    await waitFor(() => expect(wrong('Time')).toBe(false))
  })

  it('by hours of the day sends these alone, and the next line begins where the last ended', async () => {
    const { server } = await open({ 'POST /time': { id: 9 } })
    await press('From – to')
    await put('From', '9:10')
    await fireEvent.change(field('From'))
    await put('To', '9:48')
    await fireEvent.change(field('To'))
    await put('What was done', 'Call')
    await comesTo()
    await press('Keep and next line')
    expect(server.sent('POST /time')[0]!.body).toMatchObject({ duration: '', start: '09:10', end: '09:48', amount: null })
    expect([field('From').value, field('To').value]).toEqual(['9:48 am', ''])
  })

  it('an amount alone has no rate, and a cap that it breaks is told at once', async () => {
    const budget = { percent: 104, capped: true, left: -120_00 }
    const { server } = await open({ 'POST /time': { id: 9 }, 'POST /time/quote': { minutes: 0, rate: 0, origin: 'amount', amount: 500_00, budget } }) // prettier-ignore
    await press('Amount')
    expect(screen.queryByLabelText(/^Rate for this entry/)).toBeNull()
    await put('Amount', '500')
    await put('What was done', 'Opinion')
    expect(await comesTo()).toBe('$500.00 amount This takes the matter to 104 % of its cap, $120.00 beyond it.')
    await fireEvent.update(screen.getByLabelText('Funding source'), '0')
    await press('Keep as draft')
    expect(server.sent('POST /time')[0]!.body).toMatchObject({ duration: '', amount: 500_00, fundingId: null })
    expect(lastNote()?.text).toBe('$500.00 kept as a draft')
  })

  it('what the firm does not use is in no field', async () => {
    await open({ 'GET /time/fields': { fields: [], funding: [] } })
    expect(screen.queryByRole('radiogroup', { name: 'Recorded by' })).toBeNull()
    for (const name of [/^Activity/, /^Funding/, /^In court/, /^Task/, /^With a note/])
      expect(screen.queryByLabelText(name), String(name)).toBeNull()
  })

  it('posted time opens as it was worked, and is corrected with a reason', async () => {
    const { server, emitted } = await open(
      { 'GET /time/71/fields': {}, 'PUT /time/71/correction': faults(['reason', 'Say why']) },
      { entry },
    )
    expect([field('Time').value, field('Activity (optional)').value]).toEqual(['38m', 'A106'])
    await put('What was done', 'Call with the surveyor')
    await press('Correct')
    expect(wrong('Why it is corrected')).toBe(true)
    server.on('PUT /time/71/correction', { ok: true })
    await put('Why it is corrected', 'Words')
    await press('Correct')
    expect(server.sent('PUT /time/71/correction').at(-1)!.body).toMatchObject({ duration: '38m', fundingId: null, reason: 'Words', day: '2026-11-20' }) // prettier-ignore
    expect([lastNote()?.text, emitted('close').length]).toEqual(['Corrected; what it was stays in the log', 1])
  })
})

describe('posted time', () => {
  it('is split by a time that is less than it has', async () => {
    const server = new Server({ 'POST /time/71/split': { id: 72 } })
    const { user } = await show(SplitTime, { entry })
    await user.type(field('Time of the first'), 'half')
    await user.tab()
    await waitFor(() => expect(wrong('Time of the first')).toBe(true))
    await user.clear(field('Time of the first'))
    await user.type(field('Time of the first'), '0.2')
    await press('Split')
    expect(server.sent('POST /time/71/split')[0]!.body).toMatchObject({ duration: '0.2' })
  })
  it('is written off today, several at once', async () => {
    const server = new Server({ 'POST /time/write-off': { ok: true } })
    await show(EndTime, { how: 'write off', ids: [71, 72] })
    await put(/^Why/, 'Goodwill')
    await press(/Write off/)
    expect(server.asked.at(-1)!.body).toMatchObject({ ids: [71, 72], day: '2026-11-23', reason: 'Goodwill' })
    expect(lastNote()?.text).toBe('2 entries written off')
  })
  it('is reversed on its own day unless another is given', async () => {
    const server = new Server({ 'POST /time/71/reverse': { ok: true } })
    await show(EndTime, { how: 'reverse', ids: [71] })
    await put(/^Why/, 'Twice')
    await press(/Reverse/)
    expect(server.sent('POST /time/71/reverse')[0]!.body).toMatchObject({ reason: 'Twice', day: null })
  })
})

describe('time of the firm', () => {
  const row = { ...entry, client: 'Gannet Ferry', fields: {} }
  const sums = { entries: 2, minutes: 84, worth: 399_00, groups: [{ key: '2', name: 'Noor Haddad-Lind', entries: 2, minutes: 84, worth: 399_00 }] } // prettier-ignore
  const all = { ...around, 'GET /time/all': { rows: [row], more: false }, 'GET /time/sums': sums }

  it('has its filters in the address, and in what is asked and exported', async () => {
    const server = new Server(all)
    await standAt('/time/all', '/time/all?userId=2&charge=billable&from=2026-10-01', AllTime)
    await show(AllTime)
    await settled()
    expect(server.sent('GET /time/all').at(-1)!.query).toMatchObject({ userId: '2', charge: 'billable', from: '2026-10-01', page: '1' })
    await waitFor(() => expect(screen.getByText('Call with surveyor')).toBeTruthy())
    const link = [...document.querySelectorAll('a')].map((a) => a.getAttribute('href') ?? '').find((h) => h.startsWith('/api/time/file'))
    if (link) expect(link).toContain('userId=2')
  })
  it('a sum opens to the entries behind it', async () => {
    const server = new Server(all)
    await standAt('/time/all', '/time/all?as=sums&from=2026-10-01', AllTime)
    const { router } = await show(AllTime)
    await settled()
    const row = (await screen.findAllByText('Noor Haddad-Lind')).map((x) => x.closest('tr')).find(Boolean)!
    await fireEvent.click(row)
    await settled()
    await waitFor(() => expect(server.sent('GET /time/all').at(-1)!.query['userId']).toBe('2'))
    expect(router.currentRoute.value.query['userId']).toBe('2')
  })
})

describe('one’s own time', () => {
  const draft = { ...entry, id: 80, state: 'draft', rateOrigin: 'typed on the entry', rate: 310_00, fundingId: 3 }
  const list = { rows: [draft, { ...entry, billed: 'B-7' }], together: { minutes: 84, worth: 399_00 }, days: [{ day: '2026-11-20', minutes: 84, worth: 399_00 }], matters: [], goal: 450 } // prettier-ignore
  const group = { id: 1, owner: 'time', name: 'Own', repeating: false, fields: [{ id: 12, name: 'Phase', type: 'text', choices: [], retired: false }] } // prettier-ignore
  const open = async (server: Record<string, unknown>) => {
    const on = new Server({ ...around, 'GET /field-groups': [group], 'GET /time': list, ...server })
    await standAt('/time', '/time', Time)
    await show(Time)
    await settled()
    return on
  }

  it('a draft that was deleted comes back with all that it had, the firm’s own fields too', async () => {
    const server = await open({ 'GET /time/80/fields': { 12: 'Discovery' }, 'DELETE /time/80': { ok: true }, 'POST /time': { id: 81 } })
    await fireEvent.click(screen.getAllByRole('button', { name: 'Acts on Call with surveyor' })[0]!)
    await fireEvent.click(screen.getByRole('menuitem', { name: 'Delete' }))
    await settled()
    expect([server.sent('DELETE /time/80').length, lastNote()?.text]).toEqual([1, 'Draft deleted'])
    await lastNote()!.undo!.act()
    expect(server.sent('POST /time')[0]!.body).toMatchObject({ duration: '38m', rate: 310_00, fundingId: 3, fields: { 12: 'Discovery' }, activity: 'A106', day: '2026-11-20' }) // prettier-ignore
  })
  it('what is billed is only looked at', async () => {
    await open({})
    await fireEvent.click(screen.getAllByRole('button', { name: 'Acts on Call with surveyor' })[1]!)
    expect(screen.getAllByRole('menuitem').map((m) => m.textContent.trim())).toEqual(['Time of the matter'])
  })
})
