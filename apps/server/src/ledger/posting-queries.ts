import type { Day } from '@heron/core/calendar'
import type { JournalLine, LedgerMove, TrustAccounts } from '@heron/core/ledger'
import type { EntityManager } from 'typeorm'
import { type Ctx, instant } from '../platform/context'
import { row, rows } from '../platform/database'

export interface LedgerLeg extends LedgerMove {
  clearsOn?: Day | null
  text: string
}

/** Trust accounts with the two accounts of the books in which their money stands. */
export async function trustAccounts(m: EntityManager): Promise<TrustAccounts[]> {
  return rows(
    m,
    `SELECT id AS bankAccountId, gl_account_id AS bankGl, liability_account_id AS liabilityGl FROM bank_account WHERE kind <> 'operating'`,
  )
}

export interface JournalHead {
  day: Day
  kind: string
  memo: string
  subject?: string
  subjectId?: number | null
}

/** A journal, before its lines; the one insert of all money. */
export const insertJournal = (m: EntityManager, ctx: Ctx, head: JournalHead) =>
  m.query(`INSERT INTO journal (day, kind, memo, subject, subject_id, user_id, created_at) VALUES (?, ?, ?, ?, ?, ?, ?)`, [
    head.day,
    head.kind,
    head.memo.slice(0, 300),
    head.subject ?? '',
    head.subjectId ?? null,
    ctx.actor.id,
    instant(ctx.clock.now()),
  ])

/** From here on nothing of a journal changes. */
export const insertPosting = (m: EntityManager, ctx: Ctx, journalId: number) =>
  m.query(`INSERT INTO journal_posting (journal_id, posted_at) VALUES (?, ?)`, [journalId, instant(ctx.clock.now())])

/** A journal, and whether it was taken back or takes one back. */
export const journalToTurn = (m: EntityManager, journalId: number) =>
  row<{ day: Day; kind: string; memo: string; reversed: number | null; isReversal: number | null }>(
    m,
    `SELECT j.day, j.kind, j.memo, r.reversal_id AS reversed, r2.journal_id AS isReversal FROM journal j
       LEFT JOIN journal_reversal r ON r.journal_id = j.id LEFT JOIN journal_reversal r2 ON r2.reversal_id = j.id WHERE j.id = ?`,
    [journalId],
  )

/** The lines of a journal in their order. */
export const linesToTurn = (m: EntityManager, journalId: number) =>
  rows<JournalLine>(
    m,
    `SELECT account_id AS account, amount, matter_id AS matterId, timekeeper_id AS timekeeperId, bill_id AS billId FROM journal_line WHERE journal_id = ? ORDER BY id`,
    [journalId],
  )

/** What a journal moved on ledgers; what has not cleared keeps its day of clearing. */
export const ledgersToTurn = (m: EntityManager, day: Day, journalId: number) =>
  rows<LedgerLeg>(
    m,
    `SELECT e.ledger_id AS ledgerId, c.bank_account_id AS bankAccountId, e.amount, e.text, CASE WHEN e.amount > 0 AND e.clears_on > ? THEN e.clears_on END AS clearsOn FROM ledger_entry e JOIN client_ledger c ON c.id = e.ledger_id WHERE e.journal_id = ? ORDER BY e.id`,
    [day, journalId],
  )
