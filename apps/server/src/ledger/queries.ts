import { addDays, type Day } from '@heron/core/calendar'
import type { LedgerKindName } from '@heron/core/ledger'
import { sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { matterScope, nameFor } from '../platform/access'
import { isoOf, type Ctx } from '../platform/context'
import { literal, row, rows } from '../platform/database'
import { notFound } from '../platform/problem'
import { holdsOf } from './acts/hold-queries'
import { bankSums } from './books/sum-queries'

export interface Paging {
  page: number
  size: number
}

/** The part of a list that a page is. */
export const limit = (p: Paging) => `LIMIT ${Number(p.size)} OFFSET ${(Number(p.page) - 1) * Number(p.size)}`

/** Bank accounts with what they hold by book and ledgers. */
export async function accounts(ctx: Ctx) {
  const sums = await bankSums(ctx.db.manager)
  const list = await rows<{
    id: number
    name: string
    kind: 'pooled' | 'separate' | 'operating'
    bank: string
    ending: string
    nextCheck: number
  }>(
    ctx.db.manager,
    `SELECT b.id, b.name, b.kind, b.bank, b.ending, b.next_check AS nextCheck
       FROM bank_account b ORDER BY FIELD(b.kind, 'pooled', 'separate', 'operating'), b.usual DESC, b.id`,
  )
  return list.map((b) => ({ ...b, balance: sums.get(b.id)?.bank ?? 0 }))
}

interface LedgerRow {
  id: number
  bankAccountId: number
  bank: string
  kind: LedgerKindName
  clientId: number | null
  client: string
  matterId: number | null
  matter: string | null
  book: number
  uncleared: number
  reserved: number
  available: number
}

/** What a ledger holds at the close of a day, from the balances that the database keeps. */
const bookAt = (day: Day) =>
  `COALESCE((SELECT d.balance FROM ledger_day d WHERE d.ledger_id = l.id AND d.day <= '${day}' ORDER BY d.day DESC LIMIT 1), 0)`

/**
 * Nothing that came in by a day clears later than so many days after it: sixty court days are the most that can be set. Of a day long
 * past only what came in shortly before it is then looked at, and not all that came in since.
 */
const longestToClear = 150

/**
 * What has not cleared, and what is drafted, held, or stood in for, of the ledgers that have any, which are few. A firm ledger's own part
 * stands in for what others of its account have spent before it cleared.
 */
const besides = (day: Day) => {
  const open = `FROM ledger_entry e WHERE e.clears_on > '${day}' AND e.clears_on <= '${addDays(day, longestToClear)}' AND e.day <= '${day}'`
  return `SELECT x.ledger_id AS ledgerId, SUM(x.uncleared) AS uncleared, SUM(x.reserved) AS reserved FROM (
      SELECT e.ledger_id, e.amount AS uncleared, 0 AS reserved ${open}
      UNION ALL SELECT p.ledger_id, 0, p.amount FROM payment_out p WHERE p.state = 'draft'
      UNION ALL SELECT h.ledger_id, 0, h.amount FROM ledger_hold h WHERE h.released_at IS NULL
      UNION ALL SELECT own.id, 0, GREATEST(0, u.n - ${bookAt(day)})
          FROM (SELECT e.ledger_id, SUM(e.amount) AS n ${open} GROUP BY e.ledger_id) u STRAIGHT_JOIN client_ledger l ON l.id = u.ledger_id AND l.kind = 'client'
          STRAIGHT_JOIN client_ledger own ON own.bank_account_id = l.bank_account_id AND own.owner_key = 'firm') x
    GROUP BY x.ledger_id`
}
interface Beside {
  ledgerId: number
  uncleared: number
  reserved: number
}
const beside = (day: Day) => `LEFT JOIN (${besides(day)}) bs ON bs.ledgerId = l.id`
const sums = (day: Day) => `${bookAt(day)} AS book, COALESCE(bs.uncleared, 0) AS uncleared, COALESCE(bs.reserved, 0) AS reserved`

/** How many ledgers at most are asked for one by one: of more, all are asked at once. */
const few = 300
/** In `closing` a day stands before its balance: so much is one day. */
const oneDay = '100000000000000'
/** What ledgers hold at the close of a day: some, or all. Those that never moved by then may be missing. */
const booksOn = (m: EntityManager, day: Day, ids: readonly number[] | null) =>
  ids
    ? rows<{ id: number; book: number }>(m, `SELECT l.id, ${bookAt(day)} AS book FROM client_ledger l WHERE l.id IN (?)`, [ids])
    : rows<{ id: number; book: number }>(
        m,
        `SELECT ledger_id AS id, MAX(closing) MOD ${oneDay} AS book FROM ledger_day
          WHERE closing < (DATEDIFF(?, '1899-12-31') + 1) * ${oneDay} GROUP BY ledger_id`,
        [day],
      )
const ofNames = `FROM client_ledger l LEFT JOIN contact c ON c.id = l.client_id LEFT JOIN matter m ON m.id = l.matter_id`
const from = `${ofNames} JOIN bank_account b ON b.id = l.bank_account_id`

const clientName = (ctx: Ctx) =>
  `CASE l.kind WHEN 'firm' THEN 'Firm money for bank charges' WHEN 'unidentified' THEN 'Money with no known owner' WHEN 'foundation' THEN 'Interest for the bar foundation' ELSE ${nameFor(ctx.actor)} END`
const names = (ctx: Ctx) => `l.id, l.bank_account_id AS bankAccountId, b.name AS bank, l.kind, l.client_id AS clientId,
  ${clientName(ctx)} AS client,
  l.matter_id AS matterId, CONCAT(m.number, ' ', m.short_name) AS matter`
const columns = (ctx: Ctx) => `${names(ctx)}, ${sums(ctx.clock.today())}`

/** Client ledgers with book, cleared, reserved and available, now or as of a day, a page of them. */
export async function ledgers(
  ctx: Ctx,
  f: Paging & {
    q: string
    matterId?: number | undefined
    withMoney: 'yes' | 'no'
    asOf?: Day | undefined
    bankAccountId?: number | undefined
  },
) {
  const like = `%${literal(f.q)}%`
  const day = f.asOf ?? ctx.clock.today()
  const narrowed = `(l.matter_id IS NULL OR ${matterScope(ctx.actor, 'm', 'trust')})
    ${f.bankAccountId ? `AND l.bank_account_id = ${Number(f.bankAccountId)}` : ''}
    ${f.matterId ? `AND (l.matter_id = ${Number(f.matterId)} OR (l.matter_id IS NULL AND l.client_id = (SELECT client_id FROM matter x WHERE x.id = ${Number(f.matterId)})))` : ''}
    ${f.q ? 'AND (c.name LIKE ? OR m.number LIKE ? OR m.name LIKE ?)' : ''}`
  const values = f.q ? [like, like, like] : []
  const m = ctx.db.manager
  const asked = rows<{ id: number }>(
    m,
    `SELECT l.id ${ofNames} WHERE ${narrowed} ORDER BY l.kind, ${nameFor(ctx.actor)}, m.number, l.id`,
    values,
  )
  // Of a client or a matter there are few, and what each holds is looked up. Of tens of thousands that takes a while, as does their order
  // by names: both are asked side by side and put together here, and words are looked up for those of the page alone.
  const found = f.matterId || f.q ? (await asked).map((l) => l.id) : null
  const [order, books, besidesOf] = await Promise.all([
    asked,
    found?.length === 0 ? [] : booksOn(m, day, found && found.length <= few ? found : null),
    found?.length === 0 ? [] : rows<Beside>(m, besides(day)),
  ])
  const bookOf = new Map(books.map((x) => [x.id, x.book]))
  const besideOf = new Map(besidesOf.map((x) => [x.ledgerId, x]))
  const figures = order.flatMap(({ id }) => {
    const book = bookOf.get(id) ?? 0
    const { uncleared = 0, reserved = 0 } = besideOf.get(id) ?? {}
    return f.withMoney === 'yes' && !book && !reserved ? [] : [{ id, book, uncleared, reserved, available: book - uncleared - reserved }]
  })
  const page = figures.slice((f.page - 1) * f.size, f.page * f.size)
  const told = page.length
    ? await rows<Omit<LedgerRow, 'book' | 'uncleared' | 'reserved' | 'available'>>(m, `SELECT ${names(ctx)} ${from} WHERE l.id IN (?)`, [page.map((x) => x.id)]) // prettier-ignore
    : []
  const wordsOf = new Map(told.map((t) => [t.id, t]))
  return {
    rows: page.flatMap((x) => {
      const words = wordsOf.get(x.id)
      return words ? [{ ...words, ...x }] : []
    }),
    total: figures.length,
    totalBook: sum(figures.map((x) => x.book)),
  }
}

/** What is available on some ledgers at the close of a day. */
export async function ledgersAvailable(ctx: Ctx, ids: readonly number[], day: Day): Promise<Map<number, number>> {
  if (!ids.length) return new Map()
  const found = await rows<{ id: number; available: number }>(
    ctx.db.manager,
    `SELECT x.id, x.book - x.uncleared - x.reserved AS available FROM (SELECT l.id, ${sums(day)} FROM client_ledger l ${beside(day)} WHERE l.id IN (?)) x`,
    [ids],
  )
  return new Map(found.map((l) => [l.id, l.available]))
}

/** A ledger with a page of its entries, newest first, and the balance after each. */
export async function ledger(ctx: Ctx, { id, ...f }: Paging & { id: number }) {
  const head = await row<LedgerRow>(
    ctx.db.manager,
    `SELECT x.*, x.book - x.uncleared - x.reserved AS available FROM (SELECT ${columns(ctx)} ${from} ${beside(ctx.clock.today())}
      WHERE l.id = ? AND (l.matter_id IS NULL OR ${matterScope(ctx.actor, 'm', 'trust')})) x`,
    [id],
  )
  if (!head) throw notFound('client ledger')
  const counted = await row<{ n: number }>(ctx.db.manager, `SELECT COUNT(*) AS n FROM ledger_entry WHERE ledger_id = ?`, [id])
  // The balance after the newest entry of the page is what the ledger comes to less all that is newer, so that no page reads the ledger whole.
  const entries = await rows<{
    id: number
    journalId: number
    day: Day
    text: string
    amount: number
    balance: number
    clearsOn: Day | null
  }>(
    ctx.db.manager,
    `SELECT id, journal_id AS journalId, day, text, amount, clears_on AS clearsOn,
            COALESCE((SELECT d.balance FROM ledger_day d WHERE d.ledger_id = ? ORDER BY d.day DESC LIMIT 1), 0)
              - COALESCE((SELECT SUM(n.amount) FROM (SELECT amount FROM ledger_entry WHERE ledger_id = ? ORDER BY day DESC, id DESC LIMIT ${(f.page - 1) * f.size}) n), 0)
              + amount - SUM(amount) OVER (ORDER BY day DESC, id DESC) AS balance
       FROM (SELECT * FROM ledger_entry WHERE ledger_id = ? ORDER BY day DESC, id DESC ${limit(f)}) e ORDER BY day DESC, id DESC`,
    [id, id, id],
  )
  return {
    ...head,
    entries,
    total: counted!.n,
    holds: (await holdsOf(ctx.db.manager, id)).map((h) => ({ ...h, laidAt: h.laidAt && isoOf(h.laidAt) })),
  }
}

/** Deposit sheets, the newest first, a page of them. */
export async function sheets(ctx: Ctx, f: Paging) {
  const total = await row<{ n: number }>(ctx.db.manager, `SELECT COUNT(*) AS n FROM deposit_sheet`)
  const list = await rows<{
    id: number
    number: number
    bank: string
    day: Day
    state: 'draft' | 'posted'
    controlTotal: number
    entered: number
    receipts: number
  }>(
    ctx.db.manager,
    `SELECT s.id, s.number, b.name AS bank, s.day, s.state, s.control_total AS controlTotal, COALESCE(SUM(r.amount), 0) AS entered, COUNT(r.id) AS receipts
       FROM deposit_sheet s JOIN bank_account b ON b.id = s.bank_account_id LEFT JOIN deposit_receipt r ON r.sheet_id = s.id
      GROUP BY s.id ORDER BY s.state, s.number DESC ${limit(f)}`,
  )
  return { rows: list, total: total!.n }
}

/** A deposit sheet with its lines, as far as their ledgers are open to the reader. */
export async function sheet(ctx: Ctx, id: number) {
  const head = await row<{
    id: number
    number: number
    bank: string
    bankAccountId: number
    day: Day
    state: 'draft' | 'posted'
    controlTotal: number
    entered: number
    version: number
  }>(
    ctx.db.manager,
    `SELECT s.id, s.number, b.name AS bank, s.bank_account_id AS bankAccountId, s.day, s.state, s.version, s.control_total AS controlTotal,
            COALESCE((SELECT SUM(amount) FROM deposit_receipt WHERE sheet_id = s.id), 0) AS entered
       FROM deposit_sheet s JOIN bank_account b ON b.id = s.bank_account_id WHERE s.id = ?`,
    [id],
  )
  if (!head) throw notFound('deposit sheet')
  type Kind = 'check' | "cashier's check" | 'cash' | 'wire' | 'card' | 'bank debit'
  const receipts = await rows<{
    id: number
    receiptNo: number
    clientId: number | null
    client: string
    matterId: number | null
    matter: string | null
    depositor: string
    kind: Kind
    reference: string
    text: string
    amount: number
    fee: number
  }>(
    ctx.db.manager,
    `SELECT r.id, r.fee, r.receipt_no AS receiptNo, r.client_id AS clientId, COALESCE(${nameFor(ctx.actor)}, 'Owner not known') AS client, m.id AS matterId,
            CONCAT(m.number, ' ', m.short_name) AS matter, r.depositor, r.kind, r.reference, r.text, r.amount
       FROM deposit_receipt r LEFT JOIN contact c ON c.id = r.client_id LEFT JOIN matter m ON m.id = r.matter_id AND ${matterScope(ctx.actor, 'm', 'trust')}
      WHERE r.sheet_id = ? AND (r.matter_id IS NULL OR m.id IS NOT NULL) ORDER BY r.ordinal`,
    [id],
  )
  return { ...head, receipts }
}

/** What the firm's jurisdiction levies on a receipt, and to whom the firm owes it. */
export const receiptFee = async (m: EntityManager): Promise<{ amount: number; owedTo: string }> =>
  (await row<{ amount: number; owedTo: string }>(m, `SELECT receipt_fee AS amount, receipt_fee_to AS owedTo FROM firm`)) ?? {
    amount: 0,
    owedTo: '',
  }

/** What posts to an account by itself and would be stopped by closing it; null where nothing does. */
export const usesOfAccount = async (m: EntityManager, accountId: number): Promise<string | null> =>
  (
    await row<{ what: string }>(
      m,
      `SELECT x.what FROM (
         SELECT CONCAT('The bank account ', name) AS what FROM bank_account WHERE ? IN (gl_account_id, liability_account_id)
         UNION ALL SELECT CONCAT('The rule of the bank for ', words) FROM bank_rule WHERE account_id = ?
         UNION ALL SELECT CONCAT('The journal kept as ', name) FROM journal_template WHERE JSON_CONTAINS(line_list, JSON_OBJECT('accountId', ?))
         UNION ALL SELECT CONCAT('What comes again of ', memo) FROM vendor_recurring WHERE next_on IS NOT NULL AND JSON_CONTAINS(line_list, JSON_OBJECT('accountId', ?))
         UNION ALL SELECT 'The closing of the year' FROM partner_share WHERE account_id = ?) x LIMIT 1`,
      [accountId, accountId, accountId, accountId, accountId],
    )
  )?.what ?? null

/** The receipts of a posted sheet that had a fee. */
export const receiptsWithFee = (m: EntityManager, journalId: number) =>
  rows<{ id: number }>(
    m,
    `SELECT r.id FROM deposit_receipt r JOIN deposit_sheet s ON s.id = r.sheet_id WHERE s.journal_id = ? AND r.fee > 0`,
    [journalId],
  )

/** Payments out of trust, drafts first, a page of them. */
export async function paymentsOut(ctx: Ctx, f: Paging) {
  const scope = `(l.matter_id IS NULL OR ${matterScope(ctx.actor, 'm', 'trust')})`
  const base = `FROM payment_out p JOIN client_ledger l ON l.id = p.ledger_id JOIN bank_account b ON b.id = l.bank_account_id LEFT JOIN contact c ON c.id = l.client_id LEFT JOIN matter m ON m.id = l.matter_id WHERE ${scope}`
  const total = await row<{ n: number }>(ctx.db.manager, `SELECT COUNT(*) AS n ${base}`)
  const list = await rows<{
    id: number
    ledgerId: number
    ledger: string
    method: string
    checkNo: number | null
    day: Day
    payee: string
    amount: number
    memo: string
    state: 'draft' | 'posted' | 'void' | 'dropped'
    twoPeople: number
    approvedBy: string | null
    own: number
  }>(
    ctx.db.manager,
    `SELECT p.id, p.ledger_id AS ledgerId, COALESCE(CONCAT(${nameFor(ctx.actor)}, COALESCE(CONCAT(', ', m.number), '')), IF(l.kind = 'foundation', 'The bar foundation', 'Firm money')) AS ledger, p.method, p.check_no AS checkNo, p.day,
            p.payee_name AS payee, p.amount, p.memo, p.state, b.two_people AS twoPeople, (SELECT u.name FROM user_account u WHERE u.id = p.approved_by) AS approvedBy, p.created_by = ${Number(ctx.actor.id)} AS own ${base} ORDER BY p.state = 'draft' DESC, p.day DESC, p.id DESC ${limit(f)}`,
  )
  return { rows: list.map((p) => ({ ...p, twoPeople: Boolean(p.twoPeople), own: Boolean(p.own) })), total: total!.n }
}
