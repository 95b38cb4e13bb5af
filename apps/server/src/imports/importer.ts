import type { EntityManager } from 'typeorm'
import type { Ctx } from '../platform/context'

export interface Fault {
  /** Row of the file; the head is row 1. */
  row: number
  column: string
  text: string
}
export type Progress = (percent: number) => Promise<void>

/** A row read through the match of columns. */
export interface Row {
  number: number
  /** What stands in the column matched to a field; '' where none is. */
  get: (field: string) => string
}

export interface ImportField {
  key: string
  label: string
  needed: boolean
  /** Other headings that mean the same. */
  known: readonly string[]
}

/** How one kind of record is imported: what can be read, what is wrong with rows, and loading those that are right. */
export interface Importer<R> {
  fields: (m: EntityManager) => Promise<ImportField[]>
  judge: (m: EntityManager, ctx: Ctx, table: readonly Row[], progress: Progress) => Promise<{ good: R[]; faults: Fault[] }>
  load: (m: EntityManager, ctx: Ctx, ready: readonly R[], progress: Progress) => Promise<void>
}
