import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { limit, type Paging } from '../../ledger'
import { firstWith } from '../../platform/auth'
import { matterScope } from '../../platform/access'
import { type Ctx, isoOf } from '../../platform/context'
import { literal, row, rows, run } from '../../platform/database'
import { isOpenBill } from '../../platform/figures'

// What is overdue, and what interest rests on, is gathered from bills, payments, letters and terms at once.

export interface OverdueFilter extends Paging {
  q?: string | undefined
  leadId?: number | undefined
  disputed?: 'yes' | 'no' | undefined
  ids?: readonly number[] | undefined
}
/** Bills past due and not paid, the longest first. */
export async function overdueRows(ctx: Ctx, f: OverdueFilter, today: Day) {
  const like = `%${literal(f.q ?? '')}%`
  const disputedSql = `EXISTS (SELECT 1 FROM bill_dispute d WHERE d.open_bill = b.id)`
  const where = `FROM bill_figure f JOIN bill b ON b.id = f.bill_id JOIN matter m ON m.id = b.matter_id JOIN contact c ON c.id = b.payer_id
     WHERE ${isOpenBill('f')} AND f.due_on < ? AND ${matterScope(ctx.actor, 'm', 'money')} ${f.q ? 'AND (b.number LIKE ? OR m.name LIKE ? OR c.name LIKE ?)' : ''}
       ${f.leadId ? `AND m.lead_id = ${Number(f.leadId)}` : ''} ${f.disputed ? `AND ${f.disputed === 'no' ? 'NOT ' : ''}${disputedSql}` : ''} ${f.ids ? 'AND b.id IN (?)' : ''}`
  const values = [today, ...(f.q ? [like, like, like] : []), ...(f.ids ? [f.ids.length ? f.ids : [0]] : [])]
  const all = await row<{ n: number; open: number }>(
    ctx.db.manager,
    `SELECT COUNT(*) AS n, COALESCE(SUM(f.open_amount), 0) AS open ${where}`,
    values,
  )
  const list = await rows<{
    id: number
    number: string
    matterId: number
    matter: string
    payer: string
    email: string
    dueOn: Day
    total: number
    open: number
    step: number
    remindedAt: string | null
    disputed: string | null
    interestOf: string | null
  }>(
    ctx.db.manager,
    `SELECT b.id, b.number, b.matter_id AS matterId, m.name AS matter, c.name AS payer, c.email, b.due_on AS dueOn, b.total, f.open_amount AS open,
            COALESCE((SELECT MAX(CAST(SUBSTRING(s.kind, 10) AS UNSIGNED)) FROM bill_sent s WHERE s.bill_id = b.id AND s.kind LIKE 'reminder %'), 0) AS step,
            (SELECT MAX(s.at) FROM bill_sent s WHERE s.bill_id = b.id AND s.kind LIKE 'reminder %') AS remindedAt,
            (SELECT d.reason FROM bill_dispute d WHERE d.open_bill = b.id) AS disputed,
            (SELECT o.number FROM bill_interest i JOIN bill o ON o.id = i.of_bill_id WHERE i.bill_id = b.id) AS interestOf
       FROM (SELECT f.bill_id ${where} ORDER BY f.due_on, f.bill_id ${limit(f)}) page JOIN bill_figure f ON f.bill_id = page.bill_id
       JOIN bill b ON b.id = f.bill_id JOIN matter m ON m.id = b.matter_id JOIN contact c ON c.id = b.payer_id ORDER BY b.due_on, b.id`,
    values,
  )
  return { list: list.map((b) => ({ ...b, remindedAt: b.remindedAt && isoOf(b.remindedAt) })), total: all!.n, open: all!.open }
}

/** What interest on bills rests on: due day, terms, what was open without interest from which day, and what was charged before. */
export async function interestFacts(m: EntityManager, ids: readonly number[]) {
  const out = new Map<
    number,
    {
      dueOn: Day
      clientId: number
      interestBasisPoints: number
      graceDays: number
      principal: { from: Day; open: number }[]
      charged: number
      chargedTo: Day | null
    }
  >()
  if (!ids.length) return out
  const notInterest = `l.kind <> 'interest'`
  const heads = await rows<{
    id: number
    dueOn: Day
    issuedOn: Day
    clientId: number
    basisPoints: number
    graceDays: number
    principal: number
    charged: number
    chargedTo: Day | null
  }>(
    m,
    `SELECT b.id, b.due_on AS dueOn, b.issued_on AS issuedOn, m.client_id AS clientId,
            COALESCE(mt.interest_basis_points, ct.interest_basis_points, 0) AS basisPoints, COALESCE(mt.grace_days, ct.grace_days, 0) AS graceDays,
            COALESCE((SELECT SUM(l.net) FROM bill_line l WHERE l.bill_id = b.id AND ${notInterest}), 0) AS principal,
            COALESCE((SELECT SUM(i.amount) FROM bill_interest i WHERE i.of_bill_id = b.id AND NOT ${voided('i.bill_id')}), 0) AS charged,
            (SELECT MAX(i.accrued_to) FROM bill_interest i WHERE i.of_bill_id = b.id AND NOT ${voided('i.bill_id')}) AS chargedTo
       FROM bill b JOIN matter m ON m.id = b.matter_id LEFT JOIN bill_terms mt ON mt.owner = 'matter' AND mt.owner_id = m.id
       LEFT JOIN bill_terms ct ON ct.owner = 'client' AND ct.owner_id = m.client_id WHERE b.id IN (?)`,
    [ids],
  )
  const changes = await rows<{ billId: number; day: Day; amount: number }>(
    m,
    `SELECT a.bill_id AS billId, a.applied_on AS day, SUM(a.amount) AS amount FROM allocation a JOIN bill_line l ON l.id = a.bill_line_id
      WHERE a.bill_id IN (?) AND ${notInterest} GROUP BY a.bill_id, a.applied_on ORDER BY a.bill_id, a.applied_on`,
    [ids],
  )
  for (const h of heads) {
    let open = h.principal
    const principal = [{ from: h.issuedOn, open }]
    for (const c of changes.filter((x) => x.billId === h.id)) {
      open -= c.amount
      principal.push({ from: c.day, open })
    }
    out.set(h.id, { dueOn: h.dueOn, clientId: h.clientId, interestBasisPoints: h.basisPoints, graceDays: h.graceDays, principal, charged: h.charged, chargedTo: h.chargedTo }) // prettier-ignore
  }
  return out
}
const voided = (billId: string) =>
  `EXISTS (SELECT 1 FROM allocation va JOIN payment vp ON vp.id = va.payment_id AND vp.kind = 'void' WHERE va.bill_id = ${billId})`

/** The steps of reminders as the firm set them: days after the due day. */
export async function stepsOf(m: EntityManager): Promise<number[]> {
  const found = await row<{ days: string }>(m, `SELECT reminder_days AS days FROM firm`)
  return (found?.days ?? '').split(',').map(Number).filter((n) => Number.isInteger(n) && n >= 0).slice(0, 3) // prettier-ignore
}

/** Up to when the books are closed. */
export const booksClosed = (m: EntityManager) => row<{ closedTo: Day | null }>(m, `SELECT books_closed_to AS closedTo FROM firm`)

/** After how many days the firm reminds by itself, in whose name, and whether that has stopped. */
export async function reminderRule(ctx: Ctx) {
  const found = await row<{ days: string; by: string | null }>(
    ctx.db.manager,
    `SELECT f.reminder_days AS days, u.name AS \`by\` FROM firm f LEFT JOIN user_account u ON u.id = f.remind_by`,
  )
  const by = found?.by ?? null
  const stopped = by !== null && !(await remindingAs(ctx.db.manager))?.actor
  return { days: (found?.days ?? '').replaceAll(',', ', '), by, stopped }
}

/** In whose name reminders go out by themselves, and from which hour. Whoever left, or issues no bills any more, sends none. */
export async function remindingAs(m: EntityManager) {
  const firm = await row<{ by: number | null; from: string }>(m, `SELECT remind_by AS \`by\`, letters_from AS \`from\` FROM firm`)
  return firm && { from: firm.from, actor: firm.by === null ? null : await firstWith(m, [firm.by], 'bills.issue') }
}

/** Whoever comes first on a day reminds; others touch no row. */
export const remindedToday = (m: EntityManager, today: Day) =>
  run(m, `UPDATE firm SET reminded_on = ? WHERE reminded_on IS NULL OR reminded_on < ?`, [today, today])
