import { addDays, type Day } from '@heron/core/calendar'
import { fiscalYear, type Span } from '@heron/core/ledger'
import { sum } from '@heron/core/money'
import { type EntityManager, IsNull } from 'typeorm'
import type { Ctx } from '../../platform/context'
import { row, rows, run } from '../../platform/database'
import { ClosingJournal } from './entities'
import { balances, chart } from './sums'

interface FirmYears {
  yearEnd: string
  closedTo: Day | null
}

/** When the firm's year ends and up to which day its books are closed, locked where an act asks for it. */
export const firmYears = async (m: EntityManager, lock = ''): Promise<FirmYears> =>
  (await row<FirmYears>(m, `SELECT year_end AS yearEnd, books_closed_to AS closedTo FROM firm LIMIT 1 ${lock}`)) ?? {
    yearEnd: '12-31',
    closedTo: null,
  }

/** How the result of a year is shared among the partners. */
export const sharesOf = (m: EntityManager) =>
  rows<{ accountId: number; name: string; basisPoints: number }>(
    m,
    `SELECT s.account_id AS accountId, CONCAT(a.code, ' ', a.name) AS name, s.basis_points AS basisPoints FROM partner_share s JOIN account a ON a.id = s.account_id ORDER BY a.code`,
  )

// prettier-ignore
/** The closing of a year that stands; undone ones do not count. */
export const closingOf = (m: EntityManager, to: Day) =>
  m.findOne(ClosingJournal, { select: { journalId: true }, where: { yearTo: to, undoneBy: IsNull() } })

/** Income and expenses of a year, before any closing. */
export const resultOf = async (m: EntityManager, year: Span) =>
  (await balances(m, { from: year.from, to: year.to, without: 'all' })).filter(
    (a) => (a.kind === 'income' || a.kind === 'expense') && a.balance !== 0,
  )

/** The last years of the books, the newest first. */
export async function years(ctx: Ctx) {
  const m = ctx.db.manager
  const { yearEnd, closedTo } = await firmYears(m)
  const first = (await row<{ day: Day | null }>(m, `SELECT MIN(day) AS day FROM journal`))?.day
  const list: { from: Day; to: Day; over: boolean; net: number; journalId: number | null }[] = []
  const today = ctx.clock.today()
  for (let year = fiscalYear(today, yearEnd); list.length < 12; year = fiscalYear(addDays(year.from, -1), yearEnd)) {
    const net = -sum((await resultOf(m, year)).map((a) => a.balance)) || 0
    list.push({ ...year, over: year.to < today, net, journalId: (await closingOf(m, year.to))?.journalId ?? null })
    if (!first || year.from <= first) break
  }
  const equity = (await chart(m)).filter((a) => a.kind === 'equity' && a.role !== 'opening clearing' && !a.closed)
  return {
    yearEnd,
    closedTo,
    shares: await sharesOf(m),
    equity: equity.map((a) => ({ id: a.id, name: `${a.code} ${a.name}` })),
    years: list,
  }
}

/** The shares of the partners are written anew. */
export const emptyShares = (m: EntityManager) => run(m, `DELETE FROM partner_share`)

/** The last year that was closed. */
export const lastClosedYear = (m: EntityManager) =>
  row<{ to: Day | null }>(m, `SELECT MAX(year_to) AS \`to\` FROM closing_journal WHERE undone_by IS NULL`)

/** The day of the first journal. */
export const firstJournal = (m: EntityManager) => row<{ day: Day | null }>(m, `SELECT MIN(day) AS day FROM journal`)
