import type { EntityManager } from 'typeorm'
import { run } from '../../platform/database'

/** Says which entries of the books a card processor handed over as one movement of the bank. What is said once stays. */
export async function settledTogether(
  m: EntityManager,
  bankAccountId: number,
  settlement: string,
  journalIds: readonly number[],
): Promise<void> {
  if (!journalIds.length) return
  await run(
    m,
    `INSERT IGNORE INTO bank_settlement (entry_id, settlement) SELECT e.id, ? FROM bank_entry e WHERE e.journal_id IN (?) AND e.bank_account_id = ?`,
    [settlement, journalIds, bankAccountId],
  )
}
