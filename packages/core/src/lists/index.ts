/** A list in groups by a key: keys in the order in which each first appears, and what falls under each in the order of the list. */
export function groupedBy<T, K>(list: readonly T[], keyOf: (one: T) => K): Map<K, T[]> {
  const groups = new Map<K, T[]>()
  for (const one of list) {
    const key = keyOf(one)
    const own = groups.get(key)
    if (own) own.push(one)
    else groups.set(key, [one])
  }
  return groups
}
