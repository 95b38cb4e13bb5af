import { bareWord, blockOf, isKept, papersWith, type IndexTerm, type SearchTerm } from '@heron/core/papers'
import { blocksOf, idsOfWords, papersOfMatter, seen, wordsBeginning } from './queries'
import type { PaperFilter } from '../queries'
import type { Ctx } from '../../platform/context'

/** Papers looked at in one go, and at most of one search: whoever may see few of very many is asked to say more words. */
const atOnce = 1000
const mostLookedAt = 10_000
const mostBeginnings = 150
/** How long phrases are looked for in texts, which may be very long. */
const longestMs = 800

/** The words of the index that stand for each term; null where a term has none, so that no paper can have all. */
async function indexTerms(ctx: Ctx, terms: readonly SearchTerm[], mark: '' | '='): Promise<IndexTerm[] | null> {
  const m = ctx.db.manager
  const wordsOf = (t: SearchTerm) => t.words.map(bareWord).filter(isKept).map((w) => mark + w) // prettier-ignore
  const exact = terms.filter((t) => t.how !== 'beginning')
  const ids = await idsOfWords(m, [...new Set(exact.flatMap(wordsOf))], false)
  const out: IndexTerm[] = []
  for (const t of terms) {
    const own =
      t.how === 'beginning'
        ? [await wordsBeginning(m, wordsOf(t)[0]!, mostBeginnings)]
        : wordsOf(t).map((w) => [ids.get(w) ?? 0].filter(Boolean))
    for (const wordIds of own) {
      if (!wordIds.length && !t.without) return null
      out.push({ wordIds: new Set(wordIds), without: t.without })
    }
  }
  return out
}

async function having(ctx: Ctx, terms: readonly IndexTerm[] | null, blocks: readonly number[] | null): Promise<number[]> {
  const ids = [...new Set((terms ?? []).flatMap((t) => [...t.wordIds]))]
  return terms && ids.length ? papersWith(terms, await blocksOf(ctx.db.manager, ids, blocks)) : []
}

/**
 * Ids of papers that have all the words, those with all of them in their names first, then the newest first; only of what the
 * reader may see. `more` says that not all were looked at.
 */
export async function findPapers(ctx: Ctx, f: PaperFilter, terms: readonly SearchTerm[]): Promise<{ ids: number[]; more: boolean }> {
  const within = f.matterId ? new Set(await papersOfMatter(ctx.db.manager, f.matterId)) : null
  const blocks = within && [...new Set([...within].map(blockOf))]
  const wanted = await indexTerms(ctx, terms, '')
  let candidates = await having(ctx, wanted, blocks)
  if (within) candidates = candidates.filter((id) => within.has(id))
  if (!candidates.length) return { ids: [], more: false }
  const named = new Set(await having(ctx, await indexTerms(ctx, terms.filter((t) => !t.without), '='), blocks)) // prettier-ignore
  const ordered = named.size ? [...candidates.filter((id) => named.has(id)), ...candidates.filter((id) => !named.has(id))] : candidates
  const patterns = terms.filter((t) => t.how === 'phrase' && t.words.length > 1).map((t) => `\\b${t.words.join('[^[:alnum:]_]+')}\\b`)
  const ids: number[] = []
  let at = 0
  const until = performance.now() + longestMs
  while (at < ordered.length && at < mostLookedAt && ids.length < atOnce) {
    const some = ordered.slice(at, at + (patterns.length ? 200 : atOnce))
    const open = await seen(ctx, some, f, patterns)
    if (!open) break
    for (const id of some) if (open.has(id)) ids.push(id)
    at += some.length
    if (patterns.length && performance.now() > until) break
  }
  // Of a beginning that very many words have, only the first of them were looked for.
  const cut = (wanted ?? []).some((t) => t.wordIds.size >= mostBeginnings)
  return { ids, more: cut || at < ordered.length }
}

/** Papers by words that their names begin with, the newest first, for *find or do*. */
export async function papersNamed(ctx: Ctx, words: readonly string[], most: number): Promise<number[]> {
  const terms: SearchTerm[] = words.filter((w) => isKept(bareWord(w))).map((w) => ({ how: 'beginning', without: false, words: [w] }))
  if (!terms.length) return []
  const found = await having(ctx, await indexTerms(ctx, terms, '='), null)
  const ids: number[] = []
  for (let at = 0; at < found.length && at < 2000 && ids.length < most; at += 200) {
    const some = found.slice(at, at + 200)
    const open = await seen(ctx, some, {}, [])
    for (const id of some) if (open?.has(id)) ids.push(id)
  }
  return ids.slice(0, most)
}
