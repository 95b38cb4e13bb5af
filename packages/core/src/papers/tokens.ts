/**
 * Words that stand in every sentence: neither kept nor insisted on. (What is asked for in quotes is looked for with them.)
 */
const passedOver = new Set(
  'a about an are as at be by com de en for from how i in is it la of on or that the this to was what when where who will with und www'.split(
    ' ',
  ),
)
/** Letters of a word that are kept; two words that begin with the same forty are one. */
const longestWord = 40
/** Most different words that are kept of one paper. */
export const mostTokens = 50_000

/** Words of a text as they were written: letters, figures and underscores. */
export const rawWords = (text: string): string[] => text.match(/[\p{L}\p{M}\d_]+/gu) ?? []
/** A word as it is kept: without capitals and accents, at most forty letters. */
export const bareWord = (word: string): string => word.normalize('NFD').replaceAll(/\p{M}/gu, '').toLowerCase().slice(0, longestWord)
/** Whether a bare word can be found: of two letters at least, or a figure, and not of every sentence. */
export const isKept = (bare: string): boolean => (bare.length >= 2 || /\d/.test(bare)) && !passedOver.has(bare)

/** The different words by which a text is found, each bare, 50,000 at most; in time linear in the text. */
export function tokensOf(text: string): string[] {
  const out = new Set<string>()
  for (const [word] of text.matchAll(/[\p{L}\p{M}\d_]+/gu)) {
    const bare = bareWord(word)
    if (isKept(bare)) out.add(bare)
    if (out.size >= mostTokens) break
  }
  return [...out]
}
