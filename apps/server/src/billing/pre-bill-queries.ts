import { type LineKind, type PayerShare, sharesInWords, type TaxRates } from '@heron/core/billing'
import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { change, contactScope, matterScope, see } from '../platform/access'
import { type Ctx, isoOf } from '../platform/context'
import { row, rows, run } from '../platform/database'
import { isToldCost, isUnbilledCost, isUnbilledPortion, isUnbilledTime, portionsToCome } from '../platform/figures'
import { PreBillLine } from './entities'
import type { BillGroup } from './run-entities'

const firstOf = (column: string, firm: string) => `COALESCE(o.${column}, c.${column}, ${firm})`

export const termsSql = `SELECT ${firstOf('due_days', 'f.bill_terms_days')} AS dueDays, ${firstOf('interest_basis_points', '0')} AS interestBasisPoints, ${firstOf('grace_days', '0')} AS graceDays,
    ${firstOf('discount_basis_points', '0')} AS discountBasisPoints, ${firstOf('tax_fees', 'f.tax_basis_points')} AS taxFees,
    ${firstOf('tax_soft_costs', 'COALESCE(f.tax_soft_basis_points, f.tax_basis_points)')} AS taxSoft, ${firstOf('tax_hard_costs', 'COALESCE(f.tax_hard_basis_points, 0)')} AS taxHard,
    o.language, ${firstOf('bill_group', 'f.bill_group')} AS \`group\`, ${firstOf('bill_summary', 'f.bill_summary')} AS summary, ${firstOf('bill_trust', 'f.bill_trust')} AS trust, ${firstOf('bill_slip', 'f.bill_slip')} AS slip
  FROM firm f LEFT JOIN bill_terms o ON o.owner = 'matter' AND o.owner_id = ? LEFT JOIN bill_terms c ON c.owner = 'client' AND c.owner_id = ?`

/** How many of these people work here. */
export const activeAmong = (m: EntityManager, warnIds: number[]) =>
  m.query<{ n: string }[]>(`SELECT COUNT(*) AS n FROM user_account WHERE id IN (?) AND active`, [warnIds])

/** Whether a client is open to whoever asks. */
export const clientOpenTo = (m: EntityManager, ctx: Ctx, id: number) =>
  row(m, `SELECT 1 FROM contact c WHERE c.id = ? AND ${contactScope(ctx.actor)}`, [id])

export interface PreLine {
  id: number
  kind: Exclude<LineKind, 'interest'>
  sourceId: number
  day: Day | null
  timekeeperId: number | null
  timekeeper: string
  initials: string
  text: string
  minutes: number | null
  rate: number | null
  worked: number
  charged: number
  noCharge: boolean
  heldBack: boolean
  /** Of a cost: what of it the firm advanced to others, before any markup. */
  advanced: number | null
  taxable: boolean | null
  /** What trust money paid: it stands here for information, and is never charged. */
  told: boolean
  /** How many other entries the line stands for. */
  carries: number
  /** A fee added in review, or by a settlement. */
  added: boolean
}

export const headSql = `SELECT p.id, p.matter_id AS matterId, m.name AS matter, m.client_id AS clientId, p.payer_id AS payerId, c.name AS payer, p.work_to AS workTo, p.state,
    p.discount_amount AS discountAmount, p.discount_basis_points AS discountBasisPoints, p.tax_basis_points AS taxFees,
    COALESCE(p.tax_soft_basis_points, p.tax_basis_points) AS taxSoft, COALESCE(p.tax_hard_basis_points, 0) AS taxHard, p.approved_by AS approvedBy
  FROM pre_bill p JOIN matter m ON m.id = p.matter_id JOIN contact c ON c.id = p.payer_id`

/** The lines of a pre-bill in their order; those made part of another stand under it. */
export async function linesOf(m: EntityManager, id: number): Promise<PreLine[]> {
  const found = await rows<PreLine>(
    m,
    `SELECT l.id, l.kind, l.source_id AS sourceId, l.day, l.timekeeper_id AS timekeeperId, COALESCE(u.name, '') AS timekeeper, COALESCE(u.initials, '') AS initials,
            l.text, l.minutes, l.rate, l.worked, l.charged, l.no_charge AS noCharge, l.held_back AS heldBack, l.advanced, l.taxable, l.told,
            (SELECT COUNT(*) FROM pre_bill_line o WHERE o.merged_into = l.id) AS carries, l.kind = 'flat' AND EXISTS (SELECT 1 FROM fee_portion fp WHERE fp.id = l.source_id AND fp.added) AS added
       FROM pre_bill_line l LEFT JOIN user_account u ON u.id = l.timekeeper_id WHERE l.pre_bill_id = ? AND l.merged_into IS NULL ORDER BY l.ordinal, l.id`,
    [id],
  )
  return found.map((l) => ({
    ...l,
    noCharge: Boolean(l.noCharge),
    heldBack: Boolean(l.heldBack),
    told: Boolean(l.told),
    added: Boolean(l.added),
    taxable: l.taxable === null ? null : Boolean(l.taxable),
  }))
}

/** Those among whom a pre-bill is split, as they were when it was made; none where one payer bears it all. */
export async function payersOf(m: EntityManager, id: number) {
  const found = await rows<PayerShare & { contactId: number; name: string }>(
    m,
    `SELECT p.contact_id AS contactId, c.name, p.fixed, p.basis_points AS basisPoints FROM pre_bill_payer p JOIN contact c ON c.id = p.contact_id WHERE p.pre_bill_id = ? ORDER BY p.ordinal`,
    [id],
  )
  const shares = sharesInWords(found)
  return found.map((p, i) => ({ ...p, share: shares[i]! }))
}

/** A pre-bill of the matter that was not issued yet. */
export const waitingPreBill = (m: EntityManager, matterId: number) =>
  row<{ waiting: number | null }>(m, `SELECT MIN(p.id) AS waiting FROM pre_bill p WHERE p.matter_id = ? AND p.state <> 'issued'`, [
    matterId,
  ])

/** So many lines stand on one bill at most: it is reviewed and paid line by line, and goes on paper. */
export const mostLines = 10_000

/** Time of a matter up to a day that waits to be billed. */
export const unbilledTimeUpTo = (m: EntityManager, matterId: number, workTo: Day, withCovered: boolean) =>
  rows<{
    id: number
    day: Day
    userId: number
    text: string
    minutes: number
    rate: number
    amount: number
    charge: string
    covered: number
  }>(
    m,
    `SELECT id, day, user_id AS userId, text, minutes, rate, amount, charge, covered FROM time_entry t
        WHERE matter_id = ? AND ${isUnbilledTime('t')} AND day <= ? ${withCovered ? '' : 'AND NOT covered'} ORDER BY day, id LIMIT ${mostLines + 1}`,
    [matterId, workTo],
  )

/** Costs of a matter up to a day that wait to be billed, or to be told of. */
export const unbilledCostsUpTo = (m: EntityManager, matterId: number, workTo: Day) =>
  rows<{ id: number; day: Day; kind: 'soft cost' | 'hard cost'; text: string; amount: number; paid: number; taxable: number | null; told: number }> // prettier-ignore
  (
    m,
    `SELECT c.id, c.day, c.kind, c.text, c.amount, c.paid, c.taxable, c.open_amount = 0 AS told FROM cost_entry c
      WHERE c.matter_id = ? AND (${isUnbilledCost('c')} OR ${isToldCost('c')}) AND c.day <= ? ORDER BY c.day, c.id LIMIT ${mostLines + 1}`,
    [matterId, workTo],
  )

/** Portions of a fee that are due by a day and not billed. */
export const unbilledPortionsUpTo = (m: EntityManager, matterId: number, workTo: Day) =>
  rows<{ id: number; label: string; amount: number }>(
    m,
    `SELECT id, label, amount FROM fee_portion p WHERE matter_id = ? AND ${isUnbilledPortion('p')} AND (due = 'opening' OR earned_on <= ?) ORDER BY ordinal`,
    [matterId, workTo],
  )

/** Whether portions of the fee are to come. */
export const portionsAhead = (m: EntityManager, matterId: number) => row<{ n: number }>(m, `SELECT ${portionsToCome('?')} AS n`, [matterId])

/** Who bears which part of a matter’s bills. */
export const payersOfMatter = (m: EntityManager, matterId: number) =>
  rows<PayerShare & { contactId: number }>(
    m,
    `SELECT contact_id AS contactId, fixed, basis_points AS basisPoints FROM matter_payer WHERE matter_id = ? ORDER BY ordinal`,
    [matterId],
  )

/** The settlement whose fee stands on a pre-bill. */
export const settlementOn = (m: EntityManager, id: number) =>
  row<{ billed: number }>(
    m,
    `SELECT s.billed FROM pre_bill_line l JOIN settlement s ON s.portion_id = l.source_id AND s.withdrawn_on IS NULL WHERE l.pre_bill_id = ? AND l.kind = 'flat'`,
    [id],
  )

/** What reviewer and bookkeeper said to each other about a pre-bill: the last two hundred, oldest first. */
export async function commentsOf(m: EntityManager, preBillId: number) {
  const list = await rows<{ id: number; by: string; at: string; text: string }>(
    m,
    `SELECT * FROM (SELECT c.id, u.name AS \`by\`, c.at, c.text FROM pre_bill_comment c JOIN user_account u ON u.id = c.user_id WHERE c.pre_bill_id = ? ORDER BY c.id DESC LIMIT 200) x ORDER BY x.id`,
    [preBillId],
  )
  return list.map((c) => ({ ...c, at: isoOf(c.at) }))
}

/** With whom a pre-bill lies: the lead lawyer while it is reviewed, whoever issues bills once it is approved; and since when. */
export async function heldBy(m: EntityManager, preBillId: number): Promise<{ who: string; since: string } | null> {
  const found = await row<{ state: string; lead: string; since: string }>(
    m,
    `SELECT p.state, u.name AS lead, COALESCE(p.state_since, p.created_at) AS since FROM pre_bill p JOIN matter x ON x.id = p.matter_id JOIN user_account u ON u.id = x.lead_id WHERE p.id = ?`,
    [preBillId],
  )
  if (!found || found.state === 'issued') return null
  return { who: found.state === 'review' ? found.lead : 'whoever issues bills', since: isoOf(found.since) }
}

/** Who hears of a comment: the lead, who made the pre-bill, and who spoke on it. */
export const toldOfComment = (m: EntityManager, ctx: Ctx, matterId: number, preBillId: number) =>
  rows<{ id: number }>(
    m,
    `SELECT u.id FROM user_account u WHERE u.active AND u.id <> ? AND (u.id = (SELECT x.lead_id FROM matter x WHERE x.id = ?) OR u.id = (SELECT p.created_by FROM pre_bill p WHERE p.id = ?)
          OR u.id IN (SELECT c.user_id FROM pre_bill_comment c WHERE c.pre_bill_id = ?))
         AND NOT EXISTS (SELECT 1 FROM matter_screen s WHERE s.matter_id = ? AND s.user_id = u.id)`,
    [ctx.actor.id, matterId, preBillId, preBillId, matterId],
  )

/** The entries that a line stands for, its own first. */
export const timeBehind = (m: EntityManager, sourceId: number, id: number) =>
  rows<{ id: number; text: string; minutes: number; amount: number }>(
    m,
    `SELECT id, text, minutes, amount FROM time_entry WHERE id IN (?) ORDER BY id = ?`,
    [[sourceId, id], id],
  )

/** One line carries others, and what those carried. */
export const carryLines = (m: EntityManager, id: number, inputId: number, others: PreLine[]) =>
  run(m, `UPDATE pre_bill_line SET merged_into = ? WHERE pre_bill_id = ? AND (id IN (?) OR merged_into IN (?))`, [
    id,
    inputId,
    others.map((l) => l.id),
    others.map((l) => l.id),
  ])

/** Lines that one carried stand for themselves again, as they were recorded. */
export const partLinesAgain = (m: EntityManager, noCharge: boolean, heldBack: boolean, id: number, others: PreBillLine[]) =>
  run(
    m,
    `UPDATE pre_bill_line l JOIN time_entry t ON t.id = l.source_id SET l.merged_into = NULL, l.text = t.text, l.minutes = t.minutes, l.worked = t.amount,
              l.charged = IF(t.covered, 0, t.amount), l.no_charge = ?, l.held_back = ? WHERE l.id IN (?)`,
    [noCharge, heldBack, [id, ...others.map((o) => o.id)]],
  )

/** The next places of a fee and of a line, and how many were added in review. */
export const placesOnPreBill = (m: EntityManager, matterId: number, id: number) =>
  row<{ portionAt: number; lineAt: number; n: number }>(
    m,
    `SELECT (SELECT COALESCE(MAX(ordinal), 0) FROM fee_portion WHERE matter_id = ?) AS portionAt,
              (SELECT COALESCE(MAX(ordinal), 0) FROM pre_bill_line WHERE pre_bill_id = ?) AS lineAt,
              (SELECT COUNT(*) FROM pre_bill_line l JOIN fee_portion p ON p.id = l.source_id AND p.added WHERE l.pre_bill_id = ? AND l.kind = 'flat') AS n`,
    [matterId, id, id],
  )

/** A fee that is due at once. */
export const addPortion = (m: EntityManager, matterId: number, p: { after: number; label: string; amount: number; earnedOn: Day }) =>
  run(m, `INSERT INTO fee_portion (matter_id, ordinal, label, amount, due, earned_on, added) VALUES (?, ?, ?, ?, 'reached', ?, TRUE)`, [
    matterId,
    p.after + 1,
    p.label,
    p.amount,
    p.earnedOn,
  ])

/** The id of the fee that was just added. */
export const portionAdded = (m: EntityManager) => row<{ id: number }>(m, `SELECT LAST_INSERT_ID() AS id`)

/** A fee that was added in review, and by no settlement. */
export const addedPortion = (m: EntityManager, sourceId: number) =>
  row(
    m,
    `SELECT p.id FROM fee_portion p WHERE p.id = ? AND p.added AND NOT EXISTS (SELECT 1 FROM settlement s WHERE s.portion_id = p.id)`,
    [sourceId],
  )

/** Removes a fee that was added. */
export const removePortion = (m: EntityManager, sourceId: number) => run(m, `DELETE FROM fee_portion WHERE id = ?`, [sourceId])

export interface PreBillHead {
  id: number
  matterId: number
  matter: string
  clientId: number
  payerId: number
  payer: string
  workTo: Day
  state: 'review' | 'approved' | 'issued'
  discountAmount: number
  discountBasisPoints: number
  taxes: TaxRates
  approvedBy: number | null
}

/** The head of a pre-bill, where whoever asks may see it, or change it. */
export const headRow = (m: EntityManager, ctx: Ctx, lock: boolean, id: number) =>
  row<Omit<PreBillHead, 'taxes'> & { taxFees: number; taxSoft: number; taxHard: number }>(
    m,
    `${headSql} WHERE p.id = ? AND ${matterScope(ctx.actor, 'm', 'money', lock ? change : see)}`,
    [id],
  )

/** Terms as they stand in one row. */
interface TermsRow {
  dueDays: number
  interestBasisPoints: number
  graceDays: number
  discountBasisPoints: number
  taxFees: number
  taxSoft: number
  taxHard: number
  /** Where it is not that of whoever is billed. */
  language: 'en' | 'es' | null
  group: BillGroup
  summary: number
  trust: number
  slip: number
}

/** What holds for bills of a matter, in one row; nothing where there is no firm. */
export const termsRow = (m: EntityManager, matterId: number | null, clientId: number | null) =>
  row<TermsRow>(m, termsSql, [matterId, clientId])
