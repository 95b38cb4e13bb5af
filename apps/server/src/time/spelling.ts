import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { insertNew, insertMany, work } from '../platform/database'
import { fieldFault } from '../platform/problem'
import { SpellingWord } from './entities'
import { emptyWords, firmWords, mostWords } from './set-up-queries'

/** Takes one word into those of the firm; a word it has already changes nothing. */
export const addWord = (ctx: Ctx, word: string): Promise<void> =>
  work(ctx, async (m) => {
    if ((await firmWords(m)).length >= mostWords) throw fieldFault('word', `The firm keeps at most ${mostWords} words of its own`)
    await insertNew(m, SpellingWord, { word })
    await audit(m, ctx, { kind: 'set up', text: `“${word}” taken for right by the spelling checker`, subject: 'fee' })
  })

/** Keeps the words of the firm as they stand on the page. */
export const setWords = (ctx: Ctx, words: readonly string[]): Promise<void> =>
  work(ctx, async (m) => {
    await emptyWords(m)
    await insertMany(
      m,
      'spelling_word',
      ['word'],
      [...new Set(words)].map((w) => [w]),
    )
    await audit(m, ctx, { kind: 'set up', text: `Words that the spelling checker takes for right: ${words.length}`, subject: 'fee' })
  })
