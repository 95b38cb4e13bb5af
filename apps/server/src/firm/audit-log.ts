import type { LogFilter } from '@heron/contract'
import { writeTable } from '@heron/core/formats'
import { counted } from '@heron/core/words'
import { changesIn } from '../matters'
import { audit } from '../platform/audit'
import { isoOf, type Ctx } from '../platform/context'
import { download } from '../platform/files'
import { find } from './queries'

const mostLines = 50_000

/** The same as CSV, at most 50,000 acts; that it was written out is itself an act. */
export async function auditFile(ctx: Ctx, f: LogFilter): Promise<File> {
  const lines: (string | number)[][] = []
  for (let before: number | undefined; lines.length < mostLines;) {
    const found = await find(ctx, f, before, 2000)
    for (const l of found)
      lines.push([
        isoOf(l.at),
        l.who,
        l.kind,
        l.matter ?? '',
        l.text,
        changesIn(l.detail)
          .map((c) => `${c.what}: ${c.was} → ${c.became}`)
          .join('; '),
      ])
    before = found.at(-1)?.id
    if (found.length < 2000) break
  }
  await audit(ctx.db.manager, ctx, { kind: 'read', text: `Log written to a file, ${counted(lines.length, 'act')}`, subject: 'firm' })
  const table = writeTable(['At', 'Who', 'Kind', 'Matter', 'What', 'Changes'], lines.slice(0, mostLines))
  return download(Buffer.from(table), `log-${ctx.clock.today()}.csv`, 'text/csv; charset=utf-8')
}
