/** What makes documents alike quicker to lay out. None of it changes where anything stands. */

interface Position {
  xAdvance: number
  yAdvance: number
  xOffset: number
  yOffset: number
}
interface Run {
  glyphs: readonly unknown[]
  positions: Position[]
  readonly advanceWidth: number
}
export interface ReadFont {
  unitsPerEm: number
  layout: (text: string, features?: unknown) => Run
}

/** How many words are kept, and how long they are at most: a line without spaces is none that comes again. */
const mostWords = 20_000
const longestWord = 40

/** A font that shapes a word once. Who lays out scales the positions given to it in place, so each time they are given anew. */
export function shapingOnce<F extends ReadFont>(font: F): F {
  const shape = font.layout.bind(font)
  const shaped = new Map<string, Run>()
  font.layout = (text, features) => {
    if (features || text.length > longestWord) return shape(text, features)
    let run = shaped.get(text)
    if (!run) {
      if (shaped.size >= mostWords) shaped.clear()
      shaped.set(text, (run = shape(text)))
    }
    return {
      glyphs: run.glyphs,
      positions: run.positions.map(({ xAdvance, yAdvance, xOffset, yOffset }) => ({ xAdvance, yAdvance, xOffset, yOffset })),
      // Told as the layouter finds it after it has scaled: in thousandths of the size of the letters.
      advanceWidth: (run.advanceWidth * 1000) / font.unitsPerEm,
    }
  }
  return font
}

export interface Inline {
  text: string
  x: number
  width: number
  height: number
  trailingCut: number
  lineEnd?: boolean
  [look: string]: unknown
}

/** What two words of a line must have alike to be written as one. */
const looks = ['font', 'fontSize', 'color', 'opacity', 'sup', 'sub', 'characterSpacing', 'height'] as const
/** With any of these a word stands for itself. */
const apart = ['link', 'linkToPage', 'linkToDestination', 'fontFeatures', 'decoration', 'background', 'characterSpacing', '_pageNodeRef', '_tocItemRef', '_textRef', 'leadingIndent'] as const // prettier-ignore

/** Words of a line that look alike and follow one another, as one; each stands where it stood. */
export function joined(words: readonly Inline[]): Inline[] {
  const out: Inline[] = []
  for (const word of words) {
    const last = out.at(-1)
    // Only words that lie close one after the other: a spread line keeps its gaps.
    const alike =
      last &&
      Math.abs(last.x + last.width - word.x) < 0.001 &&
      looks.every((k) => last[k] === word[k]) &&
      apart.every((k) => !last[k] && !word[k])
    if (alike) out[out.length - 1] = { ...last, text: last.text + word.text, width: last.width + word.width, trailingCut: word.trailingCut }
    else out.push(word)
  }
  return out
}

/** How letters look unless a document says otherwise, with every property that the layouter asks for. */
const plain: Record<string, unknown> = {
  font: 'Sans',
  fontSize: 9.5,
  lineHeight: 1.25,
  bold: false,
  italics: false,
  alignment: 'left',
  characterSpacing: 0,
  color: 'black',
  opacity: 1,
  sup: false,
  sub: false,
  noWrap: false,
  leadingIndent: 0,
  wordBreak: 'normal',
  preserveLeadingSpaces: false,
  preserveTrailingSpaces: false,
  // Not set: it asks whether there is a value, and then whether it counts. (A link is asked for once only, and stays as it is.)
  fontFeatures: false,
  decoration: false,
  decorationColor: false,
  decorationStyle: false,
  decorationThickness: false,
  background: false,
  linkToPage: false,
  linkToDestination: false,
}
const properties = Object.keys(plain)

type Node = Record<string, unknown>

/**
 * A document in which each plain text says itself how it looks. The layouter asks for some twenty properties of each word, and looks
 * for each through all that the word stands in; said at the text, it finds them at once.
 */
export function outspoken(node: unknown, styles: Record<string, Node>, inherited: Node = plain): unknown {
  if (typeof node === 'string' || typeof node === 'number') return { text: String(node), ...inherited }
  if (Array.isArray(node)) return node.map((n) => outspoken(n, styles, inherited))
  if (typeof node !== 'object' || node === null) return node
  const own = node as Node
  const named = ([] as string[]).concat((own.style as string | string[] | undefined) ?? []).map((s) => styles[s] ?? {})
  const look: Node = { ...inherited }
  for (const from of [...named, own]) for (const k of properties) if (from[k] !== undefined && from[k] !== null) look[k] = from[k]
  if (typeof own.text === 'string' || typeof own.text === 'number') return { ...own, ...look }
  const inside: Node = { ...own }
  for (const k of ['stack', 'columns', 'ul', 'ol']) if (Array.isArray(own[k])) inside[k] = outspoken(own[k], styles, look)
  const table = own.table as (Node & { body?: unknown[][] }) | undefined
  if (table?.body) inside.table = { ...table, body: table.body.map((row) => row.map((cell) => outspoken(cell, styles, look))) }
  return inside
}
