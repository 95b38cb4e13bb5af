import type { FlowIn } from '@heron/contract'
import { type Day, daysBetween } from '@heron/core/calendar'
import { share } from '@heron/core/money'
import type { Flow, FlowStep } from '@heron/core/oversight'
import type { EntityManager } from 'typeorm'
import { matterScope, nameFor } from '../platform/access'
import type { Ctx } from '../platform/context'
import { rows } from '../platform/database'
import { flowOfAllocation, flowOfFeeLine, flowOfTime, flowOfTimeLine, isVoid, openOfLine } from '../platform/figures'

type By = FlowIn['by']
/** One kind of record in which steps are told: where it stands, its day, whose it is, and what each step takes of it. */
export interface Source {
  /** The steps that are shares of a fee, of which each timekeeper behind it has a part. */
  fee: boolean
  from: string
  where: string
  values: (string | number)[]
  day: string
  person: string
  amounts: Partial<Record<FlowStep, string>>
  /** The column that names its matter. */
  matter: string
  /** The bill, where there is one, its words, and a key of its own. */
  id: string
  text: string
  bill: boolean
  /** From what it is added up, where that needs less than its words do; and the column there that names its matter. */
  lean?: { from: string; matter: string }
}
export interface FlowSpan {
  from: Day
  to: Day
  as: FlowIn['as']
}

/** Bills of the firm's own time; what was open at moving in was billed before. */
const bills = `JOIN journal j ON j.id = b.journal_id AND j.kind <> 'opening'`

/** All the records that tell of a span: of the work that was done in it, or of what was done in it. */
export function sourcesOf({ from, to, as }: FlowSpan): Source[] {
  const span = [from, to]
  const work = as === 'work'
  const standing = work ? `AND NOT ${isVoid('b')}` : ''
  const time = flowOfTime('t')
  const list: Source[] = []
  const timeLine = flowOfTimeLine('l')
  const feeLine = flowOfFeeLine('l')
  const paid = flowOfAllocation('a', 'p')
  const open = openOfLine('l')
  list.push({
    fee: false,
    from: 'time_entry t',
    matter: 't.matter_id',
    where: `t.day BETWEEN ? AND ? AND t.charge <> 'non-billable' AND t.state <> 'reversed'`,
    values: span,
    day: 't.day',
    person: 't.user_id',
    amounts: work ? time : { worked: time.worked, noCharge: time.noCharge },
    id: 't.id',
    text: 't.text',
    bill: false,
  })
  list.push({
    fee: false,
    from: work ? `bill_line l JOIN bill b ON b.id = l.bill_id ${bills}` : `bill b ${bills} JOIN bill_line l ON l.bill_id = b.id`,
    where: `l.kind = 'time' AND l.time_charge IS NOT NULL AND ${work ? 'l.day' : 'b.issued_on'} BETWEEN ? AND ? ${standing}`,
    values: span,
    day: work ? 'l.day' : 'b.issued_on',
    person: 'l.timekeeper_id',
    amounts: work ? timeLine : { writtenDown: timeLine.writtenDown, discount: timeLine.discount, billed: timeLine.billed },
    id: 'l.id',
    text: 'l.text',
    bill: true,
    matter: 'b.matter_id',
  })
  list.push({
    fee: true,
    from: `bill_line l JOIN bill b ON b.id = l.bill_id ${bills}`,
    where: `l.kind = 'flat' AND ${work ? 'b.work_to' : 'b.issued_on'} BETWEEN ? AND ? ${standing}`,
    values: span,
    day: work ? 'b.work_to' : 'b.issued_on',
    person: 'NULL',
    amounts: work ? feeLine : { discount: feeLine.discount, billed: feeLine.billed },
    id: 'l.id',
    text: 'l.text',
    bill: true,
    matter: 'b.matter_id',
  })
  const payment = `JOIN payment p ON p.id = a.payment_id`
  const ofPayment = `CONCAT(p.kind, IF(p.reference = '', '', CONCAT(' ', p.reference)))`
  for (const kind of ['time', 'flat'] as const) {
    const fee = kind === 'flat'
    // Of acts what takes something off is little beside what is paid, and is found from its documents.
    const from = work
      ? `bill_line l JOIN bill b ON b.id = l.bill_id ${bills} JOIN allocation a ON a.bill_line_id = l.id ${payment}`
      : `payment p JOIN allocation a ON a.payment_id = p.id JOIN bill_line l ON l.id = a.bill_line_id JOIN bill b ON b.id = l.bill_id`
    list.push({
      fee,
      from,
      where: `l.kind = '${kind}' AND ${work ? (fee ? 'b.work_to' : 'l.day') : `p.kind IN ('credit note', 'void', 'write-off') AND a.applied_on`} BETWEEN ? AND ? ${standing}`,
      values: span,
      day: work ? (fee ? 'b.work_to' : 'l.day') : 'a.applied_on',
      person: fee ? 'NULL' : 'l.timekeeper_id',
      // What of a fee was paid stands with each payment, by timekeeper; what was taken off is shared here.
      amounts: fee || !work ? { credited: paid.credited, writtenOff: paid.writtenOff } : paid,
      id: 'a.id',
      text: ofPayment,
      bill: true,
      matter: 'b.matter_id',
    })
  }
  // What each timekeeper has of money that came: of fees, and by its day of time, too.
  const shares = `JOIN allocation a ON a.id = x.allocation_id JOIN bill b ON b.id = a.bill_id`
  list.push({
    fee: false,
    from: work
      ? `bill_line l JOIN bill b ON b.id = l.bill_id ${bills} JOIN allocation a ON a.bill_line_id = l.id JOIN allocation_share x ON x.allocation_id = a.id ${payment}`
      : `allocation_share x ${shares} JOIN bill_line l ON l.id = a.bill_line_id ${payment}`,
    where: work ? `l.kind = 'flat' AND b.work_to BETWEEN ? AND ? ${standing}` : `x.applied_on BETWEEN ? AND ?`,
    values: span,
    day: work ? 'b.work_to' : 'x.applied_on',
    person: 'x.timekeeper_id',
    amounts: { collected: 'x.amount' },
    id: 'x.id',
    text: ofPayment,
    bill: true,
    matter: 'b.matter_id',
    // Added up from the shares alone, which name their matter.
    ...(work ? {} : { lean: { from: 'allocation_share x', matter: 'x.matter_id' } }),
  })
  if (work)
    for (const kind of ['time', 'flat'] as const)
      list.push({
        fee: kind === 'flat',
        from: `bill_line l JOIN bill b ON b.id = l.bill_id ${bills}`,
        where: `l.kind = '${kind}' AND ${kind === 'flat' ? 'b.work_to' : 'l.day'} BETWEEN ? AND ? ${standing}`,
        values: span,
        day: kind === 'flat' ? 'b.work_to' : 'l.day',
        person: kind === 'flat' ? 'NULL' : 'l.timekeeper_id',
        amounts: { open },
        id: 'l.id',
        text: 'l.text',
        bill: true,
        matter: 'b.matter_id',
      })
  return list
}

/** The group to which a record belongs, as SQL; a fee's timekeepers are looked up beside it. */
export const groupOf = (by: By, s: Source): string =>
  ({
    person: s.person,
    matter: s.matter,
    client: 'm.client_id',
    area: 'm.area_id',
    originating: 'm.originating_id',
    month: `DATE_FORMAT(${s.day}, '%Y-%m')`,
  })[by]

/** The client, area or originating lawyer of each matter. */
export async function groupsOfMatters(m: EntityManager, by: 'client' | 'area' | 'originating', ids: readonly number[]) {
  const column = { client: 'client_id', area: 'area_id', originating: 'originating_id' }[by]
  const out = new Map<number, number | null>()
  for (let i = 0; i < ids.length; i += 5000)
    for (const r of await rows<{ id: number; k: number | null }>(m, `SELECT id, ${column} AS k FROM matter WHERE id IN (?)`, [
      ids.slice(i, i + 5000),
    ]))
      // prettier-ignore
      out.set(r.id, r.k)
  return out
}

/** A few questions at a time, so that a page is soon there and takes no more of the database than its part. */
export async function sideBySide<T>(asks: readonly (() => Promise<T>)[], atOnce = 2): Promise<T[]> {
  const out: T[] = []
  let next = 0
  const one = async () => {
    for (let i = next++; i < asks.length; i = next++) out[i] = await asks[i]!()
  }
  await Promise.all(Array.from({ length: Math.min(atOnce, asks.length) }, one))
  return out
}

/** Only matters whose money the reader may see, and none for practice. */
export const inScope = (ctx: Ctx) => `m.kind <> 'practice' AND ${matterScope(ctx.actor, 'm', 'money')}`

/** Up to how many matters out of scope are named one by one; beyond, each record asks for its own. */
const fewOutside = 2_000
/** Said where every matter is in scope. */
const anyMatter = 'TRUE'
/** What keeps figures to the matters that the reader may see, by the column that names a record's matter. */
export type Kept = (matter: string, needed?: boolean) => { join: string; where: string }
/**
 * As a rule few matters are out of scope: those for practice, kept to a team, screened. They are named in the condition, so that a sum
 * over hundreds of thousands of records needs no look at the matter of each.
 */
export async function keeping(m: EntityManager, ctx: Ctx): Promise<Kept> {
  const outside = await rows<{ id: number }>(m, `SELECT m.id FROM matter m WHERE NOT (${inScope(ctx)}) LIMIT ${fewOutside + 1}`)
  const list = outside.length > fewOutside ? null : outside.map((o) => o.id)
  return (matter, needed = false) => ({
    join: needed || !list ? `JOIN matter m ON m.id = ${matter}` : '',
    where: !list ? inScope(ctx) : list.length ? `${matter} NOT IN (${list.join(', ')})` : anyMatter,
  })
}

/** Names of groups by their keys. */
export const groupNames = (ctx: Ctx, by: By): string | null =>
  ({
    person: 'SELECT id AS k, name FROM user_account WHERE id IN (?)',
    matter: `SELECT id AS k, CONCAT(number, ' ', short_name) AS name FROM matter WHERE id IN (?)`,
    client: `SELECT c.id AS k, ${nameFor(ctx.actor)} AS name FROM contact c WHERE c.id IN (?)`,
    area: 'SELECT id AS k, name FROM practice_area WHERE id IN (?)',
    originating: 'SELECT id AS k, name FROM user_account WHERE id IN (?)',
    month: null,
  })[by]

/** The longest span that is added up at once, and that is added up at all. */
export const mostDays = { atOnce: 366 * 5, ever: 366 * 30 }

/** How many entries one request adds up. */
const mostEntries = 300_000

/** Whether a span is too long to be added up within a request. */
export async function isLong(ctx: Ctx, f: { from: Day; to: Day }): Promise<boolean> {
  if (daysBetween(f.from, f.to) > mostDays.atOnce) return true
  const n = await rows<{ n: number }>(ctx.db.manager, `SELECT COUNT(*) AS n FROM (SELECT 1 FROM time_entry WHERE day BETWEEN ? AND ? LIMIT ${mostEntries + 1}) x`, [f.from, f.to]) // prettier-ignore
  return n[0]!.n > mostEntries
}

interface Weights {
  keepers: number[]
  weights: number[]
}

/** Who has which part of fees, by their lines; the order is that in which money is shared. */
export async function weightsOf(m: EntityManager, lines: readonly number[]): Promise<Map<number, Weights>> {
  const out = new Map<number, Weights>()
  for (let i = 0; i < lines.length; i += 5000)
    for (const w of await rows<{ lineId: number; keeper: number; weight: number }>(
      m,
      `SELECT bill_line_id AS lineId, timekeeper_id AS keeper, weight FROM bill_line_share WHERE bill_line_id IN (?) ORDER BY bill_line_id, timekeeper_id`,
      [lines.slice(i, i + 5000)],
    )) {
      const own = out.get(w.lineId) ?? { keepers: [], weights: [] }
      own.keepers.push(w.keeper)
      own.weights.push(w.weight)
      out.set(w.lineId, own)
    }
  return out
}

type Piece = Partial<Flow> & { k: string | number | null; month: string }

const sums = (s: Source) =>
  Object.entries(s.amounts)
    .map(([step, sql]) => `SUM(${sql}) AS ${step}`)
    .join(', ')

/** What a source comes to by group, and by month where that is asked. A fee is shared line by line, so that each timekeeper has whole cents of it. */
export async function piecesOf(m: EntityManager, kept: Kept, s: Source, by: FlowIn['by'], months: boolean): Promise<Piece[]> {
  const matter = s.lean?.matter ?? s.matter
  const k = kept(matter)
  // A fee is always shared by month, so that the entries behind a part are shared as it is.
  const month = months || s.fee ? `DATE_FORMAT(${s.day}, '%Y-%m')` : `''`
  const from = `FROM ${s.lean?.from ?? s.from} ${k.join} WHERE ${s.where} AND ${k.where}`
  // The sources begin with what the span narrows; left to itself the optimizer begins with all matters.
  if (!s.fee || by !== 'person')
    return rows<Piece>(
      m,
      `SELECT STRAIGHT_JOIN ${groupOf(by, { ...s, matter })} AS k, ${month} AS month, ${sums(s)} ${from} GROUP BY k, month`,
      s.values,
    )
  const list = await rows<Piece & { lineId: number }>(m, `SELECT STRAIGHT_JOIN l.id AS lineId, ${month} AS month, ${sums(s)} ${from} GROUP BY l.id, month`, s.values) // prettier-ignore
  const weights = await weightsOf(m, [...new Set(list.map((l) => l.lineId))])
  return list.flatMap(({ lineId, ...piece }) => sharedPieces(piece, s, weights.get(lineId)))
}

/** One fee's amounts as the parts of its timekeepers. What is billed and let off is shared, and charged is both together. */
function sharedPieces(piece: Piece, s: Source, own: Weights | undefined): Piece[] {
  if (!own) return [piece]
  const parts = own.keepers.map((k): Piece => ({ k, month: piece.month }))
  for (const step of Object.keys(s.amounts) as FlowStep[])
    if (step !== 'feeDifference') share(piece[step] ?? 0, own.weights).forEach((amount, i) => (parts[i]![step] = amount))
  if ('feeDifference' in s.amounts) for (const p of parts) p.feeDifference = (p.billed ?? 0) + (p.discount ?? 0)
  return parts
}

/** What was taken off lines of fees, and what of their money one timekeeper has. */
export async function settledOf(m: EntityManager, ids: readonly number[], keeper: number) {
  const out = new Map<number, { credited: number; writtenOff: number; collected: number }>()
  const f = flowOfAllocation('a', 'p')
  for (let i = 0; i < ids.length; i += 5000)
    for (const s of await rows<{ lineId: number; credited: number; writtenOff: number; collected: number }>(
      m,
      `SELECT a.bill_line_id AS lineId, SUM(${f.credited}) AS credited, SUM(${f.writtenOff}) AS writtenOff,
              COALESCE(SUM((SELECT SUM(x.amount) FROM allocation_share x WHERE x.allocation_id = a.id AND x.timekeeper_id = ?)), 0) AS collected
         FROM allocation a JOIN payment p ON p.id = a.payment_id WHERE a.bill_line_id IN (?) GROUP BY a.bill_line_id`,
      [keeper, ids.slice(i, i + 5000)],
    ))
      out.set(s.lineId, s)
  return out
}

/** The most groups that are told, and lines that a figure opens to. */
export const most = { groups: 500, lines: 500, fees: 20_000 }

/** One entry behind a figure. */
export interface Line {
  id: number
  day: Day
  who: string | null
  keeper: number | null
  matter: string
  matterId: number
  text: string
  bill: string | null
  billId: number | null
  amount: number
  lineId: number | null
  month: string
  net: number | null
  discount: number | null
}

/** How the entries behind a figure are narrowed. */
interface Behind {
  /** What an entry is worth at the step, in SQL. */
  amount: string
  narrow: string
  /** One person's part of fees is asked: lines that the person (the last value) shares are read, before they are shared. */
  sharesFee: boolean
}

/** The latest entries that one source has behind a figure. */
export const linesBehind = (m: EntityManager, s: Source, k: ReturnType<Kept>, b: Behind, values: (string | number)[]) =>
  rows<Line>(
    m,
    `SELECT STRAIGHT_JOIN ${s.id} AS id, ${s.day} AS day, ${s.person} AS keeper, (SELECT u.name FROM user_account u WHERE u.id = ${s.person}) AS who, CONCAT(m.number, ' ', m.short_name) AS matter, m.id AS matterId, ${s.text} AS text,
            ${s.bill ? 'b.number' : 'NULL'} AS bill, ${s.bill ? 'b.id' : 'NULL'} AS billId, ${s.bill ? 'l.id' : 'NULL'} AS lineId, DATE_FORMAT(${s.day}, '%Y-%m') AS month, ${s.bill ? 'l.net, l.discount' : 'NULL AS net, NULL AS discount'}, ${b.amount} AS amount
       FROM ${s.from} ${k.join} WHERE ${s.where} AND ${k.where} ${b.narrow} ${b.sharesFee ? 'AND EXISTS (SELECT 1 FROM bill_line_share w WHERE w.bill_line_id = l.id AND w.timekeeper_id = ?)' : `AND ${b.amount} <> 0`} ORDER BY ${s.day} DESC, ${s.id} DESC LIMIT ${b.sharesFee ? most.fees + 1 : most.lines + 1}`,
    values,
  )

/** What all entries of one source behind a figure come to. */
export const sumBehind = (
  m: EntityManager,
  s: Source,
  k: ReturnType<Kept>,
  b: Pick<Behind, 'amount' | 'narrow'>,
  values: (string | number)[],
) =>
  rows<{ amount: number }>(
    m,
    `SELECT STRAIGHT_JOIN COALESCE(SUM(${b.amount}), 0) AS amount FROM ${s.from} ${k.join} WHERE ${s.where} AND ${k.where} ${b.narrow}`,
    values,
  )
