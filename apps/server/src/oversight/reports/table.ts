import type { ReportColumnKind, ReportTable } from '@heron/contract'
import { sum } from '@heron/core/money'

type Cell = string | number | null
export interface Col<R> {
  key: string
  text: string
  kind: ReportColumnKind
  value: (row: R) => Cell
  /** Added up under the column, or worked out from what was added up. */
  total?: true | ((rows: readonly R[]) => Cell)
}
/** How many rows are listed; what is added up are all. */
const most = 1000

/** A report from its rows: what is listed, and what all come to together. */
export function table<R>(
  of: { title: string; under: string; bars?: string[] },
  list: readonly R[],
  columns: readonly Col<R>[],
  row: (r: R) => { key: string; to: string | null },
): ReportTable {
  const totalOf = (c: Col<R>): Cell => (c.total === true ? sum(list.map((r) => Number(c.value(r) ?? 0))) : (c.total?.(list) ?? null))
  return {
    title: of.title,
    under: of.under,
    columns: columns.map(({ key, text, kind }) => ({ key, text, kind })),
    rows: list.slice(0, most).map((r) => ({ ...row(r), cells: columns.map((c) => c.value(r)) })),
    totals: columns.map((c, i) => (i === 0 ? 'Together' : totalOf(c))),
    more: list.length > most,
    bars: of.bars ?? [],
  }
}
