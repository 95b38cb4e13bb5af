import { isDay, readDay, type Day } from '../calendar'
import { readMoney, showMoney } from '../money'

/** Types of the firm's own fields. `choice` is one of a list, `choices` several. */
export const fieldTypes = ['text', 'number', 'money', 'date', 'yes/no', 'choice', 'choices', 'contact'] as const
export type FieldType = (typeof fieldTypes)[number]

export interface FieldRule {
  id: number
  name: string
  type: FieldType
  choices: readonly string[]
  /** Also a text that is not in the list. */
  otherAllowed: boolean
  required: boolean
  /** Practice areas for which it is shown; empty for all. */
  areaIds: readonly number[]
  /** Shown only where another field has this value. */
  shownIf: { fieldId: number; value: string } | null
  retired: boolean
}
export interface GroupRule {
  id: number
  name: string
  /** Several of it on one record: children, vessels. */
  repeating: boolean
  fields: readonly FieldRule[]
}

/** By field id, one value an item of the group; several of a list as an array. */
export type Values = Readonly<Record<string, readonly (string | readonly string[])[]>>

export interface Kept {
  fieldId: number
  item: number
  /** As it is kept: money as a decimal, dates as ISO, several of a list as JSON. */
  value: string
  /** By which lists sort and filters compare; numbers padded so that they sort as text. */
  sorted: string
}
export interface FieldFault {
  fieldId: number
  item: number
  text: string
}

const listOf = (v: string | readonly string[] | undefined): readonly string[] =>
  v === undefined ? [] : typeof v === 'string' ? (v ? [v] : []) : v

/** Text by which numbers sort as numbers, negative ones first. Range: ±9 quadrillion, two decimals. */
export function sortableNumber(n: number): string {
  const shifted = BigInt(Math.round(n * 100)) + 1_000_000_000_000_000_000n
  return shifted.toString().padStart(19, '0')
}

/** Reads one value of a field; a sentence that says what to do where it cannot be. */
export function readFieldValue(
  rule: FieldRule,
  raw: string | readonly string[],
): { value: string; sorted: string } | { fault: string } | null {
  const many = listOf(raw)
    .map((x) => x.trim())
    .filter(Boolean)
  const text = many[0] ?? ''
  if (!text) return null
  switch (rule.type) {
    case 'number': {
      const n = Number(text.replaceAll(',', '').replace('−', '-'))
      return Number.isFinite(n) && Math.abs(n) < 9e15
        ? { value: String(n), sorted: sortableNumber(n) }
        : { fault: `Give a number for ${rule.name}` }
    }
    case 'money': {
      const cents = readMoney(text)
      return cents === null
        ? { fault: `Give an amount for ${rule.name}` }
        : { value: (cents / 100).toFixed(2), sorted: sortableNumber(cents) }
    }
    case 'date':
      return isDay(text) ? { value: text, sorted: text } : { fault: `Give a date that exists for ${rule.name}` }
    case 'yes/no':
      return text === 'yes' || text === 'no' ? { value: text, sorted: text } : { fault: `Say yes or no for ${rule.name}` }
    case 'choice':
      return rule.otherAllowed || rule.choices.includes(text)
        ? { value: text, sorted: text.toLowerCase().slice(0, 60) }
        : { fault: `Choose one of the list for ${rule.name}` }
    case 'choices': {
      const strange = many.find((x) => !rule.choices.includes(x))
      return strange && !rule.otherAllowed
        ? { fault: `${strange} is not in the list of ${rule.name}` }
        : { value: JSON.stringify(many), sorted: many.join(', ').toLowerCase().slice(0, 60) }
    }
    case 'contact':
      return /^\d+$/.test(text) ? { value: text, sorted: text.padStart(12, '0') } : { fault: `Choose someone on record for ${rule.name}` }
    default:
      return { value: text.slice(0, 1000), sorted: text.toLowerCase().slice(0, 60) }
  }
}

/** Whether a field is asked on a record of that area with these values; conditions may hang on one another. */
export function isShown(
  rule: FieldRule,
  group: GroupRule,
  item: number,
  groups: readonly GroupRule[],
  values: Values,
  areaId: number | null,
): boolean {
  const look = (r: FieldRule, g: GroupRule, seen: readonly number[]): boolean => {
    if (r.retired || (r.areaIds.length && !(areaId !== null && r.areaIds.includes(areaId)))) return false
    if (!r.shownIf) return true
    const other = groups.flatMap((x) => x.fields.map((f) => ({ f, g: x }))).find((x) => x.f.id === r.shownIf!.fieldId)
    if (!other || seen.includes(other.f.id)) return false
    if (!look(other.f, other.g, [...seen, other.f.id])) return false
    const at = other.g.id === g.id ? item : 0
    return listOf(values[other.f.id]?.[at]).includes(r.shownIf.value)
  }
  return look(rule, group, [rule.id])
}

/**
 * Judges the values of a record: what is kept, and what is wrong. Values of fields that are not shown are left out;
 * a required field is missed on every item of its group that has anything in it, and once where the group is single.
 */
export function readFields(
  groups: readonly GroupRule[],
  values: Values,
  areaId: number | null,
): { kept: Kept[]; faults: FieldFault[]; missing: string[] } {
  const kept: Kept[] = []
  const faults: FieldFault[] = []
  const missing: string[] = []
  for (const group of groups) {
    const items = group.repeating ? Math.max(0, ...group.fields.map((f) => values[f.id]?.length ?? 0)) : 1
    for (let item = 0; item < items; item += 1) {
      const any = group.fields.some((f) => listOf(values[f.id]?.[item]).some(Boolean))
      if (group.repeating && !any) continue
      for (const rule of group.fields) {
        if (!isShown(rule, group, item, groups, values, areaId)) continue
        const read = readFieldValue(rule, values[rule.id]?.[item] ?? '')
        if (!read) {
          if (rule.required) missing.push(group.repeating ? `${rule.name} (${group.name} ${item + 1})` : rule.name)
        } else if ('fault' in read) faults.push({ fieldId: rule.id, item, text: read.fault })
        else kept.push({ fieldId: rule.id, item, ...read })
      }
    }
  }
  return { kept, faults, missing }
}

/** A kept value as people read it. Contacts are given by name. */
export function showFieldValue(
  type: FieldType,
  value: string,
  dayText: (day: Day) => string,
  nameOf: (contactId: number) => string,
): string {
  if (!value) return ''
  if (type === 'money') return showMoney(readMoney(value) ?? 0)
  if (type === 'number') return Number(value).toLocaleString('en-US')
  if (type === 'date') return dayText(value as Day)
  if (type === 'choices') return (JSON.parse(value) as string[]).join(', ')
  if (type === 'contact') return nameOf(Number(value))
  return value
}

/** A kept value for files that programs read: plain decimals with a hyphen for minus, and ISO dates. */
export function plainFieldValue(type: FieldType, value: string, nameOf: (contactId: number) => string): string {
  return type === 'money' || type === 'number' || type === 'date' ? value : showFieldValue(type, value, (d) => d, nameOf)
}

/**
 * What a filter compares with kept values, by the type of the field: amounts and numbers as numbers however they are written, dates
 * as dates (also a year or a month alone), and everything else as text that is held. Null where the text is nothing of the type.
 */
export function fieldFilter(text: string, today: Day): { money: string | null; number: string | null; date: string; text: string } {
  const cents = readMoney(text)
  const n = Number(text.replaceAll(',', '').replace('−', '-').trim() || NaN)
  return {
    money: cents === null ? null : sortableNumber(cents),
    number: Number.isFinite(n) && Math.abs(n) < 9e15 ? sortableNumber(n) : null,
    date: readDay(text, today) ?? (/^\d{4}(-\d{2})?$/.test(text.trim()) ? `${text.trim()}%` : ''),
    text: `%${text.toLowerCase().replace(/[%_!]/g, '!$&')}%`,
  }
}

/** A name for merge fields made of a field's name: `Hull number` gives `hull_number`. */
export function mergeKeyOf(name: string): string {
  const key = name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .split(/[^a-z0-9]+/)
    .filter(Boolean)
    .join('_')
  return (/^\d/.test(key) ? `f_${key}` : key || 'field').slice(0, 50)
}
