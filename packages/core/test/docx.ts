import PizZip from 'pizzip'
import { dayValue, makeDocument, money, paragraphsOf, type MakeOptions, type ValueRecord } from '@heron/core/templates'

const w = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"'
const type = (part: string, kind: string) =>
  `<Override PartName="/word/${part}.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.${kind}+xml"/>`

export const escaped = (t: string) => t.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;')
export const run = (text: string, style = '') =>
  `<w:r>${style ? `<w:rPr>${style}</w:rPr>` : ''}<w:t xml:space="preserve">${escaped(text)}</w:t></w:r>`
/** A paragraph of one run, or of several where they are given apart. */
export const p = (...texts: string[]) => `<w:p>${texts.map((t) => (t.startsWith('<') ? t : run(t))).join('')}</w:p>`
export const cell = (...inner: string[]) => `<w:tc>${inner.map((t) => (t.startsWith('<') ? t : p(t))).join('')}</w:tc>`
export const row = (...cells: string[]) => `<w:tr>${cells.map((c) => (c.startsWith('<w:tc') ? c : cell(c))).join('')}</w:tr>`
export const table = (...rows: string[]) => `<w:tbl>${rows.join('')}</w:tbl>`
const mark = (kind: string) => `<w:r><w:fldChar w:fldCharType="${kind}"/></w:r>`
export const instruction = (text: string) => `<w:r><w:instrText xml:space="preserve">${escaped(text)}</w:instrText></w:r>`
/** A complex field: its instruction, in which other fields may stand, and what it last showed. */
export const field = (inner: string[], shown = 'old') =>
  mark('begin') + inner.map((t) => (t.startsWith('<') ? t : instruction(t))).join('') + mark('separate') + run(shown) + mark('end')

/** A document of a body, and of headers, footers and notes where they are given. */
export function docx(body: string, others: { header?: string; footer?: string; footnotes?: string } = {}): PizZip {
  const zip = new PizZip()
  const part = (name: string, tag: string, inner: string) =>
    zip.file(`word/${name}.xml`, `<?xml version="1.0" encoding="UTF-8"?><w:${tag} ${w}>${inner}</w:${tag}>`)
  zip.file(
    '[Content_Types].xml',
    `<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>${type('document', 'document.main')}${others.header ? type('header1', 'header') : ''}${others.footer ? type('footer1', 'footer') : ''}${others.footnotes ? type('footnotes', 'footnotes') : ''}</Types>`,
  )
  zip.file(
    '_rels/.rels',
    '<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="word/document.xml"/></Relationships>',
  )
  part('document', 'document', `<w:body>${body}</w:body>`)
  if (others.header) part('header1', 'hdr', others.header)
  if (others.footer) part('footer1', 'ftr', others.footer)
  if (others.footnotes) part('footnotes', 'footnotes', `<w:footnote w:id="1">${others.footnotes}</w:footnote>`)
  return zip
}

const usual: MakeOptions = { values: {}, language: 'en', today: '2026-11-27', wordField: () => null }
/** Makes the paper and gives its paragraphs back as text. */
export function made(zip: PizZip, options: Partial<MakeOptions> = {}): string[] {
  return paragraphsOf(new PizZip(makeDocument(zip, { ...usual, ...options }))).map((x) => x.text)
}
export const madeXml = (zip: PizZip, options: Partial<MakeOptions> = {}, part = 'word/document.xml') =>
  new PizZip(makeDocument(zip, { ...usual, ...options })).file(part)!.asText()

/** What a matter of the examples says. */
export const values: ValueRecord = {
  today: dayValue('2026-11-27'),
  client: {
    name: 'Gannet Maritime & Sons <Holdings>',
    address: '12 Quay Street\nPort Alder, OR 97000',
    is_person: false,
    they: 'it',
    their: 'its',
    plural: false,
    fields: { vessel: 'Sea {Lark}', loss: money(615400), rated: true },
  },
  matter: { number: '2026-0042', opened_on: dayValue('2026-03-04'), hourly: true, flat_fee: null, stage: 'Discovery' },
  court: { name: 'Superior Court', judge: '' },
  parties: [
    { name: 'Ada Finch', role: 'plaintiff', served: true, children: [{ name: 'Lou' }] },
    { name: 'Bo Heron', role: 'defendant', served: false, children: [] },
    { name: 'Cy Stork', role: 'defendant', served: true, children: [{ name: 'Max' }, { name: 'Mia' }] },
  ],
  costs: [
    { text: 'Filing fee', amount: money(40200) },
    { text: 'Courier', amount: money(1895) },
  ],
  children: [{ name: 'Ann' }],
  none: [],
}
