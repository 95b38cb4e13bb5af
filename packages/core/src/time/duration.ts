import { divideHalfUp, type Cents } from '../money'

/** Minutes of work; a whole number. */
export type Minutes = number & { readonly unit?: 'minutes' }

/** Hours with decimals in minutes, half a minute up; by whole numbers, as 1.025 × 60 is a hair below 61.5 otherwise. */
function minutesOf(hours: string): Minutes {
  const [whole, decimals = ''] = hours.split('.')
  const d = decimals.slice(0, 9)
  return divideHalfUp(BigInt(`${whole || '0'}${d}`) * 60n, 10n ** BigInt(d.length))
}

/**
 * Reads a typed duration: `1.5` and `1,5` are hours, `1:30` hours and minutes, `90m`, `1h`, `1h 30m`.
 * Null for anything else, for 0 and for more than 24 hours.
 */
export function readDuration(text: string): Minutes | null {
  const t = text.trim().toLowerCase().replace(',', '.')
  if (t.length > 40) return null
  let minutes: number | null = null
  const clock = /^(\d{1,2}):([0-5]\d)$/.exec(t)
  const units = /^(?:(\d+(?:\.\d+)?)\s*h(?:ours?)?)?\s*(?:(\d+)\s*m(?:in(?:utes)?)?)?$/.exec(t)
  const hours = /^(\d+(?:\.\d+)?|\.\d+)$/.exec(t)
  if (clock) minutes = Number(clock[1]) * 60 + Number(clock[2])
  else if (hours) minutes = minutesOf(hours[1]!)
  else if (units && (units[1] || units[2])) minutes = minutesOf(units[1] ?? '0') + Number(units[2] ?? 0)
  return minutes !== null && minutes > 0 && minutes <= 24 * 60 ? minutes : null
}

export type RoundingMode = 'up' | 'nearest'

/**
 * Rounds the sum of the pieces of one entry once, to the firm's unit in minutes; never below one unit.
 * 38 minutes in 6-minute units is 42.
 */
export function roundMinutes(pieces: readonly Minutes[], unit: Minutes, mode: RoundingMode = 'up'): Minutes {
  if (!Number.isInteger(unit) || unit < 1) throw new RangeError('The unit of time must be one minute or more')
  const total = pieces.reduce((a, b) => a + b, 0)
  if (total <= 0) return unit
  const units = mode === 'up' ? Math.ceil(total / unit) : Math.floor(total / unit + 0.5)
  return Math.max(1, units) * unit
}

/** Minutes × hourly rate ÷ 60, half up to the cent. 42 minutes at $285.00 is $199.50. */
export function amountFor(minutes: Minutes, hourlyRate: Cents): Cents {
  return divideHalfUp(BigInt(minutes) * BigInt(hourlyRate), 60)
}

/** Hours for reading, one decimal unless that would be inexact: `0.7`, `1.25`. */
export function showHours(minutes: Minutes): string {
  return minutes % 6 === 0 ? (minutes / 60).toFixed(1) : (minutes / 60).toFixed(2)
}

/** An entry's minutes in two parts, the first as given and the rest; both above zero. Throws RangeError otherwise. */
export function splitMinutes(minutes: Minutes, first: Minutes): [Minutes, Minutes] {
  if (first <= 0 || first >= minutes) throw new RangeError('Either part of an entry has minutes')
  return [first, minutes - first]
}

/** Minutes from one hour of a day to a later one, both `HH:MM`; null where the end is not after the start. */
export function minutesBetween(start: string, end: string): Minutes | null {
  const of = (time: string) => Number(time.slice(0, 2)) * 60 + Number(time.slice(3))
  return of(end) > of(start) ? of(end) - of(start) : null
}
