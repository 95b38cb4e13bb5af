import Papa from 'papaparse'

export interface TextTable {
  columns: string[]
  /** Cells by row, as many as there are columns. */
  rows: string[][]
  /** `UTF-8`, `UTF-16` or `Windows-1252`, as it was found. */
  encoding: string
  delimiter: string
}

const above = '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ'
/** Text of bytes in Windows-1252. (Decoders of some versions of Node.js take it for ISO 8859-1, and lose dashes, quotes and the euro.) */
export const fromWindows1252 = (bytes: Uint8Array): string =>
  new TextDecoder('windows-1252').decode(bytes).replace(/[\u0080-\u009f]/g, (c) => above[c.charCodeAt(0) - 0x80]!)

/**
 * Text of bytes of unknown encoding: by their mark where there is one, as UTF-8 where they are valid in it, otherwise as
 * Windows-1252, in which every byte is a letter.
 */
export function decodeText(bytes: Uint8Array): { text: string; encoding: string } {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return { text: new TextDecoder('utf-16le').decode(bytes), encoding: 'UTF-16' }
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return { text: new TextDecoder('utf-16be').decode(bytes), encoding: 'UTF-16' }
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), encoding: 'UTF-8' }
  } catch {
    return { text: fromWindows1252(bytes), encoding: 'Windows-1252' }
  }
}

/**
 * Reads a table from CSV (RFC 4180, also with semicolons or tabs). The first row names the columns; rows are filled or
 * cut to its length, rows without anything are left out, and the apostrophe that disarms a formula is taken off again. With
 * `most`, no more than so many rows are read.
 */
export function readTable(bytes: Uint8Array, most?: number): TextTable {
  const { text, encoding } = decodeText(bytes)
  const parsed = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), {
    skipEmptyLines: 'greedy',
    delimitersToGuess: [',', ';', '\t', '|'],
    ...(most === undefined ? {} : { preview: most + 1 }),
  })
  const [head = [], ...body] = parsed.data
  const columns = head.map((c, i) => c.trim() || `Column ${i + 1}`)
  return {
    columns,
    rows: body.map((r) => columns.map((_, i) => (r[i] ?? '').trim().replace(/^'(?=[=+\-@\t\r])/, ''))),
    encoding,
    delimiter: parsed.meta.delimiter,
  }
}

/**
 * Writes a table as CSV (RFC 4180) in UTF-8 with its mark, so that spreadsheets read accents. A cell that a spreadsheet
 * would take for a formula is written with an apostrophe before it.
 */
/** What a spreadsheet would take for a formula; a number below zero is none. */
const formula = /^(?:[=+@\t\r]|-(?!\d[\d.]*$))/

/** A table as CSV (RFC 4180), with a mark of its encoding; what a spreadsheet would take for a formula is written as text. */
export function writeTable(columns: readonly string[], rows: readonly (readonly (string | number | null)[])[]): string {
  return `\uFEFF${Papa.unparse({ fields: [...columns], data: rows.map((r) => r.map((c) => c ?? '')) }, { newline: '\r\n', escapeFormulae: formula })}\r\n`
}
