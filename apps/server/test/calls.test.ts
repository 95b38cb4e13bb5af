import { processingFee } from '@heron/core/billing'
import { startProcessor, type ProcessorStandIn } from '@heron/standins/cards'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { followCalls } from '../src/billing'
import { insertMany, row, rows } from '../src/platform'
import { useProcessor } from '../src/platform/processor'
import { Office, today, type Person } from './office'

const secret = 'a secret of both'
let office: Office
let noor: Person
let orla: Person
let processor: ProcessorStandIn
const at = () => `http://127.0.0.1:${office.running.port}`
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
const others = Array.from({ length: 210 }, (_, i) => 900_000 + i)
interface Call {
  id: number
  state: string
  paid: number
  open: number
  amount: number
  version: number
  afterId: number | null
}
async function called(more: object = {}) {
  const m = await office.matter(noor, `Called Client ${(n += 1)} Ltd`)
  await office.db.query(`UPDATE contact SET email = ? WHERE id = ?`, [`called${n}@pays.example`, m.clientId])
  const input = {
    bankAccountId: await office.bank('pooled'),
    clientId: m.clientId,
    matterId: m.id,
    amount: 5_000_00,
    dueOn: '2026-12-10',
    message: 'For the experts.',
    ...more,
  }
  const { id } = await orla.must<{ id: number }>('POST', '/calls', input)
  const now = async () => (await orla.must<{ rows: Call[] }>('GET', `/calls?matterId=${m.id}`)).rows.find((c) => c.id === id)!
  const letters = () =>
    rows<{ subject: string; body: string }>(
      office.db.manager,
      `SELECT subject, body FROM mail WHERE to_address = (SELECT email FROM contact WHERE id = ?) ORDER BY id`,
      [m.clientId],
    )
  const ledger = async () =>
    (await orla.must<{ rows: { id: number; book: number; available: number }[] }>('GET', `/trust/ledgers?matterId=${m.id}&withMoney=no`))
      .rows[0]!
  return { m, id, input, now, letters, ledger }
}
async function visit(url: string) {
  const token = url.split('/pay/')[1]!
  const post = async (path: string) => {
    const answer = await fetch(`${at()}/api/pay/${token}${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: '{}',
    })
    return {
      status: answer.status,
      body: (await answer.json()) as { code?: string; url: string; open: number; what: string; message: string },
    }
  }
  const card = async () =>
    fetch((await post('/charges')).body.url, { method: 'POST', headers: { 'content-type': 'application/x-www-form-urlencoded' }, body: new URLSearchParams({ name: 'A Payer', number: '5100 0000 0000 0008' }) }) // prettier-ignore
  return { post, card }
}

describe('a call on account', () => {
  it('is drafted, sent, seen and paid by card: gross into trust, the fee out of operating, receipt and word at once', async () => {
    const { id, input, now, letters, ledger } = await called()
    expect((await now()).state).toBe('draft')
    expect((await orla.post('/calls', { ...input, bankAccountId: await office.bank('operating') })).body.fields[0]?.path).toBe(
      'bankAccountId',
    )
    expect((await orla.post('/calls', { ...input, minimum: 5_000_00 })).body.fields[0]?.path).toBe('minimum')
    expect((await orla.put(`/calls/${id}`, { ...input, amount: 4_000_00, version: 7 })).body.code).toBe('changed-meanwhile')
    await orla.must('PUT', `/calls/${id}`, { ...input, amount: 4_000_00, version: 0 })
    const sent = await orla.must<{ url: string; to: string }>('POST', `/calls/${id}/send`, {})
    expect([sent.to, (await now()).state, (await letters())[0]!.body]).toEqual([`called${n}@pays.example`, 'sent', expect.stringContaining(sent.url)]) // prettier-ignore
    expect((await orla.put(`/calls/${id}`, { ...input, version: 1 })).body.code).toBe('not-a-draft')
    expect((await orla.post(`/calls/${id}/send`, {})).body.code).toBe('changed-meanwhile')
    const payer = await visit(sent.url)
    expect((await payer.post('')).body).toMatchObject({ what: 'call', open: 4_000_00, message: 'For the experts.' })
    expect((await now()).state).toBe('seen')
    await office.db.query(`UPDATE clearing_days SET court_days = 0 WHERE kind = 'card'`)
    await payer.card()
    await processor.quiet()
    expect(await now()).toMatchObject({ state: 'paid', paid: 4_000_00, open: 0 })
    expect((await ledger()).book).toBe(4_000_00)
    expect((await payer.post('/charges')).body.code).toBe('nothing-open')
    expect((await letters()).map((l) => l.subject).at(-1)).toMatch(/^Receipt \d+/)
    const [charge] = await rows<{ id: string }>(office.db.manager, `SELECT id FROM card_charge WHERE call_id = ?`, [id])
    processor.settle('2999-01-01')
    await processor.quiet()
    const fee = await row<{ amount: number; kind: string }>(office.db.manager, `SELECT e.amount, b.kind FROM journal j JOIN bank_entry e ON e.journal_id = j.id JOIN bank_account b ON b.id = e.bank_account_id WHERE j.kind = 'card fee' AND j.subject = 'call' AND j.subject_id = ?`, [id]) // prettier-ignore
    expect(fee).toEqual({ amount: -processingFee(4_000_00, 290, 30), kind: 'operating' })
    // What was spent meanwhile the firm covers when the card is disputed; won, the money comes again.
    const { id: ledgerId } = await ledger()
    const bank = await office.bank('pooled')
    expect(
      (await orla.post('/trust/payments/now', { ledgerId, day: today, payeeName: 'A Surveyor', amount: 1_000_00, method: 'wire' })).status,
    ).toBe(200)
    processor.dispute(charge!.id)
    await processor.quiet()
    expect([(await now()).state, (await ledger()).book]).toEqual(['seen', 0])
    const covers = await orla.must<{ ledgerId: number; cover: number }[]>('GET', '/trust/covers')
    expect(covers.find((c) => c.ledgerId === ledgerId)?.cover).toBe(1_000_00)
    processor.win(charge!.id)
    await processor.quiet()
    expect([(await now()).state, (await ledger()).book, bank > 0]).toEqual(['paid', 4_000_00, true])
  })
  it('is paid offline by receipts of the same owner, each of which counts once; withdrawn, its link ends', async () => {
    const a = await called()
    const b = await called()
    const { url } = await orla.must<{ url: string }>('POST', `/calls/${a.id}/send`, {})
    const payer = await visit(url)
    await office.deposit(orla, a.m, 2_000_00, today)
    const list = await orla.must<{ id: number; amount: number; taken: boolean }[]>('GET', `/calls/${a.id}/receipts`)
    expect(list.map((r) => r.amount)).toEqual([2_000_00])
    const took = (id: number) => orla.post(`/calls/${id}/receipts`, { receiptId: list[0]!.id })
    expect((await took(b.id)).body.fields[0]?.path).toBe('receiptId')
    expect((await took(a.id)).status).toBe(200)
    expect((await took(a.id)).body.code).toBe('changed-meanwhile')
    expect(await a.now()).toMatchObject({ state: 'part paid', open: 3_000_00 })
    expect((await payer.post('')).body.open).toBe(3_000_00)
    await orla.must('POST', `/calls/${a.id}/withdraw`, {})
    expect([(await a.now()).state, (await payer.post('')).status]).toEqual(['withdrawn', 404])
    expect((await orla.post(`/calls/${a.id}/send`, {})).body.code).toBe('not-open')
    expect((await noor.post('/calls', a.input)).status).toBe(403)
  })
  it('reminds by itself, and asks again when its minimum is undercut, each once', async () => {
    const { m, id, now, letters, ledger } = await called({ minimum: 1_000_00, everyDays: 7 })
    await orla.must('POST', `/calls/${id}/send`, {})
    await followCalls(office.running.base)
    expect((await letters()).length).toBe(1)
    await office.db.query(`UPDATE account_call SET sent_on = '2026-11-10' WHERE id = ?`, [id])
    for (let i = 0; i < 2; i += 1) await followCalls(office.running.base)
    expect((await letters()).map((l) => l.subject.slice(0, 8))).toEqual(['$5,000.0', 'Reminder'])
    await office.deposit(orla, m, 5_000_00, '2026-11-12')
    const [receipt] = await orla.must<{ id: number }[]>('GET', `/calls/${id}/receipts`)
    await orla.must('POST', `/calls/${id}/receipts`, { receiptId: receipt!.id })
    await followCalls(office.running.base)
    expect((await now()).state).toBe('paid')
    const { id: ledgerId } = await ledger()
    await orla.must('POST', '/trust/payments/now', { ledgerId, day: today, payeeName: 'A Surveyor', amount: 4_200_00, method: 'wire' })
    for (let i = 0; i < 2; i += 1) await followCalls(office.running.base)
    const all = (await orla.must<{ rows: Call[] }>('GET', `/calls?matterId=${m.id}`)).rows
    expect(all.map((c) => [c.amount, c.state, c.afterId])).toEqual([
      [4_200_00, 'sent', id],
      [5_000_00, 'paid', null],
    ])
  })
  it('of a client without a matter looks at that client’s own ledger, however many the firm has, and is listed by its state', async () => {
    const m = office.db.manager
    // Very many others come first by name.
    await insertMany(m, 'contact', ['id', 'kind', 'name', 'normalized', 'created_at'], others.map((id) => [id, 'organization', `Aab ${id}`, `aab ${id}`, '2026-01-01'])) // prettier-ignore
    await insertMany(m, 'client_ledger', ['bank_account_id', 'kind', 'client_id', 'owner_key'], await Promise.all(others.map(async (id) => [await office.bank('pooled'), 'client', id, `client ${id} matter 0`]))) // prettier-ignore
    const { m: own, id } = await called({ matterId: null, minimum: 1_000_00 })
    await orla.must('POST', `/calls/${id}/send`, {})
    const sheet = await orla.must<{ id: number }>('POST', '/trust/sheets', {
      bankAccountId: await office.bank('pooled'),
      day: today,
      controlTotal: 5_000_00,
      receipts: [{ clientId: own.clientId, matterId: null, depositor: 'Client', kind: 'wire', amount: 5_000_00 }],
    })
    await orla.must('POST', `/trust/sheets/${sheet.id}/post`, {})
    const listed = (state: string) =>
      orla.must<{ rows: Call[]; total: number; open: number }>('GET', `/calls?clientId=${own.clientId}&state=${state}`)
    expect(await listed('open')).toMatchObject({ total: 1, open: 5_000_00, rows: [{ id, state: 'sent', open: 5_000_00 }] })
    const [receipt] = await orla.must<{ id: number }[]>('GET', `/calls/${id}/receipts`)
    await orla.must('POST', `/calls/${id}/receipts`, { receiptId: receipt!.id })
    await followCalls(office.running.base)
    expect([(await listed('')).rows.map((c) => c.state), (await listed('open')).total, (await listed('paid')).total, (await listed('late')).total]).toEqual([['paid'], 0, 1, 0]) // prettier-ignore
  })
})
