import type { Day } from '@heron/core/calendar'
import type { Span } from '@heron/core/ledger'
import type { EntityManager } from 'typeorm'
import { row, rows, run } from '../../platform/database'

/** Up to where days of accounts are added up, locked. */
export const lockedMark = (m: EntityManager, wait: number) =>
  row<{ upTo: number; next: number; old: number }>(
    m,
    `SELECT up_to AS upTo, next_up_to AS next, seen_at < NOW(6) - INTERVAL ? SECOND AS old FROM account_day_mark WHERE id = 1 FOR UPDATE`,
    [wait],
  )

/** Adds the lines of a span of journals to the days of their accounts. */
export const addDays = (m: EntityManager, to: number, upTo: number) =>
  run(
    m,
    `INSERT INTO account_day (account_id, day, amount, line_count, debit)
       SELECT account_id, day, SUM(amount) AS moved, COUNT(*) AS n, SUM(GREATEST(amount, 0)) AS d FROM journal_line WHERE journal_id > ? AND journal_id <= ? GROUP BY account_id, day
       ON DUPLICATE KEY UPDATE amount = amount + VALUES(amount), line_count = line_count + VALUES(line_count), debit = debit + VALUES(debit)`,
    [upTo, to],
  )

/** What a span of journals moved in the bank book, and apart from it in client ledgers, as SQL with the span named twice. */
const bankMoves = (
  span: string,
) => `SELECT bank_account_id, day, amount AS bank, 0 AS ledgers, 0 AS unidentified, 0 AS firm FROM bank_entry WHERE ${span}
  UNION ALL SELECT l.bank_account_id, e.day, 0, e.amount, IF(l.kind = 'unidentified', e.amount, 0), IF(l.kind = 'firm', e.amount, 0)
    FROM ledger_entry e JOIN client_ledger l ON l.id = e.ledger_id WHERE ${span}`
const journals = 'journal_id > ? AND journal_id <= ?'

/** Adds the entries of a span of journals to the days of their bank accounts. */
export const addBankDays = (m: EntityManager, to: number, upTo: number) =>
  run(
    m,
    `INSERT INTO bank_day (bank_account_id, day, bank, ledgers, unidentified, firm)
       SELECT bank_account_id, day, SUM(bank) AS b, SUM(ledgers) AS l, SUM(unidentified) AS u, SUM(firm) AS f FROM (${bankMoves(journals)}) x GROUP BY bank_account_id, day
       ON DUPLICATE KEY UPDATE bank = bank + VALUES(bank), ledgers = ledgers + VALUES(ledgers), unidentified = unidentified + VALUES(unidentified), firm = firm + VALUES(firm)`,
    [upTo, to, upTo, to],
  )

export interface BankSums {
  id: number
  /** By the bank book. */
  bank: number
  /** By the client ledgers, and what of it has no known owner or is the firm's own. */
  ledgers: number
  unidentified: number
  firm: number
}
const bankSumsOf = 'bank_account_id AS id, SUM(bank) AS bank, SUM(ledgers) AS ledgers, SUM(unidentified) AS unidentified, SUM(firm) AS firm'
/** A day after all that is ever booked. */
export const everyDay = '9999-12-31' as Day

/** What each bank account holds at the end of a day, or by all that is booked: sums of days, and what was posted since. */
export async function bankSums(m: EntityManager, to: Day = everyDay): Promise<ReadonlyMap<number, BankSums>> {
  const since = `journal_id > (SELECT up_to FROM account_day_mark WHERE id = 1) AND day <= ?`
  const found = await rows<BankSums>(
    m,
    `SELECT ${bankSumsOf} FROM (
       SELECT bank_account_id, bank, ledgers, unidentified, firm FROM bank_day WHERE day <= ?
       UNION ALL SELECT bank_account_id, bank, ledgers, unidentified, firm FROM (${bankMoves(since)}) s
     ) x GROUP BY bank_account_id`,
    [to, to, to],
  )
  return new Map(found.map((b) => [b.id, b]))
}

/** What a span of journals moved by account and by bank account, read entry by entry. */
export const entriesIn = async (m: EntityManager, from: number, to: number) => ({
  accounts: await rows<{ id: number; amount: number }>(
    m,
    `SELECT account_id AS id, SUM(amount) AS amount FROM journal_line FORCE INDEX (journal_id) WHERE ${journals} GROUP BY account_id`,
    [from, to],
  ),
  banks: await rows<BankSums>(m, `SELECT ${bankSumsOf} FROM (${bankMoves(journals)}) x GROUP BY bank_account_id`, [from, to, from, to]),
})

/** The sums that are kept by day, as they stand. */
export const keptSums = async (m: EntityManager) => ({
  accounts: await rows<{ id: number; amount: number }>(
    m,
    `SELECT account_id AS id, SUM(amount) AS amount FROM account_day GROUP BY account_id`,
  ),
  banks: await rows<BankSums>(m, `SELECT ${bankSumsOf} FROM bank_day GROUP BY bank_account_id`),
})

/** How many lines an account has in a span of days, and their debits and credits: sums of days, and what was posted since. */
export const linesOfAccount = (m: EntityManager, accountId: number, from: Day, to: Day) =>
  row<{ n: number; debit: number; credit: number }>(
    m,
    `SELECT COALESCE(SUM(n), 0) AS n, COALESCE(SUM(debit), 0) AS debit, COALESCE(SUM(debit - amount), 0) AS credit FROM (
       SELECT line_count AS n, debit, amount FROM account_day WHERE account_id = ? AND day BETWEEN ? AND ?
       UNION ALL SELECT 1, GREATEST(amount, 0), amount FROM journal_line
        WHERE journal_id > (SELECT up_to FROM account_day_mark WHERE id = 1) AND account_id = ? AND day BETWEEN ? AND ?
     ) x`,
    [accountId, from, to, accountId, from, to],
  )

/** Up to where the next turn goes, once no journal below it can still come. */
export const markNext = (m: EntityManager) =>
  run(m, `UPDATE account_day_mark SET next_up_to = COALESCE((SELECT MAX(id) FROM journal), 0), seen_at = NOW(6) WHERE id = 1`)

export interface Asked {
  /** The first day that counts; left out, from the beginning. */
  from?: Day | undefined
  to: Day
  /** Closing entries that do not count: a statement of a span leaves all out, a trial balance before closing those of its year. */
  without?: 'all' | Day | undefined
  accountId?: number | undefined
}

/** Closing entries and what undid them, as a table of the database. */
export const closingJournals = (where = '1 = 1') =>
  `(SELECT journal_id FROM closing_journal WHERE ${where} UNION SELECT undone_by FROM closing_journal WHERE undone_by IS NOT NULL AND ${where})`

/** What each account moved in a span, or stands at on a day, debit positive: sums of days, and what was posted since. */
export function moved(m: EntityManager, { from, to, without, accountId }: Asked): Promise<{ id: number; balance: number }[]> {
  const span = `day <= ? AND (? = '' OR day >= ?) AND (? = 0 OR account_id = ?)`
  const closings = `(? = 'all' OR year_to = ?)`
  const values = [to, from ?? '', from ?? '1000-01-01', accountId ?? 0, accountId ?? 0]
  return rows(
    m,
    `SELECT account_id AS id, SUM(amount) AS balance FROM (
       SELECT account_id, SUM(amount) AS amount FROM account_day WHERE ${span} GROUP BY account_id
       UNION ALL SELECT account_id, SUM(amount) FROM journal_line WHERE journal_id > (SELECT up_to FROM account_day_mark WHERE id = 1) AND ${span} GROUP BY account_id
       ${without ? `UNION ALL SELECT l.account_id, -SUM(l.amount) FROM ${closingJournals(closings)} c JOIN journal_line l ON l.journal_id = c.journal_id WHERE l.day <= ? AND (? = '' OR l.day >= ?) AND (? = 0 OR l.account_id = ?) GROUP BY l.account_id` : ''}
     ) x GROUP BY account_id`,
    [...values, ...values, ...(without ? [without, without, without, without, ...values] : [])],
  )
}

/** The columns of a statement as a table of the database, so that all are asked at once. */
export const spansSql = (columns: readonly Span[]) =>
  `(${columns.map((c, n) => `SELECT ${n} AS n, DATE '${c.from}' AS f, DATE '${c.to}' AS t`).join(' UNION ALL ')}) s`

// prettier-ignore

/** What expenses on paid money differ by from what was booked, in each column. */
export const cashShifts = (m: EntityManager, columns: readonly Span[]) =>
  rows<{ accountId: number; n: number; amount: number }>(
    m,
    `SELECT x.account_id AS accountId, s.n, SUM(x.amount) AS amount FROM ${spansSql(columns)} JOIN cash_shift x ON x.day BETWEEN s.f AND s.t GROUP BY x.account_id, s.n`,
  )
