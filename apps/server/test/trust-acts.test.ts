import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row, rows } from '../src/platform'
import { Office, today, type Person } from './office'

let office: Office
let noor: Person
let orla: Person
let ferdi: Person
beforeAll(async () => {
  office = await Office.open()
  noor = await office.signIn('noor')
  orla = await office.signIn('orla')
  ferdi = await office.signIn('ferdi')
})
afterAll(async () => {
  expect(await office.agrees()).toBe(true)
  await office.close()
})

let n = 0
const client = (more: Record<string, unknown> = {}) => office.matter(noor, `Moving Client ${(n += 1)} Ltd`, more)
const held = (id: number) => orla.must<{ book: number; uncleared: number; reserved: number; available: number; entries: { id: number; journalId: number; amount: number; clearsOn: string | null; text: string }[]; holds: { id: number }[] }>('GET', `/trust/ledgers/${id}`) // prettier-ignore
const pay = (ledgerId: number, amount: number, day = today) =>
  orla.post<{ id: number }>('/trust/payments/now', { ledgerId, day, payeeName: 'A Surveyor', amount, method: 'check' })
const ledgerOf = async (bank: number, clientId: number, matterId: number | null) =>
  (await row<{ id: number }>(office.db.manager, `SELECT id FROM client_ledger WHERE bank_account_id = ? AND client_id = ? AND COALESCE(matter_id, 0) = ?`, [bank, clientId, matterId ?? 0]))!.id // prettier-ignore
const receipt = async (ledgerId: number) =>
  (await row<{ id: number }>(office.db.manager, `SELECT r.id FROM deposit_receipt r JOIN deposit_sheet s ON s.id = r.sheet_id JOIN ledger_entry e ON e.journal_id = s.journal_id AND e.text LIKE CONCAT('Receipt ', r.receipt_no, ',%') WHERE e.ledger_id = ? ORDER BY r.id DESC LIMIT 1`, [ledgerId]))!.id // prettier-ignore
async function ownBank(kind: 'pooled' | 'separate', code: number) {
  return (await ferdi.must<{ id: number }>('POST', '/accounts/banks', { name: `Bank ${code}`, bank: 'Tidewater Bank', ending: String(code), nextCheck: 9000 + code, kind, code: String(code), liabilityCode: String(code + 1) })).id // prettier-ignore
}
/** Receipts on one posted sheet of an account. */
async function sheet(
  bankAccountId: number,
  day: string,
  list: { clientId: number | null; matterId?: number; amount: number; kind?: string; depositor?: string }[],
) {
  const total = list.reduce((s, r) => s + r.amount, 0)
  const made = await orla.must<{ id: number }>('POST', '/trust/sheets', { bankAccountId, day, controlTotal: total, receipts: list.map((r) => ({ depositor: 'Somebody', kind: 'wire', ...r })) }) // prettier-ignore
  await orla.must('POST', `/trust/sheets/${made.id}/post`, {})
  return (await rows<{ id: number; journal: number }>(office.db.manager, `SELECT r.id, s.journal_id AS journal FROM deposit_receipt r JOIN deposit_sheet s ON s.id = r.sheet_id WHERE s.id = ? ORDER BY r.ordinal`, [made.id])) // prettier-ignore
}

describe('money of one client', () => {
  it('moves to another matter of theirs and to the client as a whole, never to another client, never uncleared', async () => {
    const a = await client()
    const bank = await office.bank('pooled')
    const from = await office.deposit(orla, a, 5_000_00)
    const moveTo = (more: object) => orla.post<{ journalId: number }>('/trust/moves', { fromLedgerId: from, bankAccountId: bank, day: today, amount: 2_000_00, reason: 'as the client wrote', ...more }) // prettier-ignore
    expect((await moveTo({ matterId: null })).status).toBe(200)
    expect((await held(await ledgerOf(bank, a.clientId, null))).book).toBe(2_000_00)
    expect((await held(from)).book).toBe(3_000_00)
    expect((await moveTo({ matterId: a.id })).body.code).toBe('same-ledger')
    expect((await moveTo({ matterId: (await client()).id })).body.fields[0]?.path).toBe('matterId')
    expect((await moveTo({ amount: 3_000_01 })).body.code).toBe('more-than-available')
    expect((await moveTo({ bankAccountId: await office.bank('operating') })).body.code).toBe('firm-without-bill')
    await office.deposit(orla, a, 1_000_00, today, 'check')
    expect((await moveTo({ amount: 3_500_00 })).body.code).toBe('money-not-cleared')
    expect((await moveTo({ day: '2026-09-30', amount: 1 })).body.code).toBe('ledger-below-zero')
  })
  it('goes to a separate account and back; that account is theirs alone, and its term is minded', async () => {
    const [a, b] = [await client(), await client()]
    const [pooled, separate] = [await office.bank('pooled'), await ownBank('separate', 7501)]
    const from = await office.deposit(orla, a, 40_000_00)
    const out = {
      fromLedgerId: from,
      bankAccountId: separate,
      matterId: a.id,
      day: '2026-10-10',
      amount: 40_000_00,
      reason: 'to earn interest',
    }
    await orla.must('POST', '/trust/moves', out)
    const there = await ledgerOf(separate, a.clientId, a.id)
    expect([(await held(from)).book, (await held(there)).book]).toEqual([0, 40_000_00])
    const other = await office.deposit(orla, b, 1_000_00)
    const wrong = await orla.post('/trust/moves', { ...out, fromLedgerId: other, matterId: b.id, amount: 1_000_00 })
    expect(wrong.body.code).toBe('separate-other-client')
    await orla.must('POST', `/trust/accounts/${separate}/interest`, { day: '2026-10-31', amount: 33_33, text: 'October' })
    expect((await held(there)).book).toBe(40_033_33)
    const year = await orla.must<{ rows: { ledgerId: number; amount: number }[]; ledgers: number; together: number }>('GET', '/trust/interest?year=2026') // prettier-ignore
    expect(year.rows.find((y) => y.ledgerId === there)?.amount).toBe(33_33)
    expect([year.ledgers, year.together]).toEqual([year.rows.length, year.rows.reduce((n, y) => n + y.amount, 0)])
    await office.db.query(`UPDATE bank_account SET matures_on = '2027-01-10' WHERE id = ?`, [separate])
    const back = { ...out, fromLedgerId: there, bankAccountId: pooled, day: today, amount: 40_033_33 }
    expect((await orla.post('/trust/moves', back)).body.fields[0]?.path).toBe('beforeTerm')
    const moved = await orla.must<{ journalId: number }>('POST', '/trust/moves', { ...back, beforeTerm: true })
    expect((await held(from)).book).toBe(40_033_33)
    // What no statement shows yet is reversed as a whole, once.
    expect((await orla.post(`/books/journals/${moved.journalId}/reverse`, { day: today, reason: 'too early' })).status).toBe(200)
    expect((await held(there)).book).toBe(40_033_33)
    expect((await orla.post(`/books/journals/${moved.journalId}/reverse`, { day: today, reason: 'again' })).body.code).toBe(
      'already-reversed',
    )
  })
  it('is held back by liens, also beyond what is there, until they are released', async () => {
    const a = await client()
    const ledger = await office.deposit(orla, a, 1_000_00)
    await orla.must('POST', `/trust/ledgers/${ledger}/holds`, { kind: 'lien', amount: 1_200_00, reason: 'Clinic of Harrow' })
    expect((await held(ledger)).available).toBe(-200_00)
    expect((await pay(ledger, 1)).body.code).toBe('more-than-available')
    const { holds } = await held(ledger)
    await orla.must('POST', `/trust/holds/${holds[0]!.id}/release`, { reason: 'paid by the insurer' })
    expect((await orla.post(`/trust/holds/${holds[0]!.id}/release`, { reason: 'again' })).body.code).toBe('changed-meanwhile')
    expect((await pay(ledger, 1_000_00)).status).toBe(200)
    expect((await noor.post(`/trust/ledgers/${ledger}/holds`, { kind: 'lien', amount: 1, reason: 'x' })).status).toBe(403)
  })
})

describe('an account that asks for two people', () => {
  it('pays nothing that one person drafted and posted alone', async () => {
    const a = await client()
    const bank = await ownBank('pooled', 7541)
    await office.db.query(`UPDATE bank_account SET two_people = TRUE WHERE id = ?`, [bank])
    await sheet(bank, '2026-11-02', [{ clientId: a.clientId, matterId: a.id, amount: 500_00 }])
    const ledgerId = await ledgerOf(bank, a.clientId, a.id)
    expect((await pay(ledgerId, 100_00)).body.code).toBe('needs-approval')
    const draft = await orla.must<{ id: number }>('POST', '/trust/payments', {
      ledgerId,
      day: today,
      payeeName: 'A Surveyor',
      amount: 100_00,
    })
    expect((await orla.post(`/trust/payments/${draft.id}/post`, {})).body.code).toBe('needs-approval')
    expect((await orla.post(`/trust/payments/${draft.id}/approve`, {})).body.code).toBe('same-person')
    await expect(office.db.query(`UPDATE payment_out SET state = 'posted' WHERE id = ?`, [draft.id])).rejects.toThrow()
    await noor.must('POST', `/trust/payments/${draft.id}/approve`, {})
    expect((await orla.post(`/trust/payments/${draft.id}/post`, {})).status).toBe(200)
  })
})

describe('money whose owner is found', () => {
  it('goes to them whole, once, and clears on the day it would have', async () => {
    const a = await client()
    const bank = await ownBank('pooled', 7511)
    const [r] = await sheet(bank, today, [{ clientId: null, amount: 700_00, kind: 'check', depositor: 'No Name' }])
    const list = await orla.must<{ id: number }[]>('GET', '/trust/unidentified')
    expect(list.some((x) => x.id === r!.id)).toBe(true)
    const owner = { clientId: a.clientId, matterId: a.id, day: today, reason: 'letter of the client' }
    expect((await orla.post(`/trust/receipts/${r!.id}/owner`, { ...owner, day: '2026-11-01' })).body.fields[0]?.path).toBe('day')
    const done = await orla.must<{ ledgerId: number }>('POST', `/trust/receipts/${r!.id}/owner`, owner)
    expect(await held(done.ledgerId)).toMatchObject({ book: 700_00, uncleared: 700_00, available: 0 })
    expect((await pay(done.ledgerId, 1)).body.code).toBe('money-not-cleared')
    const unknown = (await row<{ id: number }>(
      office.db.manager,
      `SELECT id FROM client_ledger WHERE bank_account_id = ? AND kind = 'unidentified'`,
      [bank],
    ))!.id
    expect(await held(unknown)).toMatchObject({ book: 0, uncleared: 0, available: 0 })
    expect((await orla.post(`/trust/receipts/${r!.id}/owner`, owner)).body.code).toBe('changed-meanwhile')
    // Its sheet does not go back as a whole any more.
    expect((await orla.post(`/books/journals/${r!.journal}/reverse`, { day: today, reason: 'x' })).body.code).toBe('not-reversible')
  })
  it('and a sheet that was posted by mistake is taken back, uncleared as it was', async () => {
    const a = await client()
    const bank = await ownBank('pooled', 7515)
    const [r] = await sheet(bank, today, [{ clientId: a.clientId, matterId: a.id, amount: 300_00, kind: 'check' }, { clientId: null, amount: 50_00, kind: 'cash' }]) // prettier-ignore
    expect((await orla.post(`/books/journals/${r!.journal}/reverse`, { day: today, reason: 'entered twice' })).status).toBe(200)
    expect(await held(await ledgerOf(bank, a.clientId, a.id))).toMatchObject({ book: 0, uncleared: 0, available: 0 })
    // Of what was spent meanwhile nothing is taken back.
    const [s] = await sheet(bank, '2026-11-02', [{ clientId: a.clientId, matterId: a.id, amount: 300_00 }])
    expect((await pay(await ledgerOf(bank, a.clientId, a.id), 300_00)).status).toBe(200)
    expect((await orla.post(`/books/journals/${s!.journal}/reverse`, { day: '2026-11-02', reason: 'x' })).body.code).toBe(
      'ledger-below-zero',
    )
  })
})

describe('a receipt on the wrong ledger', () => {
  it('is put right by two people, without the bank, with its day of clearing', async () => {
    const [a, b] = [await client(), await client()]
    const wrong = await office.deposit(orla, a, 900_00, today, 'check')
    const entry = (await held(wrong)).entries[0]!
    const ask = { entryId: entry.id, clientId: b.clientId, matterId: b.id, amount: 900_00, day: today, reason: 'names were mixed up' }
    expect((await orla.post('/trust/corrections', { ...ask, amount: 900_01 })).body.code).toBe('more-than-entry')
    const { id } = await orla.must<{ id: number }>('POST', '/trust/corrections', ask)
    // What is asked for twice is refused, and whoever asked does not decide.
    expect((await orla.post('/trust/corrections', { ...ask, amount: 1 })).body.code).toBe('more-than-entry')
    expect((await orla.post(`/trust/corrections/${id}/approve`, {})).body.code).toBe('same-person')
    expect((await held(wrong)).book).toBe(900_00)
    expect((await noor.post(`/trust/corrections/${id}/approve`, {})).status).toBe(200)
    expect((await noor.post(`/trust/corrections/${id}/approve`, {})).body.code).toBe('not-asked')
    expect(await held(wrong)).toMatchObject({ book: 0, uncleared: 0, available: 0 })
    const right = await ledgerOf(await office.bank('pooled'), b.clientId, b.id)
    expect(await held(right)).toMatchObject({ book: 900_00, uncleared: 900_00, available: 0 })
    // The bank takes the deposit back: it leaves the ledger on which it stands by now.
    const back = await orla.must<{ cover: number }>('POST', `/trust/receipts/${await receipt(wrong)}/returned`, { day: today, text: 'closed account' }) // prettier-ignore
    expect(back.cover).toBe(0)
    expect(await held(right)).toMatchObject({ book: 0, uncleared: 0, available: 0 })
  })
  it('and a payment from the wrong ledger is made good by the right one, as far as that has it', async () => {
    const [a, b] = [await client(), await client()]
    const wrong = await office.deposit(orla, a, 900_00)
    await orla.must('POST', '/trust/payments/now', {
      ledgerId: wrong,
      day: '2026-10-12',
      payeeName: 'A Surveyor',
      amount: 400_00,
      method: 'wire',
    })
    const entry = (await held(wrong)).entries.find((e) => e.amount < 0)!
    const ask = { entryId: entry.id, clientId: b.clientId, matterId: b.id, amount: 400_00, day: today, reason: 'for the other matter' }
    const { id } = await orla.must<{ id: number }>('POST', '/trust/corrections', ask)
    expect((await noor.post(`/trust/corrections/${id}/approve`, {})).body.code).toBe('more-than-available')
    const right = await office.deposit(orla, b, 500_00)
    expect((await noor.post(`/trust/corrections/${id}/approve`, {})).status).toBe(200)
    expect([(await held(wrong)).book, (await held(right)).book]).toEqual([900_00, 100_00])
    await orla.must('POST', '/trust/corrections', { ...ask, entryId: (await held(right)).entries.at(-1)!.id, clientId: a.clientId, matterId: a.id, amount: 1 }).catch(() => null) // prettier-ignore
    // What was corrected does not go back to the ledger it came from, and a bill is never paid by another's money.
    const paid = await row<{ id: number }>(office.db.manager, `SELECT id FROM payment_out WHERE ledger_id = ? AND state = 'posted'`, [
      wrong,
    ])
    expect((await orla.post(`/trust/payments/${paid!.id}/void`, { day: today, reason: 'x' })).body.code).toBe('not-reversible')
    const bill = await office.bill(noor, orla, a.id, 100_00)
    await orla.must('POST', '/trust/bill-payments', { ledgerId: wrong, billId: bill.id, day: today, amount: 100_00 })
    const taken = (await held(wrong)).entries[0]!
    expect((await orla.post('/trust/corrections', { ...ask, entryId: taken.id, amount: 100_00 })).body.code).toBe('other-clients-money')
    const waits = await noor.must<{ rows: { id: number; own: boolean }[] }>('GET', '/trust/corrections?state=asked')
    for (const w of waits.rows) await noor.must('POST', `/trust/corrections/${w.id}/refuse`, { reason: 'it was right' })
  })
})

describe('what the bank did', () => {
  it('a receipt of which a part was corrected returns once that is corrected back', async () => {
    const [a, b] = [await client(), await client()]
    const wrong = await office.deposit(orla, a, 900_00, '2026-10-01')
    const correct = async (entryId: number, to: { id: number; clientId: number }) => {
      const ask = { entryId, clientId: to.clientId, matterId: to.id, amount: 300_00, day: today, reason: 'as it was' }
      const { id } = await orla.must<{ id: number }>('POST', '/trust/corrections', ask)
      await noor.must('POST', `/trust/corrections/${id}/approve`, {})
    }
    const id = await receipt(wrong)
    await correct((await held(wrong)).entries[0]!.id, b)
    const back = () => orla.post<{ cover: number }>(`/trust/receipts/${id}/returned`, { day: today, text: 'closed account' })
    expect((await back()).body.code).toBe('returned-in-part')
    await correct((await held(await ledgerOf(await office.bank('pooled'), b.clientId, b.id))).entries[0]!.id, a)
    expect((await back()).body.cover).toBe(0)
    expect((await held(wrong)).book).toBe(0)
  })
  it('a returned deposit is covered by the firm in the same act: $3,200.00 of $5,000.00', async () => {
    const a = await client()
    const ledger = await office.deposit(orla, a, 5_000_00, '2026-10-01', 'check')
    expect((await pay(ledger, 3_200_00, '2026-10-20')).status).toBe(200)
    const id = await receipt(ledger)
    const ahead = await orla.must<{ cover: number }>('POST', `/trust/receipts/${id}/returned/ahead`, { day: '2026-11-03' })
    expect(ahead.cover).toBe(3_200_00)
    const done = await orla.must<{ cover: number; journalId: number }>('POST', `/trust/receipts/${id}/returned`, {
      day: '2026-11-03',
      text: 'not enough money',
    })
    expect(done.cover).toBe(3_200_00)
    expect(await held(ledger)).toMatchObject({ book: 0, available: 0 })
    const j = await orla.must<{ lines: { account: string; debit: number; credit: number }[]; bank: { amount: number }[] }>(
      'GET',
      `/books/journals/${done.journalId}`,
    )
    expect(j.bank.map((b) => b.amount)).toEqual([-5_000_00, 3_200_00, -3_200_00])
    expect(j.lines.find((l) => l.account.includes('Due from clients'))).toMatchObject({ debit: 3_200_00 })
    expect((await orla.post(`/trust/receipts/${id}/returned`, { day: today, text: 'x' })).body.code).toBe('returned-already')
    const cover = (await orla.must<{ id: number; journalId: number; inTransit: boolean; due: number }[]>('GET', '/trust/covers')).find(
      (c) => c.journalId === done.journalId,
    )!
    expect(cover).toMatchObject({ inTransit: true, due: 3_200_00 })
    await orla.must('POST', `/trust/covers/${cover.id}/landed`, { day: '2026-11-04' })
    const repay = (amount: number) => orla.post(`/trust/covers/${cover.id}/repaid`, { day: today, amount })
    expect((await repay(3_200_01)).body.code).toBe('repaid-already')
    expect((await repay(3_200_00)).status).toBe(200)
    expect((await repay(1)).body.code).toBe('repaid-already')
    expect((await orla.must<{ id: number }[]>('GET', '/trust/covers')).some((c) => c.id === cover.id)).toBe(false)
    expect((await orla.post(`/books/journals/${done.journalId}/reverse`, { day: today, reason: 'x' })).body.code).toBe('not-reversible')
  })
  it('a charge of $118.00 on $100.00 of firm money is covered with $18.00', async () => {
    const bank = await ownBank('pooled', 7531)
    const { depositFirmMoney } = await import('../src/ledger')
    await depositFirmMoney(
      { ...office.running.base, actor: { id: await office.user('Orla'), name: '', role: 'bookkeeper', mayOverride: true } },
      bank,
      '2026-10-01',
      100_00,
    )
    const done = await orla.must<{ cover: number }>('POST', `/trust/accounts/${bank}/charges`, {
      day: today,
      amount: 118_00,
      text: 'Checks printed',
    })
    expect(done.cover).toBe(18_00)
    const firm = (await row<{ id: number }>(office.db.manager, `SELECT id FROM client_ledger WHERE bank_account_id = ? AND kind = 'firm'`, [
      bank,
    ]))!.id
    expect((await held(firm)).book).toBe(0)
    // Interest of a pooled account is the bar foundation's until it is remitted.
    await orla.must('POST', `/trust/accounts/${bank}/interest`, { day: today, amount: 12_34 })
    const foundation = (await row<{ id: number }>(
      office.db.manager,
      `SELECT id FROM client_ledger WHERE bank_account_id = ? AND kind = 'foundation'`,
      [bank],
    ))!.id
    expect((await pay(foundation, 12_35)).body.code).toBe('more-than-available')
    expect((await pay(foundation, 12_34)).status).toBe(200)
  })
})

describe('checks', () => {
  const checkOf = async (ledgerId: number, amount: number, more: object = {}) =>
    orla.must<{ id: number; checkNo: number }>('POST', '/trust/payments/now', { ledgerId, day: '2026-11-03', payeeName: 'A Surveyor', amount, method: 'check', ...more }) // prettier-ignore
  const registered = (bank: number, state = '') =>
    orla.must<{ rows: { number: number; upTo: number | null; state: string; out: string | null; paymentId: number | null }[] }>('GET', `/checks?bankAccountId=${bank}&state=${state}&size=200`) // prettier-ignore

  it('are printed in a job that asks how each came out; what was spoiled is void, and written anew under the next number', async () => {
    const a = await client()
    const bank = await ownBank('pooled', 7551)
    await sheet(bank, '2026-11-02', [{ clientId: a.clientId, matterId: a.id, amount: 900_00 }])
    const ledgerId = await ledgerOf(bank, a.clientId, a.id)
    const [one, two, three] = [await checkOf(ledgerId, 100_00), await checkOf(ledgerId, 200_00), await checkOf(ledgerId, 300_00)]
    const job = await orla.must<{ id: number }>('POST', '/print-jobs', { paymentIds: [one!.id, two!.id, three!.id] })
    expect((await orla.post('/print-jobs', { paymentIds: [one!.id] })).body.code).toBe('changed-meanwhile')
    expect((await orla.get(`/print-jobs/${job.id}/pdf`)).type).toContain('pdf')
    expect((await noor.get(`/print-jobs/${job.id}/pdf`)).status).toBe(404)
    const tell = (list: [number, string][]) => orla.post<{ closed: boolean; replaced: { paymentId: number; checkNo: number }[] }>(`/print-jobs/${job.id}/outcomes`, { outcomes: list.map(([paymentId, outcome]) => ({ paymentId, outcome })) }) // prettier-ignore
    const first = await tell([[one!.id, 'printed'], [two!.id, 'spoiled'], [three!.id, 'again']]) // prettier-ignore
    expect(first.body.closed).toBe(false)
    expect(first.body.replaced[0]!.checkNo).toBe(three!.checkNo + 1)
    expect((await tell([[one!.id, 'spoiled']])).body.code).toBe('changed-meanwhile')
    expect((await tell([[three!.id, 'printed']])).body.closed).toBe(true)
    expect((await held(ledgerId)).book).toBe(300_00)
    const list = (await registered(bank)).rows
    expect(list.find((c) => c.number === two!.checkNo)!.state).toBe('void')
    expect(list.find((c) => c.number === one!.checkNo)).toMatchObject({ state: 'outstanding', out: 'printed' })
    const again = await orla.must<{ id: number }[]>('GET', `/checks/to-print?bankAccountId=${bank}`)
    expect(again.map((p) => p.id)).toEqual([first.body.replaced[0]!.paymentId])
  })
  it('go to print as soon as they are posted, where the account is set so', async () => {
    const a = await client()
    const bank = await ownBank('pooled', 7457)
    await sheet(bank, '2026-11-02', [{ clientId: a.clientId, matterId: a.id, amount: 900_00 }])
    const ledgerId = await ledgerOf(bank, a.clientId, a.id)
    const ferdi = await office.signIn('ferdi')
    const { banks } = await ferdi.must<{ banks: { id: number; printAtOnce: boolean }[] }>('GET', '/accounts')
    const own = banks.find((b) => b.id === bank)!
    expect(own.printAtOnce).toBe(false)
    await ferdi.must('PUT', `/accounts/banks/${bank}`, { ...own, printAtOnce: true })
    const made = (await checkOf(ledgerId, 100_00)) as { id: number; checkNo: number; printJob?: number }
    const jobs = () => orla.must<{ id: number; checks: { id: number }[] }[]>('GET', '/print-jobs')
    expect((await jobs()).find((j) => j.id === made.printJob)?.checks.map((c) => c.id)).toEqual([made.id])
    expect(await orla.must('GET', `/checks/to-print?bankAccountId=${bank}`)).toEqual([])
    // What was spoiled and written anew stays in that job; a wire stands in none.
    const told = await orla.must<{ closed: boolean }>('POST', `/print-jobs/${made.printJob}/outcomes`, { outcomes: [{ paymentId: made.id, outcome: 'spoiled' }] }) // prettier-ignore
    expect(told.closed).toBe(true)
    expect(await checkOf(ledgerId, 50_00, { method: 'wire' })).toMatchObject({ checkNo: null, printJob: null })
  })
  it('are accounted for by number: missing, spoiled, stale; what nobody cashed goes back and is followed', async () => {
    const a = await client()
    const bank = await ownBank('pooled', 7555)
    await sheet(bank, '2026-03-02', [{ clientId: a.clientId, matterId: a.id, amount: 900_00 }])
    const ledgerId = await ledgerOf(bank, a.clientId, a.id)
    const old = await checkOf(ledgerId, 100_00, { day: '2026-03-05', payeeAddress: '1 Slip Lane' })
    const typed = await checkOf(ledgerId, 50_00, { checkNo: old.checkNo + 3 })
    const states = async () => Object.fromEntries((await registered(bank)).rows.map((c) => [c.number, c.state]))
    expect(await states()).toEqual({ [old.checkNo]: 'stale', [old.checkNo + 1]: 'missing', [typed.checkNo]: 'outstanding' })
    const spoil = (number: number) => orla.post('/checks/spoiled', { bankAccountId: bank, number, reason: 'torn' })
    expect((await spoil(old.checkNo + 1)).status).toBe(200)
    expect((await spoil(old.checkNo + 1)).body.code).toBe('check-number-used')
    expect((await orla.post('/trust/payments/now', { ledgerId, day: today, payeeName: 'X', amount: 1, method: 'check', checkNo: old.checkNo + 1 })).body.code).toBe('check-number-used') // prettier-ignore
    expect((await registered(bank, 'missing')).rows).toMatchObject([{ number: old.checkNo + 2 }])
    await orla.must('POST', `/trust/payments/${old.id}/void`, { day: today, reason: 'nobody cashed it', how: 'stopped', unclaimed: true })
    expect((await held(ledgerId)).book).toBe(850_00)
    type U = { paymentId: number; dueOn: string; address: string }
    const mine = async () => (await orla.must<U[]>('GET', '/trust/unclaimed')).find((u) => u.paymentId === old.id)
    expect(await mine()).toMatchObject({ dueOn: '2029-03-04', address: '1 Slip Lane' })
    await orla.must('PUT', `/trust/unclaimed/${old.id}`, { lastContact: '2026-11-20', note: 'letter came back' })
    expect((await mine())!.dueOn).toBe('2029-11-19')
    await orla.must('POST', `/trust/unclaimed/${old.id}/settled`, { day: today, words: 'paid by wire' })
    expect(await mine()).toBeUndefined()
  })
  it('have a layout of their account, tried with a sample', async () => {
    const bank = await office.bank('pooled')
    const was = await orla.must<{ layout: Record<string, { x: number; y: number }>; numbers: boolean }>(
      'GET',
      `/checks/layout?bankAccountId=${bank}`,
    )
    const layout = { ...was.layout, payee: { x: 200, y: 260 } }
    expect((await orla.put('/checks/layout', { bankAccountId: bank, layout, numbers: false })).status).toBe(200)
    expect(
      (await orla.put('/checks/layout', { bankAccountId: bank, layout: { ...layout, payee: { x: 999, y: 0 } }, numbers: false })).status,
    ).toBe(400)
    expect((await orla.get(`/checks/sample?bankAccountId=${bank}`)).type).toContain('pdf')
    await orla.put('/checks/layout', { bankAccountId: bank, ...was })
  })
})

describe('past the application, the database', () => {
  /** Posts within one account with the application's own user, as a program gone wrong would. */
  async function between(from: number, to: number, amount: number, kind: string) {
    const bank = await row<{ owed: number }>(
      office.db.manager,
      `SELECT b.liability_account_id AS owed FROM client_ledger l JOIN bank_account b ON b.id = l.bank_account_id WHERE l.id = ?`,
      [from],
    )
    const user = await office.user('Orla')
    return office.db.transaction(async (m) => {
      const { insertId } = (await m.query(`INSERT INTO journal (day, kind, memo, user_id, created_at) VALUES (?, ?, 'x', ?, NOW(6))`, [today, kind, user])) as { insertId: number } // prettier-ignore
      for (const a of [amount, -amount])
        await m.query(`INSERT INTO journal_line (journal_id, account_id, amount) VALUES (?, ?, ?)`, [insertId, bank!.owed, a])
      for (const [l, a] of [[to, amount], [from, -amount]]) await m.query(`INSERT INTO ledger_entry (journal_id, ledger_id, day, amount, text) VALUES (?, ?, ?, ?, 'x')`, [insertId, l, today, a]) // prettier-ignore
      await m.query(`INSERT INTO journal_posting (journal_id, posted_at) VALUES (?, NOW(6))`, [insertId])
    })
  }
  it('lets no client’s money become another’s, or the firm’s, or what has no owner be given away', async () => {
    const [a, b] = [await client(), await client()]
    const [la, lb] = [await office.deposit(orla, a, 500_00), await office.deposit(orla, b, 500_00)]
    await expect(between(la, lb, 100_00, 'correction')).rejects.toThrow(/another/)
    const [r] = await sheet(await office.bank('pooled'), today, [{ clientId: null, amount: 80_00, kind: 'cash' }])
    const unknown = (await row<{ id: number }>(office.db.manager, `SELECT e.ledger_id AS id FROM ledger_entry e WHERE e.journal_id = ?`, [
      r!.journal,
    ]))!.id
    await expect(between(unknown, lb, 80_00, 'owner found')).rejects.toThrow(/owner is not known/)
    await expect(office.db.query(`UPDATE trust_correction SET amount = amount + 1`)).rejects.toThrow(/never changed/)
    const user = await office.user('Orla')
    const asked = office.db.query(`INSERT INTO trust_correction (entry_id, client_id, amount, day, reason, asked_by, asked_at, state, decided_by, journal_id) SELECT MAX(e.id), ?, 1, ?, 'x', ?, NOW(6), 'posted', ?, MAX(e.journal_id) FROM ledger_entry e`, [b.clientId, today, user, user]) // prettier-ignore
    await expect(asked).rejects.toThrow(/correction_by_two/)
  })
})
