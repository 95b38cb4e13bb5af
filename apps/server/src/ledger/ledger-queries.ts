import { addCourtDays, type Day } from '@heron/core/calendar'
import { calendarFor, shippedHolidaySets, shippedRuleSets } from '@heron/core/docket'
import { type DayBalance, type LedgerKindName, type StandingIn, stoodInFor, unclearedOn } from '@heron/core/ledger'
import { sum } from '@heron/core/money'
import { type EntityManager, In } from 'typeorm'
import { contactScope, matterScope, type OpenMatter } from '../platform/access'
import type { Ctx } from '../platform/context'
import { locked, row, rows } from '../platform/database'
import { ClientLedger } from './entities'

export interface LedgerHead {
  id: number
  kind: LedgerKindName
  clientId: number | null
  matterId: number | null
  name: string
  bankAccountId: number
  bankKind: 'pooled' | 'separate'
  bankGl: number
  liabilityGl: number
  /** Settings of its account: payments ask for two people; checks go to print as soon as they are posted. */
  twoPeople: number
  printsAtOnce: number
}

export const headSql = `SELECT l.id, l.kind, l.client_id AS clientId, l.matter_id AS matterId, l.bank_account_id AS bankAccountId,
    b.kind AS bankKind, b.two_people AS twoPeople, b.print_at_once AS printsAtOnce, b.gl_account_id AS bankGl, b.liability_account_id AS liabilityGl,
    CASE l.kind WHEN 'firm' THEN 'Firm money for bank charges' WHEN 'unidentified' THEN 'Money with no known owner' WHEN 'foundation' THEN 'Interest for the bar foundation'
      ELSE CONCAT(c.name, COALESCE(CONCAT(', ', m.number), '')) END AS name
  FROM client_ledger l JOIN bank_account b ON b.id = l.bank_account_id
  LEFT JOIN contact c ON c.id = l.client_id LEFT JOIN matter m ON m.id = l.matter_id`

/**
 * Locks ledgers in order of id, and with them the firm's own ledgers of their accounts. Which those are is asked first, so that what
 * is locked is found by its number alone and nobody else's ledger is looked at.
 */
export async function holdLedgers(m: EntityManager, ids: readonly number[], withFirm: boolean): Promise<void> {
  const firm = withFirm
    ? await rows<{ id: number }>(
        m,
        `SELECT f.id FROM client_ledger x JOIN client_ledger f ON f.bank_account_id = x.bank_account_id AND f.owner_key = 'firm' WHERE x.id IN (?)`,
        [ids],
      )
    : []
  const mine = heldBy(m)
  const all = [...new Set([...ids, ...firm.map((f) => f.id)])].filter((id) => !mine.locked.has(id)).sort((a, b) => a - b)
  if (!all.length) return
  await m.find(ClientLedger, { select: { id: true }, where: { id: In(all) }, order: { id: 'ASC' }, ...locked(m) })
  for (const id of all) mine.locked.add(id)
}

/** What a transaction has locked so far: it holds it until its end, and need not ask again. */
const held = new WeakMap<EntityManager, { locked: Set<number>; heads: Map<string, LedgerHead> }>()

/** What a unit of work has locked and read of ledgers, so that it is asked once. */
export function heldBy(m: EntityManager) {
  let mine = held.get(m)
  if (!mine) held.set(m, (mine = { locked: new Set(), heads: new Map() }))
  return mine
}

// prettier-ignore

/** What of a ledger clears after a day, as SQL on the ledger's id and the day: the only entries that can be uncleared then or later. */
const clearingAfter = `SELECT day, clears_on AS clearsOn, amount FROM ledger_entry WHERE ledger_id = ? AND clears_on > ?`

interface Clearing {
  day: Day
  clearsOn: Day
  amount: number
}

function withUncleared(books: readonly { day: Day; book: number }[], open: readonly Clearing[]): DayBalance[] {
  const uncleared = unclearedOn(
    books.map((b) => b.day),
    open,
  )
  return books.map((b, i) => ({ day: b.day, book: b.book, uncleared: uncleared[i]! }))
}

const bookAt = (ledger: string, day: string) =>
  `COALESCE((SELECT x.balance FROM ledger_day x WHERE x.ledger_id = ${ledger} AND x.day <= ${day} ORDER BY x.day DESC LIMIT 1), 0)`

/** A ledger at the close of each of some days. */
export async function balancesOn(m: EntityManager, ledgerId: number, days: readonly Day[]): Promise<DayBalance[]> {
  if (!days.length) return []
  const list = days.map((d) => `SELECT '${d}' AS day`).join(' UNION ALL ')
  const books = await rows<{ day: Day; book: number }>(
    m,
    `SELECT d.day, ${bookAt(String(Number(ledgerId)), 'd.day')} AS book FROM (${list}) d ORDER BY d.day`,
  )
  return withUncleared(books, await rows<Clearing>(m, clearingAfter, [ledgerId, books[0]!.day]))
}

/** What a payment dated on a day is judged by: the ledger at that day's close and at each later one on which it moves, and what is reserved of it. */
export async function standingFrom(
  m: EntityManager,
  ledgerId: number,
  from: Day,
  exceptPayment: number | null,
): Promise<{ days: DayBalance[]; reserved: number }> {
  const id = Number(ledgerId)
  // In one question, since others may be waiting meanwhile: the balances from the day on, and what clears after it.
  const found = await rows<{ day: Day; amount: number; reserved: number | null; clearsOn: Day | null }>(
    m,
    `SELECT CAST(? AS DATE) AS day, ${bookAt(String(id), '?')} AS amount, CAST(NULL AS DATE) AS clearsOn,
            COALESCE((SELECT SUM(amount) FROM payment_out WHERE ledger_id = ${id} AND state = 'draft' AND id <> ?), 0) +
            COALESCE((SELECT SUM(amount) FROM ledger_hold WHERE ledger_id = ${id} AND released_at IS NULL), 0) AS reserved
      UNION ALL SELECT x.day, x.balance, NULL, 0 FROM ledger_day x WHERE x.ledger_id = ${id} AND x.day > ?
      UNION ALL SELECT e.day, e.amount, e.clears_on, NULL FROM ledger_entry e WHERE e.ledger_id = ${id} AND e.clears_on > ? ORDER BY day`,
    [from, from, exceptPayment ?? 0, from, from],
  )
  const books = found.filter((f) => f.reserved !== null).map((f) => ({ day: f.day, book: f.amount }))
  const open = found.flatMap((f) => (f.clearsOn ? [{ day: f.day, clearsOn: f.clearsOn, amount: f.amount }] : []))
  return { days: withUncleared(books, open), reserved: sum(found.map((f) => f.reserved ?? 0)) }
}

/** The days from one on at whose close some ledgers differ from the day before. */
export async function daysOfMoves(m: EntityManager, ledgerIds: readonly number[], from: Day): Promise<Day[]> {
  const found = await rows<{ day: Day }>(m, `SELECT DISTINCT day FROM ledger_day WHERE ledger_id IN (?) AND day > ? ORDER BY day`, [
    ledgerIds,
    from,
  ])
  return [from, ...found.map((d) => d.day)]
}

/** What of a ledger is promised already: drafts but the one that is judged, and holds. */
export async function reservedOn(m: EntityManager, ledgerId: number, exceptPayment: number | null): Promise<number> {
  const found = await row<{ drafts: number; holds: number }>(
    m,
    `SELECT COALESCE((SELECT SUM(amount) FROM payment_out WHERE ledger_id = ? AND state = 'draft' AND id <> ?), 0) AS drafts,
            COALESCE((SELECT SUM(amount) FROM ledger_hold WHERE ledger_id = ? AND released_at IS NULL), 0) AS holds`,
    [ledgerId, exceptPayment ?? 0, ledgerId],
  )
  return found!.drafts + found!.holds
}

/**
 * The firm's own money in a trust account and what it stands in for, from a day on. Only ledgers with something that has not
 * cleared by then can be overspent, so only those are looked at.
 */
export async function standingIn(m: EntityManager, ledger: LedgerHead, from: Day, exceptPayment: number | null): Promise<StandingIn[]> {
  const firm = await m.findOne(ClientLedger, { select: { id: true }, where: { bankAccountId: ledger.bankAccountId, kind: 'firm' } })
  if (!firm) return []
  const overspent = (
    await rows<{ id: number }>(
      m,
      `SELECT DISTINCT e.ledger_id AS id FROM ledger_entry e JOIN client_ledger l ON l.id = e.ledger_id
        WHERE e.clears_on > ? AND e.amount > 0 AND l.bank_account_id = ? AND l.kind = 'client' AND l.id <> ?`,
      [from, ledger.bankAccountId, ledger.id],
    )
  ).map((l) => l.id)
  const days = await daysOfMoves(m, [firm.id, ledger.id, ...overspent], from)
  const reserved = await reservedOn(m, firm.id, exceptPayment)
  const own = await balancesOn(m, firm.id, days)
  const others = new Map<Day, number>()
  for (const id of overspent) for (const d of await balancesOn(m, id, days)) others.set(d.day, (others.get(d.day) ?? 0) + stoodInFor(d))
  return own.map((d) => ({ day: d.day, firm: d.book - d.uncleared - reserved, others: others.get(d.day) ?? 0 }))
}

const bankingDays = calendarFor(shippedRuleSets[0]!, shippedHolidaySets, null)

/** The day on which a receipt of that kind counts as cleared. */
export async function clearingDay(m: EntityManager, kind: string, day: Day): Promise<Day> {
  const found = await row<{ n: number }>(m, `SELECT court_days AS n FROM clearing_days WHERE kind = ?`, [kind])
  return found?.n ? addCourtDays(bankingDays, day, found.n) : day
}

/** Whose money may lie in trust for a matter: its clients, and those who are billed for it. */
export async function ownersOf(m: EntityManager, matter: OpenMatter): Promise<Set<number>> {
  const found = await rows<{ id: number }>(
    m,
    `SELECT contact_id AS id FROM matter_client WHERE matter_id = ? UNION SELECT contact_id FROM matter_payer WHERE matter_id = ?`,
    [matter.id, matter.id],
  )
  return new Set([matter.clientId, ...(matter.billToId ? [matter.billToId] : []), ...found.map((f) => f.id)])
}

/** Whether somebody is on record, and known to whoever asks: by the contact itself, or as the client of the matter. */
export const knownOwner = (m: EntityManager, ctx: Ctx, clientId: number, matterId: number | null) =>
  row(m, `SELECT 1 FROM contact c WHERE c.id = ? AND (${contactScope(ctx.actor)} OR c.id = (SELECT client_id FROM matter WHERE id = ?))`, [
    clientId,
    matterId,
  ])

/** A ledger, where its matter is open to whoever asks. */
export const ledgerSeen = (m: EntityManager, ctx: Ctx, id: number) =>
  row<LedgerHead>(m, `${headSql} WHERE l.id = ? AND (l.matter_id IS NULL OR ${matterScope(ctx.actor, 'm', 'trust')})`, [id])
