import { isDay } from '../calendar'
import type { FieldType } from '../fields'
import { readMoney } from '../money'
import { evaluate, readExpression } from './expressions'
import type { FieldSpec } from './catalogue'
import { dayValue, isDayValue, isList, isMoney, money, plain, type Value, type ValueRecord } from './values'
import { fileName } from '../formats'

/** What was typed or chosen for a field. */
export type Answer = string | string[]
/** An answer as one line: several chosen joined by commas, without spaces around. */
export const textIn = (a: Answer | undefined): string => (typeof a === 'string' ? a : (a ?? []).join(', ')).trim()
/** Ids in an answer: numbers above zero, from a list or joined by commas; others are passed over. */
export const idsIn = (a: Answer | undefined): number[] =>
  (typeof a === 'string' ? (a ? a.split(',') : []) : (a ?? [])).map(Number).filter((n) => Number.isSafeInteger(n) && n > 0)

/** What a template makes of a type of the firm's own fields, which are also the types of a template's questions. */
export const specTypes: Record<FieldType, FieldSpec['type']> = {
  text: 'text',
  number: 'number',
  money: 'money',
  date: 'day',
  'yes/no': 'yes/no',
  choice: 'text',
  choices: 'list',
  contact: 'record',
}

/** An answer by the type of its field, or what is wrong with it in words that say what to do. An empty one is null, an empty list a list. */
export function readAnswer(
  spec: Pick<FieldSpec, 'type' | 'label' | 'choices'>,
  raw: Answer,
): { readonly value: Value } | { readonly fault: string } {
  const text = textIn(raw)
  if (spec.type === 'list') return { value: typeof raw === 'string' ? text.split('\n').map((t) => t.trim()).filter(Boolean) : [...raw] } // prettier-ignore
  if (!text) return { value: null }
  if (spec.type === 'money') {
    const cents = readMoney(text)
    return cents === null ? { fault: `Give an amount for ${spec.label}` } : { value: money(cents) }
  }
  if (spec.type === 'day') return isDay(text) ? { value: dayValue(text) } : { fault: `Give a date that exists for ${spec.label}` }
  if (spec.type === 'number') {
    const n = Number(text.replaceAll(',', ''))
    return Number.isFinite(n) ? { value: n } : { fault: `Give a number for ${spec.label}` }
  }
  if (spec.type === 'yes/no')
    return ['yes', 'no'].includes(text.toLowerCase())
      ? { value: text.toLowerCase() === 'yes' }
      : { fault: `Say yes or no for ${spec.label}` }
  if (spec.choices?.length && !spec.choices.includes(text)) return { fault: `Choose one of the list for ${spec.label}` }
  return { value: text }
}
/** A value as it would be typed, which `readAnswer` reads as the same value again. */
export const typedText = (v: Value): string =>
  isMoney(v) ? (v.cents / 100).toFixed(2) : isDayValue(v) ? v.day : isList(v) ? v.map(plain).join('\n') : plain(v)

/** The value at a path (`client.name`); null where a step of it is missing. Only names of their own are reached. */
export function valueAt(values: ValueRecord, path: string): Value {
  let at: Value = values
  for (const step of path.split('.')) {
    if (at === null || typeof at !== 'object' || isList(at) || !Object.hasOwn(at, step)) return null
    at = (at as ValueRecord)[step]!
  }
  return at
}

/** The values with one put at a path; records on the way are copied, so that nothing that was given is changed. */
export function withValue(values: ValueRecord, path: string, value: Value): ValueRecord {
  const [step, ...rest] = path.split('.')
  if (!rest.length) return { ...values, [step!]: value }
  const inner = Object.hasOwn(values, step!) ? values[step!] : null
  const record = inner && typeof inner === 'object' && !isList(inner) && !isMoney(inner) && !isDayValue(inner) ? (inner as ValueRecord) : {}
  return { ...values, [step!]: withValue(record, rest.join('.'), value) }
}

/** A file's name by its pattern (`{template}, {matter.short_name}`), 40 fields and 150 letters at most. What cannot be read is left as it is. */
export function nameFrom(pattern: string, values: ValueRecord, template: string, language: 'en' | 'es'): string {
  let out = ''
  let rest = pattern.trim() || '{template}, {matter.short_name}'
  for (let i = 0; i < 40 && rest; i += 1) {
    const [from, to] = [rest.indexOf('{'), rest.indexOf('}')]
    if (from === -1 || to < from) break
    const source = rest.slice(from + 1, to)
    out += rest.slice(0, from)
    try {
      out += source.trim() === 'template' ? template : plain(evaluate(readExpression(source), { records: [values], language }))
    } catch {
      out += source
    }
    rest = rest.slice(to + 1)
  }
  // A slash in a matter's name is no folder.
  return fileName((out + rest).replaceAll(/[\\/]+/g, '-'), template).slice(0, 150)
}
