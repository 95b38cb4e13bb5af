/** Kinds of files by their first bytes; names and what a browser says of them are not trusted. */
const signs: readonly [mediaType: string, at: number, bytes: readonly number[]][] = [
  ['application/pdf', 0, [0x25, 0x50, 0x44, 0x46, 0x2d]],
  ['image/png', 0, [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]],
  ['image/jpeg', 0, [0xff, 0xd8, 0xff]],
  ['image/gif', 0, [0x47, 0x49, 0x46, 0x38]],
  ['image/webp', 8, [0x57, 0x45, 0x42, 0x50]],
  ['image/tiff', 0, [0x49, 0x49, 0x2a, 0x00]],
  ['image/tiff', 0, [0x4d, 0x4d, 0x00, 0x2a]],
  ['application/zip', 0, [0x50, 0x4b, 0x03, 0x04]],
  ['application/x-ole-storage', 0, [0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1]],
  ['application/rtf', 0, [0x7b, 0x5c, 0x72, 0x74, 0x66]],
]
export const docxType = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document'
export const xlsxType = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet'

const zipped: Record<string, string> = {
  docx: docxType,
  xlsx: xlsxType,
  pptx: 'application/vnd.openxmlformats-officedocument.presentationml.presentation',
  odt: 'application/vnd.oasis.opendocument.text',
}
const texts: Record<string, string> = {
  csv: 'text/csv',
  html: 'text/html',
  htm: 'text/html',
  ics: 'text/calendar',
  vcf: 'text/vcard',
  json: 'application/json',
  xml: 'application/xml',
  svg: 'image/svg+xml',
}
const mailHead =
  /^(?:from|to|cc|date|subject|received|return-path|message-id|mime-version|content-type|delivered-to|x-[\w-]+|dkim-signature|reply-to|sender|arc-[\w-]+|authentication-results):/i

/** What a file is, by its first bytes; only among kinds that look alike, such as ZIPs and plain texts, does its name's ending tell. */
export function mediaTypeOf(head: Uint8Array, name: string): string {
  const ending = name.slice(name.lastIndexOf('.') + 1).toLowerCase()
  const found = signs.find(([, at, bytes]) => bytes.every((b, i) => head[at + i] === b))?.[0]
  if (found === 'application/zip') return zipped[ending] ?? found
  if (found === 'application/x-ole-storage')
    return ending === 'doc' ? 'application/msword' : ending === 'msg' ? 'application/vnd.ms-outlook' : found
  if (found) return found
  if (head.some((b) => b === 0)) return 'application/octet-stream'
  const start = new TextDecoder('latin1').decode(head.subarray(0, 2000)).replace(/^\uFEFF|^\u00EF\u00BB\u00BF/, '')
  const lines = start.split(/\r?\n/).slice(0, 4)
  if (lines.some((l, i) => (i === 0 || i < 3) && mailHead.test(l)) && (ending === 'eml' || mailHead.test(lines[0]!)))
    return 'message/rfc822'
  return texts[ending] ?? 'text/plain'
}
