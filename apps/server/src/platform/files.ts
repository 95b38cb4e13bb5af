import { createHash } from 'node:crypto'
import { mkdir, open, readFile, rename, stat } from 'node:fs/promises'
import { join } from 'node:path'
import type { EntityManager } from 'typeorm'
import { instant, type Ctx, type Files } from './context'
import { row } from './database'
import { StoredFile } from './entities'
import { notFound } from './problem'

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
}

/** Keeps a file's contents and records it. The contents come first: a row never points at nothing. */
export async function keepFile(m: EntityManager, ctx: Ctx, data: Uint8Array, mediaType: string): Promise<{ id: number; sha256: string }> {
  const hash = await ctx.files.put(data)
  const made = await m.insert(StoredFile, { sha256: hash, size: data.length, mediaType, createdAt: instant(ctx.clock.now()) })
  return { id: made.identifiers[0]!['id'] as number, sha256: hash }
}

/** A kept file, its contents checked against their hash. */
export async function readStored(m: EntityManager, ctx: Ctx, id: number): Promise<{ data: Buffer; mediaType: string; sha256: string }> {
  const found = await row<{ sha256: string; mediaType: string }>(
    m,
    `SELECT sha256, media_type AS mediaType FROM stored_file WHERE id = ?`,
    [id],
  )
  if (!found) throw notFound('file')
  const data = await ctx.files.get(found.sha256)
  if (sha256(data) !== found.sha256) throw new Error(`Stored file ${id} does not match its hash`)
  return { data, ...found }
}

/** A file as the answer of a download route. */
export function download(data: Uint8Array, name: string, mediaType: string): File {
  return new File([new Uint8Array(data)], name, { type: mediaType })
}
