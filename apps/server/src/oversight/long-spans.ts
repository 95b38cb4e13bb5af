import { spanReports, type FiguresIn, type ReportKey, type ReportWhat } from '@heron/contract'
import { aFewTries, jobKind } from '../platform/area'
import type { Ctx } from '../platform/context'
import { work } from '../platform/database'
import { enqueue } from '../platform/enqueue'
import { giveUpJobs, jobResult } from '../platform/jobs'
import { report, spanOf, type Added, type Asked } from './files'
import { flow, judgeAtOnce, judgeBeside, judgeSpan } from './flow'

const kind = 'add up figures'
const overSpan = (what: ReportWhat): boolean => spanReports.some((s) => s === what)
/** A report over a span that a request should not add up is refused. */
export async function judgeReport(ctx: Ctx, what: ReportWhat, f: Pick<Asked, 'from' | 'to'>): Promise<void> {
  if (overSpan(what)) await judgeAtOnce(ctx, spanOf(ctx, f))
}

/** Adds up a long span beside the requests. Of one person only the last is done: whoever asks anew waits no more for what was before. */
export const addUp = (ctx: Ctx, asked: FiguresIn) =>
  work(ctx, async (m) => {
    judgeSpan(asked)
    if (asked.what === 'flow') judgeBeside(asked)
    await giveUpJobs(m, ctx, kind)
    return { jobId: await enqueue(m, ctx, kind, asked) }
  })

export const added = async (ctx: Ctx, id: number): Promise<Added> => (await jobResult(ctx, id, kind)) as Added

/** A quarter at a time, on what stood when it began. */
const adding = jobKind<FiguresIn>({
  noun: 'sum of a long span',
  waits: aFewTries,
  lane: 'figures',
  run: async (ctx, asked, told): Promise<Added> => {
    if (asked.what === 'flow')
      return {
        asked,
        flow: await ctx.db.transaction('REPEATABLE READ', (m) => flow(ctx, asked, { m, months: 3, told })),
        table: null,
      }
    await told(10)
    return {
      asked,
      flow: null,
      table: await report(ctx, asked.what as ReportKey, { from: asked.from, to: asked.to, by: 'court', days: 60 }),
    }
  },
})
export const figureJobs = { [kind]: adding }
