import { readCamt } from './camt'
import { readCsvStatement, type CsvMatch } from './csv'
import { decodeStatement } from './encoding'
import { readOfx1, readOfx2 } from './ofx'
import { emptyStatement, fault, mostOfStatement, odd, type Statement } from './statement'

/** What a file is, by how it begins. */
export function formatOf(text: string): Statement['format'] {
  const head = text.slice(0, 4000)
  if (/<(?:\w{1,20}:)?Document[\s>]/.test(head) && /iso:20022|BkToCstmr/.test(head)) return 'camt.053'
  if (/^\s*OFXHEADER\s*:/i.test(head)) return 'OFX 1'
  if (/<\?OFX|<OFX>/i.test(head)) return /<\?xml|<\?OFX/i.test(head) ? 'OFX 2' : 'OFX 1'
  return /^\s*<\?xml|^\s*</.test(head) ? 'camt.053' : 'CSV'
}

/**
 * The statements of a file, of whichever format, one for each account in it. A CSV needs to be told which column is what. Never
 * throws: what cannot be read is a statement with faults.
 */
export function readStatements(bytes: Uint8Array, match: CsvMatch | null): Statement[] {
  const broken = (format: Statement['format'], words: string) => {
    const s = emptyStatement(format)
    fault(s, words)
    return [s]
  }
  if (bytes.length > mostOfStatement.bytes) return broken('CSV', 'This file is larger than a statement can be (80 MB).')
  const { text, oddity } = decodeStatement(bytes)
  if (!text.trim()) return broken('CSV', 'This file is empty.')
  const format = formatOf(text)
  try {
    const found =
      format === 'OFX 1' ? readOfx1(text) : format === 'OFX 2' ? readOfx2(text) : format === 'camt.053' ? readCamt(text) : match ? [readCsvStatement(text, match)] : broken('CSV', 'Say first which column is what.') // prettier-ignore
    if (oddity) for (const s of found) odd(s, oddity)
    return found
  } catch (error) {
    return broken(format, error instanceof RangeError ? `${error.message}.` : 'This file cannot be read.')
  }
}
