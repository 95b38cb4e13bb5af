import type { LogFilter } from '@heron/contract'
import { addDays } from '@heron/core/calendar'
import { writeTable } from '@heron/core/formats'
import { counted } from '@heron/core/words'
import { changesIn } from '../matters'
import { logOpenTo } from '../platform/acts'
import { audit } from '../platform/audit'
import { isoOf, type Ctx } from '../platform/context'
import { literal, mostWords, rows } from '../platform/database'
import { download } from '../platform/files'

/** How far back words are looked for where no day is given. */
const mostDays = 400

interface Logged {
  id: number
  at: string
  who: string
  kind: string
  text: string
  matterId: number | null
  matter: string | null
  detail: string | null
}

function find(ctx: Ctx, f: LogFilter, before: number | undefined, most: number): Promise<Logged[]> {
  const where = [logOpenTo(ctx)]
  const values: (string | number)[] = []
  const add = (sql: string, ...own: (string | number)[]) => {
    where.push(sql)
    values.push(...own)
  }
  if (before) add(`l.id < ?`, before)
  if (f.userId) add(`l.user_id = ?`, f.userId)
  if (f.matterId) add(`l.matter_id = ?`, f.matterId)
  if (f.kind) add(`l.kind = ?`, f.kind)
  // Words are looked for in a year and a month, unless a day says otherwise: the log grows for ever.
  const from = f.from ?? (f.q ? addDays(f.to ?? ctx.clock.today(), -mostDays) : undefined)
  if (from) add(`l.at >= ?`, from)
  if (f.to) add(`l.at < ? + INTERVAL 1 DAY`, f.to)
  for (const word of f.q.split(/\s+/).filter(Boolean).slice(0, mostWords)) add(`l.text LIKE ?`, `%${literal(word)}%`)
  return rows<Logged>(
    ctx.db.manager,
    `SELECT l.id, l.at, COALESCE(u.name, 'The application') AS who, l.kind, l.text, l.matter_id AS matterId, m.short_name AS matter, l.detail
       FROM audit_log l LEFT JOIN matter m ON m.id = l.matter_id LEFT JOIN user_account u ON u.id = l.user_id
      WHERE ${where.join(' AND ')} ORDER BY l.id DESC LIMIT ${Number(most)}`,
    values,
  )
}

const shown = ({ detail, ...l }: Logged) => ({ ...l, at: isoOf(l.at), changes: changesIn(detail) })

/** What was done in the firm, newest first, as far as it is open to the reader; further back from the last one seen. */
export async function auditLog(ctx: Ctx, f: LogFilter & { before?: number | undefined; size: number }) {
  const found = await find(ctx, f, f.before, f.size + 1)
  const kinds = await rows<{ kind: string }>(ctx.db.manager, `SELECT DISTINCT kind FROM audit_log ORDER BY kind LIMIT 200`)
  return { rows: found.slice(0, f.size).map(shown), more: found.length > f.size, kinds: kinds.map((k) => k.kind) }
}

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
