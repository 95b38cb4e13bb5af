import { counted } from '@heron/core/words'
import type { MatterFilter } from '@heron/contract'
import { writeTable } from '@heron/core/formats'
import { fieldGroups } from '../fields'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { download } from '../platform/files'
import { matters, type Sort } from './list-queries'

const columnTexts: Record<string, string> = {
  number: 'Number',
  secondNumber: 'Second number',
  name: 'Matter',
  client: 'Client',
  area: 'Practice area',
  stage: 'Stage',
  court: 'Court',
  caseNumber: 'Case number',
  lead: 'Lead lawyer',
  originating: 'Originating lawyer',
  tags: 'Tags',
  openedOn: 'Opened',
  closedOn: 'Closed',
  activeOn: 'Last activity',
  next: 'Next date',
  conflicts: 'Conflict check',
  unbilled: 'Unbilled',
  owed: 'Owed',
  held: 'Held in trust',
}

/** All matters of a filter as CSV, with the columns that are shown, firm-defined ones as `f12` included. */
export async function exportMatters(ctx: Ctx, f: MatterFilter & { sort: Sort; columns: string }): Promise<File> {
  const m = ctx.db.manager
  const defs = new Map((await fieldGroups(m, 'matter')).flatMap((g) => g.fields.map((x) => [`f${x.id}` as string, x.name] as const)))
  const asked = f.columns.split(',').filter((c) => columnTexts[c] || defs.has(c))
  const columns = asked.length ? asked : ['number', 'name', 'client', 'area', 'stage', 'lead', 'openedOn', 'next']
  const money = columns.some((c) => ['unbilled', 'owed', 'held'].includes(c))
  const fields = columns
    .filter((c) => defs.has(c))
    .map((c) => c.slice(1))
    .join(',')
  const lines: string[][] = []
  for (let page = 1; ; page += 1) {
    const got = await matters(ctx, { ...f, money, fields, page, size: 1000 }, true)
    for (const r of got.rows)
      lines.push(
        columns.map((c) => {
          if (c === 'next') return [r.nextDay, r.nextTitle].filter(Boolean).join(' ')
          if (c === 'tags') return r.tags.join('; ')
          if (defs.has(c)) return r.fields[c.slice(1)] ?? ''
          const v = r[c as 'number' | 'unbilled']
          return v === null || v === undefined ? '' : typeof v === 'number' ? (v / 100).toFixed(2) : v
        }),
      )
    if (page * 1000 >= got.total || page >= 300) break
  }
  await audit(m, ctx, { kind: 'read', text: `List of ${counted(lines.length, 'matter')} written to a file`, subject: 'matter' })
  const table = writeTable(
    columns.map((c) => columnTexts[c] ?? defs.get(c)!),
    lines,
  )
  return download(Buffer.from(table), 'matters.csv', 'text/csv; charset=utf-8')
}
