import type { EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertRow, locked, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { knownRuleSet } from '../platform/rule-sets'
import { movesOf, seenOf, shownEffect, takeEffects } from './effects'
import { rulesOf } from './state'
import { CourtClosure } from './entities'
import { type ClosureIn, closureLike, effectsOf } from './closure-queries'

async function unlike(m: EntityManager, c: ClosureIn) {
  await knownRuleSet(m, c.ruleSetKey, 'ruleSetKey', 'Choose a court')
  const there = await closureLike(m, c.day, c.ruleSetKey)
  if (there) throw fieldFault('day', 'This closure is entered already')
}

/** The docketed dates that a closure would move. Nothing changes yet. */
export async function previewClosure(ctx: Ctx, c: ClosureIn) {
  const m = ctx.db.manager
  await unlike(m, c)
  const effects = seenOf(await effectsOf(m, ctx, c, false))
  return { moves: movesOf(effects), matters: effects.map(shownEffect) }
}

/** Enters a closure and moves every date that it moves, in one act. `moves` is how many were shown. */
export function addClosure(ctx: Ctx, c: ClosureIn, moves: number): Promise<{ id: number; moved: number }> {
  return work(ctx, async (m) => {
    await unlike(m, c)
    const effects = await effectsOf(m, ctx, c, true)
    if (movesOf(seenOf(effects)) !== moves)
      throw refused('changed-meanwhile', 'Dockets changed meanwhile. Nothing was entered; look at the dates again.')
    const madeId = await insertRow(m, CourtClosure, {
      ruleSetKey: c.ruleSetKey,
      day: c.day,
      name: c.name,
      filingOnly: c.filingOnly,
      createdBy: ctx.actor.id,
      createdAt: instant(ctx.clock.now()),
    })
    const why = `${c.name}, ${c.day}: ${c.filingOnly ? 'the clerk’s office cannot be reached' : 'court closed'}`
    const rules = new Map<string, Awaited<ReturnType<typeof rulesOf>>>()
    for (const { matter } of effects) if (!rules.has(matter.ruleSetKey)) rules.set(matter.ruleSetKey, await rulesOf(m, matter.ruleSetKey))
    await takeEffects(m, ctx, effects, rules, why)
    await audit(m, ctx, { kind: 'changed', text: `Closure entered: ${why}`, subject: 'court closure', subjectId: madeId })
    return { id: madeId, moved: moves }
  })
}

/** Takes a closure back. Dates that it moved stay until their matter is counted again, which shows them first. */
export function removeClosure(ctx: Ctx, id: number): Promise<void> {
  return work(ctx, async (m) => {
    const c = await m.findOne(CourtClosure, {
      select: { name: true, day: true, id: true },
      where: { id },
      ...locked(m),
    })
    if (!c) throw notFound('closure')
    await m.delete(CourtClosure, { id })
    await audit(m, ctx, { kind: 'changed', text: `Closure taken back: ${c.name}, ${c.day}`, subject: 'court closure', subjectId: id })
  })
}
