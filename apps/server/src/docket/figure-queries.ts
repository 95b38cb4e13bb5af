import { daysBetween, type Day } from '@heron/core/calendar'
import { spellsOf, spreadOf, type Figure } from '@heron/core/docket'
import { matterScope } from '../platform/access'
import type { Ctx } from '../platform/context'
import { rows } from '../platform/database'

/** Days from commencement to trial or from motion to ruling, over the matters that the reader may see, closed ones included. */
export async function figures(ctx: Ctx, ask: { of: Figure; scope: 'mine' | 'firm'; areaId?: number; judgeId?: number }) {
  const m = ctx.db.manager
  const where = [matterScope(ctx.actor, 'm', 'docket')]
  const values: (number | string)[] = []
  if (ask.scope === 'mine') {
    where.push('EXISTS (SELECT 1 FROM matter_team x WHERE x.matter_id = m.id AND x.user_id = ?)')
    values.push(ctx.actor.id)
  }
  if (ask.areaId) {
    where.push('m.area_id = ?')
    values.push(ask.areaId)
  }
  if (ask.judgeId) {
    where.push('m.judge_id = ?')
    values.push(ask.judgeId)
  }
  const list = await rows<{
    id: number
    matterId: number
    number: string
    name: string
    kind: string
    label: string
    day: Day
    tentative: number
    answersId: number | null
  }>(
    m,
    `SELECT t.id, m.id AS matterId, m.number, m.name, t.kind, t.label, t.day, t.tentative, t.answers_id AS answersId
       FROM trigger_event t JOIN matter m ON m.id = t.matter_id WHERE t.removed_at IS NULL AND t.day <= ? AND ${where.join(' AND ')} ORDER BY m.id, t.day, t.id LIMIT 50000`,
    [ctx.clock.today(), ...values],
  )
  const byMatter = new Map<number, typeof list>()
  for (const t of list) byMatter.set(t.matterId, [...(byMatter.get(t.matterId) ?? []), t])
  const spells = [...byMatter.values()].flatMap((of) =>
    spellsOf(
      ask.of,
      of.map((t) => ({ ...t, tentative: Boolean(t.tentative), service: null })),
    ).map((s) => ({ ...s, matterId: of[0]!.matterId, number: of[0]!.number, name: of[0]!.name })),
  )
  const judges = await rows<{ id: number; name: string }>(
    m,
    `SELECT DISTINCT j.id, j.name FROM matter m JOIN contact j ON j.id = m.judge_id WHERE ${matterScope(ctx.actor)} ORDER BY j.name LIMIT 500`,
  )
  return {
    spread: spreadOf(spells),
    judges,
    matters: spells
      .map((s) => ({ ...s, days: daysBetween(s.from, s.to) }))
      .filter((s) => s.days >= 0)
      .sort((a, b) => b.days - a.days)
      .slice(0, 500),
  }
}
