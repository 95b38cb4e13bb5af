import { bareWord, isKept, rawWords } from './tokens'

/** One thing that a search asks for: a word, a beginning of one, or words that follow one another. */
export interface SearchTerm {
  readonly how: 'word' | 'beginning' | 'phrase'
  readonly without: boolean
  /** As they were typed. */
  readonly words: readonly string[]
}

/**
 * What is asked for in the first 200 letters of a line: words that all must be there (12 at most), phrases in quotes, words to be
 * without behind a minus, beginnings of two letters or more before a star. Words that cannot be found, such as those of every
 * sentence, ask for nothing; a search that asks for nothing to be there is empty.
 */
export function searchTerms(q: string): SearchTerm[] {
  const terms: SearchTerm[] = []
  let rest = q.slice(0, 200)
  for (const [whole, phrase] of rest.matchAll(/"([^"]+)"/g)) {
    const words = rawWords(phrase!)
    if (words.some((w) => isKept(bareWord(w)))) terms.push({ how: 'phrase', without: false, words })
    rest = rest.replace(whole, ' ')
  }
  for (const raw of rest.split(/\s+/).filter(Boolean).slice(0, 12)) {
    const words = rawWords(raw)
    for (const [i, word] of words.entries()) {
      const bare = bareWord(word)
      if (!isKept(bare)) continue
      const begins = raw.endsWith('*') && i === words.length - 1 && bare.length >= 2
      terms.push({ how: begins ? 'beginning' : 'word', without: raw.startsWith('-'), words: [word] })
    }
  }
  return terms.some((t) => !t.without) ? terms : []
}
/** The words to be shown in their sentences: all that must be there, as they were typed. */
export const shownTerms = (terms: readonly SearchTerm[]): string[] => terms.filter((t) => !t.without).map((t) => t.words.join(' '))
