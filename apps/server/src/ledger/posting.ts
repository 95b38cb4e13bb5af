import {
  faultsOfJournal,
  mirror,
  type AccountRole,
  type BankMove,
  type JournalLine,
  type LedgerMove,
  type TrustAccounts,
} from '@heron/core/ledger'
import type { Day } from '@heron/core/calendar'
import { IsNull, Not, type EntityManager } from 'typeorm'
import { instant, type Ctx } from '../platform/context'
import { insertMany, row, rows } from '../platform/database'
import { notFound, refused } from '../platform/problem'
import { Account, BankEntry, ClearingOverride } from './entities'

export interface BankLeg extends BankMove {
  kind: string
  reference?: string
  text: string
}
export interface LedgerLeg extends LedgerMove {
  clearsOn?: Day | null
  text: string
}
export interface Legs {
  lines: JournalLine[]
  bank?: BankLeg[]
  ledgers?: LedgerLeg[]
  /** Someone authorized that money of this ledger be spent before it clears. */
  override?: { ledgerId: number; reason: string } | null
}
export interface JournalHead {
  day: Day
  kind: string
  memo: string
  subject?: string
  subjectId?: number | null
}

/** The firm's account for each purpose that the application posts to. */
export async function accountFor(m: EntityManager): Promise<(role: AccountRole) => number> {
  const found = await m.find(Account, { select: { id: true, role: true }, where: { role: Not(IsNull()) } })
  const byRole = new Map(found.map((a) => [a.role, a.id]))
  return (role) => {
    const id = byRole.get(role)
    if (!id) throw refused('no-account', `The chart of accounts has no account for “${role}”.`)
    return id
  }
}

async function trustAccounts(m: EntityManager): Promise<TrustAccounts[]> {
  return rows(
    m,
    `SELECT id AS bankAccountId, gl_account_id AS bankGl, liability_account_id AS liabilityGl FROM bank_account WHERE kind <> 'operating'`,
  )
}

/** Opens a journal whose legs are known only once something else has its number, such as a bill. */
export async function openJournal(m: EntityManager, ctx: Ctx, head: JournalHead): Promise<number> {
  const made = (await m.query(
    `INSERT INTO journal (day, kind, memo, subject, subject_id, user_id, created_at) VALUES (?, ?, ?, ?, ?, ?, ?)`,
    [head.day, head.kind, head.memo.slice(0, 300), head.subject ?? '', head.subjectId ?? null, ctx.actor.id, instant(ctx.clock.now())],
  )) as { insertId: number }
  return made.insertId
}

/** Writes the legs and posts the journal; from here on nothing of it can change. */
export async function closeJournal(m: EntityManager, ctx: Ctx, journalId: number, day: Day, legs: Legs): Promise<void> {
  const bank = legs.bank ?? []
  const ledgers = legs.ledgers ?? []
  const faults = faultsOfJournal({ lines: legs.lines, bank, ledgers }, bank.length || ledgers.length ? await trustAccounts(m) : [])
  if (faults.length) throw new Error(`Journal ${journalId}: ${faults.join('; ')}`)
  await insertMany(
    m,
    'journal_line',
    ['journal_id', 'account_id', 'amount', 'matter_id', 'timekeeper_id', 'bill_id'],
    legs.lines.map((l) => [journalId, l.account, l.amount, l.matterId ?? null, l.timekeeperId ?? null, l.billId ?? null]),
  )
  if (bank.length)
    await insertMany(
      m,
      'bank_entry',
      ['journal_id', 'bank_account_id', 'day', 'amount', 'kind', 'reference', 'text'],
      bank.map((b) => [journalId, b.bankAccountId, day, b.amount, b.kind, b.reference ?? '', b.text.slice(0, 200)]),
    )
  // Money in before money out, so that a day is judged by how it closes.
  for (const l of [...ledgers].sort((a, b) => b.amount - a.amount))
    await insertMany(
      m,
      'ledger_entry',
      ['journal_id', 'ledger_id', 'day', 'amount', 'clears_on', 'text'],
      [[journalId, l.ledgerId, day, l.amount, l.clearsOn ?? null, l.text.slice(0, 200)]],
    )
  if (legs.override) await m.insert(ClearingOverride, { ...legs.override, journalId, userId: ctx.actor.id })
  await m.query(`INSERT INTO journal_posting (journal_id, posted_at) VALUES (?, ?)`, [journalId, instant(ctx.clock.now())])
}

/** The legs that undo a journal from a day on, where it may be reversed. */
export async function turnedLegs(m: EntityManager, journalId: number, day: Day): Promise<{ memo: string; legs: Legs }> {
  const original = await row<{ day: Day; kind: string; memo: string; reversed: number | null; isReversal: number | null }>(
    m,
    `SELECT j.day, j.kind, j.memo, r.reversal_id AS reversed, r2.journal_id AS isReversal FROM journal j
       LEFT JOIN journal_reversal r ON r.journal_id = j.id LEFT JOIN journal_reversal r2 ON r2.reversal_id = j.id WHERE j.id = ?`,
    [journalId],
  )
  if (!original) throw notFound('journal')
  if (original.reversed || original.isReversal) throw refused('already-reversed', 'This was already reversed.')
  if (day < original.day) throw refused('before-original', 'A reversal cannot be dated before what it reverses.')
  const lines = await rows<JournalLine>(
    m,
    `SELECT account_id AS account, amount, matter_id AS matterId, timekeeper_id AS timekeeperId, bill_id AS billId FROM journal_line WHERE journal_id = ? ORDER BY id`,
    [journalId],
  )
  const bank = await m.find(BankEntry, {
    select: { bankAccountId: true, amount: true, kind: true, reference: true, text: true, id: true },
    where: { journalId },
    order: { id: 'ASC' },
  })
  const ledgers = await rows<LedgerLeg>(
    m,
    `SELECT e.ledger_id AS ledgerId, c.bank_account_id AS bankAccountId, e.amount, e.text, CASE WHEN e.amount > 0 AND e.clears_on > ? THEN e.clears_on END AS clearsOn FROM ledger_entry e JOIN client_ledger c ON c.id = e.ledger_id WHERE e.journal_id = ? ORDER BY e.id`,
    [day, journalId],
  )
  const turned = mirror({ lines, bank, ledgers })
  const legs: Legs = {
    lines: turned.lines as JournalLine[],
    bank: turned.bank.map((b, i) => ({ ...bank[i]!, ...b, text: `Reversed: ${bank[i]!.text}` })),
    // A deposit that had not cleared is taken back with its day of clearing.
    ledgers: turned.ledgers.map((l, i) => ({ ...l, clearsOn: ledgers[i]!.clearsOn ?? null, text: `Reversed: ${ledgers[i]!.text}` })),
  }
  return { memo: original.memo, legs }
}
