import { readFileSync } from 'node:fs'
import { inflateSync } from 'node:zlib'

/**
 * A font of a WOFF file (W3C WOFF 1.0) as it is within it: an sfnt with its tables inflated. The reader of fonts behind the PDFs would
 * inflate them anew for each document, in JavaScript, which takes longer than all the rest of it.
 */
export function sfntOf(path: string): Buffer {
  const woff = readFileSync(path)
  if (woff.toString('latin1', 0, 4) !== 'wOFF') throw new Error(`${path} is no WOFF file`)
  const count = woff.readUInt16BE(12)
  const tables = Array.from({ length: count }, (_, i) => {
    const at = 44 + i * 20
    const [offset, packed, size] = [woff.readUInt32BE(at + 4), woff.readUInt32BE(at + 8), woff.readUInt32BE(at + 12)]
    const raw = woff.subarray(offset, offset + packed)
    return { tag: woff.subarray(at, at + 4), checksum: woff.readUInt32BE(at + 16), data: packed < size ? inflateSync(raw) : raw }
  })
  const power = Math.floor(Math.log2(count))
  const head = Buffer.alloc(12 + count * 16)
  head.writeUInt32BE(woff.readUInt32BE(4), 0)
  head.writeUInt16BE(count, 4)
  head.writeUInt16BE(2 ** power * 16, 6)
  head.writeUInt16BE(power, 8)
  head.writeUInt16BE(count * 16 - 2 ** power * 16, 10)
  const parts: Buffer[] = [head]
  let offset = head.length
  tables.forEach((t, i) => {
    const at = 12 + i * 16
    t.tag.copy(head, at)
    head.writeUInt32BE(t.checksum, at + 4)
    head.writeUInt32BE(offset, at + 8)
    head.writeUInt32BE(t.data.length, at + 12)
    const padded = Buffer.alloc(Math.ceil(t.data.length / 4) * 4)
    t.data.copy(padded)
    parts.push(padded)
    offset += padded.length
  })
  return Buffer.concat(parts)
}
