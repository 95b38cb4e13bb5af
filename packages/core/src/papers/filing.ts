import { searchWords } from '../matters'

/** Names that scanners, phones and mail programs give; they say nothing of what is in the file. */
const sayingNothing = new Set(
  'scan scanned scanner img image imagen dsc doc document documento file attachment part untitled page fax pdf download noname copy from of de the new'.split(
    ' ',
  ),
)
/** Whether a file's name has no word of its own but those that scanners, phones and mail programs give, figures and single letters. */
export const saysNothing = (name: string): boolean =>
  name
    .slice(0, name.lastIndexOf('.') > 0 ? name.lastIndexOf('.') : undefined)
    .toLowerCase()
    .split(/[^\p{L}]+/u)
    .every((w) => w === '' || sayingNothing.has(w) || w.length === 1)

/** A name made of a paper's first line, at most 80 letters; null where none of the first 4,000 letters' lines says something. */
export function titleIn(words: string): string | null {
  for (const line of words.slice(0, 4000).split('\n')) {
    const clean = line.split(/\s+/).filter(Boolean).join(' ')
    if (clean.length >= 6 && /\p{L}{3}/u.test(clean) && !/^page \d/i.test(clean))
      return clean.length > 80 ? `${clean.slice(0, 78).replace(/\s\S*$/, '')} …` : clean
  }
  return null
}

/** Words of a text that look like the number of a case or a matter: 4 to 60 letters with two figures together, 60 words at most. */
export const numbersIn = (text: string): string[] =>
  [...new Set(text.slice(0, 4000).split(/[\s,;()[\]"<>#]+/).map((w) => w.replace(/[.:]$/, '').replace(/^[.:]/, '')))].filter((w) => w.length >= 4 && w.length <= 60 && /\d{2}/.test(w)).slice(0, 60) // prettier-ignore

/** Words of letters that say nothing of whose matter they are. */
const common = new Set(
  're fw fwd aw the and for from with your our you this that matter case court order notice letter please attached document documents draft filing motion hearing meeting update invoice bill trust estate llc inc corp company limited group maritime office law firm state county'.split(
    ' ',
  ),
)
/** The words of a subject that may name a matter, eight at most. */
export const tellingWords = (subject: string): string[] =>
  searchWords(subject)
    .filter((w) => w.length >= 4 && !common.has(w) && !/^\d+$/.test(w))
    .slice(0, 8)

/** A sign that a message belongs to a matter. */
export type Clue =
  | {
      readonly kind: 'number'
      readonly matterId: number
      readonly number: string
      readonly caseNumber: string
      readonly secondNumber: string
    }
  | { readonly kind: 'person'; readonly matterId: number; readonly name: string; readonly part: string; readonly open: boolean }
  | { readonly kind: 'words'; readonly matterId: number; readonly count: number; readonly words: string; readonly open: boolean }
  | { readonly kind: 'recent'; readonly matterId: number; readonly place: number }
export interface Ranked {
  readonly matterId: number
  readonly score: number
  readonly why: readonly string[]
}
/** Score from which a matter is taken to be meant: one word of its name in the subject is enough. */
export const sureEnough = 18

function weighed(c: Clue, mail: { readonly subject: string; readonly numbers: readonly string[] }): { why: string; weight: number } {
  if (c.kind === 'recent') return { why: 'you filed there lately', weight: 12 - c.place }
  if (c.kind === 'words') return { why: `the subject has ${c.words}`, weight: Math.min(40, 18 * c.count) - (c.open ? 0 : 10) }
  if (c.kind === 'person') {
    const client = c.part === 'client'
    return { why: `${c.name} is ${client ? 'the client' : `${c.part} here`}`, weight: (client ? 50 : 45) - (c.open ? 0 : 25) }
  }
  const has = (n: string) => n !== '' && mail.numbers.some((x) => x.toLowerCase() === n.toLowerCase())
  if (has(c.number)) {
    const inSubject = mail.subject.toLowerCase().includes(c.number.toLowerCase())
    return { why: `names the matter’s number ${c.number}`, weight: inSubject ? 100 : 70 }
  }
  return has(c.caseNumber)
    ? { why: `names the court’s case number ${c.caseNumber}`, weight: 90 }
    : { why: `names the number ${c.secondNumber}`, weight: 80 }
}

/**
 * Matters to which a message may belong, best first, eight at most, each with up to four reasons. A number weighs most (100 in the
 * subject, 70 to 90 else), then whose address it is (50, less in closed matters), then words of the subject, then where one filed
 * lately. The same reason counts once.
 */
export function rankMatters(clues: readonly Clue[], mail: { readonly subject: string; readonly numbers: readonly string[] }): Ranked[] {
  const by = new Map<number, { score: number; why: string[] }>()
  for (const c of clues) {
    const { why, weight } = weighed(c, mail)
    const at = by.get(c.matterId) ?? { score: 0, why: [] }
    if (!at.why.includes(why)) by.set(c.matterId, { score: at.score + weight, why: [...at.why, why] })
  }
  return [...by]
    .sort((a, b) => b[1].score - a[1].score)
    .slice(0, 8)
    .map(([matterId, p]) => ({ matterId, score: p.score, why: p.why.slice(0, 4) }))
}
