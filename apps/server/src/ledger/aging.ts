import { agingBuckets, agingOf } from '@heron/core/billing'
import type { Day } from '@heron/core/calendar'
import { sum } from '@heron/core/money'
import { matterScope } from '../platform/access'
import type { Ctx } from '../platform/context'
import { rows } from '../platform/database'
import { openAsOf } from '../platform/figures'

/** What each payer owes as of a day, by days past due; payments applied later do not count yet. */
export async function aging(ctx: Ctx, asOf: Day) {
  const bills = await rows<{ payerId: number; payer: string; due: Day; open: number }>(
    ctx.db.manager,
    `SELECT c.id AS payerId, c.name AS payer, b.due_on AS due, ${openAsOf('b')} AS open
       FROM bill b JOIN contact p ON p.id = b.payer_id JOIN contact c ON c.id = COALESCE(p.merged_into, p.id) JOIN matter m ON m.id = b.matter_id
      WHERE b.issued_on <= ? AND ${matterScope(ctx.actor, 'm', 'money')} HAVING open <> 0 ORDER BY c.name, b.id`,
    [asOf, asOf],
  )
  const byPayer = new Map<number, { payer: string; payerId: number; buckets: number[] }>()
  for (const b of bills) {
    const line = byPayer.get(b.payerId) ?? { payer: b.payer, payerId: b.payerId, buckets: agingBuckets.map(() => 0) }
    line.buckets[agingBuckets.indexOf(agingOf(b.due, asOf))]! += b.open
    byPayer.set(b.payerId, line)
  }
  const list = [...byPayer.values()].map((l) => ({ ...l, total: sum(l.buckets) })).sort((a, b) => b.total - a.total)
  return {
    rows: list,
    together: { buckets: agingBuckets.map((_, i) => sum(list.map((l) => l.buckets[i]!))), total: sum(list.map((l) => l.total)) },
  }
}
