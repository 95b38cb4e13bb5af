export interface Together<L> {
  /** Each with where it stands in theirs; null for what I added. */
  lines: { line: L; at: number | null }[]
  /** Lines that both changed, or one changed and the other took out: what was mine of them, for somebody to look at. */
  apart: L[]
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)

/**
 * Puts together what two people made of the same list of lines: theirs, with what I added at the end, what I changed and they did not in
 * its place, and without what I took out and they left. Nothing of theirs is written over; what both changed stays as theirs, and mine of
 * it is told apart.
 *
 * Lines are known by where they stood in what both read; lines beyond that are new.
 *
 * @param base What both read. @param mine What I made of it: the line I read each came from, null for a new one.
 */
export function together<L>(base: readonly L[], mine: readonly { from: number | null; line: L }[], theirs: readonly L[]): Together<L> {
  // Theirs comes without saying where each line came from: a line that is as it was read is that one.
  const left = theirs.map((line, at) => ({ line, at }))
  const theirOf = base.map((b) => {
    const i = left.findIndex((t) => same(t.line, b))
    return i < 0 ? null : left.splice(i, 1)[0]!.at
  })
  const lines: (L | null)[] = [...theirs]
  const apart: L[] = []
  const kept = new Set<number>()
  const added: L[] = []
  for (const { from, line } of mine) {
    if (from === null || from >= base.length) {
      // Both may have taken in the same receipt; it is told twice rather than once too few.
      added.push(line)
      continue
    }
    kept.add(from)
    if (same(line, base[from])) continue
    const at = theirOf[from]
    if (at === null || at === undefined) apart.push(line)
    else lines[at] = line
  }
  for (const [from, at] of theirOf.entries()) if (!kept.has(from) && at !== null) lines[at] = null
  const stay = lines.flatMap((line, at) => (line === null ? [] : [{ line, at: at as number | null }]))
  return { lines: [...stay, ...added.map((line) => ({ line, at: null }))], apart }
}
