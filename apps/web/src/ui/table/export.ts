import { isNumber, plain, type Column } from './columns'

/** Gives a file to whoever asked for it. */
export function saveAs(data: Blob, name: string) {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(data)
  link.download = name
  link.click()
  window.setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
}

/** CSV (RFC 4180) with amounts in two decimals. A cell that a spreadsheet would take for a formula gets an apostrophe before it. */
export async function csvOf<R>(columns: readonly Column<R>[], rows: readonly R[]): Promise<string> {
  const { default: papa } = await import('papaparse')
  const cell = (c: Column<R>, row: R) => {
    const v = plain(c, row)
    return c.kind === 'money' && v !== null ? Number(v).toFixed(2) : v
  }
  return papa.unparse(
    { fields: columns.map((c) => c.text), data: rows.map((r) => columns.map((c) => cell(c, r))) },
    // A number below zero is no formula.
    { escapeFormulae: /^(?:[=+@\t\r]|-(?!\d[\d.]*$))/, newline: '\r\n' },
  )
}

/** What is shown as CSV. */
export async function asCsv<R>(columns: readonly Column<R>[], rows: readonly R[], name: string) {
  const text = await csvOf(columns, rows)
  saveAs(new Blob(['\uFEFF', text], { type: 'text/csv;charset=utf-8' }), `${name}.csv`)
}

/** What is shown as a workbook, with numbers as numbers. */
export async function asWorkbook<R>(columns: readonly Column<R>[], rows: readonly R[], name: string) {
  const { default: write } = await import('write-excel-file/browser')
  const cell = (c: Column<R>, row: R) => {
    const v = plain(c, row)
    if (v === null) return null
    if (isNumber(c)) return { value: Number(v), type: Number, format: c.kind === 'money' ? '#,##0.00' : c.kind === 'hours' ? '0.00' : '0' }
    return { value: String(v), type: String }
  }
  const head = columns.map((c) => ({ value: c.text, fontWeight: 'bold' as const }))
  await write([head, ...rows.map((r) => columns.map((c) => cell(c, r)))], {
    columns: columns.map((c) => ({ width: isNumber(c) ? 14 : 28 })),
  }).toFile(`${name}.xlsx`)
}
