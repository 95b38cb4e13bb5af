import { searchTerms, shownTerms, snippets } from '@heron/core/papers'
import { findPapers } from './find'
import { notIndexed, placesOf } from './queries'
import { indexPapers, wordIds, wordsFor } from './word-index'
import { Paper, PaperText } from '../entities'
import { paperRows, type PaperFilter } from '../queries'
import type { Ctx } from '../../platform/context'

/** Papers by the words in them. Neither hits nor counts tell anything of what is not open to the reader. */
export async function searchPapers(ctx: Ctx, f: PaperFilter & { q: string; page: number; size: number }) {
  const terms = searchTerms(f.q)
  if (!terms.length) return { rows: [], total: 0, more: false }
  const { ids, more } = await findPapers(ctx, f, terms)
  const here = ids.slice((f.page - 1) * f.size, f.page * f.size)
  const list = await paperRows(ctx.db.manager, ctx, here)
  const shown = shownTerms(terms)
  const places = await placesOf(ctx.db.manager, here, shown.slice(0, 3))
  const around = (id: number) => {
    const out = (places.get(id) ?? []).flatMap((place) => snippets(place, shown).slice(0, 1))
    // Two words in one sentence show it once.
    return out.filter((s, i) => out.findIndex((x) => x.map((p) => p.text).join('') === s.map((p) => p.text).join('')) === i)
  }
  return { rows: list.map((p) => ({ ...p, snippets: around(p.id) })), total: ids.length, more }
}

/** Puts a paper's words into the index anew, as its name and its text are now. */
export async function indexPaper(ctx: Pick<Ctx, 'db'>, { paperId }: { paperId: number }) {
  const m = ctx.db.manager
  const paper = await m.findOne(Paper, { select: { name: true, id: true }, where: { id: paperId } })
  const text = paper && (await m.findOneBy(PaperText, { paperId }))
  if (!paper || !text) return { words: 0 }
  const [, rest] = split(text.body)
  const words = await wordsFor(paper.name, rest)
  const ids = await wordIds(ctx, words)
  await m.transaction(async (tx) => {
    // Whoever changed its name or text meanwhile has asked for its words too.
    const now = await tx.createQueryBuilder(Paper, 'p').where({ id: paperId, name: paper.name }).setLock('pessimistic_write').getOne()
    const same = now && (await tx.findOneBy(PaperText, { paperId, versionNo: text.versionNo }))
    if (!same) return
    if (!text.body.startsWith(`${paper.name}\n`)) await tx.update(PaperText, paperId, { body: `${paper.name}\n${rest}` })
    await indexPapers(tx, [{ paperId, words }], ids)
  })
  return { words: words.length }
}
/** Name and text of what is kept of a paper. */
const split = (body: string): [string, string] => [body.slice(0, body.indexOf('\n')), body.slice(body.indexOf('\n') + 1)]

/** Brings what is missing of the index into it, a few thousand papers at a time. */
export async function indexMissing(base: Pick<Ctx, 'db'>): Promise<void> {
  for (const paperId of await notIndexed(base.db.manager, 5000)) await indexPaper(base, { paperId })
}

export { papersNamed } from './find'
export { indexPapers, wordIds, wordsFor } from './word-index'
