import type { Day } from '@heron/core/calendar'
import { journalText, plainAccount } from '@heron/core/formats'
import type { AccountKind } from '@heron/core/ledger'
import { matterScope, nameFor } from '../../platform/access'
import type { Ctx } from '../../platform/context'
import { rows } from '../../platform/database'
import { keptFrom } from './journals'

interface Line {
  id: number
  day: Day
  memo: string
  subject: string
  subjectId: number | null
  bill: string | null
  code: string
  name: string
  kind: AccountKind
  amount: number
  matter: string | null
  client: string | null
  who: string | null
}
/** So many journals at once, so that nobody else waits while they are written. */
const atOnce = 2_000

/**
 * Every posted journal up to a day as plain text, so that another program can check any balance; matter, client, timekeeper and
 * document stand as tags. Of a matter that is closed to the reader it has the sums and not the words.
 */
export async function exportJournals(ctx: Ctx, to: Day): Promise<string> {
  const m = ctx.db.manager
  const ids = await rows<{ id: number }>(m, `SELECT j.id FROM journal j WHERE j.day <= ? ORDER BY j.day, j.id`, [to])
  const out: string[] = []
  for (let at = 0; at < ids.length; at += atOnce) {
    const lines = await rows<Line>(
      m,
      `SELECT j.id, j.day, CASE WHEN ${keptFrom(ctx)} THEN j.kind ELSE j.memo END AS memo, j.subject, j.subject_id AS subjectId, b.number AS bill, a.code, a.name, a.kind, l.amount,
              IF(${matterScope(ctx.actor)}, m.number, NULL) AS matter, IF(${matterScope(ctx.actor)}, ${nameFor(ctx.actor)}, NULL) AS client, u.name AS who
         FROM journal j JOIN journal_line l ON l.journal_id = j.id JOIN account a ON a.id = l.account_id LEFT JOIN matter m ON m.id = l.matter_id LEFT JOIN contact c ON c.id = m.client_id
         LEFT JOIN bill b ON b.id = l.bill_id LEFT JOIN user_account u ON u.id = l.timekeeper_id
        WHERE j.id IN (?) ORDER BY j.day, j.id, l.id`,
      [ids.slice(at, at + atOnce).map((j) => j.id)],
    )
    for (let i = 0; i < lines.length;) {
      const head = lines[i]!
      const own: Line[] = []
      while (lines[i]?.id === head.id) own.push(lines[i++]!)
      const document = head.subject && head.subjectId && head.subject !== 'bill' ? `${head.subject} ${head.subjectId}` : ''
      out.push(
        journalText({
          id: head.id,
          day: head.day,
          memo: head.memo,
          tags: { document },
          lines: own.map((l) => ({
            account: plainAccount(l.kind, l.code, l.name),
            cents: l.amount,
            tags: { matter: l.matter ?? '', client: l.client ?? '', timekeeper: l.who ?? '', bill: l.matter ? (l.bill ?? '') : '' },
          })),
        }),
      )
    }
  }
  return out.join('\n')
}
