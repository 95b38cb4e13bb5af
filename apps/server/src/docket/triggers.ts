import type { Day } from '@heron/core/calendar'
import { missingOf } from '@heron/core/docket'
import { requireOpenMatter, touchMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { lockRow, work } from '../platform/database'
import { notFound } from '../platform/problem'
import { keepChange } from './change'
import { docketMissing } from './entering'
import { takenAway } from './entry-queries'
import { docketStateOf, rulesOf } from './state'
import { datesAsSeen } from './work-out'
import { Matter } from '../platform/shared-entities'

/** Dockets more dates of a trigger that is on file: what the rules give for it since, or what an event has made known. */
export function addMissing(
  ctx: Ctx,
  matterId: number,
  input: { triggerId: number; take: string[]; seen: { key: string; date: Day }[] },
): Promise<{ docketed: number; changeId: number }> {
  return work(ctx, async (m) => {
    const matter = await requireOpenMatter(m, ctx, matterId, 'docket')
    await lockRow(m, Matter, matterId)
    const state = await docketStateOf(m, matter, true)
    const trigger = state.triggers.find((t) => t.id === input.triggerId)
    if (!trigger) throw notFound('trigger')
    const rules = await rulesOf(m, matter.ruleSetKey)
    const missing = missingOf(state, rules, ctx.clock.today(), await takenAway(m, [matterId])).filter((x) => x.triggerId === trigger.id)
    datesAsSeen(
      missing.map((x) => x.proposal),
      input.seen,
    )
    const out = new Set(missing.map((x) => x.proposal.key).filter((k) => !input.take.includes(k)))
    const why = `More dates of ${trigger.label || (rules.ruleSet.triggers.find((t) => t.key === trigger.kind)?.title ?? trigger.kind)}`
    await docketMissing(m, ctx, { matter, state, missing }, rules, why, out)
    const changeId = await keepChange(m, ctx, matterId, why, state, await docketStateOf(m, matter, true))
    const docketed = missing.length - out.size
    await audit(m, ctx, { kind: 'docketed', text: `${why}: ${docketed} docketed`, matterId, subject: 'trigger', subjectId: trigger.id })
    await touchMatter(m, ctx, matterId)
    return { docketed, changeId }
  })
}
