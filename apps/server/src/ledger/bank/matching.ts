import type { Match } from '@heron/core/bank'
import { addDays, type Day } from '@heron/core/calendar'
import { showMoney, sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { audit } from '../../platform/audit'
import { instant, type Ctx } from '../../platform/context'
import { insertMany, lockRow, work } from '../../platform/database'
import { fieldFault, notFound, refused } from '../../platform/problem'
import { apart, requireBank } from './apart'
import { pairHash, refusedPairs } from './refused'
import {
  entriesByIds,
  linesByIds,
  entryOut,
  lineOut,
  openEntries,
  openLines,
  type BankHead,
  type EntryRow,
  type LineRow,
  addInTransit,
  bankOfMatch,
  insertMatches,
} from './queries'
import { BankAccount } from '../entities'
import { BankLineName, BankMatch, BankMatchEntry, BankMatchLine } from './entities'

/** How many open lines and entries are compared at once; of more, the oldest. */
const most = { lines: 3_000, entries: 8_000 }

async function compared(
  m: EntityManager,
  ctx: Ctx,
  bank: BankHead,
): Promise<{ matches: Match[]; gaveUp: number[]; lines: LineRow[]; entries: EntryRow[] }> {
  const none = { matches: [], gaveUp: [], lines: [], entries: [] }
  if (!bank.startedOn) return none
  const lines = await openLines(m, bank.id, most.lines)
  if (!lines.length) return none
  const entries = await openEntries(m, ctx, { id: bank.id, startedOn: bank.startedOn }, addDays(bank.startedOn, -180), most.entries)
  // What the book had before the start was settled then as far as is known: only a check's own number says surely that it was not,
  // and anything else of then is looked at last.
  const rules = { near: bank.nearDays, stale: bank.staleDays }
  const first = await apart('match', { ...rules, lines, entries: entries.filter((e) => e.counted || e.check) })
  const used = new Set(first.matches.flatMap((x) => x.lines))
  const old = entries.filter((e) => !e.counted && !e.check)
  const left = lines.filter((l) => !used.has(l.id))
  const second = old.length && left.length ? await apart('match', { ...rules, lines: left, entries: old }) : { matches: [], gaveUp: [] }
  const settled = new Set(entries.filter((e) => !e.counted).map((e) => e.id))
  const matches = [...first.matches, ...second.matches].map((x) => ({ ...x, sure: x.sure && (x.by === 'number and amount' || !x.entries.some((e) => settled.has(e))) })) // prettier-ignore
  return { matches, gaveUp: first.gaveUp, lines, entries }
}

/** What open lines seem to be, the likeliest first. */
export async function proposals(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const { matches, gaveUp, lines, entries } = await compared(m, ctx, await requireBank(m, id))
  const lineOf = new Map(lines.map((l) => [l.id, lineOut(l)]))
  const entryOf = new Map(entries.map((e) => [e.id, entryOut(e)]))
  const said = await refusedPairs(m, id)
  const left = said.size ? matches.filter((x) => !said.has(pairHash(x.lines, x.entries))) : matches
  const shown = left.map(({ lines: ls, entries: es, by, ...x }) => ({ ...x, key: `${ls.join('-')} ${es.join('-')}`, way: by, lines: ls.map((i) => lineOf.get(i)!), entries: es.map((i) => entryOf.get(i)!) })) // prettier-ignore
  return { rows: shown.sort((a, b) => b.score - a.score).slice(0, 500), gaveUp: gaveUp.slice(0, 500) }
}

interface Pair {
  lineIds: readonly number[]
  entryIds: readonly number[]
}
interface Said {
  way: string
  why: string
  named: string
  byItself: boolean
}
/** Keeps matches of an account that is locked: all of them, or none where one is not as it was seen. */
export async function keep(m: EntityManager, ctx: Ctx, bank: BankHead, pairs: readonly (Pair & Said)[]): Promise<void> {
  const lineIds = pairs.flatMap((p) => [...p.lineIds])
  const entryIds = pairs.flatMap((p) => [...p.entryIds])
  const lines = new Map((await linesByIds(m, lineIds)).map((l) => [l.id, l]))
  const entries = new Map((await entriesByIds(m, ctx, entryIds)).map((e) => [e.id, e]))
  if (lines.size !== lineIds.length || entries.size !== entryIds.length) throw notFound('line')
  const all = [...lines.values(), ...entries.values()]
  if (all.some((x) => x.bankId !== bank.id)) throw fieldFault('pairs', 'These are of different accounts')
  if (all.some((x) => x.matchId)) throw refused('changed-meanwhile', 'One of these was matched meanwhile. Look again.')
  const latest = (list: readonly { day: Day }[]) => list.map((x) => x.day).reduce((a, b) => (a > b ? a : b))
  const at = instant(ctx.clock.now())
  const rowOf = (p: Pair & Said) => {
    const [ls, es] = [p.lineIds.map((i) => lines.get(i)!), p.entryIds.map((i) => entries.get(i)!)]
    const difference = sum(ls.map((l) => l.amount)) - sum(es.map((e) => e.amount))
    if (difference && !p.named) throw fieldFault('named', `They differ by ${showMoney(difference)}. Say what that is`)
    return [bank.id, p.way, p.why.slice(0, 200), difference, difference ? p.named : '', latest(ls.map((l) => ({ day: l.countsOn }))), latest(es), p.byItself ? null : ctx.actor.id, at] // prettier-ignore
  }
  for (let i = 0; i < pairs.length; i += 300) {
    const some = pairs.slice(i, i + 300)
    const values = some.map(rowOf)
    // Rows of one statement get numbers one after another.
    const { insertId } = (await insertMatches(m, values)) as { insertId: number }
    await insertMany(m, 'bank_match_line', ['line_id', 'match_id'], some.flatMap((p, k) => p.lineIds.map((l) => [l, insertId + k]))) // prettier-ignore
    await insertMany(m, 'bank_match_entry', ['entry_id', 'match_id'], some.flatMap((p, k) => p.entryIds.map((e) => [e, insertId + k]))) // prettier-ignore
  }
}

/** Matches what could be nothing else. Compared before anything is locked; where someone was faster, what they said stands. */
export async function matchSure(ctx: Ctx, id: number): Promise<number> {
  const m = ctx.db.manager
  const bank = await requireBank(m, id)
  const sure = (await compared(m, ctx, bank)).matches.filter((x) => x.sure)
  if (!sure.length) return 0
  return work(ctx, async (tx) => {
    await locked(tx, id)
    const taken = new Set((await linesByIds(tx, sure.flatMap((x) => x.lines))).filter((l) => l.matchId).map((l) => l.id)) // prettier-ignore
    const used = new Set((await entriesByIds(tx, ctx, sure.flatMap((x) => x.entries))).filter((e) => e.matchId).map((e) => e.id)) // prettier-ignore
    const left = sure.filter((x) => !x.lines.some((l) => taken.has(l)) && !x.entries.some((e) => used.has(e)))
    await keep(tx, ctx, bank, left.map((x) => ({ lineIds: x.lines, entryIds: x.entries, way: x.by, why: x.why, named: '', byItself: true }))) // prettier-ignore
    return left.length
  })
}

export const locked = async (m: EntityManager, id: number) => {
  await lockRow(m, BankAccount, id)
  return requireBank(m, id)
}

/** A person says which lines are which entries; where they differ, what that is. */
export const matchPairs = (ctx: Ctx, input: { id: number; pairs: readonly Pair[]; named: string }): Promise<{ matched: number }> =>
  work(ctx, async (m) => {
    const bank = await locked(m, input.id)
    await keep(m, ctx, bank, input.pairs.map((p) => ({ ...p, way: 'by hand', why: 'Matched by hand', named: input.named, byItself: false }))) // prettier-ignore
    await audit(m, ctx, { kind: 'changed', text: `${input.pairs.length} matched on ${bank.name}`, subject: 'account', subjectId: bank.id })
    return { matched: input.pairs.length }
  })

export const partMatch = (ctx: Ctx, id: number): Promise<void> =>
  work(ctx, async (m) => {
    const found = await bankOfMatch(m, id)
    if (!found) throw notFound('match')
    const bank = await locked(m, found.bankId)
    // The database refuses it where the month is closed; the sides go first, and come back with everything else then.
    await m.delete(BankMatchLine, { matchId: id })
    await m.delete(BankMatchEntry, { matchId: id })
    await m.delete(BankMatch, { id })
    await audit(m, ctx, { kind: 'changed', text: `A match on ${bank.name} taken apart`, subject: 'account', subjectId: bank.id })
  })

export const nameLine = (ctx: Ctx, id: number, words: string): Promise<void> =>
  work(ctx, async (m) => {
    const [line] = await linesByIds(m, [id])
    if (!line) throw notFound('line')
    const bank = await locked(m, line.bankId)
    if (bank.closedTo && line.day <= bank.closedTo)
      throw refused('month-closed', 'The month of this line is closed; its report stays as it was.')
    if (words)
      await m.upsert(BankLineName, { lineId: id, words, userId: ctx.actor.id }, ['lineId']) // prettier-ignore
    else await m.delete(BankLineName, { lineId: id })
    await audit(m, ctx, { kind: 'changed', text: `A line of ${showMoney(line.amount)} on ${bank.name} ${words ? `carried as “${words}”` : 'no longer carried by a name'}`, subject: 'account', subjectId: bank.id }) // prettier-ignore
  })

/** Of what stands in the book before the start: whether the bank had not seen it yet. */
export const markInTransit = (ctx: Ctx, id: number, inTransit: boolean): Promise<void> =>
  work(ctx, async (m) => {
    const [entry] = await entriesByIds(m, ctx, [id])
    if (!entry) throw notFound('entry')
    const bank = await locked(m, entry.bankId)
    if (bank.closedTo) throw refused('month-closed', 'A month of this account is closed; what it began with stays.')
    if (!bank.startedOn || entry.day >= bank.startedOn) throw fieldFault('id', 'This entry is not of before the start')
    await addInTransit(m, inTransit, id)
    await audit(m, ctx, { kind: 'changed', text: `An entry of ${showMoney(entry.amount)} on ${bank.name} ${inTransit ? 'was' : 'was not'} in transit at the start`, subject: 'account', subjectId: bank.id }) // prettier-ignore
  })
