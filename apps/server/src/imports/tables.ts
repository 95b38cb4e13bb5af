import type { TextTable } from '@heron/core/formats'
import { fieldFault, Problem } from '../platform/problem'
import { threadPool } from '../platform/threads'
import type { TableTasks } from './table-worker'

const limits = { rows: 100_000, columns: 200 }
/** Rows handed over at a time: each piece is taken in beside other requests, never all at once. */
const chunk = 500
const full = 'Several files are being read just now. Try again in a moment.'
const unreadable = 'This file cannot be read as a table. Save it anew as CSV.'

/** One thread, which keeps the table it has read: files are read one after another. */
const apart = threadPool<TableTasks>({
  module: new URL('./table-worker.ts', import.meta.url),
  atOnce: 1,
  mostWaiting: 5,
  longestMs: () => 30_000,
  memoryMb: 512,
  lost: unreadable,
  full,
})
let before: Promise<unknown> = Promise.resolve()
let waiting = 0
const mostWaiting = 20

/**
 * Reads a table of text apart from the requests of others: on a thread of its own, with limits of size, memory and time.
 * Throws a fault of the field `file` where one is passed. With `most`, only so many rows are read.
 */
export async function readTableApart(data: Uint8Array, most?: number): Promise<TextTable> {
  if (waiting >= mostWaiting) throw new Problem(503, 'busy', full)
  waiting += 1
  const own = before.then(() => readIn(data, most))
  before = own.catch(() => undefined)
  try {
    return await own
  } finally {
    waiting -= 1
  }
}

async function readIn(bytes: Uint8Array, most: number | undefined): Promise<TextTable> {
  try {
    const { head, total } = await apart('read', { bytes, most, limits })
    const rows: string[][] = []
    for (let from = 0; from < total; from += chunk) for (const r of await apart('rows', { from, upTo: from + chunk })) rows.push(r)
    return { ...head, rows }
  } catch (error) {
    if (error instanceof Problem && error.status === 503) throw error
    throw fieldFault('file', error instanceof Problem ? error.message : unreadable)
  }
}
