import type { DocketRules, Missing, Proposal, RuleSet, Weight } from '@heron/core/docket'
import { In, IsNull, type EntityManager } from 'typeorm'
import type { OpenMatter } from '../platform/access'
import { instant, type Ctx } from '../platform/context'
import { insertMany } from '../platform/database'
import { noteHistory, titleWith } from './change'
import type { DocketState } from './state-queries'
import { DocketEntry } from './entities'

const dayEndsOf = (set: RuleSet, weight: Weight) => (weight === 'firm practice' || weight === 'appointment' ? '' : set.dayEnds.electronic)

export async function insertEntries(
  m: EntityManager,
  ctx: Ctx,
  matter: Pick<OpenMatter, 'id' | 'leadId'>,
  set: RuleSet,
  trigger: { id: number; label: string; paperId?: number | null },
  list: readonly { p: Proposal; out: boolean }[],
) {
  await insertMany(
    m,
    'docket_entry',
    'matter_id trigger_id deadline_key title text authority link weight day before_roll day_ends how_counted counted_from trace left_out provisional tentative responsible_id paper_id created_at placed_on'.split(
      ' ',
    ),
    list.map(({ p, out }) => [
      matter.id,
      trigger.id,
      p.key,
      titleWith(p.title, trigger.label),
      p.text,
      p.authority,
      p.link,
      p.weight,
      p.date,
      p.beforeRoll,
      dayEndsOf(set, p.weight),
      p.howCounted.slice(0, 300),
      JSON.stringify(p.countedFrom),
      JSON.stringify(p.trace),
      out,
      p.provisional,
      p.tentative,
      matter.leadId,
      trigger.paperId ?? null,
      instant(ctx.clock.now()),
      ctx.clock.today(),
    ]),
  )
  return m.find(DocketEntry, {
    select: { id: true, leftOut: true, day: true },
    where: { triggerId: trigger.id, removedAt: IsNull(), deadlineKey: In(list.length ? list.map(({ p }) => p.key) : ['']) },
    order: { id: 'ASC' },
  })
}

/** Docketed dates of triggers that are on file already; those of `out` are kept as left out. */
export async function docketMissing(
  m: EntityManager,
  ctx: Ctx,
  to: { matter: Pick<OpenMatter, 'id' | 'leadId'>; state: DocketState; missing: readonly Missing[] },
  rules: DocketRules,
  why: string,
  out: ReadonlySet<string> = new Set(),
) {
  for (const trigger of to.state.triggers) {
    const list = to.missing.filter((x) => x.triggerId === trigger.id).map(({ proposal: p }) => ({ p, out: out.has(p.key) }))
    if (!list.length) continue
    const made = await insertEntries(m, ctx, to.matter, rules.ruleSet, trigger, list)
    await noteHistory(
      m,
      ctx,
      made.map((e) => ({ entryId: e.id, what: e.leftOut ? 'left out' : 'docketed', became: e.day, why })),
    )
  }
}
