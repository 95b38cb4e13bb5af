import { audit } from '../platform/audit'
import { matterScope } from '../platform/access'
import { instant, isoOf, type Ctx } from '../platform/context'
import { row, rows, work } from '../platform/database'
import { jobKinds } from '../platform/jobs'
import { notFound } from '../platform/problem'
import { Job } from '../platform/entities'

const nounOf = (kind: string) => jobKinds()[kind]?.noun ?? kind

/** A letter that has waited for so long is told of on Today, like what has failed. */
const longHours = 4

/** What is stuck: given up after all its tries, or still waiting after at least one. */
const stuck = `(j.state = 'failed' OR (j.state = 'waiting' AND j.error IS NOT NULL))`

interface Stuck {
  id: number
  kind: string
  state: 'waiting' | 'failed'
  attempts: number
  createdAt: string
  runAfter: string
  error: string
  who: string
  to: string | null
  subject: string | null
}

/** Work in the background that did not go well, what failed first. Of a letter on a matter that is closed to the reader, no subject. */
export async function background(ctx: Ctx) {
  const list = await rows<Stuck>(
    ctx.db.manager,
    `SELECT j.id, j.kind, j.state, j.attempts, j.created_at AS createdAt, j.run_after AS runAfter, COALESCE(j.error, '') AS error, u.name AS who, l.to_name AS \`to\`,
            IF(l.matter_id IS NULL OR ${matterScope(ctx.actor)}, l.subject, NULL) AS subject
       FROM job j JOIN user_account u ON u.id = j.user_id
       LEFT JOIN mail l ON j.kind = 'send mail' AND l.message_key = JSON_VALUE(j.payload, '$.key') LEFT JOIN matter m ON m.id = l.matter_id
      WHERE j.state IN ('failed', 'waiting') AND ${stuck} ORDER BY j.state = 'waiting', j.id DESC LIMIT 200`,
  )
  return list.map(({ kind, ...j }) => ({
    ...j,
    what: nounOf(kind),
    createdAt: isoOf(j.createdAt),
    runAfter: j.state === 'failed' ? null : isoOf(j.runAfter),
  }))
}

/** How much is stuck so that somebody should look: what failed, and what has waited long. */
export async function stuckCount(ctx: Ctx): Promise<number> {
  const before = instant(new Date(ctx.clock.now().getTime() - longHours * 3_600_000))
  const found = await row<{ n: number }>(
    ctx.db.manager,
    `SELECT COUNT(*) AS n FROM job j WHERE j.state IN ('failed', 'waiting') AND ${stuck} AND (j.state = 'failed' OR j.created_at < ?)`,
    [before],
  )
  return found!.n
}

/** Puts it back to be done now, with all its tries before it, or gives it up for good. */
export function settleJob(ctx: Ctx, id: number, what: 'try again' | 'give up'): Promise<void> {
  return work(ctx, async (m) => {
    const job = await row<{ kind: string }>(m, `SELECT j.kind FROM job j WHERE j.id = ? AND ${stuck} FOR UPDATE`, [id])
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
