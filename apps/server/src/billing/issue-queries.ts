import type { BillLookIn } from '@heron/contract'
import { type BillLanguage, type CreditableLine, languageOf, type LineAmounts, type PaymentOrder, taxRateOf } from '@heron/core/billing'
import type { Day } from '@heron/core/calendar'
import type { Cents } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { type Ctx, instant } from '../platform/context'
import { row, rows, run } from '../platform/database'
import { heldOn, lessenedOn } from '../platform/figures'
import { type FirmHead, letterheadOf } from '../platform/queries'
import type { PaymentKind } from './entities'
import { type BillHead, orderOfFirm, standsFor } from './payment-queries'
import type { PreLine } from './pre-bill-queries'
import { termsOf } from './terms'

/** What a bill keeps of the firm, the payer and the matter as they were on the day of issue. */
export interface BillSnapshot {
  firm: FirmHead
  payer: { name: string; address: string }
  matter: { number: string; name: string; client: string; lead: string }
  /** Where it is one payer's part of a split bill: which part, and of how much. */
  part?: { share: string; of: number }
  /** How the firm's bills looked; older ones have none. */
  look?: BillLook
}

export interface BillLook {
  language: BillLanguage
  group: 'none' | 'person' | 'day' | 'activity'
  /** Names of the activities of its lines, by their order on the bill, where they stand under them. */
  activities?: Record<number, string>
  summary: boolean
  slip: boolean
  /** What was held for the matter on the day of the bill; null where bills do not show it, and for payers who are not the client. */
  held: number | null
}

/** What a bill keeps of firm, payer and matter as they were when it was issued. */
export async function snapshotOf(
  m: EntityManager,
  matterId: number,
  payerId: number,
  known?: Awaited<ReturnType<typeof termsOf>>,
): Promise<BillSnapshot> {
  const s = await row<
    Record<'payer' | 'payerAddress' | 'number' | 'matter' | 'client' | 'lead' | 'language', string> & {
      clientId: number
      held: number
      own: number
    }
  >(
    m,
    `SELECT p.name AS payer, p.address AS payerAddress, m.number, m.name AS matter, c.name AS client, u.name AS lead, p.language, m.client_id AS clientId, m.client_id = p.id AS own, ${heldOn('m.id')} AS held
       FROM matter m JOIN contact p ON m.id = ? AND p.id = ? JOIN contact c ON c.id = m.client_id JOIN user_account u ON u.id = m.lead_id`,
    [matterId, payerId],
  )
  const terms = known ?? (await termsOf(m, matterId, s!.clientId))
  return {
    firm: await letterheadOf(m),
    payer: { name: s!.payer, address: s!.payerAddress },
    matter: { number: s!.number, name: s!.matter, client: s!.client, lead: s!.lead },
    look: {
      language: terms.language ?? languageOf(s!.language),
      group: terms.group,
      summary: terms.summary,
      slip: terms.slip,
      held: terms.trust && s!.own ? s!.held : null,
    },
  }
}

/** What each line of work was, by its order on the bill. */
export async function activitiesOf(m: EntityManager, lines: readonly KeptLine[]): Promise<Record<number, string>> {
  const ids = lines.flatMap(({ line }) => (line.kind === 'time' && line.sourceId ? [line.sourceId] : []))
  if (!ids.length) return {}
  const names = new Map(
    (await rows<{ id: number; name: string }>(m, `SELECT t.id, a.name FROM time_entry t JOIN activity a ON a.code = t.activity WHERE t.id IN (?)`, [ids])).map((a) => [a.id, a.name]), // prettier-ignore
  )
  return Object.fromEntries(lines.flatMap(({ line }, i) => (line.kind === 'time' && names.has(line.sourceId ?? 0) ? [[i + 1, names.get(line.sourceId!)!]] : []))) // prettier-ignore
}

/** A line as it goes on a bill: what was left of it in review, and the amounts that this bill carries. */
export interface KeptLine extends LineAmounts {
  line: PreLine
  /** Of a cost paid to someone: what of this bill's part the firm advanced; the rest is markup. */
  advanced: Cents
}

/** Who has which part of a flat fee, in the order in which its money is shared. */
export type Shares = readonly { keeper: number; weight: number }[]

/** Flat fees are credited to those who share them by the matter's terms, else to those who did the work, by its recorded value; to the lead lawyer where none was recorded. */
export async function sharesOf(m: EntityManager, matterId: number, lines: readonly KeptLine[]): Promise<Shares> {
  if (!lines.some((l) => l.line.kind === 'flat')) return []
  const fixed = await feeSharesOf(m, matterId)
  if (fixed.length) return fixed.map((s) => ({ keeper: s.userId, weight: s.basisPoints }))
  const weights = new Map<number, number>()
  for (const { line: l, worked } of lines)
    if (l.kind === 'time' && l.timekeeperId && worked > 0) weights.set(l.timekeeperId, (weights.get(l.timekeeperId) ?? 0) + worked)
  if (!weights.size) weights.set((await row<{ id: number }>(m, `SELECT lead_id AS id FROM matter WHERE id = ?`, [matterId]))!.id, 1)
  return [...weights].map(([keeper, weight]) => ({ keeper, weight })).sort((a, b) => a.keeper - b.keeper)
}

/** What was recorded for lines that others carry. */
export const mergedInto = (m: EntityManager, carriers: number[]) =>
  rows<{ id: number }>(m, `SELECT source_id AS id FROM pre_bill_line WHERE merged_into IN (?)`, [carriers])

/** Marks what was recorded as billed; what another bill took meanwhile is not among the rows touched. */
export const takeUnbilled = (m: EntityManager, table: 'time_entry' | 'cost_entry' | 'fee_portion', billId: number, ids: number[]) =>
  run(m, `UPDATE ${table} SET bill_id = ? WHERE id IN (?) AND bill_id IS NULL`, [billId, ids])

/** Up to when the books are closed, and whether two people issue a bill. */
export const rulesOfIssue = (m: EntityManager) =>
  row<{ closedTo: Day | null; two: number }>(m, `SELECT books_closed_to AS closedTo, two_people_for_bills AS two FROM firm`)

export interface FeeShare {
  userId: number
  name: string
  basisPoints: number
}

/** Who shares the fixed fees of a matter, in the order in which money is shared; nobody where it goes by recorded value. */
export const feeSharesOf = (m: EntityManager, matterId: number) =>
  rows<FeeShare>(
    m,
    `SELECT s.user_id AS userId, u.name, s.basis_points AS basisPoints FROM matter_fee_share s JOIN user_account u ON u.id = s.user_id WHERE s.matter_id = ? ORDER BY s.user_id`,
    [matterId],
  )

/** How the firm's bills look beyond the letterhead. */
export async function billLook(ctx: Ctx): Promise<BillLookIn> {
  const f = (await row<{ billGroup: BillLookIn['group']; summary: number; trust: number; slip: number }>(
    ctx.db.manager,
    `SELECT bill_group AS billGroup, bill_summary AS summary, bill_trust AS trust, bill_slip AS slip FROM firm`,
  ))!
  return { group: f.billGroup, summary: Boolean(f.summary), trust: Boolean(f.trust), slip: Boolean(f.slip) }
}

/** Keeps the PDF of a bill, unless there is one. */
export const keepBillPdf = (m: EntityManager, ctx: Ctx, id: number, fileId: number, sha256: string) =>
  run(m, `INSERT IGNORE INTO bill_pdf (bill_id, file_id, sha256, made_at) VALUES (?, ?, ?, ?)`, [
    id,
    fileId,
    sha256,
    instant(ctx.clock.now()),
  ])

interface Line extends CreditableLine {
  timekeeperId: number | null
  text: string
  /** What credit notes and write-offs took of it before. */
  lessened: number
}

/** A payment that stands on a bill. */
interface OnBill {
  id: number
  kind: PaymentKind
  ledgerId: number | null
  bankAccountId: number | null
  lines: Map<number, number>
}

export interface Standing {
  bill: BillHead
  lines: Line[]
  payments: OnBill[]
  order: PaymentOrder
  lastDay: Day
}

/** Whom a bill stands for, contacts that were merged included. */
export const payerOfBill = (m: EntityManager, billId: number) =>
  row<{ id: number }>(m, `SELECT ${standsFor('b.payer_id')} AS id FROM bill b WHERE b.id = ?`, [billId])

/** The rate of a line on a bill of before rates were kept: null where the line bore tax, or is one, and nobody knows at which rate. */
function oldRateOf(l: { kind: CreditableLine['kind']; taxable: number | null }, { oldTaxRate: rate }: BillHead): number | null {
  if (l.kind === 'tax') return rate || null
  const taxable = l.taxable === null ? null : Boolean(l.taxable)
  const bears = taxRateOf({ kind: l.kind, taxable }, { fees: rate || 1, softCosts: rate || 1, hardCosts: 0 }) > 0
  return bears ? rate || null : 0
}

/** How a bill stands line by line: what it was lessened by, and what each payment pays of it, the oldest first. */
export async function standing(m: EntityManager, bill: BillHead): Promise<Standing> {
  const lines = await rows<Omit<Line, 'left'> & { net: number; taxable: number | null }>(
    m,
    `SELECT l.id, l.kind, l.timekeeper_id AS timekeeperId, l.text, l.net, l.taxable, l.tax_basis_points AS taxRate,
            ${lessenedOn()} AS lessened
       FROM bill_line l WHERE l.bill_id = ? ORDER BY l.ordinal`,
    [bill.id],
  )
  const parts = await rows<{
    id: number
    kind: PaymentKind
    ledgerId: number | null
    bankAccountId: number | null
    lineId: number
    amount: number
  }>(
    m,
    `SELECT p.id, p.kind, p.ledger_id AS ledgerId, p.bank_account_id AS bankAccountId, a.bill_line_id AS lineId, SUM(a.amount) AS amount FROM allocation a JOIN payment p ON p.id = a.payment_id
      WHERE a.bill_id = ? AND p.kind NOT IN ('credit note', 'write-off', 'void') GROUP BY p.id, a.bill_line_id HAVING amount <> 0 ORDER BY p.day, p.id, a.bill_line_id`,
    [bill.id],
  )
  const payments = new Map<number, OnBill>()
  for (const { lineId, amount, ...p } of parts) {
    const own = payments.get(p.id) ?? { ...p, lines: new Map<number, number>() }
    own.lines.set(lineId, amount)
    payments.set(p.id, own)
  }
  const last = await row<{ day: Day | null }>(m, `SELECT MAX(applied_on) AS day FROM allocation WHERE bill_id = ?`, [bill.id])
  return {
    bill,
    lines: lines.map((l) => ({ ...l, left: l.net - l.lessened, taxRate: l.taxRate ?? oldRateOf(l, bill) })),
    order: await orderOfFirm(m),
    payments: [...payments.values()],
    lastDay: last?.day && last.day > bill.issuedOn ? last.day : bill.issuedOn,
  }
}

/** Who shares the flat fees of a bill, in the order in which money is shared. */
export const feeShares = (m: EntityManager, billId: number) =>
  rows<{ lineId: number; keeper: number; weight: number }>(
    m,
    `SELECT s.bill_line_id AS lineId, s.timekeeper_id AS keeper, s.weight FROM bill_line_share s JOIN bill_line l ON l.id = s.bill_line_id WHERE l.bill_id = ? ORDER BY s.bill_line_id, s.timekeeper_id`,
    [billId],
  )

/** A bill and those that were issued with it to other payers. */
export const billsOfOneIssue = (m: EntityManager, billId: number) =>
  rows<{ id: number }>(
    m,
    `SELECT b.id FROM bill b WHERE b.id = ? OR b.pre_bill_id = (SELECT x.pre_bill_id FROM bill x WHERE x.id = ?) ORDER BY b.id`,
    [billId, billId],
  )

/** What was billed waits to be billed again. It is found by its matter: no table of work has an index on bills, and none is gone through. */
export const leaveUnbilled = (m: EntityManager, table: 'time_entry' | 'cost_entry' | 'fee_portion', bills: BillHead[]) =>
  run(m, `UPDATE ${table} SET bill_id = NULL WHERE matter_id IN (?) AND bill_id IN (?)`, [
    [...new Set(bills.map((b) => b.matterId))],
    bills.map((b) => b.id),
  ])

/** Bills of before stand below the next number. */
export const numberAfter = (m: EntityManager, own: RegExpExecArray) =>
  run(m, `INSERT INTO counter (name, value) VALUES ('bill', ?) ON DUPLICATE KEY UPDATE value = GREATEST(value, VALUES(value))`, [
    Math.max(0, Number(own[1]) - 1000),
  ])
