import type { EntityManager } from 'typeorm'
import { requireMatter } from '../platform/access'
import { audit } from '../platform/audit'
import type { Ctx } from '../platform/context'
import { insertNew, insertMany, rows, run, work } from '../platform/database'
import { fieldFault } from '../platform/problem'
import { UserAccount } from '../platform/shared-entities'
import { SpellingWord } from './entities'

const mostWords = 5000
const firmWords = async (m: EntityManager): Promise<string[]> =>
  (await rows<{ word: string }>(m, `SELECT word FROM spelling_word ORDER BY word LIMIT ?`, [mostWords])).map((w) => w.word)

/** Words that a spelling checker takes for right besides its dictionary: the firm's own, and the names around a matter. */
export async function knownWords(ctx: Ctx, matterId: number | undefined) {
  const m = ctx.db.manager
  const words = await firmWords(m)
  const names = (await m.find(UserAccount, { select: { name: true, id: true }, take: 500 })).map((u) => u.name)
  if (matterId) {
    await requireMatter(m, ctx, matterId)
    const around = await rows<{ name: string }>(
      m,
      `SELECT name FROM matter WHERE id = ?
        UNION SELECT c.name FROM matter x JOIN contact c ON c.id = x.client_id WHERE x.id = ? AND c.private_to IS NULL
        UNION (SELECT c.name FROM matter_party p JOIN contact c ON c.id IN (p.contact_id, p.counsel_id) WHERE p.matter_id = ? AND c.private_to IS NULL LIMIT 300)`,
      [matterId, matterId, matterId],
    )
    names.push(...around.map((n) => n.name))
  }
  const ofNames = names.flatMap((n) => n.split(/[^\p{L}']+/u)).filter((w) => w.length > 1)
  return { words, names: [...new Set(ofNames)] }
}

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
    await run(m, `DELETE FROM spelling_word`)
    await insertMany(
      m,
      'spelling_word',
      ['word'],
      [...new Set(words)].map((w) => [w]),
    )
    await audit(m, ctx, { kind: 'set up', text: `Words that the spelling checker takes for right: ${words.length}`, subject: 'fee' })
  })
