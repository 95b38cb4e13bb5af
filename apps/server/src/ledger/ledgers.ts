import { calendarFor, shippedHolidaySets, shippedRuleSets } from '@heron/core/docket'
import { addCourtDays, type Day } from '@heron/core/calendar'
import { judgePaymentOut, type LedgerEntry as CoreEntry } from '@heron/core/ledger'
import type { EntityManager } from 'typeorm'
import { may, type Ctx } from '../platform/context'
import { row, rows } from '../platform/database'
import { notFound, Problem, refused } from '../platform/problem'
import { matterScope } from '../platform/access'
import { ClientLedger } from './entities'

export interface LedgerHead {
  id: number
  kind: 'client' | 'firm' | 'unidentified'
  clientId: number | null
  matterId: number | null
  name: string
  bankAccountId: number
  bankKind: 'pooled' | 'separate'
  bankGl: number
  liabilityGl: number
}

const headSql = `SELECT l.id, l.kind, l.client_id AS clientId, l.matter_id AS matterId, l.bank_account_id AS bankAccountId,
    b.kind AS bankKind, b.gl_account_id AS bankGl, b.liability_account_id AS liabilityGl,
    CASE l.kind WHEN 'firm' THEN 'Firm money for bank charges' WHEN 'unidentified' THEN 'Money with no known owner'
      ELSE CONCAT(c.name, COALESCE(CONCAT(', ', m.number), '')) END AS name
  FROM client_ledger l JOIN bank_account b ON b.id = l.bank_account_id
  LEFT JOIN contact c ON c.id = l.client_id LEFT JOIN matter m ON m.id = l.matter_id`

/** Locks a ledger until the end of the transaction and reads it, when its matter is open to the actor. */
export async function lockLedger(m: EntityManager, ctx: Ctx, id: number): Promise<LedgerHead> {
  await rows(m, `SELECT id FROM client_ledger WHERE id = ? FOR UPDATE`, [id])
  const found = await row<LedgerHead>(m, `${headSql} WHERE l.id = ? AND (l.matter_id IS NULL OR ${matterScope(ctx.actor, 'm', 'trust')})`, [
    id,
  ])
  if (!found) throw notFound('client ledger')
  return found
}

async function entriesOf(m: EntityManager, ledgerId: number): Promise<CoreEntry[]> {
  return rows(m, `SELECT day, amount, clears_on AS clearsOn FROM ledger_entry WHERE ledger_id = ?`, [ledgerId])
}

async function reservedOn(m: EntityManager, ledgerId: number, exceptPayment: number | null): Promise<number> {
  const found = await row<{ drafts: number; holds: number }>(
    m,
    `SELECT COALESCE((SELECT SUM(amount) FROM payment_out WHERE ledger_id = ? AND state = 'draft' AND id <> ?), 0) AS drafts,
            COALESCE((SELECT SUM(amount) FROM ledger_hold WHERE ledger_id = ? AND released_at IS NULL), 0) AS holds`,
    [ledgerId, exceptPayment ?? 0, ledgerId],
  )
  return found!.drafts + found!.holds
}

export interface Taking {
  ledgerId: number
  amount: number
  day: Day
  overrideReason: string
  exceptPayment?: number | null
}

/**
 * Locks the ledger and judges whether the money may leave it; throws the refusal with its own code.
 * The balance is read after the lock is held, under READ COMMITTED, so requests at the same moment see each other.
 */
export async function takeFromLedger(m: EntityManager, ctx: Ctx, t: Taking): Promise<LedgerHead> {
  const ledger = await lockLedger(m, ctx, t.ledgerId)
  const firm = await row<{ firmMoney: number }>(
    m,
    `SELECT COALESCE(SUM(e.amount), 0) AS firmMoney FROM ledger_entry e JOIN client_ledger l ON l.id = e.ledger_id WHERE l.bank_account_id = ? AND l.kind = 'firm' AND l.id <> ?`,
    [ledger.bankAccountId, ledger.id],
  )
  const refusal = judgePaymentOut({
    amount: t.amount,
    day: t.day,
    today: ctx.clock.today(),
    ledger: {
      name: ledger.name,
      clientId: ledger.clientId,
      kind: ledger.kind,
      entries: await entriesOf(m, ledger.id),
      reserved: await reservedOn(m, ledger.id, t.exceptPayment ?? null),
    },
    bank: { kind: ledger.bankKind, firmMoney: firm!.firmMoney },
    override: t.overrideReason ? { allowed: ctx.actor.mayOverride && may(ctx.actor, 'trust.post'), reason: t.overrideReason } : null,
  })
  if (refusal) throw refused(refusal.code, refusal.sentence)
  return ledger
}

/** Finds or makes the ledger of an owner in a trust account. Money without a client goes to the unidentified ledger. */
export async function ensureLedger(
  m: EntityManager,
  bankAccountId: number,
  owner: { kind: 'client'; clientId: number; matterId: number | null } | { kind: 'firm' } | { kind: 'unidentified' },
): Promise<number> {
  const ownerKey = owner.kind === 'client' ? `client ${owner.clientId} matter ${owner.matterId ?? 0}` : owner.kind
  const find = () =>
    row<{ id: number }>(m, `SELECT id FROM client_ledger WHERE bank_account_id = ? AND owner_key = ?`, [bankAccountId, ownerKey])
  const known = await find()
  if (known) return known.id
  await m
    .createQueryBuilder()
    .insert()
    .orIgnore()
    .into(ClientLedger)
    .values({
      bankAccountId,
      kind: owner.kind,
      clientId: owner.kind === 'client' ? owner.clientId : null,
      matterId: owner.kind === 'client' ? owner.matterId : null,
      ownerKey,
    })
    .execute()
  return (await find())!.id
}

const bankingDays = calendarFor(shippedRuleSets[0]!, shippedHolidaySets, null)

/** The day on which a receipt of that kind counts as cleared. */
export async function clearingDay(m: EntityManager, kind: string, day: Day): Promise<Day> {
  const found = await row<{ n: number }>(m, `SELECT court_days AS n FROM clearing_days WHERE kind = ?`, [kind])
  return found?.n ? addCourtDays(bankingDays, day, found.n) : day
}

export interface BankHead {
  id: number
  name: string
  kind: 'pooled' | 'separate' | 'operating'
  glAccountId: number
  liabilityAccountId: number | null
}

export async function bankAccount(m: EntityManager, id: number): Promise<BankHead> {
  const found = await row<BankHead>(
    m,
    `SELECT id, name, kind, gl_account_id AS glAccountId, liability_account_id AS liabilityAccountId FROM bank_account WHERE id = ?`,
    [id],
  )
  if (!found) throw notFound('bank account')
  return found
}

export async function operatingBank(m: EntityManager): Promise<BankHead> {
  const found = await row<{ id: number }>(m, `SELECT id FROM bank_account WHERE kind = 'operating' ORDER BY id LIMIT 1`)
  if (!found) throw new Problem(409, 'no-operating-account', 'The firm has no operating account yet.')
  return bankAccount(m, found.id)
}
