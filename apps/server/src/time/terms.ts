import type { ClientTerms, MatterTerms } from '@heron/contract'
import { showMoney } from '@heron/core/money'
import { In, type EntityManager } from 'typeorm'
import { requireContact } from '../people'
import { change, requireMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { insertMany, lockRow, work } from '../platform/database'
import { fieldFault } from '../platform/problem'
import { unchangedSince } from '../platform/seen'
import { FundingSource, RoleRate, TimeTerms } from './entities'
import { Matter, UserAccount } from '../platform/shared-entities'
import { dropClientRates, firmOf, ownOf, ratesOfClient, type Rounding } from './set-up-queries'

async function setOwn(m: EntityManager, owner: 'matter' | 'client', id: number, input: Rounding) {
  const fundingId = input.fundingId ?? null
  if (input.unit === null && input.rounding === null && fundingId === null) await m.delete(TimeTerms, { owner, ownerId: id })
  else await m.upsert(TimeTerms, { owner, ownerId: id, unitMinutes: input.unit, rounding: input.rounding, fundingId }, ['owner', 'ownerId'])
}
const inWords = (r: Rounding) =>
  [
    r.unit === null ? '' : `units of ${r.unit} min`,
    r.rounding === null ? '' : r.rounding === 'up' ? 'rounded up' : 'rounded to the nearest',
  ]
    .filter(Boolean)
    .join(', ') || 'rounded as usual'

const rolesOf = (m: EntityManager, matterId: number) =>
  m.find(RoleRate, { select: { role: true, rate: true, matterId: true }, where: { matterId }, order: { role: 'ASC' } })

/** How time on a matter is rounded and priced, with what holds where it says nothing. */
export async function matterTerms(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const matter = await requireMatter(m, ctx, id, 'money')
  const client = await ownOf(m, 'client', matter.clientId)
  const firm = await firmOf(m)
  return {
    fundingId: null,
    ...(await ownOf(m, 'matter', id)),
    usual: { unit: client.unit ?? firm.unit, rounding: client.rounding ?? firm.rounding },
    roles: await rolesOf(m, id),
  }
}

/** Holds for time recorded from now on; what is recorded keeps its rounding and its rate. */
export function changeMatterTerms(
  ctx: Ctx,
  id: number,
  { seen, ...input }: MatterTerms & { seen?: MatterTerms | undefined },
): Promise<void> {
  return work(ctx, async (m) => {
    await requireMatter(m, ctx, id, 'money', change)
    await lockRow(m, Matter, id)
    const byRole = (list: MatterTerms['roles']) =>
      [...list].map(({ role, rate }) => ({ role, rate })).sort((a, b) => a.role.localeCompare(b.role))
    const kept = { fundingId: null, ...(await ownOf(m, 'matter', id)), roles: byRole(await rolesOf(m, id)) }
    unchangedSince(kept, seen && { ...seen, roles: byRole(seen.roles) }, 'these terms')
    if (new Set(input.roles.map((r) => r.role)).size !== input.roles.length) throw fieldFault('roles', 'Name each role once')
    if (input.fundingId !== null && !(await m.existsBy(FundingSource, { id: input.fundingId })))
      throw fieldFault('fundingId', 'Choose a source of the list')
    await setOwn(m, 'matter', id, input)
    await m.delete(RoleRate, { matterId: id })
    await insertMany(
      m,
      'role_rate',
      ['matter_id', 'role', 'rate'],
      input.roles.map((r) => [id, r.role, r.rate]),
    )
    const rates = input.roles.map((r) => `${r.role} ${showMoney(r.rate)}`).join(', ')
    await audit(m, ctx, {
      kind: 'changed',
      text: `Time: ${inWords(input)}${rates ? `; by role ${rates}` : ''}`,
      matterId: id,
      subject: 'time',
    })
  })
}

export function changeClientTerms(
  ctx: Ctx,
  id: number,
  { seen, ...input }: ClientTerms & { seen?: ClientTerms | undefined },
): Promise<void> {
  return work(ctx, async (m) => {
    const client = await requireContact(m, ctx, id, true)
    const kept = { ...(await ownOf(m, 'client', id)), rates: await ratesOfClient(m, id) }
    unchangedSince(kept, seen && { ...seen, rates: [...seen.rates].sort((a, b) => a.userId - b.userId) }, 'these terms')
    const ids = input.rates.map((r) => r.userId)
    if (new Set(ids).size !== ids.length) throw fieldFault('rates', 'Name each person once')
    const known = ids.length ? await m.find(UserAccount, { select: { id: true }, where: { id: In(ids) } }) : []
    const unknown = ids.findIndex((u) => !known.some((k) => k.id === u))
    if (unknown >= 0) throw fieldFault(`rates.${unknown}.userId`, 'Choose someone who works here')
    await setOwn(m, 'client', id, input)
    await dropClientRates(m, id)
    await insertMany(
      m,
      'client_rate',
      ['client_id', 'user_id', 'rate'],
      input.rates.map((r) => [id, r.userId, r.rate]),
    )
    await audit(m, ctx, { kind: 'changed', text: `Time for ${client.name}: ${inWords(input)}`, subject: 'contact', subjectId: id })
  })
}
