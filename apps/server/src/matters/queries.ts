import { addDays, type Day } from '@heron/core/calendar'
import type { Arrangement } from '@heron/core/billing'
import { parts, type Grants, type Part } from '@heron/contract'
import { daysInStages } from '@heron/core/matters'
import { sum } from '@heron/core/money'
import type { EntityManager } from 'typeorm'
import { fieldNamesOf, fieldValuesOf, missingFieldsOf } from '../fields'
import { ledgers } from '../ledger'
import { checkOfMatter } from '../people'
import { change, matterScope } from '../platform/access'
import { instant, isoOf, may, type Ctx } from '../platform/context'
import { actsOpenTo } from '../platform/acts'
import { row, rows } from '../platform/database'
import { notFound } from '../platform/problem'
import { ruleSets } from '../platform/rule-sets'
import { conflictStatesOf } from './list-queries'
import { nextMatterNumber } from './open'
import { payersOf, teamOf } from './team-queries'
import { isOpenBill, owedOn, unbilledOn } from '../platform/figures'

/** What forms about matters offer: areas, stages, rule sets, staff, courts. */
export async function setting(ctx: Ctx) {
  const m = ctx.db.manager
  const areas = await rows<{ id: number; name: string; ruleSetKey: string | null; open: number }>(
    m,
    `SELECT id, name, rule_set_key AS ruleSetKey, staff_file > 0 AS open FROM practice_area WHERE NOT retired ORDER BY name`,
  )
  const stages = await rows<{ id: number; areaId: number; name: string }>(
    m,
    `SELECT id, area_id AS areaId, name FROM stage WHERE NOT retired ORDER BY area_id, ordinal`,
  )
  const teams = await rows<{ areaId: number; userId: number; role: 'lawyer' }>(
    m,
    `SELECT t.area_id AS areaId, t.user_id AS userId, t.role FROM area_team t JOIN user_account u ON u.id = t.user_id WHERE u.active`,
  )
  const procedures = await rows<{ areaId: number; procedureId: number }>(
    m,
    `SELECT area_id AS areaId, procedure_id AS procedureId FROM area_procedure`,
  )
  const fees = await rows<{ id: number; name: string; areaId: number | null; portions: string }>(
    m,
    `SELECT id, name, area_id AS areaId, portions FROM listed_fee WHERE NOT retired ORDER BY name`,
  )
  const staff = await rows<{ id: number; name: string; initials: string; role: string; title: string; rate: number | null }>(
    m,
    `SELECT u.id, u.name, u.initials, u.role, u.title, (SELECT rate FROM user_rate r WHERE r.user_id = u.id AND r.from_day <= ? AND (r.to_day IS NULL OR r.to_day >= ?) ORDER BY r.usual DESC, r.from_day DESC LIMIT 1) AS rate
       FROM user_account u WHERE u.active ORDER BY u.id`,
    [ctx.clock.today(), ctx.clock.today()],
  )
  return {
    nextNumber: await nextMatterNumber(ctx),
    areas: areas.map((a) => ({
      ...a,
      open: Boolean(a.open),
      stages: stages.filter((s) => s.areaId === a.id).map(({ id, name }) => ({ id, name })),
      team: teams.filter((t) => t.areaId === a.id).map(({ userId, role }) => ({ userId, role })),
      procedureIds: procedures.filter((p) => p.areaId === a.id).map((p) => p.procedureId),
    })),
    ruleSets: [...(await ruleSets(m)).values()].map(({ set: s }) => ({
      key: s.key,
      title: s.title,
      court: s.court,
      unreachable: s.counting.unreachable?.cite ?? null,
    })),
    fees: fees.map((f) => ({ ...f, portions: JSON.parse(f.portions) as { label: string; amount: number }[] })),
    staff: may(ctx.actor, 'matters.open') || may(ctx.actor, 'bills.see') ? staff : staff.map((s) => ({ ...s, rate: null })),
  }
}

/** Matters the reader acted on last, newest first. */
export async function recent(ctx: Ctx) {
  const m = ctx.db.manager
  return rows<{ id: number; number: string; name: string }>(
    m,
    `SELECT m.id, m.number, m.short_name AS name FROM (SELECT matter_id, MAX(id) AS last FROM (SELECT matter_id, id FROM audit_log WHERE user_id = ? AND matter_id IS NOT NULL ORDER BY id DESC LIMIT 400) l GROUP BY matter_id) x
       JOIN matter m ON m.id = x.matter_id WHERE ${matterScope(ctx.actor)} ORDER BY x.last DESC LIMIT 9`,
    [ctx.actor.id],
  )
}

async function figuresOf(m: EntityManager, ctx: Ctx, id: number, own: Grants) {
  if (!may(ctx.actor, 'bills.see') || !own.money) return null
  const money = await row<{ time: number; costs: number; portions: number; owed: number; oldestDue: string | null }>(
    m,
    `SELECT ${unbilledOn.time('x')} AS time, ${unbilledOn.costs('x')} AS costs, ${unbilledOn.portions('x')} AS portions, ${owedOn('x.id')} AS owed,
            (SELECT MIN(f.due_on) FROM bill_figure f WHERE f.matter_id = x.id AND ${isOpenBill('f')}) AS oldestDue
       FROM matter x WHERE x.id = ?`,
    [id],
  )
  const unbilled = sum([money!.time, money!.costs, money!.portions])
  const stake = unbilled + money!.owed
  const known = { unbilled, owed: money!.owed, stake, oldestDue: money!.oldestDue }
  if (!may(ctx.actor, 'trust.see') || !own.trust) return { ...known, held: null, cleared: null, short: null }
  const { rows: list } = await ledgers(ctx, { q: '', matterId: id, withMoney: 'yes', page: 1, size: 200 })
  const held = sum(list.map((l) => l.book))
  return { ...known, held, cleared: sum(list.map((l) => l.book - l.uncleared)), short: Math.max(0, stake - held) }
}

/** The file of a matter, each part only as far as it is open to the reader. */
export async function matter(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const today = ctx.clock.today()
  type Head = {
    id: number
    number: string
    secondNumber: string
    kind: 'client' | 'firm' | 'practice'
    name: string
    shortName: string
    clientId: number
    client: string
    areaId: number | null
    area: string
    stageId: number | null
    openedOn: Day
    closedOn: Day | null
    description: string
    court: string
    caseNumber: string
    ourSide: string
    ruleSetKey: string | null
    areaRules: string | null
    leadId: number
    lead: string
    judgeId: number | null
    judgeName: string | null
    originatingId: number | null
    originatingName: string | null
    tags: string
    version: number
    closingNote: string
    enquiryId: number | null
    notesN: number
    staffFile: number
    staffDocket: number
    staffPapers: number
    staffMoney: number
    staffTrust: number
    billing: Arrangement
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
    `SELECT m.id, m.number, m.second_number AS secondNumber, m.kind, m.name, m.short_name AS shortName, m.client_id AS clientId, c.name AS client, m.area_id AS areaId, COALESCE(a.name, '') AS area, m.stage_id AS stageId,
            m.opened_on AS openedOn, m.closed_on AS closedOn, m.description, m.court, m.case_number AS caseNumber, m.our_side AS ourSide, m.rule_set_key AS ruleSetKey, a.rule_set_key AS areaRules,
            m.lead_id AS leadId, u.name AS lead, m.judge_id AS judgeId, j.name AS judgeName, m.originating_id AS originatingId, o.name AS originatingName, m.version, m.closing_note AS closingNote, m.enquiry_id AS enquiryId,
            m.staff_file AS staffFile, m.staff_docket AS staffDocket, m.staff_papers AS staffPapers, m.staff_money AS staffMoney, m.staff_trust AS staffTrust,
            COALESCE((SELECT GROUP_CONCAT(g.tag ORDER BY g.tag SEPARATOR '|') FROM matter_tag g WHERE g.matter_id = m.id), '') AS tags, (SELECT COUNT(*) FROM note n WHERE n.matter_id = m.id AND n.deleted_at IS NULL) AS notesN, m.billing, m.bill_to_id AS billToId, p.name AS billTo,
            (SELECT COUNT(*) FROM docket_entry d WHERE d.matter_id = m.id AND d.mark IN ('open', 'in hand') AND NOT d.left_out) AS docketN,
            (SELECT COUNT(*) FROM task t WHERE t.matter_id = m.id AND t.done_at IS NULL) AS tasksN,
            (SELECT COUNT(*) FROM task t WHERE t.matter_id = m.id AND t.done_at IS NULL AND t.due_on <= ?) AS tasksToday,
            (SELECT COUNT(*) FROM paper x WHERE x.matter_id = m.id AND x.deleted_at IS NULL) AS papersN,
            (SELECT COUNT(*) FROM bill b WHERE b.matter_id = m.id) AS billsN
       FROM matter m JOIN contact c ON c.id = m.client_id JOIN user_account u ON u.id = m.lead_id LEFT JOIN practice_area a ON a.id = m.area_id LEFT JOIN contact p ON p.id = m.bill_to_id LEFT JOIN contact j ON j.id = m.judge_id LEFT JOIN user_account o ON o.id = m.originating_id
      WHERE m.id = ? AND ${matterScope(ctx.actor)}`,
    [today, id],
  )
  if (!head) throw notFound('matter')
  const own = await ownGrants(m, ctx, id)
  const team = await teamOf(m, id)
  const parties = await rows<{
    id: number
    contactId: number
    name: string
    role: string
    side: 'ours' | 'adverse' | 'other'
    counsel: string
    counselId: number | null
    servedOn: Day | null
  }>(
    m,
    `SELECT p.id, p.contact_id AS contactId, c.name, p.role, p.side, COALESCE(k.name, p.counsel) AS counsel, p.counsel_id AS counselId, p.served_on AS servedOn FROM matter_party p LEFT JOIN contact k ON k.id = p.counsel_id JOIN contact c ON c.id = p.contact_id WHERE p.matter_id = ? ORDER BY p.id`,
    [id],
  )
  // A party that an event of the docket names as served is so, until the event is taken away; a day entered by hand stands before it.
  const kinds = head.ruleSetKey ? (await ruleSets(m)).get(head.ruleSetKey)?.set.triggers : undefined
  const serving = (kinds ?? []).filter((k) => k.servesParty).map((k) => k.key)
  if (own.docket && serving.length && parties.some((p) => !p.servedOn)) {
    const served = await rows<{ partyId: number; day: Day }>(
      m,
      `SELECT party_id AS partyId, MIN(day) AS day FROM trigger_event WHERE matter_id = ? AND removed_at IS NULL AND party_id IS NOT NULL AND kind IN (?) GROUP BY party_id`,
      [id, serving],
    )
    for (const p of parties) p.servedOn ??= served.find((s) => s.partyId === p.id)?.day ?? null
  }
  const stages = head.areaId
    ? await rows<{ id: number; name: string }>(
        m,
        `SELECT id, name FROM stage WHERE area_id = ? AND (NOT retired OR id = ?) ORDER BY ordinal`,
        [head.areaId, head.stageId],
      )
    : []
  const moves = await rows<{ stageId: number; fromDay: Day }>(
    m,
    `SELECT stage_id AS stageId, from_day AS fromDay FROM matter_stage WHERE matter_id = ? ORDER BY id`,
    [id],
  )
  const days = daysInStages(moves, head.closedOn ?? today)
  const clients = await rows<{ id: number; name: string }>(
    m,
    `SELECT c.id, c.name FROM matter_client x JOIN contact c ON c.id = x.contact_id WHERE x.matter_id = ? ORDER BY c.name`,
    [id],
  )
  const screens = own.keeps
    ? await rows<{ userId: number; name: string; reason: string; since: string | null }>(
        m,
        `SELECT s.user_id AS userId, u.name, s.reason, s.since FROM matter_screen s JOIN user_account u ON u.id = s.user_id WHERE s.matter_id = ? ORDER BY u.name`,
        [id],
      )
    : []
  const fields = await fieldValuesOf(m, 'matter', id)
  const next = await row<{ title: string; day: Day }>(
    m,
    `SELECT d.title, d.day FROM docket_entry d JOIN matter m ON m.id = d.matter_id AND m.closed_on IS NULL WHERE d.matter_id = ? AND d.day >= ? AND d.mark IN ('open', 'in hand') AND NOT d.left_out ORDER BY d.day, d.id LIMIT 1`,
    [id, today],
  )
  const money = may(ctx.actor, 'bills.see') && own.money > 0
  const portions = money
    ? await rows<{ id: number; label: string; amount: number; earnedOn: Day | null; billed: number }>(
        m,
        `SELECT id, label, amount, earned_on AS earnedOn, bill_id IS NOT NULL AS billed FROM fee_portion WHERE matter_id = ? ORDER BY ordinal`,
        [id],
      )
    : []
  const conflicts = may(ctx.actor, 'matters.open') ? await checkOfMatter(m, id) : null
  const state = head.kind === 'client' ? ((await conflictStatesOf(m, [id])).get(id) ?? 'not checked') : 'cleared'
  const missing = [
    {
      cleared: '',
      'not checked': 'a conflict check',
      'to decide': 'decisions on conflict hits',
      'waiver needed': 'a waiver',
      declined: 'a decision: a conflict was declined',
    }[state],
    head.billToId || head.kind !== 'client' ? '' : 'whom to bill',
    head.areaId ? '' : 'practice area',
    head.ruleSetKey || !head.areaRules ? '' : 'court rules',
    parties.length || head.kind !== 'client' ? '' : 'parties',
    ...(await missingFieldsOf(m, 'matter', fields, head.areaId)),
  ].filter(Boolean)
  const {
    docketN,
    tasksN,
    tasksToday,
    papersN,
    billsN,
    notesN,
    areaRules: _rules,
    judgeId,
    judgeName,
    originatingId,
    originatingName,
    tags,
    ...rest
  } = head
  const payers = own.money || may(ctx.actor, 'matters.open') ? await payersOf(m, id) : []
  const { staffFile, staffDocket, staffPapers, staffMoney, staffTrust, ...described } = rest
  return {
    ...described,
    tags: tags ? tags.split('|') : [],
    judge: judgeId ? { id: judgeId, name: judgeName ?? '' } : null,
    originating: originatingId ? { id: originatingId, name: originatingName ?? '' } : null,
    clients,
    fields,
    fieldNames: await fieldNamesOf(m, ctx, 'matter', id),
    screens,
    own,
    staff: { file: staffFile, docket: staffDocket, papers: staffPapers, money: staffMoney, trust: staffTrust },
    stages: stages.map((s) => ({ ...s, days: days.get(s.id) ?? 0 })),
    team: team.map(({ file, docket, papers, money: atMoney, trust, ...t }) => ({
      ...t,
      keeps: Boolean(t.keeps),
      active: Boolean(t.active),
      rate: money ? t.rate : null,
      grants: { file, docket, papers, money: atMoney, trust },
    })),
    parties,
    payers,
    portions: portions.map((p) => ({ ...p, billed: Boolean(p.billed) })),
    next: own.docket ? next : null,
    tasks: { open: tasksN, today: tasksToday },
    figures: await figuresOf(m, ctx, id, own),
    counts: {
      docket: own.docket ? docketN : 0,
      tasks: tasksN,
      papers: own.papers ? papersN : 0,
      bills: own.money ? billsN : 0,
      parties: parties.length,
      notes: notesN,
    },
    missing,
    conflictState: state,
    conflicts,
  }
}

/** What the actor may do on a matter, by part, and whether the actor keeps and follows it. */
async function ownGrants(m: EntityManager, ctx: Ctx, id: number): Promise<Grants & { keeps: boolean; follows: boolean }> {
  const level = (part: Part) =>
    `CASE WHEN ${matterScope(ctx.actor, 'm', part, change)} THEN 2 WHEN ${matterScope(ctx.actor, 'm', part)} THEN 1 ELSE 0 END AS ${part}`
  const found = await row<Grants & { keeps: number; follows: number }>(
    m,
    `SELECT ${parts.map(level).join(', ')}, EXISTS (SELECT 1 FROM matter_team t WHERE t.matter_id = m.id AND t.user_id = ? AND t.keeps) AS keeps,
            EXISTS (SELECT 1 FROM matter_follow f WHERE f.matter_id = m.id AND f.user_id = ?) AS follows FROM matter m WHERE m.id = ?`,
    [ctx.actor.id, ctx.actor.id, id],
  )
  return { ...found!, keeps: Boolean(found!.keeps), follows: Boolean(found!.follows) }
}

const words = (key: string) => key.replace(/([A-Z])/g, ' $1').toLowerCase()
const shown = (v: unknown): string =>
  v === null || v === undefined || v === ''
    ? ''
    : Array.isArray(v)
      ? v.map(shown).filter(Boolean).join(', ')
      : typeof v === 'object'
        ? Object.entries(v)
            .map(([k, x]) => `${words(k)} ${shown(x)}`)
            .join(', ')
        : String(v as string)

/** What changed, by what it is called, out of the detail an act was logged with. */
export function changesIn(detail: string | null): { what: string; was: string; became: string }[] {
  if (!detail) return []
  const { was, became } = JSON.parse(detail) as {
    was?: Record<string, unknown> | string | null
    became?: Record<string, unknown> | string | null
  }
  if ((was && typeof was !== 'object') || (became && typeof became !== 'object'))
    return [{ what: '', was: shown(was), became: shown(became) }]
  const [a, b] = [(was ?? {}) as Record<string, unknown>, (became ?? {}) as Record<string, unknown>]
  return [...new Set([...Object.keys(a), ...Object.keys(b)])]
    .map((k) => ({ what: words(k), was: shown(a[k]), became: shown(b[k]) }))
    .filter((c) => c.was !== c.became)
    .slice(0, 20)
}

/** What others did on a matter after an entry of its log, newest first: of many the newest, for a page that has stood open. */
export async function news(ctx: Ctx, id: number, after: number) {
  const m = ctx.db.manager
  if (!(await row(m, `SELECT 1 FROM matter m WHERE m.id = ? AND ${matterScope(ctx.actor)}`, [id]))) throw notFound('matter')
  const found = await rows<{ id: number; at: string; who: string; userId: number | null; text: string }>(
    m,
    `SELECT l.id, l.at, COALESCE(u.name, 'The application') AS who, l.user_id AS userId, l.text
       FROM audit_log l JOIN matter m ON m.id = l.matter_id LEFT JOIN user_account u ON u.id = l.user_id
      WHERE l.matter_id = ? AND l.id > ? AND ${actsOpenTo(ctx)} ORDER BY l.id DESC LIMIT ${after ? 20 : 1}`,
    [id, after],
  )
  const others = after ? found.filter((l) => l.userId !== ctx.actor.id) : []
  return { last: found[0]?.id ?? after, others: others.map(({ userId: _, ...l }) => ({ ...l, at: isoOf(l.at) })) }
}

/** The log of a matter by kind, person and span, only acts of parts that are open to the reader. */
export async function log(
  ctx: Ctx,
  id: number,
  f: { kind: string; userId?: number | undefined; from?: Day | undefined; to?: Day | undefined; page: number; size: number },
) {
  const m = ctx.db.manager
  if (!(await row(m, `SELECT 1 FROM matter m WHERE m.id = ? AND ${matterScope(ctx.actor)}`, [id]))) throw notFound('matter')
  const open = `FROM audit_log l JOIN matter m ON m.id = l.matter_id LEFT JOIN user_account u ON u.id = l.user_id WHERE l.matter_id = ? AND ${actsOpenTo(ctx)}`
  const kinds = await rows<{ kind: string }>(m, `SELECT DISTINCT l.kind ${open} ORDER BY l.kind`, [id])
  const people = await rows<{ userId: number; name: string }>(
    m,
    `SELECT DISTINCT u.id AS userId, u.name ${open} AND u.id IS NOT NULL ORDER BY u.name`,
    [id],
  )
  const where = `${open} AND (? = '' OR l.kind = ?) AND (? = 0 OR l.user_id = ?) AND l.at >= ? AND l.at < ?`
  const span = [f.from ? ctx.clock.beginOf(f.from) : new Date(0), ctx.clock.beginOf(addDays(f.to ?? '2999-12-30', 1))].map(instant)
  const values = [id, f.kind, f.kind, f.userId ?? 0, f.userId ?? 0, ...span]
  const total = await row<{ n: number }>(m, `SELECT COUNT(*) AS n ${where}`, values)
  const found = await rows<{
    id: number
    at: string
    who: string
    userId: number | null
    kind: string
    text: string
    detail: string | null
  }>(
    m,
    `SELECT l.id, l.at, COALESCE(u.name, 'The application') AS who, l.user_id AS userId, l.kind, l.text, l.detail ${where} ORDER BY l.id DESC LIMIT ${Number(f.size)} OFFSET ${(Number(f.page) - 1) * Number(f.size)}`,
    values,
  )
  return {
    rows: found.map(({ detail, ...l }) => ({ ...l, at: isoOf(l.at), changes: changesIn(detail) })),
    total: total!.n,
    kinds: kinds.map((k) => k.kind),
    people,
  }
}
