import { fireEvent, screen } from '@testing-library/vue'
import { beforeEach, describe, expect, it } from 'vitest'
import PreBill from '../src/billing/PreBill.vue'
import { faults, field, lastNote, press, put, refusal, Server, settled, show, signIn, standAt, wrong } from './stage'

beforeEach(() => signIn({ rights: ['bills.see', 'bills.review', 'bills.issue'] }))

const line = (id: number, text: string, charged: number, more: object = {}) => ({ id, kind: 'time', day: '2026-11-03', timekeeper: 'Noor Haddad-Lind', initials: 'NH', text, minutes: 60, rate: charged, worked: charged, charged, noCharge: false, heldBack: false, told: false, carries: 0, added: false, net: charged, ...more }) // prettier-ignore
const sums = (total: number) => ({ worked: total, workedMinutes: 120, writtenDown: 0, noCharge: 0, fees: total, costs: 0, discount: 0, tax: 0, taxes: [], total }) // prettier-ignore
const bill = (more: object = {}, total = 500_00) => ({
  id: 5,
  matterId: 7,
  matter: '26-0031 Gannet',
  payer: 'Gannet Ferry',
  workTo: '2026-10-31',
  state: 'review',
  lines: [line(11, 'Call with surveyor', 200_00), line(12, 'Draft of answer', 300_00)],
  totals: sums(total),
  discountAmount: 0,
  discountBasisPoints: 0,
  parts: [],
  owedBefore: 0,
  comments: [],
  liesWith: { who: 'Noor Haddad-Lind', since: '2026-11-20T09:00:00.000Z' },
  budget: null,
  last: null,
  held: 0,
  place: { at: 1, of: 3, next: 6 },
  ...more,
})
const stand = async () => {
  await standAt('/bills/pre/:id', '/bills/pre/5', PreBill)
  return show(PreBill)
}
const openLine = async (text: string) => {
  await fireEvent.click(screen.getByRole('button', { name: text }))
  await settled()
}

describe('a pre-bill in review', () => {
  it('sends of a line only what was changed, beside what was read; an amount that is empty is refused at its field', async () => {
    const server = new Server({ 'GET /pre-bills/5': bill(), 'PUT /pre-bills/5/lines/11': faults(['charged', 'Give an amount']) })
    await stand()
    await openLine('Call with surveyor')
    await put('Amount charged', '')
    await fireEvent.change(field('Amount charged'))
    await press('Save line')
    const seen = { text: 'Call with surveyor', charged: 200_00, noCharge: false, heldBack: false }
    expect(server.sent('PUT /pre-bills/5/lines/11')[0]!.body).toEqual({ charged: null, seen })
    expect(wrong('Amount charged')).toBe(true)
    server.on('PUT /pre-bills/5/lines/11', { ok: true })
    await put('Amount charged', '150')
    await fireEvent.change(field('Amount charged'))
    await press('Save line')
    expect(server.sent('PUT /pre-bills/5/lines/11')[1]!.body).toEqual({ charged: 150_00, seen })
    expect(screen.queryByRole('dialog')).toBeNull()
  })

  it('shows a line that somebody else changed meanwhile beside what was typed, and loses neither', async () => {
    let now = bill()
    const server = new Server({
      'GET /pre-bills/5': () => now,
      'PUT /pre-bills/5/lines/12': refusal('changed-meanwhile', 'Somebody else changed this line.'),
    })
    await stand()
    await openLine('Draft of answer')
    await put('Text on the bill', 'Draft of answer and counterclaim')
    now = bill({ lines: [line(11, 'Call with surveyor', 200_00), line(12, 'Draft of answer', 250_00)] })
    await press('Save line')
    expect(screen.getByRole('dialog').textContent).toContain('$250.00')
    expect(field('Text on the bill').value).toBe('Draft of answer and counterclaim')
    server.on('PUT /pre-bills/5/lines/12', { ok: true })
    await press('Save line')
    expect(server.sent('PUT /pre-bills/5/lines/12')[1]!.body).toMatchObject({ text: 'Draft of answer and counterclaim', seen: { charged: 250_00 } }) // prettier-ignore
    expect(server.sent('PUT /pre-bills/5/lines/12')[1]!.body['charged']).toBeUndefined()
  })

  it('is approved at what was seen; where it comes to something else by then, that is shown with the words', async () => {
    let now = bill()
    const server = new Server({
      'GET /pre-bills/5': () => now,
      'POST /pre-bills/5/approve': () => ((now = bill({}, 450_00)), refusal('changed-meanwhile', 'This bill comes to $450.00 by now.')),
    })
    await stand()
    await press('Approve $500.00')
    expect(server.sent('POST /pre-bills/5/approve')[0]!.body).toEqual({ approved: true, seen: 500_00 })
    expect(screen.getByRole('alert').textContent).toContain('$450.00 by now')
    server.on('POST /pre-bills/5/approve', { ok: true })
    await press('Approve $450.00')
    expect([server.sent('POST /pre-bills/5/approve')[1]!.body['seen'], lastNote()?.text]).toEqual([450_00, 'Approved, $450.00'])
    // Undo takes it back for review.
    await lastNote()?.undo?.act()
    await settled()
    expect(server.sent('POST /pre-bills/5/approve')[2]!.body).toEqual({ approved: false })
  })

  it('refuses a percentage that cannot be read at its field, and keeps what was said when the server does not answer', async () => {
    const server = new Server({
      'GET /pre-bills/5': bill({ discountBasisPoints: 750 }),
      'PUT /pre-bills/5/discount': faults(['basisPoints', 'Give a percentage']),
      'POST /pre-bills/5/comments': refusal('failed', 'Try again.'),
    })
    await stand()
    await press('Discount')
    expect(field(/^or percent/).value).toBe('7.5')
    await put(/^or percent/, 'ten')
    await press('Set discount')
    expect([server.sent('PUT /pre-bills/5/discount')[0]!.body['basisPoints'], wrong(/^or percent/)]).toEqual(['ten', true])
    server.on('PUT /pre-bills/5/discount', { ok: true })
    await put(/^or percent/, '10')
    await press('Set discount')
    expect(server.sent('PUT /pre-bills/5/discount')[1]!.body).toMatchObject({ amount: 0, basisPoints: 10_00, target: null })
    await put('Say something', 'Is the call ours?')
    await press('Say it')
    expect(field('Say something').value).toBe('Is the call ours?')
    server.on('POST /pre-bills/5/comments', { id: 3 })
    await press('Say it')
    expect([server.sent('POST /pre-bills/5/comments')[1]!.body['text'], field('Say something').value]).toEqual(['Is the call ours?', ''])
  })

  it('goes on to the next one that waits', async () => {
    new Server({ 'GET /pre-bills/5': bill() })
    const { router } = await stand()
    await press(/^Next/)
    expect(router.currentRoute.value.path).toBe('/bills/pre/6')
  })
})

describe('an approved pre-bill', () => {
  const approved = (total = 500_00) => bill({ state: 'approved' }, total)
  it('is issued at what was seen; taken back, changed and approved anew since, it is shown and not issued', async () => {
    let now = approved()
    const server = new Server({
      'GET /pre-bills/5': () => now,
      'POST /pre-bills/5/issue': () => ((now = approved(480_00)), refusal('changed-meanwhile', 'This bill comes to $480.00 by now.')),
    })
    const { router } = await stand()
    await press('Issue $500.00')
    await fireEvent.click(screen.getAllByRole('button', { name: 'Issue $500.00' }).at(-1)!)
    await settled()
    expect(server.sent('POST /pre-bills/5/issue')[0]!.body).toEqual({ day: '2026-11-23', seen: 500_00 })
    expect(screen.getByRole('dialog').textContent).toContain('$480.00 by now')
    server.on('POST /pre-bills/5/issue', { id: 21, number: 'B-1040', others: [{ id: 22, number: 'B-1041' }] })
    await fireEvent.click(screen.getAllByRole('button', { name: 'Issue $480.00' }).at(-1)!)
    await settled()
    expect([server.sent('POST /pre-bills/5/issue')[1]!.body['seen'], lastNote()?.text]).toEqual([480_00, 'Bills B-1040, B-1041 issued'])
    expect(router.currentRoute.value.path).toBe('/bills/21')
  })
  it('offers no change of its lines, and only what one has the right to', async () => {
    signIn({ rights: ['bills.see', 'bills.review'] })
    new Server({ 'GET /pre-bills/5': approved() })
    await stand()
    expect(screen.queryByRole('button', { name: 'Call with surveyor' })).toBeNull()
    expect(screen.queryByRole('button', { name: /^Issue/ })).toBeNull()
    expect(screen.getByText(/The bookkeeper issues it/)).toBeTruthy()
    expect(screen.getByRole('button', { name: 'Take back for review' })).toBeTruthy()
  })
})
