import type { ScheduleIn } from '@heron/contract'
import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import type { Base } from '../platform/area'
import type { Ctx } from '../platform/context'
import { row, rows, run } from '../platform/database'

export interface Kept {
  id: number
  name: string
  what: ScheduleIn['what']
  asked: string
  every: 'week' | 'month'
  onDay: number
  format: ScheduleIn['format']
  madeById: number
  sentOn: Day | null
}

export const select = `SELECT s.id, s.name, s.what, s.asked, s.every, s.on_day AS onDay, s.format, s.made_by AS madeById, s.sent_on AS sentOn FROM oversight_schedule s`

export const mostSchedules = 200

const values = (s: ScheduleIn) => [s.name, s.what, JSON.stringify(s.asked), s.every, s.onDay, s.format]

/** How many schedules there are. */
export const schedulesMade = (m: EntityManager) => row<{ n: number }>(m, `SELECT COUNT(*) AS n FROM oversight_schedule`)

/** A schedule, by the columns of its form. */
export const addSchedule = (m: EntityManager, ctx: Ctx, s: ScheduleIn) =>
  m.query(
    // The first goes out on the next such day, not at once.
    `INSERT INTO oversight_schedule (name, what, asked, every, on_day, format, made_by, sent_on) VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
    [...values(s), ctx.actor.id, ctx.clock.today()],
  )

/** The same columns, changed. */
export const writeSchedule = (m: EntityManager, ctx: Ctx, s: ScheduleIn, id: number) =>
  run(m, `UPDATE oversight_schedule SET name = ?, what = ?, asked = ?, every = ?, on_day = ?, format = ?, sent_on = ? WHERE id = ?`, [
    ...values(s),
    ctx.clock.today(),
    id,
  ])

/** Reports that one made, or that go to one. */
export async function schedules(ctx: Ctx) {
  const m = ctx.db.manager
  const list = await rows<Kept & { madeBy: string; active: number }>(
    m,
    `${select.replace(' FROM', ', u.name AS madeBy, u.active FROM')} JOIN user_account u ON u.id = s.made_by
      WHERE s.made_by = ? OR EXISTS (SELECT 1 FROM oversight_schedule_to x WHERE x.schedule_id = s.id AND x.user_id = ?) ORDER BY s.name, s.id LIMIT ${mostSchedules}`,
    [ctx.actor.id, ctx.actor.id],
  )
  const to = list.length ? await rows<{ id: number; userId: number; name: string }>(m, `SELECT x.schedule_id AS id, u.id AS userId, u.name FROM oversight_schedule_to x JOIN user_account u ON u.id = x.user_id WHERE x.schedule_id IN (?) ORDER BY u.name`, [list.map((s) => s.id)]) : [] // prettier-ignore
  return list.map(({ madeById, asked, active, ...s }) => ({
    ...s,
    // It passes to a reader when it goes out next.
    madeBy: active ? s.madeBy : `${s.madeBy}, who left`,
    asked: JSON.parse(asked) as ScheduleIn['asked'],
    mine: madeById === ctx.actor.id,
    to: to.filter((x) => x.id === s.id).map((x) => x.userId),
    names: to.filter((x) => x.id === s.id).map((x) => x.name),
  }))
}

/** Who gets a report, in the order of their ids. */
export const readersOfSchedule = (m: EntityManager, id: number) =>
  rows<{ id: number }>(m, `SELECT user_id AS id FROM oversight_schedule_to WHERE schedule_id = ? ORDER BY user_id`, [id])

/** A schedule of whoever asks, locked. */
export const ownSchedule = (m: EntityManager, ctx: Ctx, id: number) =>
  row<Kept>(m, `${select} WHERE s.id = ? AND s.made_by = ? FOR UPDATE`, [id, ctx.actor.id])

/** A schedule. */
export const scheduleRow = (m: EntityManager, scheduleId: number) => row<Kept>(m, `${select} WHERE s.id = ?`, [scheduleId])

/** Schedules that have not gone out today. */
export const schedulesDue = (today: Day, base: Base) =>
  rows<Kept>(base.db.manager, `${select} WHERE s.sent_on IS NULL OR s.sent_on < ? ORDER BY s.id`, [today])

/** A schedule, locked while it goes out. */
export const lockedSchedule = (m: EntityManager, id: number) => row<Kept>(m, `${select} WHERE s.id = ? FOR UPDATE`, [id])
