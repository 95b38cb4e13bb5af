import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { matterScope } from '../../platform/access'
import type { Ctx } from '../../platform/context'
import { row, rows } from '../../platform/database'

const who = `CASE l.kind WHEN 'client' THEN c.name WHEN 'firm' THEN 'Firm money for bank charges' WHEN 'foundation' THEN 'Interest for the bar foundation' ELSE 'Money with no known owner' END`

const owner = `JOIN client_ledger l ON l.id = e.ledger_id LEFT JOIN contact c ON c.id = l.client_id LEFT JOIN matter mt ON mt.id = l.matter_id`

/** All client ledgers of a bank, by client. */
export const ledgersOfBank = (m: EntityManager, bankId: number) =>
  rows<{ id: number; client: string; matter: string | null }>(
    m,
    `SELECT l.id, ${who} AS client, mt.number AS matter FROM client_ledger l LEFT JOIN contact c ON c.id = l.client_id LEFT JOIN matter mt ON mt.id = l.matter_id WHERE l.bank_account_id = ? ORDER BY client, l.id`,
    [bankId],
  )

/** What ledgers held before a day. */
export const heldBefore = (m: EntityManager, from: Day, ids: number[]) =>
  rows<{ id: number; balance: number }>(
    m,
    `SELECT l.id, COALESCE((SELECT d.balance FROM ledger_day d WHERE d.ledger_id = l.id AND d.day < ? ORDER BY d.day DESC LIMIT 1), 0) AS balance FROM client_ledger l WHERE l.id IN (?)`,
    [from, ids],
  )

/** Entries of ledgers in a span, in their order. */
export const entriesBetween = (m: EntityManager, ids: number[], from: Day, to: Day) =>
  rows<{ ledgerId: number; day: Day; text: string; amount: number; clearsOn: Day | null; journal: number }>(
    m,
    `SELECT e.ledger_id AS ledgerId, e.day, e.text, e.amount, e.clears_on AS clearsOn, e.journal_id AS journal FROM ledger_entry e WHERE e.ledger_id IN (?) AND e.day BETWEEN ? AND ? ORDER BY e.ledger_id, e.day, e.id`,
    [ids, from, to],
  )

/** Whether any ledger is kept from whoever asks. */
export const hiddenAmong = (m: EntityManager, ctx: Ctx, bankId: number) =>
  row(
    m,
    `SELECT 1 FROM client_ledger l JOIN matter m ON m.id = l.matter_id WHERE (? = 0 OR l.bank_account_id = ?) AND NOT ${matterScope(ctx.actor, 'm', 'trust')} LIMIT 1`,
    [bankId, bankId],
  )

/** Reports of the months that were closed in a span. */
export const reportsBetween = (m: EntityManager, span: (number | Day)[]) =>
  rows<{ toDay: Day; fileId: number }>(
    m,
    `SELECT to_day AS toDay, file_id AS fileId FROM reconciliation WHERE bank_account_id = ? AND to_day BETWEEN ? AND ? ORDER BY to_day`,
    span,
  )

/** A table of an archive: its name, what it is, and the statement it is read by. */
export type AskedTable = [name: string, words: string, sql: string, values: (string | number | null)[]]

/** The journals that the bar’s auditor reads first. */
export function journalTables(bankId: number, from: Day, to: Day): AskedTable[] {
  const span = [bankId, from, to]
  return [
    ['receipts.csv', 'Receipts journal: every receipt, with whoever paid, for whom, and the deposit sheet it went to the bank with.',
      `SELECT s.day, r.receipt_no AS receipt, s.number AS sheet, COALESCE(c.name, 'Owner not known') AS client, mt.number AS matter, r.depositor, r.kind, r.reference, r.text, r.amount AS amount_cents, s.journal_id AS journal
         FROM deposit_receipt r JOIN deposit_sheet s ON s.id = r.sheet_id AND s.state = 'posted' LEFT JOIN contact c ON c.id = r.client_id LEFT JOIN matter mt ON mt.id = r.matter_id WHERE s.bank_account_id = ? AND s.day BETWEEN ? AND ? ORDER BY s.day, r.id`, span],
    ['disbursements.csv', 'Disbursements journal: every movement out of the bank, by check, wire or transfer.',
      `SELECT e.day, e.kind, e.reference, e.text, -e.amount AS amount_cents, e.journal_id AS journal FROM bank_entry e WHERE e.bank_account_id = ? AND e.amount < 0 AND e.day BETWEEN ? AND ? ORDER BY e.day, e.id`, span],
    ['bank-book.csv', 'The bank book: every movement as the bank sees it.',
      `SELECT e.day, e.kind, e.reference, e.text, e.amount AS amount_cents, e.journal_id AS journal, j.memo FROM bank_entry e JOIN journal j ON j.id = e.journal_id WHERE e.bank_account_id = ? AND e.day BETWEEN ? AND ? ORDER BY e.day, e.id`, span],
  ] // prettier-ignore
}

/** Listings of ledgers, and what else an auditor asks after them. */
export function listingTables(bankId: number, from: Day, to: Day): AskedTable[] {
  const span = [bankId, from, to]
  return [
    ['trial-listing.csv', 'Trial listing: what each ledger held at the close of each day on which it moved.',
      `SELECT e.day, l.id AS ledger, ${who} AS client, mt.number AS matter, e.balance AS balance_cents FROM ledger_day e ${owner} WHERE l.bank_account_id = ? AND e.day BETWEEN ? AND ? ORDER BY e.day, client, l.id`, span],
    ['listing-at-the-end.csv', `Every ledger as it stood at the close of ${to}.`,
      `SELECT l.id AS ledger, ${who} AS client, mt.number AS matter, (SELECT d.balance FROM ledger_day d WHERE d.ledger_id = l.id AND d.day <= ? ORDER BY d.day DESC LIMIT 1) AS balance_cents
         FROM client_ledger l LEFT JOIN contact c ON c.id = l.client_id LEFT JOIN matter mt ON mt.id = l.matter_id WHERE l.bank_account_id = ? HAVING balance_cents <> 0 ORDER BY client, l.id`, [to, bankId]],
    ['transfers-to-firm.csv', 'Trust money that went to the firm, each with the bill it paid.',
      `SELECT j.day, b.number AS bill, b.issued_on AS issued, b.total AS bill_cents, mt.number AS matter, c.name AS payer, -SUM(e.amount) AS amount_cents, j.id AS journal
         FROM journal j JOIN ledger_entry e ON e.journal_id = j.id JOIN client_ledger l ON l.id = e.ledger_id JOIN bill b ON b.id = j.subject_id JOIN matter mt ON mt.id = b.matter_id JOIN contact c ON c.id = b.payer_id
        WHERE j.kind = 'bill from trust' AND l.bank_account_id = ? AND j.day BETWEEN ? AND ? GROUP BY j.id ORDER BY j.day, j.id`, span],
    ['moves-and-corrections.csv', 'Money moved between ledgers of one client, owners that were found, and corrections with who asked and who agreed.',
      `SELECT j.day, j.kind, j.memo, e.amount AS amount_cents, ${who} AS client, mt.number AS matter, a.name AS asked_by, d.name AS agreed_by, j.id AS journal
         FROM journal j JOIN ledger_entry e ON e.journal_id = j.id ${owner} LEFT JOIN trust_correction x ON x.journal_id = j.id LEFT JOIN user_account a ON a.id = x.asked_by LEFT JOIN user_account d ON d.id = x.decided_by
        WHERE j.kind IN ('moved', 'owner found', 'correction') AND l.bank_account_id = ? AND j.day BETWEEN ? AND ? ORDER BY j.day, j.id, e.id`, span],
    ['what-the-bank-did.csv', 'Returned deposits and charges, with the firm’s cover of each.',
      `SELECT d.day, d.what, d.text, d.amount AS amount_cents, d.cover AS cover_cents, ${who} AS client, d.journal_id AS journal FROM bank_did d JOIN client_ledger l ON l.id = d.ledger_id LEFT JOIN contact c ON c.id = l.client_id WHERE d.bank_account_id = ? AND d.day BETWEEN ? AND ? ORDER BY d.day, d.id`, span],
    ['overrides.csv', 'Uncleared money that was spent on somebody’s word, and why.',
      `SELECT j.day, u.name AS who, o.reason, ${who} AS client, mt.number AS matter, j.id AS journal FROM clearing_override o JOIN journal j ON j.id = o.journal_id JOIN user_account u ON u.id = o.user_id JOIN client_ledger l ON l.id = o.ledger_id LEFT JOIN contact c ON c.id = l.client_id LEFT JOIN matter mt ON mt.id = l.matter_id
        WHERE l.bank_account_id = ? AND j.day BETWEEN ? AND ? ORDER BY j.day, j.id`, span],
  ] // prettier-ignore
}

/** The whole set of books, table by table. */
export const bookTables = (to: Day): AskedTable[] => [
    ['accounts.csv', 'The chart of accounts; kind is one of asset, liability, equity, income, expense.', `SELECT a.code, a.name, a.kind, p.code AS parent, a.closed, a.role FROM account a LEFT JOIN account p ON p.id = a.parent_id ORDER BY a.code`, []],
    ['journals.csv', 'Every journal: its day, kind and words, who posted it, and which it reverses.', `SELECT j.id AS journal, j.day, j.kind, j.memo, j.subject, j.subject_id, u.name AS posted_by, p.posted_at, r.journal_id AS reverses FROM journal j JOIN journal_posting p ON p.journal_id = j.id JOIN user_account u ON u.id = j.user_id LEFT JOIN journal_reversal r ON r.reversal_id = j.id WHERE j.day <= ? ORDER BY j.id`, [to]],
    ['lines.csv', 'The lines of journals; debits above zero, credits below. Each journal comes to nothing.', `SELECT l.journal_id AS journal, l.day, a.code AS account, l.amount AS amount_cents, mt.number AS matter, u.name AS timekeeper, b.number AS bill FROM journal_line l JOIN account a ON a.id = l.account_id LEFT JOIN matter mt ON mt.id = l.matter_id LEFT JOIN user_account u ON u.id = l.timekeeper_id LEFT JOIN bill b ON b.id = l.bill_id WHERE l.day <= ? ORDER BY l.id`, [to]],
    ['bank-entries.csv', 'Movements of bank accounts as the bank sees them.', `SELECT e.journal_id AS journal, b.name AS bank, e.day, e.amount AS amount_cents, e.kind, e.reference, e.text FROM bank_entry e JOIN bank_account b ON b.id = e.bank_account_id WHERE e.day <= ? ORDER BY e.id`, [to]],
    ['client-ledger-entries.csv', 'Movements of client ledgers; above zero is money held for the client.', `SELECT e.journal_id AS journal, b.name AS bank, l.id AS ledger, ${who} AS client, mt.number AS matter, e.day, e.amount AS amount_cents, e.clears_on, e.text FROM ledger_entry e ${owner} JOIN bank_account b ON b.id = l.bank_account_id WHERE e.day <= ? ORDER BY e.id`, [to]],
    ['bills.csv', 'Bills to clients as they were issued; a void one has a payment of that kind for all of it.', `SELECT b.number AS bill, b.journal_id AS journal, mt.number AS matter, c.name AS payer, b.issued_on, b.due_on, b.fees AS fees_cents, b.hard_costs AS hard_costs_cents, b.soft_costs AS soft_costs_cents, b.discount AS discount_cents, b.tax AS tax_cents, b.total AS total_cents FROM bill b JOIN matter mt ON mt.id = b.matter_id JOIN contact c ON c.id = b.payer_id WHERE b.issued_on <= ? ORDER BY b.id`, [to]],
    ['payments.csv', 'What was received for bills, and what else lessened them: credit notes, write-offs, voids.', `SELECT p.id AS payment, p.journal_id AS journal, p.day, p.kind, c.name AS payer, p.amount AS amount_cents, p.reference FROM payment p JOIN contact c ON c.id = p.payer_id WHERE p.day <= ? ORDER BY p.id`, [to]],
    ['applied.csv', 'Which payment went to which bill, and on what day; below zero what was taken off again.', `SELECT a.payment_id AS payment, b.number AS bill, a.applied_on, SUM(a.amount) AS amount_cents FROM allocation a JOIN bill b ON b.id = a.bill_id WHERE a.applied_on <= ? GROUP BY a.payment_id, a.bill_id, b.number, a.applied_on ORDER BY a.payment_id, a.bill_id, a.applied_on`, [to]],
    ['vendor-bills.csv', 'Bills of vendors, of the firm’s own or of matters; a void one says since when.', `SELECT v.id AS vendor_bill, v.journal_id AS journal, c.name AS vendor, v.number, v.day, v.due_on, v.discount AS discount_cents, v.discount_on, v.total AS total_cents, v.state, v.void_on, v.memo FROM vendor_bill v JOIN contact c ON c.id = v.vendor_id WHERE v.day <= ? ORDER BY v.id`, [to]],
    ['vendor-bill-lines.csv', 'What stands on them: an account of the firm’s own, or the matter whose cost it is.', `SELECT l.bill_id AS vendor_bill, a.code AS account, mt.number AS matter, l.text, l.amount AS amount_cents FROM vendor_bill_line l JOIN vendor_bill v ON v.id = l.bill_id LEFT JOIN account a ON a.id = l.account_id LEFT JOIN cost_entry k ON k.id = l.cost_id LEFT JOIN matter mt ON mt.id = k.matter_id WHERE v.day <= ? ORDER BY l.id`, [to]],
    ['vendor-payments.csv', 'What was paid to vendors, bill by bill, with the discount that they let off.', `SELECT f.id AS payment, f.journal_id AS journal, b.name AS bank, f.day, f.method, f.check_no, f.payee_name AS payee, x.bill_id AS vendor_bill, x.amount AS amount_cents, x.discount AS discount_cents, f.state FROM vendor_part x JOIN firm_payment f ON f.id = x.payment_id JOIN bank_account b ON b.id = f.bank_account_id WHERE f.day <= ? ORDER BY f.id, x.bill_id`, [to]],
] // prettier-ignore

/** So many rows of a table, after those that were read. */
export const pageOfTable = (m: EntityManager, sql: string, values: (string | number | null)[], atOnce: number, read: number) =>
  rows<Record<string, string | number | null>>(m, `${sql} LIMIT ${Number(atOnce)} OFFSET ${Number(read)}`, values)
