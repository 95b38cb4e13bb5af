import type { EntityManager } from 'typeorm'
import { keepSettlement } from './queries'

/** Says which entries of the books a card processor handed over as one movement of the bank. What is said once stays. */
export async function settledTogether(
  m: EntityManager,
  bankAccountId: number,
  settlement: string,
  journalIds: readonly number[],
): Promise<void> {
  if (!journalIds.length) return
  await keepSettlement(m, settlement, journalIds, bankAccountId)
}
