import { reconcile } from '@heron/core/bank'
import { addDays, daysBetween, showDay, showDayInWords, type Day } from '@heron/core/calendar'
import { showAmount, showMoney, sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { matterScope } from '../../platform/access'
import { audit } from '../../platform/audit'
import { instant, type Ctx } from '../../platform/context'
import { row, rows, work } from '../../platform/database'
import { keepFile, readStored } from '../../platform/files'
import { footOf, headOf, letterheadOf, makePdf } from '../../platform/pdf'
import { fieldFault, notFound, refused } from '../../platform/problem'
import { requireBank } from './apart'
import { balancesAt, bankBalance, bankHeads, beforeStart, clientBalances, entriesInTransit, entryOut, lineOut, linesOutside, matchErrors, matchesOf, sidesOf, type BankHead } from './queries' // prettier-ignore

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
}

const reaches = (m: EntityManager, bankId: number, to: Day) => row(m, `SELECT 1 FROM bank_statement WHERE bank_account_id = ? AND to_day >= ? LIMIT 1`, [bankId, to]) // prettier-ignore

const closedAt = (m: EntityManager, bankId: number, to: Day) =>
  row<{ id: number }>(m, `SELECT id FROM reconciliation WHERE bank_account_id = ? AND to_day = ?`, [bankId, to])

export async function workOn(ctx: Ctx, id: number, to: Day) {
  const m = ctx.db.manager
  const bank = await requireBank(m, id)
  const p = await position(m, ctx, bank, to)
  const closed = await closedAt(m, id, to)
  const found = await matchesOf(m, id, addDays(to, -31), to, most.matches)
  const sides = await sidesOf(m, ctx, found.map((x) => x.id)) // prettier-ignore
  const stops = [
    ...(p.found?.stops ?? ['No statement with a balance was taken yet.']),
    ...(p.found && !(await reaches(m, id, to)) ? [`No statement reaches ${showDay(to)}.`] : []),
    ...(p.more ? ['There is too much in between to be shown. Match what is old first.'] : []),
  ]
  const { stops: _, ...figures } = p.found ?? { stops: [] }
  return {
    name: bank.name,
    kind: bank.kind,
    to,
    closed: bank.closedTo !== null && to <= bank.closedTo,
    closedTo: bank.closedTo,
    reconciliationId: closed?.id ?? null,
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
  const found = await beforeStart(m, ctx, { id, startedOn: bank.startedOn }, addDays(bank.startedOn, -180))
  return { startedOn: bank.startedOn, rows: found.map((e) => ({ id: e.id, day: e.day, amount: e.amount, check: e.check, text: e.text, marked: Boolean(e.marked) })) } // prettier-ignore
}

/** Whether money of a matter lies in the account that is kept from the reader. */
const hiddenLedger = (m: EntityManager, ctx: Ctx, bankId: number) =>
  row(m, `SELECT 1 FROM client_ledger l JOIN matter m ON m.id = l.matter_id WHERE l.bank_account_id = ? AND NOT ${matterScope(ctx.actor, 'm', 'trust')} LIMIT 1`, [bankId]) // prettier-ignore

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
async function report(m: EntityManager, ctx: Ctx, bank: BankHead, to: Day, p: Awaited<ReturnType<typeof position>>) {
  const firm = await letterheadOf(m)
  const f = p.found!
  const s = p.stated!
  const clients = bank.kind === 'operating' ? [] : await clientBalances(m, bank.id, to)
  const who = await row<{ name: string }>(m, `SELECT name FROM user_account WHERE id = ?`, [ctx.actor.id])
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
      { text: `Prepared by ${who!.name} on ${showDayInWords(ctx.clock.today())}.`, style: 'small', margin: [0, 0, 0, 10] },
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

/** Closes a month of an account, where the three figures agree and every difference has a name. It is locked from then on. */
export async function closeMonth(ctx: Ctx, input: { id: number; to: Day; seen: { bank: number; book: number } }): Promise<{ id: number }> {
  if (input.to >= ctx.clock.today()) throw fieldFault('to', 'Close it when the day is over')
  const judge = async (m: EntityManager) => {
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
  // The report is laid out before anything is locked, and kept if all that stands in it is the same under the lock.
  const before = await judge(ctx.db.manager)
  const pdf = await report(ctx.db.manager, ctx, before.bank, input.to, before.p)
  return work(ctx, async (m) => {
    await rows(m, `SELECT id FROM bank_account WHERE id = ? FOR UPDATE`, [input.id])
    const { bank, p, told } = await judge(m)
    if (told !== before.told) throw refused('changed-meanwhile', 'Something has changed at this moment. Look again.')
    const { id: fileId } = await keepFile(m, ctx, pdf, 'application/pdf')
    const made = (await m.query(`INSERT INTO reconciliation (bank_account_id, to_day, figures, closed_by, closed_at, file_id) VALUES (?, ?, ?, ?, ?, ?)`, [bank.id, input.to, JSON.stringify({ ...p.stated!, ...p.found! }), ctx.actor.id, instant(ctx.clock.now()), fileId])) as { insertId: number } // prettier-ignore
    await audit(m, ctx, { kind: 'posted', text: `${bank.name} reconciled and closed up to ${showDay(input.to)}, ${showMoney(p.stated!.book)}`, subject: 'account', subjectId: bank.id }) // prettier-ignore
    return { id: made.insertId }
  })
}

/** The report as it was made. It lists every client, so it is for those who may see all of them. */
export async function monthReport(ctx: Ctx, id: number): Promise<{ data: Buffer; name: string }> {
  const m = ctx.db.manager
  const found = await row<{ fileId: number; toDay: Day; bankId: number }>(m, `SELECT file_id AS fileId, to_day AS toDay, bank_account_id AS bankId FROM reconciliation WHERE id = ?`, [id]) // prettier-ignore
  if (!found || (await hiddenLedger(m, ctx, found.bankId))) throw notFound('report')
  const { data } = await readStored(m, ctx, found.fileId)
  return { data, name: `reconciliation-${found.bankId}-${found.toDay}.pdf` }
}
