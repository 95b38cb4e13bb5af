import { areas, type Found, type Waiting, type Waterline } from '../platform/area'
import type { Ctx } from '../platform/context'

/** What the waterline shows of the reader's day. */
export async function waterline(ctx: Ctx): Promise<Waterline> {
  const line: Waterline = { timer: null, todayMinutes: 0, goalMinutes: 0, next: null, drafts: 0, trust: null }
  for (const own of areas()) {
    const part = await own.waterline?.(ctx)
    if (part) Object.assign(line, part, { drafts: line.drafts + (part.drafts ?? 0) })
  }
  return line
}

const order: Found['kind'][] = ['matter', 'person', 'paper', 'bill']

/** Matters, people, papers and bills by a few letters; only what the reader may see. */
export async function find(ctx: Ctx, q: string): Promise<Found[]> {
  const term = q.trim()
  if (term.length < 2) return []
  const found: Found[] = []
  for (const own of areas()) found.push(...((await own.find?.(ctx, term)) ?? []))
  return found.sort((a, b) => order.indexOf(a.kind) - order.indexOf(b.kind))
}

/** What waits on the reader: pre-bills to review or to issue, sheets to post, conflicts to decide. */
export async function waiting(ctx: Ctx): Promise<Waiting> {
  const all: Waiting = {
    preBills: null,
    approved: null,
    sheets: null,
    covers: 0,
    agree: 0,
    conflicts: 0,
    enquiries: 0,
    given: 0,
    stuck: 0,
    mail: 0,
    reviews: 0,
    stoppedJournals: 0,
    stoppedBills: 0,
    stoppedCosts: 0,
  }
  for (const own of areas()) Object.assign(all, await own.waiting?.(ctx))
  return all
}
