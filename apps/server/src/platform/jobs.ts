import type { Logger } from 'pino'
import type { EntityManager } from 'typeorm'
import { areas, type JobKind } from './area'
import { actorOf } from './auth'
import { instant, type Ctx } from './context'
import { row, run } from './database'
import { letters, NotYet } from './mail'
import { notFound, Problem } from './problem'

/** Kinds of jobs by name: those of the areas, and the letters of the house. */
export const jobKinds = (): Record<string, JobKind> =>
  Object.assign({ 'send mail': letters }, ...areas().map((a) => a.jobs)) as Record<string, JobKind>

export async function jobState(ctx: Ctx, id: number) {
  const found = await row<{ state: 'waiting' | 'running' | 'done' | 'failed'; progress: number; error: string | null }>(
    ctx.db.manager,
    `SELECT state, progress, error FROM job WHERE id = ? AND user_id = ?`,
    [id, ctx.actor.id],
  )
  if (!found) throw notFound('job')
  return found
}

/** What someone's work of a kind came to, while it is an hour old at most: what was open to them then may not be later. */
export async function jobResult(ctx: Ctx, id: number, kind: string): Promise<unknown> {
  const found = await row<{ state: string; result: string | null }>(
    ctx.db.manager,
    `SELECT state, result FROM job WHERE id = ? AND user_id = ? AND kind = ? AND created_at > ?`,
    [id, ctx.actor.id, kind, later(ctx.clock.now(), -3600)],
  )
  if (found?.state !== 'done' || !found.result) throw notFound('figures that were added up')
  return JSON.parse(found.result)
}

/** Nobody waits for it any more: what runs ends at its next step. */
export const giveUpJobs = (m: EntityManager, ctx: Ctx, kind: string) =>
  run(m, `UPDATE job SET state = 'done', result = NULL WHERE state IN ('waiting', 'running') AND kind = ? AND user_id = ?`, [
    kind,
    ctx.actor.id,
  ])
class GivenUp extends Error {}

const later = (now: Date, seconds: number) => instant(new Date(now.getTime() + seconds * 1000))

/** Letters wait on another machine, which may not answer: they have a worker of their own, so that nothing else waits with them. */
type Which = 'all' | 'letters' | 'papers' | 'words' | 'bills' | 'figures' | 'others'
/** Which kinds a worker takes; papers that someone waits for do not stand behind a day's uploads. */
function ofKind(which: Which): string {
  if (which === 'all') return ''
  const laneOf = (name: string, kind: JobKind): Which => (name === 'send mail' ? 'letters' : (kind.lane ?? 'others'))
  const of = (lane: (name: Which) => boolean) =>
    Object.entries(jobKinds())
      .flatMap(([name, kind]) => (lane(laneOf(name, kind)) ? [`'${name}'`] : []))
      .join(', ') || "''"
  // What belongs to no lane, also work of a kind that nothing does any more, is the others'.
  return which === 'others' ? `AND kind NOT IN (${of((lane) => lane !== 'others')})` : `AND kind IN (${of((lane) => lane === which)})`
}

/**
 * Takes one job that is due and does it. While it runs, `run_after` is its lease: when the server dies,
 * another takes the job up again after five minutes. After the tries of its kind it is failed, with the reason.
 */
export async function runOneJob(base: Omit<Ctx, 'actor'>, log?: Logger, which: Which = 'all'): Promise<boolean> {
  const now = base.clock.now()
  const isDue = `FROM job WHERE state IN ('waiting', 'running') AND run_after <= ? ${ofKind(which)}`
  // Mostly there is nothing to do: that is found out by one look, without a transaction.
  if (!(await row(base.db.manager, `SELECT 1 ${isDue} LIMIT 1`, [instant(now)]))) return false
  const job = await base.db.transaction(async (m) => {
    const due = await row<{ id: number; kind: string; payload: string; attempts: number; userId: number }>(
      m,
      `SELECT id, kind, payload, attempts, user_id AS userId ${isDue} ORDER BY id LIMIT 1 FOR UPDATE SKIP LOCKED`,
      [instant(now)],
    )
    if (due)
      await run(m, `UPDATE job SET state = 'running', attempts = attempts + 1, run_after = ? WHERE id = ?`, [later(now, 300), due.id])
    return due
  })
  if (!job) return false
  const kind = jobKinds()[job.kind]
  try {
    const actor = await actorOf(base.db.manager, job.userId)
    if (!actor || !kind) throw new Error(`Nothing does jobs of kind ${job.kind}`)
    // Whoever makes progress keeps the lease.
    const progress = async (p: number) => {
      const goesOn = await run(base.db.manager, `UPDATE job SET progress = ?, run_after = ? WHERE id = ? AND state = 'running'`, [
        Math.min(99, Math.round(p)),
        later(base.clock.now(), 300),
        job.id,
      ])
      if (!goesOn) throw new GivenUp()
    }
    const result = await kind.run({ ...base, actor }, JSON.parse(job.payload) as never, progress)
    await run(
      base.db.manager,
      `UPDATE job SET state = 'done', progress = 100, result = ?, error = NULL WHERE id = ? AND state = 'running'`,
      [JSON.stringify(result ?? null), job.id],
    )
  } catch (error) {
    if (error instanceof GivenUp) return true
    if (error instanceof NotYet) {
      await run(base.db.manager, `UPDATE job SET state = 'waiting', attempts = ?, run_after = ?, error = ? WHERE id = ?`, [
        job.attempts,
        later(now, 60),
        error.message.slice(0, 300),
        job.id,
      ])
      return true
    }
    const waits = kind?.waits ?? []
    const final = error instanceof Problem || job.attempts >= waits.length
    log?.error({ err: error, job: job.id }, 'job failed')
    const said =
      error instanceof Problem ? error.message : 'This could not be done. Try again, or ask your administrator to look at the log.'
    await run(base.db.manager, `UPDATE job SET state = ?, run_after = ?, error = ? WHERE id = ?`, [
      final ? 'failed' : 'waiting',
      later(now, waits[job.attempts] ?? 0),
      said,
      job.id,
    ])
  }
  return true
}

/** Works through due jobs until stopped, letters, papers and words beside the rest; looks again every 250 ms. */
export function startWorker(base: Omit<Ctx, 'actor'>, log?: Logger): () => Promise<void> {
  let stopped = false
  const loop = async (which: Which) => {
    while (!stopped) {
      const did = await runOneJob(base, log, which).catch((error: unknown) => {
        log?.error({ err: error }, 'worker')
        return false
      })
      if (!did) await new Promise((r) => setTimeout(r, 250))
    }
  }
  const loops = Promise.all([
    loop('letters'),
    loop('papers'),
    loop('papers'),
    loop('words'),
    loop('bills'),
    loop('bills'),
    loop('figures'),
    loop('others'),
  ])
  return async () => {
    stopped = true
    await loops
  }
}
