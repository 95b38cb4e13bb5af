import type { TextTable } from '@heron/core/formats'
import { Worker } from 'node:worker_threads'
import { fieldFault } from '../platform/problem'

export interface ToWorker {
  bytes: Uint8Array
  most: number | undefined
  limits: { rows: number; columns: number }
}
export type FromWorker = { rows: string[][] } | { head: Omit<TextTable, 'rows'> } | { fault: string }

// A thread does not take over how its parent reads TypeScript: it loads the reader itself.
const own = (name: string) => JSON.stringify(new URL(name, import.meta.url).href)
const loader = () =>
  `import(${JSON.stringify(import.meta.resolve('tsx/esm/api'))}).then(({ tsImport }) => tsImport(${own('./table-worker.ts')}, ${own('./tables.ts')}))`

const limits = { rows: 100_000, columns: 200 }
const longestMs = 30_000
/** Files read at the same moment; further ones wait their turn. */
const atOnce = 2
let reading = 0
const waiting: (() => void)[] = []

/**
 * Reads a table of text apart from the requests of others: on a thread of its own, with limits of size, memory and time.
 * Throws a fault of the field `file` where one is passed. With `most`, only so many rows are read.
 */
export async function readTableApart(data: Uint8Array, most?: number): Promise<TextTable> {
  if (reading >= atOnce) await new Promise<void>((go) => waiting.push(go))
  reading += 1
  try {
    return await readIn(data, most)
  } finally {
    reading -= 1
    waiting.shift()?.()
  }
}

function readIn(data: Uint8Array, most: number | undefined): Promise<TextTable> {
  return new Promise((resolve, reject) => {
    const worker = new Worker(loader(), {
      eval: true,
      workerData: { bytes: data, most, limits } satisfies ToWorker,
      resourceLimits: { maxOldGenerationSizeMb: 512 },
    })
    const fail = (words: string) => reject(fieldFault('file', words))
    const timer = setTimeout(() => {
      fail('This file takes too long to read. Split it, or save it anew as CSV.')
      void worker.terminate()
    }, longestMs)
    const rows: string[][] = []
    worker.on('message', (m: FromWorker) => {
      if ('rows' in m) for (const r of m.rows) rows.push(r)
      else if ('head' in m) resolve({ ...m.head, rows })
      else fail(m.fault)
    })
    worker.on('error', () => fail('This file cannot be read as a table. Save it anew as CSV.'))
    worker.on('exit', () => {
      clearTimeout(timer)
      fail('This file cannot be read as a table. Save it anew as CSV.')
    })
  })
}
