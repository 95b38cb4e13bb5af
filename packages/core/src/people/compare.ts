import { nameWords, normalizeName } from './names'
import { areShortForms } from './short-forms'
import { soundsOf, spellingDistance } from './spelling'

/** What a hit rests on, in the words in which it is said. */
export type HitReason =
  | 'same name'
  | 'same name normalized'
  | 'same words in another order'
  | 'short form of a given name'
  | 'sounds alike'
  | 'nearly the same spelling'
  | 'an initial that fits'
  | 'shares part of the name'
  | 'shares a rare word'

export interface NameHit {
  /** The one that says most. */
  reason: HitReason
  /** All of them, the one that says most first. */
  reasons: HitReason[]
  /** 0 to 100. */
  score: number
}

interface Likeness {
  /** 0 to 1. */
  by: number
  reason: HitReason | null
}

const sounds = new Map<string, [string, string]>()
function soundOf(word: string): [string, string] {
  const known = sounds.get(word)
  if (known) return known
  if (sounds.size > 50_000) sounds.clear()
  const found = soundsOf(word)
  sounds.set(word, found)
  return found
}

/** How much alike two normalized words are, and why; 0 where nothing speaks for it. */
export function wordLikeness(a: string, b: string): Likeness {
  if (a === b) return { by: 1, reason: null }
  if (areShortForms(a, b)) return { by: 0.93, reason: 'short form of a given name' }
  if (a.length === 1 || b.length === 1) return a[0] === b[0] ? { by: 0.6, reason: 'an initial that fits' } : { by: 0, reason: null }
  const longer = Math.max(a.length, b.length)
  const distance = spellingDistance(a, b)
  const near: Likeness = { by: 0, reason: 'nearly the same spelling' }
  if (distance === 1 && longer >= 4) near.by = longer >= 7 ? 0.94 : 0.9
  else if (distance === 2 && longer >= 6) near.by = longer >= 8 ? 0.88 : 0.82
  else if (distance <= 4 && 1 - distance / longer >= 0.55) near.by = (1 - distance / longer) * 0.9
  if (near.by >= 0.9 || longer < 3) return near
  const [a1, a2] = soundOf(a)
  const [b1, b2] = soundOf(b)
  const alike = a1.length > 1 && (a1 === b1 || a1 === b2 || a2 === b1) && a[0] !== undefined
  // The same sound with spellings far apart says less: the codes drop vowels and double letters.
  const heard = alike ? (distance <= 3 ? 0.89 : 0.76) : 0
  return heard > near.by ? { by: heard, reason: 'sounds alike' } : near.by > 0 ? near : { by: 0, reason: null }
}

const weightOf = (word: string) => (word.length === 1 ? 0.3 : word.length === 2 ? 0.6 : 1)

interface Pair extends Likeness {
  i: number
  j: number
}

/** Pairs the words of two names, the most alike first; every word is used once. */
function pairUp(a: string[], b: string[]): Pair[] {
  const all: Pair[] = []
  a.forEach((x, i) => b.forEach((y, j) => all.push({ i, j, ...wordLikeness(x, y) })))
  const taken: Pair[] = []
  for (const p of all.filter((p) => p.by >= 0.5).sort((x, y) => y.by - x.by || Math.abs(x.i - x.j) - Math.abs(y.i - y.j)))
    if (!taken.some((t) => t.i === p.i || t.j === p.j)) taken.push(p)
  return taken
}

const hit = (score: number, reasons: HitReason[]): NameHit => ({ reason: reasons[0]!, reasons, score: Math.round(score) })

/** How many words of a name are compared: every word is held against every other. */
const mostWords = 12

/** How sure a name is that shares nothing but one rare word, exactly: weak, and never left out. */
export const rareWordHit = (word: string): NameHit => ({
  reason: 'shares a rare word',
  reasons: ['shares a rare word'],
  score: Math.min(49, 38 + word.length),
})

/**
 * Compares a searched name with one on record. A hit needs every telling word of at least one of the two to have
 * its like in the other; null where it has not.
 */
export function compareNames(searched: string, onRecord: string): NameHit | null {
  if (searched.trim() === onRecord.trim()) return hit(100, ['same name'])
  const a = normalizeName(searched)
  const b = normalizeName(onRecord)
  if (!a || !b) return null
  if (a === b) return hit(96, ['same name normalized'])
  const wa = nameWords(searched).slice(0, mostWords)
  const wb = nameWords(onRecord).slice(0, mostWords)
  const [ja, jb] = [wa.join(''), wb.join('')]
  if (ja === jb) return hit(94, ['same name normalized'])
  const pairs = pairUp(wa, wb)
  const telling = (w: string) => w.length > 2
  const left = wa.filter((w, i) => telling(w) && !pairs.some((p) => p.i === i))
  const right = wb.filter((w, j) => telling(w) && !pairs.some((p) => p.j === j))
  const strong = pairs.filter((p) => p.by >= 0.75 && telling(wa[p.i]!) && telling(wb[p.j]!))
  const whole = wa.length !== wb.length && ja.length >= 8 && spellingDistance(ja, jb, 2) <= 2
  if (whole) return hit(88, ['nearly the same spelling'])
  if (!strong.length || (left.length && right.length)) return null
  const weight = (p: Pair) => (weightOf(wa[p.i]!) + weightOf(wb[p.j]!)) / 2
  const total = pairs.reduce((n, p) => n + weight(p), 0)
  const likeness = pairs.reduce((n, p) => n + weight(p) * p.by, 0) / total
  const why = [...new Set(pairs.flatMap((p) => p.reason ?? []))]
  const unpaired = wa.length + wb.length - 2 * pairs.length
  if (!left.length && !right.length) {
    if (likeness < 0.7) return null
    const inOrder = [...pairs].sort((x, y) => x.i - y.i).every((p, n, all) => n === 0 || all[n - 1]!.j < p.j)
    const reasons: HitReason[] = [...(inOrder ? [] : (['same words in another order'] as const)), ...why]
    return hit(Math.min(95, 95 * likeness) - (inOrder ? 0 : 4) - Math.min(unpaired, 3), reasons.length ? reasons : ['same name normalized'])
  }
  if (likeness < 0.75) return null
  const larger = Math.max(wa.filter(telling).length, wb.filter(telling).length)
  return hit((50 + (30 * strong.length) / larger) * likeness, ['shares part of the name', ...why])
}
