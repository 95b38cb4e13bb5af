import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row, rows } from '../src/platform'
import { Office, today, type Person } from './office'

let office: Office
let noor: Person
let orla: Person
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  orla = await office.signIn('orla')
})
afterAll(async () => {
  expect(await office.agrees()).toBe(true)
  await office.close()
})

let n = 0
const client = (more: Record<string, unknown> = {}) => office.matter(noor, `Arranged Client ${(n += 1)} Ltd`, more)
async function work(matterId: number, duration: string, more: Record<string, unknown> = {}) {
  const { id } = await noor.must<{ id: number }>('POST', '/time', { matterId, day: today, duration, text: 'drafting', ...more })
  await noor.must('POST', '/time/post', { ids: [id] })
  return id
}
const cost = (matterId: number, amount: number, kind = 'hard cost') =>
  noor.must<{ id: number }>('POST', `/matters/${matterId}/costs`, { kind, day: today, text: 'filing', amount, paidFrom: 'operating', payee: 'Clerk' }) // prettier-ignore
interface Arrangement {
  billing: string
  portions: { id: number; label: string; amount: number; earnedOn: string | null; billId: number | null; added: boolean }[]
  contingent: { feeOf: string; stages: { label: string; share: string }[] } | null
  retainer: { ask: number; held: number } | null
}
const arrangement = (id: number) => noor.must<Arrangement>('GET', `/matters/${id}/arrangement`)
interface Pre {
  totals: { total: number; fees: number }
  lines: { id: number; kind: string; text: string; minutes: number | null; charged: number; carries: number; added: boolean }[]
}
const preBill = async (matterId: number) => {
  const { id } = await noor.must<{ id: number }>('POST', '/pre-bills', { matterId, workTo: today })
  return { id, read: () => noor.must<Pre>('GET', `/pre-bills/${id}`) }
}
async function issue(id: number) {
  await noor.must('POST', `/pre-bills/${id}/approve`, { approved: true })
  return orla.must<{ id: number; number: string }>('POST', `/pre-bills/${id}/issue`, { day: today })
}
const unbilled = async (matterId: number) =>
  (await row<{ unbilled: number }>(office.db.manager, `SELECT unbilled FROM matter_figure WHERE matter_id = ?`, [matterId]))?.unbilled ?? 0

describe('a flat fee by stages', () => {
  it('is charged as its stages are reached, and the work before stands beside each', async () => {
    const m = await client({
      billing: 'flat',
      flatFee: [
        { label: 'Opening', amount: 30_000, due: 'opening' },
        { label: 'Hearing', amount: 20_001, due: 'reached' },
      ],
    })
    await work(m.id, '1.0')
    expect(await unbilled(m.id)).toBe(30_000)
    const first = await preBill(m.id)
    expect((await first.read()).totals.total).toBe(30_000)
    await issue(first.id)
    // The second is not there yet, and later work waits for it.
    await work(m.id, '0.5')
    expect((await noor.post('/pre-bills', { matterId: m.id, workTo: today })).body.code).toBe('nothing-to-bill')
    const { portions } = await arrangement(m.id)
    await noor.must('POST', `/fee-portions/${portions[1]!.id}/earned`, { day: today })
    expect(await unbilled(m.id)).toBe(20_001)
    const second = await preBill(m.id)
    const read = await second.read()
    expect([read.totals.total, read.lines.map((l) => l.kind)]).toEqual([20_001, ['time', 'flat']])
    await issue(second.id)
  })
  it('is reached by a stage of the matter', async () => {
    const areas = await noor.must<{ areas: { id: number; stages: { id: number; name: string }[] }[] }>('GET', '/matters/setting')
    const area = areas.areas.find((a) => a.stages.length > 1)!
    const m = await client({
      areaId: area.id,
      billing: 'flat',
      flatFee: [{ label: 'As it moves', amount: 10_000, due: 'reached', stageId: area.stages[1]!.id }],
    })
    expect(await unbilled(m.id)).toBe(0)
    await noor.must('PUT', `/matters/${m.id}/stage`, { stageId: area.stages[1]!.id })
    expect((await arrangement(m.id)).portions[0]!.earnedOn).toBe(today)
    expect(await unbilled(m.id)).toBe(10_000)
  })
})

describe('an arrangement that changes on a running matter', () => {
  it('covers work of that day and later, as was shown, and charges it again when it is changed back', async () => {
    const m = await client()
    await work(m.id, '1.0')
    const worth = await unbilled(m.id)
    const effect = (billing: string) => noor.must<object>('GET', `/matters/${m.id}/arrangement/effect?billing=${billing}&from=${today}`)
    const seen = await effect('flat')
    expect(seen).toMatchObject({ nowCovered: { entries: 1, amount: worth }, nowCharged: { entries: 0 } })
    const change = { billing: 'flat', from: today, flatFee: [{ label: 'All', amount: 50_000 }] }
    expect((await noor.put(`/matters/${m.id}/arrangement`, change)).body.code).toBe('changed-meanwhile')
    await noor.must('PUT', `/matters/${m.id}/arrangement`, { ...change, seen })
    expect(await unbilled(m.id)).toBe(50_000)
    await noor.must('PUT', `/matters/${m.id}/arrangement`, { billing: 'hourly', from: today, seen: await effect('hourly') })
    expect(await unbilled(m.id)).toBe(worth)
  })
  it('puts new time on no bill where it is done at no charge or for a grant, and refuses a change while a pre-bill waits', async () => {
    const m = await client({ billing: 'no charge' })
    await work(m.id, '1.0', { charge: 'billable' })
    const entry = await row<{ charge: string }>(office.db.manager, `SELECT charge FROM time_entry WHERE matter_id = ?`, [m.id])
    expect(entry!.charge).toBe('non-billable')
    const hourly = await client()
    await work(hourly.id, '1.0')
    const pre = await preBill(hourly.id)
    const refused = await noor.put(`/matters/${hourly.id}/arrangement`, { billing: 'grant', from: today, seen: null })
    expect(refused.body.code).toBe('pre-bill-waits')
    await noor.call('DELETE', `/pre-bills/${pre.id}`)
  })
  it('asks a client for what is missing to a retainer', async () => {
    const m = await client()
    await office.deposit(orla, m, 40_000, '2026-10-01', 'cash')
    await noor.must('PUT', `/matters/${m.id}/arrangement`, { billing: 'hourly', from: today, retainer: { floor: 50_000, fillTo: 200_000 } })
    expect((await arrangement(m.id)).retainer).toMatchObject({ held: 40_000, ask: 160_000 })
    // The list of retainers asks for as much, less what the client has been asked for and has not sent.
    const listed = async () => {
      const t = await orla.must<{ columns: { key: string }[]; rows: { key: string; cells: (number | null)[] }[] }>('GET', '/oversight/reports/retainers') // prettier-ignore
      const { cells } = t.rows.find((r) => r.key === String(m.id))!
      return ['held', 'asked', 'ask'].map((key) => cells[t.columns.findIndex((c) => c.key === key)])
    }
    expect(await listed()).toEqual([40_000, null, 160_000])
    const call = { bankAccountId: await office.bank('pooled'), clientId: m.clientId, matterId: m.id, amount: 100_000, dueOn: null, message: '', minimum: null, everyDays: null } // prettier-ignore
    const { id } = await orla.must<{ id: number }>('POST', '/calls', call)
    expect(await listed()).toEqual([40_000, null, 160_000])
    await office.db.query(`UPDATE account_call SET sent_on = ? WHERE id = ?`, [today, id])
    expect(await listed()).toEqual([40_000, 100_000, 60_000])
  })
})

describe('a contingent fee', () => {
  const contingent = (feeOf: string) => ({
    billing: 'contingency',
    contingent: { feeOf, stages: [{ label: 'Before filing', share: '1/3' }, { label: 'After filing', share: '40 %' }] },
  }) // prettier-ignore
  it.each([
    ['gross', 3_333_333, 6_066_667],
    ['net of costs', 3_133_333, 6_266_667],
  ])(
    'of what is %s closes to the cent, is paid from trust, and what is left goes to lien holders and the client',
    async (feeOf, fee, rest) => {
      const m = await client(contingent(feeOf))
      await work(m.id, '2.0')
      expect(await unbilled(m.id)).toBe(0)
      await cost(m.id, 600_000)
      const ledgerId = await office.deposit(orla, m, 10_000_000, '2026-10-01', 'cash')
      const asked = {
        matterId: m.id,
        recoveredOn: today,
        fromWhom: 'Corvane Mutual',
        gross: 10_000_000,
        stage: 0,
        liens: [{ payee: 'Sedge Island Clinic', text: 'care in June', amount: 66_667 }],
      }
      const shown = await noor.must<{ fee: number; toClient: number; lines: { amount: number }[]; billed: number }>('POST', '/settlements/preview', asked) // prettier-ignore
      expect([shown.fee, shown.toClient, shown.billed]).toEqual([fee, rest - 66_667, fee + 600_000])
      expect(shown.lines.reduce((s, l) => s + l.amount, 0)).toBe(10_000_000)
      expect((await noor.post('/settlements', { ...asked, toClient: shown.toClient + 1 })).body.code).toBe('changed-meanwhile')
      const made = await noor.must<{ id: number; preBillId: number }>('POST', '/settlements', { ...asked, toClient: shown.toClient })
      const bill = await issue(made.preBillId)
      await orla.must('POST', '/trust/bill-payments', { ledgerId, billId: bill.id, day: today, amount: fee + 600_000 })
      expect(await orla.must('POST', `/settlements/${made.id}/payments`, { ledgerId, day: today })).toEqual({ drafted: 2 })
      const ledger = await orla.must<{ available: number; reserved: number }>('GET', `/trust/ledgers/${ledgerId}`)
      expect([ledger.available, ledger.reserved]).toEqual([0, 10_000_000 - fee - 600_000])
      expect((await orla.post(`/settlements/${made.id}/payments`, { ledgerId, day: today })).body.code).toBe('nothing-to-draft')
      expect((await noor.post(`/settlements/${made.id}/withdrawn`, {})).body.code).toBe('billed-already')
      expect((await noor.call('GET', `/settlements/${made.id}/pdf`)).bytes.subarray(0, 4).toString()).toBe('%PDF')
      // The hours behind it were taken by its bill.
      const open = await row<{ n: number }>(office.db.manager, `SELECT COUNT(*) AS n FROM time_entry WHERE matter_id = ? AND waits = 1`, [
        m.id,
      ])
      expect(open!.n).toBe(0)
    },
  )
  it('is refused where more is owed than was recovered, and leaves nothing behind when it is withdrawn', async () => {
    const m = await client(contingent('gross'))
    await cost(m.id, 50_000)
    const asked = { matterId: m.id, recoveredOn: today, fromWhom: 'Corvane', gross: 60_000, stage: 1 }
    const over = await noor.post<{ errors: { path: string }[] }>('/settlements/preview', { ...asked, liens: [{ payee: 'X', text: 'y', amount: 1 }] }) // prettier-ignore
    expect(over.status).toBe(400)
    expect((await noor.post('/settlements/preview', { ...asked, stage: 2 })).status).toBe(400)
    const fine = { ...asked, gross: 100_000 }
    const made = await noor.must<{ id: number; preBillId: number }>('POST', '/settlements', { ...fine, toClient: 10_000 })
    // The bill stays what the statement says of it.
    await noor.must('POST', `/pre-bills/${made.preBillId}/lines`, { label: 'One more fee', amount: 1 })
    const differs = await noor.post(`/pre-bills/${made.preBillId}/approve`, { approved: true })
    expect(differs.body.code).toBe('settlement-differs')
    const more = (await noor.must<Pre>('GET', `/pre-bills/${made.preBillId}`)).lines.find((l) => l.text === 'One more fee')!
    await noor.call('DELETE', `/pre-bills/${made.preBillId}/lines/${more.id}`)
    await noor.must('POST', `/settlements/${made.id}/withdrawn`, {})
    expect(await unbilled(m.id)).toBe(50_000)
    expect(await rows(office.db.manager, `SELECT id FROM fee_portion WHERE matter_id = ?`, [m.id])).toHaveLength(0)
  })
})

describe('review', () => {
  it('splits, merges, parts, moves, adds and takes out, and the bill takes every entry once', async () => {
    const [m, other] = [await client(), await client()]
    const [a, b, c] = [await work(m.id, '1.0'), await work(m.id, '0.5'), await work(m.id, '2.0')]
    const pre = await preBill(m.id)
    const before = (await pre.read()).totals.total
    const line = async (text: string | RegExp, at = 0) => (await pre.read()).lines.filter((l) => (typeof text === 'string' ? l.text === text : text.test(l.text)))[at]! // prettier-ignore
    const url = (id: number) => `/pre-bills/${pre.id}/lines/${id}`
    const twoHours = (await pre.read()).lines.find((l) => l.minutes === 120)!
    await noor.must('POST', `${url(twoHours.id)}/split`, { duration: '0.5', text: 'call', restText: 'letter' })
    expect([(await line('call')).minutes, (await line('letter')).minutes, (await pre.read()).totals.total]).toEqual([30, 90, before])
    const ids = [(await line('drafting')).id, (await line('drafting', 1)).id]
    await noor.must('POST', `/pre-bills/${pre.id}/lines/merged`, { lineIds: ids, text: 'drafting and call' })
    expect([(await line('drafting and call')).minutes, (await line('drafting and call')).carries, (await pre.read()).totals.total]).toEqual([90, 1, before]) // prettier-ignore
    await noor.must('POST', `${url((await line('drafting and call')).id)}/parted`, {})
    expect((await pre.read()).lines).toHaveLength(4)
    await noor.must('POST', `/pre-bills/${pre.id}/lines/merged`, { lineIds: ids, text: 'drafting and call' })
    expect((await noor.post(`${url((await line('drafting and call')).id)}/moved`, { matterId: other.id })).body.code).toBe('merged')
    await noor.must('POST', `${url((await line('letter')).id)}/moved`, { matterId: other.id })
    expect(await unbilled(other.id)).toBeGreaterThan(0)
    await noor.must('POST', `/pre-bills/${pre.id}/lines`, { label: 'Filing service', amount: 12_345 })
    const added = await line('Filing service')
    expect(added.added).toBe(true)
    await noor.call('DELETE', url(added.id))
    await noor.must('POST', `/pre-bills/${pre.id}/lines`, { label: 'Filing service', amount: 12_345 })
    expect((await noor.call('DELETE', url((await line('call')).id))).body.code).toBe('not-added')
    const bill = await issue(pre.id)
    const taken = await rows<{ id: number }>(office.db.manager, `SELECT id FROM time_entry WHERE bill_id = ? ORDER BY id`, [bill.id])
    expect(taken.map((t) => t.id)).toEqual(expect.arrayContaining([a, b, c]))
    // A void gives every one of them back.
    await orla.must('POST', `/bills/${bill.id}/void`, { day: today, reason: 'wrong' })
    const back = await rows(office.db.manager, `SELECT id FROM time_entry WHERE matter_id = ? AND waits = 1`, [m.id])
    expect(back).toHaveLength(taken.length)
  })
})
