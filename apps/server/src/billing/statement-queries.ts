import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { standsFor } from './payment-queries'
import type { PaymentKind } from './entities'
import { contactScope, matterScope } from '../platform/access'
import type { Ctx } from '../platform/context'
import { row, rows } from '../platform/database'
import { creditLeft, openAsOf } from '../platform/figures'

export interface Move {
  day: Day
  amount: number
  kind: 'bill' | PaymentKind
  reference: string
  billId: number
  bill: string
  matter: string
}
interface Of {
  payerId: number
  matterId: number | null
}
/** Bills of a payer that the reader may see, as a condition on `bill b` of `matter m`. */
const ofPayer = (ctx: Ctx, of: Of) =>
  `b.payer_id IN (SELECT c.id FROM contact c WHERE c.id = ${Number(of.payerId)} OR c.merged_into = ${Number(of.payerId)}) AND ${matterScope(ctx.actor, 'm', 'money')}${of.matterId ? ` AND m.id = ${Number(of.matterId)}` : ''}`

/** Everything that was ever billed to a payer or settled what was, day by day; bills before what settles them. */
export const accountMoves = (m: EntityManager, ctx: Ctx, of: Of, to: Day) =>
  rows<Move>(
    m,
    `SELECT b.issued_on AS day, b.total AS amount, 'bill' AS kind, '' AS reference, b.id AS billId, b.number AS bill, m.short_name AS matter, 0 AS place
       FROM bill b JOIN matter m ON m.id = b.matter_id WHERE ${ofPayer(ctx, of)} AND b.issued_on <= ?
     UNION ALL
     SELECT a.applied_on, -SUM(a.amount), p.kind, COALESCE(p.number, p.reference), b.id, b.number, m.short_name, 1
       FROM bill b JOIN matter m ON m.id = b.matter_id JOIN allocation a ON a.bill_id = b.id JOIN payment p ON p.id = a.payment_id
      WHERE ${ofPayer(ctx, of)} AND a.applied_on <= ? GROUP BY b.id, p.id, a.applied_on HAVING SUM(a.amount) <> 0
      ORDER BY day, place, billId`,
    [to, to],
  )

/** Bills of a payer or a matter that were open at the end of a day, with by how much. */
export const openBills = (m: EntityManager, ctx: Ctx, of: Of, to: Day) =>
  rows<{ id: number; number: string; due: Day; open: number }>(
    m,
    `SELECT b.id, b.number, b.due_on AS due, ${openAsOf('b')} AS open FROM bill b JOIN matter m ON m.id = b.matter_id WHERE ${ofPayer(ctx, of)} AND b.issued_on <= ? HAVING open <> 0 ORDER BY b.due_on, b.id`,
    [to, to],
  )

/** The payer to whom a statement goes, with what is left of their credits. */
export const payerOfStatement = (m: EntityManager, ctx: Ctx, id: number) =>
  row<{ id: number; name: string; address: string; email: string; language: string; credit: number }>(
    m,
    `SELECT c.id, c.name, c.address, c.email, c.language,
            (SELECT COALESCE(SUM(${creditLeft('p')}), 0) FROM payment p WHERE p.payer_id IN (SELECT x.id FROM contact x WHERE x.id = c.id OR x.merged_into = c.id)) AS credit
       FROM contact c WHERE c.id = ? AND ${contactScope(ctx.actor)}`,
    [id],
  )

/** The matter that a statement is of, where its money is open to the reader. */
export const matterOfStatement = (m: EntityManager, ctx: Ctx, id: number) =>
  row<{ id: number; number: string; name: string }>(
    m,
    `SELECT m.id, m.number, m.name FROM matter m WHERE m.id = ? AND ${matterScope(ctx.actor, 'm', 'money')}`,
    [id],
  )

/** Money that was received, and what of it went on which bills. */
export async function receiptRow(m: EntityManager, ctx: Ctx, id: number) {
  const found =
    await row<{ id: number; kind: PaymentKind; day: Day; amount: number; reference: string; payerId: number; payer: string; address: string; email: string; language: string; credit: number; reversed: number; hidden: number }> // prettier-ignore
    (
      m,
      `SELECT p.id, p.kind, p.day, p.amount, p.reference, c.id AS payerId, c.name AS payer, c.address, c.email, c.language, ${creditLeft('p')} AS credit,
            EXISTS (SELECT 1 FROM payment_reversal r WHERE r.payment_id = p.id) AS reversed,
            EXISTS (SELECT 1 FROM allocation a JOIN bill b ON b.id = a.bill_id JOIN matter m ON m.id = b.matter_id WHERE a.payment_id = p.id AND NOT ${matterScope(ctx.actor, 'm', 'money')}) AS hidden
       FROM payment p JOIN contact c ON c.id = ${standsFor('p.payer_id')} WHERE p.id = ? AND p.kind NOT IN ('credit note', 'write-off', 'void') AND ${contactScope(ctx.actor)}`,
      [id],
    )
  // A receipt tells all that was paid with it, so it is for those who may see all of that.
  if (!found || found.hidden) return null
  const bills = await rows<{ number: string; matter: string; amount: number }>(
    m,
    `SELECT b.number, m.name AS matter, SUM(a.amount) AS amount FROM allocation a JOIN bill b ON b.id = a.bill_id JOIN matter m ON m.id = b.matter_id WHERE a.payment_id = ? GROUP BY b.id HAVING amount <> 0 ORDER BY b.id`,
    [id],
  )
  return { ...found, reversed: Boolean(found.reversed), bills }
}
