import { execFileSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { readTable } from '@heron/core/formats'
import { rows } from '../src/platform'
import type { Day } from '@heron/core/calendar'
import { bankSums } from '../src/ledger/books/sum-queries'
import { addUpDays, postAllDue, runStandingCheck, trialBalance } from '../src/ledger'
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

const account = async (code: string) =>
  (await rows<{ id: number }>(office.db.manager, `SELECT id FROM account WHERE code = ?`, [code]))[0]!.id
const enter = async (day: string, memo: string, lines: [string, number][]) =>
  orla.must<{ id: number }>('POST', '/books/journals', { day, memo, lines: await Promise.all(lines.map(async ([code, amount]) => ({ accountId: await account(code), amount }))) }) // prettier-ignore
interface Trial {
  rows: { id: number; code: string; debit: number; credit: number }[]
  debit: number
  credit: number
}
const standsAt = (t: Trial, code: string) => {
  const a = t.rows.find((x) => x.code === code)!
  return a.debit - a.credit
}
const trial = (asOf: string, closing = 'with') => orla.must<Trial>('GET', `/books/trial-balance?asOf=${asOf}&closing=${closing}`)
interface Statement {
  columns: { from: string; to: string }[]
  sections: { name: string; rows: { name: string; amounts: number[] }[]; totals: number[] }[]
  net: number[]
}
interface Years {
  years: { from: string; to: string; net: number; journalId: number | null }[]
  closedTo: string | null
}

describe('what an account stands at', () => {
  it('is the same by sums of days and by lines, before and after they are added up, on any day', async () => {
    const ctx = { ...office.running.base, actor: { id: 1, name: '', role: 'bookkeeper' as const, mayOverride: false } }
    const before = await trialBalance(ctx, '2026-10-31')
    // Twice: the first sees how far it may go, the second goes there.
    for (let i = 0; i < 2; i += 1) await addUpDays(office.running.base, 0)
    const after = await trialBalance(ctx, '2026-10-31')
    expect(after).toEqual(before)
    expect(await runStandingCheck(office.running.base, { whole: true })).toMatchObject({ ok: true, wrongSums: 0 })
    const byLines = await rows<{ code: string; balance: number }>(office.db.manager, `SELECT a.code, COALESCE(SUM(l.amount), 0) AS balance FROM account a LEFT JOIN journal_line l ON l.account_id = a.id AND l.day <= '2026-10-31' GROUP BY a.id`) // prettier-ignore
    for (const a of byLines) expect(standsAt(after, a.code), a.code).toBe(a.balance)
    await enter('2026-10-30', 'posted after the sums', [['5020', 1_00], ['1010', -1_00]]) // prettier-ignore
    const later = await trialBalance(ctx, '2026-10-31')
    expect(standsAt(later, '5020') - standsAt(after, '5020')).toBe(1_00)
  })
  it('of banks and of a page’s span too: on any day, added up or not', async () => {
    const { manager } = office.db
    const bank = await office.bank('pooled')
    await office.deposit(orla, await office.matter(noor, 'Kept Sums Ltd'), 300_00, '2026-10-05')
    await enter('2026-10-30', 'not added up yet', [['5020', 7_00], ['1010', -7_00]]) // prettier-ignore
    const read = async () => ({
      shown: await orla.must<{ id: number; balance: number }[]>('GET', '/trust/accounts'),
      page: await orla.must<{ total: number; debit: number; credit: number }>('GET', `/books/accounts/${await account('5020')}?from=2026-10-01&to=2026-11-23`), // prettier-ignore
      october: (await bankSums(manager, '2026-10-31' as Day)).get(bank),
    })
    const before = await read()
    for (let i = 0; i < 2; i += 1) await addUpDays(office.running.base, 0)
    expect(await read()).toEqual(before)
    const entries = await rows<{ id: number; n: number }>(manager, `SELECT bank_account_id AS id, SUM(amount) AS n FROM bank_entry GROUP BY bank_account_id`) // prettier-ignore
    for (const e of entries) expect(before.shown.find((b) => b.id === e.id)?.balance).toBe(e.n)
    const [october] = await rows<{ n: number }>(manager, `SELECT SUM(e.amount) AS n FROM ledger_entry e JOIN client_ledger l ON l.id = e.ledger_id WHERE l.bank_account_id = ? AND e.day <= '2026-10-31'`, [bank]) // prettier-ignore
    expect(before.october).toMatchObject({ ledgers: october!.n, bank: october!.n })
  })
  it('is found wrong where a sum is not that of its entries, and stays so until every entry says otherwise', async () => {
    const { manager } = office.db
    const check = () => orla.must<{ ok: boolean; wrongSums: number }>('POST', '/trust/check', {})
    const whole = () => runStandingCheck(office.running.base, { whole: true })
    for (let i = 0; i < 2; i += 1) await addUpDays(office.running.base, 0)
    const off = (table: string, key: string, id: number, column: string, by: number) => manager.query(`UPDATE ${table} SET ${column} = ${column} + ? WHERE ${key} = ? ORDER BY day LIMIT 1`, [by, id]) // prettier-ignore
    // Trust money: the three records differ at once.
    const bank = await office.bank('pooled')
    await off('bank_day', 'bank_account_id', bank, 'bank', 1)
    expect(await check()).toMatchObject({ ok: false, wrongSums: 0 })
    expect(await whole()).toMatchObject({ ok: false, wrongSums: 1 })
    await off('bank_day', 'bank_account_id', bank, 'bank', -1)
    expect(await check()).toMatchObject({ ok: false, wrongSums: 1 })
    expect(await whole()).toMatchObject({ ok: true, wrongSums: 0 })
    expect(await check()).toMatchObject({ ok: true, wrongSums: 0 })
    // Rent stands beside nothing that it could be compared with: only its lines tell.
    const rent = await account('5020')
    await off('account_day', 'account_id', rent, 'amount', 1)
    expect(await whole()).toMatchObject({ ok: false, wrongSums: 1 })
    expect(await check()).toMatchObject({ ok: false })
    await off('account_day', 'account_id', rent, 'amount', -1)
    expect((await whole()).ok).toBe(true)
  })
  it('is told line by line with its balance, across pages', async () => {
    for (const n of [1, 2, 3, 4, 5]) await enter('2026-09-0' + n, `Rent ${n}`, [['5020', n * 100], ['1010', -n * 100]]) // prettier-ignore
    const id = await account('5020')
    const page = (p: number) => orla.must<{ opening: number; closing: number; debit: number; credit: number; total: number; rows: { balance: number; amount: number; day: string }[] }>('GET', `/books/accounts/${id}?from=2026-09-01&to=2026-09-30&page=${p}&size=2`) // prettier-ignore
    const first = await page(1)
    const all = [...first.rows]
    for (let p = 2; all.length < first.total; p += 1) all.push(...(await page(p)).rows)
    let balance = first.opening
    for (const l of all) expect(l.balance).toBe((balance += l.amount))
    expect(first.closing).toBe(balance)
    expect([...all].sort((a, b) => (a.day < b.day ? -1 : 1)).map((l) => l.day)).toEqual(all.map((l) => l.day))
  })
})

describe('statements', () => {
  it('agree with one another: income by any cut, the balance sheet, and the money of the firm', async () => {
    const m = await office.matter(noor, 'Stated Client Ltd')
    const bill = await office.bill(noor, orla, m.id, 600_00)
    await orla.must('POST', `/bills/${bill.id}/payments`, { day: '2026-11-10', amount: 400_00, kind: 'check', reference: '' })
    const get = (by: string, basis: string, more = '') => orla.must<Statement>('GET', `/books/statements/income?from=2026-01-01&to=2026-11-30&by=${by}&basis=${basis}${more}`) // prettier-ignore
    for (const basis of ['cash', 'accrual']) {
      const nets = new Set<number>()
      for (const by of ['timekeeper', 'area', 'account']) nets.add((await get(by, basis)).net[0]!)
      expect(nets.size, basis).toBe(1)
      const months = await get('timekeeper', basis, '&beside=months')
      expect(months.columns).toHaveLength(11)
      expect(months.net.reduce((a, b) => a + b, 0)).toBe([...nets][0])
      for (const s of months.sections)
        for (const [i, t] of s.totals.entries()) expect(s.rows.reduce((n, r) => n + r.amounts[i]!, 0)).toBe(t)
    }
    const sheet = await orla.must<{ off: number; sections: { name: string; total: number }[] }>(
      'GET',
      `/books/statements/balance?asOf=${today}`,
    )
    expect(sheet.off).toBe(0)
    const [assets, liabilities, equity] = sheet.sections.map((s) => s.total)
    expect(assets).toBe(liabilities! + equity!)
    const cash = await orla.must<{ opening: number; moneyIn: number; moneyOut: number; closing: number }>(
      'GET',
      '/books/statements/cash?from=2026-10-01&to=2026-11-30',
    )
    expect(cash.opening + cash.moneyIn - cash.moneyOut).toBe(cash.closing)
  })
  it('are files whose sums are the page’s', async () => {
    const t = await trial(today)
    const csv = (await orla.get(`/books/file?what=trial&format=csv&asOf=${today}`)).bytes.toString()
    expect(csv).toContain(`Together,,${(t.debit / 100).toFixed(2)},${(t.credit / 100).toFixed(2)}`)
    for (const what of ['income', 'balance', 'cash', 'taxes', 'trial'])
      for (const format of ['pdf', 'xlsx']) {
        const answer = await orla.get(`/books/file?what=${what}&format=${format}&beside=months&from=2026-06-01&to=2026-11-30`)
        expect([what, format, answer.status]).toEqual([what, format, 200])
      }
    expect((await orla.get('/books/statements/income?from=2020-01-01&to=2026-11-30&beside=months')).status).toBe(400)
  })
})

describe('a year', () => {
  it('is closed to the partners by shares, once, in order; statements leave the closing out; undone, all is as it was', () =>
    office.alone('books closed', async () => {
      const ferdi = await office.signIn('ferdi')
      const equity = (code: string) => ferdi.must<{ id: number }>('POST', '/accounts', { code, name: `Equity ${code}`, kind: 'equity' })
      const [a, b] = [await equity('3021'), await equity('3022')]
      await enter('2026-03-31', 'A sale of the old copier', [['1010', 100_01], ['4050', 0]].filter((l) => l[1] !== 0).length === 2 ? [] : [['1010', 100_01], ['5020', -100_01]]) // prettier-ignore
      // Years ago, with empty ones after it, which keep no later one open.
      await enter('2021-03-31', 'A late bill of old', [['5020', 10_00], ['1010', -10_00]]) // prettier-ignore
      const share = (list: object[]) => orla.put('/books/years', { yearEnd: '06-30', shares: list })
      expect((await share([{ accountId: a.id, basisPoints: 5_000 }])).body.fields[0]?.path).toBe('shares')
      expect((await share([{ accountId: await account('5020'), basisPoints: 10_000 }])).body.fields[0]?.path).toBe('shares.0.accountId')
      expect((await share([{ accountId: a.id, basisPoints: 6_000 }, { accountId: b.id, basisPoints: 4_000 }])).status).toBe(200) // prettier-ignore
      const years = () => orla.must<Years>('GET', '/books/years')
      const list = (await years()).years
      const order = list.filter((y) => y.to <= '2026-06-30').reverse()
      const whole = (await trial('2026-06-30')).rows
      const last = order.at(-1)!
      if (order.length > 1)
        expect((await orla.post(`/books/years/${last.to}/close`, { to: last.to, net: last.net })).body.code).toBe('year-runs')
      expect((await orla.post(`/books/years/${order[0]!.to}/close`, { net: order[0]!.net + 1 })).body.code).toBe(order[0]!.net === 0 ? 'changed-meanwhile' : 'changed-meanwhile') // prettier-ignore
      const closed: string[] = []
      for (const y of order) {
        const done = await orla.post(`/books/years/${y.to}/close`, { net: y.net })
        if (done.status === 200) closed.push(y.to)
        else expect(done.body.code).toBe('nothing-open')
      }
      expect((await years()).closedTo).toBe('2026-06-30')
      expect((await orla.post(`/books/years/${last.to}/close`, { net: last.net })).body.code).toBe('year-closed')
      // Income and expenses stand at nothing at the year's end, trust and banks as before; what the year earned is with the partners.
      const after = (await trial('2026-06-30')).rows
      const kindOf = new Map(
        (await rows<{ id: number; kind: string }>(office.db.manager, `SELECT id, kind FROM account`)).map((x) => [x.id, x.kind]),
      )
      for (const r of after) {
        const was = whole.find((x) => x.id === r.id)
        const kind = kindOf.get(r.id)!
        if (kind === 'income' || kind === 'expense') expect(r.debit - r.credit, r.code).toBe(0)
        if (kind === 'asset' || kind === 'liability') expect(r.debit - r.credit, r.code).toBe(was!.debit - was!.credit)
      }
      const before = (await trial('2026-06-30', 'without')).rows
      expect(before.filter((r) => ['income', 'expense'].includes(kindOf.get(r.id)!)).some((r) => r.debit || r.credit)).toBe(
        last.net !== 0 || true,
      )
      const income = await orla.must<Statement>('GET', `/books/statements/income?from=${last.from}&to=${last.to}&basis=accrual&by=account`)
      expect(income.net[0]).toBe(last.net)
      // Nothing is dated into it, and it is not opened by date.
      expect((await orla.post('/books/journals', { day: '2026-06-30', memo: 'x', lines: [{ accountId: await account('5020'), amount: 1 }, { accountId: await account('1010'), amount: -1 }] })).body.code).toBe('period-closed') // prettier-ignore
      expect((await orla.post('/books/closed-to', { day: '2026-05-31', reason: 'x' })).body.code).toBe('year-closed')
      expect((await orla.post('/books/closed-to', { day: '2026-10-31' })).status).toBe(200)
      expect((await orla.post('/books/closed-to', { day: '2026-06-30' })).body.fields[0]?.path).toBe('reason')
      expect((await orla.post('/books/closed-to', { day: '2026-06-30', reason: 'a late bill' })).status).toBe(200)
      for (const to of closed.reverse()) expect((await orla.post(`/books/years/${to}/open`, { reason: 'audit' })).status).toBe(200)
      expect((await trial('2026-06-30')).rows.filter((r) => r.debit || r.credit)).toEqual(whole.filter((r) => r.debit || r.credit))
      await office.db.query(`UPDATE firm SET books_closed_to = NULL, year_end = '12-31'`)
    }))
})

describe('one ZIP', () => {
  // An archive is for those from whom nothing is kept; what other tests keep from her is no matter here.
  beforeAll(async () => {
    await office.db.query(`DELETE FROM matter_screen WHERE user_id = ?`, [await office.user('Orla')])
  })
  const unzipped = (bytes: Buffer): Map<string, string> => {
    const folder = mkdtempSync(join(tmpdir(), 'records-'))
    writeFileSync(join(folder, 'a.zip'), bytes)
    execFileSync('python3', ['-c', `import zipfile; zipfile.ZipFile('${folder}/a.zip').extractall('${folder}/x')`])
    return new Map(
      readdirSync(join(folder, 'x')).map((f) => [f, f === 'reconciliations' ? '' : readFileSync(join(folder, 'x', f), 'utf8')]),
    )
  }
  it('has what an auditor asks for, with hashes that hold and ledgers that come to the bank', async () => {
    const m = await office.matter(noor, 'Audited Client Ltd')
    const ledger = await office.deposit(orla, m, 5_000_00, '2026-10-05')
    await orla.must('POST', '/trust/payments/now', {
      ledgerId: ledger,
      day: '2026-10-12',
      payeeName: '=A Surveyor',
      amount: 1_200_00,
      method: 'wire',
    })
    const bank = await office.bank('pooled')
    const ask = { bankAccountId: bank, from: '2026-10-01', to: '2026-10-31' }
    expect((await noor.post('/trust/records', ask)).status).toBe(403)
    expect((await orla.post('/trust/records', { ...ask, to: '2026-09-30' })).body.fields[0]?.path).toBe('to')
    const answer = await orla.post('/trust/records', ask)
    expect([answer.status, answer.body.detail]).toEqual([200, undefined])
    const files = unzipped(answer.bytes)
    const index = files.get('INDEX.txt')!
    for (const [name, text] of files)
      if (name.endsWith('.csv')) expect(index, name).toContain(createHash('sha256').update(text).digest('hex'))
    expect(files.get('client-ledgers.csv')).toMatch(/Audited Client Ltd.*2026-10-12.*-1200\.00,3800\.00/)
    // What a spreadsheet would take for a formula is not one.
    expect(files.get('disbursements.csv')).not.toMatch(/,=A/)
    const cents = (text: string, column: number) =>
      text.trim().split('\r\n').slice(1).reduce((n, line) => n + Math.round(Number(line.split(',').at(column)) * 100), 0) // prettier-ignore
    const end = await rows<{ n: number }>(
      office.db.manager,
      `SELECT COALESCE(SUM(amount), 0) AS n FROM bank_entry WHERE bank_account_id = ? AND day <= '2026-10-31'`,
      [bank],
    )
    expect(cents(files.get('listing-at-the-end.csv')!, -1)).toBe(end[0]!.n)
  })
  it('has the whole set of books, whose lines come to nothing', async () => {
    const files = unzipped((await orla.post('/books/archive', { to: today })).bytes)
    expect([...files.keys()].sort()).toEqual([
      'INDEX.txt',
      'accounts.csv',
      'applied.csv',
      'bank-entries.csv',
      'bills.csv',
      'client-ledger-entries.csv',
      'journal.txt',
      'journals.csv',
      'lines.csv',
      'payments.csv',
      'vendor-bill-lines.csv',
      'vendor-bills.csv',
      'vendor-payments.csv',
    ])
    // Bills less what went to them are what is open, and bills of vendors less what was paid what is owed.
    const sumOf = (name: string, column: string, only: (r: Record<string, string>) => boolean = () => true) => {
      const { columns, rows: list } = readTable(Buffer.from(files.get(name)!))
      return list
        .map((r) => Object.fromEntries(columns.map((c, i) => [c, r[i] ?? ''])))
        .filter(only)
        .reduce((n, r) => n + Math.round(Number(r[column]) * 100), 0)
    }
    // (Not with account 1100 as a whole: another test posts to it past the application, to see what the database lets through.)
    const open = await rows<{ n: number }>(office.db.manager, `SELECT (SELECT SUM(total) FROM bill WHERE issued_on <= ?) - (SELECT SUM(amount) FROM allocation WHERE applied_on <= ?) AS n`, [today, today]) // prettier-ignore
    expect(sumOf('bills.csv', 'total') - sumOf('applied.csv', 'amount')).toBe(open[0]!.n)
    const paid = (column: string) => sumOf('vendor-payments.csv', column, (r) => r['state'] === 'posted')
    const owed = await rows<{ n: number }>(office.db.manager, `SELECT COALESCE(SUM(open_amount), 0) AS n FROM vendor_bill`)
    expect(sumOf('vendor-bills.csv', 'total', (r) => r['state'] === 'posted') - paid('amount') - paid('discount')).toBe(owed[0]!.n)
    const lines = files.get('lines.csv')!.trim().split('\r\n').slice(1)
    expect(lines.reduce((n, l) => n + Math.round(Number(l.split(',')[3]) * 100), 0)).toBe(0)
    expect(files.get('journal.txt')).toMatch(/ {4}; matter: \d{2}-\d{4}/)
  })
})

describe('journals kept as templates', () => {
  it('recur on their date, once, are tried when they are kept, and go to no closed account', async () => {
    const lines = async (code: string) => [{ accountId: await account(code), amount: 75_00 }, { accountId: await account('1010'), amount: -75_00 }] // prettier-ignore
    const keep = (more: object) => orla.post<{ id: number }>('/books/templates', { memo: 'Storage', ...more })
    expect((await keep({ name: 'Trust', lines: await lines('2010') })).status).toBe(400)
    expect((await keep({ name: 'Lopsided', lines: [{ accountId: await account('5020'), amount: 1 }, { accountId: await account('1010'), amount: -2 }] })).status).toBe(400) // prettier-ignore
    const recurs = { firstOn: '2026-09-25', dayOfMonth: 31, everyMonths: 1, until: '2026-10-31' }
    const kept = await keep({ name: 'Storage of old files', lines: await lines('5020'), recurs })
    expect(kept.status).toBe(200)
    expect((await keep({ name: 'Storage of old files', lines: await lines('5020') })).body.fields[0]!.path).toBe('name')
    await Promise.all([postAllDue(office.running.base), postAllDue(office.running.base)])
    const posted = await rows<{ day: string }>(office.db.manager, `SELECT day FROM journal WHERE memo = 'Storage' ORDER BY day`)
    expect(posted.map((p) => p.day)).toEqual(['2026-09-30', '2026-10-31'])
    const list = await orla.must<{ name: string; nextOn: string | null; fault: string }[]>('GET', '/books/templates')
    expect(list.find((t) => t.name === 'Storage of old files')).toMatchObject({ nextOn: null, fault: '' })
    expect((await orla.call('DELETE', `/books/templates/${kept.body.id}`)).status).toBe(200)
    const closed = await account('5040')
    const owner = await office.owner()
    await owner.query(`UPDATE account SET closed = 1 WHERE id = ?`, [closed])
    expect((await orla.post('/books/journals', { day: today, memo: 'x', lines: await lines('5040') })).body.fields[0]!.path).toBe('lines.0.accountId') // prettier-ignore
    await owner.query(`UPDATE account SET closed = 0 WHERE id = ?`, [closed])
    await owner.destroy()
  })
})
