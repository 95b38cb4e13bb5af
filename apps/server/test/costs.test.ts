import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { recordAllDue } from '../src/costs'
import { Office, today, type Person } from './office'
import { actAs, form, jobDone } from './papers'

let office: Office
let noor: Person
let orla: Person
let billie: Person
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  orla = await office.signIn('orla')
  billie = await office.signIn('billie')
  actAs(orla)
})
afterAll(() => office.running.stop())

/** What the books have of a matter on an account of the application. */
const booked = async (matterId: number, role: string) =>
  Number((await office.db.query<{ n: string }[]>(`SELECT COALESCE(SUM(l.amount), 0) AS n FROM journal_line l JOIN account a ON a.id = l.account_id WHERE a.role = ? AND l.matter_id = ?`, [role, matterId]))[0]!.n) // prettier-ignore
const kind = async (code: string) => (await office.db.query<{ id: number }[]>(`SELECT id FROM cost_kind WHERE code = ?`, [code]))[0]!.id
const record = async (m: { id: number }, more: object, who = orla) =>
  who.post<{ id: number }>(`/matters/${m.id}/costs`, { day: '2026-11-02', text: 'Transcript', ...more })
interface Row {
  id: number
  amount: number
  paid: number
  units: string
  state: string
  text: string
  settledOn: string | null
}
const listed = (m: { id: number }, more = '') =>
  orla.must<{ rows: Row[]; total: number; amount: number }>('GET', `/costs?matterId=${m.id}${more}`)
const billOf = async (m: { id: number }) => {
  const pre = await noor.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: '2026-11-20' })
  await noor.must('POST', `/pre-bills/${pre.id}/approve`, { approved: true })
  return orla.must<{ id: number }>('POST', `/pre-bills/${pre.id}/issue`, { day: today })
}
interface BillOut {
  total: number
  lines: { kind: string; text: string; charged: number; told: boolean }[]
}

describe('costs', () => {
  it('are priced by the units of their kind, or by an amount with a markup, never by both', async () => {
    const m = await office.matter(noor, 'Unitham')
    expect((await record(m, { kindId: await kind('MILES'), units: '36.4' })).status).toBe(200)
    expect((await listed(m)).rows[0]).toMatchObject({ units: '36.4', paid: 2548, amount: 2548 })
    for (const [more, field] of [
      [{ kindId: await kind('COPY'), units: '12', amount: 100 }, 'amount'],
      [{ kindId: await kind('COPY') }, 'units'],
      [{ kindId: await kind('COPY'), units: '1e9' }, 'units'],
      [{ kindId: await kind('POST'), units: '12' }, 'units'],
      [{ kindId: await kind('COURT'), amount: 100 }, 'payee'],
      [{ amount: 100, payee: 'x', receiptId: 999_999 }, 'receiptId'],
    ] as const)
      expect((await record(m, more)).body.fields?.[0]?.path, JSON.stringify(more)).toBe(field)
    expect((await listed(m)).total).toBe(1)
  })

  it('carry a markup that is the firm’s own when billed, and the advance leaves the assets whole', async () => {
    const m = await office.matter(noor, 'Markupton')
    await record(m, { kindId: await kind('DEPO'), amount: 388_55, markup: 1000, payee: 'Strand Reporting' })
    expect([await booked(m.id, 'costs advanced'), (await listed(m)).rows[0]!.amount]).toEqual([388_55, 427_41])
    const bill = await billOf(m)
    expect((await orla.must<BillOut>('GET', `/bills/${bill.id}`)).total).toBe(427_41)
    expect([await booked(m.id, 'costs advanced'), await booked(m.id, 'costs recovered')]).toEqual([0, -38_86])
    expect([await booked(m.id, 'receivable'), await booked(m.id, 'costs not recovered')]).toEqual([427_41, 0])
    await orla.must('POST', `/bills/${bill.id}/void`, { day: today, reason: 'sent to the wrong payer' })
    expect([await booked(m.id, 'costs advanced'), await booked(m.id, 'costs recovered'), (await listed(m, '&state=unbilled')).total]).toEqual([388_55, 0, 1]) // prettier-ignore
  })

  it('on paid money are income only beyond what was advanced, and a loss only as far as the advance is given up', async () => {
    const [paidOn, endedOn] = ['2026-03-17', '2026-03-18']
    const depo = await kind('DEPO')
    const billed = async (name: string, soft: number) => {
      const m = await office.matter(noor, name, { openedOn: '2026-03-01' })
      await record(m, { kindId: depo, day: '2026-03-10', amount: 100_00, markup: 1000, payee: 'Strand Reporting' })
      if (soft) await record(m, { kindId: await kind('POST'), day: '2026-03-10', amount: soft })
      const pre = await noor.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: '2026-03-16' })
      await noor.must('POST', `/pre-bills/${pre.id}/approve`, { approved: true })
      return orla.must<{ id: number }>('POST', `/pre-bills/${pre.id}/issue`, { day: '2026-03-16' })
    }
    const pay = (b: { id: number }, amount: number) => orla.must('POST', `/bills/${b.id}/payments`, { day: paidOn, amount, kind: 'check' })
    const off = (b: { id: number }, amount: number) =>
      orla.must<{ id: number }>('POST', `/bills/${b.id}/write-offs`, { day: endedOn, amount, reason: 'gone' })
    const [a, b, c] = [await billed('Markdown A', 0), await billed('Markdown B', 50_00), await billed('Markdown C', 0)]
    // $105.00 of $110.00 come in, the rest is given up; of another nothing comes; of the third the markup is credited.
    await pay(a, 105_00)
    await off(a, 5_00)
    const gone = await off(b, 160_00)
    await pay(c, 100_00)
    await orla.must('POST', `/bills/${c.id}/credit-notes`, { day: endedOn, amount: 10_00, reason: 'no markup agreed' })
    const told = async (basis: string) => {
      const s = await orla.must<{ sections: { rows: { name: string; amounts: number[] }[] }[] }>('GET', `/books/statements/income?from=${paidOn}&to=${endedOn}&basis=${basis}&by=account`) // prettier-ignore
      const of = (name: RegExp) => s.sections.flatMap((x) => x.rows).find((r) => name.test(r.name))?.amounts[0] ?? 0
      return [of(/^Costs recovered beyond/), of(/Bad debts$/), of(/Client costs not recovered$/)]
    }
    expect(await told('accrual')).toEqual([0, 165_00, 10_00])
    expect(await told('cash')).toEqual([5_00, 100_00, 0])
    // Taken back, what was given up waits again.
    await orla.must('POST', `/payments/${gone.id}/reverse`, { day: endedOn, reason: 'it came after all' })
    expect(await told('cash')).toEqual([5_00, 0, 0])
    expect(await office.agrees()).toBe(true)
  })

  it('paid from trust keep every rule of trust money, are told on the bill and never charged', async () => {
    const m = await office.matter(noor, 'Trustcostley')
    const ledgerId = await office.deposit(orla, m, 500_00)
    const own = { kindId: await kind('COURT'), paidFrom: 'trust', ledgerId, payee: 'Wexmoor Records Office', text: 'Filing fee' }
    expect((await record(m, { ...own, amount: 500_01 })).body.code).toBe('ledger-below-zero')
    expect((await record(m, { ...own, amount: 405_00 }, noor)).body.fields[0]!.path).toBe('paidFrom')
    expect((await record(m, { ...own, ledgerId: null, amount: 405_00 })).body.fields[0]!.path).toBe('ledgerId')
    // Another client's money, and another matter's of the same, pay nothing here.
    const stranger = await office.matter(noor, 'Trustcostother')
    const theirs = await office.deposit(orla, stranger, 900_00)
    expect((await record(m, { ...own, ledgerId: theirs, amount: 405_00 })).body.fields[0]!.path).toBe('ledgerId')
    const { id } = (await record(m, { ...own, amount: 405_00 })).body
    expect((await listed(m, '&state=unbilled')).total).toBe(0)
    const [payment] = await office.db.query<{ id: number; state: string }[]>(`SELECT p.id, p.state FROM payment_out p JOIN cost_entry c ON c.payment_out_id = p.id WHERE c.id = ?`, [id]) // prettier-ignore
    expect(payment!.state).toBe('draft')
    expect((await orla.post(`/costs/${id}/reverse`, { reason: 'x' })).body.code).toBe('not-reversible')
    // A payment that is dropped leaves its cost to be taken back.
    const other = (await record(m, { ...own, amount: 50_00, text: 'Certified copy' })).body.id
    const [drop] = await office.db.query<{ id: number }[]>(`SELECT payment_out_id AS id FROM cost_entry WHERE id = ?`, [other])
    await orla.call('DELETE', `/trust/payments/${drop!.id}`)
    expect((await listed(m)).rows.find((r) => r.id === other)).toMatchObject({ payment: 'dropped' })
    expect((await orla.post(`/costs/${other}/reverse`, { reason: 'not needed' })).status).toBe(200)
    await record(m, { kindId: await kind('COPY'), units: '100' })
    // Not told before it is paid.
    const pre = await noor.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: '2026-11-20' })
    expect((await noor.must<{ lines: unknown[] }>('GET', `/pre-bills/${pre.id}`)).lines).toHaveLength(1)
    await noor.call('DELETE', `/pre-bills/${pre.id}`)
    await orla.must('POST', `/trust/payments/${payment!.id}/post`, {})
    const bill = await orla.must<BillOut>('GET', `/bills/${(await billOf(m)).id}`)
    expect(bill.lines.map((l) => [l.text, l.charged, l.told]).sort()).toEqual([['Filing fee (paid from trust)', 0, true], ['Transcript', 25_00, false]]) // prettier-ignore
    expect([bill.total, await booked(m.id, 'costs advanced'), await booked(m.id, 'costs not recovered')]).toEqual([25_00, 0, 0])
    expect(await office.agrees()).toBe(true)
  })

  it('owed to vendors are a debt until paid, one payment for each vendor', async () => {
    const m = await office.matter(noor, 'Owington')
    const owed = async (amount: number, payee: string) => (await record(m, { kindId: await kind('EXPERT'), amount, payee, paidFrom: 'owed' })).body.id // prettier-ignore
    const ids = [await owed(100_00, 'Pellan Survey'), await owed(50_00, 'Pellan Survey'), await owed(75_00, 'Strand Reporting')]
    expect([await booked(m.id, 'payables'), await booked(m.id, 'costs advanced')]).toEqual([-225_00, 225_00])
    expect((await noor.post('/costs/settle', { ids, day: today })).status).toBe(403)
    expect((await orla.post('/costs/settle', { ids, day: '2026-11-01' })).body.fields[0]!.path).toBe('day')
    expect(await orla.must('POST', '/costs/settle', { ids, day: today })).toEqual({ payments: 2, amount: 225_00 })
    expect(await booked(m.id, 'payables')).toBe(0)
    expect((await orla.post('/costs/settle', { ids, day: today })).body.code).toBe('not-owed')
    // Reversed after it was paid, the money is the bank's again, not the vendor's claim.
    await orla.must('POST', `/costs/${ids[0]}/reverse`, { reason: 'paid back', day: today })
    expect([await booked(m.id, 'payables'), await booked(m.id, 'costs advanced')]).toEqual([0, 125_00])
  })

  it('of one payment are split among matters to the cent, in one movement of the bank', async () => {
    const three = [await office.matter(noor, 'Parta'), await office.matter(noor, 'Partb'), await office.matter(noor, 'Partc')]
    const body = { day: today, kindId: await kind('COURIER'), text: 'Courier of November', payee: 'Swift Errand', amount: 100_00 }
    const parts = three.map((m) => ({ matterId: m.id }))
    expect((await orla.post('/costs/split', { ...body, parts: [parts[0], parts[0]] })).body.fields[0]!.path).toBe('parts')
    expect((await orla.post('/costs/split', { ...body, parts: [{ ...parts[0], amount: 100_00 }, parts[1]] })).status).toBe(400)
    const { ids } = await orla.must<{ ids: number[] }>('POST', '/costs/split', { ...body, parts })
    expect(await Promise.all(three.map((m) => booked(m.id, 'costs advanced')))).toEqual([33_34, 33_33, 33_33])
    const entries = await office.db.query<unknown[]>(
      `SELECT 1 FROM bank_entry e JOIN cost_entry c ON c.journal_id = e.journal_id WHERE c.id = ?`,
      [ids[0]],
    )
    expect(entries).toHaveLength(1)
  })

  it('are moved, made not billable and reversed while neither billed nor on a pre-bill', async () => {
    const [a, b] = [await office.matter(noor, 'Costfrom'), await office.matter(noor, 'Costto')]
    const { id } = (await record(a, { kindId: await kind('COURT'), amount: 405_00, payee: 'Clerk' })).body
    const correct = (matterId: number, billable = true, who = orla) =>
      who.call('PUT', `/costs/${id}/correction`, { matterId, text: 'Filing fee', billable, reason: 'wrong file' })
    expect((await billie.call('PUT', `/costs/${id}/correction`, { matterId: b.id, text: 'x', billable: true, reason: 'x' })).status).toBe(
      404,
    )
    expect((await correct(b.id)).status).toBe(200)
    expect([await booked(a.id, 'costs advanced'), await booked(b.id, 'costs advanced')]).toEqual([0, 405_00])
    expect((await correct(b.id, false)).status).toBe(200)
    expect([await booked(b.id, 'costs advanced'), await booked(b.id, 'costs not recovered')]).toEqual([0, 405_00])
    expect((await noor.post('/pre-bills', { matterId: b.id, workTo: today })).body.code).toBe('nothing-to-bill')
    await correct(b.id, true)
    const pre = await noor.must<{ id: number }>('POST', '/pre-bills', { matterId: b.id, workTo: today })
    expect((await correct(a.id)).body).toMatchObject({ code: 'on-pre-bill' })
    await noor.call('DELETE', `/pre-bills/${pre.id}`)
    await orla.must('POST', `/costs/${id}/reverse`, { reason: 'paid back' })
    expect([await booked(b.id, 'costs advanced'), (await listed(b)).rows[0]!.state]).toEqual([0, 'reversed'])
    expect((await orla.post(`/costs/${id}/reverse`, { reason: 'twice' })).body.code).toBe('not-reversible')
  })

  it('recur each month, once for each day, until they end', async () => {
    const m = await office.matter(noor, 'Recurham')
    const { id } = await orla.must<{ id: number }>('POST', '/costs/recurring', { matterId: m.id, kindId: await kind('RESEARCH'), text: 'Data room', amount: 90_00, payee: 'Vaultline', dayOfMonth: 31, firstOn: '2026-09-30' }) // prettier-ignore
    const days = async () => (await office.db.query<{ day: string }[]>(`SELECT day FROM cost_entry WHERE recurring_id = ? ORDER BY day`, [id])).map((r) => r.day) // prettier-ignore
    await Promise.all([recordAllDue(office.running.base), recordAllDue(office.running.base)])
    expect(await days()).toEqual(['2026-09-30', '2026-10-31'])
    await orla.must('POST', `/costs/recurring/${id}/end`, {})
    const later = { ...office.running.base, clock: { ...office.running.base.clock, today: () => '2026-12-05' as const } }
    await recordAllDue(later as never)
    expect(await days()).toHaveLength(2)
  })

  it('are imported from a copier’s file whole, or not at all, and the same file once', async () => {
    const m = await office.matter(noor, 'Copyham')
    const read = async (text: string) => {
      const { id } = (await form<{ id: number }>(orla, '/imports', { what: 'costs' }, { name: 'copier.csv', data: text })).body
      const run = () =>
        orla.must<{ mapping: Record<string, string>; good: number; total: number; faults: { column: string }[] }>('GET', `/imports/${id}`)
      const { jobId } = await orla.must<{ jobId: number }>('POST', `/imports/${id}/tried`, { mapping: (await run()).mapping })
      await jobDone(jobId)
      return { id, ...(await run()) }
    }
    const head = 'Date,Matter number,Kind,Pages,Amount,Vendor,Description\n'
    const bad = await read(
      `${head}11/02/2026,${m.number},COPY,12,,,Exhibits\n11/32/2026,none,COPY,x,,,\n11/02/2026,${m.number},COURT,,40.00,,\n`,
    )
    expect([bad.good, [...new Set(bad.faults.map((f) => f.column))].sort()]).toEqual([1, ['Date', 'Matter', 'Paid to', 'Units']])
    const text = `${head}11/02/2026,${m.number},COPY,12,3.60,,Exhibits\n11/03/2026,${m.number},Court fees,,40.00,Clerk,\n`
    const good = await read(text)
    expect([good.good, good.total]).toEqual([2, 2])
    await jobDone((await orla.must<{ jobId: number }>('POST', `/imports/${good.id}/loaded`, {})).jobId)
    expect((await listed(m)).rows.map((r) => [r.text, r.amount])).toEqual([['Court fees', 40_00], ['Exhibits', 3_00]]) // prettier-ignore
    const again = await read(text)
    expect((await orla.post(`/imports/${again.id}/loaded`, {})).body.code).toBe('loaded')
    expect((await listed(m)).total).toBe(2)
  })

  it('are seen only where the matter is open', async () => {
    const m = await office.matter(noor, 'Screencost')
    const { id } = (await record(m, { kindId: await kind('COPY'), units: '3' })).body
    await office.db.query(`INSERT INTO matter_screen (matter_id, user_id) VALUES (?, ?)`, [m.id, await office.user('Orla')])
    const hidden = await office.signIn('orla')
    expect((await hidden.must<{ total: number }>('GET', `/costs?matterId=${m.id}`)).total).toBe(0)
    expect((await hidden.post(`/costs/${id}/reverse`, { reason: 'x' })).status).toBe(404)
    expect((await hidden.post('/costs/recurring', { matterId: m.id, kindId: await kind('COPY'), text: 'x', units: '1', dayOfMonth: 1, firstOn: today })).status).toBe(404) // prettier-ignore
  })

  it('whatever is done, what was advanced and is unbilled stands in the books', async () => {
    const [a, b] = [await office.matter(noor, 'Alwaysa'), await office.matter(noor, 'Alwaysb')]
    const made: { id: number; at: number }[] = []
    const act = fc.record({ what: fc.constantFrom('record', 'owed', 'soft', 'move', 'free', 'reverse', 'settle'), n: fc.nat(9), cents: fc.integer({ min: 1, max: 1_000_00 }) }) // prettier-ignore
    const codes = { DEPO: await kind('DEPO'), POST: await kind('POST') }
    await fc.assert(
      fc.asyncProperty(fc.array(act, { minLength: 3, maxLength: 8 }), async (acts) => {
        for (const { what, n, cents } of acts) {
          const at = n % 2 ? a.id : b.id
          const one = made[n % Math.max(1, made.length)]
          if (what === 'record' || what === 'owed' || what === 'soft') {
            const more = { kindId: what === 'soft' ? codes.POST : codes.DEPO, amount: cents, payee: 'V', markup: n * 100, paidFrom: what === 'owed' ? 'owed' : 'operating' } // prettier-ignore
            made.push({ id: (await record({ id: at }, more)).body.id, at })
          } else if (!one) continue
          else if (what === 'reverse') await orla.post(`/costs/${one.id}/reverse`, { reason: 'x', day: today })
          else if (what === 'settle') await orla.post('/costs/settle', { ids: [one.id], day: today })
          else await orla.call('PUT', `/costs/${one.id}/correction`, { matterId: what === 'move' ? at : one.at, text: 'x', billable: what === 'move', reason: 'x' }) // prettier-ignore
        }
        for (const m of [a, b]) {
          const [should] = await office.db.query<Record<'advanced' | 'own' | 'owed', string>[]>(
            `SELECT COALESCE(SUM(IF(billable, paid, 0)), 0) AS advanced, COALESCE(SUM(IF(billable, 0, paid)), 0) AS own, COALESCE(SUM(IF(paid_from = 'owed' AND settled_on IS NULL, paid, 0)), 0) AS owed FROM cost_entry WHERE matter_id = ? AND state = 'recorded' AND kind = 'hard cost'`,
            [m.id],
          )
          expect(await booked(m.id, 'costs advanced')).toBe(Number(should!.advanced))
          expect(await booked(m.id, 'costs not recovered')).toBe(Number(should!.own))
          const [figure] = await office.db.query<{ other: string; sum: string }[]>(`SELECT unbilled_other AS other, (SELECT COALESCE(SUM(open_amount), 0) FROM cost_entry WHERE matter_id = f.matter_id) AS sum FROM matter_figure f WHERE matter_id = ?`, [m.id]) // prettier-ignore
          if (figure) expect(Number(figure.other)).toBe(Number(figure.sum))
        }
        const both = await office.db.query<{ n: string }[]>(`SELECT COALESCE(SUM(IF(paid_from = 'owed' AND settled_on IS NULL AND state = 'recorded', paid, 0)), 0) AS n FROM cost_entry WHERE matter_id IN (?)`, [[a.id, b.id]]) // prettier-ignore
        expect((await booked(a.id, 'payables')) + (await booked(b.id, 'payables'))).toBe(0 - Number(both[0]!.n))
      }),
      { numRuns: 12 },
    )
    expect(await office.agrees()).toBe(true)
  })
})

describe('the administration fee of receipts into trust', () => {
  it('is charged to the matter unless left out, owed to whoever levies it, and goes back with its sheet while unbilled', async () => {
    const ferdi = await office.signIn('ferdi')
    const rules = (await ferdi.must<{ rules: object }>('GET', '/accounts')).rules
    const levy = (receiptFee: number, receiptFeeTo = '') => ferdi.put('/accounts/trust-rules', { ...rules, receiptFee, receiptFeeTo })
    expect((await levy(5_000_00)).body.fields[0]?.path).toBe('receiptFee')
    expect((await levy(15_00, 'Law Society of the Sound')).status).toBe(200)
    try {
      const m = await office.matter(noor, 'Levied Ltd')
      const line = { clientId: m.clientId, matterId: m.id, depositor: 'Client', kind: 'wire', amount: 500_00 }
      const made = await orla.must<{ id: number }>('POST', '/trust/sheets', {
        bankAccountId: await office.bank('pooled'),
        day: '2026-11-03',
        controlTotal: 1_500_00,
        // For the client as a whole there is no matter to charge.
        receipts: [line, { ...line, fee: false }, { ...line, matterId: null }],
      })
      const sheet = await orla.must<{ receipts: { fee: number; receiptNo: number }[] }>('GET', `/trust/sheets/${made.id}`)
      expect(sheet.receipts.map((r) => r.fee)).toEqual([15_00, 0, 0])
      expect((await listed(m)).total).toBe(0)
      await orla.must('POST', `/trust/sheets/${made.id}/post`, {})
      const cost = (await listed(m)).rows[0]!
      expect([(await listed(m)).total, cost.amount, cost.text]).toEqual([1, 15_00, `Administration fee, receipt ${sheet.receipts[0]!.receiptNo}`]) // prettier-ignore
      expect([await booked(m.id, 'costs advanced'), await booked(m.id, 'payables')]).toEqual([15_00, -15_00])
      const journal = (await office.db.query<{ id: number }[]>(`SELECT journal_id AS id FROM deposit_sheet WHERE id = ?`, [made.id]))[0]!.id
      await orla.must('POST', `/books/journals/${journal}/reverse`, { day: '2026-11-04', reason: 'Entered twice' })
      expect((await listed(m)).rows.map((c) => c.state)).toEqual(['reversed'])
      expect(await booked(m.id, 'costs advanced')).toBe(0)

      // Once it is billed it stays there, and the sheet still goes back.
      await levy(15_00)
      const again = await office.matter(noor, 'Levied Again Ltd')
      await office.deposit(orla, again, 200_00, '2026-11-03')
      const bill = await billOf(again)
      expect((await orla.must<BillOut>('GET', `/bills/${bill.id}`)).lines).toMatchObject([{ kind: 'soft cost', charged: 15_00 }])
      const own = (await office.db.query<{ id: number }[]>(`SELECT s.journal_id AS id FROM deposit_sheet s JOIN deposit_receipt r ON r.sheet_id = s.id WHERE r.matter_id = ?`, [again.id]))[0]!.id // prettier-ignore
      await orla.must('POST', `/books/journals/${own}/reverse`, { day: today, reason: 'Never came' })
      expect((await listed(again)).rows.map((c) => c.state)).toEqual(['recorded'])
    } finally {
      await levy(0)
    }
  })
})
