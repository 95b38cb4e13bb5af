import type { Question } from '@heron/contract'
import {
  fieldTree,
  formats,
  allFields,
  plain,
  specTypes,
  valueAt,
  type CheckResult,
  type FieldSpec,
  type OwnFields,
} from '@heron/core/templates'
import type { EntityManager } from 'typeorm'
import { matterValues } from './values'
import { apart } from '../apart'
import { Template, TemplatePerson, TemplateSet, TemplateSetItem, TemplateVersion } from '../entities'
import { pdfOfDocx } from '../office'
import { templateFieldsOf } from '../../fields'
import { requireMatter } from '../../platform/access'
import { audit } from '../../platform/audit'
import { instant, isoOf, type Ctx } from '../../platform/context'
import { touched, work } from '../../platform/database'
import { download, downloadStored, keepFile, readStored, sha256 } from '../../platform/files'
import { docxType, mediaTypeOf } from '../../platform/media'
import { fieldFault, notFound, Problem, refused } from '../../platform/problem'
import { PracticeArea } from '../../platform/shared-entities'
import { lastOfTemplate, templateVersions, usable } from './queries'

const read = <T>(text: string): T => JSON.parse(text) as T

const questionSpec: Record<Question['type'], FieldSpec['type']> = { ...specTypes, costs: 'list', time: 'list' }
/** A template's own questions as fields: `{answers.tone}`. Chosen costs and time are lists under their own names. */
export const questionSpecs = (questions: readonly Question[]): FieldSpec[] =>
  questions
    .filter((q) => q.type !== 'costs' && q.type !== 'time')
    .map((q) => ({
      name: q.key,
      label: q.text,
      type: questionSpec[q.type],
      ...(q.type === 'choice' && q.choices.length ? { choices: q.choices } : {}),
      ...(q.type === 'contact' ? { fields: [{ name: 'name', label: 'Name', type: 'text' as const }, { name: 'address', label: 'Address', type: 'text' as const }] } : {}),
    })) // prettier-ignore

/** The firm's own fields as they are now, without values. */
async function ownFields(m: EntityManager, ctx: Ctx, questions: readonly Question[]): Promise<OwnFields> {
  const client = (await templateFieldsOf(m, ctx, 'contact', null)).specs
  const matter = (await templateFieldsOf(m, ctx, 'matter', null)).specs
  return { client, matter, answers: questionSpecs(questions), older: [...client, ...matter] }
}

/** Checks a version against the fields that there are now, unless it was checked against just these; keeps what it found. */
export async function checked(m: EntityManager, ctx: Ctx, version: TemplateVersion): Promise<CheckResult> {
  const own = await ownFields(m, ctx, read(version.questions))
  const ties = read<Record<string, string>>(version.ties)
  const hash = sha256(JSON.stringify([own, ties, version.fileId, checkEdition]))
  if (version.checkedWith === hash) {
    const kept = read<Omit<CheckResult, 'faults'>>(version.uses)
    return { ...kept, faults: read(version.faults) }
  }
  const { data } = await readStored(m, ctx, version.fileId)
  const found = await apart('check', { docx: data, own, ties }).catch((error: unknown): CheckResult => {
    // What cannot be judged is kept, and not used; it is not judged again with every list.
    if (!(error instanceof Problem) || error.code !== 'unreadable') throw error
    return { faults: [{ text: error.message, words: '', paragraph: 0, part: 'text' }], uses: [], wordFields: [] }
  })
  await m.update(TemplateVersion, version.id, {
    faults: JSON.stringify(found.faults.slice(0, 500)),
    uses: JSON.stringify({ uses: found.uses, wordFields: found.wordFields }),
    checkedWith: hash,
  })
  return found
}
/** Counted up where the check itself finds more. */
const checkEdition = 1

export async function currentVersion(m: EntityManager, template: Pick<Template, 'id' | 'versionNo'>): Promise<TemplateVersion> {
  return m.findOneByOrFail(TemplateVersion, { templateId: template.id, number: template.versionNo })
}

export async function requireTemplate(m: EntityManager, ctx: Ctx, id: number, lock = false): Promise<Template> {
  const builder = m.createQueryBuilder(Template, 't').where(`t.id = :id AND ${usable(ctx)}`, { id })
  const template = await (lock ? builder.setLock('pessimistic_write') : builder).getOne()
  if (!template) throw notFound('template')
  return template
}

export async function templates(ctx: Ctx) {
  const m = ctx.db.manager
  const list = await m.createQueryBuilder(Template, 't').where(usable(ctx)).orderBy('t.shelf').addOrderBy('t.name').take(1000).getMany()
  const people = await m.find(TemplatePerson)
  const areas = new Map((await m.find(PracticeArea, { select: { id: true, name: true } })).map((a) => [a.id, a.name]))
  const versions = list.length
    ? await m
        .createQueryBuilder(TemplateVersion, 'v')
        .innerJoin(Template, 't', 't.id = v.templateId AND t.versionNo = v.number')
        .where('v.templateId IN (:...ids)', { ids: list.map((t) => t.id) })
        .getMany()
    : []
  const by = new Map(versions.map((v) => [v.templateId, v]))
  const out = []
  for (const t of list) {
    const version = by.get(t.id)!
    const { faults } = await checked(m, ctx, version)
    out.push(rowOf(t, version, faults.length, areas, people))
  }
  return out
}

function rowOf(
  t: Template,
  version: TemplateVersion,
  faults: number,
  areas: ReadonlyMap<number, string>,
  people: readonly TemplatePerson[],
) {
  return {
    id: t.id, name: t.name, description: t.description, shelf: t.shelf, folder: t.folder, areaId: t.areaId, area: t.areaId === null ? null : (areas.get(t.areaId) ?? null),
    tags: t.tags ? t.tags.split('\n') : [], language: t.language, namePattern: t.namePattern, needsPerson: Boolean(t.needsPerson),
    peopleIds: t.forAll ? [] : people.filter((p) => p.templateId === t.id).map((p) => p.userId),
    version: t.versionNo, faults, questions: read<Question[]>(version.questions).length, retired: t.retiredAt !== null, rowVersion: t.rowVersion,
  } // prettier-ignore
}

export async function oneTemplate(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const t = await requireTemplate(m, ctx, id)
  const version = await currentVersion(m, t)
  const found = await checked(m, ctx, version)
  const areas = new Map((await m.find(PracticeArea, { select: { id: true, name: true } })).map((a) => [a.id, a.name]))
  const people = await m.findBy(TemplatePerson, { templateId: id })
  const versions = await templateVersions(m, id)
  return {
    ...rowOf(t, version, found.faults.length, areas, people),
    faultList: found.faults,
    uses: found.uses,
    wordFields: found.wordFields,
    questionList: read<Question[]>(version.questions),
    versions: versions.map((v) => ({
      number: v.number,
      why: v.why,
      madeBy: v.madeBy ?? 'the firm’s set-up',
      madeAt: isoOf(v.madeAt),
      current: v.number === t.versionNo,
      faults: read<unknown[]>(v.faults).length,
    })),
  }
}

async function keptDocx(m: EntityManager, ctx: Ctx, data: Uint8Array, name: string): Promise<number> {
  if (mediaTypeOf(data.subarray(0, 4100), name.toLowerCase().endsWith('.docx') ? name : `${name}.docx`) !== docxType)
    throw fieldFault('file', 'A template is a DOCX. Save it as DOCX in your word processor')
  // Opened apart, so that what cannot be is refused before anything is kept.
  await apart('words', { data, mediaType: docxType })
  return (await keepFile(m, ctx, data, docxType)).id
}

export interface NewTemplate {
  name: string
  description?: string
  folder?: string
  shelf?: string
  areaId?: number | null
  language?: 'en' | 'es'
  namePattern?: string
  needsPerson?: boolean
  questions?: readonly Question[]
  fileName?: string
}
const idOf = (made: { identifiers: object[] }) => (made.identifiers[0] as { id: number }).id

/** Keeps a DOCX as a template and checks it; one with faults is kept, and not used until they are mended. */
export async function addTemplate(m: EntityManager, ctx: Ctx, t: NewTemplate, docx: Uint8Array): Promise<number> {
  const fileId = await keptDocx(m, ctx, docx, t.fileName ?? 'a.docx')
  const { questions = [], fileName: _name, needsPerson = false, ...head } = t
  const id = idOf(await m.insert(Template, { ...head, fileId, fields: '[]', needsPerson: Number(needsPerson) }))
  await m.insert(TemplateVersion, {
    templateId: id,
    number: 1,
    fileId,
    madeBy: ctx.actor.id,
    madeAt: instant(ctx.clock.now()),
    faults: '[]',
    uses: '{"uses":[],"wordFields":[]}',
    ties: '{}',
    questions: JSON.stringify(questions),
  })
  await audit(m, ctx, { kind: 'template', text: `Template ${t.name}`, subject: 'template', subjectId: id })
  return id
}

export const addTemplateFile = (ctx: Ctx, name: string, data: Uint8Array, file: string): Promise<{ id: number }> =>
  work(ctx, async (m) => ({ id: await addTemplate(m, ctx, { name, fileName: file }, data) }))

interface Head {
  id: number
  name: string
  description: string
  shelf: string
  folder: string
  areaId: number | null
  tags: string[]
  language: 'en' | 'es'
  namePattern: string
  needsPerson: boolean
  peopleIds: number[]
  rowVersion: number
}
export function changeTemplate(ctx: Ctx, { id, peopleIds, rowVersion, tags, needsPerson, ...head }: Head): Promise<void> {
  return work(ctx, async (m) => {
    const t = await requireTemplate(m, ctx, id, true)
    if (t.rowVersion !== rowVersion) throw changed()
    await m.update(Template, id, {
      ...head,
      tags: [...new Set(tags)].join('\n').slice(0, 300),
      needsPerson: Number(needsPerson),
      forAll: Number(!peopleIds.length),
      rowVersion: t.rowVersion + 1,
    })
    await m.delete(TemplatePerson, { templateId: id })
    if (peopleIds.length) await m.insert(TemplatePerson, [...new Set(peopleIds)].map((userId) => ({ templateId: id, userId }))) // prettier-ignore
    await audit(m, ctx, { kind: 'template', text: `Changed the template ${head.name}`, subject: 'template', subjectId: id })
  })
}

/** Every change of a file, of questions or of what merge fields mean is a version of its own, so that papers say what they were made from. */
async function nextVersion(
  m: EntityManager,
  ctx: Ctx,
  t: Template,
  over: Partial<Pick<TemplateVersion, 'fileId' | 'why' | 'questions' | 'ties'>>,
): Promise<number> {
  const last = await currentVersion(m, t)
  const top = await lastOfTemplate(m, t.id)
  const number = top!.n + 1
  await m.insert(TemplateVersion, {
    templateId: t.id,
    number,
    fileId: last.fileId,
    why: '',
    madeBy: ctx.actor.id,
    madeAt: instant(ctx.clock.now()),
    faults: '[]',
    uses: '{"uses":[],"wordFields":[]}',
    ties: last.ties,
    questions: last.questions,
    ...over,
  })
  await m.update(Template, t.id, { versionNo: number, fileId: over.fileId ?? last.fileId, rowVersion: t.rowVersion + 1 })
  await audit(m, ctx, {
    kind: 'template',
    text: `Version ${number} of the template ${t.name}${over.why ? `: ${over.why}` : ''}`,
    subject: 'template',
    subjectId: t.id,
  })
  return number
}

export const newTemplateVersion = (ctx: Ctx, id: number, why: string, data: Uint8Array, file: string): Promise<{ number: number }> =>
  work(ctx, async (m) => {
    const t = await requireTemplate(m, ctx, id, true)
    return { number: await nextVersion(m, ctx, t, { fileId: await keptDocx(m, ctx, data, file), why }) }
  })
const changed = () =>
  refused('changed-meanwhile', 'Someone changed this template meanwhile. What you entered is kept: look at its versions, then save again.')
/** The template to be changed after the version that was seen. */
async function requireSeen(m: EntityManager, ctx: Ctx, id: number, after: number): Promise<Template> {
  const t = await requireTemplate(m, ctx, id, true)
  if (t.versionNo !== after) throw changed()
  return t
}
export const setQuestions = (
  ctx: Ctx,
  { id, after, questions }: { id: number; after: number; questions: readonly Question[] },
): Promise<void> =>
  work(ctx, async (m) => {
    const t = await requireSeen(m, ctx, id, after)
    const twice = questions.find((q, i) => questions.findIndex((x) => x.key === q.key) !== i)
    if (twice) throw fieldFault('questions', `Two questions are called ${twice.key}. Give each its own`)
    const bare = questions.find((q) => (q.type === 'choice' || q.type === 'choices') && !q.choices.length)
    if (bare) throw fieldFault('questions', `Name what can be chosen for ${bare.text}`)
    await nextVersion(m, ctx, t, { questions: JSON.stringify(questions), why: 'Questions changed' })
  })
export const setTies = (ctx: Ctx, { id, after, ties }: { id: number; after: number; ties: Record<string, string> }): Promise<void> =>
  work(ctx, async (m) => {
    const t = await requireSeen(m, ctx, id, after)
    const known = new Set(allFields(fieldTree(await ownFields(m, ctx, read((await currentVersion(m, t)).questions)))).map((f) => f.path))
    const wrong = Object.entries(ties).find(([, path]) => path && !known.has(path))
    if (wrong) throw fieldFault(`ties.${wrong[0]}`, `There is no field ${wrong[1]}`)
    await nextVersion(m, ctx, t, { ties: JSON.stringify(ties), why: 'Merge fields tied' })
  })
export const retireTemplate = (ctx: Ctx, id: number, retired: boolean): Promise<void> =>
  work(ctx, async (m) => {
    const t = await requireTemplate(m, ctx, id, true)
    await m.update(Template, id, { retiredAt: retired ? instant(ctx.clock.now()) : null, rowVersion: t.rowVersion + 1 })
    await audit(m, ctx, {
      kind: 'template',
      text: `${retired ? 'Put away' : 'Took back'} the template ${t.name}`,
      subject: 'template',
      subjectId: id,
    })
  })

export async function templateFile(ctx: Ctx, id: number, number?: number): Promise<File> {
  const m = ctx.db.manager
  const t = await requireTemplate(m, ctx, id)
  const version = await m.findOneBy(TemplateVersion, { templateId: id, number: number ?? t.versionNo })
  if (!version) throw notFound('version')
  return downloadStored(m, ctx, version.fileId, `${t.name}.docx`)
}

/** A template's pages as they look, so that a fault can be found by its paragraph. */
export async function templatePages(ctx: Ctx, id: number): Promise<File> {
  const m = ctx.db.manager
  const t = await requireTemplate(m, ctx, id)
  const { data } = await readStored(m, ctx, (await currentVersion(m, t)).fileId)
  return download(await pdfOfDocx(data), `${t.name}.pdf`, 'application/pdf')
}

/** Every field by its path, with its value on a matter where one is named. */
export async function fieldList(ctx: Ctx, matterId?: number) {
  const m = ctx.db.manager
  const matter = matterId ? await requireMatter(m, ctx, matterId, 'papers') : null
  const gathered = matter ? await matterValues(m, ctx, matter, { personId: null, costIds: [], timeIds: [] }) : null
  const own = gathered ? { ...gathered.own, older: [] } : { ...(await ownFields(m, ctx, [])), older: [] }
  const fields = allFields(fieldTree(own)).filter((f) => !f.path.startsWith('answers'))
  return {
    fields: fields.map((f) => ({ ...f, value: gathered && !f.within ? plain(valueAt(gathered.values, f.path)).slice(0, 500) : '' })),
    formats: formats.map(({ name, about, example }) => ({ name, about, example })),
  }
}

export function saveSet(
  ctx: Ctx,
  input: { id: number | null; name: string; description: string; templateIds: number[] },
): Promise<{ id: number }> {
  return work(ctx, async (m) => {
    for (const id of input.templateIds) await requireTemplate(m, ctx, id)
    const same = await m.findOneBy(TemplateSet, { name: input.name })
    if (same && same.id !== input.id) throw fieldFault('name', 'There is a set of this name')
    const head = { name: input.name, description: input.description }
    if (input.id !== null && !(await m.findOneBy(TemplateSet, { id: input.id }))) throw notFound('set')
    const id = input.id ?? idOf(await m.insert(TemplateSet, head))
    if (input.id !== null) await m.update(TemplateSet, id, head)
    await m.delete(TemplateSetItem, { setId: id })
    await m.insert(TemplateSetItem, [...new Set(input.templateIds)].map((templateId, place) => ({ setId: id, templateId, place }))) // prettier-ignore
    await audit(m, ctx, { kind: 'template', text: `Set of templates ${input.name}`, subject: 'template' })
    return { id }
  })
}
export const removeSet = (ctx: Ctx, id: number): Promise<void> =>
  work(ctx, async (m) => {
    await m.delete(TemplateSetItem, { setId: id })
    if (!(await touched(m.delete(TemplateSet, { id })))) throw notFound('set')
    await audit(m, ctx, { kind: 'template', text: 'Took a set of templates away', subject: 'template' })
  })
