import type { Question } from '@heron/contract'
import {
  allFields,
  evaluate,
  fieldTree,
  holds,
  idsIn,
  isEmpty,
  isList,
  nameFrom,
  olderNames,
  plain,
  readAnswer,
  readExpression,
  textIn,
  typedText,
  valueAt,
  withValue,
  type Answer,
  type FieldSpec,
  type KnownField,
  type OwnFields,
  type Value,
  type ValueRecord,
} from '@heron/core/templates'
import type { EntityManager } from 'typeorm'
import { checked, currentVersion, questionSpecs, requireTemplate } from './service'
import { matterValues } from './values'
import { type MatterValues } from './value-queries'
import { apart } from '../apart'
import type { Looked } from '../apart/work'
import { PaperPreview, Template, TemplateVersion } from '../entities'
import { pdfOfDocx } from '../office'
import { change, requireMatter, see, type OpenMatter } from '../../platform/access'
import { areas } from '../../platform/area'
import { instant, type Ctx } from '../../platform/context'
import { insertRow, work } from '../../platform/database'
import { enqueue } from '../../platform/enqueue'
import { downloadStored, keepFile, readStored } from '../../platform/files'
import { fieldFault, notFound, refused } from '../../platform/problem'
import { addressee } from './queries'

export interface Making {
  matterId: number
  templateId: number
  alsoIds: number[]
  personId: number | null
  answers: Record<string, Answer>
  /** What is changed for this paper alone, by the path of its field; an empty text leaves a field blank on purpose. */
  values: Record<string, Answer>
}

export interface One {
  template: Template
  version: TemplateVersion
  questions: Question[]
  ties: Record<string, string>
  faulty: boolean
  docx: Buffer
}
export interface Gathered {
  matter: OpenMatter
  all: MatterValues
  templates: One[]
  questions: Question[]
  /** Values with answers and changes put in. */
  values: ValueRecord
  known: Map<string, KnownField>
  own: OwnFields
}

/** An answer by its type; a fault of its field where it is none. */
function typed(spec: Pick<FieldSpec, 'type' | 'label' | 'choices'>, raw: Answer, path: string): Value {
  const read = readAnswer(spec, raw)
  if ('fault' in read) throw fieldFault(path, read.fault)
  return read.value
}

async function oneOf(m: EntityManager, ctx: Ctx, id: number): Promise<One> {
  const template = await requireTemplate(m, ctx, id)
  if (template.retiredAt) throw fieldFault('templateId', 'This template was put away. Choose another')
  const version = await currentVersion(m, template)
  const { faults, wordFields } = await checked(m, ctx, version)
  const ties = Object.fromEntries(wordFields.flatMap((f) => (f.tied ? [[f.name, f.tied]] : [])))
  const { data } = await readStored(m, ctx, version.fileId)
  return { template, version, questions: JSON.parse(version.questions) as Question[], ties, faulty: faults.length > 0, docx: data }
}

/** Fields by their paths. What items of a list have stands under the list's own name for one of them, and is none of these. */
export const byPath = (own: OwnFields): Map<string, KnownField> =>
  new Map(
    allFields(fieldTree(own))
      .filter((f) => f.within === null)
      .map((f) => [f.path, f]),
  )

export async function gather(m: EntityManager, ctx: Ctx, making: Making): Promise<Gathered> {
  const matter = await requireMatter(m, ctx, making.matterId, 'papers', change)
  const templates: One[] = []
  for (const id of [making.templateId, ...making.alsoIds.filter((i) => i !== making.templateId)]) templates.push(await oneOf(m, ctx, id))
  const questions = templates.flatMap((t) => t.questions).filter((q, i, all) => all.findIndex((x) => x.key === q.key) === i)
  const chosen = (type: 'costs' | 'time') => questions.filter((q) => q.type === type).flatMap((q) => idsIn(making.answers[q.key]))
  const all = await matterValues(m, ctx, matter, { personId: making.personId, costIds: chosen('costs'), timeIds: chosen('time') })
  const own: OwnFields = { ...all.own, answers: questionSpecs(questions) }
  let values: ValueRecord = all.values
  const known = byPath(own)
  const specs = new Map(own.answers.map((s) => [s.name, s]))
  for (const q of questions) {
    const spec = specs.get(q.key)
    const raw = making.answers[q.key]
    if (!spec || raw === undefined) continue
    values = withValue(
      values,
      `answers.${q.key}`,
      q.type === 'contact' ? await contactFor(m, ctx, raw, q) : typed(spec, raw, `answers.${q.key}`),
    )
  }
  for (const [path, raw] of Object.entries(making.values)) {
    const field = known.get(path)
    if (!field || path.startsWith('answers.')) throw fieldFault(`values.${path}`, `There is no field ${path}`)
    values = withValue(values, path, textIn(raw) === '' ? (field.type === 'text' ? '' : null) : typed(field, raw, `values.${path}`))
  }
  for (const [old, path] of Object.entries(olderNames)) values = withValue(values, old, valueAt(values, path))
  return { matter, all, templates, questions, values, known, own }
}

async function contactFor(m: EntityManager, ctx: Ctx, raw: Answer, q: Question): Promise<Value> {
  const [id] = idsIn(raw)
  if (!id) return null
  const found = await addressee(m, ctx, id)
  if (!found) throw fieldFault(`answers.${q.key}`, 'Choose someone on record')
  return found
}

const truth = (source: string, values: ValueRecord, language: 'en' | 'es'): boolean => {
  try {
    return holds(evaluate(readExpression(source), { records: [values], language }))
  } catch {
    // A condition that cannot be read does not hide its question.
    return true
  }
}
export const isAsked = (q: Question, g: Gathered) => !q.when.trim() || truth(q.when, g.values, g.templates[0]!.template.language)
export const unanswered = (q: Question, making: Making) => {
  const a = making.answers[q.key]
  return a === undefined || (Array.isArray(a) ? !a.length : !a.trim())
}

const mayWrite = (path: string, g: Gathered): boolean =>
  areas().some((a) => a.writes?.[path]) ||
  (g.all.fields.client.ids.has(path.slice('client.fields.'.length)) && path.startsWith('client.fields.')) ||
  (g.all.fields.matter.ids.has(path.slice('matter.fields.'.length)) && path.startsWith('matter.fields.'))

export const makeOne = (ctx: Ctx, one: One, values: ValueRecord) =>
  apart('make', { docx: one.docx, values, language: one.template.language, today: ctx.clock.today(), ties: one.ties })

interface Shown {
  path: string
  label: string
  type: KnownField['type']
  value: string
  typed: string
  changed: boolean
  missing: boolean
  writes: boolean
}

/** The values that papers look at, each once, with what is missing: what would stand in the text and is nowhere on record. */
function shownValues(looked: readonly Looked[], g: Gathered, making: Making): Shown[] {
  const by = new Map<string, Looked>()
  for (const { path, ...l } of looked) {
    const now = olderNames[path] ?? path
    if (!by.has(now) || l.how === 'value') by.set(now, { path: now, ...l })
  }
  return [...by.values()].flatMap((l) => {
    const field = g.known.get(l.path)
    if (!field || l.path.startsWith('answers.') || field.type === 'record') return []
    const changed = making.values[l.path] !== undefined
    const value = valueAt(g.values, l.path)
    const missing = l.how === 'value' && isEmpty(value) && !changed && field.type !== 'list' && field.type !== 'yes/no'
    return [
      {
        path: l.path,
        label: field.label,
        type: field.type,
        value: isList(value) && !plain(value) ? `${value.length} in the list` : plain(value),
        typed: typedText(value),
        changed,
        missing,
        writes: mayWrite(l.path, g),
      },
    ]
  })
}

/** What a paper would say, and what is missing for it. Asked again with each answer; nothing is kept. */
export async function preparePaper(ctx: Ctx, making: Making) {
  const m = ctx.db.manager
  const g = await gather(m, ctx, making)
  const looked: Looked[] = []
  for (const t of g.templates) if (!t.faulty) looked.push(...(await makeOne(ctx, t, g.values)).looked)
  const values = shownValues(looked, g, making)
  const questions = g.questions.map((q) => ({
    ...q,
    asked: isAsked(q, g),
    answer: making.answers[q.key] ?? (q.type === 'choices' || q.type === 'costs' || q.type === 'time' ? [] : ''),
  }))
  const first = g.templates[0]!
  const faulty = g.templates.some((t) => t.faulty)
  const needsPerson = g.templates.some((t) => t.template.needsPerson) || looked.some((l) => l.path.startsWith('person.'))
  const name = (t: One) => nameFrom(t.template.namePattern, g.values, t.template.name, t.template.language)
  return {
    name: name(first),
    folder: first.template.folder,
    also: g.templates.slice(1).map((t) => ({ id: t.template.id, template: t.template.name, name: name(t) })),
    needsPerson,
    faulty,
    values,
    questions,
    persons: g.all.persons,
    costs: g.all.costs,
    time: g.all.time,
    ready:
      !faulty &&
      !values.some((v) => v.missing) &&
      !questions.some((q) => q.asked && q.required && unanswered(q, making)) &&
      (!needsPerson || making.personId !== null),
  }
}

/** A preview is made by a worker; what is missing stands in it as its name in brackets. */
export async function requestPreview(ctx: Ctx, making: Making): Promise<{ jobId: number; previewId: number }> {
  const g = await gather(ctx.db.manager, ctx, making)
  if (g.templates[0]!.faulty) throw refused('template-faulty', 'This template has faults. Mend them before it is used.')
  return work(ctx, async (m) => {
    const previewId = await insertRow(m, PaperPreview, {
      userId: ctx.actor.id,
      matterId: making.matterId,
      madeAt: instant(ctx.clock.now()),
    })
    return { jobId: await enqueue(m, ctx, 'preview paper', { previewId, making }), previewId }
  })
}

export async function makePreview(ctx: Ctx, { previewId, making }: { previewId: number; making: Making }) {
  const m = ctx.db.manager
  const g = await gather(m, ctx, making)
  const one = g.templates[0]!
  const { looked } = await makeOne(ctx, one, g.values)
  let values = g.values
  for (const v of shownValues(looked, g, making)) if (v.missing && v.type === 'text') values = withValue(values, v.path, `[${v.label}]`)
  const { made } = await makeOne(ctx, one, values)
  const pdf = await pdfOfDocx(made)
  const file = await keepFile(m, ctx, pdf, 'application/pdf')
  await m.update(PaperPreview, previewId, { fileId: file.id })
  return { previewId }
}

export async function previewFile(ctx: Ctx, id: number): Promise<File> {
  const found = await ctx.db.manager.findOneBy(PaperPreview, { id, userId: ctx.actor.id })
  if (!found?.fileId) throw notFound('preview')
  await requireMatter(ctx.db.manager, ctx, found.matterId, 'papers', see)
  return downloadStored(ctx.db.manager, ctx, found.fileId, 'Preview.pdf')
}
