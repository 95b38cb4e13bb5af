import type { FieldGroupOut, FieldIn, FieldOwner, FieldValues } from '@heron/contract'
import { showDay, type Day } from '@heron/core/calendar'
import { fieldFilter, mergeKeyOf, plainFieldValue, readFields, showFieldValue, type GroupRule, type Values } from '@heron/core/fields'
import { In, type EntityManager } from 'typeorm'
import { contactScope } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { insertMany, insertRow, locked, row, rows, work } from '../platform/database'
import { fieldFault, notFound, Problem, refused } from '../platform/problem'
import { FieldDef, FieldGroup, FieldValue } from './entities'

type Owner = FieldOwner

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

/** What a record with these values still lacks, by the names of required fields. */
export async function missingFieldsOf(m: EntityManager, owner: Owner, values: Values, areaId: number | null): Promise<string[]> {
  return readFields(await fieldGroups(m, owner), values, areaId).missing
}

/** Writes a record's values anew. What cannot be read is refused at its field; required ones may come later. */
export async function writeFields(
  m: EntityManager,
  ctx: Ctx,
  owner: Owner,
  ownerId: number,
  values: Values,
  areaId: number | null,
): Promise<{ was: FieldValues; became: FieldValues }> {
  const groups: GroupRule[] = await fieldGroups(m, owner)
  const own = new Set(groups.flatMap((g) => g.fields.map((f) => f.id)))
  for (const id of Object.keys(values)) if (!own.has(Number(id))) throw fieldFault(`fields.${id}`, 'There is no such field')
  const read = readFields(groups, values, areaId)
  if (read.faults.length)
    throw new Problem(
      400,
      'invalid',
      read.faults[0]!.text,
      read.faults.map((f) => ({ path: `fields.${f.fieldId}.${f.item}`, message: f.text })),
    )
  const contacts = groups.flatMap((g) => g.fields.filter((f) => f.type === 'contact').map((f) => f.id))
  for (const k of read.kept.filter((k) => contacts.includes(k.fieldId)))
    if (!(await row(m, `SELECT 1 FROM contact c WHERE c.id = ? AND ${contactScope(ctx.actor)}`, [Number(k.value)])))
      throw fieldFault(`fields.${k.fieldId}.${k.item}`, 'Choose someone on record')
  const was = await fieldValuesOf(m, owner, ownerId)
  // Values of retired fields, and of fields not asked in this area, stay on record.
  const asked = groups.flatMap((g) =>
    g.fields.filter((f) => !f.retired && (!f.areaIds.length || (areaId !== null && f.areaIds.includes(areaId)))).map((f) => f.id),
  )
  if (asked.length) await m.delete(FieldValue, { ownerId, fieldId: In(asked) })
  if (read.kept.length)
    await insertMany(
      m,
      'field_value',
      ['field_id', 'owner_id', 'item', 'value', 'sorted'],
      read.kept.map((k) => [k.fieldId, ownerId, k.item, k.value.slice(0, 1000), k.sorted.slice(0, 60)]),
    )
  return { was, became: await fieldValuesOf(m, owner, ownerId) }
}

/** A condition for a list: records that have in a field what a person typed, compared by the field's type. */
export function whereField(alias: string, fieldId: number, typed: string, today: Day): { sql: string; values: string[] } {
  const f = fieldFilter(typed, today)
  return {
    sql: `EXISTS (SELECT 1 FROM field_value v JOIN field_def fd ON fd.id = v.field_id WHERE v.field_id = ${Number(fieldId)} AND v.owner_id = ${alias}.id
      AND CASE fd.type WHEN 'money' THEN v.sorted = ? WHEN 'number' THEN v.sorted = ? WHEN 'date' THEN v.sorted LIKE ? ELSE v.sorted LIKE ? ESCAPE '!' END)`,
    values: [f.money ?? '', f.number ?? '', f.date, f.text],
  }
}

export function makeGroup(ctx: Ctx, input: { owner: Owner; name: string; repeating: boolean }): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    if (await m.existsBy(FieldGroup, { owner: input.owner, name: input.name }))
      throw fieldFault('name', 'There is a group of that name already')
    const last = await row<{ n: number }>(m, `SELECT COALESCE(MAX(ordinal), 0) AS n FROM field_group WHERE owner = ?`, [input.owner])
    const id = await insertRow(m, FieldGroup, { ...input, ordinal: last!.n + 1 })
    await audit(m, ctx, { kind: 'set up', text: `Group of fields ${input.name} made`, subject: 'fields', subjectId: id })
    return { id }
  })
}

export function changeGroup(ctx: Ctx, id: number, input: { owner: Owner; name: string; repeating: boolean }): Promise<void> {
  return work(ctx, async (m) => {
    const before = await m.findOne(FieldGroup, {
      select: { name: true, repeating: true, id: true },
      where: { id },
      ...locked(m),
    })
    if (!before) throw notFound('group')
    if (
      before.repeating &&
      !input.repeating &&
      (await row(m, `SELECT 1 FROM field_value v JOIN field_def d ON d.id = v.field_id WHERE d.group_id = ? AND v.item > 0 LIMIT 1`, [id]))
    )
      throw fieldFault('repeating', 'Some records have several of this group. Take those out first.')
    await m.update(FieldGroup, id, { name: input.name, repeating: input.repeating })
    await audit(m, ctx, {
      kind: 'set up',
      text: `Group of fields ${before.name} changed`,
      subject: 'fields',
      subjectId: id,
      detail: { was: before, became: input },
    })
  })
}

async function judge(m: EntityManager, input: FieldIn, id: number | null) {
  const group = await m.findOne(FieldGroup, { select: { owner: true, id: true }, where: { id: input.groupId } })
  if (!group) throw fieldFault('groupId', 'Choose a group')
  if ((input.type === 'choice' || input.type === 'choices') && !input.choices.length)
    throw fieldFault('choices', 'Give the list to choose from')
  // A condition may hang on another, but never, over however many, on itself.
  const seen = new Set(id ? [id] : [])
  for (let at = input.shownIf?.fieldId ?? null; at !== null;) {
    if (seen.has(at)) throw fieldFault('shownIf', 'This condition comes round to the field itself. Choose another field.')
    seen.add(at)
    const other = await row<{ next: number | null; owner: Owner }>(
      m,
      `SELECT d.shown_if_field AS next, g.owner FROM field_def d JOIN field_group g ON g.id = d.group_id WHERE d.id = ?`,
      [at],
    )
    if (!other || other.owner !== group.owner) throw fieldFault('shownIf', 'Choose a field of the same kind of record')
    at = other.next
  }
}

const stored = (input: FieldIn) => ({
  groupId: input.groupId,
  name: input.name,
  type: input.type,
  choices: JSON.stringify([...new Set(input.choices)]),
  otherAllowed: input.otherAllowed,
  required: input.required,
  areaIds: JSON.stringify(input.areaIds),
  shownIfField: input.shownIf?.fieldId ?? null,
  shownIfValue: input.shownIf?.value ?? null,
  retired: input.retired,
})

export function makeField(ctx: Ctx, input: FieldIn): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    await judge(m, input, null)
    const key = mergeKeyOf(input.name)
    const taken = new Set(
      (await rows<{ k: string }>(m, `SELECT merge_key AS k FROM field_def WHERE merge_key LIKE ?`, [`${key}%`])).map((x) => x.k),
    )
    let mergeKey = key
    for (let n = 2; taken.has(mergeKey); n += 1) mergeKey = `${key}_${n}`
    const last = await row<{ n: number }>(m, `SELECT COALESCE(MAX(ordinal), 0) AS n FROM field_def WHERE group_id = ?`, [input.groupId])
    const id = await insertRow(m, FieldDef, { ...stored(input), mergeKey, ordinal: last!.n + 1 })
    await audit(m, ctx, { kind: 'set up', text: `Field ${input.name} made`, subject: 'fields', subjectId: id })
    return { id }
  })
}

export function changeField(ctx: Ctx, id: number, input: FieldIn): Promise<void> {
  return work(ctx, async (m) => {
    const before = await m.findOne(FieldDef, {
      select: { name: true, type: true, groupId: true, id: true },
      where: { id },
      ...locked(m),
    })
    if (!before) throw notFound('field')
    await judge(m, input, id)
    const used = await m.existsBy(FieldValue, { fieldId: id })
    if (used && before.type !== input.type)
      throw fieldFault('type', 'It has values on record, so its type stays. Make a new field instead.')
    await m.update(FieldDef, id, stored(input))
    await audit(m, ctx, {
      kind: 'set up',
      text: `Field ${before.name} changed`,
      subject: 'fields',
      subjectId: id,
      detail: { was: before, became: input },
    })
  })
}

export function orderFields(ctx: Ctx, groupIds: readonly number[], fieldIds: readonly number[]): Promise<void> {
  return work(ctx, async (m) => {
    for (const [i, id] of groupIds.entries()) await m.update(FieldGroup, id, { ordinal: i + 1 })
    for (const [i, id] of fieldIds.entries()) await m.update(FieldDef, id, { ordinal: i + 1 })
    await audit(m, ctx, { kind: 'set up', text: 'Fields put in another order', subject: 'fields' })
  })
}

export function removeField(ctx: Ctx, id: number): Promise<void> {
  return work(ctx, async (m) => {
    const field = await m.findOne(FieldDef, { select: { name: true, id: true }, where: { id }, ...locked(m) })
    if (!field) throw notFound('field')
    if (await m.existsBy(FieldValue, { fieldId: id }))
      throw refused(
        'field-in-use',
        `${field.name} has values on record. Retire it instead: it is then no longer asked, and nothing is lost.`,
      )
    if (await m.existsBy(FieldDef, { shownIfField: id }))
      throw refused('field-in-use', `Another field is shown only by ${field.name}. Change that one first.`)
    await m.delete(FieldDef, { id })
    await audit(m, ctx, { kind: 'set up', text: `Field ${field.name} removed`, subject: 'fields', subjectId: id })
  })
}
