import type { Day } from '@heron/core/calendar'
import { sum } from '@heron/core/money'
import { ledgers, limit, type Paging } from '../ledger'
import { matterScope } from '../platform/access'
import { may, type Ctx } from '../platform/context'
import { row, rows, literal } from '../platform/database'
import { creditLeft, isUnbilledCost, isUnbilledPortion, isUnbilledTime, openOf, owedOn, worthOfTime } from '../platform/figures'
import { notFound } from '../platform/problem'
import type { PaymentKind } from './entities'
import type { BillSnapshot } from './issue'
import { headOf, linesOf, payersOf, totalsOf } from './pre-bills'

const billColumns = `b.id, b.number, b.matter_id AS matterId, m.short_name AS matter, c.name AS payer, b.issued_on AS issuedOn, b.due_on AS dueOn, b.total, ${openOf('b')} AS open,
  EXISTS (SELECT 1 FROM allocation va JOIN payment vp ON vp.id = va.payment_id AND vp.kind = 'void' WHERE va.bill_id = b.id) AS void`
const billFrom = `FROM bill b JOIN matter m ON m.id = b.matter_id JOIN contact c ON c.id = b.payer_id`
interface BillRow {
  id: number
  number: string
  matterId: number
  matter: string
  payer: string
  issuedOn: string
  dueOn: string
  total: number
  open: number
  void: number
}

export async function bills(
  ctx: Ctx,
  f: { q: string; state: 'open' | 'paid' | 'all'; matterId?: number | undefined; page: number; size: number },
) {
  const like = `%${literal(f.q)}%`
  const where = `WHERE ${matterScope(ctx.actor, 'm', 'money')} AND (? = '' OR b.number LIKE ? OR m.name LIKE ? OR c.name LIKE ?) ${f.matterId ? `AND b.matter_id = ${Number(f.matterId)}` : ''}`
  const kept = f.state === 'all' ? '' : f.state === 'open' ? 'WHERE x.open <> 0' : 'WHERE x.open = 0'
  const inner = `SELECT ${billColumns} ${billFrom} ${where}`
  const values = [f.q, like, like, like]
  const total = await row<{ n: number; open: number }>(
    ctx.db.manager,
    `SELECT COUNT(*) AS n, COALESCE(SUM(x.open), 0) AS open FROM (${inner}) x ${kept}`,
    values,
  )
  const list = await rows<BillRow>(
    ctx.db.manager,
    `SELECT * FROM (${inner}) x ${kept} ORDER BY x.issuedOn DESC, x.id DESC ${limit(f)}`,
    values,
  )
  return { rows: list.map((b) => ({ ...b, void: Boolean(b.void) })), total: total!.n, totalOpen: total!.open }
}

export async function preBills(ctx: Ctx) {
  const heads = await rows<{
    id: number
    matterId: number
    matter: string
    payer: string
    payerId: number
    workTo: Day
    state: 'review' | 'approved'
    discountAmount: number
    discountBasisPoints: number
    taxBasisPoints: number
  }>(
    ctx.db.manager,
    `SELECT p.id, p.matter_id AS matterId, m.name AS matter, c.name AS payer, p.payer_id AS payerId, p.work_to AS workTo, p.state, p.discount_amount AS discountAmount,
            p.discount_basis_points AS discountBasisPoints, p.tax_basis_points AS taxBasisPoints
       FROM pre_bill p JOIN matter m ON m.id = p.matter_id JOIN contact c ON c.id = p.payer_id WHERE p.state <> 'issued' AND ${matterScope(ctx.actor, 'm', 'money')} ORDER BY p.state, p.id`,
  )
  if (!heads.length) return []
  const lines = await rows<{
    preBillId: number
    kind: 'time' | 'flat' | 'soft cost' | 'hard cost'
    worked: number
    charged: number
    noCharge: number
    heldBack: number
  }>(
    ctx.db.manager,
    `SELECT pre_bill_id AS preBillId, kind, worked, charged, no_charge AS noCharge, held_back AS heldBack FROM pre_bill_line WHERE pre_bill_id IN (?)`,
    [heads.map((h) => h.id)],
  )
  const linesOfEach = new Map<number, typeof lines>()
  for (const l of lines) {
    const own = linesOfEach.get(l.preBillId)
    if (own) own.push(l)
    else linesOfEach.set(l.preBillId, [l])
  }
  return heads.map((head) => {
    const own = (linesOfEach.get(head.id) ?? []).map((l) => ({
      ...l,
      noCharge: Boolean(l.noCharge),
      heldBack: Boolean(l.heldBack),
      id: 0,
      sourceId: 0,
      day: null,
      timekeeperId: null,
      timekeeper: '',
      initials: '',
      text: '',
      minutes: null,
      rate: null,
    }))
    return {
      id: head.id,
      matterId: head.matterId,
      matter: head.matter,
      payer: head.payer,
      workTo: head.workTo,
      state: head.state,
      lines: own.length,
      total: totalsOf(head, own).total,
    }
  })
}

const owedOf = owedOn('m.id')

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
      total: t.total,
    },
    parts: payers.map((p, i) => ({ name: p.name, share: p.share, total: t.parts[i]!.total })),
    owedBefore: stands!.owed,
    held: held.totalBook,
  }
}

interface LineRow {
  id: number
  kind: 'time' | 'flat' | 'soft cost' | 'hard cost' | 'interest' | 'tax'
  day: string | null
  timekeeper: string
  initials: string
  text: string
  minutes: number | null
  rate: number | null
  worked: number
  charged: number
  noCharge: number
  net: number
}

export async function bill(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const head = await row<
    BillRow & {
      payerId: number
      workTo: string
      worked: number
      fees: number
      costs: number
      discount: number
      tax: number
      pdfHash: string | null
      snapshot: string
      preBillId: number | null
    }
  >(
    m,
    `SELECT ${billColumns}, b.payer_id AS payerId, b.work_to AS workTo, b.worked, b.fees, b.hard_costs + b.soft_costs AS costs, b.discount, b.tax, p.sha256 AS pdfHash, b.snapshot, b.pre_bill_id AS preBillId
       ${billFrom} LEFT JOIN bill_pdf p ON p.bill_id = b.id WHERE b.id = ? AND ${matterScope(ctx.actor, 'm', 'money')}`,
    [id],
  )
  if (!head) throw notFound('bill')
  const lines = await rows<LineRow>(
    m,
    `SELECT l.id, l.kind, l.day, l.timekeeper_name AS timekeeper, '' AS initials, l.text, l.minutes, l.rate, l.worked, l.charged, l.no_charge AS noCharge, l.net FROM bill_line l WHERE l.bill_id = ? ORDER BY l.ordinal`,
    [id],
  )
  const payments = await rows<{
    id: number
    day: string
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
  const feeLines = lines.filter((l) => l.kind === 'time' || l.kind === 'flat')
  const noCharge = sum(feeLines.filter((l) => l.noCharge).map((l) => l.worked))
  const held = may(ctx.actor, 'trust.see')
    ? await ledgers(ctx, { q: '', matterId: head.matterId, withMoney: 'yes', page: 1, size: 50 })
    : { rows: [] }
  const { worked, fees, costs, discount, tax, snapshot, preBillId, ...rest } = head
  const others = await rows<{ id: number; number: string; payer: string; total: number }>(
    m,
    `SELECT b.id, b.number, c.name AS payer, b.total FROM bill b JOIN contact c ON c.id = b.payer_id WHERE b.pre_bill_id = ? AND b.id <> ? ORDER BY b.id`,
    [preBillId, id],
  )
  return {
    ...rest,
    void: Boolean(rest.void),
    lines: lines.map((l) => ({
      ...l,
      initials: l.timekeeper
        .split(/\s+/)
        .map((w) => w[0] ?? '')
        .join('')
        .slice(0, 3),
      noCharge: Boolean(l.noCharge),
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
      total: head.total,
    },
    part: (JSON.parse(snapshot) as BillSnapshot).part ?? null,
    others,
    payments: payments.map((p) => ({ ...p, reversed: Boolean(p.reversed) })),
    ledgers: held.rows
      .filter((l) => l.clientId === head.payerId)
      .map((l) => ({ id: l.id, name: `${l.client}${l.matter ? `, ${l.matter}` : ''}`, available: l.available, held: l.book })),
  }
}

/** Unbilled work up to a day by matter: time, costs and flat fee portions, with who is to be billed; and the sum of all. */
export async function unbilled(ctx: Ctx, f: Paging & { to: Day }) {
  const inner = `SELECT x.*, x.time + x.costs + x.flat AS together FROM (
       SELECT m.id AS matterId, m.number, m.name AS matter, m.client_id, m.bill_to_id,
         IF(m.billing = 'flat', 0, COALESCE(t.amount, 0)) AS time, COALESCE(k.amount, 0) AS costs, COALESCE(f.amount, 0) AS flat, LEAST(COALESCE(t.oldest, k.oldest), COALESCE(k.oldest, t.oldest)) AS oldest
       FROM matter m
       LEFT JOIN (SELECT matter_id, SUM(${worthOfTime('ut')}) AS amount, MIN(day) AS oldest FROM time_entry ut WHERE ${isUnbilledTime('ut')} AND day <= ? GROUP BY matter_id) t ON t.matter_id = m.id
       LEFT JOIN (SELECT matter_id, SUM(amount) AS amount, MIN(day) AS oldest FROM cost_entry uc WHERE ${isUnbilledCost('uc')} AND day <= ? GROUP BY matter_id) k ON k.matter_id = m.id
       LEFT JOIN (SELECT matter_id, SUM(amount) AS amount FROM fee_portion up WHERE ${isUnbilledPortion('up')} GROUP BY matter_id) f ON f.matter_id = m.id
       WHERE m.kind = 'client' AND ${matterScope(ctx.actor, 'm', 'money')}
     ) x WHERE (x.time + x.costs + x.flat > 0 OR x.oldest IS NOT NULL) AND NOT EXISTS (SELECT 1 FROM pre_bill b WHERE b.matter_id = x.matterId AND b.state <> 'issued')`
  const all = await row<{ n: number; together: number }>(
    ctx.db.manager,
    `SELECT COUNT(*) AS n, COALESCE(SUM(u.together), 0) AS together FROM (${inner}) u`,
    [f.to, f.to],
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
    `SELECT u.*, c.name AS client, p.name AS billTo FROM (${inner}) u JOIN contact c ON c.id = u.client_id LEFT JOIN contact p ON p.id = u.bill_to_id
      ORDER BY u.together DESC, u.matterId ${limit(f)}`,
    [f.to, f.to],
  )
  return { rows: list, total: all!.n, together: all!.together }
}
