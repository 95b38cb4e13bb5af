import type { EntityManager } from 'typeorm'
import { literal, rows, run } from '../../platform/database'
import type { Ctx } from '../../platform/context'
import { paperWhere, type PaperFilter } from '../queries'

// The index of words is read and written in lists of thousands, and asked by what the builder has no words for: locks, beginnings, limits of time.

const slices = <T>(list: readonly T[], size = 2000): T[][] =>
  Array.from({ length: Math.ceil(list.length / size) }, (_, i) => list.slice(i * size, (i + 1) * size))

/** Ids of words; `make` makes those that are new. */
export async function idsOfWords(m: EntityManager, words: readonly string[], make: boolean): Promise<Map<string, number>> {
  const out = new Map<string, number>()
  for (const some of slices(words)) {
    const read = async () => {
      for (const w of await rows<{ id: number; word: string }>(m, `SELECT id, word FROM paper_word WHERE word IN (?)`, [some]))
        out.set(w.word, w.id)
    }
    await read()
    const fresh = make ? some.filter((w) => !out.has(w)).sort() : []
    if (!fresh.length) continue
    await run(m, `INSERT IGNORE INTO paper_word (word) VALUES ${fresh.map(() => '(?)').join(',')}`, fresh)
    await read()
  }
  return out
}

/** Ids of words that begin so, at most `most` of them. */
export async function wordsBeginning(m: EntityManager, begin: string, most: number): Promise<number[]> {
  const found = await rows<{ id: number }>(m, `SELECT id FROM paper_word WHERE word LIKE ? ORDER BY word LIMIT ${Number(most)}`, [
    `${literal(begin)}%`,
  ])
  return found.map((f) => f.id)
}

/** Locks blocks of the index in their order, made where they are not there yet. */
export async function lockBlocks(m: EntityManager, blocks: readonly number[]): Promise<void> {
  for (const block of blocks) {
    // An insert that is ignored would hold the row together with others, who then wait for one another.
    await run(m, `INSERT INTO paper_block (block) VALUES (?) ON DUPLICATE KEY UPDATE block = block`, [block])
  }
}

/** Under which words papers stand in the index, so that they can be taken out of it. */
export async function indexedWords(m: EntityManager, paperIds: readonly number[]): Promise<Map<number, Uint8Array>> {
  const out = new Map<number, Uint8Array>()
  for (const some of slices(paperIds))
    for (const r of await rows<{ id: number; words: Buffer }>(m, `SELECT paper_id AS id, words FROM paper_indexed WHERE paper_id IN (?)`, [
      some,
    ]))
      out.set(r.id, r.words)
  return out
}

/** Notes under which words papers stand now. */
export async function keepIndexed(m: EntityManager, list: readonly { paperId: number; words: Uint8Array }[]): Promise<void> {
  for (const some of slices(list, 500))
    await m.query(
      `INSERT INTO paper_indexed (paper_id, words) VALUES ${some.map(() => '(?,?)').join(',')} ON DUPLICATE KEY UPDATE words = VALUES(words)`,
      some.flatMap((x) => [x.paperId, Buffer.from(x.words)]),
    )
}

/** Which papers of a block have each of some words. */
export async function postingsIn(m: EntityManager, block: number, wordIds: readonly number[]): Promise<Map<number, Uint8Array>> {
  const out = new Map<number, Uint8Array>()
  for (const some of slices(wordIds))
    for (const r of await rows<{ wordId: number; papers: Buffer }>(
      m,
      `SELECT word_id AS wordId, papers FROM paper_posting WHERE block = ? AND word_id IN (?)`,
      [block, some],
    ))
      out.set(r.wordId, r.papers)
  return out
}

/** Writes which papers of a block have each of some words; a word that none has is taken out. */
export async function changePostings(
  m: EntityManager,
  block: number,
  list: readonly { wordId: number; papers: Uint8Array }[],
): Promise<void> {
  const inOrder = [...list].sort((a, b) => a.wordId - b.wordId)
  const empty = inOrder.filter((x) => !x.papers.length).map((x) => x.wordId)
  for (const some of slices(empty)) await run(m, `DELETE FROM paper_posting WHERE block = ? AND word_id IN (?)`, [block, some])
  for (const some of slices(inOrder.filter((x) => x.papers.length)))
    await m.query(
      `INSERT INTO paper_posting (word_id, block, papers) VALUES ${some.map(() => '(?,?,?)').join(',')} ON DUPLICATE KEY UPDATE papers = VALUES(papers)`,
      some.flatMap((x) => [x.wordId, block, Buffer.from(x.papers)]),
    )
}

/** The blocks of words: all, or only those in which the papers of a matter are. */
export function blocksOf(m: EntityManager, wordIds: readonly number[], blocks: readonly number[] | null) {
  const within = blocks && blocks.length <= 1000
  return rows<{ wordId: number; block: number; papers: Buffer }>(
    m,
    `SELECT word_id AS wordId, block, papers FROM paper_posting WHERE word_id IN (?)${within ? ' AND block IN (?)' : ''}`,
    within ? [wordIds, blocks] : [wordIds],
  )
}

/** The papers of a matter that are not in its bin. */
export async function papersOfMatter(m: EntityManager, matterId: number): Promise<number[]> {
  return (await rows<{ id: number }>(m, `SELECT id FROM paper WHERE matter_id = ? AND deleted_at IS NULL`, [matterId])).map((p) => p.id)
}

/**
 * Which of some papers the reader may see and the filter lets through; with a pattern, only those whose text has it. Null where
 * looking took too long: texts may be very long.
 */
export async function seen(ctx: Ctx, ids: readonly number[], f: PaperFilter, patterns: readonly string[]): Promise<Set<number> | null> {
  const where = paperWhere(ctx, f, false)
  const text = patterns.length ? ' JOIN paper_text t ON t.paper_id = p.id' : ''
  const found = await rows<{ id: number }>(
    ctx.db.manager,
    `${patterns.length ? 'SET STATEMENT max_statement_time = 1 FOR ' : ''}SELECT p.id FROM paper p JOIN matter m ON m.id = p.matter_id${text} WHERE p.id IN (?) AND ${where.sql}${patterns.map(() => ' AND t.body REGEXP ?').join('')}`,
    [ids, ...where.values, ...patterns],
  ).catch((error: unknown) => {
    if ((error as { errno?: number }).errno === 1969) return null
    throw error
  })
  return found && new Set(found.map((x) => x.id))
}

/** Letters around the first place of each word in the texts of papers; only the first 300,000 letters are looked at. */
export async function placesOf(m: EntityManager, ids: readonly number[], terms: readonly string[]): Promise<Map<number, string[]>> {
  const out = new Map<number, string[]>()
  if (!ids.length || !terms.length) return out
  const around = terms.map((_, i) => `IF(LOCATE(?, x.b) = 0, '', SUBSTRING(x.b, GREATEST(1, LOCATE(?, x.b) - 100), 400)) AS w${i}`)
  const found = await rows<Record<string, string> & { id: number }>(
    m,
    `SELECT x.id, ${around.join(', ')} FROM (SELECT paper_id AS id, SUBSTRING(body, LOCATE('\\n', body) + 1, 300000) AS b FROM paper_text WHERE paper_id IN (?)) x`,
    [...terms.flatMap((t) => [t, t]), ids],
  )
  for (const r of found) out.set(r.id, terms.map((_, i) => r[`w${i}`] ?? '').filter(Boolean))
  return out
}

/** Papers whose words are not in the index, such as those from before there was one. */
export async function notIndexed(m: EntityManager, most: number): Promise<number[]> {
  const found = await rows<{ id: number }>(
    m,
    `SELECT t.paper_id AS id FROM paper_text t LEFT JOIN paper_indexed i ON i.paper_id = t.paper_id WHERE i.paper_id IS NULL LIMIT ${Number(most)}`,
  )
  return found.map((x) => x.id)
}
