import type { Told } from '@heron/contract'
import type { Response } from 'express'
import type { Logger } from 'pino'
import { areas } from './area'
import type { Actor, Ctx } from './context'
import { actsAfter, actsToTell, lastAct } from './queries'

/** How often the log is looked at while somebody listens, and how long an act may take from its entry to its commit. */
const everyMs = 2000
const lateMs = 20_000
/** A line is kept open by a word now and then, and then it is asked whether its session still stands. */
const beatMs = 25_000
/** Browsers hold one line for all their tabs, so that a person has few; the oldest gives way, and comes again after so long. */
const ofOne = 8
const restMs = 600_000
const together = 1500
/** Of very many acts at once the latest stand for all. */
const mostActs = 300
const mostUnread = 64_000

interface Ear {
  res: Response
  person: number
  who: () => Promise<Actor | null>
}

/**
 * Tells pages that stand open what others did, as server-sent events: of which matters and areas, and no more than each person may
 * see of the log. What was done is read from the log, so that it is told whichever process did it.
 */
export class Live {
  private readonly ears = new Set<Ear>()
  private timer: NodeJS.Timeout | undefined
  private begun: Promise<void> | null = null
  private looking = false
  /** Entries up to this one were told; those after it that were, by their ids, with when they were first seen. */
  private low = 0
  private readonly told = new Map<number, number>()
  private beaten = 0

  constructor(
    private readonly base: Omit<Ctx, 'actor'>,
    private readonly log: Logger,
  ) {}

  /** Keeps a line open until whoever listens leaves. A line that broke hears what was done meanwhile. False where there are too many. */
  async listen(res: Response, person: number, who: Ear['who'], heardUpTo = 0): Promise<boolean> {
    if (this.ears.size >= together) return false
    await (this.begun ??= this.begin().catch((error: unknown) => {
      this.begun = null
      throw error
    }))
    if (res.destroyed) return true
    const own = [...this.ears].filter((e) => e.person === person)
    for (const e of own.slice(0, Math.max(0, own.length - ofOne + 1))) {
      e.res.write(`retry: ${restMs}\n\n`)
      this.end(e)
    }
    const ear = { res, person, who }
    res.status(200).set({ 'content-type': 'text/event-stream', 'cache-control': 'no-store, no-transform', 'x-accel-buffering': 'no' })
    res.flushHeaders()
    res.write(`id: ${this.low}\n\n`)
    this.ears.add(ear)
    res.once('close', () => this.end(ear)).on('error', () => this.end(ear))
    if (heardUpTo > 0) await this.tell(await this.since(heardUpTo), [ear])
    return true
  }

  stop(): void {
    for (const e of this.ears) this.end(e)
  }

  private end(ear: Ear): void {
    this.ears.delete(ear)
    ear.res.end()
    if (!this.ears.size) this.rest()
  }

  private rest(): void {
    clearInterval(this.timer)
    this.begun = null
  }

  private async begin(): Promise<void> {
    this.told.clear()
    this.low = (await lastAct(this.base.db.manager))?.id ?? 0
    clearInterval(this.timer)
    this.timer = setInterval(() => void this.look(), everyMs)
  }

  private async look(): Promise<void> {
    if (this.looking) return
    if (!this.ears.size) return this.rest()
    this.looking = true
    try {
      const fresh = await this.fresh()
      const beat = Date.now() - this.beaten > beatMs
      if (beat) this.beaten = Date.now()
      if (fresh.length || beat) await this.tell(fresh)
    } catch (error) {
      this.log.error({ err: error }, 'what others did could not be told')
    } finally {
      this.looking = false
    }
  }

  /** Entries that were not told yet. An act gets its id before it is done, so that a lower one can come after a higher. */
  private async fresh(): Promise<number[]> {
    const found = await actsAfter(this.base.db.manager, this.low, 5000)
    const now = Date.now()
    const fresh = found.map((l) => l.id).filter((id) => !this.told.has(id))
    for (const id of fresh) this.told.set(id, now)
    for (const [id, at] of this.told)
      if (now - at > lateMs) {
        this.told.delete(id)
        this.low = Math.max(this.low, id)
      }
    return fresh.slice(0, mostActs)
  }

  private async since(id: number): Promise<number[]> {
    const found = await actsAfter(this.base.db.manager, id, mostActs)
    return found.map((l) => l.id)
  }

  private async tell(ids: number[], to = [...this.ears]): Promise<void> {
    const areaOf = new Map(areas().flatMap((a) => Object.keys(a.acts ?? {}).map((subject) => [subject, a.name] as const)))
    const said = new Map<number, Told | null>()
    const last = Math.max(...ids)
    for (const ear of to) {
      const actor = await ear.who()
      // Who does not read what is told does not keep it here.
      if (!actor || ear.res.writableLength > mostUnread) this.end(ear)
      else {
        if (!said.has(actor.id)) said.set(actor.id, ids.length ? await this.openTo(actor, ids, areaOf) : null)
        const told = said.get(actor.id)
        // Who left while that was asked is told nothing.
        if (!this.ears.has(ear)) continue
        ear.res.write(told ? `id: ${last}\ndata: ${JSON.stringify(told)}\n\n` : ': here\n\n')
      }
    }
  }

  /** What of these acts a person may see, but for their own; null where nothing. */
  private async openTo(actor: Actor, ids: number[], areaOf: ReadonlyMap<string, string>): Promise<Told | null> {
    const found = await actsToTell({ ...this.base, actor }, ids)
    if (!found.length) return null
    return {
      matters: [...new Set(found.flatMap((l) => (l.matterId === null ? [] : [l.matterId])))],
      areas: [...new Set(found.flatMap((l) => areaOf.get(l.subject) ?? []))],
    }
  }
}
