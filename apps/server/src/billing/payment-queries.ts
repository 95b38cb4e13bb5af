import { type OpenLine, type PaymentClass, type PaymentOrder, paymentOrder } from '@heron/core/billing'
import type { Day } from '@heron/core/calendar'
import { shareOfLedgers } from '@heron/core/ledger'
import { sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { ledgersAvailable, limit, type Paging } from '../ledger'
import { contactScope, matterScope } from '../platform/access'
import type { Ctx } from '../platform/context'
import { row, rows } from '../platform/database'
import { creditLeft, isOpenBill, oldTaxRateOf, openOf, openOfLine } from '../platform/figures'
import { type PaymentKind, TransferSheet } from './entities'

export interface BillHead {
  id: number
  number: string
  matterId: number
  payerId: number
  preBillId: number | null
  journalId: number
  /** The rate of fees and own costs on a bill of before there were several; 0 where it is not known. */
  oldTaxRate: number
  total: number
  issuedOn: Day
  dueOn: Day
  /** The day, by the firm's clock, on which it was really issued. */
  madeOn: Day
  open: number
  unearned: number
}

/** A line billed in advance whose portion is not earned by a day, as SQL. */
const notEarned = `EXISTS (SELECT 1 FROM fee_portion p WHERE p.id = l.source_id AND l.kind = 'flat' AND (p.earned_on IS NULL OR p.earned_on > ?) AND (SELECT f.flat_fee_in_advance FROM firm f LIMIT 1) = 'trust')`

/** What of a bill's open lines is billed in advance and not earned by a day, which is bound once, as SQL. */
export const unearnedOn = (b: string) =>
  `COALESCE((SELECT SUM(${openOfLine()}) FROM bill_line l WHERE l.bill_id = ${b}.id AND ${notEarned}), 0)`

/** Whoever a contact was merged into stands for it, as SQL on its id. */
export const standsFor = (contactId: string) => `COALESCE((SELECT mc.merged_into FROM contact mc WHERE mc.id = ${contactId}), ${contactId})`

/** Matters are locked in the order of their ids, so that two who lock several never wait for one another. */
export const lockMattersOf = (m: EntityManager, wanted: number[]) =>
  rows(m, `SELECT m.id FROM matter m WHERE m.id IN (SELECT b.matter_id FROM bill b WHERE b.id IN (?)) ORDER BY m.id FOR UPDATE`, [wanted])

/** Bills as they stand once they are locked, in the order of their ids. */
export const lockedBills = (m: EntityManager, ctx: Ctx, day: Day, wanted: number[]) =>
  rows<BillHead & { madeAt: string; movedIn: number }>(
    m,
    `SELECT b.id, b.number, b.matter_id AS matterId, ${standsFor('b.payer_id')} AS payerId, b.pre_bill_id AS preBillId, b.journal_id AS journalId, b.total,
            COALESCE(${oldTaxRateOf('b')}, 0) AS oldTaxRate,
            b.issued_on AS issuedOn, b.due_on AS dueOn, j.created_at AS madeAt, j.kind = 'opening' AS movedIn, ${openOf('b')} AS open,
            ${unearnedOn('b')} AS unearned
       FROM bill b JOIN matter m ON m.id = b.matter_id JOIN journal j ON j.id = b.journal_id WHERE b.id IN (?) AND ${matterScope(ctx.actor, 'm', 'money')} ORDER BY b.id`,
    [day, wanted],
  )

/** What is open on the lines of a bill. From trust only what is earned on the payment's day is paid; the rest stays open. */
export function openLines(m: EntityManager, billId: number, earnedBy: Day | null): Promise<OpenLine[]> {
  return rows(
    m,
    `SELECT l.id, l.kind, ${openOfLine()} AS open FROM bill_line l WHERE l.bill_id = ? ${earnedBy ? `AND NOT ${notEarned}` : ''} ORDER BY l.ordinal`,
    earnedBy ? [billId, earnedBy] : [billId],
  )
}

/** In which order money goes to what a bill is made of, as the firm has it. */
export async function orderOfFirm(m: EntityManager): Promise<PaymentOrder> {
  const firm = await row<{ order: string }>(m, `SELECT payment_order AS \`order\` FROM firm`)
  return paymentOrder(firm!.order.split(',') as PaymentClass[])
}

export interface Part {
  paymentId: number
  billId: number
  lineId: number
  amount: number
}

/** What a journal applied to lines of work and fees. */
export const feesApplied = (m: EntityManager, journalId: number) =>
  rows<{ id: number; lineId: number; amount: number; kind: string; timekeeperId: number | null }>(
    m,
    `SELECT a.id, a.bill_line_id AS lineId, a.amount, l.kind, l.timekeeper_id AS timekeeperId FROM allocation a JOIN bill_line l ON l.id = a.bill_line_id
      WHERE a.journal_id = ? AND l.kind IN ('time', 'flat') ORDER BY a.id`,
    [journalId],
  )

/** Who shares each flat line, and what has gone to whom already. */
export const sharesApplied = (m: EntityManager, flat: number[]) =>
  rows<{ lineId: number; keeper: number; weight: number; shared: number }>(
    m,
    `SELECT s.bill_line_id AS lineId, s.timekeeper_id AS keeper, s.weight,
                COALESCE((SELECT SUM(x.amount) FROM allocation_share x JOIN allocation a ON a.id = x.allocation_id WHERE a.bill_line_id = s.bill_line_id AND x.timekeeper_id = s.timekeeper_id), 0) AS shared
           FROM bill_line_share s WHERE s.bill_line_id IN (?) ORDER BY s.bill_line_id, s.timekeeper_id`,
    [flat],
  )

/** Days that the firm waits between a bill and its payment from trust. */
export const noticeDays = (m: EntityManager) => row<{ notice: number }>(m, `SELECT trust_notice_days AS notice FROM firm`)

/** A payer and those who were merged into it, as SQL with its id named twice. */
const standsForPayer = `(SELECT ? AS id UNION SELECT c.id FROM contact c WHERE c.merged_into = ?)`

/** The open bills of a payer that the actor may see, the oldest due first: as many as an amount reaches, three hundred at most; what is left over then is applied afterwards. */
export async function openBillsOf(m: EntityManager, ctx: Ctx, payerId: number, day: Day, amount: number): Promise<number[]> {
  const found = await rows<{ id: number; open: number }>(
    m,
    `SELECT f.bill_id AS id, f.open_amount AS open FROM ${standsForPayer} s JOIN bill_figure f ON f.payer_id = s.id JOIN matter m ON m.id = f.matter_id
      WHERE ${isOpenBill('f')} AND f.issued_on <= ? AND ${matterScope(ctx.actor, 'm', 'money')}
      ORDER BY f.due_on, f.bill_id LIMIT 300`,
    [payerId, payerId, day],
  )
  let reach = 0
  return found.filter((b) => reach < amount && (reach += b.open)).map((b) => b.id)
}

/** A payer, where the contact is open to whoever asks. */
export const payerOpenTo = (m: EntityManager, ctx: Ctx, payerId: number) =>
  row<{ name: string }>(m, `SELECT c.name FROM contact c WHERE c.id = ? AND ${contactScope(ctx.actor)}`, [payerId])

/** Whom a bill stands for and what it leaves open, where it is open to whoever asks. */
export const billOpenTo = (m: EntityManager, ctx: Ctx, id: number) =>
  row<{ payerId: number; issuedOn: Day; open: number }>(
    m,
    `SELECT ${standsFor('b.payer_id')} AS payerId, b.issued_on AS issuedOn, ${openOf('b')} AS open FROM bill b JOIN matter m ON m.id = b.matter_id WHERE b.id = ? AND ${matterScope(ctx.actor, 'm', 'money')}`,
    [id],
  )

export interface LockedPayment {
  id: number
  kind: PaymentKind
  number: string | null
  payerId: number
  day: Day
  amount: number
  ledgerId: number | null
  journalId: number
  bankAccountId: number | null
  reversed: boolean
  /** What is on no bill any more or not yet, and was neither refunded nor moved. */
  credit: number
  bills: BillHead[]
  /** What stands applied, line by line. */
  parts: (Part & { kind: 'time' | 'flat' | 'soft cost' | 'hard cost' | 'interest' | 'tax' })[]
  lastDay: Day
  /** A credit of before, of which no bank of the application knows. */
  movedIn: boolean
}

/** The bills that a payment was applied to. */
export const billsPaidBy = (m: EntityManager, id: number) =>
  rows<{ id: number }>(m, `SELECT DISTINCT bill_id AS id FROM allocation WHERE payment_id = ?`, [id])

/** What a payment was applied to, line by line. */
export const appliedBy = (m: EntityManager, id: number) =>
  rows<LockedPayment['parts'][number]>(
    m,
    `SELECT a.payment_id AS paymentId, a.bill_id AS billId, a.bill_line_id AS lineId, l.kind, SUM(a.amount) AS amount FROM allocation a JOIN bill_line l ON l.id = a.bill_line_id
      WHERE a.payment_id = ? GROUP BY a.payment_id, a.bill_id, a.bill_line_id, l.kind HAVING amount <> 0 ORDER BY a.bill_line_id`,
    [id],
  )

/** What of a payment went on as a credit. */
export const usedOf = (m: EntityManager, id: number) =>
  row<{ n: number }>(m, `SELECT COALESCE(SUM(amount), 0) AS n FROM credit_use WHERE payment_id = ?`, [id])

/** Every bill that a payment touched must be open to the reader; as SQL on `payment p`. */
const openToReader = (ctx: Ctx) =>
  `NOT EXISTS (SELECT 1 FROM allocation al JOIN bill b ON b.id = al.bill_id JOIN matter m ON m.id = b.matter_id WHERE al.payment_id = p.id AND NOT ${matterScope(ctx.actor, 'm', 'money')})`

/** What payers have left over, the oldest first: to be applied, refunded or moved to trust. */
export async function credits(ctx: Ctx, f: Paging & { payerId?: number | undefined }) {
  const inner = `SELECT p.id, p.day, p.kind, p.reference, p.amount, c.id AS payerId, c.name AS payer, pc.amount AS credit
      FROM payment_credit pc JOIN payment p ON p.id = pc.payment_id JOIN contact c ON c.id = ${standsFor('p.payer_id')}
     WHERE pc.amount > 0 AND ${contactScope(ctx.actor)} AND ${openToReader(ctx)} ${f.payerId ? `AND c.id = ${Number(f.payerId)}` : ''}`
  const all = await row<{ n: number; together: number }>(
    ctx.db.manager,
    `SELECT COUNT(*) AS n, COALESCE(SUM(x.credit), 0) AS together FROM (${inner}) x`,
  )
  const list = await rows<{
    id: number
    day: Day
    kind: 'check' | 'card' | 'transfer' | 'bank debit'
    reference: string
    amount: number
    payerId: number
    payer: string
    credit: number
  }>(ctx.db.manager, `${inner} ORDER BY p.day, p.id ${limit(f)}`)
  return { rows: list, total: all!.n, together: all!.together }
}

/** A payer, where the contact is open to whoever asks. */
export const payerOpen = (m: EntityManager, ctx: Ctx, payerId: number) =>
  row<{ id: number; name: string }>(m, `SELECT c.id, c.name FROM contact c WHERE c.id = ? AND ${contactScope(ctx.actor)}`, [payerId])

/** Bills of a payer and of those who were merged into it that leave something open, the oldest due first: two hundred at most, and what all of them come to. */
export async function openBillsOfPayer(m: EntityManager, ctx: Ctx, payerId: number) {
  const open = `${standsForPayer} s JOIN bill_figure f ON f.payer_id = s.id JOIN matter m ON m.id = f.matter_id JOIN bill b ON b.id = f.bill_id
      WHERE ${isOpenBill('f')} AND ${matterScope(ctx.actor, 'm', 'money')}`
  const list = await rows<{ id: number; number: string; matter: string; issuedOn: Day; dueOn: Day; total: number; open: number }>(
    m,
    `SELECT b.id, b.number, m.short_name AS matter, b.issued_on AS issuedOn, b.due_on AS dueOn, b.total, f.open_amount AS open FROM ${open} ORDER BY f.due_on, f.bill_id LIMIT 200`,
    [payerId, payerId],
  )
  const all = await row<{ n: number; owed: number }>(m, `SELECT COUNT(*) AS n, COALESCE(SUM(f.open_amount), 0) AS owed FROM ${open}`, [
    payerId,
    payerId,
  ])
  return { list, ...all! }
}

/** How many bills are offered, and travel together at most. */
const most = 200

/** A bill that a ledger's money may pay, by due day. */
interface Payable {
  ledgerId: number
  billId: number
  dueOn: Day
  /** The ledger is the client's, and not its matter's. */
  general: number
  owed: number
}

/** Ledgers of an account that have money at the close of a day, of those who owe: whoever of them was merged into another. */
async function ledgersThatOwe(m: EntityManager, bankAccountId: number, day: Day): Promise<number[]> {
  const roots = (
    await rows<{ root: number }>(
      m,
      `SELECT DISTINCT COALESCE(x.merged_into, x.id) AS root FROM bill_figure k JOIN contact x ON x.id = k.payer_id WHERE ${isOpenBill('k')}`,
    )
  ).map((p) => p.root)
  if (!roots.length) return []
  const found = await rows<{ id: number }>(
    m,
    `SELECT l.id FROM (SELECT id FROM contact WHERE id IN (?) UNION SELECT id FROM contact WHERE merged_into IN (?)) o JOIN client_ledger l ON l.client_id = o.id
      WHERE l.bank_account_id = ? AND l.kind = 'client'
        AND COALESCE((SELECT d.balance FROM ledger_day d WHERE d.ledger_id = l.id AND d.day <= ? ORDER BY d.day DESC LIMIT 1), 0) > 0`,
    [roots, roots, bankAccountId, day],
  )
  return found.map((l) => l.id)
}

/** Bills that may be paid from some ledgers, the oldest due first, after the last one seen: as many as are read at once. */
const payableFrom = (m: EntityManager, ctx: Ctx, ledgers: readonly number[], day: Day, notice: number, after: Payable | undefined) =>
  rows<Payable>(
    m,
    `SELECT l.id AS ledgerId, b.id AS billId, b.due_on AS dueOn, l.matter_id IS NULL AS general, f.open_amount - ${unearnedOn('b')} AS owed
       FROM client_ledger l JOIN contact o ON o.id = l.client_id
       JOIN (SELECT x.id, COALESCE(x.merged_into, x.id) AS root FROM bill_figure k JOIN contact x ON x.id = k.payer_id WHERE k.is_open = 1 GROUP BY x.id) p ON p.root = COALESCE(o.merged_into, o.id)
       JOIN bill_figure f ON f.payer_id = p.id AND (l.matter_id IS NULL OR l.matter_id = f.matter_id) AND ${isOpenBill('f')}
       JOIN bill b ON b.id = f.bill_id JOIN matter m ON m.id = b.matter_id
      WHERE l.id IN (?) AND DATE_ADD(b.issued_on, INTERVAL ? DAY) <= ? AND ${matterScope(ctx.actor, 'm', 'trust')} AND ${matterScope(ctx.actor, 'm', 'money')}
        AND (b.due_on, b.id, l.matter_id IS NULL, l.id) > (?, ?, ?, ?)
      ORDER BY b.due_on, b.id, l.matter_id IS NULL, l.id LIMIT ${most * 5}`,
    [day, ledgers, notice, day, after?.dueOn ?? '1000-01-01', after?.billId ?? 0, after?.general ?? 0, after?.ledgerId ?? 0],
  )

/**
 * Open bills that money of their own payers in a trust account could pay on a day, the oldest due first, and how far it reaches. Of
 * more than travel together those that are paid come first; the sheet says that there are more.
 */
export async function transferAhead(ctx: Ctx, input: { bankAccountId: number; day: Day }) {
  const m = ctx.db.manager
  const firm = await row<{ notice: number }>(m, `SELECT trust_notice_days AS notice FROM firm`)
  const available = await ledgersAvailable(ctx, await ledgersThatOwe(m, input.bankAccountId, input.day), input.day)
  const left = new Map([...available].filter(([, n]) => n > 0))
  const paid: (Payable & { amount: number })[] = []
  const unpaid: (Payable & { amount: number })[] = []
  const owed = new Map<number, number>()
  let after: Payable | undefined
  // What a ledger is used up by comes first, and then it is asked for no more: bills that no money reaches do not crowd out the others.
  while (left.size && paid.length <= most) {
    const found = await payableFrom(m, ctx, [...left.keys()], input.day, firm!.notice, after)
    const open = found.filter((f) => f.owed > 0).map((f) => ({ ...f, owed: owed.get(f.billId) ?? f.owed }))
    shareOfLedgers(open, left).forEach((amount, i) => {
      const part = { ...open[i]!, amount }
      if (amount) paid.push(part)
      else if (unpaid.length < most) unpaid.push(part)
      owed.set(part.billId, (owed.get(part.billId) ?? part.owed) - amount)
      left.set(part.ledgerId, (left.get(part.ledgerId) ?? 0) - amount)
    })
    for (const [ledger, n] of left) if (n <= 0) left.delete(ledger)
    after = found.at(-1)
    if (found.length < most * 5) break
  }
  const more = paid.length > most
  const parts = [...paid.slice(0, most), ...unpaid.slice(0, Math.max(0, most - paid.length))].sort(
    (a, b) => a.dueOn.localeCompare(b.dueOn) || a.billId - b.billId || a.general - b.general || a.ledgerId - b.ledgerId,
  )
  if (!parts.length) return { rows: [], total: 0, more }
  const words = new Map(
    (
      await rows<{ id: number; number: string; matter: string; open: number }>(
        m,
        `SELECT b.id, b.number, CONCAT(m.number, ' ', m.short_name) AS matter, f.open_amount AS open FROM bill b JOIN bill_figure f ON f.bill_id = b.id JOIN matter m ON m.id = b.matter_id WHERE b.id IN (?)`,
        [parts.map((p) => p.billId)],
      )
    ).map((b) => [b.id, b]),
  )
  const owners = new Map(
    (
      await rows<{ id: number; name: string }>(
        m,
        `SELECT l.id, o.name FROM client_ledger l JOIN contact o ON o.id = l.client_id WHERE l.id IN (?)`,
        [parts.map((p) => p.ledgerId)],
      )
    ).map((o) => [o.id, o.name]),
  )
  const list = parts.flatMap(({ ledgerId, billId, dueOn, amount }) => {
    const { number, matter, open } = words.get(billId)!
    return { ledgerId, ledger: owners.get(ledgerId)!, billId, number, matter, dueOn, open, available: available.get(ledgerId) ?? 0, amount }
  })
  return { rows: list, total: sum(list.map((l) => l.amount)), more }
}

/** Transfer sheets, newest first, with which of the two banks has shown the movement. */
export async function transfers(ctx: Ctx, f: { page: number; size: number }) {
  const m = ctx.db.manager
  const shown = (bank: string) =>
    `NOT EXISTS (SELECT 1 FROM bank_open_entry o JOIN bank_entry e ON e.id = o.entry_id WHERE o.bank_account_id = ${bank} AND e.reference = CONCAT('Transfer sheet ', t.number))`
  const list = await rows<{
    id: number
    number: number
    day: Day
    from: string
    to: string
    bills: number
    total: number
    fromShown: number
    toShown: number
  }>(
    m,
    `SELECT t.id, t.number, t.day, a.name AS \`from\`, b.name AS \`to\`, t.bills, t.total, ${shown('t.bank_account_id')} AS fromShown, ${shown('t.operating_account_id')} AS toShown
       FROM transfer_sheet t JOIN bank_account a ON a.id = t.bank_account_id JOIN bank_account b ON b.id = t.operating_account_id ORDER BY t.day DESC, t.id DESC LIMIT ${Number(f.size)} OFFSET ${Number((f.page - 1) * f.size)}`,
  )
  return {
    rows: list.map((t) => ({ ...t, fromShown: Boolean(t.fromShown), toShown: Boolean(t.toShown) })),
    total: await m.count(TransferSheet),
  }
}

/** A payment with what is left of it, and the last day on which anything was done with it. */
export const paymentRow = (m: EntityManager, id: number) =>
  row<Omit<LockedPayment, 'bills' | 'parts'>>(
    m,
    `SELECT p.id, p.kind, p.number, ${standsFor('p.payer_id')} AS payerId, p.day, p.amount, p.ledger_id AS ledgerId, p.journal_id AS journalId,
      p.bank_account_id AS bankAccountId, EXISTS (SELECT 1 FROM journal j WHERE j.id = p.journal_id AND j.kind = 'opening') AS movedIn, EXISTS (SELECT 1 FROM payment_reversal r WHERE r.payment_id = p.id) AS reversed, ${creditLeft('p')} AS credit,
      GREATEST(p.day, COALESCE((SELECT MAX(a.applied_on) FROM allocation a WHERE a.payment_id = p.id), p.day), COALESCE((SELECT MAX(u.day) FROM credit_use u WHERE u.payment_id = p.id), p.day)) AS lastDay
    FROM payment p WHERE p.id = ?`,
    [id],
  )
