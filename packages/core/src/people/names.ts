const legalForms = new Set(
  'inc incorporated llc llp lp co company corp corporation ltd limited gmbh ag sa plc pllc pc cooperative coop association'.split(' '),
)
const honorifics = new Set('mr mrs ms miss dr prof hon judge rev sir jr sr ii iii esq'.split(' '))
const articles = new Set('the a an'.split(' '))

/**
 * A name reduced for comparison: case, accents, punctuation, legal forms, leading articles and honorifics dropped.
 * `The Hollin & Rye Co., Inc.` becomes `hollin and rye`. A name made of nothing else keeps its words.
 */
export function normalizeName(name: string): string {
  const words = name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[øł]/g, (c) => (c === 'ø' ? 'o' : 'l'))
    .replaceAll('ß', 'ss')
    .replaceAll('&', ' and ')
    .replace(/\b([a-z])\.(?=[a-z]\b)/g, '$1')
    .replace(/['’]/g, '')
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)
  const kept = words.filter((w) => !legalForms.has(w) && !honorifics.has(w))
  while (articles.has(kept[0] ?? '')) kept.shift()
  return (kept.length ? kept : words).join(' ')
}

/** What a hit rests on, in the order of how much it says. */
export type HitReason = 'same name' | 'same name normalized' | 'same words in another order' | 'shares part of the name'

export interface NameHit {
  reason: HitReason
  /** 0 to 100. */
  score: number
}

/** Compares a searched name with one on record; null where nothing that matters is shared. */
export function compareNames(searched: string, onRecord: string): NameHit | null {
  if (searched.trim() === onRecord.trim()) return { reason: 'same name', score: 100 }
  const a = normalizeName(searched)
  const b = normalizeName(onRecord)
  if (!a || !b) return null
  if (a === b) return { reason: 'same name normalized', score: 96 }
  const wa = a.split(' ')
  const wb = b.split(' ')
  if ([...wa].sort().join(' ') === [...wb].sort().join(' ')) return { reason: 'same words in another order', score: 90 }
  const telling = (w: string) => w.length > 2 && w !== 'and'
  const shared = wa.filter((w) => telling(w) && wb.includes(w)).length
  const smaller = Math.min(wa.filter(telling).length, wb.filter(telling).length)
  if (smaller === 0 || shared < smaller) return null
  const larger = Math.max(wa.filter(telling).length, wb.filter(telling).length)
  return { reason: 'shares part of the name', score: Math.round(50 + (30 * shared) / larger) }
}
