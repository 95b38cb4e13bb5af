import type { AreaIn, FeeIn } from '@heron/contract'
import { In, Not, type EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { insertRow, locked, work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { knownRuleSet } from '../platform/rule-sets'
import { Activity, AreaProcedure, AreaTeam, ContactKindListed, ListedFee } from './entities'
import { Stage } from '../matters'
import { PracticeArea } from '../platform/shared-entities'
import { activitiesInUse, addArea, emptyKinds, kindsInUse, stageInUse, writeAreaRow } from './queries'

async function writeArea(m: EntityManager, id: number, input: AreaIn) {
  await knownRuleSet(m, input.ruleSetKey)
  await m.delete(AreaTeam, { areaId: id })
  await m.delete(AreaProcedure, { areaId: id })
  for (const t of new Map(input.team.map((t) => [t.userId, t])).values())
    await m.insert(AreaTeam, { areaId: id, userId: t.userId, role: t.role })
  for (const p of new Set(input.procedureIds)) await m.insert(AreaProcedure, { areaId: id, procedureId: p })
  const before = await m.find(Stage, { select: { id: true, name: true }, where: { areaId: id } })
  for (const gone of before.filter((s) => !input.stages.some((x) => x.id === s.id))) {
    if (await stageInUse(m, gone.id))
      throw refused('stage-in-use', `Matters are or were in the stage ${gone.name}. Retire it instead of taking it out.`)
    await m.delete(Stage, { id: gone.id })
  }
  // First out of the way, so that two stages can change places under the unique key on their order.
  await m.update(Stage, { areaId: id }, { ordinal: () => 'ordinal + 1000' })
  for (const [i, s] of input.stages.entries())
    if (s.id) await m.update(Stage, { id: s.id, areaId: id }, { name: s.name, retired: s.retired, ordinal: i + 1 })
    else await m.insert(Stage, { areaId: id, name: s.name, ordinal: i + 1 })
}

export function makeArea(ctx: Ctx, input: AreaIn): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    if (await m.existsBy(PracticeArea, { name: input.name })) throw fieldFault('name', 'There is a practice area of that name already')
    const made = (await addArea(m, input)) as {
      insertId: number
    }
    await writeArea(m, made.insertId, input)
    await audit(m, ctx, { kind: 'set up', text: `Practice area ${input.name} made`, subject: 'practice area', subjectId: made.insertId })
    return { id: made.insertId }
  })
}

export function changeArea(ctx: Ctx, id: number, input: AreaIn): Promise<void> {
  return work(ctx, async (m) => {
    const before = await m.findOne(PracticeArea, { select: { name: true, id: true }, where: { id }, ...locked(m) })
    if (!before) throw notFound('practice area')
    if (await m.existsBy(PracticeArea, { name: input.name, id: Not(id) }))
      throw fieldFault('name', 'There is a practice area of that name already')
    await writeAreaRow(m, input, id)
    await writeArea(m, id, input)
    await audit(m, ctx, {
      kind: 'set up',
      text: `Practice area ${before.name} changed`,
      subject: 'practice area',
      subjectId: id,
      detail: { became: input },
    })
  })
}

/** The firm's kinds of contacts in order. A kind that contacts have stays, at the end, when it is left out. */
export function setKinds(ctx: Ctx, kinds: readonly string[]): Promise<void> {
  return work(ctx, async (m) => {
    const used = await kindsInUse(m)
    const missing = used.find((u) => !kinds.some((k) => k.toLowerCase() === u.kind.toLowerCase()))
    if (missing) throw fieldFault('kinds', `Contacts have the kind ${missing.kind}, so it stays in the list`)
    await emptyKinds(m)
    for (const [i, kind] of [...new Set(kinds)].entries()) await m.insert(ContactKindListed, { kind, ordinal: i + 1 })
    await audit(m, ctx, { kind: 'set up', text: 'Kinds of contacts changed', subject: 'firm', subjectId: 1 })
  })
}

export async function fees(ctx: Ctx) {
  const list = await ctx.db.manager.find(ListedFee, {
    select: { id: true, name: true, areaId: true, portions: true, retired: true },
    order: { retired: 'ASC', name: 'ASC' },
  })
  return list.map((f) => ({ ...f, retired: Boolean(f.retired), portions: JSON.parse(f.portions) as FeeIn['portions'] }))
}

export function makeFee(ctx: Ctx, input: FeeIn): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    if (await m.existsBy(ListedFee, { name: input.name })) throw fieldFault('name', 'There is a fee of that name already')
    const madeId = await insertRow(m, ListedFee, { name: input.name, areaId: input.areaId, portions: JSON.stringify(input.portions) })
    await audit(m, ctx, { kind: 'set up', text: `Flat fee ${input.name} listed`, subject: 'fee', subjectId: madeId })
    return { id: madeId }
  })
}

export function changeFee(ctx: Ctx, id: number, input: FeeIn): Promise<void> {
  return work(ctx, async (m) => {
    const before = await m.findOne(ListedFee, {
      select: { name: true, portions: true, id: true },
      where: { id },
      ...locked(m),
    })
    if (!before) throw notFound('fee')
    if (await m.existsBy(ListedFee, { name: input.name, id: Not(id) })) throw fieldFault('name', 'There is a fee of that name already')
    await m.update(
      ListedFee,
      { id },
      { name: input.name, areaId: input.areaId, portions: JSON.stringify(input.portions), retired: input.retired },
    )
    await audit(m, ctx, {
      kind: 'set up',
      text: `Flat fee ${before.name} changed`,
      subject: 'fee',
      subjectId: id,
      detail: { was: { portions: before.portions }, became: { portions: input.portions } },
    })
  })
}

export function setActivities(ctx: Ctx, activities: readonly { code: string; name: string }[]): Promise<void> {
  return work(ctx, async (m) => {
    const codes = activities.map((a) => a.code)
    if (new Set(codes).size !== codes.length) throw fieldFault('activities', 'Each code may stand only once')
    const used = await activitiesInUse(m)
    const missing = used.find((u) => !codes.includes(u.code))
    if (missing) throw fieldFault('activities', `Time is recorded under ${missing.code}, so it stays in the list`)
    await m.delete(Activity, { code: Not(In(codes.length ? codes : [''])) })
    for (const a of activities) await m.upsert(Activity, { code: a.code, name: a.name }, ['code'])
    await audit(m, ctx, { kind: 'set up', text: 'Activity codes changed', subject: 'firm', subjectId: 1 })
  })
}
