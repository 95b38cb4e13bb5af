import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { matterScope } from '../../platform/access'
import type { Ctx } from '../../platform/context'
import { row, rows } from '../../platform/database'

/** Whether statements of an account reach a day. */
export const reaches = (m: EntityManager, bankId: number, to: Day) =>
  row(m, `SELECT 1 FROM bank_statement WHERE bank_account_id = ? AND to_day >= ? LIMIT 1`, [bankId, to])

// prettier-ignore

/** The reconciliation of an account that ends on a day, and whether it was reopened. */
export const closedAt = (m: EntityManager, bankId: number, to: Day) =>
  row<{ id: number; reopened: number }>(m, `SELECT r.id, EXISTS (SELECT 1 FROM reconciliation_reopened o WHERE o.reconciliation_id = r.id) AS reopened FROM reconciliation r WHERE r.bank_account_id = ? AND r.to_day = ? ORDER BY r.id DESC LIMIT 1`, [bankId, to])

// prettier-ignore

/** What somebody asks of a month, and waits for another. */
export const requestOn = (m: EntityManager, ctx: Ctx, bankId: number, to: Day) =>
  row<{ id: number; kind: 'close' | 'reopen'; by: string; own: number; reason: string }>(m, `SELECT q.id, q.kind, u.name AS \`by\`, q.asked_by = ? AS own, q.reason FROM month_request q JOIN user_account u ON u.id = q.asked_by WHERE q.bank_account_id = ? AND q.to_day = ? AND q.state = 'asked' ORDER BY q.id DESC LIMIT 1`, [ctx.actor.id, bankId, to])

/** Whether money of a matter lies in the account that is kept from the reader. */
export const hiddenLedger = (m: EntityManager, ctx: Ctx, bankId: number) =>
  row(
    m,
    `SELECT 1 FROM client_ledger l JOIN matter m ON m.id = l.matter_id WHERE l.bank_account_id = ? AND NOT ${matterScope(ctx.actor, 'm', 'trust')} LIMIT 1`,
    [bankId],
  )

/** Whether two people close a month of an account. */
export const needsTwo = (ctx: Ctx, id: number) =>
  row<{ two: number }>(ctx.db.manager, `SELECT two_people AS two FROM bank_account WHERE id = ?`, [id])

/** A month that was closed. */
export const monthClosed = (m: EntityManager, reconciliationId: number) =>
  row<{ bankId: number; toDay: Day }>(m, `SELECT bank_account_id AS bankId, to_day AS toDay FROM reconciliation WHERE id = ?`, [
    reconciliationId,
  ])

export interface Request {
  id: number
  bankId: number
  kind: 'close' | 'reopen'
  to: Day
  bank: number
  book: number
  reason: string
  askedBy: number
  state: string
}

/** A request for a month. */
export const requestRow = (m: EntityManager, lock: string, id: number) =>
  row<Request>(
    m,
    `SELECT id, bank_account_id AS bankId, kind, to_day AS \`to\`, bank, book, reason, asked_by AS askedBy, state FROM month_request WHERE id = ? ${lock}`,
    [id],
  )

/** What is asked of months, with the figures it was asked by. */
export async function monthRequests(ctx: Ctx) {
  const list = await rows<{ id: number; kind: 'close' | 'reopen'; by: string; own: number; reason: string; bank: string; to: Day; balance: number; book: number }>(
    ctx.db.manager,
    `SELECT q.id, q.kind, u.name AS \`by\`, q.asked_by = ? AS own, q.reason, b.name AS bank, q.to_day AS \`to\`, q.bank AS balance, q.book FROM month_request q JOIN user_account u ON u.id = q.asked_by JOIN bank_account b ON b.id = q.bank_account_id
      WHERE q.state = 'asked' ORDER BY q.id LIMIT 100`,
    [ctx.actor.id],
  ) // prettier-ignore
  return list.map((q) => ({ ...q, own: Boolean(q.own) }))
}

/** A request is done. */
export const requestDone = (m: EntityManager, ctx: Ctx, id: number) =>
  m.query(`UPDATE month_request SET state = 'done', decided_by = ? WHERE id = ?`, [ctx.actor.id, id])

/** A request is refused. */
export const requestRefused = (m: EntityManager, ctx: Ctx, id: number) =>
  m.query(`UPDATE month_request SET state = 'refused', decided_by = ? WHERE id = ?`, [ctx.actor.id, id])

/** The report of a month, and of which account it is. */
export const reportOfMonth = (m: EntityManager, id: number) =>
  row<{ fileId: number; toDay: Day; bankId: number }>(
    m,
    `SELECT file_id AS fileId, to_day AS toDay, bank_account_id AS bankId FROM reconciliation WHERE id = ?`,
    [id],
  )
