import { fireEvent, screen } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import BillTerms from '../src/billing/BillTerms.vue'
import DisputeSheet from '../src/billing/DisputeSheet.vue'
import Overdue from '../src/billing/Overdue.vue'
import PreBills from '../src/billing/PreBills.vue'
import SendSheet from '../src/billing/SendSheet.vue'
import { api } from '../src/api'
import BillLetters from '../src/setup/BillLetters.vue'
import EndTime from '../src/time/EndTime.vue'
import SplitTime from '../src/time/SplitTime.vue'
import { faults, lastNote, later, Server, settled, show, signIn } from './stage'

beforeEach(() => {
  localStorage.clear()
  signIn({ name: 'Orla Petrakis', role: 'bookkeeper', rights: ['bills.see', 'bills.issue', 'bills.review', 'time.record', 'firm.set-up'] })
})
const type = (label: string | RegExp, text: string) => fireEvent.update(screen.getByLabelText(label), text)
const value = (label: string | RegExp) => (screen.getByLabelText(label) as HTMLInputElement).value
const press = async (name: string | RegExp) => {
  await fireEvent.click(screen.getAllByRole('button', { name }).at(-1)!)
  await settled()
}
const choose = async (name: string | RegExp) => {
  await fireEvent.click(screen.getByRole('checkbox', { name }))
  await settled()
}

describe('pre-bills that wait', () => {
  it('are issued together: only those that are approved, with their day', async () => {
    const row = (id: number, state: string) => ({ id, matterId: id, matter: `Matter ${id}`, payer: 'Gannet', workTo: '2026-10-31', state, lines: 2, total: 1000 }) // prettier-ignore
    const sums = { count: 1, total: 1000 }
    const server = new Server({
      'GET /pre-bills': { rows: [row(1, 'review'), row(2, 'approved')], total: 2, review: sums, approved: sums },
      'POST /bill-runs/issue': { id: 7, of: 1, jobId: 1 },
    })
    const { router } = await show(PreBills)
    await choose('Choose all')
    await press('Issue 1 …')
    await fireEvent.click(screen.getByLabelText(/Send each by e-mail/))
    await press(/^Issue 1 bill/)
    expect(server.sent('POST /bill-runs/issue')[0]!.body).toEqual({ day: '2026-11-23', preBillIds: [2], send: false })
    expect(router.currentRoute.value.path).toBe('/bills/runs/7')
  })
})

describe('overdue bills', () => {
  const bill = (id: number, more: object = {}) => ({ id, number: `B-${id}`, matterId: 1, matter: 'Gannet', payer: 'Gannet Ferry', email: 'g@x.example', dueOn: '2026-10-31', days: 23, total: 615_400, open: 615_400, step: 0, next: 1, remindedAt: null, disputed: null, interestOf: null, accrued: 3439, interest: 3439, ...more }) // prettier-ignore
  const routes = () => ({ 'GET /overdue': { rows: [bill(1), bill(2, { disputed: 'hours', next: null, interest: 0 })], total: 2, open: 1_230_800, steps: [7, 21, 45], stoppedBy: null } }) // prettier-ignore
  it('are reminded of, and what was left out is said', async () => {
    const server = new Server({
      ...routes(),
      'POST /overdue/reminders': { sent: 0, left: [{ number: 'B-1', why: 'cannot be sent: no address' }] },
    })
    await show(Overdue)
    await choose('Choose all')
    await press('Send 1 reminder')
    expect(server.sent('POST /overdue/reminders')[0]!.body).toEqual({ billIds: [1] })
    expect(lastNote()).toMatchObject({ text: '0 reminders sent. Not: B-1 cannot be sent: no address' })
  })
  it('are charged interest up to a day, and a fault of the day stands at it', async () => {
    const server = new Server({ ...routes(), 'POST /overdue/interest': faults(['day', 'The books are closed up to Mon 23 Nov 2026']) })
    await show(Overdue)
    await choose('Choose B-1')
    await press('Charge interest on 1 …')
    expect(screen.getByText(/Up to today it is \$34\.39/)).toBeTruthy()
    await press(/^Charge interest on 1 bill/)
    expect(screen.getByText('The books are closed up to Mon 23 Nov 2026')).toBeTruthy()
    expect(server.sent('POST /overdue/interest')[0]!.body).toEqual({ billIds: [1], day: '2026-11-23' })
  })
  it('are marked as disputed with what is disputed', async () => {
    const server = new Server({ 'PUT /bills/1/dispute': { ok: true } })
    const { emitted } = await show(DisputeSheet, { billId: 1, number: 'B-1', disputed: null })
    await type('What is disputed', 'the survey')
    await press(/^Mark as disputed/)
    expect(server.sent('PUT /bills/1/dispute')[0]!.body).toEqual({ disputed: true, reason: 'the survey' })
    expect(emitted('close')).toHaveLength(1)
  })
})

describe('terms and letters', () => {
  const terms = { dueDays: null, interestBasisPoints: 850, graceDays: 5, taxFees: 0, billSlip: true, usual: { dueDays: 30, interestBasisPoints: 0, graceDays: 0, discountBasisPoints: 500, taxes: { fees: 825, softCosts: 0, hardCosts: 0 }, group: 'none', summary: false, trust: true, slip: false } } // prettier-ignore
  it('show nothing to type into before they are read, and send a percentage as it was typed', async () => {
    const late = later<typeof terms>()
    const server = new Server({
      'GET /matters/setting': { staff: [] },
      'GET /matters/4/bill-terms': () => late.promise,
      'PUT /matters/4/bill-terms': { ok: true },
    })
    await show(BillTerms, { of: 'matter', id: 4, name: '26-0004' })
    expect(screen.queryByLabelText(/Due after days/)).toBeNull()
    late.come(terms)
    await settled()
    expect(value(/^Interest, % a year/)).toBe('8.5')
    await type(/^Due after days/, '14')
    await type(/^Interest, % a year/, '12')
    expect([value(/^Tax on fees, %/), value(/^Off fees, %/)]).toEqual(['0', ''])
    await type(/^Off fees, %/, '2.5')
    await press(/^Save/)
    expect(server.sent('PUT /matters/4/bill-terms')[0]!.body).toMatchObject({
      dueDays: 14,
      interestBasisPoints: 1200,
      graceDays: 5,
      discountBasisPoints: 250,
      taxFees: 0,
      taxSoftCosts: null,
      billSlip: true,
      billTrust: null,
    })
  })
  it('go out as they were edited', async () => {
    const letter = { name: 'Gannet Ferry', email: '', subject: 'Bill B-1', body: 'Dear Gannet' }
    const server = new Server({ 'GET /bills/1/letter': letter, 'POST /bills/1/send': faults(['email', 'Give an e-mail address']) })
    await show(SendSheet, {
      title: 'Send bill B-1',
      what: 'Bill B-1',
      load: () => api.billing.letter({ id: 1 }),
      send: (own: typeof letter) => api.billing.send({ id: 1, ...own }),
    })
    await type('Letter', 'Dear all')
    await press(/^Send/)
    expect(screen.getByText('Give an e-mail address')).toBeTruthy()
    expect(server.sent('POST /bills/1/send')[0]!.body).toMatchObject({ body: 'Dear all', email: '' })
    expect(value('Letter')).toBe('Dear all')
  })
  it('are the firm’s own words, kept apart by kind and language', async () => {
    const one = (language: string) => ({ kind: 'bill', language, subject: `Bill ${language}`, body: 'Dear {payer}', own: false })
    const server = new Server({
      'GET /bill-letters': [one('en'), one('es')],
      'PUT /bill-letters': faults(['body', 'There is no field {client}']),
    })
    await show(BillLetters)
    await type('Words', 'Dear {client}')
    await press(/^Save/)
    expect(screen.getByText('There is no field {client}')).toBeTruthy()
    expect(server.sent('PUT /bill-letters')[0]!.body).toMatchObject({ kind: 'bill', language: 'en', body: 'Dear {client}' })
    await fireEvent.update(screen.getByLabelText('Letter'), 'bill es')
    await settled()
    expect(value('Subject')).toBe('Bill es')
    // What was typed for the other letter is there again.
    await fireEvent.update(screen.getByLabelText('Letter'), 'bill en')
    await settled()
    expect(value('Words')).toBe('Dear {client}')
  })
})

describe('posted time', () => {
  const entry = { id: 3, userId: 2, who: 'Noor', initials: 'N', matterId: 1, matter: 'Gannet', day: '2026-11-02', activity: null, text: 'Call and letter', minutes: 66, workedMinutes: 66, rate: 1, rateOrigin: '', amount: 1, charge: 'billable', state: 'posted', billed: null } // prettier-ignore
  it('is split with words for either part', async () => {
    const server = new Server({ 'POST /time/3/split': faults(['duration', 'The first part is less than 1.1 h']) })
    await show(SplitTime, { entry })
    await type('Time of the first', '1.1')
    await type('Words of the first', 'Call')
    await press(/^Split/)
    expect(screen.getByText('The first part is less than 1.1 h')).toBeTruthy()
    expect(server.sent('POST /time/3/split')[0]!.body).toEqual({ duration: '1.1', text: 'Call', restText: 'Call and letter' })
  })
  it('is written off on a day', async () => {
    const server = new Server({ 'POST /time/write-off': { written: 2 } })
    await show(EndTime, { how: 'write off', ids: [3, 4] })
    await type('Why', 'as a courtesy')
    await press(/^Write off/)
    expect(server.sent('POST /time/write-off')[0]!.body).toEqual({ ids: [3, 4], day: '2026-11-23', reason: 'as a courtesy' })
    expect(lastNote()).toMatchObject({ text: '2 entries written off' })
  })
  it('is reversed on its own date where none is said', async () => {
    const server = new Server({ 'POST /time/3/reverse': { ok: true } })
    await show(EndTime, { how: 'reverse', ids: [3] })
    await type('Why', 'wrong matter')
    await press(/^Reverse/)
    expect(server.sent('POST /time/3/reverse')[0]!.body).toEqual({ reason: 'wrong matter', day: null })
  })
})
