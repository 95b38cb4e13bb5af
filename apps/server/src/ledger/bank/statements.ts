import type { CsvMatchIn } from '@heron/contract'
import { freshLines, ownDifference, type Statement } from '@heron/core/bank'
import { addDays, isSensibleDay, showDay, type Day } from '@heron/core/calendar'
import { mostMoney, showMoney, sum } from '@heron/core/money'
import { counted } from '@heron/core/words'
import type { EntityManager } from 'typeorm'
import { z } from 'zod'
import { audit } from '../../platform/audit'
import { instant, type Ctx } from '../../platform/context'
import { insertMany, insertRow, lockRow, work } from '../../platform/database'
import { keepFile, readStored } from '../../platform/files'
import { fieldFault, notFound } from '../../platform/problem'
import { markMovedIn } from '../opening'
import { apart, requireBank } from './apart'
import { matchSure } from './matching'
import { bankBalance, knownLines, type BankHead } from './queries'
import { BankCsvMatch, BankRead, BankStart, BankStatement } from './entities'
import { BankAccount } from '../entities'

const rememberedMatch = async (m: EntityManager, bankId: number): Promise<CsvMatchIn | null> => {
  const found = await m.findOne(BankCsvMatch, { select: { columns: true, bankAccountId: true }, where: { bankAccountId: bankId } })
  return found ? (JSON.parse(found.columns) as CsvMatchIn) : null
}

/** The statement of this account among those of a file; that of another account is a fault. */
function ofAccount(bank: BankHead, found: readonly Statement[]): Statement {
  const digits = (s: Statement) => s.account.replace(/\D/g, '')
  const own = found.filter((s) => !s.account || !bank.ending || digits(s).endsWith(bank.ending))
  if (own.length === 1) return own[0]!
  const first = found[0]!
  if (!own.length) return { ...first, faults: [...first.faults, `This is a statement of account ${first.account}, and ${bank.name} ends in ${bank.ending}.`] } // prettier-ignore
  return { ...own[0]!, faults: [...own[0]!.faults, 'The file has several statements of this account. Save them one by one.'] }
}

async function judged(m: EntityManager, ctx: Ctx, bank: BankHead, s: Statement) {
  const faults = [...s.faults]
  if (s.currency && s.currency !== 'USD') faults.push(`The statement is in ${s.currency}; accounts are kept in USD.`)
  const days = s.lines.map((l) => l.day)
  const from = s.from ?? (days.length ? days.reduce((a, b) => (a < b ? a : b)) : null)
  const to = s.to ?? (days.length ? days.reduce((a, b) => (a > b ? a : b)) : null)
  if (!faults.length && (!from || !to)) faults.push('The file says neither of which days it is nor has it any line.')
  if (from && to && to < from) faults.push('The statement ends before it begins.')
  if (s.lines.some((l) => Math.abs(l.amount) > mostMoney.amount)) faults.push('A line is of more than an account can move.')
  const outside = from && to ? days.filter((d) => d < from || d > to).length : 0
  const oddities = [
    ...s.oddities,
    ...(outside ? [`${counted(outside, 'line')} dated outside of the days of the statement; each counts within them.`] : []),
  ]
  if ([from, to].some((d) => d && !isSensibleDay(d))) faults.push('Its days are not of these times.')
  if (days.some((d) => d > ctx.clock.today())) faults.push('A line is dated ahead of today.')
  const first = days.length ? days.reduce((a, b) => (a < b ? a : b)) : from
  const last = days.length ? days.reduce((a, b) => (a > b ? a : b)) : to
  const { fresh } = freshLines(s.lines, first && last ? await knownLines(m, bank.id, first, last) : [])
  const late = bank.closedTo ? fresh.filter((l) => l.day <= bank.closedTo!).length : 0
  if (late) oddities.push(`${counted(late, 'line')} dated in a month that is closed; what is dated so counts in the open one.`)
  const differences: string[] = []
  const own = ownDifference(s)
  if (own) differences.push(`Its own figures do not add up: ${showMoney(own)} between opening, lines and closing.`)
  // Where a file states no opening balance, it is what its closing and its lines leave.
  const opening = s.opening ?? (s.closing === null ? null : s.closing - sum(s.lines.map((l) => l.amount)))
  const before = from && isSensibleDay(from) ? await bankBalance(m, bank.id, addDays(from, -1)) : null
  if (before !== null && opening !== null && before !== opening)
    differences.push(
      `It begins with ${showMoney(opening)}; by what was read before, the bank held ${showMoney(before)} on ${showDay(addDays(from!, -1))}.`,
    )
  return { statement: s, faults, oddities, from, to, fresh, differences, difference: own ?? 0 }
}

/** Columns as they were chosen on the page; checked in full when the statement is taken. */
function wishedColumns(text: string): CsvMatchIn {
  const at = z.number().int().min(0).max(199)
  const shape = z.object({ skip: z.number().int().min(0).max(60), day: at, order: z.enum(['mdy', 'dmy', 'ymd']), decimal: z.enum(['.', ',']), turned: z.boolean(), text: z.array(at).max(10), amount: at.nullable(), moneyIn: at.nullable(), moneyOut: at.nullable(), direction: at.nullable().optional(), check: at.nullable(), reference: at.nullable(), bankId: at.nullable(), balance: at.nullable() }) // prettier-ignore
  try {
    return shape.parse(JSON.parse(text))
  } catch {
    throw fieldFault('columns', 'Say which column is what')
  }
}

/** Reads a file and says what would be taken; nothing is, but the file is kept for the taking. */
export async function readStatement(ctx: Ctx, id: number, bytes: Uint8Array, columns: string) {
  const m = ctx.db.manager
  const bank = await requireBank(m, id)
  const wished = columns ? wishedColumns(columns) : await rememberedMatch(m, id)
  const { statements, guess } = await apart('read', { bytes, match: wished })
  const j = await judged(m, ctx, bank, ofAccount(bank, statements))
  const { id: fileId } = await work(ctx, async (tx) => {
    const file = await keepFile(tx, ctx, bytes, 'application/octet-stream')
    await tx.insert(BankRead, { fileId: file.id, bankAccountId: id })
    return file
  })
  const s = j.statement
  return {
    fileId,
    format: s.format,
    account: s.account,
    from: j.from,
    to: j.to,
    opening: s.opening,
    closing: s.closing,
    lines: s.lines.length,
    fresh: j.fresh.length,
    faults: j.faults,
    oddities: j.oddities,
    differences: j.differences,
    sample: s.lines.slice(0, 6).map((l) => ({ day: l.day, amount: l.amount, check: l.check, text: l.text })),
    csv: guess ? { columns: guess.columns.slice(0, 60), rows: guess.sample.map((r) => r.slice(0, 60).map((c) => c.slice(0, 120))), match: wished ?? guess.match } : null, // prettier-ignore
  }
}
/** Takes a statement as it was read: its new lines are kept, and what is sure is matched after that. */
export async function takeStatement(
  ctx: Ctx,
  input: { id: number; fileId: number; fileName: string; columns: CsvMatchIn | null; accepted: string; closing: number | null },
) {
  const db = ctx.db.manager
  if (!(await db.existsBy(BankRead, { fileId: input.fileId, bankAccountId: input.id }))) throw notFound('file')
  // Read before anything is locked: others post to the account meanwhile.
  const stored = await readStored(db, ctx, input.fileId)
  const { statements } = await apart('read', { bytes: new Uint8Array(stored.data), match: input.columns })
  const taken = await work(ctx, async (m) => {
    await lockRow(m, BankAccount, input.id)
    const bank = await requireBank(m, input.id)
    const found = ofAccount(bank, statements)
    // A balance that is typed stands in where the file states none, and is judged like one.
    const s = { ...found, closing: found.closing ?? input.closing }
    const j = await judged(m, ctx, bank, s)
    if (j.faults.length) throw fieldFault('file', j.faults[0]!)
    if (j.differences.length && !input.accepted) throw fieldFault('accepted', `${j.differences[0]} Say why it is taken`)
    // A line counts within its statement, and not in a month that is closed: it is shown by its own day, and goes into the open one.
    const open = bank.closedTo ? addDays(bank.closedTo, 1) : null
    const countsOn = (day: Day) => {
      const within = day < j.from! ? j.from! : day > j.to! ? j.to! : day
      return open && within < open ? open : within
    }
    if (input.columns)
      await m.upsert(BankCsvMatch, { bankAccountId: bank.id, columns: JSON.stringify(input.columns) }, ['bankAccountId']) // prettier-ignore
    const madeId = await insertRow(m, BankStatement, {
      bankAccountId: bank.id,
      fileId: input.fileId,
      fileName: input.fileName.slice(0, 200),
      format: s.format,
      fromDay: j.from!,
      toDay: j.to!,
      opening: s.opening,
      closing: s.closing,
      lineCount: s.lines.length,
      freshCount: j.fresh.length,
      difference: j.difference,
      accepted: input.accepted,
      readBy: ctx.actor.id,
      readAt: instant(ctx.clock.now()),
    })
    await insertMany(
      m,
      'bank_line',
      ['statement_id', 'bank_account_id', 'day', 'counts_on', 'amount', 'bank_id', 'check_no', 'reference', 'kind', 'text', 'details'],
      j.fresh.map((l) => [madeId, bank.id, l.day, countsOn(l.day), l.amount, l.bankId, l.check, l.reference, l.kind, l.text, JSON.stringify(l.details)]), // prettier-ignore
    )
    // The first statement is where an account begins to be reconciled.
    if (!bank.startedOn) {
      await m.insert(BankStart, { bankAccountId: bank.id, day: j.from! })
      await markMovedIn(m, bank.id)
    }
    await audit(m, ctx, { kind: 'read', text: `Statement of ${bank.name} to ${showDay(j.to!)} taken: ${counted(j.fresh.length, 'new line')}${input.accepted ? `. ${input.accepted}` : ''}`, subject: 'account', subjectId: bank.id }) // prettier-ignore
    return { id: madeId, fresh: j.fresh.length }
  })
  return { ...taken, matched: await matchSure(ctx, input.id) }
}
