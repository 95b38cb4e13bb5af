import { showDay, showTime, type Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { requireMatter } from '../platform/access'
import { instant, isoOf, type Ctx } from '../platform/context'
import { insertRow, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { Timer } from './entities'
import { recordTimeIn } from './service'
import { runningTimer, secondsOf, timerOf } from './queries'

/** Corrects a running timer: its work began at another hour of the day on which it was started, or ended at an hour after that. */
export function setTimer(ctx: Ctx, id: number, hours: { started: string | null; ended: string | null }): Promise<void> {
  return work(ctx, async (m) => {
    const timer = await ownTimer(m, ctx, id)
    if (!timer.since) throw refused('not-running', 'This timer does not run. Let it go on first, or record its time by hand.')
    const now = ctx.clock.now().getTime()
    const { day } = ctx.clock.at(timer.since)
    const at = (time: string) => ctx.clock.beginOf(day, time).getTime()
    let since = Date.parse(isoOf(timer.since))
    if (hours.started) {
      since = at(hours.started)
      if (since > now) throw fieldFault('started', 'That is still ahead')
    }
    if (!hours.ended) return void (await m.update(Timer, id, { runningSince: instant(new Date(since)) }))
    const end = at(hours.ended)
    if (end <= since) throw fieldFault('ended', 'It ended after it began. Work past midnight is two entries')
    if (end > now) throw fieldFault('ended', 'That is still ahead')
    await m.update(Timer, id, { seconds: timer.seconds + Math.floor((end - since) / 1000), runningSince: null, workedOn: day })
  })
}

/** Nobody knows how long work went on under a timer that ran over the night: it is neither stopped nor paused before that is said. */
function refuseForgotten(ctx: Ctx, since: string): void {
  const began = ctx.clock.at(since)
  if (began.day < ctx.clock.today())
    throw refused('timer-forgotten', `This timer has run since ${showDay(began.day)}, ${showTime(began.time)}. Say until when you worked.`)
}

/** Pauses whatever runs, keeping its seconds. One timer runs at a time; the database holds that too. */
async function pauseRunning(m: EntityManager, ctx: Ctx): Promise<void> {
  const running = await runningTimer(m, ctx)
  if (!running) return
  refuseForgotten(ctx, running.since)
  await m.update(Timer, running.id, { seconds: secondsOf(ctx, running), runningSince: null })
}

export function startTimer(ctx: Ctx, input: { matterId: number | null; text: string }): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    if (input.matterId) await requireMatter(m, ctx, input.matterId)
    await pauseRunning(m, ctx)
    const madeId = await insertRow(m, Timer, { ...input, userId: ctx.actor.id, seconds: 0, runningSince: instant(ctx.clock.now()) })
    return { id: madeId }
  })
}

async function ownTimer(m: EntityManager, ctx: Ctx, id: number) {
  const found = await timerOf(m, ctx, id)
  if (!found) throw notFound('timer')
  return found
}

export function runTimer(ctx: Ctx, id: number, running: boolean): Promise<void> {
  return work(ctx, async (m) => {
    const timer = await ownTimer(m, ctx, id)
    if ((timer.since !== null) === running) return
    // A page that was left open pauses its own timer, never the one that was started since.
    await pauseRunning(m, ctx)
    if (running) await m.update(Timer, id, { runningSince: instant(ctx.clock.now()), workedOn: null })
  })
}

/** Stops a timer; what it ran becomes a draft, rounded once. */
export function stopTimer(ctx: Ctx, id: number, input: { matterId: number; text: string }): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    const timer = await ownTimer(m, ctx, id)
    if (timer.since) refuseForgotten(ctx, timer.since)
    // Seconds count until the one rounding of the entry.
    const seconds = Math.min(24 * 3600, Math.max(1, secondsOf(ctx, timer)))
    const entry = await recordTimeIn(
      m,
      ctx,
      {
        matterId: input.matterId,
        text: input.text,
        day: (timer.workedOn as Day | null) ?? ctx.clock.today(),
        duration: '',
        activity: null,
        rate: null,
        charge: 'billable',
        userId: null,
      },
      seconds / 60,
    )
    await m.delete(Timer, { id })
    return { id: entry }
  })
}

export function dropTimer(ctx: Ctx, id: number): Promise<void> {
  return work(ctx, async (m) => {
    await ownTimer(m, ctx, id)
    await m.delete(Timer, { id })
  })
}
