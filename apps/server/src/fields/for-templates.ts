import type { EntityManager } from 'typeorm'
import type { Ctx } from '../platform/context'
import { writeFields } from './service'
import { fieldValuesOf } from './queries'
import type { Owner } from './template-queries'

/** Writes one value of the firm's own fields, the others of the record as they are. */
export async function writeOneField(
  m: EntityManager,
  ctx: Ctx,
  owner: Owner,
  ownerId: number,
  fieldId: number,
  text: string,
  areaId: number | null,
) {
  const now = await fieldValuesOf(m, owner, ownerId)
  await writeFields(m, ctx, owner, ownerId, { ...now, [fieldId]: [text] }, areaId)
}
