import type { FiguresIn, flowGroups, FlowOut, matterGroups, ReportKey, ReportTable, ReportWhat } from '@heron/contract'
import { dayOf, parts, showDay, type Day } from '@heron/core/calendar'
import { flowSteps, flowWords, realization } from '@heron/core/oversight'
import type { Ctx } from '../platform/context'
import { fieldFault } from '../platform/problem'
import type { TableFile } from '../platform/table-file'
import { flow, judgeSpan } from './flow'
import { budgets, daysToTrial, idleMatters, mattersBy } from './reports/matter-queries'
import { originating } from './reports/money'
import { delays, funding, profit, retainers, trustListing, unbilledByAge } from './reports/money-queries'
import { weeks } from './weeks'

export interface Asked {
  asOf?: Day | undefined
  from?: Day | undefined
  to?: Day | undefined
  by: (typeof matterGroups)[number]
  group: (typeof flowGroups)[number]
  days: number
  weeks: number
  as: 'work' | 'act'
}
/** The span that is asked for; this year so far where none is. */
export function spanOf(ctx: Ctx, f: Pick<Asked, 'from' | 'to'>): { from: Day; to: Day } {
  const to = f.to ?? ctx.clock.today()
  const span = { from: f.from ?? dayOf(parts(to)[0], 1, 1), to }
  judgeSpan(span)
  return span
}

/** A report by its name, as the reader may see it. */
export function report(ctx: Ctx, key: ReportKey, f: Pick<Asked, 'from' | 'to' | 'by' | 'days'>): Promise<ReportTable> {
  switch (key) {
    case 'unbilled':
      return unbilledByAge(ctx)
    case 'trust':
      return trustListing(ctx)
    case 'retainers':
      return retainers(ctx)
    case 'matters':
      return mattersBy(ctx, f.by)
    case 'idle':
      return idleMatters(ctx, f.days)
    case 'budget':
      return budgets(ctx)
    case 'trial':
      return daysToTrial(ctx)
    case 'profit':
      return profit(ctx, spanOf(ctx, f))
    case 'funding':
      return funding(ctx, spanOf(ctx, f))
    case 'originating':
      return originating(ctx, spanOf(ctx, f))
    case 'delays':
      return delays(ctx, spanOf(ctx, f))
  }
}

/** The weeks as a table: each week's hours, value and share of the goal, and the month. */
async function weeksTable(ctx: Ctx, f: Asked): Promise<ReportTable> {
  const w = await weeks(ctx, { asOf: f.asOf, weeks: f.weeks })
  type Cell = (typeof w.totals.weeks)[number]
  const each = w.weeks.map((x, n) => ({ at: `w${n}`, text: `to ${showDay(x.to)}`, of: (r: { weeks: Cell[] }) => r.weeks[n]! }))
  const all = [...each, { at: 'm', text: 'Month so far', of: (r: { month: Cell }) => r.month }] as { at: string; text: string; of: (r: { weeks: Cell[]; month: Cell }) => Cell }[] // prettier-ignore
  const late = w.look !== null
  const cells = (r: { weeks: Cell[]; month: Cell }) =>
    all.flatMap((c) => {
      const x = c.of(r)
      return [x.minutes, x.worth, x.goal, x.share, ...(late ? [x.late?.worth ?? null] : [])]
    })
  return {
    title: 'Week by timekeeper',
    under: `weeks up to ${showDay(w.weeks[0]!.to)}`,
    columns: [
      { key: 'name', text: 'Timekeeper', kind: 'text' },
      { key: 'stopped', text: 'Stands out', kind: 'text' },
      ...all.flatMap((c) => [
        { key: `${c.at}h`, text: `Hours ${c.text}`, kind: 'hours' as const },
        { key: `${c.at}v`, text: `Value ${c.text}`, kind: 'money' as const },
        { key: `${c.at}g`, text: `Goal ${c.text}`, kind: 'money' as const },
        { key: `${c.at}s`, text: `Of goal ${c.text}`, kind: 'share' as const },
        ...(late ? [{ key: `${c.at}l`, text: `Late ${c.text}`, kind: 'money' as const }] : []),
      ]),
    ],
    rows: w.rows.map((r) => ({ key: String(r.id), to: null, cells: [r.name, r.stopped ? 'stopped recording' : '', ...cells(r)] })),
    totals: ['Together', null, ...cells(w.totals)],
    more: false,
    bars: [],
  }
}

async function flowTable(ctx: Ctx, f: Asked, was: FlowOut | null): Promise<ReportTable> {
  const span = spanOf(ctx, f)
  const x = was ?? (await flow(ctx, { ...span, as: f.as, by: f.group }))
  const steps = flowSteps.filter((s) => x.together[s] !== 0 || s === 'worked' || s === 'billed' || s === 'collected')
  const cells = (own: typeof x.together) => {
    const r = realization(own)
    return [...steps.map((s) => own[s]), ...(f.as === 'work' ? [r.billing, r.collection] : [])]
  }
  return {
    title: f.as === 'work' ? 'What became of the work' : 'Worked, billed and collected',
    under: `fees, ${showDay(span.from)} to ${showDay(span.to)}`,
    columns: [
      { key: 'name', text: 'Of', kind: 'text' },
      ...steps.map((s) => ({ key: s, text: flowWords[s], kind: 'money' as const })),
      ...(f.as === 'work'
        ? [
            { key: 'billing', text: 'Billed of worked', kind: 'share' as const },
            { key: 'collection', text: 'Collected of billed', kind: 'share' as const },
          ]
        : []),
    ],
    rows: x.groups.map((g) => ({ key: g.key, to: null, cells: [g.name, ...cells(g.flow)] })),
    totals: ['Together', ...cells(x.together)],
    more: false,
    bars: [],
  }
}

/** What a long span came to, with the question that it answers. */
export interface Added {
  asked: FiguresIn
  flow: FlowOut | null
  table: ReportTable | null
}
function judgeAdded(ctx: Ctx, what: ReportWhat, f: Asked, { asked }: Added) {
  const span = spanOf(ctx, f)
  const same = asked.what === what && asked.from === span.from && asked.to === span.to
  if (!same || (what === 'flow' && (asked.as !== f.as || asked.by !== f.group)))
    throw fieldFault('added', 'These figures answer another question. Let them be added up anew')
}

/** Any report as it is written to a file or sent, with the columns asked for; all of them where nothing is said. */
export async function fileOf(
  ctx: Ctx,
  what: ReportWhat,
  f: Asked,
  { columns = '', was }: { columns?: string; was?: Added | undefined } = {},
): Promise<TableFile> {
  if (was) judgeAdded(ctx, what, f, was)
  const t =
    what === 'weeks'
      ? await weeksTable(ctx, f)
      : what === 'flow'
        ? await flowTable(ctx, f, was?.flow ?? null)
        : (was?.table ?? (await report(ctx, what, f)))
  const asked = columns.split(',').filter((c) => t.columns.some((x) => x.key === c))
  const at = (asked.length ? asked : t.columns.map((c) => c.key)).map((key) => t.columns.findIndex((c) => c.key === key))
  const pick = <T>(list: readonly T[]) => at.map((i) => list[i]!)
  return {
    title: t.title,
    under: t.under,
    file: `${what}-${ctx.clock.today()}`,
    columns: pick(t.columns).map(({ text, kind }) => ({ text, kind })),
    rows: [...t.rows.map((r) => ({ cells: pick(r.cells) })), ...(t.rows.length ? [{ cells: pick(t.totals), is: 'sum' as const }] : [])],
  }
}
