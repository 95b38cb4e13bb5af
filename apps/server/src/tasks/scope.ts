import type { EntityManager } from 'typeorm'
import { fieldFault } from '../platform/problem'
import { UserAccount } from '../platform/shared-entities'
import { screened } from './queries'

/** Checks that someone works here and may be given work on the matter. */
export async function mayWork(m: EntityManager, assigneeId: number, matterId: number | null, path = 'assigneeId'): Promise<string> {
  const who = await m.findOne(UserAccount, { select: { active: true, name: true, id: true }, where: { id: assigneeId } })
  if (!who?.active) throw fieldFault(path, 'Choose someone who works here')
  if (matterId && (await screened(m, matterId, assigneeId))) throw fieldFault(path, `${who.name} cannot be given work on this matter`)
  return who.name
}
