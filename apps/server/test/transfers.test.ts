import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row } from '../src/platform'
import { Office, today, type Person } from './office'
import { actAs, form, loadedImport, triedImport } from './papers'

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
const bank = async (kind: 'pooled' | 'operating', code: number) =>
  (await (await office.signIn('ferdi')).must<{ id: number }>('POST', '/accounts/banks', { name: `Transfer ${code}`, bank: 'Tidewater Bank', ending: String(code), nextCheck: 1, kind, code: String(code), ...(kind === 'operating' ? {} : { liabilityCode: String(code + 1) }) })).id // prettier-ignore
async function deposit(bankAccountId: number, m: { id: number; clientId: number }, amount: number, kind = 'wire', day = '2026-10-05') {
  const sheet = await orla.must<{ id: number }>('POST', '/trust/sheets', { bankAccountId, day, controlTotal: amount, receipts: [{ clientId: m.clientId, matterId: m.id, depositor: 'Client', kind, amount }] }) // prettier-ignore
  await orla.must('POST', `/trust/sheets/${sheet.id}/post`, {})
  return (await row<{ id: number }>(office.db.manager, `SELECT id FROM client_ledger WHERE matter_id = ? AND bank_account_id = ?`, [m.id, bankAccountId]))!.id // prettier-ignore
}
const available = async (id: number) => (await orla.must<{ available: number }>('GET', `/trust/ledgers/${id}`)).available
const ofx = (account: string, amount: string, closing: string) =>
  `OFXHEADER:100\nDATA:OFXSGML\n\n<OFX><BANKMSGSRSV1><STMTTRNRS><STMTRS><CURDEF>USD<BANKACCTFROM><BANKID>1<ACCTID>${account}</BANKACCTFROM><BANKTRANLIST><DTSTART>20261101<DTEND>20261123<STMTTRN><TRNTYPE>XFER<DTPOSTED>20261123<TRNAMT>${amount}<FITID>t${account}</STMTTRN></BANKTRANLIST><LEDGERBAL><BALAMT>${closing}<DTASOF>20261123</LEDGERBAL></STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>` // prettier-ignore

describe('many bills paid from trust', () => {
  it('travel as one movement of both banks, each by its own payer’s money, all or none', async () => {
    const trust = await bank('pooled', 7921)
    const operating = await bank('operating', 7925)
    const [a, b, c] = [await office.matter(noor, 'Transfer Alder'), await office.matter(noor, 'Transfer Birch'), await office.matter(noor, 'Transfer Cedar')] // prettier-ignore
    const [la, lb, lc] = [await deposit(trust, a, 1_000_00), await deposit(trust, b, 500_00), await deposit(trust, c, 900_00)]
    const [ba, bb, bc] = [await office.bill(noor, orla, a.id, 300_00), await office.bill(noor, orla, b.id, 800_00), await office.bill(noor, orla, c.id, 400_00)] // prettier-ignore
    const ahead = await orla.must<{ rows: { billId: number; ledgerId: number; open: number; amount: number }[]; total: number }>('POST', '/trust/transfers/ahead', { bankAccountId: trust, day: today }) // prettier-ignore
    // As far as the money of each reaches: 300.00, 500.00 of 800.00, and 400.00.
    expect(ahead.rows.map((r) => [r.ledgerId, r.open, r.amount])).toEqual([[la, 300_00, 300_00], [lb, 800_00, 500_00], [lc, 400_00, 400_00]]) // prettier-ignore
    expect(ahead.total).toBe(1_200_00)
    const make = (parts: { ledgerId: number; billId: number; amount: number }[], more: object = {}) =>
      orla.post<{ number: number; total: number }>('/trust/transfers', { bankAccountId: trust, operatingAccountId: operating, day: today, parts, ...more }) // prettier-ignore
    const good = ahead.rows.map(({ ledgerId, billId, amount }) => ({ ledgerId, billId, amount }))
    // One row that is wrong, and nothing is paid.
    expect((await make([...good.slice(0, 2), { ledgerId: la, billId: bc.id, amount: 1 }])).body.code).toBe('other-clients-money')
    expect((await make([good[0]!, { ...good[1]!, amount: 500_01 }])).body.code).toBe('more-than-available')
    expect((await make([{ ...good[0]!, amount: 300_01 }])).body.code).toBe('more-than-owed')
    expect((await make([good[0]!, good[0]!])).body.fields[0]!.path).toBe('parts')
    expect((await make(good, { bankAccountId: await office.bank('pooled') })).body.fields[0]!.path).toBe('parts.0.ledgerId')
    expect((await make(good, { day: '2026-11-10' })).body.code).toBe('no-issued-bill')
    expect([await available(la), await available(lb), await available(lc)]).toEqual([1_000_00, 500_00, 900_00])
    const made = await make(good)
    expect(made.body).toMatchObject({ total: 1_200_00 })
    expect([await available(la), await available(lb), await available(lc)]).toEqual([700_00, 0, 500_00])
    expect((await orla.must<{ open: number }>('GET', `/bills/${bb.id}`)).open).toBe(300_00)
    expect((await orla.must<{ open: number }>('GET', `/bills/${ba.id}`)).open).toBe(0)
    const shown = async () => (await orla.must<{ rows: { number: number; fromShown: boolean; toShown: boolean }[] }>('GET', '/trust/transfers')).rows.find((t) => t.number === made.body.number) // prettier-ignore
    expect(await shown()).toMatchObject({ fromShown: false, toShown: false })
    // Each bank shows the movement once; the line is matched with all bills of the sheet.
    const read = (await form<{ fileId: number }>(orla, `/bank/accounts/${operating}/statements/read`, {}, { name: 's.ofx', data: ofx('7925', '1200.00', '1200.00') })).body // prettier-ignore
    const taken = await orla.must<{ matched: number }>('POST', `/bank/accounts/${operating}/statements`, { fileId: read.fileId })
    expect(taken.matched).toBe(1)
    expect(await shown()).toMatchObject({ fromShown: false, toShown: true })
  })

  it('are offered where money reaches, however many older ones none reaches', async () => {
    const trust = await bank('pooled', 7929)
    const [poor, rich] = [await office.matter(noor, 'Transfer Poor'), await office.matter(noor, 'Transfer Rich')]
    const [little, much] = [await deposit(trust, poor, 150_00), await deposit(trust, rich, 1_000_00)]
    // More bills of before than are offered, of which a client's money pays one and a half.
    actAs(orla)
    const bills = Array.from({ length: 230 }, (_, i) => `bill,2026-09-30,,,${poor.number},OLD-T${i},2026-07-${String(10 + (i % 20))},2026-08-30,Noor Haddad-Lind,100.00,,,,,,`) // prettier-ignore
    const run = await triedImport('opening', `What,As of,Account,Client,Matter,Number,Date,Due,Name,Amount,Costs in it,Tax in it,Hours,Rate,Kind of cost,Text\n${bills.join('\n')}\naccount,2026-09-30,3010,,,,,,,"-23,000.00",,,,,,\n`) // prettier-ignore
    expect(run.faults).toEqual([])
    await loadedImport(run)
    const late = await office.bill(noor, orla, rich.id, 400_00)
    const ahead = await orla.must<{ rows: { billId: number; ledgerId: number; amount: number }[]; total: number; more: boolean }>('POST', '/trust/transfers/ahead', { bankAccountId: trust, day: today }) // prettier-ignore
    expect([ahead.rows.length, ahead.total, ahead.more]).toEqual([200, 550_00, false])
    expect(ahead.rows.filter((r) => r.amount).map((r) => [r.ledgerId, r.amount])).toEqual([[little, 100_00], [little, 50_00], [much, 400_00]]) // prettier-ignore
    expect(ahead.rows.at(-1)).toMatchObject({ billId: late.id, amount: 400_00 })
    // Of more than travel together as many as may are offered, and it is said that there are more.
    await deposit(trust, poor, 30_000_00)
    const again = await orla.must<typeof ahead>('POST', '/trust/transfers/ahead', { bankAccountId: trust, day: today })
    expect([again.rows.length, again.total, again.more]).toEqual([200, 20_000_00, true])
  })

  it('are taken once where two people make the same sheet at the same moment', async () => {
    const trust = await bank('pooled', 7927)
    const m = await office.matter(noor, 'Transfer Twice')
    const ledgerId = await deposit(trust, m, 1_000_00)
    const bill = await office.bill(noor, orla, m.id, 600_00)
    const all = await Promise.all(
      Array.from({ length: 4 }, () => orla.post('/trust/transfers', { bankAccountId: trust, day: today, parts: [{ ledgerId, billId: bill.id, amount: 400_00 }] })), // prettier-ignore
    )
    expect(all.filter((x) => x.status === 200)).toHaveLength(1)
    expect(await available(ledgerId)).toBe(600_00)
  })
})
