import { createRequire } from 'node:module'
import type { TDocumentDefinitions } from 'pdfmake/interfaces'
import { answer } from '../thread-side'
import { type Inline, joined, outspoken, type ReadFont, shapingOnce } from './quick'
import { sfntOf } from './sfnt'

const here = createRequire(import.meta.url)
const find = here.resolve
// The maker of PDFs reads its fonts anew for each document, which takes a third of its time. They are the same few, and are kept as they
// were read: what each document changes, the letters that it uses, stands in a subset of its own.
const ofPdfs = createRequire(createRequire(find('pdfmake')).resolve('pdfkit'))
const fonts = ofPdfs('fontkit') as { create: (bytes: Uint8Array, name?: string) => ReadFont }
const read = new Map<string, ReadFont>()
const keeping = Object.create(fonts, {
  create: {
    value: (bytes: Uint8Array, name?: string) => {
      const key = `${name ?? ''} ${bytes.length} ${Buffer.from(bytes.subarray(0, 400)).toString('base64')}`
      const font = read.get(key) ?? shapingOnce(fonts.create(bytes, name))
      read.set(key, font)
      return font
    },
  },
}) as object
ofPdfs.cache[ofPdfs.resolve('fontkit')]!.exports = keeping
const pdfmake = here('pdfmake') as typeof import('pdfmake')
// It writes each word of a line for itself, with its colour, font and place: most of what a page of a bill consists of, and of the time
// to write it. Words that look alike are written as one.
const { prototype: writing } = (here('pdfmake/js/Renderer') as { default: { prototype: { renderLine: (line: { inlines: Inline[] }, x: number, y: number) => void } } }).default // prettier-ignore
const { renderLine } = writing
writing.renderLine = function (line, x, y) {
  line.inlines = joined(line.inlines)
  renderLine.call(this, line, x, y)
}
const kept = (pdfmake as unknown as { virtualfs: { writeFileSync: (name: string, data: Buffer) => void } }).virtualfs
for (const [name, file] of [
  ['sans.ttf', '@fontsource/public-sans/files/public-sans-latin-400-normal.woff'],
  ['bold.ttf', '@fontsource/public-sans/files/public-sans-latin-700-normal.woff'],
  ['serif.ttf', '@fontsource/literata/files/literata-latin-600-normal.woff'],
] as const)
  kept.writeFileSync(name, sfntOf(find(file)))

pdfmake.setFonts({
  Sans: { normal: 'sans.ttf', bold: 'bold.ttf', italics: 'sans.ttf', bolditalics: 'bold.ttf' },
  Serif: { normal: 'serif.ttf', bold: 'serif.ttf', italics: 'serif.ttf', bolditalics: 'serif.ttf' },
})
// Rows with a thin line between them, for tables without a head.
pdfmake.addTableLayouts({
  rows: {
    hLineWidth: (i, node) => (i === 0 || i === node.table.body.length ? 0 : 0.7),
    vLineWidth: () => 0,
    hLineColor: () => '#aaaaaa',
    paddingLeft: (i) => (i === 0 ? 0 : 8),
    paddingRight: (i, node) => (i === (node.table.widths?.length ?? 0) - 1 ? 0 : 8),
  },
})
// Documents come only from the firm's own records; nothing is fetched or read while one is made.
pdfmake.setUrlAccessPolicy(() => false)
pdfmake.setLocalAccessPolicy(() => false)

/** A document without anything that acts: what stands at the foot of a page is words with `{page}` and `{pages}` in them. */
export interface PlainDocument {
  foot?: { line: string; words: string } | undefined
  [name: string]: unknown
}
const footer = (foot: NonNullable<PlainDocument['foot']>) => (page: number, pages: number) => ({
  margin: [54, 8, 54, 0],
  stack: [
    ...(foot.line ? [{ text: foot.line }] : []),
    { text: foot.words.replaceAll('{page}', String(page)).replaceAll('{pages}', String(pages)) },
  ],
  style: 'small',
  alignment: 'center',
})

const styles = {
  firm: { font: 'Serif', fontSize: 15 },
  title: { font: 'Serif', fontSize: 18 },
  small: { fontSize: 8.5, color: '#55646B' },
  head: { fontSize: 8.5, color: '#55646B' },
  total: { font: 'Serif', fontSize: 13 },
}

async function pdf({ foot, content, ...document }: PlainDocument): Promise<Uint8Array> {
  const definition = {
    defaultStyle: { font: 'Sans', fontSize: 9.5, lineHeight: 1.25 },
    styles,
    ...(foot ? { footer: footer(foot) } : {}),
    ...document,
    content: outspoken(content, styles),
  } as unknown as TDocumentDefinitions
  return pdfmake.createPdf(definition).getBuffer()
}

const tasks = { pdf }
export type PdfTasks = typeof tasks
answer(tasks, () => null)
