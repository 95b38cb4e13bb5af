import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { Office, today, type Person } from './office'

let office: Office
const who = {} as Record<'noor' | 'orla' | 'ferdi', Person>
beforeAll(async () => {
  office = await Office.open()
  for (const n of ['noor', 'orla', 'ferdi'] as const) who[n] = await office.signIn(n)
})
afterAll(() => office.close())

const plain = { dueDays: null, interestBasisPoints: null, graceDays: null }
const terms = (matterId: number, own: object) => who.noor.must('PUT', `/matters/${matterId}/bill-terms`, { ...plain, ...own })
interface Totals {
  discount: number
  tax: number
  taxes: { rate: number; amount: number }[]
  total: number
}
interface Bill {
  id: number
  number: string
  open: number
  totals: Totals
  lines: { id: number; kind: string; text: string; net: number }[]
}
const bill = (id: number) => who.orla.must<Bill>('GET', `/bills/${id}`)
const lineOf = (b: Bill, kind: string) => b.lines.find((l) => l.kind === kind)!

/** Two hours of work, copies and a fee advanced, on a pre-bill. */
async function preBill(matterId: number) {
  const ids: number[] = []
  for (const rate of [60_005, 40_000]) ids.push((await who.noor.must<{ id: number }>('POST', '/time', { matterId, day: '2026-10-20', text: 'Work', duration: '1.0', rate })).id) // prettier-ignore
  await who.noor.must('POST', '/time/post', { ids })
  for (const [kind, amount] of [
    ['soft cost', 1_234],
    ['hard cost', 33],
  ] as const)
    await who.orla.must('POST', `/matters/${matterId}/costs`, {
      day: '2026-10-20',
      kind,
      text: 'Copies and stamps',
      amount,
      payee: 'Registry',
    })
  return who.noor.must<{ id: number }>('POST', '/pre-bills', { matterId, workTo: '2026-10-31' })
}
async function issued(matterId: number) {
  const pre = await preBill(matterId)
  await who.noor.must('POST', `/pre-bills/${pre.id}/approve`, { approved: true })
  return bill((await who.orla.must<{ id: number }>('POST', `/pre-bills/${pre.id}/issue`, { day: '2026-11-02' })).id)
}

describe('terms of bills', () => {
  it('take a discount off fees and tax each kind of line at its own rate, rounded once for each', async () => {
    const m = await office.matter(who.noor, 'Ratesby Quay')
    await terms(m.id, { discountBasisPoints: 1_000, taxFees: 825, taxSoftCosts: 600, taxHardCosts: 0 })
    const pre = await preBill(m.id)
    const expected = { discount: 10_001, tax: 7_499, total: 90_004 + 1_234 + 33 + 7_499 }
    const taxes = [{ rate: 825, amount: 7_425 }, { rate: 600, amount: 74 }] // prettier-ignore
    expect((await who.noor.must<{ totals: Totals }>('GET', `/pre-bills/${pre.id}`)).totals).toMatchObject({ ...expected, taxes })
    // Other terms hold for what is made from then on.
    await terms(m.id, { taxFees: 0, taxSoftCosts: 0 })
    await who.noor.must('POST', `/pre-bills/${pre.id}/approve`, { approved: true })
    const made = await bill((await who.orla.must<{ id: number }>('POST', `/pre-bills/${pre.id}/issue`, { day: '2026-11-02' })).id)
    expect(made.totals).toMatchObject({ ...expected, taxes })
    expect(made.lines.filter((l) => l.kind === 'tax').map((l) => [l.text, l.net])).toEqual([['Tax 8.25 %', 7_425], ['Tax 6 %', 74]]) // prettier-ignore
    const note = { day: today, reason: 'Copies too many', lines: [{ lineId: lineOf(made, 'soft cost').id, amount: 500 }] }
    expect(await who.orla.must('POST', `/bills/${made.id}/credit-notes/preview`, note)).toMatchObject({ net: 500, tax: 30, total: 530 })
    await who.orla.must('POST', `/bills/${made.id}/credit-notes`, note)
    const rest = { ...note, lines: [{ lineId: lineOf(made, 'soft cost').id, amount: 734 }] }
    expect(await who.orla.must('POST', `/bills/${made.id}/credit-notes/preview`, rest)).toMatchObject({ tax: 44, total: 778 })
    expect(await office.agrees()).toBe(true)
    // What is owed to either office stands apart by its rate, on the same months as it was billed and credited.
    const { rows } = await who.orla.must<{ rows: { month: string; rate: number | null; billed: number; credited: number }[] }>('GET', '/books/statements/taxes?from=2026-11-01&to=2026-11-30') // prettier-ignore
    expect(rows.find((r) => r.rate === 600)).toMatchObject({ month: '2026-11', billed: 74, credited: 30 })
    expect(rows.find((r) => r.rate === 825)).toMatchObject({ billed: 7_425, credited: 0 })
  })

  it('come from the matter, else the client, else the firm, and are refused where they make no sense', async () => {
    const m = await office.matter(who.noor, 'Ratesby Inheritance')
    await who.noor.must('PUT', `/contacts/${m.clientId}/bill-terms`, { ...plain, discountBasisPoints: 500, taxFees: 1_000, billSlip: true })
    expect(await who.noor.must('GET', `/matters/${m.id}/bill-terms`)).toMatchObject({
      discountBasisPoints: null,
      taxFees: null,
      usual: { discountBasisPoints: 500, taxes: { fees: 1_000, softCosts: 0, hardCosts: 0 }, slip: true },
    })
    await terms(m.id, { discountBasisPoints: 0, billGroup: 'day', billSummary: true, language: 'es' })
    const made = await issued(m.id)
    expect(made.totals).toMatchObject({ discount: 0, taxes: [{ rate: 1_000, amount: 10_001 }] })
    const [kept] = await office.db.query<{ snapshot: string }[]>(`SELECT snapshot FROM bill WHERE id = ?`, [made.id])
    expect((JSON.parse(kept!.snapshot) as { look: object }).look).toMatchObject({ language: 'es', group: 'day', summary: true, slip: true })
    expect((await who.orla.must<{ subject: string }>('GET', `/bills/${made.id}/letter`)).subject).toMatch(/^Factura/)
    const wrong = (owner: string, own: object) => who.noor.put(`/${owner}/bill-terms`, { ...plain, ...own })
    expect((await wrong(`contacts/${m.clientId}`, { language: 'es' })).body.fields[0]?.path).toBe('language')
    expect((await wrong(`matters/${m.id}`, { taxFees: 10_001 })).body.fields[0]?.path).toBe('taxFees')
    expect((await wrong(`matters/${m.id}`, { discountBasisPoints: -1 })).body.fields[0]?.path).toBe('discountBasisPoints')
  })
})

describe('a payment within a bill', () => {
  it('goes by the firm’s order; costs first where nothing else is set', async () => {
    const firm = await who.ferdi.must<Record<string, unknown> & { paymentOrder: string[] }>('GET', '/firm')
    const order = (paymentOrder: string[]) => who.ferdi.put('/firm', { ...firm, paymentOrder })
    expect(firm.paymentOrder).toEqual(['costs', 'interest', 'tax', 'fees'])
    expect((await order(['costs', 'costs', 'tax', 'fees'])).body.fields[0]?.path).toBe('paymentOrder')
    const paidOn = async (b: Bill) => {
      const [found] = await office.db.query<{ costs: string; fees: string; tax: string }[]>(
        `SELECT SUM(IF(l.kind LIKE '%cost', a.amount, 0)) AS costs, SUM(IF(l.kind = 'time', a.amount, 0)) AS fees, SUM(IF(l.kind = 'tax', a.amount, 0)) AS tax
           FROM allocation a JOIN bill_line l ON l.id = a.bill_line_id WHERE a.bill_id = ?`,
        [b.id],
      )
      return [Number(found!.costs), Number(found!.tax), Number(found!.fees)]
    }
    const pay = (b: Bill, amount: number) => who.orla.must<{ id: number }>('POST', `/bills/${b.id}/payments`, { day: today, amount, kind: 'check' }) // prettier-ignore
    const of = async (name: string) => {
      const m = await office.matter(who.noor, name)
      await terms(m.id, { taxFees: 1_000 })
      return issued(m.id)
    }
    const usual = await of('Ordersby Usual')
    await pay(usual, 2_000)
    expect(await paidOn(usual)).toEqual([1_267, 733, 0])
    try {
      expect((await order(['fees', 'tax', 'interest', 'costs'])).status).toBe(200)
      const own = await of('Ordersby Own')
      const paid = await pay(own, 105_000)
      expect(await paidOn(own)).toEqual([0, 4_995, 100_005])
      // What was paid last is taken off first.
      await who.orla.must('POST', `/payments/${paid.id}/take-off`, { billId: own.id, day: today, reason: 'too much', amount: 5_000 })
      expect(await paidOn(own)).toEqual([0, 0, 100_000])
      // A write-off takes fees last, whatever the order.
      await who.orla.must('POST', `/bills/${own.id}/write-offs`, { day: today, amount: 1_267, reason: 'goodwill' })
      expect(await paidOn(own)).toEqual([1_267, 0, 100_000])
    } finally {
      await order(firm.paymentOrder)
    }
    expect(await office.agrees()).toBe(true)
  })
})
