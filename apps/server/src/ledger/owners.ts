import type { EntityManager } from 'typeorm'
import { change, contactScope, requireMatter } from '../platform/access'
import type { Ctx } from '../platform/context'
import { row } from '../platform/database'
import { fieldFault } from '../platform/problem'
import { ownersOf } from './ledger-queries'

/** Whether somebody on record, known to the reader, may own money in trust for a matter; `path` is where a form asks for them. */
export async function requireOwner(
  m: EntityManager,
  ctx: Ctx,
  owner: { clientId: number | null; matterId: number | null },
  path = '',
): Promise<void> {
  const known = `SELECT 1 FROM contact c WHERE c.id = ? AND (${contactScope(ctx.actor)} OR c.id = (SELECT client_id FROM matter WHERE id = ?))`
  if (owner.clientId !== null && !(await row(m, known, [owner.clientId, owner.matterId])))
    throw fieldFault(`${path}clientId`, 'Choose someone on record')
  if (owner.matterId === null) return
  const matter = await requireMatter(m, ctx, owner.matterId, 'trust', change)
  if (matter.kind === 'practice') throw fieldFault(`${path}matterId`, `${matter.number} is for practice and stays out of the books`)
  if (owner.clientId === null || !(await ownersOf(m, matter)).has(owner.clientId))
    throw fieldFault(`${path}matterId`, `${matter.number} is not a matter of this client`)
}
