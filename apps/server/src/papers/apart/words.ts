import { spawn } from 'node:child_process'
import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { DOMParser } from '@xmldom/xmldom'
import sanitizeHtml from 'sanitize-html'
import { readMessage } from '@heron/core/formats'
import { paragraphsOf } from '@heron/core/templates'
import { docxType, xlsxType } from '../../platform/media'
import { openZip } from './zip'

/** Most characters of one paper that can be found. */
export const mostWords = 2_000_000

/** Text of HTML without its tags, scripts and styles. */
export const textOfHtml = (html: string): string =>
  sanitizeHtml(html.replaceAll(/<(?:br|\/p|\/div|\/tr|\/li|\/h\d)\b/gi, '\n$&'), { allowedTags: [], allowedAttributes: {} })
    .replaceAll('&nbsp;', ' ').replaceAll('&lt;', '<').replaceAll('&gt;', '>').replaceAll('&quot;', '"').replaceAll('&amp;', '&') // prettier-ignore

/** Text by its marks of order, else UTF-8, else as the west of the world writes it. */
export function decoded(data: Uint8Array): string {
  if (data[0] === 0xff && data[1] === 0xfe) return new TextDecoder('utf-16le').decode(data)
  if (data[0] === 0xfe && data[1] === 0xff) return new TextDecoder('utf-16be').decode(data)
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(data)
  } catch {
    return new TextDecoder('latin1').decode(data)
  }
}

async function wordsOfXlsx(data: Uint8Array): Promise<string> {
  const zip = await openZip(data)
  const out: string[] = []
  for (const name of Object.keys(zip.files).filter((n) => /^xl\/(?:sharedStrings|worksheets\/[^/]+)\.xml$/.test(n))) {
    const doc = new DOMParser({ onError: () => undefined }).parseFromString(zip.file(name)!.asText(), 'text/xml')
    for (const t of Array.from(doc.getElementsByTagName('t'))) out.push(t.textContent ?? '')
    for (const v of Array.from(doc.getElementsByTagName('v')))
      if ((v.parentNode as { getAttribute?: (n: string) => string | null })?.getAttribute?.('t') !== 's') out.push(v.textContent ?? '')
  }
  return out.join('\n')
}

/** The text of a PDF that has text; a scan has none. Done by poppler in a process of its own, ended after half a minute. */
async function wordsOfPdf(data: Uint8Array): Promise<string> {
  const folder = await mkdtemp(join(tmpdir(), 'heron-pdf-'))
  try {
    const source = join(folder, 'a.pdf')
    await writeFile(source, data)
    return await new Promise<string>((resolve, reject) => {
      const child = spawn('pdftotext', ['-enc', 'UTF-8', '-q', '-l', '3000', source, '-'], { stdio: ['ignore', 'pipe', 'ignore'] })
      const timer = setTimeout(() => child.kill('SIGKILL'), 30_000)
      const pieces: Buffer[] = []
      let size = 0
      child.stdout.on('data', (d: Buffer) => {
        size += d.length
        if (size < mostWords * 4) pieces.push(d)
        else child.kill('SIGKILL')
      })
      child.on('error', reject)
      child.on('close', (code, signal) => {
        clearTimeout(timer)
        if (code === 0 || (signal && pieces.length)) resolve(Buffer.concat(pieces).toString('utf8'))
        else reject(new Error(`pdftotext ended with ${code ?? signal}`))
      })
    })
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}

/** The words of a file by its kind; null where such a file has none that can be read. */
export async function wordsOf(data: Uint8Array, mediaType: string): Promise<string | null> {
  const text = await readWords(data, mediaType)
  if (text === null) return null
  const clean = [...text.slice(0, mostWords)].map((c) => (c < ' ' && c !== '\n' && c !== '\t' ? ' ' : c)).join('') // prettier-ignore
  return clean.trim() ? clean : null
}

async function readWords(data: Uint8Array, mediaType: string): Promise<string | null> {
  if (mediaType === 'application/pdf') return wordsOfPdf(data)
  if (mediaType === docxType) return paragraphsOf(await openZip(data)).map((p) => p.text).join('\n') // prettier-ignore
  if (mediaType === xlsxType) return wordsOfXlsx(data)
  if (mediaType === 'message/rfc822') {
    const m = await readMessage(data)
    const people = [m.from, ...m.to, ...m.cc].map((p) => (p ? `${p.name} ${p.address}` : '')).join('\n')
    return [m.subject, people, m.text || textOfHtml(m.html), ...m.parts.map((p) => p.name)].join('\n')
  }
  if (mediaType === 'text/html') return textOfHtml(decoded(data))
  if (mediaType.startsWith('text/') || mediaType === 'application/json') return decoded(data)
  return null
}
