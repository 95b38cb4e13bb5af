import { execFileSync } from 'node:child_process'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row, rows } from '../src/platform'
import { Office, type Person } from './office'

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
  await office.running.stop()
})

interface Read {
  fileId: number
  lines: number
  fresh: number
  faults: string[]
  differences: string[]
  closing: number | null
  csv: { match: object } | null
}
interface Work {
  figures: Record<string, number> | null
  stops: string[]
  lines: { id: number; amount: number; text: string }[]
  entries: { id: number; amount: number }[]
  matches: { id: number; way: string }[]
  reconciliationId: number | null
}
async function read(id: number, text: string, columns = ''): Promise<Read & { status: number }> {
  const form = new FormData()
  form.set('file', new File([text], 'statement.txt'))
  if (columns) form.set('columns', columns)
  const answer = await fetch(`${office.base}/api/bank/accounts/${id}/statements/read`, { method: 'POST', headers: { cookie: orla.cookie, 'x-heron-csrf': orla.csrf, 'idempotency-key': crypto.randomUUID() }, body: form }) // prettier-ignore
  return { status: answer.status, ...((await answer.json()) as Read) }
}
const take = (id: number, fileId: number, more: object = {}) => orla.post<{ fresh: number; matched: number }>(`/bank/accounts/${id}/statements`, { fileId, ...more }) // prettier-ignore
const work = (id: number, to: string) => orla.must<Work>('GET', `/bank/accounts/${id}/reconciliation?to=${to}`)
const close = (id: number, to: string, w: Work) => orla.post<{ id: number }>(`/bank/accounts/${id}/months`, { to, seen: { bank: w.figures?.['bank'] ?? 0, book: w.figures?.['book'] ?? 0 } }) // prettier-ignore
const ofx = (account: string, from: string, to: string, lines: string[], closing: string) =>
  `OFXHEADER:100\nDATA:OFXSGML\n\n<OFX><BANKMSGSRSV1><STMTTRNRS><STMTRS><CURDEF>USD<BANKACCTFROM><BANKID>1<ACCTID>${account}</BANKACCTFROM><BANKTRANLIST><DTSTART>${from}<DTEND>${to}${lines.map((l) => `<STMTTRN>${l}</STMTTRN>`).join('')}</BANKTRANLIST><LEDGERBAL><BALAMT>${closing}<DTASOF>${to}</LEDGERBAL></STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>` // prettier-ignore
/** Accounts of this file's own: a month that is closed here is closed to no other test. */
async function ownBank(kind: 'pooled' | 'operating', code: number) {
  const ferdi = await office.signIn('ferdi')
  const more = kind === 'operating' ? {} : { liabilityCode: String(code + 1) }
  return (await ferdi.must<{ id: number }>('POST', '/accounts/banks', { name: `Bank ${code}`, bank: 'Tidewater Bank', ending: String(code), nextCheck: 9000 + code, kind, code: String(code), ...more })).id // prettier-ignore
}
async function deposit(bankAccountId: number, m: { id: number; clientId: number }, amount: number, day: string): Promise<number> {
  const sheet = await orla.must<{ id: number }>('POST', '/trust/sheets', { bankAccountId, day, controlTotal: amount, receipts: [{ clientId: m.clientId, matterId: m.id, depositor: 'Client', kind: 'wire', amount }] }) // prettier-ignore
  await orla.must('POST', `/trust/sheets/${sheet.id}/post`, {})
  return (await row<{ id: number }>(office.db.manager, `SELECT id FROM client_ledger WHERE matter_id = ? AND bank_account_id = ?`, [m.id, bankAccountId]))!.id // prettier-ignore
}
const ending = async (id: number) => (await row<{ ending: string }>(office.db.manager, `SELECT ending FROM bank_account WHERE id = ?`, [id]))!.ending // prettier-ignore

describe('a month of a trust account', () => {
  it('is read, matched, explained to the cent, closed, and then moved by nothing', async () => {
    const bank = await ownBank('pooled', 7401)
    const m = await office.matter(noor, 'Reconshire')
    const ledger = await deposit(bank, m, 5_000_00, '2026-10-05')
    const pay = (cents: number, day: string) =>
      orla.must<{ checkNo: number }>('POST', '/trust/payments/now', { ledgerId: ledger, day, payeeName: 'A Surveyor', amount: cents, method: 'check' }) // prettier-ignore
    const { checkNo } = await pay(1_200_00, '2026-10-12')
    await pay(300_00, '2026-10-28')
    // A check that was voided again is nothing that the bank will ever see.
    const voided = await orla.must<{ id: number }>('POST', '/trust/payments/now', { ledgerId: ledger, day: '2026-10-13', payeeName: 'Nobody', amount: 55_00, method: 'check' }) // prettier-ignore
    await orla.must('POST', `/trust/payments/${voided.id}/void`, { day: '2026-10-14', reason: 'written by mistake' })
    const own = await ending(bank)
    const october = ofx(`99${own}`, '20261001', '20261031', ['<DTPOSTED>20261006<TRNAMT>5000.00<FITID>1<NAME>Deposit', `<DTPOSTED>20261015<TRNAMT>-1200.00<FITID>2<CHECKNUM>000${checkNo}`, '<DTPOSTED>20261031<TRNAMT>-25.00<FITID>3<NAME>Monthly charge'], '3775.00') // prettier-ignore
    // Another account's statement is refused, and what is not well formed.
    expect((await read(bank, october.replace(`99${own}`, '990000'))).faults[0]).toContain('ends in')
    const r = await read(bank, october)
    expect(r).toMatchObject({ lines: 3, fresh: 3, faults: [], differences: [], closing: 3_775_00 })
    expect((await take(bank, r.fileId)).body).toMatchObject({ fresh: 3, matched: 2 })
    // No other file than one that was read for this account is taken for it.
    expect((await take(await ownBank('operating', 7409), r.fileId)).status).toBe(404)
    // Read again, nothing comes in twice.
    expect((await read(bank, october)).fresh).toBe(0)

    const w = await work(bank, '2026-10-31')
    expect(w.figures).toMatchObject({ bank: 3_775_00, outstanding: -300_00, unbookedOut: -25_00, adjusted: 3_500_00, book: 3_500_00, ledgers: 3_500_00, bankFromBook: 0, bookFromLedgers: 0 }) // prettier-ignore
    expect([w.lines.map((l) => l.amount), w.entries.map((e) => e.amount), w.matches.map((x) => x.way).sort()]).toEqual([[-25_00], [-300_00], ['amount and day', 'number and amount']]) // prettier-ignore
    expect(w.stops).toEqual(['One difference is not named.'])
    expect((await close(bank, '2026-10-31', w)).body.code).toBe('not-reconciled')
    await orla.must('PUT', `/bank/lines/${w.lines[0]!.id}/name`, { words: 'Charge, covered in November' })
    const ready = await work(bank, '2026-10-31')
    expect(ready.stops).toEqual([])
    expect((await close(bank, '2026-10-31', { ...ready, figures: { bank: 1, book: 1 } })).body.code).toBe('changed-meanwhile')
    expect((await noor.post(`/bank/accounts/${bank}/months`, { to: '2026-10-31', seen: { bank: 0, book: 0 } })).status).toBe(403)
    const done = await close(bank, '2026-10-31', ready)
    expect(done.status).toBe(200)

    const file = join(mkdtempSync(join(tmpdir(), 'month-')), 'report.pdf')
    writeFileSync(file, (await orla.get(`/bank/months/${done.body.id}/report`)).bytes)
    const text = execFileSync('pdftotext', ['-layout', file, '-']).toString()
    expect(text).toMatch(/Adjusted balance of the bank\s+\$3,500\.00/)
    expect(text).toMatch(/Charge, covered in November/)
    expect(text).toMatch(/Reconshire\s+3,500\.00/)

    // Locked: by the application, and by the database where that is passed by.
    const late = await orla.post('/trust/payments/now', { ledgerId: ledger, day: '2026-10-20', payeeName: 'A Surveyor', amount: 10_00, method: 'check' }) // prettier-ignore
    expect(late.body.code).toBe('month-closed')
    const past = office.db.transaction(async (t) => {
      await t.query(`INSERT INTO journal (day, kind, memo, user_id, created_at) VALUES ('2026-10-20', 'x', 'x', 1, '2026-11-01')`)
      await t.query(
        `INSERT INTO bank_entry (journal_id, bank_account_id, day, amount, kind, text) SELECT MAX(id), ?, '2026-10-20', 1, 'x', 'x' FROM journal`,
        [bank],
      )
    })
    await expect(past).rejects.toThrow(/closed/)
    await expect(office.db.query(`UPDATE bank_line SET amount = 1`)).rejects.toThrow()
    expect((await orla.call('DELETE', `/bank/matches/${ready.matches[0]!.id}`)).body.code).toBe('month-closed')
    await expect(office.db.query(`DELETE FROM bank_match_line WHERE match_id = ?`, [ready.matches[0]!.id])).rejects.toThrow(/closed/)
    await expect(office.db.query(`UPDATE bank_match SET line_day = '2026-12-01' WHERE id = ?`, [ready.matches[0]!.id])).rejects.toThrow(
      /closed/,
    )
    expect((await work(bank, '2026-10-31')).matches).toHaveLength(2)
    expect((await close(bank, '2026-10-31', ready)).body.code).toBe('month-closed')

    // A line that the bank dates into the closed month is shown with its day, and counts in the open one.
    const tardy = await read(bank, ofx(`99${own}`, '20261101', '20261101', ['<DTPOSTED>20261030<TRNAMT>1.00<FITID>t1<NAME>Interest'], '3776.00')) // prettier-ignore
    expect(tardy).toMatchObject({ faults: [], differences: [], fresh: 1 })
    await take(bank, tardy.fileId)
    expect((await work(bank, '2026-10-31')).figures).toMatchObject({ bank: 3_775_00, unbookedIn: 0 })
    expect((await work(bank, '2026-11-01')).lines).toMatchObject([
      { amount: -25_00 },
      { amount: 1_00, day: '2026-10-30', countsOn: '2026-11-01' },
    ])

    // November carries on: the check that was outstanding comes in, and a file that begins with another balance needs a word.
    const camt = `<?xml version="1.0"?><Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08"><BkToCstmrStmt><GrpHdr><MsgId>1</MsgId></GrpHdr><Stmt><Id>1</Id><FrToDt><FrDtTm>2026-11-02T00:00:00</FrDtTm><ToDtTm>2026-11-10T00:00:00</ToDtTm></FrToDt><Acct><Id><Othr><Id>99${own}</Id></Othr></Id></Acct>${['OPBD 3777.00 2026-11-02', 'CLBD 3477.00 2026-11-10'].map((b) => b.split(' ')).map(([c, a, d]) => `<Bal><Tp><CdOrPrtry><Cd>${c}</Cd></CdOrPrtry></Tp><Amt Ccy="USD">${a}</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>${d}</Dt></Dt></Bal>`).join('')}<Ntry><Amt Ccy="USD">300.00</Amt><CdtDbtInd>DBIT</CdtDbtInd><Sts><Cd>BOOK</Cd></Sts><BookgDt><Dt>2026-11-03</Dt></BookgDt><AcctSvcrRef>n1</AcctSvcrRef></Ntry></Stmt></BkToCstmrStmt></Document>` // prettier-ignore
    const n = await read(bank, camt)
    expect(n.differences).toHaveLength(1)
    expect((await take(bank, n.fileId)).status).toBe(400)
    expect((await take(bank, n.fileId, { accepted: 'The bank says its opening is a misprint' })).body).toMatchObject({
      fresh: 1,
      matched: 0,
    })
    const p = await orla.must<{ rows: { lines: { id: number }[]; entries: { id: number }[]; sure: boolean; why: string }[] }>('POST', `/bank/accounts/${bank}/proposals`, {}) // prettier-ignore
    expect(p.rows).toMatchObject([{ sure: false, why: 'The amount alone, 6 days apart' }])
    const lineIds = p.rows[0]!.lines.map((l) => l.id)
    const entryIds = p.rows[0]!.entries.map((e) => e.id)
    await orla.must('POST', `/bank/accounts/${bank}/matches`, { pairs: [{ lineIds, entryIds }] })
    expect((await orla.post(`/bank/accounts/${bank}/matches`, { pairs: [{ lineIds, entryIds }] })).body.code).toBe('changed-meanwhile')
    expect((await work(bank, '2026-11-10')).figures).toMatchObject({ outstanding: 0, bankFromBook: 1_00 })
  })
})

describe('what is near', () => {
  it('is five days unless the account says otherwise', async () => {
    const m = await office.matter(noor, 'Nearshore')
    const ferdi = await office.signIn('ferdi')
    const matched = async (code: number, nearDays: number) => {
      const bank = await ownBank('pooled', code)
      const { banks } = await ferdi.must<{ banks: { id: number; nearDays: number }[] }>('GET', '/accounts')
      const own = banks.find((b) => b.id === bank)!
      expect(own.nearDays).toBe(5)
      expect((await ferdi.put(`/accounts/banks/${bank}`, { ...own, nearDays: 31 })).body.fields[0]?.path).toBe('nearDays')
      await ferdi.must('PUT', `/accounts/banks/${bank}`, { ...own, nearDays })
      await deposit(bank, m, 5_000_00, '2026-10-05')
      const r = await read(
        bank,
        ofx(`99${code}`, '20261001', '20261031', ['<DTPOSTED>20261009<TRNAMT>5000.00<FITID>1<NAME>Deposit'], '5000.00'),
      )
      return (await take(bank, r.fileId)).body.matched
    }
    expect([await matched(7461, 5), await matched(7463, 3)]).toEqual([1, 0])
  })
})

describe('a file that states no balance', () => {
  it('is taken with the one on paper, and one that leaves days out, or is dated ahead, is told', async () => {
    const bank = await ownBank('operating', 7410)
    const own = await ending(bank)
    const file = (from: string, to: string, lines: string[]) => ofx(own, from, to, lines, '1').replace(/<LEDGERBAL>.*<\/LEDGERBAL>/, '')
    const first = await read(bank, file('20261001', '20261010', ['<DTPOSTED>20261002<TRNAMT>5.00<FITID>1']))
    expect(first).toMatchObject({ faults: [], closing: null })
    await take(bank, first.fileId, { closing: 105_00 })
    expect((await work(bank, '2026-10-10')).figures).toMatchObject({ bank: 105_00, unbookedIn: 5_00, adjusted: 100_00, book: 0 })
    // Ten days later, a balance that does not follow from the last one.
    const gap = await read(bank, file('20261020', '20261031', ['<DTPOSTED>20261021<TRNAMT>-2.00<FITID>2']))
    expect((await take(bank, gap.fileId, { closing: 90_00 })).body.fields?.[0]?.path).toBe('accepted')
    expect((await take(bank, gap.fileId, { closing: 103_00 })).status).toBe(200)
    expect((await read(bank, file('20261101', '20991130', ['<DTPOSTED>20991101<TRNAMT>1.00<FITID>3']))).faults).toHaveLength(1)
    expect((await orla.post(`/bank/accounts/${bank}/matches`, { pairs: [{ lineIds: [1, 1], entryIds: [1] }] })).status).toBe(400)
  })
})

describe('a month that is closed while others post', () => {
  it('follows another where a firm catches up: one file of three months, each with what keeps it open, closed in order', async () => {
    const bank = await ownBank('pooled', 7421)
    const m = await office.matter(noor, 'Catchup Cove')
    const ledger = await deposit(bank, m, 3_000_00, '2026-08-03')
    const pay = (cents: number, day: string) => orla.must('POST', '/trust/payments/now', { ledgerId: ledger, day, payeeName: 'A Surveyor', amount: cents, method: 'wire' }) // prettier-ignore
    await pay(200_00, '2026-08-28')
    await pay(300_00, '2026-09-15')
    await pay(400_00, '2026-10-15')
    const text = ofx(`88${await ending(bank)}`, '20260801', '20261031', ['<DTPOSTED>20260804<TRNAMT>3000.00<FITID>1<NAME>Wire', '<DTPOSTED>20260901<TRNAMT>-200.00<FITID>2<NAME>Wire', '<DTPOSTED>20260915<TRNAMT>-300.00<FITID>3<NAME>Wire', '<DTPOSTED>20261015<TRNAMT>-401.00<FITID>4<NAME>Wire'], '2099.00') // prettier-ignore
    await take(bank, (await read(bank, text)).fileId)
    interface Month {
      to: string
      figures: { bank: number; book: number }
      stops: string[]
      entries: number
    }
    const months = () => orla.must<Month[]>('GET', `/bank/accounts/${bank}/months`)
    const list = await months()
    expect(list.map((x) => [x.to, x.figures, x.entries, x.stops.length])).toEqual([
      ['2026-08-31', { bank: 3_000_00, book: 2_800_00 }, 1, 0],
      ['2026-09-30', { bank: 2_500_00, book: 2_500_00 }, 0, 0],
      // The bank paid a dollar more than the book has.
      ['2026-10-31', { bank: 2_099_00, book: 2_100_00 }, 1, 1],
    ])
    for (const x of list.slice(0, 2))
      expect((await orla.post(`/bank/accounts/${bank}/months`, { to: x.to, seen: x.figures })).status, x.to).toBe(200)
    expect((await months()).map((x) => x.to)).toEqual(['2026-10-31'])
    expect((await orla.get(`/bank/accounts/${await ownBank('operating', 7423)}/months`)).body).toEqual([])
  })
  it('has in it what was posted before, and takes nothing after', async () => {
    const bank = await ownBank('pooled', 7403)
    const m = await office.matter(noor, 'Racing Month')
    const ledger = await deposit(bank, m, 1_000_00, '2026-10-05')
    const r = await read(bank, ofx(await ending(bank), '20261001', '20261031', ['<DTPOSTED>20261005<TRNAMT>1000.00<FITID>1'], '1000.00'))
    expect((await take(bank, r.fileId)).body.matched).toBe(1)
    const w = await work(bank, '2026-10-31')
    const add = (i: number) => deposit(bank, m, i + 1, '2026-10-20').then(() => 'posted', (e: Error) => (e.message.includes('closed') ? 'closed' : e.message)) // prettier-ignore
    const [closed, ...posts] = await Promise.all([close(bank, '2026-10-31', w), ...Array.from({ length: 8 }, (_, i) => add(i))])
    expect(
      posts.every((p) => p === 'posted' || p === 'closed'),
      posts.join(),
    ).toBe(true)
    const after = await work(bank, '2026-10-31')
    if (closed.status === 200) expect(after.figures!['book']).toBe(1_000_00)
    else expect(closed.body.code).toBe('changed-meanwhile')
    expect(ledger).toBeGreaterThan(0)
  })
})

describe('an operating account', () => {
  it('takes a CSV by its columns, books what only the bank knew, and says what was in transit at the start', async () => {
    const bank = await ownBank('operating', 7405)
    const m = await office.matter(noor, 'Csvshire')
    const bill = await office.bill(noor, orla, m.id, 400_00, '2026-10-21')
    await orla.must('POST', '/payments', { payerId: m.clientId, day: '2026-10-22', amount: 400_00, kind: 'check', reference: '77', parts: [{ billId: bill.id, amount: 400_00 }], bankAccountId: bank }) // prettier-ignore
    const csv = 'Date,Description,Amount,Balance\n10/23/2026,DEPOSIT,400.00,"1,400.00"\n10/31/2026,Service fee,-12.00,"1,388.00"\n'
    const first = await read(bank, csv)
    expect(first.csv!.match).toMatchObject({ day: 0, amount: 2, balance: 3 })
    expect((await take(bank, first.fileId, { columns: first.csv!.match })).body).toMatchObject({ fresh: 2, matched: 0 })
    // The deposit stands in the book before the first day of the file: a proposal, as it may have been settled then.
    const { rows: likely } = await orla.must<{ rows: { lines: { id: number }[]; entries: { id: number }[]; sure: boolean }[] }>(
      'POST',
      `/bank/accounts/${bank}/proposals`,
      {},
    )
    expect(likely).toMatchObject([{ sure: false }])
    await orla.must('POST', `/bank/accounts/${bank}/matches`, {
      pairs: likely.map((x) => ({ lineIds: x.lines.map((l) => l.id), entryIds: x.entries.map((e) => e.id) })),
    })
    const w = await work(bank, '2026-10-31')
    const account = await row<{ id: number }>(office.db.manager, `SELECT id FROM account WHERE role = 'bank charges'`)
    const line = w.lines.find((l) => l.amount === -12_00)!
    const asset = await row<{ id: number }>(office.db.manager, `SELECT gl_account_id AS id FROM bank_account WHERE id = ?`, [bank])
    expect(
      (await orla.post(`/bank/lines/${line.id}/booked`, { memo: 'Service fee', parts: [{ accountId: asset!.id, amount: -12_00 }] })).status,
    ).toBe(400)
    await orla.must('POST', `/bank/lines/${line.id}/booked`, { memo: 'Service fee', parts: [{ accountId: account!.id, amount: -12_00 }] })
    expect(
      (await orla.post(`/bank/lines/${line.id}/booked`, { memo: 'Service fee', parts: [{ accountId: account!.id, amount: -12_00 }] })).body
        .code,
    ).toBe('changed-meanwhile')
    const after = await work(bank, '2026-10-31')
    expect(after.lines).toEqual([])
    // The bank held 1,000.00 before that the book here does not know: it is shown as what it is.
    expect(after.figures).toMatchObject({ bank: 1_388_00, book: 388_00, bankFromBook: 1_000_00 })
    expect(after.stops).toHaveLength(1)
  })
  it('splits a line over accounts, to the cent, and posts to none that only its own acts move', async () => {
    const bank = await ownBank('operating', 7453)
    const r = await read(bank, ofx(`99${await ending(bank)}`, '20261001', '20261031', ['<DTPOSTED>20261005<TRNAMT>95.00<FITID>split<NAME>RENT LESS FEE'], '95.00')) // prettier-ignore
    expect((await take(bank, r.fileId, { accepted: 'new' })).status).toBe(200)
    const line = (await work(bank, '2026-10-31')).lines[0]!
    const account = async (where: string) => (await row<{ id: number }>(office.db.manager, `SELECT id FROM account WHERE ${where} ORDER BY id LIMIT 1`))!.id // prettier-ignore
    const [charges, fees, equity, other] = await Promise.all([account(`role = 'bank charges'`), account(`role = 'fees'`), account(`kind = 'equity'`), office.bank('operating').then(async (id) => (await row<{ id: number }>(office.db.manager, `SELECT gl_account_id AS id FROM bank_account WHERE id = ?`, [id]))!.id)]) // prettier-ignore
    const book = (...parts: [number, number][]) => orla.post<{ id: number }>(`/bank/lines/${line.id}/booked`, { memo: 'Rent, less a fee', parts: parts.map(([accountId, amount]) => ({ accountId, amount })) }) // prettier-ignore
    const path = async (...parts: [number, number][]) => (await book(...parts)).body.fields[0]?.path
    expect(await path([fees, 95_00])).toBe('parts.0.accountId')
    expect(await path([equity, 90_00], [other, 5_00])).toBe('parts.1.accountId')
    expect(await path([equity, 100_00], [charges, -4_99])).toBe('parts')
    expect(await path([equity, 95_00], [charges, 0])).toBe('parts.1.amount')
    const { body } = await book([equity, 100_00], [charges, -5_00])
    const legs = await rows<{ accountId: number; amount: number }>(office.db.manager, `SELECT account_id AS accountId, amount FROM journal_line WHERE journal_id = ? ORDER BY id`, [body.id]) // prettier-ignore
    expect(legs.slice(1)).toEqual([{ accountId: equity, amount: -100_00 }, { accountId: charges, amount: 5_00 }]) // prettier-ignore
    expect((await work(bank, '2026-10-31')).lines).toEqual([])
  })
  it('books lines by the firm’s own rules, all or none, and proposes no pair again that was refused', async () => {
    const bank = await ownBank('operating', 7451)
    const own = await ending(bank)
    const r = await read(bank, ofx(`99${own}`, '20261001', '20261031', ['<DTPOSTED>20261005<TRNAMT>-25.00<FITID>a<NAME>MONTHLY SERVICE CHARGE', '<DTPOSTED>20261006<TRNAMT>-25.00<FITID>b<NAME>Wire fee', '<DTPOSTED>20261007<TRNAMT>25.00<FITID>c<NAME>Service charge given back'], '-25.00')) // prettier-ignore
    expect((await take(bank, r.fileId, { accepted: 'new' })).status).toBe(200)
    const expense = await row<{ id: number }>(office.db.manager, `SELECT id FROM account WHERE kind = 'expense' ORDER BY id LIMIT 1`)
    const asset = await row<{ id: number }>(office.db.manager, `SELECT gl_account_id AS id FROM bank_account WHERE id = ?`, [bank])
    const rule = { words: 'service charge', way: 'out', accountId: expense!.id, memo: 'Charge of the bank' }
    expect((await orla.post('/bank/rules', { ...rule, accountId: asset!.id })).body.fields[0]?.path).toBe('accountId')
    expect((await orla.post('/bank/rules', { ...rule, words: 'ab' })).body.fields[0]?.path).toBe('words')
    expect((await noor.post('/bank/rules', rule)).status).toBe(403)
    const { id } = await orla.must<{ id: number }>('POST', '/bank/rules', rule)
    const fitting = () => orla.must<{ line: { id: number; amount: number }; memo: string }[]>('GET', `/bank/accounts/${bank}/by-rules`)
    const found = await fitting()
    expect(found.map((x) => [x.line.amount, x.memo])).toEqual([[-25_00, 'Charge of the bank']])
    const others = (await work(bank, '2026-10-31')).lines.filter((l) => l.id !== found[0]!.line.id)
    // One that no rule fits keeps all of them back.
    expect((await orla.post(`/bank/accounts/${bank}/by-rules`, { lineIds: [found[0]!.line.id, others[0]!.id] })).body.code).toBe('changed-meanwhile') // prettier-ignore
    expect((await fitting()).length).toBe(1)
    const twice = await Promise.all([1, 2].map(() => orla.post<{ booked: number }>(`/bank/accounts/${bank}/by-rules`, { lineIds: [found[0]!.line.id] }))) // prettier-ignore
    expect(twice.map((x) => x.status).sort()).toEqual([200, 409])
    expect([(await fitting()).length, (await work(bank, '2026-10-31')).lines.length]).toEqual([0, 2])
    expect((await orla.call('DELETE', `/bank/rules/${id}`)).status).toBe(200)
    // An entry of another amount with the same day is a proposal at most; refused, it does not come again, until that is taken back.
    await orla.must('POST', '/books/journals', { day: '2026-10-06', memo: 'Wire fee', lines: [{ accountId: expense!.id, amount: 25_00 }, { accountId: asset!.id, amount: -25_00 }] }) // prettier-ignore
    type Proposed = { lines: { id: number }[]; entries: { id: number }[] }
    const likely = async () => (await orla.must<{ rows: Proposed[] }>('POST', `/bank/accounts/${bank}/proposals`, {})).rows
    const first = (await likely())[0]!
    expect(first).toBeDefined()
    const pair = { lineIds: first.lines.map((l) => l.id), entryIds: first.entries.map((e) => e.id) }
    const refuse = (refused: boolean) => orla.must('PUT', `/bank/accounts/${bank}/refused`, { ...pair, refused })
    const before = (await likely()).length
    await refuse(true)
    await refuse(true)
    expect((await likely()).length).toBe(before - 1)
    await refuse(false)
    expect((await likely()).length).toBe(before)
    expect((await orla.put(`/bank/accounts/${await office.bank('pooled')}/refused`, { ...pair, refused: true })).status).toBe(404)
  })

  it('reads nothing that is no statement, and no columns that are none', async () => {
    const bank = await ownBank('operating', 7406)
    for (const text of ['', 'x', '<OFX>', '\u0000\u0001', 'a,b\n'.repeat(1000)]) {
      const r = await read(bank, text)
      expect(r.status, text.slice(0, 10)).toBe(200)
      expect(r.faults.length).toBeGreaterThan(0)
      expect((await take(bank, r.fileId, { accepted: 'x' })).status).toBe(400)
    }
    expect((await read(bank, 'Date,Amount\n1/2/2026,5', '{nonsense')).status).toBe(400)
  })
})

describe('a month that two people close', () => {
  it('is prepared by one and closed by another; opened again by two, its old report stays, and it is closed anew', async () => {
    const bank = await ownBank('pooled', 7481)
    await office.db.query(`UPDATE bank_account SET two_people = TRUE WHERE id = ?`, [bank])
    const m = await office.matter(noor, 'Twice Closed Ltd')
    const ledger = await deposit(bank, m, 800_00, '2026-10-05')
    const own = await ending(bank)
    const r = await read(bank, ofx(`99${own}`, '20261001', '20261031', ['<DTPOSTED>20261006<TRNAMT>800.00<FITID>1<NAME>Deposit'], '800.00'))
    await take(bank, r.fileId)
    const ready = await work(bank, '2026-10-31')
    expect((await close(bank, '2026-10-31', ready)).body.id).toBeNull()
    expect((await close(bank, '2026-10-31', ready)).body.code).toBe('changed-meanwhile')
    const asked = async () => (await noor.must<{ id: number; kind: string; own: boolean }[]>('GET', '/bank/month-requests')).at(-1)!
    const first = await asked()
    expect((await orla.post(`/bank/month-requests/${first.id}/agree`, {})).body.code).toBe('same-person')
    const closed = await noor.must<{ id: number }>('POST', `/bank/month-requests/${first.id}/agree`, {})
    expect((await noor.post(`/bank/month-requests/${first.id}/agree`, {})).body.code).toBe('not-asked')
    const file = join(mkdtempSync(join(tmpdir(), 'month-')), 'report.pdf')
    writeFileSync(file, (await orla.get(`/bank/months/${closed.id}/report`)).bytes)
    expect(execFileSync('pdftotext', ['-layout', file, '-']).toString()).toMatch(/Prepared by Orla Petrakis, approved by Noor Haddad-Lind/)
    // Also where no bank moves, nothing moves a ledger in a closed month.
    const move = { fromLedgerId: ledger, bankAccountId: bank, matterId: null, day: '2026-10-20', amount: 1_00, reason: 'x' }
    expect((await orla.post('/trust/moves', move)).body.code).toBe('month-closed')
    await orla.must('POST', `/bank/months/${closed.id}/reopen`, { reason: 'a deposit was left out' })
    const second = await asked()
    expect((await orla.post(`/bank/month-requests/${second.id}/agree`, {})).body.code).toBe('same-person')
    const alone = office.db.query(`INSERT INTO reconciliation_reopened (reconciliation_id, asked_by, agreed_by, reason, at) VALUES (?, 1, 1, 'x', NOW(6))`, [closed.id]) // prettier-ignore
    await expect(alone).rejects.toThrow(/reopened_by_two/)
    await noor.must('POST', `/bank/month-requests/${second.id}/agree`, {})
    expect(await work(bank, '2026-10-31')).toMatchObject({ closed: false, reopened: true })
    expect((await orla.post('/trust/moves', move)).status).toBe(200)
    expect((await orla.get(`/bank/months/${closed.id}/report`)).status).toBe(200)
    await close(bank, '2026-10-31', await work(bank, '2026-10-31'))
    const again = await noor.must<{ id: number }>('POST', `/bank/month-requests/${(await asked()).id}/agree`, {})
    expect(again.id).toBeGreaterThan(closed.id)
    expect((await work(bank, '2026-10-31')).reconciliationId).toBe(again.id)
    // Something asked for may be taken back.
    await orla.must('POST', `/bank/months/${again.id}/reopen`, { reason: 'x' })
    await orla.must('POST', `/bank/month-requests/${(await asked()).id}/refuse`, {})
    expect(await work(bank, '2026-10-31')).toMatchObject({ closed: true })
  })
})
