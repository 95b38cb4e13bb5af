import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { row, rows } from '../src/platform'
import { Office, type Answer, type Person } from './office'

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

const dayOf = (n: number) => (n < 31 ? `2026-10-${String(n + 1).padStart(2, '0')}` : `2026-11-${String(n - 30).padStart(2, '0')}`)
/** An act: what, on which of three ledgers, on which day of October or November, how much, and which of what was done before. */
const step = fc.record({
  what: fc.constantFrom('wire', 'deposit', 'pay', 'pay', 'check', 'whole', 'returned', 'charge', 'void', 'reverse', 'correct', 'hold', 'release', 'firm'),
  who: fc.nat(2),
  day: fc.integer({ min: 0, max: 50 }),
  amount: fc.integer({ min: 1, max: 90_000 }),
  at: fc.nat(50),
}) // prettier-ignore
type Step = { what: string; who: number; day: number; amount: number; at: number }

describe('whatever is done in trust, in whatever order and at the same moment', () => {
  it('no ledger is below zero on any day, the three records agree on every day, and nothing fails but by a rule', async () => {
    const ferdi = await office.signIn('ferdi')
    const bank = (await ferdi.must<{ id: number }>('POST', '/accounts/banks', { name: 'Bank 7941', bank: 'Tidewater Bank', ending: '7941', nextCheck: 1, kind: 'pooled', code: '7941', liabilityCode: '7942' })).id // prettier-ignore
    const matters = [await office.matter(noor, 'Random Ash'), await office.matter(noor, 'Random Beech'), await office.matter(noor, 'Random Elm')] // prettier-ignore
    const ledgersOf = () => rows<{ id: number; matterId: number | null; clientId: number }>(office.db.manager, `SELECT id, matter_id AS matterId, client_id AS clientId FROM client_ledger WHERE bank_account_id = ? AND kind = 'client' ORDER BY id`, [bank]) // prettier-ignore
    const payments: number[] = []
    const holds: number[] = []
    const act = async (s: Step): Promise<Answer<unknown>[]> => {
      const m = matters[s.who]!
      const day = dayOf(s.day)
      const ledger = (await ledgersOf()).find((l) => l.matterId === m.id)
      const pick = <T>(list: readonly T[]): T | undefined => list[s.at % Math.max(1, list.length)]
      const receipts = () => rows<{ id: number; journalId: number }>(office.db.manager, `SELECT r.id, s.journal_id AS journalId FROM deposit_receipt r JOIN deposit_sheet s ON s.id = r.sheet_id AND s.state = 'posted' WHERE s.bank_account_id = ? ORDER BY r.id`, [bank]) // prettier-ignore
      if (s.what === 'wire' || s.what === 'deposit') {
        const kind = s.what === 'wire' ? 'wire' : 'check'
        const sheet = await orla.post<{ id: number }>('/trust/sheets', { bankAccountId: bank, day, controlTotal: s.amount * 3, receipts: [{ clientId: m.clientId, matterId: m.id, depositor: 'Client', kind, amount: s.amount * 3 }] }) // prettier-ignore
        return [sheet, ...(sheet.status === 200 ? [await orla.post(`/trust/sheets/${sheet.body.id}/post`, {})] : [])]
      }
      if (s.what === 'firm') return [await orla.post(`/trust/accounts/${bank}/firm-money`, { day, amount: Math.ceil(s.amount / 20) })]
      if (s.what === 'charge') return [await orla.post(`/trust/accounts/${bank}/charges`, { day, amount: Math.ceil(s.amount / 50), text: 'Wire fee' })] // prettier-ignore
      if (s.what === 'void' && payments.length)
        return [await orla.post(`/trust/payments/${pick(payments)!}/void`, { day, reason: 'random' })]
      if (s.what === 'release' && holds.length) return [await orla.post(`/trust/holds/${pick(holds)!}/release`, { reason: 'random' })]
      const receipt = pick(await receipts())
      if (s.what === 'returned' && receipt) return [await orla.post(`/trust/receipts/${receipt.id}/returned`, { day, text: 'Unpaid' })]
      if (s.what === 'reverse' && receipt)
        return [await orla.post(`/books/journals/${receipt.journalId}/reverse`, { day, reason: 'random' })]
      if (!ledger) return []
      if (s.what === 'pay' || s.what === 'check') {
        const paid = await orla.post<{ id: number }>('/trust/payments/now', { ledgerId: ledger.id, day, payeeName: 'A Surveyor', amount: s.amount, method: s.what === 'pay' ? 'wire' : 'check' }) // prettier-ignore
        if (paid.status === 200) payments.push(paid.body.id)
        return [paid]
      }
      if (s.what === 'whole') return [await orla.post('/trust/moves', { fromLedgerId: ledger.id, bankAccountId: bank, matterId: null, day, amount: s.amount, reason: 'random' })] // prettier-ignore
      if (s.what === 'hold') {
        const laid = await orla.post<{ id: number }>(`/trust/ledgers/${ledger.id}/holds`, {
          kind: 'lien',
          amount: s.amount,
          reason: 'random',
        })
        if (laid.status === 200) holds.push(laid.body.id)
        return [laid]
      }
      if (s.what === 'correct') {
        const entry = pick(await rows<{ id: number; amount: number }>(office.db.manager, `SELECT id, amount FROM ledger_entry WHERE ledger_id = ? ORDER BY id`, [ledger.id])) // prettier-ignore
        const other = matters[(s.who + 1) % 3]!
        if (!entry) return []
        const asked = await orla.post<{ id: number }>('/trust/corrections', { entryId: entry.id, clientId: other.clientId, matterId: other.id, day, amount: Math.min(s.amount, Math.abs(entry.amount)), reason: 'random' }) // prettier-ignore
        return [asked, ...(asked.status === 200 ? [await noor.post(`/trust/corrections/${asked.body.id}/approve`, {})] : [])]
      }
      return []
    }
    let posted = 0
    await fc.assert(
      fc.asyncProperty(fc.array(fc.array(step, { minLength: 1, maxLength: 4 }), { minLength: 4, maxLength: 10 }), async (rounds) => {
        for (const round of rounds)
          for (const answers of await Promise.all(round.map(act)))
            for (const a of answers) {
              // A rule says no with its sentence; nothing breaks.
              expect(a.status, JSON.stringify(a.body)).toBeLessThan(500)
              if (a.status === 200) posted += 1
              else expect(a.body.detail || a.body.fields[0]?.message).toBeTruthy()
            }
        const below = await row<{ n: number }>(office.db.manager, `SELECT COUNT(*) AS n FROM ledger_day d JOIN client_ledger l ON l.id = d.ledger_id WHERE l.bank_account_id = ? AND d.balance < 0`, [bank]) // prettier-ignore
        expect(below!.n).toBe(0)
        const wrong = await rows(office.db.manager, `SELECT d.ledger_id, d.day, d.balance, (SELECT SUM(e.amount) FROM ledger_entry e WHERE e.ledger_id = d.ledger_id AND e.day <= d.day) AS summed FROM ledger_day d JOIN client_ledger l ON l.id = d.ledger_id WHERE l.bank_account_id = ? HAVING balance <> summed`, [bank]) // prettier-ignore
        expect(wrong).toEqual([])
        // Bank, what is owed to clients, and ledgers are kept apart, and move alike on every day.
        const days = await rows<{ day: string; bank: number; owed: number; ledgers: number }>(
          office.db.manager,
          `SELECT x.day, SUM(x.bank) AS bank, SUM(x.owed) AS owed, SUM(x.ledgers) AS ledgers FROM (
             SELECT e.day, e.amount AS bank, 0 AS owed, 0 AS ledgers FROM bank_entry e WHERE e.bank_account_id = ?
             UNION ALL SELECT l.day, 0, -l.amount, 0 FROM journal_line l JOIN bank_account b ON b.id = ? AND l.account_id = b.liability_account_id
             UNION ALL SELECT e.day, 0, 0, e.amount FROM ledger_entry e JOIN client_ledger c ON c.id = e.ledger_id WHERE c.bank_account_id = ?) x GROUP BY x.day`,
          [bank, bank, bank],
        )
        for (const d of days) expect([d.bank, d.owed], d.day).toEqual([d.ledgers, d.ledgers])
        const lopsided = await row<{ n: number }>(office.db.manager, `SELECT COUNT(*) AS n FROM (SELECT journal_id FROM journal_line GROUP BY journal_id HAVING SUM(amount) <> 0) x`) // prettier-ignore
        expect(lopsided!.n).toBe(0)
      }),
      { numRuns: 8 },
    )
    // Most of it was done, so that it is not refusals alone that were tried.
    expect(posted).toBeGreaterThan(40)
  }, 120_000)

  it('what is taken back in the other order leaves every balance as it was, on every day', async () => {
    const ferdi = await office.signIn('ferdi')
    const bank = (await ferdi.must<{ id: number }>('POST', '/accounts/banks', { name: 'Bank 7945', bank: 'Tidewater Bank', ending: '7945', nextCheck: 1, kind: 'pooled', code: '7945', liabilityCode: '7946' })).id // prettier-ignore
    const m = await office.matter(noor, 'Random Rowan')
    const bills: { id: number }[] = []
    for (const cents of [400_00, 900_00]) bills.push(await office.bill(noor, orla, m.id, cents, '2026-11-02'))
    const deposit = async (day: string, amount: number) => {
      const sheet = await orla.must<{ id: number }>('POST', '/trust/sheets', { bankAccountId: bank, day, controlTotal: amount, receipts: [{ clientId: m.clientId, matterId: m.id, depositor: 'Client', kind: 'wire', amount }] }) // prettier-ignore
      await orla.must('POST', `/trust/sheets/${sheet.id}/post`, {})
      return sheet.id
    }
    await deposit('2026-10-01', 1_000_00)
    const ledger = (await row<{ id: number }>(office.db.manager, `SELECT id FROM client_ledger WHERE bank_account_id = ? AND matter_id = ?`, [bank, m.id]))!.id // prettier-ignore
    /** Every account that it could touch, every ledger and the bank, by day. */
    const stands = async () => ({
      accounts: await rows(office.db.manager, `SELECT l.account_id, l.day, SUM(l.amount) AS n FROM journal_line l WHERE l.matter_id = ? OR l.account_id IN (SELECT gl_account_id FROM bank_account WHERE id = ? UNION SELECT liability_account_id FROM bank_account WHERE id = ?) GROUP BY l.account_id, l.day HAVING n <> 0 ORDER BY 1, 2`, [m.id, bank, bank]), // prettier-ignore
      ledgers: await rows(office.db.manager, `SELECT e.ledger_id, e.day, SUM(e.amount) AS n FROM ledger_entry e JOIN client_ledger c ON c.id = e.ledger_id WHERE c.bank_account_id = ? GROUP BY e.ledger_id, e.day HAVING n <> 0 ORDER BY 1, 2`, [bank]), // prettier-ignore
      bank: await rows(office.db.manager, `SELECT day, SUM(amount) AS n FROM bank_entry WHERE bank_account_id = ? GROUP BY day HAVING n <> 0 ORDER BY day`, [bank]), // prettier-ignore
      open: await Promise.all(bills.map(async (b) => (await orla.must<{ open: number }>('GET', `/bills/${b.id}`)).open)),
    })
    const journalOf = async (subject: string, id: number) => (await row<{ id: number }>(office.db.manager, `SELECT MAX(id) AS id FROM journal WHERE subject = ? AND subject_id = ?`, [subject, id]))!.id // prettier-ignore
    const reverse = (journalId: number, day: string) => orla.post(`/books/journals/${journalId}/reverse`, { day, reason: 'random' })
    /** Does one thing and gives what undoes it, on its own day; null where a rule said no. */
    const done = async (s: Step): Promise<(() => Promise<Answer<unknown>>) | null> => {
      const day = dayOf(s.day)
      if (s.what === 'deposit' || s.what === 'wire') {
        const journal = await journalOf('deposit sheet', await deposit(day, s.amount))
        return () => reverse(journal, day)
      }
      if (s.what === 'pay' || s.what === 'check') {
        const paid = await orla.post<{ id: number }>('/trust/payments/now', { ledgerId: ledger, day, payeeName: 'A Surveyor', amount: s.amount, method: s.what === 'pay' ? 'wire' : 'check' }) // prettier-ignore
        const how = s.what === 'check' ? { how: 'in hand' } : {}
        return paid.status === 200 ? () => orla.post(`/trust/payments/${paid.body.id}/void`, { day, reason: 'random', ...how }) : null
      }
      if (s.what === 'whole') {
        const moved = await orla.post<{ journalId: number }>('/trust/moves', { fromLedgerId: ledger, bankAccountId: bank, matterId: null, day, amount: s.amount, reason: 'random' }) // prettier-ignore
        if (moved.status !== 200) return null
        const journal = (await row<{ id: number }>(office.db.manager, `SELECT MAX(journal_id) AS id FROM ledger_entry WHERE ledger_id = ?`, [ledger]))!.id // prettier-ignore
        return () => reverse(journal, day)
      }
      const bill = bills[s.at % 2]!
      const paid = await orla.post<{ id: number }>('/trust/bill-payments', { ledgerId: ledger, billId: bill.id, amount: s.amount, day: dayOf(33 + (s.day % 18)) }) // prettier-ignore
      return paid.status === 200 ? () => orla.post(`/payments/${paid.body.id}/reverse`, { day: dayOf(33 + (s.day % 18)), reason: 'random' }) : null // prettier-ignore
    }
    let undone = 0
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 4, maxLength: 12 }), async (steps) => {
        const before = await stands()
        const back: (() => Promise<Answer<unknown>>)[] = []
        for (const s of steps) {
          const undo = await done(s)
          if (undo) back.push(undo)
        }
        for (const undo of back.reverse()) {
          const answer = await undo()
          expect(answer.status, JSON.stringify(answer.body)).toBe(200)
          undone += 1
        }
        expect(await stands()).toEqual(before)
      }),
      { numRuns: 12 },
    )
    expect(undone).toBeGreaterThan(12)
  }, 120_000)
})
