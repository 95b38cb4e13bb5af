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
    `INSERT INTO account_day (account_id, day, amount) SELECT account_id, day, SUM(amount) AS moved FROM journal_line WHERE journal_id > ? AND journal_id <= ? GROUP BY account_id, day ON DUPLICATE KEY UPDATE amount = amount + VALUES(amount)`,
    [upTo, to],
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

/** Accounts whose sums of days differ from their lines; empty where all is well. */
export const wrongSums = (m: EntityManager) =>
  rows<{ accountId: number; off: number }>(
    m,
    `SELECT account_id AS accountId, SUM(amount) AS off FROM (
       SELECT account_id, SUM(amount) AS amount FROM account_day GROUP BY account_id
       UNION ALL SELECT account_id, -SUM(amount) FROM journal_line WHERE journal_id <= (SELECT up_to FROM account_day_mark WHERE id = 1) GROUP BY account_id) x
      GROUP BY account_id HAVING off <> 0`,
  )

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
