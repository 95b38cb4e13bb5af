import { createHash } from 'node:crypto'
import { showDayInWords, type Day } from '@heron/core/calendar'
import { writeTable } from '@heron/core/formats'
import { sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { ZipFile } from 'yazl'
import { audit } from '../../platform/audit'
import type { Ctx } from '../../platform/context'
import { download, readStored } from '../../platform/files'
import { fieldFault, Problem, refused } from '../../platform/problem'
import { register } from '../payment-queries'
import { bankAccount } from '../ledgers'
import { exportJournals } from './export'
import { Firm } from '../../platform/shared-entities'
import {
  entriesBetween,
  heldBefore,
  bookTables,
  hiddenAmong,
  journalTables,
  listingTables,
  pageOfTable,
  ledgersOfBank,
  reportsBetween,
} from './archive-queries'

interface Entry {
  name: string
  words: string
  data: Buffer
}
/** So many rows are read and written at once; all others of the house go between. */
const atOnce = 5_000
/** The most rows of one archive; of more, a shorter span is asked for. */
const most = 400_000
type Cell = string | number | null
const decimal = (cents: number) => (cents / 100).toFixed(2)

/** A table as CSV, read page by page by the id of its rows; columns that end in _cents are written as decimals. */
async function table(m: EntityManager, name: string, words: string, sql: string, values: Cell[]): Promise<Entry> {
  const parts: string[] = []
  let heads: string[] = []
  let read = 0
  for (let more = true; more;) {
    const list = await pageOfTable(m, sql, values, atOnce, read)
    if (!parts.length) heads = list.length ? Object.keys(list[0]!) : []
    const body = list.map((r) => heads.map((h) => (h.endsWith('_cents') && r[h] !== null ? decimal(Number(r[h])) : (r[h] ?? null))))
    const text = writeTable(heads.map((h) => h.replace(/_cents$/, '')), body) // prettier-ignore
    // The head, with its mark of encoding, stands once.
    parts.push(parts.length ? text.slice(text.indexOf('\r\n') + 2) : text)
    read += list.length
    if (read > most) throw fieldFault('from', `${name} has more than ${most} rows in this span. Take a shorter one`)
    more = list.length === atOnce
  }
  return { name, words, data: Buffer.from(parts.join('')) }
}

/** Client ledgers with the balance after each entry: so many ledgers at once, from what each held before the span. */
async function clientLedgers(m: EntityManager, bankId: number, from: Day, to: Day): Promise<Entry> {
  const heads = ['ledger', 'client', 'matter', 'day', 'text', 'amount', 'balance', 'clears on', 'journal']
  const all = await ledgersOfBank(m, bankId)
  const parts: string[] = [writeTable(heads, [])]
  let written = 0
  for (let at = 0; at < all.length; at += 500) {
    const some = all.slice(at, at + 500)
    const ids = some.map((l) => l.id)
    const before = new Map((await heldBefore(m, from, ids)).map((l) => [l.id, l.balance]))
    const entries = await entriesBetween(m, ids, from, to)
    const byLedger = new Map<number, typeof entries>()
    for (const e of entries) {
      const own = byLedger.get(e.ledgerId)
      if (own) own.push(e)
      else byLedger.set(e.ledgerId, [e])
    }
    for (const l of some) {
      let balance = before.get(l.id) ?? 0
      const own = (byLedger.get(l.id) ?? []).map((e): Cell[] => [l.id, l.client, l.matter, e.day, e.text, decimal(e.amount), decimal((balance += e.amount)), e.clearsOn, e.journal]) // prettier-ignore
      if (!own.length) continue
      const text = writeTable(heads, own)
      parts.push(text.slice(text.indexOf('\r\n') + 2))
      written += own.length
    }
    if (written > most) throw fieldFault('from', `client-ledgers.csv has more than ${most} rows in this span. Take a shorter one`)
  }
  return {
    name: 'client-ledgers.csv',
    words: 'Client ledgers: every entry with the balance after it, ledger by ledger.',
    data: Buffer.from(parts.join('')),
  }
}

/** One archive is put together at a time in a process: each reads very much. */
let busy = false
async function alone<T>(make: () => Promise<T>): Promise<T> {
  if (busy) throw refused('too-much', 'An archive is being put together just now. Try again in a minute.')
  busy = true
  try {
    return await make()
  } finally {
    busy = false
  }
}

async function zipped(ctx: Ctx, title: string, about: string[], entries: readonly Entry[], file: string): Promise<File> {
  const index = [
    title,
    '',
    ...about,
    '',
    'Each file, what it is, and its SHA-256, by which it can be seen that nothing was changed since:',
    '',
    ...entries.map((e) => `${e.name}\n  ${e.words}\n  ${createHash('sha256').update(e.data).digest('hex')}`),
    '',
  ].join('\n')
  const zip = new ZipFile()
  zip.addBuffer(Buffer.from(index), 'INDEX.txt', { mtime: ctx.clock.now() })
  for (const e of entries) zip.addBuffer(e.data, e.name, { mtime: ctx.clock.now() })
  zip.end()
  const parts: Buffer[] = []
  for await (const part of zip.outputStream as unknown as AsyncIterable<Buffer>) parts.push(part)
  return download(Buffer.concat(parts), file, 'application/zip')
}

function requireSpan(from: Day, to: Day) {
  if (from > to) throw fieldFault('to', 'It ends before it begins')
}
/** An archive tells of every matter, so it is for those from whom none is kept. */
async function requireAll(m: EntityManager, ctx: Ctx, bankId = 0) {
  const hidden = await hiddenAmong(m, ctx, bankId)
  if (hidden) throw new Problem(403, 'screened', 'This has every client, and a matter here is kept from you. Have a colleague make it.')
}
/** What an auditor of the bar asks for of one trust account, for any span, as one ZIP with an index and hashes. */
export const trustRecords = (ctx: Ctx, bankId: number, from: Day, to: Day): Promise<File> => alone(() => recordsOf(ctx, bankId, from, to))
async function recordsOf(ctx: Ctx, bankId: number, from: Day, to: Day): Promise<File> {
  requireSpan(from, to)
  const m = ctx.db.manager
  const bank = await bankAccount(m, bankId)
  if (bank.kind === 'operating') throw fieldFault('bankAccountId', 'Choose a trust account')
  await requireAll(m, ctx, bankId)
  const span = [bankId, from, to]
  const entries: Entry[] = []
  for (const t of journalTables(bankId, from, to)) entries.push(await table(m, ...t))
  entries.push(await clientLedgers(m, bankId, from, to))
  for (const t of listingTables(bankId, from, to)) entries.push(await table(m, ...t))
  const checks = await register(ctx, { bankAccountId: bankId, state: '', page: 1, size: most })
  entries.push({
    name: 'checks.csv',
    words: 'Register of checks: every number, with what became of it.',
    data: Buffer.from(writeTable(['number', 'up to', 'state', 'day', 'paid on', 'payee', 'ledger', 'amount', 'words'], checks.rows.map((c) => [c.number, c.upTo, c.state, c.day, c.paidOn, c.payee, c.ledger, c.amount === null ? null : decimal(c.amount), c.words]))), // prettier-ignore
  })
  const months = await reportsBetween(m, span)
  for (const r of months)
    entries.push({
      name: `reconciliations/${r.toDay}.pdf`,
      words: `Reconciliation closed at ${r.toDay}.`,
      data: (await readStored(m, ctx, r.fileId)).data,
    })
  if (sum(entries.map((e) => e.data.length)) > 400_000_000) throw refused('too-much', 'This is more than 400 MB. Take a shorter span.')
  await audit(m, ctx, {
    kind: 'exported',
    text: `Trust records of ${bank.name}, ${from} to ${to}, put together`,
    subject: 'account',
    subjectId: bankId,
  })
  const firm = await m.findOne(Firm, { select: { name: true, id: true }, where: { id: 1 } })
  return zipped(ctx, `${firm!.name}: trust records of ${bank.name}`, [`From ${showDayInWords(from)} to ${showDayInWords(to)}.`, `Put together on ${showDayInWords(ctx.clock.today())} by ${ctx.actor.name}.`, 'Amounts are in dollars. Nothing posted is ever changed; what was wrong is reversed or corrected by an entry of its own.'], entries, `trust-records-${bankId}-${from}-${to}.zip`) // prettier-ignore
}

/** The whole set of books as tables that any program reads, with a description, and the journal as plain text beside them. */
export const wholeBooks = (ctx: Ctx, to: Day): Promise<File> => alone(() => booksOf(ctx, to))
async function booksOf(ctx: Ctx, to: Day): Promise<File> {
  const m = ctx.db.manager
  await requireAll(m, ctx)
  const entries: Entry[] = []
  for (const t of bookTables(to)) entries.push(await table(m, ...t))
  entries.push({
    name: 'journal.txt',
    words: 'The same journals as plain text for ledger and hledger.',
    data: Buffer.from(await exportJournals(ctx, to)),
  })
  await audit(m, ctx, { kind: 'exported', text: `Whole set of books up to ${to} put together`, subject: 'account' })
  const firm = await m.findOne(Firm, { select: { name: true, id: true }, where: { id: 1 } })
  return zipped(ctx, `${firm!.name}: the whole set of books up to ${to}`, ['CSV in UTF-8, separated by commas; days as year-month-day, amounts in dollars with two decimals.', 'journal in every file is the number of the journal that the row belongs to.'], entries, `books-${to}.zip`) // prettier-ignore
}
