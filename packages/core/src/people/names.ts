const legalForms = new Set(
  (
    'inc incorporated llc llp lllp lp pllc pllp plc pc co company corp corporation ltd limited ltda gmbh mbh kg ohg ag srl sarl spa sa bv nv ' +
    'oyj aps pty pte cooperative coop association'
  ).split(' '),
)
/** Legal forms that are also initials or names: dropped only where they close the name. */
const closingForms = new Set('ab as oy sas pa'.split(' '))
const honorifics = new Set(
  'mr mrs ms miss mx dr prof professor hon honorable judge justice rev sir dame captain capt jr sr ii iii iv esq phd md'.split(' '),
)
const articles = new Set('the a an'.split(' '))
const folded: Record<string, string> = { ø: 'o', ł: 'l', ß: 'ss', æ: 'ae', œ: 'oe', đ: 'd', ð: 'd', þ: 'th', ı: 'i' }

/**
 * A name reduced for comparison: case, accents, punctuation, legal forms, leading articles and honorifics dropped.
 * `The Hollin & Rye Co., Inc.` becomes `hollin and rye`. A name made of nothing else keeps its words.
 */
export function normalizeName(name: string): string {
  const words = name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[øłßæœđðþı]/g, (c) => folded[c] ?? c)
    .replaceAll('&', ' and ')
    .replace(/\b([a-z])\.(?=[a-z]\b)/g, '$1')
    .replace(/['’]/g, '')
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)
  const kept = words.filter((w) => !legalForms.has(w) && !honorifics.has(w))
  while (articles.has(kept[0] ?? '')) kept.shift()
  while (kept.length > 1 && closingForms.has(kept.at(-1)!)) kept.pop()
  return (kept.length ? kept : words).join(' ')
}

/** The words of a name by which it is found and compared; `and` and `of` do not count. */
export function nameWords(name: string): string[] {
  const words = normalizeName(name).split(' ').filter(Boolean)
  const telling = words.filter((w) => w !== 'and' && w !== 'of')
  return telling.length ? telling : words
}

/** An e-mail, phone or tax number reduced so that two ways of writing it are the same; '' where too little is left to tell. */
export function normalizeReach(what: 'e-mail' | 'phone' | 'address' | 'tax number', value: string): string {
  if (what === 'e-mail') return value.trim().toLowerCase()
  if (what === 'address') return value.trim().toLowerCase().replace(/\s+/g, ' ').slice(0, 190)
  const kept = value.toLowerCase().replace(what === 'phone' ? /[^0-9]/g : /[^0-9a-z]/g, '')
  return kept.length < 5 ? '' : what === 'phone' ? kept.slice(-10) : kept.slice(0, 40)
}

/** A person's name in the parts that vCard and lists by family name want: particles stay with the family name. */
export function splitPersonName(name: string): { prefix: string; given: string; family: string; suffix: string } {
  const words = name.trim().split(/\s+/).filter(Boolean)
  const bare = (w: string) => w.toLowerCase().replace(/[.,]/g, '')
  const prefix: string[] = []
  const suffix: string[] = []
  while (words.length > 1 && honorifics.has(bare(words[0]!))) prefix.push(words.shift()!)
  while (words.length > 1 && (honorifics.has(bare(words.at(-1)!)) || bare(words.at(-1)!) === 'esq')) suffix.unshift(words.pop()!)
  const particles = new Set('van von der den de del la di da dos du le bin ibn al el ter ten'.split(' '))
  let at = Math.max(words.length - 1, 0)
  while (at > 1 && particles.has(words[at - 1]!.toLowerCase())) at -= 1
  return {
    prefix: prefix.join(' '),
    given: words.length > 1 ? words.slice(0, at).join(' ') : '',
    family: words.length > 1 ? words.slice(at).join(' ') : (words[0] ?? ''),
    suffix: suffix.join(' ').replace(/^,\s*/, ''),
  }
}
