import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { row, rows } from '../platform/database'
import { isUnbilledCost, isUnbilledPortion, isUnbilledTime, openOfLine, worthOfTime } from '../platform/figures'
import type { Amounts } from './pre-bills'

/** What issued bills of a matter leave open: costs, and everything else. */
export async function openOnMatter(m: EntityManager, matterId: number): Promise<{ costs: number; other: number }> {
  const found = await row<{ costs: number; other: number }>(
    m,
    `SELECT COALESCE(SUM(IF(l.kind IN ('hard cost', 'soft cost'), ${openOfLine('l')}, 0)), 0) AS costs,
            COALESCE(SUM(IF(l.kind IN ('hard cost', 'soft cost'), 0, ${openOfLine('l')})), 0) AS other
       FROM bill b JOIN bill_line l ON l.bill_id = b.id WHERE b.matter_id = ?`,
    [matterId],
  )
  return { costs: found!.costs, other: found!.other }
}

/** What a bill made up to a day would charge besides the contingent fee. */
export async function unbilledLines(m: EntityManager, matterId: number, to: string): Promise<Amounts[]> {
  const found = await rows<{ kind: Amounts['kind']; amount: number; taxable: number | null }>(
    m,
    `SELECT 'time' AS kind, ${worthOfTime('t')} AS amount, NULL AS taxable FROM time_entry t WHERE t.matter_id = ? AND ${isUnbilledTime('t')} AND t.day <= ? AND ${worthOfTime('t')} > 0
     UNION ALL SELECT c.kind, c.amount, c.taxable FROM cost_entry c WHERE c.matter_id = ? AND ${isUnbilledCost('c')} AND c.day <= ?
     UNION ALL SELECT 'flat', p.amount, NULL FROM fee_portion p WHERE p.matter_id = ? AND ${isUnbilledPortion('p')} AND (p.due = 'opening' OR p.earned_on <= ?)`,
    [matterId, to, matterId, to, matterId, to],
  )
  return found.map((l) => ({
    kind: l.kind,
    worked: l.amount,
    charged: l.amount,
    noCharge: false,
    heldBack: false,
    taxable: l.taxable === null ? null : Boolean(l.taxable),
  }))
}

export interface SettlementRow {
  id: number
  matterId: number
  recoveredOn: Day
  fromWhom: string
  gross: number
  stage: string
  fee: number
  toClient: number
  snapshot: string
  portionId: number | null
  /** The number and id of the bill of the fee; null while it is not issued. */
  billed: string | null
  billId: number | null
  clientPaymentId: number | null
  clientState: string | null
  withdrawnOn: Day | null
  liens: { ordinal: number; payee: string; address: string; text: string; amount: number; state: string | null }[]
}
const select = `SELECT s.id, s.matter_id AS matterId, s.recovered_on AS recoveredOn, s.from_whom AS fromWhom, s.gross, s.stage, s.fee, s.to_client AS toClient, s.snapshot,
    s.portion_id AS portionId, b.number AS billed, b.id AS billId, s.client_payment_id AS clientPaymentId, cp.state AS clientState, s.withdrawn_on AS withdrawnOn
  FROM settlement s LEFT JOIN fee_portion p ON p.id = s.portion_id LEFT JOIN bill b ON b.id = p.bill_id LEFT JOIN payment_out cp ON cp.id = s.client_payment_id`

async function withLiens(m: EntityManager, found: Omit<SettlementRow, 'liens'>[]): Promise<SettlementRow[]> {
  if (!found.length) return []
  const liens = await rows<SettlementRow['liens'][number] & { settlementId: number }>(
    m,
    `SELECT l.settlement_id AS settlementId, l.ordinal, l.payee, l.address, l.text, l.amount, p.state FROM settlement_lien l LEFT JOIN payment_out p ON p.id = l.payment_id
      WHERE l.settlement_id IN (?) ORDER BY l.ordinal`,
    [found.map((s) => s.id)],
  )
  return found.map((s) => ({ ...s, liens: liens.filter((l) => l.settlementId === s.id) }))
}

/** One settlement with its liens. Access is asked by the caller. */
export const settlementRow = async (m: EntityManager, id: number) =>
  (await withLiens(m, await rows(m, `${select} WHERE s.id = ?`, [id]))).at(0)
/** Settlements of a matter, the newest first. Access is asked by the caller. */
export const settlementsOfMatter = async (m: EntityManager, matterId: number) =>
  withLiens(m, await rows(m, `${select} WHERE s.matter_id = ? ORDER BY s.id DESC LIMIT 50`, [matterId]))

/** What a contingent fee is counted of, and its share at a stage. */
export const feeOfStage = (m: EntityManager, stage: number, id: number) =>
  row<{ feeOf: 'gross' | 'net of costs'; label: string; numerator: number; denominator: number }>(
    m,
    `SELECT f.fee_of AS feeOf, s.label, s.numerator, s.denominator FROM contingent_fee f JOIN contingent_stage s ON s.matter_id = f.matter_id AND s.ordinal = ? WHERE f.matter_id = ?`,
    [stage + 1, id],
  )

/** Who bears which part. */
export const sharesOfPayers = (m: EntityManager, id: number) =>
  rows<{ fixed: number | null; basisPoints: number | null }>(
    m,
    `SELECT fixed, basis_points AS basisPoints FROM matter_payer WHERE matter_id = ? ORDER BY ordinal`,
    [id],
  )

/** Whom the money of a settlement goes to. */
export const clientAddress = (m: EntityManager, clientId: number) =>
  row<{ client: string; address: string }>(m, `SELECT name AS client, address FROM contact WHERE id = ?`, [clientId])

/** The place of the last fee of a matter. */
export const lastPortion = (m: EntityManager, id: number) =>
  row<{ n: number }>(m, `SELECT COALESCE(MAX(ordinal), 0) AS n FROM fee_portion WHERE matter_id = ?`, [id])

/** The id of what was just inserted. */
export const madeLast = (m: EntityManager) => row<{ id: number }>(m, `SELECT LAST_INSERT_ID() AS id`)

/** Whether anything was paid out of a settlement. */
export const paidOut = (m: EntityManager, clientPaymentId: number | null, id: number) =>
  row(
    m,
    `SELECT 1 FROM payment_out p WHERE p.state IN ('draft', 'posted') AND (p.id = ? OR p.id IN (SELECT payment_id FROM settlement_lien WHERE settlement_id = ?))`,
    [clientPaymentId, id],
  )

/** A pre-bill that is not issued and holds the fee of a settlement. */
export const preBillWithFee = (m: EntityManager, portionId: number | null) =>
  row<{ id: number }>(
    m,
    `SELECT l.pre_bill_id AS id FROM pre_bill_line l JOIN pre_bill p ON p.id = l.pre_bill_id AND p.state <> 'issued' WHERE l.kind = 'flat' AND l.source_id = ?`,
    [portionId],
  )
