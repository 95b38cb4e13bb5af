import { agingBuckets, agingOf } from '@heron/core/billing'
import type { Day } from '@heron/core/calendar'
import { sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { matterScope } from '../platform/access'
import type { Ctx } from '../platform/context'
import { row, rows, run } from '../platform/database'
import { maybeOpenOn, openAsOf } from '../platform/figures'

export interface CheckedAccount {
  bankAccountId: number
  name: string
  bank: number
  liability: number
  ledgers: number
  ledgerDays: number
}

export interface CheckResult {
  at: string | null
  ok: boolean
  unbalancedJournals: number
  accounts: CheckedAccount[]
  /** The firm's own money in trust: its ledgers there, and the asset account that stands for them. */
  firmMoney: { ledgers: number; account: number }
  /** Accounts of the books and of banks, and bills, whose kept sums are not those of their entries, by the last check that read all. */
  wrongSums: number
  /** When every entry was last read. */
  wholeAt: string | null
}

/** How many of a span of journals are not posted or do not balance. */
export const unbalancedIn = async (m: EntityManager, from: number, to: number) =>
  (await row<{ n: number }>(
    m,
    `SELECT COUNT(*) AS n FROM (SELECT j.id FROM journal j LEFT JOIN journal_posting p ON p.journal_id = j.id LEFT JOIN journal_line l ON l.journal_id = j.id
        WHERE j.id > ? AND j.id <= ? GROUP BY j.id, p.journal_id HAVING p.journal_id IS NULL OR COALESCE(SUM(l.amount), 1) <> 0) x`,
    [from, to],
  ))!.n

/** Of a span of bills, how many leave open by what is kept another sum than by what was applied to them. */
export const wrongBillsIn = async (m: EntityManager, from: number, to: number) =>
  (await row<{ n: number }>(
    m,
    `SELECT COUNT(*) AS n FROM bill b LEFT JOIN bill_figure f ON f.bill_id = b.id LEFT JOIN (
         SELECT bill_id, SUM(amount) AS amount FROM allocation WHERE bill_id > ? AND bill_id <= ? GROUP BY bill_id
       ) a ON a.bill_id = b.id
      WHERE b.id > ? AND b.id <= ? AND NOT (f.open_amount <=> b.total - COALESCE(a.amount, 0) AND f.is_open = (f.open_amount <> 0))`,
    [from, to, from, to],
  ))!.n

/** The last bill there is: up to it the figures are compared. */
export const lastBill = async (m: EntityManager) => (await row<{ id: number }>(m, `SELECT COALESCE(MAX(id), 0) AS id FROM bill`))!.id

/** The last journal there is: up to it the records are compared. */
export const lastJournal = async (m: EntityManager) => (await row<{ id: number }>(m, `SELECT COALESCE(MAX(id), 0) AS id FROM journal`))!.id

/** What the client ledgers of each bank account hold by the balances that the database keeps of their days. */
export const closingsOfLedgers = (m: EntityManager) =>
  rows<{ id: number; held: number }>(
    m,
    `SELECT l.bank_account_id AS id, COALESCE(SUM((SELECT d.balance FROM ledger_day d WHERE d.ledger_id = l.id ORDER BY d.day DESC LIMIT 1)), 0) AS held
       FROM client_ledger l GROUP BY l.bank_account_id`,
  )

/** The accounts of banks that hold clients' money, and the account of the firm's own money beside it. */
export const trustBanks = (m: EntityManager) =>
  rows<{ id: number; name: string; owedId: number }>(
    m,
    `SELECT id, name, liability_account_id AS owedId FROM bank_account WHERE kind <> 'operating' ORDER BY id`,
  )

/** What the last standing check found, or the last that read every entry. */
export const checkLast = (m: EntityManager, whole: boolean) =>
  row<{ at: string; ok: number; detail: string }>(
    m,
    `SELECT at, ok, detail FROM standing_check ${whole ? 'WHERE whole = 1' : ''} ORDER BY id DESC LIMIT 1`,
  )

/** What each payer owes as of a day, by days past due; payments applied later do not count yet. */
export async function aging(ctx: Ctx, asOf: Day) {
  const bills = await rows<{ payerId: number; payer: string; due: Day; open: number }>(
    ctx.db.manager,
    `SELECT c.id AS payerId, c.name AS payer, b.due_on AS due, ${openAsOf('b')} AS open
       FROM ${maybeOpenOn} f JOIN bill b ON b.id = f.bill_id JOIN contact p ON p.id = b.payer_id JOIN contact c ON c.id = COALESCE(p.merged_into, p.id) JOIN matter m ON m.id = b.matter_id
      WHERE b.issued_on <= ? AND ${matterScope(ctx.actor, 'm', 'money')} HAVING open <> 0 ORDER BY c.name, b.id`,
    [asOf, asOf, asOf],
  )
  const byPayer = new Map<number, { payer: string; payerId: number; buckets: number[] }>()
  for (const b of bills) {
    const line = byPayer.get(b.payerId) ?? { payer: b.payer, payerId: b.payerId, buckets: agingBuckets.map(() => 0) }
    line.buckets[agingBuckets.indexOf(agingOf(b.due, asOf))]! += b.open
    byPayer.set(b.payerId, line)
  }
  const list = [...byPayer.values()].map((l) => ({ ...l, total: sum(l.buckets) })).sort((a, b) => b.total - a.total)
  return {
    rows: list,
    together: { buckets: agingBuckets.map((_, i) => sum(list.map((l) => l.buckets[i]!))), total: sum(list.map((l) => l.total)) },
  }
}

/** Bank accounts that were moved in before, which happens once. */
export const movedIn = (m: EntityManager, ids: readonly number[]) =>
  rows<{ id: number; name: string; day: Day }>(
    m,
    `SELECT b.id, b.name, v.day FROM moved_in v JOIN bank_account b ON b.id = v.bank_account_id WHERE b.id IN (?)`,
    [ids],
  )

// prettier-ignore

/** The first entry of each bank account that has one up to a day: the books of before would stand beside it. */
export const entriesUpTo = (m: EntityManager, ids: readonly number[], day: Day) =>
  rows<{ id: number; name: string; day: Day }>(
    m,
    `SELECT b.id, b.name, MIN(e.day) AS day FROM bank_entry e JOIN bank_account b ON b.id = e.bank_account_id WHERE e.bank_account_id IN (?) AND e.day <= ? GROUP BY b.id, b.name`,
    [ids, day],
  )

/** A journal that moved an account in. */
export const noteMovedIn = (m: EntityManager, journalId: number, bankAccountId: number | null, day: Day) =>
  m.query(`INSERT INTO moved_in (journal_id, bank_account_id, day) VALUES (?, ?, ?)`, [journalId, bankAccountId, day])

/** What was in transit at moving in waits for the bank. */
export const markStart = (m: EntityManager, bankAccountId: number) =>
  run(
    m,
    `INSERT IGNORE INTO bank_start_entry (entry_id) SELECT e.id FROM bank_entry e JOIN bank_start s ON s.bank_account_id = e.bank_account_id AND e.day < s.day
       LEFT JOIN moved_in v ON v.journal_id = e.journal_id LEFT JOIN payment_out p ON p.journal_id = e.journal_id LEFT JOIN firm_payment f ON f.journal_id = e.journal_id
      WHERE e.bank_account_id = ? AND ((v.journal_id IS NOT NULL AND e.kind = 'deposit') OR p.written_on IS NOT NULL OR f.written_on IS NOT NULL)`,
    [bankAccountId],
  )
