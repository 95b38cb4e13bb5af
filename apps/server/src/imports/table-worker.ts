import { readTable, type TextTable } from '@heron/core/formats'
import { answer } from '../platform/thread-side'

/** Too large to be read; said of the file. */
class TooLarge extends Error {}
let kept: TextTable | null = null

/** Reads a table and keeps it; its rows are asked for piece by piece, so that none of what is handed over is large. */
const read = async ({
  bytes,
  most,
  limits,
}: {
  bytes: Uint8Array
  most: number | undefined
  limits: { rows: number; columns: number }
}) => {
  kept = null
  const table = readTable(bytes, most)
  if (table.columns.length > limits.columns) throw new TooLarge(`Files may have up to ${limits.columns} columns.`)
  if (table.rows.length > limits.rows) throw new TooLarge(`Files may have up to ${limits.rows.toLocaleString('en-US')} rows. Split it.`)
  kept = table
  const { rows, ...head } = table
  return { head, total: rows.length }
}
/** The next rows; after the last the table is forgotten. */
const rows = async ({ from, upTo }: { from: number; upTo: number }) => {
  const part = kept!.rows.slice(from, upTo)
  if (upTo >= kept!.rows.length) kept = null
  return part
}
const tasks = { read, rows }
export type TableTasks = typeof tasks
answer(tasks, (error) => (error instanceof TooLarge ? error.message : null))
