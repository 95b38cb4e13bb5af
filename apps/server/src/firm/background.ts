import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { work } from '../platform/database'
import { notFound } from '../platform/problem'
import { Job } from '../platform/entities'
import { nounOf, stuckJob } from './queries'

/** Puts it back to be done now, with all its tries before it, or gives it up for good. */
export function settleJob(ctx: Ctx, id: number, what: 'try again' | 'give up'): Promise<void> {
  return work(ctx, async (m) => {
    const job = await stuckJob(m, id)
    if (!job) throw notFound('job that waits')
    if (what === 'try again')
      await m.update(Job, { id }, { state: 'waiting', attempts: 0, runAfter: instant(ctx.clock.now()), error: null })
    else await m.update(Job, { id }, { state: 'done', result: '"given up"' })
    const name = nounOf(job.kind)
    await audit(m, ctx, {
      kind: 'set up',
      text: `${name.charAt(0).toUpperCase()}${name.slice(1)} in the background: ${what === 'try again' ? 'tried again' : 'given up'}`,
      subject: 'firm',
      subjectId: id,
    })
  })
}
