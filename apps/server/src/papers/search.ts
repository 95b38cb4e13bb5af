import type { Ctx } from '../platform/context'
import { searchTerms, shownTerms, snippets } from '@heron/core/papers'
import { findPapers, paperRows, type PaperFilter } from './queries'
import { PaperText } from './entities'
import { In } from 'typeorm'

/** Papers by the words in them. Neither hits nor counts tell anything of what is not open to the reader. */
export async function searchPapers(ctx: Ctx, f: PaperFilter & { q: string; page: number; size: number }) {
  const terms = searchTerms(f.q)
  if (!terms.length) return { rows: [], total: 0, more: false }
  const { ids, more } = await findPapers(ctx, f, terms)
  const here = ids.slice((f.page - 1) * f.size, f.page * f.size)
  const list = await paperRows(ctx.db.manager, ctx, here)
  const texts = here.length ? await ctx.db.manager.findBy(PaperText, { paperId: In(here) }) : []
  const byId = new Map(texts.map((t) => [t.paperId, t.body.slice(t.body.indexOf('\n') + 1)]))
  return { rows: list.map((p) => ({ ...p, snippets: snippets(byId.get(p.id) ?? '', shownTerms(terms)) })), total: ids.length, more }
}
