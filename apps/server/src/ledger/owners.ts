import type { EntityManager } from 'typeorm'
import { change, contactScope, requireMatter, type OpenMatter } from '../platform/access'
import type { Ctx } from '../platform/context'
import { row, rows } from '../platform/database'
import { fieldFault } from '../platform/problem'

/** Whose money may lie in trust for a matter: its clients, and those who are billed for it. */
async function ownersOf(m: EntityManager, matter: OpenMatter): Promise<Set<number>> {
  const found = await rows<{ id: number }>(
    m,
    `SELECT contact_id AS id FROM matter_client WHERE matter_id = ? UNION SELECT contact_id FROM matter_payer WHERE matter_id = ?`,
    [matter.id, matter.id],
  )
  return new Set([matter.clientId, ...(matter.billToId ? [matter.billToId] : []), ...found.map((f) => f.id)])
}

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
