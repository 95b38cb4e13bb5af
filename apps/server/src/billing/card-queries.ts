import type { Day } from '@heron/core/calendar'
import { createHash } from 'node:crypto'
import type { EntityManager } from 'typeorm'
import { matterScope } from '../platform/access'
import { actorOf } from '../platform/auth'
import { type Ctx, instant, isoOf } from '../platform/context'
import { row, rows, run } from '../platform/database'
import { openOf } from '../platform/figures'
import { notFound, refused } from '../platform/problem'
import { processorInUse } from '../platform/processor'
import type { LinkedCall } from './calls/paying'

/** What is kept of the secret of a link. */
export const hashed = (secret: string) => createHash('sha256').update(secret).digest('hex')

/** A bill of a matter whose money is open to the reader, with what it leaves open. */
export async function billOf(m: EntityManager, ctx: Ctx, id: number) {
  const bill = await row<{ id: number; number: string; matterId: number; open: number }>(
    m,
    `SELECT b.id, b.number, b.matter_id AS matterId, ${openOf('b')} AS open FROM bill b JOIN matter m ON m.id = b.matter_id WHERE b.id = ? AND ${matterScope(ctx.actor, 'm', 'money')}`,
    [id],
  )
  if (!bill) throw notFound('bill')
  return bill
}

/** Links by which a bill can be paid, and what came of each payment by them. */
export async function payLinksOf(ctx: Ctx, billId: number) {
  const m = ctx.db.manager
  await billOf(m, ctx, billId)
  const links = await rows<{ id: number; by: string; madeAt: string; endedAt: string | null }>(
    m,
    `SELECT l.id, u.name AS \`by\`, l.made_at AS madeAt, l.ended_at AS endedAt FROM pay_link l JOIN user_account u ON u.id = l.made_by WHERE l.bill_id = ? ORDER BY l.id DESC LIMIT 20`,
    [billId],
  )
  const charges =
    await rows<{ id: string; amount: number; state: 'begun' | 'refused' | 'paid' | 'disputed'; method: 'card' | 'bank'; fee: number | null; fault: string; at: string }> // prettier-ignore
    (m, `SELECT id, amount, state, method, fee, fault, begun_at AS at FROM card_charge WHERE bill_id = ? ORDER BY begun_at DESC LIMIT 50`, [
      billId,
    ])
  return {
    offered: processorInUse() !== null,
    links: links.map((l) => ({ ...l, madeAt: isoOf(l.madeAt), endedAt: l.endedAt && isoOf(l.endedAt) })),
    charges: charges.map((c) => ({ ...c, at: isoOf(c.at) })),
  }
}

/** The id of the link that was just made. */
export const linkMade = (m: EntityManager) => row<{ id: number }>(m, `SELECT LAST_INSERT_ID() AS id`)

export interface LinkedBill {
  linkId: number
  origin: string
  billId: number
  firm: string
  number: string
  payer: string
  issuedOn: Day
  dueOn: Day
  total: number
  open: number
}

/** The bill behind a link, for whoever holds it. */
export const linkedBill = (m: EntityManager, token: string) =>
  row<LinkedBill>(
    m,
    `SELECT l.id AS linkId, l.origin, b.id AS billId, f.name AS firm, b.number, c.name AS payer, b.issued_on AS issuedOn, b.due_on AS dueOn, b.total, ${openOf('b')} AS open
       FROM pay_link l JOIN bill b ON b.id = l.bill_id JOIN contact c ON c.id = b.payer_id JOIN firm f WHERE l.token_hash = ? AND l.ended_at IS NULL`,
    [hashed(token)],
  )

/** The call that a link pays, where it is one. */
export async function linkedCall(m: EntityManager, token: string): Promise<LinkedCall | null> {
  return row<LinkedCall>(
    m,
    `SELECT l.id AS linkId, l.origin, l.call_id AS callId, f.name AS firm FROM pay_link l JOIN firm f WHERE l.token_hash = ? AND l.ended_at IS NULL AND l.call_id IS NOT NULL`,
    [hashed(token)],
  )
}

/** Whoever the payer is: nobody of the firm, so that a call is read as the one who made its link. */
export const asMaker = (m: EntityManager, ctx: Ctx, linkId: number): Promise<Ctx> =>
  row<{ by: number }>(m, `SELECT made_by AS \`by\` FROM pay_link WHERE id = ?`, [linkId]).then((l) => onBehalf(m, ctx, l!.by))

interface Charge {
  id: string
  billId: number
  bill: string
  matterId: number
  payerId: number
  amount: number
  open: number
  paymentId: number | null
  feeJournalId: number | null
  settlement: string | null
  madeBy: number
  method: 'card' | 'bank'
}

/** Whoever made the link, or where that person is gone somebody who takes payments. */
export async function onBehalf(m: EntityManager, ctx: Ctx, userId: number): Promise<Ctx> {
  const other = await row<{ id: number }>(m, `SELECT id FROM user_account WHERE active AND role IN ('bookkeeper', 'administrator') ORDER BY role = 'administrator', id LIMIT 1`) // prettier-ignore
  const actor = (await actorOf(m, userId)) ?? (other ? await actorOf(m, other.id) : null)
  if (!actor) throw refused('no-processor', 'Nobody here takes payments any more.')
  return { ...ctx, actor, tx: m }
}

/** A card payment of a call, locked until its event is booked. */
export const callCharge = (m: EntityManager, charge: string) =>
  row<{
    id: string
    callId: number
    amount: number
    receiptId: number | null
    feeJournalId: number | null
    settlement: string | null
    method: 'card' | 'bank'
    madeBy: number
  }>(
    m,
    `SELECT c.id, c.call_id AS callId, c.amount, c.receipt_id AS receiptId, c.fee_journal_id AS feeJournalId, c.settlement, c.method, l.made_by AS madeBy FROM card_charge c JOIN pay_link l ON l.id = c.link_id WHERE c.id = ? AND c.call_id IS NOT NULL`,
    [charge],
  )

/** Notes an event of the processor; one that came before touches no row. */
export const noteCardEvent = (
  m: EntityManager,
  ctx: Ctx,
  id: string,
  chargeId: string,
  kind: 'refused' | 'paid' | 'disputed' | 'dispute won' | 'settled',
) => run(m, `INSERT IGNORE INTO card_event (id, charge_id, kind, at) VALUES (?, ?, ?, ?)`, [id, chargeId, kind, instant(ctx.clock.now())])

/** A card payment of a bill, locked until its event is booked. */
export const billCharge = (m: EntityManager, charge: string) =>
  row<Charge>(
    m,
    `SELECT c.id, c.bill_id AS billId, b.number AS bill, b.matter_id AS matterId, b.payer_id AS payerId, c.amount, ${openOf('b')} AS open, c.payment_id AS paymentId, c.fee_journal_id AS feeJournalId, c.settlement, l.made_by AS madeBy, c.method
         FROM card_charge c JOIN bill b ON b.id = c.bill_id JOIN pay_link l ON l.id = c.link_id WHERE c.id = ?`,
    [charge],
  )

/** The journal that a payment was posted with. */
export const journalOfPayment = (m: EntityManager, paymentId: number) =>
  row<{ id: number }>(m, `SELECT journal_id AS id FROM payment WHERE id = ?`, [paymentId])
