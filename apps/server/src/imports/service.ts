import { writeTable, type TextTable } from '@heron/core/formats'
import type { importKinds } from '@heron/contract'
import type { EntityManager } from 'typeorm'
import { audit } from '../platform/audit'
import { instant, may, type Ctx } from '../platform/context'
import { insertRow, work } from '../platform/database'
import { download, keepFile, readStored } from '../platform/files'
import { enqueue } from '../platform/enqueue'
import { fieldFault, notFound, Problem, refused } from '../platform/problem'
import { chartImporter } from './chart'
import { contactImporter } from './contacts'
import { costImporter } from './costs'
import type { Fault, Importer, ImportField, Row } from './importer'
import { matterImporter } from './matters'
import { openingImporter } from './opening'
import { readTableApart } from './tables'
import { ImportRun } from './entities'
import { loadedBefore, lockRun } from './queries'

type What = (typeof importKinds)[number]
const importers: Record<What, Importer<unknown>> = {
  contacts: contactImporter as Importer<unknown>,
  matters: matterImporter as Importer<unknown>,
  costs: costImporter as Importer<unknown>,
  opening: openingImporter as Importer<unknown>,
  chart: chartImporter as Importer<unknown>,
}
const called: Record<What, string> = {
  contacts: 'contacts',
  matters: 'matters',
  costs: 'costs',
  opening: 'rows of opening books',
  chart: 'accounts',
}
/** Faults shown on the page; all of them are in the file to mend. */
const shownFaults = 200

interface RunRow {
  id: number
  what: What
  fileId: number
  fileName: string
  columns: string
  mapping: string
  state: 'read' | 'tried' | 'loaded' | 'failed'
  total: number
  good: number
  faults: string
  jobId: number | null
}

async function requireRun(m: EntityManager, ctx: Ctx, id: number): Promise<RunRow> {
  const found = await m.findOne(ImportRun, {
    select: {
      id: true,
      what: true,
      fileId: true,
      fileName: true,
      columns: true,
      mapping: true,
      state: true,
      total: true,
      good: true,
      faults: true,
      jobId: true,
    },
    where: { id, madeBy: ctx.actor.id },
  })
  if (!found) throw notFound('import of yours')
  return found
}

const plain = (s: string) =>
  s
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()

/** Which column each field is probably in: by the same heading, or one that means the same. */
function guess(fields: readonly ImportField[], columns: readonly string[]): Record<string, string> {
  const taken = new Set<string>()
  const out: Record<string, string> = {}
  for (const exact of [true, false])
    for (const f of fields) {
      if (out[f.key]) continue
      const names = (exact ? [f.label, f.key] : f.known).map(plain)
      const column = columns.find((c) => !taken.has(c) && names.includes(plain(c)))
      if (column) {
        out[f.key] = column
        taken.add(column)
      }
    }
  return out
}

async function tableOf(m: EntityManager, ctx: Ctx, fileId: number, most?: number): Promise<TextTable> {
  const { data } = await readStored(m, ctx, fileId)
  return readTableApart(data, most)
}

export async function readImport(ctx: Ctx, what: What, name: string, data: Uint8Array) {
  if (what === 'matters' && !may(ctx.actor, 'matters.open'))
    throw new Problem(403, 'not-allowed', 'Your role does not include opening matters.')
  if (what === 'costs' && !may(ctx.actor, 'costs.record'))
    throw new Problem(403, 'not-allowed', 'Your role does not include recording costs.')
  if (what === 'opening' && !(may(ctx.actor, 'books.post') && may(ctx.actor, 'trust.post')))
    throw new Problem(403, 'not-allowed', 'Your role does not include keeping the books and trust money.')
  if (what === 'chart' && !may(ctx.actor, 'books.post') && !may(ctx.actor, 'firm.set-up'))
    throw new Problem(403, 'not-allowed', 'Your role does not include keeping the books.')
  const table = await readTableApart(data)
  if (!table.columns.length || !table.rows.length)
    throw fieldFault('file', 'There are no rows in this file. It needs a first row of headings and a row for each record.')
  const id = await work(ctx, async (m) => {
    const fields = await importers[what].fields(m)
    const file = await keepFile(m, ctx, data, 'text/csv')
    return insertRow(m, ImportRun, {
      what,
      fileId: file.id,
      fileName: name.slice(0, 200),
      columns: JSON.stringify(table.columns),
      mapping: JSON.stringify(guess(fields, table.columns)),
      total: table.rows.length,
      madeBy: ctx.actor.id,
      madeAt: instant(ctx.clock.now()),
    })
  })
  return importRun(ctx, id)
}

export async function importRun(ctx: Ctx, id: number) {
  const m = ctx.db.manager
  const r = await requireRun(m, ctx, id)
  const table = await tableOf(m, ctx, r.fileId, 3)
  const fields = await importers[r.what].fields(m)
  const faults = JSON.parse(r.faults) as Fault[]
  const label = new Map(fields.map((f) => [f.key, f.label]))
  return {
    id: r.id,
    what: r.what,
    fileName: r.fileName,
    encoding: table.encoding,
    columns: JSON.parse(r.columns) as string[],
    sample: table.rows.slice(0, 3),
    mapping: JSON.parse(r.mapping) as Record<string, string>,
    fields: fields.map(({ key, label: text, needed }) => ({ key, label: text, needed })),
    state: r.state,
    total: r.total,
    good: r.good,
    faults: faults.slice(0, shownFaults).map((f) => ({ ...f, column: label.get(f.column) ?? f.column })),
    moreFaults: Math.max(0, faults.length - shownFaults),
    jobId: r.jobId,
  }
}

/** Keeps the match of columns and tries every row in the background; nothing is loaded. */
export function tryImport(ctx: Ctx, id: number, mapping: Record<string, string>) {
  return work(ctx, async (m) => {
    const r = await requireRun(m, ctx, id)
    if (r.state === 'loaded') throw refused('loaded', 'This file is loaded already.')
    const columns = JSON.parse(r.columns) as string[]
    const fields = await importers[r.what].fields(m)
    const kept = Object.fromEntries(Object.entries(mapping).filter(([k, c]) => c && columns.includes(c) && fields.some((f) => f.key === k)))
    const missing = fields.find((f) => f.needed && !kept[f.key])
    if (missing) throw fieldFault(`mapping.${missing.key}`, `Choose the column of ${missing.label}`)
    const jobId = await enqueue(m, ctx, 'try import', { id })
    await m.update(ImportRun, { id }, { mapping: JSON.stringify(kept), jobId, state: 'read' })
    return { jobId }
  })
}

const rowsOf = (table: TextTable, mapping: Record<string, string>): Row[] => {
  const at = new Map(Object.entries(mapping).map(([key, column]) => [key, table.columns.indexOf(column)]))
  return table.rows.map((cells, i) => ({ number: i + 2, get: (field) => cells[at.get(field) ?? -1] ?? '' }))
}

type Progress = (percent: number) => Promise<void>

export async function tryRows(ctx: Ctx, id: number, progress: Progress) {
  const m = ctx.db.manager
  const r = await requireRun(m, ctx, id)
  const table = await tableOf(m, ctx, r.fileId)
  const { good, faults } = await importers[r.what].judge(m, ctx, rowsOf(table, JSON.parse(r.mapping) as Record<string, string>), progress)
  await m.update(ImportRun, { id }, { state: 'tried', good: good.length, faults: JSON.stringify(faults) })
  return { good: good.length }
}

/** Loads a file of which every row is right, in the background and in one transaction. */
export function loadImport(ctx: Ctx, id: number) {
  return work(ctx, async (m) => {
    const r = await requireRun(m, ctx, id)
    if (r.state !== 'tried') throw refused('not-tried', r.state === 'loaded' ? 'This file is loaded already.' : 'Try the rows first.')
    if (r.good !== r.total)
      throw refused('rows-fail', `${r.total - r.good} rows fail. Mend them and read the file again; nothing was loaded.`)
    // The same bill of a copier or a card, read twice, would charge clients twice.
    const twin = (r.what === 'costs' || r.what === 'opening') && (await loadedBefore(m, r.fileId, r.what))
    if (twin) throw refused('loaded', 'A file with exactly these rows was loaded before. Nothing was loaded again.')
    const jobId = await enqueue(m, ctx, 'load import', { id })
    await m.update(ImportRun, { id }, { jobId })
    return { jobId }
  })
}

export async function loadTried(base: Ctx, id: number, progress: Progress) {
  const ctx: Ctx = { ...base, quiet: true }
  return work(ctx, async (m) => {
    const r = await requireRun(m, ctx, id)
    await lockRun(m, id)
    // A job that is done twice after a crash loads once.
    if ((await requireRun(m, ctx, id)).state === 'loaded') return { loaded: r.total }
    const importer = importers[r.what]
    const table = await tableOf(m, ctx, r.fileId)
    const { good, faults } = await importer.judge(m, ctx, rowsOf(table, JSON.parse(r.mapping) as Record<string, string>), (p) =>
      progress(Math.round(p * 0.3)),
    )
    if (faults.length) throw refused('rows-fail', 'Something changed since the rows were tried. Try them again; nothing was loaded.')
    await importer.load(m, ctx, good, (p) => progress(Math.round(30 + p * 0.7)))
    await m.update(ImportRun, { id }, { state: 'loaded' })
    await audit(m, ctx, {
      kind: 'imported',
      text: `${good.length} ${called[r.what]} imported from ${r.fileName}`,
      subject: 'import',
      subjectId: id,
    })
    return { loaded: good.length }
  })
}

/** The rows that fail as CSV, with why in a last column, to be mended and read again together with the rest. */
export async function faultsFile(ctx: Ctx, id: number): Promise<File> {
  const m = ctx.db.manager
  const r = await requireRun(m, ctx, id)
  const table = await tableOf(m, ctx, r.fileId)
  const why = new Map<number, string[]>()
  for (const f of JSON.parse(r.faults) as Fault[]) why.set(f.row, [...(why.get(f.row) ?? []), f.text])
  const list = table.rows.flatMap((cells, i) => (why.has(i + 2) ? [[String(i + 2), ...cells, why.get(i + 2)!.join(' ')]] : []))
  return download(Buffer.from(writeTable(['Row', ...table.columns, 'Why it fails'], list)), 'rows-that-fail.csv', 'text/csv; charset=utf-8')
}
