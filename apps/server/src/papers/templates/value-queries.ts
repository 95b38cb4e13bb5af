import type { Day } from '@heron/core/calendar'
import { type ContactFacts, contactRecord, dayValue, money, type OwnFields, type Value, type ValueRecord } from '@heron/core/templates'
import type { EntityManager } from 'typeorm'
import type { TemplateFields } from '../../fields'
import { matterScope, mayPart, nameFor } from '../../platform/access'
import { type Ctx, may } from '../../platform/context'
import { row, rows } from '../../platform/database'
import { heldOn, openOf, owedOn, unbilledOn } from '../../platform/figures'

// What a template may say of a matter is gathered from many tables of other areas, which only reading queries do; each reads once for all.

type ContactRow = ContactFacts & { id: number }

/** Contacts by id. Of a private one that is not the reader's, nothing is told but that there is one. */
export async function contacts(m: EntityManager, ctx: Ctx, ids: readonly number[]): Promise<Map<number, ValueRecord>> {
  if (!ids.length) return new Map()
  const open = `c.private_to IS NULL OR c.private_to = ${Number(ctx.actor.id)}`
  const one = (column: string) => `IF(${open}, c.${column}, '') AS ${column}`
  const list = await rows<ContactRow>(
    m,
    `SELECT c.id, c.kind, ${nameFor(ctx.actor)} AS name, ${['greeting', 'address', 'email', 'phone', 'language', 'pronouns'].map(one).join(', ')}, IF(${open}, c.birth_date, NULL) AS bornOn FROM contact c WHERE c.id IN (?)`,
    [[...new Set(ids)]],
  )
  return new Map(list.map((c) => [c.id, contactRecord(c)]))
}

export interface MatterValues {
  values: Record<string, Value>
  own: OwnFields
  fields: { client: TemplateFields; matter: TemplateFields }
  persons: { id: number; name: string; role: string }[]
  costs: { id: number; day: Day; text: string; amount: number }[]
  time: { id: number; day: Day; text: string; amount: number | null; by: string; hours: number }[]
}

/** The parties of a matter with address and counsel, as templates take them. */
export async function partiesOf(m: EntityManager, ctx: Ctx, matterId: number) {
  const list = await rows<{
    id: number
    contactId: number
    role: string
    side: string
    counselId: number | null
    counsel: string
    servedOn: Day | null
  }>(
    m,
    `SELECT id, contact_id AS contactId, role, side, counsel_id AS counselId, counsel, served_on AS servedOn FROM matter_party WHERE matter_id = ? ORDER BY FIELD(side, 'ours', 'adverse', 'other'), id LIMIT 300`,
    [matterId],
  )
  const known = await contacts(m, ctx, list.flatMap((p) => [p.contactId, ...(p.counselId ? [p.counselId] : [])])) // prettier-ignore
  return list.map((p) => ({
    id: p.contactId,
    role: p.role,
    side: p.side,
    record: {
      ...(known.get(p.contactId) ?? {}),
      role: p.role,
      side: p.side === 'ours' ? 'ours' : p.side,
      served: p.servedOn !== null,
      served_on: dayValue(p.servedOn),
      counsel: p.counselId ? (known.get(p.counselId) ?? { name: p.counsel }) : { name: p.counsel },
    } as ValueRecord,
  }))
}

/** What a letter says of firm, matter, client and people. */
export const factsForLetter = (m: EntityManager, ctx: Ctx, id: number) =>
  row<{
    firm: string
    firmAddress: string
    firmPhone: string
    firmEmail: string
    line: string
    secondNumber: string
    description: string
    area: string | null
    stage: string | null
    court: string
    caseNumber: string
    judge: string | null
    lead: string
    leadTitle: string
    leadEmail: string
    meTitle: string
    meEmail: string
    flatFee: number | null
    fillTo: number | null
    contingency: number | null
  }>(
    m,
    `SELECT f.name AS firm, f.address AS firmAddress, f.phone AS firmPhone, f.letter_email AS firmEmail, f.letter_line AS line, m.second_number AS secondNumber, m.description, a.name AS area, s.name AS stage, m.court, m.case_number AS caseNumber,
            ${nameFor(ctx.actor, 'j')} AS judge, u.name AS lead, u.title AS leadTitle, u.email AS leadEmail, me.title AS meTitle, me.email AS meEmail,
            (SELECT SUM(p.amount) FROM fee_portion p WHERE p.matter_id = m.id) AS flatFee,
            (SELECT r.fill_to FROM matter_retainer r WHERE r.matter_id = m.id) AS fillTo,
            (SELECT ROUND(100 * cs.numerator / cs.denominator, 2) FROM contingent_stage cs WHERE cs.matter_id = m.id ORDER BY cs.ordinal LIMIT 1) AS contingency
       FROM matter m JOIN firm f JOIN user_account u ON u.id = m.lead_id JOIN user_account me ON me.id = ? LEFT JOIN practice_area a ON a.id = m.area_id LEFT JOIN stage s ON s.id = m.stage_id LEFT JOIN contact j ON j.id = m.judge_id WHERE m.id = ?`,
    [ctx.actor.id, id],
  )

/** The further clients of a matter. */
export const clientsOf = (m: EntityManager, id: number) =>
  rows<{ id: number }>(m, `SELECT contact_id AS id FROM matter_client WHERE matter_id = ? LIMIT 100`, [id])

/** The team of a matter with the rates that hold today, as templates take them. */
export async function teamOf(m: EntityManager, ctx: Ctx, matterId: number, seesMoney: boolean): Promise<Value> {
  const today = ctx.clock.today()
  const team = await rows<{ name: string; role: string; email: string; keeps: number; rate: number | null }>(
    m,
    `SELECT u.name, u.title AS role, u.email, t.keeps, COALESCE(t.rate, (SELECT r.rate FROM user_rate r WHERE r.user_id = u.id AND r.from_day <= ? AND (r.to_day IS NULL OR r.to_day >= ?) ORDER BY r.usual DESC, r.from_day DESC LIMIT 1)) AS rate
       FROM matter_team t JOIN user_account u ON u.id = t.user_id WHERE t.matter_id = ? ORDER BY t.keeps DESC, u.name LIMIT 200`,
    [today, today, matterId],
  )
  // Rates of the team stand in engagement letters, which people make who see no bills.
  return team.map((t) => ({
    name: t.name,
    role: t.role,
    email: t.email,
    keeps: Boolean(t.keeps),
    rate: t.rate === null || (!seesMoney && !may(ctx.actor, 'papers.change')) ? null : money(t.rate),
  }))
}

/** Bills of a matter, the oldest first; of more than five hundred the newest. */
export async function billsOf(m: EntityManager, matterId: number): Promise<Value> {
  const bills = await rows<{ number: string; issuedOn: Day; dueOn: Day; total: number; open: number }>(
    m,
    `SELECT b.number, b.issued_on AS issuedOn, b.due_on AS dueOn, b.total, ${openOf('b')} AS open FROM bill b WHERE b.matter_id = ? ORDER BY b.issued_on DESC, b.id DESC LIMIT 500`,
    [matterId],
  )
  return bills.reverse().map((b) => ({
    number: b.number,
    issued_on: dayValue(b.issuedOn),
    due_on: dayValue(b.dueOn),
    total: money(b.total),
    open: money(b.open),
  }))
}

/** What a matter owes, has unbilled and has in trust, as far as each is open to the maker. */
export async function moneyOf(m: EntityManager, matterId: number, seesMoney: boolean, seesTrust: boolean): Promise<ValueRecord> {
  const f = await row<{ owed: number; held: number; time: number; costs: number; portions: number }>(
    m,
    `SELECT ${owedOn('m.id')} AS owed, ${heldOn('m.id')} AS held, ${unbilledOn.time('m')} AS time, ${unbilledOn.costs('m')} AS costs, ${unbilledOn.portions('m')} AS portions FROM matter m WHERE m.id = ?`,
    [matterId],
  )
  return {
    open: seesMoney ? money(f!.owed) : null,
    unbilled: seesMoney ? money(f!.time + f!.costs + f!.portions) : null,
    held: seesTrust ? money(f!.held) : null,
  }
}

/** Dates of a matter from today on, as templates take them. */
export async function datesOf(m: EntityManager, ctx: Ctx, matterId: number): Promise<Value> {
  if (!(await mayPart(m, ctx, matterId, 'docket'))) return []
  const list = await rows<{ title: string; day: Day; text: string; authority: string; time: string | null }>(
    m,
    `SELECT e.title, e.day, e.text, e.authority, TIME_FORMAT(e.at_time, '%H:%i') AS time FROM docket_entry e JOIN matter m ON m.id = e.matter_id WHERE e.matter_id = ? AND e.removed_at IS NULL AND NOT e.left_out AND e.mark IN ('open', 'in hand') AND e.day >= ? AND ${matterScope(ctx.actor, 'm', 'docket')} ORDER BY e.day, e.at_time LIMIT 200`,
    [matterId, ctx.clock.today()],
  )
  return list.map((d) => ({ title: d.title, day: dayValue(d.day), text: d.text, authority: d.authority, time: d.time ?? '' }))
}

/** Costs and time that a paper may name: the newest five hundred of each, and whichever were chosen before. What was reversed is none. */
export async function itemsOf(
  m: EntityManager,
  ctx: Ctx,
  matterId: number,
  seesMoney: boolean,
  chosen: { costIds: readonly number[]; timeIds: readonly number[] },
): Promise<Pick<MatterValues, 'costs' | 'time'>> {
  const opened = seesMoney || (may(ctx.actor, 'costs.record') && (await mayPart(m, ctx, matterId, 'money')))
  if (!opened) return { costs: [], time: [] }
  const both = (sql: string, ids: readonly number[]) =>
    `SELECT x.* FROM ((${sql} ORDER BY t.day DESC, t.id DESC LIMIT 500)${ids.length ? ` UNION (${sql} AND t.id IN (?))` : ''}) x ORDER BY x.day DESC, x.id DESC`
  const of = (ids: readonly number[]) => (ids.length ? [matterId, matterId, ids] : [matterId])
  const costs = await rows<{ id: number; day: Day; text: string; amount: number }>(
    m,
    both(`SELECT t.id, t.day, t.text, t.amount FROM cost_entry t WHERE t.matter_id = ? AND t.state <> 'reversed'`, chosen.costIds),
    of(chosen.costIds),
  )
  const time = await rows<{ id: number; day: Day; text: string; amount: number; by: string; minutes: number }>(
    m,
    both(
      `SELECT t.id, t.day, t.text, t.amount, u.name AS \`by\`, t.minutes FROM time_entry t JOIN user_account u ON u.id = t.user_id WHERE t.matter_id = ? AND t.state = 'posted'`,
      chosen.timeIds,
    ),
    of(chosen.timeIds),
  )
  return {
    costs,
    time: time.map(({ minutes, ...t }) => ({ ...t, amount: seesMoney ? t.amount : null, hours: Math.round(minutes / 6) / 10 })),
  }
}
