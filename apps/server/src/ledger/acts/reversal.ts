import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { areas } from '../../platform/area'
import { audit } from '../../platform/audit'
import { may, type Ctx } from '../../platform/context'
import { row, work } from '../../platform/database'
import { notFound, Problem, refused } from '../../platform/problem'
import { keptFrom, reversible } from '../books/journals'
import { reverse } from '../door'
import { receiptsWithFee } from '../queries'
import { requirePast } from './moves'

const instead: Record<string, string> = {
  'payment out': 'Void the payment under Trust, Payments out.',
  payment: 'Reverse the payment at its bill.',
  correction: 'A correction is mended by another correction.',
  'owner found': 'If the owner is another, ask for a correction of the entry on their ledger.',
  'returned deposit': 'What the bank did is not reversed. If the bank corrects it, deposit what it credits.',
  'bank charge': 'What the bank did is not reversed. If the bank corrects it, put firm money into the account.',
}

/** Whether a statement of the bank shows it already: then it happened, and is not reversed. */
export async function requireUnmatched(m: EntityManager, journalId: number, what: string): Promise<void> {
  const matched = await row(m, `SELECT 1 FROM bank_entry e JOIN bank_match_entry x ON x.entry_id = e.id WHERE e.journal_id = ? LIMIT 1`, [
    journalId,
  ])
  if (matched)
    throw refused(
      'reconciled-already',
      `${what} is matched with a line of the bank, which has done it. Take the match apart first if that is wrong; else book what the bank did next.`,
    )
}

/** Whether an entry of it was corrected to another ledger, or is asked to be: then it does not go back to the one it came from. */
export async function requireUncorrected(m: EntityManager, journalId: number): Promise<void> {
  const corrected = await row(m, `SELECT 1 FROM ledger_entry e JOIN trust_correction x ON x.entry_id = e.id AND x.state <> 'refused' WHERE e.journal_id = ? LIMIT 1`, [journalId]) // prettier-ignore
  if (corrected)
    throw refused('not-reversible', 'An entry of this was corrected to another ledger, or somebody asks for it. Correct it back first.')
}

/** What of a posted sheet was used since, so that it does not go back as a whole. */
async function requireWholeSheet(m: EntityManager, journalId: number): Promise<void> {
  const used = await row(
    m,
    `SELECT 1 FROM deposit_sheet s JOIN deposit_receipt r ON r.sheet_id = s.id WHERE s.journal_id = ?
        AND (EXISTS (SELECT 1 FROM receipt_owner o WHERE o.receipt_id = r.id) OR EXISTS (SELECT 1 FROM bank_did d WHERE d.receipt_id = r.id)) LIMIT 1`,
    [journalId],
  )
  if (used)
    throw refused(
      'not-reversible',
      'A receipt of this sheet was credited to its owner or returned. A single line is mended by a correction.',
    )
}

/** The mirrored entry of a journal, linked both ways, on a day from the original's on; refused where a ledger would fall below zero. */
export const reverseJournal = (ctx: Ctx, id: number, day: Day, reason: string): Promise<{ journalId: number }> =>
  work(ctx, async (m) => {
    requirePast(ctx, day)
    const j = await row<{ kind: string; subjectId: number | null; ledgers: number; hidden: number }>(
      m,
      `SELECT j.kind, j.subject_id AS subjectId, EXISTS (SELECT 1 FROM ledger_entry e WHERE e.journal_id = j.id) AS ledgers, ${keptFrom(ctx)} AS hidden FROM journal j WHERE j.id = ?`,
      [id],
    )
    if (!j || j.hidden) throw notFound('journal')
    if (j.ledgers && !may(ctx.actor, 'trust.post'))
      throw new Problem(403, 'trust-right', 'This moves trust money. Ask somebody who keeps trust accounts.')
    if (!reversible.has(j.kind))
      throw refused('not-reversible', instead[j.kind] ?? 'This is undone by the act that made it, at its own page.')
    // Whoever matches holds the account; the journal's rows are read under its lock.
    await m.query(
      `SELECT b.id FROM bank_account b WHERE b.id IN (SELECT e.bank_account_id FROM bank_entry e WHERE e.journal_id = ?) ORDER BY b.id FOR UPDATE`,
      [id],
    )
    await requireUnmatched(m, id, 'This')
    await requireUncorrected(m, id)
    if (j.kind === 'deposit') await requireWholeSheet(m, id)
    const as = j.kind === 'deposit' ? { kind: 'sheet reversed', subject: 'deposit sheet', subjectId: j.subjectId } : {}
    const journalId = await reverse(m, ctx, id, day, reason, as, { toOwner: j.kind === 'deposit' })
    if (j.kind === 'deposit')
      for (const r of await receiptsWithFee(m, id)) for (const own of areas()) await own.atReceiptReversed?.(m, ctx, r.id, day, reason)
    await audit(m, ctx, { kind: 'reversed', text: `Journal ${id} reversed: ${reason}`, subject: 'journal', subjectId: journalId })
    return { journalId }
  })
