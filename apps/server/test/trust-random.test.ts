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
})
