import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row, rows } from '../src/platform'
import { enterAllDue } from '../src/vendors'
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

const account = async (code: string) => (await row<{ id: number }>(office.db.manager, `SELECT id FROM account WHERE code = ?`, [code]))!.id
const kind = async (code: string) => (await row<{ id: number }>(office.db.manager, `SELECT id FROM cost_kind WHERE code = ?`, [code]))!.id
const vendor = async (name: string) => (await noor.must<{ id: number }>('POST', '/contacts', { kind: 'organization', name, kinds: ['vendor'], address: '9 Quay\nHarrow Sound' })).id // prettier-ignore
const enter = (vendorId: number, more: object) => orla.post<{ id: number }>('/vendors/bills', { vendorId, day: '2026-11-02', dueOn: '2026-12-02', ...more }) // prettier-ignore
interface Bill {
  open: number
  discount: number
  state: string
  lines: { amount: number; costId: number | null }[]
  payments: { id: number; amount: number; discount: number; state: string }[]
}
const bill = (id: number) => orla.must<Bill>('GET', `/vendors/bills/${id}`)
interface Aging {
  rows: { vendor: string; buckets: number[]; total: number }[]
  together: { total: number }
  account: number
  unexplained: number
}
const owed = (asOf = today) => orla.must<Aging>('GET', `/reports/payables?asOf=${asOf}`)
const pay = (parts: { billId: number; amount: number }[], more: object = {}) =>
  orla.post<{ payments: { id: number; checkNo: number | null; amount: number }[]; amount: number; discount: number }>('/vendors/run', { day: '2026-11-10', parts, ...more }) // prettier-ignore
/** What the income statement says of an account in a month. */
const expense = async (code: string, basis: 'cash' | 'accrual', from: string, to: string) => {
  const s = await orla.must<{ sections: { rows: { name: string; amounts: number[] }[] }[] }>('GET', `/books/statements/income?from=${from}&to=${to}&basis=${basis}&by=account`) // prettier-ignore
  return s.sections.flatMap((x) => x.rows).find((r) => r.name.startsWith(code))?.amounts[0] ?? 0
}

describe('bills of vendors', () => {
  it('are owed from their day, expenses of the firm and costs of matters, and taken back whole', async () => {
    const paper = await vendor('Paperie Lune')
    const m = await office.matter(noor, 'Vendor Costs')
    const made = await enter(paper, { number: 'A-1', lines: [
      { accountId: await account('5040'), amount: 120_00 },
      { matterId: m.id, kindId: await kind('DEPO'), text: 'Transcript of Hale', amount: 480_00 },
    ] }) // prettier-ignore
    expect(made.status).toBe(200)
    expect(await bill(made.body.id)).toMatchObject({ open: 600_00, state: 'open' })
    expect((await owed()).rows.find((r) => r.vendor === 'Paperie Lune')).toMatchObject({ total: 600_00, buckets: [600_00, 0, 0, 0, 0] })
    expect((await owed('2026-12-20')).rows.find((r) => r.vendor === 'Paperie Lune')!.buckets[1]).toBe(600_00)
    expect((await owed('2026-11-01')).rows.some((r) => r.vendor === 'Paperie Lune')).toBe(false)
    // The same number of the same vendor is refused, whoever enters it.
    expect((await enter(paper, { number: 'A-1', lines: [{ accountId: await account('5040'), amount: 1 }] })).body.fields[0]!.path).toBe('number') // prettier-ignore
    const { costId } = (await bill(made.body.id)).lines[1]!
    expect((await orla.post(`/costs/${costId}/reverse`, { reason: 'wrong' })).body.code).toBe('not-reversible')
    expect((await orla.post('/costs/settle', { ids: [costId], day: today })).body.code).toBe('not-owed')
    expect((await orla.post(`/vendors/bills/${made.body.id}/void`, { day: '2026-11-03', reason: 'sent twice' })).status).toBe(200)
    expect(await bill(made.body.id)).toMatchObject({ open: 0, state: 'void' })
    expect((await row<{ state: string }>(office.db.manager, `SELECT state FROM cost_entry WHERE id = ?`, [costId!]))!.state).toBe(
      'reversed',
    )
    expect((await owed()).rows.some((r) => r.vendor === 'Paperie Lune')).toBe(false)
    expect((await owed('2026-11-02')).rows.find((r) => r.vendor === 'Paperie Lune')!.total).toBe(600_00)
  })

  it('of matters that are not to be billed count on paid money as they are paid, and never when they are taken back', async () => {
    const [who, m] = [await vendor('Quill Couriers'), await office.matter(noor, 'Uncharged Ltd')]
    const own = { matterId: m.id, kindId: await kind('COURT'), billable: false }
    const told = async () => {
      const code = (await row<{ code: string }>(office.db.manager, `SELECT code FROM account WHERE role = 'costs not recovered'`))!.code
      const on = (basis: 'cash' | 'accrual', day: string) => expense(code, basis, day, day)
      return [await on('accrual', '2026-11-05'), await on('cash', '2026-11-05'), await on('cash', '2026-11-06'), await on('cash', '2026-11-09'), await on('cash', '2026-11-12')] // prettier-ignore
    }
    const before = await told()
    const more = async () => (await told()).map((x, i) => x - before[i]!)
    const a = (await enter(who, { number: 'Q-1', day: '2026-11-05', lines: [{ ...own, amount: 80_00 }, { accountId: await account('5040'), amount: 20_00 }] })).body.id // prettier-ignore
    const b = (await enter(who, { number: 'Q-2', day: '2026-11-05', lines: [{ ...own, amount: 7_00 }] })).body.id
    const alone = (await orla.must<{ id: number }>('POST', `/matters/${m.id}/costs`, { ...own, matterId: undefined, day: '2026-11-05', text: 'Service of process', amount: 30_00, payee: 'Quill Couriers', paidFrom: 'owed' })).id // prettier-ignore
    expect(await more()).toEqual([117_00, 0, 0, 0, 0])
    // Half of the first bill is paid on the 6th, the rest on the 9th, and that is void on the 12th; the cost by itself is paid on the 9th.
    await pay([{ billId: a, amount: 50_00 }], { day: '2026-11-06' })
    const rest = (await pay([{ billId: a, amount: 50_00 }], { day: '2026-11-09' })).body.payments[0]!
    await orla.must('POST', '/costs/settle', { ids: [alone], day: '2026-11-09' })
    expect(await more()).toEqual([117_00, 0, 40_00, 70_00, 0])
    await orla.must('POST', `/vendors/payments/${rest.id}/void`, { day: '2026-11-12', reason: 'lost in the mail' })
    await orla.must('POST', `/vendors/bills/${b}/void`, { day: '2026-11-12', reason: 'sent twice' })
    expect(await more()).toEqual([117_00, 0, 40_00, 70_00, -40_00])
    expect(await office.agrees()).toBe(true)
  })

  it('are paid in one run, a check for each vendor, whole with their discount or in part, and void again', async () => {
    const [rent, books] = [await vendor('Quay Lettings'), await vendor('Codex Supply')]
    const a = (await enter(rent, { number: 'R-11', lines: [{ accountId: await account('5020'), amount: 3_000_00 }] })).body.id
    const b = (await enter(books, { number: '77', discount: 20_00, discountOn: '2026-11-12', lines: [{ accountId: await account('5040'), amount: 1_000_00 }] })).body.id // prettier-ignore
    const c = (await enter(books, { number: '78', lines: [{ accountId: await account('5040'), amount: 500_00 }] })).body.id
    const ahead = await orla.must<{ total: number; discount: number; payees: number }>('POST', '/vendors/run/ahead', { day: '2026-11-10', ids: [a, b, c] }) // prettier-ignore
    expect(ahead).toMatchObject({ total: 4_480_00, discount: 20_00, payees: 2 })
    expect(await orla.must('POST', '/vendors/run/ahead', { day: '2026-11-13', ids: [b] })).toMatchObject({ total: 1_000_00, discount: 0 })
    const before = await expense('5040', 'cash', '2026-11-10', '2026-11-10')
    const paid = await pay([{ billId: a, amount: 3_000_00 }, { billId: b, amount: 980_00 }, { billId: c, amount: 200_00 }]) // prettier-ignore
    expect(paid.body).toMatchObject({ amount: 4_180_00, discount: 20_00 })
    expect(paid.body.payments.map((p) => p.amount)).toEqual([3_000_00, 1_180_00])
    expect(paid.body.payments[1]!.checkNo).toBe(paid.body.payments[0]!.checkNo! + 1)
    expect(await bill(b)).toMatchObject({ open: 0, state: 'paid' })
    expect(await bill(c)).toMatchObject({ open: 300_00, state: 'part paid' })
    // On paid money 1,200.00 counts that day, with 20.00 of discount as income; as billed it stood on the bills' own day.
    expect((await expense('5040', 'cash', '2026-11-10', '2026-11-10')) - before).toBe(1_200_00)
    expect((await pay([{ billId: c, amount: 300_01 }])).body.fields[0]!.message).toContain('$300.00')
    expect((await pay([{ billId: b, amount: 1 }])).body.code).toBe('not-owed')
    const operating = await office.bank('operating')
    const register = await orla.must<{ rows: { number: number; payee: string; state: string }[] }>('GET', `/checks?bankAccountId=${operating}`) // prettier-ignore
    expect(register.rows.find((r) => r.number === paid.body.payments[1]!.checkNo)).toMatchObject({ payee: 'Codex Supply', state: 'outstanding' }) // prettier-ignore
    const pdf = await orla.get(`/vendors/checks?ids=${paid.body.payments.map((p) => p.id).join(',')}`)
    expect(pdf.bytes.subarray(0, 5).toString()).toBe('%PDF-')
    expect((await orla.post(`/vendors/bills/${c}/void`, { day: today, reason: 'no' })).body.code).toBe('has-payments')
    // Spoiled in printing: the same bills, the same discount though its day has passed, under the next number of the same day.
    const was = paid.body.payments[1]!
    const anew = await orla.must<{ id: number; checkNo: number }>('POST', `/vendors/payments/${was.id}/spoiled`, {})
    expect(anew.checkNo).toBe(was.checkNo! + 1)
    expect([await bill(b), await bill(c)]).toMatchObject([{ open: 0, state: 'paid' }, { open: 300_00 }])
    expect((await expense('5040', 'cash', '2026-11-10', '2026-11-10')) - before).toBe(1_200_00)
    expect((await orla.post(`/vendors/payments/${was.id}/spoiled`, {})).body.code).toBe('not-posted')
    expect((await orla.post(`/vendors/payments/999999/spoiled`, {})).body.code).toBe('not-a-check')
    const numbers = await orla.must<{ rows: { number: number; state: string; words: string }[] }>(
      'GET',
      `/checks?bankAccountId=${operating}`,
    )
    expect(numbers.rows.find((r) => r.number === was.checkNo)).toMatchObject({ state: 'void', words: 'spoiled in printing' })
    paid.body.payments[1]!.id = anew.id
    expect((await orla.post(`/vendors/payments/${paid.body.payments[1]!.id}/void`, { day: '2026-11-11', reason: 'lost in the mail' })).status).toBe(200) // prettier-ignore
    expect([await bill(b), await bill(c)]).toMatchObject([{ open: 1_000_00 }, { open: 500_00 }])
    expect((await orla.post(`/vendors/payments/${paid.body.payments[1]!.id}/void`, { day: today, reason: 'again' })).body.code).toBe('not-posted') // prettier-ignore
    expect((await expense('5040', 'cash', '2026-11-10', '2026-11-11')) - before).toBe(0)
    expect((await owed('2026-11-10')).rows.find((r) => r.vendor === 'Codex Supply')!.total).toBe(300_00)
    expect((await owed('2026-11-11')).rows.find((r) => r.vendor === 'Codex Supply')!.total).toBe(1_500_00)
  })

  it('are printed in a job of whoever made it, that asks how each check came out', async () => {
    const who = await vendor('Printed Vendor')
    const bills = await Promise.all([1, 2, 3].map(async (n) => (await enter(who, { number: `P-${n}`, lines: [{ accountId: await account('5040'), amount: n * 10_00 }] })).body.id)) // prettier-ignore
    const paid: { id: number; checkNo: number | null }[] = []
    for (const [i, billId] of bills.entries()) paid.push((await pay([{ billId, amount: (i + 1) * 10_00 }])).body.payments[0]!)
    const [a, b, c] = paid.map((p) => p.id) as [number, number, number]
    type Check = { id: number; checkNo: number; outcome?: string | null }
    const waiting = async () => (await orla.must<Check[]>('GET', '/vendors/checks/to-print')).map((x) => x.id).filter((id) => [a, b, c].includes(id)) // prettier-ignore
    expect(await waiting()).toEqual([a, b, c])
    await orla.must('POST', '/vendors/checks/by-hand', { paymentIds: [c] })
    expect((await orla.post('/vendors/print-jobs', { paymentIds: [a, c] })).body.code).toBe('changed-meanwhile')
    expect((await noor.post('/vendors/print-jobs', { paymentIds: [a] })).status).toBe(403)
    const { id } = await orla.must<{ id: number }>('POST', '/vendors/print-jobs', { paymentIds: [a, b] })
    expect([await waiting(), (await orla.post('/vendors/print-jobs', { paymentIds: [b] })).body.code]).toEqual([[], 'changed-meanwhile'])
    expect((await orla.get(`/vendors/print-jobs/${id}/pdf`)).bytes.subarray(0, 5).toString()).toBe('%PDF-')
    // A job of vendors is none of trust, and none of another person.
    const ferdi = await office.signIn('ferdi')
    expect([(await orla.get(`/print-jobs/${id}/pdf`)).status, (await ferdi.get(`/vendors/print-jobs/${id}/pdf`)).status]).toEqual([404, 403]) // prettier-ignore
    const tell = (outcomes: [number, string][]) => orla.post<{ closed: boolean; replaced: { paymentId: number; checkNo: number }[] }>(`/vendors/print-jobs/${id}/outcomes`, { outcomes: outcomes.map(([paymentId, outcome]) => ({ paymentId, outcome })) }) // prettier-ignore
    expect((await tell([[a, 'spoiled'], [c, 'printed']])).status).toBe(404) // prettier-ignore
    const told = (await tell([[a, 'spoiled'], [b, 'again']])).body // prettier-ignore
    expect([told.closed, told.replaced.length, (await bill(bills[0]!)).open]).toEqual([false, 1, 0])
    expect((await orla.must<Check[]>('GET', '/vendors/checks/to-print')).some((x) => x.checkNo === told.replaced[0]!.checkNo)).toBe(true)
    expect((await tell([[b, 'printed']])).body).toEqual({ closed: true, replaced: [] })
    expect((await tell([[b, 'printed']])).body).toMatchObject({ code: 'changed-meanwhile' })
    const numbers = await orla.must<{ rows: { number: number; out: string | null; state: string }[] }>('GET', `/checks?bankAccountId=${await office.bank('operating')}`) // prettier-ignore
    const at = (n: number | null) => numbers.rows.find((r) => r.number === n)!
    // A vendor who is a colleague's private contact by now: its checks are in no list and on no paper, and its number keeps their name.
    await office.db.query(`UPDATE contact SET private_to = ? WHERE id = ?`, [await office.user('Noor'), who])
    expect((await orla.must<Check[]>('GET', '/vendors/checks/to-print')).some((x) => x.checkNo === told.replaced[0]!.checkNo)).toBe(false)
    expect((await orla.post('/vendors/print-jobs', { paymentIds: [told.replaced[0]!.paymentId] })).status).toBe(404)
    expect((await orla.get(`/vendors/checks?ids=${told.replaced[0]!.paymentId}`)).status).toBe(409)
    const masked = await orla.must<{ rows: { number: number; payee: string }[] }>('GET', `/checks?bankAccountId=${await office.bank('operating')}`) // prettier-ignore
    expect(masked.rows.find((r) => r.number === paid[1]!.checkNo)!.payee).toBe('')
    await office.db.query(`UPDATE contact SET private_to = NULL WHERE id = ?`, [who])
    expect([at(paid[0]!.checkNo).state, at(paid[1]!.checkNo).out, at(paid[2]!.checkNo).out]).toEqual(['void', 'printed', 'by hand'])
  })

  it('refuse what cannot be: banks and trust as accounts, a discount on a client’s cost, days that do not fit, nobody’s right', async () => {
    const who = await vendor('Strict Vendor')
    const m = await office.matter(noor, 'Discounted Costs')
    const pathOf = async (more: object) => (await enter(who, more)).body.fields[0]!.path
    for (const code of ['1010', '2010', '1100', '2100', '3900'])
      expect(await pathOf({ lines: [{ accountId: await account(code), amount: 1 }] }), code).toBe('lines.0.accountId')
    const line = { accountId: await account('5040'), amount: 100_00 }
    expect(await pathOf({ dueOn: '2026-11-01', lines: [line] })).toBe('dueOn')
    expect(await pathOf({ discount: 5, lines: [line] })).toBe('discountOn')
    expect(await pathOf({ discount: 100_00, discountOn: '2026-11-05', lines: [line] })).toBe('discount')
    const cost = { matterId: m.id, kindId: await kind('DEPO'), amount: 900_00 }
    expect(await pathOf({ discount: 150_00, discountOn: '2026-11-05', lines: [line, cost] })).toBe('discount')
    expect(await pathOf({ lines: [{ ...line, ...cost }] })).toBe('lines.0.accountId')
    expect(await pathOf({ day: '2027-06-01', dueOn: '2027-07-01', lines: [line] })).toBe('day')
    expect((await noor.post('/vendors/bills', { vendorId: who, day: today, dueOn: today, lines: [line] })).status).toBe(403)
    const late = (await enter(who, { lines: [line] })).body.id
    expect((await pay([{ billId: late, amount: 1 }], { day: '2026-11-01' })).body.fields[0]!.path).toBe('day')
    expect((await pay([{ billId: late, amount: 1 }], { day: '2026-12-24' })).body.fields[0]!.path).toBe('day')
    expect((await pay([{ billId: late, amount: 1 }], { bankAccountId: await office.bank('pooled') })).body.fields[0]!.path).toBe('bankAccountId') // prettier-ignore
  })

  it('are paid once, however many pay them at the same moment', async () => {
    const who = await vendor('Rushed Vendor')
    const id = (await enter(who, { lines: [{ accountId: await account('5040'), amount: 100_00 }] })).body.id
    const all = await Promise.all(Array.from({ length: 6 }, () => pay([{ billId: id, amount: 60_00 }])))
    expect(all.filter((a) => a.status === 200)).toHaveLength(1)
    expect((await bill(id)).open).toBe(40_00)
  })

  it('come again by themselves on their day, once, and say what stops them', async () => {
    const who = await vendor('Monthly Rent')
    const input = { vendorId: who, memo: 'Rent of the rooms', dayOfMonth: 31, everyMonths: 1, dueDays: 10, firstOn: '2026-09-25', lines: [{ accountId: await account('5020'), amount: 2_500_00 }] } // prettier-ignore
    expect((await orla.post('/vendors/recurring', { ...input, lines: [{ accountId: await account('1010'), amount: 5 }] })).status).toBe(400)
    await orla.must('POST', '/vendors/recurring', input)
    await enterAllDue(office.running.base)
    await enterAllDue(office.running.base)
    const made = await rows<{ day: string; dueOn: string }>(office.db.manager, `SELECT day, due_on AS dueOn FROM vendor_bill WHERE vendor_id = ? ORDER BY day`, [who]) // prettier-ignore
    expect(made).toEqual([{ day: '2026-09-30', dueOn: '2026-10-10' }, { day: '2026-10-31', dueOn: '2026-11-10' }]) // prettier-ignore
    const list = await orla.must<{ vendor: string; nextOn: string; id: number }[]>('GET', '/vendors/recurring')
    const { id, nextOn } = list.find((r) => r.vendor === 'Monthly Rent')!
    expect(nextOn).toBe('2026-11-30')
    // Whoever let it come again has left: it stops, and waits on whoever keeps the books until somebody ends it.
    const stopped = async () => (await orla.must<{ stoppedBills: number }>('GET', '/waiting')).stoppedBills
    expect(await stopped()).toBe(0)
    await office.db.query(`UPDATE vendor_recurring SET next_on = '2026-11-20', made_by = ? WHERE id = ?`, [await office.user('Billie'), id])
    await office.db.query(`UPDATE user_account SET active = 0 WHERE name LIKE 'Billie%'`)
    await enterAllDue(office.running.base)
    await office.db.query(`UPDATE user_account SET active = 1 WHERE name LIKE 'Billie%'`)
    expect(await stopped()).toBe(1)
    await orla.must('POST', `/vendors/recurring/${id}/end`, {})
    expect(await stopped()).toBe(0)
  })

  it('leave payables at what is owed, and each expense at what was paid, whatever is done to them', async () => {
    const who = await vendor('Random Vendor')
    const [a, b] = [await account('5030'), await account('5040')]
    const off = (await owed()).unexplained
    const cashBefore = await Promise.all(['5030', '5040'].map((c) => expense(c, 'cash', '2026-11-01', today)))
    await fc.assert(
      fc.asyncProperty(fc.array(fc.integer({ min: 1, max: 50_000 }), { minLength: 1, maxLength: 4 }), fc.array(fc.tuple(fc.integer({ min: 1, max: 90_000 }), fc.boolean()), { maxLength: 4 }), async (amounts, steps) => {
        const id = (await enter(who, { lines: amounts.map((amount, i) => ({ accountId: i % 2 ? b : a, amount })) })).body.id
        const payments: number[] = []
        for (const [amount, voids] of steps) {
          if (voids && payments.length) await orla.must('POST', `/vendors/payments/${payments.pop()!}/void`, { day: '2026-11-12', reason: 'random' })
          const { open } = await bill(id)
          if (open) payments.push((await pay([{ billId: id, amount: Math.min(amount, open) }], { method: 'transfer' })).body.payments[0]!.id)
        }
        const { open } = await bill(id)
        if (open) await pay([{ billId: id, amount: open }], { method: 'transfer' })
        expect((await bill(id)).open).toBe(0)
        cashBefore[0]! += amounts.filter((_, i) => i % 2 === 0).reduce((x, y) => x + y, 0)
        cashBefore[1]! += amounts.filter((_, i) => i % 2).reduce((x, y) => x + y, 0)
        expect(await Promise.all(['5030', '5040'].map((c) => expense(c, 'cash', '2026-11-01', today)))).toEqual(cashBefore)
        expect((await owed()).unexplained).toBe(off)
      }),
      { numRuns: 12 },
    ) // prettier-ignore
  })
})
