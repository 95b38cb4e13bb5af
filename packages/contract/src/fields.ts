import { fieldTypes } from '@heron/core/fields'
import { z } from 'zod'
import { id, made, needed, ok, route, withId } from './base'

/** Values of the firm's own fields on one record: by field, one value an item of its group; several of a list as an array. */
export const fieldValues = z
  .record(
    z.string().regex(/^\d{1,9}$/),
    z.array(z.union([z.string().max(1000, 'Keep it under 1000 characters'), z.array(z.string().max(120)).max(100)])).max(60),
  )
  .refine((v) => Object.keys(v).length <= 300, 'At most 300 fields at once')
export type FieldValues = z.infer<typeof fieldValues>

const owner = z.enum(['contact', 'matter', 'time'])
export type FieldOwner = z.infer<typeof owner>

export const fieldDef = z.object({
  id: z.number(),
  name: z.string(),
  mergeKey: z.string(),
  type: z.enum(fieldTypes),
  choices: z.array(z.string()),
  otherAllowed: z.boolean(),
  required: z.boolean(),
  areaIds: z.array(z.number()),
  shownIf: z.object({ fieldId: z.number(), value: z.string() }).nullable(),
  retired: z.boolean(),
})
export const fieldGroup = z.object({
  id: z.number(),
  owner,
  name: z.string(),
  repeating: z.boolean(),
  fields: z.array(fieldDef),
})
export type FieldGroupOut = z.infer<typeof fieldGroup>

const groupIn = z.object({
  owner,
  name: needed('Name the group', 80),
  repeating: z.boolean().default(false),
})
const fieldIn = z.object({
  groupId: id,
  name: needed('Name the field', 80),
  type: z.enum(fieldTypes),
  choices: z.array(needed('Give the choice', 120)).max(100).default([]),
  otherAllowed: z.boolean().default(false),
  required: z.boolean().default(false),
  areaIds: z.array(id).max(60).default([]),
  shownIf: z
    .object({ fieldId: id, value: needed('Say which value it depends on', 120) })
    .nullable()
    .default(null),
  retired: z.boolean().default(false),
})
export type FieldIn = z.infer<typeof fieldIn>

export const fields = {
  groups: route('signed in', 'GET', '/field-groups', 'Fields of the firm’s own, by group')
    .input(z.object({ owner: owner.optional() }))
    .output(z.array(fieldGroup)),
  makeGroup: route('firm.set-up', 'POST', '/field-groups', 'Make a group of fields').input(groupIn).output(made),
  changeGroup: route('firm.set-up', 'PUT', '/field-groups/{id}', 'Change a group of fields').input(groupIn.extend({ id })).output(ok),
  makeField: route('firm.set-up', 'POST', '/fields', 'Make a field').input(fieldIn).output(made),
  changeField: route('firm.set-up', 'PUT', '/fields/{id}', 'Change a field').input(fieldIn.extend({ id })).output(ok),
  order: route('firm.set-up', 'PUT', '/field-order', 'Put groups, or the fields of a group, in order')
    .input(z.object({ groupIds: z.array(id).max(300).default([]), fieldIds: z.array(id).max(300).default([]) }))
    .output(ok),
  removeField: route('firm.set-up', 'DELETE', '/fields/{id}', 'Remove a field that was never filled in').input(withId).output(ok),
}
