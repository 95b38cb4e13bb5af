import {
  decodeStatement,
  formatOf,
  guessCsv,
  matchLines,
  readStatements,
  usualMatchRules,
  type CsvMatch,
  type OpenEntry,
  type OpenLine,
} from '@heron/core/bank'
import { answer } from '../../platform/thread-side'

/** Files of people are read, and long lists compared, apart from the requests of others. */
const read = async ({ bytes, match }: { bytes: Uint8Array; match: CsvMatch | null }) => {
  const { text } = decodeStatement(bytes.subarray(0, 400_000))
  const isCsv = bytes.length > 0 && formatOf(text) === 'CSV'
  const guess = isCsv ? guessCsv(text) : null
  return { statements: readStatements(bytes, match ?? guess?.match ?? null), guess }
}
const match = async ({ lines, entries, near, stale }: { lines: OpenLine[]; entries: OpenEntry[]; near: number; stale: number }) =>
  matchLines(lines, entries, { ...usualMatchRules, near, stale })
const tasks = { read, match }
export type BankTasks = typeof tasks
answer(tasks, () => null)
