import type { Day } from '@heron/core/calendar'
import { actorOf, rows, stoppedClock, type Actor, type Ctx } from '@heron/server/platform'
import type { EntityManager } from 'typeorm'

/** Services called in process, with the clock set to the day that is being played. */
export class Stage {
  day: Day
  tx: EntityManager | undefined
  private readonly people = new Map<string, Actor>()

  constructor(
    readonly base: Omit<Ctx, 'actor' | 'clock' | 'tx'>,
    readonly today: Day,
  ) {
    this.day = today
  }

  async learnStaff() {
    const staff = await rows<{ id: number; name: string }>(this.base.db.manager, `SELECT id, name FROM user_account`)
    for (const s of staff) this.people.set(s.name, (await actorOf(this.base.db.manager, s.id))!)
  }

  id = (name: string) => this.people.get(name)!.id

  /** The context of a person acting on the day being played. */
  as(name: string, tx = this.tx): Ctx {
    const actor = this.people.get(name)
    if (!actor) throw new Error(`${name} does not work here`)
    const ctx: Ctx = { ...this.base, quiet: true, actor, clock: { ...stoppedClock(this.day), today: () => this.day } }
    if (tx) ctx.tx = tx
    return ctx
  }
}
