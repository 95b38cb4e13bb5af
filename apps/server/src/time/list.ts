import type { TimeFilter } from '@heron/contract'
import { writeTable } from '@heron/core/formats'
import { counted } from '@heron/core/words'
import { fieldGroups } from '../fields'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { download } from '../platform/files'
import { most, timeByIds, timeIds } from './list-queries'

type Listed = Awaited<ReturnType<typeof timeByIds>>[number]
const columns: Record<string, [text: string, value: (t: Listed) => string]> = {
  day: ['Date', (t) => t.day],
  who: ['Timekeeper', (t) => t.who],
  matter: ['Matter', (t) => t.matter],
  client: ['Client', (t) => t.client],
  text: ['Work', (t) => t.text],
  activity: ['Activity', (t) => t.activity ?? ''],
  task: ['Task', (t) => t.task ?? ''],
  times: ['From – to', (t) => (t.start ? `${t.start}–${t.end}` : '')],
  inCourt: ['In court', (t) => (t.inCourt ? 'yes' : '')],
  funding: ['Funding', (t) => t.funding ?? ''],
  privateAttorney: ['Private attorney', (t) => (t.privateAttorney ? 'yes' : '')],
  charge: ['Charge', (t) => t.charge],
  state: ['State', (t) => (t.billed ? `billed ${t.billed}` : t.state)],
  rateOrigin: ['Rate by', (t) => t.rateOrigin],
  minutes: ['Hours', (t) => (t.minutes / 60).toFixed(2)],
  rate: ['Rate', (t) => (t.rate / 100).toFixed(2)],
  amount: ['Amount', (t) => (t.amount / 100).toFixed(2)],
}

/** The time of a filter as CSV, with the columns that are shown; at most as many rows as are added up at once. */
export async function timeFile(ctx: Ctx, { columns: asked, ...f }: TimeFilter & { columns: string }): Promise<File> {
  const defs = new Map<string, string>(
    (await fieldGroups(ctx.db.manager, 'time')).flatMap((g) => g.fields.map((x) => [`f${x.id}`, x.name] as [string, string])),
  )
  const shown = asked.split(',').filter((c) => columns[c] || defs.has(c))
  const chosen = shown.length ? shown : Object.keys(columns)
  const fields = chosen.flatMap((c) => (defs.has(c) ? [c.slice(1)] : [])).join(',')
  const lines: string[][] = []
  // All ids at once, since a page far down is found only by going through those before it.
  const ids = await timeIds(ctx, f, most.entries)
  for (let at = 0; at < ids.length; at += 2000)
    for (const t of await timeByIds(ctx, ids.slice(at, at + 2000), fields, true))
      lines.push(chosen.map((c) => columns[c]?.[1](t) ?? t.fields[c.slice(1)] ?? ''))
  await audit(ctx.db.manager, ctx, { kind: 'read', text: `List of ${counted(lines.length, 'entry', 'entries')} of time written to a file`, subject: 'time' }) // prettier-ignore
  return download(Buffer.from(writeTable(chosen.map((c) => columns[c]?.[0] ?? defs.get(c)!), lines)), 'time.csv', 'text/csv; charset=utf-8') // prettier-ignore
}
