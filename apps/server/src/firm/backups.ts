import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertRow, work } from '../platform/database'
import { refused } from '../platform/problem'
import { Backup } from './entities'
import { backupUnderWay } from './queries'

/** Asks for a backup; one at a time. */
export function wantBackup(ctx: Ctx): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    if (await backupUnderWay(m)) throw refused('backup-running', 'A backup is being made already. It stands in the list when it is done.')
    const madeId = await insertRow(m, Backup, { wantedAt: instant(ctx.clock.now()), userId: ctx.actor.id })
    await audit(m, ctx, { kind: 'set up', text: 'Backup asked for', subject: 'backup', subjectId: madeId })
    return { id: madeId }
  })
}
