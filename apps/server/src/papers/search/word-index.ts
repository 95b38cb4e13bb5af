import { blockOf, emptyBlock, keepBlock, packIds, readBlock, setPaper, tokensOf, unpackIds } from '@heron/core/papers'
import type { EntityManager } from 'typeorm'
import { changePostings, idsOfWords, indexedWords, keepIndexed, lockBlocks, postingsIn } from './queries'
import { apart } from '../apart'
import type { Ctx } from '../../platform/context'

/** A paper with all the words by which it is found. */
export interface Indexed {
  paperId: number
  words: readonly string[]
}

/** Texts so long are taken apart on a thread of their own. */
const short = 20_000
/** The words by which a paper is found: those of its text, and those of its name twice, once marked as such. */
export async function wordsFor(name: string, text: string): Promise<string[]> {
  const named = tokensOf(name)
  const own = text.length > short ? await apart('tokens', { text }) : tokensOf(text)
  return [...new Set([...own, ...named, ...named.map((w) => `=${w}`)])]
}

/** Ids of words, made where they are new. Not part of the caller's transaction: a word that no paper has does no harm. */
export const wordIds = (base: Pick<Ctx, 'db'>, words: readonly string[]): Promise<Map<string, number>> =>
  idsOfWords(base.db.manager, words, true)

/**
 * Puts papers under their words, and takes them away from words that they no longer have. One at a time for each block of ids:
 * the block is locked first, then read.
 */
export async function indexPapers(m: EntityManager, papers: readonly Indexed[], ids: ReadonlyMap<string, number>): Promise<void> {
  await lockBlocks(
    m,
    [...new Set(papers.map((p) => blockOf(p.paperId)))].sort((a, b) => a - b),
  )
  const before = await indexedWords(m, papers.map((p) => p.paperId)) // prettier-ignore
  /** By block and word: which papers come and which go. */
  const changes = new Map<number, Map<number, { paperId: number; has: boolean }[]>>()
  const kept: { paperId: number; words: Uint8Array }[] = []
  for (const p of papers) {
    const now = new Set(p.words.flatMap((w) => ids.get(w) ?? []))
    const old = new Set(unpackIds(before.get(p.paperId) ?? new Uint8Array()))
    const block = blockOf(p.paperId)
    const of = changes.get(block) ?? new Map<number, { paperId: number; has: boolean }[]>()
    changes.set(block, of)
    const note = (wordId: number, has: boolean) => {
      const list = of.get(wordId)
      if (list) list.push({ paperId: p.paperId, has })
      else of.set(wordId, [{ paperId: p.paperId, has }])
    }
    for (const id of now) if (!old.has(id)) note(id, true)
    for (const id of old) if (!now.has(id)) note(id, false)
    kept.push({ paperId: p.paperId, words: packIds([...now].sort((a, b) => a - b)) })
  }
  for (const [block, of] of changes) {
    const now = await postingsIn(m, block, [...of.keys()])
    const changed = [...of].map(([wordId, list]) => {
      const bits = now.has(wordId) ? readBlock(now.get(wordId)!) : emptyBlock()
      for (const { paperId, has } of list) setPaper(bits, paperId, has)
      return { wordId, papers: keepBlock(bits) }
    })
    await changePostings(m, block, changed)
  }
  await keepIndexed(m, kept)
}
