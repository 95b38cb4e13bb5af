import type { rateKinds } from '@heron/contract'
import { change, matterScope, nameFor } from '../platform/access'
import type { Ctx } from '../platform/context'
import { literal, row, rows } from '../platform/database'

type Kind = (typeof rateKinds)[number]
interface Rate {
  key: string
  kind: Kind
  who: string
  of: string
  ofId: number | null
  rate: number
  from: string | null
  to: string | null
}

/** Every rate by which an hour is priced, in the order in which they are asked; of matters those whose money is open to the reader. */
export async function allRates(ctx: Ctx, f: { q: string; kind?: Kind | undefined; past: 'yes' | 'no'; page: number; size: number }) {
  const today = ctx.clock.today()
  const scope = matterScope(ctx.actor, 'm', 'money', change)
  const client = nameFor(ctx.actor)
  const union = `
    SELECT 1 AS o, CONCAT('m', t.matter_id, '-', t.user_id) AS \`key\`, 'matter' AS kind, u.name AS who, CONCAT(m.number, ' ', m.short_name) AS \`of\`, m.id AS ofId, t.rate, NULL AS \`from\`, NULL AS \`to\`
      FROM matter_team t JOIN user_account u ON u.id = t.user_id JOIN matter m ON m.id = t.matter_id WHERE t.rate IS NOT NULL AND m.closed_on IS NULL AND ${scope}
    UNION ALL SELECT 2, CONCAT('c', r.client_id, '-', r.user_id), 'client', u.name, ${client}, c.id, r.rate, NULL, NULL
      FROM client_rate r JOIN user_account u ON u.id = r.user_id JOIN contact c ON c.id = r.client_id
    UNION ALL SELECT 3, CONCAT('r', r.matter_id, '-', r.role), 'role', r.role, CONCAT(m.number, ' ', m.short_name), m.id, r.rate, NULL, NULL
      FROM role_rate r JOIN matter m ON m.id = r.matter_id WHERE m.closed_on IS NULL AND ${scope}
    UNION ALL SELECT 4, CONCAT('a', a.code), 'activity', CONCAT(a.name, ' (', a.code, ')'), '', NULL, a.rate, NULL, NULL FROM activity a WHERE a.rate IS NOT NULL
    UNION ALL SELECT 5, CONCAT('u', r.id), 'timekeeper', u.name, IF(r.usual, '', 'only where chosen'), NULL, r.rate, r.from_day, r.to_day
      FROM user_rate r JOIN user_account u ON u.id = r.user_id WHERE u.active AND (? = 'yes' OR r.to_day IS NULL OR r.to_day >= ?)`
  const where = `(? = '' OR x.kind = ?) AND (? = '' OR x.who LIKE ? OR x.of LIKE ?)`
  const like = `%${literal(f.q)}%`
  const values = [f.past, today, f.kind ?? '', f.kind ?? '', f.q, like, like]
  const found = await rows<Rate>(
    ctx.db.manager,
    `SELECT x.key, x.kind, x.who, x.of, x.ofId, x.rate, x.from, x.to FROM (${union}) x WHERE ${where} ORDER BY x.o, x.of, x.who, x.from DESC LIMIT ? OFFSET ?`,
    [...values, f.size, (f.page - 1) * f.size],
  )
  const count = await row<{ n: number }>(ctx.db.manager, `SELECT COUNT(*) AS n FROM (${union}) x WHERE ${where}`, values)
  return { rows: found, total: count!.n }
}
