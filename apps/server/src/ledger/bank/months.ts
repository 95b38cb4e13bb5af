import { reconcile } from '@heron/core/bank'
import { addDays, daysBetween, parts, showDay, showDayInWords, type Day } from '@heron/core/calendar'
import { columnsOf } from '@heron/core/ledger'
import { showAmount, showMoney, sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { audit } from '../../platform/audit'
import { instant, type Ctx } from '../../platform/context'
import { insertRow, lockRow, work } from '../../platform/database'
import { keepFile, readStored } from '../../platform/files'
import { footOf, headOf, makePdf } from '../../platform/pdf'
import { letterheadOf } from '../../platform/queries'
import { fieldFault, notFound, refused } from '../../platform/problem'
import { requireBank } from './apart'
import { UserAccount } from '../../platform/shared-entities'
import { BankAccount } from '../entities'
import { MonthRequest, Reconciliation, ReconciliationReopened } from './entities'
import {
  balancesAt,
  bankBalance,
  bankHeads,
  beforeStart,
  clientBalances,
  entriesInTransit,
  entryOut,
  lineOut,
  linesOutside,
  matchErrors,
  matchesOf,
  sidesOf,
  type BankHead,
} from './queries'
import {
  closedAt,
  hiddenLedger,
  monthClosed,
  needsTwo,
  reaches,
  reportOfMonth,
  type Request,
  requestDone,
  requestOn,
  requestRefused,
  requestRow,
} from './month-queries'
// prettier-ignore

/** How much is shown and added up at once; of an account with more in between, a month cannot be closed. */
const most = { lines: 2_000, entries: 5_000, matches: 300 }

export const accountsAtBank = async (ctx: Ctx) =>
  (await bankHeads(ctx.db.manager)).map(({ id, name, kind, ending, book, startedOn, closedTo, readTo, open }) => ({ id, name, kind, ending, book, startedOn, closedTo, readTo, open })) // prettier-ignore

/** The account at the end of a day, as bank, book and ledgers tell it. */
async function position(m: EntityManager, ctx: Ctx, bank: BankHead, to: Day) {
  const stated = await bankBalance(m, bank.id, to)
  if (!bank.startedOn || stated === null) return { stated: null, lines: [], entries: [], found: null, more: false }
  const own = { id: bank.id, startedOn: bank.startedOn }
  const lines = await linesOutside(m, bank.id, to, most.lines + 1)
  const entries = await entriesInTransit(m, ctx, own, to, most.entries + 1)
  const errors = await matchErrors(m, bank.id, to)
  const { book, ledgers, unidentified } = await balancesAt(m, bank, to)
  const found = reconcile({
    bank: stated,
    book,
    ledgers,
    inTransit: entries.map((e) => e.amount),
    // A line that stands in the book on a later day is named by that.
    unbooked: lines.map((l) => ({ amount: l.amount, named: l.named !== '' || l.matchId !== null })),
    errors: errors.map((e) => ({ amount: e.amount, named: e.named !== '' })),
    unidentified,
  })
  return {
    stated: { bank: stated, book, ledgers },
    lines,
    entries,
    found,
    more: lines.length > most.lines || entries.length > most.entries,
  }
} // prettier-ignore

/** What keeps a month open, in words. */
const stopsOf = async (m: EntityManager, bankId: number, to: Day, p: Awaited<ReturnType<typeof position>>) => [
  ...(p.found?.stops ?? ['No statement with a balance was taken yet.']),
  ...(p.found && !(await reaches(m, bankId, to)) ? [`No statement reaches ${showDay(to)}.`] : []),
  ...(p.more ? ['There is too much in between to be shown. Match what is old first.'] : []),
]

/** How many months are told at once where a firm catches up. */
const mostMonths = 24
/** The months that are over and not closed yet, the oldest first, each with what keeps it open. */
export async function monthsToClose(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const bank = await requireBank(m, id)
  const from = bank.closedTo ? addDays(bank.closedTo, 1) : bank.startedOn
  if (!from) return []
  const over = columnsOf({ from, to: addDays(ctx.clock.today(), -1) }, 'months').filter((c) => parts(addDays(c.to, 1))[2] === 1).slice(0, mostMonths) // prettier-ignore
  const list = []
  // One after the other: two years take no more of the database at once than one month.
  for (const { to } of over) {
    const p = await position(m, ctx, bank, to)
    const request = await requestOn(m, ctx, id, to)
    list.push({ to, figures: p.stated && { bank: p.stated.bank, book: p.stated.book }, lines: Math.min(p.lines.length, most.lines), entries: Math.min(p.entries.length, most.entries), stops: await stopsOf(m, id, to, p), asked: request?.kind === 'close' }) // prettier-ignore
  }
  return list
}

export async function workOn(ctx: Ctx, id: number, to: Day) {
  const m = ctx.db.manager
  const bank = await requireBank(m, id)
  const p = await position(m, ctx, bank, to)
  const closed = await closedAt(m, id, to)
  const found = await matchesOf(m, id, addDays(to, -31), to, most.matches)
  const sides = await sidesOf(m, ctx, found.map((x) => x.id)) // prettier-ignore
  const stops = await stopsOf(m, id, to, p)
  const { stops: _, ...figures } = p.found ?? { stops: [] }
  return {
    name: bank.name,
    kind: bank.kind,
    to,
    closed: bank.closedTo !== null && to <= bank.closedTo,
    closedTo: bank.closedTo,
    reconciliationId: closed?.id ?? null,
    /** Older reports of a month that was opened again stay. */
    reopened: Boolean(closed?.reopened),
    request: await requestOn(m, ctx, id, to).then((q) => q && { ...q, own: Boolean(q.own) }),
    figures: p.found && p.stated ? { ...p.stated, ...(figures as Omit<NonNullable<typeof p.found>, 'stops'>) } : null,
    stops,
    lines: p.lines.slice(0, most.lines).map(lineOut),
    entries: p.entries.slice(0, most.entries).map((e) => ({ ...entryOut(e), days: daysBetween(e.day, to) })),
    matches: found.map((x) => ({ ...x, lines: sides.lines.filter((l) => l.matchId === x.id).map(lineOut), entries: sides.entries.filter((e) => e.matchId === x.id).map(entryOut) })), // prettier-ignore
    more: p.more,
  }
}

/** Entries of before the start that could have been in transit then, with those that are marked. */
export async function startOf(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const bank = await requireBank(m, id)
  if (!bank.startedOn) return { startedOn: null, rows: [] }
  const found = await beforeStart(m, ctx, { id, startedOn: bank.startedOn }, addDays(bank.startedOn, -400))
  return { startedOn: bank.startedOn, rows: found.map((e) => ({ id: e.id, day: e.day, amount: e.amount, check: e.check, text: e.text, marked: Boolean(e.marked) })) } // prettier-ignore
} // prettier-ignore

const right = (text: string, more: object = {}) => ({ text, alignment: 'right', ...more })
const cells = (words: readonly string[]) => words.map((text, i) => ({ text, style: 'head', alignment: i === words.length - 1 ? 'right' : 'left' })) // prettier-ignore
const table = (heads: string[], widths: (number | string)[], body: string[][], total: number) => ({
  table: {
    headerRows: 1,
    widths,
    body: [cells(heads), ...body.map((r) => r.map((c, i) => (i === r.length - 1 ? right(c) : c))), ['Together', ...heads.slice(2).map(() => ''), right(showAmount(total))]], // prettier-ignore
  },
  layout: 'lightHorizontalLines',
  margin: [0, 4, 0, 14],
})
async function report(m: EntityManager, ctx: Ctx, bank: BankHead, to: Day, p: Awaited<ReturnType<typeof position>>, preparedBy: number) {
  const firm = await letterheadOf(m)
  const f = p.found!
  const s = p.stated!
  const clients = bank.kind === 'operating' ? [] : await clientBalances(m, bank.id, to)
  const nameOf = async (id: number) => (await m.findOne(UserAccount, { select: { name: true, id: true }, where: { id } }))!.name
  const who = { name: (await nameOf(preparedBy)) + (preparedBy === ctx.actor.id ? '' : `, approved by ${await nameOf(ctx.actor.id)}`) }
  const out = p.entries.filter((e) => e.amount < 0)
  const inn = p.entries.filter((e) => e.amount > 0)
  const sumOf = (list: readonly { amount: number }[]) => sum(list.map((x) => x.amount))
  const figures: [string, number][] = [
    ['Balance of the bank', s.bank],
    ['Deposits in transit', f.depositsInTransit],
    ['Checks and payments outstanding', f.outstanding],
    ['Of the bank, not in the book', -(f.unbookedIn + f.unbookedOut)],
    ['Differences of amounts', -f.errors],
    ['Adjusted balance of the bank', f.adjusted],
    ['Balance of the book', s.book],
    ...(s.ledgers === null ? [] : ([['Client ledgers together', s.ledgers]] as [string, number][])),
  ]
  const section = (title: string, heads: string[], body: string[][], total: number) =>
    body.length ? [{ text: title, style: 'total' }, table(heads, [58, 46, '*', 76], body, total)] : []
  return makePdf({
    pageSize: 'LETTER',
    pageMargins: [54, 54, 54, 66],
    info: { title: `Reconciliation of ${bank.name}, ${to}`, author: firm.name },
    foot: footOf(firm, `Reconciliation of ${bank.name} · ${showDayInWords(to)} · page {page} of {pages}`),
    content: [
      { columns: [headOf(firm), { stack: [right('Reconciliation', { style: 'title' }), right(showDayInWords(to))] }] },
      { text: `${bank.name}, account ending in ${bank.ending}`, margin: [0, 20, 0, 2], style: 'total' },
      { text: `Prepared by ${who.name} on ${showDayInWords(ctx.clock.today())}.`, style: 'small', margin: [0, 0, 0, 10] },
      {
        table: { widths: ['*', 100], body: figures.map(([k, v]) => [k, right(showMoney(v))]) },
        layout: 'lightHorizontalLines',
        margin: [0, 0, 0, 16],
      },
      ...section('Checks and payments outstanding', ['Day', 'Check', 'For', 'Amount'], out.map((e) => [showDay(e.day), e.check, e.text, showAmount(e.amount)]), sumOf(out)), // prettier-ignore
      ...section('Deposits in transit', ['Day', '', 'For', 'Amount'], inn.map((e) => [showDay(e.day), '', e.text, showAmount(e.amount)]), sumOf(inn)), // prettier-ignore
      ...section('Of the bank, not in the book', ['Day', 'Check', 'What it is', 'Amount'], p.lines.map((l) => [showDay(l.day), l.check, [l.named || 'booked later', l.text].filter(Boolean).join(': '), showAmount(l.amount)]), sumOf(p.lines)), // prettier-ignore
      ...section('Balances of clients', ['Matter', '', 'Client', 'Balance'], clients.map((c) => [c.matter, '', c.client, showAmount(c.balance)]), sum(clients.map((c) => c.balance))), // prettier-ignore
    ],
  } as never)
}

interface Closing {
  id: number
  to: Day
  seen: { bank: number; book: number }
}

/** Closes a month, or where the account asks for two people prepares it, so that another closes it. */
export async function closeMonth(ctx: Ctx, input: Closing): Promise<{ id: number | null }> {
  const two = await needsTwo(ctx, input.id)
  if (!two?.two) return close(ctx, input, ctx.actor.id)
  await judgeClosing(ctx.db.manager, ctx, input)
  return work(ctx, async (m) => {
    await lockRow(m, BankAccount, input.id)
    if (await requestOn(m, ctx, input.id, input.to)) throw refused('changed-meanwhile', 'Somebody has asked for that already. Look again.')
    await m.insert(MonthRequest, { bankAccountId: input.id, kind: 'close', toDay: input.to, bank: input.seen.bank, book: input.seen.book, askedBy: ctx.actor.id, askedAt: instant(ctx.clock.now()) }) // prettier-ignore
    await audit(m, ctx, { kind: 'asked', text: `Month up to ${showDay(input.to)} prepared; another closes it`, subject: 'account', subjectId: input.id }) // prettier-ignore
    return { id: null }
  })
}

/** Asks that the month that was closed last be opened again; another agrees. */
export const askReopening = (ctx: Ctx, reconciliationId: number, reason: string): Promise<void> =>
  work(ctx, async (m) => {
    const r = await monthClosed(m, reconciliationId)
    if (!r) throw notFound('closed month')
    await lockRow(m, BankAccount, r.bankId)
    const bank = await requireBank(m, r.bankId)
    if (bank.closedTo !== r.toDay) throw refused('month-closed', 'Only the month that was closed last is opened again.')
    if (await requestOn(m, ctx, r.bankId, r.toDay)) throw refused('changed-meanwhile', 'Somebody has asked for that already. Look again.')
    await m.insert(MonthRequest, { bankAccountId: r.bankId, kind: 'reopen', toDay: r.toDay, reason, askedBy: ctx.actor.id, askedAt: instant(ctx.clock.now()) }) // prettier-ignore
    await audit(m, ctx, { kind: 'asked', text: `Reopening of ${bank.name} at ${showDay(r.toDay)} asked for: ${reason}`, subject: 'account', subjectId: r.bankId }) // prettier-ignore
  })
async function requestBy(m: EntityManager, id: number, lock = ''): Promise<Request> {
  const q = await requestRow(m, lock, id)
  if (!q) throw notFound('request')
  if (q.state !== 'asked') throw refused('not-asked', 'This was decided before.')
  return q
}
/** A second person agrees: the month is closed as it was prepared, or opened again with its old report kept. */
export async function agreeToMonth(ctx: Ctx, id: number): Promise<{ id: number }> {
  const q = await requestBy(ctx.db.manager, id)
  if (q.askedBy === ctx.actor.id) throw refused('same-person', 'Somebody else than who asked for it agrees.')
  if (q.kind === 'close') return close(ctx, { id: q.bankId, to: q.to, seen: { bank: q.bank, book: q.book } }, q.askedBy, id)
  return work(ctx, async (m) => {
    await lockRow(m, BankAccount, q.bankId)
    await requestBy(m, id, 'FOR UPDATE')
    const closed = await closedAt(m, q.bankId, q.to)
    if (!closed || closed.reopened) throw refused('changed-meanwhile', 'This month is open by now.')
    await m.insert(ReconciliationReopened, { reconciliationId: closed.id, askedBy: q.askedBy, agreedBy: ctx.actor.id, reason: q.reason, at: instant(ctx.clock.now()) }) // prettier-ignore
    await requestDone(m, ctx, id)
    await audit(m, ctx, {
      kind: 'opened',
      text: `Month up to ${showDay(q.to)} opened again: ${q.reason}`,
      subject: 'account',
      subjectId: q.bankId,
    })
    return { id: closed.id }
  })
}
export const refuseMonth = (ctx: Ctx, id: number): Promise<void> =>
  work(ctx, async (m) => {
    const q = await requestBy(m, id, 'FOR UPDATE')
    await requestRefused(m, ctx, id)
    await audit(m, ctx, { kind: 'refused', text: `${q.kind === 'close' ? 'Closing' : 'Reopening'} of the month up to ${showDay(q.to)} not agreed to`, subject: 'account', subjectId: q.bankId }) // prettier-ignore
  })

/** Whether a month may be closed as it was seen: the three figures agree and every difference has a name. */
async function judgeClosing(m: EntityManager, ctx: Ctx, input: Closing) {
  if (input.to >= ctx.clock.today()) throw fieldFault('to', 'Close it when the day is over')
  const bank = await requireBank(m, input.id)
  if (bank.closedTo && input.to <= bank.closedTo) throw refused('month-closed', `${bank.name} is closed up to ${showDay(bank.closedTo)}.`)
  if (bank.startedOn && input.to < bank.startedOn) throw fieldFault('to', `${bank.name} is reconciled from ${showDay(bank.startedOn)} on`)
  if (await hiddenLedger(m, ctx, bank.id)) throw refused('screened', 'The report lists every client, and a matter here is kept from you. Have a colleague close it.') // prettier-ignore
  const p = await position(m, ctx, bank, input.to)
  if (!p.found || !p.stated) throw refused('not-reconciled', 'No statement with a balance was taken yet.')
  if (p.more) throw refused('not-reconciled', 'There is too much in between. Match what is old first.')
  if (!(await reaches(m, bank.id, input.to))) throw refused('not-reconciled', `No statement reaches ${showDay(input.to)}.`)
  if (p.stated.bank !== input.seen.bank || p.stated.book !== input.seen.book) throw refused('changed-meanwhile', 'A figure has changed since it was shown. Look again.') // prettier-ignore
  if (p.found.stops.length) throw refused('not-reconciled', p.found.stops.join(' '))
  return { bank, p, told: JSON.stringify([p.stated, p.found, p.lines, p.entries]) }
}

/** Closes a month of an account. It is locked from then on. */
async function close(ctx: Ctx, input: Closing, preparedBy: number, requestId = 0): Promise<{ id: number }> {
  const judge = (m: EntityManager) => judgeClosing(m, ctx, input)
  // The report is laid out before anything is locked, and kept if all that stands in it is the same under the lock.
  const before = await judge(ctx.db.manager)
  const pdf = await report(ctx.db.manager, ctx, before.bank, input.to, before.p, preparedBy)
  return work(ctx, async (m) => {
    await lockRow(m, BankAccount, input.id)
    const { bank, p, told } = await judge(m)
    if (told !== before.told) throw refused('changed-meanwhile', 'Something has changed at this moment. Look again.')
    if (requestId) {
      await requestBy(m, requestId, 'FOR UPDATE')
      await requestDone(m, ctx, requestId)
    }
    const { id: fileId } = await keepFile(m, ctx, pdf, 'application/pdf')
    const madeId = await insertRow(m, Reconciliation, { bankAccountId: bank.id, toDay: input.to, figures: JSON.stringify({ ...p.stated!, ...p.found! }), closedBy: preparedBy, approvedBy: preparedBy === ctx.actor.id ? null : ctx.actor.id, closedAt: instant(ctx.clock.now()), fileId }) // prettier-ignore
    await audit(m, ctx, { kind: 'posted', text: `${bank.name} reconciled and closed up to ${showDay(input.to)}, ${showMoney(p.stated!.book)}`, subject: 'account', subjectId: bank.id }) // prettier-ignore
    return { id: madeId }
  })
}

/** The report as it was made. It lists every client, so it is for those who may see all of them. */
export async function monthReport(ctx: Ctx, id: number): Promise<{ data: Buffer; name: string }> {
  const m = ctx.db.manager
  const found = await reportOfMonth(m, id)
  if (!found || (await hiddenLedger(m, ctx, found.bankId))) throw notFound('report')
  const { data } = await readStored(m, ctx, found.fileId)
  return { data, name: `reconciliation-${found.bankId}-${found.toDay}.pdf` }
}
