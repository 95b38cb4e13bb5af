import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row, rows } from '../src/platform'
import { Office, today, type Person } from './office'

let office: Office
const who = {} as Record<'noor' | 'orla' | 'billie', Person>
let count = 0
beforeAll(async () => {
  office = await Office.open()
  for (const n of ['noor', 'orla', 'billie'] as const) who[n] = await office.signIn(n)
})
afterAll(() => office.close())

const client = () => office.matter(who.noor, `Payer Number ${(count += 1)} of Quillhaven`)
interface Bill {
  open: number
  void: boolean
  lines: { id: number }[]
  payments: { id: number; kind: string; here: number; credit: number; reversed: boolean }[]
}
const bill = (id: number) => who.orla.must<Bill>('GET', `/bills/${id}`)
const openOf = async (id: number) => (await bill(id)).open
const creditOf = async (payerId: number) => (await who.orla.must<{ credit: number }>('GET', `/payers/${payerId}`)).credit
const receive = (payerId: number, amount: number, more: object = {}) =>
  who.orla.must<{ id: number; credit: number; applied: { billId: number; amount: number }[] }>('POST', '/payments', {
    payerId,
    day: today,
    amount,
    kind: 'check',
    ...more,
  })
const available = async (ledgerId: number) =>
  (await row<{ n: number }>(office.db.manager, `SELECT COALESCE(SUM(amount), 0) AS n FROM ledger_entry WHERE ledger_id = ?`, [ledgerId]))!.n

/** The receivable of a matter is what its bills leave open; and shares of timekeepers are what was paid on fees. */
async function agrees(matterId: number) {
  const n = await row<{ receivable: number; open: number; wrong: number; shares: number; onFees: number }>(
    office.db.manager,
    `SELECT COALESCE((SELECT SUM(l.amount) FROM journal_line l JOIN account a ON a.id = l.account_id WHERE a.role = 'receivable' AND l.matter_id = x.id), 0) AS receivable,
            (SELECT SUM(b.total) FROM bill b WHERE b.matter_id = x.id) - COALESCE((SELECT SUM(a.amount) FROM allocation a JOIN bill b ON b.id = a.bill_id WHERE b.matter_id = x.id), 0) AS open,
            (SELECT COUNT(*) FROM (SELECT l.id, l.net, COALESCE(SUM(a.amount), 0) AS paid FROM bill_line l JOIN bill b ON b.id = l.bill_id LEFT JOIN allocation a ON a.bill_line_id = l.id WHERE b.matter_id = ? GROUP BY l.id HAVING paid < 0 OR paid > l.net) w) AS wrong,
            COALESCE((SELECT SUM(s.amount) FROM allocation_share s JOIN allocation a ON a.id = s.allocation_id JOIN bill b ON b.id = a.bill_id WHERE b.matter_id = x.id), 0) AS shares,
            COALESCE((SELECT SUM(a.amount) FROM allocation a JOIN bill_line l ON l.id = a.bill_line_id JOIN bill b ON b.id = a.bill_id JOIN payment p ON p.id = a.payment_id WHERE b.matter_id = x.id AND l.kind IN ('time', 'flat') AND p.kind NOT IN ('credit note', 'write-off', 'void')), 0) AS onFees
       FROM matter x WHERE x.id = ?`,
    [matterId, matterId],
  )
  expect(n!.receivable).toBe(n!.open)
  expect(n!.wrong).toBe(0)
  expect(n!.shares).toBe(n!.onFees)
}

describe('a payment over several bills', () => {
  it('pays the oldest due first, leaves the rest as a credit of its payer, and is reversed on each of them', async () => {
    const m = await client()
    const one = await office.bill(who.noor, who.orla, m.id, 10_000, '2026-11-02')
    const two = await office.bill(who.noor, who.orla, m.id, 20_000, '2026-11-09')
    const paid = await receive(m.clientId, 25_000)
    expect(paid.applied.map((a) => [a.billId, a.amount])).toEqual([
      [one.id, 10_000],
      [two.id, 15_000],
    ])
    const more = await receive(m.clientId, 9_000)
    expect([more.applied.map((a) => a.amount), more.credit, await creditOf(m.clientId)]).toEqual([[5_000], 4_000, 4_000])
    await agrees(m.id)
    await who.orla.must('POST', `/payments/${paid.id}/reverse`, { day: today, reason: 'returned unpaid' })
    expect([await openOf(one.id), await openOf(two.id), await creditOf(m.clientId)]).toEqual([10_000, 15_000, 4_000])
    // Its shares of timekeepers went with it, and what is left over can be applied to what is open again.
    await who.orla.must('POST', `/payments/${more.id}/apply`, { billId: one.id, amount: 4_000, day: today })
    expect([await openOf(one.id), await creditOf(m.clientId)]).toEqual([6_000, 0])
    // Of this one something moved since: it is turned round as it stands.
    await who.orla.must('POST', `/payments/${more.id}/reverse`, { day: today, reason: 'returned too' })
    expect([await openOf(one.id), await openOf(two.id), await creditOf(m.clientId)]).toEqual([10_000, 20_000, 0])
    expect((await who.orla.post(`/payments/${more.id}/reverse`, { day: today, reason: 'twice' })).body.code).toBe('already-reversed')
    await agrees(m.id)
  })
  it('goes where it was told, and nowhere where that does not fit', async () => {
    const m = await client()
    const other = await client()
    const [one, two] = [await office.bill(who.noor, who.orla, m.id, 10_000), await office.bill(who.noor, who.orla, m.id, 20_000)]
    const theirs = await office.bill(who.noor, who.orla, other.id, 10_000)
    const pay = (parts: object[], amount = 12_000) =>
      who.orla.post('/payments', { payerId: m.clientId, day: today, amount, kind: 'check', parts })
    expect((await pay([{ billId: theirs.id, amount: 100 }])).body.fields[0]?.path).toBe('parts.0.billId')
    expect((await pay([{ billId: one.id, amount: 10_001 }])).body.fields[0]?.path).toBe('parts.0.amount')
    expect((await pay([{ billId: two.id, amount: 12_001 }])).body.fields[0]?.path).toBe('amount')
    expect((await pay([1, 2].map(() => ({ billId: one.id, amount: 1 })))).body.fields[0]?.path).toBe('parts')
    const paid = await receive(m.clientId, 12_000, { parts: [{ billId: two.id, amount: 9_000 }] })
    expect([paid.credit, await openOf(one.id), await openOf(two.id)]).toEqual([3_000, 10_000, 11_000])
    await agrees(m.id)
  })
})

describe('what is left over', () => {
  it('is refunded or moved to trust, once, and keeps its payment from being reversed', async () => {
    const m = await client()
    const b = await office.bill(who.noor, who.orla, m.id, 10_000)
    const paid = await receive(m.clientId, 40_000)
    const use = (path: string, amount: number, more: object = {}) =>
      who.orla.post(`/payments/${paid.id}/${path}`, { amount, day: today, ...more })
    expect((await use('refund', 30_001)).body.fields[0]?.path).toBe('amount')
    expect((await use('refund', 10_000, { reference: 'check 881' })).status).toBe(200)
    const trust = { trustAccountId: await office.bank('pooled'), matterId: m.id }
    expect((await use('to-trust', 15_000, trust)).status).toBe(200)
    const ledger = await row<{ id: number }>(office.db.manager, `SELECT id FROM client_ledger WHERE matter_id = ?`, [m.id])
    expect([await creditOf(m.clientId), await available(ledger!.id)]).toEqual([5_000, 15_000])
    expect((await use('reverse', 0, { reason: 'returned' })).body.code).toBe('credit-used')
    const off = await who.orla.must<{ amount: number }>('POST', `/payments/${paid.id}/take-off`, {
      billId: b.id,
      day: today,
      reason: 'wrong bill',
    })
    expect([off.amount, await openOf(b.id), await creditOf(m.clientId)]).toEqual([10_000, 10_000, 15_000])
    expect(await office.agrees()).toBe(true)
    await agrees(m.id)
    // Past the server, too, nothing is spent twice and no line paid above its amount.
    await expect(
      office.db.query(
        `INSERT INTO credit_use (payment_id, kind, amount, day, journal_id) SELECT ?, 'refund', 15001, ?, MAX(id) FROM journal`,
        [paid.id, today],
      ),
    ).rejects.toMatchObject({ driverError: { errno: 3111 } })
    const [line] = (await bill(b.id)).lines
    for (const amount of [10_001, -1])
      await expect(
        office.db.query(`INSERT INTO allocation (payment_id, bill_id, bill_line_id, amount, applied_on) VALUES (?, ?, ?, ?, ?)`, [
          paid.id,
          b.id,
          line!.id,
          amount,
          today,
        ]),
      ).rejects.toMatchObject({ driverError: { errno: 3110 } })
  })
  it('is refunded once by many at the same moment', async () => {
    const m = await client()
    const paid = await receive(m.clientId, 10_000)
    const tries = await Promise.all([1, 2, 3, 4].map(() => who.orla.post(`/payments/${paid.id}/refund`, { amount: 6_000, day: today })))
    expect(tries.filter((t) => t.status === 200)).toHaveLength(1)
    expect(await creditOf(m.clientId)).toBe(4_000)
  })
})

describe('a credit note', () => {
  it('on a bill of $6,154.00 of which $5,000.00 came from trust, over $2,000.00, returns $846.00 to trust', async () => {
    const m = await client()
    const ledgerId = await office.deposit(who.orla, m, 500_000)
    const b = await office.bill(who.noor, who.orla, m.id, 615_400, '2026-11-02', 61_540)
    await who.orla.must('POST', '/trust/bill-payments', { ledgerId, billId: b.id, day: today, amount: 500_000 })
    const note = { day: today, reason: 'rate as agreed', amount: 200_000 }
    const shown = await who.orla.must<{ total: number; back: object[] }>('POST', `/bills/${b.id}/credit-notes/preview`, note)
    expect([shown.total, shown.back]).toEqual([200_000, [expect.objectContaining({ amount: 84_600, to: 'trust' })]])
    expect(await openOf(b.id)).toBe(115_400)
    const made = await who.orla.must<{ id: number; number: string }>('POST', `/bills/${b.id}/credit-notes`, note)
    expect(made.number).toMatch(/^CN-\d+$/)
    expect([await openOf(b.id), await available(ledgerId)]).toEqual([0, 84_600])
    expect(await office.agrees()).toBe(true)
    await agrees(m.id)
    // Never more than is left on the bill; and reversed, the bill is open by it again.
    expect((await who.orla.post(`/bills/${b.id}/credit-notes`, { ...note, amount: 415_401 })).body.fields[0]?.path).toBe('amount')
    await who.orla.must('POST', `/payments/${made.id}/reverse`, { day: today, reason: 'not agreed after all' })
    expect(await openOf(b.id)).toBe(200_000)
    await agrees(m.id)
  })
  it('is made by those who issue bills and nobody else, and leaves no gap in its numbers', async () => {
    const m = await client()
    const b = await office.bill(who.noor, who.orla, m.id, 30_000)
    const note = { day: today, reason: 'courtesy', amount: 1_000 }
    expect((await who.billie.post(`/bills/${b.id}/credit-notes`, note)).status).toBe(403)
    expect((await who.orla.post(`/bills/${b.id}/credit-notes`, { ...note, day: '2026-11-01' })).body.fields[0]?.path).toBe('day')
    const made = await Promise.all([1, 2, 3].map(() => who.orla.must<{ number: string }>('POST', `/bills/${b.id}/credit-notes`, note)))
    const numbers = made.map((x) => Number(x.number.slice(3))).sort()
    expect(numbers[2]! - numbers[0]!).toBe(2)
    expect(await openOf(b.id)).toBe(27_000)
  })
})

describe('a bill', () => {
  it('that is void keeps its number, gives its payments back and its work is unbilled again', async () => {
    const m = await client()
    const ledgerId = await office.deposit(who.orla, m, 8_000)
    const b = await office.bill(who.noor, who.orla, m.id, 30_000)
    await who.orla.must('POST', '/trust/bill-payments', { ledgerId, billId: b.id, day: today, amount: 8_000 })
    await receive(m.clientId, 5_000)
    const done = await who.orla.must<{ voided: string[] }>('POST', `/bills/${b.id}/void`, { day: today, reason: 'wrong matter' })
    expect(done.voided).toEqual([b.number])
    expect([await available(ledgerId), await creditOf(m.clientId)]).toEqual([8_000, 5_000])
    const stands = await bill(b.id)
    expect([stands.open, stands.void]).toEqual([0, true])
    expect((await who.orla.post(`/bills/${b.id}/void`, { day: today, reason: 'again' })).body.code).toBe('has-credits')
    await agrees(m.id)
    expect(await who.noor.must('GET', '/matters/totals?q=quillhaven&state=open')).toBeTruthy()
    const pre = await who.noor.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: '2026-10-31' })
    await who.noor.must('POST', `/pre-bills/${pre.id}/approve`, { approved: true })
    const anew = await who.orla.must<{ id: number; number: string }>('POST', `/pre-bills/${pre.id}/issue`, { day: today })
    expect(anew.number).not.toBe(b.number)
    expect(await openOf(anew.id)).toBe(30_000)
    await agrees(m.id)
  })
  it('that will not be paid is written off with a reason, and reopened when that is reversed', async () => {
    const m = await client()
    const b = await office.bill(who.noor, who.orla, m.id, 30_000)
    expect((await who.orla.post(`/bills/${b.id}/write-offs`, { day: today, amount: 30_001, reason: 'gone' })).body.fields[0]?.path).toBe(
      'amount',
    )
    const off = await who.orla.must<{ id: number }>('POST', `/bills/${b.id}/write-offs`, {
      day: today,
      amount: 30_000,
      reason: 'insolvent',
    })
    expect(await openOf(b.id)).toBe(0)
    const s = await who.orla.must<{ sections: { rows: { name: string; amounts: number[] }[] }[] }>('GET', `/books/statements/income?from=${today}&to=${today}&basis=accrual`) // prettier-ignore
    expect(s.sections[1]!.rows.find((r) => r.name.endsWith('Bad debts'))?.amounts[0]).toBeGreaterThanOrEqual(30_000)
    await who.orla.must('POST', `/payments/${off.id}/reverse`, { day: today, reason: 'paid after all' })
    expect(await openOf(b.id)).toBe(30_000)
    await agrees(m.id)
  })
})

it('trust money that a void sent back is not sent back again by a reversal', async () => {
  const m = await client()
  const ledgerId = await office.deposit(who.orla, m, 20_000)
  const b = await office.bill(who.noor, who.orla, m.id, 12_000)
  const paid = await who.orla.must<{ id: number }>('POST', '/trust/bill-payments', { ledgerId, billId: b.id, day: today, amount: 1 })
  await who.orla.must('POST', `/bills/${b.id}/void`, { day: today, reason: 'wrong payer' })
  const again = await who.orla.post(`/payments/${paid.id}/reverse`, { day: today, reason: 'tried' })
  expect([again.status, again.body.code]).toEqual([409, 'already-reversed'])
  await agrees(m.id)
})

describe('whatever is done to bills, in whatever order', () => {
  it('leaves every line between nothing and its amount, and the receivable what the bills leave open', async () => {
    const act = fc.record({
      what: fc.constantFrom('receive', 'apply', 'take-off', 'note', 'write-off', 'reverse', 'trust', 'refund', 'void'),
      on: fc.nat(3),
      amount: fc.integer({ min: 1, max: 30_000 }),
    })
    await fc.assert(
      fc.asyncProperty(fc.array(act, { minLength: 4, maxLength: 14 }), async (acts) => {
        const m = await client()
        const ledgerId = await office.deposit(who.orla, m, 20_000)
        const bills = [await office.bill(who.noor, who.orla, m.id, 12_000), await office.bill(who.noor, who.orla, m.id, 25_000)]
        const made: number[] = []
        for (const { what, on, amount } of acts) {
          const billId = bills[on % 2]!.id
          const paymentId = made[on % Math.max(1, made.length)] ?? 0
          const common = { day: today, amount, reason: 'tried' }
          const sent = {
            receive: () => who.orla.post<{ id: number }>('/payments', { ...common, payerId: m.clientId, kind: 'check' }),
            apply: () => who.orla.post<{ id: number }>(`/payments/${paymentId}/apply`, { ...common, billId }),
            'take-off': () =>
              who.orla.post<{ id: number }>(`/payments/${paymentId}/take-off`, { ...common, billId, amount: on % 2 ? null : amount }),
            note: () => who.orla.post<{ id: number }>(`/bills/${billId}/credit-notes`, common),
            'write-off': () => who.orla.post<{ id: number }>(`/bills/${billId}/write-offs`, common),
            reverse: () => who.orla.post<{ id: number }>(`/payments/${paymentId}/reverse`, common),
            trust: () => who.orla.post<{ id: number }>('/trust/bill-payments', { ledgerId, billId, day: today, amount }),
            refund: () => who.orla.post<{ id: number }>(`/payments/${paymentId}/refund`, common),
            void: () => who.orla.post<{ id: number }>(`/bills/${billId}/void`, common),
          }[what]
          const answer = await sent()
          expect([200, 400, 404, 409], `${what}: ${JSON.stringify(answer.body)}`).toContain(answer.status)
          if (answer.status === 200 && ['receive', 'note', 'write-off', 'trust'].includes(what)) made.push(answer.body.id)
          await agrees(m.id)
        }
        const credits = await row<{ booked: number; left: number }>(
          office.db.manager,
          `SELECT -(SELECT COALESCE(SUM(l.amount), 0) FROM journal_line l JOIN account a ON a.id = l.account_id WHERE a.role = 'client credits') AS booked, 0 AS left`.replace(
            '0 AS left',
            '0 AS `left`',
          ),
        )
        const all = await who.orla.must<{ together: number }>('GET', '/credits')
        expect(all.together).toBe(credits!.booked)
        // What the triggers keep is what the parts come to.
        const off = await rows(
          office.db.manager,
          `SELECT p.id FROM payment p JOIN payment_credit c ON c.payment_id = p.id WHERE c.amount <> IF(EXISTS (SELECT 1 FROM payment_reversal r WHERE r.payment_id = p.id), 0,
             p.amount - COALESCE((SELECT SUM(a.amount) FROM allocation a WHERE a.payment_id = p.id), 0) - COALESCE((SELECT SUM(u.amount) FROM credit_use u WHERE u.payment_id = p.id), 0))`,
        )
        expect(off).toEqual([])
        const applied = await rows(
          office.db.manager,
          `SELECT p.id FROM payment p LEFT JOIN payment_applied x ON x.payment_id = p.id WHERE COALESCE(x.amount, 0) <> COALESCE((SELECT SUM(a.amount) FROM allocation a WHERE a.payment_id = p.id), 0)`,
        )
        expect(applied).toEqual([])
      }),
      { numRuns: 8 },
    )
    expect(await office.agrees()).toBe(true)
    expect((await rows(office.db.manager, `SELECT ledger_id FROM ledger_day WHERE balance < 0`)).length).toBe(0)
  }, 120_000)
})

describe('a firm with several operating accounts', () => {
  it('takes money into the one that was chosen, else into the usual one, and gives it back from where it came', async () => {
    const ferdi = await office.signIn('ferdi')
    const bank = { name: 'Second operating', bank: 'Tidewater Bank', ending: '4455', nextCheck: 1, kind: 'operating', code: '1016' }
    expect((await ferdi.post('/accounts/banks', { ...bank, kind: 'pooled' })).body.fields[0]?.path).toBe('liabilityCode')
    expect((await ferdi.post('/accounts/banks', { ...bank, code: '1010' })).body.fields[0]?.path).toBe('code')
    const made = await ferdi.must<{ id: number }>('POST', '/accounts/banks', bank)
    const book = async (id: number) =>
      (await row<{ n: number }>(office.db.manager, `SELECT COALESCE(SUM(amount), 0) AS n FROM bank_entry WHERE bank_account_id = ?`, [id]))!
        .n
    const m = await client()
    const paid = await receive(m.clientId, 7_000, { bankAccountId: made.id })
    expect(await book(made.id)).toBe(7_000)
    await who.orla.must('POST', `/payments/${paid.id}/reverse`, { day: today, reason: 'returned' })
    expect(await book(made.id)).toBe(0)
    const trust = await office.bank('pooled')
    expect(
      (await who.orla.post('/payments', { payerId: m.clientId, day: today, amount: 1, kind: 'check', bankAccountId: trust })).body.fields[0]
        ?.path,
    ).toBe('bankAccountId')
    await receive(m.clientId, 300)
    expect(await book(made.id)).toBe(0)
    const accounts = await ferdi.must<{ banks: { id: number; name: string; usual: boolean }[] }>('GET', '/accounts')
    expect(accounts.banks.find((b) => b.id === made.id)!.usual).toBe(false)
    expect(accounts.banks.filter((b) => b.usual).length).toBeGreaterThanOrEqual(2)
  })
})
