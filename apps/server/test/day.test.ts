import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { rows } from '../src/platform'
import { Office, today, type Person } from './office'

let office: Office
let noor: Person
let billie: Person
let orla: Person
beforeAll(async () => {
  office = await Office.open()
  ;[noor, billie, orla] = await Promise.all([office.signIn('noor'), office.signIn('billie'), office.signIn('orla')])
})
afterAll(() => office.close())

let n = 0
const client = (more: Record<string, unknown> = {}) => office.matter(noor, `Day Client ${(n += 1)} Ltd`, more)

describe('procedures', () => {
  interface Step {
    key: string
    text: string
    dueOn: string
    assigneeId: number
    how: string
  }
  it('show real dates and people first, then make what was kept, as it was changed', async () => {
    const m = await client({ team: [{ userId: await office.user('Billie'), role: 'paralegal' }] })
    const procedure = (await noor.must<{ id: number; name: string }[]>('GET', '/procedures')).find(
      (p) => p.name === 'Opening a court matter',
    )!
    const { steps, version } = await noor.must<{ steps: Step[]; version: number }>('POST', `/matters/${m.id}/procedures/preview`, {
      procedureId: procedure.id,
      start: '2026-11-24',
    })
    const people = await Promise.all(['Noor', 'Billie'].map((p) => office.user(p)))
    expect(steps.slice(0, 4).map((s) => [s.dueOn, people.indexOf(s.assigneeId)])).toEqual([
      ['2026-11-24', 1],
      // A business day later; Thanksgiving and the day after are closed in Wexmoor.
      ['2026-11-25', 1],
      ['2026-11-30', 0],
      ['2026-12-01', 1],
    ])
    expect(steps[3]!.how).toBe('7 calendar days after “Send engagement letter for signature”')
    const kept = steps.slice(0, 2).map((s) => ({ key: s.key, dueOn: s.dueOn, assigneeId: s.assigneeId }))
    kept[1]!.dueOn = '2026-12-15'
    expect(
      await noor.must('POST', `/matters/${m.id}/procedures`, { procedureId: procedure.id, start: '2026-11-24', version, steps: kept }),
    ).toEqual({ tasks: 2 })
    const { rows: tasks } = await noor.must<{ rows: { text: string; dueOn: string; step: string }[] }>('GET', `/tasks?matterId=${m.id}`)
    expect(tasks.map((t) => [t.dueOn, t.step])).toEqual([
      ['2026-11-24', 'step 1 of 2'],
      ['2026-12-15', 'step 2 of 2'],
    ])
  })

  it('give no work to a person screened from the matter, and none to someone who left', async () => {
    const m = await client()
    const billieId = await office.user('Billie')
    await noor.must('POST', `/matters/${m.id}/screens`, { userId: billieId })
    const refused = await noor.post('/tasks', { text: 'Read the file', matterId: m.id, assigneeId: billieId })
    expect(refused.body.fields[0]).toMatchObject({ path: 'assigneeId' })
  })
})

describe('tasks', () => {
  it('are done and opened again by whoever they are of; private ones by nobody else', async () => {
    const made = await billie.must<{ id: number }>('POST', '/tasks', { text: 'Water the ferns', assigneeId: await office.user('Billie') })
    expect((await noor.put(`/tasks/${made.id}/done`, { done: true })).status).toBe(404)
    await billie.must('PUT', `/tasks/${made.id}/done`, { done: true })
    const { rows: list } = await billie.must<{ rows: { id: number; done: boolean }[] }>('GET', '/tasks?done=done')
    expect(list.find((t) => t.id === made.id)?.done).toBe(true)
    await billie.must('PUT', `/tasks/${made.id}/done`, { done: false })
  })
})

describe('drafts of time', () => {
  it('are changed, deleted and posted only by whoever they belong to', async () => {
    const m = await client()
    const draft = await noor.must<{ id: number }>('POST', '/time', { matterId: m.id, day: today, text: 'Call', duration: '1:30' })
    const change = { matterId: m.id, day: today, text: 'Call, longer', duration: '2', charge: 'no charge' }
    expect((await billie.put(`/time/${draft.id}`, change)).status).toBe(404)
    expect((await billie.post('/time/post', { ids: [draft.id] })).body.code).toBe('not-a-draft')
    await noor.must('PUT', `/time/${draft.id}`, change)
    await noor.must('POST', '/time/post', { ids: [draft.id] })
    expect((await noor.put(`/time/${draft.id}`, change)).body.code).toBe('already-posted')
    expect((await noor.call('DELETE', `/time/${draft.id}`, {})).body.code).toBe('already-posted')
  })

  it('take the matter’s own rate before the client’s and the person’s', async () => {
    const m = await client({ team: [{ userId: await office.user('Noor'), role: 'lead', rate: 250_00 }] })
    const quote = () => noor.must<{ rate: number; origin: string }>('POST', '/time/quote', { matterId: m.id, day: today, duration: '1' })
    expect(await quote()).toMatchObject({ rate: 250_00, origin: 'own rate on this matter' })
    await office.db.query(`UPDATE matter_team SET rate = NULL WHERE matter_id = ?`, [m.id])
    await office.db.query(`INSERT INTO client_rate (client_id, user_id, rate) VALUES (?, ?, 27000)`, [
      m.clientId,
      await office.user('Noor'),
    ])
    expect(await quote()).toMatchObject({ rate: 270_00, origin: 'own rate for this client' })
  })

  it('say at the field what cannot be read', async () => {
    const m = await client()
    const refused = await noor.post('/time', { matterId: m.id, day: '2026-02-30', text: '', duration: 'soon' })
    expect(refused.body.fields.map((f) => f.path).sort()).toEqual(['day', 'duration', 'text'])
    expect((await noor.post('/time', { matterId: m.id, day: today, text: 'x', duration: 'soon' })).body.fields[0]?.path).toBe('duration')
  })
})

interface Pre {
  state: string
  lines: { id: number; text: string; charged: number; worked: number; net: number }[]
  totals: Record<'worked' | 'writtenDown' | 'noCharge' | 'fees' | 'costs' | 'discount' | 'total', number>
}

describe('a pre-bill', () => {
  async function make(entries: [string, string][]) {
    const m = await client()
    const ids = []
    for (const [text, duration] of entries)
      ids.push((await noor.must<{ id: number }>('POST', '/time', { matterId: m.id, day: '2026-11-10', text, duration, rate: 100_00 })).id)
    await noor.must('POST', '/time/post', { ids })
    const pre = await noor.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: today })
    const read = () => noor.must<Pre>('GET', `/pre-bills/${pre.id}`)
    const edit = (line: Pre['lines'][number], change: object) =>
      noor.put(`/pre-bills/${pre.id}/lines/${line.id}`, {
        text: line.text,
        charged: line.charged,
        noCharge: false,
        heldBack: false,
        ...change,
      })
    return { m, id: pre.id, read, edit }
  }

  it('writes down, leaves uncharged, holds back and discounts to the cent', async () => {
    const p = await make([
      ['A', '3'],
      ['B', '1'],
      ['C', '2'],
      ['D', '0.1'],
    ])
    const [a, b, c] = (await p.read()).lines
    expect((await p.edit(a!, { charged: 300_01 })).body.fields[0]?.message).toContain('At most $300.00')
    await p.edit(a!, { charged: 200_00 })
    await p.edit(b!, { noCharge: true })
    await p.edit(c!, { heldBack: true })
    await noor.must('PUT', `/pre-bills/${p.id}/discount`, { amount: 0, basisPoints: 333 })
    const { totals, lines } = await p.read()
    expect(totals).toMatchObject({ worked: 410_00, writtenDown: 100_00, noCharge: 100_00, fees: 210_00, discount: 6_99, total: 203_01 })
    expect(lines.reduce((n, l) => n + l.net, 0)).toBe(203_01)
    await noor.must('POST', `/pre-bills/${p.id}/approve`, { approved: true })
    expect((await p.edit(a!, { charged: 1 })).body.code).toBe('approved')
    // Seen at another sum, as before somebody took it back and changed it, it is not issued.
    expect((await orla.post(`/pre-bills/${p.id}/issue`, { day: today, seen: 203_02 })).body.code).toBe('changed-meanwhile')
    const bill = await orla.must<{ id: number }>('POST', `/pre-bills/${p.id}/issue`, { day: today, seen: 203_01 })
    // What was held back is still unbilled, and goes on the next pre-bill.
    const next = await noor.must<{ id: number }>('POST', '/pre-bills', { matterId: p.m.id, workTo: today })
    expect((await noor.must<Pre>('GET', `/pre-bills/${next.id}`)).lines.map((l) => l.text)).toEqual(['C'])
    const worked = await rows<{ amount: number }>(
      office.db.manager,
      `SELECT SUM(l.amount) AS amount FROM journal_line l JOIN account a ON a.id = l.account_id WHERE l.matter_id = ? AND a.role = 'work in progress'`,
      [p.m.id],
    )
    expect([bill.id > 0, worked[0]!.amount]).toEqual([true, 200_00])
  })

  it('is one at a time for a matter, and dropping it leaves its lines unbilled', async () => {
    const p = await make([['A', '1']])
    expect((await noor.post('/pre-bills', { matterId: p.m.id, workTo: today })).body.code).toBe('pre-bill-waits')
    await noor.call('DELETE', `/pre-bills/${p.id}`, {})
    expect((await noor.post('/pre-bills', { matterId: p.m.id, workTo: today })).status).toBe(200)
  })

  it('is refused where nobody is to be billed, and where there is nothing', async () => {
    const m = await client({ billToId: null })
    expect((await noor.post('/pre-bills', { matterId: m.id, workTo: today })).body.detail).toContain('nobody to bill')
    await noor.must('PUT', `/matters/${m.id}/billing`, { billToId: m.clientId })
    expect((await noor.post('/pre-bills', { matterId: m.id, workTo: today })).body.code).toBe('nothing-to-bill')
  })

  it('issued twice at once becomes one bill', async () => {
    const p = await make([['A', '1']])
    await noor.must('POST', `/pre-bills/${p.id}/approve`, { approved: true })
    const answers = await Promise.all([1, 2, 3].map(() => orla.post(`/pre-bills/${p.id}/issue`, { day: today })))
    expect(answers.map((a) => a.status).sort()).toEqual([200, 409, 409])
  })
})

describe('a bill split among payers', () => {
  it('is a bill for each, which together are the whole to the cent and pay their own', async () => {
    const m = await client()
    const insurer = await noor.must<{ id: number }>('POST', '/contacts', {
      kind: 'organization',
      name: 'Split Insurers',
      kinds: ['insurer'],
    })
    const say = (payers: object[]) => noor.call('PUT', `/matters/${m.id}/billing`, { billToId: m.clientId, payers })
    const short = await say([
      { contactId: m.clientId, basisPoints: 5000 },
      { contactId: insurer.id, basisPoints: 4000 },
    ])
    expect([short.status, short.body.fields[0]?.message]).toEqual([400, 'The percentages make 90 %; they must make 100 %'])
    await say([
      { contactId: insurer.id, fixed: 100_00 },
      { contactId: m.clientId, basisPoints: 3333 },
      { contactId: (await client()).clientId, basisPoints: 6667 },
    ])
    const made = await noor.must<{ payers: { share: string }[]; billTo: string }>('GET', `/matters/${m.id}`)
    expect([made.billTo, made.payers.map((p) => p.share)]).toEqual([
      'Split Insurers',
      ['$100.00', '33.33 % of what is left', '66.67 % of what is left'],
    ])
    const ids = []
    for (const duration of ['1.1', '0.7'])
      ids.push((await noor.must<{ id: number }>('POST', '/time', { matterId: m.id, day: today, text: 'Work', duration, rate: 333_00 })).id)
    await noor.must('POST', '/time/post', { ids })
    const pre = await noor.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: today })
    type Shown = Pre & { totals: { total: number; worked: number }; parts: { total: number }[] }
    const whole = await noor.must<Shown>('GET', `/pre-bills/${pre.id}`)
    // What was agreed afterwards does not touch the pre-bill that waits.
    await say([])
    await noor.must('POST', `/pre-bills/${pre.id}/approve`, { approved: true })
    const first = await orla.must<{ id: number; number: string; others: { id: number; number: string }[] }>(
      'POST',
      `/pre-bills/${pre.id}/issue`,
      { day: today },
    )
    const bills = []
    for (const { id } of [first, ...first.others])
      bills.push(await orla.must<Shown & { number: string; total: number; payer: string; others: object[] }>('GET', `/bills/${id}`))
    expect(bills.map((b) => b.total)).toEqual(whole.parts.map((p) => p.total))
    expect(bills.map((b) => b.total).reduce((a, b) => a + b)).toBe(whole.totals.total)
    expect(bills.map((b) => b.totals.worked).reduce((a, b) => a + b)).toBe(whole.totals.worked)
    expect([bills[0]!.payer, bills[0]!.total, bills[0]!.others.length]).toEqual(['Split Insurers', 100_00, 2])
    const booked = await rows<{ role: string; amount: number }>(
      office.db.manager,
      `SELECT a.role, SUM(l.amount) AS amount FROM journal_line l JOIN account a ON a.id = l.account_id WHERE l.matter_id = ? AND a.role IN ('work in progress', 'receivable') GROUP BY a.role ORDER BY a.role`,
      [m.id],
    )
    expect(booked.map((b) => [b.role, b.amount])).toEqual([
      ['receivable', whole.totals.total],
      ['work in progress', 0],
    ])
    // The client's money in trust pays the client's bill and no other's.
    const ledgerId = await office.deposit(orla, m, 500_00)
    const pay = (id: number, amount: number) => orla.post('/trust/bill-payments', { ledgerId, billId: id, day: today, amount })
    expect((await pay(first.id, 100_00)).status).not.toBe(200)
    await orla.must('POST', `/bills/${first.id}/payments`, { day: today, amount: 100_00, kind: 'check' })
  })
})

describe('partial payments', () => {
  it('leave each line paid exactly, whatever the order', async () => {
    const m = await client()
    const bill = await office.bill(noor, orla, m.id, 100_000)
    for (const amount of [333_33, 333_33, 333_34])
      await orla.must('POST', `/bills/${bill.id}/payments`, { day: today, amount, kind: 'check' })
    const open = await rows<{ open: number }>(
      office.db.manager,
      `SELECT l.net - (SELECT SUM(a.amount) FROM allocation a WHERE a.bill_line_id = l.id) AS open FROM bill_line l WHERE l.bill_id = ?`,
      [bill.id],
    )
    expect(open.every((l) => l.open === 0)).toBe(true)
    expect((await orla.post(`/bills/${bill.id}/payments`, { day: today, amount: 1, kind: 'check' })).body.fields[0]?.path).toBe('amount')
  })
})

describe('a deposit sheet', () => {
  it('changes as a draft, keeps its receipt numbers, and is closed once posted', async () => {
    const m = await client()
    const bankAccountId = await office.bank('pooled')
    const receipt = (amount: number) => ({ clientId: m.clientId, matterId: m.id, depositor: 'Client', kind: 'check', amount })
    const sheet = await orla.must<{ id: number }>('POST', '/trust/sheets', {
      bankAccountId,
      day: today,
      controlTotal: 300,
      receipts: [receipt(100), receipt(200)],
    })
    const numbers = async () =>
      (await orla.must<{ receipts: { receiptNo: number }[] }>('GET', `/trust/sheets/${sheet.id}`)).receipts.map((r) => r.receiptNo)
    const before = await numbers()
    await orla.must('PUT', `/trust/sheets/${sheet.id}`, {
      bankAccountId,
      day: today,
      controlTotal: 600,
      receipts: [receipt(100), receipt(200), receipt(300)],
    })
    expect((await numbers()).slice(0, 2)).toEqual(before)
    await orla.must('POST', `/trust/sheets/${sheet.id}/post`, {})
    expect(
      (await orla.put(`/trust/sheets/${sheet.id}`, { bankAccountId, day: today, controlTotal: 100, receipts: [receipt(100)] })).body.code,
    ).toBe('already-posted')
    const bank = await rows<{ amount: number }>(
      office.db.manager,
      `SELECT amount FROM bank_entry WHERE reference = (SELECT CONCAT('Sheet ', number) FROM deposit_sheet WHERE id = ?)`,
      [sheet.id],
    )
    expect(bank).toEqual([{ amount: 600 }])
  })

  it('refuses a matter that is not the client’s', async () => {
    const [a, b] = [await client(), await client()]
    const refused = await orla.post('/trust/sheets', {
      bankAccountId: await office.bank('pooled'),
      day: today,
      controlTotal: 100,
      receipts: [{ clientId: a.clientId, matterId: b.id, depositor: 'x', kind: 'check', amount: 100 }],
    })
    expect(refused.body.fields[0]).toMatchObject({ path: 'receipts.0.matterId' })
  })
})

describe('books', () => {
  const account = async (code: string) =>
    (await rows<{ id: number }>(office.db.manager, `SELECT id FROM account WHERE code = ?`, [code]))[0]!.id

  it('take a journal by hand into operating, but none into trust or receivables', async () => {
    const enter = async (debit: string, credit: string, amount = 6_400_00) =>
      orla.post<{ id: number }>('/books/journals', {
        day: today,
        memo: 'Rent',
        lines: [
          { accountId: await account(debit), amount },
          { accountId: await account(credit), amount: -6_400_00 },
        ],
      })
    const made = await enter('5020', '1010')
    expect(await orla.must('GET', `/books/journals/${made.body.id}`)).toMatchObject({ memo: 'Rent', bank: [{ amount: -6_400_00 }] })
    for (const closed of ['1020', '2010', '1100', '1200'])
      expect((await enter('5020', closed)).body.fields[0]?.path, closed).toBe('lines.1.accountId')
    expect((await enter('5020', '1010', 1)).body.detail).toContain('must be the same')
  })

  it('stand in balance on any day, and age what is owed', async () => {
    const m = await client()
    const bill = await office.bill(noor, orla, m.id, 70_000, '2026-11-02')
    for (const asOf of ['2026-10-31', '2026-11-15', today]) {
      const t = await orla.must<{ debit: number; credit: number }>('GET', `/books/trial-balance?asOf=${asOf}`)
      expect(t.debit).toBe(t.credit)
    }
    const aged = async (asOf: string) =>
      (await orla.must<{ rows: { payerId: number; buckets: number[] }[] }>('GET', `/reports/receivables?asOf=${asOf}`)).rows.find(
        (r) => r.payerId === m.clientId,
      )?.buckets
    expect(await aged('2026-11-01')).toBeUndefined()
    expect(await aged(today)).toEqual([70_000, 0, 0, 0, 0])
    expect(await aged('2027-01-15')).toEqual([0, 0, 70_000, 0, 0])
    expect(bill.number).toMatch(/^B-\d+$/)
  })
})

describe('what the shell shows', () => {
  it('finds by a few letters only what the reader may see', async () => {
    await client()
    const kinds = async (p: Person) =>
      (await p.must<{ kind: string; id: number }[]>('GET', `/find?q=${encodeURIComponent(`Day Client ${n} `)}`)).map((f) => f.kind)
    expect(await kinds(noor)).toEqual(['matter', 'person'])
    expect(await kinds(await office.signIn('sable'))).toEqual([])
  })
  it('keeps money from those who may not see it', async () => {
    const m = await client()
    await office.bill(noor, orla, m.id, 10_000)
    const seen = await billie.must<{ figures: unknown; portions: unknown[] }>('GET', `/matters/${m.id}`)
    expect(seen.figures).toBeNull()
    const log = await billie.must<{ rows: { text: string }[] }>('GET', `/matters/${m.id}/log`)
    expect(log.rows.map((r) => r.text).join()).not.toContain('$')
  })
})

describe('the figures kept beside matters', () => {
  it('say what the entries say, after all that was recorded, billed, paid and reversed here', async () => {
    const differ = await rows(
      office.db.manager,
      `SELECT m.id, f.unbilled, f.held, x.unbilled AS asEntered, x.held AS asPosted FROM matter m LEFT JOIN matter_figure f ON f.matter_id = m.id
         JOIN (SELECT m.id,
                 IF(m.billing = 'flat', 0, COALESCE((SELECT SUM(t.amount) FROM time_entry t WHERE t.matter_id = m.id AND t.bill_id IS NULL AND t.state = 'posted' AND t.charge = 'billable'), 0))
                 + COALESCE((SELECT SUM(c.amount) FROM cost_entry c WHERE c.matter_id = m.id AND c.bill_id IS NULL AND c.state = 'recorded' AND c.billable AND COALESCE(c.paid_from, '') <> 'trust'), 0)
                 + COALESCE((SELECT SUM(p.amount) FROM fee_portion p WHERE p.matter_id = m.id AND p.bill_id IS NULL), 0) AS unbilled,
                 COALESCE((SELECT SUM(e.amount) FROM ledger_entry e JOIN client_ledger l ON l.id = e.ledger_id WHERE l.matter_id = m.id), 0) AS held
               FROM matter m) x ON x.id = m.id
        WHERE COALESCE(f.unbilled, 0) <> x.unbilled OR COALESCE(f.held, 0) <> x.held`,
    )
    expect(differ).toEqual([])
    const some = await rows<{ n: number }>(office.db.manager, `SELECT COUNT(*) AS n FROM matter_figure WHERE unbilled > 0 OR held > 0`)
    expect(some[0]!.n).toBeGreaterThan(3)
  })
})
