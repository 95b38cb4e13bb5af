import type { FieldValues } from '@heron/contract'
import { In, type EntityManager } from 'typeorm'
import { FieldValue, fieldValuesOf, missingFieldsOf, writeFields } from '../fields'
import { requireMatter } from '../platform/access'
import { may, type Ctx } from '../platform/context'
import { fieldFault, notFound } from '../platform/problem'
import { TimeEntry } from './entities'
import { copyValues, ids } from './set-up-queries'

/** Fields of the firm's own of an entry that the reader may see. */
export async function ownFieldsOf(ctx: Ctx, id: number): Promise<FieldValues> {
  const m = ctx.db.manager
  const entry = await m.findOne(TimeEntry, { select: { matterId: true, userId: true, enteredBy: true, id: true }, where: { id } })
  if (!entry) throw notFound('time entry')
  const own = entry.userId === ctx.actor.id || entry.enteredBy === ctx.actor.id
  if (!own && !may(ctx.actor, 'bills.see')) throw notFound('time entry')
  await requireMatter(m, ctx, entry.matterId, own ? 'file' : 'money')
  return fieldValuesOf(m, 'time', id)
}

/** Keeps them as they were filled in; whoever fills them in gives what is required. Tells whether anything changed. */
export async function keepOwnFields(m: EntityManager, ctx: Ctx, id: number, values: FieldValues | undefined): Promise<boolean> {
  if (!values) return false
  const missing = await missingFieldsOf(m, 'time', values, null)
  if (missing.length) throw fieldFault('fields', `Fill in ${missing.join(', ')}`)
  const { was, became } = await writeFields(m, ctx, 'time', id, values, null)
  return JSON.stringify(was) !== JSON.stringify(became)
} // prettier-ignore
/** A part that is split off keeps what its whole had. */
export async function copyOwnFields(m: EntityManager, from: number, to: number): Promise<void> {
  const fields = await ids(m)
  if (fields.length) await copyValues(m, to, from, fields)
}
export async function dropOwnFields(m: EntityManager, id: number): Promise<void> {
  const fields = await ids(m)
  if (fields.length) await m.delete(FieldValue, { ownerId: id, fieldId: In(fields) })
}
