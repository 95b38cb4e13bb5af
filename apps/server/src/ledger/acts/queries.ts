import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { matterScope, nameFor } from '../../platform/access'
import type { Ctx } from '../../platform/context'
import { literal, row, rows } from '../../platform/database'
import { limit, type Paging } from '../queries'

export interface ReceiptHead {
  id: number
  receiptNo: number
  sheetId: number
  day: Day
  bankAccountId: number
  clientId: number | null
  matterId: number | null
  depositor: string
  kind: string
  reference: string
  amount: number
  /** The entry that credited it, and whose ledger that is; then the ledger of the owner who was found. */
  entryId: number
  ledgerId: number
  /** The day on which it clears, as it was told when it came. */
  clearsOn: Day | null
  ownerLedgerId: number | null
  returned: number
  reversed: number
}
/** A posted receipt with what became of it. */
export const receiptOf = (m: EntityManager, id: number) =>
  row<ReceiptHead>(
    m,
    `SELECT r.id, r.receipt_no AS receiptNo, r.sheet_id AS sheetId, s.day, s.bank_account_id AS bankAccountId, r.client_id AS clientId, r.matter_id AS matterId, r.depositor, r.kind,
            r.reference, r.amount, e.id AS entryId, e.ledger_id AS ledgerId, e.clears_on AS clearsOn, (SELECT o.ledger_id FROM receipt_owner o WHERE o.receipt_id = r.id) AS ownerLedgerId,
            EXISTS (SELECT 1 FROM bank_did d WHERE d.receipt_id = r.id) AS returned, EXISTS (SELECT 1 FROM journal_reversal v WHERE v.journal_id = s.journal_id) AS reversed
       FROM deposit_receipt r JOIN deposit_sheet s ON s.id = r.sheet_id AND s.state = 'posted'
       JOIN ledger_entry e ON e.journal_id = s.journal_id AND e.text LIKE CONCAT('Receipt ', r.receipt_no, ',%') WHERE r.id = ?`,
    [id],
  )

/** Receipts whose owner is not known yet, the oldest first. */
export const unidentified = (ctx: Ctx) =>
  rows<{ id: number; receiptNo: number; sheet: number; day: Day; bank: string; bankAccountId: number; depositor: string; kind: string; text: string; amount: number }>(
    ctx.db.manager,
    `SELECT r.id, r.receipt_no AS receiptNo, s.number AS sheet, s.day, b.name AS bank, b.id AS bankAccountId, r.depositor, r.kind, r.text, r.amount
       FROM deposit_receipt r JOIN deposit_sheet s ON s.id = r.sheet_id AND s.state = 'posted' JOIN bank_account b ON b.id = s.bank_account_id
      WHERE r.client_id IS NULL AND NOT EXISTS (SELECT 1 FROM receipt_owner o WHERE o.receipt_id = r.id) AND NOT EXISTS (SELECT 1 FROM bank_did d WHERE d.receipt_id = r.id)
        AND NOT EXISTS (SELECT 1 FROM journal_reversal v WHERE v.journal_id = s.journal_id)
      ORDER BY s.day, r.id LIMIT 500`,
  ) // prettier-ignore

const open = (ctx: Ctx) => `(l.matter_id IS NULL OR ${matterScope(ctx.actor, 'm', 'trust')})`
const ledgerName = (ctx: Ctx) =>
  `CASE l.kind WHEN 'firm' THEN 'Firm money for bank charges' WHEN 'unidentified' THEN 'Money with no known owner' WHEN 'foundation' THEN 'Interest for the bar foundation'
     ELSE CONCAT(${nameFor(ctx.actor)}, COALESCE(CONCAT(', ', m.number), '')) END`

/** Corrections between clients' ledgers, asked and decided, a page of them; only where both sides are open to the reader. */
export async function corrections(ctx: Ctx, f: Paging & { state: string }) {
  const from = `FROM trust_correction x JOIN ledger_entry e ON e.id = x.entry_id JOIN client_ledger l ON l.id = e.ledger_id JOIN contact c ON c.id = l.client_id LEFT JOIN matter m ON m.id = l.matter_id
      JOIN contact tc ON tc.id = x.client_id LEFT JOIN matter tm ON tm.id = x.matter_id JOIN user_account a ON a.id = x.asked_by LEFT JOIN user_account d ON d.id = x.decided_by
     WHERE ${open(ctx)} AND (x.matter_id IS NULL OR ${matterScope(ctx.actor, 'tm', 'trust')}) AND (? = '' OR x.state = ?)`
  const total = await row<{ n: number }>(ctx.db.manager, `SELECT COUNT(*) AS n ${from}`, [f.state, f.state])
  const list = await rows<{
    id: number
    ledgerId: number
    wrong: string
    right: string
    entry: string
    entryAmount: number
    amount: number
    day: Day
    reason: string
    state: 'asked' | 'posted' | 'refused'
    askedBy: string
    own: number
    decidedBy: string | null
    decision: string
    journalId: number | null
  }>(
    ctx.db.manager,
    `SELECT x.id, l.id AS ledgerId, ${ledgerName(ctx)} AS wrong, CONCAT(${nameFor(ctx.actor, 'tc')}, COALESCE(CONCAT(', ', tm.number), '')) AS \`right\`, e.text AS entry, e.amount AS entryAmount, x.amount, x.day, x.reason, x.state,
            a.name AS askedBy, x.asked_by = ${Number(ctx.actor.id)} AS own, d.name AS decidedBy, x.decision, x.journal_id AS journalId ${from} ORDER BY x.state = 'asked' DESC, x.id DESC ${limit(f)}`,
    [f.state, f.state],
  )
  return { rows: list.map((x) => ({ ...x, own: Boolean(x.own) })), total: total!.n }
}

/** What others ask the reader to agree to: corrections, and payments out of accounts of two people. */
export async function waitsForSecond(ctx: Ctx): Promise<number> {
  const found = await row<{ n: number }>(
    ctx.db.manager,
    `SELECT (SELECT COUNT(*) FROM trust_correction x JOIN ledger_entry e ON e.id = x.entry_id JOIN client_ledger l ON l.id = e.ledger_id LEFT JOIN matter m ON m.id = l.matter_id WHERE x.state = 'asked' AND x.asked_by <> ? AND ${open(ctx)})
       + (SELECT COUNT(*) FROM payment_out p JOIN client_ledger l ON l.id = p.ledger_id JOIN bank_account b ON b.id = l.bank_account_id AND b.two_people LEFT JOIN matter m ON m.id = l.matter_id
            WHERE p.state = 'draft' AND p.approved_by IS NULL AND p.created_by <> ? AND ${open(ctx)})
       + (SELECT COUNT(*) FROM month_request q WHERE q.state = 'asked' AND q.asked_by <> ?) AS n`,
    [ctx.actor.id, ctx.actor.id, ctx.actor.id],
  )
  return found!.n
}

/** Covers of the firm that have not landed yet, or that clients still owe. */
export async function covers(ctx: Ctx) {
  const list = await rows<{ id: number; what: 'returned' | 'charge'; bank: string; ledgerId: number; ledger: string; day: Day; amount: number; cover: number; text: string; journalId: number; landed: Day | null; matched: number; repaid: number }>(
    ctx.db.manager,
    `SELECT x.*, COALESCE((SELECT SUM(r.amount) FROM cover_repaid r WHERE r.did_id = x.id), 0) AS repaid FROM (
       SELECT d.id, d.what, b.name AS bank, l.id AS ledgerId, ${ledgerName(ctx)} AS ledger, d.day, d.amount, d.cover, d.text, d.journal_id AS journalId, (SELECT y.day FROM cover_landed y WHERE y.did_id = d.id) AS landed,
              EXISTS (SELECT 1 FROM bank_entry e JOIN bank_match_entry n ON n.entry_id = e.id WHERE e.journal_id = d.journal_id AND e.bank_account_id = d.bank_account_id AND e.amount > 0) AS matched
         FROM bank_did d JOIN bank_account b ON b.id = d.bank_account_id JOIN client_ledger l ON l.id = d.ledger_id LEFT JOIN contact c ON c.id = l.client_id LEFT JOIN matter m ON m.id = l.matter_id
        WHERE d.cover > 0 AND ${open(ctx)}) x
      HAVING (x.landed IS NULL AND x.matched = 0) OR (x.what = 'returned' AND repaid < x.cover) ORDER BY x.day, x.id LIMIT 500`,
  ) // prettier-ignore
  return list.map(({ landed, matched, ...x }) => ({
    ...x,
    inTransit: landed === null && !matched,
    due: x.what === 'returned' ? x.cover - x.repaid : 0,
  }))
}

/** Interest by year and ledger, as forms for tax ask for it, over the ledgers that are open to the reader. */
export async function interestOf(ctx: Ctx, year: number) {
  const found =
    await rows<{ ledgerId: number; ledger: string; bank: string; taxNumber: string; times: number; amount: number; ledgers: number; together: number }> // prettier-ignore
    (
      ctx.db.manager,
      `SELECT l.id AS ledgerId, ${ledgerName(ctx)} AS ledger, b.name AS bank, COALESCE(c.tax_number, '') AS taxNumber, COUNT(*) AS times, SUM(i.amount) AS amount, COUNT(*) OVER () AS ledgers, SUM(SUM(i.amount)) OVER () AS together
       FROM trust_interest i JOIN client_ledger l ON l.id = i.ledger_id JOIN bank_account b ON b.id = l.bank_account_id LEFT JOIN contact c ON c.id = l.client_id LEFT JOIN matter m ON m.id = l.matter_id
      WHERE i.day BETWEEN ? AND ? AND ${open(ctx)} AND NOT EXISTS (SELECT 1 FROM journal_reversal v WHERE v.journal_id = i.journal_id) GROUP BY l.id ORDER BY b.name, ledger LIMIT 2000`,
      [`${year}-01-01`, `${year}-12-31`],
    )
  // What stands together is of all, though the list may be longer than is shown.
  return { rows: found.map(({ ledgers: _ledgers, together: _together, ...f }) => f), ledgers: found[0]?.ledgers ?? 0, together: found[0]?.together ?? 0 } // prettier-ignore
}

/** Posted receipts that can still go back, found by number, depositor or amount; for what the bank took back. */
export async function receiptsFound(ctx: Ctx, q: string, bankAccountId: number | null) {
  const like = `%${literal(q)}%`
  return rows<{ id: number; receiptNo: number; day: Day; depositor: string; amount: number; client: string }>(
    ctx.db.manager,
    `SELECT r.id, r.receipt_no AS receiptNo, s.day, r.depositor, r.amount, COALESCE(${nameFor(ctx.actor)}, 'Owner not known') AS client
       FROM deposit_receipt r JOIN deposit_sheet s ON s.id = r.sheet_id AND s.state = 'posted' LEFT JOIN contact c ON c.id = r.client_id LEFT JOIN matter m ON m.id = r.matter_id
      WHERE (r.matter_id IS NULL OR ${matterScope(ctx.actor, 'm', 'trust')}) AND (? = 0 OR s.bank_account_id = ?)
        AND (r.receipt_no LIKE ? OR r.depositor LIKE ? OR c.name LIKE ? OR CAST(r.amount / 100 AS CHAR) LIKE ?)
        AND NOT EXISTS (SELECT 1 FROM bank_did d WHERE d.receipt_id = r.id) AND NOT EXISTS (SELECT 1 FROM journal_reversal v WHERE v.journal_id = s.journal_id)
      ORDER BY s.day DESC, r.id DESC LIMIT 12`,
    [bankAccountId ?? 0, bankAccountId ?? 0, like, like, like, like],
  )
}
