import { type BankIn, receiptKinds, type TrustRules } from '@heron/contract'
import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { contactScope, matterScope, nameFor } from '../platform/access'
import type { Ctx } from '../platform/context'
import { row, rows, run } from '../platform/database'
import { heldOn } from '../platform/figures'
import { ClearingDays } from '../platform/shared-entities'
import { chart } from './books/sums'
import { receiptFee } from './queries'

/** What the set-up shows of accounts: banks with the last check used, the chart, and days until payments clear. */
export async function accountsSetUp(ctx: Ctx) {
  const m = ctx.db.manager
  const days = new Map((await m.find(ClearingDays, { select: { kind: true, courtDays: true } })).map((c) => [c.kind, c.courtDays]))
  return {
    banks: (
      await rows<
        BankIn & { id: number; kind: string; account: string; lastCheck: number | null; client: string | null; hasLedgers: number }
      >(
        m,
        `SELECT b.id, b.name, b.kind, b.bank, b.ending, b.next_check AS nextCheck, b.usual, b.client_id AS clientId, b.matures_on AS maturesOn, b.stale_days AS staleDays, b.unclaimed_days AS unclaimedDays, b.two_people AS twoPeople, b.near_days AS nearDays, b.print_at_once AS printAtOnce,
              ${nameFor(ctx.actor)} AS client, EXISTS (SELECT 1 FROM client_ledger l WHERE l.bank_account_id = b.id AND l.kind = 'client') AS hasLedgers, CONCAT(a.code, ' ', a.name) AS account,
              (SELECT MAX(c.number) FROM check_number c WHERE c.bank_account_id = b.id) AS lastCheck
         FROM bank_account b JOIN account a ON a.id = b.gl_account_id LEFT JOIN contact c ON c.id = b.client_id ORDER BY b.kind = 'operating', b.usual DESC, b.id`,
      )
    ).map((b) => ({
      ...b,
      usual: Boolean(b.usual),
      twoPeople: Boolean(b.twoPeople),
      printAtOnce: Boolean(b.printAtOnce),
      hasLedgers: Boolean(b.hasLedgers),
    })),
    rules: await trustRules(m),
    chart: await chart(m),
    clearing: receiptKinds.map((kind) => ({ kind, courtDays: days.get(kind) ?? 0 })),
  }
}

/** What the firm chose of its trust rules, with the fee of each receipt. */
export const trustRules = async (m: EntityManager): Promise<TrustRules> => {
  const firm = await row<{ viaPooled: number; advance: TrustRules['advance'] }>(
    m,
    `SELECT separate_trust_via_pooled AS viaPooled, flat_fee_in_advance AS advance FROM firm`,
  )
  const { amount, owedTo } = await receiptFee(m)
  return { viaPooled: Boolean(firm?.viaPooled), advance: firm?.advance ?? 'trust', receiptFee: amount, receiptFeeTo: owedTo }
}

/** A contact, where it is open to whoever asks. */
export const ownerOpenTo = (m: EntityManager, ctx: Ctx, clientId: number) =>
  row(m, `SELECT 1 FROM contact c WHERE c.id = ? AND ${contactScope(ctx.actor)}`, [clientId])

/** Whether a separate account holds money of anybody else. */
export const othersIn = (m: EntityManager, id: number, clientId: number | null) =>
  row(m, `SELECT 1 FROM client_ledger l WHERE l.bank_account_id = ? AND l.kind = 'client' AND NOT l.client_id <=> ? LIMIT 1`, [
    id,
    clientId,
  ])

/** The last check number of an account. */
export const lastCheckNumber = (m: EntityManager, id: number) =>
  row<{ number: number | null }>(m, `SELECT MAX(number) AS number FROM check_number WHERE bank_account_id = ?`, [id])

/** One account of a kind is the usual one. */
export const makeUsual = (m: EntityManager, id: number, kind: 'pooled' | 'separate' | 'operating') =>
  run(m, `UPDATE bank_account SET usual = (id = ?) WHERE kind = ?`, [id, kind])

/** An account of the chart. */
export const addAccount = (m: EntityManager, code: string, name: string, kind: string) =>
  m.query(`INSERT INTO account (code, name, kind) VALUES (?, ?, ?)`, [code, name.slice(0, 120), kind])

/** What is held for a matter. */
export const heldFor = (m: EntityManager, id: number) =>
  row<{ held: number }>(m, `SELECT ${heldOn('x.id')} AS held FROM matter x WHERE x.id = ?`, [id])

/** Sheets and payments that are drafts. */
export const draftsOfMoney = (ctx: Ctx) =>
  row<{ n: number }>(
    ctx.db.manager,
    `SELECT (SELECT COUNT(*) FROM deposit_sheet WHERE state = 'draft') + (SELECT COUNT(*) FROM payment_out WHERE state = 'draft') AS n`,
  )

/** What of a receipt was refunded, or is drafted to be. */
export const refundedOf = (m: EntityManager, receiptId: number, exceptPayment: number | undefined) =>
  row<{ n: number }>(
    m,
    `SELECT COALESCE(SUM(amount), 0) AS n FROM payment_out WHERE refund_of = ? AND state IN ('draft', 'posted') AND id <> ?`,
    [receiptId, exceptPayment ?? 0],
  )

/** What was written before: payees with their addresses, and the words of payments and receipts, the most recent first. */
export async function remembered(ctx: Ctx) {
  const m = ctx.db.manager
  const open = `(l.matter_id IS NULL OR ${matterScope(ctx.actor, 'm', 'trust')})`
  // The last few thousand tell what is written often.
  const recent = `(SELECT * FROM payment_out ORDER BY id DESC LIMIT 3000)`
  const payees = await rows<{ name: string; address: string }>(
    m,
    `SELECT x.payee_name AS name, x.payee_address AS address FROM payment_out x JOIN (
        SELECT MAX(p.id) AS id FROM ${recent} p JOIN client_ledger l ON l.id = p.ledger_id LEFT JOIN matter m ON m.id = l.matter_id WHERE p.state <> 'dropped' AND ${open} GROUP BY p.payee_name ORDER BY id DESC LIMIT 300
      ) y ON y.id = x.id ORDER BY x.payee_name`,
  )
  const memos = await rows<{ text: string }>(
    m,
    `SELECT p.memo AS text FROM ${recent} p JOIN client_ledger l ON l.id = p.ledger_id LEFT JOIN matter m ON m.id = l.matter_id WHERE p.memo <> '' AND p.state <> 'dropped' AND ${open} GROUP BY p.memo ORDER BY COUNT(*) DESC, MAX(p.id) DESC LIMIT 60`,
  )
  const texts = await rows<{ text: string }>(
    m,
    `SELECT r.text FROM (SELECT * FROM deposit_receipt ORDER BY id DESC LIMIT 3000) r LEFT JOIN matter m ON m.id = r.matter_id WHERE r.text <> '' AND (r.matter_id IS NULL OR ${matterScope(ctx.actor, 'm', 'trust')}) GROUP BY r.text ORDER BY COUNT(*) DESC, MAX(r.id) DESC LIMIT 60`,
  )
  return { payees, memos: memos.map((x) => x.text), texts: texts.map((x) => x.text), receiptFee: (await receiptFee(m)).amount }
}

/** What stands on a receipt. */
export const receiptFacts = (m: EntityManager, ctx: Ctx, id: number) =>
  row<{
    receiptNo: number
    day: Day
    depositor: string
    kind: string
    reference: string
    text: string
    amount: number
    fee: number
    client: string | null
    matter: string | null
    state: string
    who: string
  }>(
    m,
    `SELECT r.receipt_no AS receiptNo, s.day, r.depositor, r.kind, r.reference, r.text, r.amount, r.fee, c.name AS client, CONCAT(m.number, ', ', m.name) AS matter, s.state, u.name AS who
       FROM deposit_receipt r JOIN deposit_sheet s ON s.id = r.sheet_id JOIN user_account u ON u.id = s.created_by LEFT JOIN contact c ON c.id = r.client_id LEFT JOIN matter m ON m.id = r.matter_id
      WHERE r.id = ? AND (r.matter_id IS NULL OR ${matterScope(ctx.actor, 'm', 'trust')})`,
    [id],
  )

/** The numbers that receipts of a sheet have. */
export const receiptNumbers = (m: EntityManager, sheetId: number) =>
  rows<{ n: number }>(m, `SELECT receipt_no AS n FROM deposit_receipt WHERE sheet_id = ? ORDER BY ordinal`, [sheetId])

/** How many receipts of a sheet whoever asks may not see. */
export const hiddenOnSheet = (m: EntityManager, ctx: Ctx, id: number) =>
  row<{ n: number }>(
    m,
    `SELECT COUNT(*) AS n FROM deposit_receipt r JOIN matter m ON m.id = r.matter_id WHERE r.sheet_id = ? AND NOT ${matterScope(ctx.actor, 'm', 'trust')}`,
    [id],
  )
