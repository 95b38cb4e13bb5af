import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import type { Ctx } from '../../platform/context'
import { row, rows } from '../../platform/database'
import { keptFrom } from '../books/journal-queries'

/** Where a receipt stands whose owner became known later. */
export const entryOfReceipt = (m: EntityManager, id: number) =>
  row<{ id: number }>(
    m,
    `SELECT t.id FROM receipt_owner o JOIN ledger_entry t ON t.journal_id = o.journal_id AND t.amount > 0 WHERE o.receipt_id = ?`,
    [id],
  )

/** Where corrections took an entry. */
export const correctedTo = (m: EntityManager, entryId: number) =>
  rows<{ entryId: number; ledgerId: number; amount: number }>(
    m,
    `SELECT t.id AS entryId, t.ledger_id AS ledgerId, x.amount FROM trust_correction x JOIN ledger_entry t ON t.journal_id = x.journal_id AND t.amount > 0 WHERE x.entry_id = ? AND x.state = 'posted'`,
    [entryId],
  )

/** The ledgers of a separate account; two are enough to tell that there are several. */
export const clientLedgersOf = (m: EntityManager, bankAccountId: number, chosen: number | null) =>
  rows<{ id: number }>(
    m,
    `SELECT id FROM client_ledger WHERE bank_account_id = ? AND kind = 'client' AND (? = 0 OR id = ?) ORDER BY id LIMIT 2`,
    [bankAccountId, chosen ?? 0, chosen ?? 0],
  )

/** What the bank did, and how much of its cover was paid back, locked. */
export const lockedCover = (m: EntityManager, id: number) =>
  row<{ id: number; what: string; day: Day; cover: number; repaid: number; ledgerId: number; landed: string | null }>(
    m,
    `SELECT d.id, d.what, d.day, d.cover, d.ledger_id AS ledgerId, COALESCE((SELECT SUM(r.amount) FROM cover_repaid r WHERE r.did_id = d.id), 0) AS repaid,
            (SELECT l.day FROM cover_landed l WHERE l.did_id = d.id) AS landed
       FROM bank_did d WHERE d.id = ? AND d.cover > 0 FOR UPDATE`,
    [id],
  )

interface Entry {
  id: number
  ledgerId: number
  journalId: number
  day: Day
  amount: number
  clearsOn: Day | null
  text: string
  correctedBefore: number
  kind: string
}

/** An entry of a ledger with what was corrected of it, or is asked to be. */
export const entryOf = (m: EntityManager, id: number, except = 0) =>
  row<Entry>(
    m,
    `SELECT e.id, e.ledger_id AS ledgerId, e.journal_id AS journalId, e.day, e.amount, e.clears_on AS clearsOn, e.text, j.kind,
            COALESCE((SELECT SUM(x.amount) FROM trust_correction x WHERE x.entry_id = e.id AND x.state <> 'refused' AND x.id <> ?), 0) AS correctedBefore
       FROM ledger_entry e JOIN journal j ON j.id = e.journal_id WHERE e.id = ?`,
    [except, id],
  )

/** Whether a journal was taken back, or takes one back. */
export const reversedOrReverses = (m: EntityManager, journalId: number) =>
  row(m, `SELECT 1 FROM journal_reversal WHERE journal_id = ? OR reversal_id = ?`, [journalId, journalId])

/** Whether a bank entry of a journal is matched. */
export const matchedEntry = (m: EntityManager, journalId: number) =>
  row(m, `SELECT 1 FROM bank_entry e JOIN bank_match_entry x ON x.entry_id = e.id WHERE e.journal_id = ? LIMIT 1`, [journalId])

/** Whether a ledger entry of a journal was corrected. */
export const correctedEntry = (m: EntityManager, journalId: number) =>
  row(
    m,
    `SELECT 1 FROM ledger_entry e JOIN trust_correction x ON x.entry_id = e.id AND x.state <> 'refused' WHERE e.journal_id = ? LIMIT 1`,
    [journalId],
  )

/** Whether a receipt of a sheet went on to its owner, or came back. */
export const takenFromSheet = (m: EntityManager, journalId: number) =>
  row(
    m,
    `SELECT 1 FROM deposit_sheet s JOIN deposit_receipt r ON r.sheet_id = s.id WHERE s.journal_id = ?
        AND (EXISTS (SELECT 1 FROM receipt_owner o WHERE o.receipt_id = r.id) OR EXISTS (SELECT 1 FROM bank_did d WHERE d.receipt_id = r.id)) LIMIT 1`,
    [journalId],
  )

/** What kind of journal is to be taken back. */
export const journalToReverse = (m: EntityManager, ctx: Ctx, id: number) =>
  row<{ kind: string; subjectId: number | null; ledgers: number; hidden: number }>(
    m,
    `SELECT j.kind, j.subject_id AS subjectId, EXISTS (SELECT 1 FROM ledger_entry e WHERE e.journal_id = j.id) AS ledgers, ${keptFrom(ctx)} AS hidden FROM journal j WHERE j.id = ?`,
    [id],
  )

/** The banks of a journal, locked in the order of their ids. */
export const lockBanksOf = (m: EntityManager, id: number) =>
  m.query(
    `SELECT b.id FROM bank_account b WHERE b.id IN (SELECT e.bank_account_id FROM bank_entry e WHERE e.journal_id = ?) ORDER BY b.id FOR UPDATE`,
    [id],
  )
