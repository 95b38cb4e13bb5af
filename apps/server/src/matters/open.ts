import type { MatterIn } from '@heron/contract'
import { shippedRuleSets } from '@heron/core/docket'
import type { EntityManager } from 'typeorm'
import { checkNames, tieCheck } from '../people'
import { contactScope, requireMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { nextNumber, row, rows, run, work } from '../platform/database'
import { fieldFault, notFound } from '../platform/problem'
import { FeePortion, Matter, MatterParty, MatterScreen, MatterTeam } from './entities'

/** The number a matter opened now would get: year and running number. Numbers are never reused. */
export async function nextMatterNumber(ctx: Ctx): Promise<string> {
  const year = ctx.clock.today().slice(2, 4)
  const found = await row<{ value: number }>(ctx.db.manager, `SELECT value FROM counter WHERE name = ?`, [`matter ${year}`])
  return numberOf(year, (found?.value ?? 0) + 1)
}
const numberOf = (year: string, n: number) => `${year}-${String(n).padStart(4, '0')}`

async function contactsThere(m: EntityManager, ctx: Ctx, input: MatterIn) {
  const wanted: [string, number][] = [
    ['clientId', input.clientId],
    ...input.parties.map((p, i): [string, number] => [`parties.${i}.contactId`, p.contactId]),
  ]
  if (input.billToId) wanted.push(['billToId', input.billToId])
  const found = await rows<{ id: number }>(m, `SELECT c.id FROM contact c WHERE c.id IN (?) AND ${contactScope(ctx.actor)}`, [
    wanted.map(([, id]) => id),
  ])
  for (const [path, id] of wanted) if (!found.some((f) => f.id === id)) throw fieldFault(path, 'Choose someone on record')
}

/** Opens a matter. A stored conflict check that covers its client and parties is required; deciding on hits may wait. */
export function openMatter(ctx: Ctx, input: MatterIn): Promise<{ id: number; number: string }> {
  return work(ctx, async (m) => {
    await contactsThere(m, ctx, input)
    if (input.ruleSetKey && !shippedRuleSets.some((s) => s.key === input.ruleSetKey)) throw fieldFault('ruleSetKey', 'Choose a rule set')
    const { parties, team, flatFee, conflictCheckId, ...own } = input
    const stage = own.areaId
      ? await row<{ id: number }>(m, `SELECT id FROM stage WHERE area_id = ? ORDER BY ordinal LIMIT 1`, [own.areaId])
      : null
    const year = input.openedOn.slice(2, 4)
    const number = numberOf(year, await nextNumber(m, `matter ${year}`))
    const made = await m.insert(Matter, {
      ...own,
      shortName: own.shortName || own.name.slice(0, 60),
      number,
      stageId: stage?.id ?? null,
      activeOn: input.openedOn,
      conflictCheckId,
      kind: 'client',
    })
    const id = made.identifiers[0]!['id'] as number
    for (const p of parties) await m.insert(MatterParty, { ...p, matterId: id, addedAt: instant(ctx.clock.now()) })
    const people = new Map(team.map((t) => [t.userId, t]))
    if (!people.has(own.leadId)) people.set(own.leadId, { userId: own.leadId, role: 'lead', rate: null })
    for (const t of people.values())
      await m.insert(MatterTeam, {
        matterId: id,
        userId: t.userId,
        role: t.userId === own.leadId ? 'lead' : t.role,
        keeps: t.userId === own.leadId,
        rate: t.rate,
        since: input.openedOn,
      })
    for (const [i, portion] of (own.billing === 'flat' ? flatFee : []).entries())
      await m.insert(FeePortion, { ...portion, matterId: id, ordinal: i + 1 })
    await tieCheck(m, ctx, conflictCheckId, id, [own.clientId, ...parties.map((p) => p.contactId)])
    await audit(m, ctx, { kind: 'opened', text: `Matter ${number} opened: ${own.name}`, matterId: id, subject: 'matter', subjectId: id })
    return { id, number }
  })
}

/** Adds a party and checks that name; the check is kept with the matter. */
export function addParty(
  ctx: Ctx,
  matterId: number,
  party: { contactId: number; role: string; side: 'ours' | 'adverse' | 'other'; counsel: string },
) {
  return work(ctx, async (m) => {
    await requireMatter(m, ctx, matterId)
    const who = await row<{ name: string }>(m, `SELECT c.name FROM contact c WHERE c.id = ? AND ${contactScope(ctx.actor)}`, [
      party.contactId,
    ])
    if (!who) throw fieldFault('contactId', 'Choose someone on record')
    const there = await row(m, `SELECT 1 FROM matter_party WHERE matter_id = ? AND contact_id = ? AND role = ?`, [
      matterId,
      party.contactId,
      party.role,
    ])
    if (there) throw fieldFault('contactId', `${who.name} is ${party.role} here already`)
    await m.insert(MatterParty, { ...party, matterId, addedAt: instant(ctx.clock.now()) })
    const check = await checkNames(m, ctx, [who.name], matterId)
    await audit(m, ctx, {
      kind: 'changed',
      text: `Party added: ${who.name}, ${party.role}; ${check.hits.length} conflict hits`,
      matterId,
      subject: 'matter',
      subjectId: matterId,
    })
    return check
  })
}

export function setStage(ctx: Ctx, matterId: number, stageId: number): Promise<void> {
  return work(ctx, async (m) => {
    await requireMatter(m, ctx, matterId)
    const stage = await row<{ name: string }>(
      m,
      `SELECT s.name FROM stage s JOIN matter m ON m.area_id = s.area_id WHERE s.id = ? AND m.id = ?`,
      [stageId, matterId],
    )
    if (!stage) throw fieldFault('stageId', 'Choose a stage of this matter’s area')
    await m.update(Matter, matterId, { stageId })
    await audit(m, ctx, { kind: 'changed', text: `Stage: ${stage.name}`, matterId, subject: 'matter', subjectId: matterId })
  })
}

export function setBilling(ctx: Ctx, matterId: number, billToId: number): Promise<void> {
  return work(ctx, async (m) => {
    await requireMatter(m, ctx, matterId)
    const who = await row<{ name: string }>(m, `SELECT c.name FROM contact c WHERE c.id = ? AND ${contactScope(ctx.actor)}`, [billToId])
    if (!who) throw fieldFault('billToId', 'Choose someone on record')
    await m.update(Matter, matterId, { billToId })
    await audit(m, ctx, { kind: 'changed', text: `Bills go to ${who.name}`, matterId, subject: 'matter', subjectId: matterId })
  })
}

/** Shuts a person out of a matter, everywhere. The lead lawyer cannot be screened from the own matter. */
export function screenPerson(ctx: Ctx, matterId: number, userId: number): Promise<void> {
  return work(ctx, async (m) => {
    const matter = await requireMatter(m, ctx, matterId)
    if (matter.leadId === userId) throw fieldFault('userId', 'The lead lawyer cannot be screened. Change the lead first.')
    const who = await row<{ name: string }>(m, `SELECT name FROM user_account WHERE id = ?`, [userId])
    if (!who) throw notFound('person')
    await run(m, `DELETE FROM matter_team WHERE matter_id = ? AND user_id = ?`, [matterId, userId])
    await m.createQueryBuilder().insert().orIgnore().into(MatterScreen).values({ matterId, userId }).execute()
    await audit(m, ctx, {
      kind: 'screened',
      text: `${who.name} screened from this matter`,
      matterId,
      subject: 'matter',
      subjectId: matterId,
    })
  })
}

/** Says that a stage of a flat fee is earned, so that its share may be taken from trust. */
export function earnPortion(ctx: Ctx, portionId: number, day: string): Promise<void> {
  return work(ctx, async (m) => {
    const portion = await row<{ matterId: number; label: string; earnedOn: string | null }>(
      m,
      `SELECT matter_id AS matterId, label, earned_on AS earnedOn FROM fee_portion WHERE id = ? FOR UPDATE`,
      [portionId],
    )
    if (!portion) throw notFound('portion')
    await requireMatter(m, ctx, portion.matterId)
    if (portion.earnedOn) throw fieldFault('day', 'This portion is marked as earned already')
    if (day > ctx.clock.today()) throw fieldFault('day', 'It cannot be earned on a day ahead')
    await m.update(FeePortion, portionId, { earnedOn: day })
    await audit(m, ctx, {
      kind: 'changed',
      text: `Earned: ${portion.label}`,
      matterId: portion.matterId,
      subject: 'matter',
      subjectId: portion.matterId,
    })
  })
}
