import type { FieldGroupOut, FieldOwner, FieldValues } from '@heron/contract'
import { showDay, type Day } from '@heron/core/calendar'
import { fieldFilter, plainFieldValue, showFieldValue } from '@heron/core/fields'
import type { EntityManager } from 'typeorm'
import { contactScope } from '../platform/access'
import type { Ctx } from '../platform/context'
import { row, rows, run } from '../platform/database'
import { FieldDef } from './entities'

export type Owner = FieldOwner

/** The firm's groups of fields in their order, with their fields. */
export async function fieldGroups(m: EntityManager, owner?: Owner): Promise<FieldGroupOut[]> {
  const groups = await rows<{ id: number; owner: Owner; name: string; repeating: number }>(
    m,
    `SELECT id, owner, name, repeating FROM field_group WHERE ? = '' OR owner = ? ORDER BY owner, ordinal, id`,
    [owner ?? '', owner ?? ''],
  )
  const fields = await m.find(FieldDef, {
    select: {
      id: true,
      groupId: true,
      name: true,
      mergeKey: true,
      type: true,
      choices: true,
      otherAllowed: true,
      required: true,
      areaIds: true,
      shownIfField: true,
      shownIfValue: true,
      retired: true,
    },
    order: { ordinal: 'ASC', id: 'ASC' },
  })
  return groups.map((g) => ({
    ...g,
    repeating: Boolean(g.repeating),
    fields: fields
      .filter((f) => f.groupId === g.id)
      .map(({ groupId: _group, shownIfField, shownIfValue, ...f }) => ({
        ...f,
        choices: JSON.parse(f.choices) as string[],
        areaIds: JSON.parse(f.areaIds) as number[],
        otherAllowed: Boolean(f.otherAllowed),
        required: Boolean(f.required),
        retired: Boolean(f.retired),
        shownIf: shownIfField ? { fieldId: shownIfField, value: shownIfValue ?? '' } : null,
      })),
  }))
}

/** Values of one record, by field. */
export async function fieldValuesOf(m: EntityManager, owner: Owner, ownerId: number): Promise<FieldValues> {
  const list = await rows<{ fieldId: number; item: number; value: string; type: string }>(
    m,
    `SELECT v.field_id AS fieldId, v.item, v.value, d.type FROM field_value v JOIN field_def d ON d.id = v.field_id JOIN field_group g ON g.id = d.group_id
      WHERE v.owner_id = ? AND g.owner = ? ORDER BY v.field_id, v.item`,
    [ownerId, owner],
  )
  const out: FieldValues = {}
  for (const v of list) {
    const items = (out[v.fieldId] ??= [])
    while (items.length < v.item) items.push('')
    items.push(v.type === 'choices' ? (JSON.parse(v.value) as string[]) : v.value)
  }
  return out
}

/** Names of the contacts that fields of a record point at, by id, as far as the reader may see them. */
export async function fieldNamesOf(m: EntityManager, ctx: Ctx, owner: Owner, ownerId: number): Promise<Record<string, string>> {
  const list = await rows<{ id: number; name: string }>(
    m,
    `SELECT c.id, c.name FROM field_value v JOIN field_def d ON d.id = v.field_id AND d.type = 'contact' JOIN field_group g ON g.id = d.group_id AND g.owner = ? JOIN contact c ON c.id = v.value
      WHERE v.owner_id = ? AND ${contactScope(ctx.actor)}`,
    [owner, ownerId],
  )
  return Object.fromEntries(list.map((c) => [String(c.id), c.name]))
}

/** Values of some fields of many records, as they are read, or as a file has them (`plain`): by record, then by field. At most twelve fields. */
export async function shownFields(ctx: Ctx, owner: Owner, ids: readonly number[], wanted: readonly number[], plain: boolean) {
  const m = ctx.db.manager
  const out = new Map<number, Record<string, string>>()
  const fieldIds = wanted.filter((n) => n > 0).slice(0, 12)
  if (!ids.length || !fieldIds.length) return out
  const types = new Map((await fieldGroups(m, owner)).flatMap((g) => g.fields.map((f) => [f.id, f.type] as const)))
  const values = await rows<{ ownerId: number; fieldId: number; value: string; contact: string | null }>(
    m,
    `SELECT v.owner_id AS ownerId, v.field_id AS fieldId, v.value, c.name AS contact FROM field_value v JOIN field_def d ON d.id = v.field_id LEFT JOIN contact c ON d.type = 'contact' AND c.id = v.value AND ${contactScope(ctx.actor)} WHERE v.field_id IN (?) AND v.owner_id IN (?) ORDER BY v.item`,
    [fieldIds, ids],
  )
  for (const v of values) {
    const type = types.get(v.fieldId)
    if (!type) continue
    const own = out.get(v.ownerId) ?? {}
    const contact = () => v.contact ?? ''
    const shown = plain ? plainFieldValue(type, v.value, contact) : showFieldValue(type, v.value, (d) => showDay(d, ctx.clock.today()), contact) // prettier-ignore
    own[v.fieldId] = own[v.fieldId] ? `${own[v.fieldId]}, ${shown}` : shown
    out.set(v.ownerId, own)
  }
  return out
}

/** Whether a contact is open to whoever asks. */
export const contactSeen = (m: EntityManager, ctx: Ctx, value: string) =>
  row(m, `SELECT 1 FROM contact c WHERE c.id = ? AND ${contactScope(ctx.actor)}`, [Number(value)])

/** The place of the last group of fields. */
export const lastGroup = (m: EntityManager, owner: 'matter' | 'contact' | 'time') =>
  row<{ n: number }>(m, `SELECT COALESCE(MAX(ordinal), 0) AS n FROM field_group WHERE owner = ?`, [owner])

/** Whether a group has values beyond its first item. */
export const repeatedValues = (m: EntityManager, id: number) =>
  row(m, `SELECT 1 FROM field_value v JOIN field_def d ON d.id = v.field_id WHERE d.group_id = ? AND v.item > 0 LIMIT 1`, [id])

/** The field that a field is shown by, and whose field it is. */
export const shownBy = (m: EntityManager, at: number) =>
  row<{ next: number | null; owner: Owner }>(
    m,
    `SELECT d.shown_if_field AS next, g.owner FROM field_def d JOIN field_group g ON g.id = d.group_id WHERE d.id = ?`,
    [at],
  )

/** Merge keys that begin alike. */
export const keysLike = (m: EntityManager, key: string) =>
  rows<{ k: string }>(m, `SELECT merge_key AS k FROM field_def WHERE merge_key LIKE ?`, [`${key}%`])

/** The place of the last field of a group. */
export const lastField = (m: EntityManager, groupId: number) =>
  row<{ n: number }>(m, `SELECT COALESCE(MAX(ordinal), 0) AS n FROM field_def WHERE group_id = ?`, [groupId])

/** Values of a matter that is removed. */
export const dropMatterValues = (m: EntityManager, id: number) =>
  run(
    m,
    `DELETE v FROM field_value v JOIN field_def d ON d.id = v.field_id JOIN field_group g ON g.id = d.group_id WHERE g.owner = 'matter' AND v.owner_id = ?`,
    [id],
  )

/** A condition for a list: records that have in a field what a person typed, compared by the field's type. */
export function whereField(alias: string, fieldId: number, typed: string, today: Day): { sql: string; values: string[] } {
  const f = fieldFilter(typed, today)
  return {
    sql: `EXISTS (SELECT 1 FROM field_value v JOIN field_def fd ON fd.id = v.field_id WHERE v.field_id = ${Number(fieldId)} AND v.owner_id = ${alias}.id
      AND CASE fd.type WHEN 'money' THEN v.sorted = ? WHEN 'number' THEN v.sorted = ? WHEN 'date' THEN v.sorted LIKE ? ELSE v.sorted LIKE ? ESCAPE '!' END)`,
    values: [f.money ?? '', f.number ?? '', f.date, f.text],
  }
}
