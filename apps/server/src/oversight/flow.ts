import type { FlowIn, FlowLinesIn, FlowOut } from '@heron/contract'
import { daysBetween, type Day } from '@heron/core/calendar'
import { columnsOf } from '@heron/core/ledger'
import { share, sum } from '@heron/core/money'
import { addFlow, cutByMonths, flowSteps, noFlow, type Flow, type FlowStep } from '@heron/core/oversight'
import type { EntityManager } from 'typeorm'
import type { Ctx } from '../platform/context'
import { rows } from '../platform/database'
import { fieldFault, refused } from '../platform/problem'
import {
  groupNames,
  groupOf,
  groupsOfMatters,
  keeping,
  sideBySide,
  sourcesOf,
  type Source,
  isLong,
  linesBehind,
  most,
  mostDays,
  sumBehind,
  type Line,
  piecesOf,
  settledOf,
  weightsOf,
} from './flow-queries'
import { UserAccount } from '../platform/shared-entities'

export function judgeSpan(f: { from: Day; to: Day }) {
  if (f.from > f.to) throw fieldFault('to', 'It ends before it begins')
  if (daysBetween(f.from, f.to) > mostDays.ever) throw fieldFault('from', 'Give a span of at most thirty years')
}

/** Groups that are told by the matter. */
const ofMatter: ReadonlySet<FlowIn['by']> = new Set(['client', 'area', 'originating'])
/** Refuses a span that a request should not add up: it is added up in the background. */
export async function judgeAtOnce(ctx: Ctx, f: { from: Day; to: Day }) {
  judgeSpan(f)
  if (await isLong(ctx, f)) throw refused('long-span', 'This span is long. Let it be added up in the background.')
}
/** Months of a figure that stand beside one another. */
export function judgeBeside(f: Pick<FlowIn, 'from' | 'to' | 'beside'>): string[] {
  const months = columnsOf({ from: f.from, to: f.to }, 'months').map((c) => c.from.slice(0, 7))
  if (f.beside && months.at(-1)! < f.to.slice(0, 7)) throw fieldFault('from', 'At most 24 months stand beside one another')
  return months
}

async function named(ctx: Ctx, by: FlowIn['by'], keys: readonly string[]): Promise<Map<string, string>> {
  const sql = groupNames(ctx, by)
  const asked = keys.filter(Boolean).map(Number)
  if (!sql || !asked.length) return new Map()
  return new Map((await rows<{ k: number; name: string }>(ctx.db.manager, sql, [asked])).map((n) => [String(n.k), n.name]))
}

/** Adds up piece by piece in the background: pieces of calendar months, so that a fee's parts are the same as at once. */
export interface InPieces {
  m: EntityManager
  months: number
  told: (percent: number) => Promise<void>
}

/** What became of the work of a span, or what was done in it, by group, greatest first; with one figure by month beside. */
export async function flow(ctx: Ctx, f: FlowIn, long?: InPieces): Promise<FlowOut> {
  judgeSpan(f)
  const m = long?.m ?? ctx.db.manager
  const months = judgeBeside(f)
  const kept = await keeping(m, ctx)
  const byKey = new Map<string, { flow: Flow; months: number[] }>()
  const together = noFlow()
  const byMonth = months.map(() => 0)
  // What is told of matters is added up by matter, and each matter's group looked up once, not for each record.
  const by = ofMatter.has(f.by) ? 'matter' : f.by
  const spans = long ? cutByMonths(f, long.months) : [f]
  for (const [n, span] of spans.entries()) {
    const sources = sourcesOf({ ...span, as: f.as }).filter((s) => Object.keys(s.amounts).length && !s.amounts.open)
    const found = await sideBySide(sources.map((s) => () => piecesOf(m, kept, s, by, Boolean(f.beside)))) // prettier-ignore
    const groupOfMatter = ofMatter.has(f.by) ? await groupsOfMatters(m, f.by as 'client', [...new Set(found.flat().map((p) => Number(p.k)))]) : null // prettier-ignore
    for (const pieces of found) {
      for (const { k: own0, month, ...amounts } of pieces) {
        const k = groupOfMatter ? (groupOfMatter.get(Number(own0)) ?? null) : own0
        const own = byKey.get(String(k ?? '')) ?? { flow: noFlow(), months: months.map(() => 0) }
        addFlow(own.flow, amounts)
        addFlow(together, amounts)
        byKey.set(String(k ?? ''), own)
        const at = months.indexOf(month)
        if (f.beside && at >= 0) {
          own.months[at]! += monthly(f.beside, amounts)
          byMonth[at]! += monthly(f.beside, amounts)
        }
      }
    }
    await long?.told((100 * (n + 1)) / spans.length)
  }
  const all = [...byKey.entries()]
  // What is open is what was billed and neither taken off nor paid; only of work can it be told, not of acts.
  if (f.as === 'work') for (const own of [...all.map(([, o]) => o.flow), together]) own.open = own.billed - own.credited - own.writtenOff - own.collected // prettier-ignore
  const ordered =
    f.by === 'month'
      ? all.sort(([a], [b]) => (a < b ? 1 : -1))
      : all.sort(([, a], [, b]) => b.flow.worked - a.flow.worked || b.flow.collected - a.flow.collected)
  const listed = ordered.filter(([, o]) => flowSteps.some((s) => o.flow[s])).slice(0, most.groups)
  const names = await named(ctx, f.by, listed.map(([k]) => k)) // prettier-ignore
  return {
    groups: listed.map(([key, own]) => ({
      key,
      name: key ? (names.get(key) ?? key) : 'None',
      flow: own.flow,
      months: f.beside ? own.months : [],
    })),
    together,
    months: f.beside ? months.map((month, i) => ({ month, amount: byMonth[i]! })) : [],
  }
}
const monthly = (step: FlowStep, a: Partial<Flow>) =>
  step === 'open' ? (a.billed ?? 0) - (a.credited ?? 0) - (a.writtenOff ?? 0) - (a.collected ?? 0) : (a[step] ?? 0)

type FoundLine = Pick<Line, 'day' | 'matter' | 'matterId' | 'text' | 'bill' | 'billId' | 'amount'> & { key: string; who: string }
/** For how long a request looks through a long span. */
const lookFor = 4_000
/**
 * The entries behind one figure of the flow, and what they come to together. Of a long span only the latest are looked for, quarter by
 * quarter from its end; what they come to was added up in the background.
 */
export async function flowLines(ctx: Ctx, f: FlowLinesIn) {
  judgeSpan(f)
  const m = ctx.db.manager
  if (f.key && !(f.by === 'month' ? /^\d{4}-\d{2}$/ : /^\d{1,10}$/).test(f.key)) throw fieldFault('key', 'Choose one of the groups')
  const kept = await keeping(m, ctx)
  const long = await isLong(ctx, f)
  const until = performance.now() + lookFor
  const found: FoundLine[] = []
  let total = 0
  let more = false
  for (const span of long ? cutByMonths(f, 3).reverse() : [f]) {
    if (long && (found.length > most.lines || performance.now() > until)) {
      more = true
      break
    }
    for (const [n, s] of sourcesOf({ ...span, as: f.as }).entries()) {
      const own = await linesOf(m, kept, s, f, !long)
      if (!own) continue
      total += own.total
      if (own.lines.length > most.lines) more = true
      for (const l of own.lines.slice(0, most.lines)) if (l.amount) found.push({ key: `${n}-${l.id}`, day: l.day, who: l.who ?? '', matter: l.matter, matterId: l.matterId, text: l.text, bill: l.bill, billId: l.billId, amount: l.amount }) // prettier-ignore
    }
  }
  const listed = found.sort((a, b) => (a.day < b.day ? 1 : a.day > b.day ? -1 : 0))
  // A group is named only to who sees something of it.
  const name = f.all ? 'All' : f.key && listed.length ? ((await named(ctx, f.by, [f.key])).get(f.key) ?? f.key) : 'None'
  return { name, total: long ? null : total, rows: listed.slice(0, most.lines), more: more || listed.length > most.lines }
}

/** What one source has behind a figure: the latest lines, and where they are `added` up what all come to. */
async function linesOf(m: EntityManager, kept: Awaited<ReturnType<typeof keeping>>, s: Source, f: FlowLinesIn, added: boolean) {
  const amount = s.amounts[f.step]
  if (!amount) return null
  const key = f.by === 'month' || !f.key ? f.key : Number(f.key)
  const k = kept(s.matter, true)
  const sharesFee = s.fee && f.by === 'person' && f.all === ''
  if (sharesFee && key === '') return null
  const narrow = f.all || sharesFee ? '' : key === '' ? `AND ${groupOf(f.by, s)} IS NULL` : `AND ${groupOf(f.by, s)} = ?`
  const values = [...s.values, ...(narrow.includes('?') || sharesFee ? [key] : [])]
  const lines = await linesBehind(m, s, k, { amount, narrow, sharesFee }, values)
  if (sharesFee) {
    if (lines.length > most.fees) throw fieldFault('from', 'Too many fees stand behind it. Give a shorter span')
    const own = await partsOf(m, lines, Number(key), f.step)
    return { lines: own, total: sum(own.map((l) => l.amount)) }
  }
  if (!added) return { lines, total: 0 }
  const all = await sumBehind(m, s, k, { amount, narrow }, values)
  return { lines, total: all[0]!.amount }
}

/** One timekeeper's part of each line of a fee, shared as the sums are: by line and month. */
async function partsOf(m: EntityManager, lines: readonly Line[], keeper: number, step: FlowStep): Promise<Line[]> {
  const ids = [...new Set(lines.map((l) => l.lineId!))]
  const weights = await weightsOf(m, ids)
  const settled = step === 'open' ? await settledOf(m, ids, keeper) : null
  const who = (await m.find(UserAccount, { select: { name: true, id: true }, where: { id: keeper } }))[0]?.name ?? ''
  const so = new Map<string, { sum: number; had: number }>()
  const out: Line[] = []
  for (const l of [...lines].reverse()) {
    const own = weights.get(l.lineId!)
    const at = own?.keepers.indexOf(keeper) ?? -1
    if (!own || at < 0) continue
    const part = (amount: number) => share(amount, own.weights)[at]!
    let amount: number
    if (step === 'feeDifference') amount = part(l.net ?? 0) + part(l.discount ?? 0)
    else if (settled) {
      const s = settled.get(l.lineId!)
      amount = part(l.net ?? 0) - part(s?.credited ?? 0) - part(s?.writtenOff ?? 0) - (s?.collected ?? 0)
    } else {
      // Each of several documents has what the share grows by with it, so that its parts are those of the sum.
      const key = `${l.lineId} ${l.month}`
      const state = so.get(key) ?? { sum: 0, had: 0 }
      state.sum += l.amount
      amount = part(state.sum) - state.had
      state.had += amount
      so.set(key, state)
    }
    out.push({ ...l, who, amount })
  }
  return out.reverse()
}
