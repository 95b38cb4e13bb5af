import { createHash } from 'node:crypto'
import { createReadStream } from 'node:fs'
import { mkdir, open, readFile, rename, rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import type { EntityManager } from 'typeorm'
import { instant, type Ctx, type Files } from './context'
import { StoredFile } from './entities'
import { notFound, refused } from './problem'
import { insertRow } from './database'

export const sha256 = (data: string | Uint8Array) => createHash('sha256').update(data).digest('hex')

/** Files by the hash of their contents, in a local folder. The same contents are kept once. */
export class FileStore implements Files {
  constructor(private readonly folder: string) {}

  private pathOf(hash: string) {
    return join(this.folder, hash.slice(0, 2), hash)
  }

  async put(data: Uint8Array): Promise<string> {
    const hash = sha256(data)
    const path = this.pathOf(hash)
    if (await stat(path).catch(() => null)) return hash
    await mkdir(join(this.folder, hash.slice(0, 2)), { recursive: true })
    const part = `${path}.${process.pid}.${Date.now()}.part`
    const handle = await open(part, 'w')
    await handle.writeFile(data)
    await handle.sync()
    await handle.close()
    await rename(part, path)
    return hash
  }

  get(hash: string): Promise<Buffer> {
    return readFile(this.pathOf(hash))
  }

  async has(hash: string): Promise<boolean> {
    return (await stat(this.pathOf(hash)).catch(() => null)) !== null
  }

  stream(hash: string): Readable {
    return createReadStream(this.pathOf(hash))
  }

  /** Names of files on their way in are our own and never a person's. */
  private incoming(name: string) {
    if (!/^\w{1,80}$/.test(name)) throw new Error('Not a name of ours')
    return join(this.folder, 'incoming', name)
  }

  async append(name: string, at: number, data: Readable): Promise<number> {
    const path = this.incoming(name)
    await mkdir(join(this.folder, 'incoming'), { recursive: true })
    const there = (await stat(path).catch(() => null))?.size ?? 0
    // A piece that came before, and was answered to nobody, is written again in its place.
    if (at > there) {
      // Nobody reads it: whoever breaks off while it comes ends nothing else.
      data.on('error', () => undefined).resume()
      return there
    }
    const handle = await open(path, at === 0 && there === 0 ? 'w' : 'r+')
    try {
      let end = at
      for await (const some of data as AsyncIterable<Buffer>) {
        await handle.write(some, 0, some.length, end)
        end += some.length
      }
      return Math.max(there, end)
    } finally {
      await handle.close()
    }
  }

  async settle(name: string): Promise<{ hash: string; size: number; head: Buffer }> {
    const path = this.incoming(name)
    const hashing = createHash('sha256')
    const handle = await open(path, 'r')
    await handle.sync()
    const { size } = await handle.stat()
    const head = Buffer.alloc(Math.min(4100, size))
    await handle.read(head, 0, head.length, 0)
    for await (const piece of handle.createReadStream({ start: 0 })) hashing.update(piece as Buffer)
    const hash = hashing.digest('hex')
    await mkdir(join(this.folder, hash.slice(0, 2)), { recursive: true })
    if (await stat(this.pathOf(hash)).catch(() => null)) await rm(path, { force: true })
    else await rename(path, this.pathOf(hash))
    return { hash, size, head }
  }

  async discard(name: string): Promise<void> {
    await rm(this.incoming(name), { force: true })
  }
}

/** Keeps a file's contents and records it. The contents come first: a row never points at nothing. */
export async function keepFile(m: EntityManager, ctx: Ctx, data: Uint8Array, mediaType: string): Promise<{ id: number; sha256: string }> {
  const hash = await ctx.files.put(data)
  const madeId = await insertRow(m, StoredFile, { sha256: hash, size: data.length, mediaType, createdAt: instant(ctx.clock.now()) })
  return { id: madeId, sha256: hash }
}

/** A kept file, its contents checked against their hash. */
export async function readStored(m: EntityManager, ctx: Ctx, id: number): Promise<{ data: Buffer; mediaType: string; sha256: string }> {
  const found = await m.findOne(StoredFile, { select: { sha256: true, mediaType: true, id: true }, where: { id } })
  if (!found) throw notFound('file')
  await onDisk(ctx, found.sha256)
  const data = await ctx.files.get(found.sha256)
  if (sha256(data) !== found.sha256) throw new Error(`Stored file ${id} does not match its hash`)
  return { data, ...found }
}

/** A file that the records know and the disk has not, as after half a restore: said as such, before anything of it is sent. */
export async function onDisk(ctx: Pick<Ctx, 'files'>, hash: string): Promise<void> {
  if (!(await ctx.files.has(hash)))
    throw refused('file-missing', 'The contents of this file are missing on the server. Ask your administrator to bring them back from a backup.') // prettier-ignore
}

/** What is known of a kept file, without its contents. */
export async function storedHead(m: EntityManager, id: number): Promise<{ sha256: string; size: number; mediaType: string }> {
  const found = await m.findOneBy(StoredFile, { id })
  if (!found) throw notFound('file')
  return found
}

/** Records a file whose contents the store has already. */
export async function recordFile(m: EntityManager, ctx: Ctx, hash: string, size: number, mediaType: string): Promise<number> {
  return insertRow(m, StoredFile, { sha256: hash, size, mediaType, createdAt: instant(ctx.clock.now()) })
}

/** A download that is read from its source while it is sent, of a size that is known before. */
export const streamed = (source: () => Readable, size: number, name: string, mediaType: string): File =>
  Object.defineProperties(new File([], name, { type: mediaType }), {
    size: { get: () => size },
    stream: { value: () => Readable.toWeb(source()) },
  })

/** A kept file as the answer of a download route, sent piece by piece. */
export async function downloadStored(
  m: EntityManager,
  ctx: Ctx,
  id: number,
  name: string,
  shownAs?: (mediaType: string) => string,
): Promise<File> {
  const head = await storedHead(m, id)
  await onDisk(ctx, head.sha256)
  return streamed(() => ctx.files.stream(head.sha256), head.size, name, shownAs?.(head.mediaType) ?? head.mediaType)
}

/** A file as the answer of a download route. */
export function download(data: Uint8Array, name: string, mediaType: string): File {
  return new File([new Uint8Array(data)], name, { type: mediaType })
}
