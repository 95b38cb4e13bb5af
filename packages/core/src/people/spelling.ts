import { doubleMetaphone } from 'double-metaphone'

/**
 * Letters to add, drop, change or swap with a neighbour to make one word of the other
 * (optimal string alignment); stops counting above `most`.
 */
export function spellingDistance(a: string, b: string, most = 4): number {
  if (Math.abs(a.length - b.length) > most) return most + 1
  let before: number[] = []
  let last = Array.from({ length: b.length + 1 }, (_, i) => i)
  for (let i = 1; i <= a.length; i += 1) {
    const now = [i]
    let least = i
    for (let j = 1; j <= b.length; j += 1) {
      const same = a[i - 1] === b[j - 1]
      let d = Math.min(last[j]! + 1, now[j - 1]! + 1, last[j - 1]! + (same ? 0 : 1))
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1]) d = Math.min(d, before[j - 2]! + 1)
      now.push(d)
      least = Math.min(least, d)
    }
    if (least > most) return most + 1
    before = last
    last = now
  }
  return last[b.length]!
}

/** How a word sounds, by the double metaphone code: two readings, often the same. Empty for what has no Latin letters. */
export function soundsOf(word: string): [string, string] {
  const [a, b] = doubleMetaphone(word)
  return [a.slice(0, 12), b.slice(0, 12)]
}

const drop = (word: string, at: number) => word.slice(0, at) + word.slice(at + 1)

/**
 * The keys under which a word is found although misspelt: the word, the word less one letter, and for six letters
 * and more less two, over its first nine. Two words within two such changes share a key.
 */
export function spellingKeys(word: string): string[] {
  const head = word.slice(0, 9)
  const keys = new Set([word, head])
  if (head.length < 3) return [...keys]
  for (let i = 0; i < head.length; i += 1) {
    const one = drop(head, i)
    keys.add(one)
    if (head.length >= 6) for (let j = i; j < one.length; j += 1) keys.add(drop(one, j))
  }
  return [...keys]
}
