import type { Logger } from 'pino'
import type { EntityManager } from 'typeorm'
import { actorOf } from './auth'
import { instant, type Ctx } from './context'
import { row, run } from './database'
import { Job } from './entities'
import { notFound, Problem } from './problem'

type Handler = (ctx: Ctx, payload: never, progress: (percent: number) => Promise<void>) => Promise<unknown>
const handlers = new Map<string, Handler>()

/** Says how jobs of a kind are done. Payloads are plain data. */
export function onJob<P>(kind: string, handler: (ctx: Ctx, payload: P, progress: (percent: number) => Promise<void>) => Promise<unknown>) {
  handlers.set(kind, handler as Handler)
}

/** Puts work into the table, in the caller's transaction; a worker takes it after the commit. */
export async function enqueue(m: EntityManager, ctx: Ctx, kind: string, payload: unknown): Promise<number> {
  const now = instant(ctx.clock.now())
  const made = await m.insert(Job, {
    kind,
    payload: JSON.stringify(payload),
    state: 'waiting',
    runAfter: now,
    createdAt: now,
    userId: ctx.actor.id,
  })
  return made.identifiers[0]!['id'] as number
}

export async function jobState(ctx: Ctx, id: number) {
  const found = await row<{ state: 'waiting' | 'running' | 'done' | 'failed'; progress: number; error: string | null }>(
    ctx.db.manager,
    `SELECT state, progress, error FROM job WHERE id = ? AND user_id = ?`,
    [id, ctx.actor.id],
  )
  if (!found) throw notFound('job')
  return found
}

/** Work that another machine must do with us, such as sending a letter, is tried again for days; all else fails after three tries. */
const patience: Record<string, readonly number[]> = {
  'send mail': [10, 60, 300, 900, 3600, 2 * 3600, 4 * 3600, 8 * 3600, 12 * 3600, 24 * 3600, 24 * 3600],
}
const usual = [2, 2]

/** Thrown by a job that cannot be done yet through no fault of anyone's: it waits, and this is no try. */
export class NotYet extends Error {}

const later = (now: Date, seconds: number) => instant(new Date(now.getTime() + seconds * 1000))

/**
 * Takes one job that is due and does it. While it runs, `run_after` is its lease: when the server dies,
 * another takes the job up again after five minutes. Three tries, then it is failed, with the reason.
 */
export async function runOneJob(base: Omit<Ctx, 'actor'>, log?: Logger): Promise<boolean> {
  const now = base.clock.now()
  const job = await base.db.transaction('READ COMMITTED', async (m) => {
    const due = await row<{ id: number; kind: string; payload: string; attempts: number; userId: number }>(
      m,
      `SELECT id, kind, payload, attempts, user_id AS userId FROM job
        WHERE state IN ('waiting', 'running') AND run_after <= ? ORDER BY id LIMIT 1 FOR UPDATE SKIP LOCKED`,
      [instant(now)],
    )
    if (due)
      await run(m, `UPDATE job SET state = 'running', attempts = attempts + 1, run_after = ? WHERE id = ?`, [later(now, 300), due.id])
    return due
  })
  if (!job) return false
  try {
    const actor = await actorOf(base.db.manager, job.userId)
    const handler = handlers.get(job.kind)
    if (!actor || !handler) throw new Error(`Nothing does jobs of kind ${job.kind}`)
    // Whoever makes progress keeps the lease.
    const progress = async (p: number) =>
      void (await run(base.db.manager, `UPDATE job SET progress = ?, run_after = ? WHERE id = ?`, [
        Math.min(99, Math.round(p)),
        later(base.clock.now(), 300),
        job.id,
      ]))
    const result = await handler({ ...base, actor }, JSON.parse(job.payload) as never, progress)
    await run(base.db.manager, `UPDATE job SET state = 'done', progress = 100, result = ?, error = NULL WHERE id = ?`, [
      JSON.stringify(result ?? null),
      job.id,
    ])
  } catch (error) {
    if (error instanceof NotYet) {
      await run(base.db.manager, `UPDATE job SET state = 'waiting', attempts = ?, run_after = ?, error = ? WHERE id = ?`, [
        job.attempts,
        later(now, 60),
        error.message.slice(0, 300),
        job.id,
      ])
      return true
    }
    const waits = patience[job.kind] ?? usual
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

/** Works through due jobs until stopped; looks again every 250 ms. */
export function startWorker(base: Omit<Ctx, 'actor'>, log?: Logger): () => Promise<void> {
  let stopped = false
  const loop = (async () => {
    while (!stopped) {
      const did = await runOneJob(base, log).catch((error: unknown) => {
        log?.error({ err: error }, 'worker')
        return false
      })
      if (!did) await new Promise((r) => setTimeout(r, 250))
    }
  })()
  return async () => {
    stopped = true
    await loop
  }
}
