import { DOMParser, XMLSerializer, type Document, type Element } from '@xmldom/xmldom'
import Docxtemplater from 'docxtemplater'
import InspectModule from 'docxtemplater/js/inspect-module.js'
import type PizZip from 'pizzip'
import type { Day } from '../calendar'
import { FlowModule, mark, reader } from './flow'
import { workOutFields, wordFieldsOf } from './word-fields'
import type { Value, ValueRecord } from './values'

const w = 'http://schemas.openxmlformats.org/wordprocessingml/2006/main'
/** Parts of a document in which fields are looked for. */
const partNames = /^word\/(?:document|header\d*|footer\d*|footnotes|endnotes)\.xml$/
/** The parts of a document in which words stand. */
export const textParts = (zip: PizZip): string[] => Object.keys(zip.files).filter((n) => partNames.test(n))

/** Sees each lookup while a paper is made. `asked`: where its text would stand, and how. */
export type Seen = (path: string, value: Value, how: 'value' | 'condition' | 'list', inItem: boolean) => void

export interface MakeOptions {
  values: ValueRecord
  language: 'en' | 'es'
  /** The day of the paper. */
  today: Day
  /** Word's merge fields by their names there: the value of each. */
  wordField: (name: string) => Value
  seen?: Seen | undefined
}

/** XML as a tree. Throws where it is not well-formed. */
export const parseXml = (xml: string): Document =>
  new DOMParser({
    onError: (level, message) => {
      if (level === 'fatalError') throw new Error(message)
    },
    // As XML 1.0 has it: other marks of a new line are letters like any, and stay in the words.
    normalizeLineEndings: (text) => text.replaceAll(/\r\n?/g, '\n'),
  }).parseFromString(xml, 'text/xml')

/** A template read into its parts, for checking it or making a paper of it. Throws what is wrong with its tags. */
export function compiled(zip: PizZip, language: 'en' | 'es', seen?: Seen) {
  const flow = new FlowModule()
  const inspect = new InspectModule()
  const doc = new Docxtemplater(zip, {
    paragraphLoop: true,
    linebreaks: true,
    stripInvalidXMLChars: true,
    parser: reader(language, seen) as never,
    nullGetter: () => '',
    modules: [flow, inspect] as never,
    errorLogging: false,
  })
  return { doc, flow, inspect }
}

/** Makes a document from a template that passed its check. Values come out as they are; the zip that is handed over is used up. */
export function makeDocument(zip: PizZip, options: MakeOptions): Uint8Array {
  const { doc } = compiled(zip, options.language, options.seen)
  doc.render(options.values)
  const made = doc.getZip() as PizZip
  for (const name of textParts(made)) {
    const document = parseXml(made.file(name)!.asText())
    sweep(document)
    workOutFields(document, { field: options.wordField, today: options.today })
    made.file(name, new XMLSerializer().serializeToString(document))
  }
  return made.generate({ type: 'uint8array', compression: 'DEFLATE' })
}

const elements = (of: Document | Element, name: string): Element[] => Array.from(of.getElementsByTagNameNS(w, name))
const shows = new Set([
  't',
  'drawing',
  'pict',
  'object',
  'sym',
  'fldChar',
  'fldSimple',
  'footnoteReference',
  'endnoteReference',
  'br',
  'tab',
  'sectPr',
  'txbxContent',
])
const saysSomething = (e: Element): boolean =>
  Array.from(e.getElementsByTagNameNS('*', '*')).some(
    (c) =>
      shows.has(c.localName ?? '') &&
      (c.localName !== 't' || (c.textContent ?? '').trim() !== '') &&
      !(c.localName === 'tab' && c.parentNode?.nodeName === 'w:tabs'),
  )

/** Takes away what held only words like *if* and *end if*: paragraphs, and rows of tables that are left empty by it. */
function sweep(document: Document) {
  const marked = elements(document, 'p').filter((p) => p.hasAttribute(mark))
  const rows = new Set<Element>()
  for (const p of marked) {
    p.removeAttribute(mark)
    if (saysSomething(p)) continue
    const cell = p.parentNode as Element | null
    if (cell?.localName === 'tc') {
      const row = cell.parentNode as Element
      if (row.localName === 'tr') rows.add(row)
      // A cell must keep one paragraph.
      if (elements(cell, 'p').filter((x) => x.parentNode === cell).length < 2) continue
    }
    const siblings = Array.from(p.parentNode?.childNodes ?? []).filter((n) => (n as Element).localName === 'p')
    const needed =
      ['txbxContent', 'hdr', 'ftr', 'footnote', 'endnote', 'comment'].includes((p.parentNode as Element | null)?.localName ?? '') &&
      siblings.length < 2
    if (!needed) p.parentNode?.removeChild(p)
  }
  for (const row of rows) if (!saysSomething(row)) row.parentNode?.removeChild(row)
  for (const table of elements(document, 'tbl')) if (rows.size && !elements(table, 'tr').length) table.parentNode?.removeChild(table)
}

/** Names of Word's own merge fields that a document uses. */
export function wordFieldsIn(zip: PizZip): string[] {
  return [...new Set(textParts(zip).flatMap((name) => wordFieldsOf(parseXml(zip.file(name)!.asText()))))]
}

/** The text of a document by its paragraphs, of the body, then of headers, footers and notes. */
export function paragraphsOf(zip: PizZip, names = textParts(zip)): { part: string; from: number; text: string }[] {
  return names.flatMap((part) => {
    let from = 0
    return elements(parseXml(zip.file(part)!.asText()), 'p').map((p) => {
      const text = elements(p, 't').filter((t) => nearest(t) === p).map((t) => t.textContent ?? '').join('') // prettier-ignore
      const at = from
      from += text.length
      return { part, from: at, text }
    })
  })
}
function nearest(t: Element): Element | null {
  let n = t.parentNode as Element | null
  while (n && n.localName !== 'p') n = n.parentNode as Element | null
  return n
}
