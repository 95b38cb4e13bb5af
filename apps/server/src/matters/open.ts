import type { MatterIn } from '@heron/contract'
import { faultOfPast } from '@heron/core/calendar'
import { formatMatterNumber, numberSeries } from '@heron/core/matters'
import { In, type EntityManager } from 'typeorm'
import { writeFields } from '../fields'
import { checkNames, Contact, contactsThere, settleEnquiry, tieCheck } from '../people'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertRow, nextNumber, work } from '../platform/database'
import { fieldFault } from '../platform/problem'
import { knownRuleSet } from '../platform/rule-sets'
import { previewProcedure, startProcedure } from '../tasks'
import { writeArrangement } from './arrangement'
import { MatterClient, MatterParty, MatterStage, MatterTag, Stage } from './entities'
import { Matter } from '../platform/shared-entities'
import { writePayers } from './payers'
import { putOnTeam, type TeamIn } from './team'
import { indexMatters } from './words'
import { Counter } from '../platform/entities'
import { type AreaRow, areaRow, patternOf } from './file-queries'

/** The number a client's matter opened now would get. Numbers are never reused. */
export async function nextMatterNumber(ctx: Ctx): Promise<string> {
  const m = ctx.db.manager
  const pattern = await patternOf(m)
  const year = Number(ctx.clock.today().slice(0, 4))
  const found = await m.findOne(Counter, { select: { value: true, name: true }, where: { name: numberSeries(pattern, year) } })
  return formatMatterNumber(pattern, { year, n: (found?.value ?? 0) + 1, client: 0 })
}

/** Firm and practice matters have series of their own, so that they leave no gaps among the clients'. */
async function takeNumber(m: EntityManager, input: Pick<MatterIn, 'kind' | 'openedOn' | 'clientId'>): Promise<string> {
  if (input.kind !== 'client') return `${input.kind === 'firm' ? 'F' : 'P'}-${await nextNumber(m, `${input.kind} matter`)}`
  const pattern = await patternOf(m)
  const year = Number(input.openedOn.slice(0, 4))
  for (;;) {
    const number = formatMatterNumber(pattern, { year, n: await nextNumber(m, numberSeries(pattern, year)), client: input.clientId })
    // A pattern changed meanwhile, or an import, may have given out this number already.
    if (!(await m.existsBy(Matter, { number }))) return number
  }
}

/** Writes clients besides the first, and tags. */
export async function writeAround(m: EntityManager, matterId: number, input: Pick<MatterIn, 'clientIds' | 'tags' | 'clientId'>) {
  await m.delete(MatterClient, { matterId })
  await m.delete(MatterTag, { matterId })
  for (const id of new Set(input.clientIds)) if (id !== input.clientId) await m.insert(MatterClient, { matterId, contactId: id })
  for (const tag of new Set(input.tags.map((t) => t.toLowerCase()))) await m.insert(MatterTag, { matterId, tag })
}

async function areaOf(m: EntityManager, areaId: number | null): Promise<AreaRow | null> {
  if (!areaId) return null
  const area = await areaRow(m, areaId)
  if (!area) throw fieldFault('areaId', 'Choose a practice area')
  return area
}

function staffGrants(access: MatterIn['access'], area: AreaRow | null) {
  const all = (n: number) => ({ staffFile: n, staffDocket: n, staffPapers: n, staffMoney: n, staffTrust: n })
  if (access === 'team') return all(0)
  if (access === 'firm' || !area) return all(2)
  return { staffFile: area.file, staffDocket: area.docket, staffPapers: area.papers, staffMoney: area.money, staffTrust: area.trust }
}

/**
 * Opens a matter. Only client, name and day are required; what is missing stays visible on the file. Its names are
 * always checked for conflicts: by the check that was made beforehand, or by one made here, whose hits wait on the file.
 */
export function openMatter(ctx: Ctx, input: MatterIn): Promise<{ id: number; number: string }> {
  return work(ctx, async (m) => {
    await contactsThere(m, ctx, [
      ['clientId', input.clientId],
      ...input.clientIds.map((id, i) => [`clientIds.${i}`, id] as const),
      ...input.parties.flatMap((p, i) => [
        [`parties.${i}.contactId`, p.contactId] as const,
        [`parties.${i}.counselId`, p.counselId] as const,
      ]),
      ['billToId', input.billToId],
      ...input.payers.map((p, i) => [`payers.${i}.contactId`, p.contactId] as const),
      ['judgeId', input.judgeId],
    ])
    const wrongDay = faultOfPast(input.openedOn, ctx.clock.today(), 'work')
    if (wrongDay) throw fieldFault('openedOn', wrongDay)
    await knownRuleSet(m, input.ruleSetKey)
    const area = await areaOf(m, input.areaId)
    const leadId = input.leadId ?? ctx.actor.id
    const stage = input.areaId
      ? await m.findOne(Stage, { select: { id: true }, where: { areaId: input.areaId, retired: false }, order: { ordinal: 'ASC' } })
      : null
    const number = await takeNumber(m, input)
    const id = await insertRow(m, Matter, {
      number,
      kind: input.kind,
      name: input.name,
      shortName: input.shortName || input.name.slice(0, 60),
      secondNumber: input.secondNumber,
      clientId: input.clientId,
      areaId: input.areaId,
      stageId: stage?.id ?? null,
      openedOn: input.openedOn,
      description: input.description,
      court: input.court,
      caseNumber: input.caseNumber,
      judgeId: input.judgeId,
      ourSide: input.ourSide,
      ruleSetKey: input.ruleSetKey,
      leadId,
      originatingId: input.originatingId,
      billing: input.billing,
      billToId: input.payers[0]?.contactId ?? input.billToId,
      enquiryId: input.enquiryId,
      access: input.access === 'team' ? 'team' : 'firm',
      ...staffGrants(input.access, area),
      conflictCheckId: input.conflictCheckId,
      activeOn: input.openedOn,
    })
    if (stage) await m.insert(MatterStage, { matterId: id, stageId: stage.id, fromDay: input.openedOn, setBy: ctx.actor.id })
    await writeAround(m, id, input)
    await writePayers(m, id, input.payers)
    for (const p of input.parties) await m.insert(MatterParty, { ...p, matterId: id, addedAt: instant(ctx.clock.now()) })
    const people = new Map<number, TeamIn>(input.team.map((t) => [t.userId, t]))
    people.set(leadId, { ...(people.get(leadId) ?? { userId: leadId, rate: null }), role: 'lead', keeps: true })
    for (const t of people.values())
      await putOnTeam(m, ctx, id, { ...t, role: t.userId === leadId ? 'lead' : t.role === 'lead' ? 'lawyer' : t.role }, input.openedOn)
    await writeArrangement(m, id, input)
    if (input.fields) await writeFields(m, ctx, 'matter', id, input.fields, input.areaId)
    await indexMatters(m, [id])
    const names = [input.clientId, ...input.clientIds, ...input.parties.map((p) => p.contactId)]
    if (input.conflictCheckId) await tieCheck(m, ctx, input.conflictCheckId, id, names)
    else if (input.kind === 'client') await checkAtOpening(m, ctx, id, input, names)
    await audit(m, ctx, { kind: 'opened', text: `Matter ${number} opened: ${input.name}`, matterId: id, subject: 'matter', subjectId: id })
    if (input.enquiryId) await settleEnquiry(m, ctx, input.enquiryId, id)
    for (const p of input.procedures) {
      const inside = { ...ctx, tx: m }
      const asked = { procedureId: p.procedureId, start: p.start, givenTo: null, anchors: {} }
      const plan = p.agreed ?? (await previewProcedure(inside, id, asked))
      if (!plan.steps.length) continue
      await startProcedure(inside, id, {
        ...asked,
        version: plan.version,
        steps: plan.steps.map((s) => ({ key: s.key, dueOn: s.dueOn, assigneeId: s.assigneeId, byHand: 'byHand' in s && s.byHand })),
      })
    }
    return { id, number }
  })
}

async function checkAtOpening(m: EntityManager, ctx: Ctx, matterId: number, input: MatterIn, contactIds: readonly number[]) {
  const who = await m.find(Contact, { select: { id: true, name: true }, where: { id: In([...new Set(contactIds)]) } })
  const ours = who.filter((w) => w.id === input.clientId || input.clientIds.includes(w.id)).map((w) => w.name)
  await checkNames(
    m,
    ctx,
    who.map((w) => ({ name: w.name, contactId: w.id })),
    { matterId, ours, itself: { matterId } },
  )
}
