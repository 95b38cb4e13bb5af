import { once } from 'node:events'
import { buffer } from 'node:stream/consumers'
import type { Readable } from 'node:stream'
import PizZip from 'pizzip'
import yauzl from 'yauzl'

/** What a document may be when it is unpacked. */
export const zipBounds = { parts: 10_000, bytes: 200_000_000 }

const isXml = /\.(?:xml|rels)$/i

/** Why a document is not opened, in words. */
export class Unreadable extends Error {}

/**
 * Opens a ZIP such as DOCX and XLSX only after its directory and every part of it were measured: no more parts and bytes than
 * allowed, nothing encrypted, no entities in its XML. Throws `Unreadable`.
 */
export async function openZip(data: Uint8Array): Promise<PizZip> {
  try {
    await measure(Buffer.from(data.buffer, data.byteOffset, data.byteLength))
    const zip = new PizZip(data)
    // It unpacks a part when that is first read, by its own reading of the directory: what it cannot unpack is told here.
    for (const [name, part] of Object.entries(zip.files)) if (isXml.test(name) && !part.dir) part.asUint8Array()
    return zip
  } catch (error) {
    if (error instanceof Unreadable) throw error
    throw new Unreadable('This document is damaged and cannot be opened. Open it in a word processor and save it anew.')
  }
}

async function measure(data: Buffer) {
  const zip = await new Promise<yauzl.ZipFile>((resolve, reject) =>
    yauzl.fromBuffer(data, { lazyEntries: true, validateEntrySizes: true }, (error, file) => (error ? reject(error) : resolve(file!))),
  )
  if (zip.entryCount > zipBounds.parts)
    throw new Unreadable(`This document has more than ${zipBounds.parts.toLocaleString('en-US')} parts, so it is not opened.`)
  let bytes = 0
  const next = () => {
    zip.readEntry()
    return once(zip, 'entry').then(([e]) => e as yauzl.Entry)
  }
  const end = once(zip, 'end').then(() => null)
  for (let entry = await Promise.race([next(), end]); entry; entry = await Promise.race([next(), end])) {
    bytes += entry.uncompressedSize
    if (bytes > zipBounds.bytes) throw new Unreadable('This document unpacks to more than 200 MB, so it is not opened.')
    if (entry.generalPurposeBitFlag & 1) throw new Unreadable('This document is locked with a password. Save it without one.')
    if (entry.fileName.endsWith('/')) continue
    const current = entry
    const stream = await new Promise<Readable>((resolve, reject) =>
      zip.openReadStream(current, (error, s) => (error ? reject(error) : resolve(s!))),
    )
    if (isXml.test(entry.fileName)) {
      const text = (await buffer(stream)).toString('latin1').replaceAll('\0', '')
      if (text.includes('<!DOCTYPE') || text.includes('<!ENTITY'))
        throw new Unreadable('This document defines entities in its XML, which no word processor writes. It is not opened.')
    } else for await (const piece of stream) void piece
  }
}
