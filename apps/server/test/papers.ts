import { randomUUID } from 'node:crypto'
import { docx, p as par } from '../../../packages/core/test/docx'
import type { Person } from './office'

let usual: Person | null = null
/** Whose hands these are where nobody is named. */
export const actAs = (who: Person) => void (usual = who)

export const form = async <T>(
  who: Person,
  path: string,
  fields: Record<string, string>,
  file?: { name: string; data: Uint8Array | string },
) => {
  const body = new FormData()
  for (const [k, v] of Object.entries(fields)) body.set(k, v)
  if (file) body.set('file', new File([file.data as BlobPart], file.name))
  const answer = await fetch(`${who.base}/api${path}`, {
    method: 'POST',
    body,
    headers: { cookie: who.cookie, 'x-heron-csrf': who.csrf, 'idempotency-key': randomUUID() },
  })
  const json = (await answer.json()) as T & { code: string; detail: string; fields: { path: string; message: string }[] }
  return { status: answer.status, body: json }
}
/** A piece of an upload, as bytes alone. */
export const sentPiece = async <T>(who: Person, id: number, at: number, data: Uint8Array | string) => {
  const answer = await fetch(`${who.base}/api/uploads/${id}?at=${at}`, {
    method: 'PUT',
    body: data as BodyInit,
    headers: { cookie: who.cookie, 'x-heron-csrf': who.csrf, 'content-type': 'application/octet-stream' },
  })
  return { status: answer.status, body: (await answer.json()) as T & { fields: { path: string; message: string }[] } }
}
export const filed = async (m: { id: number }, name: string, data: Uint8Array | string, folder = 'Discovery', who: Person = usual!) =>
  (await form<{ id: number }>(who, `/matters/${m.id}/papers/file`, { folder }, { name, data })).body.id
export interface Row {
  id: number
  name: string
  folder: string
  version: number
  words: string
  rowVersion: number
  out: { name: string } | null
  shared: number
}
export const list = (m: { id: number }, more = '', who: Person = usual!) =>
  who.must<{ rows: Row[]; total: number }>('GET', `/papers?matterId=${m.id}${more}`)
export const settled = async (m: { id: number }) => {
  for (;;) {
    const { rows } = await list(m)
    if (rows.every((r) => r.words !== 'waiting')) return rows
    await new Promise((r) => setTimeout(r, 100))
  }
}
export const jobDone = async (id: number, who: Person = usual!) => {
  for (;;) {
    const job = await who.must<{ state: string; error: string | null }>('GET', `/jobs/${id}`)
    if (job.state === 'done') return
    if (job.state === 'failed') throw new Error(job.error ?? 'failed')
    await new Promise((r) => setTimeout(r, 100))
  }
}
export interface ImportRun {
  id: number
  good: number
  total: number
  state: string
  mapping: Record<string, string>
  faults: { row: number; column: string; text: string }[]
}
const importRun = (id: number, who: Person) => who.must<ImportRun>('GET', `/imports/${id}`)
/** A table read by its headings and tried row by row. */
export async function triedImport(what: string, text: string, who: Person = usual!): Promise<ImportRun> {
  const { id } = (await form<{ id: number }>(who, '/imports', { what }, { name: `${what}.csv`, data: text })).body
  const { mapping } = await importRun(id, who)
  await jobDone((await who.must<{ jobId: number }>('POST', `/imports/${id}/tried`, { mapping })).jobId, who)
  return importRun(id, who)
}
export async function loadedImport(run: ImportRun, who: Person = usual!): Promise<ImportRun> {
  await jobDone((await who.must<{ jobId: number }>('POST', `/imports/${run.id}/loaded`, {})).jobId, who)
  return importRun(run.id, who)
}
export const docxOf = (...texts: string[]) => docx(texts.map((t) => par(t)).join('')).generate({ type: 'uint8array' })
export const words = (q: string, who: Person = usual!, more = '') =>
  who.must<{ rows: (Row & { snippets: { text: string; hit: boolean }[][] })[]; total: number }>(
    'GET',
    `/papers/search?q=${encodeURIComponent(q)}${more}`,
  )
export const until = async (holds: () => Promise<boolean>) => {
  while (!(await holds())) await new Promise((r) => setTimeout(r, 50))
}
/** A file uploaded as a new version of a paper. */
export const uploaded = async (who: Person, m: { id: number }, text: string, versionOf: number) => {
  const { id: uploadId } = await who.must<{ id: number }>('POST', '/uploads', { name: 'draft.txt', size: text.length })
  await sentPiece(who, uploadId, 0, text)
  return who.post<{ ids: number[] }>(`/matters/${m.id}/papers/uploads`, {
    files: [{ uploadId, name: 'draft.txt', folder: 'Discovery', versionOf, why: 'redlined' }],
  })
}
