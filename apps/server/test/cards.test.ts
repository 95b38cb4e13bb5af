import { cardEventKinds, chargeState, processingFee } from '@heron/core/billing'
import { startProcessor, type ProcessorStandIn } from '@heron/standins/cards'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row, rows } from '../src/platform'
import { receiptOfLink } from '../src/billing/cards'
import { actorOf } from '../src/platform/auth'
import { signature, useProcessor } from '../src/platform/processor'
import { Office, today, type Person } from './office'

const secret = 'a secret of both'
let office: Office
let noor: Person
let orla: Person
let processor: ProcessorStandIn
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  orla = await office.signIn('orla')
  processor = await startProcessor({ secret, tell: `${at()}/api/card-events` })
  useProcessor({ url: processor.url, secret })
})
afterAll(async () => {
  await processor.quiet()
  await processor.stop()
  useProcessor(null)
  expect(await office.agrees()).toBe(true)
  await office.close()
})

let n = 0
const at = () => `http://127.0.0.1:${office.running.port}`
async function linked(cents: number) {
  const m = await office.matter(noor, `Card Client ${(n += 1)} Ltd`)
  const bill = await office.bill(noor, orla, m.id, cents, undefined, cents)
  const link = await orla.must<{ id: number; url: string }>('POST', `/bills/${bill.id}/pay-links`, {})
  const token = link.url.split('/pay/')[1]!
  const post = async (path: string, body: object = {}) => {
    const answer = await fetch(`${at()}/api${path}`, { method: 'POST', headers: { 'content-type': 'application/json', host: new URL(at()).host }, body: JSON.stringify(body) }) // prettier-ignore
    return { status: answer.status, body: (await answer.json()) as { code?: string; url: string; open: number; underWay: boolean } }
  }
  const open = async () => (await orla.must<{ open: number }>('GET', `/bills/${bill.id}`)).open
  const charges = async () =>
    (await orla.must<{ charges: { id: string; state: string; fee: number | null; fault: string }[] }>('GET', `/bills/${bill.id}/pay-links`)).charges // prettier-ignore
  return { m, bill, link, token, post, open, charges }
}
const pay = (url: string, number: string) =>
  fetch(url, { method: 'POST', headers: { 'content-type': 'application/x-www-form-urlencoded' }, body: new URLSearchParams({ name: 'A Payer', number }) }) // prettier-ignore
const card = '5100 0000 0000 0008'

describe('a bill paid by link', () => {
  it('is paid once however often it is told, reopened by a dispute, paid again when that is won, and its fee booked once', async () => {
    const { bill, token, post, open, charges } = await linked(615_400)
    const { url } = (await post(`/pay/${token}/charges`)).body
    expect((await post(`/pay/${token}/charges`)).body.url).toBe(url)
    expect(await (await pay(url, '5100 0000 0000 0818')).text()).toContain('refused')
    await processor.quiet()
    expect([(await charges())[0]!.state, await open()]).toEqual(['refused', 615_400])
    await pay(url, card)
    await pay(url, card)
    await processor.quiet()
    expect([(await charges()).map((c) => c.state), await open()]).toEqual([['paid'], 0])
    expect((await post(`/pay/${token}/charges`)).body.code).toBe('nothing-open')
    const [{ id } = { id: '' }] = await charges()
    processor.settle('2999-01-01')
    await processor.quiet()
    expect((await charges())[0]!.fee).toBe(processingFee(615_400, 290, 30))
    // The bank sees one movement, the payment less its fee; what comes back by a dispute that is won comes by itself.
    const settled = () => rows<{ amount: number; settlement: string }>(office.db.manager, `SELECT e.amount, s.settlement FROM bank_settlement s JOIN bank_entry e ON e.id = s.entry_id WHERE e.reference = ? ORDER BY e.id`, [id]) // prettier-ignore
    const together = [{ amount: 615_400, settlement: 'S-2999-01-01' }, { amount: -processingFee(615_400, 290, 30), settlement: 'S-2999-01-01' }] // prettier-ignore
    expect(await settled()).toEqual(together)
    processor.dispute(id)
    await processor.quiet()
    expect([(await charges())[0]!.state, await open()]).toEqual(['disputed', 615_400])
    processor.win(id)
    await processor.quiet()
    expect([(await charges())[0]!.state, await open()]).toEqual(['paid', 0])
    expect(await settled()).toEqual(together)
    const fees = await rows(office.db.manager, `SELECT id FROM journal WHERE kind = 'card fee' AND subject_id = ?`, [bill.id])
    expect(fees).toHaveLength(1)
  })
  it('is paid from a bank account as well, which the bank may return; the receipt goes out by itself, and whoever made the link is told', async () => {
    const { m, bill, token, post, open, charges } = await linked(200_00)
    const payer = await office.db.manager.query<{ id: number }[]>(`SELECT payer_id AS id FROM bill WHERE id = ?`, [bill.id])
    await office.db.manager.query(`UPDATE contact SET email = 'payer@pays.example' WHERE id = ?`, [payer[0]!.id])
    const { url } = (await post(`/pay/${token}/charges`)).body
    const debit = (routing: string, account: string) =>
      fetch(url, { method: 'POST', headers: { 'content-type': 'application/x-www-form-urlencoded' }, body: new URLSearchParams({ how: 'bank', routing, account }) }).then((r) => r.text()) // prettier-ignore
    expect(await debit('000000014', '1234567')).toContain('no routing number')
    expect(await debit('000000013', '12')).toContain('no account number')
    await debit('000000013', '1234567')
    await processor.quiet()
    const [charge] = await charges()
    expect([charge!.state, await open()]).toEqual(['paid', 0])
    const kind = await row<{ kind: string }>(office.db.manager, `SELECT p.kind FROM card_charge c JOIN payment p ON p.id = c.payment_id WHERE c.id = ?`, [charge!.id]) // prettier-ignore
    expect(kind!.kind).toBe('bank debit')
    await expect.poll(async () => (await rows<{ n: number }>(office.db.manager, `SELECT to_address FROM mail WHERE to_address = 'payer@pays.example'`)).length, { timeout: 20_000 }).toBe(1) // prettier-ignore
    // The job tried again sends nothing twice.
    const paid = await row<{ id: number }>(office.db.manager, `SELECT payment_id AS id FROM card_charge WHERE id = ?`, [charge!.id])
    const actor = (await actorOf(office.db.manager, await office.user('orla')))!
    await receiptOfLink({ ...office.running.base, actor }, { paymentId: paid!.id })
    expect((await rows(office.db.manager, `SELECT id FROM mail WHERE to_address = 'payer@pays.example'`)).length).toBe(1)
    processor.dispute(charge!.id)
    await processor.quiet()
    expect([(await charges())[0]!.state, await open()]).toEqual(['disputed', 200_00])
    expect(m.id).toBeGreaterThan(0)
  })
  it('has its link in the letter that brings it, made as it goes out, and left out where nothing is open', async () => {
    const { bill } = await linked(90_00)
    const letter = await orla.must<{ body: string }>('GET', `/bills/${bill.id}/letter`)
    expect(letter.body).toContain('{link}')
    const send = () => orla.post(`/bills/${bill.id}/send`, { name: 'A', email: `bill${bill.id}@pays.example`, subject: 'Bill', body: `Look:\n\nPay at {link}\n\nThanks` }) // prettier-ignore
    expect((await send()).status).toBe(200)
    const bodies = async () => (await rows<{ body: string }>(office.db.manager, `SELECT body FROM mail WHERE to_address = ? ORDER BY id`, [`bill${bill.id}@pays.example`])).map((x) => x.body) // prettier-ignore
    expect((await bodies())[0]).toMatch(/Pay at http:\/\/127\.0\.0\.1:\d+\/pay\/[\w-]{32}\n/)
    await orla.must('POST', `/bills/${bill.id}/payments`, { day: today, amount: 90_00, kind: 'check', reference: '9' })
    await send()
    expect((await bodies())[1]).toBe('Look:\n\nThanks')
  })
  it('that was paid otherwise meanwhile leaves a credit of the payer', async () => {
    const { bill, token, post, open } = await linked(50_000)
    const { url } = (await post(`/pay/${token}/charges`)).body
    await orla.must('POST', `/bills/${bill.id}/payments`, { day: today, amount: 50_000, kind: 'check', reference: '12' })
    await pay(url, card)
    await processor.quiet()
    expect(await open()).toBe(0)
    const credit = await row<{ amount: number }>(
      office.db.manager,
      `SELECT pc.amount FROM payment_credit pc JOIN card_charge c ON c.payment_id = pc.payment_id WHERE c.bill_id = ?`,
      [bill.id],
    )
    expect(credit!.amount).toBe(50_000)
  })
  it('is not told to be paid by anyone but the processor, nor with another amount, nor by an ended link', async () => {
    const { link, token, post, charges, open } = await linked(10_000)
    await post(`/pay/${token}/charges`)
    const [{ id } = { id: '' }] = await charges()
    const event = (more: object = {}) => JSON.stringify({ id: `event ${n}`, charge: id, kind: 'paid', amount: 10_000, ...more })
    const tell = (payload: string, by = secret) =>
      post('/card-events', { at: 'now', payload, signature: signature(by, 'event now', payload) })
    expect((await tell(event(), 'another secret')).status).toBe(403)
    expect((await tell(event({ amount: 10_001 }))).body.code).toBe('other-amount')
    expect((await tell('{')).status).toBe(400)
    expect((await tell(event({ charge: 'f'.repeat(24) }))).status).toBe(404)
    expect(await open()).toBe(10_000)
    await orla.must('POST', `/pay-links/${link.id}/ended`, {})
    expect((await post(`/pay/${token}`)).status).toBe(404)
    expect((await post(`/pay/${'x'.repeat(32)}`)).status).toBe(404)
    // What was begun before the end is still taken: the payer has paid it.
    expect((await tell(event())).status).toBe(200)
    expect(await open()).toBe(0)
  })
  it.each([
    [[], 'begun'],
    [['refused'], 'refused'],
    [['refused', 'paid'], 'paid'],
    [['paid', 'refused'], 'paid'],
    [['disputed'], 'disputed'],
    [['settled', 'disputed', 'paid'], 'disputed'],
    [['dispute won', 'paid', 'disputed'], 'paid'],
    [['settled'], 'paid'],
  ] as const)('that was told %j stands as %s', (told, state) => expect(chargeState(told)).toBe(state))
  it('stands the same whatever the order of what is told', () => {
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...cardEventKinds), { maxLength: 8 }), (kinds) => {
        const state = chargeState(kinds)
        expect(chargeState([...kinds].reverse())).toBe(state)
        expect(chargeState([...kinds, ...kinds])).toBe(state)
      }),
    )
  })
})
