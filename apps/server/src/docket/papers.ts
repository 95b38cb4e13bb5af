import type { EntityManager } from 'typeorm'
import { rows } from '../platform/database'

/** What of the docket hangs on papers, in words by the paper's id: dates that come of one, events entered from one, papers attached. */
export async function datesOnPapers(m: EntityManager, ids: readonly number[]): Promise<Map<number, string>> {
  if (!ids.length) return new Map()
  const found = await rows<{ id: number; text: string }>(
    m,
    `SELECT e.paper_id AS id, CONCAT('the date ', e.title) AS text FROM docket_entry e WHERE e.paper_id IN (?) AND e.removed_at IS NULL
      UNION ALL SELECT x.paper_id, CONCAT('the date ', e.title) FROM docket_entry_paper x JOIN docket_entry e ON e.id = x.entry_id WHERE x.paper_id IN (?) AND e.removed_at IS NULL
      UNION ALL SELECT t.paper_id, 'an event of the docket' FROM trigger_event t WHERE t.paper_id IN (?) AND t.removed_at IS NULL`,
    [ids, ids, ids],
  )
  return new Map(found.map((f) => [f.id, f.text]))
}
