import PostalMime, { type Address, type Attachment, type Email } from 'postal-mime'
import { isDay, type Day } from '../calendar'

/** Someone a letter is from or to. */
export interface MailPerson {
  name: string
  address: string
}
export interface MailPart {
  name: string
  mediaType: string
  data: Uint8Array
  /** Stands in the text, such as a picture of a signature; not a paper of its own unless someone wants it. */
  inline: boolean
  contentId: string | null
  /** The name was made up here, as the part had none. */
  unnamed: boolean
}
export interface MailMessage {
  messageId: string | null
  /** Message-IDs of messages within it, as they come when one is forwarded. */
  innerIds: string[]
  from: MailPerson | null
  to: MailPerson[]
  cc: MailPerson[]
  subject: string
  /** The date header as it stands. */
  dateText: string
  /** The day as written there, never moved between zones; null where it cannot be read. */
  day: Day | null
  /** The moment, as ISO 8601; null where the header has no zone or cannot be read. */
  at: string | null
  text: string
  html: string
  headers: { name: string; value: string }[]
  parts: MailPart[]
  /** What could not be read, in words; empty where all was. */
  unread: string
}

const endings: Record<string, string> = {
  'application/pdf': 'pdf', 'image/png': 'png', 'image/jpeg': 'jpg', 'image/gif': 'gif', 'image/tiff': 'tif', 'text/plain': 'txt', 'text/html': 'html', 'text/csv': 'csv', 'text/calendar': 'ics', 'message/rfc822': 'eml',
  'application/ms-tnef': 'dat', 'application/zip': 'zip', 'application/msword': 'doc', 'application/vnd.openxmlformats-officedocument.wordprocessingml.document': 'docx', 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet': 'xlsx',
} // prettier-ignore

/** A name that is safe as the name of a file: no paths, no signs that systems take for others, no end of dots. */
export function fileName(raw: string, otherwise = 'file'): string {
  const last = raw.replaceAll('\\', '/').split('/').at(-1)!
  const clean = [...last.normalize('NFC')]
    .map((c) =>
      c < ' ' || c === '\u007f' || '<>:"|?*'.includes(c) || (c >= '\u202a' && c <= '\u202e') || (c >= '\u2066' && c <= '\u2069') ? ' ' : c,
    )
    .join('')
    .split(/\s+/)
    .filter(Boolean)
    .join(' ')
  const trimmed = clean.replace(/^\.+/, '').replace(/[. ]$/, '')
  if (trimmed.length <= 150) return trimmed || otherwise
  const dot = trimmed.lastIndexOf('.')
  const ending = dot > trimmed.length - 12 ? trimmed.slice(dot) : ''
  return trimmed.slice(0, 150 - ending.length).trimEnd() + ending
}

/** Names each once: the second `scan.pdf` becomes `scan (2).pdf`. */
export function distinctNames(names: readonly string[]): string[] {
  const taken = new Map<string, number>()
  return names.map((name) => {
    const low = name.toLowerCase()
    const before = taken.get(low) ?? 0
    taken.set(low, before + 1)
    if (!before) return name
    const dot = name.lastIndexOf('.')
    return dot > 0 ? `${name.slice(0, dot)} (${before + 1})${name.slice(dot)}` : `${name} (${before + 1})`
  })
}

const people = (list: readonly Address[] | undefined): MailPerson[] =>
  (list ?? [])
    .slice(0, 500)
    .flatMap((a) => (a.group ? a.group.map((g) => ({ name: g.name, address: g.address })) : [{ name: a.name, address: a.address ?? '' }]))
const bare = (messageId: string | undefined): string | null => {
  const id = (messageId ?? '').trim().replace(/^</, '').replace(/>$/, '').trim()
  return id ? id.slice(0, 250) : null
}

const monthNames = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec']
/** The day of a date header as it is written there. */
export function writtenDay(header: string): Day | null {
  const m = /\b(\d{1,2})\s+([A-Za-z]{3})[a-z]*\s+(\d{2,4})\b/.exec(header.slice(0, 200))
  if (!m) return isDay(header.slice(0, 10)) ? (header.slice(0, 10) as Day) : null
  const month = monthNames.indexOf(m[2]!.toLowerCase()) + 1
  const year = m[3]!.length === 4 ? m[3]! : String(Number(m[3]) + (Number(m[3]) < 50 ? 2000 : 1900))
  const day = `${year}-${String(month).padStart(2, '0')}-${m[1]!.padStart(2, '0')}`
  return isDay(day) ? (day as Day) : null
}
const zoned = (header: string) => /(?:[-+]\d{4}|\b(?:GMT|UTC?|Z|[ECMP][SD]T))\b/.test(header.slice(0, 200))

const bytesOf = (a: Attachment): Uint8Array =>
  typeof a.content === 'string' ? new TextEncoder().encode(a.content) : new Uint8Array(a.content as ArrayBuffer)

function partsOf(email: Email): MailPart[] {
  const parts = email.attachments.map((a, i): MailPart => {
    const mediaType = a.mimeType.slice(0, 120) || 'application/octet-stream'
    const ending = endings[mediaType]
    const named = a.filename ? fileName(a.filename, '') : ''
    const subject = mediaType === 'message/rfc822' && !named ? innerSubject(bytesOf(a)) : ''
    const name = named || fileName(subject || a.description || `part ${i + 1}`)
    const dot = name.lastIndexOf('.')
    return {
      name: ending && (dot < 1 || dot < name.length - 8) ? `${name}.${ending}` : name,
      mediaType,
      data: bytesOf(a),
      inline: Boolean(a.related) || (a.disposition === 'inline' && mediaType.startsWith('image/') && Boolean(a.contentId)),
      contentId: a.contentId ? a.contentId.replace(/^</, '').replace(/>$/, '') : null,
      unnamed: !named,
    }
  })
  const names = distinctNames(parts.map((p) => p.name))
  return parts.map((p, i) => ({ ...p, name: names[i]! }))
}

// Bytes 80 to 9F of windows-1252, which some runtimes read as control characters; no letter has those on purpose.
const c1 = '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ'
/** Text in which the control characters U+0080 to U+009F are what they stand for in windows-1252. */
const western = (text: string): string => text.replaceAll(/[\u0080-\u009f]/g, (c) => c1[c.charCodeAt(0) - 0x80]!)

const headOf = (data: Uint8Array) => new TextDecoder('latin1').decode(data.subarray(0, 20_000))
const headerIn = (head: string, name: string): string => {
  const lines = head.split(/\r?\n/)
  const at = lines.findIndex((l) => l.toLowerCase().startsWith(`${name}:`))
  if (at === -1) return ''
  let value = lines[at]!.slice(name.length + 1)
  for (let i = at + 1; i < lines.length && /^[ \t]/.test(lines[i]!); i += 1) value += ` ${lines[i]!.trim()}`
  return value.trim()
}
const innerSubject = (data: Uint8Array) =>
  (PostalMime as unknown as { decodeWords?: (t: string) => string }).decodeWords?.(headerIn(headOf(data), 'subject')) ??
  headerIn(headOf(data), 'subject')

const idsIn = (text: string): string[] => [...text.slice(0, 4000).matchAll(/<([^<>\s]{3,250})>/g)].map((m) => m[1]!)

const nothing: MailMessage = {
  messageId: null,
  innerIds: [],
  from: null,
  to: [],
  cc: [],
  subject: '',
  dateText: '',
  day: null,
  at: null,
  text: '',
  html: '',
  headers: [],
  parts: [],
  unread: '',
}

/** Most parts, and most characters of text, of one message that are looked at. */
export const mailBounds = { parts: 1000, text: 2_000_000, depth: 60 }

/**
 * Reads an e-mail as it was saved (RFC 5322 and 2045 to 2047, 2231). Messages within it are parts of it; names that lack are made
 * up. What cannot be read is told in `unread`, and never thrown: the file itself is kept as it came in any case.
 */
export async function readMessage(data: Uint8Array): Promise<MailMessage> {
  let email: Email
  try {
    email = await PostalMime.parse(data, {
      forceRfc822Attachments: true,
      maxNestingDepth: mailBounds.depth,
      attachmentEncoding: 'arraybuffer',
    })
  } catch {
    const head = headOf(data)
    return {
      ...nothing,
      messageId: bare(headerIn(head, 'message-id')),
      subject: headerIn(head, 'subject').slice(0, 500),
      dateText: headerIn(head, 'date').slice(0, 200),
      day: writtenDay(headerIn(head, 'date')),
      unread: 'This message is built in a way that cannot be read. It is kept as it came.',
    }
  }
  const dateText = (email.headers.find((h) => h.key === 'date')?.value ?? '').slice(0, 200)
  const moment = zoned(dateText) ? Date.parse(dateText.split('(')[0]!) : Number.NaN
  const parts = partsOf(email).slice(0, mailBounds.parts)
  const forwarded = email.headers.filter((h) => h.key === 'x-forwarded-message-id').flatMap((h) => idsIn(h.value))
  const inner = parts.filter((p) => p.mediaType === 'message/rfc822').map((p) => bare(headerIn(headOf(p.data), 'message-id')))
  const strange = !email.headers.length || (!email.from && !email.messageId && !email.subject && !dateText)
  return {
    messageId: bare(email.messageId),
    innerIds: [...new Set([...inner, ...forwarded].filter((x): x is string => Boolean(x)))].slice(0, 50),
    from: people(email.from ? [email.from] : [])[0] ?? null,
    to: people(email.to),
    cc: people(email.cc),
    subject: western(email.subject ?? '').slice(0, 500),
    dateText,
    day: writtenDay(dateText),
    at: Number.isNaN(moment) ? null : new Date(moment).toISOString(),
    text: western(email.text ?? '').slice(0, mailBounds.text),
    html: western(email.html ?? '').slice(0, mailBounds.text),
    headers: email.headers.slice(0, 300).map((h) => ({ name: h.originalKey, value: h.value.slice(0, 4000) })),
    parts,
    unread: strange
      ? 'This does not look like an e-mail. It is kept as it came.'
      : email.attachments.length > mailBounds.parts
        ? `Only the first ${mailBounds.parts} parts are shown.`
        : '',
  }
}
