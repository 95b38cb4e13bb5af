import { counted } from '@heron/core/words'
import type { FieldValues, MatterChange } from '@heron/contract'
import { In, type EntityManager } from 'typeorm'
import { writeFields } from '../fields'
import { checkNames, Contact, contactsThere, differences } from '../people'
import { requireOpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { work } from '../platform/database'
import { fieldFault, notFound, refused } from '../platform/problem'
import { unchangedSince } from '../platform/seen'
import { MatterParty } from './entities'
import { Matter } from '../platform/shared-entities'
import { knownRuleSet } from '../platform/rule-sets'
import { writeAround } from './open'
import { startInArea } from './stages'
import { indexMatters } from './words'
import { clientsBeside, clientStands, contactNamed, describedBy, lockedParty, type PartyIn } from './file-queries'

/** Changes what the file says of its matter. A client added or exchanged is checked for conflicts. */
export function changeMatter(ctx: Ctx, { id, ...input }: MatterChange): Promise<void> {
  return work(ctx, async (m) => {
    const matter = await requireOpenMatter(m, ctx, id)
    if (input.version !== undefined && input.version !== matter.version)
      throw refused('changed-meanwhile', 'Somebody else changed this file while you wrote. Nothing was written over.')
    await contactsThere(m, ctx, [
      ['clientId', input.clientId],
      ...input.clientIds.map((x, i) => [`clientIds.${i}`, x] as const),
      ['judgeId', input.judgeId],
    ])
    await knownRuleSet(m, input.ruleSetKey)
    if (input.clientId !== matter.clientId && (await clientStands(m, id)))
      throw fieldFault('clientId', 'There are bills or trust money under this client. Open a matter for the other client instead.')
    const was = await describedBy(m, id)
    const before = new Set([matter.clientId, ...(await clientsBeside(m, id)).map((c) => c.id)])
    const { tags, clientIds, fields, version: _version, ...own } = input
    await m.update(Matter, id, { ...own, shortName: own.shortName || own.name.slice(0, 60), version: matter.version + 1 })
    if (own.areaId !== matter.areaId) await startInArea(m, ctx, id, own.areaId)
    await writeAround(m, id, { tags, clientIds, clientId: own.clientId })
    const written = fields ? await writeFields(m, ctx, 'matter', id, fields, own.areaId) : null
    await indexMatters(m, [id])
    const fresh = [own.clientId, ...clientIds].filter((c) => !before.has(c))
    if (fresh.length) {
      const who = await m.find(Contact, { select: { id: true, name: true }, where: { id: In(fresh) } })
      await checkNames(
        m,
        ctx,
        who.map((w) => ({ name: w.name, contactId: w.id })),
        { matterId: id, ours: who.map((w) => w.name) },
      )
    }
    await audit(m, ctx, {
      kind: 'changed',
      text: 'File changed',
      matterId: id,
      subject: 'matter',
      subjectId: id,
      detail: { ...differences(was, await describedBy(m, id)), ...(written ? { fields: written } : {}) },
    })
  })
}

export function setFields(ctx: Ctx, id: number, fields: FieldValues): Promise<void> {
  return work(ctx, async (m) => {
    const matter = await requireOpenMatter(m, ctx, id)
    const written = await writeFields(m, ctx, 'matter', id, fields, matter.areaId)
    await audit(m, ctx, { kind: 'changed', text: 'Fields filled in', matterId: id, subject: 'matter', subjectId: id, detail: written })
  })
}

/** Adds a party and checks that name; the check is kept with the matter. */
export function addParty(ctx: Ctx, matterId: number, party: PartyIn) {
  return work(ctx, async (m) => {
    await requireOpenMatter(m, ctx, matterId)
    const who = await contactNamed(m, ctx, party.contactId)
    if (!who) throw fieldFault('contactId', 'Choose someone on record')
    await contactsThere(m, ctx, [['counselId', party.counselId]])
    const there = await m.existsBy(MatterParty, { matterId, contactId: party.contactId, role: party.role })
    if (there) throw fieldFault('contactId', `${who.name} is ${party.role} here already`)
    const check = await checkNames(m, ctx, [{ name: who.name, contactId: party.contactId }], { matterId })
    await m.insert(MatterParty, { ...party, matterId, addedAt: instant(ctx.clock.now()) })
    await indexMatters(m, [matterId])
    await audit(m, ctx, {
      kind: 'changed',
      text: `Party added: ${who.name}, ${party.role}; ${counted(check.hits.length, 'conflict hit')}`,
      matterId,
      subject: 'matter',
      subjectId: matterId,
    })
    return check
  })
}

async function lockParty(m: EntityManager, ctx: Ctx, partyId: number) {
  const p = await lockedParty(m, partyId)
  if (!p) throw notFound('party')
  await requireOpenMatter(m, ctx, p.matterId)
  return p
}

type PartyStands = Omit<PartyIn, 'contactId'>
export function changeParty(
  ctx: Ctx,
  partyId: number,
  { seen, ...input }: PartyStands & { seen?: PartyStands | undefined },
): Promise<void> {
  return work(ctx, async (m) => {
    const { name, matterId, contactId: _contact, ...was } = await lockParty(m, ctx, partyId)
    unchangedSince(was, seen, 'this party')
    await contactsThere(m, ctx, [['counselId', input.counselId]])
    await m.update(MatterParty, partyId, input)
    await audit(m, ctx, {
      kind: 'changed',
      text: `Party changed: ${name}`,
      matterId,
      subject: 'matter',
      subjectId: matterId,
      detail: differences(was, input),
    })
  })
}

export function removeParty(ctx: Ctx, partyId: number): Promise<void> {
  return work(ctx, async (m) => {
    const p = await lockParty(m, ctx, partyId)
    await m.delete(MatterParty, { id: partyId })
    await indexMatters(m, [p.matterId])
    await audit(m, ctx, {
      kind: 'changed',
      text: `Party taken out: ${p.name}, ${p.role}`,
      matterId: p.matterId,
      subject: 'matter',
      subjectId: p.matterId,
    })
  })
}
