import type { FieldGroupOut } from '@heron/contract'
import { type FieldType, mergeKeyOf } from '@heron/core/fields'
import { readMoney } from '@heron/core/money'
import { dayValue, type FieldSpec, specTypes, type Value, type ValueRecord } from '@heron/core/templates'
import type { EntityManager } from 'typeorm'
import { nameFor } from '../platform/access'
import type { Ctx } from '../platform/context'
import { rows } from '../platform/database'
import { fieldGroups, fieldValuesOf } from './queries'

export type Owner = 'contact' | 'matter'

function valueFor(type: FieldType, raw: string | readonly string[] | undefined, nameOf: (id: number) => string): Value {
  const first = typeof raw === 'string' ? raw : (raw?.[0] ?? '')
  if (type === 'choices') return typeof raw === 'string' ? (raw ? [raw] : []) : [...(raw ?? [])]
  if (!first) return null
  if (type === 'number') return Number(first)
  if (type === 'money') return { unit: 'money', cents: readMoney(first) ?? 0 }
  if (type === 'date') return dayValue(first)
  if (type === 'yes/no') return first === 'yes'
  return type === 'contact' ? { name: nameOf(Number(first)) } : first
}

export interface TemplateFields {
  specs: FieldSpec[]
  values: ValueRecord
  /** Which field stands behind a name, where one value can be written back. */
  ids: ReadonlyMap<string, number>
}

/**
 * The firm's own fields as templates see them, by their merge keys, with their values on a record where one is named. A
 * repeating group is a list under its own name.
 */
export async function templateFieldsOf(m: EntityManager, ctx: Ctx, owner: Owner, ownerId: number | null): Promise<TemplateFields> {
  const groups = await fieldGroups(m, owner)
  const kept = ownerId === null ? {} : await fieldValuesOf(m, owner, ownerId)
  const contacts = groups
    .flatMap((g) => g.fields.filter((f) => f.type === 'contact').flatMap((f) => (kept[f.id] ?? []).map(Number)))
    .filter(Boolean)
  const names = new Map(
    contacts.length
      ? (
          await rows<{ id: number; name: string }>(m, `SELECT c.id, ${nameFor(ctx.actor)} AS name FROM contact c WHERE c.id IN (?)`, [
            contacts,
          ])
        ).map((c) => [c.id, c.name])
      : [],
  )
  const specs: FieldSpec[] = []
  const values: Record<string, Value> = {}
  const ids = new Map<string, number>()
  const spec = (f: FieldGroupOut['fields'][number]): FieldSpec => ({
    name: f.mergeKey,
    label: f.name,
    type: specTypes[f.type],
    ...(f.type === 'contact' ? { fields: [{ name: 'name', label: 'Name', type: 'text' as const }] } : {}),
    ...(f.type === 'choice' && !f.otherAllowed ? { choices: f.choices } : {}),
  })
  const valueOf = (f: FieldGroupOut['fields'][number], item: number) => valueFor(f.type, kept[f.id]?.[item], (id) => names.get(id) ?? '')
  for (const g of groups) {
    const own = g.fields.filter((f) => !f.retired)
    if (g.repeating) {
      const items = Math.max(0, ...own.map((f) => kept[f.id]?.length ?? 0))
      const key = mergeKeyOf(g.name)
      specs.push({ name: key, label: g.name, type: 'list', fields: own.map(spec) })
      values[key] = Array.from({ length: items }, (_, i) => Object.fromEntries(own.map((f) => [f.mergeKey, valueOf(f, i)])))
    } else
      for (const f of own) {
        specs.push(spec(f))
        values[f.mergeKey] = valueOf(f, 0)
        if (f.type !== 'contact' && f.type !== 'choices') ids.set(f.mergeKey, f.id)
      }
  }
  return { specs, values, ids }
}
