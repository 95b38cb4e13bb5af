import type { Ctx } from '../platform/context'
import { findPapers, paperRows, searchTerms, type PaperFilter } from './queries'
import { PaperText } from './entities'
import { In } from 'typeorm'

type Piece = { text: string; hit: boolean }
const plain = (t: string) => t.normalize('NFD').replaceAll(/\p{M}/gu, '').toLowerCase()
/** Letters of a paper in which the words are looked for to be shown. */
const mostShown = 300_000

/** Sentences around the words, at most three of a paper, with the words told apart. */
export function snippets(body: string, terms: readonly string[]): Piece[][] {
  // Composed letters stay one letter without their marks, so that places in the plain text are places in the text.
  const text = body.slice(0, mostShown).normalize('NFC')
  const low = plain(text)
  const wanted = [...new Set(terms.map(plain))].filter(Boolean)
  const out: Piece[][] = []
  let after = -1
  for (const term of wanted) {
    const at = low.indexOf(term)
    if (out.length >= 3 || at === -1 || at < after) continue
    const from = Math.max(0, at - 70)
    const to = Math.min(text.length, at + term.length + 110)
    after = to
    out.push(told(text, low, from, to, wanted))
  }
  return out
}

function told(text: string, low: string, from: number, to: number, terms: readonly string[]): Piece[] {
  const pieces: Piece[] = []
  let quiet = from > 0 ? '… ' : ''
  const push = (t: string, hit: boolean) => void (t && pieces.push({ text: t, hit }))
  for (let i = from; i < to;) {
    const hit = terms.find((t) => low.startsWith(t, i))
    if (hit) {
      push(quiet, false)
      quiet = ''
      push(text.slice(i, i + hit.length), true)
      i += hit.length
    } else {
      quiet += text[i] === '\n' ? ' ' : text[i]!
      i += 1
    }
  }
  push(quiet + (to < text.length ? ' …' : ''), false)
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
