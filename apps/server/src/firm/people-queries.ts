import type { PersonIn } from '@heron/contract'
import { addDays, type Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { handable } from '../platform/access'
import type { Ctx } from '../platform/context'
import { row, rows, run } from '../platform/database'

/** Whether whoever asks may hand a matter on. */
export const mayBeHanded = (m: EntityManager, ctx: Ctx, matterId: number) =>
  row(m, `SELECT 1 FROM matter m WHERE m.id = ? AND ${handable(ctx.actor)}`, [matterId])

/** Whoever is screened from a matter, by name. */
export const screenedFrom = (m: EntityManager, matterId: number, toId: number) =>
  row<{ name: string }>(
    m,
    `SELECT u.name FROM matter_screen s JOIN user_account u ON u.id = s.user_id WHERE s.matter_id = ? AND s.user_id = ?`,
    [matterId, toId],
  )

/** How many matters of a person whoever asks may not hand on. */
export const outOfReach = (m: EntityManager, ctx: Ctx, userId: number) =>
  row<{ n: number }>(
    m,
    `SELECT COUNT(*) AS n FROM matter m WHERE m.closed_on IS NULL AND NOT ${handable(ctx.actor)} AND (m.lead_id = ? OR EXISTS (SELECT 1 FROM matter_team t WHERE t.matter_id = m.id AND t.user_id = ?))`,
    [userId, userId],
  )

/** Leaves and departures, planned and begun, with what was handed to whom. */
export async function absences(ctx: Ctx) {
  const list = await rows<{
    id: number
    userId: number
    name: string
    kind: 'leave' | 'departure'
    from: Day
    to: Day | null
    ended: number
    begun: number
    handedOver: number
  }>(
    ctx.db.manager,
    `SELECT a.id, a.user_id AS userId, u.name, a.kind, a.from_day AS \`from\`, a.to_day AS \`to\`, a.ended_at IS NOT NULL AS ended, a.begun_at IS NOT NULL AS begun,
            (SELECT COUNT(*) FROM handed_over h WHERE h.absence_id = a.id) AS handedOver FROM absence a JOIN user_account u ON u.id = a.user_id ORDER BY a.id DESC`,
  )
  return list.map((a) => ({ ...a, ended: Boolean(a.ended), begun: Boolean(a.begun) }))
}

/** Takes a person off the teams of open matters; leads are handed on, not left. */
export const leaveTeams = (m: EntityManager, userId: number) =>
  run(
    m,
    `DELETE t FROM matter_team t JOIN matter m ON m.id = t.matter_id WHERE t.user_id = ? AND m.closed_on IS NULL AND m.lead_id <> t.user_id`,
    [userId],
  )

/** Absences whose day has come. */
export const absencesToBegin = (base: Omit<Ctx, 'actor'>) =>
  rows<{
    id: number
    userId: number
    name: string
    kind: 'leave' | 'departure'
    from: Day
    to: Day | null
    gives: string
    madeBy: number
  }>(
    base.db.manager,
    `SELECT a.id, a.user_id AS userId, u.name, a.kind, a.from_day AS \`from\`, a.to_day AS \`to\`, a.gives, a.made_by AS madeBy FROM absence a JOIN user_account u ON u.id = a.user_id
      WHERE a.begun_at IS NULL AND a.ended_at IS NULL AND a.gives IS NOT NULL AND a.from_day <= ? ORDER BY a.id`,
    [base.clock.today()],
  )

/** An absence, locked until it is ended. */
export const lockedAbsence = (m: EntityManager, absenceId: number) =>
  row<{ userId: number; kind: string; endedAt: string | null; begunAt: string | null; name: string }>(
    m,
    `SELECT a.user_id AS userId, a.kind, a.ended_at AS endedAt, a.begun_at AS begunAt, u.name FROM absence a JOIN user_account u ON u.id = a.user_id WHERE a.id = ? FOR UPDATE`,
    [absenceId],
  )

/** Everybody with an account: role, goal, rates by day, and whether they are away. */
export async function people(ctx: Ctx) {
  const m = ctx.db.manager
  const list = await rows<Omit<PersonIn, 'mayOverride'> & { id: number; mayOverride: number; active: number; leftOn: Day | null }>(
    m,
    `SELECT id, name, initials, email, role, title, day_goal_minutes AS dayGoalMinutes, may_override_clearing AS mayOverride, active, left_on AS leftOn FROM user_account ORDER BY active DESC, id`,
  )
  const rates = await rows<{ id: number; userId: number; from: Day; to: Day | null; rate: number; usual: number }>(
    m,
    `SELECT id, user_id AS userId, from_day AS \`from\`, to_day AS \`to\`, rate, usual FROM user_rate ORDER BY user_id, from_day DESC`,
  )
  const away = await rows<{ id: number; userId: number; kind: 'leave' | 'departure'; from: Day; to: Day | null; begun: number }>(
    m,
    `SELECT id, user_id AS userId, kind, from_day AS \`from\`, to_day AS \`to\`, begun_at IS NOT NULL AS begun FROM absence WHERE ended_at IS NULL ORDER BY id DESC`,
  )
  return list.map((p) => ({
    ...p,
    mayOverride: Boolean(p.mayOverride),
    active: Boolean(p.active),
    rates: rates.filter((r) => r.userId === p.id).map(({ userId: _user, ...r }) => ({ ...r, usual: Boolean(r.usual) })),
    absence: away.filter((a) => a.userId === p.id).map(({ userId: _user, ...a }) => ({ ...a, begun: Boolean(a.begun) }))[0] ?? null,
  }))
}

/** The usual rate ends on the day before the new one. */
export const endUsualRate = (m: EntityManager, from: Day, userId: number) =>
  run(m, `UPDATE user_rate SET to_day = ? WHERE user_id = ? AND usual AND from_day < ? AND (to_day IS NULL OR to_day >= ?)`, [
    addDays(from, -1),
    userId,
    from,
    from,
  ])
