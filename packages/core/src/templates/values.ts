import { isDay, showDayInWords, type Day } from '../calendar'
import { readMoney, showMoney } from '../money'

/** An amount in cents, told from a plain number. */
export interface Money {
  readonly unit: 'money'
  readonly cents: number
}
export interface DayValue {
  readonly unit: 'day'
  readonly day: Day
}
/** What a field of a template may hold. What the record lacks is null. */
export type Value = null | string | number | boolean | Money | DayValue | readonly Value[] | ValueRecord
export interface ValueRecord {
  readonly [name: string]: Value
}

/** Cents as a value of a template. */
export const money = (cents: number): Money => ({ unit: 'money', cents })
/** A day as a value of a template; null where there is none. */
export const dayValue = (day: Day | string | null): DayValue | null => (day ? { unit: 'day', day: day as Day } : null)

const isObject = (v: Value | undefined): v is Money | DayValue | ValueRecord => typeof v === 'object' && v !== null && !Array.isArray(v)
/** Whether a value is money. */
export const isMoney = (v: Value | undefined): v is Money => isObject(v) && v['unit'] === 'money'
/** Whether a value is a day. */
export const isDayValue = (v: Value | undefined): v is DayValue => isObject(v) && v['unit'] === 'day'
/** Whether a value is a list. */
export const isList = (v: Value | undefined): v is readonly Value[] => Array.isArray(v)
/** Whether a value is a record with fields. */
export const isRecord = (v: Value | undefined): v is ValueRecord => isObject(v) && !isMoney(v) && !isDayValue(v)

/** Whether the record says nothing: no value, an empty text or list, a record without a name. Zero and *no* say something. */
export function isEmpty(v: Value | undefined): boolean {
  if (v === null || v === undefined) return true
  if (typeof v === 'string') return v.trim() === ''
  if (isList(v)) return v.length === 0
  return isRecord(v) ? Object.values(v).every(isEmpty) : false
}

/** What a condition takes as true: anything that is there, but for *no*, zero and nothing owed. */
export function holds(v: Value | undefined): boolean {
  if (v === false || v === 0 || isEmpty(v)) return false
  return !(isMoney(v) && v.cents === 0)
}

/** A field of a record by its own name; nothing else of an object is ever reached. */
export const fieldOf = (v: Value | undefined, name: string): Value =>
  isRecord(v) && Object.hasOwn(v, name) ? v[name]! : isList(v) && (name === 'count' || name === 'length') ? v.length : null

const months = ['january', 'february', 'march', 'april', 'may', 'june', 'july', 'august', 'september', 'october', 'november', 'december']

/** A day that someone wrote: `2026-11-27`, `November 27, 2026`, `27 November 2026`, `11/27/2026`. Null for anything else. */
export function readWrittenDay(text: string): Day | null {
  const t = text.slice(0, 40).trim().toLowerCase().replaceAll(',', ' ')
  if (isDay(t)) return t as Day
  const bits = t.split(/[\s/]+/).filter(Boolean)
  if (bits.length !== 3) return null
  const two = (n: string) => n.padStart(2, '0')
  const month = bits.findIndex((b) => months.some((m) => m === b || (b.length >= 3 && m.startsWith(b.replace('.', '')))))
  const [m, d, y] =
    month === -1
      ? bits
      : [String(months.findIndex((x) => x.startsWith(bits[month]!.replace('.', ''))) + 1), month === 0 ? bits[1]! : bits[0]!, bits[2]!]
  const iso = `${y}-${two(m!)}-${two(d!)}`
  return isDay(iso) ? (iso as Day) : null
}

const asCents = (v: Value): number | null =>
  isMoney(v) ? v.cents : typeof v === 'number' ? Math.round(v * 100) : typeof v === 'string' ? readMoney(v) : null
const asDay = (v: Value): Day | null => (isDayValue(v) ? v.day : typeof v === 'string' ? readWrittenDay(v) : null)
const asNumber = (v: Value): number | null => {
  if (typeof v === 'number') return v
  if (typeof v !== 'string' || !v.trim()) return null
  const n = Number(v.replaceAll(',', ''))
  return Number.isFinite(n) ? n : null
}
const asWords = (v: Value): string => plain(v).trim().toLowerCase()

/**
 * Which of two comes first: below zero, zero or above. Amounts with amounts, days with days, numbers with numbers, else by
 * their words without regard to case. Null where they cannot be compared, such as an amount with a word or with nothing.
 */
export function compare(a: Value, b: Value): number | null {
  if (isMoney(a) || isMoney(b)) {
    const [x, y] = [asCents(a), asCents(b)]
    return x === null || y === null ? null : x - y
  }
  if (isDayValue(a) || isDayValue(b)) {
    const [x, y] = [asDay(a), asDay(b)]
    return x === null || y === null ? null : x < y ? -1 : x > y ? 1 : 0
  }
  if (typeof a === 'number' || typeof b === 'number') {
    const [x, y] = [asNumber(a), asNumber(b)]
    return x === null || y === null ? null : x - y
  }
  if (typeof a === 'boolean' || typeof b === 'boolean') {
    const truth = (v: Value) =>
      typeof v === 'boolean' ? v : ['yes', 'true'].includes(asWords(v)) ? true : ['no', 'false'].includes(asWords(v)) ? false : null
    const [x, y] = [truth(a), truth(b)]
    return x === null || y === null ? null : Number(x) - Number(y)
  }
  const [x, y] = [asWords(a), asWords(b)]
  return x < y ? -1 : x > y ? 1 : 0
}

/** Whether two values say the same; nothing is the same as nothing. */
export const same = (a: Value, b: Value): boolean => (isEmpty(a) || isEmpty(b) ? isEmpty(a) && isEmpty(b) : compare(a, b) === 0)

/** Whether a list has a value, or a text has a word of another in it. */
export const isIn = (a: Value, b: Value): boolean =>
  isList(b)
    ? b.some((x) => same(a, isRecord(x) && !isRecord(a) ? fieldOf(x, 'name') : x))
    : typeof b === 'string' && !isEmpty(a) && asWords(b).includes(asWords(a))

/** A value as text without any format: amounts in figures, days written out, several joined by commas. */
export function plain(v: Value | undefined): string {
  if (v === null || v === undefined) return ''
  if (typeof v === 'string') return v
  if (typeof v === 'number') return Number.isInteger(v) ? String(v) : String(Number(v.toFixed(6)))
  if (typeof v === 'boolean') return v ? 'yes' : 'no'
  if (isMoney(v)) return showMoney(v.cents)
  if (isDayValue(v)) return showDayInWords(v.day)
  if (isList(v)) return v.map(plain).filter(Boolean).join(', ')
  return plain(fieldOf(v, 'name'))
}
