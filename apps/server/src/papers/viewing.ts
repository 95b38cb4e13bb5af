import { ZipFile } from 'yazl'
import type { Readable } from 'node:stream'
import { distinctNames, fileName } from '@heron/core/formats'
import { change, mayPart, see } from '../platform/access'
import type { Ctx } from '../platform/context'
import { locked, work } from '../platform/database'
import { enqueue } from '../platform/enqueue'
import { download, downloadStored, keepFile, onDisk, readStored, storedHead, streamed } from '../platform/files'
import { docxType, xlsxType } from '../platform/media'
import { fieldFault, notFound } from '../platform/problem'
import { apart } from './apart'
import type { ReadMail } from './apart/work'
import { PaperText, Paper, PaperVersion } from './entities'
import { pdfOfDocx } from './office'
import { indexPapers, wordIds, wordsFor } from './search'
import { requirePaper } from './store'
import { jobOfPreview, papersForZip } from './link-queries'

/** Kinds that LibreOffice makes a PDF of, and the ending by which it knows them. */
const office: Record<string, string> = {
  [docxType]: 'docx',
  'application/msword': 'doc',
  'application/rtf': 'rtf',
  'application/vnd.oasis.opendocument.text': 'odt',
}
const pictures = new Set(['image/png', 'image/jpeg', 'image/gif', 'image/webp'])
// Only these are shown in the browser; anything else is handed over as a plain download, so that no filed page runs here.
const shownTypes = new Set(['application/pdf', 'text/plain', ...pictures])
export const safeType = (mediaType: string) => (shownTypes.has(mediaType) ? mediaType : 'application/octet-stream')
/** Largest document of which a PDF is made, and largest of which words are taken out. */
const mostOffice = 100_000_000
const mostRead = 200_000_000

async function versionOf(
  ctx: Ctx,
  id: number,
  number: number | undefined,
): Promise<{ paper: Paper; version: PaperVersion; matter: string }> {
  const m = ctx.db.manager
  const { paper, matter } = await requirePaper(m, ctx, id, see)
  const version = await m.findOneBy(PaperVersion, { paperId: id, number: number ?? paper.versionNo })
  if (!version) throw notFound('version')
  return { paper, version, matter: matter.shortName }
}

export async function paperFile(ctx: Ctx, id: number, number?: number) {
  const { paper, version } = await versionOf(ctx, id, number)
  return downloadStored(ctx.db.manager, ctx, version.fileId, paper.name, safeType)
}

/** How a paper can be shown in the page; where a PDF must be made first it says so. */
export async function viewPaper(ctx: Ctx, id: number, number?: number) {
  const m = ctx.db.manager
  const { paper, version, matter } = await versionOf(ctx, id, number)
  const head = await storedHead(m, version.fileId)
  const base = {
    id,
    name: paper.name,
    matterId: paper.matterId,
    matter,
    version: version.number,
    mediaType: head.mediaType,
    size: head.size,
    jobId: null as number | null,
    ready: true,
    text: null as string | null,
    why: '',
  }
  if (head.mediaType === 'application/pdf') return { ...base, as: 'pdf' as const }
  if (pictures.has(head.mediaType)) return { ...base, as: 'picture' as const }
  if (head.mediaType === 'message/rfc822') return { ...base, as: 'mail' as const }
  if (office[head.mediaType]) {
    if (head.size > mostOffice)
      return { ...base, as: 'none' as const, why: 'This document is too large to be shown here. Download it to read it.' }
    if (version.pdfFileId !== null) return { ...base, as: 'pdf' as const }
    const running = version.pdfJobId === null ? null : await jobOfPreview(m, ctx, version.pdfJobId)
    if (running?.state === 'failed')
      return { ...base, as: 'none' as const, why: running.error ?? 'No PDF could be made of this document. Download it to read it.' }
    return { ...base, as: 'pdf' as const, ready: false, jobId: running?.mine && running.state !== 'done' ? running.id : null }
  }
  const text = await textToShow(ctx, version, head)
  return text === null
    ? { ...base, as: 'none' as const, why: 'Files of this kind are not shown here. Download it to open it.' }
    : { ...base, as: 'text' as const, text }
}

async function textToShow(ctx: Ctx, version: PaperVersion, head: { mediaType: string; size: number }): Promise<string | null> {
  if (
    !(head.mediaType.startsWith('text/') || head.mediaType === xlsxType || head.mediaType === 'application/json') ||
    head.size > 20_000_000
  )
    return null
  const { data, mediaType } = await readStored(ctx.db.manager, ctx, version.fileId)
  return (await apart('words', { data, mediaType }))?.slice(0, 200_000) ?? ''
}

/** Begins the making of a PDF by which a document is shown. */
export async function startPdf(ctx: Ctx, id: number, number?: number) {
  const { version } = await versionOf(ctx, id, number)
  return work(ctx, async (m) => {
    const jobId = await enqueue(m, ctx, 'paper as pdf', { versionId: version.id })
    await m.update(PaperVersion, version.id, { pdfJobId: jobId })
    return { jobId }
  })
}

/** Makes the PDF of a version once; it is kept. */
export async function makePdf(ctx: Ctx, { versionId }: { versionId: number }) {
  const m = ctx.db.manager
  const version = await m.findOneByOrFail(PaperVersion, { id: versionId })
  if (version.pdfFileId !== null) return { pdf: version.pdfFileId }
  const { data, mediaType } = await readStored(m, ctx, version.fileId)
  if (mediaType === docxType) await apart('words', { data, mediaType })
  const pdf = await keepFile(m, ctx, await pdfOfDocx(data, office[mediaType] ?? 'docx'), 'application/pdf')
  await m.update(PaperVersion, versionId, { pdfFileId: pdf.id })
  return { pdf: pdf.id }
}

export async function paperPdf(ctx: Ctx, id: number, number?: number) {
  const { paper, version } = await versionOf(ctx, id, number)
  const head = await storedHead(ctx.db.manager, version.fileId)
  const fileId = head.mediaType === 'application/pdf' ? version.fileId : version.pdfFileId
  if (fileId === null) throw notFound('PDF of this paper yet')
  return downloadStored(ctx.db.manager, ctx, fileId, `${paper.name.replace(/\.\w{1,5}$/, '')}.pdf`)
}

/** Several papers as one ZIP, written while it is sent; papers are kept in it as they are, in their folders. */
export async function zipOf(ctx: Ctx, list: string) {
  const ids = [...new Set(list.split(',').map(Number))]
  const found = await papersForZip(ctx, ids)
  if (found.length !== ids.length) throw notFound('paper')
  if (found.reduce((n, f) => n + f.size, 0) > 3_900_000_000)
    throw fieldFault('ids', 'Together these are more than 3.9 GB. Download fewer at once')
  for (const f of found) await onDisk(ctx, f.sha256)
  const several = new Set(found.map((f) => f.number)).size > 1
  const names = distinctNames(found.map((f) => [several ? f.number : '', ...f.folder.split('/'), f.name].map((s) => (s ? fileName(s) : '')).filter(Boolean).join('/'))) // prettier-ignore
  /** What is only measured opens no file. What is sent closes the one that is being read when nobody takes any more of it. */
  const build = (sent: boolean) => {
    const zip = new ZipFile()
    const out = zip.outputStream as unknown as Readable
    let open: Readable | null = null
    out.once('close', () => open?.destroy())
    zip.on('error', (error) => out.destroy(error))
    found.forEach((f, i) =>
      zip.addReadStreamLazy(names[i]!, { compress: false, size: f.size, mtime: ctx.clock.now() }, (ready) => {
        if (!sent) return
        open = ctx.files.stream(f.sha256).on('error', (error) => out.destroy(error))
        ready(null, open)
      }),
    )
    return { zip, out }
  }
  const size = await new Promise<number>((resolve) => build(false).zip.end(undefined as never, resolve as never))
  return streamed(
    () => {
      const { zip, out } = build(true)
      zip.end()
      return out
    },
    size,
    found.length === 1 ? `${names[0]!.split('/').at(-1)}.zip` : `Papers ${found[0]!.number}.zip`,
    'application/zip',
  )
}

const mails = new Map<string, Promise<ReadMail>>()
/** Larger messages are read anew each time rather than kept in memory. */
const mostKept = 12_000_000
/** A message by the hash of its file; the last few stay read, since its parts are asked for one by one. */
export async function messageOf(ctx: Ctx, fileId: number): Promise<ReadMail> {
  const { sha256, size } = await storedHead(ctx.db.manager, fileId)
  let found = mails.get(sha256)
  if (!found) {
    found = readStored(ctx.db.manager, ctx, fileId).then(({ data }) => apart('mail', { data }))
    if (size <= mostKept) {
      if (mails.size >= 6) mails.delete(mails.keys().next().value!)
      mails.set(sha256, found)
      found.catch(() => mails.delete(sha256))
    }
  }
  return found
}

export async function mailOf(ctx: Ctx, id: number) {
  const { version } = await versionOf(ctx, id, undefined)
  const head = await storedHead(ctx.db.manager, version.fileId)
  if (head.mediaType !== 'message/rfc822') throw notFound('e-mail')
  const mail = await messageOf(ctx, version.fileId)
  const parts = mail.parts.map(({ contentId, mediaType }) => ({ contentId, mediaType }))
  const { html, blocked } = await apart('html', { html: mail.html, parts, prefix: `/api/papers/${id}/mail/` })
  return {
    subject: mail.subject,
    from: mail.from,
    to: mail.to.slice(0, 200),
    cc: mail.cc.slice(0, 200),
    dateText: mail.dateText,
    text: mail.text.slice(0, 400_000),
    html,
    headers: mail.headers,
    parts: mail.parts.map((p, index) => ({ index, name: p.name, mediaType: p.mediaType, size: p.data.length, inline: p.inline })),
    unread: mail.unread,
    blocked,
  }
}

export async function mailPart(ctx: Ctx, id: number, index: number) {
  const { version } = await versionOf(ctx, id, undefined)
  const part = (await messageOf(ctx, version.fileId)).parts[index]
  if (!part) throw notFound('part')
  return download(part.data, part.name, safeType(part.mediaType))
}

/** Takes the words of a paper out, so that it can be found by them. Only the current version's are kept. */
export async function readPaper(ctx: Ctx, { paperId, number }: { paperId: number; number: number }) {
  const m = ctx.db.manager
  const paper = await m.findOne(Paper, {
    select: { name: true, matterId: true, versionNo: true, fileId: true, id: true },
    where: { id: paperId },
  })
  if (!paper || paper.versionNo !== number) return { words: 0 }
  const head = await storedHead(m, paper.fileId)
  const words = await wordsIn(ctx, paperId, number, paper.fileId, head).catch((error: unknown) => (error instanceof Error ? error : null))
  const failed = words instanceof Error
  const text = failed || words === null ? '' : words
  const indexed = await wordsFor(paper.name, text)
  const ids = await wordIds(ctx, indexed)
  await m.transaction(async (tx) => {
    // Whoever saved a newer version meanwhile has asked for its words.
    const now = await tx.findOne(Paper, {
      select: { versionNo: true, id: true },
      where: { id: paperId },
      ...locked(tx),
    })
    if (now?.versionNo !== number) return
    const body = `${paper.name}\n${text}`
    await tx.delete(PaperText, { paperId })
    await tx.insert(PaperText, { paperId, matterId: paper.matterId, versionNo: number, body: body.slice(0, 3_000_000) })
    await indexPapers(tx, [{ paperId, words: indexed }], ids)
    await tx.update(Paper, { id: paperId }, { textState: failed ? 'failed' : text ? 'done' : 'none' })
  })
  return { words: text.length }
}

async function wordsIn(
  ctx: Ctx,
  paperId: number,
  number: number,
  fileId: number,
  head: { mediaType: string; size: number },
): Promise<string | null> {
  if (head.size > mostRead || head.size === 0) return null
  const m = ctx.db.manager
  if (office[head.mediaType] && head.mediaType !== docxType) {
    const version = await m.findOneByOrFail(PaperVersion, { paperId, number })
    const { pdf } = await makePdf(ctx, { versionId: version.id })
    const { data } = await readStored(m, ctx, pdf)
    return apart('words', { data, mediaType: 'application/pdf' })
  }
  const { data, mediaType } = await readStored(m, ctx, fileId)
  return apart('words', { data, mediaType })
}

export const mayChangePapers = (ctx: Ctx, matterId: number) => mayPart(ctx.db.manager, ctx, matterId, 'papers', change)
