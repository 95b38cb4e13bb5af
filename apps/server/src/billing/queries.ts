import type { Day } from '@heron/core/calendar'
import { sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { ledgers, limit, type Paging } from '../ledger'
import { matterScope } from '../platform/access'
import { type Ctx, isoOf, may } from '../platform/context'
import { literal, row, rows } from '../platform/database'
import { creditLeft, isUnbilledCost, isUnbilledPortion, isUnbilledTime, openOf, owedOn, unbilledOn, worthOfTime } from '../platform/figures'
import { notFound } from '../platform/problem'
import type { PaymentKind } from './entities'
import type { BillSnapshot } from './issue-queries'
import { commentsOf, heldBy, linesOf, payersOf } from './pre-bill-queries'
import { headOf, retotal, totalsOf } from './pre-bills'
import { budgetStands } from './terms'

const billColumns = `b.id, b.number, b.matter_id AS matterId, m.short_name AS matter, c.name AS payer, b.issued_on AS issuedOn, b.due_on AS dueOn, b.total, ${openOf('b')} AS open,
  EXISTS (SELECT 1 FROM allocation va JOIN payment vp ON vp.id = va.payment_id AND vp.kind = 'void' WHERE va.bill_id = b.id) AS void`
const billFrom = `FROM bill b JOIN matter m ON m.id = b.matter_id JOIN contact c ON c.id = b.payer_id`
interface BillRow {
  id: number
  number: string
  matterId: number
  matter: string
  payer: string
  issuedOn: Day
  dueOn: Day
  total: number
  open: number
  void: number
}

/** A page of bills with what each leaves open. */
export async function bills(
  ctx: Ctx,
  f: { q: string; state: 'open' | 'paid' | 'all'; matterId?: number | undefined; page: number; size: number },
) {
  const like = `%${literal(f.q)}%`
  // Left joins, which the optimizer leaves out where nothing is asked of them: the page is chosen by what is kept of each bill.
  const from = `FROM bill_figure f LEFT JOIN bill b ON b.id = f.bill_id LEFT JOIN matter m ON m.id = f.matter_id LEFT JOIN contact c ON c.id = f.payer_id
    WHERE ${matterScope(ctx.actor, 'm', 'money')} ${f.q ? 'AND (b.number LIKE ? OR m.name LIKE ? OR c.name LIKE ?)' : ''} ${f.matterId ? `AND f.matter_id = ${Number(f.matterId)}` : ''}
      ${f.state === 'all' ? '' : `AND f.is_open = ${f.state === 'open' ? 1 : 0}`}`
  const values = f.q ? [like, like, like] : []
  const total = await row<{ n: number; open: number }>(
    ctx.db.manager,
    `SELECT COUNT(*) AS n, COALESCE(SUM(f.open_amount), 0) AS open ${from}`,
    values,
  )
  const list = await rows<BillRow>(
    ctx.db.manager,
    `SELECT ${billColumns} FROM (SELECT f.bill_id ${from} ORDER BY f.issued_on DESC, f.bill_id DESC ${limit(f)}) page JOIN bill b ON b.id = page.bill_id
       JOIN matter m ON m.id = b.matter_id JOIN contact c ON c.id = b.payer_id ORDER BY b.issued_on DESC, b.id DESC`,
    values,
  )
  return { rows: list.map((b) => ({ ...b, void: Boolean(b.void) })), total: total!.n, totalOpen: total!.open }
}

interface PreBillRow {
  id: number
  matterId: number
  matter: string
  payer: string
  workTo: Day
  state: 'review' | 'approved'
  lines: number
  total: number
}
const waitingPre = (ctx: Ctx) => `p.state <> 'issued' AND ${matterScope(ctx.actor, 'm', 'money')}`
/** What pre-bills of before come to, who did not keep it yet. */
async function retotalOld(ctx: Ctx) {
  const m = ctx.db.manager
  const old = await rows<{ id: number }>(
    m,
    `SELECT p.id FROM pre_bill p JOIN matter m ON m.id = p.matter_id WHERE p.total IS NULL AND ${waitingPre(ctx)} LIMIT 200`,
  )
  for (const p of old) await retotal(m, ctx, p.id)
}

/** Pre-bills that wait, and what those of either state come to together. */
export async function preBills(
  ctx: Ctx,
  f: Paging & { q: string; state: 'all' | 'review' | 'approved'; leadId?: number | undefined; matterId?: number | undefined },
) {
  await retotalOld(ctx)
  const like = `%${literal(f.q)}%`
  const from = `FROM pre_bill p JOIN matter m ON m.id = p.matter_id JOIN contact c ON c.id = p.payer_id WHERE ${waitingPre(ctx)}`
  const narrowed = `${f.q ? 'AND (m.name LIKE ? OR m.number LIKE ? OR c.name LIKE ?)' : ''} ${f.state === 'all' ? '' : `AND p.state = '${f.state}'`} ${f.leadId ? `AND m.lead_id = ${Number(f.leadId)}` : ''} ${f.matterId ? `AND p.matter_id = ${Number(f.matterId)}` : ''}`
  const values = f.q ? [like, like, like] : []
  const list = await rows<PreBillRow>(
    ctx.db.manager,
    `SELECT p.id, p.matter_id AS matterId, m.name AS matter, c.name AS payer, p.work_to AS workTo, p.state, COALESCE(p.line_count, 0) AS \`lines\`, COALESCE(p.total, 0) AS total ${from} ${narrowed} ORDER BY p.state, p.id ${limit(f)}`,
    values,
  )
  const total = await row<{ n: number }>(ctx.db.manager, `SELECT COUNT(*) AS n ${from} ${narrowed}`, values)
  return { rows: list, total: total!.n, ...(await preBillSums(ctx)) }
}

/** How many pre-bills are in review and approved, and what they come to. */
export async function preBillSums(ctx: Ctx) {
  const sums = await rows<{ state: 'review' | 'approved'; count: number; total: number }>(
    ctx.db.manager,
    `SELECT p.state, COUNT(*) AS count, COALESCE(SUM(p.total), 0) AS total FROM pre_bill p JOIN matter m ON m.id = p.matter_id WHERE ${waitingPre(ctx)} GROUP BY p.state`,
  )
  const of = (state: string) => {
    const found = sums.find((s) => s.state === state)
    return { count: found?.count ?? 0, total: found?.total ?? 0 }
  }
  return { review: of('review'), approved: of('approved') }
}
/** Where a pre-bill stands among those that wait, and which comes next. */
async function placeOf(ctx: Ctx, id: number, state: string) {
  const before = `(p.state < ? OR (p.state = ? AND p.id < ?))`
  const found = await row<{ at: number; of: number; next: number | null }>(
    ctx.db.manager,
    `SELECT COALESCE(SUM(${before}), 0) + 1 AS at, COUNT(*) AS \`of\` FROM pre_bill p JOIN matter m ON m.id = p.matter_id WHERE ${waitingPre(ctx)}`,
    [state, state, id],
  )
  const next = await row<{ id: number }>(
    ctx.db.manager,
    `SELECT p.id FROM pre_bill p JOIN matter m ON m.id = p.matter_id WHERE ${waitingPre(ctx)} AND p.id <> ? ORDER BY ${before}, p.state, p.id LIMIT 1`,
    [id, state, state, id],
  )
  return { at: found!.at, of: found!.of, next: next?.id ?? null }
}

const owedOf = owedOn('m.id')

/** A pre-bill as it is reviewed: lines, sums, payers, what is owed and held, and the last bill to compare with. */
export async function preBill(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const head = await headOf(m, ctx, id)
  const lines = await linesOf(m, id)
  const payers = await payersOf(m, id)
  const t = totalsOf(head, lines, payers)
  const stands = await row<{ owed: number }>(m, `SELECT ${owedOf} AS owed FROM matter m WHERE m.id = ?`, [head.matterId])
  const held = await ledgers(ctx, { q: '', matterId: head.matterId, withMoney: 'yes', page: 1, size: 50 })
  return {
    id: head.id,
    matterId: head.matterId,
    matter: head.matter,
    payer: head.payer,
    workTo: head.workTo,
    state: head.state,
    discountAmount: head.discountAmount,
    discountBasisPoints: head.discountBasisPoints,
    lines: lines.map((l, i) => ({ ...l, net: t.lineNets[i]! })),
    totals: {
      worked: t.worked,
      workedMinutes: sum(lines.filter((l) => !l.heldBack).map((l) => l.minutes ?? 0)),
      writtenDown: t.writtenDown,
      noCharge: t.noCharge,
      fees: t.fees,
      costs: t.hardCosts + t.softCosts,
      discount: t.discount,
      tax: t.tax,
      taxes: t.taxes,
      total: t.total,
    },
    parts: payers.map((p, i) => ({ name: p.name, share: p.share, total: t.parts[i]!.total })),
    owedBefore: stands!.owed,
    budget: await budgetStands(m, head.matterId),
    comments: await commentsOf(m, id),
    liesWith: await heldBy(m, id),
    last: await row<{ id: number; number: string; issuedOn: Day; total: number; fees: number; costs: number }>(
      m,
      `SELECT id, number, issued_on AS issuedOn, total, fees - discount AS fees, hard_costs + soft_costs AS costs FROM bill WHERE matter_id = ? AND fees + hard_costs + soft_costs > 0 ORDER BY issued_on DESC, id DESC LIMIT 1`,
      [head.matterId],
    ),
    held: held.totalBook,
    place: await placeOf(ctx, id, head.state),
  }
}

interface LineRow {
  id: number
  kind: 'time' | 'flat' | 'soft cost' | 'hard cost' | 'interest' | 'tax'
  day: Day | null
  timekeeper: string
  initials: string
  text: string
  minutes: number | null
  rate: number | null
  worked: number
  charged: number
  noCharge: number
  told: number
  net: number
  taxRate: number | null
}

/** What stands on a bill itself, with what it keeps of the day of its issue. */
export async function billFace(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const head = await row<
    BillRow & {
      payerId: number
      workTo: Day
      worked: number
      fees: number
      costs: number
      discount: number
      tax: number
      pdfHash: string | null
      pdfFile: number | null
      snapshot: string
      preBillId: number | null
      disputed: string | null
    }
  >(
    m,
    `SELECT ${billColumns}, b.payer_id AS payerId, b.work_to AS workTo, b.worked, b.fees, b.hard_costs + b.soft_costs AS costs, b.discount, b.tax, p.sha256 AS pdfHash, p.file_id AS pdfFile, b.snapshot, b.pre_bill_id AS preBillId,
            (SELECT d.reason FROM bill_dispute d WHERE d.open_bill = b.id) AS disputed
       ${billFrom} LEFT JOIN bill_pdf p ON p.bill_id = b.id WHERE b.id = ? AND ${matterScope(ctx.actor, 'm', 'money')}`,
    [id],
  )
  if (!head) throw notFound('bill')
  const lines = await rows<LineRow>(
    m,
    `SELECT l.id, l.kind, l.day, l.timekeeper_name AS timekeeper, '' AS initials, l.text, l.minutes, l.rate, l.worked, l.charged, l.no_charge AS noCharge, l.told, l.net, l.tax_basis_points AS taxRate FROM bill_line l WHERE l.bill_id = ? ORDER BY l.ordinal`,
    [id],
  )
  const feeLines = lines.filter((l) => l.kind === 'time' || l.kind === 'flat')
  const noCharge = sum(feeLines.filter((l) => l.noCharge).map((l) => l.worked))
  const { worked, fees, costs, discount, tax, ...rest } = head
  return {
    ...rest,
    void: Boolean(rest.void),
    lines: lines.map(({ taxRate: _, ...l }) => ({
      ...l,
      initials: l.timekeeper
        .split(/\s+/)
        .map((w) => w[0] ?? '')
        .join('')
        .slice(0, 3),
      noCharge: Boolean(l.noCharge),
      told: Boolean(l.told),
      heldBack: false,
    })),
    totals: {
      worked,
      workedMinutes: sum(lines.map((l) => l.minutes ?? 0)),
      writtenDown: worked - noCharge - fees,
      noCharge,
      fees,
      costs,
      discount,
      tax,
      taxes: lines.flatMap((l) => (l.kind === 'tax' ? [{ rate: l.taxRate, amount: l.net }] : [])),
      total: head.total,
    },
  }
}

/** A bill with what became of it, and the money held that could pay it. */
export async function bill(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const { snapshot, preBillId, pdfFile: _, ...face } = await billFace(ctx, id)
  const payments = await rows<{
    id: number
    day: Day
    kind: PaymentKind
    number: string | null
    reason: string
    amount: number
    here: number
    credit: number
    reversed: number
  }>(
    m,
    `SELECT p.id, p.day, p.kind, p.number, p.reason, p.amount, SUM(a.amount) AS here, ${creditLeft('p')} AS credit, EXISTS (SELECT 1 FROM payment_reversal r WHERE r.payment_id = p.id) AS reversed
       FROM allocation a JOIN payment p ON p.id = a.payment_id WHERE a.bill_id = ? GROUP BY p.id ORDER BY p.day, p.id`,
    [id],
  )
  const held = may(ctx.actor, 'trust.see')
    ? await ledgers(ctx, { q: '', matterId: face.matterId, withMoney: 'yes', page: 1, size: 50 })
    : { rows: [] }
  const others = await rows<{ id: number; number: string; payer: string; total: number }>(
    m,
    `SELECT b.id, b.number, c.name AS payer, b.total FROM bill b JOIN contact c ON c.id = b.payer_id WHERE b.pre_bill_id = ? AND b.id <> ? ORDER BY b.id`,
    [preBillId, id],
  )
  return {
    ...face,
    part: (JSON.parse(snapshot) as BillSnapshot).part ?? null,
    others,
    sent: await sentOf(m, id),
    payments: payments.map((p) => ({ ...p, reversed: Boolean(p.reversed) })),
    ledgers: held.rows
      .filter((l) => l.clientId === face.payerId)
      .map((l) => ({ id: l.id, name: `${l.client}${l.matter ? `, ${l.matter}` : ''}`, available: l.available, held: l.book })),
  }
}

/** Unbilled work up to a day by matter: time, costs and flat fee portions, with who is to be billed; and the sum of all. */
export interface UnbilledFilter {
  q?: string | undefined
  leadId?: number | undefined
  areaId?: number | undefined
  payerId?: number | undefined
  /** Cents. */
  least?: number | undefined
  /** Only matters that say who is billed. */
  payable?: 'yes' | undefined
}
function unbilledSql(ctx: Ctx, f: UnbilledFilter & { to: Day }) {
  const values: (string | number)[] = [f.to, f.to]
  const like = `%${literal(f.q ?? '')}%`
  if (f.q) values.push(like, like)
  const narrowed = `${f.q ? 'AND (m.name LIKE ? OR m.number LIKE ?)' : ''} ${f.leadId ? `AND m.lead_id = ${Number(f.leadId)}` : ''} ${f.areaId ? `AND m.area_id = ${Number(f.areaId)}` : ''}
    ${f.payerId ? `AND (m.bill_to_id = ${Number(f.payerId)} OR EXISTS (SELECT 1 FROM matter_payer mp WHERE mp.matter_id = m.id AND mp.contact_id = ${Number(f.payerId)}))` : ''} ${f.payable ? 'AND m.bill_to_id IS NOT NULL' : ''}`
  const sql = `SELECT x.*, x.time + x.costs + x.flat AS together FROM (
       SELECT m.id AS matterId, m.number, m.name AS matter, m.client_id, m.bill_to_id,
         COALESCE(t.amount, 0) AS time, COALESCE(k.amount, 0) AS costs, COALESCE(f.amount, 0) AS flat, LEAST(COALESCE(t.oldest, k.oldest), COALESCE(k.oldest, t.oldest)) AS oldest
       FROM matter m
       LEFT JOIN (SELECT matter_id, SUM(${worthOfTime('ut')}) AS amount, MIN(day) AS oldest FROM time_entry ut WHERE ${isUnbilledTime('ut')} AND day <= ? GROUP BY matter_id) t ON t.matter_id = m.id
       LEFT JOIN (SELECT matter_id, SUM(amount) AS amount, MIN(day) AS oldest FROM cost_entry uc WHERE ${isUnbilledCost('uc')} AND day <= ? GROUP BY matter_id) k ON k.matter_id = m.id
       LEFT JOIN (SELECT matter_id, SUM(amount) AS amount FROM fee_portion up WHERE ${isUnbilledPortion('up')} GROUP BY matter_id) f ON f.matter_id = m.id
       WHERE m.kind = 'client' AND ${matterScope(ctx.actor, 'm', 'money')} ${narrowed}
     ) x WHERE (x.time + x.costs + x.flat > 0 OR x.oldest IS NOT NULL) AND x.time + x.costs + x.flat >= ${Number(f.least ?? 0)}
       AND NOT EXISTS (SELECT 1 FROM pre_bill b WHERE b.matter_id = x.matterId AND b.state <> 'issued')`
  return { sql, values }
}

/** Matters with unbilled work up to a day, by their ids. */
export async function unbilledIds(ctx: Ctx, f: UnbilledFilter & { to: Day }, most: number): Promise<number[]> {
  const { sql, values } = unbilledSql(ctx, f)
  return (await rows<{ id: number }>(ctx.db.manager, `SELECT u.matterId AS id FROM (${sql}) u ORDER BY u.matterId LIMIT ${Number(most)}`, values)).map((x) => x.id) // prettier-ignore
}

/** Unbilled work by matter up to a day, a page of it, with the sum of all. */
export async function unbilled(ctx: Ctx, f: Paging & UnbilledFilter & { to: Day }) {
  const { sql, values } = unbilledSql(ctx, f)
  const all = await row<{ n: number; together: number; payable: number }>(
    ctx.db.manager,
    `SELECT COUNT(*) AS n, COALESCE(SUM(u.together), 0) AS together, COALESCE(SUM(u.bill_to_id IS NOT NULL), 0) AS payable FROM (${sql}) u`,
    values,
  )
  const list = await rows<{
    matterId: number
    number: string
    matter: string
    client: string
    billTo: string | null
    time: number
    costs: number
    flat: number
    together: number
    oldest: string | null
  }>(
    ctx.db.manager,
    `SELECT u.*, c.name AS client, p.name AS billTo FROM (${sql}) u JOIN contact c ON c.id = u.client_id LEFT JOIN contact p ON p.id = u.bill_to_id
      ORDER BY u.together DESC, u.matterId ${limit(f)}`,
    values,
  )
  return { rows: list, total: all!.n, together: all!.together, payable: all!.payable }
}

/** What a letter about a bill says, and where it goes. */
export async function letterFacts(m: EntityManager, ctx: Ctx, billId: number) {
  const found = await row<{
    payer: string
    email: string
    language: string
    firm: string
    number: string
    matterId: number
    matter: string
    total: number
    open: number
    dueOn: Day
  }>(
    m,
    `SELECT c.name AS payer, c.email, COALESCE(bt.language, c.language) AS language, f.name AS firm, b.number, b.matter_id AS matterId, m.name AS matter, b.total, ${openOf('b')} AS open, b.due_on AS dueOn
       FROM bill b JOIN matter m ON m.id = b.matter_id JOIN contact c ON c.id = b.payer_id JOIN firm f LEFT JOIN bill_terms bt ON bt.owner = 'matter' AND bt.owner_id = m.id WHERE b.id = ? AND ${matterScope(ctx.actor, 'm', 'money')}`,
    [billId],
  )
  if (!found) throw notFound('bill')
  return found
}

/** What of a bill was sent to whom, and when. */
export async function sentOf(m: EntityManager, billId: number) {
  const list = await rows<{ kind: string; at: string; name: string; address: string; by: string }>(
    m,
    `SELECT s.kind, s.at, s.name, s.address, u.name AS \`by\` FROM bill_sent s JOIN user_account u ON u.id = s.user_id WHERE s.bill_id = ? ORDER BY s.id`,
    [billId],
  )
  return list.map((s) => ({ ...s, at: isoOf(s.at) }))
}

/** Bills by their number, as it is typed: by its beginning, or by any part that has a digit. */
export const billsByNumber = (ctx: Ctx, term: string) =>
  rows<import('../platform/area').Found>(
    ctx.db.manager,
    `SELECT 'bill' AS kind, b.id, CONCAT('Bill ', b.number) AS title, m.short_name AS hint FROM bill b JOIN matter m ON m.id = b.matter_id WHERE ${matterScope(ctx.actor, 'm', 'money')} AND b.number LIKE ? ORDER BY b.id DESC LIMIT 4`,
    [`${/\d/.test(term) ? '%' : ''}${literal(term)}%`],
  )

/** What a matter has that was not billed or not paid. */
export const leftToBill = (m: EntityManager, id: number) =>
  row<{ preBills: number; fees: number; owed: number }>(
    m,
    `SELECT (SELECT COUNT(*) FROM pre_bill WHERE matter_id = x.id AND state <> 'issued') AS preBills, ${unbilledOn.portions('x')} AS fees, ${owedOn('x.id')} AS owed FROM matter x WHERE x.id = ?`,
    [id],
  )
