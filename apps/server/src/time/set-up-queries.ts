import { type ClientTerms, type rateKinds, timeFields } from '@heron/contract'
import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { requireContact } from '../people'
import { change, matterScope, nameFor, requireMatter } from '../platform/access'
import type { Ctx } from '../platform/context'
import { literal, row, rows, run } from '../platform/database'
import { UserAccount } from '../platform/shared-entities'

export type TimeField = (typeof timeFields)[number]

interface Funding {
  id: number
  name: string
  from: Day | null
  to: Day | null
  retired: boolean
}

/** What an entry of time has in this firm, and the sources that pay for work. */
export async function timeSetUp(m: EntityManager): Promise<{ fields: TimeField[]; funding: Funding[] }> {
  const firm = await row<{ fields: string }>(m, `SELECT time_fields AS fields FROM firm`)
  const chosen = (firm?.fields ?? '').split(',')
  const funding = await rows<Omit<Funding, 'retired'> & { retired: number }>(m, `SELECT id, name, from_day AS \`from\`, to_day AS \`to\`, retired FROM funding_source ORDER BY retired, name`) // prettier-ignore
  return { fields: timeFields.filter((f) => chosen.includes(f)), funding: funding.map((f) => ({ ...f, retired: Boolean(f.retired) })) }
}

/** The source of a matter, where it is open on the day. */
export async function usualFunding(m: EntityManager, matterId: number, day: Day): Promise<number | null> {
  const found = await row<{ id: number }>(
    m,
    `SELECT f.id FROM time_terms t JOIN funding_source f ON f.id = t.funding_id
      WHERE t.owner = 'matter' AND t.owner_id = ? AND COALESCE(f.from_day, ?) <= ? AND COALESCE(f.to_day, ?) >= ?`,
    [matterId, day, day, day, day],
  )
  return found?.id ?? null
}

/** Phrases of a person and of the firm, one's own first. */
export const phrasesOf = async (ctx: Ctx) =>
  (
    await rows<{ id: number; code: string; text: string; own: number }>(
      ctx.db.manager,
      `SELECT id, code, text, user_id IS NOT NULL AS own FROM phrase WHERE user_id IS NULL OR user_id = ? ORDER BY own DESC, code, id`,
      [ctx.actor.id],
    )
  ).map((p) => ({ ...p, own: Boolean(p.own) }))

/** The phrases of a person, or of the firm, are written anew. */
export const emptyPhrases = (m: EntityManager, userId: number | null) => run(m, `DELETE FROM phrase WHERE user_id <=> ?`, [userId])

export const mostWords = 5000

/** Words that the firm has told the spelling to know. */
export const firmWords = async (m: EntityManager): Promise<string[]> =>
  (await rows<{ word: string }>(m, `SELECT word FROM spelling_word ORDER BY word LIMIT ?`, [mostWords])).map((w) => w.word)

/** Words that a spelling checker takes for right besides its dictionary: the firm's own, and the names around a matter. */
export async function knownWords(ctx: Ctx, matterId: number | undefined) {
  const m = ctx.db.manager
  const words = await firmWords(m)
  const names = (await m.find(UserAccount, { select: { name: true, id: true }, take: 500 })).map((u) => u.name)
  if (matterId) {
    await requireMatter(m, ctx, matterId)
    const around = await rows<{ name: string }>(
      m,
      `SELECT name FROM matter WHERE id = ?
        UNION SELECT c.name FROM matter x JOIN contact c ON c.id = x.client_id WHERE x.id = ? AND c.private_to IS NULL
        UNION (SELECT c.name FROM matter_party p JOIN contact c ON c.id IN (p.contact_id, p.counsel_id) WHERE p.matter_id = ? AND c.private_to IS NULL LIMIT 300)`,
      [matterId, matterId, matterId],
    )
    names.push(...around.map((n) => n.name))
  }
  const ofNames = names.flatMap((n) => n.split(/[^\p{L}']+/u)).filter((w) => w.length > 1)
  return { words, names: [...new Set(ofNames)] }
}

/** The firm’s own words are written anew. */
export const emptyWords = (m: EntityManager) => run(m, `DELETE FROM spelling_word`)

export interface Rounding {
  /** Of a matter: the source that pays for its work. */
  fundingId?: number | null
  unit: number | null
  rounding: 'up' | 'nearest' | null
}

const nothing: Rounding = { unit: null, rounding: null }

/** How a matter or a client rounds time; nulls where as usual. */
export const ownOf = async (m: EntityManager, owner: 'matter' | 'client', id: number): Promise<Rounding> =>
  (await row<Rounding>(
    m,
    `SELECT unit_minutes AS unit, rounding, funding_id AS fundingId FROM time_terms WHERE owner = ? AND owner_id = ?`,
    [owner, id],
  )) ?? nothing

/** How the firm rounds time. */
export const firmOf = async (m: EntityManager) =>
  (await row<{ unit: number; rounding: 'up' | 'nearest' }>(m, `SELECT time_unit_minutes AS unit, time_rounding AS rounding FROM firm`))!

/** How time for a client is rounded, and what people cost for that client. */
export async function clientTerms(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  await requireContact(m, ctx, id)
  return {
    ...(await ownOf(m, 'client', id)),
    usual: await firmOf(m),
    rates: await ratesOfClient(m, id),
  }
}

/** What people cost for a client, in order of their ids. */
export const ratesOfClient = (m: EntityManager, id: number) =>
  rows<ClientTerms['rates'][number]>(m, `SELECT user_id AS userId, rate FROM client_rate WHERE client_id = ? ORDER BY user_id`, [id])

/** The rates of a client are written anew. */
export const dropClientRates = (m: EntityManager, id: number) => run(m, `DELETE FROM client_rate WHERE client_id = ?`, [id])

type Kind = (typeof rateKinds)[number]

interface Rate {
  key: string
  kind: Kind
  who: string
  of: string
  ofId: number | null
  rate: number
  from: string | null
  to: string | null
}

/** Every rate by which an hour is priced, in the order in which they are asked; of matters those whose money is open to the reader. */
export async function allRates(ctx: Ctx, f: { q: string; kind?: Kind | undefined; past: 'yes' | 'no'; page: number; size: number }) {
  const today = ctx.clock.today()
  const scope = matterScope(ctx.actor, 'm', 'money', change)
  const client = nameFor(ctx.actor)
  const union = `
    SELECT 1 AS o, CONCAT('m', t.matter_id, '-', t.user_id) AS \`key\`, 'matter' AS kind, u.name AS who, CONCAT(m.number, ' ', m.short_name) AS \`of\`, m.id AS ofId, t.rate, NULL AS \`from\`, NULL AS \`to\`
      FROM matter_team t JOIN user_account u ON u.id = t.user_id JOIN matter m ON m.id = t.matter_id WHERE t.rate IS NOT NULL AND m.closed_on IS NULL AND ${scope}
    UNION ALL SELECT 2, CONCAT('c', r.client_id, '-', r.user_id), 'client', u.name, ${client}, c.id, r.rate, NULL, NULL
      FROM client_rate r JOIN user_account u ON u.id = r.user_id JOIN contact c ON c.id = r.client_id
    UNION ALL SELECT 3, CONCAT('r', r.matter_id, '-', r.role), 'role', r.role, CONCAT(m.number, ' ', m.short_name), m.id, r.rate, NULL, NULL
      FROM role_rate r JOIN matter m ON m.id = r.matter_id WHERE m.closed_on IS NULL AND ${scope}
    UNION ALL SELECT 4, CONCAT('a', a.code), 'activity', CONCAT(a.name, ' (', a.code, ')'), '', NULL, a.rate, NULL, NULL FROM activity a WHERE a.rate IS NOT NULL
    UNION ALL SELECT 5, CONCAT('u', r.id), 'timekeeper', u.name, IF(r.usual, '', 'only where chosen'), NULL, r.rate, r.from_day, r.to_day
      FROM user_rate r JOIN user_account u ON u.id = r.user_id WHERE u.active AND (? = 'yes' OR r.to_day IS NULL OR r.to_day >= ?)`
  const where = `(? = '' OR x.kind = ?) AND (? = '' OR x.who LIKE ? OR x.of LIKE ?)`
  const like = `%${literal(f.q)}%`
  const values = [f.past, today, f.kind ?? '', f.kind ?? '', f.q, like, like]
  const found = await rows<Rate>(
    ctx.db.manager,
    `SELECT x.key, x.kind, x.who, x.of, x.ofId, x.rate, x.from, x.to FROM (${union}) x WHERE ${where} ORDER BY x.o, x.of, x.who, x.from DESC LIMIT ? OFFSET ?`,
    [...values, f.size, (f.page - 1) * f.size],
  )
  const count = await row<{ n: number }>(ctx.db.manager, `SELECT COUNT(*) AS n FROM (${union}) x WHERE ${where}`, values)
  return { rows: found, total: count!.n }
}

/** The firm's own fields of time. */
export const ids = async (m: EntityManager) =>
  (await rows<{ id: number }>(m, `SELECT d.id FROM field_def d JOIN field_group g ON g.id = d.group_id WHERE g.owner = 'time'`)).map(
    (f) => f.id,
  )

/** An entry that came from another has the firm’s fields of that one. */
export const copyValues = (m: EntityManager, to: number, from: number, fields: number[]) =>
  run(
    m,
    `INSERT INTO field_value (field_id, owner_id, item, value, sorted) SELECT field_id, ?, item, value, sorted FROM field_value WHERE owner_id = ? AND field_id IN (?)`,
    [to, from, fields],
  )

export interface Candidate {
  id: number
  who: string
  userId: number
  matterId: number
  clientId: number
  matter: string
  day: Day
  text: string
  activity: string | null
  workedMinutes: number
  minutes: number
  rate: number
  amount: number
  state: 'draft' | 'posted'
}

/** Entries that are looked at in one act. */
export const most = 500

/** Drafts and unbilled entries that a changed rate would be asked of. */
export const entriesToRate = (
  m: EntityManager,
  ctx: Ctx,
  matterId: number | undefined,
  clientId: number | undefined,
  only: readonly number[] | null,
) =>
  rows<Candidate>(
    m,
    `SELECT t.id, u.name AS who, t.user_id AS userId, t.matter_id AS matterId, m.client_id AS clientId, m.short_name AS matter, t.day, t.text, t.activity,
            t.worked_minutes AS workedMinutes, t.minutes, t.rate, t.amount, t.state
       FROM time_entry t JOIN matter m ON m.id = t.matter_id JOIN user_account u ON u.id = t.user_id
      WHERE ${matterId ? `m.id = ${Number(matterId)}` : `m.client_id = ${Number(clientId)}`} AND t.bill_id IS NULL AND t.state IN ('draft', 'posted')
        AND t.rate_origin NOT IN ('typed', 'amount') AND m.closed_on IS NULL AND ${matterScope(ctx.actor, 'm', 'money', change)}
        AND NOT EXISTS (SELECT 1 FROM pre_bill_line l JOIN pre_bill p ON p.id = l.pre_bill_id WHERE l.kind = 'time' AND l.source_id = t.id AND p.state <> 'issued')
        ${only ? 'AND t.id IN (?)' : ''} ORDER BY t.day, t.id LIMIT ${most + 1}`,
    only ? [only] : [],
  )

/** The matters of these entries, in the order of their ids. */
export const mattersOfEntries = (m: EntityManager, ids: number[]) =>
  rows<{ id: number }>(m, `SELECT DISTINCT matter_id AS id FROM time_entry WHERE id IN (?) ORDER BY matter_id`, [ids])
