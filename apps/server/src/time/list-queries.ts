import type { TimeFilter, timeGroups } from '@heron/contract'
import { shownFields } from '../fields'
import { matterScope, nameFor } from '../platform/access'
import { type Ctx, may } from '../platform/context'
import { literal, rows } from '../platform/database'
import { recordedWorth } from '../platform/figures'
import { selectTime, shownTime, type TimeRow } from './queries'

const states: Record<TimeFilter['state'], string> = {
  all: `t.state <> 'reversed'`,
  draft: `t.state = 'draft'`,
  unbilled: `t.state = 'posted' AND t.bill_id IS NULL`,
  billed: `t.bill_id IS NOT NULL`,
  'written off': `t.state = 'written off'`,
  reversed: `t.state = 'reversed'`,
}

/** What narrows the time of the firm, as SQL. Those who do not see bills see what they recorded themselves. */
function narrowed(ctx: Ctx, f: TimeFilter): { where: string; values: (string | number)[] } {
  const money = may(ctx.actor, 'bills.see')
  const where = [matterScope(ctx.actor, 'm', money ? 'money' : 'file'), states[f.state]]
  const values: (string | number)[] = []
  const and = (sql: string, ...own: (string | number)[]) => {
    where.push(sql)
    values.push(...own)
  }
  if (!money) and('t.user_id = ?', ctx.actor.id)
  if (f.from) and('t.day >= ?', f.from)
  if (f.to) and('t.day <= ?', f.to)
  if (f.userId) and('t.user_id = ?', f.userId)
  if (f.matterId) and('t.matter_id = ?', f.matterId)
  if (f.clientId) and('m.client_id = ?', f.clientId)
  if (f.areaId) and('m.area_id = ?', f.areaId)
  if (f.activity) and('t.activity = ?', f.activity)
  if (f.charge) and('t.charge = ?', f.charge)
  if (f.fundingId) and('t.funding_id = ?', f.fundingId)
  if (f.inCourt) and('t.in_court = ?', f.inCourt === 'yes' ? 1 : 0)
  if (f.privateAttorney) and('t.private_attorney = ?', f.privateAttorney === 'yes' ? 1 : 0)
  if (f.q) and('t.text LIKE ?', `%${literal(f.q)}%`)
  return { where: where.join(' AND '), values }
}

/** Ids of the time of a filter, newest first: found by an index in its order, with nothing looked up for them yet. */
export async function timeIds(ctx: Ctx, f: TimeFilter, most: number, skipped = 0): Promise<number[]> {
  const { where, values } = narrowed(ctx, f)
  const found = await rows<{ id: number }>(
    ctx.db.manager,
    `SELECT t.id FROM time_entry t STRAIGHT_JOIN matter m ON m.id = t.matter_id WHERE ${where} ORDER BY t.day DESC, t.id DESC LIMIT ? OFFSET ?`,
    [...values, most, skipped],
  )
  return found.map((t) => t.id)
}

/** One page of the time of a filter, newest first, and whether there is more. */
export async function allTime(ctx: Ctx, f: TimeFilter & { page: number; size: number; fields: string }) {
  const ids = await timeIds(ctx, f, f.size + 1, (f.page - 1) * f.size)
  return { rows: await timeByIds(ctx, ids.slice(0, f.size), f.fields), more: ids.length > f.size }
}

/** Entries of time as lists show them, in the order of lists. */
export async function timeByIds(ctx: Ctx, page: readonly number[], shown: string, plain = false) {
  const m = ctx.db.manager
  const found = page.length ? await rows<TimeRow>(m, `${selectTime} WHERE t.id IN (?) ORDER BY t.day DESC, t.id DESC`, [page]) : []
  const clients = page.length
    ? await rows<{ id: number; client: string }>(
        m,
        `SELECT m.id, ${nameFor(ctx.actor)} AS client FROM matter m JOIN contact c ON c.id = m.client_id WHERE m.id IN (?)`,
        [found.map((t) => t.matterId)],
      )
    : []
  const clientOf = new Map(clients.map((c) => [c.id, c.client]))
  const fields = await shownFields(ctx, 'time', page, shown.split(',').map(Number), plain) // prettier-ignore
  return shownTime(found).map((t) => ({ ...t, client: clientOf.get(t.matterId) ?? '', fields: fields.get(t.id) ?? {} }))
}

type Group = (typeof timeGroups)[number]

const groupKeys: Record<Group, string> = {
  person: 't.user_id',
  matter: 't.matter_id',
  client: 'm.client_id',
  area: 'm.area_id',
  activity: 't.activity',
  month: `DATE_FORMAT(t.day, '%Y-%m')`,
  charge: 't.charge',
  funding: 't.funding_id',
}

/** Where the name of a key is kept; a key of the others is its own name. */
const groupNames = (ctx: Ctx): Partial<Record<Group, string>> => ({
  person: 'SELECT id AS k, name FROM user_account WHERE id IN (?)',
  matter: `SELECT id AS k, CONCAT(number, ' ', short_name) AS name FROM matter WHERE id IN (?)`,
  client: `SELECT c.id AS k, ${nameFor(ctx.actor)} AS name FROM contact c WHERE c.id IN (?)`,
  area: 'SELECT id AS k, name FROM practice_area WHERE id IN (?)',
  activity: `SELECT code AS k, CONCAT(name, ' (', code, ')') AS name FROM activity WHERE code IN (?)`,
  funding: 'SELECT id AS k, name FROM funding_source WHERE id IN (?)',
})

/** How many entries are added up in one request, and how many groups are told. */
export const most = { entries: 60_000, groups: 300 }

/** What the time of a filter comes to, together and by group, greatest value first. */
export async function timeSums(ctx: Ctx, { by, ...f }: TimeFilter & { by: Group }) {
  const { where, values } = narrowed(ctx, f)
  const m = ctx.db.manager
  const found = await rows<{ k: string | number | null; entries: number; minutes: number; worth: number }>(
    m,
    `SELECT x.k, COUNT(*) AS entries, SUM(x.minutes) AS minutes, SUM(x.worth) AS worth
       FROM (SELECT ${groupKeys[by]} AS k, t.minutes, ${recordedWorth('t')} AS worth FROM time_entry t JOIN matter m ON m.id = t.matter_id WHERE ${where} LIMIT ?) x
      GROUP BY x.k ORDER BY ${by === 'month' ? 'x.k DESC' : 'worth DESC, minutes DESC'}`,
    [...values, most.entries + 1],
  )
  const keys = found.flatMap((g) => (g.k === null ? [] : [g.k])).slice(0, most.groups)
  const sql = groupNames(ctx)[by]
  const names = new Map(
    sql && keys.length ? (await rows<{ k: string | number; name: string }>(m, sql, [keys])).map((n) => [String(n.k), n.name]) : [],
  )
  const whole = { entries: 0, minutes: 0, worth: 0 }
  for (const g of found) {
    whole.entries += g.entries
    whole.minutes += g.minutes
    whole.worth += g.worth
  }
  return {
    ...whole,
    tooMany: whole.entries > most.entries,
    groups: found.slice(0, most.groups).map(({ k, ...g }) => ({ key: String(k ?? ''), name: k === null ? 'None' : (names.get(String(k)) ?? String(k)), ...g })), // prettier-ignore
  }
}
