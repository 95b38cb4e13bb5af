import { addDays, type Day } from '@heron/core/calendar'
import { calendarFor, shippedHolidaySets, shippedRuleSets } from '@heron/core/docket'
import { actorOf, clock, rows, stoppedClock, type Actor, type Clock, type Ctx } from '@heron/server/platform'
import type { EntityManager } from 'typeorm'

const courts = calendarFor(shippedRuleSets[0]!, shippedHolidaySets, 'wexmoor')
/** The first day, from this one on, on which offices are open. */
export function openDay(day: Day): Day {
  let at = day
  while (courts.closedWhy(at, 'after')) at = addDays(at, 1)
  return at
}

const morning = 13 * 60 + 20
const evening = 22 * 60 + 30

/** Services called in process, with the clock set to the day that is being played. */
export class Stage {
  day: Day
  readonly today: Day
  tx: EntityManager | undefined
  private readonly people = new Map<string, Actor>()
  private readonly now: Clock
  private at = { day: '', minute: morning }

  constructor(
    readonly base: Omit<Ctx, 'actor' | 'clock' | 'tx'>,
    fixed: string | undefined,
  ) {
    this.now = clock(fixed)
    this.today = this.now.today()
    this.day = this.today
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
    const ctx: Ctx = { ...this.base, quiet: true, actor, clock: this.clock() }
    if (tx) ctx.tx = tx
    return ctx
  }

  /** Acts follow one another through the day, from twenty past eight till evening; those of today are done by now. */
  private clock(): Clock {
    if (this.at.day !== this.day) this.at = { day: this.day, minute: morning }
    // Steps of many lengths, the same on every load: a busy day ends late, none after the evening.
    else this.at.minute = Math.min(evening, this.at.minute + 3 + ((this.at.minute * 7 + this.day.charCodeAt(9)) % 23))
    const time = `${String(Math.floor(this.at.minute / 60)).padStart(2, '0')}:${String(this.at.minute % 60).padStart(2, '0')}`
    const played = { ...stoppedClock(this.day, time), today: () => this.day }
    const now = this.now.now()
    return played.now() < now ? played : { ...played, now: () => now }
  }
}
