import { toRaw } from 'vue'

const keys = new WeakMap<object, number>()
let last = 0

/**
 * A key for a row of fields that is added and taken out by hand: it goes with the row, so that what could not be read in one row never
 * stands in another one that took its place.
 */
export function keyOf(row: object): number {
  const raw = toRaw(row)
  const known = keys.get(raw)
  if (known) return known
  keys.set(raw, ++last)
  return last
}
