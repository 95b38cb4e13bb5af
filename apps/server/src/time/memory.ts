import { addDays, spanOf, type Day } from '@heron/core/calendar'
import { workingDays } from '../tasks'
import { matterScope } from '../platform/access'
import { actsOpenTo } from '../platform/acts'
import { may, type Ctx } from '../platform/context'
import { row, rows } from '../platform/database'
import { Firm } from '../platform/shared-entities'

/** How far back days are looked at. */
const daysBack = 35

/** Days of work on which one has recorded less than one means to, the newest first; none for those without a goal. */
export async function missingDays(ctx: Ctx): Promise<{ goal: number; days: { day: Day; minutes: number }[] }> {
  const m = ctx.db.manager
  const own = await row<{ goal: number }>(m, `SELECT day_goal_minutes AS goal FROM user_account WHERE id = ?`, [ctx.actor.id]) // prettier-ignore
  const goal = own?.goal ?? 0
  if (!goal) return { goal: 0, days: [] }
  const today = ctx.clock.today()
  const from = addDays(today, -daysBack)
  const recorded = new Map(
    (
      await rows<{ day: Day; minutes: number }>(
        m,
        `SELECT day, SUM(minutes) AS minutes FROM time_entry WHERE user_id = ? AND day BETWEEN ? AND ? AND state <> 'reversed' GROUP BY day`,
        [ctx.actor.id, from, today],
      )
    ).map((r) => [r.day, Number(r.minutes)]),
  )
  const away = await rows<{ from: Day; to: Day | null }>(m, `SELECT from_day AS \`from\`, to_day AS \`to\` FROM absence WHERE user_id = ?`, [ctx.actor.id]) // prettier-ignore
  const calendar = await workingDays(m)
  const days: { day: Day; minutes: number }[] = []
  for (let day = addDays(today, -1); day >= from; day = addDays(day, -1)) {
    const minutes = recorded.get(day) ?? 0
    if (minutes < goal && calendar.closedWhy(day, 'before') === null && !away.some((a) => a.from <= day && (a.to === null || day <= a.to)))
      days.push({ day, minutes })
  }
  return { goal, days }
}

/** What one did on a day by the log, and what stood on one's calendar, to jog the memory. */
export async function dayAtWork(ctx: Ctx, day: Day) {
  const m = ctx.db.manager
  const firm = await m.findOne(Firm, { select: { zone: true, id: true }, where: { id: 1 } })
  const span = spanOf(day, '00:00', 1440, ctx.clock.fixed ? 'UTC' : (firm?.zone ?? 'UTC'))
  const plain = (instant: string) => instant.replace('T', ' ').replace('Z', '')
  const acts = await rows<{ id: number; at: string; kind: string; text: string; matterId: number; matter: string }>(
    m,
    `SELECT l.id, l.at, l.kind, l.text, l.matter_id AS matterId, m.short_name AS matter FROM audit_log l JOIN matter m ON m.id = l.matter_id
      WHERE l.user_id = ? AND l.at >= ? AND l.at < ? AND l.subject <> 'time' AND ${actsOpenTo(ctx)} ORDER BY l.id DESC LIMIT 60`,
    [ctx.actor.id, plain(span.from), plain(span.to)],
  )
  const dates = may(ctx.actor, 'docket.see')
    ? await rows<{ id: number; title: string; time: string | null; matterId: number; matter: string }>(
        m,
        `SELECT e.id, e.title, TIME_FORMAT(e.at_time, '%H:%i') AS time, e.matter_id AS matterId, m.short_name AS matter FROM docket_entry e JOIN matter m ON m.id = e.matter_id
          WHERE e.responsible_id = ? AND e.day = ? AND NOT e.left_out AND e.mark <> 'vacated' AND ${matterScope(ctx.actor, 'm', 'docket')} ORDER BY e.at_time, e.id LIMIT 30`,
        [ctx.actor.id, day],
      )
    : []
  return { dates, acts: acts.map(({ id, text, matterId, matter, kind }) => ({ id, kind, text, matterId, matter })) }
}
