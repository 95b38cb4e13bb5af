import { createRequire } from 'node:module'
import pdfmake from 'pdfmake'
import type { TDocumentDefinitions } from 'pdfmake/interfaces'
import type { EntityManager } from 'typeorm'
import { row } from './database'

const find = createRequire(import.meta.url).resolve
const sans = (weight: number) => find(`@fontsource/public-sans/files/public-sans-latin-${weight}-normal.woff`)
const serif = find('@fontsource/literata/files/literata-latin-600-normal.woff')

pdfmake.setFonts({
  Sans: { normal: sans(400), bold: sans(700), italics: sans(400), bolditalics: sans(700) },
  Serif: { normal: serif, bold: serif, italics: serif, bolditalics: serif },
})
// Documents come only from the firm's own records; nothing is fetched while one is made.
pdfmake.setUrlAccessPolicy(() => false)
pdfmake.setLocalAccessPolicy((path: string) => [sans(400), sans(700), serif].includes(path))

/** Lays a document out as PDF with the fonts that ship with the application. */
export async function makePdf(document: TDocumentDefinitions | Record<string, unknown>): Promise<Buffer> {
  const definition = {
    defaultStyle: { font: 'Sans', fontSize: 9.5, lineHeight: 1.25 },
    styles: {
      firm: { font: 'Serif', fontSize: 15 },
      title: { font: 'Serif', fontSize: 18 },
      small: { fontSize: 8.5, color: '#55646B' },
      head: { fontSize: 8.5, color: '#55646B' },
      total: { font: 'Serif', fontSize: 13 },
    },
    ...document,
  } as TDocumentDefinitions
  return pdfmake.createPdf(definition).getBuffer()
}

/** What stands on a paper of the firm. */
export interface FirmHead {
  name: string
  address: string
  phone: string
  line?: string
  email?: string
  web?: string
  foot?: string
}

/** The letterhead as it is set up now. */
export async function letterheadOf(m: EntityManager): Promise<FirmHead> {
  const found = await row<FirmHead>(
    m,
    `SELECT name, address, phone, letter_line AS line, letter_email AS email, letter_web AS web, letter_foot AS foot FROM firm`,
  )
  return found ?? { name: '', address: '', phone: '' }
}

/** The head of the first page. */
export const headOf = (firm: FirmHead) => ({
  stack: [
    { text: firm.name, style: 'firm' },
    ...[firm.line, firm.address, firm.phone, [firm.email, firm.web].filter(Boolean).join(' · ')]
      .filter(Boolean)
      .map((text) => ({ text, style: 'small' })),
  ],
})

/** The foot of every page: the firm's line, then what the paper says of the page. */
export const footOf = (firm: FirmHead, words: (page: number, pages: number) => string) => (page: number, pages: number) => ({
  margin: [54, 8, 54, 0],
  stack: [...(firm.foot ? [{ text: firm.foot }] : []), { text: words(page, pages) }],
  style: 'small',
  alignment: 'center',
})
