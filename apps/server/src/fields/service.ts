import type { FieldIn, FieldValues } from '@heron/contract'
import { mergeKeyOf, readFields, type GroupRule, type Values } from '@heron/core/fields'
import { In, type EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { insertMany, insertRow, locked, work } from '../platform/database'
import { fieldFault, notFound, Problem, refused } from '../platform/problem'
import { FieldDef, FieldGroup, FieldValue } from './entities'
import { contactSeen, fieldGroups, fieldValuesOf, keysLike, lastField, lastGroup, type Owner, repeatedValues, shownBy } from './queries'

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
    if (!(await contactSeen(m, ctx, k.value))) throw fieldFault(`fields.${k.fieldId}.${k.item}`, 'Choose someone on record')
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

export function makeGroup(ctx: Ctx, input: { owner: Owner; name: string; repeating: boolean }): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    if (await m.existsBy(FieldGroup, { owner: input.owner, name: input.name }))
      throw fieldFault('name', 'There is a group of that name already')
    const last = await lastGroup(m, input.owner)
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
    if (before.repeating && !input.repeating && (await repeatedValues(m, id)))
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
    const other = await shownBy(m, at)
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
    const taken = new Set((await keysLike(m, key)).map((x) => x.k))
    let mergeKey = key
    for (let n = 2; taken.has(mergeKey); n += 1) mergeKey = `${key}_${n}`
    const last = await lastField(m, input.groupId)
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
