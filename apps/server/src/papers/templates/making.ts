import type { Day } from '@heron/core/calendar'
import type { Question } from '@heron/contract'
import { idsIn, isList, nameFrom, plain, textIn, valueAt, type Answer, type Value } from '@heron/core/templates'
import type { EntityManager } from 'typeorm'
import { matterValues } from './values'
import type { Looked } from '../apart/work'
import { Paper, PaperVersion, Template, TemplateVersion } from '../entities'
import { pdfOfDocx } from '../office'
import { makeLink } from '../links'
import { askReviewIn } from '../review'
import { addPaper, addVersion, requirePaper } from '../store'
import { writeOneField } from '../../fields'
import { change, requireMatter, see, touchMatter } from '../../platform/access'
import { areas } from '../../platform/area'
import { audit } from '../../platform/audit'
import type { Ctx } from '../../platform/context'
import { work } from '../../platform/database'
import { enqueue } from '../../platform/enqueue'
import { keepFile } from '../../platform/files'
import { docxType } from '../../platform/media'
import { fieldFault, notFound, refused } from '../../platform/problem'

import { byPath, gather, makeOne, preparePaper, unanswered, type Gathered, type Making, type One } from './preparing'

export interface MakeIn extends Making {
  name: string
  folder: string
  as: 'docx' | 'pdf' | 'both'
  writeBack: string[]
  versionOf: number | null
  review: { toId: number; dueOn: Day | null; message: string } | null
  share: { forWhom: string; email: string; endsOn: Day; needsCode: boolean } | null
}

/** Judges all that is needed, writes answers back to the record where wanted, and hands the making to a worker. */
export async function requestPaper(ctx: Ctx, input: MakeIn, origin: string): Promise<{ jobId: number }> {
  const ready = await preparePaper(ctx, input)
  if (input.share && input.share.endsOn < ctx.clock.today()) throw fieldFault('share.endsOn', 'Give a day that is still to come')
  if (ready.faulty) throw refused('template-faulty', 'This template has faults. Mend them before it is used.')
  const missing = ready.values.find((v) => v.missing)
  if (missing) throw fieldFault(`values.${missing.path}`, `${missing.label} is needed for this paper. Give it, or say that it stays blank`)
  const open = ready.questions.find((q) => q.asked && q.required && unanswered(q, input))
  if (open) throw fieldFault(`answers.${open.key}`, `Answer: ${open.text}`)
  if (ready.needsPerson && input.personId === null) throw fieldFault('personId', 'Choose the person that the paper is for')
  return work(ctx, async (m) => {
    const g = await gather(m, ctx, input)
    if (input.versionOf !== null) {
      const { paper } = await requirePaper(m, ctx, input.versionOf, change)
      if (paper.matterId !== input.matterId) throw notFound('paper')
    }
    for (const path of new Set(input.writeBack)) await writeBack(m, ctx, g, path, textIn(input.values[path]))
    return { jobId: await enqueue(m, ctx, 'make paper', { ...input, origin }) }
  })
}

async function writeBack(m: EntityManager, ctx: Ctx, g: Gathered, path: string, text: string) {
  if (!text) throw fieldFault(`values.${path}`, 'Only an answer can be kept on the record')
  const at = { matterId: g.matter.id, clientId: g.matter.clientId }
  const write = areas().map((a) => a.writes?.[path]).find(Boolean) // prettier-ignore
  if (write) return write(m, ctx, at, text)
  const [owner, , key] = path.split('.') as ['client' | 'matter', string, string]
  const id = path.includes('.fields.') ? g.all.fields[owner]?.ids.get(key) : undefined
  if (id === undefined) throw fieldFault(`values.${path}`, 'This cannot be written back to the record. Keep it for this paper alone')
  if (owner === 'matter') await requireMatter(m, ctx, g.matter.id, 'file', change)
  await writeOneField(
    m,
    ctx,
    owner === 'client' ? 'contact' : 'matter',
    owner === 'client' ? at.clientId : at.matterId,
    id,
    text,
    g.matter.areaId,
  )
  await audit(m, ctx, {
    kind: 'changed',
    text: `${g.known.get(path)?.label ?? path} from a paper`,
    ...(owner === 'matter'
      ? { matterId: at.matterId, subject: 'matter' as const, subjectId: at.matterId }
      : { subject: 'contact' as const, subjectId: at.clientId }),
  })
}

/** What a paper was made with, kept beside its version. */
interface MadeWith {
  templateId: number
  personId: number | null
  answers: Record<string, Answer>
  values: Record<string, Answer>
  /** What the record said then, by path, of all that was looked at. */
  record: Record<string, string>
}
const recorded = (v: Value): string => (isList(v) ? JSON.stringify(v) : plain(v))

export async function makePaper(ctx: Ctx, input: MakeIn & { origin: string }, progress: (percent: number) => Promise<void>) {
  const m = ctx.db.manager
  const g = await gather(m, ctx, input)
  const made: { one: One; docx: Uint8Array; pdf: Buffer | null; looked: Looked[] }[] = []
  for (const [i, one] of g.templates.entries()) {
    if (one.faulty) throw refused('template-faulty', 'This template has faults. Mend them before it is used.')
    const { made: docx, looked } = await makeOne(ctx, one, g.values)
    await progress(((i + 0.3) / g.templates.length) * 95)
    made.push({ one, docx, pdf: input.as === 'docx' ? null : await pdfOfDocx(docx), looked })
    await progress(((i + 1) / g.templates.length) * 95)
  }
  return work(ctx, async (tx) => {
    const out: number[] = []
    for (const [i, x] of made.entries()) {
      const name = i === 0 ? input.name : nameFrom(x.one.template.namePattern, g.values, x.one.template.name, x.one.template.language)
      const record = Object.fromEntries(
        x.looked
          .filter((l) => !l.path.startsWith('answers.') && input.values[l.path] === undefined && l.path !== 'today')
          .map((l) => [l.path, recorded(valueAt(g.all.values, l.path))]),
      )
      const kept: MadeWith = {
        templateId: x.one.template.id,
        personId: input.personId,
        answers: input.answers,
        values: input.values,
        record,
      }
      const files = [
        ...(input.as === 'pdf' ? [] : [{ ending: 'docx', bytes: x.docx, type: docxType }]),
        ...(x.pdf ? [{ ending: 'pdf', bytes: x.pdf as Uint8Array, type: 'application/pdf' }] : []),
      ]
      for (const f of files)
        out.push(
          await putPaper(tx, ctx, g, x.one, {
            name: `${name}.${f.ending}`,
            folder: i === 0 ? input.folder : x.one.template.folder,
            file: await keepFile(tx, ctx, f.bytes, f.type),
            type: f.type,
            madeWith: JSON.stringify(kept),
            versionOf: i === 0 ? input.versionOf : null,
          }),
        )
      await audit(tx, ctx, {
        kind: 'paper',
        text: `${input.versionOf ? 'Made again' : 'Made'} ${name} (${files.map((f) => f.ending.toUpperCase()).join(' and ')})`,
        matterId: input.matterId,
        subject: 'paper',
        subjectId: out.at(-files.length)!,
      })
    }
    if (input.share) {
      const { origin, share, matterId: id } = input
      await makeLink({ ...ctx, tx }, { id, ...share, message: '', paperIds: out, folder: null, mayUpload: false, send: true }, origin)
    }
    if (input.review) await askReviewIn(tx, ctx, await tx.findOneByOrFail(Paper, { id: out[0]! }), input.review)
    await touchMatter(tx, ctx, input.matterId)
    return { ids: out }
  })
}

interface Put {
  name: string
  folder: string
  file: { id: number }
  type: string
  madeWith: string
  versionOf: number | null
}
/** A paper of its own, or the next version of the one that is made again and of its twin in the other format. */
async function putPaper(m: EntityManager, ctx: Ctx, g: Gathered, one: One, p: Put): Promise<number> {
  const version = { fileId: p.file.id, templateVersionId: one.version.id, madeWith: p.madeWith, why: p.versionOf ? 'Made again' : '' }
  if (p.versionOf !== null) {
    const { paper } = await requirePaper(m, ctx, p.versionOf, change)
    const base = (name: string) => name.replace(/\.(?:docx|pdf)$/i, '')
    const ending = p.name.slice(p.name.lastIndexOf('.'))
    const twin = paper.name.toLowerCase().endsWith(ending)
      ? paper
      : await m.findOneBy(Paper, { matterId: paper.matterId, name: `${base(paper.name)}${ending}`, folder: paper.folder })
    if (twin && !twin.deletedAt) {
      await addVersion(m, ctx, twin, version)
      return twin.id
    }
  }
  return addPaper(m, ctx, {
    matterId: g.matter.id,
    folder: p.folder,
    name: p.name,
    author: ctx.actor.name,
    paperOn: ctx.clock.today(),
    templateId: one.template.id,
    ...version,
  })
}

/** What a made paper used, and what the record says otherwise by now. */
export async function madeFrom(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const { paper, matter } = await requirePaper(m, ctx, id, see)
  const version = await m.findOneBy(PaperVersion, { paperId: id, number: paper.versionNo })
  if (!version?.madeWith) throw notFound('template of this paper')
  const kept = JSON.parse(version.madeWith) as MadeWith
  const template = await m.findOneBy(Template, { id: kept.templateId })
  const used = version.templateVersionId === null ? null : await m.findOneBy(TemplateVersion, { id: version.templateVersionId })
  if (!template || !used) throw notFound('template of this paper')
  const questions = JSON.parse(used.questions) as Question[]
  const chosen = (type: string) => questions.filter((q) => q.type === type).flatMap((q) => idsIn(kept.answers[q.key]))
  const now = await matterValues(m, ctx, matter, { personId: kept.personId, costIds: chosen('costs'), timeIds: chosen('time') })
  const known = byPath(now.own)
  const shown = (path: string, text: string) =>
    known.get(path)?.type === 'list' && text.startsWith('[') ? `${(JSON.parse(text) as unknown[]).length} in the list` : text
  const changed = Object.entries(kept.record).flatMap(([path, was]) => {
    const is = recorded(valueAt(now.values, path))
    // What of money is not open to the reader has not changed, but is not told.
    return is === was || (!is && /^(?:money|bills|time|costs)/.test(path))
      ? []
      : [{ path, label: known.get(path)?.label ?? path, was: shown(path, was), is: shown(path, is) }]
  })
  return {
    templateId: template.id,
    template: template.name,
    personId: kept.personId,
    answers: kept.answers,
    values: kept.values,
    changed,
    newerTemplate: template.versionNo !== used.number,
  }
}
