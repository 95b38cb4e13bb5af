import type { Document, Element, Node } from '@xmldom/xmldom'
import type { Day } from '../calendar'
import { compares, sortArguments, splitInstruction, textOf, withSwitches, type Argument, type Piece } from './word-instructions'
import { dayValue, type Value } from './values'

const w = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main'

/** What Word's own fields are told: the value of a merge field by its name there, and the day of the paper. */
export interface WordData {
  field: (name: string) => Value
  today: Day
}

type Style = Element | null
interface Field {
  begin: Element
  pieces: Piece<Style>[]
  result: Style
  /** Whether its result is being read, not its instruction. */
  shown: boolean
  /** Fields within its instruction that were worked out; written there where it stays for the word processor itself. */
  inner: { begin: Element; end: Element; worth: Piece<Style>[] }[]
  /** Whether one within it stays for the word processor, as PAGE does: then it cannot be worked out here either. */
  stays: boolean
  paragraph: Element | null
}

const elements = (of: Document | Element, name: string): Element[] => Array.from(of.getElementsByTagNameNS(w, name))
const children = (e: Element): Element[] => Array.from(e.childNodes).filter((n): n is Element => n.nodeType === 1)
const own = (e: Element, name: string): Element | null => children(e).find((c) => c.localName === name && c.namespaceURI === w) ?? null
const attribute = (e: Element, name: string) => e.getAttributeNS(w, name) ?? e.getAttribute(`w:${name}`) ?? ''

function paragraphOf(e: Element): Element | null {
  for (let n: Node | null = e; n; n = n.parentNode)
    if ((n as Element).localName === 'p' && (n as Element).namespaceURI === w) return n as Element
  return null
}

/** Works out the fields of a part in place. Fields of other kinds, such as PAGE, stay for the word processor. */
export function workOutFields(document: Document, data: WordData): void {
  for (const simple of elements(document, 'fldSimple')) {
    const runs = elements(simple, 'r')
    const style = runs[0] ? own(runs[0], 'rPr') : null
    const pieces = instruct([{ text: attribute(simple, 'instr'), style }], data)
    if (!pieces) continue
    for (const run of runsFor(document, pieces, style)) simple.parentNode!.insertBefore(run, simple)
    simple.parentNode!.removeChild(simple)
  }
  const open: Field[] = []
  for (const run of elements(document, 'r')) {
    const style = own(run, 'rPr')
    for (const child of children(run)) {
      const top = open.at(-1)
      const kind = child.localName === 'fldChar' ? attribute(child, 'fldCharType') : ''
      if (kind === 'begin')
        open.push({ begin: run, pieces: [], result: null, shown: false, inner: [], stays: false, paragraph: paragraphOf(run) })
      else if (kind === 'separate' && top) top.shown = true
      else if (kind === 'end' && top) {
        open.pop()
        finish(document, top, run, open, data)
      } else if (top && !top.shown && (child.localName === 'instrText' || child.localName === 't')) {
        const paragraph = paragraphOf(run)
        if (paragraph !== top.paragraph) {
          top.pieces.push({ text: '\n', style })
          top.paragraph = paragraph
        }
        top.pieces.push({ text: child.textContent ?? '', style })
      } else if (top?.shown && !top.result && child.localName === 't') top.result = style
    }
  }
}

function finish(document: Document, field: Field, end: Element, outer: readonly Field[], data: WordData) {
  const worth = field.stays ? null : instruct(field.pieces, data)
  const parent = outer.findLast((f) => !f.shown)
  if (parent && worth) {
    const style = field.pieces[0]?.style ?? null
    parent.inner.push({ begin: field.begin, end, worth })
    parent.pieces.push(...(worth.length ? worth : [{ text: '', style }]).map((p) => ({ ...p, whole: true })))
    return
  }
  if (!worth) {
    if (parent) parent.stays = true
    for (const f of field.inner) replace(document, f.begin, f.end, f.worth, null, 'w:instrText')
    return
  }
  replace(document, field.begin, end, worth, field.result ?? field.pieces.find((p) => p.text.trim())?.style ?? null, 'w:t')
}

function replace(
  document: Document,
  begin: Element,
  end: Element,
  worth: readonly Piece<Style>[],
  style: Style,
  as: 'w:t' | 'w:instrText',
) {
  for (const run of runsFor(document, worth, style, as)) begin.parentNode!.insertBefore(run, begin)
  takeAway(document, begin, end)
}

/** What an instruction comes to; null for a kind that is not worked out here. */
function instruct(pieces: readonly Piece<Style>[], data: WordData): Piece<Style>[] | null {
  const { words, switches } = sortArguments(splitInstruction(pieces))
  const kind = textOf(words[0]).toUpperCase()
  const style = pieces[0]?.style ?? null
  if (kind === 'MERGEFIELD') return [{ text: withSwitches(data.field(textOf(words[1])), switches), style: null }]
  if (kind === 'DATE') return [{ text: withSwitches(dayValue(data.today), switches), style: null }]
  if (kind === 'QUOTE') return words.slice(1).flatMap((a) => a.pieces)
  if (kind === 'COMPARE') {
    const [left, operator, right] = condition(words)
    return [{ text: compares(left, operator, right) ? '1' : '0', style }]
  }
  if (kind !== 'IF') return null
  const [left, operator, right, rest] = condition(words)
  const chosen = compares(left, operator, right) ? rest[0] : rest[1]
  const text = chosen?.pieces ?? []
  return switches.some((s) => s.name === '*' && !/format$/i.test(s.value))
    ? [{ text: withSwitches(textOf(chosen), switches), style: text[0]?.style ?? null }]
    : [...text]
}

/** The two sides of a comparison with what follows; words before the operator belong to its left side. */
function condition(words: readonly Argument<Style>[]): [string, string, string, Argument<Style>[]] {
  const at = words.findIndex((a) => a.operator)
  if (at === -1) return ['', '', '', words.slice(1)]
  const left = words.slice(1, at).map(textOf).join(' ')
  return [left, textOf(words[at]), textOf(words[at + 1]), words.slice(at + 2)]
}

function runsFor(document: Document, pieces: readonly Piece<Style>[], usual: Style, as: 'w:t' | 'w:instrText' = 'w:t'): Element[] {
  return pieces
    .filter((p) => p.text)
    .map((p) => {
      const run = document.createElementNS(w, 'w:r')
      const style = p.style ?? usual
      if (style) run.appendChild(style.cloneNode(true))
      p.text.split('\n').forEach((line, i) => {
        if (i) run.appendChild(document.createElementNS(w, 'w:br'))
        line.split('\t').forEach((bit, k) => {
          if (k) run.appendChild(document.createElementNS(w, 'w:tab'))
          if (!bit) return
          const t = document.createElementNS(w, as)
          t.setAttribute('xml:space', 'preserve')
          t.appendChild(document.createTextNode(bit))
          run.appendChild(t)
        })
      })
      return run
    })
}

/** Takes a field's runs away, from its first to its last; what is left of paragraphs that it joined becomes one. */
function takeAway(document: Document, begin: Element, end: Element) {
  const [first, last] = [paragraphOf(begin), paragraphOf(end)]
  const runs = elements(document, 'r')
  const [from, to] = [runs.indexOf(begin), runs.indexOf(end)]
  const between = new Set<Element>()
  for (const run of runs.slice(from, to + 1)) {
    const p = paragraphOf(run)
    if (p && p !== first && p !== last) between.add(p)
    run.parentNode?.removeChild(run)
  }
  for (const p of between) if (!elements(p, 'r').length && p.parentNode) p.parentNode.removeChild(p)
  if (first && last && first !== last) {
    for (const child of children(last)) if (child.localName !== 'pPr') first.appendChild(child)
    last.parentNode?.removeChild(last)
  }
}

/** Names of the merge fields of a part, in the order in which they stand. */
export function wordFieldsOf(document: Document): string[] {
  const names: string[] = []
  workOutFields(document, { field: (name) => (names.push(name), null), today: '2000-01-01' })
  return [...new Set(names.filter(Boolean))]
}
