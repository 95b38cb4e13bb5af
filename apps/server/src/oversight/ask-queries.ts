import { showDay } from '@heron/core/calendar'
import { showMoney } from '@heron/core/money'
import type { Question } from '@heron/core/oversight'
import { showHours } from '@heron/core/time'
import { matterIdsByWords } from '../matters'
import { contactScope, matterScope } from '../platform/access'
import type { Ctx } from '../platform/context'
import { literal, row, rows } from '../platform/database'
import { owedKept, owedOn, unbilledOn } from '../platform/figures'
import { flow, judgeAtOnce } from './flow'
import { inScope } from './flow-queries'

export interface Answer {
  title: string
  hint: string
  to: string
}

/** How many of one name are answered. */
const few = 4

/** Answers about hours, bills and money of timekeepers in a span. */
export async function ofTimekeeper(ctx: Ctx, q: Extract<Question, { from: string }>): Promise<Answer[]> {
  const m = ctx.db.manager
  const who = q.who
    ? await rows<{ id: number; name: string }>(m, `SELECT id, name FROM user_account WHERE name LIKE ? ORDER BY active DESC, name LIMIT ${few}`, [`%${literal(q.who)}%`]) // prettier-ignore
    : [{ id: 0, name: 'All timekeepers' }]
  const span = `${q.span}, ${q.from === q.to ? showDay(q.from) : `${showDay(q.from)} to ${showDay(q.to)}`}`
  if (q.is === 'hours') {
    const answers: Answer[] = []
    for (const p of who) {
      const sum = await row<{ minutes: number }>(
        m,
        `SELECT COALESCE(SUM(t.minutes), 0) AS minutes FROM time_entry t JOIN matter m ON m.id = t.matter_id WHERE t.day BETWEEN ? AND ? AND t.state <> 'reversed' AND ${inScope(ctx)} ${p.id ? 'AND t.user_id = ?' : ''}`,
        [q.from, q.to, ...(p.id ? [p.id] : [])],
      )
      answers.push({
        title: `${showHours(sum!.minutes)} h, ${p.name}`,
        hint: span,
        to: `/time/all?from=${q.from}&to=${q.to}${p.id ? `&userId=${p.id}` : ''}`,
      })
    }
    return answers
  }
  await judgeAtOnce(ctx, q)
  const f = await flow(ctx, { from: q.from, to: q.to, as: 'act', by: 'person' })
  const step = q.is
  const to = (key: string) => `/reports/flow?as=act&by=person&from=${q.from}&to=${q.to}&step=${step}${key ? `&key=${key}` : '&all=yes'}`
  if (!q.who) return [{ title: `${showMoney(f.together[step])} ${step}, all timekeepers`, hint: `fees, ${span}`, to: to('') }]
  return who.map((p) => {
    const own = f.groups.find((g) => g.key === String(p.id))
    return { title: `${showMoney(own?.flow[step] ?? 0)} ${step}, ${p.name}`, hint: `fees, ${span}`, to: to(String(p.id)) }
  })
}

/** Answers about what a client owes, has unbilled, or has in trust. */
export async function ofClient(ctx: Ctx, q: Extract<Question, { is: 'owed' | 'unbilled' | 'trust' }>): Promise<Answer[]> {
  if (!('who' in q)) return []
  const part = q.is === 'trust' ? 'trust' : 'money'
  const sums = { owed: owedOn('m.id'), unbilled: `(${unbilledOn.time('m')} + ${unbilledOn.costs('m')} + ${unbilledOn.portions('m')})`, trust: `COALESCE((SELECT f.held FROM matter_figure f WHERE f.matter_id = m.id), 0)` } // prettier-ignore
  const found = matterIdsByWords(q.who)
  if (!found) return []
  const list = await rows<{ id: number; name: string; amount: number }>(
    ctx.db.manager,
    // All matters of a client have its name among their words, by which they are found at once.
    `SELECT c.id, c.name, SUM(${sums[q.is]}) AS amount FROM (${found.sql}) w JOIN matter m ON m.id = w.matter_id JOIN contact c ON c.id = m.client_id
      WHERE c.name LIKE ? AND ${contactScope(ctx.actor)} AND m.kind <> 'practice' AND ${matterScope(ctx.actor, 'm', part)} GROUP BY c.id ORDER BY amount DESC, c.name LIMIT ${few}`,
    [...found.values, `%${literal(q.who)}%`],
  )
  const words = { owed: 'owed by', unbilled: 'unbilled for', trust: 'in trust for' }[q.is]
  return list.map((c) => ({ title: `${showMoney(c.amount)} ${words} ${c.name}`, hint: 'of matters open to you', to: `/people/${c.id}` })) // prettier-ignore
}

/** Answers about matters with less in trust, or more owed or unbilled, than a sum. */
export async function byLimit(ctx: Ctx, q: Extract<Question, { amount: number }>): Promise<Answer[]> {
  const held = 'COALESCE(f.held, 0)'
  const by = {
    'trust below': { sql: held, where: `${held} < ?`, order: held, part: 'trust' as const, words: 'in trust', to: '/reports/trust' },
    'owed above': {
      sql: owedKept('f'),
      where: 'f.owed > ?',
      order: 'f.owed DESC',
      part: 'money' as const,
      words: 'owed',
      to: '/reports',
    },
    'unbilled above': {
      sql: 'COALESCE(f.unbilled, 0)',
      where: 'COALESCE(f.unbilled, 0) > ?',
      order: 'f.unbilled DESC',
      part: 'money' as const,
      words: 'unbilled',
      to: '/reports/unbilled',
    },
  }[q.is]
  // A matter that never had money in trust is not short of it.
  const had = q.is === 'trust below' ? `AND EXISTS (SELECT 1 FROM client_ledger l WHERE l.matter_id = m.id)` : ''
  const from = `FROM matter m LEFT JOIN matter_figure f ON f.matter_id = m.id WHERE m.closed_on IS NULL AND m.kind <> 'practice' AND ${matterScope(ctx.actor, 'm', by.part)} AND ${by.where} ${had}`
  const list = await rows<{ id: number; matter: string; amount: number }>(
    ctx.db.manager,
    `SELECT m.id, CONCAT(m.number, ' ', m.short_name) AS matter, ${by.sql} AS amount ${from} ORDER BY ${by.order}, m.id LIMIT ${few}`,
    [q.amount],
  )
  const n = (await row<{ n: number }>(ctx.db.manager, `SELECT COUNT(*) AS n ${from}`, [q.amount]))!.n
  const all = {
    title: `${n} with ${q.is.replace(' ', ' ')} ${showMoney(q.amount)}`,
    hint: n === 1 ? 'open matter' : 'open matters',
    to: by.to,
  }
  return [all, ...list.map((x) => ({ title: `${showMoney(x.amount)} ${by.words}, ${x.matter}`, hint: 'matter', to: `/matters/${x.id}/${q.is === 'trust below' ? 'trust' : 'time'}` }))] // prettier-ignore
}
