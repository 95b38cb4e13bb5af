import type { EntityManager } from 'typeorm'
import { rows } from '../../platform/database'

/** What of a ledger is held, and why. */
export const holdsOf = (m: EntityManager, ledgerId: number) =>
  rows<{ id: number; kind: string; amount: number; reason: string; laidAt: string | null; laidBy: string | null }>(
    m,
    `SELECT h.id, h.kind, h.amount, h.reason, h.laid_at AS laidAt, u.name AS laidBy FROM ledger_hold h LEFT JOIN user_account u ON u.id = h.laid_by
      WHERE h.ledger_id = ? AND h.released_at IS NULL ORDER BY h.id LIMIT 200`,
    [ledgerId],
  )
