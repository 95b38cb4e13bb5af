import { fromWindows1252 } from '../formats/csv'

/** The text of a statement's file, and what was odd about how its letters are written. */
export interface Decoded {
  text: string
  oddity: string
}

const latin = (bytes: Uint8Array, from = 0, to = bytes.length) => {
  let out = ''
  for (let i = from; i < Math.min(to, bytes.length); i += 1) out += String.fromCharCode(bytes[i]!)
  return out
}
function decoder(label: string): TextDecoder | null {
  try {
    return new TextDecoder(label, { fatal: true })
  } catch {
    return null
  }
}

/** What the head of a file says of its letters: of OFX 1 in `ENCODING` and `CHARSET`, of XML in its declaration. */
function declared(head: string): string {
  const xml = /^\s*<\?xml[^>]{0,200}?encoding\s{0,5}=\s{0,5}["']([\w.:-]{1,40})["']/i.exec(head)
  if (xml) return xml[1]!.toLowerCase()
  const ofx = (name: string) => new RegExp(`(?:^|[\\r\\n\\s])${name}:\\s{0,5}([\\w-]{1,30})`, 'i').exec(head)?.[1]?.toUpperCase() ?? ''
  if (!/OFXHEADER/i.test(head)) return ''
  const encoding = ofx('ENCODING')
  if (encoding === 'UTF-8' || encoding === 'UNICODE') return 'utf-8'
  const charset = ofx('CHARSET')
  if (charset === '1252') return 'windows-1252'
  if (/8859-1/.test(charset)) return 'iso-8859-1'
  return ''
}

/**
 * Reads bytes as the text they are: by their mark, by what their head declares, else as UTF-8, and where that is impossible as
 * Windows-1252. What is declared and wrong is read as it is, with a word about it. Never throws.
 */
export function decodeStatement(bytes: Uint8Array): Decoded {
  const plain = (text: string | undefined, oddity = ''): Decoded => ({ text: (text ?? '').replace(/^\uFEFF/, ''), oddity })
  const tried = (label: string): string | null => {
    // Whatever is called ISO 8859-1 is read as Windows-1252, as everywhere on the web.
    if (/^(?:windows-1252|iso-8859-1|latin1)$/.test(label)) return fromWindows1252(bytes)
    try {
      return decoder(label)?.decode(bytes) ?? null
    } catch {
      return null
    }
  }
  const [a, b] = bytes
  if (a === 0xff && b === 0xfe) return plain(tried('utf-16le') ?? '', '')
  if (a === 0xfe && b === 0xff) return plain(tried('utf-16be') ?? '', '')
  if (bytes.length > 3 && b === 0 && bytes[3] === 0) return plain(tried('utf-16le') ?? '', '')
  if (bytes.length > 3 && a === 0 && bytes[2] === 0) return plain(tried('utf-16be') ?? '', '')
  const label = declared(latin(bytes, 0, 1000).replace(/^ï»¿/, ''))
  if (label && !label.startsWith('utf-16')) {
    const text = tried(label)
    if (text !== null) return plain(text)
  }
  const utf = tried('utf-8')
  if (utf !== null)
    return plain(utf, label && label !== 'utf-8' ? `The file says that it is written in ${label}; it was read as UTF-8.` : '')
  const west = fromWindows1252(bytes)
  return plain(west, label ? `The file says that it is written in ${label}, which it is not; it was read as Windows-1252.` : '')
}
