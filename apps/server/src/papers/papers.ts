import type { Day } from '@heron/core/calendar'
import { In } from 'typeorm'
import { counted } from '@heron/core/words'
import type { EntityManager } from 'typeorm'
import { change, mayPart, requireMatter, see, touchMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, isoOf, may, type Ctx } from '../platform/context'
import { insertNew, work } from '../platform/database'
import { enqueue } from '../platform/enqueue'
import { readStored } from '../platform/files'
import { fieldFault, notFound, refused } from '../platform/problem'
import { receiptsAmong } from '../costs'
import { datesOnPapers } from '../docket'
import { apart } from './apart'
import { Paper, PaperFolder, PaperTag, PaperVersion, StandardFolder } from './entities'
import { foldersOf, paperRows } from './queries'
import { addVersion, notOutToOther, requirePaper } from './store'
import { PracticeArea, UserAccount } from '../platform/shared-entities'
import {
  cameWith,
  dropFolderRows,
  emptyStandardFolders,
  keeps,
  linksShowing,
  longestPath,
  lyingIn,
  mailOf,
  mattersWithPapersOpen,
  moveBelow,
  moveFolderRows,
  reviewsOfPaper,
  versionsOf,
} from './paper-queries'

/** Papers by their ids, all of matters whose papers the actor may change; refused whole where one is not. */
async function requirePapers(m: EntityManager, ctx: Ctx, ids: readonly number[], bin = false): Promise<Paper[]> {
  const unique = [...new Set(ids)]
  const found = await m.createQueryBuilder(Paper, 'p').where({ id: In(unique) }).orderBy('p.id').setLock('pessimistic_write').getMany() // prettier-ignore
  const matters = [...new Set(found.map((p) => p.matterId))]
  const open = matters.length ? await mattersWithPapersOpen(m, ctx, matters) : []
  const seen = new Set(open.map((o) => o.id))
  if (found.length !== unique.length || found.some((p) => (p.deletedAt !== null) !== bin || !seen.has(p.matterId))) throw notFound('paper')
  for (const id of matters) await requireMatter(m, ctx, id, 'papers', change)
  return found
}

const logged = (m: EntityManager, ctx: Ctx, kind: string, text: string, p: Pick<Paper, 'id' | 'matterId'>) =>
  audit(m, ctx, { kind, text, matterId: p.matterId, subject: 'paper', subjectId: p.id })

async function logByMatter(m: EntityManager, ctx: Ctx, papers: readonly Paper[], kind: string, say: (names: string) => string) {
  for (const matterId of new Set(papers.map((p) => p.matterId))) {
    const of = papers.filter((p) => p.matterId === matterId)
    await logged(m, ctx, kind, say(of.length > 3 ? `${counted(of.length, 'paper')} (${of.slice(0, 3).map((p) => p.name).join(', ')} …)` : of.map((p) => p.name).join(', ')), of[0]!) // prettier-ignore
    await touchMatter(m, ctx, matterId)
  }
}

export function changePaper(
  ctx: Ctx,
  input: { id: number; name: string; kind: string; author: string; day: Day | null; tags: string[]; note: string; rowVersion: number },
): Promise<void> {
  return work(ctx, async (m) => {
    const { paper } = await requirePaper(m, ctx, input.id, change)
    if (paper.rowVersion !== input.rowVersion)
      throw refused('changed-meanwhile', 'Someone changed this paper meanwhile. Look again, then save.')
    await m.update(Paper, paper.id, {
      name: input.name,
      kind: input.kind,
      author: input.author,
      paperOn: input.day,
      note: input.note,
      rowVersion: paper.rowVersion + 1,
    })
    await m.delete(PaperTag, { paperId: paper.id })
    const tags = [...new Set(input.tags)]
    if (tags.length) await m.insert(PaperTag, tags.map((tag) => ({ paperId: paper.id, tag }))) // prettier-ignore
    if (input.name !== paper.name) {
      await logged(m, ctx, 'paper', `Renamed ${paper.name} to ${input.name}`, paper)
      await enqueue(m, ctx, 'index paper', { paperId: paper.id })
    }
    await touchMatter(m, ctx, paper.matterId)
  })
}

export function movePapers(ctx: Ctx, ids: readonly number[], folder: string): Promise<{ moved: number }> {
  return work(ctx, async (m) => {
    const papers = await requirePapers(m, ctx, ids)
    const moving = papers.filter((p) => p.folder !== folder)
    if (moving.length) {
      await m.update(Paper, { id: In(moving.map((p) => p.id)) }, { folder })
      await logByMatter(m, ctx, moving, 'paper', (names) => `Moved to ${folder}: ${names}`)
    }
    return { moved: moving.length }
  })
}

export function removePapers(ctx: Ctx, ids: readonly number[]): Promise<{ removed: number }> {
  return work(ctx, async (m) => {
    const papers = await requirePapers(m, ctx, ids)
    for (const p of papers) await notOutToOther(m, ctx, p)
    const held = await datesOnPapers(m, papers.map((p) => p.id)) // prettier-ignore
    for (const id of await receiptsAmong(m, papers.map((p) => p.id))) held.set(id, held.get(id) ?? 'a cost of which it is the receipt') // prettier-ignore
    const first = papers.find((p) => held.has(p.id))
    if (first)
      throw refused('paper-in-use', `${first.name} cannot be put in the bin: ${held.get(first.id)} hangs on it. Nothing was taken away.`)
    await m.update(Paper, { id: In(papers.map((p) => p.id)) }, { deletedAt: instant(ctx.clock.now()), deletedBy: ctx.actor.id })
    await logByMatter(m, ctx, papers, 'paper', (names) => `Put in the bin: ${names}`)
    return { removed: papers.length }
  })
}

export function restorePapers(ctx: Ctx, ids: readonly number[]): Promise<{ restored: number }> {
  return work(ctx, async (m) => {
    const papers = await requirePapers(m, ctx, ids, true)
    await m.update(Paper, { id: In(papers.map((p) => p.id)) }, { deletedAt: null, deletedBy: null })
    await logByMatter(m, ctx, papers, 'paper', (names) => `Taken out of the bin: ${names}`)
    return { restored: papers.length }
  })
}

export function checkOut(ctx: Ctx, id: number, note: string): Promise<void> {
  return work(ctx, async (m) => {
    const { paper } = await requirePaper(m, ctx, id, change)
    await notOutToOther(m, ctx, paper)
    await m.update(Paper, id, { outTo: ctx.actor.id, outAt: instant(ctx.clock.now()), outNote: note })
    await logged(m, ctx, 'paper', `Checked out ${paper.name}${note ? `: ${note}` : ''}`, paper)
  })
}

/** Given back by whoever has it, or by a keeper of the matter where that person is away. */
export function release(ctx: Ctx, id: number): Promise<void> {
  return work(ctx, async (m) => {
    const { paper, matter } = await requirePaper(m, ctx, id, change)
    if (paper.outTo === null) return
    if (paper.outTo !== ctx.actor.id && matter.leadId !== ctx.actor.id && !(await keeps(m, ctx, paper.matterId)))
      await notOutToOther(m, ctx, paper)
    const who = await m.findOne(UserAccount, { select: { name: true, id: true }, where: { id: paper.outTo } })
    await m.update(Paper, id, { outTo: null, outAt: null, outNote: '' })
    await logged(
      m,
      ctx,
      'paper',
      `Gave back ${paper.name}${paper.outTo === ctx.actor.id ? '' : `, which ${who?.name ?? 'someone'} had checked out`}`,
      paper,
    )
  })
}

export function makeCurrent(ctx: Ctx, id: number, number: number, why: string): Promise<{ number: number }> {
  return work(ctx, async (m) => {
    const { paper } = await requirePaper(m, ctx, id, change)
    const version = await m.findOneBy(PaperVersion, { paperId: id, number })
    if (!version) throw notFound('version')
    if (number === paper.versionNo) throw fieldFault('number', 'This is the current version')
    const { fileId, templateVersionId, madeWith } = version
    return { number: await addVersion(m, ctx, paper, { fileId, templateVersionId, madeWith, why: why || `Version ${number} again` }) }
  })
}

export async function onePaper(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const { paper, matter } = await requirePaper(m, ctx, id, see)
  const [shown] = await paperRows(m, ctx, [id])
  const versions = await versionsOf(m, id)
  const held = await datesOnPapers(m, [id])
  const ofMail = await mailOf(m, id)
  const parts = await cameWith(m, id)
  const links = await linksShowing(m, ctx, paper.matterId, paper.folder, id)
  const reviews = await reviewsOfPaper(m, id)
  return {
    ...shown!,
    versions: versions.map((v) => ({ ...v, madeAt: isoOf(v.madeAt), current: v.number === paper.versionNo, made: Boolean(v.made) })),
    uses: [...held.values()],
    ofMail,
    parts,
    links,
    reviews: reviews.map((r) => ({ ...r, askedAt: isoOf(r.askedAt), answeredAt: r.answeredAt && isoOf(r.answeredAt) })),
    mayChange: may(ctx.actor, 'papers.change') && (await mayPart(m, ctx, paper.matterId, 'papers', change)),
    keeps: matter.leadId === ctx.actor.id || Boolean(await keeps(m, ctx, paper.matterId)),
  }
}

const mostCompared = 60_000

/** What changed between two versions, by their words. */
export async function compareVersions(ctx: Ctx, id: number, from: number, to: number) {
  const m = ctx.db.manager
  await requirePaper(m, ctx, id, see)
  const words = async (number: number) => {
    const version = await m.findOneBy(PaperVersion, { paperId: id, number })
    if (!version) throw notFound('version')
    const { data, mediaType } = await readStored(m, ctx, version.fileId)
    const text = await apart('words', { data, mediaType })
    if (text === null) throw fieldFault('from', `Version ${number} has no text, so it cannot be compared`)
    return text
  }
  const [a, b] = [await words(from), await words(to)]
  const pieces = await apart('compare', { from: a.slice(0, mostCompared), to: b.slice(0, mostCompared) })
  if (!pieces) throw fieldFault('from', 'These versions differ so much that comparing them word by word takes too long')
  return { pieces, cut: Math.max(a.length, b.length) > mostCompared }
}

export function addFolder(ctx: Ctx, matterId: number, path: string): Promise<void> {
  return work(ctx, async (m) => {
    const matter = await requireMatter(m, ctx, matterId, 'papers', change)
    const there = await foldersOf(m, matterId, matter.areaId)
    if (there.length >= 1000) throw fieldFault('path', 'A matter has at most 1,000 folders')
    if (there.some((f) => f.path.toLowerCase() === path.toLowerCase())) throw fieldFault('path', 'There is a folder of this name')
    await m.insert(PaperFolder, { matterId, path })
  })
}

/** A folder of a matter and all that is in it, for conditions like `folder = ? OR LEFT(folder, ?) = ?`. */
const within = (matterId: number, path: string) => [matterId, path, [...path].length + 1, `${path}/`] as const

/** Renames or moves a folder; papers, subfolders and links to it come along. */
export function moveFolder(ctx: Ctx, matterId: number, from: string, to: string): Promise<{ moved: number }> {
  return work(ctx, async (m) => {
    await requireMatter(m, ctx, matterId, 'papers', change)
    if (to === from) return { moved: 0 }
    if (to.startsWith(`${from}/`)) throw fieldFault('to', 'A folder cannot go into itself')
    const inside = within(matterId, from)
    const longest = await longestPath(m, inside)
    if ((longest?.n ?? 0) - from.length + to.length > 300)
      throw fieldFault('to', 'The folders within it would have names that are too long')
    const moved = (table: string, column: string) => moveBelow(m, table, column, to, from, inside)
    const papers = await moved('paper', 'folder')
    await moveFolderRows(m, to, from, inside)
    await dropFolderRows(m, inside)
    await insertNew(m, PaperFolder, { matterId, path: to })
    await moved('paper_link', 'folder')
    await moved('paper_link', 'upload_folder')
    await audit(m, ctx, { kind: 'paper', text: `Folder ${from} is now ${to}`, matterId, subject: 'paper' })
    return { moved: papers }
  })
}

export function removeFolder(ctx: Ctx, matterId: number, path: string): Promise<void> {
  return work(ctx, async (m) => {
    await requireMatter(m, ctx, matterId, 'papers', change)
    const inside = within(matterId, path)
    const held = await lyingIn(m, inside)
    if (held) throw fieldFault('path', 'Papers lie in this folder. Move them first')
    const gone = await dropFolderRows(m, inside)
    if (!gone) throw fieldFault('path', 'This folder belongs to the firm’s standard set, which is changed under Set-up')
  })
}

export function setStandardFolders(ctx: Ctx, areaId: number | null, paths: readonly string[]): Promise<void> {
  return work(ctx, async (m) => {
    if (areaId !== null && !(await m.existsBy(PracticeArea, { id: areaId }))) throw notFound('area')
    if (areaId === null && !paths.length) throw fieldFault('paths', 'Keep at least one folder')
    await emptyStandardFolders(m, areaId)
    const unique = paths.filter((p, i) => paths.findIndex((x) => x.toLowerCase() === p.toLowerCase()) === i)
    if (unique.length) await m.insert(StandardFolder, unique.map((path, place) => ({ areaId, path, place }))) // prettier-ignore
    await audit(m, ctx, { kind: 'set-up', text: 'Changed the folders that matters start with', subject: 'firm' })
  })
}
