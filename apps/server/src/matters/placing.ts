import type { MatterPlace, TeamStanding } from '@heron/contract'
import type { EntityManager } from 'typeorm'
import { differences } from '../people'
import { requireKept, requireOpenMatter, type OpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { work } from '../platform/database'
import { fieldFault, refused } from '../platform/problem'
import { MatterTeam } from './entities'
import { Matter, PracticeArea } from '../platform/shared-entities'
import { moveToStage, startInArea } from './stages'
import { giveTeam, takeOffTeam } from './team'
import { indexMatters } from './words'

/** The names of the columns of a board are numbers, but for courts; an empty one is the column of what has none. */
const idOf = (key: string) => (key === '' ? null : Number(key))

/**
 * Moves an open matter from one column of a board to another. Refused when it no longer stands where whoever moves it saw it.
 * Says how a new lead stood on the team before, so that taking it back leaves them no more than they had.
 */
export function placeMatter(ctx: Ctx, input: MatterPlace): Promise<{ before: TeamStanding | null }> {
  return work(ctx, async (m) => {
    const matter = await requireOpenMatter(m, ctx, input.id)
    const { stageId, court, areaId, leadId } = await m.findOneOrFail(Matter, {
      where: { id: input.id },
      lock: { mode: 'pessimistic_write' },
    })
    const standsAt = { stage: stageId, court, area: areaId, lead: leadId }[input.by]
    // The column of a court is named by one of those that differ by capitals alone.
    if (
      String(standsAt ?? '')
        .trim()
        .localeCompare(input.from, 'en', { sensitivity: 'base' }) !== 0
    )
      throw refused('changed-meanwhile', `${matter.number} was moved by someone else meanwhile. Look where it is now.`)
    if (input.from === input.to) return { before: null }
    if (input.by === 'stage') await moveToStage(m, ctx, input.id, idOf(input.to) ?? 0)
    else if (input.by === 'area') await toArea(m, ctx, matter, idOf(input.to), input.stageId)
    else if (input.by === 'court') await toCourt(m, ctx, matter, court, input.to)
    else return { before: await toLead(m, ctx, input, leadId) }
    return { before: null }
  })
}

async function toArea(m: EntityManager, ctx: Ctx, matter: OpenMatter, areaId: number | null, stageId?: number | null) {
  const area = areaId === null ? null : await m.findOneBy(PracticeArea, { id: areaId })
  if (areaId !== null && !area) throw fieldFault('to', 'Choose an area of the firm')
  const was = matter.areaId ? await m.findOneBy(PracticeArea, { id: matter.areaId }) : null
  await m.update(Matter, matter.id, { areaId, version: matter.version + 1 })
  await startInArea(m, ctx, matter.id, areaId, stageId)
  await said(m, ctx, matter.id, `Area: ${area?.name ?? 'none'}`, differences({ area: was?.name ?? null }, { area: area?.name ?? null }))
}

async function toCourt(m: EntityManager, ctx: Ctx, matter: OpenMatter, was: string, court: string) {
  await m.update(Matter, matter.id, { court, version: matter.version + 1 })
  await indexMatters(m, [matter.id])
  await said(m, ctx, matter.id, `Court: ${court || 'none'}`, differences({ court: was }, { court }))
}

/** As on the team's page: only who keeps the matter hands it over, and who led it stays on the team unless this takes a move back. */
async function toLead(m: EntityManager, ctx: Ctx, input: MatterPlace, was: number): Promise<TeamStanding | null> {
  const matter = await requireKept(m, ctx, input.id)
  const userId = idOf(input.to)
  if (userId === null) throw fieldFault('to', 'Every matter has a lead lawyer')
  const onTeam = (id: number) => m.findOneBy(MatterTeam, { matterId: matter.id, userId: id })
  const before = await onTeam(userId)
  await giveTeam(m, ctx, matter, { userId, role: 'lead', rate: before?.rate ?? null })
  const now = { id: matter.id, leadId: userId }
  if (input.backTo === null) await takeOffTeam(m, ctx, now, was)
  else if (input.backTo) await giveTeam(m, ctx, now, { ...input.backTo, userId: was, rate: (await onTeam(was))?.rate ?? null })
  if (!before || before.role === 'lead') return null
  const grants = { file: before.atFile, docket: before.atDocket, papers: before.atPapers, money: before.atMoney, trust: before.atTrust }
  return { role: before.role, keeps: Boolean(before.keeps), grants: grants as TeamStanding['grants'] }
}

const said = (m: EntityManager, ctx: Ctx, matterId: number, text: string, detail: object) =>
  audit(m, ctx, { kind: 'changed', text, matterId, subject: 'matter', subjectId: matterId, detail })
