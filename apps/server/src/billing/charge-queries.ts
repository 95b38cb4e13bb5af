import type { ChargeState } from '@heron/core/billing'
import type { EntityManager } from 'typeorm'
import { run } from '../platform/database'

/** What an event of the processor made of a card payment. */
interface Charged {
  method: 'card' | 'bank'
  state: ChargeState
  /** What the processor kept, once it is settled. */
  fee: number | null
  feeJournalId: number | null
  settlement: string | null
  fault: string
}
/** What became of a card payment of a bill, or of a call on account, with the payment or the receipt that it made; a fee that is known stays. */
export const settleCharge = (
  m: EntityManager,
  id: string,
  made: { payment_id: number | null } | { receipt_id: number | null },
  c: Charged,
) => {
  const [[column, madeId] = []] = Object.entries(made)
  return run(
    m,
    `UPDATE card_charge SET method = ?, state = ?, ${column} = ?, fee = COALESCE(fee, ?), fee_journal_id = ?, settlement = ?, fault = ? WHERE id = ?`,
    [c.method, c.state, madeId ?? null, c.fee, c.feeJournalId, c.settlement, c.fault, id],
  )
}
