import { audit } from '../platform/audit'
import { instant, isoOf, type Ctx } from '../platform/context'
import { insertRow, row, rows, work } from '../platform/database'
import { refused } from '../platform/problem'
import { Backup } from './entities'

/** By the firm's clock; whoever runs the application makes it. */
export const nightly = '02:00'

/** Backups that were made or wanted, newest first. */
export async function backups(ctx: Ctx) {
  const m = ctx.db.manager
  const found = await rows<{
    id: number
    wantedAt: string
    who: string
    endedAt: string | null
    state: 'wanted' | 'running' | 'done' | 'failed'
    name: string
    place: string
    size: number
    tables: number
    rows: number
    files: number
    triedAt: string | null
    restored: number
    words: string
  }>(
    m,
    `SELECT b.id, b.wanted_at AS wantedAt, COALESCE(u.name, 'By night') AS who, b.ended_at AS endedAt, b.state, b.name, b.place, b.size, b.tables,
            b.row_count AS \`rows\`, b.files, b.tried_at AS triedAt, b.restored, b.words
       FROM backup b LEFT JOIN user_account u ON u.id = b.user_id ORDER BY b.id DESC LIMIT 60`,
  )
  return {
    place: found.find((b) => b.place)?.place ?? '',
    nightly,
    rows: found.map(({ place: _, ...b }) => ({
      ...b,
      restored: Boolean(b.restored),
      wantedAt: isoOf(b.wantedAt),
      endedAt: b.endedAt && isoOf(b.endedAt),
      triedAt: b.triedAt && isoOf(b.triedAt),
    })),
  }
}

/** Asks for a backup; one at a time. */
export function wantBackup(ctx: Ctx): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    if (await row(m, `SELECT 1 FROM backup WHERE state IN ('wanted', 'running') FOR UPDATE`))
      throw refused('backup-running', 'A backup is being made already. It stands in the list when it is done.')
    const madeId = await insertRow(m, Backup, { wantedAt: instant(ctx.clock.now()), userId: ctx.actor.id })
    await audit(m, ctx, { kind: 'set up', text: 'Backup asked for', subject: 'backup', subjectId: madeId })
    return { id: madeId }
  })
}
