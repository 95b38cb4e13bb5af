/**
 * Which papers have a word, kept in blocks of 1,024 ids: few as their places in the block, two bytes each, many as one bit each.
 * A word of every paper so takes an eighth of a byte for each, and blocks are put together bit by bit.
 */
export const blockSize = 1024
const bytes = blockSize / 8
/** From as many on, bits take no more room than places. */
const fewest = bytes / 2

/** In which block a paper stands. */
export const blockOf = (paperId: number): number => Math.floor(paperId / blockSize)
/** A block without papers, as bits. */
export const emptyBlock = (): Uint8Array => new Uint8Array(bytes)

/** A block as bits, from what is kept of it. Places outside the block are passed over. */
export function readBlock(kept: Uint8Array): Uint8Array {
  if (kept.length === bytes) return kept.slice()
  const bits = emptyBlock()
  for (let i = 0; i + 1 < kept.length; i += 2) {
    const place = kept[i]! | (kept[i + 1]! << 8)
    if (place < blockSize) bits[place >> 3]! |= 1 << (place & 7)
  }
  return bits
}

/** What is kept of a block: places where they are few, else all bits; nothing where it is empty. */
export function keepBlock(bits: Uint8Array): Uint8Array {
  const places: number[] = []
  for (let place = 0; place < blockSize; place += 1) if (bits[place >> 3]! & (1 << (place & 7))) places.push(place)
  if (places.length >= fewest) return bits.slice()
  return Uint8Array.from(places.flatMap((p) => [p & 255, p >> 8]))
}

/** Puts a paper into a block, or takes it out. */
export function setPaper(bits: Uint8Array, paperId: number, has: boolean): void {
  const place = paperId % blockSize
  if (has) bits[place >> 3]! |= 1 << (place & 7)
  else bits[place >> 3]! &= ~(1 << (place & 7))
}

/** What either of two has, what both have, and what the first has without the second; written into the first. */
export const unite = (a: Uint8Array, b: Uint8Array): void => b.forEach((x, i) => (a[i]! |= x))
/** Leaves in the first block, in place, what stands in both. */
export const meet = (a: Uint8Array, b: Uint8Array): void => b.forEach((x, i) => (a[i]! &= x))
/** Takes out of the first block, in place, what stands in the second. */
export const without = (a: Uint8Array, b: Uint8Array): void => b.forEach((x, i) => (a[i]! &= ~x))

/** Ids of the papers of a block, the newest (highest) first. */
export function papersIn(block: number, bits: Uint8Array): number[] {
  const out: number[] = []
  for (let i = bytes - 1; i >= 0; i -= 1) {
    const byte = bits[i]!
    if (byte) for (let k = 7; k >= 0; k -= 1) if (byte & (1 << k)) out.push(block * blockSize + i * 8 + k)
  }
  return out
}

/** A term of a search as the words of the index that stand for it: a paper has the term if it has any of them. */
export interface IndexTerm {
  readonly wordIds: ReadonlySet<number>
  readonly without: boolean
}

/**
 * Papers that have all terms and none of those to be without, the newest first, from the kept blocks of the words. Linear in the
 * blocks given.
 */
export function papersWith(
  terms: readonly IndexTerm[],
  kept: readonly { readonly wordId: number; readonly block: number; readonly papers: Uint8Array }[],
): number[] {
  const wanted = terms.filter((t) => !t.without)
  if (!wanted.length) return []
  const byBlock = new Map<number, (Uint8Array | null)[]>()
  const termsOf = new Map<number, number[]>()
  for (const [i, t] of terms.entries()) for (const id of t.wordIds) termsOf.set(id, [...(termsOf.get(id) ?? []), i])
  for (const k of kept) {
    const found = byBlock.get(k.block) ?? Array.from({ length: terms.length }, () => null)
    byBlock.set(k.block, found)
    const bits = readBlock(k.papers)
    for (const i of termsOf.get(k.wordId) ?? []) {
      const own = found[i]
      if (own) unite(own, bits)
      else found[i] = bits.slice()
    }
  }
  const out: number[] = []
  for (const block of [...byBlock.keys()].sort((a, b) => b - a)) {
    const found = byBlock.get(block)!
    let all: Uint8Array | null = null
    for (const [i, t] of terms.entries()) {
      if (t.without) continue
      const own = found[i]
      if (!own) {
        all = null
        break
      }
      if (all) meet(all, own)
      else all = own
    }
    if (!all) continue
    for (const [i, t] of terms.entries()) if (t.without && found[i]) without(all, found[i])
    for (const id of papersIn(block, all)) out.push(id)
  }
  return out
}

/** Ids in rising order, each as its distance from the one before, seven bits to a byte. */
export function packIds(ids: readonly number[]): Uint8Array {
  const out: number[] = []
  let before = 0
  for (const id of ids) {
    let step = id - before
    for (; step > 127; step = Math.floor(step / 128)) out.push((step % 128) | 128)
    out.push(step)
    before = id
  }
  return Uint8Array.from(out)
}
/** The ids that were packed, in order; of bytes that end amid one, those before it. */
export function unpackIds(kept: Uint8Array): number[] {
  const out: number[] = []
  let before = 0
  let step = 0
  let scale = 1
  for (const byte of kept) {
    step += (byte & 127) * scale
    scale *= 128
    if (byte < 128) {
      before += step
      out.push(before)
      step = 0
      scale = 1
    }
  }
  return out
}
