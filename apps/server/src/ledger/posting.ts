import { faultsOfJournal, mirror, type AccountRole, type BankMove, type JournalLine } from '@heron/core/ledger'
import type { Day } from '@heron/core/calendar'
import { IsNull, Not, type EntityManager } from 'typeorm'
import type { Ctx } from '../platform/context'
import { insertMany } from '../platform/database'
import { notFound, refused } from '../platform/problem'
import { Account, BankEntry, ClearingOverride } from './entities'
import {
  insertJournal,
  type JournalHead,
  insertPosting,
  journalToTurn,
  type LedgerLeg,
  ledgersToTurn,
  linesToTurn,
  trustAccounts,
} from './posting-queries'

export interface BankLeg extends BankMove {
  kind: string
  reference?: string
  text: string
}
export interface Legs {
  lines: JournalLine[]
  bank?: BankLeg[]
  ledgers?: LedgerLeg[]
  /** Someone authorized that money of this ledger be spent before it clears. */
  override?: { ledgerId: number; reason: string } | null
}
export type { JournalHead }

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

/** Opens a journal whose legs are known only once something else has its number, such as a bill. */
export async function openJournal(m: EntityManager, ctx: Ctx, head: JournalHead): Promise<number> {
  const made = (await insertJournal(m, ctx, head)) as { insertId: number }
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
  await insertPosting(m, ctx, journalId)
}

/** The legs that undo a journal from a day on, where it may be reversed. */
export async function turnedLegs(m: EntityManager, journalId: number, day: Day): Promise<{ memo: string; legs: Legs }> {
  const original = await journalToTurn(m, journalId)
  if (!original) throw notFound('journal')
  if (original.reversed || original.isReversal) throw refused('already-reversed', 'This was already reversed.')
  if (day < original.day) throw refused('before-original', 'A reversal cannot be dated before what it reverses.')
  const lines = await linesToTurn(m, journalId)
  const bank = await m.find(BankEntry, {
    select: { bankAccountId: true, amount: true, kind: true, reference: true, text: true, id: true },
    where: { journalId },
    order: { id: 'ASC' },
  })
  const ledgers = await ledgersToTurn(m, day, journalId)
  const turned = mirror({ lines, bank, ledgers })
  const legs: Legs = {
    lines: turned.lines as JournalLine[],
    bank: turned.bank.map((b, i) => ({ ...bank[i]!, ...b, text: `Reversed: ${bank[i]!.text}` })),
    // A deposit that had not cleared is taken back with its day of clearing.
    ledgers: turned.ledgers.map((l, i) => ({ ...l, clearsOn: ledgers[i]!.clearsOn ?? null, text: `Reversed: ${ledgers[i]!.text}` })),
  }
  return { memo: original.memo, legs }
}
