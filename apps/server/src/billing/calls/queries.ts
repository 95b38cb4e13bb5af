import { sum } from '@heron/core/money'
import type { CallIn } from '@heron/contract'
import { asksStill, type CallFacts, callState, type CallState } from '@heron/core/billing'
import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import type { Paging } from '../../ledger'
import { matterScope, nameFor } from '../../platform/access'
import { type Ctx, instant } from '../../platform/context'
import { rows, run } from '../../platform/database'

/** What came for a call: its receipts, less those that the bank took back or whose sheet was reversed. */
const paid = `COALESCE((SELECT SUM(r.amount) FROM account_call_receipt k JOIN deposit_receipt r ON r.id = k.receipt_id JOIN deposit_sheet s ON s.id = r.sheet_id
   WHERE k.call_id = x.id AND NOT EXISTS (SELECT 1 FROM bank_did d WHERE d.receipt_id = r.id) AND NOT EXISTS (SELECT 1 FROM journal_reversal v WHERE v.journal_id = s.journal_id)), 0)`

/** What a matter's client has been asked for and has not sent yet, over the calls that still ask. */
export const askedOn = (matterId: string) =>
  `COALESCE((SELECT SUM(GREATEST(x.amount - ${paid}, 0)) FROM account_call x WHERE x.matter_id = ${matterId} AND x.sent_on IS NOT NULL AND x.withdrawn_on IS NULL), 0)`

export interface CallRow extends CallFacts {
  id: number
  bankAccountId: number
  bank: string
  clientId: number
  client: string
  matterId: number | null
  matter: string | null
  message: string
  minimum: number | null
  everyDays: number | null
  remindedOn: Day | null
  afterId: number | null
  version: number
  madeBy: number
  madeAt: string
  by: string
  email: string
  fault: string
  more: number
}
const select = (
  ctx: Ctx,
) => `SELECT x.id, x.bank_account_id AS bankAccountId, b.name AS bank, x.client_id AS clientId, ${nameFor(ctx.actor)} AS client, x.matter_id AS matterId,
    CONCAT(m.number, ' ', m.short_name) AS matter, x.amount, ${paid} AS paid, x.due_on AS dueOn, x.message, x.minimum, x.every_days AS everyDays, x.sent_on AS sentOn, x.seen_on AS seenOn,
    x.reminded_on AS remindedOn, x.withdrawn_on AS withdrawnOn, x.after_id AS afterId, x.version, x.made_by AS madeBy, x.made_at AS madeAt, u.name AS \`by\`,
    COALESCE(c.email, '') AS email,
    COALESCE((SELECT h.fault FROM card_charge h WHERE h.call_id = x.id AND h.fault <> '' ORDER BY h.begun_at DESC LIMIT 1), '') AS fault,
    EXISTS (SELECT 1 FROM account_call y WHERE y.after_id = x.id) AS more
  FROM account_call x JOIN bank_account b ON b.id = x.bank_account_id JOIN contact c ON c.id = x.client_id JOIN user_account u ON u.id = x.made_by LEFT JOIN matter m ON m.id = x.matter_id`
const open = (ctx: Ctx) => `(x.matter_id IS NULL OR ${matterScope(ctx.actor, 'm', 'trust')})`

/** A call that is open to the reader; `all` reads it for what payers and the processor do, whoever made it. */
export const callById = async (m: EntityManager, ctx: Ctx, id: number, all = false): Promise<CallRow | undefined> =>
  (await rows<CallRow>(m, `${select(ctx)} WHERE x.id = ? ${all ? '' : `AND ${open(ctx)}`}`, [id]))[0]

/** The next five hundred calls of which something may be done by itself: they were sent and not withdrawn, and remind or keep a minimum that was not asked for anew. */
export const callsUnderWay = (m: EntityManager, ctx: Ctx, after: number) =>
  rows<CallRow>(
    m,
    `${select(ctx)} WHERE x.id > ? AND x.sent_on IS NOT NULL AND x.withdrawn_on IS NULL
       AND (x.every_days IS NOT NULL OR (x.minimum IS NOT NULL AND NOT EXISTS (SELECT 1 FROM account_call y WHERE y.after_id = x.id))) ORDER BY x.id LIMIT 500`,
    [after],
  )

/** Which calls stand in a state is judged by core over the few columns it needs; words are looked up for the page alone. */
export async function calls(
  ctx: Ctx,
  f: Paging & { state: '' | 'open' | CallState; clientId?: number | undefined; matterId?: number | undefined },
) {
  // What is not open or late or paid in part is left out at once where only such are asked for: most calls of a firm are paid.
  const asking = f.state !== '' && (f.state === 'open' || asksStill(f.state))
  const own = `${open(ctx)} ${f.clientId ? `AND x.client_id = ${Number(f.clientId)}` : ''} ${f.matterId ? `AND x.matter_id = ${Number(f.matterId)}` : ''} ${asking ? 'AND x.sent_on IS NOT NULL AND x.withdrawn_on IS NULL' : ''}`
  const m = ctx.db.manager
  const facts = await rows<CallFacts & { id: number }>(
    m,
    `SELECT x.id, x.amount, ${paid} AS paid, x.due_on AS dueOn, x.sent_on AS sentOn, x.seen_on AS seenOn, x.withdrawn_on AS withdrawnOn
       FROM account_call x LEFT JOIN matter m ON m.id = x.matter_id WHERE ${own} ORDER BY x.id DESC`,
  )
  const today = ctx.clock.today()
  const wanted = facts.flatMap((c) => {
    const state = callState(c, today)
    if (f.state && (f.state === 'open' ? !asksStill(state) : state !== f.state)) return []
    return [{ id: c.id, state, open: Math.max(0, c.amount - c.paid) }]
  })
  const page = wanted.slice((f.page - 1) * f.size, f.page * f.size)
  const told = page.length ? await rows<CallRow>(m, `${select(ctx)} WHERE x.id IN (?)`, [page.map((c) => c.id)]) : []
  const toldOf = new Map(told.map((c) => [c.id, c]))
  return {
    rows: page.flatMap((p) => {
      const c = toldOf.get(p.id)
      if (!c) return []
      const { more: _m, madeBy: _b, withdrawnOn: _w, ...words } = c
      return [{ ...words, ...p }]
    }),
    total: wanted.length,
    open: sum(wanted.filter((c) => asksStill(c.state)).map((c) => c.open)),
  }
}

/** Receipts of the call's ledger from when it went out or was made on, with which of them count for it. */
export const receiptsFor = (m: EntityManager, ctx: Ctx, c: CallRow) =>
  rows<{ id: number; receiptNo: number; day: Day; depositor: string; amount: number; taken: number }>(
    m,
    `SELECT r.id, r.receipt_no AS receiptNo, s.day, r.depositor, r.amount, k.call_id IS NOT NULL AS taken
       FROM deposit_receipt r JOIN deposit_sheet s ON s.id = r.sheet_id AND s.state = 'posted' LEFT JOIN account_call_receipt k ON k.receipt_id = r.id 
      WHERE s.bank_account_id = ? AND r.client_id = ? AND r.matter_id <=> ? AND s.day >= ? AND (k.call_id IS NULL OR k.call_id = ?)
        AND NOT EXISTS (SELECT 1 FROM bank_did d WHERE d.receipt_id = r.id) AND NOT EXISTS (SELECT 1 FROM journal_reversal v WHERE v.journal_id = s.journal_id) ORDER BY s.day, r.id LIMIT 100`,
    [c.bankAccountId, c.clientId, c.matterId, c.sentOn ?? ctx.clock.at(c.madeAt).day, c.id],
  )

const columns = ['bank_account_id', 'client_id', 'matter_id', 'amount', 'due_on', 'message', 'minimum', 'every_days']

const values = (c: CallIn) => [c.bankAccountId, c.clientId, c.matterId, c.amount, c.dueOn, c.message, c.minimum, c.everyDays]

/** A call, by the columns that its form has. */
export const insertCallRow = (m: EntityManager, ctx: Ctx, c: CallIn, afterId: number | null) =>
  m.query(
    `INSERT INTO account_call (${columns.join(', ')}, after_id, made_by, made_at) VALUES (${columns.map(() => '?').join(', ')}, ?, ?, ?)`,
    [...values(c), afterId, ctx.actor.id, instant(ctx.clock.now())],
  )

/** The same columns, changed. */
export const changeCallRow = (m: EntityManager, input: CallIn, id: number) =>
  run(m, `UPDATE account_call SET ${columns.map((c) => `${c} = ?`).join(', ')}, version = version + 1 WHERE id = ?`, [...values(input), id])

/** The day on which a call went out, or went out again. */
export const callWentOut = (m: EntityManager, again: boolean, today: Day, id: number) =>
  run(m, again ? `UPDATE account_call SET reminded_on = ? WHERE id = ?` : `UPDATE account_call SET sent_on = ? WHERE id = ?`, [today, id])
