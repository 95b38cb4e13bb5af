import type { EntityManager } from 'typeorm'
import { change, requireMatter } from '../platform/access'
import type { Ctx } from '../platform/context'
import { fieldFault } from '../platform/problem'
import { knownOwner, ownersOf } from './ledger-queries'

/** Whether somebody on record, known to the reader, may own money in trust for a matter; `path` is where a form asks for them. */
export async function requireOwner(
  m: EntityManager,
  ctx: Ctx,
  owner: { clientId: number | null; matterId: number | null },
  path = '',
): Promise<void> {
  if (owner.clientId !== null && !(await knownOwner(m, ctx, owner.clientId, owner.matterId)))
    throw fieldFault(`${path}clientId`, 'Choose someone on record')
  if (owner.matterId === null) return
  const matter = await requireMatter(m, ctx, owner.matterId, 'trust', change)
  if (matter.kind === 'practice') throw fieldFault(`${path}matterId`, `${matter.number} is for practice and stays out of the books`)
  if (owner.clientId === null || !(await ownersOf(m, matter)).has(owner.clientId))
    throw fieldFault(`${path}matterId`, `${matter.number} is not a matter of this client`)
}
