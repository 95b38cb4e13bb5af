import { fileName } from '@heron/core/formats'
import type { Day } from '@heron/core/calendar'
import type { EntityManager } from 'typeorm'
import { change, requireMatter, touchMatter, type Level, type OpenMatter } from '../platform/access'
import { audit } from '../platform/audit'
import { instant, type Ctx } from '../platform/context'
import { work } from '../platform/database'
import { enqueue } from '../platform/enqueue'
import { keepFile } from '../platform/files'
import { mediaTypeOf } from '../platform/media'
import { notFound, refused } from '../platform/problem'
import { Paper, PaperVersion } from './entities'
import { UserAccount } from '../platform/shared-entities'
import { lastVersion, papersOpen } from './paper-queries'

export interface NewPaper {
  matterId: number
  folder: string
  name: string
  fileId: number
  kind?: string
  author?: string
  paperOn?: Day | null
  templateId?: number | null
  templateVersionId?: number | null
  madeWith?: string | null
  why?: string
}

const idOf = (made: { identifiers: object[] }) => (made.identifiers[0] as { id: number }).id

/** Puts a paper into a folder, with its first version. Its words are taken out by a job. */
export async function addPaper(m: EntityManager, ctx: Ctx, p: NewPaper): Promise<number> {
  const at = instant(ctx.clock.now())
  const id = idOf(
    await m.insert(Paper, {
      matterId: p.matterId,
      folder: p.folder,
      name: fileName(p.name, 'paper'),
      fileId: p.fileId,
      kind: p.kind ?? '',
      author: p.author ?? '',
      paperOn: p.paperOn ?? null,
      templateId: p.templateId ?? null,
      createdBy: ctx.actor.id,
      createdAt: at,
    }),
  )
  await insertVersion(m, ctx, id, 1, p)
  return id
}

async function insertVersion(
  m: EntityManager,
  ctx: Ctx,
  paperId: number,
  number: number,
  p: Pick<NewPaper, 'fileId' | 'templateVersionId' | 'madeWith' | 'why'>,
) {
  await m.insert(PaperVersion, {
    paperId,
    number,
    fileId: p.fileId,
    why: p.why ?? '',
    madeBy: ctx.actor.id,
    madeAt: instant(ctx.clock.now()),
    templateVersionId: p.templateVersionId ?? null,
    madeWith: p.madeWith ?? null,
  })
  await enqueue(m, ctx, 'read paper', { paperId, number })
}

/** A paper that may be seen, or changed, as if it were not there otherwise. Locked where it is to be changed. */
export async function requirePaper(
  m: EntityManager,
  ctx: Ctx,
  id: number,
  level: Level,
  bin = false,
): Promise<{ paper: Paper; matter: OpenMatter }> {
  const builder = m.createQueryBuilder(Paper, 'p').where({ id })
  const paper = await (level === change ? builder.setLock('pessimistic_write') : builder).getOne()
  if (!paper || (paper.deletedAt !== null) !== bin) throw notFound('paper')
  const seen = await papersOpen(m, ctx, paper.matterId)
  if (!seen) throw notFound('paper')
  return { paper, matter: await requireMatter(m, ctx, paper.matterId, 'papers', level) }
}

/** Refuses to save over what somebody else has checked out. */
export async function notOutToOther(m: EntityManager, ctx: Ctx, paper: Pick<Paper, 'outTo' | 'name'>) {
  if (paper.outTo === null || paper.outTo === ctx.actor.id) return
  const who = await m.findOne(UserAccount, { select: { name: true, id: true }, where: { id: paper.outTo } })
  throw refused(
    'paper-checked-out',
    `${paper.name} is checked out to ${who?.name ?? 'someone'}. Nothing was saved over it. Ask them to give it back, or file yours as a paper of its own.`,
  )
}

/** A new version becomes the current one; whoever had the paper checked out has given it back with that. */
export async function addVersion(
  m: EntityManager,
  ctx: Ctx,
  paper: Paper,
  p: Pick<NewPaper, 'fileId' | 'templateVersionId' | 'madeWith' | 'why'> & { name?: string },
): Promise<number> {
  await notOutToOther(m, ctx, paper)
  const last = await lastVersion(m, paper.id)
  const number = (last?.n ?? 0) + 1
  await insertVersion(m, ctx, paper.id, number, p)
  await m.update(Paper, paper.id, {
    fileId: p.fileId,
    versionNo: number,
    textState: 'waiting',
    outTo: null,
    outAt: null,
    outNote: '',
    rowVersion: paper.rowVersion + 1,
    ...(p.name ? { name: fileName(p.name, 'paper') } : {}),
  })
  await audit(m, ctx, {
    kind: 'paper',
    text: `Version ${number} of ${paper.name}${p.why ? `: ${p.why}` : ''}`,
    matterId: paper.matterId,
    subject: 'paper',
    subjectId: paper.id,
  })
  await touchMatter(m, ctx, paper.matterId)
  return number
}

/** Files a paper from the user's computer as it is. */
export async function filePaper(
  ctx: Ctx,
  p: { matterId: number; folder: string; name: string; data: Uint8Array; kind?: string },
): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    await requireMatter(m, ctx, p.matterId, 'papers', change)
    const file = await keepFile(m, ctx, p.data, mediaTypeOf(p.data.subarray(0, 4100), p.name))
    const id = await addPaper(m, ctx, {
      matterId: p.matterId,
      folder: p.folder,
      name: p.name,
      fileId: file.id,
      ...(p.kind ? { kind: p.kind } : {}),
    })
    await audit(m, ctx, {
      kind: 'filed',
      text: `Filed ${fileName(p.name)} in ${p.folder}`,
      matterId: p.matterId,
      subject: 'paper',
      subjectId: id,
    })
    await touchMatter(m, ctx, p.matterId)
    return { id }
  })
}
