import type { Ctx } from '../platform/context'
import { findPapers, paperRows, searchTerms, type PaperFilter } from './queries'
import { PaperText } from './entities'
import { In } from 'typeorm'

type Piece = { text: string; hit: boolean }
const plain = (t: string) => t.normalize('NFD').replaceAll(/\p{M}/gu, '').toLowerCase()

/** Sentences around the words, at most three of a paper, with the words told apart. */
export function snippets(body: string, terms: readonly string[]): Piece[][] {
  // One letter stays one letter, so that places in the plain text are places in the text.
  const low = [...body.slice(0, 400_000)].map((c) => plain(c)[0] ?? ' ').join('') // prettier-ignore
  const letters = [...body.slice(0, 400_000)]
  const wanted = [...new Set(terms.map(plain))]
  const out: Piece[][] = []
  let after = 0
  for (const term of wanted) {
    if (out.length >= 3) break
    const at = low.indexOf(term)
    if (at === -1 || (at < after && out.length)) continue
    const from = Math.max(0, at - 70)
    const to = Math.min(letters.length, at + term.length + 110)
    after = to
    out.push(told(letters, low, from, to, wanted))
  }
  return out
}

function told(letters: readonly string[], low: string, from: number, to: number, terms: readonly string[]): Piece[] {
  const pieces: Piece[] = []
  let i = from
  let quiet = from > 0 ? '… ' : ''
  const push = (text: string, hit: boolean) => text && pieces.push({ text, hit })
  while (i < to) {
    const hit = terms.find((t) => low.startsWith(t, i))
    if (hit) {
      push(quiet, false)
      quiet = ''
      push(letters.slice(i, i + hit.length).join(''), true)
      i += hit.length
    } else {
      quiet += letters[i] === '\n' ? ' ' : letters[i]
      i += 1
    }
  }
  push(quiet + (to < letters.length ? ' …' : ''), false)
  return pieces
}

/** Papers by the words in them. Neither hits nor counts tell anything of what is not open to the reader. */
export async function searchPapers(ctx: Ctx, f: PaperFilter & { q: string; page: number; size: number }) {
  const terms = searchTerms(f.q)
  if (!terms.boolean) return { rows: [], total: 0, more: false }
  const { ids, more } = await findPapers(ctx, f, terms.boolean)
  const here = ids.slice((f.page - 1) * f.size, f.page * f.size)
  const list = await paperRows(ctx.db.manager, ctx, here)
  const texts = here.length ? await ctx.db.manager.findBy(PaperText, { paperId: In(here) }) : []
  const byId = new Map(texts.map((t) => [t.paperId, t.body.slice(t.body.indexOf('\n') + 1)]))
  return { rows: list.map((p) => ({ ...p, snippets: snippets(byId.get(p.id) ?? '', terms.shown) })), total: ids.length, more }
}
