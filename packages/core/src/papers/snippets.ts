/** A piece of a text, told whether it is what was looked for. */
export interface Piece {
  readonly text: string
  readonly hit: boolean
}
const bare = (c: string): string => {
  const plain = c.normalize('NFD').replaceAll(/\p{M}/gu, '').toLowerCase()
  return plain.length === c.length ? plain : c
}
/** Without capitals and accents, letter for letter: what would change a text's length stays as it is, so that places stay places. */
const plain = (text: string): string => text.replaceAll(/[^a-z\d\s]/gu, bare)
/** Letters of a text in which the words are looked for to be shown. */
const mostShown = 300_000

/**
 * Sentences around the words, at most three of a text, with the words told apart; without regard to case and accents. Only the
 * first 300,000 letters are looked at.
 */
export function snippets(body: string, terms: readonly string[]): Piece[][] {
  const text = body.slice(0, mostShown).normalize('NFC')
  const low = plain(text)
  const wanted = [...new Set(terms.map((t) => plain(t.normalize('NFC'))))].filter(Boolean)
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
