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
  actAs(orla)
})
afterAll(async () => {
  expect(await office.agrees()).toBe(true)
  await office.close()
})

const head = 'What,As of,Account,Client,Matter,Number,Date,Due,Name,Amount,Costs in it,Tax in it,Hours,Rate,Kind of cost,Text\n'
type Cells = Partial<Record<'account' | 'client' | 'matter' | 'number' | 'day' | 'due' | 'name' | 'amount' | 'costs' | 'tax' | 'hours' | 'rate' | 'kind' | 'text', string>> // prettier-ignore
const line = (what: string, c: Cells, asOf = '2026-10-31') =>
  [what, asOf, c.account, c.client, c.matter, c.number, c.day, c.due, c.name, c.amount, c.costs, c.tax, c.hours, c.rate, c.kind, c.text].map((x) => (x?.includes(',') ? `"${x}"` : (x ?? ''))).join(',') // prettier-ignore
const tried = (rows: string[]) => triedImport('opening', `${head}${rows.join('\n')}\n`)
/** Accounts of this file's own: they are moved in once. */
const bank = async (kind: 'pooled' | 'operating', code: number) =>
  (await (await office.signIn('ferdi')).must<{ id: number }>('POST', '/accounts/banks', { name: `Moved ${code}`, bank: 'Tidewater Bank', ending: String(code), nextCheck: 1, kind, code: String(code), ...(kind === 'operating' ? {} : { liabilityCode: String(code + 1) }) })).id // prettier-ignore
const standsAt = async (code: string) => {
  const t = await orla.must<{ rows: { code: string; debit: number; credit: number }[] }>('GET', `/books/trial-balance?asOf=${today}`)
  const a = t.rows.find((r) => r.code === code)
  return a ? a.debit - a.credit : 0
}

describe('a firm moves in', () => {
  it('with ledgers, what is in transit, unpaid bills and unbilled work, whole or not at all, and clearing ends at zero', async () => {
    const pooled = await bank('pooled', 7901)
    const operating = await bank('operating', 7903)
    const m = await office.matter(noor, 'Moving Marsh')
    const other = await office.matter(noor, 'Moving Dune')
    await noor.must('POST', '/contacts', { kind: 'organization', name: 'Moved Paperworks', kinds: ['vendor'] })
    const rows = [
      line('ledger', { account: '7901', matter: m.number, amount: '5,000.00' }),
      line('ledger', { account: 'Moved 7901', client: 'Moving Dune', amount: '2000' }),
      line('ledger', { account: '7901', client: 'the firm', amount: '100.00' }),
      line('check', { account: '7901', matter: m.number, number: '501', day: '2026-04-01', name: 'Quiet Surveyors', amount: '750.00', text: 'Survey' }), // prettier-ignore
      line('deposit', { account: '7901', number: 'S-77', day: '2026-10-31', amount: '300.00' }),
      line('statement', { account: '7901', amount: '7,550.00' }),
      line('account', { account: '7903', amount: '10,000.00' }),
      line('check', { account: '7903', number: '88', day: '2026-10-20', name: 'Copy House', amount: '400.00' }),
      line('statement', { account: '7903', amount: '10400' }),
      line('account', { account: '3010', amount: '-10,850.00' }),
      line('bill', { matter: m.number, number: 'OLD-1043', day: '2026-09-15', due: '2026-10-15', amount: '1,200.00', costs: '200.00', name: 'Noor Haddad-Lind' }), // prettier-ignore
      line('vendor', { name: 'Moved Paperworks', number: '9', day: '2026-10-10', due: '2026-11-10', amount: '600.00', account: '5040' }),
      line('cost', { matter: other.number, day: '2026-10-12', kind: 'DEPO', name: 'Reporter', amount: '150.00', text: 'Transcript' }),
      line('time', {
        matter: other.number,
        day: '2026-10-13',
        name: 'Noor Haddad-Lind',
        hours: '2.0',
        rate: '300.00',
        text: 'Read the record',
      }),
    ]
    // A row that is wrong, or books that do not add up, load nothing.
    const short = await tried(rows.map((r) => r.replace('-10,850.00', '-10,850.01')))
    expect(short.faults.map((f) => f.text).join()).toContain('$0.01')
    const odd = await tried(rows.map((r) => r.replace('7,550.00', '7,550.05')))
    expect(odd.faults.map((f) => f.text).join()).toContain('$7,550.00')
    expect((await orla.post(`/imports/${odd.id}/loaded`, {})).body.code).toBe('rows-fail')
    const equity = await standsAt('3010')
    const clearing = await standsAt('3900')
    const receivable = await standsAt('1100')
    const run = await tried(rows)
    expect(run.faults).toEqual([])
    expect((await loadedImport(run)).state).toBe('loaded')
    expect((await standsAt('3900')) - clearing).toBe(0)
    expect((await standsAt('3010')) - equity).toBe(-10_850_00)
    expect((await standsAt('1100')) - receivable).toBe(1_200_00)
    expect([await standsAt('7901'), await standsAt('7902'), await standsAt('7903')]).toEqual([7_100_00, -7_100_00, 10_000_00])
    // The ledgers hold what they held; the old check is stale and goes back to its own ledger.
    const ledgerId = (await row<{ id: number }>(office.db.manager, `SELECT id FROM client_ledger WHERE bank_account_id = ? AND matter_id = ?`, [pooled, m.id]))!.id // prettier-ignore
    const available = async () => (await orla.must<{ available: number }>('GET', `/trust/ledgers/${ledgerId}`)).available
    expect(await available()).toBe(5_000_00)
    const checks = await orla.must<{ rows: { number: number; state: string; paymentId: number }[] }>(
      'GET',
      `/checks?bankAccountId=${pooled}`,
    )
    expect(checks.rows.find((c) => c.number === 501)).toMatchObject({ state: 'stale' })
    // The unpaid bill is a bill: paid from trust at once, its fees to whom they belong.
    const bill = (await row<{ id: number }>(office.db.manager, `SELECT id FROM bill WHERE number = 'OLD-1043'`))!.id
    expect((await orla.get(`/bills/${bill}/pdf`)).status).toBeLessThan(500)
    const paid = await orla.post('/trust/bill-payments', { billId: bill, ledgerId, amount: 1_200_00, day: '2026-11-10' })
    expect(paid.status, JSON.stringify(paid.body)).toBe(200)
    expect(await available()).toBe(3_800_00)
    expect((await orla.post(`/trust/payments/${checks.rows.find((c) => c.number === 501)!.paymentId}/void`, { day: '2026-11-12', reason: 'stale', how: 'stopped', unclaimed: true })).status).toBe(200) // prettier-ignore
    expect(await available()).toBe(4_550_00)
    // What was in transit still is when the first statement is read.
    const ofx = `OFXHEADER:100\nDATA:OFXSGML\n\n<OFX><BANKMSGSRSV1><STMTTRNRS><STMTRS><CURDEF>USD<BANKACCTFROM><BANKID>1<ACCTID>7903</BANKACCTFROM><BANKTRANLIST><DTSTART>20261101<DTEND>20261115<STMTTRN><TRNTYPE>CHECK<DTPOSTED>20261103<TRNAMT>-400.00<FITID>a1<CHECKNUM>88</STMTTRN></BANKTRANLIST><LEDGERBAL><BALAMT>10000.00<DTASOF>20261115</LEDGERBAL></STMTRS></STMTTRNRS></BANKMSGSRSV1></OFX>` // prettier-ignore
    const read = (await form<{ fileId: number; differences: string[] }>(orla, `/bank/accounts/${operating}/statements/read`, {}, { name: 's.ofx', data: ofx })).body // prettier-ignore
    expect(read.differences).toEqual([])
    const taken = await orla.must<{ matched: number }>('POST', `/bank/accounts/${operating}/statements`, { fileId: read.fileId })
    expect(taken.matched).toBe(1)
    // The vendor's bill is owed and paid like any other; the same books are not loaded twice.
    const owed = await orla.must<{ rows: { vendor: string; total: number }[] }>('GET', `/reports/payables?asOf=${today}`)
    expect(owed.rows.find((r) => r.vendor === 'Moved Paperworks')!.total).toBe(600_00)
    const twice = await tried(rows)
    expect(twice.faults.some((f) => f.text.includes('was moved in before'))).toBe(true)
  }, 240_000)

  it('with a deposit that has not cleared, which pays nothing, and a credit of a payer, which pays a bill', async () => {
    const pooled = await bank('pooled', 7701)
    const m = await office.matter(noor, 'Moving Heron')
    const asOf = '2026-11-20'
    const books = (...deposit: Cells[]) => [
      line('ledger', { account: '7701', matter: m.number, amount: '1,000.00' }, asOf),
      line('check', { account: '7701', matter: m.number, number: '31', day: '2026-11-16', name: 'Quiet Surveyors', amount: '50.00' }, asOf),
      ...deposit.map((d) => line('deposit', { account: '7701', day: asOf, ...d }, asOf)),
      line('credit', { client: 'Moving Heron', day: '2026-11-18', number: 'W-9', amount: '80.00' }, asOf),
    ] // prettier-ignore
    const unnamed = await tried(books({ amount: '300.00' }))
    expect(unnamed.faults.map((f) => f.text).join()).toContain('Give the client, or the matter, whose ledger it stands on')
    const run = await tried(books({ amount: '300.00', matter: m.number }))
    expect(run.faults.map((f) => f.text).join()).toContain('Opening clearing would end at')
    const whole = await tried([
      ...books({ amount: '300.00', matter: m.number }),
      line('account', { account: '3010', amount: '80.00' }, asOf),
    ])
    expect(whole.faults).toEqual([])
    expect((await loadedImport(whole)).state).toBe('loaded')
    const { id: ledgerId } = (await row<{ id: number }>(office.db.manager, `SELECT id FROM client_ledger WHERE bank_account_id = ? AND matter_id = ?`, [pooled, m.id]))! // prettier-ignore
    expect(await orla.must('GET', `/trust/ledgers/${ledgerId}`)).toMatchObject({ book: 1_000_00, uncleared: 300_00, available: 700_00 })
    const pay = (amount: number) => orla.post('/trust/payments', { ledgerId, day: today, payeeName: 'Quiet Surveyors', amount })
    expect((await pay(700_01)).body.code).toBe('money-not-cleared')
    expect((await pay(700_00)).status).toBe(200)
    // The credit is listed, pays a bill, and is not reversed as if the bank had taken it back.
    const { rows: credits } = await orla.must<{ rows: { id: number; payer: string; credit: number }[] }>('GET', '/credits?size=100')
    const mine = credits.find((c) => c.payer === 'Moving Heron')!
    expect(mine.credit).toBe(80_00)
    expect((await orla.post(`/payments/${mine.id}/reverse`, { day: today, reason: 'returned' })).body.code).toBe('moved-in')
    const bill = await office.bill(noor, orla, m.id, 400_00)
    expect((await orla.post(`/payments/${mine.id}/apply`, { billId: bill.id, amount: 80_00, day: today })).status).toBe(200)
  }, 240_000)

  it('and is told of every row that cannot stand, at its column', async () => {
    await bank('pooled', 7911)
    const m = await office.matter(noor, 'Moving Fault')
    await office.deposit(orla, m, 10_00)
    const wrong: [string, string][] = [
      [line('cash', { amount: '1' }), 'is no kind of row'],
      [line('ledger', { account: '7911', matter: m.number, amount: '-5' }), 'never below zero'],
      [line('ledger', { account: '1010', matter: m.number, amount: '5' }), 'the firm’s own'],
      [line('ledger', { account: '7911', client: 'Nobody at All', amount: '5' }), 'Nobody on record'],
      [line('account', { account: '1100', amount: '5' }), 'comes with rows “bill”'],
      [line('account', { account: '7912', amount: '-5' }), 'comes with the rows “ledger”'],
      [line('check', { account: '7911', matter: m.number, number: '7', day: '2026-11-05', name: 'X', amount: '5' }), 'after the day'],
      [line('bill', { matter: m.number, number: 'Q-1', day: '2026-10-01', amount: '5', costs: '6' }), 'parts of the amount'],
      [line('account', { account: '5010', amount: '5' }, '2027-01-31'), 'ahead'],
      [line('ledger', { account: '1020', matter: m.number, amount: '5' }), 'Move it in as of a day before its first entry'],
      [line('deposit', { account: '7911', day: '2026-10-31', amount: '5' }), 'more than its ledgers hold'],
    ]
    const run = await tried(wrong.map(([row]) => row))
    for (const [i, [, text]] of wrong.entries())
      expect(run.faults.filter((f) => f.row === i + 2).map((f) => f.text).join(), text).toContain(text) // prettier-ignore
    expect((await tried([line('account', { account: '5010', amount: '5' })])).faults[0]!.text).toContain(
      'Opening clearing would end at $5.00',
    )
    expect((await form(noor, '/imports', { what: 'opening' }, { name: 'b.csv', data: `${head}x\n` })).status).toBe(403)
  }, 240_000)
})
