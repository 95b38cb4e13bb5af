import { randomUUID } from 'node:crypto'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { appendOnlyTables, row, rows } from '../src/platform'
import { depositFirmMoney } from '../src/ledger'
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
const client = (more: Record<string, unknown> = {}) => office.matter(noor, `Trust Client ${(n += 1)} Ltd`, more)
const check = (ledgerId: number, amount: number, day = today, more: Record<string, unknown> = {}) =>
  orla.post<{ id: number; checkNo: number }>('/trust/payments/now', { ledgerId, day, payeeName: 'Strand Reporting', amount, ...more })
const book = async (ledgerId: number) => (await orla.must<{ book: number }>('GET', `/trust/ledgers/${ledgerId}`)).book

it('a long ledger is read page by page, and each page says the balances that the whole says', async () => {
  const m = await client()
  const ledger = await office.deposit(orla, m, 900_00, '2026-10-01')
  for (const [amount, day] of [[1_00, '2026-10-20'], [2_00, '2026-10-05'], [3_00, '2026-10-20'], [4_00, today]] as const) await check(ledger, amount, day) // prettier-ignore
  type Read = { total: number; entries: { id: number; balance: number; amount: number }[] }
  const read = (page: number, size: number) => orla.must<Read>('GET', `/trust/ledgers/${ledger}?page=${page}&size=${size}`)
  const whole = await read(1, 200)
  expect(whole.entries.map((e) => e.balance)).toEqual([890_00, 894_00, 897_00, 898_00, 900_00])
  const pages = await Promise.all([1, 2, 3, 4].map((p) => read(p, 2)))
  expect(pages.flatMap((p) => p.entries)).toEqual(whole.entries)
  expect(pages.map((p) => p.total)).toEqual([5, 5, 5, 5])
})

describe('what trust money may never do', () => {
  it('ledger-below-zero: a check dated back to when the money was not there', async () => {
    const m = await client()
    const ledger = await office.deposit(orla, m, 100_000, '2026-10-01')
    await office.deposit(orla, m, 50_000, '2026-10-20')
    const refused = await check(ledger, 120_000, '2026-10-10')
    expect(refused).toMatchObject({ status: 409, body: { code: 'ledger-below-zero' } })
    expect(refused.body.detail).toContain('Sat 10 Oct 2026')
    expect(await book(ledger)).toBe(150_000)
    expect((await check(ledger, 120_000, '2026-10-20')).status).toBe(200)
  })

  it('money-not-cleared, override-not-allowed, would-use-other-clients-money', () =>
    office.alone('firm money', async () => {
      const m = await client()
      const ledger = await office.deposit(orla, m, 200_000, today, 'check')
      expect((await check(ledger, 10_000)).body.code).toBe('money-not-cleared')
      expect((await check(ledger, 10_000, today, { overrideReason: 'the bank confirmed' })).body.code).toBe('would-use-other-clients-money')
      await depositFirmMoney(
        { ...office.running.base, actor: { id: await office.user('Orla'), name: '', role: 'bookkeeper', mayOverride: true } },
        await office.bank('pooled'),
        '2026-10-01',
        10_000,
      )
      expect((await check(ledger, 10_000, today, { overrideReason: 'the bank confirmed' })).status).toBe(200)
      await office.db.query(`UPDATE user_account SET may_override_clearing = FALSE WHERE name = 'Orla Petrakis'`)
      expect((await check(ledger, 5_000, today, { overrideReason: 'again' })).body.code).toBe('override-not-allowed')
      await office.db.query(`UPDATE user_account SET may_override_clearing = TRUE WHERE name = 'Orla Petrakis'`)
    }))

  it('more-than-available: drafts and holds reserve money', async () => {
    const m = await client()
    const ledger = await office.deposit(orla, m, 500_000)
    const draft = await orla.must<{ id: number }>('POST', '/trust/payments', {
      ledgerId: ledger,
      day: today,
      payeeName: 'Pellan Survey',
      amount: 75_000,
    })
    expect((await check(ledger, 425_001)).body.code).toBe('more-than-available')
    expect((await orla.call('DELETE', `/trust/payments/${draft.id}`, {})).status).toBe(200)
    expect((await check(ledger, 425_001)).status).toBe(200)
  })

  it('other-clients-money and no-issued-bill', async () => {
    const [a, b] = [await client(), await client()]
    const ledgerOfB = await office.deposit(orla, b, 100_000)
    const bill = await office.bill(noor, orla, a.id, 50_000)
    const pay = (ledgerId: number, billId: number, amount: number, day = today) =>
      orla.post('/trust/bill-payments', { ledgerId, billId, day, amount })
    expect((await pay(ledgerOfB, bill.id, 100)).body.code).toBe('other-clients-money')
    const ledgerOfA = await office.deposit(orla, a, 60_000)
    expect((await pay(ledgerOfA, 999_999, 100)).status).toBe(404)
    expect((await pay(ledgerOfA, bill.id, 100, '2026-11-01')).body.code).toBe('no-issued-bill')
    expect((await pay(ledgerOfA, bill.id, 50_001)).body.code).toBe('more-than-owed')
    expect((await pay(ledgerOfA, bill.id, 50_000)).status).toBe(200)
    expect(await book(ledgerOfA)).toBe(10_000)
  })

  it('notice-days, when the firm has set some: from the day the bill was really issued, whatever day it bears', async () => {
    const m = await client()
    const ledger = await office.deposit(orla, m, 60_000)
    const bill = await office.bill(noor, orla, m.id, 50_000, '2026-11-20')
    await office.db.query(`UPDATE firm SET trust_notice_days = 10`)
    const refused = await orla.post('/trust/bill-payments', { ledgerId: ledger, billId: bill.id, day: today, amount: 100 })
    await office.db.query(`UPDATE firm SET trust_notice_days = 0`)
    expect(refused.body).toMatchObject({ code: 'notice-days', detail: expect.stringContaining('Thu 3 Dec') as string })
  })

  it('not-yet-earned: a flat fee billed in advance is taken as its stages are earned', async () => {
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
    const pay = (amount: number) => orla.post('/trust/bill-payments', { ledgerId: ledger, billId: bill.id, day: today, amount })
    expect((await pay(100)).body.code).toBe('not-yet-earned')
    const portion = await row<{ id: number }>(office.db.manager, `SELECT id FROM fee_portion WHERE matter_id = ? AND ordinal = 1`, [m.id])
    await noor.must('POST', `/fee-portions/${portion!.id}/earned`, { day: today })
    expect((await pay(30_001)).body.code).toBe('not-yet-earned')
    expect((await pay(30_000)).status).toBe(200)
  })

  it('separate-trust-check, unidentified-money, future-date, period-closed', async () => {
    const m = await client()
    const separate = await office.deposit(orla, m, 50_000, '2026-10-01', 'wire', 'separate')
    expect((await check(separate, 100)).body.code).toBe('separate-trust-check')
    const sheet = await orla.must<{ id: number }>('POST', '/trust/sheets', {
      bankAccountId: await office.bank('pooled'),
      day: today,
      controlTotal: 25_000,
      receipts: [{ clientId: null, depositor: 'Somebody', kind: 'cash', amount: 25_000 }],
    })
    await orla.must('POST', `/trust/sheets/${sheet.id}/post`, {})
    const unknown = await row<{ id: number }>(
      office.db.manager,
      `SELECT id FROM client_ledger WHERE kind = 'unidentified' AND bank_account_id = ?`,
      [await office.bank('pooled')],
    )
    expect((await check(unknown!.id, 100)).body.code).toBe('unidentified-money')
    const ledger = await office.deposit(orla, m, 50_000)
    expect((await check(ledger, 100, '2026-11-24')).body.code).toBe('future-date')
    await office.db.query(`UPDATE firm SET books_closed_to = '2026-10-31'`)
    expect((await check(ledger, 100, '2026-10-30')).body.code).toBe('period-closed')
    await office.db.query(`UPDATE firm SET books_closed_to = NULL`)
  })

  it('control-total: a sheet that does not meet its book', async () => {
    const m = await client()
    const sheet = await orla.must<{ id: number }>('POST', '/trust/sheets', {
      bankAccountId: await office.bank('pooled'),
      day: today,
      controlTotal: 10_000,
      receipts: [{ clientId: m.clientId, matterId: m.id, depositor: 'Client', kind: 'check', amount: 9_000 }],
    })
    const refused = await orla.post(`/trust/sheets/${sheet.id}/post`, {})
    expect(refused.body).toMatchObject({ code: 'control-total', detail: expect.stringContaining('$10.00 is missing') as string })
  })
})

describe('requests at the same moment', () => {
  it('50 checks of $100 on $2,500: exactly 25 go through', async () => {
    const ledger = await office.deposit(orla, await client(), 250_000)
    const answers = await Promise.all(Array.from({ length: 50 }, () => check(ledger, 10_000)))
    expect(answers.filter((a) => a.status === 200)).toHaveLength(25)
    const refused = answers.filter((a) => a.status !== 200)
    expect(refused.every((a) => a.status === 409 && a.body.detail.includes('$0.00'))).toBe(true)
    expect(new Set(answers.filter((a) => a.status === 200).map((a) => a.body.checkNo)).size).toBe(25)
    expect(await book(ledger)).toBe(0)
    expect(await office.agrees()).toBe(true)
  })

  it('the same key posts once, also when sent twice at once; with another body it is refused', async () => {
    const ledger = await office.deposit(orla, await client(), 100_000)
    const key = randomUUID()
    const body = { ledgerId: ledger, day: today, payeeName: 'Pellan Survey', amount: 40_000 }
    const [a, b] = await Promise.all([
      orla.post<{ id: number }>('/trust/payments/now', body, key),
      orla.post<{ id: number }>('/trust/payments/now', body, key),
    ])
    expect([a.status, b.status, a.body.id]).toEqual([200, 200, b.body.id])
    expect(await book(ledger)).toBe(60_000)
    expect((await orla.post('/trust/payments/now', { ...body, amount: 1 }, key)).body.code).toBe('idempotency-key-reused')
    expect((await orla.call('POST', '/trust/payments/now', body)).body.code).toBe('idempotency-key-needed')
  })

  it('random moves, several at once, never close a day below zero and always balance', async () => {
    const ledgers = [await office.deposit(orla, await client(), 60_000), await office.deposit(orla, await client(), 60_000)]
    const move = fc.record({
      which: fc.nat(1),
      amount: fc.integer({ min: 1, max: 30_000 }),
      day: fc.integer({ min: 1, max: 28 }),
      undo: fc.boolean(),
    })
    await fc.assert(
      fc.asyncProperty(fc.array(move, { minLength: 4, maxLength: 12 }), async (moves) => {
        await Promise.all(
          moves.map(async (m) => {
            const day = `2026-10-${String(m.day).padStart(2, '0')}`
            const paid = await check(ledgers[m.which]!, m.amount, day)
            expect([200, 409]).toContain(paid.status)
            if (paid.status === 200 && m.undo) await orla.post(`/trust/payments/${paid.body.id}/void`, { day: today, reason: 'test' })
          }),
        )
        const below = await rows(office.db.manager, `SELECT 1 FROM ledger_day WHERE balance < 0`)
        expect(below).toEqual([])
        expect(await office.agrees()).toBe(true)
      }),
      { numRuns: 8 },
    )
  })
})

describe('checks', () => {
  it('take the next number, never one that was used, also after a void that returns the money', async () => {
    const ledger = await office.deposit(orla, await client(), 100_000)
    const first = await check(ledger, 10_000)
    const pdf = await orla.get(`/trust/payments/${first.body.id}/check`)
    expect([pdf.status, pdf.bytes.subarray(0, 5).toString()]).toEqual([200, '%PDF-'])
    await orla.must('POST', `/trust/payments/${first.body.id}/void`, { day: today, reason: 'wrong payee' })
    expect(await book(ledger)).toBe(100_000)
    expect((await check(ledger, 10_000, today, { checkNo: first.body.checkNo })).body.code).toBe('check-number-used')
    expect((await check(ledger, 10_000)).body.checkNo).toBe(first.body.checkNo + 1)
    expect((await orla.post(`/trust/payments/${first.body.id}/void`, { day: today, reason: 'again' })).status).toBe(409)
  })
})

describe('what is posted', () => {
  it('cannot be changed or deleted by a stray query: not by the application, not by the owner', async () => {
    const owner = await office.owner()
    for (const table of appendOnlyTables()) {
      const column = (
        await rows<{ c: string }>(
          owner.manager,
          `SELECT column_name AS c FROM information_schema.columns WHERE table_schema = DATABASE() AND table_name = ? LIMIT 1`,
          [table],
        )
      )[0]!.c
      for (const sql of [`UPDATE ${table} SET ${column} = ${column}`, `DELETE FROM ${table}`]) {
        await expect(office.db.query(sql), `${sql} by the application`).rejects.toThrow(/denied/)
        const filled = await row(owner.manager, `SELECT 1 FROM ${table} LIMIT 1`)
        if (filled) await expect(owner.query(sql), `${sql} by the owner`).rejects.toThrow(/never changed/)
      }
      // Also where nothing is in it yet: the triggers stand.
      const guards = await rows<{ what: string }>(
        owner.manager,
        `SELECT event_manipulation AS what FROM information_schema.triggers WHERE trigger_schema = DATABASE() AND event_object_table = ? AND action_timing = 'BEFORE' AND event_manipulation IN ('UPDATE', 'DELETE') AND action_statement LIKE '%never changed%' ORDER BY what`,
        [table],
      )
      expect(
        guards.map((g) => g.what),
        table,
      ).toEqual(['DELETE', 'UPDATE'])
      await expect(office.db.query(`TRUNCATE TABLE ${table}`)).rejects.toThrow(/denied/)
    }
    await owner.destroy()
  })

  it('balances, or the database refuses it; a posted journal takes no further line', async () => {
    const operating = await row<{ gl: number }>(office.db.manager, `SELECT gl_account_id AS gl FROM bank_account WHERE kind = 'pooled'`)
    const orlaId = await office.user('Orla')
    const attempt = (lines: number[]) =>
      office.db.transaction(async (m) => {
        const made = (await m.query(`INSERT INTO journal (day, kind, memo, user_id, created_at) VALUES (?, 'test', 'x', ?, NOW(6))`, [
          today,
          orlaId,
        ])) as { insertId: number }
        for (const amount of lines)
          await m.query(`INSERT INTO journal_line (journal_id, account_id, amount) VALUES (?, ?, ?)`, [
            made.insertId,
            operating!.gl,
            amount,
          ])
        await m.query(`INSERT INTO journal_posting (journal_id, posted_at) VALUES (?, NOW(6))`, [made.insertId])
      })
    await expect(attempt([100, -99])).rejects.toThrow(/does not balance/)
    await expect(attempt([])).rejects.toThrow(/does not balance/)
    const posted = await row<{ id: number }>(office.db.manager, `SELECT MIN(journal_id) AS id FROM journal_posting`)
    await expect(
      office.db.query(`INSERT INTO journal_line (journal_id, account_id, amount) VALUES (?, ?, 1)`, [posted!.id, operating!.gl]),
    ).rejects.toThrow(/nothing can be added/)
  })

  it('moves bank, liability and ledgers alike, or the database refuses it', async () => {
    const b = await row<{ gl: number; liability: number; id: number }>(
      office.db.manager,
      `SELECT id, gl_account_id AS gl, liability_account_id AS liability FROM bank_account WHERE kind = 'pooled'`,
    )
    const orlaId = await office.user('Orla')
    await expect(
      office.db.transaction(async (m) => {
        const made = (await m.query(`INSERT INTO journal (day, kind, memo, user_id, created_at) VALUES (?, 'test', 'x', ?, NOW(6))`, [
          today,
          orlaId,
        ])) as { insertId: number }
        await m.query(`INSERT INTO journal_line (journal_id, account_id, amount) VALUES (?, ?, 100), (?, ?, -100)`, [
          made.insertId,
          b!.gl,
          made.insertId,
          b!.liability,
        ])
        await m.query(`INSERT INTO bank_entry (journal_id, bank_account_id, day, amount, kind, text) VALUES (?, ?, ?, 100, 'x', 'x')`, [
          made.insertId,
          b!.id,
          today,
        ])
        await m.query(`INSERT INTO journal_posting (journal_id, posted_at) VALUES (?, NOW(6))`, [made.insertId])
      }),
    ).rejects.toThrow(/do not move alike/)
  })
})
