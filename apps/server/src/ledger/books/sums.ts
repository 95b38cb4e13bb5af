import type { Day } from '@heron/core/calendar'
import type { AccountBalance, AccountKind, AccountRole, Span } from '@heron/core/ledger'
import type { EntityManager } from 'typeorm'
import type { Base } from '../../platform/area'
import { insertMany, row, rows, run } from '../../platform/database'
import { AccountDayMark } from './entities'
import { Account } from '../entities'

/** How many journals are added up at once, so that no statement is long. */
const atOnce = 20_000
/** Longer than any transaction: what was being posted when a mark was seen is done by then. */
const settled = 300

/**
 * Adds what was posted up to a mark of some minutes ago to the sums of its days. Nothing is counted twice or left out: the mark moves
 * in the same transaction, and journals beyond it are added when a figure is asked for.
 */
export async function addUpDays(base: Pick<Base, 'db'>, wait = settled): Promise<void> {
  for (let more = true; more;)
    more = await base.db.transaction(async (m) => {
      const mark = (await row<{ upTo: number; next: number; old: number }>(m, `SELECT up_to AS upTo, next_up_to AS next, seen_at < NOW(6) - INTERVAL ? SECOND AS old FROM account_day_mark WHERE id = 1 FOR UPDATE`, [wait]))! // prettier-ignore
      const to = Math.min(mark.next, mark.upTo + atOnce)
      if (to > mark.upTo && (mark.old || wait === 0)) {
        await run(m, `INSERT INTO account_day (account_id, day, amount) SELECT account_id, day, SUM(amount) AS moved FROM journal_line WHERE journal_id > ? AND journal_id <= ? GROUP BY account_id, day ON DUPLICATE KEY UPDATE amount = amount + VALUES(amount)`, [mark.upTo, to]) // prettier-ignore
        await m.update(AccountDayMark, { id: 1 }, { upTo: to })
        return to < mark.next
      }
      if (to === mark.upTo) await run(m, `UPDATE account_day_mark SET next_up_to = COALESCE((SELECT MAX(id) FROM journal), 0), seen_at = NOW(6) WHERE id = 1`) // prettier-ignore
      return false
    })
}

interface Asked {
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

export interface AccountHead {
  id: number
  code: string
  name: string
  kind: AccountKind
  role: string | null
  parentId: number | null
  closed: boolean
}
export async function chart(m: EntityManager): Promise<AccountHead[]> {
  const list = await m.find(Account, {
    select: { id: true, code: true, name: true, kind: true, role: true, parentId: true, closed: true },
    order: { code: 'ASC' },
  })
  return list.map((a) => ({ ...a, closed: Boolean(a.closed) }))
}

/** The chart with what each account moved in a span, or stands at on a day. */
export async function balances(m: EntityManager, asked: Asked): Promise<(AccountHead & AccountBalance)[]> {
  const found = new Map((await moved(m, asked)).map((a) => [a.id, a.balance]))
  return (await chart(m)).map((a) => ({ ...a, balance: found.get(a.id) ?? 0 }))
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

/** What the account of a purpose stands at on a day, debit positive; nothing where the firm has none. */
export async function accountBalance(m: EntityManager, role: AccountRole, to: Day): Promise<number> {
  const account = (await chart(m)).find((a) => a.role === role)
  return account ? ((await moved(m, { to, accountId: account.id }))[0]?.balance ?? 0) : 0
}

/** The columns of a statement as a table of the database, so that all are asked at once. */
export const spansSql = (columns: readonly Span[]) =>
  `(${columns.map((c, n) => `SELECT ${n} AS n, DATE '${c.from}' AS f, DATE '${c.to}' AS t`).join(' UNION ALL ')}) s`

/** Takes an expense out of, or puts it into, what counts on paid money on a day: owed it does not count, paid it does. */
export const shiftCash = (m: EntityManager, journalId: number, day: Day, shifts: readonly { accountId: number; amount: number }[]) =>
  insertMany(m, 'cash_shift', ['journal_id', 'account_id', 'day', 'amount'], shifts.map((s) => [journalId, s.accountId, day, s.amount])) // prettier-ignore

/** What expenses on paid money differ by from what was booked, in each column. */
export const cashShifts = (m: EntityManager, columns: readonly Span[]) =>
  rows<{ accountId: number; n: number; amount: number }>(
    m,
    `SELECT x.account_id AS accountId, s.n, SUM(x.amount) AS amount FROM ${spansSql(columns)} JOIN cash_shift x ON x.day BETWEEN s.f AND s.t GROUP BY x.account_id, s.n`,
  )
