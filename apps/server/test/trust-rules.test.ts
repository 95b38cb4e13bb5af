import type { Day } from '@heron/core/calendar'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { depositFirmMoney } from '../src/ledger'
import { instant, row, rows } from '../src/platform'
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
const client = (more: Record<string, unknown> = {}) => office.matter(noor, `Ruled Client ${(n += 1)} Ltd`, more)
const check = (ledgerId: number, amount: number, day = today, more: Record<string, unknown> = {}) =>
  orla.post<{ id: number; checkNo: number }>('/trust/payments/now', { ledgerId, day, payeeName: 'Strand Reporting', amount, ...more })
const sure = { overrideReason: 'the bank confirmed' }
const actor = async () => ({ id: await office.user('Orla'), name: 'Orla Petrakis', role: 'bookkeeper' as const, mayOverride: true })
const firmMoney = async (amount: number, day: Day = '2026-10-01') =>
  depositFirmMoney({ ...office.running.base, actor: await actor() }, await office.bank('pooled'), day, amount)
const firmLedger = async () =>
  (await row<{ id: number }>(office.db.manager, `SELECT id FROM client_ledger WHERE kind = 'firm' AND bank_account_id = ?`, [
    await office.bank('pooled'),
  ]))!.id

describe('money that has not cleared', () => {
  it('is stood in for by firm money once: three overrides of $100.00 on $100.00 are one', () =>
    office.alone('firm money', async () => {
      await firmMoney(10_000)
      const free = (await orla.must<{ available: number }>('GET', `/trust/ledgers/${await firmLedger()}`)).available
      const ledgers = []
      for (let i = 0; i < 3; i += 1) ledgers.push(await office.deposit(orla, await client(), 50_000, today, 'check'))
      const answers = await Promise.all(ledgers.map((l) => check(l, free, today, sure)))
      expect(answers.map((a) => a.status).sort()).toEqual([200, 409, 409])
      expect(answers.find((a) => a.status === 409)!.body.code).toBe('would-use-other-clients-money')
      // What stands in cannot be paid out itself.
      const out = await check(await firmLedger(), 1, today, { payeeName: 'Harrow Sound Bank' })
      expect(out.body.code).toBe('firm-money-stands-in')
      // Once the check is voided the firm's money is free again.
      const done = answers.find((a) => a.status === 200)!
      await orla.must('POST', `/trust/payments/${done.body.id}/void`, { day: today, reason: 'not needed' })
      expect((await check(ledgers[1]!, free, today, sure)).status).toBe(200)
    }))
  it('is judged on every day from the book date on, also in between', async () => {
    const m = await client()
    const ledger = await office.deposit(orla, m, 100_000, '2026-10-01', 'cash')
    expect((await check(ledger, 100_000, '2026-10-05')).status).toBe(200)
    await office.deposit(orla, m, 100_000, '2026-10-05', 'check')
    const between = await check(ledger, 100_000, '2026-10-02')
    expect(between.body.code).toBe('money-not-cleared')
    const m2 = await client()
    const other = await office.deposit(orla, m2, 100_000, '2026-11-20', 'cash')
    expect((await check(other, 100_000, today)).status).toBe(200)
    await office.deposit(orla, m2, 100_000, today, 'check')
    expect((await check(other, 100_000, '2026-11-21')).body.code).toBe('money-not-cleared')
  })
})

describe('a flat fee billed in advance', () => {
  async function billed() {
    const m = await client({
      billing: 'flat',
      flatFee: [
        { label: 'First', amount: 30_000 },
        { label: 'Second', amount: 20_000 },
      ],
    })
    const ledger = await office.deposit(orla, m, 60_000)
    const pre = await noor.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: today })
    await noor.must('POST', `/pre-bills/${pre.id}/approve`, { approved: true })
    const bill = await orla.must<{ id: number }>('POST', `/pre-bills/${pre.id}/issue`, { day: today })
    const portions = await rows<{ id: number }>(office.db.manager, `SELECT id FROM fee_portion WHERE matter_id = ? ORDER BY ordinal`, [
      m.id,
    ])
    return { m, ledger, bill, portions }
  }
  const pay = (ledgerId: number, billId: number, amount: number, day = today) =>
    orla.post('/trust/bill-payments', { ledgerId, billId, day, amount })

  it('is taken only as far as it is earned, however small the steps', async () => {
    const { ledger, bill, portions } = await billed()
    await noor.must('POST', `/fee-portions/${portions[0]!.id}/earned`, { day: today })
    let taken = 0
    for (const step of [10_000, 10_000, 5_000, 4_000, 900, 90, 9, 1]) {
      expect((await pay(ledger, bill.id, step)).status).toBe(200)
      taken += step
    }
    expect(taken).toBe(30_000)
    expect((await pay(ledger, bill.id, 1)).body.code).toBe('not-yet-earned')
    const second = await row<{ paid: number }>(
      office.db.manager,
      `SELECT COALESCE(SUM(a.amount), 0) AS paid FROM allocation a JOIN bill_line l ON l.id = a.bill_line_id WHERE l.bill_id = ? AND l.source_id = ?`,
      [bill.id, portions[1]!.id],
    )
    expect(second!.paid).toBe(0)
  })
  it('is unearned on a day before it was earned', async () => {
    const { ledger, bill, portions } = await billed()
    await office.db.query(`UPDATE fee_portion SET earned_on = '2026-11-24' WHERE id = ?`, [portions[0]!.id])
    expect((await pay(ledger, bill.id, 100)).body.code).toBe('not-yet-earned')
  })
})

describe('a bill', () => {
  it('is not dated before its last line, nor long ago', async () => {
    const m = await client()
    const entry = await noor.must<{ id: number }>('POST', '/time', {
      matterId: m.id,
      day: '2026-11-10',
      text: 'Work',
      duration: '1',
      rate: 100_00,
    })
    await noor.must('POST', '/time/post', { ids: [entry.id] })
    const pre = await noor.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: today })
    await noor.must('POST', `/pre-bills/${pre.id}/approve`, { approved: true })
    for (const day of ['2001-01-01', '2026-11-09', '2026-11-24'])
      expect((await orla.post(`/pre-bills/${pre.id}/issue`, { day })).body.fields[0]?.path, day).toBe('day')
    expect((await orla.post(`/pre-bills/${pre.id}/issue`, { day: '2026-11-10' })).status).toBe(200)
  })
  it('is paid from trust on no day before it was really issued', async () => {
    const m = await client()
    const ledger = await office.deposit(orla, m, 60_000)
    const bill = await office.bill(noor, orla, m.id, 50_000, '2026-11-02')
    const early = await orla.post('/trust/bill-payments', { ledgerId: ledger, billId: bill.id, day: '2026-11-10', amount: 100 })
    expect(early.body).toMatchObject({ code: 'no-issued-bill', detail: expect.stringContaining('Mon 23 Nov 2026') as string })
  })
  it('may ask that somebody else issues it than who approved it', async () => {
    const m = await client()
    const entry = await noor.must<{ id: number }>('POST', '/time', {
      matterId: m.id,
      day: today,
      text: 'Work',
      duration: '1',
      rate: 100_00,
    })
    await noor.must('POST', '/time/post', { ids: [entry.id] })
    const pre = await noor.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: today })
    await orla.must('POST', `/pre-bills/${pre.id}/approve`, { approved: true })
    await office.db.query(`UPDATE firm SET two_people_for_bills = TRUE`)
    expect((await orla.post(`/pre-bills/${pre.id}/issue`, { day: today })).body.code).toBe('same-person')
    await office.db.query(`UPDATE firm SET two_people_for_bills = FALSE`)
    expect((await orla.post(`/pre-bills/${pre.id}/issue`, { day: today })).status).toBe(200)
  })
  it('with a hard cost at no charge leaves no asset behind', async () => {
    const m = await client()
    await noor.must('POST', `/matters/${m.id}/costs`, { day: today, kind: 'hard cost', text: 'Filing fee', amount: 40_500, payee: 'Clerk' })
    const pre = await noor.must<{ id: number }>('POST', '/pre-bills', { matterId: m.id, workTo: today })
    const { lines } = await noor.must<{ lines: { id: number }[] }>('GET', `/pre-bills/${pre.id}`)
    await noor.must('PUT', `/pre-bills/${pre.id}/lines/${lines[0]!.id}`, {
      text: 'Filing fee',
      charged: 40_500,
      noCharge: true,
      heldBack: false,
    })
    await noor.must('POST', `/pre-bills/${pre.id}/approve`, { approved: true })
    await orla.must('POST', `/pre-bills/${pre.id}/issue`, { day: today })
    const left = await rows<{ role: string; amount: number }>(
      office.db.manager,
      `SELECT a.role, SUM(l.amount) AS amount FROM journal_line l JOIN account a ON a.id = l.account_id WHERE l.matter_id = ? AND a.role LIKE 'costs%' GROUP BY a.role ORDER BY a.role`,
      [m.id],
    )
    expect(left).toEqual([
      { role: 'costs advanced', amount: 0 },
      { role: 'costs not recovered', amount: 40_500 },
    ])
  })
})

describe('firm money in trust', () => {
  it('leaves its asset account when it is paid out, and the standing check compares the two', async () => {
    await firmMoney(5_000)
    const before = await orla.must<{ firmMoney: { ledgers: number; account: number } }>('POST', '/trust/check', {})
    expect((await check(await firmLedger(), 1_800, today, { payeeName: 'Harrow Sound Bank' })).status).toBe(200)
    const after = await orla.must<{ ok: boolean; firmMoney: { ledgers: number; account: number } }>('POST', '/trust/check', {})
    expect(after.ok).toBe(true)
    expect(after.firmMoney).toEqual({ ledgers: before.firmMoney.ledgers - 1_800, account: before.firmMoney.account - 1_800 })
  })
  it('and no money of a client goes by check to the firm’s own name', async () => {
    const ledger = await office.deposit(orla, await client(), 50_000)
    for (const payeeName of ['Calloway Fenn LLP', 'CALLOWAY FENN', 'Calloway Fenn, operating account'])
      expect((await check(ledger, 100, today, { payeeName })).body.code, payeeName).toBe('firm-without-bill')
    expect((await check(ledger, 100, today, { payeeName: 'Fenn Marine Survey' })).status).toBe(200)
  })
  it('is kept by its own acts: nobody enters it, or fees, by hand', async () => {
    const accounts = await rows<{ id: number; code: string }>(
      office.db.manager,
      `SELECT id, code FROM account WHERE code IN ('1310', '4010', '1010')`,
    )
    const of = (code: string) => accounts.find((a) => a.code === code)!.id
    for (const code of ['1310', '4010']) {
      const lines = [
        { accountId: of(code), amount: -500 },
        { accountId: of('1010'), amount: 500 },
      ]
      expect((await orla.post('/books/journals', { day: today, memo: 'by hand', lines })).body.fields[0]?.path, code).toBe(
        'lines.0.accountId',
      )
    }
  })
})

describe('past the application, the database', () => {
  type Row = (string | number | null)[]
  /** Posts a journal with the application's own user, as a program gone wrong would. */
  async function journal(parts: { lines: Row[]; bank?: Row[]; ledgers?: Row[]; override?: number }) {
    const user = await office.user('Orla')
    return office.db.transaction(async (m) => {
      const { insertId } = (await m.query(`INSERT INTO journal (day, kind, memo, user_id, created_at) VALUES (?, 'test', 'x', ?, ?)`, [
        today,
        user,
        instant(new Date()),
      ])) as { insertId: number }
      for (const l of parts.lines)
        await m.query(`INSERT INTO journal_line (journal_id, account_id, amount, bill_id) VALUES (?, ?, ?, ?)`, [insertId, ...l])
      for (const b of parts.bank ?? [])
        await m.query(`INSERT INTO bank_entry (journal_id, bank_account_id, day, amount, kind, text) VALUES (?, ?, ?, ?, 'x', 'x')`, [
          insertId,
          b[0],
          today,
          b[1],
        ])
      for (const l of parts.ledgers ?? [])
        await m.query(`INSERT INTO ledger_entry (journal_id, ledger_id, day, amount, text) VALUES (?, ?, ?, ?, 'x')`, [
          insertId,
          l[0],
          today,
          l[1],
        ])
      await m.query(`INSERT INTO journal_posting (journal_id, posted_at) VALUES (?, NOW(6))`, [insertId])
    })
  }
  const accounts = async () => {
    const bank = await rows<{ id: number; kind: string; gl: number; owed: number }>(
      office.db.manager,
      `SELECT id, kind, gl_account_id AS gl, liability_account_id AS owed FROM bank_account`,
    )
    const receivable = await row<{ id: number }>(office.db.manager, `SELECT id FROM account WHERE role = 'receivable'`)
    return {
      pooled: bank.find((b) => b.kind === 'pooled')!,
      operating: bank.find((b) => b.kind === 'operating')!,
      receivable: receivable!.id,
    }
  }
  const fourLegs = async (ledger: number, bill: number | null, amount: number) => {
    const { pooled, operating, receivable } = await accounts()
    return journal({
      lines: [
        [pooled.owed, amount, null],
        [pooled.gl, -amount, null],
        [operating.gl, amount, null],
        [receivable, -amount, bill],
      ],
      bank: [
        [pooled.id, -amount],
        [operating.id, amount],
      ],
      ledgers: [[ledger, -amount]],
    })
  }

  it('refuses four legs that pay one client’s bill from another’s ledger, or no bill at all', async () => {
    const [a, b] = [await client(), await client()]
    const ledgerOfA = await office.deposit(orla, a, 100_000)
    const billOfB = await office.bill(noor, orla, b.id, 50_000)
    await expect(fourLegs(ledgerOfA, billOfB.id, 50_000)).rejects.toThrow(/own payer/)
    await expect(fourLegs(ledgerOfA, null, 50_000)).rejects.toThrow(/issued bills/)
    const billOfA = await office.bill(noor, orla, a.id, 50_000)
    await expect(fourLegs(ledgerOfA, billOfA.id, 50_000)).resolves.toBeUndefined()
  })
  it('refuses to spend what has not cleared without someone’s word, and what has no owner at all', async () => {
    const { pooled } = await accounts()
    const ledger = await office.deposit(orla, await client(), 50_000, today, 'check')
    const outside = await row<{ id: number }>(office.db.manager, `SELECT id FROM account WHERE code = '5900'`)
    expect(outside).not.toBeNull()
    const spend = (from: number) =>
      journal({
        lines: [
          [pooled.owed, 100, null],
          [pooled.gl, -100, null],
        ],
        bank: [[pooled.id, -100]],
        ledgers: [[from, -100]],
      })
    await expect(spend(ledger)).rejects.toThrow(/authorized/)
    const sheet = await orla.must<{ id: number }>('POST', '/trust/sheets', {
      bankAccountId: pooled.id,
      day: today,
      controlTotal: 5_000,
      receipts: [{ clientId: null, depositor: 'Somebody', kind: 'cash', amount: 5_000 }],
    })
    await orla.must('POST', `/trust/sheets/${sheet.id}/post`, {})
    const unknown = await row<{ id: number }>(
      office.db.manager,
      `SELECT id FROM client_ledger WHERE kind = 'unidentified' AND bank_account_id = ?`,
      [await office.bank('pooled')],
    )
    await expect(spend(unknown!.id)).rejects.toThrow(/owner is not known/)
  })
  it('keeps closing balances, posted payments and posted sheets from the application itself', async () => {
    const ledger = await office.deposit(orla, await client(), 50_000)
    const paid = await check(ledger, 10_000)
    await expect(office.db.query(`UPDATE ledger_day SET balance = balance + 1 WHERE ledger_id = ?`, [ledger])).rejects.toThrow(/denied/)
    await expect(office.db.query(`INSERT INTO ledger_day (ledger_id, day, balance) VALUES (?, '2030-01-01', 5)`, [ledger])).rejects.toThrow(
      /denied/,
    )
    for (const change of [`amount = 1`, `payee_name = 'Me'`, `state = 'draft'`, `state = 'void'`, `ledger_id = ledger_id + 1`])
      await expect(office.db.query(`UPDATE payment_out SET ${change} WHERE id = ?`, [paid.body.id]), change).rejects.toThrow(
        /never changed/,
      )
    await expect(office.db.query(`DELETE FROM payment_out WHERE id = ?`, [paid.body.id])).rejects.toThrow(/never changed/)
    await expect(
      office.db.query(
        `INSERT INTO payment_out (ledger_id, method, day, payee_name, amount, state, created_by, created_at) VALUES (?, 'check', ?, 'Me', 5, 'posted', 1, NOW(6))`,
        [ledger, today],
      ),
    ).rejects.toThrow(/draft/)
    const sheet = await row<{ id: number }>(office.db.manager, `SELECT MAX(id) AS id FROM deposit_sheet WHERE state = 'posted'`)
    await expect(office.db.query(`UPDATE deposit_sheet SET control_total = 1 WHERE id = ?`, [sheet!.id])).rejects.toThrow(/never changed/)
    await expect(office.db.query(`DELETE FROM deposit_receipt WHERE sheet_id = ?`, [sheet!.id])).rejects.toThrow(/never changed/)
    await expect(office.db.query(`UPDATE deposit_receipt SET amount = 1 WHERE sheet_id = ?`, [sheet!.id])).rejects.toThrow(/never changed/)
  })
})

describe('who may put money where', () => {
  it('a second payer, and a further client, deposit for the matter', async () => {
    const payer = await noor.must<{ id: number }>('POST', '/contacts', { kind: 'organization', name: 'Second Payer Ltd' })
    const m = await client()
    await orla.must('PUT', `/matters/${m.id}/billing`, {
      billToId: m.clientId,
      payers: [
        { contactId: m.clientId, basisPoints: 6_000 },
        { contactId: payer.id, basisPoints: 4_000 },
      ],
    })
    const sheet = { bankAccountId: await office.bank('pooled'), day: today, controlTotal: 5_000 }
    const receipts = [{ clientId: payer.id, matterId: m.id, depositor: 'Second Payer', kind: 'wire', amount: 5_000 }]
    expect((await orla.post('/trust/sheets', { ...sheet, receipts })).status).toBe(200)
    const stranger = await noor.must<{ id: number }>('POST', '/contacts', { kind: 'organization', name: 'A Stranger Ltd' })
    expect((await orla.post('/trust/sheets', { ...sheet, receipts: [{ ...receipts[0]!, clientId: stranger.id }] })).status).toBe(400)
  })
  it('merging that moves trust money needs who keeps it, and two of them where the people differ', async () => {
    const m = await client()
    await office.deposit(orla, m, 5_000)
    const other = await noor.must<{ id: number }>('POST', '/contacts', { kind: 'organization', name: 'Quite Another Name Ltd' })
    const preview = await noor.must<{ trust: { ledgers: number; may: boolean; second: boolean } }>(
      'GET',
      `/contacts/${other.id}/merge/${m.clientId}`,
    )
    expect(preview.trust).toMatchObject({ ledgers: 1, may: false, second: true })
    expect((await noor.post(`/contacts/${other.id}/merge`, { otherId: m.clientId })).body.code).toBe('trust-right')
    const asks = () => orla.must<{ merged: boolean }>('POST', `/contacts/${other.id}/merge`, { otherId: m.clientId })
    expect([(await asks()).merged, (await asks()).merged]).toEqual([false, false])
    await office.db.query(`UPDATE merge_request SET asked_by = ?`, [await office.user('Noor')])
    expect((await asks()).merged).toBe(true)
  })
})

describe('an answer that got lost', () => {
  it('is found again by its key, by whoever acted and nobody else', async () => {
    const ledger = await office.deposit(orla, await client(), 50_000)
    const key = 'lost-answer-0001'
    const paid = await orla.post<{ id: number }>(
      '/trust/payments/now',
      { ledgerId: ledger, day: today, payeeName: 'Pellan', amount: 100 },
      key,
    )
    expect((await orla.must<{ done: boolean; answer: unknown }>('GET', `/acts/${key}`)).answer).toEqual(paid.body)
    expect((await orla.must<{ done: boolean }>('GET', `/acts/never-made-0001`)).done).toBe(false)
    expect((await noor.must<{ done: boolean }>('GET', `/acts/${key}`)).done).toBe(false)
  })
})

describe('what was done', () => {
  it('is undone on no day before it, voided only once posted, and printed only where it is a check', async () => {
    const m = await client()
    const ledgerId = await office.deposit(orla, m, 60_000)
    const bill = await office.bill(noor, orla, m.id, 20_000)
    const paid = await orla.must<{ id: number }>('POST', `/bills/${bill.id}/payments`, {
      day: '2026-11-10',
      amount: 20_000,
      kind: 'check',
      reference: '',
    })
    const early = await orla.post(`/payments/${paid.id}/reverse`, { day: '2026-11-05', reason: 'returned' })
    expect(early.body.code).toBe('before-original')
    const payment = { ledgerId, day: today, payeeName: 'Pellan Survey', amount: 1_000 }
    const draft = await orla.must<{ id: number }>('POST', '/trust/payments', payment)
    expect((await orla.post(`/trust/payments/${draft.id}/void`, { day: today, reason: 'x' })).body.code).toBe('not-posted')
    const wire = await orla.must<{ id: number }>('POST', '/trust/payments/now', { ...payment, method: 'wire' })
    expect((await orla.get(`/trust/payments/${wire.id}/check`)).body.code).toBe('not-a-check')
  })
})
