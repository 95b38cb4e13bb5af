import type { BookingRule, LineKey, OpenEntry } from '@heron/core/bank'
import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import type { Ctx } from '../../platform/context'
import { row, rows, run } from '../../platform/database'
import { keptFrom } from '../books/journal-queries'
import { bankSums } from '../books/sum-queries'

export interface BankHead {
  id: number
  name: string
  kind: 'pooled' | 'separate' | 'operating'
  ending: string
  glAccountId: number
  startedOn: Day | null
  closedTo: Day | null
  nearDays: number
  staleDays: number
}
const head = `SELECT b.id, b.name, b.kind, b.ending, b.gl_account_id AS glAccountId, b.near_days AS nearDays, b.stale_days AS staleDays, (SELECT s.day FROM bank_start s WHERE s.bank_account_id = b.id) AS startedOn,
    (SELECT r.to_day FROM bank_closed r WHERE r.bank_account_id = b.id) AS closedTo FROM bank_account b`

/** One bank account as it is reconciled. */
export const bankHead = (m: EntityManager, id: number) => row<BankHead>(m, `${head} WHERE b.id = ?`, [id])

/** All bank accounts with what is read of their statements, what is open, and what the book holds. */
export const bankHeads = async (m: EntityManager) => {
  const sums = await bankSums(m)
  const heads = await rows<BankHead & { readTo: Day | null; open: number }>(
    m,
    `SELECT x.*, (SELECT MAX(s.to_day) FROM bank_statement s WHERE s.bank_account_id = x.id) AS readTo,
            (SELECT COUNT(*) FROM bank_line l LEFT JOIN bank_match_line k ON k.line_id = l.id WHERE l.bank_account_id = x.id AND k.line_id IS NULL) AS open
       FROM (${head}) x ORDER BY FIELD(x.kind, 'pooled', 'separate', 'operating'), x.id`,
  )
  return heads.map((b) => ({ ...b, book: sums.get(b.id)?.bank ?? 0 }))
}

/** Lines of statements already taken in of a span, so that none is taken twice. */
export const knownLines = (m: EntityManager, bankId: number, from: Day, to: Day) =>
  rows<LineKey>(
    m,
    `SELECT day, amount, bank_id AS bankId, check_no AS \`check\`, reference FROM bank_line WHERE bank_account_id = ? AND day BETWEEN ? AND ?`,
    [bankId, from, to],
  )

/** What the bank holds at the end of a day, by the statement next to it and the lines between; null where none states a balance. */
export async function bankBalance(m: EntityManager, bankId: number, day: Day): Promise<number | null> {
  const between = async (after: Day, upTo: Day) =>
    (await row<{ n: number }>(m, `SELECT COALESCE(SUM(amount), 0) AS n FROM bank_line WHERE bank_account_id = ? AND counts_on > ? AND counts_on <= ?`, [bankId, after, upTo]))!.n // prettier-ignore
  const before = await row<{ closing: number; toDay: Day }>(
    m,
    `SELECT closing, to_day AS toDay FROM bank_statement WHERE bank_account_id = ? AND closing IS NOT NULL AND to_day <= ? ORDER BY to_day DESC, id DESC LIMIT 1`,
    [bankId, day],
  )
  if (before) return before.closing + (await between(before.toDay, day))
  const after = await row<{ closing: number; toDay: Day }>(
    m,
    `SELECT closing, to_day AS toDay FROM bank_statement WHERE bank_account_id = ? AND closing IS NOT NULL ORDER BY to_day, id LIMIT 1`,
    [bankId],
  )
  return after ? after.closing - (await between(day, after.toDay)) : null
}

export interface LineRow {
  id: number
  day: Day
  countsOn: Day
  amount: number
  check: string
  reference: string
  text: string
  named: string
  matchId: number | null
}
const lineSql = `SELECT l.id, l.day, l.counts_on AS countsOn, l.amount, l.check_no AS \`check\`, l.reference, l.text, COALESCE(n.words, '') AS named, k.match_id AS matchId
  FROM bank_line l LEFT JOIN bank_match_line k ON k.line_id = l.id LEFT JOIN bank_line_name n ON n.line_id = l.id`
/** Lines up to a day that are not in the book by then: matched with nothing, or only with what is dated later. */
export const linesOutside = (m: EntityManager, bankId: number, to: Day, most: number) =>
  rows<LineRow>(
    m,
    `${lineSql} LEFT JOIN bank_match x ON x.id = k.match_id WHERE l.bank_account_id = ? AND l.counts_on <= ? AND (k.line_id IS NULL OR x.entry_day > ?) ORDER BY l.counts_on, l.id LIMIT ?`,
    [bankId, to, to, most],
  )

/** Lines of the bank without a match, the oldest first. */
export const openLines = (m: EntityManager, bankId: number, most: number) =>
  rows<LineRow>(m, `${lineSql} WHERE l.bank_account_id = ? AND k.line_id IS NULL ORDER BY l.day, l.id LIMIT ?`, [bankId, most])

/** Lines of the bank by their ids, each with its account. */
export const linesByIds = (m: EntityManager, ids: readonly number[]) =>
  rows<LineRow & { bankId: number }>(m, `${lineSql.replace('SELECT ', 'SELECT l.bank_account_id AS bankId, ')} WHERE l.id IN (?)`, [ids])

export interface EntryRow extends OpenEntry {
  settlement: string
  journalId: number
  kind: string
  bankId: number
  matchId: number | null
}
/** The card settlement of an entry, as long as none of it is matched: of a part the bank no longer makes one movement. */
const settlementOf = `(SELECT y.settlement FROM bank_settlement y WHERE y.entry_id = e.id AND NOT EXISTS (SELECT 1 FROM bank_settlement z JOIN bank_match_entry zk ON zk.entry_id = z.entry_id WHERE z.settlement = y.settlement))`
/** A deposit sheet stands in the book as the one movement that the bank sees. The number of a check that came in is its payer's. */
const entrySql = (
  ctx: Ctx,
) => `SELECT e.id, e.journal_id AS journalId, e.bank_account_id AS bankId, e.day, e.amount, e.kind, CASE WHEN ${keptFrom(ctx)} THEN e.kind ELSE e.text END AS text, e.reference, k.match_id AS matchId,
    IF(e.kind = 'check' AND e.amount < 0 AND e.reference REGEXP '^[0-9]+$', TRIM(LEADING '0' FROM e.reference), '') AS \`check\`,
    IF(e.kind = 'transfer' AND e.reference LIKE 'Transfer sheet %', e.reference, '') AS sheet, COALESCE(${settlementOf}, '') AS settlement
  FROM bank_entry e JOIN journal j ON j.id = e.journal_id LEFT JOIN bank_match_entry k ON k.entry_id = e.id`
/** Of the book what counts: from the day of the start on, before it only what was still in transit then, or was matched since. */
const counts = (startedOn: Day) =>
  `(e.day >= '${startedOn}' OR k.entry_id IS NOT NULL OR EXISTS (SELECT 1 FROM bank_start_entry s WHERE s.entry_id = e.id))`
/** A check that was voided, and its void: where both stand in the book by a day and the bank has seen neither, it never will. */
const turnedRound = (startedOn: Day, to: Day) =>
  `EXISTS (SELECT 1 FROM journal_reversal v JOIN bank_entry o ON o.journal_id = IF(v.journal_id = e.journal_id, v.reversal_id, v.journal_id) AND o.bank_account_id = e.bank_account_id AND o.amount = -e.amount
     LEFT JOIN bank_match_entry ko ON ko.entry_id = o.id
    WHERE (v.journal_id = e.journal_id OR v.reversal_id = e.journal_id) AND ko.entry_id IS NULL AND o.day <= '${to}'
      AND (o.day >= '${startedOn}' OR EXISTS (SELECT 1 FROM bank_start_entry so WHERE so.entry_id = o.id)))`
/**
 * Entries up to a day that the bank has not seen by then: what is open and counts, and what was matched to a later line. Each part is
 * found by its own index, so that years of matched entries are not looked through.
 */
export const entriesInTransit = (m: EntityManager, ctx: Ctx, b: { id: number; startedOn: Day }, to: Day, most: number) =>
  rows<EntryRow>(
    m,
    `${entrySql(ctx)} JOIN (
         SELECT o.entry_id FROM bank_open_entry o WHERE o.bank_account_id = ? AND o.day BETWEEN ? AND ?
         UNION SELECT s.entry_id FROM bank_start_entry s JOIN bank_open_entry o ON o.entry_id = s.entry_id WHERE o.bank_account_id = ? AND o.day <= ?
         UNION SELECT n.entry_id FROM bank_match x JOIN bank_match_entry n ON n.match_id = x.id WHERE x.bank_account_id = ? AND x.line_day > ?
       ) u ON u.entry_id = e.id
      WHERE e.bank_account_id = ? AND e.day <= ? AND NOT (k.entry_id IS NULL AND ${turnedRound(b.startedOn, to)}) ORDER BY e.day, e.id LIMIT ?`,
    [b.id, b.startedOn, to, b.id, to, b.id, to, b.id, to, most],
  )
/** Entries that a line may be: those that count, and before the start checks of half a year and deposits of ten days. `counted` says which count. */
export const openEntries = (m: EntityManager, ctx: Ctx, b: { id: number; startedOn: Day }, since: Day, most: number) =>
  rows<EntryRow & { counted: number }>(
    m,
    `${entrySql(ctx).replace('SELECT ', `SELECT ${counts(b.startedOn)} AS counted, `)} JOIN bank_open_entry u ON u.entry_id = e.id WHERE u.bank_account_id = ? AND u.day >= ? AND (${counts(b.startedOn)} OR e.amount < 0 OR e.day >= DATE_SUB('${b.startedOn}', INTERVAL 10 DAY)) ORDER BY e.day, e.id LIMIT ?`,
    [b.id, since, most],
  )

/** Entries of the book by their ids, named as far as the reader may see them. */
export const entriesByIds = (m: EntityManager, ctx: Ctx, ids: readonly number[]) =>
  rows<EntryRow>(m, `${entrySql(ctx)} WHERE e.id IN (?)`, [ids])
/** Of before the start, near it, what is marked, and then what could have been in transit. */
export const beforeStart = (m: EntityManager, ctx: Ctx, b: { id: number; startedOn: Day }, since: Day) =>
  rows<EntryRow & { marked: number }>(
    m,
    `${entrySql(ctx).replace('SELECT ', 'SELECT EXISTS (SELECT 1 FROM bank_start_entry s WHERE s.entry_id = e.id) AS marked, ')} JOIN bank_open_entry u ON u.entry_id = e.id WHERE u.bank_account_id = ? AND u.day < ? AND u.day >= ? ORDER BY marked DESC, e.day DESC, e.id DESC LIMIT 1000`,
    [b.id, b.startedOn, since],
  )

/** A line and an entry as pages show them. */
export const lineOut = ({ id, day, countsOn, amount, check, reference, text, named }: LineRow) => ({
  id,
  day,
  countsOn,
  amount,
  check,
  reference,
  text,
  named,
})

/** An entry of the book as it is shown. */
export const entryOut = ({ id, journalId, day, amount, check, text, sheet, settlement }: EntryRow) => ({
  id,
  journalId,
  day,
  amount,
  check,
  text,
  sheet: sheet || (settlement && `Card settlement ${settlement}`),
})

export interface MatchRow {
  id: number
  way: string
  why: string
  difference: number
  named: string
}
/** Matches whose lines fall into a span, newest first. */
export const matchesOf = (m: EntityManager, bankId: number, from: Day, to: Day, most: number) =>
  rows<MatchRow>(
    m,
    `SELECT id, way, why, difference, named FROM bank_match WHERE bank_account_id = ? AND line_day BETWEEN ? AND ? ORDER BY line_day DESC, id DESC LIMIT ?`,
    [bankId, from, to, most],
  )

/** Both sides of matches: lines of the bank and entries of the book. */
export const sidesOf = async (m: EntityManager, ctx: Ctx, ids: readonly number[]) => {
  if (!ids.length) return { lines: [], entries: [] }
  return {
    lines: await rows<LineRow>(m, `${lineSql} WHERE k.match_id IN (?) ORDER BY l.day, l.id`, [ids]),
    entries: await rows<EntryRow>(m, `${entrySql(ctx)} WHERE k.match_id IN (?) ORDER BY e.day, e.id`, [ids]),
  }
}
/** What the bank moved beyond the book in pairs that stand in both records by a day. */
export const matchErrors = (m: EntityManager, bankId: number, to: Day) =>
  rows<{ amount: number; named: string }>(
    m,
    `SELECT difference AS amount, named FROM bank_match WHERE bank_account_id = ? AND difference <> 0 AND line_day <= ? AND entry_day <= ?`,
    [bankId, to, to],
  )

/** What book, ledgers and unidentified money of an account hold at the end of a day. */
export const balancesAt = async (m: EntityManager, b: BankHead, to: Day) => {
  const sums = (await bankSums(m, to)).get(b.id)
  return {
    book: sums?.bank ?? 0,
    ledgers: b.kind === 'operating' ? null : (sums?.ledgers ?? 0),
    unidentified: b.kind === 'operating' ? 0 : (sums?.unidentified ?? 0),
  }
}
/** Each client's balance of a trust account at the end of a day. */
export const clientBalances = (m: EntityManager, bankId: number, to: Day) =>
  rows<{ client: string; matter: string; balance: number }>(
    m,
    `SELECT CASE l.kind WHEN 'firm' THEN 'Firm money for bank charges' WHEN 'unidentified' THEN 'Money with no known owner' ELSE c.name END AS client, COALESCE(x.number, '') AS matter, SUM(e.amount) AS balance
       FROM ledger_entry e JOIN client_ledger l ON l.id = e.ledger_id LEFT JOIN contact c ON c.id = l.client_id LEFT JOIN matter x ON x.id = l.matter_id
      WHERE l.bank_account_id = ? AND e.day <= ? GROUP BY l.id HAVING balance <> 0 ORDER BY client, matter`,
    [bankId, to],
  )

/** Matches in one statement. */
export const insertMatches = (m: EntityManager, values: (string | number | null)[][]) =>
  m.query(
    `INSERT INTO bank_match (bank_account_id, way, why, difference, named, line_day, entry_day, user_id, at) VALUES ${values.map(() => '(?, ?, ?, ?, ?, ?, ?, ?, ?)').join(', ')}`,
    values.flat(),
  )

/** The account of a match. */
export const bankOfMatch = (m: EntityManager, id: number) =>
  row<{ bankId: number }>(m, `SELECT bank_account_id AS bankId FROM bank_match WHERE id = ?`, [id])

/** An entry of before was in transit when the account was taken up. */
export const addInTransit = (m: EntityManager, inTransit: boolean, id: number) =>
  run(m, inTransit ? `INSERT IGNORE INTO bank_start_entry (entry_id) VALUES (?)` : `DELETE FROM bank_start_entry WHERE entry_id = ?`, [id])

/** Which of these accounts are banks. */
export const bankAccountsAmong = (m: EntityManager, parts: readonly { accountId: number; amount: number }[]) =>
  rows<{ gl: number }>(m, `SELECT gl_account_id AS gl FROM bank_account WHERE gl_account_id IN (?)`, [parts.map((p) => p.accountId)])

export interface Rule extends BookingRule {
  accountId: number
  account: string
  memo: string
}

/** The firm's own rules in the order in which they are tried. */
export const rulesOf = (m: EntityManager) =>
  rows<Rule>(
    m,
    `SELECT r.id, r.words, r.way, r.amount, r.account_id AS accountId, CONCAT(a.code, ' ', a.name) AS account, r.memo FROM bank_rule r JOIN account a ON a.id = r.account_id ORDER BY r.id`,
  )

/** An account that is open, and whether it is a bank’s. */
export const accountForRule = (m: EntityManager, accountId: number) =>
  row<{ kind: string; bank: number }>(
    m,
    `SELECT a.kind, EXISTS (SELECT 1 FROM bank_account b WHERE a.id IN (b.gl_account_id, b.liability_account_id)) AS bank FROM account a WHERE a.id = ? AND NOT a.closed`,
    [accountId],
  )

/** A rule, by the columns of its form. */
export const changeRule = (m: EntityManager, values: (string | number | null)[], id: number) =>
  run(m, `UPDATE bank_rule SET words = ?, way = ?, amount = ?, account_id = ?, memo = ? WHERE id = ?`, [...values, id])

/** How many rules there are. */
export const countRules = (m: EntityManager) => row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM bank_rule`)

/** A rule, by the columns of its form. */
export const addRule = (m: EntityManager, ctx: Ctx, values: (string | number | null)[]) =>
  m.query(`INSERT INTO bank_rule (words, way, amount, account_id, memo, made_by) VALUES (?, ?, ?, ?, ?, ?)`, [...values, ctx.actor.id])

/** Entries of a processor’s settlement come to the bank together. */
export const keepSettlement = (m: EntityManager, settlement: string, journalIds: readonly number[], bankAccountId: number) =>
  run(
    m,
    `INSERT IGNORE INTO bank_settlement (entry_id, settlement) SELECT e.id, ? FROM bank_entry e WHERE e.journal_id IN (?) AND e.bank_account_id = ?`,
    [settlement, journalIds, bankAccountId],
  )
