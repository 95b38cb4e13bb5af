import { shippedRuleSets } from '@heron/core/docket'
import { sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { ledgers } from '../ledger'
import { checkOfMatter } from '../people'
import { matterScope } from '../platform/access'
import { isoOf, may, type Ctx } from '../platform/context'
import { row, rows } from '../platform/database'
import { notFound } from '../platform/problem'
import { nextMatterNumber } from './open'

const orders = {
  active: 'm.active_on DESC, m.id DESC',
  number: 'm.number DESC',
  name: 'm.name, m.id',
  client: 'c.name, m.id',
  opened: 'm.opened_on DESC, m.id DESC',
}
interface ListFilter {
  q: string
  state: 'open' | 'closed' | 'all'
  areaId?: number | undefined
  leadId?: number | undefined
  sort: keyof typeof orders
  page: number
  size: number
}

export async function matters(ctx: Ctx, f: ListFilter) {
  const where = [matterScope(ctx.actor)]
  if (f.state !== 'all') where.push(`m.closed_on IS ${f.state === 'open' ? '' : 'NOT '}NULL`)
  if (f.areaId) where.push(`m.area_id = ${Number(f.areaId)}`)
  if (f.leadId) where.push(`m.lead_id = ${Number(f.leadId)}`)
  if (f.q)
    where.push(`(m.name LIKE ? OR m.number LIKE ? OR m.client_id IN (SELECT id FROM contact WHERE name LIKE ?) OR m.case_number LIKE ?)`)
  const values = f.q ? [`%${f.q}%`, `${f.q}%`, `%${f.q}%`, `%${f.q}%`] : []
  const total = await row<{ n: number }>(ctx.db.manager, `SELECT COUNT(*) AS n FROM matter m WHERE ${where.join(' AND ')}`, values)
  const client = f.sort === 'client' ? 'JOIN contact c ON c.id = m.client_id' : ''
  // The page is cut first, on narrow rows; names and next dates are looked up only for what is shown. The order of joining
  // is fixed, because the optimizer would otherwise begin with all matters.
  const list = await rows<{
    id: number
    number: string
    name: string
    client: string
    area: string
    stage: string
    lead: string
    openedOn: string
    closedOn: string | null
    nextDay: string | null
    nextTitle: string | null
  }>(
    ctx.db.manager,
    `SELECT STRAIGHT_JOIN m.id, m.number, m.name, c.name AS client, COALESCE(a.name, '') AS area, COALESCE(s.name, '') AS stage, u.name AS lead, m.opened_on AS openedOn, m.closed_on AS closedOn, d.day AS nextDay, d.title AS nextTitle
       FROM (SELECT m.id FROM matter m ${client} WHERE ${where.join(' AND ')} ORDER BY ${orders[f.sort]} LIMIT ${Number(f.size)} OFFSET ${(Number(f.page) - 1) * Number(f.size)}) shown JOIN matter m ON m.id = shown.id
       JOIN contact c ON c.id = m.client_id JOIN user_account u ON u.id = m.lead_id LEFT JOIN practice_area a ON a.id = m.area_id LEFT JOIN stage s ON s.id = m.stage_id
       LEFT JOIN docket_entry d ON d.id = (SELECT x.id FROM docket_entry x WHERE x.matter_id = m.id AND x.day >= ? AND x.mark IN ('open', 'in hand') AND NOT x.left_out ORDER BY x.day, x.id LIMIT 1)
      ORDER BY ${orders[f.sort]}`,
    [...values, ctx.clock.today()],
  )
  return { rows: list, total: total!.n }
}

export async function setting(ctx: Ctx) {
  const m = ctx.db.manager
  const areas = await rows<{ id: number; name: string; ruleSetKey: string | null }>(
    m,
    `SELECT id, name, rule_set_key AS ruleSetKey FROM practice_area ORDER BY name`,
  )
  const stages = await rows<{ id: number; areaId: number; name: string }>(
    m,
    `SELECT id, area_id AS areaId, name FROM stage ORDER BY area_id, ordinal`,
  )
  const staff = await rows<{ id: number; name: string; initials: string; role: string; title: string; rate: number | null }>(
    m,
    `SELECT u.id, u.name, u.initials, u.role, u.title, (SELECT rate FROM user_rate r WHERE r.user_id = u.id AND r.from_day <= ? AND (r.to_day IS NULL OR r.to_day >= ?) ORDER BY r.usual DESC, r.from_day DESC LIMIT 1) AS rate
       FROM user_account u WHERE u.active ORDER BY u.id`,
    [ctx.clock.today(), ctx.clock.today()],
  )
  return {
    nextNumber: await nextMatterNumber(ctx),
    areas: areas.map((a) => ({ ...a, stages: stages.filter((s) => s.areaId === a.id).map(({ id, name }) => ({ id, name })) })),
    ruleSets: shippedRuleSets.map((s) => ({ key: s.key, title: s.title, court: s.court })),
    staff: may(ctx.actor, 'matters.open') || may(ctx.actor, 'bills.see') ? staff : staff.map((s) => ({ ...s, rate: null })),
  }
}

async function figuresOf(m: EntityManager, ctx: Ctx, id: number, flat: boolean) {
  if (!may(ctx.actor, 'bills.see')) return null
  const money = await row<{ time: number; costs: number; portions: number; owed: number; oldestDue: string | null }>(
    m,
    `SELECT COALESCE((SELECT SUM(amount) FROM time_entry WHERE matter_id = ? AND bill_id IS NULL AND state IN ('posted') AND charge = 'billable'), 0) AS time,
            COALESCE((SELECT SUM(amount) FROM cost_entry WHERE matter_id = ? AND bill_id IS NULL), 0) AS costs,
            COALESCE((SELECT SUM(amount) FROM fee_portion WHERE matter_id = ? AND bill_id IS NULL), 0) AS portions,
            COALESCE((SELECT SUM(total) FROM bill WHERE matter_id = ?), 0) - COALESCE((SELECT SUM(a.amount) FROM allocation a JOIN bill b ON b.id = a.bill_id WHERE b.matter_id = ?), 0) AS owed,
            (SELECT MIN(b.due_on) FROM bill b WHERE b.matter_id = ? AND b.total > COALESCE((SELECT SUM(a.amount) FROM allocation a WHERE a.bill_id = b.id), 0)) AS oldestDue`,
    [id, id, id, id, id, id],
  )
  const held = may(ctx.actor, 'trust.see') ? (await ledgers(ctx, { q: '', matterId: id, withMoney: 'yes', page: 1, size: 200 })).rows : []
  return {
    unbilled: (flat ? 0 : money!.time) + money!.costs + money!.portions,
    owed: money!.owed,
    oldestDue: money!.oldestDue,
    held: sum(held.map((l) => l.book)),
    cleared: sum(held.map((l) => l.book - l.uncleared)),
  }
}

export async function matter(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const today = ctx.clock.today()
  type Head = {
    id: number
    number: string
    name: string
    shortName: string
    clientId: number
    client: string
    areaId: number | null
    area: string
    stageId: number | null
    openedOn: string
    closedOn: string | null
    description: string
    court: string
    caseNumber: string
    ourSide: string
    ruleSetKey: string | null
    areaRules: string | null
    leadId: number
    lead: string
    billing: 'hourly' | 'flat'
    billToId: number | null
    billTo: string | null
    docketN: number
    tasksN: number
    tasksToday: number
    papersN: number
    billsN: number
  }
  const head = await row<Head>(
    m,
    `SELECT m.id, m.number, m.name, m.short_name AS shortName, m.client_id AS clientId, c.name AS client, m.area_id AS areaId, COALESCE(a.name, '') AS area, m.stage_id AS stageId,
            m.opened_on AS openedOn, m.closed_on AS closedOn, m.description, m.court, m.case_number AS caseNumber, m.our_side AS ourSide, m.rule_set_key AS ruleSetKey, a.rule_set_key AS areaRules,
            m.lead_id AS leadId, u.name AS lead, m.billing, m.bill_to_id AS billToId, p.name AS billTo,
            (SELECT COUNT(*) FROM docket_entry d WHERE d.matter_id = m.id AND NOT d.left_out) AS docketN,
            (SELECT COUNT(*) FROM task t WHERE t.matter_id = m.id AND t.done_at IS NULL) AS tasksN,
            (SELECT COUNT(*) FROM task t WHERE t.matter_id = m.id AND t.done_at IS NULL AND t.due_on <= ?) AS tasksToday,
            (SELECT COUNT(*) FROM paper x WHERE x.matter_id = m.id AND x.deleted_at IS NULL) AS papersN,
            (SELECT COUNT(*) FROM bill b WHERE b.matter_id = m.id) AS billsN
       FROM matter m JOIN contact c ON c.id = m.client_id JOIN user_account u ON u.id = m.lead_id LEFT JOIN practice_area a ON a.id = m.area_id LEFT JOIN contact p ON p.id = m.bill_to_id
      WHERE m.id = ? AND ${matterScope(ctx.actor)}`,
    [today, id],
  )
  if (!head) throw notFound('matter')
  const team = await rows<{ userId: number; name: string; role: string; keeps: number; rate: number | null }>(
    m,
    `SELECT t.user_id AS userId, u.name, t.role, t.keeps, t.rate FROM matter_team t JOIN user_account u ON u.id = t.user_id WHERE t.matter_id = ? ORDER BY t.keeps DESC, t.role = 'lead' DESC, u.name`,
    [id],
  )
  const parties = await rows<{
    id: number
    contactId: number
    name: string
    role: string
    side: 'ours' | 'adverse' | 'other'
    counsel: string
  }>(
    m,
    `SELECT p.id, p.contact_id AS contactId, c.name, p.role, p.side, p.counsel FROM matter_party p JOIN contact c ON c.id = p.contact_id WHERE p.matter_id = ? ORDER BY p.id`,
    [id],
  )
  const stages = head.areaId
    ? await rows<{ id: number; name: string }>(m, `SELECT id, name FROM stage WHERE area_id = ? ORDER BY ordinal`, [head.areaId])
    : []
  const next = await row<{ title: string; day: string }>(
    m,
    `SELECT title, day FROM docket_entry WHERE matter_id = ? AND day >= ? AND mark IN ('open', 'in hand') AND NOT left_out ORDER BY day, id LIMIT 1`,
    [id, today],
  )
  const money = may(ctx.actor, 'bills.see')
  const portions = money
    ? await rows<{ id: number; label: string; amount: number; earnedOn: string | null; billed: number }>(
        m,
        `SELECT id, label, amount, earned_on AS earnedOn, bill_id IS NOT NULL AS billed FROM fee_portion WHERE matter_id = ? ORDER BY ordinal`,
        [id],
      )
    : []
  const conflicts = may(ctx.actor, 'matters.open') ? await checkOfMatter(m, id) : null
  const undecided = await row<{ n: number }>(
    m,
    `SELECT COUNT(*) AS n FROM conflict_hit h JOIN conflict_check k ON k.id = h.check_id WHERE k.matter_id = ? AND h.decision IS NULL`,
    [id],
  )
  const missing = [
    undecided!.n ? `${undecided!.n} conflict ${undecided!.n === 1 ? 'hit' : 'hits'} to decide` : '',
    head.billToId ? '' : 'whom to bill',
    head.areaId ? '' : 'practice area',
    head.ruleSetKey || !head.areaRules ? '' : 'court rules',
    parties.length ? '' : 'parties',
  ].filter(Boolean)
  const { docketN, tasksN, tasksToday, papersN, billsN, areaId: _area, areaRules: _rules, ...own } = head
  return {
    ...own,
    stages,
    team: team.map((t) => ({ ...t, keeps: Boolean(t.keeps), rate: money ? t.rate : null })),
    parties,
    portions: portions.map((p) => ({ ...p, billed: Boolean(p.billed) })),
    next,
    tasks: { open: tasksN, today: tasksToday },
    figures: await figuresOf(m, ctx, id, head.billing === 'flat'),
    counts: { docket: docketN, tasks: tasksN, papers: papersN, bills: billsN, parties: parties.length },
    missing,
    conflicts,
  }
}

const moneyKinds = ['billed', 'paid', 'received', 'pre-bill', 'approved']

export async function log(ctx: Ctx, id: number, f: { page: number; size: number }) {
  const m = ctx.db.manager
  if (!(await row(m, `SELECT 1 FROM matter m WHERE m.id = ? AND ${matterScope(ctx.actor)}`, [id]))) throw notFound('matter')
  // Amounts are for those who see bills.
  const hidden = may(ctx.actor, 'bills.see')
    ? ''
    : `AND l.kind NOT IN (${moneyKinds.map((k) => `'${k}'`).join(', ')}) AND l.subject NOT IN ('bill', 'pre-bill', 'time', 'cost', 'payment out')`
  const total = await row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM audit_log l WHERE l.matter_id = ? ${hidden}`, [id])
  const list = await rows<{ id: number; at: string; who: string; kind: string; text: string }>(
    m,
    `SELECT l.id, l.at, COALESCE(u.name, 'The application') AS who, l.kind, l.text FROM audit_log l LEFT JOIN user_account u ON u.id = l.user_id WHERE l.matter_id = ? ${hidden}
      ORDER BY l.id DESC LIMIT ${Number(f.size)} OFFSET ${(Number(f.page) - 1) * Number(f.size)}`,
    [id],
  )
  return { rows: list.map((l) => ({ ...l, at: isoOf(l.at) })), total: total!.n }
}
