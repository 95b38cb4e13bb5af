import type { Logger } from 'pino'
import { In, LessThanOrEqual, MoreThan, Not, type EntityManager } from 'typeorm'
import { areas, type JobKind } from './area'
import { actorOf } from './auth'
import { instant, type Ctx } from './context'
import { touched } from './database'
import { letters, NotYet } from './mail'
import { notFound, Problem } from './problem'
import { Job } from './entities'
import { firstDue, jobToTake, type Due, type Taken } from './queries'

/** Kinds of jobs by name: those of the areas, and the letters of the house. */
export const jobKinds = (): Record<string, JobKind> =>
  Object.assign({ 'send mail': letters }, ...areas().map((a) => a.jobs)) as Record<string, JobKind>

export async function jobState(ctx: Ctx, id: number) {
  const found = await ctx.db.manager.findOne(Job, {
    select: { state: true, progress: true, error: true, id: true },
    where: { id, userId: ctx.actor.id },
  })
  if (!found) throw notFound('job')
  return found
}

/** What someone's work of a kind came to, while it is an hour old at most: what was open to them then may not be later. */
export async function jobResult(ctx: Ctx, id: number, kind: string): Promise<unknown> {
  const found = await ctx.db.manager.findOne(Job, {
    select: { state: true, result: true, id: true },
    where: { id, userId: ctx.actor.id, kind, createdAt: MoreThan(later(ctx.clock.now(), -3600)) },
  })
  if (found?.state !== 'done' || !found.result) throw notFound('figures that were added up')
  return JSON.parse(found.result)
}

/** Nobody waits for it any more: what runs ends at its next step. */
export const giveUpJobs = (m: EntityManager, ctx: Ctx, kind: string) =>
  touched(m.update(Job, { state: In(['waiting', 'running']), kind, userId: ctx.actor.id }, { state: 'done', result: null }))
class GivenUp extends Error {}

const later = (now: Date, seconds: number) => instant(new Date(now.getTime() + seconds * 1000))

/** Letters wait on another machine, which may not answer: they have a worker of their own, so that nothing else waits with them. */
type Which = 'all' | 'letters' | 'papers' | 'words' | 'bills' | 'figures' | 'others'
/** Which kinds a worker takes; papers that someone waits for do not stand behind a day's uploads. */
const kindsOf = (which: Which): string[] =>
  Object.entries(jobKinds()).flatMap(([name, kind]) => {
    const lane: Which = name === 'send mail' ? 'letters' : (kind.lane ?? 'others')
    return which === 'all' || which === lane ? [name] : []
  })

/**
 * What is due of each kind: the first of it by its index, however many wait. What runs is due again when its lease is over, since the
 * server died over it.
 */
const whatIsDue = (m: EntityManager, now: Date): Promise<Due[]> => firstDue(m, kindsOf('all'), now)
/** Takes a due job of some kinds for five minutes, the one that waits longest; null where others were faster. */
const take = (base: Omit<Ctx, 'actor'>, kinds: readonly string[], due: readonly Due[]): Promise<Taken | null> =>
  base.db.transaction(async (m) => {
    const now = base.clock.now()
    for (const d of due.filter((x) => kinds.includes(x.kind)).sort((a, b) => (a.at < b.at ? -1 : 1))) {
      const job = await jobToTake(m, now, d.kind, d.state)
      if (!job) continue
      await m.update(Job, { id: job.id }, { state: 'running', attempts: () => 'attempts + 1', runAfter: later(now, 300) })
      return job
    }
    return null
  })

/** Work of a kind that nothing does any more, as after a part was taken out, is failed rather than left to wait. */
export async function failUnknownJobs(base: Omit<Ctx, 'actor'>): Promise<void> {
  await base.db.manager.update(
    Job,
    { state: In(['waiting', 'running']), runAfter: LessThanOrEqual(instant(base.clock.now())), kind: Not(In(kindsOf('all'))) },
    { state: 'failed', error: 'Nothing does work of this kind any more.' },
  )
}

/**
 * Takes one job that is due and does it. While it runs, `run_after` is its lease: when the server dies,
 * another takes the job up again after five minutes. After the tries of its kind it is failed, with the reason.
 */
export async function runOneJob(
  base: Omit<Ctx, 'actor'>,
  log?: Logger,
  which: Which = 'all',
  due: () => Promise<readonly Due[]> = () => whatIsDue(base.db.manager, base.clock.now()),
): Promise<boolean> {
  const kinds = kindsOf(which)
  // Mostly there is nothing to do: that is found out by one look, without a transaction.
  const seen = (await due()).filter((d) => kinds.includes(d.kind))
  if (!seen.length) return false
  const job = await take(base, kinds, seen)
  if (!job) return false
  const now = base.clock.now()
  const kind = jobKinds()[job.kind]
  try {
    const actor = await actorOf(base.db.manager, job.userId)
    if (!actor || !kind) throw new Error(`Nothing does jobs of kind ${job.kind}`)
    // Whoever makes progress keeps the lease.
    const progress = async (p: number) => {
      const goesOn = await touched(
        base.db.manager.update(
          Job,
          { id: job.id, state: 'running' },
          { progress: Math.min(99, Math.round(p)), runAfter: later(base.clock.now(), 300) },
        ),
      )
      if (!goesOn) throw new GivenUp()
    }
    const result = await kind.run({ ...base, actor }, JSON.parse(job.payload) as never, progress)
    await base.db.manager.update(
      Job,
      { id: job.id, state: 'running' },
      { state: 'done', progress: 100, result: JSON.stringify(result ?? null), error: null },
    )
  } catch (error) {
    if (error instanceof GivenUp) return true
    if (error instanceof NotYet) {
      await base.db.manager.update(
        Job,
        { id: job.id },
        { state: 'waiting', attempts: job.attempts, runAfter: later(now, 60), error: error.message.slice(0, 300) },
      )
      return true
    }
    const waits = kind?.waits ?? []
    const final = error instanceof Problem || job.attempts >= waits.length
    log?.error({ err: error, job: job.id }, 'job failed')
    const said =
      error instanceof Problem ? error.message : 'This could not be done. Try again, or ask your administrator to look at the log.'
    await base.db.manager.update(
      Job,
      { id: job.id },
      { state: final ? 'failed' : 'waiting', runAfter: later(now, waits[job.attempts] ?? 0), error: said },
    )
  }
  return true
}

/** Works through due jobs until stopped, letters, papers and words beside the rest; looks again every 250 ms, once for all lanes. */
export function startWorker(base: Omit<Ctx, 'actor'>, log?: Logger): () => Promise<void> {
  let stopped = false
  let look: { at: number; due: Promise<readonly Due[]> } | null = null
  /** What was seen a moment ago is not asked for again, unless by one who just took something of it. */
  const glance = (fresh: boolean) => {
    if (!look || fresh || performance.now() - look.at > 200)
      look = { at: performance.now(), due: whatIsDue(base.db.manager, base.clock.now()) }
    return look.due
  }
  const loop = async (which: Which) => {
    let did: boolean = false
    while (!stopped) {
      const fresh: boolean = did
      did = await runOneJob(base, log, which, () => glance(fresh)).catch((error: unknown) => {
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
    // A run of bills takes one of them; the other two make the PDFs.
    loop('bills'),
    loop('bills'),
    loop('bills'),
    loop('figures'),
    loop('others'),
  ])
  void failUnknownJobs(base).catch((error: unknown) => log?.error({ err: error }, 'worker'))
  return async () => {
    stopped = true
    await loops
  }
}
