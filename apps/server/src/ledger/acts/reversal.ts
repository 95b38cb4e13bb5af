import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { areas } from '../../platform/area'
import { audit } from '../../platform/audit'
import { may, type Ctx } from '../../platform/context'
import { work } from '../../platform/database'
import { notFound, Problem, refused } from '../../platform/problem'
import { reversible } from '../books/journals'
import { reverse } from '../door'
import { receiptsWithFee } from '../queries'
import { requirePast } from './moves'
import { correctedEntry, journalToReverse, lockBanksOf, matchedEntry, takenFromSheet } from './act-queries'

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
  const matched = await matchedEntry(m, journalId)
  if (matched)
    throw refused(
      'reconciled-already',
      `${what} is matched with a line of the bank, which has done it. Take the match apart first if that is wrong; else book what the bank did next.`,
    )
}

/** Whether an entry of it was corrected to another ledger, or is asked to be: then it does not go back to the one it came from. */
export async function requireUncorrected(m: EntityManager, journalId: number): Promise<void> {
  const corrected = await correctedEntry(m, journalId)
  if (corrected)
    throw refused('not-reversible', 'An entry of this was corrected to another ledger, or somebody asks for it. Correct it back first.')
}

/** What of a posted sheet was used since, so that it does not go back as a whole. */
async function requireWholeSheet(m: EntityManager, journalId: number): Promise<void> {
  const used = await takenFromSheet(m, journalId)
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
    const j = await journalToReverse(m, ctx, id)
    if (!j || j.hidden) throw notFound('journal')
    if (j.ledgers && !may(ctx.actor, 'trust.post'))
      throw new Problem(403, 'trust-right', 'This moves trust money. Ask somebody who keeps trust accounts.')
    if (!reversible.has(j.kind))
      throw refused('not-reversible', instead[j.kind] ?? 'This is undone by the act that made it, at its own page.')
    // Whoever matches holds the account; the journal's rows are read under its lock.
    await lockBanksOf(m, id)
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
