/** Words that the full-text index leaves out by itself (the standard list of InnoDB); a search does not insist on them. */
const passedOver = new Set(
  'a about an are as at be by com de en for from how i in is it la of on or that the this to was what when where who will with und www'.split(
    ' ',
  ),
)
const wordsIn = (text: string): string[] => text.split(/[^\p{L}\p{M}\d_]+/u).filter(Boolean)

/** One thing that a search asks for: a word, a beginning of one, or words that follow one another. */
export interface SearchTerm {
  readonly how: 'word' | 'beginning' | 'phrase'
  readonly without: boolean
  readonly words: readonly string[]
}

/**
 * What is asked for in the first 200 letters of a line: words that all must be there (12 at most), phrases in quotes, words to be
 * without behind a minus, beginnings of three letters or more before a star. Words of fewer letters than three, and those that an
 * index leaves out, ask for nothing; a search that asks for nothing to be there is empty.
 */
export function searchTerms(q: string): SearchTerm[] {
  const terms: SearchTerm[] = []
  let rest = q.slice(0, 200)
  for (const [whole, phrase] of rest.matchAll(/"([^"]+)"/g)) {
    const words = wordsIn(phrase!)
    if (words.length) terms.push({ how: 'phrase', without: false, words })
    rest = rest.replace(whole, ' ')
  }
  for (const raw of rest.split(/\s+/).filter(Boolean).slice(0, 12)) {
    const words = wordsIn(raw)
    for (const [i, word] of words.entries()) {
      if (word.length < 3 || passedOver.has(word.toLowerCase())) continue
      const begins = raw.endsWith('*') && i === words.length - 1
      terms.push({ how: begins ? 'beginning' : 'word', without: raw.startsWith('-'), words: [word] })
    }
  }
  return terms.some((t) => !t.without) ? terms : []
}
/** The words to be shown in their sentences: all that must be there, as they were typed. */
export const shownTerms = (terms: readonly SearchTerm[]): string[] => terms.filter((t) => !t.without).map((t) => t.words.join(' '))
