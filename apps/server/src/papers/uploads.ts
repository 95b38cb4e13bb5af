import { randomBytes } from 'node:crypto'
import { Readable } from 'node:stream'
import type { ReadableStream } from 'node:stream/web'
import { counted } from '@heron/core/words'
import { LessThan } from 'typeorm'
import { change, requireMatter, touchMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { insertRow, work } from '../platform/database'
import { recordFile } from '../platform/files'
import { mediaTypeOf } from '../platform/media'
import { fieldFault, notFound, refused } from '../platform/problem'
import { Turns } from '../platform/turns'
import { StoredFile } from '../platform/entities'
import { PaperVersion, Upload } from './entities'
import { addPaper, addVersion, requirePaper } from './store'

const dayMs = 86_400_000
/** Most that one person may have on its way in at once. */
const mostUnderWay = { files: 2000, bytes: 20_000_000_000 }

export function startUpload(ctx: Ctx, name: string, size: number): Promise<{ id: number; received: number }> {
  return work(ctx, async (m) => {
    const under = await m.createQueryBuilder(Upload, 'u').select('COUNT(*)', 'n').addSelect('COALESCE(SUM(u.size), 0)', 'bytes').where('u.userId = :id AND u.fileId IS NULL', { id: ctx.actor.id }).getRawOne<{ n: number; bytes: number }>() // prettier-ignore
    if (Number(under?.n) >= mostUnderWay.files || Number(under?.bytes) + size > mostUnderWay.bytes)
      throw fieldFault('size', 'Very much is on its way already. Let it come, or wait until tomorrow, when what was left is cleared away')
    const madeId = await insertRow(m, Upload, {
      userId: ctx.actor.id,
      secret: randomBytes(16).toString('hex'),
      name,
      size,
      madeAt: instant(ctx.clock.now()),
    })
    return { id: madeId, received: 0 }
  })
}

async function own(ctx: Ctx, id: number): Promise<Upload> {
  const found = await ctx.db.manager.findOneBy(Upload, { id, userId: ctx.actor.id })
  if (!found) throw notFound('upload')
  return found
}

export async function uploadState(ctx: Ctx, id: number) {
  const u = await own(ctx, id)
  return { received: Number(u.received), whole: u.fileId !== null }
}

/** Pieces of one file come one after another: what is kept by its hash must not be written to any more by one that is late. */
const pieces = new Turns(1, 8)

/** Adds a piece. One that came before changes nothing; one that leaves a gap is answered with where to go on. */
export async function addPiece(
  ctx: Ctx,
  id: number,
  at: number,
  piece: Pick<File, 'size' | 'stream'>,
): Promise<{ received: number; whole: boolean }> {
  const done = await pieces.take(String(id))
  if (!done) throw refused('changed-meanwhile', 'Pieces of this file are coming from elsewhere. Let them come, then go on.')
  try {
    return await addInTurn(ctx, id, at, piece)
  } finally {
    done()
  }
}
async function addInTurn(ctx: Ctx, id: number, at: number, piece: Pick<File, 'size' | 'stream'>) {
  const u = await own(ctx, id)
  if (u.fileId !== null) return { received: Number(u.size), whole: true }
  if (at + piece.size > Number(u.size)) throw fieldFault('file', 'This is more than the file was said to be. Choose it again')
  const received = await ctx.files.append(u.secret, at, Readable.fromWeb(piece.stream() as ReadableStream))
  if (received < Number(u.size)) {
    await ctx.db.manager.update(Upload, id, { received })
    return { received, whole: false }
  }
  const { hash, size, head } = await ctx.files.settle(u.secret)
  // A piece may be sent again for itself; where it stands in the file says whether it has come.
  const { idempotency: _, ...alone } = ctx
  await work(alone, async (m) => {
    const locked = await m.createQueryBuilder(Upload, 'u').where({ id }).setLock('pessimistic_write').getOne()
    if (locked?.fileId === null)
      await m.update(Upload, id, { received: size, fileId: await recordFile(m, ctx, hash, size, mediaTypeOf(head, u.name)) })
  })
  return { received: size, whole: true }
}

interface Keeping {
  uploadId: number
  name: string
  folder: string
  kind: string
  versionOf: number | null
  why: string
}

/** Files what was uploaded, all in one act. What the matter has already, by its contents, is told and left out unless wanted. */
export function keepUploads(ctx: Ctx, matterId: number, files: readonly Keeping[], anyway: boolean) {
  return work(ctx, async (m) => {
    await requireMatter(m, ctx, matterId, 'papers', change)
    const ids: number[] = []
    const doubles: { uploadId: number; paperId: number; name: string }[] = []
    for (const f of files) {
      const u = await m.findOneBy(Upload, { id: f.uploadId, userId: ctx.actor.id })
      if (!u?.fileId) throw fieldFault('files', `${f.name} has not come whole. Upload it again`)
      if (f.versionOf !== null) {
        const { paper } = await requirePaper(m, ctx, f.versionOf, change)
        if (paper.matterId !== matterId) throw notFound('paper')
        await addVersion(m, ctx, paper, { fileId: u.fileId, why: f.why })
        ids.push(paper.id)
        continue
      }
      const same = anyway ? null : await sameInMatter(m, matterId, u.fileId)
      if (same) doubles.push({ uploadId: u.id, ...same })
      else ids.push(await addPaper(m, ctx, { matterId, folder: f.folder, name: f.name, fileId: u.fileId, kind: f.kind }))
    }
    const fresh = files.filter((f) => f.versionOf === null)
    if (ids.length && fresh.length) {
      const names = fresh.filter((f) => !doubles.some((d) => d.uploadId === f.uploadId))
      if (names.length)
        await audit(m, ctx, {
          kind: 'filed',
          text: names.length === 1 ? `Filed ${names[0]!.name} in ${names[0]!.folder}` : `Filed ${counted(names.length, 'paper')} (${names.slice(0, 3).map((n) => n.name).join(', ')}${names.length > 3 ? ' …' : ''})`, // prettier-ignore
          matterId,
          subject: 'paper',
          subjectId: ids[0]!,
        })
      await touchMatter(m, ctx, matterId)
    }
    return { ids, doubles }
  })
}

type Manager = Ctx['db']['manager']
/** A paper of the matter with the same contents, if there is one. */
export async function sameInMatter(m: Manager, matterId: number, fileId: number): Promise<{ paperId: number; name: string } | null> {
  const file = await m.findOneByOrFail(StoredFile, { id: fileId })
  const found = await m
    .createQueryBuilder(PaperVersion, 'v')
    .innerJoin('paper', 'p', 'p.id = v.paperId AND p.matter_id = :matterId AND p.deleted_at IS NULL', { matterId })
    .innerJoin('stored_file', 's', 's.id = v.fileId AND s.sha256 = :hash', { hash: file.sha256 })
    .select(['p.id AS paperId', 'p.name AS name'])
    .limit(1)
    .getRawOne<{ paperId: number; name: string }>()
  return found ?? null
}

/** Clears away what was announced and never came whole, and what came and was filed nowhere, after two days. */
export async function clearUploads(base: Omit<Ctx, 'actor'>): Promise<void> {
  const before = instant(new Date(base.clock.now().getTime() - 2 * dayMs))
  const old = await base.db.manager.find(Upload, {
    select: { id: true, secret: true, fileId: true },
    where: { madeAt: LessThan(before) },
    take: 500,
  })
  for (const u of old) {
    if (u.fileId === null) await base.files.discard(u.secret)
    await base.db.manager.delete(Upload, u.id)
  }
}
