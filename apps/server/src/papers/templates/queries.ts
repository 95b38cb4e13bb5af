import type { EntityManager } from 'typeorm'
import { contactScope } from '../../platform/access'
import { type Ctx, may } from '../../platform/context'
import { row, rows } from '../../platform/database'
import { TemplateSet } from '../entities'

/** Those that the actor may use; who sets the firm up sees all. */
export const usable = (ctx: Ctx, alias = 't') =>
  may(ctx.actor, 'firm.set-up')
    ? 'TRUE'
    : `(${alias}.retired_at IS NULL AND (${alias}.for_all OR EXISTS (SELECT 1 FROM template_person tp WHERE tp.template_id = ${alias}.id AND tp.user_id = ${Number(ctx.actor.id)})))`

/** The versions of a template, the last first. */
export const templateVersions = (m: EntityManager, id: number) =>
  rows<{ number: number; why: string; madeBy: string | null; madeAt: string; faults: string }>(
    m,
    `SELECT v.number, v.why, u.name AS madeBy, v.made_at AS madeAt, v.faults FROM template_version v LEFT JOIN user_account u ON u.id = v.made_by WHERE v.template_id = ? ORDER BY v.number DESC LIMIT 100`,
    [id],
  )

/** The number of the last version of a template. */
export const lastOfTemplate = (m: EntityManager, id: number) =>
  row<{ n: number }>(m, `SELECT MAX(number) AS n FROM template_version WHERE template_id = ?`, [id])

/** Sets of templates in their order, with those that the reader may use. */
export async function templateSets(ctx: Ctx) {
  const m = ctx.db.manager
  const sets = await m.find(TemplateSet, { order: { name: 'ASC' }, take: 300 })
  const items = await rows<{ setId: number; id: number; name: string }>(
    m,
    `SELECT i.set_id AS setId, t.id, t.name FROM template_set_item i JOIN template t ON t.id = i.template_id WHERE t.retired_at IS NULL AND ${usable(ctx)} ORDER BY i.place`,
  )
  return sets.map((s) => ({ ...s, templates: items.filter((i) => i.setId === s.id).map(({ id, name }) => ({ id, name })) }))
}

/** A contact to write to, where it is open to whoever asks. */
export const addressee = (m: EntityManager, ctx: Ctx, id: number) =>
  row<{ name: string; address: string }>(m, `SELECT c.name, c.address FROM contact c WHERE c.id = ? AND ${contactScope(ctx.actor)}`, [id])
